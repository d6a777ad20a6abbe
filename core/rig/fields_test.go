package rig_test

import (
	"reflect"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/fact"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
)

// Whatever number a rig can state is a row of Fields: none can be stated that is not checked, asked for and edited by
// path.
func TestEveryNumberIsAField(t *testing.T) {
	for seed := range uint64(300) {
		r := rigtest.Rig(seed + 1)
		n := 0
		rigtest.Facts(r, func(*fact.Fact) { n++ })
		require.Len(t, r.Facts(), n, "seed %d", seed+1)
	}
	numbers := map[string]bool{}
	for i := range rig.Fields {
		if f := &rig.Fields[i]; f.IsNumber() {
			numbers[f.Path[strings.LastIndexByte(f.Path, '/')+1:]] = true
			require.Less(t, f.Low, f.High, f.Path)
			require.NotEmpty(t, f.Units, f.Path)
		}
		require.NotEmpty(t, rig.Fields[i].Name)
	}
	var walk func(reflect.Type, map[reflect.Type]bool)
	walk = func(of reflect.Type, seen map[reflect.Type]bool) {
		switch of.Kind() {
		case reflect.Pointer, reflect.Slice, reflect.Map:
			walk(of.Elem(), seen)
		case reflect.Struct:
			if seen[of] {
				return
			}
			seen[of] = true
			for i := range of.NumField() {
				f := of.Field(i)
				bare := f.Type
				if bare.Kind() == reflect.Pointer {
					bare = bare.Elem()
				}
				if bare == reflect.TypeFor[fact.Fact]() {
					name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
					require.True(t, numbers[name], "%s.%s is a number and no row of Fields", of, name)
				} else if f.IsExported() {
					walk(f.Type, seen)
				}
			}
		}
	}
	walk(reflect.TypeFor[rig.Rig](), map[reflect.Type]bool{})
}

// A number outside the bounds of its field is named by its place in the document.
func TestBoundsOfFieldsAreChecked(t *testing.T) {
	for seed := range uint64(60) {
		r := rigtest.Rig(seed + 1)
		for _, f := range r.Facts() {
			out := fact.Exactly(f.Field.High * 2)
			after, err := rig.Apply(r, rig.Edit{Do: "fact", Path: f.Path, Fact: &out})
			require.NoError(t, err, f.Path)
			problems := rig.Check(after)
			require.Len(t, problems, 1, "%s", f.Path)
			require.Contains(t, problems[0].Text, "is outside")
			require.Contains(t, problems[0].Place, f.Path[strings.LastIndexByte(f.Path, '/')+1:])
		}
	}
}
