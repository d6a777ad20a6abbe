package rigfile

import (
	"bytes"
	"encoding/json"
	"errors"
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"eventether/core/rig"
)

var editsSchema = registry.Schema(reflect.TypeFor[[]rig.Edit](), false, "Edits")

// ReadEdits reads a list of edits, checked like a rig file. The error is an *Unusable.
func ReadEdits(data []byte) ([]rig.Edit, error) {
	tree, err := parse(data)
	if err != nil {
		return nil, err
	}
	result := &huma.ValidateResult{}
	huma.Validate(registry, editsSchema, huma.NewPathBuffer([]byte("edits"), 5), huma.ModeWriteToServer, tree, result)
	var problems []rig.Problem
	for _, err := range result.Errors {
		var d *huma.ErrorDetail
		if errors.As(err, &d) {
			problems = append(problems, rig.Problem{Place: d.Location, Text: inWords(d)})
		}
	}
	if len(problems) > 0 {
		return nil, &Unusable{problems}
	}
	var edits []rig.Edit
	dec := json.NewDecoder(bytes.NewReader(data))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&edits); err != nil {
		return nil, unusable("edits", "%s", err)
	}
	return edits, nil
}

// Change applies edits to a rig and checks the result. The error is an *Unusable; the given rig stays as it was.
func Change(r *rig.Rig, edits []rig.Edit) (*rig.Rig, error) {
	after, err := rig.Apply(r, edits...)
	if err != nil {
		return nil, unusable("", "%s", err)
	}
	if problems := rig.Check(after); len(problems) > 0 {
		return nil, &Unusable{problems}
	}
	return after, nil
}
