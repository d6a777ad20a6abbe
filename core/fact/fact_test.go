package fact

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestFactReadsBothForms(t *testing.T) {
	for _, c := range []struct {
		name, text string
		want       Fact
	}{
		{"a plain number is as given", `6.5`, Fact{6.5, 6.5, 6.5, Given, ""}},
		{"zero", `0`, Fact{0, 0, 0, Given, ""}},
		{"an exponent", `1e3`, Fact{1000, 1000, 1000, Given, ""}},
		{"bounds and source", `{"value":6.5,"low":5,"high":8,"from":"estimate"}`, Fact{6.5, 5, 8, Estimate, ""}},
		{"a date", `{"value":11.8,"from":"measured","at":"2026-09-01"}`, Fact{11.8, 11.8, 11.8, Measured,
			"2026-09-01"}},
		{"one bound missing is the value", `{"value":3,"high":4}`, Fact{3, 3, 4, Given, ""}},
	} {
		t.Run(c.name, func(t *testing.T) {
			var f Fact
			require.NoError(t, json.Unmarshal([]byte(c.text), &f))
			require.Equal(t, c.want, f)
		})
	}
}

func TestFactRefuses(t *testing.T) {
	for _, c := range []struct{ name, text, says string }{
		{"a text", `"6 W"`, `"6 W" is not a number`},
		{"no value", `{"low":1,"high":2}`, "value is missing"},
		{"bounds that do not enclose", `{"value":9,"low":1,"high":2}`,
			"bounds must enclose the value: low 1, value 9, high 2"},
		{"an unknown source", `{"value":9,"from":"hearsay"}`, `from "hearsay" is not one of`},
		{"a misspelt field", `{"value":9,"hihg":10}`, "hihg"},
		{"true", `true`, "true is not a number"},
	} {
		t.Run(c.name, func(t *testing.T) {
			var f Fact
			require.ErrorContains(t, json.Unmarshal([]byte(c.text), &f), c.says)
		})
	}
}

func TestFactWritesWhatItReads(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		v := rapid.Float64Range(-1e6, 1e6).Draw(t, "value")
		f := Fact{Value: v, Low: v - rapid.Float64Range(0, 100).Draw(t, "below"),
			High: v + rapid.Float64Range(0, 100).Draw(t, "above"),
			From: rapid.SampledFrom(Sources).Draw(t, "from"), At: rapid.SampledFrom([]string{"", "2026-09-01"}).Draw(t,
				"at")}
		if f.Narrow() { // rounding may have swallowed the spread
			f.Low, f.High = v, v
		}
		text, err := json.Marshal(f)
		require.NoError(t, err)
		var back Fact
		require.NoError(t, json.Unmarshal(text, &back))
		require.Equal(t, f, back)
		again, err := json.Marshal(back)
		require.NoError(t, err)
		require.Equal(t, string(text), string(again))
	})
}
