package advise

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/engine"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/rules"
	"eventether/core/verdict"
	"eventether/internal/demo/rigs"
)

func idsOf(moves []Move) (ids []string) {
	for i := range moves {
		ids = append(ids, moves[i].ID)
	}
	return ids
}

// What is said at once is what is said with everything: the same cure, the same findings, only without what eases each
// of them; and that there is more to come is said.
func TestMendIsTheBeginningOfAllAdvice(t *testing.T) {
	if testing.Short() {
		t.Skip("make test runs it")
	}
	all := []*rig.Rig{rigs.Loft(), rigs.LoftEven(), rigs.Hall(), rigs.Desk(), rigtest.Plain()}
	for seed := range uint64(150) {
		all = append(all, rigtest.Rig(seed+700))
	}
	cured, open := 0, 0
	for i, r := range all {
		v := judge.Rig(r)
		now, whole := Mend(t.Context(), v, 60_000), On(t.Context(), v, 60_000)
		if now.Cure == nil {
			require.Nil(t, whole.Cure, "rig %d", i)
		} else {
			cured++
			require.Equal(t, idsOf(now.Cure.Moves), idsOf(whole.Cure.Moves), "rig %d", i)
			require.Equal(t, now.Cure.State, whole.Cure.State, "rig %d", i)
		}
		require.Equal(t, now.CureProven, whole.CureProven, "rig %d", i)
		require.Len(t, whole.Findings, len(now.Findings), "rig %d", i)
		for k := range now.Findings {
			require.Equal(t, now.Findings[k].State, whole.Findings[k].State)
			require.Len(t, whole.Findings[k].Members, len(now.Findings[k].Members))
			for _, m := range now.Findings[k].Members {
				require.Empty(t, m.Fixes)
			}
		}
		if now.Complete {
			require.Zero(t, whole.Moves, "rig %d: it said that nothing was to come", i)
		} else {
			open++
		}
		require.LessOrEqual(t, now.Work, whole.Work)
	}
	require.Greater(t, cured, 20)
	require.Greater(t, open, 60)
}

// Checking the leads alone finds a moved plug at fault exactly where checking the whole rig does.
func TestCheckingLeadsAloneIsEnoughForPlugs(t *testing.T) {
	if testing.Short() {
		t.Skip("make test runs it")
	}
	sound, spoilt := 0, 0
	for seed := range uint64(150) {
		r := rigtest.Rig(seed + 40)
		all := Moves(r)
		for i := range all {
			if m := &all[i]; m.Kind == "plug" {
				after, err := rig.Apply(r, m.Edits...)
				require.NoError(t, err)
				require.Equal(t, rig.Check(after), rig.CheckLeads(after), "seed %d, %s", seed, m.ID)
				if len(rig.Check(after)) == 0 {
					sound++
				} else {
					spoilt++
				}
			}
		}
	}
	require.Greater(t, sound, 200)
	require.Greater(t, spoilt, 200)
}

// A draft is the rig Apply makes, and leaves the rig it is of as it was, however often it is used and whatever goes
// wrong between.
func TestADraftIsWhatApplyMakes(t *testing.T) {
	if testing.Short() {
		t.Skip("make test runs it")
	}
	for seed := range uint64(60) {
		r := rigtest.Rig(seed + 9)
		before := rigtest.Clone(r)
		b := verdict.BaseOf(verdict.As(r))
		all := Moves(r)
		for i := range all {
			m := &all[i]
			want, err := rig.Apply(r, m.Edits...)
			require.NoError(t, err)
			require.NoError(t, b.Try(m.Edits, func(d *verdict.Delta) {
				require.Equal(t, want, d.Rig, "seed %d, %s", seed, m.ID)
				if i%7 == 0 && i > 0 { // a trial within a trial
					require.NoError(t, b.Try(all[i-1].Edits, func(in *verdict.Delta) {
						inner, err := rig.Apply(r, all[i-1].Edits...)
						require.NoError(t, err)
						require.Equal(t, inner, in.Rig)
					}))
					require.Equal(t, want, d.Rig)
				}
			}))
			if i%11 == 0 { // an edit that cannot be made, behind one that can
				bad := append(append([]rig.Edit{}, m.Edits...), rig.Edit{Do: "mode", Item: "nobody"})
				require.Error(t, b.Try(bad, func(*verdict.Delta) { t.Error("looked at what could not be made") }))
			}
		}
		require.Equal(t, before, r, "seed %d", seed)
	}
}

// What would run dry is offered power by USB where its sheet says that runs it, a supply before a bank, and neither
// where a bank says that the mains is far.
func TestPowerByUSBIsOfferedToWhatWouldRunDry(t *testing.T) {
	r := rigs.Loft()
	cam := r.Item("cam-face")
	power := *cam.Gear.Power
	power.Mains, power.USB = gear.MainsNo, "runs"
	cam.Gear.Power = &power
	offers := func(r *rig.Rig) (ids []string) {
		v := judge.Rig(r)
		require.Equal(t, limit.Snapped, v.Find(engine.ID{Rule: rules.RunTime, Place: "cam-face"}).State)
		a := On(t.Context(), v, Effort)
		for i := range a.Findings {
			for _, m := range a.Findings[i].Members {
				if m.Result.ID.Rule == rules.RunTime && m.Result.ID.Place == "cam-face" {
					ids = append(ids, idsOf(m.Fixes)...)
				}
			}
		}
		return ids
	}
	got := offers(r)
	require.GreaterOrEqual(t, len(got), 2, "%v", got)
	require.Equal(t, []string{"usb-supply:cam-face", "usb-bank:cam-face"}, got[:2])
	power.USB = "no"
	require.NotContains(t, offers(r), "usb-supply:cam-face")
}
