package inspect

import (
	"math"
	"slices"

	"eventether/core/lang"
	"eventether/core/look"
	"eventether/core/say"
)

// Live watches a stream as it comes in, by the clock of who takes it: all times named now are seconds of that clock, rising. It
// is not safe for use by several at once.
type Live struct {
	planned     float64
	at          *connection // at hand, or the last
	best        *connection // the longest of those the far end's own doing parted from it
	since       float64     // when the first of those that are judged began
	lostBefore  int         // frames that never came before that
	connected   bool
	connections int
	began       float64 // of the connection at hand
	first       float64 // its first time stamp
	firstAt     float64 // and when that came
	some        bool
	lastData    float64
	anyData     bool
	lag         float64
	usual       float64 // the least lag of the connection: what the way itself takes
	late        late
	backs       int // times time stamps went back since the sender last began by itself
	lastDecode  float64
	period      float64
	lost        int
	stalls      []look.Stretch
	seconds     []Second
	from        float64 // now of the first second
	dips        []*Dip
	apart       []Gap
	latest      [2]latest // of picture and sound
}

// latest is when the latest packet of one kind came, over the connection at hand.
type latest struct {
	some bool
	at   float64
}

// late is by how much a stream comes late by its own doing, since its sender last began by itself.
type late struct {
	some   bool
	paused bool    // while the far end did badly
	least  float64 // behind, of the connection at hand, once it has settled
	last   float64
	most   float64
	now    float64
}

// connection is what came over one, with what it says of itself.
type connection struct {
	traffic *Traffic
	video   *Video
	audio   *Audio
}

// Second is one second of what came in.
type Second struct {
	At     int     `json:"at" doc:"Seconds since the first connection"`
	Kbps   float64 `json:"kbps" doc:"Of picture and sound, as it arrived"`
	Frames int     `json:"frames"`
	Behind float64 `json:"behind" doc:"By how many seconds the latest frame came later than it was sent, at its usual best 0"`
}

// What a far end may do badly.
const (
	Narrow = "narrow" // takes so many kb/s for a while
	Slow   = "slow"   // answers so many milliseconds later
	Stalls = "stalls" // takes nothing for a while
	Closes = "closes" // closes the connection, and takes a new one
	Denies = "denies" // closes it, and takes none for a while
)

// Dip is one thing a far end did badly, and what it did to the stream.
type Dip struct {
	Kind    string  `json:"kind" enum:"narrow,slow,stalls,closes,denies"`
	At      float64 `json:"at" doc:"Seconds since the first connection"`
	Seconds float64 `json:"seconds" doc:"For how long"`
	Value   float64 `json:"value,omitempty" doc:"kb/s it was narrowed to, milliseconds it was slowed by"`
	Over    bool    `json:"over"`
	Stays   bool    `json:"stays" doc:"Half a minute after its end the stream does not come as it did before"`
	Lost    int     `json:"lost" doc:"Frames that never came"`
	Behind  float64 `json:"behind" doc:"Seconds the stream came late at most"`
	Silent  float64 `json:"silent" doc:"Longest time without anything, seconds"`
	Anew    bool    `json:"anew" doc:"The sender had to connect anew, and did"`
	Back    float64 `json:"back" doc:"Seconds from its end until the stream came as it did before; -1 while it has not"`
	Says    string  `json:"says"`

	ends, lostBefore, began float64
	connections             int
	usual                   float64
}

// Of stalls and coming back [estimate].
const (
	stallAfter = 1.0  // seconds without data
	backWithin = 0.35 // seconds behind what is usual: as before
	goesBack   = 1.0  // seconds by which time stamps are set back: no B-frame does that
	settles    = 3.0  // seconds within which what was gathered before the connection has come
	excused    = 30.0 // seconds after a dip within which what comes late is of its doing
	apartFrom  = 2.0  // seconds without a sound, or a picture, while the other comes
	mostLive   = 7200 // seconds that are kept
	gapFrom    = 1.5  // usual steps from one time stamp to the next: frames are missing
	follows    = 0.05 // by which share the usual step follows each
)

// NewLive watches a stream whose picture is planned at so many kb/s, 0 where nothing is.
func NewLive(plannedKbps float64) *Live {
	return &Live{planned: plannedKbps, at: &connection{traffic: NewTraffic(plannedKbps)}, stalls: []look.Stretch{}, seconds: []Second{}, dips: []*Dip{}, apart: []Gap{}}
}

// Begins says that a sender connected.
func (l *Live) Begins(now float64) {
	switch {
	case l.connections == 0:
		l.from, l.since = now, now
	case !l.byFarEnd(now): // the sender began anew by itself: with other settings, as it may be
		l.best, l.since, l.lostBefore, l.late, l.backs = nil, now, l.lost, late{}, 0
	case l.best == nil || l.at.traffic.frames > l.best.traffic.frames:
		l.best = l.at
	}
	l.connections++
	l.at = &connection{traffic: NewTraffic(l.planned)}
	l.connected, l.began, l.some, l.period, l.lag, l.usual, l.late.some = true, now, false, 0, 0, 0, false
	l.late.now, l.latest = 0, [2]latest{}
}

// byFarEnd tells whether what happens now is still of the doing of something the far end did badly.
func (l *Live) byFarEnd(now float64) bool {
	return slices.ContainsFunc(l.dips, func(d *Dip) bool { return d.Back < 0 && now < d.ends+excused })
}

// Says takes over what the connection at hand says of its picture, or of its sound; what is nil stays.
func (l *Live) Says(v *Video, a *Audio) {
	if v != nil {
		l.at.video = v
	}
	if a != nil {
		l.at.audio = a
	}
}

// Ends says that the sender is gone.
func (l *Live) Ends(float64) { l.connected = false }

// second is the one that now lies in; nil past those that are kept.
func (l *Live) second(now float64) *Second {
	k := int(now - l.from)
	if k < 0 || k >= mostLive {
		return nil
	}
	for len(l.seconds) <= k {
		l.seconds = append(l.seconds, Second{At: len(l.seconds)})
	}
	return &l.seconds[k]
}

// data notes that something came.
func (l *Live) data(now float64, bytes int) *Second {
	if l.anyData && now-l.lastData > stallAfter && len(l.stalls) < 500 {
		l.stalls = append(l.stalls, look.Stretch{From: tenth(l.lastData - l.from), To: tenth(now - l.from)})
	}
	if l.anyData {
		for _, d := range l.dips {
			if d.Back < 0 {
				d.Silent = max(d.Silent, tenth(now-max(l.lastData, d.began)))
			}
		}
	}
	l.lastData, l.anyData = now, true
	s := l.second(now)
	if s != nil {
		s.Kbps += float64(bytes) * 8 / 1000
	}
	return s
}

func tenth(v float64) float64 { return math.Round(v*10) / 10 }

// Picture takes a coded frame that came in now.
func (l *Live) Picture(now float64, p Packet) {
	s := l.data(now, p.Bytes)
	l.comes(now, 0)
	l.at.traffic.Picture(p)
	if !l.some {
		l.some, l.first, l.firstAt = true, p.Decode, now
	} else if step := p.Decode - l.lastDecode; step < -goesBack { // another clock from here on
		l.backs++
		l.first, l.firstAt, l.usual, l.late.some = p.Decode, now, 0, false
	} else if step > 0 {
		switch {
		case l.period == 0:
			l.period = step
		case step < gapFrom*l.period:
			l.period += follows * (step - l.period)
		default:
			l.lost += int(math.Round(step/l.period)) - 1
		}
	}
	l.lastDecode = p.Decode
	l.lag = now - l.firstAt - (p.Decode - l.first)
	l.usual = min(l.usual, l.lag)
	behind := max(0, l.lag-l.usual)
	if s != nil {
		s.Frames++
		s.Behind = math.Round(1000*behind) / 1000
	}
	for _, d := range l.dips {
		d.frame(l, now, behind)
	}
	switch {
	case now-l.began < settles:
	case l.byFarEnd(now):
		l.late.paused = true
	default:
		l.late.add(behind)
	}
}

// add takes by how much a frame came late. What the far end added is told of its dip, and not of the stream.
func (l *late) add(behind float64) {
	switch {
	case !l.some:
		l.some, l.least = true, behind
	case l.paused:
		l.least += max(0, behind-l.last)
	}
	l.paused, l.last, l.least = false, behind, min(l.least, behind)
	l.now = behind - l.least
	l.most = max(l.most, l.now)
}

// frame notes what a frame that came tells of a dip.
func (d *Dip) frame(l *Live, now, behind float64) {
	if d.Back >= 0 {
		return
	}
	d.Behind = max(d.Behind, tenth(behind))
	d.Lost = l.lost - int(d.lostBefore)
	d.Anew = l.connections > d.connections
	// Back at the usual delay, or, connected anew, for a second.
	if now >= d.ends && behind <= backWithin+d.usual && (!d.Anew || now-l.began >= 1) {
		d.Back = max(0, tenth(now-d.ends))
		if d.Anew {
			d.Back = max(0, tenth(l.began-d.ends))
		}
	}
}

// Sound takes a piece of coded sound that came in now.
func (l *Live) Sound(now float64, p Packet) {
	l.data(now, p.Bytes)
	l.comes(now, 1)
	l.at.traffic.Sound(p)
}

// comes notes that a packet of the picture (0) or of the sound (1) came, and where it had not while the other did.
func (l *Live) comes(now float64, kind int) {
	if g, ok := l.without(kind); ok && len(l.apart) < 500 {
		l.apart = append(l.apart, Gap{g.Of, g.From, tenth(now - l.from)})
	}
	l.latest[kind] = latest{true, now}
}

// without is for how long picture (0) or sound (1) have not come while the other did; ok is false where that is no time, or the
// far end is why.
func (l *Live) without(kind int) (g Gap, ok bool) {
	of, other := l.latest[kind], l.latest[1-kind]
	if !of.some || !other.some || other.at-of.at < apartFrom {
		return g, false
	}
	for _, d := range l.dips { // one that began while the far end did badly is of its doing, and not for ever
		if of.at >= d.began-backWithin && of.at <= d.ends+max(0, d.Back) && other.at < d.ends+excused {
			return g, false
		}
	}
	return Gap{[]string{OfPicture, OfSound}[kind], tenth(of.at - l.from), tenth(other.at - l.from)}, true
}

// Dips says that the far end does something badly from now on, for so many seconds; value is that of its kind.
func (l *Live) Dips(now float64, kind string, value, seconds float64) {
	if l.connections == 0 || len(l.dips) == 100 {
		return
	}
	l.dips = append(l.dips, &Dip{Kind: kind, At: tenth(now - l.from), Seconds: seconds, Value: value, Back: -1, began: now, ends: now + seconds,
		lostBefore: float64(l.lost), connections: l.connections, usual: max(0, l.lag-l.usual)})
}

// Going is how a stream comes in.
type Going struct {
	Connected   bool           `json:"connected"`
	Connections int            `json:"connections"`
	Since       float64        `json:"since" doc:"When the sender last began by itself, seconds since the first connection: what came before is not judged any more"`
	Lasts       float64        `json:"lasts" doc:"Seconds of the connection at hand"`
	Silent      float64        `json:"silent" doc:"Seconds since anything came; 0 before the first"`
	Behind      float64        `json:"behind" doc:"By how many seconds the latest frame came later than the earliest did for theirs"`
	Late        float64        `json:"late" doc:"By how many seconds it came late at most since then by its own doing, not by what the far end did badly"`
	LateNow     float64        `json:"lateNow" doc:"By how many of them it comes late at the moment"`
	Lost        int            `json:"lost" doc:"Frames that never came since the sender last began by itself"`
	Backs       int            `json:"backs" doc:"Times its time stamps went back by more than a second since then"`
	Apart       []Gap          `json:"apart,omitempty" doc:"Longer than two seconds with only a picture or only a sound since then, not of the far end's doing, seconds since the first connection"`
	Without     *Gap           `json:"without,omitempty" doc:"What does not come at the moment while the other does"`
	Stalls      []look.Stretch `json:"stalls" doc:"Longer than a second without anything since then, seconds since the first connection"`
	Seconds     []Second       `json:"seconds" doc:"The last five minutes"`
	Dips        []Dip          `json:"dips"`
}

// shownSeconds are handed on of those that are kept.
const shownSeconds = 300

// Going tells how it comes in now.
func (l *Live) Going(now float64) Going {
	g := Going{Connected: l.connected, Connections: l.connections, Behind: math.Round(1000*max(0, l.lag-l.usual)) / 1000, Lost: l.lost - l.lostBefore,
		Stalls: []look.Stretch{}, Dips: []Dip{}}
	g.Since, g.Late, g.LateNow, g.Backs = tenth(l.since-l.from), tenth(l.late.most), tenth(l.late.now), l.backs
	for _, s := range l.stalls {
		if s.From >= g.Since {
			g.Stalls = append(g.Stalls, s)
		}
	}
	for _, a := range l.apart {
		if a.From >= g.Since {
			g.Apart = append(g.Apart, a)
		}
	}
	for kind := range l.latest {
		if a, ok := l.without(kind); ok {
			g.Without = &a
		}
	}
	if l.connected {
		g.Lasts = tenth(now - l.began)
	}
	if l.anyData {
		g.Silent = tenth(max(0, now-l.lastData))
	}
	if l.connected && l.connections > 0 {
		l.second(now)
	}
	g.Seconds = append([]Second{}, l.seconds[max(0, len(l.seconds)-shownSeconds):]...)
	for _, d := range l.dips {
		c := *d
		c.Over, c.Stays = now >= d.ends, d.Back < 0 && now >= d.ends+excused
		c.Says = c.say(l)
		g.Dips = append(g.Dips, c)
	}
	return g
}

// say tells what a dip did.
func (d *Dip) say(l *Live) string {
	what := map[string]string{
		Narrow: lang.Text("Narrowed to %s kb/s for %s s", say.Number(d.Value), say.Number(d.Seconds)),
		Slow:   lang.Text("Answered %s ms later for %s s", say.Number(d.Value), say.Number(d.Seconds)),
		Stalls: lang.Text("Took nothing for %s s", say.Number(d.Seconds)),
		Closes: lang.Text("Closed the connection"),
		Denies: lang.Text("Closed the connection and took none for %s s", say.Number(d.Seconds)),
	}[d.Kind]
	did := lang.Text("%s lost, %s s late at most", say.Count(d.Lost, "frame", "frames"), say.Number(d.Behind))
	switch {
	case !d.Over && d.Back < 0:
		return lang.Text("%s: under way; %s.", what, did)
	case d.Back < 0 && !l.connected:
		return lang.Text("%s: the sender has not come back.", what)
	case d.Back < 0:
		return lang.Text("%s: %s; it is not yet as it was before.", what, did)
	case d.Anew:
		return lang.Text("%s: the sender connected anew %s s after it.", what, say.Number(d.Back))
	case d.Back == 0 && d.Lost == 0 && d.Behind < backWithin:
		return lang.Text("%s: nothing of it was to be seen.", what)
	case d.Back == 0:
		return lang.Text("%s: %s; as before as soon as it was over.", what, did)
	}
	return lang.Text("%s: %s; as before %s s after it.", what, did, say.Number(d.Back))
}

// Arrived is what came over the connection at hand, or the last: what is judged. Where the far end itself parted it from one that
// lasted longer, and both say the same of themselves, it is that one.
func (l *Live) Arrived() Arrived {
	of := l.at
	if b := l.best; b != nil && b.traffic.frames > of.traffic.frames && same(b.video, of.video) && same(b.audio, of.audio) {
		of = b
	}
	a := Arrived{Video: of.video, Audio: of.audio, Came: of.traffic.Came()}
	if of.audio != nil {
		a.Tracks = 1
	}
	return a
}

// same tells whether both say the same; what nobody has said yet contradicts nothing.
func same[T comparable](a, b *T) bool { return a == nil || b == nil || *a == *b }
