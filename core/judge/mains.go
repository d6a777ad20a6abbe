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
	seen := map[int]bool{of: true}
	var below func(of int)
	below = func(of int) {
		for i := range p.Items {
			if seen[i] || p.Items[i].PoweredBy != p.Items[of].ID {
				continue
			}
			seen[i] = true
			out = append(out, i)
			if k := p.Items[i].Gear.Kind; k == gear.Strip || k == gear.UPS || k == gear.Supply {
				below(i)
			}
		}
	}
	below(of)
	return out
}

// upsEfficiency is the share of a UPS battery that reaches its outlets [estimate].
var upsEfficiency = fact.Est(0.85, 0.75, 0.92)

func (p *pass) voltsBasis() Basis {
	standIn := fact.Fact{Value: 230, Low: 207, High: 253, From: fact.Standard} // [standard: IEC 60038, 230 V ± 10 %]
	if p.Show.MainsHz == 60 {
		standIn = fact.Fact{Value: 120, Low: 108, High: 126, From: fact.Standard} // [memory: ANSI C84.1, 120 V −10 +5 %]
	}
	return basis("show/mainsVolts", "mains voltage", "V", p.Show.MainsVolts, standIn, nil)
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
	source := Source{fact.Practice, "Handbook 4.3: Σ (W ÷ power factor); stay under 80 % of a rating for a continuous load"}
	if it.Gear.Kind == gear.Strip {
		l := Limit{ID: "strip:" + it.ID, Rule: "strip", Unit: "VA", Stage: AtCamera, Shared: true, Where: []string{it.ID}, What: p.say("Load on %s", it.Label), Source: source, Caution: mainsCaution}
		p.watts(&l, items, true)
		l.Facts = append(l.Facts, basis(p.path("items", it.ID, "power/ratedA"), p.say("rating of %s", it.Label), "A", pw.RatedA, fact.Est(10, 10, 16),
			p.ask("How many amperes may %s carry?", it.Label, "It is printed on it.", 1)), p.voltsBasis())
		n := int16(len(l.Facts))
		l.caps = p.terms.of(times(1, n-2, n-1))
		p.keepOutlet(l, it)
		if nested := p.nested(items); nested != nil {
			p.add(nil, Limit{ID: "nested:" + it.ID, Rule: "nested", Sense: Fits, outcomes: soft, Stage: AtCamera, Shared: true, Where: []string{it.ID, nested.ID}, What: "A strip in a strip",
				Says: p.say("%s hangs on %s: one strip into another is not allowed in many places.", nested.Label, it.Label), Source: source, Caution: mainsCaution})
		}
		return
	}
	for _, side := range []struct {
		rule, unit string
		limit      *fact.Fact
		standIn    fact.Fact
		apparent   bool
	}{{"ups-w", "W", pw.LimitW, fact.Est(300, 150, 600), false}, {"ups-va", "VA", pw.LimitVA, fact.Est(500, 300, 1000), true}} {
		l := Limit{ID: side.rule + ":" + it.ID, Rule: side.rule, Unit: side.unit, Stage: AtCamera, Shared: true, Where: []string{it.ID}, What: p.say("Load on %s, %s", it.Label, side.unit), Source: source, Caution: mainsCaution}
		p.watts(&l, items, side.apparent)
		name := map[string]string{"W": "power/limitW", "VA": "power/limitVA"}[side.unit]
		l.Facts = append(l.Facts, basis(p.path("items", it.ID, name), p.say("what %s gives", it.Label), side.unit, side.limit, side.standIn, p.ask("How many "+side.unit+" does %s give?", it.Label, "It is printed on it.", 1)))
		l.caps = p.terms.of(times(1, int16(len(l.Facts)-1)))
		kept := p.keepOutlet(l, it)
		if side.unit == "W" && pw.Battery != nil && !p.quiet {
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
	kept := p.add(nil, l)
	if !p.quiet {
		kept.Says = p.say("%s on %s take %s of %s.", count(len(kept.Loads), "thing", "things"), it.Label, p.span(kept.Load.Low, kept.Load.High, kept.Unit), p.span(kept.Sure, kept.Possible, kept.Unit))
		kept.Says = sentenceCase(kept.Says)
	}
	return kept
}

// circuit judges everything on the mains against the rating of the circuit, where somebody has said it.
func (p *pass) circuit() {
	if p.Show.CircuitA == nil {
		return
	}
	var items []int
	for i := range p.Items {
		it := &p.Items[i]
		k := it.Gear.Kind
		onMains := it.Gear.Power != nil && it.Gear.Power.Mains == gear.MainsYes || k == gear.Computer && it.IsHost() || it.Set != nil && it.Set.RunsOn == "mains" || it.PoweredBy != "" && k != gear.Strip
		if onMains && k != gear.Strip && k != gear.UPS {
			items = append(items, i)
		}
	}
	if len(items) == 0 {
		return
	}
	l := Limit{ID: "circuit", Rule: "circuit", Unit: "VA", Stage: AtCamera, Shared: true, Where: []string{"show"}, What: "Load on the circuit", Caution: mainsCaution,
		Source: Source{fact.Practice, "Handbook 4.3: stay under 80 % of the circuit's rating; wiring codes set the rule in each place"}}
	p.watts(&l, items, true)
	l.Facts = append(l.Facts, basis("show/circuitA", "rating of the circuit", "A", p.Show.CircuitA, fact.Fact{}, nil), p.voltsBasis())
	n := int16(len(l.Facts))
	l.caps = p.terms.of(times(1, n-2, n-1))
	kept := p.add(nil, l)
	if !p.quiet {
		kept.LimitSum = "rating × mains voltage"
		kept.Says = sentenceCase(p.say("%s on the mains take %s of %s.", count(len(items), "thing", "things"), p.span(kept.Load.Low, kept.Load.High, "VA"), p.span(kept.Sure, kept.Possible, "VA")))
	}
}
