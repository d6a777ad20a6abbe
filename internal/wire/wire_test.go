package wire

import (
	"bytes"
	"encoding/json"
	"math"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/fact"
	"eventether/core/rig"
	"eventether/internal/demo/rigs"
)

type inner struct {
	List []string       `json:"list"`
	Left []string       `json:"left,omitempty"`
	Of   map[string]int `json:"of"`
	At   *int           `json:"at"`
}

func TestNoListIsNull(t *testing.T) {
	for name, c := range map[string]struct {
		v    any
		want string
	}{
		"nil list":          {[]int(nil), `[]`},
		"nil in a list":     {[][]int{nil}, `[[]]`},
		"nil in a struct":   {&inner{}, `{"list":[],"of":{},"at":null}`},
		"nil in an any":     {map[string]any{"a": []inner(nil)}, `{"a":[]}`},
		"list behind a map": {map[string][]string{"a": nil}, `{"a":[]}`},
		"fact with bounds":  {fact.Est(2, 1, 4), `{"value":2,"low":1,"high":4,"from":"estimate"}`},
		"signs stay":        {"a<b & c", `"a<b & c"`},
		"large whole":       {1e21, `1e+21`},
		"made already":      {json.RawMessage(`{"a":[1]}`), `{"a":[1]}`},
	} {
		got, err := Marshal(c.v)
		require.NoError(t, err, name)
		require.Equal(t, c.want, string(got), name)
	}
}

// Where no list is nil it writes what encoding/json writes, byte for byte.
func TestOtherwiseAsTheStandardLibrary(t *testing.T) {
	for _, r := range []*rig.Rig{rigs.Loft(), rigs.Hall(), rigs.Desk()} {
		var want bytes.Buffer
		enc := json.NewEncoder(&want)
		enc.SetEscapeHTML(false)
		enc.SetIndent("", "  ")
		require.NoError(t, enc.Encode(r))
		var got bytes.Buffer
		require.NoError(t, WriteIndented(&got, r))
		require.Equal(t, want.String(), got.String())
	}
}

func TestWhatCannotBeWrittenWritesNothing(t *testing.T) {
	var b bytes.Buffer
	require.Error(t, Write(&b, map[string]any{"a": 1, "b": math.NaN()}))
	require.Zero(t, b.Len())
}
