package view

import (
	"slices"

	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/look"
	"eventether/core/rules"
	"eventether/core/say"
	"eventether/core/verdict"
)

// Together is what opening several devices at once did to each of them.
type Together struct {
	Rows     []TogetherRow `json:"rows"`
	Shares   []Share       `json:"shares" doc:"What the plan says of what several of them share, the worst first"`
	Sentence string        `json:"sentence"`
	Agrees   string        `json:"agrees" doc:"How that and what was measured go together; empty where there is nothing to hold against each other"`
}

// TogetherRow is one device alone, and beside the others.
type TogetherRow struct {
	Label    string      `json:"label"`
	Alone    string      `json:"alone"`
	Beside   string      `json:"beside"`
	Stumbles look.Answer `json:"stumbles" enum:"found,clear,cannot-tell"`
}

// Share is what several of the devices share by the plan: a hub, a controller, a slot, and whether it carries them all.
type Share struct {
	What   string      `json:"what"`
	Of     []string    `json:"of" doc:"Labels of those of them that are on it"`
	Figure string      `json:"figure" doc:"Its load of what it carries"`
	Says   string      `json:"says"`
	State  limit.State `json:"state" enum:"slack,taut,kinked,snapped,untested"`
}

// TogetherOf compares devices alone with the same ones all open at once, in one order. A device stumbles where it gives a
// frame in a hundred less, or loses one in a hundred more, than alone; what the browser dropped is not its doing, and
// where it dropped one in fifty the device cannot be told from it [estimate]. of names what each of them is of, as looking is
// told, in the same order: what they share by the plan of v stands beside it. v is nil where they are of no one rig.
func TogetherOf(v *verdict.Verdict, of []string, alone, beside []*Device) *Together {
	t := &Together{Rows: []TogetherRow{}, Shares: sharesOf(v, of)}
	var bad, busy []string
	for i := range alone {
		label := alone[i].Label
		row := TogetherRow{Label: label, Alone: alone[i].paceWords(), Beside: beside[i].paceWords(), Stumbles: look.CannotTell}
		switch a, b := alone[i].pace(), beside[i].pace(); {
		case a == nil: // nothing to hold it against
		case b == nil || b.delivered() < 0.99*a.delivered() || b.missing() > a.missing()+0.01:
			row.Stumbles = look.Found
			bad = append(bad, label)
		case b.dropped*50 > b.Frames:
			busy = append(busy, label)
		default:
			row.Stumbles = look.Clear
		}
		t.Rows = append(t.Rows, row)
	}
	switch {
	case len(bad) > 0:
		t.Sentence = lang.Text("All open at once, %s %s not keep up: what they share (a hub, a bus, the processor) carries less than all of them want.",
			say.List(bad), verbDo(len(bad)))
	case len(busy) > 0:
		t.Sentence = lang.Text("All open at once, the browser itself drops frames of %s: the devices cannot be told apart from that.",
			say.List(busy))
	case slices.ContainsFunc(t.Rows, func(r TogetherRow) bool { return r.Stumbles == look.Clear }):
		t.Sentence = lang.Text("All open at once, each keeps its frames.")
	default:
		t.Sentence = lang.Text("Too little was seen to tell whether they hinder each other.")
	}
	t.agrees(len(bad), len(busy))
	return t
}

// sharesOf is what the plan says of what at least two of the pictures named share.
func sharesOf(v *verdict.Verdict, of []string) []Share {
	out := []Share{}
	if v == nil {
		return out
	}
	label := map[string]string{} // by the item whose stream a picture is
	for i := range v.Feeds {
		if f := &v.Feeds[i]; f.Bytes != nil && slices.Contains(of, f.ID) {
			label[f.Bytes.Owner.ID] = f.Source.Label
		}
	}
	for i := range v.Results {
		r := &v.Results[i]
		if r.ID.Rule != rules.Bus && r.ID.Rule != rules.WayUp && r.ID.Rule != rules.Slot {
			continue
		}
		var on []string
		for k := range r.Loads {
			if l := label[r.Loads[k].Item]; l != "" && !slices.Contains(on, l) {
				on = append(on, l)
			}
		}
		if len(on) < 2 {
			continue
		}
		w := v.Word(r)
		out = append(out, Share{say.Sentence(w.What), on, w.Figure(), w.Says, r.Counts()})
	}
	slices.SortStableFunc(out, func(a, b Share) int { return b.State.Severity() - a.State.Severity() })
	return out
}

// agrees says how the plan's word on what is shared and what was measured go together.
func (t *Together) agrees(bad, busy int) {
	if len(t.Shares) == 0 {
		if bad > 0 {
			t.Agrees = lang.Text("By the plan they share no hub, controller or slot: look whether they are plugged in as the rig says, and at the processor.")
		}
		return
	}
	seen := slices.ContainsFunc(t.Rows, func(r TogetherRow) bool { return r.Stumbles == look.Clear })
	switch holds := t.Shares[0].State; {
	case bad > 0 && holds.Severity() >= limit.Untested.Severity():
		t.Agrees = lang.Text("As the plan has it: %s.", lowered(t.Shares[0].Says))
	case bad > 0:
		t.Agrees = lang.Text("The plan has room for all of them: look whether they are plugged in where the rig says, at the format they really send, and at the processor.")
	case busy > 0 || !seen:
	case holds == limit.Snapped:
		t.Agrees = lang.Text("The plan says more than that is asked of what they share. Either they send less than planned (another size or format), or they are plugged in elsewhere: look at both before you trust it.")
	case holds == limit.Untested:
		t.Agrees = lang.Text("The plan could not tell; measured for as long as this, it carries them.")
	default:
		t.Agrees = lang.Text("As the plan has it.")
	}
}

// Stumbled takes into account that a device loses frames beside the others, though it does not alone: its step is not done.
func (l *Looked) Stumbled(row TogetherRow) {
	if row.Stumbles != look.Found {
		return
	}
	l.Passes.fails(lang.Text("beside the others it gives %s, alone %s: what they share carries less than all of them want", row.Beside, row.Alone))
}

func verbDo(n int) string {
	if n == 1 {
		return lang.Text("does")
	}
	return lang.Text("do")
}
