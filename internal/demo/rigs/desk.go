package rigs

import (
	"fmt"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/pcie"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/usb"
)

var fourCard = gear.Gear{Kind: gear.Card, Name: "Four-input card", Driver: "driver",
	Ports: []gear.Port{cardInput(1), cardInput(2), cardInput(3), cardInput(4),
		{ID: "slot", Connector: gear.PCIe, Direction: gear.Upstream,
			Slot: &gear.Slot{Link: pcie.Link{Generation: 2, Lanes: 4}}}},
	Delivers: []gear.Delivery{{Format: picture.YUY2, Width: 1920, Height: 1080, MaxRate: picture.R(60)},
		{Format: picture.NV12, Width: 1920, Height: 1080, MaxRate: picture.R(60)}},
	Power: &gear.Power{DrawW: p(fact.Est(12, 8, 18))}}

func cardInput(n int) gear.Port {
	return gear.Port{ID: fmt.Sprintf("in-%d", n), Label: fmt.Sprintf("input %d", n), Connector: gear.HDMIA,
		Direction: gear.In, HDMI: &gear.HDMIPort{MaxTMDSMHz: sheet(hdmi.MHz14)}, Modes: plain(hd...)}
}

var bigTower = gear.Gear{Kind: gear.Computer, Name: "Tower with slots", Class: gear.LargeDesktop,
	Controllers: []gear.Controller{{ID: "xhci", UplinkMBps: p(fact.Known(3900, fact.Measured))}},
	Ports: []gear.Port{
		{ID: "slot-1", Label: "slot 1, next to the processor", Connector: gear.PCIe, Direction: gear.Downstream,
			Slot: &gear.Slot{Link: pcie.Link{Generation: 4, Lanes: 16}, Size: 16, Place: 1}},
		{ID: "slot-2", Label: "slot 2, long", Connector: gear.PCIe, Direction: gear.Downstream,
			Slot: &gear.Slot{Link: pcie.Link{Generation: 3, Lanes: 1}, Size: 16, Place: 3,
				SharedWith: "the drive in the second M.2 socket"}},
		{ID: "slot-3", Label: "slot 3, short", Connector: gear.PCIe, Direction: gear.Downstream,
			Slot: &gear.Slot{Link: pcie.Link{Generation: 3, Lanes: 4}, Size: 4, Place: 4}},
		{ID: "back-1", Label: "back 1", Connector: gear.USBA, Direction: gear.Downstream, Controller: "xhci",
			USB: &gear.USBPort{Speed: usb.Gen1}}}}

// Desk is a desktop with a four-input card: the slot it sits in is as long as any, and has one lane wired.
func Desk() *rig.Rig {
	yes := true
	r := &rig.Rig{Format: rig.Format, Name: "Desk with a four-input card", Notes: "Four cameras into one card.",
		Show: rig.Show{Programme: rig.Programme{Width: 1920, Height: 1080, Rate: f5994}, Motion: "sport", Minutes: 90,
			SetupMinutes: 30, RehearsalMinutes: 10,
			MainsHz: 50, Angles: 4, AnglesSelectable: true, Program: rig.Program{Kind: "encoder"}, Switching: "keys",
			Destinations: []rig.Destination{{Name: "Club page", Transport: "rtmp",
				Send: rig.Send{Width: 1920, Height: 1080, Rate: f5994, VideoKbps: p(fact.Exactly(7000))}}},
			Calls: []rig.Call{{Name: "Guest coach", Persons: 1}}},
		Uplink: &rig.Uplink{Whose: "own", MeasuredMbps: []rig.UplinkReading{{Value: 18.5, At: "2026-11-02T18:00:00Z"},
			{Value: 17.9, At: "2026-11-09T18:00:00Z"}}},
		Items: []rig.Item{{ID: "card", Label: "Capture card", Gear: fourCard,
			Set:   &rig.Set{Deliver: map[string]rig.Deliver{"slot": {Format: picture.YUY2, Width: 1920, Height: 1080}}},
			Owned: &yes},
			{ID: "tower", Label: "Tower", Gear: bigTower, Owned: &yes}},
		Leads: []rig.Lead{{ID: "card-slot", From: "card.slot", To: "tower.slot-2", Grade: "slot", LengthM: straight()}}}
	for i, label := range []string{"Goal left", "Goal right", "Centre line", "Bench"} {
		id := fmt.Sprintf("cam-%d", i+1)
		r.Items = append(r.Items, rig.Item{ID: id, Label: label, Gear: cameraB,
			Set: set("hdmi", mode(1920, 1080, f5994), "", "mains"), Owned: &yes})
		r.Leads = append(r.Leads, rig.Lead{ID: fmt.Sprintf("lead-%d", i+1), From: id + ".hdmi",
			To: fmt.Sprintf("card.in-%d", i+1), Grade: "high-speed", LengthM: fact.Exactly(3)})
	}
	return onShelf(r)
}
