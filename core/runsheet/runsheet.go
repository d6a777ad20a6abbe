// Package runsheet answers: what is done tonight, in which order, by whom, and when must it begin?
//
// A run sheet is made of a verdict: only the steps this rig needs, in the order of the work, each with
// its exact values. It knows no clock and no date: times are minutes before air. Who has ticked what is kept elsewhere.
package runsheet

import (
	"math"
	"slices"
	"strings"

	"eventether/core/advise"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/say"
	"eventether/core/verdict"
	"eventether/core/work"
)

// Format names the JSON form of a run sheet.
const Format = "eventether-runsheet/1"

// RunSheet is the run sheet of one rig.
type RunSheet struct {
	Format  string   `json:"format"`
	Rig     string   `json:"rig" doc:"Name of the rig"`
	Show    float64  `json:"show" doc:"Minutes on air"`
	Planned float64  `json:"planned" doc:"Minutes the show leaves for set-up and rehearsal; 0 when not said"`
	First   []string `json:"first" doc:"What has to be known before anything else"`
	Steps   []Step   `json:"steps" doc:"In the order of the work"`
	Plans   []Plan   `json:"plans" doc:"For one person, for two, and so on"`
	Packing []Packed `json:"packing" doc:"What travels, bag by bag"`
	Gone    []string `json:"gone" doc:"Of the last time, what is not done any more"`
}

// Phase is a part of the evening, in the order.
type Phase string

// The phases.
const (
	Find     Phase = "find"
	Place    Phase = "place"
	Powering Phase = "power"
	Set      Phase = "set"
	Connect  Phase = "connect"
	Choose   Phase = "choose"
	Sound    Phase = "sound"
	Enter    Phase = "enter"
	Test     Phase = "test"
	Ready    Phase = "ready"
	Live     Phase = "live"
	End      Phase = "end"
	After    Phase = "after"
)

// Phases lists the phases in their order.
var Phases = []Phase{Find, Place, Powering, Set, Connect, Choose, Sound, Enter, Test, Ready, Live, End, After}

// Before tells whether a phase has to be over before air.
func (p Phase) Before() bool { return slices.Index(Phases, p) < slices.Index(Phases, Live) }

// atThePlace tells whether a phase before air is done where the show is, with what was carried in.
func (p Phase) atThePlace() bool {
	at := slices.Index(Phases, p)
	return at >= slices.Index(Phases, Place) && at <= slices.Index(Phases, Test)
}

// Name is the phase as a heading.
func (p Phase) Name() string {
	switch p {
	case Find:
		return lang.Text("Find out and mend")
	case Place:
		return lang.Text("Put in place")
	case Powering:
		return lang.Text("Power")
	case Set:
		return lang.Text("Set the cameras")
	case Connect:
		return lang.Text("Connect, one at a time")
	case Choose:
		return lang.Text("Choose the sources")
	case Sound:
		return lang.Text("Sound")
	case Enter:
		return lang.Text("Enter the sheets")
	case Test:
		return lang.Text("Test")
	case Ready:
		return lang.Text("Destinations and rehearsal")
	case Live:
		return lang.Text("On air")
	case End:
		return lang.Text("End")
	}
	return lang.Text("Afterwards")
}

// Step is one thing to do.
type Step struct {
	ID      string    `json:"id"`
	Phase   Phase     `json:"phase" enum:"find,place,power,set,connect,choose,sound,enter,test,ready,live,end,after"`
	Heading string    `json:"heading" doc:"Name of the phase"`
	Do      string    `json:"do"`
	Values  []Value   `json:"values" doc:"What to set or type, exactly, in this order"`
	Label   string    `json:"label,omitempty" doc:"What to write on the label that is stuck on"`
	Where   string    `json:"where,omitempty" doc:"The place it is done at, as people call it; anywhere when not said"`
	Kind    work.Kind `json:"kind,omitempty" doc:"Kind of work, of which own times are kept"`
	Minutes float64   `json:"minutes"`
	Own     bool      `json:"own" doc:"The minutes are of one's own history, not an estimate"`
	People  int       `json:"people" doc:"How many it holds; none while files copy or a driver installs"`
	Both    bool      `json:"both" doc:"Needs somebody at the camera and somebody at the computer; alone, walk"`
	Off     bool      `json:"off" doc:"Can be broken off and gone on with"`
	After   []string  `json:"after" doc:"Ids of the steps that come before it"`
	Pass    []string  `json:"pass" doc:"What it has to show, in figures"`
	Fails   []string  `json:"fails" doc:"What to change when it does not"`
	Caution string    `json:"caution,omitempty"`
	Looks   []string  `json:"looks,omitempty" doc:"Pictures and ways of sound, as lookedOf names them: a look at each shows the step done"`
	Change  string    `json:"change,omitempty" enum:"new,changed,same" doc:"Against the last time"`

	at string // id of the place, "" for anywhere
}

// Value is one value to set or to type.
type Value struct {
	Name     string `json:"name"`
	Value    string `json:"value"`
	Proposed bool   `json:"proposed"`
	Was      string `json:"was,omitempty" doc:"The last time's, where it was another"`
}

// Packed is one thing that travels.
type Packed struct {
	Bag   string `json:"bag"`
	What  string `json:"what"`
	Owned string `json:"owned" enum:"owned,borrowed,missing,not-said"`
}

// Options are what a run sheet depends on besides the rig.
type Options struct {
	People int      // up to how many plans are made for; at least 1
	Failed []string // ids of steps that failed in the last show: they take as long again
	// the rig has had no show yet: sheets are entered, not checked; devices are connected the first time
	First bool
}

// MostPeople bounds the plans of one sheet.
const MostPeople = 6

// effort bounds the steps that are placed in search of a shorter plan: a millisecond or two.
const effort = 4000

// Of makes the run sheet of a verdict; cure is what advise found for it, nil where there is none.
func Of(v *verdict.Verdict, cure *advise.Cure, o Options) *RunSheet {
	show := &v.Show
	s := &RunSheet{Format: Format, Rig: v.Given.Name, Show: show.Minutes,
		Planned: show.SetupMinutes + show.RehearsalMinutes, First: []string{}, Packing: []Packed{}, Gone: []string{}}
	m := &maker{v: v, RunSheet: s, first: o.First, ids: map[string]int{}}
	m.steps(cure)
	m.again(o.Failed)
	m.findFirst()
	people := min(max(o.People, 1), MostPeople)
	for n := 1; n <= people; n++ {
		s.Plans = append(s.Plans, s.plan(n))
	}
	m.packing()
	m.say(cure)
	return s
}

// again gives a step that failed the last time as long again: it is done, found wanting, and done once more.
func (m *maker) again(failed []string) {
	for i := range m.Steps {
		if st := &m.Steps[i]; slices.Contains(failed, st.ID) {
			st.Minutes *= 2
			st.Fails = append([]string{lang.Text("It failed the last time: as long again is planned.")}, st.Fails...)
		}
	}
}

// findFirst puts what rests on something that has to be found out behind the finding: what is done at a thing behind
// what is looked up of it and changed at it, what is typed into the program behind everything of the show, the line and
// the computer.
func (m *maker) findFirst() {
	for i := range m.Steps {
		st := &m.Steps[i]
		if st.Phase == Find || !st.Phase.Before() {
			continue
		}
		for k := range m.Steps {
			f := &m.Steps[k]
			if f.Phase != Find || slices.Contains(st.After, f.ID) {
				continue
			}
			about, path, _ := strings.Cut(strings.TrimPrefix(f.ID, "look:"), "/")
			of, _, _ := strings.Cut(path, "/")
			rests := false
			switch about {
			case "items", "leads":
				_, at, _ := strings.Cut(st.ID, ":")
				rests = at == of || strings.HasPrefix(at, of+":")
			case "show", "uplink":
				rests = st.Phase == Enter
			}
			if f.Kind == "" && st.Phase == Enter { // a move: what is sent may be another then
				rests = true
			}
			if rests {
				st.After = append(st.After, f.ID)
			}
		}
	}
}

// tasks are the steps before air that are not done yet, as the planner sees them.
func (s *RunSheet) tasks(done func(id string) bool) (tasks []task) {
	at, places := map[string]int{}, map[string]int{}
	for i := range s.Steps {
		st := &s.Steps[i]
		if !st.Phase.Before() || done != nil && done(st.ID) {
			continue
		}
		t := task{id: st.ID, minutes: st.Minutes, people: st.People, place: -1}
		if st.Where != "" {
			p, ok := places[st.Where]
			if !ok {
				p = len(places)
				places[st.Where] = p
			}
			t.place = p
		}
		for _, a := range st.After {
			if k, ok := at[a]; ok {
				t.after = append(t.after, k)
			}
		}
		at[st.ID] = len(tasks)
		tasks = append(tasks, t)
	}
	return tasks
}

// Left is how long what is not done yet takes so many people, in minutes.
func (s *RunSheet) Left(people int, done func(id string) bool) float64 {
	tasks := s.tasks(done)
	if len(tasks) == 0 {
		return 0
	}
	_, length, _ := schedule(tasks, people, 0)
	return tidy(length)
}

// plan plans the steps before air for so many people.
func (s *RunSheet) plan(people int) Plan {
	tasks := s.tasks(nil)
	starts, length, atLeast := schedule(tasks, people, effort)
	p := Plan{People: people, Minutes: tidy(length), AtLeast: tidy(min(atLeast, length)),
		Turns: share(tasks, starts, people, length)}
	p.Proven = p.Minutes-p.AtLeast <= 1e-6
	p.Start = p.Minutes + Margin
	slices.SortStableFunc(p.Turns, func(a, b Turn) int {
		switch {
		case a.Start != b.Start:
			return int(math.Copysign(1, a.Start-b.Start))
		}
		return 0
	})
	return p
}

// Plan is the plan for so many people, or the nearest there is.
func (s *RunSheet) Plan(people int) *Plan {
	return &s.Plans[min(max(people, 1), len(s.Plans))-1]
}

// Step finds a step by id; nil when there is none.
func (s *RunSheet) Step(id string) *Step {
	for i := range s.Steps {
		if s.Steps[i].ID == id {
			return &s.Steps[i]
		}
	}
	return nil
}

// say says what has to be known first: that the rig does not hold, and that the time does not suffice.
func (m *maker) say(cure *advise.Cure) {
	if m.v.State == limit.Snapped {
		if cure != nil && len(cure.Moves) > 0 {
			text := lang.Text("This rig does not hold as it is. The first step mends it, by the reckoning; take it on the board, and this sheet follows.")
			if n := len(cure.Moves); n > 1 {
				text = lang.Text("This rig does not hold as it is. The first %s steps mend it, by the reckoning; take them on the board, and this sheet follows.",
					say.Number(float64(n)))
			}
			m.First = append(m.First, text)
		} else {
			m.First = append(m.First,
				lang.Text("This rig does not hold as it is, and no set of moves known here mends it: look at the board before anything is carried."))
		}
	}
	if m.Planned <= 0 {
		return
	}
	one := m.Plan(1)
	if one.Start <= m.Planned {
		return
	}
	text := lang.Text("Alone this takes %s min and %s more for nothing, and %s are planned: begin %s min before air",
		say.Number(one.Minutes), say.Number(Margin), say.Number(m.Planned), say.Number(math.Ceil(one.Start)))
	for i := 1; i < len(m.Plans); i++ {
		if p := &m.Plans[i]; p.Start < one.Start {
			text += lang.Text("; with %s of you %s min before", say.Number(float64(p.People)),
				say.Number(math.Ceil(p.Start)))
		}
	}
	m.First = append(m.First, text+".")
	if left := m.leave(one.Start - m.Planned); len(left) > 0 {
		m.First = append(m.First, lang.Text("What can be left out first, alone, to begin in time: %s.",
			strings.Join(left, "; ")))
	}
}

// leave lists steps nobody waits for that together save so many minutes, those that risk least first; nil when they do
// not.
func (m *maker) leave(minutes float64) (out []string) {
	for _, kind := range []work.Kind{work.Labels, work.Clap, work.Reading, work.Rehearsal} {
		for i := range m.Steps {
			if st := &m.Steps[i]; minutes > 0 && st.Kind == kind && st.Phase.Before() {
				minutes -= st.Minutes * float64(max(1, st.People))
				out = append(out, lang.Text("%s (%s min)", strings.TrimSuffix(st.Do, "."), say.Number(st.Minutes)))
			}
		}
	}
	if minutes > 0 {
		return nil
	}
	return out
}

// Since marks what differs from the last time's sheet.
func (s *RunSheet) Since(last *RunSheet) {
	for i := range s.Steps {
		st := &s.Steps[i]
		o := last.Step(st.ID)
		if o == nil {
			st.Change = "new"
			continue
		}
		st.Change = "same"
		if o.Do != st.Do || o.Label != st.Label || !slices.Equal(o.Pass, st.Pass) || len(o.Values) != len(st.Values) {
			st.Change = "changed"
		}
		for k := range st.Values {
			val := &st.Values[k]
			at := slices.IndexFunc(o.Values, func(w Value) bool { return w.Name == val.Name })
			switch {
			case at < 0:
				st.Change = "changed"
			case o.Values[at].Value != val.Value:
				val.Was, st.Change = o.Values[at].Value, "changed"
			}
		}
	}
	for i := range last.Steps {
		if o := &last.Steps[i]; s.Step(o.ID) == nil {
			s.Gone = append(s.Gone, o.Do)
		}
	}
}
