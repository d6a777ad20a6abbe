package rules_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/engine"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/verdict"
)

// What comes in is told apart by who it is, and rests on what nobody has counted or measured yet.
func TestDownlinkInWords(t *testing.T) {
	r := busy(nil)
	r.Show.Besides = []string{rig.OwnStream}
	r.Show.Calls = []rig.Call{{Name: "choir", Persons: 3}, {DownKbps: exactly(1200)}, {Name: "guest"}}
	v := judge.Rig(r)
	l := v.Find(engine.ID{Rule: rules.Downlink})
	require.NotNil(t, l)
	w := v.Word(l)
	labels := []string{}
	for _, ld := range w.Loads {
		labels = append(labels, ld.Label+": "+ld.Sum)
	}
	require.Equal(t, []string{"call choir: 3 people × 600 to 3000 kb/s", "call 2: 1200 kb/s",
		"call guest: 1 to 9 people × 600 to 3000 kb/s",
		"one's own stream, watched here: 2500 kb/s"}, labels)
	// 3 × 0.6 + 1.2 + 1 × 0.6 + 2.5 to 3 × 3 + 1.2 + 9 × 3 + 2.5
	require.InDelta(t, 6.1, l.Load.Low, 1e-9)
	require.InDelta(t, 39.7, l.Load.High, 1e-9)
	require.Equal(t, limit.Untested, l.State, "20 to 1000 Mb/s come in")
	asked := map[string]bool{}
	for _, d := range l.Rank() {
		asked[l.Facts[d.Fact].Path()] = true
	}
	require.True(t, asked["uplink/downMbps"], "%v", asked)
	require.True(t, asked["show/calls/2/persons"], "%v", asked)
	require.False(t, asked["show/calls/0/persons"], "somebody has counted them")

	r.Show.Calls, r.Show.Besides = nil, nil
	require.Nil(t, judge.Rig(r).Find(engine.ID{Rule: rules.Downlink}), "nothing comes in")
}

// People of a call and what else the computer does stand in the sums of its places, by name.
func TestWhatElseTheComputerDoes(t *testing.T) {
	r := busy(nil)
	r.Show.Destinations[0].Send.Encoder = "veryfast" // else a faster preset makes room
	before := judge.Rig(r)
	r.Show.Calls = []rig.Call{{Name: "choir", Persons: 2}}
	r.Show.Besides = []string{rig.VirtualCamera}
	v := judge.Rig(r)
	labels := func(v *verdict.Verdict, rule *engine.Rule) (out []string) {
		l := v.Find(engine.ID{Rule: rule, Place: "pc"})
		for _, ld := range v.Word(l).Loads {
			out = append(out, ld.Label)
		}
		return out
	}
	require.Subset(t, labels(v, rules.Processor), []string{"people of call choir, decoded",
		"people of call choir, converted", "virtual camera for other programs, converted"})
	require.Subset(t, labels(v, rules.MemoryTraffic), []string{"people of call choir",
		"virtual camera for other programs"})
	for _, rule := range []*engine.Rule{rules.Processor, rules.MemoryTraffic} {
		was, is := before.Find(engine.ID{Rule: rule, Place: "pc"}), v.Find(engine.ID{Rule: rule, Place: "pc"})
		require.Greater(t, is.Load.Low, was.Load.Low, rule)
		require.Greater(t, is.Load.High, was.Load.High, rule)
	}
	for _, n := range v.Unjudged {
		require.NotEqual(t, "calls-in", n.Ref, "there are rules for it now")
	}
}

// A destination with a backup ingest takes twice the line, coded once.
func TestBackupIsCodedOnce(t *testing.T) {
	r := busy(nil)
	one := judge.Rig(r)
	r.Show.Destinations[0].Backup = true
	two := judge.Rig(r)
	require.Len(t, two.Codings, len(one.Codings))
	up := func(v *verdict.Verdict) limit.Bounds { return v.Find(engine.ID{Rule: rules.Uplink}).Load }
	require.InDelta(t, 2*up(one).Low, up(two).Low, 1e-9)
	require.InDelta(t, 2*plans.UploadShare(&one.Show.Destinations[0]), plans.UploadShare(&two.Show.Destinations[0]),
		1e-12)
	l := two.Find(engine.ID{Rule: rules.Uplink})
	require.Contains(t, two.Word(l).Loads[0].Sum, "with its backup")
}
