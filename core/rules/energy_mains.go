package rules

import (
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/power"
	"eventether/core/rig"
	"eventether/core/say"
)

// MainsCaution stands beside every figure of the mains.
const MainsCaution = "Mains work, fixed wiring and loads near a circuit's rating: follow the local electrical code and ask a licensed electrician. Keep mains and drinks apart; one strip into another is not allowed in many places."

var outletSource = practice("Σ (W ÷ power factor); a continuous load stays under the planning ceiling of a rating")

var Strip = rule(Rule{
	Name:    "strip",
	Asks:    "Does a strip carry what hangs on it?",
	Sum:     "Σ W ÷ power factor ≤ rating in A × mains voltage",
	Sense:   limit.AtMost,
	Unit:    "VA",
	Over:    limit.Dark,
	Subject: ThePower,
	Source:  outletSource,
	Example: "2000 VA on a strip of 10 A at 230 V (2300 VA): 87 %, taut.",
	Judge:   Judging{OnRig: judgeOutlets},
})

var Nested = rule(Rule{
	Name:    "nested",
	Asks:    "Does one strip hang on another?",
	Sense:   limit.Fits,
	Over:    limit.Care,
	Subject: ThePower,
	Source:  outletSource,
	Example: "A strip in a strip is not allowed in many places: taut.",
})

var UPSW = rule(Rule{
	Name:    "ups-w",
	Asks:    "Does a UPS give the watts of what hangs on it?",
	Sum:     "Σ W ≤ its W",
	Sense:   limit.AtMost,
	Unit:    "W",
	Over:    limit.Dark,
	Subject: ThePower,
	Source:  outletSource,
	Example: "350 W on a UPS of 300 W: it trips, and runs for no time at all.",
})

var UPSVA = rule(Rule{
	Name:    "ups-va",
	Asks:    "Does a UPS give the volt-amperes of what hangs on it?",
	Sum:     "Σ W ÷ power factor ≤ its VA",
	Sense:   limit.AtMost,
	Unit:    "VA",
	Over:    limit.Dark,
	Subject: ThePower,
	Source:  outletSource,
	Example: "300 W at a power factor of 0.6 are 500 VA: taut on a UPS of 500 VA.",
})

var Circuit = rule(Rule{
	Name:    "circuit",
	Asks:    "Does the circuit carry everything on the mains?",
	Sum:     "Σ W ÷ power factor of everything on the mains ≤ rating in A × mains voltage",
	Sense:   limit.AtMost,
	Unit:    "VA",
	Over:    limit.Dark,
	Subject: ThePower,
	Source:  practice("Stay under the planning ceiling of the circuit's rating; wiring codes set the rule in each place"),
	Example: "1500 VA on a circuit of 16 A at 230 V (3680 VA): 41 %, slack.",
	Judge:   Judging{OnRig: judgeCircuit},
})

// upsEfficiency is the share of a UPS battery that reaches its outlets [estimate].
var upsEfficiency = fact.Est(0.85, 0.75, 0.92)

func mainsVolts(p *Pass) limit.Fact {
	standIn := fact.Fact{Value: 230, Low: 207, High: 253, From: fact.Standard} // [standard: IEC 60038, 230 V ± 10 %]
	switch p.Show.MainsHz {
	case 60:
		standIn = fact.Fact{Value: 120, Low: 108, High: 126,
			From: fact.Standard} // [memory: ANSI C84.1, 120 V −10 +5 %]
	case 0:
		standIn = fact.Fact{Value: 230, Low: 108, High: 253, From: fact.Estimate} // nobody has said where
	}
	return limit.Stated(limit.At("show/mainsVolts", ""), "V", p.Show.MainsVolts, standIn)
}

// addWatts adds the draw of an item to a limit; apparent divides it by its power factor.
func addWatts(p *Pass, l *Result, it *rig.Item, apparent bool) {
	if it.Gear.Kind == gear.Strip {
		return
	}
	l.Where = append(l.Where, it.ID)
	t := limit.Times(1, l.Let(plans.DrawFact(it)))
	if apparent {
		var factor *fact.Fact
		if it.Gear.Power != nil {
			factor = it.Gear.Power.PowerFactor
		}
		t = t.Per(l.Let(limit.Stated(limit.At("items/ID/power/powerFactor", it.ID), "", factor,
			gear.DefaultPowerFactor)))
	}
	l.Loads = append(l.Loads, limit.Load{Item: it.ID, Term: t})
}

// wattSums words the loads watts has added.
func wattSums(w *Words) {
	for i := range w.Loads {
		drawSum(w, i, false)
		if under := w.Result.Loads[i].Term.Under(); under != 0 {
			w.Loads[i].Sum += w.T(" ÷ %s", say.Number(w.Result.Fact(under).Value))
		}
	}
}

// judgeOutlets judges strips and UPSs against what hangs on them.
func judgeOutlets(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Items {
		if k := p.Items[i].Gear.Kind; k == gear.Strip || k == gear.UPS {
			judgeOutlet(p, own, i)
		}
	}
}

func judgeOutlet(p *Pass, own *Rule, at int) {
	it := &p.Items[at]
	items := p.Wiring.Outlet(at)
	if len(items) == 0 {
		return
	}
	pw := gear.Power{}
	if it.Gear.Power != nil {
		pw = *it.Gear.Power
	}
	outlet := func(what func(w *Words) string) func(*Words) {
		return func(w *Words) {
			wattSums(w)
			w.What, w.Sum, w.Caution = what(w), lang.Text("as rated"), MainsCaution
			w.Says = say.Sentence(w.T("%s on %s take %s of %s.", say.Count(len(w.Loads), "thing", "things"), it.Label,
				w.LoadText(), w.LimitText()))
		}
	}
	if it.Gear.Kind == gear.Strip {
		l := p.Roomy(2*len(items)+2, len(items))
		l.Stage, l.Shared, l.Where = plans.Camera, true, append(p.Mem.IDs.Room(len(items)+1), it.ID)
		for _, i := range items {
			addWatts(p, &l, &p.Items[i], true)
		}
		l.Caps = p.CapAt(limit.Times(1, l.Let(limit.Stated(limit.At("items/ID/power/ratedA", it.ID), "A", pw.RatedA,
			gear.DefaultStripA)), l.Let(mainsVolts(p))))
		l.Say = outlet(func(w *Words) string { return w.T("Load on %s", it.Label) })
		p.Add(nil, own, it.ID, &l)
		for _, i := range items {
			if nested := &p.Items[i]; nested.Gear.Kind == gear.Strip {
				p.Add(nil, Nested, it.ID, &Result{Limit: limit.Limit{Outcomes: limit.Soft}, Stage: plans.Camera,
					Shared: true, Where: []string{it.ID, nested.ID}, Say: func(w *Words) {
						w.What, w.Caution = lang.Text("A strip in a strip"), MainsCaution
						w.Says = w.T("%s hangs on %s: one strip into another is not allowed in many places.",
							nested.Label,
							it.Label)
					}})
				break
			}
		}
		return
	}
	side := func(rule *Rule, field, unit string, gives *fact.Fact, standIn fact.Fact, apparent bool) {
		l := p.Roomy(2*len(items)+1, len(items))
		l.Stage, l.Shared, l.Where = plans.Camera, true, append(p.Mem.IDs.Room(len(items)+1), it.ID)
		for _, i := range items {
			addWatts(p, &l, &p.Items[i], apparent)
		}
		l.Caps = p.CapAt(limit.Times(1, l.Let(limit.Stated(limit.At(field, it.ID), unit, gives, standIn))))
		words := outlet(func(w *Words) string { return w.T("Load on %s, %s", it.Label, unit) })
		l.Say = func(w *Words) {
			words(w)
			if r := w.Result; unit == "W" && pw.Battery != nil && r.State.Holds() {
				// over, it trips: then it runs for nothing
				eff, b := upsEfficiency, pw.Battery
				if pw.Efficiency != nil {
					eff = *pw.Efficiency
				}
				w.Says += w.T(" When the mains fails it runs for %s.",
					say.Span(power.RunMinutes(power.WattHours(b.MAh.Low, b.Volts.Low), eff.Low, r.Load.High),
						power.RunMinutes(power.WattHours(b.MAh.High, b.Volts.High), eff.High, r.Load.Low), "min"))
			}
		}
		p.Add(nil, rule, it.ID, &l)
	}
	side(UPSW, "items/ID/power/limitW", "W", pw.LimitW, fact.Est(300, 100, 2000), false)
	side(UPSVA, "items/ID/power/limitVA", "VA", pw.LimitVA, fact.Est(500, 150, 3000), true)
}

// hangsOnMains tells whether an item hangs on the mains: surely, or possibly.
func hangsOnMains(p *Pass, it *rig.Item) (surely, possibly bool) {
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
		switch plans.RunsOn(p.Rig, it) {
		case "mains":
			return true, true
		case "":
			return false, mains != gear.MainsNo
		}
		return false, false
	case it.PoweredBy != "":
		giver := p.Item(it.PoweredBy)
		on := giver != nil && (giver.Gear.Kind == gear.Strip || giver.Gear.Kind == gear.UPS ||
			giver.Gear.Kind == gear.Supply)
		return on, on
	}
	switch k {
	case gear.Capture, gear.Webcam, gear.Drive, gear.Microphone, gear.AudioInterface, gear.Card, gear.WirelessSound:
		return mains == gear.MainsYes,
			mains == gear.MainsYes // on their socket or slot, unless the sheet says otherwise
	case gear.Hub:
		surely, possibly := it.Gear.BusPowered()
		return !possibly, !surely
	}
	return mains == gear.MainsYes, mains != gear.MainsNo
}

// judgeCircuit judges everything on the mains against the rating of the circuit, which may be anything usual until
// somebody has said it.
func judgeCircuit(p *Pass, own *Rule, _ *Walk) {
	if p.Untouched(ID{Rule: own}, func(it *rig.Item) bool { _, possibly := hangsOnMains(p, it); return possibly }) {
		return
	}
	n := 0
	for i := range p.Items {
		if _, possibly := hangsOnMains(p, &p.Items[i]); possibly {
			n++
		}
	}
	l := p.Roomy(3*n+2, n)
	l.Stage, l.Shared, l.Where = plans.Camera, true, append(p.Mem.IDs.Room(n+1), "show")
	n = 0
	for i := range p.Items {
		it := &p.Items[i]
		surely, possibly := hangsOnMains(p, it)
		if !possibly {
			continue
		}
		n++
		at := len(l.Loads)
		addWatts(p, &l, it, true)
		if !surely && len(l.Loads) > at {
			l.Loads[at].Term = l.Loads[at].Term.With(l.Let(limit.Fact{Value: 1, High: 1, From: fact.Estimate,
				Word: it.ID}))
		}
	}
	if len(l.Loads) == 0 {
		return
	}
	l.Caps = p.CapAt(limit.Times(1, l.Let(limit.Stated(limit.At("show/circuitA", ""), "A", p.Show.CircuitA,
		gear.DefaultCircuitA)), l.Let(mainsVolts(p))))
	l.Say = func(w *Words) {
		wattSums(w)
		for i := range w.Result.Facts {
			if f := &w.Result.Facts[i]; f.IsZero() {
				w.Facts[i].Name = w.T("whether %s hangs on the mains", w.LabelOf(f.Word))
			}
		}
		w.What, w.Sum, w.Caution = lang.Text("Load on the circuit"), lang.Text("rating × mains voltage"), MainsCaution
		w.Says = say.Sentence(w.T("%s on the mains take %s of %s.", say.Count(n, "thing", "things"), w.LoadText(),
			w.LimitText()))
	}
	p.Add(nil, own, "", &l)
}
