package word_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/word"
)

var sizes = []string{"small", "large"}

type size uint16

// What is none of the words has none, and a text that is none of them is an error which names them.
func TestReadAndOf(t *testing.T) {
	for _, c := range []struct {
		text string
		want size
		fail string
	}{
		{"small", 1, ""},
		{"large", 2, ""},
		{"", 0, ""},
		{"Large", 7, `size: "Large" is none of small, large`},
		{"larger", 7, `size: "larger" is none of small, large`},
	} {
		v := size(7)
		if err := word.Read(&v, sizes, "size", []byte(c.text)); c.fail != "" {
			require.EqualError(t, err, c.fail)
		} else {
			require.NoError(t, err)
			assert.Equal(t, c.text, word.Of(sizes, v))
		}
		assert.Equal(t, c.want, v, c.text)
	}
	assert.Empty(t, word.Of(sizes, size(3)))
}

// Each kind of word a verdict is made of goes through JSON as its word, nothing said as nothing, and as a key too.
func TestWordsInJSON(t *testing.T) {
	type all struct {
		State limit.State       `json:"state"`
		None  limit.State       `json:"none,omitempty"`
		Over  limit.Consequence `json:"over"`
		Sense limit.Sense       `json:"sense"`
		Stage plans.Stage       `json:"stage"`
		Unset plans.Stage       `json:"unset"`
		Count map[limit.State]int
	}
	in := all{State: limit.Kinked, Over: limit.Drops, Sense: limit.Within, Stage: plans.Capture,
		Count: map[limit.State]int{limit.Snapped: 2}}
	text, err := json.Marshal(in)
	require.NoError(t, err)
	require.JSONEq(t,
		`{"state":"kinked","over":"drops","sense":"within","stage":"capture","unset":"","Count":{"snapped":2}}`,
		string(text))
	var out all
	require.NoError(t, json.Unmarshal(text, &out))
	require.Equal(t, in, out)
	require.ErrorContains(t, json.Unmarshal([]byte(`{"state":"loose"}`), &out),
		`state: "loose" is none of slack, taut, kinked, untested, snapped`)
	for i, s := range limit.States {
		assert.Equal(t, i, s.Severity())
	}
}
