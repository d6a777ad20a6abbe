package rigtest

import (
	"fmt"
	"slices"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/usb"
)

// Feeds is a rig of n feeds, each a camera on a stick, on as many computers' sockets and controllers as it takes:
// four to a controller.
func Feeds(n int) *rig.Rig {
	rate := picture.NewRate(30000, 1001)
	r := &rig.Rig{Format: rig.Format, Name: "bench", Show: rig.Show{Programme: rig.Programme{Width: 1920, Height: 1080,
		Rate: rate}, Minutes: 60, Angles: n, AnglesSelectable: true,
		Program:      rig.Program{Kind: "encoder"},
		Destinations: []rig.Destination{{Name: "d", Send: rig.Send{Width: 1280, Height: 720, Rate: rate}}}}}
	cam, stick := gear.Sources[0].Gear, gear.Stick.Gear
	cam.Settings = nil // one of which nothing of the kind is known
	pc := rig.Item{ID: "pc", Label: "Computer", Gear: gear.Gear{Kind: gear.Computer, Name: "Computer"}}
	for i := range n {
		ctl := fmt.Sprintf("c%d", i/4)
		if i%4 == 0 {
			pc.Gear.Controllers = append(pc.Gear.Controllers, gear.Controller{ID: ctl})
		}
		pc.Gear.Ports = append(pc.Gear.Ports, gear.Port{ID: fmt.Sprintf("p%d", i), Connector: gear.USBA,
			Direction: gear.Downstream, Controller: ctl, USB: &gear.USBPort{Speed: "5G"}})
		m := picture.Mode{Width: 1920, Height: 1080, Rate: rate}
		r.Items = append(r.Items,
			rig.Item{ID: fmt.Sprintf("cam-%d", i), Label: "Camera", Gear: cam,
				Set: &rig.Set{Output: map[string]picture.Mode{"hdmi": m}}},
			rig.Item{ID: fmt.Sprintf("stick-%d", i), Label: "Stick", Gear: stick,
				Set: &rig.Set{Deliver: map[string]rig.Deliver{"usb": {Format: picture.NV12, Width: 1920,
					Height: 1080}}}})
		r.Leads = append(r.Leads,
			rig.Lead{ID: fmt.Sprintf("h%d", i), From: fmt.Sprintf("cam-%d.hdmi", i), To: fmt.Sprintf("stick-%d.in", i),
				Grade: "high-speed", LengthM: fact.Est(3, 2, 4)},
			rig.Lead{ID: fmt.Sprintf("u%d", i), From: fmt.Sprintf("stick-%d.usb", i), To: fmt.Sprintf("pc.p%d", i),
				Grade: "usb-5g", LengthM: fact.Exactly(0)})
	}
	r.Items = append(r.Items, pc)
	return r
}

// Plain is one camera on one stick in one computer, all of it known and slack.
func Plain() *rig.Rig {
	r := Feeds(1)
	cam := &r.Items[0].Gear
	cam.Clean, cam.Power, cam.Standby = gear.AlwaysClean, &gear.Power{Mains: gear.MainsYes},
		&gear.Standby{Does: "nothing"}
	cam.Ports = slices.Clone(cam.Ports)
	mhz := fact.Exactly(340)
	cam.Ports[0].HDMI, cam.Ports[0].Connector = &gear.HDMIPort{MaxTMDSMHz: &mhz}, gear.HDMIA
	stick := &r.Items[1].Gear
	stick.Ports = slices.Clone(stick.Ports)
	stick.Ports[0].HDMI, stick.Ports[0].MoreModes = &gear.HDMIPort{MaxTMDSMHz: &mhz}, false
	stick.Ports[1].USB = &gear.USBPort{Speed: usb.Gen1, Transfer: usb.Bulk}
	r.Leads[0].LengthM = fact.Exactly(2)
	up := fact.Exactly(3900)
	r.Items[2].Gear.Controllers[0].UplinkMBps = &up
	r.Items[2].Gear.Ports = append(r.Items[2].Gear.Ports,
		gear.Port{ID: "slow", Connector: gear.USBA, Direction: gear.Downstream, Controller: "c0",
			USB: &gear.USBPort{Speed: usb.HighSpeed}},
		gear.Port{ID: "open", Connector: gear.USBA, Direction: gear.Downstream, Controller: "c0",
			USB: &gear.USBPort{Speed: usb.UnknownSpeed}},
		gear.Port{ID: "picture-out", Connector: gear.HDMIA, Direction: gear.Out})
	r.Items[2].Gear.Power = &gear.Power{DrawW: new(fact.Exactly(120))}
	r.Uplink = Line(20)
	r.Show.Destinations[0].Ingest = &rig.Ingest{MaxWidth: 1920, MaxHeight: 1080, MaxRate: picture.R(60),
		MaxVideoKbps: 9000, MinVideoKbps: new(0.0), MaxAudioKbps: 320}
	r.Show.Angles, r.Show.MainsHz, r.Show.StartsAt = 1, 50, "19:30"
	return r
}

// Line is an uplink that was measured often enough to say what it is, at the hour of Plain.
func Line(mbps float64) *rig.Uplink {
	up := &rig.Uplink{Whose: "own"}
	for range 4 {
		up.MeasuredMbps = append(up.MeasuredMbps, rig.UplinkReading{Value: mbps, At: "2026-09-01T19:30:00+02:00"})
	}
	up.LossPct, up.RTTMs = new(fact.Exactly(0)), new(fact.Exactly(20))
	return up
}
