package rigfile

import (
	"encoding/json"
	"fmt"
	"reflect"
	"regexp"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/picture"
	"eventether/core/rig"
)

// factDoc, rateDoc and amountDoc stand in for core types with their own JSON form; the core knows nothing of schemas.
type (
	factDoc     struct{}
	rateDoc     struct{}
	exposureDoc struct{}
	amountDoc   struct{}
	kindDoc     struct{}
	plugDoc     struct{}
)

// Schema of a fact: a plain number, or a number with bounds and source.
func (factDoc) Schema(huma.Registry) *huma.Schema {
	number := func(doc string) *huma.Schema { return &huma.Schema{Type: huma.TypeNumber, Description: doc} }
	from := make([]any, len(fact.Sources))
	for i, s := range fact.Sources {
		from[i] = string(s)
	}
	long := &huma.Schema{Type: huma.TypeObject, AdditionalProperties: false, Required: []string{"value"},
		Properties: map[string]*huma.Schema{
			"value": number("The likely value"), "low": number("At least"), "high": number("At most"),
			"from": {Type: huma.TypeString, Enum: from}, "at": {Type: huma.TypeString,
				Description: "Date of a measurement"}}}
	long.PrecomputeMessages()
	return precomputed(&huma.Schema{Description: "A number with bounds and a source; a plain number is taken as given",
		AnyOf: []*huma.Schema{number("As given"), long}})
}

// Schema of a rate: an exact fraction.
func (rateDoc) Schema(huma.Registry) *huma.Schema {
	return precomputed(&huma.Schema{Type: huma.TypeString, Pattern: `^[1-9][0-9]*(/[1-9][0-9]*)?$`,
		PatternDescription: "a whole number or an exact fraction such as 30000/1001 (29.97 is a rounded name, not a rate)",
		Description:        "Frames a second as an exact fraction", Examples: []any{"30000/1001"}})
}

// Schema of an amount of money: a decimal text.
func (exposureDoc) Schema(huma.Registry) *huma.Schema {
	return precomputed(&huma.Schema{Type: huma.TypeString, Pattern: `^[1-9][0-9]*(/[1-9][0-9]*)?$`,
		PatternDescription: "a fraction of a second such as 1/50",
		Description:        "Exposure in seconds as an exact fraction", Examples: []any{"1/50"}})
}

func (amountDoc) Schema(huma.Registry) *huma.Schema {
	return precomputed(&huma.Schema{Type: huma.TypeString, Pattern: `^[0-9]{1,9}(\.[0-9]{1,2})?$`,
		PatternDescription: "digits with at most two decimals, such as 150.00"})
}

// Schema of a gear kind.
func (kindDoc) Schema(huma.Registry) *huma.Schema { return words(gear.Kinds) }

type verbDoc string

// Schema of what an edit does: every verb there is.
func (verbDoc) Schema(huma.Registry) *huma.Schema {
	s := &huma.Schema{Type: huma.TypeString}
	says := make([]string, len(rig.Verbs))
	for i := range rig.Verbs {
		v := &rig.Verbs[i]
		s.Enum, says[i] = append(s.Enum, string(v.Do)), string(v.Do)+": "+v.Says
	}
	s.Description = strings.Join(says, " ")
	return precomputed(s)
}

// Schema of a connector.
func (plugDoc) Schema(huma.Registry) *huma.Schema { return words(gear.Connectors) }

func words[T ~string](list []T) *huma.Schema {
	s := &huma.Schema{Type: huma.TypeString}
	for _, w := range list {
		s.Enum = append(s.Enum, string(w))
	}
	return precomputed(s)
}

func precomputed(s *huma.Schema) *huma.Schema {
	s.PrecomputeMessages()
	return s
}

// Name is what a type is called in schemas and in the API: its own name, with Run before it where it is of a run sheet
// and Night where it is of a log, since those have words of their own for steps and standing.
func Name(t reflect.Type, hint string) string {
	name := huma.DefaultSchemaNamer(t, hint)
	for t.Kind() == reflect.Pointer || t.Kind() == reflect.Slice {
		t = t.Elem()
	}
	switch {
	case t.Name() == "" || strings.HasPrefix(name, "Run"):
	case strings.HasSuffix(t.PkgPath(), "core/runsheet"):
		return "Run" + name
	case strings.HasSuffix(t.PkgPath(), "core/costs"):
		return "Cost" + strings.TrimPrefix(name, "Cost")
	case strings.HasSuffix(t.PkgPath(), "core/night"):
		return "Night" + name
	}
	return name
}

// Aliases tells a schema registry how the core's own types look in JSON.
func Aliases(r huma.Registry) {
	for t, doc := range map[any]any{fact.Fact{}: factDoc{}, picture.Rate{}: rateDoc{},
		picture.Exposure{}: exposureDoc{}, gear.Amount(0): amountDoc{}, gear.Kind(""): kindDoc{},
		gear.Connector(""): plugDoc{}, rig.VerbName(""): verbDoc("")} {
		r.RegisterTypeAlias(reflect.TypeOf(t), reflect.TypeOf(doc))
	}
}

var registry, rigSchema = func() (huma.Registry, *huma.Schema) {
	huma.DefaultArrayNullable = false // a list may be empty, never null
	huma.ValidateStrictCasing = true  // "Name" is not "name"
	r := huma.NewMapRegistry("#/$defs/", Name)
	Aliases(r)
	return r, r.Schema(reflect.TypeFor[rig.Rig](), true, "Rig")
}()

// Schema is the JSON Schema (2020-12) of the rig file, as kept in docs/formats.
func Schema() ([]byte, error) {
	return schemaDocument("eventether-rig-1.schema.json", "Even Tether rig file, format 1", rigSchema.Ref)
}

// schemaDocument is a JSON Schema with the definitions its root leads to.
func schemaDocument(id, title, ref string) ([]byte, error) {
	all := map[string]json.RawMessage{}
	for name, s := range registry.Map() {
		text, err := json.Marshal(s)
		if err == nil {
			text, err = withBounds(name, text)
		}
		if err != nil {
			return nil, err
		}
		all[name] = text
	}
	defs := map[string]json.RawMessage{}
	var follow func(text string)
	follow = func(text string) {
		for _, m := range refs.FindAllStringSubmatch(text, -1) {
			if _, have := defs[m[1]]; !have {
				defs[m[1]] = all[m[1]]
				follow(string(all[m[1]]))
			}
		}
	}
	follow(`"` + ref + `"`)
	return encode(map[string]any{"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": id, "title": title,
		"$ref": ref, "$defs": defs})
}

// withBounds writes the bounds and units of rig.Fields into the numbers of one definition. Reading a file does not go
// by these: rig.Check names the place and the unit.
func withBounds(name string, text []byte) ([]byte, error) {
	var def map[string]any
	if err := json.Unmarshal(text, &def); err != nil {
		return nil, err
	}
	properties, _ := def["properties"].(map[string]any)
	for property, p := range properties {
		f := numberField(name, property)
		schema, _ := p.(map[string]any)
		either, _ := schema["anyOf"].([]any)
		if f == nil || len(either) != 2 {
			continue
		}
		bound := func(s any) {
			if m, ok := s.(map[string]any); ok {
				m["minimum"], m["maximum"] = f.Low, f.High
			}
		}
		bound(either[0])
		long, _ := either[1].(map[string]any)["properties"].(map[string]any)
		for _, part := range []string{"value", "low", "high"} {
			bound(long[part])
		}
		schema["description"] = fmt.Sprintf("%v (%s)", schema["description"], f.Units)
	}
	return json.Marshal(def)
}

// numberField is the field a number of a definition is, nil for none.
func numberField(definition, property string) *rig.Field {
	for i := range rig.Fields {
		f := &rig.Fields[i]
		if f.IsNumber() && strings.HasSuffix(f.Path, "/"+property) && strings.Contains(f.Path, "/battery/") ==
			(definition == "BatteryPack") {
			return f
		}
	}
	return nil
}

var refs = regexp.MustCompile(`"#/\$defs/([^"]+)"`)
