package judge

import (
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/power"
	"eventether/core/rig"
)

const mainsCaution = "Mains work, fixed wiring and loads near a circuit's rating: follow the local electrical code and ask a licensed electrician. Keep mains and drinks apart; one strip into another is not allowed in many places."

// onOutlet lists the items that hang on a strip or UPS, through others too; each once, whatever a rig that was not
// checked says.
func (p *pass) onOutlet(of int) (out []int) {
	if p.outlets == nil {
		p.outlets = map[string][]int{}
		for i := range p.Items {
			if by := p.Items[i].PoweredBy; by != "" {
				p.outlets[by] = append(p.outlets[by], i)
			}
		}
	}
	seen := map[int]bool{of: true}
	for at := -1; at < len(out); at++ {
		from := of
		if at >= 0 {
			from = out[at]
			if k := p.Items[from].Gear.Kind; k != gear.Strip && k != gear.UPS && k != gear.Supply {
				continue
			}
		}
		for _, i := range p.outlets[p.Items[from].ID] {
			if !seen[i] {
				seen[i] = true
				out = append(out, i)
			}
		}
	}
	return out
}

// upsEfficiency is the share of a UPS battery that reaches its outlets [estimate].
var upsEfficiency = fact.Est(0.85, 0.75, 0.92)

func (p *pass) voltsBasis() Basis {
	standIn := fact.Fact{Value: 230, Low: 207, High: 253, From: fact.Standard} // [standard: IEC 60038, 230 V ± 10 %]
	switch p.Show.MainsHz {
	case 60:
		standIn = fact.Fact{Value: 120, Low: 108, High: 126, From: fact.Standard} // [memory: ANSI C84.1, 120 V −10 +5 %]
	case 0:
		standIn = fact.Fact{Value: 230, Low: 108, High: 253, From: fact.Estimate} // nobody has said where
	}
	return basis("show/mainsVolts", "mains voltage", "V", p.Show.MainsVolts, standIn, p.ask("Which voltage has the mains %s?", "of this place", "230 V where it is 50 Hz, as a rule, 120 V where it is 60 Hz.", 1))
}

// watts adds the draws of items to a limit; apparent divides each by its power factor.
func (p *pass) watts(l *Limit, items []int, apparent bool) {
	for _, i := range items {
		it := &p.Items[i]
		if it.Gear.Kind == gear.Strip {
			continue
		}
		l.Where = append(l.Where, it.ID)
		l.Facts = append(l.Facts, p.drawBasis(it))
		n := int16(len(l.Facts) - 1)
		ld := Load{Item: it.ID, Label: it.Label, term: times(1, n)}
		if !p.quiet {
			ld.Sum = p.say("%s W", p.span(l.Facts[n].Low, l.Facts[n].High, ""))
		}
		if apparent {
			var stated *fact.Fact
			if it.Gear.Power != nil {
				stated = it.Gear.Power.PowerFactor
			}
			l.Facts = append(l.Facts, basis(p.path("items", it.ID, "power/powerFactor"), p.say("power factor of %s", it.Label), "", stated, gear.DefaultPowerFactor,
				p.ask("Which power factor has %s?", it.Label, "On its plate, or by a mains meter.", 5)))
			ld.term = ld.term.per(n + 1)
			if !p.quiet {
				ld.Sum += p.say(" ÷ %s", num(l.Facts[n+1].Value))
			}
		}
		l.Loads = append(l.Loads, ld)
	}
}

// outlet judges a strip or a UPS against what hangs on it. Handbook 4.3.
func (p *pass) outlet(at int) {
	it := &p.Items[at]
	items := p.onOutlet(at)
	if len(items) == 0 {
		return
	}
	pw := gear.Power{}
	if it.Gear.Power != nil {
		pw = *it.Gear.Power
	}
	source := Source{fact.Practice, "Handbook 4.3: Σ (W ÷ power factor); a continuous load stays under the planning ceiling of a rating"}
	if it.Gear.Kind == gear.Strip {
		l := Limit{ID: "strip:" + it.ID, Rule: "strip", Unit: "VA", Stage: AtCamera, Shared: true, Where: []string{it.ID}, What: p.say("Load on %s", it.Label), Source: source, Caution: mainsCaution}
		p.watts(&l, items, true)
		l.Facts = append(l.Facts, basis(p.path("items", it.ID, "power/ratedA"), p.say("rating of %s", it.Label), "A", pw.RatedA, gear.DefaultStripA,
			p.ask("How many amperes may %s carry?", it.Label, "It is printed on it.", 1)), p.voltsBasis())
		n := int16(len(l.Facts))
		l.caps = p.terms.of(times(1, n-2, n-1))
		p.keepOutlet(l, it)
		if nested := p.nested(items); nested != nil {
			p.add(nil, &Limit{ID: "nested:" + it.ID, Rule: "nested", Sense: Fits, outcomes: soft, Stage: AtCamera, Shared: true, Where: []string{it.ID, nested.ID}, What: "A strip in a strip",
				Says: p.say("%s hangs on %s: one strip into another is not allowed in many places.", nested.Label, it.Label), Source: source, Caution: mainsCaution})
		}
		return
	}
	for _, side := range []struct {
		rule, unit string
		limit      *fact.Fact
		standIn    fact.Fact
		apparent   bool
	}{{"ups-w", "W", pw.LimitW, fact.Est(300, 100, 2000), false}, {"ups-va", "VA", pw.LimitVA, fact.Est(500, 150, 3000), true}} {
		l := Limit{ID: side.rule + ":" + it.ID, Rule: side.rule, Unit: side.unit, Stage: AtCamera, Shared: true, Where: []string{it.ID}, What: p.say("Load on %s, %s", it.Label, side.unit), Source: source, Caution: mainsCaution}
		p.watts(&l, items, side.apparent)
		name := map[string]string{"W": "power/limitW", "VA": "power/limitVA"}[side.unit]
		l.Facts = append(l.Facts, basis(p.path("items", it.ID, name), p.say("what %s gives", it.Label), side.unit, side.limit, side.standIn, p.ask("How many "+side.unit+" does %s give?", it.Label, "It is printed on it.", 1)))
		l.caps = p.terms.of(times(1, int16(len(l.Facts)-1)))
		kept := p.keepOutlet(l, it)
		if side.unit == "W" && pw.Battery != nil && !p.quiet && kept.State.Holds() { // over, it trips: then it runs for nothing
			eff := upsEfficiency
			if pw.Efficiency != nil {
				eff = *pw.Efficiency
			}
			wh := func(mAh, v float64) float64 { return power.WattHours(mAh, v) }
			b := pw.Battery
			kept.Says += p.say(" When the mains fails it runs for %s.", p.span(power.RunMinutes(wh(b.MAh.Low, b.Volts.Low), eff.Low, kept.Load.High), power.RunMinutes(wh(b.MAh.High, b.Volts.High), eff.High, kept.Load.Low), "min"))
		}
	}
}

func (p *pass) nested(items []int) *rig.Item {
	for _, i := range items {
		if p.Items[i].Gear.Kind == gear.Strip {
			return &p.Items[i]
		}
	}
	return nil
}

func (p *pass) keepOutlet(l Limit, it *rig.Item) *Limit {
	if !p.quiet {
		l.LimitSum = "as rated"
	}
	kept := p.add(nil, &l)
	if !p.quiet {
		kept.Says = p.say("%s on %s take %s of %s.", count(len(kept.Loads), "thing", "things"), it.Label, p.span(kept.Load.Low, kept.Load.High, kept.Unit), p.span(kept.Sure, kept.Possible, kept.Unit))
		kept.Says = sentenceCase(kept.Says)
	}
	return kept
}

// hangsOnMains tells whether an item hangs on the mains: surely, or possibly.
func (p *pass) hangsOnMains(it *rig.Item) (surely, possibly bool) {
	k := it.Gear.Kind
	mains := gear.MainsUnknown
	if it.Gear.Power != nil && it.Gear.Power.Mains != "" {
		mains = it.Gear.Power.Mains
	}
	switch {
	case k == gear.Strip || k == gear.Battery || k == gear.PowerBank:
		return false, false
	case k == gear.UPS || k == gear.Computer && it.IsHost():
		return true, true
	case k == gear.Camera || k == gear.Phone:
		switch p.runs(it) {
		case "mains":
			return true, true
		case "":
			return false, mains != gear.MainsNo
		}
		return false, false
	case it.PoweredBy != "":
		giver := p.Item(it.PoweredBy)
		on := giver != nil && (giver.Gear.Kind == gear.Strip || giver.Gear.Kind == gear.UPS || giver.Gear.Kind == gear.Supply)
		return on, on
	}
	switch k {
	case gear.Capture, gear.Webcam, gear.Drive, gear.Microphone, gear.AudioInterface, gear.Card, gear.WirelessSound:
		return mains == gear.MainsYes, mains == gear.MainsYes // on their socket or slot, unless the sheet says otherwise
	case gear.Hub:
		surely, possibly := it.Gear.BusPowered()
		return !possibly, !surely
	}
	return mains == gear.MainsYes, mains != gear.MainsNo
}

// circuit judges everything on the mains against the rating of the circuit, which may be anything usual until somebody
// has said it.
func (p *pass) circuit() {
	l := Limit{ID: "circuit", Rule: "circuit", Unit: "VA", Stage: AtCamera, Shared: true, Where: []string{"show"}, What: "Load on the circuit", Caution: mainsCaution,
		Source: Source{fact.Practice, "Handbook 4.3: stay under the planning ceiling of the circuit's rating; wiring codes set the rule in each place"}}
	var items []int
	for i := range p.Items {
		it := &p.Items[i]
		surely, possibly := p.hangsOnMains(it)
		if !possibly {
			continue
		}
		items = append(items, i)
		at := len(l.Loads)
		p.watts(&l, []int{i}, true)
		if !surely && len(l.Loads) > at {
			l.Loads[at].term = l.Loads[at].term.with(int16(len(l.Facts)))
			l.Facts = append(l.Facts, Basis{Name: p.say("whether %s hangs on the mains", it.Label), Low: 0, Value: 1, High: 1, From: fact.Estimate})
		}
	}
	if len(l.Loads) == 0 {
		return
	}
	l.Facts = append(l.Facts, basis("show/circuitA", "rating of the circuit", "A", p.Show.CircuitA, gear.DefaultCircuitA,
		p.ask("How many amperes is the circuit %s rated for?", "of this place", "Printed on its breaker or fuse.", 3)), p.voltsBasis())
	n := int16(len(l.Facts))
	l.caps = p.terms.of(times(1, n-2, n-1))
	kept := p.add(nil, &l)
	if !p.quiet {
		kept.LimitSum = "rating × mains voltage"
		kept.Says = sentenceCase(p.say("%s on the mains take %s of %s.", count(len(items), "thing", "things"), p.span(kept.Load.Low, kept.Load.High, "VA"), p.span(kept.Sure, kept.Possible, "VA")))
	}
}
