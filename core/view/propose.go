package view

import (
	"slices"
	"strings"

	"eventether/core/advise"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/verdict"
)

// proposed words the choices nobody has made.
func (t *teller) proposed() Proposed {
	p := &t.v.Proposed
	out := Proposed{Choices: make([]Proposal, len(p.Choices)), Edits: p.Edits(), Proven: p.Proven}
	for i := range p.Choices {
		c := &p.Choices[i]
		out.Choices[i] = Proposal{c.Kind, c.Of, c.Port, say.Sentence(t.orders([]*verdict.Proposal{c})), c.Edit}
	}
	out.Words = t.allProposed()
	return out
}

// allProposed is every proposal in one sentence, what is alike said once.
func (t *teller) allProposed() string {
	var groups [][]*verdict.Proposal
	at := map[string]int{}
	for i := range t.v.Proposed.Choices {
		c := &t.v.Proposed.Choices[i]
		same := string(c.Kind)
		if c.Kind != verdict.ProposeSocket { // each its own, said in one breath
			same += t.choice(c)
		}
		k, ok := at[same]
		if !ok {
			k = len(groups)
			at[same] = k
			groups = append(groups, nil)
		}
		groups[k] = append(groups[k], c)
	}
	rank := []verdict.ProposalKind{verdict.ProposeMode, verdict.ProposeSocket, verdict.ProposeDeliver,
		verdict.ProposePower, verdict.ProposeBitrate, verdict.ProposeCall}
	var parts []string
	for _, kind := range rank {
		for _, g := range groups {
			if g[0].Kind == kind {
				parts = append(parts, t.orders(g))
			}
		}
	}
	if len(parts) == 0 {
		return ""
	}
	return say.Sentence(and(parts)) + "."
}

// choice is what a proposal chooses, in words.
func (t *teller) choice(c *verdict.Proposal) string {
	switch c.Kind {
	case verdict.ProposeMode:
		return plans.ModeText(c.Edit.Mode)
	case verdict.ProposeDeliver:
		d := c.Edit.Deliver
		return string(d.Format) + " " + picture.SizeName(d.Width, d.Height)
	case verdict.ProposeBitrate:
		return say.Number(c.Edit.Send.VideoKbps.Value)
	}
	return c.Edit.Word
}

// orders says what to do for proposals that choose the same.
func (t *teller) orders(of []*verdict.Proposal) string {
	names := make([]string, len(of))
	dummies := false
	for i, c := range of {
		names[i] = c.Of
		if it := t.v.Item(c.Of); it != nil {
			names[i] = it.Label
			if slices.ContainsFunc(of, func(o *verdict.Proposal) bool {
				return o.Of == c.Of && o.Port != c.Port
			}) { // two sockets of one thing
				for k := range it.Gear.Ports {
					if port := &it.Gear.Ports[k]; port.ID == c.Port {
						names[i] = it.Label + " (" + rig.PortName(port) + ")"
					}
				}
			}
			dummies = dummies || it.Gear.Power != nil && it.Gear.Power.Mains == gear.MainsDummy
		}
	}
	who := list(alike(names))
	switch c := of[0]; c.Kind {
	case verdict.ProposeSocket:
		return t.plugs(of, names)
	case verdict.ProposeMode:
		return lang.Text("set %s to %s", who, t.choice(c))
	case verdict.ProposeDeliver:
		return lang.Text("take %s from %s", t.choice(c), who)
	case verdict.ProposeBitrate:
		if t.v.Show.Program.Kind != "encoder" { // nobody sets it there
			return lang.Text("count on %s kb/s to %s", t.choice(c), who)
		}
		return lang.Text("send %s kb/s to %s", t.choice(c), who)
	case verdict.ProposeCall:
		return lang.Text("count %s as a call with one person", plans.ProgramName(t.v.Show.Program))
	}
	if dummies {
		return lang.Text("run %s from the mains by a dummy battery (right voltage and polarity, from a maker you can name; about %s each where there is none)",
			who, advise.Dummy(t.v.Rig).String())
	}
	return lang.Text("run %s from the mains", who)
}

// plugs says which plug goes where: "put Stick 1 into back 1 and Stick 2 into back 2 of Desktop".
func (t *teller) plugs(of []*verdict.Proposal, names []string) string {
	const most = 3
	var parts []string
	host := ""
	for i, c := range of {
		it, p := t.v.Rig.Port(c.Edit.Socket)
		if it == nil || p == nil {
			continue
		}
		if i == 0 {
			host = it.ID
		} else if it.ID != host {
			host = ""
		}
	}
	for i, c := range of {
		it, p := t.v.Rig.Port(c.Edit.Socket)
		switch {
		case it == nil || p == nil:
		case len(of) > most+1 && i >= most:
			parts = append(parts, lang.Text("%s more as the board shows", say.Number(float64(len(of)-most))))
		case host != "":
			parts = append(parts, lang.Text("%s into %s", names[i], rig.PortName(p)))
		default:
			parts = append(parts, lang.Text("%s into %s of %s", names[i], rig.PortName(p), it.Label))
		}
		if len(parts) > most && len(of) > most+1 {
			break
		}
	}
	if host != "" {
		return lang.Text("put %s of %s", and(parts), t.v.Item(host).Label)
	}
	return lang.Text("put %s", and(parts))
}

// alike says a name that several things have once: "two things called Camera".
func alike(names []string) []string {
	out := []string{}
	for i, n := range names {
		if slices.Contains(names[:i], n) {
			continue
		}
		of := 0
		for _, o := range names {
			if o == n {
				of++
			}
		}
		if of > 1 {
			n = lang.Text("%s called %s", say.Count(of, "thing", "things"), n)
		}
		out = append(out, n)
	}
	return out
}

// list names a few and counts the rest: "Camera 1 to Camera 4" is for people, not for us to guess.
func list(names []string) string {
	const most = 4
	if len(names) > most {
		return lang.Text("%s and %s more", say.List(names[:most-1]), say.Number(float64(len(names)-most+1)))
	}
	return and(names)
}

// and joins words as one says them.
func and(words []string) string {
	if len(words) < 2 {
		return strings.Join(words, "")
	}
	return lang.Text("%s and %s", say.List(words[:len(words)-1]), words[len(words)-1])
}

// finding words a finding; of several that are the same thing, it says so once.
func (t *teller) finding(f *advise.Finding) Finding {
	out := Finding{State: f.State, Over: f.Over, Members: make([]Member, len(f.Members))}
	for i := range f.Members {
		l := &t.limits[t.place(f.Members[i].Result)]
		out.Members[i] = Member{l.ID, l.Says, f.Members[i].Fixes, f.Members[i].Eases, f.Members[i].Result.Lacks}
	}
	if f.Question != nil {
		out.Question = f.Question.Path
	}
	out.Says = t.together(f, out.Members)
	return out
}

// together says what several limits are, in one line.
func (t *teller) together(f *advise.Finding, members []Member) string {
	if len(members) == 1 {
		return members[0].Says
	}
	first := f.Members[0].Result
	same := !slices.ContainsFunc(f.Members, func(m advise.Member) bool { return m.Result.ID.Rule != first.ID.Rule })
	many := first.ID.Rule.Many
	if same && many != "" && f.State.Severity() >= 2 {
		var of []*rig.Item
		for i := range f.Members {
			if it := t.v.Item(f.Members[i].Result.About()); it != nil && !slices.Contains(of, it) {
				of = append(of, it)
			}
		}
		if len(of) == len(members) {
			return kinds(of) + ": " + lang.Text(many) + "."
		}
	}
	if q := f.Question; q != nil && !same {
		what := q.Ask
		if len(q.Alike) > 0 {
			what += " " + lang.Text("And the same of %s.", list(labels(q.Alike)))
		}
		return lang.Text("%s hang on one answer: %s", say.Sentence(say.Count(len(members), "limit", "limits")), what)
	}
	return lang.Text("%s, and %s alike.", strings.TrimSuffix(members[0].Says, "."), say.Count(len(members)-1, "more",
		"more"))
}

func labels(alike []advise.Alike) []string {
	out := make([]string, len(alike))
	for i := range alike {
		out[i] = alike[i].Label
	}
	return out
}

// kinds counts things by what they are: "Three cameras".
func kinds(of []*rig.Item) string {
	one, many := "source", "sources"
	kind := of[0].Gear.Kind
	if !slices.ContainsFunc(of, func(it *rig.Item) bool { return it.Gear.Kind != kind }) {
		if n, ok := kindWords[kind]; ok {
			one, many = n[0], n[1]
		}
	} else if slices.ContainsFunc(of, func(it *rig.Item) bool { return !it.IsSource() }) {
		one, many = "device", "devices"
	}
	return say.Sentence(say.Count(len(of), one, many))
}

var kindWords = map[gear.Kind][2]string{gear.Camera: {"camera", "cameras"}, gear.Phone: {"phone", "phones"},
	gear.Webcam: {"webcam", "webcams"}, gear.Capture: {"capture device", "capture devices"},
	gear.Computer: {"computer", "computers"}, gear.Hub: {"hub", "hubs"}, gear.Console: {"console", "consoles"},
	gear.Switcher: {"switcher", "switchers"}}
