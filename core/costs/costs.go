// Package costs answers: what does this rig cost, what is still to be bought, and what does a cure cost? Money is
// decimal, with its currency; amounts in different currencies are never added.
package costs

import (
	"cmp"
	"encoding/csv"
	"slices"
	"strings"

	"eventether/core/advise"
	"eventether/core/engine"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/runsheet"
	"eventether/core/say"
	"eventether/core/verdict"
)

// Costs are the costs of one rig.
type Costs struct {
	Lines  []Line  `json:"lines" doc:"What is in the rig, the dearest first"`
	Totals []Total `json:"totals" doc:"One for each currency"`
	// Unpriced are things nobody has said a price of: the totals are without them.
	Unpriced []string `json:"unpriced"`
	Unbought []string `json:"unbought" doc:"What is to be bought of them: what is left of the budget is left before it"`
	Cures    []Cure   `json:"cures" doc:"What a cure costs, finding by finding, the cheapest fix of each"`
	All      *Bill    `json:"all,omitempty" doc:"The smallest set of moves after which the rig holds"`
}

// Line is one thing.
type Line struct {
	Item  string      `json:"item"`
	Label string      `json:"label"`
	Name  string      `json:"name" doc:"What it is"`
	Owned string      `json:"owned" enum:"owned,borrowed,to-buy,not-said"`
	Price *gear.Money `json:"price,omitempty"`
	Shelf bool        `json:"shelf" doc:"The price is the shelf's: the rig states none"`
}

// Prices tells what a thing costs by the shelf; nil for what it has no price of.
type Prices func(*rig.Item) *gear.Money

// Total is a sum in one currency.
type Total struct {
	Currency string      `json:"currency"`
	All      gear.Money  `json:"all"`
	Owned    gear.Money  `json:"owned"`
	ToBuy    gear.Money  `json:"toBuy"`
	NotSaid  gear.Money  `json:"notSaid"`
	Borrowed gear.Money  `json:"borrowed" doc:"What is lent, at its price; in no other sum"`
	Angle    *gear.Money `json:"angle,omitempty" doc:"All of it for each angle"`
	Proposed *gear.Money `json:"proposed,omitempty" doc:"What the proposals buy, and the moves after which the rig holds, estimated"`
	With     *gear.Money `json:"with,omitempty" doc:"All of it with what is proposed"`
	Left     *gear.Money `json:"left,omitempty" doc:"Of the budget, after what is to be bought and what is proposed"`
	Short    *gear.Money `json:"short,omitempty" doc:"What the budget lacks for them"`
}

// Cure is the cheapest cure of one finding.
type Cure struct {
	What    string      `json:"what" doc:"What is wrong"`
	State   limit.State `json:"state" enum:"slack,taut,kinked,untested,snapped"`
	Move    string      `json:"move"`
	Cost    *gear.Money `json:"cost,omitempty" doc:"Estimated; none when nothing has to be bought"`
	Minutes float64     `json:"minutes"`
}

// Bill is what a set of moves costs.
type Bill struct {
	Moves   []string   `json:"moves"`
	Cost    gear.Money `json:"cost"`
	Minutes float64    `json:"minutes"`
}

// Of adds up a verdict's rig, with what advice found to cure it. What the rig states no price of has the shelf's, where
// prices are given.
func Of(v *verdict.Verdict, a *advise.Advice, prices Prices) *Costs {
	c := &Costs{Lines: []Line{}, Totals: []Total{}, Unpriced: []string{}, Unbought: []string{}, Cures: []Cure{}}
	in := func(currency string) *Total {
		at := slices.IndexFunc(c.Totals, func(t Total) bool { return t.Currency == currency })
		if at < 0 {
			zero := gear.Money{Currency: currency}
			at, c.Totals = len(c.Totals), append(c.Totals, Total{Currency: currency, All: zero, Owned: zero,
				ToBuy: zero, NotSaid: zero, Borrowed: zero})
		}
		return &c.Totals[at]
	}
	for i := range v.Given.Items {
		it := &v.Given.Items[i]
		l := Line{Item: it.ID, Label: it.Label, Name: it.Gear.Name, Owned: "not-said", Price: it.Price}
		if l.Price == nil && prices != nil {
			l.Price = prices(it)
			l.Shelf = l.Price != nil
		}
		switch {
		case it.Borrowed:
			l.Owned = "borrowed"
		case it.Owned == nil:
		case *it.Owned:
			l.Owned = "owned"
		default:
			l.Owned = "to-buy"
		}
		c.Lines = append(c.Lines, l)
		if l.Price == nil {
			c.Unpriced = append(c.Unpriced, it.Label)
			if l.Owned == "to-buy" {
				c.Unbought = append(c.Unbought, it.Label)
			}
			continue
		}
		t, price := in(l.Price.Currency), l.Price.Amount
		if l.Owned == "borrowed" { // it goes back, and costs nothing
			t.Borrowed.Amount += price
			continue
		}
		t.All.Amount += price
		switch l.Owned {
		case "owned":
			t.Owned.Amount += price
		case "to-buy":
			t.ToBuy.Amount += price
		default:
			t.NotSaid.Amount += price
		}
	}
	for _, m := range proposed(v, a) {
		t := in(m.Currency)
		t.Proposed = &gear.Money{Amount: amountOr0(t.Proposed) + m.Amount, Currency: m.Currency}
	}
	slices.SortStableFunc(c.Lines, func(a, b Line) int { return cmp.Compare(amount(b.Price), amount(a.Price)) })
	slices.Sort(c.Unpriced)
	for i := range c.Totals {
		t := &c.Totals[i]
		if n := angles(v); n > 0 {
			t.Angle = &gear.Money{Amount: (t.All.Amount + gear.Amount(n)/2) / gear.Amount(n), Currency: t.Currency}
		}
		if t.Proposed != nil {
			t.With = &gear.Money{Amount: t.All.Amount + t.Proposed.Amount, Currency: t.Currency}
		}
		if b := v.Show.Budget; b != nil && b.Currency == t.Currency {
			if left := b.Amount - t.ToBuy.Amount - amountOr0(t.Proposed); left >= 0 {
				t.Left = &gear.Money{Amount: left, Currency: t.Currency}
			} else {
				t.Short = &gear.Money{Amount: -left, Currency: t.Currency}
			}
		}
	}
	slices.SortFunc(c.Totals, func(a, b Total) int { return cmp.Compare(a.Currency, b.Currency) })
	if a != nil {
		c.cures(v, a)
	}
	return c
}

// proposed is what has to be bought for the choices that are proposed, and for the moves after which the rig holds.
func proposed(v *verdict.Verdict, a *advise.Advice) (out []gear.Money) {
	add := func(m *gear.Money) {
		if m != nil && m.Amount > 0 {
			out = append(out, *m)
		}
	}
	for i := range v.Proposed.Choices {
		if c := &v.Proposed.Choices[i]; c.Kind == verdict.ProposePower {
			if it := v.Item(c.Of); it != nil && it.Gear.Power != nil && it.Gear.Power.Mains == gear.MainsDummy {
				add(advise.Dummy(v.Rig))
			}
		}
	}
	if a != nil && a.Cure != nil {
		add(&a.Cure.Cost)
	}
	return out
}

func amountOr0(m *gear.Money) gear.Amount { return max(0, amount(m)) }

func amount(m *gear.Money) gear.Amount {
	if m == nil {
		return -1
	}
	return m.Amount
}

// angles is how many pictures there are to cut between: those that get to the computer, each once.
func angles(v *verdict.Verdict) int {
	n := 0
	for i := range v.Feeds {
		if f := &v.Feeds[i]; !f.Branch && f.Bytes != nil {
			n++
		}
	}
	return n
}

// cures lists the cheapest fix of everything that is over, or bent.
func (c *Costs) cures(v *verdict.Verdict, a *advise.Advice) {
	for i := range a.Findings {
		for k := range a.Findings[i].Members {
			m := &a.Findings[i].Members[k]
			if s := m.Result.State; s != limit.Snapped && s != limit.Kinked {
				continue
			}
			best := -1
			for f := range m.Fixes {
				if best < 0 || costOf(&m.Fixes[f]) < costOf(&m.Fixes[best]) {
					best = f
				}
			}
			if best < 0 {
				continue
			}
			fix := &m.Fixes[best]
			c.Cures = append(c.Cures, Cure{What: v.Word(m.Result).What, State: m.Result.State, Move: fix.Label,
				Cost: fix.Cost, Minutes: fix.Minutes})
		}
	}
	if a.Cure != nil && len(a.Cure.Moves) > 0 {
		b := &Bill{Cost: a.Cure.Cost, Minutes: a.Cure.Minutes}
		for i := range a.Cure.Moves {
			b.Moves = append(b.Moves, a.Cure.Moves[i].Label)
		}
		c.All = b
	}
}

func costOf(m *advise.Move) gear.Amount {
	if m.Cost == nil {
		return 0
	}
	return m.Cost.Amount
}

// CSV is the shopping list: what is to be bought, then what nobody has said is owned, then what the cure buys.
func (c *Costs) CSV(cell func(string) string) string {
	var b strings.Builder
	w := csv.NewWriter(&b)
	put := func(row ...string) {
		for i := range row {
			row[i] = cell(row[i])
		}
		_ = w.Write(row) // into memory
	}
	put("what", "name", "why", "amount", "currency")
	for _, state := range []string{"to-buy", "not-said"} {
		for _, l := range c.Lines {
			if l.Owned == state {
				why := lang.Text("to buy")
				if state == "not-said" {
					why = lang.Text("nobody has said whether it is owned")
				}
				amount, currency := "", ""
				if l.Price != nil {
					amount, currency = l.Price.Amount.String(), l.Price.Currency
				}
				put(l.Label, l.Name, why, amount, currency)
			}
		}
	}
	if c.All != nil && c.All.Cost.Amount > 0 {
		put(lang.Text("For the cure"), strings.Join(c.All.Moves, "; "), lang.Text("so that it holds, estimated"),
			c.All.Cost.Amount.String(), c.All.Cost.Currency)
	}
	w.Flush()
	return b.String()
}

// Side is one of two rigs side by side.
type Side struct {
	Name    string      `json:"name"`
	State   limit.State `json:"state" enum:"slack,taut,kinked,untested,snapped"`
	Picture []string    `json:"picture" doc:"What is kept of the picture: as it arrives, as it is composed, as it is sent"`
	Totals  []Total     `json:"totals" doc:"With everything proposed"`
	Angles  int         `json:"angles"`
	Worst   string      `json:"worst" doc:"The limit that counts and stands worst, with the least room"`
	Room    float64     `json:"room" doc:"Its load over its limit, at worst"`
	Plugs   int         `json:"plugs" doc:"Plugs to move for everything that is proposed"`
	SetUp   float64     `json:"setUp" doc:"Minutes of set-up alone"`
	Flaws   int         `json:"flaws"`
	Cannot  []string    `json:"cannot" doc:"What it cannot do: what is over a limit, each in a line"`
	Unknown int         `json:"unknown" doc:"Limits that could break it and are not known"`
}

// SideOf sums a rig up for a comparison, with what advice found to cure it.
func SideOf(v *verdict.Verdict, a *advise.Advice, prices Prices) Side {
	s := Side{Name: v.Given.Name, State: v.State, Picture: pictures(v), Totals: Of(v, a, prices).Totals,
		Angles: angles(v), Plugs: plugs(v, a), SetUp: runsheet.Of(v, nil, runsheet.Options{}).Plan(1).Minutes,
		Flaws: v.Count(limit.Kinked), Cannot: []string{}}
	var worst *engine.Result
	for i := range v.Results {
		l := &v.Results[i]
		if l.State == limit.Untested && l.Over.Breaks() {
			s.Unknown++
		}
		if !l.Over.Breaks() || l.Sense == limit.Fits || !verdict.ShowsRoom(l) || l.Ratio.High >= 100 {
			continue
		}
		if worst == nil || cmp.Or(cmp.Compare(l.State.Severity(), worst.State.Severity()),
			cmp.Compare(l.Ratio.High, worst.Ratio.High)) > 0 {
			worst = l
		}
	}
	if worst != nil {
		s.Room, s.Worst = worst.Ratio.High, say.Sentence(v.Word(worst).What)
	}
	said := map[*engine.Rule]bool{}
	for _, state := range []limit.State{limit.Snapped, limit.Kinked} {
		for i := range v.Results {
			if l := &v.Results[i]; l.State == state && l.Over != limit.Care && !said[l.ID.Rule] &&
				len(s.Cannot) < mostCannot {
				said[l.ID.Rule] = true // one of its kind stands for them
				s.Cannot = append(s.Cannot, v.Word(l).Says)
			}
		}
	}
	return s
}

// mostCannot is how many lines a side has for what it cannot do.
const mostCannot = 6

// pictures says what is kept of the picture on its way.
func pictures(v *verdict.Verdict) []string {
	out := []string{}
	say := func(line string) {
		if !slices.Contains(out, line) {
			out = append(out, line)
		}
	}
	name := func(w, h int, r picture.Rate) string { return lang.Text("%s at %s", picture.SizeName(w, h), r.Name()) }
	for i := range v.Feeds {
		if b := v.Feeds[i].Bytes; !v.Feeds[i].Branch && b != nil && !b.Unknown {
			say(lang.Text("arrives %s", name(b.Width, b.Height, b.Rate)))
		}
	}
	say(lang.Text("composed %s", name(v.Show.Programme.Width, v.Show.Programme.Height, v.Show.Programme.Rate)))
	for i := range v.Show.Destinations {
		d := &v.Show.Destinations[i].Send
		say(lang.Text("sent %s", name(d.Width, d.Height, d.Rate)))
	}
	return out
}

// plugs counts the plugs that are moved by what is proposed and by the cure, each once.
func plugs(v *verdict.Verdict, a *advise.Advice) int {
	moved := map[string]bool{}
	count := func(edits []rig.Edit) {
		for i := range edits {
			switch e := &edits[i]; e.Do {
			case "plug":
				moved[e.Lead+"."+e.End] = true
			case "lay":
				moved[e.NewLead.ID+".from"], moved[e.NewLead.ID+".to"] = true, true
			}
		}
	}
	count(v.Proposed.Edits())
	if a != nil && a.Cure != nil {
		for i := range a.Cure.Moves {
			count(a.Cure.Moves[i].Edits)
		}
	}
	return len(moved)
}
