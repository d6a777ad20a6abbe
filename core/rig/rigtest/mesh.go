package rigtest

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/rig"
	"eventether/core/usb"
)

// Mesh says how a rig is knit that nobody would build: layers of boxes between cameras and capture devices, joined by
// several leads, straight or crosswise, and hubs behind them. Such rigs are small to write and long to think about.
type Mesh struct {
	Kind          gear.Kind // of the boxes
	Cameras, Outs int       // and outputs of each
	Width, Depth  int       // boxes in a layer, and layers
	Leads         int       // from each box on
	Cross         int       // how far sideways the next lead goes
	Hubs          int       // one behind the other, before the computer
	Voices        int
	Sends, Keeps  int
}

// MeshOf draws a mesh.
func MeshOf(d *Dice) Mesh {
	return Mesh{Kind: pick(d, gear.Switcher, gear.Splitter, gear.Converter, gear.Recorder, gear.Capture),
		Cameras: 1 + d.N(8), Outs: 1 + d.N(3), Width: 1 + d.N(4), Depth: d.N(24),
		Leads: 1 + d.N(4), Cross: d.N(4), Hubs: d.N(5), Voices: d.N(6), Sends: 1 + d.N(4), Keeps: d.N(5)}
}

// Change is another mesh like this one.
func (m Mesh) Change(d *Dice) Mesh {
	o := MeshOf(d)
	for range 1 + d.N(3) {
		switch d.N(9) {
		case 0:
			m.Kind = o.Kind
		case 1:
			m.Cameras, m.Outs = o.Cameras, o.Outs
		case 2:
			m.Width = o.Width
		case 3:
			m.Depth = o.Depth
		case 4:
			m.Leads, m.Cross = o.Leads, o.Cross
		case 5:
			m.Hubs = o.Hubs
		case 6:
			m.Voices = o.Voices
		case 7:
			m.Sends = o.Sends
		default:
			m.Keeps = o.Keeps
		}
	}
	return m
}

// Rig knits the mesh.
func (m Mesh) Rig() *rig.Rig {
	sticks := max(1, m.Width*min(m.Leads, 4))
	r := Clone(Feeds(max(m.Cameras, sticks)))
	r.Name = fmt.Sprintf("%+v", m)
	over := func(id, stem string, most int) bool { // the n-th of its kind, where there are to be fewer
		n, err := strconv.Atoi(strings.TrimPrefix(id, stem))
		return err == nil && strings.HasPrefix(id, stem) && n >= most
	}
	r.Items = slices.DeleteFunc(r.Items, func(it rig.Item) bool {
		return over(it.ID, "cam-", m.Cameras) || over(it.ID, "stick-", sticks)
	})
	r.Leads = slices.DeleteFunc(r.Leads, func(l rig.Lead) bool { return over(l.ID, "h", 0) || over(l.ID, "u", sticks) })
	lay := func(from, to string) {
		r.Leads = append(r.Leads, rig.Lead{ID: fmt.Sprintf("m%d", len(r.Leads)), From: from, To: to,
			Grade: "high-speed", LengthM: fact.Est(3, 2, 4)})
	}
	hdmi := func(id string, d gear.Direction) gear.Port {
		return gear.Port{ID: id, Connector: gear.HDMIA, Direction: d}
	}
	var above []string // free outputs
	for c := range m.Cameras {
		it := r.Item(fmt.Sprintf("cam-%d", c))
		above = append(above, it.ID+".hdmi")
		for o := 1; o < m.Outs; o++ {
			it.Gear.Ports = append(it.Gear.Ports, hdmi(fmt.Sprintf("more-%d", o), gear.Out))
			above = append(above, fmt.Sprintf("%s.more-%d", it.ID, o))
		}
	}
	for layer := range m.Depth {
		var next []string
		for w := range m.Width {
			it := rig.Item{ID: fmt.Sprintf("box-%d-%d", layer, w), Label: "Box", Gear: gear.Gear{Kind: m.Kind,
				Name: "Box"}}
			for k := range m.Leads {
				it.Gear.Ports = append(it.Gear.Ports, hdmi(fmt.Sprintf("in-%d", k), gear.In),
					hdmi(fmt.Sprintf("out-%d", k), gear.Out))
			}
			r.Items = append(r.Items, it)
		}
		taken := map[string]bool{}
		for k, from := range above {
			if len(above) > m.Width*m.Leads && k >= m.Width*m.Leads {
				break
			}
			to := fmt.Sprintf("box-%d-%d.in-%d", layer, (k+k/max(1, m.Leads)*m.Cross)%m.Width, k/m.Width%m.Leads)
			if !taken[to] {
				taken[to] = true
				lay(from, to)
			}
		}
		for w := range m.Width {
			for k := range m.Leads {
				next = append(next, fmt.Sprintf("box-%d-%d.out-%d", layer, w, k))
			}
		}
		above = next
	}
	for k, from := range above[:min(len(above), sticks)] {
		lay(from, fmt.Sprintf("stick-%d.in", k))
	}
	m.hubs(r)
	m.rest(r)
	return r
}

// hubs puts hubs one behind the other before the first socket of the computer.
func (m Mesh) hubs(r *rig.Rig) {
	to := "pc.p0"
	for h := range m.Hubs {
		id := fmt.Sprintf("hub-%d", h)
		it := rig.Item{ID: id, Label: "Hub", Gear: gear.Gear{Kind: gear.Hub, Name: "Hub",
			Ports: []gear.Port{{ID: "up", Connector: gear.USBB, Direction: gear.Upstream,
				USB: &gear.USBPort{Speed: usb.Gen1}}}}}
		for p := range 4 {
			it.Gear.Ports = append(it.Gear.Ports, gear.Port{ID: fmt.Sprintf("p%d", p), Connector: gear.USBA,
				Direction: gear.Downstream, USB: &gear.USBPort{Speed: usb.Gen1}})
		}
		r.Items = append(r.Items, it)
		if l := r.Lead("u0"); l != nil {
			l.To = id + ".p0"
		}
		r.Leads = append(r.Leads, rig.Lead{ID: id + "-up", From: id + ".up", To: to, Grade: "usb-5g",
			LengthM: fact.Exactly(1)})
		to = id + ".p0"
		if h < m.Hubs-1 {
			to = id + ".p1"
		}
	}
}

// rest adds what is sent, kept and heard.
func (m Mesh) rest(r *rig.Rig) {
	first := r.Show.Destinations[0]
	for i := 1; i < m.Sends; i++ {
		d := first
		d.Name = fmt.Sprintf("d%d", i)
		r.Show.Destinations = append(r.Show.Destinations, d)
	}
	for range m.Keeps {
		r.Show.Recordings = append(r.Show.Recordings, rig.Recording{What: "programme", Container: "mp4"})
	}
	if m.Voices == 0 {
		return
	}
	s := &rig.Sound{}
	for v := range m.Voices {
		id := fmt.Sprintf("mic-%d", v)
		r.Items = append(r.Items, rig.Item{ID: id, Label: "Microphone", Gear: gear.Gear{Kind: gear.Microphone,
			Name: "Microphone", Sound: &gear.SoundSheet{Microphone: "dynamic", Gives: "microphone"}}})
		s.Paths = append(s.Paths, rig.SoundPath{Voice: fmt.Sprintf("voice %d", v/2), From: id, On: "air"})
	}
	r.Sound = s
}
