package place

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/gear"
	"eventether/core/rig"
	"eventether/core/usb"
)

func started(t *testing.T, cameras int) *rig.Rig {
	t.Helper()
	r, err := rig.New(rig.Start{Sources: []rig.StartSource{{Kind: "camera", Count: cameras}},
		Out: rig.StartOut{Height: 1080, Fps: 30, Minutes: 60}, Computer: "desktop"})
	require.NoError(t, err)
	return r
}

func where(t *testing.T, r *rig.Rig, s *Setting, p *Placing) map[string]string {
	t.Helper()
	out := map[string]string{}
	taken := map[string]bool{}
	for _, plug := range s.Plugs(p) {
		require.False(t, taken[plug.Edit.Socket], "%s twice", plug.Edit.Socket)
		taken[plug.Edit.Socket] = true
		out[r.Items[plug.Item].ID] = plug.Edit.Socket
	}
	return out
}

// Among sockets that are alike the first plug goes into the first; who stands in one already stays.
func TestPlugsStandInOrder(t *testing.T) {
	r := started(t, 4)
	s := Of(r, true)
	best, proven := Solve(&s.Problem, Options{})
	require.True(t, proven)
	at := where(t, r, s, best)
	// The start puts sticks 3 and 4 into back 1 and 2, which are of known speed: they stay, and the others follow.
	require.Equal(t, map[string]string{"stick-1": "pc.back-3", "stick-2": "pc.back-4", "stick-3": "pc.back-1",
		"stick-4": "pc.back-2"}, at)
	require.NoError(t, s.Check(best))

	as := where(t, r, s, nil)
	require.Equal(t, "pc.front-1", as["stick-1"], "nil is where they are now")

	fresh := started(t, 2)
	s = Of(fresh, true)
	best, _ = Solve(&s.Problem, Options{})
	require.Equal(t, map[string]string{"stick-1": "pc.back-1", "stick-2": "pc.back-2"}, where(t, fresh, s, best))
}

// A plug that is held stays where it is, even where it cannot work there, and the others find their places all the
// same.
func TestHeldPlugsStandInNobodysWay(t *testing.T) {
	r := started(t, 3)
	pc := r.Item("pc")
	for i := range pc.Gear.Ports {
		if p := &pc.Gear.Ports[i]; p.ID == "front-1" {
			p.USB = &gear.USBPort{Speed: usb.HighSpeed} // nothing uncompressed works here
		}
	}
	for i := range r.Items {
		if r.Items[i].Gear.Kind == gear.Capture {
			r.Items[i].Gear.Delivers = r.Items[i].Gear.Delivers[:1]
		}
	}
	require.Equal(t, "pc.front-1", r.Lead("usb-1").To)
	s := Of(r, true)
	s.Hold(func(l *rig.Lead) bool { return l.ID == "usb-1" })
	best, _ := Solve(&s.Problem, Options{})
	require.NotNil(t, best, "the held one does not spoil it")
	at := where(t, r, s, best)
	require.Equal(t, "pc.front-1", at["stick-1"])
	require.Contains(t, at["stick-2"], "pc.back-")
	require.Contains(t, at["stick-3"], "pc.back-")

	free := Of(r, true)
	best, _ = Solve(&free.Problem, Options{})
	require.Contains(t, where(t, r, free, best)["stick-1"], "pc.back-", "let go, it moves too")
}

// More than a socket gives does not keep the others from their places either.
func TestAHeldPlugThatDrawsTooMuch(t *testing.T) {
	r := started(t, 2)
	pc := r.Item("pc")
	for i := range pc.Gear.Ports {
		if pc.Gear.Ports[i].ID == "front-1" {
			half := r.Items[1].Gear.Power.DrawW.Value * 1000 / 5 / 2
			f := *r.Items[1].Gear.Power.DrawW
			f.Low, f.Value, f.High = half, half, half
			pc.Gear.Ports[i].AllowsMA = &f
		}
	}
	s := Of(r, true)
	s.Hold(func(l *rig.Lead) bool { return l.ID == "usb-1" })
	best, _ := Solve(&s.Problem, Options{})
	require.NotNil(t, best)
	require.Contains(t, where(t, r, s, best)["stick-2"], "pc.back-")
}
