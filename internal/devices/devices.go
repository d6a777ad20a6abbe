// Package devices answers: what do the cameras and microphones deliver that a page has open?
//
// A page opens a look at one device, sends what it samples as batches of records, and ends it. Frames and sound are
// looked at as they come and thrown away; what is kept is a few numbers a frame, for as long as the look is open and a
// little longer, so that looks can be held against each other.
package devices

import (
	"cmp"
	"crypto/rand"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"eventether/core/look"
	"eventether/core/view"
	"eventether/internal/readers"
)

// Bounds of what is looked at at once, and for how long.
const (
	MostOpen    = 8
	MostMinutes = 60
	forgetAfter = 15 * time.Minute // once it is ended, or its page has gone
	silentAfter = 20 * time.Second // without a batch it is not counted among those that are open
)

// ErrGone stands for a look that is none, or was forgotten.
var ErrGone = errors.New("this look has ended, or its page was gone for too long: begin anew")

// Bench holds the looks that are open.
type Bench struct {
	sync.Mutex
	all   map[string]*Look
	now   func() time.Time
	gauge func() (readers.Gauge, bool)
}

// NewBench has no look open. gauge tells how busy and warm this computer is.
func NewBench(gauge func() (readers.Gauge, bool)) *Bench {
	return &Bench{all: map[string]*Look{}, now: time.Now, gauge: gauge}
}

// Look is one look at one device.
type Look struct {
	ID string `json:"id"`
	Of string `json:"of"`

	lock    sync.Mutex
	rig     string
	picture *look.Picture
	sound   *look.Sound
	warm    warmth
	heardAt float64 // when its first sample came, by the clock of its page
	facts   view.DeviceFacts
	shift   float64 // of times: what was not looked at takes none
	last    float64 // when the last frame came, as it was told
	step    float64 // to it from the one before
	began   float64
	gap     bool
	seen    time.Time
	ended   atomic.Bool
	result  *Result
}

// Result is what a look came to.
type Result struct {
	Rig string
	Of  string
	view.Device
	claps   []float32 // the beginning of its sound, to hold against another's
	heardAt float64
}

// Open begins a look at what a rig calls of.
func (b *Bench) Open(rig, of string, facts view.DeviceFacts) (*Look, error) {
	b.Lock()
	defer b.Unlock()
	b.forget()
	open := 0
	for _, l := range b.all {
		if !l.ended.Load() && b.now().Sub(l.seen) < silentAfter {
			open++
		}
	}
	if open >= MostOpen {
		return nil, fmt.Errorf("%d devices are looked at already: end one of them", open)
	}
	l := &Look{ID: rand.Text(), Of: of, rig: rig, facts: facts, seen: b.now()}
	b.all[l.ID] = l
	return l, nil
}

// mostKept is how many looks are kept in all, ended and silent ones too; those asked after longest ago go first.
const mostKept = 48

// forget lets go of looks nobody has asked after.
func (b *Bench) forget() {
	for len(b.all) >= mostKept {
		oldest := ""
		for id, l := range b.all {
			if oldest == "" || l.seen.Before(b.all[oldest].seen) {
				oldest = id
			}
		}
		delete(b.all, oldest)
	}
	for id, l := range b.all {
		if b.now().Sub(l.seen) > forgetAfter {
			delete(b.all, id)
		}
	}
}

// Find is a look by its id.
func (b *Bench) Find(id string) (*Look, error) {
	b.Lock()
	defer b.Unlock()
	l := b.all[id]
	if l == nil {
		return nil, ErrGone
	}
	l.seen = b.now()
	return l, nil
}

// Now is how a device does at the moment.
type Now struct {
	Seconds float64      `json:"seconds" doc:"Looked at so far"`
	Picture *look.Lately `json:"picture,omitempty"`
	LevelDB *float64     `json:"levelDb,omitempty" doc:"Loudest 50 ms of the last half second, dBFS"`
	Full    bool         `json:"full,omitempty" doc:"An hour was looked at; what comes now is not"`
}

// warmth is how busy and warm this computer was, from one second to the next.
type warmth struct {
	first, last readers.Gauge
	at          time.Time
	n           int
	most        float64
	highest     float64
}

// Gauge notes how busy and warm this computer is while a device of its own is looked at: once a second.
func (b *Bench) Gauge(l *Look) {
	l.lock.Lock()
	defer l.lock.Unlock()
	w, now := &l.warm, b.now()
	if b.gauge == nil || w.n > 0 && now.Sub(w.at) < time.Second {
		return
	}
	g, ok := b.gauge()
	if !ok {
		return
	}
	if w.n == 0 {
		w.first = g
	} else if all := g.All - w.last.All; all > 0 {
		w.most = max(w.most, 100*float64(g.Busy-w.last.Busy)/float64(all))
	}
	w.last, w.at, w.highest = g, now, max(w.highest, g.WarmestC)
	w.n++
}

// warmed is what was noted; nil where that is less than two readings.
func (w *warmth) warmed() *view.Warm {
	all := w.last.All - w.first.All
	if w.n < 2 || all == 0 {
		return nil
	}
	return &view.Warm{BusyPct: 100 * float64(w.last.Busy-w.first.Busy) / float64(all), MostPct: w.most,
		FromC: w.first.WarmestC, ToC: w.highest}
}

// Take looks at a batch of records. A batch that breaks off is taken as far as it goes; an error names what is wrong.
func (l *Look) Take(r io.Reader) (Now, error) {
	l.lock.Lock()
	defer l.lock.Unlock()
	if l.ended.Load() {
		return Now{}, ErrGone
	}
	err := records(r, l.take)
	return l.state(), err
}

func (l *Look) state() (n Now) {
	if l.picture != nil {
		at := l.picture.Now()
		n.Picture, n.Seconds = &at, l.looked()
	}
	if l.sound != nil {
		if db, ok := l.sound.Level(); ok {
			n.LevelDB = &db
		}
		n.Seconds = max(n.Seconds, l.sound.Seconds())
	}
	n.Full = n.Seconds >= MostMinutes*60
	return n
}

// looked is how much of the picture was looked at, in seconds.
func (l *Look) looked() float64 { return max(0, l.last-l.shift-l.began) }

// take looks at one record.
func (l *Look) take(r *record) {
	if l.looked() >= MostMinutes*60 || l.sound != nil && l.sound.Seconds() >= MostMinutes*60 {
		return
	}
	switch r.kind {
	case recordGap:
		l.gap = true
	case recordFrame, recordClose:
		if l.picture == nil {
			l.picture, l.began, l.last = look.NewPicture(), r.at, r.at
		}
		if r.kind == recordClose {
			l.picture.AddClosely(look.Frame{At: r.at - l.shift, Width: r.width, Height: r.height, Luma: r.bytes})
			return
		}
		switch d := r.at - l.last; {
		case l.gap && d > l.step: // the clock stands while nobody looks
			l.shift += d - l.step
		case !l.gap && d > 0:
			l.step = d
		}
		l.gap, l.last = false, max(l.last, r.at)
		l.picture.AddSampled(r.at-l.shift, r.width, r.height, r.bytes)
	case recordSound:
		if l.sound == nil {
			l.sound, l.heardAt = look.NewSound(float64(r.rate), r.channels), r.at
		}
		if r.channels == l.sound.Channels() && float64(r.rate) == l.sound.Rate() {
			l.sound.Add(r.left, r.right)
		}
	}
}

// End ends a look, and says what it came to: always the same.
func (l *Look) End(facts view.DeviceFacts) *Result {
	l.lock.Lock()
	defer l.lock.Unlock()
	if l.result != nil {
		return l.result
	}
	l.ended.Store(true)
	facts.Label = cmp.Or(facts.Label, l.facts.Label)
	r := &Result{Rig: l.rig, Of: l.Of, Device: view.Device{DeviceFacts: facts}}
	if l.picture != nil && l.picture.Frames() > 0 {
		seen := l.picture.See()
		r.Seen = &seen
	}
	if l.sound != nil {
		heard := l.sound.Hear()
		r.Heard, r.claps, r.heardAt = &heard, l.sound.Claps(), l.heardAt
	}
	r.Warm = l.warm.warmed()
	l.result, l.picture, l.sound = r, nil, nil
	return r
}

// Ended is what an ended look came to.
func (l *Look) Ended() (*Result, bool) {
	l.lock.Lock()
	defer l.lock.Unlock()
	return l.result, l.result != nil
}

// Waved says which of several devices of one name is meant, when somebody covers a lens, waves at one of them or taps a
// microphone: sure where a picture changes four times as much as any other and enough to be a hand, or a sound is a
// fourfold louder than any other [estimate].
func Waved(looks []*Look) (which string, sure bool) {
	const (
		hand = 1.5 // codes of change, all over
		tap  = -50 // dBFS
		over = 4
	)
	type moves struct {
		id string
		by float64
	}
	var pictures, sounds []moves
	for _, l := range looks {
		l.lock.Lock()
		if l.picture != nil {
			pictures = append(pictures, moves{l.ID, l.picture.Now().Change})
		} else if l.sound != nil {
			if db, ok := l.sound.Level(); ok {
				sounds = append(sounds, moves{l.ID, math.Pow(10, db/20)})
			}
		}
		l.lock.Unlock()
	}
	most := func(all []moves, least float64) (string, bool) {
		if len(all) < 2 {
			return "", false
		}
		slices.SortFunc(all, func(a, b moves) int { return cmp.Compare(b.by, a.by) })
		return all[0].id, all[0].by >= least && all[0].by >= over*all[1].by
	}
	if which, sure = most(pictures, hand); sure {
		return which, true
	}
	return most(sounds, math.Pow(10, tap/20.0))
}

// Claps says which of two ended looks at microphones heard claps first, and by how much. Both have to have been open at
// one time, in one page, by one clock.
func Claps(a, b *Result) look.HeardFirst {
	first, second := a.claps, b.claps
	from := func(v []float32, seconds float64) []float32 {
		return v[min(len(v), int(math.Round(max(0, seconds)*look.ClapRate))):]
	}
	return look.ClapsOf(from(first, b.heardAt-a.heardAt), from(second, a.heardAt-b.heardAt))
}
