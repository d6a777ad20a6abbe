package rig

import (
	"encoding/json"
	"fmt"
	"os"
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/picture"
	"eventether/core/usb"
	"eventether/core/work"
)

// small is one camera on one stick in one computer, with a hub lying by.
func small() *Rig {
	rate := picture.NewRate(30000, 1001)
	hdmi := picture.Mode{Width: 1920, Height: 1080, Rate: rate}
	usbPort := func(id string, c gear.Connector, d gear.Direction) gear.Port {
		return gear.Port{ID: id, Connector: c, Direction: d, USB: &gear.USBPort{Speed: usb.Gen1}}
	}
	return &Rig{Format: Format, Name: "Small",
		Show: Show{Programme: Programme{Width: 1920, Height: 1080, Rate: rate}, Minutes: 60,
			Program:      Program{Kind: "encoder"},
			Destinations: []Destination{{Name: "Class", Send: Send{Width: 1280, Height: 720, Rate: rate}}}},
		Items: []Item{
			{ID: "cam", Label: "Camera", Gear: gear.Gear{Kind: gear.Camera, Name: "Camera",
				Ports: []gear.Port{{ID: "hdmi", Connector: gear.HDMIA, Direction: gear.Out,
					Modes: []picture.Mode{hdmi}}}}},
			{ID: "stick", Label: "Stick", Gear: gear.Gear{Kind: gear.Capture, Name: "Stick",
				Ports: []gear.Port{{ID: "in", Connector: gear.HDMIA, Direction: gear.In},
					usbPort("usb", gear.USBA, gear.Upstream)}}},
			{ID: "hub", Label: "Hub", Gear: gear.Gear{Kind: gear.Hub, Name: "Hub",
				Ports: []gear.Port{usbPort("up", gear.USBA, gear.Upstream), usbPort("a", gear.USBA, gear.Downstream),
					usbPort("b", gear.USBA, gear.Downstream)}}},
			{ID: "pc", Label: "Computer", Gear: gear.Gear{Kind: gear.Computer, Name: "Computer",
				Ports: []gear.Port{usbPort("left", gear.USBA, gear.Downstream),
					usbPort("right", gear.USBA, gear.Downstream)}}},
		},
		Leads: []Lead{
			{ID: "l1", From: "cam.hdmi", To: "stick.in", Grade: "high-speed", LengthM: fact.Exactly(3)},
			{ID: "l2", From: "stick.usb", To: "pc.left", Grade: "usb-5g", LengthM: fact.Exactly(0)},
		}}
}

func TestCheckNamesEveryProblemByPlace(t *testing.T) {
	require.Empty(t, Check(small()))
	for _, c := range []struct {
		name  string
		spoil func(*Rig)
		want  []string
	}{
		{"a lead to nowhere", func(r *Rig) { r.Leads[0].To = "stik.in" },
			[]string{`leads[0] "l1".to: "stik.in": there is no item "stik" in this rig`}},
		{"a port that does not exist", func(r *Rig) { r.Leads[0].To = "stick.out" },
			[]string{`leads[0] "l1".to: "stick.out": "stick" has no port "out"; it has in, usb`}},
		{"two plugs in one socket", func(r *Rig) {
			r.Leads = append(r.Leads, Lead{ID: "l3", From: "hub.up", To: "pc.left", Grade: "usb-5g"})
		}, []string{`leads[2] "l3".to: "pc.left" already has lead "l2" in it: one socket takes one plug`}},
		{"a hub plugged into itself", func(r *Rig) {
			r.Leads = append(r.Leads, Lead{ID: "l3", From: "hub.up", To: "hub.a", Grade: "usb-5g"})
		}, []string{"leads: the leads make a loop: hub → hub"}},
		{"no computer", func(r *Rig) { r.Items[3].Gear.Kind = gear.Hub },
			[]string{"items: no computer takes the pictures: want one item of kind computer (its role is host unless it says source)"}},
		{"two computers", func(r *Rig) {
			pc := r.Items[3]
			pc.ID = "pc-2"
			r.Items = append(r.Items, pc)
		}, []string{"items: 2 computers take pictures: want one; give the others the role source"}},
		{"no feed", func(r *Rig) { r.Items[0].Gear.Kind = gear.Monitor },
			[]string{"items: no feed: want at least one camera, phone, webcam, console, player or computer with the role source"}},
		{"an id twice", func(r *Rig) { r.Items[2].ID = "pc" },
			[]string{`items[3] "pc".id: is the id of items[2] too: ids must differ`}},
		{"a lead id twice", func(r *Rig) { r.Leads[1].ID = "l1" },
			[]string{`leads[1] "l1".id: is the id of leads[0] too: ids must differ`}},
		{"HDMI into USB", func(r *Rig) { r.Leads[0].To = "pc.right" },
			[]string{`leads[0] "l1": joins hdmi to usb: no lead does; a converter stands between them`}},
		{"a grade of another family", func(r *Rig) { r.Leads[0].Grade = "usb-5g" },
			[]string{`leads[0] "l1".grade: "usb-5g" is not a grade of hdmi leads: want one of standard, high-speed, premium, ultra, active, optical, unknown`}},
		{"an absurd length", func(r *Rig) { r.Leads[0].LengthM = fact.Exactly(3000) },
			[]string{`leads[0] "l1".lengthM: 3000 is outside 0 to 2000 (metres)`}},
		{"a negative length", func(r *Rig) { r.Leads[0].LengthM = fact.Exactly(-1) },
			[]string{`leads[0] "l1".lengthM: -1 is outside 0 to 2000 (metres)`}},
		{"milliwatts for watts", func(r *Rig) {
			w := fact.Exactly(6500)
			r.Items[0].Gear.Power = &gear.Power{DrawW: &w}
		}, []string{`items[0] "cam".gear.power.drawW: 6500 is outside 0 to 5000 (watts)`}},
		{"a setting on a port that is not there", func(r *Rig) {
			r.Items[0].Set = &Set{Output: map[string]picture.Mode{"sdi": {Width: 1920, Height: 1080,
				Rate: picture.R(30)}}}
		}, []string{`items[0] "cam".set.output.sdi: the item has no port "sdi"; it has hdmi`}},
		{"a drive that is a camera", func(r *Rig) {
			r.Show.Recordings = []Recording{{What: "programme", Drive: "cam"}}
		},
			[]string{`show.recordings[0].drive: "cam" is a camera: want a drive, a recorder or a computer`}},
		{"a drive that is not there", func(r *Rig) {
			r.Show.Recordings = []Recording{{What: "programme", Drive: "d"}}
		}, []string{`show.recordings[0].drive: "d" is not an item of this rig`}},
		{"no rate", func(r *Rig) { r.Show.Programme.Rate = picture.Rate{} },
			[]string{`show.programme.rate: is missing: want an exact fraction such as "30000/1001"`}},
		{"a control character", func(r *Rig) { r.Name = "a\x01b" },
			[]string{"name: holds the control character U+0001: plain text only"}},
		{"a controller nobody has", func(r *Rig) { r.Items[3].Gear.Ports[0].Controller = "x" },
			[]string{`items[3] "pc".gear.ports[0] "left".controller: "x" is not a controller of this item`}},
		{"several at once", func(r *Rig) { r.Leads[0].To, r.Leads[1].From = "a.b", "c.d" },
			[]string{`leads[0] "l1".to: "a.b": there is no item "a" in this rig`,
				`leads[1] "l2".from: "c.d": there is no item "c" in this rig`}},
	} {
		t.Run(c.name, func(t *testing.T) {
			r := small()
			c.spoil(r)
			var got []string
			for _, p := range Check(r) {
				got = append(got, p.String())
			}
			require.Equal(t, c.want, got)
		})
	}
}

// ways writes a trace as text: item.port > lead > item …
func ways(r *Rig) (out []string) {
	for _, f := range NewWiring(r).Trace() {
		s := ""
		for _, h := range f.Hops {
			if h.LeadIn >= 0 {
				s += " -" + r.Leads[h.LeadIn].ID + "- "
			}
			s += r.Items[h.Item].ID
		}
		if !f.Arrives {
			s += " |"
		}
		out = append(out, s)
	}
	return out
}

func TestTrace(t *testing.T) {
	edit := func(edits ...Edit) *Rig {
		r, err := Apply(small(), edits...)
		require.NoError(t, err)
		return r
	}
	toHub := []Edit{{Do: "plug", Lead: "l2", End: "to", Socket: "hub.a"},
		{Do: "lay", NewLead: &Lead{ID: "l3", From: "hub.up", To: "pc.left", Grade: "usb-5g"}}}
	splitter := Item{ID: "split", Label: "Splitter", Gear: gear.Gear{Kind: gear.Splitter, Name: "Splitter",
		Ports: []gear.Port{
			{ID: "in", Connector: gear.HDMIA, Direction: gear.In}, {ID: "o1", Connector: gear.HDMIA,
				Direction: gear.Out},
			{ID: "o2", Connector: gear.HDMIA, Direction: gear.Out}}}}
	monitor := Item{ID: "mon", Label: "Monitor", Gear: gear.Gear{Kind: gear.Monitor, Name: "Monitor",
		Ports: []gear.Port{{ID: "in", Connector: gear.HDMIA, Direction: gear.In}}}}
	for _, c := range []struct {
		name string
		r    *Rig
		want []string
	}{
		{"straight", small(), []string{"cam -l1- stick -l2- pc"}},
		{"through a hub", edit(toHub...), []string{"cam -l1- stick -l2- hub -l3- pc"}},
		{"no lead at the camera", edit(Edit{Do: "unplug", Lead: "l1"}), []string{"cam |"}},
		{"no lead at the stick", edit(Edit{Do: "unplug", Lead: "l2"}), []string{"cam -l1- stick |"}},
		{"into a hub that leads nowhere", edit(toHub[0]), []string{"cam -l1- stick -l2- hub |"}},
		{"split: the way that arrives, and the branch", edit(Edit{Do: "add", NewItem: &splitter},
			Edit{Do: "add", NewItem: &monitor},
			Edit{Do: "plug", Lead: "l1", End: "to", Socket: "split.in"},
			Edit{Do: "lay", NewLead: &Lead{ID: "m", From: "split.o1", To: "mon.in", Grade: "high-speed"}},
			Edit{Do: "lay", NewLead: &Lead{ID: "s", From: "split.o2", To: "stick.in", Grade: "high-speed"}}),
			[]string{"cam -l1- split -s- stick -l2- pc", "cam -l1- split -m- mon |"}},
	} {
		t.Run(c.name, func(t *testing.T) { require.Equal(t, c.want, ways(c.r)) })
	}
}

func TestTraceTurnedLead(t *testing.T) {
	r := small()
	r.Leads[0].From, r.Leads[0].To = r.Leads[0].To, r.Leads[0].From
	require.Equal(t, []string{"cam -l1- stick -l2- pc"}, ways(r), "which end is which does not matter to electricity")
}

// Whoever plugs both ends of a lead the other way round has turned it: it is called from the end that sends, in one
// change or in two, and one with a source end now lies the other way round.
func TestPluggedTheOtherWayRound(t *testing.T) {
	r := small()
	r.Leads[0].Grade, r.Leads[0].Direction = "optical", "right"
	from, to := r.Leads[0].From, r.Leads[0].To
	turn := []Edit{{Do: "plug", Lead: "l1", End: "from", Socket: to}, {Do: "plug", Lead: "l1", End: "to", Socket: from}}
	want := func(r *Rig, direction string) {
		t.Helper()
		require.Equal(t, from, r.Leads[0].From)
		require.Equal(t, to, r.Leads[0].To)
		require.Equal(t, direction, r.Leads[0].Direction)
	}
	once, err := Apply(r, turn...)
	require.NoError(t, err)
	want(once, "wrong")
	want(r, "right")
	twice, err := Apply(once, turn...)
	require.NoError(t, err)
	want(twice, "right")
	half, err := Apply(r, turn[0])
	require.NoError(t, err)
	require.Equal(t, half.Leads[0].From, half.Leads[0].To,
		"one plug after the other: both are in the same socket for a moment")
	whole, err := Apply(half, turn[1])
	require.NoError(t, err)
	want(whole, "wrong")
	d := NewDraft(r)
	drafted, err := d.Apply(turn)
	require.NoError(t, err)
	want(drafted, "wrong")
	d.Undo(nil, []int{0})
	want(drafted, "right")
	laid, err := Apply(r, Edit{Do: "unplug", Lead: "l1"},
		Edit{Do: "lay", NewLead: &Lead{ID: "l3", From: to, To: from, Grade: "optical", Direction: "right"}})
	require.NoError(t, err)
	l := laid.Lead("l3")
	require.Equal(t, []string{from, to, "right"}, []string{l.From, l.To, l.Direction},
		"a new lead is as it is said, whichever end is named first")
}

func TestTraceManyPorts(t *testing.T) {
	r := small()
	for i := range 60 {
		r.Items[3].Gear.Ports = append(r.Items[3].Gear.Ports, gear.Port{ID: fmt.Sprintf("p%d", i),
			Connector: gear.USBA, Direction: gear.Downstream})
	}
	r.Leads[1].To = "pc.p59"
	require.Empty(t, Check(r))
	require.Equal(t, []string{"cam -l1- stick -l2- pc"}, ways(r))
	require.True(t, NewWiring(r).Taken("pc.p59"))
	require.False(t, NewWiring(r).Taken("pc.p58"))
	require.False(t, NewWiring(r).Taken("pc.p99"))
}

func TestApply(t *testing.T) {
	hd := picture.Mode{Width: 1280, Height: 720, Rate: picture.R(60)}
	yes, no := true, false
	ten := fact.Exactly(10)
	for _, c := range []struct {
		name string
		edit Edit
		look func(r *Rig) any
		want any
	}{
		{"plug", Edit{Do: "plug", Lead: "l2", End: "to", Socket: "pc.right"}, func(r *Rig) any {
			return r.Leads[1].To
		}, "pc.right"},
		{"mode", Edit{Do: "mode", Item: "cam", Port: "hdmi", Mode: &hd}, func(r *Rig) any {
			return r.Items[0].Set.Output["hdmi"]
		}, hd},
		{"deliver", Edit{Do: "deliver", Item: "stick", Port: "usb", Deliver: &Deliver{Format: picture.NV12}},
			func(r *Rig) any { return r.Items[1].Set.Deliver["usb"].Format }, picture.NV12},
		{"lead", Edit{Do: "lead", Lead: "l1", Grade: "premium", LengthM: &ten, Thin: &no}, func(r *Rig) any {
			return fmt.Sprintf("%s %v %v", r.Leads[0].Grade, r.Leads[0].LengthM.Value, *r.Leads[0].Thin)
		}, "premium 10 false"},
		{"info display", Edit{Do: "info-display", Item: "cam", Word: "off"}, func(r *Rig) any {
			return r.Items[0].Set.InfoDisplay
		}, "off"},
		{"runs on", Edit{Do: "runs-on", Item: "cam", Word: "mains"}, func(r *Rig) any { return r.Items[0].Set.RunsOn },
			"mains"},
		{"a number by path", Edit{Do: "fact", Path: "leads/l1/lengthM", Fact: &ten}, func(r *Rig) any {
			return r.Leads[0].LengthM.Value
		}, 10.0},
		{"a draw by path", Edit{Do: "fact", Path: "items/cam/power/drawW", Fact: &ten}, func(r *Rig) any {
			return r.Items[0].Gear.Power.DrawW.Value
		}, 10.0},
		{"a socket by path", Edit{Do: "fact", Path: "items/cam/ports/hdmi/hdmi/maxTmdsMHz", Fact: &ten},
			func(r *Rig) any { return r.Items[0].Gear.Ports[0].HDMI.MaxTMDSMHz.Value }, 10.0},
		{"the uplink by path", Edit{Do: "fact", Path: "uplink/estimateMbps", Fact: &ten}, func(r *Rig) any {
			return r.Uplink.EstimateMbps.Value
		}, 10.0},
		{"a bitrate by path", Edit{Do: "fact", Path: "show/destinations/0/videoKbps", Fact: &ten}, func(r *Rig) any {
			return r.Show.Destinations[0].Send.VideoKbps.Value
		}, 10.0},
		{"a word by path", Edit{Do: "word", Path: "items/cam/clean", Word: "never"}, func(r *Rig) any {
			return r.Items[0].Gear.Clean
		}, gear.NeverClean},
		{"a speed by path", Edit{Do: "word", Path: "items/pc/ports/left/usb/speed", Word: "480M"}, func(r *Rig) any {
			return r.Items[3].Gear.Ports[0].USB.Speed
		}, usb.HighSpeed},
		{"a transfer by path", Edit{Do: "word", Path: "items/stick/ports/usb/usb/transfer", Word: "bulk"},
			func(r *Rig) any { return r.Items[1].Gear.Ports[1].USB.Transfer }, usb.Bulk},
		{"a grade by path", Edit{Do: "word", Path: "leads/l1/grade", Word: "ultra"}, func(r *Rig) any {
			return r.Leads[0].Grade
		}, "ultra"},
		{"takes", Edit{Do: "takes", Item: "stick", Port: "in", Mode: &hd, Yes: &yes}, func(r *Rig) any {
			return r.Items[1].Gear.Ports[0].Modes
		}, []picture.Mode{hd}},
		{"refuses", Edit{Do: "takes", Item: "stick", Port: "in", Mode: &hd, Yes: &no}, func(r *Rig) any {
			return r.Items[1].Gear.Ports[0].Refuses
		}, []picture.Mode{hd}},
		{"tried", Edit{Do: "tried", Lead: "l1", MHz: 297, Yes: &yes}, func(r *Rig) any {
			return r.Leads[0].Tried.Holds
		}, true},
		{"send", Edit{Do: "send", Name: "Class", Send: &Send{Width: 640}}, func(r *Rig) any {
			return r.Show.Destinations[0].Send.Width
		}, 640},
		{"remove takes the leads along", Edit{Do: "remove", Item: "stick"}, func(r *Rig) any {
			return fmt.Sprint(len(r.Items), len(r.Leads))
		}, "3 0"},
		{"unplug", Edit{Do: "unplug", Lead: "l1"}, func(r *Rig) any { return len(r.Leads) }, 1},
		{"label", Edit{Do: "label", Item: "cam", Name: "Face"}, func(r *Rig) any { return r.Items[0].Label }, "Face"},
		{"name", Edit{Do: "name", Name: "Other"}, func(r *Rig) any { return r.Name }, "Other"},
		{"show", Edit{Do: "show", Show: &Show{Minutes: 5}}, func(r *Rig) any { return r.Show.Minutes }, 5.0},
		{"swap", Edit{Do: "swap", Item: "stick", Gear: &gear.StrongerCapture[1].Gear}, func(r *Rig) any {
			return r.Items[1].Gear.Name + " " + r.Leads[0].To + " " + r.Leads[1].From
		}, "4K stick stick.in stick.usb"},
	} {
		t.Run(c.name, func(t *testing.T) {
			r := small()
			before, err := json.Marshal(r)
			require.NoError(t, err)
			after, err := Apply(r, c.edit)
			require.NoError(t, err)
			require.Equal(t, c.want, c.look(after))
			still, err := json.Marshal(r)
			require.NoError(t, err)
			require.JSONEq(t, string(before), string(still), "the rig given is never changed")
		})
	}
}

func TestApplyRefuses(t *testing.T) {
	ten := fact.Exactly(10)
	bad := fact.Fact{Value: 1, Low: 2, High: 3, From: fact.Given}
	for _, c := range []struct {
		edit Edit
		says string
	}{
		{Edit{Do: "dance"}, `"dance" is not an edit`},
		{Edit{Do: "plug", Lead: "x", End: "to", Socket: "pc.left"}, `lead "x": not in this rig`},
		{Edit{Do: "plug", Lead: "l1", End: "to", Socket: "pc.none"}, `socket "pc.none": not in this rig`},
		{Edit{Do: "plug", Lead: "l1", End: "side", Socket: "pc.left"}, `end "side": want from or to`},
		{Edit{Do: "mode", Item: "x", Port: "hdmi", Mode: &picture.Mode{}}, `item "x": not in this rig`},
		{Edit{Do: "mode", Item: "cam", Port: "sdi", Mode: &picture.Mode{}}, `port "sdi": "cam" has hdmi`},
		{Edit{Do: "mode", Item: "cam", Port: "hdmi"}, "mode is missing"},
		{Edit{Do: "info-display", Item: "cam", Word: "dim"}, `"dim": want on or off`},
		{Edit{Do: "runs-on", Item: "cam", Word: "steam"}, `"steam": want battery, mains, usb or grip`},
		{Edit{Do: "fact", Path: "leads/l1/colour", Fact: &ten}, `path "leads/l1/colour": names no fact of a rig`},
		{Edit{Do: "fact", Path: "items/pc/power/battery/mAh", Fact: &ten}, "has no battery of its own"},
		{Edit{Do: "fact", Path: "show/destinations/7/videoKbps", Fact: &ten}, "no such destination"},
		{Edit{Do: "fact", Path: "leads/l1/lengthM"}, "fact is missing"},
		{Edit{Do: "fact", Path: "leads/l1/lengthM", Fact: &bad}, "bounds must enclose"},
		{Edit{Do: "word", Path: "items/cam/clean", Word: "shiny"}, `"shiny" is not one of`},
		{Edit{Do: "word", Path: "items/cam/ports/none/usb/speed", Word: "5G"}, `has no port "none"; it has hdmi`},
		{Edit{Do: "tried", Lead: "l1"}, "mhz, yes is missing"},
		{Edit{Do: "takes", Item: "cam", Port: "hdmi"}, "mode, yes is missing"},
		{Edit{Do: "send", Name: "Nobody", Send: &Send{}}, `destination "Nobody"`},
		{Edit{Do: "remove", Item: "x"}, `item "x"`},
		{Edit{Do: "label", Item: "cam"}, "name is missing"},
		{Edit{Do: "swap", Item: "stick", Gear: &gear.Gear{Name: "Brick"}},
			`Brick has no free hdmi port (in) for the lead now in "stick.in"`},
		{Edit{Do: "add"}, "newItem is missing"}, {Edit{Do: "lay"}, "newLead is missing"},
		{Edit{Do: "name"}, "name is missing"}, {Edit{Do: "show"}, "show is missing"},
	} {
		t.Run(string(c.edit.Do)+" "+c.says, func(t *testing.T) {
			_, err := Apply(small(), c.edit)
			require.ErrorContains(t, err, c.says)
		})
	}
}

// Every fact that is listed can be set by its path, and then reads back.
func TestFactsByPath(t *testing.T) {
	r, err := New(Start{Sources: []StartSource{{"camera", 2}, {"webcam", 1}}, Out: StartOut{1080, 30, 60},
		Computer: "desktop"})
	require.NoError(t, err)
	facts := r.Facts()
	require.Greater(t, len(facts), 15)
	for _, f := range facts {
		v := fact.Known((f.Fact.Low+f.Fact.High)/2, fact.Measured)
		after, err := Apply(r, Edit{Do: "fact", Path: f.Path, Fact: &v})
		require.NoError(t, err, f.Path)
		got, err := after.FactAt(f.Path)
		require.NoError(t, err)
		require.Equal(t, v, got, f.Path)
	}
	_, err = r.FactAt("leads/none/lengthM")
	require.ErrorContains(t, err, "no such fact")
}

// Whatever the three answers are, the rig that comes out is sound and every source reaches the computer.
func TestNewIsSound(t *testing.T) {
	kinds := []string{"camera", "webcam", "phone", "slides", "console"}
	rapid.Check(t, func(t *rapid.T) {
		s := Start{Computer: rapid.SampledFrom([]string{"laptop", "desktop"}).Draw(t, "computer"),
			Out: StartOut{Height: rapid.SampledFrom([]int{720, 1080, 2160}).Draw(t, "lines"),
				Fps: rapid.SampledFrom([]int{24, 25, 30, 50, 60}).Draw(t, "fps"), Minutes: 60}}
		want := 0
		for _, k := range kinds {
			limit := 4
			if k == "phone" {
				limit = 1 // a computer here has one Type-C socket at least
			}
			n := rapid.IntRange(0, limit).Draw(t, k)
			want += n
			s.Sources = append(s.Sources, StartSource{k, n})
		}
		r, err := New(s)
		if want == 0 {
			require.ErrorContains(t, err, "at least one")
			return
		}
		require.NoError(t, err)
		feeds := NewWiring(r).Trace()
		require.Len(t, feeds, want)
		for _, f := range feeds {
			require.True(t, f.Arrives, "%s", r.Items[f.Source].ID)
		}
	})
}

func TestNewRefuses(t *testing.T) {
	good := Start{Sources: []StartSource{{"camera", 1}}, Out: StartOut{1080, 30, 60}, Computer: "laptop"}
	for _, c := range []struct {
		spoil func(*Start)
		says  string
	}{
		{func(s *Start) { s.Out.Fps = 29 }, "is not offered"},
		{func(s *Start) { s.Computer = "abacus" }, `computer "abacus"`},
		{func(s *Start) { s.Sources = []StartSource{{"kite", 1}} }, `kind "kite"`},
		{func(s *Start) { s.Sources = nil }, "at least one"},
	} {
		s := good
		c.spoil(&s)
		_, err := New(s)
		require.ErrorContains(t, err, c.says)
	}
}

func TestOwnTimesOfWork(t *testing.T) {
	r := small()
	with, err := Apply(r, Edit{Do: "times", Times: work.Times{"mount": 4, "plug": 0.5}},
		Edit{Do: "times", Times: work.Times{"plug": 0}})
	require.NoError(t, err)
	require.Equal(t, work.Times{"mount": 4}, with.WorkMinutes)
	require.Nil(t, r.WorkMinutes, "the given rig stays as it was")
	require.Empty(t, Check(with))
	for kind, minutes := range map[string]float64{"coffee": 3, "mount": -1, "plug": 1e9} {
		bad, err := Apply(r, Edit{Do: "times", Times: work.Times{kind: minutes}})
		require.NoError(t, err)
		require.Len(t, Check(bad), 1)
		require.Contains(t, Check(bad)[0].Text, kind)
	}
}

// What a very slow computer was measured to do can be taken: less than a megapixel a second is a figure too.
func TestASlowComputerIsTaken(t *testing.T) {
	slow := fact.Fact{Value: 0.9, Low: 0.4, High: 0.9, From: fact.Measured, At: "2026-11-30"}
	after, err := Apply(small(), Edit{Do: "computes", Item: "pc", Computes: &gear.Computes{SlowMpxS: &slow,
		EncodeMpxS: &slow, ScaleMpxS: &slow}})
	require.NoError(t, err)
	require.Empty(t, Check(after))
	none := fact.Fact{Value: 0, From: fact.Measured, At: "2026-11-30"}
	bad, err := Apply(small(), Edit{Do: "computes", Item: "pc", Computes: &gear.Computes{SlowMpxS: &none}})
	require.NoError(t, err)
	require.NotEmpty(t, Check(bad), "nothing a second is no figure")
}

// Measurements of the line are changed and taken away as one list; one that cannot be is named.
func TestReadingsAreReplaced(t *testing.T) {
	r := small()
	r.Uplink = &Uplink{MeasuredMbps: []UplinkReading{{Value: 5}, {Value: 99}}}
	after, err := Apply(r, Edit{Do: "readings", Readings: []UplinkReading{{Value: 5.5, By: "air"}}})
	require.NoError(t, err)
	require.Equal(t, []UplinkReading{{Value: 5.5, By: "air"}}, after.Uplink.MeasuredMbps)
	require.Len(t, r.Uplink.MeasuredMbps, 2, "the given rig stays as it was")
	none, err := Apply(after, Edit{Do: "readings"})
	require.NoError(t, err)
	require.Nil(t, none.Uplink.MeasuredMbps)
	for says, bad := range map[string]UplinkReading{"measurement 1: -1 Mb/s": {Value: -1},
		"measurement 1: 1e+06 Mb/s": {Value: 1e6}, `"pigeon"`: {Value: 1, By: "pigeon"}} {
		_, err := Apply(r, Edit{Do: "readings", Readings: []UplinkReading{bad}})
		require.ErrorContains(t, err, says)
	}
}

// docs/edits.md is what the table makes.
func TestVerbsAreDocumented(t *testing.T) {
	have, err := os.ReadFile("../../docs/edits.md")
	require.NoError(t, err)
	require.True(t, VerbsMarkdown() == string(have),
		"docs/edits.md is not what the table of verbs makes: run make generate")
}

// Every verb is told whole: its fields are fields of an edit, its example is one, and without any field it needs it
// refuses.
func TestVerbs(t *testing.T) {
	fields := map[string]bool{}
	for of := range reflect.TypeFor[Edit]().Fields() {
		name, _, _ := strings.Cut(of.Tag.Get("json"), ",")
		fields[name] = true
	}
	delete(fields, "do")
	for name := range fields {
		require.NotEmpty(t, EditField(name), name)
	}
	seen := map[VerbName]bool{}
	for i := range Verbs {
		v := &Verbs[i]
		require.False(t, seen[v.Do], v.Do)
		seen[v.Do] = true
		require.NotEmpty(t, v.Says, v.Do)
		for _, name := range slices.Concat(v.Needs, v.May) {
			require.True(t, fields[name], "%s reads %s", v.Do, name)
		}
		var e Edit
		strict := json.NewDecoder(strings.NewReader(v.Example))
		strict.DisallowUnknownFields()
		require.NoError(t, strict.Decode(&e), v.Do)
		require.Equal(t, v.Do, e.Do)
		require.Empty(t, v.lacks(&e), v.Do)
		for _, need := range v.Needs {
			var less map[string]any
			require.NoError(t, json.Unmarshal([]byte(v.Example), &less))
			delete(less, need)
			text, err := json.Marshal(less)
			require.NoError(t, err)
			var without Edit
			require.NoError(t, json.Unmarshal(text, &without))
			_, err = Apply(small(), without)
			require.ErrorContains(t, err, need, "%s without %s", v.Do, need)
		}
	}
}
