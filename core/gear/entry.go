package gear

import (
	"fmt"
	"reflect"
	"strings"

	"eventether/core/fact"
)

// ShelfFormat is the format line of a file of shelf entries.
const ShelfFormat = "eventether-shelf/1"

// Entry is one thing on the shelf: a spec sheet, and what it is to the user.
type Entry struct {
	ID    string `json:"id" pattern:"^[a-z0-9][a-z0-9-]*$" maxLength:"60" doc:"Of this shelf; rigs refer to it"`
	Gear  Gear   `json:"gear"`
	Owned bool   `json:"owned" doc:"False for something that could be bought"`
	Count int    `json:"count,omitempty" minimum:"0" maximum:"999" doc:"How many are owned; 1 when not said"`
	Price *Money `json:"price,omitempty"`
	Demo  bool   `json:"demo,omitempty" doc:"It was laid out with the demo"`
}

// ShelfFile is a file of shelf entries.
type ShelfFile struct {
	Format  string  `json:"format" doc:"eventether-shelf/1"`
	Entries []Entry `json:"entries" maxItems:"2000"`
}

// Slug makes an id of a name: small letters, digits and hyphens.
func Slug(name string) string {
	var b strings.Builder
	for _, c := range strings.ToLower(name) {
		switch {
		case c >= 'a' && c <= 'z', c >= '0' && c <= '9':
			b.WriteRune(c)
		case b.Len() > 0 && !strings.HasSuffix(b.String(), "-"):
			b.WriteByte('-')
		}
		if b.Len() >= 50 {
			break
		}
	}
	if s := strings.Trim(b.String(), "-"); s != "" {
		return s
	}
	return "thing"
}

// Change is one difference between two spec sheets.
type Change struct {
	Field string `json:"field"`
	Was   string `json:"was"`
	Is    string `json:"is"`
}

// Changes names what differs between two spec sheets, field by field, in the order of the sheet.
func Changes(was, is *Gear) []Change {
	out := []Change{}
	differ("", reflect.ValueOf(*was), reflect.ValueOf(*is), &out)
	return out
}

func differ(field string, a, b reflect.Value, out *[]Change) {
	if reflect.DeepEqual(a.Interface(), b.Interface()) {
		return
	}
	if a.Kind() == reflect.Pointer && !a.IsNil() && !b.IsNil() {
		a, b = a.Elem(), b.Elem()
	}
	_, isFact := a.Interface().(fact.Fact)
	_, isText := a.Interface().(fmt.Stringer)
	switch {
	case a.Kind() == reflect.Struct && !isFact && !isText:
		for i := range a.NumField() {
			name, _, _ := strings.Cut(a.Type().Field(i).Tag.Get("json"), ",")
			differ(join(field, name), a.Field(i), b.Field(i), out)
		}
	case a.Kind() == reflect.Slice && a.Type().Elem() == reflect.TypeFor[Port]():
		differPorts(field, a.Interface().([]Port), b.Interface().([]Port), out)
	default:
		*out = append(*out, Change{field, inWords(a), inWords(b)})
	}
}

func differPorts(field string, a, b []Port, out *[]Change) {
	for i := range a {
		at := (&Gear{Ports: b}).Port(a[i].ID)
		if at < 0 {
			*out = append(*out, Change{join(field, a[i].ID), "there", "gone"})
			continue
		}
		differ(join(field, a[i].ID), reflect.ValueOf(a[i]), reflect.ValueOf(b[at]), out)
	}
	for i := range b {
		if (&Gear{Ports: a}).Port(b[i].ID) < 0 {
			*out = append(*out, Change{join(field, b[i].ID), "not there", "there"})
		}
	}
}

func join(a, b string) string {
	if a == "" {
		return b
	}
	return a + " › " + b
}

func inWords(v reflect.Value) string {
	switch {
	case v.Kind() == reflect.Pointer && v.IsNil():
		return "not said"
	case v.Kind() == reflect.Pointer:
		v = v.Elem()
	case v.Kind() == reflect.Slice:
		return fmt.Sprintf("%d listed", v.Len())
	}
	switch x := v.Interface().(type) {
	case fact.Fact:
		return x.String()
	case bool:
		if x {
			return "yes"
		}
		return "no"
	}
	if s := fmt.Sprint(v.Interface()); s != "" {
		return s
	}
	return "not said"
}
