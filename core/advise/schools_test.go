package advise

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/internal/demo/rigs"
)

func asked(r *rig.Rig) map[string]School {
	out := map[string]School{}
	for _, s := range Schools(r) {
		out[s.ID] = s
	}
	return out
}

// Where habits differ, what is said for each side stands there, and the verdict follows the choice.
func TestSchools(t *testing.T) {
	all := asked(rigs.Loft())
	for _, id := range []string{"rate", "switching", "program", "power", "hub-dock:hub", "range", "camera-webcam",
		"sticks-card"} {
		require.Contains(t, all, id)
		require.GreaterOrEqual(t, len(all[id].Options), 2)
	}
	power := all["power"]
	mains, battery := power.Options[0], power.Options[1]
	assert.False(t, mains.Now)
	require.NotNil(t, mains.Cost, "a dummy battery has to be bought")
	assert.Less(t, mains.Over, battery.Over, "the small battery is over, the mains are not")

	hardware := all["switching"].Options[0]
	assert.Empty(t, hardware.Edits, "the loft has no switcher to do it with")
	assert.True(t, all["switching"].Options[1].Now)

	hall := asked(rigs.Hall())
	assert.NotEmpty(t, hall["switching"].Options[0].Edits)
	assert.Equal(t, limit.Snapped, hall["switching"].Options[1].State, "one picture comes out of a switcher")
}

// Every answer that is offered can be given, leaves a sound rig, comes to what it says, and is then what the rig is; on
// random rigs.
func TestSchoolsOnRandomRigs(t *testing.T) {
	if testing.Short() {
		t.Skip("make test runs it")
	}
	given := 0
	for seed := uint64(1); seed <= 12; seed++ {
		r := rigtest.Rig(seed)
		for _, s := range Schools(r) {
			seen := map[string]bool{}
			for i, o := range s.Options {
				require.NotEmpty(t, o.Why, s.ID)
				require.False(t, seen[o.Title], "%s: %s", s.ID, o.Title)
				seen[o.Title] = true
				if len(o.Edits) == 0 {
					continue
				}
				after, err := rig.Apply(r, o.Edits...)
				require.NoError(t, err, s.ID)
				require.Empty(t, rig.Check(after), "%d %s", seed, s.ID)
				require.Equal(t, o.State, judge.Rig(after).State, s.ID)
				given++
				for _, then := range Schools(after) {
					if then.ID == s.ID && i < len(then.Options) && then.Options[i].Title == o.Title {
						require.True(t, then.Options[i].Now, "%d: %s: %s was chosen", seed, s.ID, o.Title)
					}
				}
			}
		}
	}
	require.Greater(t, given, 60)
}
