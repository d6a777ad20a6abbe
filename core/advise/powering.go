package advise

import (
	"strconv"

	"eventether/core/engine"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/say"
	"eventether/core/work"
)

// Powering is a way a camera can be powered, as edits. Handbook 4.2.
type Powering struct {
	Key     string // battery, grip, mains, usb-supply, usb-bank
	Name    string
	Caution string
	Price   gear.Amount // what has to be bought [estimate]
	Edits   []rig.Edit
}

// dummyCaution stands beside a dummy battery. Handbook 4.5.
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
		out = append(out, Powering{"mains", lang.Text("The mains, by a dummy battery"), lang.Text(dummyCaution), priceDummy, []rig.Edit{runs("mains")}})
	}
	if pw.USB == "no" {
		return out
	}
	bank := gear.Gear{Kind: gear.PowerBank, Name: lang.Text("Power bank"), Ports: []gear.Port{{ID: "out", Connector: gear.USBC, Direction: gear.Downstream, AllowsMA: &fact.Fact{Value: 3000, Low: 1500, High: 3000, From: fact.Estimate}}},
		Power: &gear.Power{Battery: &gear.BatteryPack{MAh: fact.Known(20000, fact.Estimate), Volts: fact.Known(3.65, fact.Practice), UsableShare: new(fact.Est(0.95, 0.9, 1))}}}
	supply := gear.Gear{Kind: gear.Supply, Name: lang.Text("USB supply"), Power: &gear.Power{SupplyW: &fact.Fact{Value: 15, Low: 12, High: 18, From: fact.Estimate}}}
	for _, g := range []struct {
		key, name string
		price     gear.Amount
		gear      gear.Gear
	}{{"usb-supply", lang.Text("Power by USB from a supply"), priceSupply, supply}, {"usb-bank", lang.Text("Power by USB from a power bank of 20,000 mAh"), priceBank, bank}} {
		id := rig.FreshID(it.ID[:min(len(it.ID), 40)]+"-"+g.gear.Name, func(id string) bool { return r.Item(id) != nil })
		label := lang.Text("%s for %s", g.gear.Name, it.Label)
		if runes := []rune(label); len(runes) > 120 {
			label = string(runes[:120])
		}
		out = append(out, Powering{g.key, g.name, care, g.price, []rig.Edit{{Do: "add", NewItem: &rig.Item{ID: id, Label: label, Gear: g.gear}}, {Do: "powered-by", Item: it.ID, Word: id}, runs("usb")}})
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
		u.add(Move{ID: w.Key + ":" + it.ID, Kind: "power", Of: it.ID, Slot: "runs-on:" + it.ID, touches: []string{it.ID}, Minutes: u.takes(work.Power), Cost: u.money(w.Price), loss: 3,
			Edits: w.Edits, say: func() (string, string) {
				if bank {
					return lang.Text("Run %s by USB from a power bank of 20,000 mAh", it.Label), lang.Text("%s on a power bank", it.Label)
				}
				return lang.Text("Run %s by USB from a supply on the mains", it.Label), lang.Text("%s on a USB supply", it.Label)
			}})
	}
}

// onBattery offers its battery, with as many charged ones as the show takes, to what is meant to run on the mains and cannot.
func (u *universe) onBattery(it *rig.Item) {
	pw := it.Gear.Power
	if pw == nil || pw.Battery == nil || !it.IsSource() || it.Set == nil || it.Set.RunsOn != "mains" || pw.Mains != gear.MainsNo {
		return
	}
	packs := u.packsFor(it)
	more := max(0, packs-1-it.Set.Spares)
	if more > 6 {
		return
	}
	m := Move{ID: "runs-on:" + it.ID + ":battery", Kind: "power", Of: it.ID, Slot: "runs-on:" + it.ID, touches: []string{it.ID}, Minutes: u.takes(work.Power), Edits: []rig.Edit{{Do: "runs-on", Item: it.ID, Word: "battery"}},
		say: func() (string, string) {
			return lang.Text("Run %s on its battery", it.Label), lang.Text("%s on its battery", it.Label)
		}}
	if packs > 1 {
		m.Minutes += u.takes(work.Spare) * float64(packs-1)
		m.GivesUp, m.loss = lang.Text("the picture while a battery is changed"), 20*(packs-1)
		if more > 0 {
			m.Cost = u.money(priceSpare * gear.Amount(more))
			m.Edits = append(m.Edits, rig.Edit{Do: "word", Path: "items/" + it.ID + "/set/spares", Word: strconv.Itoa(packs - 1)})
		}
		m.say = func() (string, string) {
			return lang.Text("Run %s on its battery, with %s to change to", it.Label, say.Count(packs-1, "charged battery", "charged batteries")), lang.Text("%s on %s", it.Label, say.Count(packs, "battery", "batteries"))
		}
	}
	u.add(m)
}
