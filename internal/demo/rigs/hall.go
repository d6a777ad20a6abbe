package rigs

import (
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/sdi"
	"eventether/core/usb"
)

func sdiSocket(id string, d gear.Direction, link sdi.Link, level sdi.Level, modes ...picture.Mode) gear.Port {
	return gear.Port{ID: id, Connector: gear.BNC, Direction: d, SDI: &gear.SDIPort{Link: link, Level: level},
		Modes: plain(modes...)}
}

func scaled(label string, port gear.Port) gear.Port {
	port.Label, port.Scaler = label, true
	return port
}

var p50, p25, i25 = mode(1920, 1080, picture.R(50)), mode(1920, 1080, picture.R(25)),
	picture.Mode{Width: 1920, Height: 1080, Rate: picture.R(25), Interlaced: true}

var hallCamera = gear.Gear{Kind: gear.Camera, Name: "Hall camera", Clean: gear.AlwaysClean,
	Ports:   []gear.Port{sdiSocket("sdi", gear.Out, sdi.ThreeG, sdi.LevelA, p50, p25, i25)},
	Standby: &gear.Standby{Does: "nothing"},
	Power: &gear.Power{DrawW: p(fact.Est(14, 10, 18)), Mains: gear.MainsYes,
		Battery: &gear.BatteryPack{MAh: fact.Known(6600, fact.DataSheet), Volts: fact.Known(14.4, fact.DataSheet)}}}

var sideCamcorder = gear.Gear{Kind: gear.Camera, Name: "Side camcorder", Clean: gear.AfterSetting,
	Ports: []gear.Port{{ID: "hdmi", Connector: gear.HDMIC, Direction: gear.Out,
		HDMI: &gear.HDMIPort{MaxTMDSMHz: sheet(hdmi.MHz14)}, Modes: []picture.Mode{i25, p50, p25}}},
	Settings: []gear.Setting{{ID: "auto-power-off", As: "on"}, {ID: "output-size", As: "fixed"}},
	Power: &gear.Power{DrawW: p(fact.Est(4, 3, 5)), Mains: gear.MainsYes,
		Battery: &gear.BatteryPack{MAh: fact.Known(1600, fact.DataSheet), Volts: fact.Known(7.4, fact.DataSheet)}}}

var hallSwitcher = gear.Gear{Kind: gear.Switcher, Name: "Four-input SDI switcher", Overview: "yes",
	Ports: []gear.Port{
		scaled("input 1", sdiSocket("in-1", gear.In, sdi.ThreeG, sdi.LevelA, p50, p25)),
		scaled("input 2", sdiSocket("in-2", gear.In, sdi.ThreeG, sdi.LevelA, p50, p25)),
		scaled("input 3", sdiSocket("in-3", gear.In, sdi.ThreeG, sdi.LevelA, p50, p25, i25)),
		scaled("input 4", sdiSocket("in-4", gear.In, sdi.ThreeG, sdi.LevelA, p50, p25)),
		sdiSocket("out", gear.Out, sdi.ThreeG, sdi.LevelA, p50, p25)},
	Power: &gear.Power{DrawW: p(fact.Est(20, 12, 30)), Mains: gear.MainsYes}}

var sdiBox = gear.Gear{Kind: gear.Capture, Name: "SDI capture box", Driver: "none", ListedAs: "USB video device",
	Ports: []gear.Port{sdiSocket("in", gear.In, sdi.ThreeG, sdi.BothLevels, p50, p25, i25),
		{ID: "usb", Connector: gear.USBA, Direction: gear.Upstream, USB: &gear.USBPort{Speed: usb.Gen1,
			Transfer: usb.Bulk}}},
	Delivers: []gear.Delivery{{Format: picture.YUY2, Width: 1920, Height: 1080, MaxRate: picture.R(60)}},
	Power:    &gear.Power{DrawW: p(fact.Est(3.5, 2.5, 4.5))}}

var toSDI = gear.Gear{Kind: gear.Converter, Name: "HDMI to SDI converter",
	Ports: []gear.Port{{ID: "in", Connector: gear.HDMIA, Direction: gear.In,
		HDMI: &gear.HDMIPort{MaxTMDSMHz: sheet(hdmi.MHz12)}, Modes: plain(p50, p25, i25)},
		sdiSocket("out", gear.Out, sdi.ThreeG, sdi.LevelA, p50, p25, i25)},
	Power: &gear.Power{DrawW: p(fact.Est(3, 2, 5)), Mains: gear.MainsYes}}

var hallLaptop = gear.Gear{Kind: gear.Computer, Name: "Touring laptop", Class: gear.GoodLaptop,
	Controllers: []gear.Controller{{ID: "usb", UplinkMBps: p(fact.Known(2000, fact.Measured))}},
	Ports: []gear.Port{
		{ID: "left", Label: "left", Connector: gear.USBA, Direction: gear.Downstream, Controller: "usb",
			USB: &gear.USBPort{Speed: usb.Gen1}},
		{ID: "right", Label: "right", Connector: gear.USBA, Direction: gear.Downstream, Controller: "usb",
			USB: &gear.USBPort{Speed: usb.Gen1}},
		{ID: "picture-out", Label: "picture out", Connector: gear.HDMIA, Direction: gear.Out,
			HDMI: &gear.HDMIPort{MaxTMDSMHz: sheet(hdmi.MHz14)}}}}

// Hall is the touring kit of a village hall on SDI with a switcher, as it came back from its first show: the thin coax
// to the balcony is too long for 3G, the side camcorder sends an interlaced picture and falls asleep, its small battery
// does not last, and the show asks for angles a switcher does not hand over.
func Hall() *rig.Rig {
	yes := true
	coax := func(id, from, to, class string, metres float64) rig.Lead {
		return rig.Lead{ID: id, From: from, To: to, Grade: class, LengthM: fact.Exactly(metres)}
	}
	return onShelf(&rig.Rig{Format: rig.Format, Name: "Village hall on tour",
		Notes: "Three cameras, a switcher, a laptop.",
		Show: rig.Show{Programme: rig.Programme{Width: 1920, Height: 1080, Rate: picture.R(25)}, Motion: "stage",
			Minutes: 150, SetupMinutes: 90, RehearsalMinutes: 30,
			MainsHz: 50, Angles: 3, AnglesSelectable: true, Budget: &gear.Money{Amount: 10000, Currency: "EUR"},
			Program: rig.Program{Kind: "encoder"}, Switching: "switcher", SoundFrom: "interface",
			Destinations: []rig.Destination{{Name: "Village page", Transport: "rtmp",
				Send: rig.Send{Width: 1280, Height: 720, Rate: picture.R(25), VideoKbps: p(fact.Exactly(3000))}}}},
		Uplink: &rig.Uplink{Whose: "venue", TriedThere: "yes",
			MeasuredMbps: []rig.UplinkReading{{Value: 8.2, At: "2026-10-03T18:00:00Z"},
				{Value: 7.4, At: "2026-10-10T18:00:00Z"}}},
		Items: []rig.Item{
			{ID: "cam-balcony", Label: "Balcony camera", Gear: hallCamera, Set: set("sdi", p50, "", "mains"),
				Owned: &yes, PoweredBy: "strip"},
			{ID: "cam-aisle", Label: "Aisle camera", Gear: hallCamera, Set: set("sdi", p50, "", "mains"), Owned: &yes},
			{ID: "cam-side", Label: "Side camcorder", Gear: sideCamcorder, Set: set("hdmi", i25, "off", "battery"),
				Owned: &yes},
			{ID: "to-sdi", Label: "Converter", Gear: toSDI, Owned: &yes},
			{ID: "switcher", Label: "Switcher", Gear: hallSwitcher,
				Set: &rig.Set{Output: map[string]picture.Mode{"out": p50}}, Owned: &yes, PoweredBy: "ups"},
			{ID: "box", Label: "SDI box", Gear: sdiBox, Owned: &yes},
			{ID: "laptop", Label: "Touring laptop", Gear: hallLaptop, Owned: &yes, PoweredBy: "ups"},
			{ID: "strip", Label: "Stage strip", Gear: gear.Gear{Kind: gear.Strip, Name: "Mains strip",
				Power: &gear.Power{RatedA: p(fact.Known(10, fact.DataSheet))}}, Owned: &yes},
			{ID: "ups", Label: "Small UPS", Gear: gear.Gear{Kind: gear.UPS, Name: "Small UPS",
				Power: &gear.Power{DrawW: p(fact.Est(8, 5, 15)), LimitW: p(fact.Known(360, fact.DataSheet)),
					LimitVA: p(fact.Known(600, fact.DataSheet)),
					Battery: &gear.BatteryPack{MAh: fact.Known(9000, fact.DataSheet),
						Volts: fact.Known(12, fact.DataSheet)}}}, Owned: &yes, PoweredBy: "strip"},
			{ID: "sound", Label: "Sound interface", Gear: gear.Gear{Kind: gear.AudioInterface, Name: "Audio interface",
				Ports: []gear.Port{{ID: "usb", Connector: gear.USBA, Direction: gear.Upstream,
					USB: &gear.USBPort{Speed: usb.HighSpeed, Transfer: usb.Isochronous}}},
				Power: &gear.Power{DrawW: p(fact.Est(2.2, 1.8, 2.5))}}, Owned: &yes},
		},
		Leads: []rig.Lead{
			coax("balcony-coax", "cam-balcony.sdi", "switcher.in-1", "rg-179", 45),
			coax("aisle-coax", "cam-aisle.sdi", "switcher.in-2", "rg-6", 25),
			{ID: "side-lead", From: "cam-side.hdmi", To: "to-sdi.in", Grade: "high-speed", LengthM: fact.Exactly(1),
				Adapters: 1},
			coax("side-coax", "to-sdi.out", "switcher.in-3", "rg-59", 20),
			coax("programme-coax", "switcher.out", "box.in", "rg-6", 3),
			{ID: "sound-plug", From: "sound.usb", To: "laptop.right", Grade: "usb-2", LengthM: fact.Exactly(1),
				AWG: p(fact.Exactly(28))},
			{ID: "box-plug", From: "box.usb", To: "laptop.left", Grade: "usb-5g", LengthM: straight()},
		}})
}
