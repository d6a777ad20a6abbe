package rules_test

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/engine"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/pcie"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/usb"
	"eventether/core/verdict"
	"eventether/core/view"
	"eventether/internal/demo/rigs"
)

func exactly(v float64) *fact.Fact { f := fact.Exactly(v); return &f }

// draws gives an item a draw in watts.
func draws(r *rig.Rig, id string, w float64) {
	g := &r.Item(id).Gear
	if g.Power == nil {
		g.Power = &gear.Power{}
	} else {
		p := *g.Power
		g.Power = &p
	}
	g.Power.DrawW = exactly(w)
}

// hubbed is n plain feeds whose sticks all hang on one hub of its own, each drawing w watts.
func hubbed(n int, w float64, self string) *rig.Rig {
	r := feedsRig(n)
	hub := rig.Item{ID: "hub", Label: "Hub", Gear: gear.Gear{Kind: gear.Hub, Name: "Hub",
		Power: &gear.Power{SelfPowered: self, DrawW: exactly(0.5)},
		Ports: []gear.Port{{ID: "up", Connector: gear.USBA, Direction: gear.Upstream,
			USB: &gear.USBPort{Speed: usb.Gen1}}}}}
	for i := range n {
		hub.Gear.Ports = append(hub.Gear.Ports, gear.Port{ID: fmt.Sprintf("h%d", i), Connector: gear.USBA,
			Direction: gear.Downstream, USB: &gear.USBPort{Speed: usb.Gen1}})
		r.Lead(fmt.Sprintf("u%d", i)).To = fmt.Sprintf("hub.h%d", i)
		draws(r, fmt.Sprintf("stick-%d", i), w)
	}
	r.Items = append(r.Items, hub)
	r.Leads = append(r.Leads, rig.Lead{ID: "up", From: "hub.up", To: "pc.p0", Grade: "usb-5g",
		LengthM: fact.Exactly(0)})
	return r
}

// on puts a thing on the mains of another.
func on(r *rig.Rig, supply string, kind gear.Kind, w float64) {
	id := fmt.Sprintf("load-%d", len(r.Items))
	r.Items = append(r.Items, rig.Item{ID: id, Label: id, PoweredBy: supply, Gear: gear.Gear{Kind: kind, Name: id,
		Power: &gear.Power{DrawW: exactly(w), PowerFactor: exactly(1)}}})
}

func supplier(id string, kind gear.Kind, pw gear.Power) rig.Item {
	return rig.Item{ID: id, Label: id, Gear: gear.Gear{Kind: kind, Name: id, Power: &pw}}
}

// heated is the plain rig with limits by heat on its camera.
func heated(limits ...gear.HeatLimit) *rig.Rig {
	r := plain()
	r.Items[0].Gear.HeatLimits = limits
	return r
}

// banked is the plain rig with its camera of 20 W on a power bank.
func banked(mAh float64) *rig.Rig {
	r := plain()
	r.Items = append(r.Items, supplier("bank", gear.PowerBank,
		gear.Power{Battery: &gear.BatteryPack{MAh: fact.Exactly(mAh), Volts: fact.Exactly(3.7),
			UsableShare: exactly(1)}}))
	cam := r.Item("cam-0")
	cam.Gear.Power = &gear.Power{DrawW: exactly(20), USB: "runs", Battery: &gear.BatteryPack{MAh: fact.Exactly(10),
		Volts: fact.Exactly(7.2)}}
	r.Item("bank").Gear.Power.SupplyW = exactly(30)
	cam.PoweredBy, cam.Set.RunsOn = "bank", "usb"
	return r
}

// ownBank is the plain rig with its camera of 7.2 Wh on a power bank with a strong socket.
func ownBank(mAh float64, draw fact.Fact) *rig.Rig {
	r := plain()
	bank := supplier("bank", gear.PowerBank, gear.Power{SupplyW: exactly(45),
		Battery: &gear.BatteryPack{MAh: fact.Exactly(mAh), Volts: fact.Exactly(3.7), UsableShare: exactly(1)}})
	bank.Gear.Ports = []gear.Port{{ID: "out", Connector: gear.USBC, Direction: gear.Downstream,
		AllowsMA: exactly(3000)}}
	r.Items = append(r.Items, bank)
	cam := r.Item("cam-0")
	cam.Gear.Power = &gear.Power{DrawW: &draw, USB: "runs", Battery: &gear.BatteryPack{MAh: fact.Exactly(1000),
		Volts: fact.Exactly(7.2), UsableShare: exactly(0.9)}}
	cam.PoweredBy, cam.Set.RunsOn = "bank", "usb"
	return r
}

// Every supply, slot and chain by itself. Sums are worked out by hand beside the case.
func TestPowerAndSlotRules(t *testing.T) {
	for _, c := range []struct {
		name  string
		rig   func() *rig.Rig
		limit string
		want  State
		says  string
	}{
		// [practice] two power-hungry sticks on a hub without a supply: 0.5 + 2 × 2.5 W = 1,100 mA of 900.
		{"two hungry sticks on an unpowered hub", func() *rig.Rig { return hubbed(2, 2.5, "no") },
			"port-current:pc.p0", Snapped, "makes one vanish or never appear"},
		// [practice] the same two on a hub with a supply take nothing of the socket: there is no such limit, and 5.5 W
		// of 15 is slack.
		{"the same on a powered hub", func() *rig.Rig {
			r := hubbed(2, 2.5, "yes")
			r.Item("hub").Gear.Power.SupplyW = exactly(15)
			r.Item("hub").Gear.Power.SupplyVolts = exactly(5)
			return r
		}, "supply:hub", Slack, "5.5 W of the 15 W"},
		{"a supply of 12 V loses a tenth on the way down", func() *rig.Rig {
			r := hubbed(2, 6.5, "yes") // 13.5 W of 15 × 0.9
			r.Item("hub").Gear.Power.SupplyW = exactly(15)
			r.Item("hub").Gear.Power.SupplyVolts = exactly(12)
			return r
		}, "supply:hub", Taut, "of the 13.5 W"},
		{"and snaps past it", func() *rig.Rig {
			r := hubbed(2, 6.6, "yes")
			r.Item("hub").Gear.Power.SupplyW = exactly(15)
			r.Item("hub").Gear.Power.SupplyVolts = exactly(12)
			return r
		}, "supply:hub", Snapped, "13.7 W"},
		{"nobody knows whether the hub has a supply", func() *rig.Rig { return hubbed(2, 2.5, "unknown") },
			"port-current:pc.p0", Untested, "0 to 1100 mA"},
		{"one stick of 2.5 W on a USB 2 socket", func() *rig.Rig {
			r := plain()
			r.Lead("u0").To = "pc.slow"
			draws(r, "stick-0", 2.5)
			return r
		}, "port-current:pc.slow", Taut, "500 mA of the 500 mA"},
		{"one of 2.6 W is past it", func() *rig.Rig {
			r := plain()
			r.Lead("u0").To = "pc.slow"
			draws(r, "stick-0", 2.6)
			return r
		}, "port-current:pc.slow", Snapped, "520 mA of the 500 mA"},
		{"a socket whose sheet allows more", func() *rig.Rig {
			r := plain()
			r.Lead("u0").To = "pc.slow"
			r.Item("pc").Gear.Ports[r.Item("pc").Gear.Port("slow")].AllowsMA = exactly(1500)
			draws(r, "stick-0", 4)
			return r
		}, "port-current:pc.slow", Slack, "800 mA of the 1500 mA"},
		{"a socket of unknown speed", func() *rig.Rig {
			r := plain()
			r.Lead("u0").To = "pc.open"
			draws(r, "stick-0", 3)
			return r
		}, "port-current:pc.open", Untested, "500 to 1500 mA"},
		// 440 of 440 mA fits, whatever the sum of it in floating point.
		{"just what the socket allows", func() *rig.Rig {
			r := hubbed(3, 0.5, "no") // 0.5 + 3 × 0.5 W
			r.Item("pc").Gear.Ports[0].AllowsMA = exactly(400)
			for i, w := range []float64{0.7, 0.1, 0.9} { // 2.2 W, 440 mA
				draws(r, fmt.Sprintf("stick-%d", i), w)
			}
			r.Item("pc").Gear.Ports[0].AllowsMA = exactly(440)
			return r
		}, "port-current:pc.p0", Taut, "440 mA of the 440 mA"},
		// By the letter a hub without a supply gives 150 mA a port on USB 3; a stick of 2.5 W takes 500. [standard: USB
		// 3.2, 11.4.1]
		{"a stick past the letter of a hub's port", func() *rig.Rig { return hubbed(1, 2.5, "no") },
			"port-letter:hub.h0", Taut, "takes 500 mA; by the letter"},
		// Hubs of unknown supply in a chain: what hangs behind all of them counts, however many. 0 to 0.5 W × 3 hubs
		// and 3.1 W.
		{"three hubs nobody has looked at", func() *rig.Rig {
			r := hubbed(1, 3.1, "unknown")
			for i, id := range []string{"hub-b", "hub-c"} {
				h := *r.Item("hub")
				h.ID, h.Label = id, id
				r.Items = append(r.Items, h)
				below := []string{"hub", "hub-b"}[i]
				for k := range r.Leads {
					if r.Leads[k].From == below+".up" {
						r.Leads[k].To = id + ".h0"
					}
				}
				r.Leads = append(r.Leads, rig.Lead{ID: id + "-up", From: id + ".up", To: "pc.p0", Grade: "usb-5g",
					LengthM: fact.Exactly(0)})
			}
			return r
		}, "port-current:pc.p0", Untested, "0 to 920 mA"},
		// [standard: ASTM B258] 28 AWG is 212.9 mΩ/m: 0.9 A × 2 × 5 m × 0.2129 Ω/m = 1.92 V of the 0.6 V USB 2 can
		// spare.
		{"a long thin lead", func() *rig.Rig {
			r := plain()
			l := r.Lead("u0")
			l.LengthM, l.AWG, l.Grade = fact.Exactly(5), exactly(28), "usb-2"
			l.To = "pc.slow"
			draws(r, "stick-0", 4.5)
			return r
		}, "drop:u0", Snapped, "gets"},
		// [practice] a charge-grade lead that does carry data leaves USB 2: 62.2 MB/s of NV12 at 29.97 on 32 to 40
		// MB/s.
		{"a charge-grade cable leaves USB 2", func() *rig.Rig {
			r := plain()
			r.Lead("u0").Grade, r.Lead("u0").LengthM = "usb-2", fact.Exactly(1)
			return r
		}, "link:stick-0.usb", Snapped, "slowest part: grade of the lead"},
		{"and one with no data wires finds nothing", func() *rig.Rig {
			r := plain()
			r.Lead("u0").Grade, r.Lead("u0").LengthM = "usb-charge", fact.Exactly(1)
			return r
		}, "carries-data:u0", Snapped, "no data wires"},
		// Mains. [standard: IEC 60038] 230 V ± 10 %: a strip of 10 A carries 2,070 VA for sure.
		{"a strip that is right", func() *rig.Rig {
			r := plain()
			r.Items = append(r.Items, supplier("strip", gear.Strip, gear.Power{RatedA: exactly(10)}))
			on(r, "strip", gear.Lamp, 500)
			return r
		}, "strip:strip", Slack, "500 VA of 2070 to 2530 VA"},
		// A UPS counts on the strip before it with its own loss: 200 W and 10 W.
		{"a UPS on a strip", func() *rig.Rig {
			r := plain()
			r.Items = append(r.Items, supplier("strip", gear.Strip, gear.Power{RatedA: exactly(10)}),
				supplier("ups", gear.UPS, gear.Power{DrawW: exactly(10), PowerFactor: exactly(1), LimitW: exactly(300),
					LimitVA: exactly(600)}))
			r.Item("ups").PoweredBy = "strip"
			on(r, "ups", gear.Lamp, 200)
			return r
		}, "strip:strip", Slack, "take 210 VA"},
		{"a strip past four fifths", func() *rig.Rig {
			r := plain()
			r.Items = append(r.Items, supplier("strip", gear.Strip, gear.Power{RatedA: exactly(10)}))
			on(r, "strip", gear.Lamp, 1900)
			return r
		}, "strip:strip", Taut, "1900 VA"},
		{"a strip past everything", func() *rig.Rig {
			r := plain()
			r.Items = append(r.Items, supplier("strip", gear.Strip, gear.Power{RatedA: exactly(10)}))
			on(r, "strip", gear.Lamp, 2000)
			on(r, "strip", gear.Lamp, 1000)
			return r
		}, "strip:strip", Snapped, "Two things on strip take 3000 VA"},
		{"between the bounds of the mains", func() *rig.Rig {
			r := plain()
			r.Items = append(r.Items, supplier("strip", gear.Strip, gear.Power{RatedA: exactly(10)}))
			on(r, "strip", gear.Lamp, 2300)
			return r
		}, "strip:strip", Untested, "2300 VA"},
		{"half the volts where the mains is 60 Hz", func() *rig.Rig {
			r := plain()
			r.Show.MainsHz = 60
			r.Items = append(r.Items, supplier("strip", gear.Strip, gear.Power{RatedA: exactly(10)}))
			on(r, "strip", gear.Lamp, 1300)
			return r
		}, "strip:strip", Snapped, "of 1080 to 1260 VA"},
		{"a strip in a strip", func() *rig.Rig {
			r := plain()
			r.Items = append(r.Items, supplier("strip", gear.Strip, gear.Power{RatedA: exactly(10)}),
				supplier("second", gear.Strip, gear.Power{RatedA: exactly(10)}))
			r.Item("second").PoweredBy = "strip"
			on(r, "second", gear.Lamp, 100)
			return r
		}, "nested:strip", Taut, "not allowed in many places"},
		{"what hangs on the second counts on the first", func() *rig.Rig {
			r := plain()
			r.Items = append(r.Items, supplier("strip", gear.Strip, gear.Power{RatedA: exactly(10)}),
				supplier("second", gear.Strip, gear.Power{RatedA: exactly(16)}))
			r.Item("second").PoweredBy = "strip"
			on(r, "second", gear.Lamp, 2600)
			return r
		}, "strip:strip", Snapped, "2600 VA"},
		{"a UPS in watts", func() *rig.Rig {
			r := plain()
			r.Items = append(r.Items, supplier("ups", gear.UPS, gear.Power{LimitW: exactly(300), LimitVA: exactly(600),
				Efficiency: exactly(0.8),
				Battery:    &gear.BatteryPack{MAh: fact.Exactly(9000), Volts: fact.Exactly(12)}}))
			on(r, "ups", gear.Lamp, 200) // 108 Wh × 0.8 ÷ 200 W = 25.9 min
			return r
		}, "ups-w:ups", Slack, "it runs for 25.9 min"},
		{"and past them", func() *rig.Rig {
			r := plain()
			r.Items = append(r.Items, supplier("ups", gear.UPS, gear.Power{LimitW: exactly(300),
				LimitVA: exactly(600)}))
			r.Item("ups").Gear.Power.Battery = &gear.BatteryPack{MAh: fact.Exactly(9000), Volts: fact.Exactly(12)}
			on(r, "ups", gear.Lamp, 301)
			return r
		}, "ups-w:ups", Snapped, "One thing on ups take 301 W of 300 W."},
		{"within watts and past volt-amperes", func() *rig.Rig {
			r := plain()
			r.Items = append(r.Items, supplier("ups", gear.UPS, gear.Power{LimitW: exactly(300),
				LimitVA: exactly(350)}))
			on(r, "ups", gear.Lamp, 200)
			r.Items[len(r.Items)-1].Gear.Power.PowerFactor = exactly(0.5)
			return r
		}, "ups-va:ups", Snapped, "400 VA of 350 VA"},
		{"a circuit", func() *rig.Rig {
			r := plain()
			r.Show.CircuitA = exactly(10)
			r.Items = append(r.Items, supplier("strip", gear.Strip, gear.Power{RatedA: exactly(16)}))
			on(r, "strip", gear.Lamp, 2600)
			return r
		}, "circuit", Snapped, "on the mains take"},
		// Heat. The plain rig shows 60 min at 1080p29.97.
		{"heat stops it before the end", func() *rig.Rig {
			return heated(gear.HeatLimit{Minutes: fact.Est(40, 30, 50)})
		}, "heat:cam-0", Snapped, "heat stops Camera after 30 to 50 min"},
		{"heat may stop it", func() *rig.Rig { return heated(gear.HeatLimit{Minutes: fact.Est(60, 45, 90)}) },
			"heat:cam-0", Untested, "the show lasts 60 min"},
		{"4K nobody has let run", func() *rig.Rig {
			r := plain()
			r.Items[0].Set.Output["hdmi"] = picture.Mode{Width: 3840, Height: 2160, Rate: picture.R(30)}
			return r
		}, "heat:cam-0", Untested, "heat may stop it"},
		{"heat is far", func() *rig.Rig {
			return heated(gear.HeatLimit{Width: 3840, Height: 2160, Minutes: fact.Exactly(20)},
				gear.HeatLimit{Width: 1920, Height: 1080, Rate: f2997, Minutes: fact.Exactly(120)})
		}, "heat:cam-0", Slack, "120 min"},
		// A bank of 20,000 mAh at its cells' 3.7 V is 74 Wh, less the converter 62.9 Wh; with the camera's own 0.072 Wh
		// of which 0.7 to 0.9 are usable, at 20 W: 188.7 + 0.2 min. The port gives 4.5 W or more: at worst own ÷ (20 −
		// 7.5).
		{"a power bank lasts the show", func() *rig.Rig { return banked(20000) }, "run-time:cam-0", Slack,
			"bank and its own battery give 188 min"},
		{"a small one does not", func() *rig.Rig { return banked(5000) }, "run-time:cam-0", Snapped,
			"bank and its own battery give 47.3 min"},
		// 3,000 mAh × 3.7 V × 0.85 = 9.4 Wh; with the camera's own 7.2 Wh × 0.9, 136 to 159 min at 6.5 ±
		// 0.5 W.
		{"a bank is finite, however strong its socket", func() *rig.Rig {
			r := ownBank(3000, fact.Est(6.5, 6, 7))
			r.Show.SetupMinutes, r.Show.RehearsalMinutes, r.Show.Minutes = 120, 30, 240
			return r
		}, "run-time:cam-0", Snapped, "needs 390 min; bank and its own battery give 136 to 159 min"},
		// Too weak to run it (2.5 W for 6.5): min((9.435 + 6.48) ÷ 6.5, 6.48 ÷ 4) h = 97.2 min.
		{"a bank too weak to run the camera", func() *rig.Rig {
			r := ownBank(3000, fact.Exactly(6.5))
			r.Item("bank").Gear.Ports[0].AllowsMA = exactly(500)
			r.Item("bank").Gear.Power.SupplyW = nil
			return r
		}, "run-time:cam-0", Slack, "give 97.2 min"},
		// Two cameras share it: 9.435 Wh ÷ 13 W + 6.48 Wh ÷ 6.5 W = 1.7227 h.
		{"two cameras on one bank", func() *rig.Rig {
			r := ownBank(3000, fact.Exactly(6.5))
			more := *r.Item("cam-0")
			more.ID, more.Label = "cam-b", "Second"
			r.Items = append(r.Items, more)
			return r
		}, "run-time:cam-0", Slack, "give 103 min"},
		{"a camera without a battery of its own lives as long as the bank", func() *rig.Rig {
			r := ownBank(3000, fact.Exactly(6.5))
			r.Item("cam-0").Gear.Power.Battery = nil
			r.Show.Minutes = 80
			return r
		}, "run-time:cam-0", Taut, "bank and its own battery give 87 to"},
		{"a camera on a battery nobody described", func() *rig.Rig {
			r := plain()
			r.Items[0].Gear.Power = &gear.Power{Mains: gear.MainsNo}
			r.Items[0].Set.RunsOn = "battery"
			return r
		}, "run-time:cam-0", Untested, "nobody has described its battery"},
		{"a camera without a power block", func() *rig.Rig {
			r := plain()
			r.Items[0].Gear.Power = nil
			return r
		}, "run-time:cam-0", Untested, "Nobody has said what Camera runs on"},
		{"a camera that may switch itself off", func() *rig.Rig {
			r := plain()
			r.Items[0].Gear.Standby = nil
			return r
		}, "standby:cam-0", Untested, "sleeps or switches itself off"},
		// Cards. [standard: PCI Express Base] 2.0 × 1 is 500 MB/s after 8b/10b, × 0.82 for packets = 410.
		{"four inputs on one lane", rigs.Desk, "slot:tower.slot-2", Snapped, "994.3 MB/s of the 0 to 410 MB/s"},
		{"the same, and the drive takes nothing", func() *rig.Rig {
			r := rigs.Desk()
			r.Item("tower").Gear.Ports = slices.Clone(r.Item("tower").Gear.Ports)
			slot := *r.Item("tower").Gear.Ports[1].Slot
			slot.Sharing = "whole"
			r.Item("tower").Gear.Ports[1].Slot = &slot
			return r
		}, "slot:tower.slot-2", Snapped, "994.3 MB/s of the 410 MB/s"},
		{"the drive turns the slot off", func() *rig.Rig {
			r := rigs.Desk()
			r.Item("tower").Gear.Ports = slices.Clone(r.Item("tower").Gear.Ports)
			slot := *r.Item("tower").Gear.Ports[1].Slot
			slot.Sharing = "off"
			r.Item("tower").Gear.Ports[1].Slot = &slot
			return r
		}, "slot:tower.slot-2", Snapped, "turns slot 2, long off: a card in it is not found"},
		{"a wide slot shared with a drive nobody has looked at", func() *rig.Rig {
			r := rigs.Desk()
			r.Item("tower").Gear.Ports = slices.Clone(r.Item("tower").Gear.Ports)
			r.Item("tower").Gear.Ports[1].Slot = &gear.Slot{Link: pcie.Link{Generation: 3, Lanes: 8},
				SharedWith: "the drive"}
			return r
		}, "slot:tower.slot-2", Untested, "of the 0 to 1640 MB/s"},
		{"a slot nobody has looked at", func() *rig.Rig {
			r := rigs.Desk()
			g := &r.Item("tower").Gear
			g.Ports = slices.Clone(g.Ports)
			g.Ports[g.Port("slot-2")].Slot = nil
			return r
		}, "slot:tower.slot-2", Untested, "of the 205"},
	} {
		t.Run(c.name, func(t *testing.T) {
			r := c.rig()
			require.Empty(t, rig.Check(r))
			v := Full(r)
			row(c.limit)
			l := limitIn(&v, c.limit)
			require.NotNil(t, l, "%v", ids(&v))
			require.Equal(t, c.want, l.State, l.Says)
			require.Contains(t, l.Says, c.says)
			require.NotEmpty(t, l.Source.Name)
			if l.State == Untested {
				require.NotEmpty(t, l.DependsOn, l.ID)
			}
			if slices.Contains([]engine.Name{"strip", "circuit", "nested", "ups-w", "ups-va"}, l.Rule) {
				require.Contains(t, l.Caution, "licensed electrician")
			}
		})
	}
}

// 0.9 A over 2 m of AWG 28 loses 0.77 V: from 5.0 V to 4.23 V; the contacts take up to 0.108 V more. An
// unmeasured socket gives 4.75 to 5.25 V, a measured one what it gives.
func TestWorkedDrop(t *testing.T) {
	r := plain()
	l := r.Lead("u0")
	l.LengthM, l.AWG = fact.Exactly(2), exactly(28)
	draws(r, "stick-0", 4.5)
	v := Full(r)
	d := limitIn(&v, "drop:u0")
	require.InDelta(t, 4.75-0.766-0.108, d.Load.Low, 0.001)
	require.InDelta(t, 5.25-0.766, d.Load.High, 0.001)
	require.Equal(t, Untested, d.State, "3.88 to 4.48 V of the 4.00 V it needs")
	require.Contains(t, d.Says, "would leave")
	measured, err := rig.Apply(r, rig.Edit{Do: "fact", Path: "items/pc/ports/p0/volts",
		Fact: &fact.Fact{Value: 5, Low: 5, High: 5, From: fact.Measured}})
	require.NoError(t, err)
	v = Full(measured)
	d = limitIn(&v, "drop:u0")
	require.InDelta(t, 5-0.766, d.Load.High, 0.001)
	require.Equal(t, Slack, d.State)
	worn, err := rig.Apply(measured, rig.Edit{Do: "fact", Path: "leads/u0/contactsOhm", Fact: exactly(0.4)})
	require.NoError(t, err)
	v = Full(worn)
	d = limitIn(&v, "drop:u0")
	require.InDelta(t, 5-0.766-0.36, d.Load.Low, 0.001, "worn contacts count as they were measured: 0.9 A × 0.4 Ω")
	require.Equal(t, Snapped, d.State)
	other, err := rig.Apply(worn, rig.Edit{Do: "lead", Lead: "u0", LengthM: exactly(2)})
	require.NoError(t, err)
	require.Nil(t, other.Lead("u0").ContactsOhm, "another lead has other contacts")
}

// [practice] a powered hub takes nothing from the socket it hangs on.
func TestAPoweredHubTakesNothing(t *testing.T) {
	v := Full(hubbed(2, 2.5, "yes"))
	require.Nil(t, limitIn(&v, "port-current:pc.p0"))
	v = Full(hubbed(2, 2.5, "no"))
	require.Nil(t, limitIn(&v, "supply:hub"))
	v = Full(hubbed(2, 2.5, "unknown"))
	require.Equal(t, Untested, limitIn(&v, "supply:hub").State, "if it has one, nobody knows how strong it is")
}

// Five hubs in a chain work and six do not [standard: USB 2.0, 4.1.1].
func TestChainsOfHubs(t *testing.T) {
	for n := 3; n <= 6; n++ {
		r := hubbed(1, 0.5, "yes")
		at := "pc.p0"
		r.Leads = slices.DeleteFunc(r.Leads, func(l rig.Lead) bool { return l.ID == "up" })
		hub := *r.Item("hub")
		r.Items = slices.DeleteFunc(r.Items, func(it rig.Item) bool { return it.ID == "hub" })
		for k := range n {
			h := hub
			h.ID = fmt.Sprintf("hub-%d", k)
			h.Label = h.ID
			r.Items = append(r.Items, h)
			r.Leads = append(r.Leads, rig.Lead{ID: "up-" + h.ID, From: h.ID + ".up", To: at, Grade: "usb-5g",
				LengthM: fact.Exactly(0)})
			at = h.ID + ".h0"
		}
		r.Lead("u0").To = at
		require.Empty(t, rig.Check(r))
		v := Full(r)
		row("hub-depth")
		l := limitIn(&v, fmt.Sprintf("hub-depth:hub-%d", n-1))
		require.NotNil(t, l)
		require.Equal(t, n > 5, l.State == Snapped, "%d hubs: %s", n, l.Says)
	}
}

// A drive or a sound interface loads the bus its pictures share, and more of it never makes a verdict better.
func TestOtherDevicesLoadTheBus(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		mb := rapid.Float64Range(1, 400).Draw(t, "MB/s")
		more := mb + rapid.Float64Range(0, 400).Draw(t, "more")
		with := func(mb float64) *Limit {
			r := plain()
			r.Item("pc").Gear.Controllers[0].UplinkMBps = exactly(400)
			r.Items = append(r.Items, rig.Item{ID: "drive", Label: "Drive", Gear: gear.Gear{Kind: gear.Drive,
				Name: "Drive", BusMBps: exactly(mb), Power: &gear.Power{DrawW: exactly(2)},
				Ports: []gear.Port{{ID: "usb", Connector: gear.USBA, Direction: gear.Upstream,
					USB: &gear.USBPort{Speed: usb.Gen1, Transfer: usb.Bulk}}}}})
			r.Item("pc").Gear.Ports = append(r.Item("pc").Gear.Ports, gear.Port{ID: "spare", Connector: gear.USBA,
				Direction: gear.Downstream, Controller: "c0", USB: &gear.USBPort{Speed: usb.Gen1}})
			r.Leads = append(r.Leads, rig.Lead{ID: "drive-lead", From: "drive.usb", To: "pc.spare", Grade: "usb-5g",
				LengthM: fact.Exactly(0)})
			v := Rig(r)
			return limitIn(&v, "bus:pc.c0.fast")
		}
		a, b := with(mb), with(more)
		require.Len(t, a.Loads, 2)
		require.InDelta(t, mb, a.Loads[1].Value, 1e-9)
		require.InDelta(t, a.Load.Value+more-mb, b.Load.Value, 1e-6)
		require.Equal(t, b.State, limit.Worse(a.State, b.State))
	})
}

// Cards next to each other heat each other; with a slot between them nothing is said.
func TestCardsSideBySide(t *testing.T) {
	for place, want := range map[int]bool{2: true, 3: false} {
		r := rigs.Desk()
		pc := r.Item("tower")
		pc.Gear.Ports = slices.Clone(pc.Gear.Ports)
		card := r.Items[slices.IndexFunc(r.Items, func(it rig.Item) bool { return it.Gear.Kind == gear.Card })]
		for i := range pc.Gear.Ports {
			if pc.Gear.Ports[i].ID == "slot-1" {
				pc.Gear.Ports[i].Slot = &gear.Slot{Link: pcie.Link{Generation: 3, Lanes: 4}, Size: 16, Place: 1}
			}
			if pc.Gear.Ports[i].ID == "slot-2" {
				pc.Gear.Ports[i].Slot = &gear.Slot{Link: pcie.Link{Generation: 3, Lanes: 4}, Size: 16, Place: place}
			}
		}
		card.ID, card.Label = "second", "Second card"
		r.Items = append(r.Items, card)
		up := slices.IndexFunc(card.Gear.Ports, func(p gear.Port) bool { return p.Connector == gear.PCIe })
		r.Leads = append(r.Leads, rig.Lead{ID: "second-slot", From: "second." + card.Gear.Ports[up].ID,
			To: "tower.slot-1", Grade: "slot", LengthM: fact.Exactly(0)})
		cam := r.Items[slices.IndexFunc(r.Items, func(it rig.Item) bool { return it.Gear.Kind == gear.Camera })]
		cam.ID, cam.Label = "fifth", "Fifth camera"
		r.Items = append(r.Items, cam)
		in := slices.IndexFunc(card.Gear.Ports, func(p gear.Port) bool { return p.Direction == gear.In })
		out := slices.IndexFunc(cam.Gear.Ports, func(p gear.Port) bool { return p.Direction == gear.Out })
		r.Leads = append(r.Leads, rig.Lead{ID: "fifth-lead", From: "fifth." + cam.Gear.Ports[out].ID,
			To: "second." + card.Gear.Ports[in].ID, Grade: "high-speed", LengthM: fact.Exactly(2)})
		require.Empty(t, rig.Check(r))
		v := Full(r)
		row("side-by-side")
		require.Equal(t, want, slices.ContainsFunc(v.Limits, func(l Limit) bool { return l.Rule == "side-by-side" }),
			"place %d", place)
	}
}

// A battery against the whole clock: set-up, rehearsal and show, and every other way to power the camera.
func TestTimeline(t *testing.T) {
	r := plain()
	cam := r.Item("cam-0")
	cam.Gear.Power = &gear.Power{DrawW: exactly(7.2), Mains: gear.MainsDummy, USB: "runs",
		Battery: &gear.BatteryPack{MAh: fact.Exactly(1000), Volts: fact.Exactly(7.2),
			UsableShare: exactly(1)}} // 60 min
	cam.Set.RunsOn = "battery"
	r.Show.SetupMinutes, r.Show.RehearsalMinutes, r.Show.Minutes = 20, 10, 40
	p := view.Powers(verdict.As(r))
	require.Equal(t, []view.Phase{{Name: "setting up", From: 0, To: 20}, {Name: "rehearsal", From: 20, To: 30},
		{Name: "the show", From: 30, To: 70}}, p.Phases)
	require.Equal(t, 70.0, p.Total)
	b := p.Batteries[0]
	require.Equal(t, Snapped, b.State)
	require.InDelta(t, 60, b.Low, 1e-9)
	require.InDelta(t, 60, b.High, 1e-9)
	ways := map[string]view.PowerWay{}
	for _, w := range b.Ways {
		ways[w.Name] = w
		after, err := rig.Apply(r, w.Edits...)
		require.NoError(t, err)
		v := Rig(after)
		if l := limitIn(&v, "run-time:cam-0"); l != nil {
			require.Equal(t, l.State, w.State, w.Name)
		} else {
			require.Equal(t, Slack, w.State, w.Name)
		}
	}
	require.True(t, ways["Its own battery"].Now)
	require.Equal(t, Snapped, ways["Its own battery"].State)
	require.Equal(t, Slack, ways["Two batteries in a grip"].State, "120 min")
	require.Contains(t, ways["Two batteries in a grip"].Caution, "Lithium")
	require.Contains(t, ways["The mains, by a dummy battery"].Caution, "polarity")
	require.Equal(t, Slack, ways["Power by USB from a power bank of 20,000 mAh"].State)

	cam.Set.RunsOn = "mains"
	b = view.Powers(verdict.As(r)).Batteries[0]
	require.Equal(t, Slack, b.State)
	require.Contains(t, b.Says, "its battery alone would last 60 min")
}

// Draws that are better known never turn a firm verdict into another: power follows the law of the bounds.
func TestPowerNarrows(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		low := rapid.Float64Range(0.5, 3).Draw(t, "low")
		high := low + rapid.Float64Range(0, 3).Draw(t, "wide")
		a := rapid.Float64Range(low, high).Draw(t, "narrow low")
		b := rapid.Float64Range(a, high).Draw(t, "narrow high")
		state := func(lo, hi float64) State {
			r := hubbed(2, 1, "no")
			for i := range 2 {
				f := fact.Est((lo+hi)/2, lo, hi)
				r.Item(fmt.Sprintf("stick-%d", i)).Gear.Power = &gear.Power{DrawW: &f}
			}
			v := Rig(r)
			return limitIn(&v, "port-current:pc.p0").State
		}
		if wide := state(low, high); wide == Slack || wide == Snapped {
			require.Equal(t, wide, state(a, b))
		}
	})
}

// What placing sees of a device agrees with what the judge puts on its connection.
func TestStreamsAgreeWithLinks(t *testing.T) {
	for _, r := range []*rig.Rig{rigs.Loft(), rigs.LoftEven()} {
		v := Rig(r)
		for _, s := range rules.New(r, rig.NewWiring(r)).Run().Devices() {
			it := &r.Items[s.Item]
			l := limitIn(&v, "link:"+it.ID+"."+it.Gear.Ports[s.Port].ID)
			at := slices.IndexFunc(s.Formats, func(f plans.DeviceFormat) bool { return f.Now })
			if l == nil || at < 0 {
				continue
			}
			f := s.Formats[at]
			if f.Fast >= 0 {
				require.InDelta(t, l.Load.Value, f.Fast, 1e-6, it.Label)
				require.InDelta(t, l.Load.High, f.FastWorst, 1e-6, it.Label)
			}
			for _, o := range s.Formats {
				require.GreaterOrEqual(t, o.FastWorst, o.Fast, o.Name)
			}
		}
	}
}

// A bank's stated share counts, an unstated one is 0.35 to 1 and asked by its age. 20,000 mAh at 3.65 V are 73 Wh, ×
// 0.85 = 62.05 of a new one; with the camera's own 7.2 V × 1000 mAh × 0.9 = 6.48 Wh at 6 W they are 685.3 min, of half
// of the bank 375.05.
func TestShareOfABank(t *testing.T) {
	for name, c := range map[string]struct {
		share *fact.Fact
		low   float64
		high  float64
		state State
	}{
		"new":             {exactly(1), 685.3, 685.3, Slack},
		"half left":       {exactly(0.5), 375.05, 375.05, Taut},
		"nobody has said": {nil, 281.98, 685.3, Untested},
	} {
		r := plain()
		r.Show.SetupMinutes, r.Show.RehearsalMinutes, r.Show.Minutes = 60, 30, 270
		r.Items = append(r.Items, rig.Item{ID: "bank", Label: "Bank", Gear: gear.Gear{Kind: gear.PowerBank,
			Name: "Bank", Power: &gear.Power{SupplyW: exactly(18), Battery: &gear.BatteryPack{MAh: fact.Exactly(20000),
				Volts: fact.Exactly(3.65), UsableShare: c.share}}}})
		cam := r.Item("cam-0")
		cam.PoweredBy, cam.Gear.Power = "bank", &gear.Power{USB: "runs", DrawW: exactly(6),
			Battery: &gear.BatteryPack{MAh: fact.Exactly(1000), Volts: fact.Exactly(7.2), UsableShare: exactly(0.9)}}
		cam.Set.RunsOn = "usb"
		v := judge.Rig(r)
		l := v.Find(engine.ID{Rule: rules.RunTime, Place: "cam-0"})
		require.Equal(t, c.state, l.State, name)
		require.InDelta(t, c.low, l.Sure, 0.1, name)
		require.InDelta(t, c.high, l.Possible, 0.1, name)
	}
}

// bank adds a power bank of 3000 mAh with a socket of 18 W.
func bank(r *rig.Rig) {
	r.Items = append(r.Items, supplier("bank", gear.PowerBank, gear.Power{SupplyW: exactly(18),
		Battery: &gear.BatteryPack{MAh: fact.Exactly(3000), Volts: fact.Exactly(3.7), UsableShare: exactly(1)}}))
}

// Radio microphones and whatever else has a battery on the way to air: a pair of charged cells of 2000 mAh at 2.4 V,
// 0.85 usable, at 2 W lasts 122 min.
func TestOtherBatteries(t *testing.T) {
	for name, c := range map[string]struct {
		do    func(r *rig.Rig)
		place string
		want  State
		says  string
	}{
		"a transmitter that is measured": {func(r *rig.Rig) {
			m := r.Item("mic")
			m.Gear.Sound.Needs = "battery"
			m.Gear.Power = &gear.Power{DrawW: exactly(2), Battery: &gear.BatteryPack{MAh: fact.Exactly(2000),
				Volts: fact.Exactly(2.4), UsableShare: exactly(0.85)}}
		}, "mic", Snapped, "Mic needs 195 min; its battery gives 122 min."},
		"one nobody described": {func(r *rig.Rig) { r.Item("mic").Gear.Sound.Needs = "battery" }, "mic",
			Slack, "nobody has described its battery"},
		"a receiver nobody said anything of": {func(r *rig.Rig) { r.Item("box").Gear.Kind = gear.WirelessSound },
			"box", Untested, "Nobody has said what Box runs on"},
		"a receiver on the mains": {func(r *rig.Rig) {
			r.Item("box").Gear.Kind, r.Item("box").Set = gear.WirelessSound, &rig.Set{RunsOn: "mains"}
		}, "box", Slack, "runs on the mains"},
		"a laptop off the mains": {func(r *rig.Rig) {
			r.Item("pc").Set = &rig.Set{RunsOn: "battery"}
			r.Item("pc").Gear.Power = &gear.Power{DrawW: exactly(60),
				Battery: &gear.BatteryPack{MAh: fact.Exactly(5000), Volts: fact.Exactly(11.4),
					UsableShare: exactly(0.9)}}
		}, "pc", Snapped, "its battery gives 51.3 min"},
		// 3000 mAh × 3.7 V × 0.85 are 9.435 Wh: 113.2 min at 5 W, and 0.072 Wh of its own.
		"an interface on a bank": {func(r *rig.Rig) {
			bank(r)
			box := r.Item("box")
			box.PoweredBy, box.Gear.Power = "bank", &gear.Power{USB: "runs", DrawW: exactly(5),
				Battery: &gear.BatteryPack{MAh: fact.Exactly(10), Volts: fact.Exactly(7.2), UsableShare: exactly(1)}}
		}, "box", Snapped, "Box needs 195 min; bank and its own battery give 114 min."},
		"a monitor on a bank, nothing known of it": {func(r *rig.Rig) {
			bank(r)
			r.Items = append(r.Items, rig.Item{ID: "mon", Label: "Monitor", PoweredBy: "bank",
				Gear: gear.Gear{Kind: gear.Monitor, Name: "Monitor"}})
		}, "mon", Untested, "Monitor needs 195 min; bank and its own battery give"},
		"a receiver by USB, from nothing named": {func(r *rig.Rig) {
			r.Item("box").Gear.Kind, r.Item("box").Set = gear.WirelessSound, &rig.Set{RunsOn: "usb"}
		}, "box", Untested, "gets 0 W from nothing named"},
	} {
		r := heard(func(r *rig.Rig, _ *rig.Sound) { c.do(r) })
		r.Show.SetupMinutes, r.Show.RehearsalMinutes, r.Show.Minutes = 60, 15, 120
		v := judge.Rig(r)
		l := v.Find(engine.ID{Rule: rules.RunTime, Place: c.place})
		require.NotNil(t, l, name)
		require.Equal(t, c.want, l.State, name)
		require.Contains(t, v.Word(l).Says, c.says, name)
		require.False(t, slices.ContainsFunc(v.Unjudged, func(n engine.NotJudged) bool { return n.Ref == "bank" }),
			"%s: the bank", name)
	}
}
