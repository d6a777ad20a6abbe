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
	if _, err := scan(data); err != nil {
		return nil, err
	}
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

// MostEdits bounds how many edits one change may be made of.
const MostEdits = 2000

// Change applies edits to a rig and checks the result as a file is checked, so that what is kept can always be exported
// and imported again. The error is an *Unusable; the given rig stays as it was.
func Change(r *rig.Rig, edits []rig.Edit) (*rig.Rig, error) {
	if len(edits) > MostEdits {
		return nil, unusable("edits", "%d edits: want %d at most", len(edits), MostEdits)
	}
	after, err := rig.Apply(r, edits...)
	if err != nil {
		return nil, unusable("", "%s", err)
	}
	return Kept(after)
}

// Kept is a rig as it comes back from a file, or what keeps it from being one.
func Kept(r *rig.Rig) (*rig.Rig, error) {
	data, err := json.Marshal(r)
	if err != nil {
		return nil, unusable("", "it cannot be written: %s", err)
	}
	if len(data) > MaxBytes {
		return nil, tooLarge()
	}
	tree, err := parse(data)
	if err != nil {
		return nil, err
	}
	if err := within(tree); err != nil { // no name stands twice in what was written here
		return nil, err
	}
	return read(data, tree, nil)
}
