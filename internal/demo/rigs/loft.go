// Package rigs holds the made-up world the application is shown with: Marlpit Puppet Loft, a weekly two-hour live
// class from an attic workshop. All people, makers and things in it are invented.
package rigs

import (
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/usb"
)

var (
	f2997 = picture.NewRate(30000, 1001)
	f5994 = picture.NewRate(60000, 1001)
)

func p(f fact.Fact) *fact.Fact { return &f }

func sheet(v float64) *fact.Fact { return p(fact.Known(v, fact.DataSheet)) }

func measured(v, low, high float64) *fact.Fact {
	return &fact.Fact{Value: v, Low: low, High: high, From: fact.Measured, At: "2026-08-20"}
}

func mode(w, h int, r picture.Rate) picture.Mode {
	return picture.Mode{Width: w, Height: h, Rate: r, Chroma: picture.YUV422, Bits: 8}
}

func plain(modes ...picture.Mode) []picture.Mode {
	out := make([]picture.Mode, len(modes))
	for i, m := range modes {
		m.Chroma, m.Bits = picture.NotSaid, 0
		out[i] = m
	}
	return out
}

var hd = []picture.Mode{mode(1920, 1080, f5994), mode(1920, 1080, picture.R(60)), mode(1920, 1080, picture.R(50)),
	mode(1920, 1080, f2997),
	mode(1920, 1080, picture.R(30)), mode(1920, 1080, picture.R(25)), mode(1280, 720, f5994)}

var cameraA = gear.Gear{Kind: gear.Camera, Name: "Loft camera A", Clean: gear.AfterSetting,
	Sound: &gear.SoundSheet{Microphone: "built-in", Processes: gear.No, AutoLevel: gear.No},
	Ports: []gear.Port{{ID: "hdmi", Connector: gear.HDMID, Direction: gear.Out,
		HDMI: &gear.HDMIPort{MaxTMDSMHz: sheet(hdmi.MHz14)},
		Modes: []picture.Mode{mode(3840, 2160, f2997), mode(3840, 2160, picture.R(25)), mode(1920, 1080, f5994),
			mode(1920, 1080, picture.R(50)), mode(1920, 1080, f2997), mode(1920, 1080, picture.R(25))}},
		{ID: "usb", Label: "USB", Connector: gear.USBC, Direction: gear.Upstream,
			USB: &gear.USBPort{Speed: usb.HighSpeed, Transfer: usb.Isochronous}}},
	Delivers: []gear.Delivery{{Format: picture.MJPEG, Width: 1280, Height: 720, MaxRate: picture.R(30)}},
	USBWay:   "webcam", Driver: "none",
	Settings:   []gear.Setting{{ID: "auto-power-off", As: "on"}},
	HeatLimits: []gear.HeatLimit{{Width: 3840, Height: 2160, Minutes: *measured(210, 200, 220)}},
	Power: &gear.Power{DrawW: p(fact.Est(6.5, 5, 8)), Mains: gear.MainsDummy,
		Battery: &gear.BatteryPack{MAh: fact.Known(1080, fact.DataSheet), Volts: fact.Known(7.2, fact.DataSheet)}}}

var cameraB = gear.Gear{Kind: gear.Camera, Name: "Loft camera B", Clean: gear.AlwaysClean,
	Ports: []gear.Port{{ID: "hdmi", Connector: gear.HDMIC, Direction: gear.Out,
		HDMI: &gear.HDMIPort{MaxTMDSMHz: sheet(hdmi.MHz14)},
		Modes: []picture.Mode{mode(1920, 1080, f5994), mode(1920, 1080, f2997), mode(1920, 1080, picture.R(25)),
			mode(1280, 720, f5994)}}},
	Standby: &gear.Standby{Does: "nothing"},
	Power: &gear.Power{DrawW: p(fact.Est(5, 4, 6.5)), Mains: gear.MainsYes,
		Battery: &gear.BatteryPack{MAh: fact.Known(2000, fact.DataSheet), Volts: fact.Known(7.2, fact.DataSheet)}}}

var plainStick = gear.Gear{Kind: gear.Capture, Name: "Plain stick",
	Ports: []gear.Port{
		{ID: "in", Connector: gear.HDMIA, Direction: gear.In, HDMI: &gear.HDMIPort{MaxTMDSMHz: sheet(hdmi.MHz12)},
			Modes: plain(hd...)},
		{ID: "usb", Connector: gear.USBA, Direction: gear.Upstream, USB: &gear.USBPort{Speed: usb.Gen1,
			Transfer: usb.Bulk}}},
	Delivers: []gear.Delivery{{Format: picture.YUY2, Width: 1920, Height: 1080, MaxRate: picture.R(60)},
		{Format: picture.NV12, Width: 1920, Height: 1080, MaxRate: picture.R(60)},
		{Format: picture.YUY2, Width: 1280, Height: 720, MaxRate: picture.R(60)}},
	Power: &gear.Power{DrawW: measured(2.8, 2.6, 3.1)}}

var wideStick = gear.Gear{Kind: gear.Capture, Name: "Four-K stick",
	Ports: []gear.Port{
		{ID: "in", Connector: gear.HDMIA, Direction: gear.In, HDMI: &gear.HDMIPort{MaxTMDSMHz: sheet(hdmi.MHz14)},
			Modes: plain(append([]picture.Mode{mode(3840, 2160, f2997), mode(3840, 2160, picture.R(25))}, hd...)...)},
		{ID: "usb", Connector: gear.USBA, Direction: gear.Upstream, USB: &gear.USBPort{Speed: usb.Gen1,
			Transfer: usb.Bulk}}},
	Delivers: []gear.Delivery{{Format: picture.NV12, Width: 1920, Height: 1080, MaxRate: picture.R(60)},
		{Format: picture.NV12, Width: 3840, Height: 2160, MaxRate: picture.R(30)}},
	Power: &gear.Power{DrawW: measured(3.9, 3.6, 4.2)}}

var tower = gear.Gear{Kind: gear.Computer, Name: "Tower", Class: gear.MidDesktop,
	Power: &gear.Power{DrawW: p(fact.Est(190, 120, 280))},
	Controllers: []gear.Controller{{ID: "front", UplinkMBps: p(fact.Known(3900, fact.Measured))},
		{ID: "back", UplinkMBps: p(fact.Known(3900, fact.Measured))}},
	Ports: []gear.Port{
		{ID: "front-left", Label: "front left", Connector: gear.USBA, Direction: gear.Downstream, Controller: "front",
			USB: &gear.USBPort{Speed: usb.Gen1}, AllowsMA: p(fact.Known(900, fact.Standard))},
		{ID: "front-right", Label: "front right", Connector: gear.USBA, Direction: gear.Downstream,
			Controller: "front", USB: &gear.USBPort{Speed: usb.Gen1}, AllowsMA: p(fact.Known(900, fact.Standard))},
		{ID: "front-c", Label: "front, Type-C", Connector: gear.USBC, Direction: gear.Downstream, Controller: "front",
			USB: &gear.USBPort{Speed: usb.Gen2}},
		{ID: "back-1", Label: "back 1", Connector: gear.USBA, Direction: gear.Downstream, Controller: "back",
			USB: &gear.USBPort{Speed: usb.Gen1}, AllowsMA: p(fact.Known(900, fact.Standard))},
		{ID: "back-2", Label: "back 2", Connector: gear.USBA, Direction: gear.Downstream, Controller: "back",
			USB: &gear.USBPort{Speed: usb.Gen1}, AllowsMA: p(fact.Known(900, fact.Standard))},
		{ID: "back-3", Label: "back 3", Connector: gear.USBA, Direction: gear.Downstream, Controller: "back",
			USB: &gear.USBPort{Speed: usb.HighSpeed}, AllowsMA: p(fact.Known(500, fact.Standard))},
		{ID: "picture-out", Label: "picture out", Connector: gear.HDMIA, Direction: gear.Out,
			HDMI: &gear.HDMIPort{MaxTMDSMHz: sheet(hdmi.MHz20)}}}}

func set(port string, m picture.Mode, info, runs string) *rig.Set {
	return &rig.Set{Output: map[string]picture.Mode{port: m}, InfoDisplay: info, RunsOn: runs}
}

func takes(f picture.Format, w, h int) *rig.Set {
	return &rig.Set{Deliver: map[string]rig.Deliver{"usb": {Format: f, Width: w, Height: h}}}
}

func straight() fact.Fact { return fact.Exactly(0) }

// Loft is the first rig of Marlpit Puppet Loft, as it stands on the first visit: two sticks share one hub, the face
// camera runs on a small battery, the bench lead is too long for 4K, the stage camera runs at 25 among 30s, nobody has
// looked at the mark on the slides lead, and Ida is heard by two microphones at once.
func Loft() *rig.Rig {
	yes := true
	return onShelf(&rig.Rig{Format: rig.Format, Name: "Marlpit Puppet Loft",
		Notes: "Weekly live class from the attic workshop.",
		Show: rig.Show{Programme: rig.Programme{Width: 1920, Height: 1080, Rate: f2997}, Motion: "talk", Minutes: 120,
			SetupMinutes: 60, RehearsalMinutes: 15,
			StartsAt: "19:00", MainsHz: 50, Angles: 5, AnglesSelectable: true, Budget: &gear.Money{Amount: 15000,
				Currency: "EUR"}, Program: rig.Program{Kind: "encoder"},
			Destinations: []rig.Destination{{Name: "Class channel", Transport: "rtmp",
				Send: rig.Send{Width: 1280, Height: 720, Rate: f2997, VideoKbps: p(fact.Exactly(4000))},
				Ingest: &rig.Ingest{MaxWidth: 1280, MaxHeight: 720, MaxRate: picture.R(30), MaxVideoKbps: 4000,
					MinVideoKbps: new(0.0), KeyframeSeconds: 2, VideoCodecs: []string{"h264"}, MaxAudioKbps: 160,
					CheckedOn: "2026-09-01"}}},
			Recordings: []rig.Recording{{What: "programme", Width: 1920, Height: 1080, Quality: 18, Container: "fmp4",
				Drive: "drive-1"}}},
		Uplink: &rig.Uplink{Whose: "own", LossPct: p(fact.Fact{Value: 0, Low: 0, High: 0.01, From: fact.Measured,
			At: "2026-09-22"}), RTTMs: p(fact.Fact{Value: 24, Low: 22, High: 28, From: fact.Measured,
			At: "2026-09-22"}), MeasuredMbps: []rig.UplinkReading{{Value: 6.4, At: "2026-09-01T19:00:00+02:00"},
			{Value: 7.1, At: "2026-09-08T19:00:00+02:00"}, {Value: 5.9, At: "2026-09-15T19:00:00+02:00"},
			{Value: 6.8, At: "2026-09-22T19:00:00+02:00"}}},
		Items: []rig.Item{
			{ID: "cam-bench", Label: "Bench camera", Gear: cameraA, Set: set("hdmi", mode(3840, 2160, f2997), "off",
				"mains"), Owned: &yes, Price: &gear.Money{Amount: 64000, Currency: "EUR"}},
			{ID: "cam-face", Label: "Face camera", Gear: cameraA, Set: set("hdmi", mode(1920, 1080, f5994), "off",
				"battery"), Owned: &yes, Price: &gear.Money{Amount: 64000, Currency: "EUR"}},
			{ID: "cam-stage", Label: "Stage camera", Gear: cameraB, Set: set("hdmi", mode(1920, 1080, picture.R(25)),
				"", "mains"), Owned: &yes, Price: &gear.Money{Amount: 38000, Currency: "EUR"}},
			{ID: "slides", Label: "Slides laptop", Role: "source", Gear: gear.Gear{Kind: gear.Computer,
				Name: "Old laptop", Class: gear.SmallLaptop, Clean: gear.AlwaysClean,
				Sound: &gear.SoundSheet{AutoLevel: gear.No},
				Ports: []gear.Port{{ID: "hdmi", Connector: gear.HDMIA, Direction: gear.Out,
					HDMI: &gear.HDMIPort{MaxTMDSMHz: sheet(hdmi.MHz14)}, Modes: plain(mode(1920, 1080, picture.R(60)),
						mode(1920, 1080, picture.R(30)), mode(1280, 720, picture.R(60)))}}},
				Set: set("hdmi", picture.Mode{Width: 1920, Height: 1080, Rate: picture.R(60)}, "", ""), Owned: &yes},
			{ID: "phone", Label: "Roving phone", Gear: gear.Gear{Kind: gear.Phone, Name: "Phone by cable",
				Clean: gear.AlwaysClean,
				Ports: []gear.Port{{ID: "usb", Connector: gear.USBC, Direction: gear.Upstream,
					USB: &gear.USBPort{Speed: usb.HighSpeed, Transfer: usb.Bulk}}},
				Delivers: []gear.Delivery{{Format: picture.H264, Width: 1920, Height: 1080, MaxRate: picture.R(30)}},
				Settings: []gear.Setting{{ID: "auto-power-off", As: "on"}, {ID: "notices", As: "on"}},
				Power: &gear.Power{DrawW: p(fact.Est(3, 2, 4)), Mains: gear.MainsYes,
					Battery: &gear.BatteryPack{MAh: fact.Known(4500, fact.DataSheet),
						Volts: fact.Known(3.85, fact.DataSheet)}}}, Owned: &yes},
			{ID: "stick-bench", Label: "Four-K stick", Gear: wideStick, Set: takes(picture.NV12, 1920, 1080),
				Owned: &yes, Price: &gear.Money{Amount: 12000, Currency: "EUR"}},
			{ID: "stick-face", Label: "Stick 1", Gear: plainStick, Set: takes(picture.YUY2, 1920, 1080), Owned: &yes,
				Price: &gear.Money{Amount: 4500, Currency: "EUR"}},
			{ID: "stick-stage", Label: "Stick 2", Gear: plainStick, Set: takes(picture.YUY2, 1920, 1080), Owned: &yes,
				Price: &gear.Money{Amount: 4500, Currency: "EUR"}},
			{ID: "stick-slides", Label: "Stick 3", Gear: plainStick, Set: takes(picture.YUY2, 1920, 1080), Owned: &yes,
				Price: &gear.Money{Amount: 4500, Currency: "EUR"}},
			{ID: "hub", Label: "Small hub", Gear: gear.Gear{Kind: gear.Hub, Name: "Four-port hub", Ports: []gear.Port{
				{ID: "up", Connector: gear.USBA, Direction: gear.Upstream, USB: &gear.USBPort{Speed: usb.Gen1}},
				{ID: "p1", Label: "hub 1", Connector: gear.USBA, Direction: gear.Downstream,
					USB: &gear.USBPort{Speed: usb.Gen1}},
				{ID: "p2", Label: "hub 2", Connector: gear.USBA, Direction: gear.Downstream,
					USB: &gear.USBPort{Speed: usb.Gen1}},
				{ID: "p3", Label: "hub 3", Connector: gear.USBA, Direction: gear.Downstream,
					USB: &gear.USBPort{Speed: usb.Gen1}},
				{ID: "p4", Label: "hub 4", Connector: gear.USBA, Direction: gear.Downstream,
					USB: &gear.USBPort{Speed: usb.Gen1}}},
				Power: &gear.Power{DrawW: p(fact.Est(0.8, 0.5, 1)), SelfPowered: "no"}}, Owned: &yes},
			{ID: "pc", Label: "Loft computer", Gear: tower, Owned: &yes},
			{ID: "lapel", Label: "Lapel microphone", Gear: gear.Gear{Kind: gear.Microphone, Name: "Lapel microphone",
				Sound: &gear.SoundSheet{Microphone: "lavalier", Needs: "battery", Gives: "microphone", Balanced: "no",
					KHz: new(0.0), Processes: gear.No, AutoLevel: gear.No},
				Power: &gear.Power{DrawW: p(fact.Est(0.35, 0.25, 0.45)),
					Battery: &gear.BatteryPack{MAh: fact.Known(2000, fact.DataSheet),
						Volts: fact.Known(2.4, fact.DataSheet), UsableShare: p(fact.Est(0.85, 0.8, 0.9))}}},
				Owned: &yes},
			{ID: "air-sound", Label: "Radio receiver", Gear: gear.Gear{Kind: gear.WirelessSound, Name: "Radio receiver",
				Sound: &gear.SoundSheet{Takes: "microphone", Socket: "air", Gives: "digital", KHz: new(48.0),
					Processes: gear.No, AutoLevel: gear.No, ListedAs: "Radio microphone"},
				Power: &gear.Power{USB: "runs"}}, Set: &rig.Set{RunsOn: "usb"}, PoweredBy: "pc", Owned: &yes},
			{ID: "drive-1", Label: "Inner drive", Gear: gear.Gear{Kind: gear.Drive, Name: "Solid state drive",
				FileSystem: "exfat", FreeGB: p(fact.Exactly(400)), WriteMBps: p(fact.Exactly(450))}, Owned: &yes},
		},
		Sound: &rig.Sound{Loudspeakers: "no", Monitor: "none", Paths: []rig.SoundPath{
			{Voice: "Ida", From: "lapel", Via: []string{"air-sound"}, On: "air", Loud: "raised",
				DistanceM: p(fact.Exactly(0.2)), NextM: p(fact.Exactly(1.5)), DelayMs: new(140.0),
				NoiseDB: p(fact.Exactly(48)), Middle: "yes", Hum: "no"},
			{Voice: "Ida", From: "cam-face", On: "air", DistanceM: p(fact.Exactly(0.9)), NextM: p(fact.Exactly(3)),
				NoiseDB: p(fact.Exactly(42)), Middle: "yes", Hum: "no"},
			{Voice: "Slides", From: "slides", On: "air", Middle: "yes", Hum: "no"}}},
		Leads: []rig.Lead{
			{ID: "bench-lead", From: "cam-bench.hdmi", To: "stick-bench.in", Grade: "high-speed",
				LengthM: fact.Exactly(12), SpanM: p(fact.Exactly(3))},
			{ID: "face-lead", From: "cam-face.hdmi", To: "stick-face.in", Grade: "high-speed",
				LengthM: fact.Exactly(3)},
			{ID: "stage-lead", From: "cam-stage.hdmi", To: "stick-stage.in", Grade: "high-speed",
				LengthM: fact.Exactly(5)},
			{ID: "slides-lead", From: "slides.hdmi", To: "stick-slides.in", Grade: "unknown", LengthM: fact.Exactly(2)},
			{ID: "bench-plug", From: "stick-bench.usb", To: "pc.front-left", Grade: "usb-5g", LengthM: straight()},
			{ID: "face-plug", From: "stick-face.usb", To: "hub.p1", Grade: "usb-5g", LengthM: straight()},
			{ID: "slides-plug", From: "stick-slides.usb", To: "hub.p2", Grade: "usb-5g", LengthM: straight()},
			{ID: "stage-plug", From: "stick-stage.usb", To: "pc.back-1", Grade: "usb-5g", LengthM: straight()},
			{ID: "hub-lead", From: "hub.up", To: "pc.front-right", Grade: "usb-5g", LengthM: fact.Exactly(0.5)},
			{ID: "phone-lead", From: "phone.usb", To: "pc.front-c", Grade: "usb-2", LengthM: fact.Exactly(1.5)},
		}})
}

// LoftEven is the same loft after its faults were mended.
func LoftEven() *rig.Rig {
	thin, three, stage := false, fact.Exactly(3), mode(1920, 1080, f2997)
	clap := fact.Fact{Value: 12, Low: 5, High: 20, From: fact.Measured, At: "2026-10-23"}
	even, err := rig.Apply(Loft(),
		rig.Edit{Do: "name", Name: "Marlpit Puppet Loft, even"},
		rig.Edit{Do: "plug", Lead: "slides-plug", End: "to", Socket: "pc.back-2"},
		rig.Edit{Do: "lead", Lead: "bench-lead", Grade: "premium", LengthM: &three, Thin: &thin},
		rig.Edit{Do: "mode", Item: "cam-stage", Port: "hdmi", Mode: &stage},
		rig.Edit{Do: "runs-on", Item: "cam-face", Word: "mains"},
		rig.Edit{Do: "runs-on", Item: "phone", Word: "mains"},
		rig.Edit{Do: "word", Path: "leads/slides-lead/grade", Word: "high-speed"},
		rig.Edit{Do: "word", Path: "sound/paths/1/on", Word: "muted"},
		rig.Edit{Do: "fact", Path: "sound/paths/0/offsetMs", Fact: &clap})
	if err != nil {
		panic(err) // the demo's own edits fit the demo's own rig; a test runs them
	}
	return even
}
