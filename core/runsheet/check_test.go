package runsheet

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/judge"
	"eventether/core/rig/rigtest"
	"eventether/internal/demo/rigs"
)

// Sheets we make pass; one that was spoilt is named by what is wrong with it.
func TestProblem(t *testing.T) {
	for seed := range uint64(40) {
		require.Empty(t, Of(judge.Rig(rigtest.Rig(seed)), nil, Options{People: 3}).Problem())
	}
	long := strings.Repeat("x", mostText+1)
	for name, c := range map[string]struct {
		spoil func(*RunSheet)
		says  string
	}{
		"no plan":        {func(s *RunSheet) { s.Plans = nil }, "0 plans"},
		"seven plans":    {func(s *RunSheet) { s.Plans = make([]Plan, 7) }, "7 plans"},
		"many steps":     {func(s *RunSheet) { s.Steps = make([]Step, mostSteps+1) }, "2001 steps"},
		"no id":          {func(s *RunSheet) { s.Steps[0].ID = "" }, "one of its own"},
		"one id twice":   {func(s *RunSheet) { s.Steps[1].ID = s.Steps[0].ID }, "one of its own"},
		"waits for none": {func(s *RunSheet) { s.Steps[0].After = []string{"none"} }, "which is no step"},
		"in a circle": {func(s *RunSheet) {
			s.Steps[0].After, s.Steps[1].After = []string{s.Steps[1].ID}, []string{s.Steps[0].ID}
		}, "circle"},
		"minutes of a step": {func(s *RunSheet) { s.Steps[0].Minutes = math.Inf(1) }, "0 to 1000000"},
		"no minutes":        {func(s *RunSheet) { s.Steps[0].Minutes = math.NaN() }, "0 to 1000000"},
		"a crowd":           {func(s *RunSheet) { s.Steps[0].People = 7 }, "0 to 6"},
		"a strange phase":   {func(s *RunSheet) { s.Steps[0].Phase = "dance" }, "phase"},
		"a long text":       {func(s *RunSheet) { s.Steps[0].Do = long }, "2001 characters"},
		"a turned text":     {func(s *RunSheet) { s.Steps[0].Caution = "a\u202eb" }, "direction"},
		"minutes of a plan": {func(s *RunSheet) { s.Plans[0].Minutes = 1.7e308 }, "plan for 1"},
		"a turn of none":    {func(s *RunSheet) { s.Plans[0].Turns[0].Step = "none" }, "which is no step"},
		"a turn for ever":   {func(s *RunSheet) { s.Plans[0].Turns[0].End = 1e300 }, "a turn"},
		"a show for ever":   {func(s *RunSheet) { s.Show = 1e300 }, "show"},
		"a bag":             {func(s *RunSheet) { s.Packing = []Packed{{Bag: long}} }, "2001 characters"},
	} {
		s := Of(judge.Rig(rigs.LoftEven()), nil, Options{People: 2})
		c.spoil(s)
		require.Contains(t, s.Problem(), c.says, name)
	}
}
