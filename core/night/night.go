// Package night answers: what has happened tonight, and over all nights? A show's log is a list of operations that is
// only ever added to; what stands on the sheet follows from it, in whatever order the operations come in.
package night

import (
	"cmp"
	"slices"
)

// Op is one thing somebody did or wrote down. Ids are made where it happens, so that sending it again adds nothing.
type Op struct {
	ID   string `json:"id" minLength:"8" maxLength:"60" pattern:"^[A-Za-z0-9-]+$" doc:"Made once, where it happens"`
	Kind string `json:"kind" enum:"tick,untick,fail,incident,figure,note,air,end,drop"`
	// At is milliseconds since 1970 UTC, by the clock of the computer that keeps it: a phone's wrong clock is put right
	// when it comes in.
	At   int64  `json:"at" doc:"When it happened, milliseconds since 1970 UTC"`
	Who  string `json:"who,omitempty" maxLength:"60"`
	Step string `json:"step,omitempty" maxLength:"300" doc:"Of a tick, untick and fail"`
	// Of is the operation this one stands for: an incident or figure written again; or what is dropped, going to air
	// and the end of it too.
	Of       string    `json:"of,omitempty" maxLength:"60"`
	Incident *Incident `json:"incident,omitempty"`
	Figure   *Figure   `json:"figure,omitempty"`
	Text     string    `json:"text,omitempty" maxLength:"2000"`
	// Whole is set where somebody has looked at what was taken out, and put it back: it is no key.
	Whole bool `json:"whole,omitempty" doc:"Somebody has looked, and says that nothing in its texts is a key: they stay as they are"`
	// Said is set where a device's clock was ahead of ours by more than a minute: when the operation came counts then.
	Said int64 `json:"said,omitempty" doc:"What its device's clock said, where that was ahead of the time it came; at is when it came then"`
}

// Incident is something that went wrong.
type Incident struct {
	Loss        string  `json:"loss" enum:"source,composing,coding,sending,sound,power,other" doc:"Kind of loss"`
	Part        string  `json:"part,omitempty" maxLength:"120" doc:"Item or lead id, or what people call it"`
	Hop         string  `json:"hop,omitempty" enum:"camera,socket,lead,capture,port,picture,send" doc:"Where on the tether"`
	What        string  `json:"what" maxLength:"500"`
	Cause       string  `json:"cause,omitempty" maxLength:"500"`
	Cure        string  `json:"cure,omitempty" maxLength:"500"`
	MinutesLost float64 `json:"minutesLost,omitempty" minimum:"0" maximum:"10080"`
	Next        string  `json:"next,omitempty" maxLength:"500" doc:"What to change next time"`
}

// Figure is something measured, or read off, during the show.
type Figure struct {
	What  string  `json:"what" maxLength:"120" doc:"bitrate, dropped, processor, temperature, battery, free, uplink, or a name"`
	Of    string  `json:"of,omitempty" maxLength:"120" doc:"Item id it is of"`
	Path  string  `json:"path,omitempty" maxLength:"200" doc:"The fact of the rig it measures"`
	Value float64 `json:"value" minimum:"-1e9" maximum:"1e9"`
	Unit  string  `json:"unit,omitempty" maxLength:"20"`
}

// Standing is a show as its operations have made it.
type Standing struct {
	Ticks     map[string]Tick `json:"ticks" doc:"By step"`
	Incidents []Written       `json:"incidents"`
	Figures   []Written       `json:"figures"`
	Notes     []Written       `json:"notes"`
	AirAt     int64           `json:"airAt" doc:"When it went to air; 0 when it has not"`
	AirOp     string          `json:"airOp,omitempty" doc:"The operation that says so: dropping it takes it back"`
	EndAt     int64           `json:"endAt" doc:"When it ended; 0 when it has not"`
	EndOp     string          `json:"endOp,omitempty" doc:"The operation that says so: dropping it takes it back"`
	Lost      float64         `json:"lost" doc:"Minutes lost by all incidents"`
}

// Tick is how a step stands.
type Tick struct {
	Done   bool   `json:"done"`
	Failed bool   `json:"failed"`
	At     int64  `json:"at"`
	Who    string `json:"who,omitempty"`
	Said   int64  `json:"said,omitempty" doc:"What the device's clock said, where it was ahead: at is when the tick came then"`
	op     string
}

// Written is an incident, figure or note as it stands, with what it said before.
type Written struct {
	ID     string `json:"id" doc:"Of the first operation about it"`
	Op     Op     `json:"op"`
	Before []Op   `json:"before" doc:"What it said before, the oldest first; of very many the first and the last twenty"`
}

// First is the operation that first wrote it down.
func (k *Written) First() *Op {
	if len(k.Before) > 0 {
		return &k.Before[0]
	}
	return &k.Op
}

// Step is what is known of a step of the sheet when times are taken.
type Step struct {
	ID      string
	Kind    string  // of work
	Minutes float64 // planned
}

// Took is how long a step took.
type Took struct {
	Step    string  `json:"step"`
	Kind    string  `json:"kind"`
	Minutes float64 `json:"minutes"`
	Planned float64 `json:"planned"`
}

// mostLonger is how many times the plan a step may have taken for its time to count: more is a pause, not work.
const mostLonger = 5

// Times are how long steps took: from the tick a person made before to this one; of the first nobody knows when it was
// begun. A time that is none (several ticked at once, a long pause) does not count.
func Times(s *Standing, steps []Step) []Took {
	type at struct {
		step Step
		tick Tick
	}
	var done []at
	for _, st := range steps {
		if t, ok := s.Ticks[st.ID]; ok && t.Done {
			done = append(done, at{st, t})
		}
	}
	slices.SortStableFunc(done, func(a, b at) int { return cmp.Compare(a.tick.At, b.tick.At) })
	last := map[string]int64{}
	out := []Took{}
	for _, d := range done {
		from, ok := last[d.tick.Who]
		last[d.tick.Who] = d.tick.At
		m := float64(d.tick.At-from) / 60000
		if !ok || d.step.Kind == "" || d.step.Minutes <= 0 || m < d.step.Minutes/mostLonger ||
			m > d.step.Minutes*mostLonger {
			continue
		}
		out = append(out, Took{d.step.ID, d.step.Kind, m, d.step.Minutes})
	}
	return out
}
