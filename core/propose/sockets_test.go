package propose

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/engine"
	"eventether/core/gear"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/rules"
	"eventether/core/usb"
	"eventether/core/verdict"
)

func begun(t *testing.T, computer string, sources ...rig.StartSource) *rig.Rig {
	r, err := rig.New(rig.Start{Sources: sources, Out: rig.StartOut{Height: 1080, Fps: 30, Minutes: 60},
		Computer: computer})
	require.NoError(t, err)
	return r
}

func proposedSockets(v *verdict.Verdict) map[string]string {
	out := map[string]string{}
	for _, c := range v.Proposed.Choices {
		if c.Kind == verdict.ProposeSocket {
			out[c.Of] = c.Edit.Socket
		}
	}
	return out
}

// Which socket is a choice: nobody has made it, so the best is proposed. A stick goes where 5 Gb/s are known to be.
func TestSocketsAreProposed(t *testing.T) {
	r := begun(t, "desktop", rig.StartSource{Kind: "camera", Count: 2})
	v := judged(r)
	require.Equal(t, map[string]string{"stick-1": "pc.back-1", "stick-2": "pc.back-2"}, proposedSockets(v),
		"not the front ones, whose speed nobody knows")
	require.True(t, v.Find(engine.ID{Rule: rules.Link, Place: "stick-1.usb"}).State.Holds())

	// Taken, they are choices somebody has made.
	taken, err := rig.Apply(r, v.Proposed.Edits()...)
	require.NoError(t, err)
	require.Empty(t, judged(taken).Proposed.Choices)
	for _, l := range taken.Leads {
		require.False(t, l.AnySocket, l.ID)
	}

	// What somebody chose stays, however poor.
	front, err := rig.Apply(r, rig.Edit{Do: "plug", Lead: "usb-1", End: "to", Socket: "pc.front-1"})
	require.NoError(t, err)
	require.Equal(t, map[string]string{"stick-2": "pc.back-1"}, proposedSockets(judged(front)))

	// Where no placing holds, the plugs are left where they stand, and it is said as it is.
	for i := range r.Items[4].Gear.Ports {
		if u := r.Items[4].Gear.Ports[i].USB; u != nil {
			r.Items[4].Gear.Ports[i].USB = &gear.USBPort{Speed: usb.HighSpeed}
		}
	}
	for i := range r.Items {
		if r.Items[i].Gear.Kind == gear.Capture {
			r.Items[i].Gear.Delivers = r.Items[i].Gear.Delivers[:1]
		}
	}
	require.Equal(t, map[string]string{"stick-1": "pc.front-1", "stick-2": "pc.front-2"}, proposedSockets(judged(r)))
}

// Only a device's plug may go anywhere.
func TestOpenSocketsAreForDevices(t *testing.T) {
	r := begun(t, "laptop", rig.StartSource{Kind: "camera", Count: 3})
	require.Empty(t, rig.Check(r))
	r.Lead("hdmi-1").AnySocket = true
	r.Lead("usb-hub-1").AnySocket = true
	problems := rig.Check(r)
	require.Len(t, problems, 2)
	require.Contains(t, fmt.Sprint(problems), "anySocket")
}

// Whatever socket a plug was put into by hand, it stays there: no proposal moves it, alone or with the others.
func TestPutByHandStays(t *testing.T) {
	tried := 0
	for seed := range uint64(400) {
		r := rigtest.Rig(seed)
		for i := range r.Leads {
			l := &r.Leads[i]
			if !l.AnySocket {
				continue
			}
			end, at, dev := "to", l.To, l.From
			if _, p := r.Port(l.From); p != nil && p.Direction == gear.Downstream {
				end, at, dev = "from", l.From, l.To
			}
			_, was := r.Port(at)
			sockets := []string{at}
			for k := range r.Items {
				for _, p := range r.Items[k].Gear.Ports {
					ref := r.Items[k].ID + "." + p.ID
					if taken := slices.ContainsFunc(r.Leads, func(o rig.Lead) bool {
						return o.From == ref || o.To == ref
					}); !taken && p.Direction == gear.Downstream && p.Connector == was.Connector {
						sockets = append(sockets, ref)
					}
				}
			}
			item, _ := rig.SplitRef(dev)
			for _, socket := range sockets {
				after, err := rig.Apply(r, rig.Edit{Do: "plug", Lead: l.ID, End: end, Socket: socket})
				require.NoError(t, err)
				if len(rig.Check(after)) > 0 {
					continue
				}
				tried++
				v := judged(after)
				for _, c := range v.Proposed.Choices {
					require.False(t, c.Kind == verdict.ProposeSocket && c.Of == item,
						"seed %d: %s put into %s, proposed for %s", seed, item, socket, c.Edit.Socket)
				}
				now, err := rig.Apply(after, v.Proposed.Edits()...)
				require.NoError(t, err)
				stands := now.Lead(l.ID)
				require.Contains(t, []string{stands.From, stands.To}, socket, "seed %d: %s", seed, item)
			}
		}
	}
	require.Greater(t, tried, 300)
}
