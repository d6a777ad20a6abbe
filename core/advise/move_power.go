// What a technician would do with power: spares, a bank, a supply, the mains, a hub that feeds, a larger UPS.

package advise

import (
	"math"
	"slices"
	"strconv"

	"eventether/core/engine"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/power"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/say"
	"eventether/core/work"
)

// hubBetween puts a hub with a supply of its own between a device and a socket that does not give it enough.
func (u *universe) hubBetween(ids map[string]bool) {
	for at := range u.Leads {
		l := &u.Leads[at]
		fi, fp, ti, tp := u.g.LeadEnds(at)
		if !ids[l.ID] || fi < 0 || u.Items[fi].Gear.Ports[fp].Direction != gear.Upstream ||
			u.Items[ti].Gear.Ports[tp].Connector != gear.USBA {
			continue
		}
		dev, it, port := &u.Items[fi], &u.Items[ti], &u.Items[ti].Gear.Ports[tp]
		if r := u.p.Find(engine.ID{Rule: rules.PortCurrent, Place: it.ID + "." + port.ID}); r == nil ||
			r.State != limit.Snapped && r.State != limit.Untested || dev.Gear.Kind == gear.Hub ||
			dev.Gear.Kind == gear.Dock {
			continue
		}
		taken := func(id string) bool { return u.Item(id) != nil || u.Lead(id) != nil }
		id := rig.FreshID("powered-hub", taken)
		lead := rig.FreshID(id+"-up", taken)
		g := gear.PoweredHub.Gear
		hub, length := rig.Item{ID: id, Label: lang.Text("Powered hub"), Gear: g}, fact.Exactly(0.5)
		u.add(move("way", "hub:"+l.ID, l.ID).
			slotted("plug:"+l.ID).
			touching(l.ID, it.ID).
			taking(u.takes(work.Swap)).
			costing(u.money(gear.PoweredHub.Price)).
			proposing().
			saying(func() (string, string) {
				return lang.Text("Put a hub with a supply of its own between %s and %s", dev.Label,
					rig.PortName(port)), lang.Text("a powered hub before %s", dev.Label)
			}).
			doing(rig.Edit{Do: "add", NewItem: &hub}, rig.Edit{Do: "plug", Lead: l.ID, End: "to", Socket: id + ".p1"},
				rig.Edit{Do: "lay", NewLead: &rig.Lead{ID: lead, From: id + ".up", To: it.ID + "." + port.ID,
					Grade: "usb-5g", LengthM: length}}))
	}
}

// spare takes one charged battery more to the show: changing it is a gap in the picture.
func (u *universe) spare(it *rig.Item) {
	u.bank(it)
	pw := it.Gear.Power
	if pw == nil || pw.Battery == nil || !it.IsSource() || it.Set != nil && it.Set.RunsOn == "mains" {
		return
	}
	n := 1
	if it.Set != nil {
		n += it.Set.Spares
	}
	have := n - 1
	for _, n := range slices.Compact([]int{n, max(n, u.packsFor(it)-1)}) { // one more, and as many as it takes
		if n > 6 {
			continue
		}
		more := n - have
		u.add(move("power", "spare:"+it.ID+":"+strconv.Itoa(n), it.ID).
			slotted("runs-on:" + it.ID).
			taking(u.takes(work.Spare) * float64(more)).
			costing(u.money(priceSpare * gear.Amount(more))).
			givingUp(lang.Text("the picture while a battery is changed")).
			worse(20 * more).
			saying(func() (string, string) {
				return lang.Text("Take %s for %s", say.Count(more, "more charged battery", "more charged batteries"),
						it.Label),
					lang.Text("%s for %s", say.Count(more, "spare battery", "spare batteries"), it.Label)
			}).
			doing(rig.Edit{Do: "word", Path: "items/" + it.ID + "/set/spares", Word: strconv.Itoa(n)}))
	}
}

// bank takes a second bank like the one a device runs on, to be changed when that is empty: with a battery of its own
// the device runs through the change.
func (u *universe) bank(it *rig.Item) {
	bank := u.Item(it.PoweredBy)
	if bank == nil || bank.Gear.Kind != gear.PowerBank || !it.IsSource() || it.Set == nil || it.Set.RunsOn != "usb" ||
		bank.Set != nil && bank.Set.Spares > 2 {
		return
	}
	n := 1
	if bank.Set != nil {
		n += bank.Set.Spares
	}
	m := move("power", "bank:"+bank.ID+":"+strconv.Itoa(n), bank.ID).
		slotted("runs-on:"+bank.ID).
		touching(bank.ID, it.ID).
		taking(u.takes(work.Spare)).
		costing(u.money(priceBank)).
		worse(4).
		saying(func() (string, string) {
			return lang.Text("Take one more bank like %s, and change over before it is empty: in the break, if there is one",
				bank.Label), lang.Text("one more bank like %s", bank.Label)
		}).
		doing(rig.Edit{Do: "word", Path: "items/" + bank.ID + "/set/spares", Word: strconv.Itoa(n)})
	if it.Gear.Power == nil || it.Gear.Power.Battery == nil {
		m.GivesUp, m.loss = lang.Text("the picture while the bank is changed"), 20
	}
	if !slices.ContainsFunc(u.out, func(o Move) bool { return o.ID == m.ID }) { // others may hang on it too
		u.add(m)
	}
}

// packsFor is how many of its batteries carry a device through the show at worst.
func (u *universe) packsFor(it *rig.Item) int {
	pack, usable := it.Gear.Power.Battery, gear.DefaultUsable
	if pack.UsableShare != nil {
		usable = *pack.UsableShare
	}
	one := power.RunMinutes(power.WattHours(pack.MAh.Low, pack.Volts.Low), usable.Low, it.Gear.Draws().High)
	if one <= 0 {
		return 99
	}
	return int(math.Ceil((u.Show.SetupMinutes + u.Show.RehearsalMinutes + u.Show.Minutes) / one))
}

// ups takes the load off a UPS that carries too much: a larger one, or things that can do without it hung elsewhere.
func (u *universe) ups(it *rig.Item) {
	pw := it.Gear.Power
	if it.Gear.Kind != gear.UPS || pw == nil || pw.LimitW == nil && pw.LimitVA == nil {
		return
	}
	if pw.LimitW == nil || pw.LimitW.High < largeUPSWatts {
		g, power := it.Gear, *pw
		watts, apparent := fact.Exactly(largeUPSWatts), fact.Exactly(largeUPSVA)
		power.LimitW, power.LimitVA, power.Battery = &watts, &apparent, nil
		g.Power, g.Name = &power, lang.Text("UPS of 1000 W, 1500 VA")
		u.add(move("swap", "ups:"+it.ID, it.ID).
			slotted("swap:" + it.ID).
			taking(u.takes(work.Swap)).
			costing(u.money(priceUPS)).
			saying(func() (string, string) {
				return lang.Text("Replace %s by one of 1000 W and 1500 VA", it.Label),
					lang.Text("a larger UPS for %s", it.Label)
			}).
			doing(rig.Edit{Do: "swap", Item: it.ID, Gear: &g}))
	}
	for i := range u.Items {
		o := &u.Items[i]
		if o.PoweredBy != it.ID || o.IsHost() {
			continue // the computer is what it is for
		}
		u.add(move("power", "off:"+it.ID+":"+o.ID, o.ID).
			slotted("powered-by:"+o.ID).
			touching(o.ID, it.ID).
			taking(u.takes(work.Plug)).
			givingUp(lang.Text("%s when the mains fails", o.Label)).
			worse(15).
			saying(func() (string, string) {
				return lang.Text("Hang %s on another outlet than %s", o.Label, it.Label),
					lang.Text("%s off %s", o.Label, it.Label)
			}).
			doing(rig.Edit{Do: "powered-by", Item: o.ID}))
	}
}

// poweredHub gives a hub that lives on its socket a supply: a hub of the same sockets with one.
func (u *universe) poweredHub(it *rig.Item) {
	g := it.Gear
	pw := gear.Power{}
	if g.Power != nil {
		pw = *g.Power
	}
	supply, volts := fact.Est(25, 20, 36), fact.Est(12, 12, 12)
	pw.SelfPowered, pw.SupplyW, pw.SupplyVolts = "yes", &supply, &volts
	g.Power, g.Name = &pw, lang.Text("Powered hub")
	u.add(move("swap", "powered:"+it.ID, it.ID).
		slotted("swap:" + it.ID).
		taking(u.takes(work.Swap)).
		costing(u.money(pricePoweredHub)).
		saying(func() (string, string) {
			return lang.Text("Replace %s by a hub with a supply of its own", it.Label),
				lang.Text("%s becomes a powered hub", it.Label)
		}).
		doing(rig.Edit{Do: "swap", Item: it.ID, Gear: &g}))
}

// Powering is a way a camera can be powered, as edits.
type Powering struct {
	Key     string // battery, grip, mains, usb-supply, usb-bank
	Name    string
	Caution string
	Price   gear.Amount // what has to be bought [estimate]
	Edits   []rig.Edit
}

// dummyCaution stands beside a dummy battery.
const dummyCaution = "Dummy batteries and adapters: right voltage and polarity for that camera, from a maker you can name."

// Powerings are the ways a camera can be powered.
func Powerings(r *rig.Rig, it *rig.Item) []Powering {
	runs := func(word string) rig.Edit { return rig.Edit{Do: "runs-on", Item: it.ID, Word: word} }
	care := lang.Text(rules.BatteryCaution)
	out := []Powering{{"battery", lang.Text("Its own battery"), care, 0, []rig.Edit{runs("battery")}}}
	if it.Gear.Kind == gear.Camera { // nobody makes a grip for a phone
		out = append(out, Powering{"grip", lang.Text("Two batteries in a grip"), care, 0, []rig.Edit{runs("grip")}})
	}
	pw := it.Gear.Power
	if pw == nil {
		return out
	}
	switch pw.Mains {
	case gear.MainsYes:
		out = append(out, Powering{"mains", lang.Text("The mains, by its adapter"), "", 0, []rig.Edit{runs("mains")}})
	case gear.MainsDummy:
		out = append(out, Powering{"mains", lang.Text("The mains, by a dummy battery"), lang.Text(dummyCaution),
			priceDummy, []rig.Edit{runs("mains")}})
	}
	if pw.USB == "no" {
		return out
	}
	bank := gear.Gear{Kind: gear.PowerBank, Name: lang.Text("Power bank"),
		Ports: []gear.Port{{ID: "out", Connector: gear.USBC, Direction: gear.Downstream,
			AllowsMA: &fact.Fact{Value: 3000, Low: 1500, High: 3000, From: fact.Estimate}}},
		Power: &gear.Power{Battery: &gear.BatteryPack{MAh: fact.Known(20000, fact.Estimate),
			Volts: fact.Known(3.65, fact.Practice), UsableShare: new(fact.Est(0.95, 0.9, 1))}}}
	supply := gear.Gear{Kind: gear.Supply, Name: lang.Text("USB supply"),
		Power: &gear.Power{SupplyW: &fact.Fact{Value: 15, Low: 12, High: 18, From: fact.Estimate}}}
	for _, g := range []struct {
		key, name string
		price     gear.Amount
		gear      gear.Gear
	}{{"usb-supply", lang.Text("Power by USB from a supply"), priceSupply, supply},
		{"usb-bank", lang.Text("Power by USB from a power bank of 20,000 mAh"), priceBank, bank}} {
		id := rig.FreshID(it.ID[:min(len(it.ID), 40)]+"-"+g.gear.Name, func(id string) bool {
			return r.Item(id) != nil
		})
		label := lang.Text("%s for %s", g.gear.Name, it.Label)
		if runes := []rune(label); len(runes) > 120 {
			label = string(runes[:120])
		}
		out = append(out, Powering{g.key, g.name, care, g.price,
			[]rig.Edit{{Do: "add", NewItem: &rig.Item{ID: id, Label: label, Gear: g.gear}},
				{Do: "powered-by", Item: it.ID, Word: id}, runs("usb")}})
	}
	return out
}

// feed offers to power by USB what would run dry, from a supply or a bank that has to be bought.
func (u *universe) feed(it *rig.Item) {
	if !it.IsSource() || it.Gear.Power == nil || it.Gear.Power.USB != "runs" && it.Gear.Power.USB != "charges" {
		return
	}
	if l := u.p.Find(engine.ID{Rule: rules.RunTime, Place: it.ID}); l == nil || l.State != limit.Snapped {
		return
	}
	if by := u.Item(it.PoweredBy); by != nil && by.Gear.Kind == gear.PowerBank {
		return // whoever has taken a bank is where the mains is not: one more is offered
	}
	for _, w := range Powerings(u.Rig, it) {
		if w.Key != "usb-supply" && w.Key != "usb-bank" {
			continue
		}
		bank := w.Key == "usb-bank"
		u.add(move("power", w.Key+":"+it.ID, it.ID).
			slotted("runs-on:" + it.ID).
			taking(u.takes(work.Power)).
			costing(u.money(w.Price)).
			worse(3).
			saying(func() (string, string) {
				if bank {
					return lang.Text("Run %s by USB from a power bank of 20,000 mAh", it.Label),
						lang.Text("%s on a power bank", it.Label)
				}
				return lang.Text("Run %s by USB from a supply on the mains", it.Label),
					lang.Text("%s on a USB supply", it.Label)
			}).
			doing(w.Edits...))
	}
}

// onBattery offers its battery, with as many charged ones as the show takes, to what is meant to run on the mains and
// cannot.
func (u *universe) onBattery(it *rig.Item) {
	pw := it.Gear.Power
	if pw == nil || pw.Battery == nil || !it.IsSource() || it.Set == nil || it.Set.RunsOn != "mains" ||
		pw.Mains != gear.MainsNo {
		return
	}
	packs := u.packsFor(it)
	more := max(0, packs-1-it.Set.Spares)
	if more > 6 {
		return
	}
	m := move("power", "runs-on:"+it.ID+":battery", it.ID).
		slotted("runs-on:" + it.ID).
		taking(u.takes(work.Power)).
		saying(func() (string, string) {
			return lang.Text("Run %s on its battery", it.Label), lang.Text("%s on its battery", it.Label)
		}).
		doing(rig.Edit{Do: "runs-on", Item: it.ID, Word: "battery"})
	if packs > 1 {
		m.Minutes += u.takes(work.Spare) * float64(packs-1)
		m.GivesUp, m.loss = lang.Text("the picture while a battery is changed"), 20*(packs-1)
		if more > 0 {
			m.Cost = u.money(priceSpare * gear.Amount(more))
			m.Edits = append(m.Edits, rig.Edit{Do: "word", Path: "items/" + it.ID + "/set/spares",
				Word: strconv.Itoa(packs - 1)})
		}
		m.say = func() (string, string) {
			return lang.Text("Run %s on its battery, with %s to change to", it.Label,
					say.Count(packs-1, "charged battery", "charged batteries")), lang.Text("%s on %s", it.Label,
					say.Count(packs, "battery", "batteries"))
		}
	}
	u.add(m)
}

// A larger UPS, as they are sold [practice].
const (
	largeUPSWatts = 1000
	largeUPSVA    = 1500
)
