package rules

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/limit"
	"eventether/core/rig"
)

// Every yes or no that can be bad has few words on the board, and none is for a rule or a field that is not there.
func TestEveryYesOrNoHasFewWords(t *testing.T) {
	for id, s := range shorts {
		require.NotNil(t, ByID(id), "%s is no rule", id)
		require.NotEmpty(t, s.bad, "%s", id)
	}
	for path := range asks {
		require.NotNil(t, rig.FieldAt(path), "%s is no field", path)
	}
	for _, r := range All() {
		if r.Sense == limit.Fits && r.Over != limit.Care {
			require.NotEmpty(t, shorts[r.ID].bad, "%s says nothing on the board when it is bad", r.ID)
		}
	}
}
