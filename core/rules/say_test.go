package rules_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/engine"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/rig"
	"eventether/core/rules"
)

// A rule's words tell where it was judged: an output sends and an input takes, a box's own output too; each lead is its
// own.
func TestWordsTellTheSocket(t *testing.T) {
	r := plain()
	port := func(id string, d gear.Direction) gear.Port {
		return gear.Port{ID: id, Connector: gear.HDMIA, Direction: d,
			HDMI: &gear.HDMIPort{MaxTMDSMHz: new(fact.Exactly(340))}}
	}
	r.Items = append(r.Items, rig.Item{ID: "split", Label: "Splitter", Gear: gear.Gear{Kind: gear.Splitter,
		Name: "Splitter", Ports: []gear.Port{port("in", gear.In), port("out", gear.Out)}}})
	r.Leads[0].To = "split.in"
	r.Leads = append(r.Leads, rig.Lead{ID: "h9", From: "split.out", To: "stick-0.in", Grade: "premium",
		LengthM: fact.Exactly(1)})
	require.Empty(t, rig.Check(r))
	v := judge.Rig(r)
	says := func(rule *engine.Rule, place string) string {
		l := v.Find(engine.ID{Rule: rule, Place: place})
		require.NotNil(t, l, "%s:%s", rule, place)
		w := v.Word(l)
		return w.What + "; " + w.Says
	}
	camera := r.Items[0].Label
	for _, c := range []struct {
		rule  *engine.Rule
		place string
		want  []string
	}{
		{rules.CharacterRate, "cam-0.hdmi", []string{"the socket of " + camera + " must send", "can send."}},
		{rules.CharacterRate, "split.in", []string{"the socket of Splitter must take", "can take."}},
		{rules.CharacterRate, "split.out", []string{"the socket of Splitter must send", "can send."}},
		{rules.CharacterRate, "stick-0.in", []string{"the socket of Stick must take", "can take."}},
		{rules.Sends, "cam-0.hdmi", []string{"Picture " + camera + " sends", camera + " is set to"}},
		{rules.Grade, "h0", []string{"from " + camera + " to Splitter", "High Speed HDMI carries"}},
		{rules.Grade, "h9", []string{"from Splitter to Stick", "Premium High Speed HDMI carries"}},
		{rules.Reach, "h9", []string{"from Splitter to Stick", "1 m long"}},
		{rules.Run, "h9", []string{"from Splitter to Stick", "lies there, so it reaches"}},
		{rules.Takes, "stick-0.in", []string{"Picture Stick takes", "Stick locks to"}},
		{rules.Delivers, "stick-0.usb", []string{"Picture Stick delivers", "Stick delivers"}},
		{rules.Link, "stick-0.usb", []string{"USB connection of Stick", "slowest part"}},
		{rules.Cadence, "stick-0.usb:cam-0.hdmi", []string{"Movement of " + camera + " in the programme", "same rate"}},
		{rules.Size, "stick-0.usb:cam-0.hdmi", []string{"Size of " + camera, "as large as the programme"}},
	} {
		for _, want := range c.want {
			require.Contains(t, says(c.rule, c.place), want, "%s:%s", c.rule, c.place)
		}
	}
}
