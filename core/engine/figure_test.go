package engine

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/fact"
	"eventether/core/limit"
)

// A limit of nothing, or of perhaps nothing, says so: no figure reads "994 of 0".
func TestFiguresOfNothing(t *testing.T) {
	least := limit.Fact{Low: 0, Value: 410, High: 410, Unit: "MB/s"}
	for name, c := range map[string]struct {
		cap  limit.Fact
		want string
	}{
		"perhaps nothing": {least, "994 of 410 MB/s at best"},
		"surely nothing":  {limit.Known(0, "MB/s", fact.Given), "994 MB/s wanted, and there is none"},
		"something":       {limit.Known(410, "MB/s", fact.Given), "994 of 410 MB/s"},
	} {
		l := Result{Limit: limit.Limit{Sense: limit.AtMost, Unit: "MB/s", Ceiling: 0.8, Over: limit.Drops,
			Facts: []limit.Fact{limit.Known(994, "MB/s", fact.Given), c.cap},
			Loads: []limit.Load{{Term: limit.Times(1, 1)}}, Caps: []limit.Term{limit.Times(1, 2)}}}
		l.Weigh()
		w := &Words{Result: &l}
		require.Equal(t, c.want, w.Figure(), name)
	}
}
