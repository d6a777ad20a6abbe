// Package propose answers: which choices does a rig leave open, and what is best for each of them?
//
// A rig goes in; the rig with every open choice made comes out, and which they were. Choices that meet in a limit that
// does not hold are tried together (core/verdict).
package propose

import (
	"cmp"
	"slices"

	"eventether/core/engine"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/limit"
	"eventether/core/negotiate"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/verdict"
)

// mostTried bounds the whole rigs judged while choosing: some tens of milliseconds.
const mostTried = 400

// open is a choice with what it may be, the best for itself first.
type open struct {
	verdict.Proposal
	like    string // choices alike are better made alike
	options []option
}

// option is one thing a choice may be, and what the picture gives up with it; the first that differs decides.
type option struct {
	edit  rig.Edit
	rough float64 // of movement
	size  float64 // how far from the programme's
	loss  float64 // chroma, compression, traffic
	// what the computer has to do for it, to compare: pixels a second, more of them where it has to decode
	work float64
}

func (o *option) cmp(x *option) int {
	return cmp.Or(cmp.Compare(o.rough, x.rough), cmp.Compare(o.size, x.size), cmp.Compare(o.loss, x.loss))
}

// Complete makes the choices nobody has made: the best picture of each source that its way takes, the best picture of
// each device that its bus carries, the mains for what would run dry, a bitrate the destination takes. What has no
// trouble keeps the best for itself; choices that meet in one limit that does not hold are made together: all of them
// are tried where there are few, else they are bettered one by one, and that is then not proven.
func Complete(r *rig.Rig) (*rig.Rig, verdict.Proposed) {
	plugs, sure, tried := sockets(r)
	if len(plugs) > 0 { // first of all: what a bus carries decides what is taken from a device
		out := verdict.Proposed{Choices: plugs, Proven: sure, Tried: tried}
		with, err := rig.Apply(r, out.Edits()...)
		if err != nil {
			return r, verdict.Proposed{}
		}
		with, more := Complete(with)
		return with, verdict.Proposed{Choices: append(out.Choices, more.Choices...), Proven: out.Proven && more.Proven,
			Tried: out.Tried + more.Tried}
	}
	return pictures(r)
}

// pictures proposes what is left once every plug has its socket.
func pictures(r *rig.Rig) (*rig.Rig, verdict.Proposed) {
	out := verdict.Proposed{Proven: true}
	var modes []open
	for i := range r.Items {
		modes = outputs(modes, r, &r.Items[i])
	}
	if len(modes) == 0 && !mayBeOpen(r) {
		return r, out
	}
	chosen := make([]int, len(modes), len(modes)+4)
	now := apply(r, modes, chosen)
	all := modes
	var sure []rig.Edit // what needs no trial
	verdict.Look(now, func(v *verdict.Verdict) {
		all = append(modes, undecided(v)...)
		for i := range now.Items {
			if e, ok := power(v, &now.Items[i]); ok {
				out.Choices = append(out.Choices, verdict.Proposal{Kind: verdict.ProposePower, Of: now.Items[i].ID,
					Edit: e})
				sure = append(sure, e)
			}
		}
		if uncounted(now) {
			show := now.Show
			show.Calls = []rig.Call{{Name: show.Program.Name, Persons: 1}}
			e := rig.Edit{Do: "show", Show: &show}
			out.Choices = append(out.Choices, verdict.Proposal{Kind: verdict.ProposeCall, Edit: e})
			sure = append(sure, e)
		}
		for i, kbps := range v.Bitrates() {
			if kbps == 0 {
				continue
			}
			d := now.Show.Destinations[i]
			d.Send.VideoKbps = new(fact.Exactly(kbps))
			e := rig.Edit{Do: "send", Name: d.Name, Send: &d.Send}
			out.Choices = append(out.Choices, verdict.Proposal{Kind: verdict.ProposeBitrate, Of: d.Name, Edit: e})
			sure = append(sure, e)
		}
	})
	if len(all) == 0 && len(sure) == 0 {
		return r, out
	}
	chosen = append(chosen, make([]int, len(all)-len(modes))...)
	base, err := rig.Apply(r, sure...)
	if err != nil {
		return r, verdict.Proposed{}
	}
	if len(all) > 0 {
		s := chooser{open: all, chosen: chosen}
		s.b = verdict.BaseOf(verdict.As(apply(base, all, chosen)))
		s.settle()
		out.Proven, out.Tried = s.proven, s.tried
		chosen = s.chosen
	}
	for i := range all {
		c := all[i].Proposal
		c.Edit = all[i].options[chosen[i]].edit
		out.Choices = append(out.Choices, c)
	}
	with := apply(base, all, chosen)
	if slices.ContainsFunc(chosen, func(c int) bool { return c > 0 }) { // another picture may leave another choice open
		next, more := Complete(with)
		out.Choices, out.Tried, out.Proven = append(out.Choices, more.Choices...), out.Tried+more.Tried,
			out.Proven && more.Proven && len(more.Choices) == 0
		with = next
	}
	return with, out
}

// mayBeOpen tells whether a rig may have choices besides outputs.
func mayBeOpen(r *rig.Rig) bool {
	for i := range r.Items {
		it := &r.Items[i]
		if len(it.Gear.Delivers) > 1 || (it.Gear.Kind == gear.Camera || it.Gear.Kind == gear.Phone) &&
			(it.Set == nil || it.Set.RunsOn == "") {
			return true
		}
	}
	return uncounted(r) || slices.ContainsFunc(r.Show.Destinations, func(d rig.Destination) bool {
		return d.Send.VideoKbps == nil && d.Via == ""
	})
}

// uncounted tells of a call that takes the pictures and is not among the show's calls, so that nobody counts what it
// sends and brings in.
func uncounted(r *rig.Rig) bool { return r.Show.Program.Kind == "call" && len(r.Show.Calls) == 0 }

func apply(r *rig.Rig, all []open, chosen []int) *rig.Rig {
	edits := make([]rig.Edit, 0, len(all))
	for i := range all {
		edits = append(edits, all[i].options[chosen[i]].edit)
	}
	if len(edits) == 0 {
		return r
	}
	out, err := rig.Apply(r, edits...)
	if err != nil {
		return r // never: they are made of what stands in the rig
	}
	return out
}

// mostModes bounds the pictures of one output that are considered, the best for the show first.
const mostModes = 24

// outputs adds the picture outputs of an item whose picture nobody has set.
func outputs(all []open, r *rig.Rig, it *rig.Item) []open {
	if !it.IsSource() && it.Gear.Kind != gear.Switcher {
		return all
	}
	for j := range it.Gear.Ports {
		port := &it.Gear.Ports[j]
		if port.Direction != gear.Out || len(port.Modes) < 2 {
			continue
		}
		if it.Set != nil {
			if _, said := it.Set.Output[port.ID]; said {
				continue
			}
		}
		o := open{Proposal: verdict.Proposal{Kind: verdict.ProposeMode, Of: it.ID, Port: port.ID},
			like: "mode " + string(it.Gear.Kind) + it.Gear.Name + port.ID, options: make([]option, 0, len(port.Modes))}
		seen := make(map[picture.Mode]bool, len(port.Modes))
		for k := range port.Modes {
			m := &port.Modes[k]
			if seen[*m] {
				continue
			}
			seen[*m] = true
			fit := negotiate.SuitFor(m, r.Show.Programme.Width, r.Show.Programme.Height, r.Show.Programme.Rate)
			o.options = append(o.options, option{rig.Edit{Do: "mode", Item: it.ID, Port: port.ID, Mode: m}, fit.Rough,
				fit.Size, fit.Load, float64(m.Width*m.Height) * m.Rate.Float()})
		}
		slices.SortStableFunc(o.options, func(a, b option) int {
			return cmp.Or(a.cmp(&b), cmpModes(a.edit.Mode, b.edit.Mode))
		})
		o.options = o.options[:min(len(o.options), mostModes)]
		all = append(all, o)
	}
	return all
}

// cmpModes orders pictures that are equally good, whatever the order of the sheet.
func cmpModes(a, b *picture.Mode) int {
	return cmp.Or(a.Rate.Cmp(b.Rate), cmp.Compare(b.Chroma, a.Chroma), cmp.Compare(a.Depth(), b.Depth()),
		cmp.Compare(a.Width, b.Width), cmp.Compare(a.Height, b.Height))
}

// undecided are the devices of which nobody has said what the program takes.
func undecided(p *verdict.Verdict) []open {
	var all []open
	for _, u := range p.Undecided() {
		o := open{Proposal: verdict.Proposal{Kind: verdict.ProposeDeliver, Of: u.Item.ID, Port: u.Port},
			like: "deliver " + string(u.Item.Gear.Kind) + u.Item.Gear.Name + u.Port}
		for i := range u.Offers {
			d := &u.Offers[i]
			x := option{edit: rig.Edit{Do: "deliver", Item: u.Item.ID, Port: u.Port, Deliver: &d.Deliver},
				loss: float64(d.Loss) + d.MBps/1e6, work: d.PixelsS}
			if d.Deliver.Format.Compressed() {
				x.work *= 4
			}
			if d.Smaller {
				x.size = 1e3
			}
			o.options = append(o.options, x)
		}
		slices.SortStableFunc(o.options, func(a, b option) int {
			return cmp.Or(a.cmp(&b), cmp.Compare(a.edit.Deliver.Format, b.edit.Deliver.Format),
				cmp.Compare(a.edit.Deliver.Width, b.edit.Deliver.Width))
		})
		all = append(all, o)
	}
	return all
}

// power proposes the mains for a camera or phone whose battery may not last, where it can run so.
func power(p *verdict.Verdict, it *rig.Item) (rig.Edit, bool) {
	if it.Set != nil && it.Set.RunsOn != "" || it.PoweredBy != "" || it.Gear.Power == nil {
		return rig.Edit{}, false
	}
	if m := it.Gear.Power.Mains; m != gear.MainsYes && m != gear.MainsDummy {
		return rig.Edit{}, false
	}
	l := p.Find(engine.ID{Rule: rules.RunTime, Place: it.ID})
	if l == nil || l.State == limit.Slack {
		return rig.Edit{}, false
	}
	return rig.Edit{Do: "runs-on", Item: it.ID, Word: "mains"}, true
}

// chooser betters choices that meet in limits that do not hold.
type chooser struct {
	open   []open
	chosen []int
	b      *verdict.Base
	tried  int
	proven bool
}

// worth is what a set of choices comes to; the first that differs decides.
type worth struct {
	snapped  int     // limits that break the rig
	rough    float64 // movement, over all sources
	size     float64
	over     int // limits that likely break the rig
	mixed    int // things alike that are set differently
	loss     float64
	untested int
}

func (w *worth) cmp(x *worth) int {
	return cmp.Or(cmp.Compare(w.snapped, x.snapped), cmp.Compare(w.rough, x.rough), cmp.Compare(w.size, x.size),
		cmp.Compare(w.over, x.over),
		cmp.Compare(w.mixed, x.mixed), cmp.Compare(w.loss, x.loss), cmp.Compare(w.untested, x.untested))
}

// settle betters the choices, group by group.
func (s *chooser) settle() {
	s.proven = true
	groups := s.groups()
	for _, g := range groups {
		s.group(g)
	}
	if len(groups) > 0 && slices.ContainsFunc(s.chosen, func(c int) bool { return c > 0 }) {
		s.even()
	}
}

// groups are the choices that meet in limits that do not hold.
func (s *chooser) groups() (out [][]int) {
	of := make([]int, len(s.open)) // choice -> group, counted from 1
	for k := range s.b.Results {
		l := &s.b.Results[k]
		if c := l.Counts(); c != limit.Snapped && c != limit.Untested || electric(l) {
			continue
		}
		group := 0
		for i := range s.open {
			if len(s.open[i].options) < 2 || !slices.Contains(l.Where, s.open[i].Of) || !s.eases(i, l) {
				continue
			}
			switch {
			case group == 0 && of[i] == 0:
				out = append(out, []int{i})
				group = len(out)
				of[i] = group
			case group == 0:
				group = of[i]
			case of[i] == 0:
				of[i] = group
				out[group-1] = append(out[group-1], i)
			case of[i] != group:
				was := of[i]
				for _, j := range out[was-1] {
					of[j] = group
				}
				out[group-1] = append(out[group-1], out[was-1]...)
				out[was-1] = nil
			}
		}
	}
	return slices.DeleteFunc(out, func(g []int) bool { return len(g) == 0 })
}

// eases tells whether another option of a choice can ease a limit. What the computer has to do rests on every picture
// there is; only an option that is less work eases it, and one that moves worse or is smaller counts only where the rig
// breaks as it is.
func (s *chooser) eases(i int, l *engine.Result) bool {
	if !slices.Contains(loads, l.ID.Rule) {
		return true
	}
	now := &s.open[i].options[s.chosen[i]]
	return slices.ContainsFunc(s.open[i].options, func(o option) bool {
		return o.work < now.work && (l.State == limit.Snapped || o.rough == now.rough && o.size == now.size)
	})
}

// loads are the limits of what the computer computes.
var loads = []*engine.Rule{rules.Processor, rules.Graphics, rules.MemoryTraffic}

// even sets things alike that their groups have set differently, where the whole is better for it.
func (s *chooser) even() {
	all := make([]int, len(s.open))
	for i := range all {
		all[i] = i
	}
	best := s.at(all, s.chosen)
	for i := range s.open {
		for j := range s.open {
			if s.open[i].like != s.open[j].like || s.chosen[i] == s.chosen[j] || s.tried >= mostTried {
				continue
			}
			one := slices.Clone(s.chosen)
			for k := range s.open {
				if s.open[k].like == s.open[i].like && s.chosen[i] < len(s.open[k].options) {
					one[k] = s.chosen[i]
				}
			}
			if w := s.at(all, one); w.cmp(&best) < 0 {
				best, s.chosen = w, one
				s.b = verdict.BaseOf(verdict.As(apply(s.b.Rig, s.open, s.chosen)))
			}
		}
	}
}

// at is what the group comes to with these choices.
func (s *chooser) at(g, choices []int) (w worth) {
	s.tried++
	edits := make([]rig.Edit, 0, len(g))
	like := map[string]*option{}
	for k, i := range g {
		o := &s.open[i].options[choices[k]]
		w.rough, w.size, w.loss = w.rough+o.rough, w.size+o.size, w.loss+o.loss
		if first := like[s.open[i].like]; first == nil {
			like[s.open[i].like] = o
		} else if first.cmp(o) != 0 {
			w.mixed++
		}
		if choices[k] != s.chosen[i] {
			edits = append(edits, o.edit)
		}
	}
	counts, over := s.b.Counts, 0
	for k := range s.b.Results {
		over += likelyOver(&s.b.Results[k])
	}
	if len(edits) > 0 {
		if err := s.b.Try(edits, func(d *verdict.Delta) {
			counts = d.Counts
			over = s.over(d, over)
		}); err != nil {
			return worth{snapped: 1 << 20}
		}
	}
	w.over = over
	w.snapped, w.untested = counts[limit.Snapped.Severity()], counts[limit.Untested.Severity()]
	return w
}

// likelyOver is 1 for a limit that breaks the rig with the likely values of its facts, and is not known to.
func likelyOver(l *engine.Result) int {
	if l.Counts() == limit.Untested && l.Sense != limit.Fits && fact.Over(l.Ratio.Value, 1) {
		return 1
	}
	return 0
}

// over is how many limits are likely over after a change, of so many before.
func (s *chooser) over(d *verdict.Delta, over int) int {
	if d.Whole {
		over = 0
	}
	seen := make(map[int]bool, len(d.Results))
	for i := range d.Results {
		l := &d.Results[i]
		if k, ok := s.b.Index(l.ID); ok && !d.Whole {
			over -= likelyOver(&s.b.Results[k])
			seen[k] = true
		}
		over += likelyOver(l)
	}
	for k := range d.Before {
		if d.Before[k] && !seen[k] {
			over -= likelyOver(&s.b.Results[k])
		}
	}
	return over
}

// electric tells whether a limit is of current, power or voltage: what is drawn does not hang on the picture that is
// chosen.
func electric(l *engine.Result) bool {
	switch l.Unit {
	case "mA", "W", "VA", "V":
		return true
	}
	return false
}

// least are the limits that do not hold whatever is chosen in a group: those that rest on none of its choices.
func (s *chooser) least(g []int) (w worth) {
	for k := range s.b.Results {
		l := &s.b.Results[k]
		if !electric(l) && slices.ContainsFunc(g, func(i int) bool { return slices.Contains(l.Where, s.open[i].Of) }) {
			continue
		}
		switch l.Counts() {
		case limit.Snapped:
			w.snapped++
		case limit.Untested:
			w.untested++
			w.over += likelyOver(l)
		}
	}
	return w
}

// group makes the choices of one group. The base stays the rig with every choice the best for itself.
func (s *chooser) group(g []int) {
	best, found := s.at(g, make([]int, len(g))), make([]int, len(g)) // all the best for themselves
	floor := s.least(g)
	floor.rough, floor.size = best.rough, best.size
	try := func(c []int) {
		if w := s.at(g, c); w.cmp(&best) < 0 {
			best, found = w, slices.Clone(c)
		}
	}
	reached := func() bool { // with things alike set alike: the rest is the least loss, which was looked for
		return best.snapped == floor.snapped && best.rough == floor.rough && best.size == floor.size && best.over ==
			floor.over && best.mixed == 0
	}
	if !reached() {
		// Where nothing more breaks than has to, what moves worse or is smaller cannot be better.
		same := best.snapped == floor.snapped
		count := make([]int, len(g))
		var each, classes [][]int // every choice for itself; those alike together
		sizes, alike := []int{}, []int{}
		class := map[string]int{}
		for k, i := range g {
			o := s.open[i].options
			count[k] = len(o)
			if same {
				count[k] = 0
				for count[k] < len(o) && o[count[k]].rough == o[0].rough && o[count[k]].size == o[0].size {
					count[k]++
				}
			}
			each, sizes = append(each, []int{k}), append(sizes, count[k])
			c, ok := class[s.open[i].like]
			if !ok {
				c = len(classes)
				class[s.open[i].like] = c
				classes, alike = append(classes, nil), append(alike, count[k])
			}
			classes[c], alike[c] = append(classes[c], k), min(alike[c], count[k])
		}
		switch all := s.enumerate(classes, alike, len(g), try); {
		case all && (reached() || len(classes) == len(each)):
		case s.enumerate(each, sizes, len(g), try):
		default:
			s.proven = false
			s.descend(g, count, &best, &found, try)
		}
	}
	for k, i := range g {
		s.chosen[i] = found[k]
	}
	if slices.ContainsFunc(found, func(c int) bool { return c > 0 }) { // the next group starts from here
		v := verdict.As(apply(s.b.Rig, s.open, s.chosen))
		s.b = verdict.BaseOf(v)
	}
}

// enumerate tries every choice of so many sets of things, each set alike; false where that would be too many.
func (s *chooser) enumerate(sets [][]int, sizes []int, n int, try func([]int)) bool {
	size := 1
	for _, of := range sizes {
		if size *= of; s.tried+size > mostTried {
			return false
		}
	}
	choices := make([]int, n)
	for at := 1; at < size; at++ {
		rest := at
		for c := len(sets) - 1; c >= 0; c-- {
			for _, k := range sets[c] {
				choices[k] = rest % sizes[c]
			}
			rest /= sizes[c]
		}
		try(choices)
	}
	return true
}

// descend betters choices one at a time until nothing does.
func (s *chooser) descend(g, count []int, best *worth, found *[]int, try func([]int)) {
	for again := true; again && s.tried < mostTried; {
		again = false
		was := *best
		for k := range g {
			for c := range count[k] {
				if s.tried >= mostTried {
					return
				}
				one := slices.Clone(*found)
				if one[k] != c {
					one[k] = c
					try(one)
				}
			}
		}
		again = best.cmp(&was) < 0
	}
}
