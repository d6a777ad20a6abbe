package advise

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/engine"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/rules"
	"eventether/core/usb"
)

// twoWays is the plain rig, its camera with a streaming mode by USB beside its output, and a free socket.
func twoWays() *rig.Rig {
	r := rigtest.Clone(rigtest.Plain())
	c := &r.Items[0].Gear
	c.Ports = append(c.Ports, gear.Port{ID: "usb", Connector: gear.USBC, Direction: gear.Upstream,
		USB: &gear.USBPort{Speed: usb.Gen1, Transfer: usb.Bulk}})
	c.Delivers = []gear.Delivery{{Format: picture.NV12, Width: 1920, Height: 1080, MaxRate: f2997}}
	pc := &r.Item("pc").Gear
	pc.Ports = append(pc.Ports, gear.Port{ID: "c", Connector: gear.USBC, Direction: gear.Downstream,
		Controller: pc.Ports[0].Controller, USB: &gear.USBPort{Speed: usb.Gen1}})
	return r
}

func applied(t *testing.T, r *rig.Rig, w Route) *rig.Rig {
	t.Helper()
	require.Empty(t, w.Why)
	after, err := rig.Apply(r, w.Edits...)
	require.NoError(t, err)
	require.Empty(t, rig.Check(after))
	return after
}

// One way and back again: by USB the stick gives its socket back, by capture a device is bought; the picture arrives
// either way.
func TestRoutes(t *testing.T) {
	r := twoWays()
	cam := r.Item("cam-0")
	require.True(t, ByCapture(r, cam).Now)
	w := ByUSB(r, cam)
	require.Zero(t, w.Cost)
	usbRig := applied(t, r, w)
	require.Nil(t, usbRig.Lead("h0"), "the lead it leaves is taken away")
	require.Nil(t, usbRig.Lead("u0"), "and so is the stick's plug")
	lead := usbRig.Leads[len(usbRig.Leads)-1]
	require.True(t, lead.AnySocket, "which socket is proposed")
	v := judge.Rig(usbRig)
	require.Len(t, v.Streams, 1)
	require.True(t, ByUSB(usbRig, usbRig.Item("cam-0")).Now)

	back := ByCapture(usbRig, usbRig.Item("cam-0"))
	require.Positive(t, back.Cost)
	again := applied(t, usbRig, back)
	require.NotNil(t, judge.Rig(again).Find(engine.ID{Rule: rules.Takes, Place: "cam-0-capture.in"}))
}

// A lead by USB has to go as far as the one it replaces.
func TestARouteGoesAsFar(t *testing.T) {
	r := twoWays()
	span := fact.Exactly(12)
	r.Lead("h0").SpanM = &span
	w := ByUSB(r, r.Item("cam-0"))
	require.Equal(t, 12.0, w.Edits[len(w.Edits)-1].NewLead.LengthM.Value)
	v := judge.Rig(applied(t, r, w))
	reach := v.Find(engine.ID{Rule: rules.Reach, Place: w.Edits[len(w.Edits)-1].NewLead.ID})
	require.Equal(t, limit.Snapped, reach.State, "no passive USB lead goes that far")
}

// What there is no route for says why.
func TestNoRoute(t *testing.T) {
	plain := rigtest.Clone(rigtest.Plain())
	require.Contains(t, ByUSB(plain, plain.Item("cam-0")).Why, "no USB socket")
	r := twoWays()
	r.Items[0].Gear.Delivers = nil
	require.Contains(t, ByUSB(r, r.Item("cam-0")).Why, "only charge")
	r = twoWays()
	r.Items[0].Gear.Ports = r.Items[0].Gear.Ports[1:]
	r.Leads = r.Leads[1:]
	require.Contains(t, ByCapture(r, r.Item("cam-0")).Why, "no picture output")
}

// SDI goes the run with a converter at either end, and what it costs counts the metres.
func TestBySDI(t *testing.T) {
	r := rigtest.Clone(rigtest.Plain())
	r.Lead("h0").LengthM = fact.Exactly(60)
	m := BySDI(r, r.Lead("h0"))
	require.True(t, strings.HasPrefix(m.Label, "Take SDI"), m.Label)
	require.Equal(t, 2*gear.ToSDI.Price+priceCoax+60*priceCoaxMetre+2*priceShortLead, m.Cost.Amount)
	after, err := rig.Apply(r, m.Edits...)
	require.NoError(t, err)
	require.Empty(t, rig.Check(after))
	v := judge.Rig(after)
	coax := v.Find(engine.ID{Rule: rules.Reach, Place: "cam-0-sdi-run"})
	require.NotNil(t, coax)
	require.True(t, coax.State.Holds(), "60 m of RG-6 at HD: %s", v.Word(coax).Says)
	require.NotEqual(t, limit.Snapped, v.State)
}

// Plain moves that cost nothing and give nothing up are not left for another way; where they give up picture, another
// way that does not is better.
func TestWhenAnotherWayCounts(t *testing.T) {
	r := twoWays()
	r.Items[0].Set.Output["hdmi"] = *hd(picture.R(25)) // a flaw: set it right, for nothing
	_, a := full(r)
	require.NotNil(t, a.Cure)
	require.Equal(t, "mode", a.Cure.Moves[0].Kind)

	r = twoWays()
	r.Items[0].Gear.Protected = gear.AlwaysProtected
	_, a = full(r)
	require.NotNil(t, a.Cure)
	require.False(t, a.WayOut)
	require.Len(t, a.Cure.Moves, 1)
	require.Equal(t, "way", a.Cure.Moves[0].Kind)
	require.True(t, a.CureProven, "there is no smaller one than one move")
	require.Zero(t, a.Cure.Cost.Amount)
}

// Of a computer that does too much besides, it is spared that first: watching the stream elsewhere costs nothing.
func TestWhatTheComputerIsSpared(t *testing.T) {
	r := rigtest.Clone(rigtest.Plain())
	r.Show.Besides = []string{rig.OwnStream, rig.ScreenRecording, rig.VirtualCamera}
	ids := map[string]Move{}
	for _, m := range Moves(r) {
		ids[m.ID] = m
	}
	require.Empty(t, ids["quit:own-stream"].GivesUp)
	require.NotEmpty(t, ids["quit:screen-recording"].GivesUp)
	require.NotEmpty(t, ids["quit:virtual-camera"].GivesUp)
	after, err := rig.Apply(r, ids["quit:own-stream"].Edits...)
	require.NoError(t, err)
	require.Equal(t, []string{rig.ScreenRecording, rig.VirtualCamera}, after.Show.Besides)
	require.Len(t, r.Show.Besides, 3, "the rig that was given stays as it was")

	r.Show.Besides = []string{"juggling"}
	require.NotEmpty(t, rig.Check(r))
	r.Show.Besides = []string{rig.OwnStream, rig.OwnStream}
	require.NotEmpty(t, rig.Check(r))
}

// A move is made on a copy: whatever it writes into, the rig it is made on stays as it was, and so does a rig made of
// it before.
func TestMovesLeaveTheRigAsItWas(t *testing.T) {
	kinds := map[string]int{}
	for seed := uint64(1); seed <= 15; seed++ {
		r := rigtest.Rig(seed)
		before, err := json.Marshal(r)
		require.NoError(t, err)
		var last *rig.Rig
		var lastText []byte
		for _, m := range Moves(r) {
			after, err := rig.Apply(r, m.Edits...)
			if err != nil {
				continue
			}
			kinds[m.Kind]++
			if last != nil {
				// and one made of the one before leaves both
				_, _ = rig.Apply(last, m.Edits...)
				text, err := json.Marshal(last)
				require.NoError(t, err)
				require.Equal(t, string(lastText), string(text), "%d %s", seed, m.ID)
			}
			last = after
			lastText, err = json.Marshal(after)
			require.NoError(t, err)
		}
		text, err := json.Marshal(r)
		require.NoError(t, err)
		require.Equal(t, string(before), string(text), seed)
	}
	for _, kind := range []string{"plug", "mode", "deliver", "lead", "setting", "power", "send", "swap", "show"} {
		require.Positive(t, kinds[kind], kind)
	}
}
