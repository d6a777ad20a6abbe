package core_test

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"math"
	"os"
	"runtime"
	"runtime/debug"
	"slices"
	"sort"
	"strings"
	"sync"
	"testing"

	"eventether/core/advise"
	"eventether/core/engine"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/place"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/rules"
	"eventether/core/verdict"
	"eventether/core/view"
	"eventether/internal/rigfile"
)

var (
	lawRigs  = flag.Int("rigs", 8000, "random rigs the laws are held against")
	lawFirst = flag.Int("first", 1, "seed of the first of them")
)

// onceBroken are seeds on which a law was broken in long runs by hand, before it was mended.
var onceBroken = []uint64{50924450, 20482050, 20435315, 20723624, 20181606, 20326476, 20371695, 20825933,
	10016086, 2392, 8125817, 5013176, 8059956, 8089960, 8060530, 8026204, 4264530, 4085141,
	4534830, 4557270, 4556041, 4340193, 4383120, 4178294, 2146210, 2218850, 2032994, 2043400, 2076336, 2081536,
	2124590, 2123950, 2006060, 2017997, 2013410, 2030521, 10600, 59339, 6001215, 5997, 6014180, 704200, 1143600,
	1201300, 1209965, 1307304, 2035800, 3032840, 3083400, 3123350, 3235200, 3236300, 3315750, 3329000, 3336550,
	3380733, 3520453, 3585821, 20079319, 20112440, 20186318, 30014140, 30014272, 30032350, 3600600, 3619300, 3688121,
	3865350, 6021114}

// onceBrokenNewer are the same, broken once things had been brought up to the newer sheets of the shelf.
var onceBrokenNewer = []uint64{50474350, 20570200, 20766049, 20811388, 20657977}

// broken gathers what breaks a law, so that a run shows the kinds of breaches and not one of them.
type broken struct {
	sync.Mutex
	law  map[string]int
	seen map[string][]string
}

func (b *broken) add(law string, seed uint64, format string, args ...any) {
	b.Lock()
	defer b.Unlock()
	b.law[law]++
	if len(b.seen[law]) < 5 {
		b.seen[law] = append(b.seen[law], fmt.Sprintf("seed %d: %s", seed, fmt.Sprintf(format, args...)))
	}
}

// The laws on random rigs of every kind of gear and wiring: forgetting, coverage, order,
// narrowing, corners of the bounds; every verdict encodes; every limit is put into words and every untested one asks;
// every fix and move offered applies and leaves a sound rig; a cure's promised state is what judging gives; export then
// import is the same. The laws about advice are held on every fiftieth rig, those about words on every eighth.
func TestLaws(t *testing.T) {
	if testing.Short() {
		t.Skip("make test runs it")
	}
	defer debug.SetGCPercent(debug.SetGCPercent(800)) // little is kept, much is thrown away
	b := &broken{law: map[string]int{}, seen: map[string][]string{}}
	seeds := make(chan uint64)
	var wg sync.WaitGroup
	for range runtime.GOMAXPROCS(0) {
		wg.Add(1)
		go func() {
			defer wg.Done()
			for seed := range seeds {
				laws(b, seed, seed%3 == 1 && !slices.Contains(onceBroken, seed))
			}
		}()
	}
	for i := range *lawRigs {
		seeds <- uint64(*lawFirst + i)
	}
	for _, seed := range slices.Concat(onceBroken, onceBrokenNewer) {
		seeds <- seed
	}
	close(seeds)
	wg.Wait()
	names := make([]string, 0, len(b.law))
	for law := range b.law {
		names = append(names, law)
	}
	sort.Strings(names)
	for _, law := range names {
		t.Errorf("%s: broken %d times in %d rigs\n  %s", law, b.law[law], *lawRigs, strings.Join(b.seen[law], "\n  "))
	}
}

func laws(b *broken, seed uint64, newer bool) {
	defer func() {
		if err := recover(); err != nil {
			b.add("no panic", seed, "%v", err)
			if os.Getenv("TRACE") != "" {
				panic(err)
			}
		}
	}()
	d := rigtest.NewDice(seed ^ 0x5eed)
	r := rigtest.Rig(seed)
	if newer { // with what came to the shelf later
		r = rigtest.Newer(r, rigtest.NewDice(seed^0x9e3e))
	}
	if problems := rig.Check(r); len(problems) > 0 {
		b.add("generator is sound", seed, "%v", problems[0])
		return
	}
	if seed%10 == 0 {
		r = proposals(b, seed, d, r)
	}
	v := verdict.As(r)
	if _, err := json.Marshal(view.Of(v, nil)); err != nil {
		b.add("encodes", seed, "%v", err)
	}
	coverage(b, seed, r, v)
	asks(b, seed, r, v)
	forget(b, seed, d, r, v)
	order(b, seed, d, r, v)
	if n := rigtest.Narrow(r, d); n != nil {
		narrower(b, "narrowing", seed, v, n)
	}
	for range 8 {
		narrower(b, "corners", seed, v, rigtest.Corner(r, d))
	}
	if seed%50 == 0 {
		advice(b, seed, d, r)
		placing(b, seed, r)
	}
}

// proposals holds what is proposed for a rig against judging it: the choices can be made and leave nothing to propose,
// taking them comes to what was judged, a rig breaks no more with them than where nobody had chosen, and the order of
// things changes nothing. What comes back is the rig with all of them taken.
func proposals(b *broken, seed uint64, d *rigtest.Dice, r *rig.Rig) *rig.Rig {
	v := judge.Rig(r)
	with, err := rig.Apply(r, v.Proposed.Edits()...)
	if err != nil || len(rig.Check(with)) > 0 {
		b.add("proposals can be taken", seed, "%v %v", err, rig.Check(with))
		return r
	}
	taken := judge.Rig(with)
	if n := len(taken.Proposed.Choices); n > 0 {
		b.add("proposals leave nothing open", seed, "%d: %+v", n, taken.Proposed.Choices[0])
	}
	if taken.State != v.State || len(taken.Results) != len(v.Results) {
		b.add("proposals come to what was judged", seed, "%s, %s", v.State, taken.State)
	}
	if open := verdict.As(r); v.Proposed.Proven && v.Count(limit.Snapped) > open.Count(limit.Snapped) {
		for i := range v.Results {
			if l := &v.Results[i]; l.State == limit.Snapped {
				was := open.Find(l.ID)
				if was == nil && l.ID.Rule == rules.SwitcherMode && !avoidable(v, l) ||
					// two inputs without a scaler, and two pictures
					l.ID.Rule == rules.IngestLeast ||
					// where the line carries less than a destination wants, that is what is said
					l.ID.Rule == rules.Delivers && !bySource(v) ||
					// whichever picture it is, somebody's choice behind it, or its lead, breaks
					counted(v, l) ||
					l.ID.Rule == rules.TwoPrograms && open.Find(l.ID) == nil ||
					// a device that reached no program before is wanted by two now
					l.ID.Rule == rules.FileEnd && raised(v) {
					// a file that keeps the stream is as large as the destination wants it
					continue
				}
				if was == nil || was.State == limit.Slack || was.State == limit.Taut {
					b.add("proposals break nothing that held: "+l.ID.Rule.String(), seed, "%s", says(v, l))
				}
			}
		}
	}
	// Where the search ended by its effort, it ended elsewhere in another order.
	if other := judge.Rig(rigtest.Shuffle(r, d)); other.Proposed.Proven && v.Proposed.Proven &&
		(other.State != v.State || other.Count(limit.Snapped) != v.Count(limit.Snapped)) {
		b.add("order: proposals", seed, "%s, %s", v.State, other.State)
	}
	return v.Rig
}

// counted tells of a limit of the line that a call loads which takes the pictures, and which nobody had counted.
func counted(v *verdict.Verdict, l *engine.Result) bool {
	onLine := []*engine.Rule{rules.Uplink, rules.Downlink, rules.Allowance, rules.SecondLine, rules.LineLoss}
	return slices.Contains(onLine, l.ID.Rule) && slices.ContainsFunc(v.Proposed.Choices,
		func(c verdict.Proposal) bool { return c.Kind == verdict.ProposeCall })
}

// placing holds what a placing promises against judging: placed as suggested, no bus, way up, current or supply is past
// what it carries; none may be, where it is sure.
func placing(b *broken, seed uint64, r *rig.Rig) {
	r = judge.Rig(r).Rig // as it is planned
	s := place.Suggest(r, place.Options{Effort: 300_000})
	if !s.Possible {
		return
	}
	after, err := rig.Apply(r, s.Edits...)
	if err != nil || len(rig.Check(after)) > 0 {
		b.add("a placing can be done", seed, "%v %v", err, rig.Check(after))
		return
	}
	v := verdict.As(after)
	for i := range v.Results {
		l := &v.Results[i]
		switch l.ID.Rule {
		case rules.Bus, rules.WayUp, rules.PortCurrent:
		case rules.Supply: // of which something that can be moved takes its power
			if !slices.ContainsFunc(l.Loads, func(ld limit.Load) bool {
				it := after.Item(ld.Item)
				return it.Gear.Kind != gear.Hub && it.Gear.Kind != gear.Dock && (ld.Low > 0 || s.Sure && ld.High > 0)
			}) {
				continue
			}
		default:
			continue
		}
		bad := l.State == limit.Snapped
		if s.Sure && l.State == limit.Untested {
			bad = l.ID.Rule != rules.PortCurrent
		}
		if bad && len(v.Streams) > 0 {
			b.add("a placing holds", seed, "sure %v, %s %s: %s", s.Sure, l.State, l.ID, says(v, l))
		}
	}
}

// says is the judgement of a limit, for a breach.
func says(v *verdict.Verdict, l *engine.Result) string { return v.Word(l).Says }

// heldSound is a rig with the bitrate of the sound to each destination, and the ways to air, as they were judged where
// nobody has said them: choices are held.
func heldSound(v *verdict.Verdict, r *rig.Rig) *rig.Rig {
	out := *r
	out.Show.Destinations = slices.Clone(r.Show.Destinations)
	for i := range out.Show.Destinations {
		if s := &out.Show.Destinations[i].Send; s.AudioKbps == nil {
			s.AudioKbps = new(fact.Exactly(v.Audio(i).Value))
		}
	}
	if plan := v.Sounds(); plan != nil { // and which way of a voice is on air
		snd := *r.Sound
		snd.Paths = slices.Clone(snd.Paths)
		for i := range snd.Paths {
			snd.Paths[i].On = plan.Paths[i].On
		}
		out.Sound = &snd
	}
	return &out
}

// raised tells whether a bitrate is proposed that is the least a destination takes, or what somebody has said of
// another it shares a coding with.
func raised(v *verdict.Verdict) bool {
	return slices.ContainsFunc(v.Proposed.Choices, func(c verdict.Proposal) bool {
		if c.Kind != verdict.ProposeBitrate || c.Edit.Send == nil || c.Edit.Send.VideoKbps == nil {
			return false
		}
		return slices.ContainsFunc(v.Show.Destinations, func(d rig.Destination) bool {
			if said := d.Send.VideoKbps; said != nil && said.Value == c.Edit.Send.VideoKbps.Value {
				return true
			}
			least, known := d.Ingest.Least()
			return known && least == c.Edit.Send.VideoKbps.Value
		})
	})
}

// avoidable tells whether another picture out of a switcher would break less.
func avoidable(v *verdict.Verdict, l *engine.Result) bool { return another(v, v.Item(l.About())) }

// bySource tells whether another picture out of one of the sources would break less.
func bySource(v *verdict.Verdict) bool {
	for i := range v.Rig.Items {
		if it := &v.Rig.Items[i]; it.IsSource() && another(v, it) {
			return true
		}
	}
	return false
}

// another tells whether another picture out of a thing would break less.
func another(v *verdict.Verdict, it *rig.Item) bool {
	for i := range it.Gear.Ports {
		for _, m := range it.Gear.Ports[i].Modes {
			if it.Gear.Ports[i].Direction != gear.Out {
				continue
			}
			after, err := rig.Apply(v.Rig, rig.Edit{Do: "mode", Item: it.ID, Port: it.Gear.Ports[i].ID, Mode: &m})
			if err == nil && verdict.As(after).Count(limit.Snapped) < v.Count(limit.Snapped) {
				return true
			}
		}
	}
	return false
}

// forget takes one or two stated facts out: nothing gets better, nothing is settled the other way, no limit goes.
func forget(b *broken, seed uint64, d *rigtest.Dice, r *rig.Rig, v *verdict.Verdict) {
	all := rigtest.Forgettable(r)
	if len(all) == 0 {
		return
	}
	r = heldSound(v, r)
	for range 2 {
		f := all[d.N(len(all))]
		less := rigtest.Clone(r)
		f.Do(less)
		if len(rig.Check(less)) > 0 {
			continue
		}
		verdict.Look(less, func(now *verdict.Verdict) {
			kind, _, _ := strings.Cut(f.Name, " of ")
			moved := choseAnew(v, now)
			for i := range v.Results {
				was := &v.Results[i]
				if moved && ofComputing[was.ID.Rule] {
					continue
				}
				l := now.Find(was.ID)
				if l == nil {
					b.add("forgetting "+kind+": "+was.ID.Rule.String()+" goes", seed, "%s: %s", f.Name, was.ID)
					continue
				}
				if ok := map[limit.State][]limit.State{limit.Slack: {limit.Slack, limit.Taut, limit.Untested},
					limit.Taut:    {limit.Taut, limit.Untested},
					limit.Snapped: {limit.Snapped, limit.Untested}, limit.Kinked: {limit.Kinked, limit.Untested},
					limit.Untested: {limit.Untested}}[was.State]; !slices.Contains(ok, l.State) {
					b.add("forgetting "+kind+": "+was.ID.Rule.String()+" "+was.State.String()+" to "+l.State.String(),
						seed, "%s: %s: %s → %s", f.Name, was.ID, says(v, was), says(now, l))
				}
			}
		})
	}
}

// coverage finds what stands neither in a limit nor in the list of what was not judged.
func coverage(b *broken, seed uint64, r *rig.Rig, v *verdict.Verdict) {
	in := map[string]bool{}
	judged := map[string]bool{}
	for i := range v.Results {
		for _, id := range v.Results[i].Where {
			in[id] = true
		}
		for _, ld := range v.Results[i].Loads {
			in[ld.Item] = true
		}
		judged[v.Results[i].ID.String()] = true
	}
	for _, n := range v.Unjudged {
		in[n.Ref] = true
	}
	for i := range r.Items {
		it := &r.Items[i]
		if !in[it.ID] {
			b.add("coverage: "+string(it.Gear.Kind), seed, "%s", it.ID)
		}
		for _, s := range it.Gear.Settings {
			if !judged["setting:"+it.ID+":"+s.ID] && !in[it.ID+"/"+s.ID] && it.IsSource() && len(s.Excludes) == 0 &&
				s.Known().Want != "" {
				b.add("coverage: setting", seed, "%s of %s", s.ID, it.ID)
			}
		}
	}
	for i := range r.Leads {
		if !in[r.Leads[i].ID] {
			b.add("coverage: lead", seed, "%s from %s to %s", r.Leads[i].ID, r.Leads[i].From, r.Leads[i].To)
		}
	}
	for i := range r.Show.Destinations {
		if !judged[fmt.Sprintf("ingest:%d", i)] {
			b.add("coverage: destination", seed, "%d", i)
		}
	}
}

// asks finds untested limits nobody is asked about.
func asks(b *broken, seed uint64, r *rig.Rig, v *verdict.Verdict) {
	for i := range v.Results {
		l := &v.Results[i]
		if l.Stage == 0 {
			b.add("a stage: "+l.ID.Rule.String(), seed, "%s", l.ID)
		}
		if !slices.Contains(limit.States[:], l.State) || l.Over.Breaks() && l.State == limit.Kinked ||
			!l.Over.Breaks() && l.State == limit.Snapped {
			b.add("a state", seed, "%s: %q", l.ID, l.State)
		}
		for _, f := range l.Facts {
			if !f.IsZero() && rig.FieldAt(f.Field) == nil && f.Field != "uplink/measuredMbps" {
				b.add("facts are fields", seed, "%s: %s", l.ID, f.Field)
			}
		}
		for _, n := range []float64{l.Load.Low, l.Load.High, l.Sure, l.Possible, l.Ratio.High} {
			if math.IsNaN(n) || math.IsInf(n, 0) {
				b.add("finite", seed, "%s", l.ID)
			}
		}
		if l.State != limit.Untested && seed%8 != 0 {
			continue
		}
		w := v.Word(l)
		if w.What == "" || w.Says == "" || strings.Contains(w.What+w.Says+w.Short+w.Sum, "%s") {
			b.add("words: "+l.ID.Rule.String(), seed, "%s: %q, %q, %q, %q", l.ID, w.What, w.Says, w.Short, w.Sum)
		}
		if l.State != limit.Untested {
			continue
		}
		if depends := l.Rank(); !slices.ContainsFunc(depends, func(d limit.Dependence) bool {
			return w.Facts[d.Fact].Ask != nil
		}) {
			b.add("asks: "+l.ID.Rule.String(), seed, "%s: %s %+v", l.ID, w.Says, depends)
		}
	}
}

func near(a, b float64) bool { return math.Abs(a-b) <= 1e-6*math.Max(1, math.Abs(a)) }

// order judges the same rig in another order.
func order(b *broken, seed uint64, d *rigtest.Dice, r *rig.Rig, v *verdict.Verdict) {
	other := rigtest.Shuffle(r, d)
	now := verdict.As(other)
	for i := range v.Results {
		was := &v.Results[i]
		l := now.Find(was.ID)
		switch {
		case l == nil:
			b.add("order: "+was.ID.Rule.String()+" goes", seed, "%s", was.ID)
		case l.State != was.State || !near(l.Load.High, was.Load.High) || !near(l.Load.Low, was.Load.Low) ||
			!near(l.Sure, was.Sure) || !near(l.Possible, was.Possible):
			b.add("order: "+was.ID.Rule.String(), seed, "%s: %s (%v) → %s (%v)", was.ID, says(v, was), was.Load,
				says(now, l), l.Load)
		}
	}
	if len(now.Results) != len(v.Results) {
		b.add("order: count", seed, "%d limits, %d in another order", len(v.Results), len(now.Results))
	}
	if seed%200 == 0 {
		x, y := advise.On(context.Background(), v, lawEffort), advise.On(context.Background(), now, lawEffort)
		switch {
		case x.Cure == nil && !x.CureProven || y.Cure == nil && !y.CureProven: // it ended before it knew
		case (x.Cure == nil) != (y.Cure == nil):
			b.add("order: cure", seed, "%+v / %+v", x.Cure, y.Cure)
		case x.Cure != nil && x.Cure.Proven && y.Cure.Proven && (len(x.Cure.Moves) != len(y.Cure.Moves) ||
			x.Cure.Minutes != y.Cure.Minutes || x.Cure.Cost != y.Cure.Cost || x.Cure.State != y.Cure.State):
			b.add("order: cure", seed, "%+v / %+v", x.Cure, y.Cure)
		}
	}
}

// choseAnew tells whether another choice was settled of what codes what. The laws hold choices still, and this one is
// made anew in every pass: where more is known of a hardware encoder it may take over, or give back, what was
// software's, and where less is known of a destination its picture may be coded apart; the load of the computer is then
// that of another choice.
func choseAnew(v, now *verdict.Verdict) bool {
	return !slices.EqualFunc(v.Codings, now.Codings, func(a, b plans.Coding) bool { return a.Hardware == b.Hardware })
}

// ofComputing are the rules whose loads follow from what codes what.
var ofComputing = map[*engine.Rule]bool{rules.Processor: true, rules.Graphics: true, rules.MemoryTraffic: true,
	rules.HardwareEncoder: true, rules.HardwareSessions: true}

// narrower judges a rig whose facts lie within the bounds of the one before: what was sure stays as it was.
func narrower(b *broken, law string, seed uint64, v *verdict.Verdict, r *rig.Rig) {
	if seed%50 == 0 && len(rig.Check(r)) > 0 {
		b.add(law+" leaves a sound rig", seed, "%v", rig.Check(r)[0])
		return
	}
	verdict.Look(r, func(now *verdict.Verdict) {
		moved := choseAnew(v, now)
		for i := range v.Results {
			was := &v.Results[i]
			if moved && ofComputing[was.ID.Rule] {
				continue
			}
			l := now.Find(was.ID)
			if l == nil {
				b.add(law+": "+was.ID.Rule.String()+" goes", seed, "%s", was.ID)
				continue
			}
			if was.State == limit.Slack && l.State != limit.Slack || (was.State == limit.Snapped ||
				was.State == limit.Kinked) && l.State != was.State || was.State == limit.Taut && !l.State.Holds() {
				b.add(law+": "+was.ID.Rule.String(), seed, "%s: %s: %s → %s: %s", was.ID, was.State, says(v, was),
					l.State, says(now, l))
			}
		}
	})
}

// lawEffort bounds the advice on one rig; a cure that is not proven by then is not compared.
const lawEffort = 15_000

// advice holds what is offered against what happens.
func advice(b *broken, seed uint64, d *rigtest.Dice, r *rig.Rig) {
	v := judge.Rig(r)
	before, _ := json.Marshal(view.Of(v, nil))
	a := advise.On(context.Background(), v, lawEffort)
	if after, _ := json.Marshal(view.Of(v, nil)); string(before) != string(after) {
		b.add("advice leaves the verdict as it was", seed, "it changed")
	}
	if _, err := json.Marshal(view.Of(v, a)); err != nil {
		b.add("encodes", seed, "%v", err)
	}
	files := 0
	offered := func(what string, m *advise.Move, state limit.State) {
		after, err := rig.Apply(v.Rig, m.Edits...)
		if err != nil {
			b.add(what+" applies: "+m.Kind, seed, "%s: %v", m.ID, err)
			return
		}
		if problems := rig.Check(after); len(problems) > 0 {
			b.add(what+" leaves a sound rig: "+m.Kind, seed, "%s: %v", m.ID, problems[0])
			return
		}
		if free, err := rig.Apply(r, m.Edits...); err != nil {
			// what is proposed anew may be better, and is never worse
			b.add(what+" applies to what is kept: "+m.Kind, seed, "%s: %v", m.ID, err)
		} else if now := judge.Rig(free); now.State.Severity() > state.Severity() {
			b.add(what+" is no worse with what is then proposed: "+m.Kind, seed, "%s: said %s, is %s", m.ID, state,
				now.State)
		}
		if m.Anew() || m.Kind == "way out" {
			if free, err := rig.Apply(r, m.Edits...); err == nil && judge.Rig(free).State != state {
				b.add(what+" comes to what it says: "+m.Kind, seed, "%s: said %s, is %s", m.ID, state,
					judge.Rig(free).State)
			}
			return
		}
		if now := advise.Compare(v, verdict.As(after)); now.State != state {
			b.add(what+" comes to what it says: "+m.Kind, seed, "%s: said %s, is %s", m.ID, state, now.State)
		} else if m.Judged != nil && now.Words != m.Judged.Words {
			b.add(what+" does what it says: "+m.Kind, seed, "%s: said %q, is %q", m.ID, m.Judged.Words, now.Words)
		}
		if files++; files > 3 {
			return
		}
		file, err := rigfile.Write(after)
		if err != nil {
			b.add("export", seed, "%v", err)
			return
		}
		back, err := rigfile.Read(file)
		if err != nil {
			b.add("import of what was exported", seed, "%s: %v", m.ID, err)
			return
		}
		if again, _ := rigfile.Write(back); string(again) != string(file) {
			b.add("export, import, export is the same", seed, "%s", m.ID)
		}
	}
	var fixes []*advise.Move
	for i := range a.Findings {
		for j := range a.Findings[i].Members {
			f := &a.Findings[i].Members[j]
			for k := range f.Fixes {
				fixes = append(fixes, &f.Fixes[k])
			}
		}
	}
	for range min(len(fixes), 30) { // of hundreds, some by the dice, and every one that leads its finding
		m := fixes[d.N(len(fixes))]
		offered("fix", m, m.Judged.State)
	}
	for i := range a.Findings {
		if f := &a.Findings[i].Members[0]; len(f.Fixes) > 0 {
			offered("first fix", &f.Fixes[0], f.Fixes[0].Judged.State)
		}
	}
	var ids []string // and what the board offers at one thing, by the dice
	for i := range v.Items {
		ids = append(ids, v.Items[i].ID)
	}
	for i := range v.Leads {
		ids = append(ids, v.Leads[i].ID)
	}
	there := advise.JudgeOn(context.Background(), v, ids[d.N(len(ids))])
	for range min(len(there), 12) {
		m := &there[d.N(len(there))]
		offered("move on the board", m, m.Judged.State)
	}
	if a.Cure != nil {
		kind := "cure"
		if a.WayOut || slices.ContainsFunc(a.Cure.Moves, func(m advise.Move) bool { return m.Anew() }) {
			kind = "way out" // it is judged with what is then proposed
		}
		offered(kind, &advise.Move{ID: kind, Kind: kind, Edits: a.Cure.Edits}, a.Cure.State)
	}
	grouped(b, seed, v, a)
	for _, q := range a.Questions {
		for _, a := range q.Answers {
			after, err := rig.Apply(r, a.All...)
			if err != nil {
				b.add("answer applies", seed, "%s: %s: %v", q.Path, a.Label, err)
			} else if problems := rig.Check(after); len(problems) > 0 {
				b.add("answer leaves a sound rig", seed, "%s: %s: %v", q.Path, a.Label, problems[0])
			}
		}
	}
}

// grouped holds that every limit that is not slack stands in exactly one finding, and nothing else does.
func grouped(b *broken, seed uint64, v *verdict.Verdict, a *advise.Advice) {
	seen := map[engine.ID]int{}
	for i := range a.Findings {
		f := &a.Findings[i]
		for _, m := range f.Members {
			seen[m.Result.ID]++
			if m.Result.State != f.State {
				b.add("a finding is one state", seed, "%s: %s in %s", m.Result.ID, m.Result.State, f.State)
			}
		}
	}
	for i := range v.Results {
		l := &v.Results[i]
		if want := min(1, l.State.Severity()); seen[l.ID] != want {
			b.add("a finding stands for exactly its members", seed, "%s: %d times", l.ID, seen[l.ID])
		}
	}
}

// Draws that may be nothing, and draws nobody has measured, leave no figure that cannot be written: what is divided by
// nothing is endless, as a number.
func TestDrawsOfNothingAreWritten(t *testing.T) {
	for seed := range uint64(400) {
		r := rigtest.Clone(rigtest.Rig(seed + 1))
		for i := range r.Items {
			pw := r.Items[i].Gear.Power
			if pw == nil {
				continue
			}
			if pw.DrawW != nil {
				f := *pw.DrawW
				f.Low = 0
				if seed%2 == 0 {
					f = fact.Exactly(0)
				}
				pw.DrawW = &f
			}
		}
		if len(rig.Check(r)) > 0 {
			continue
		}
		if _, err := json.Marshal(view.Of(judge.Rig(r), nil)); err != nil {
			t.Errorf("seed %d: %v", seed+1, err)
		}
	}
}
