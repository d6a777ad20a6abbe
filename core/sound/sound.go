// Package sound answers: how loud is a voice where it is picked up, what arrives of it at full scale, and how long does
// it take? Levels from mouth to programme, and times along the paths.
package sound

import (
	"math"
	"slices"
)

// Span is a figure with its bounds.
type Span struct {
	Low   float64 `json:"low"`
	Value float64 `json:"value"`
	High  float64 `json:"high"`
}

// Plus is the sum of two figures.
func (a Span) Plus(b Span) Span { return Span{a.Low + b.Low, a.Value + b.Value, a.High + b.High} }

// Minus is the difference of two figures that do not depend on one another.
func (a Span) Minus(b Span) Span { return Span{a.Low - b.High, a.Value - b.Value, a.High - b.Low} }

// Times is a figure times a number above zero.
func (a Span) Times(k float64) Span { return Span{a.Low * k, a.Value * k, a.High * k} }

// Exactly is a figure without spread.
func Exactly(v float64) Span { return Span{v, v, v} }

// Loud is how loud somebody speaks.
type Loud string

// Calm, raised and loud speech.
const (
	Calm   Loud = "calm"
	Raised Loud = "raised"
	Shout  Loud = "loud"
)

// Speech is the mean sound pressure of speech at 1 m, dB SPL [estimate: 60, 66, 72; the 3 dB around are
// ours]. Not said spans all.
func Speech(l Loud) Span {
	switch l {
	case Calm:
		return Span{57, 60, 63}
	case Raised:
		return Span{63, 66, 69}
	case Shout:
		return Span{69, 72, 75}
	}
	return Span{57, 63, 75}
}

// Peaks is how far the peaks of speech stand above its mean, dB [estimate].
var Peaks = Span{12, 13.5, 15}

// Near is how far the 6 dB a doubling hold in a room, m; further off the room carries the sound [memory].
const Near = 0.6

// Gain of being nearer than 1 m, dB: +6 for each halving (inverse distance law); further off than Near indoors it is
// between that and what it is at Near.
func Gain(metres Span) Span {
	law := func(m float64) float64 { return -20 * math.Log10(max(m, 0.01)) }
	least := law(metres.High)
	most := law(metres.Low)
	if metres.Low > Near { // the room may carry it
		most = law(Near)
	}
	value := law(metres.Value)
	if metres.Value > Near {
		value = (law(Near) + value) / 2
	}
	return Span{least, min(max(value, least), most), most}
}

// DBuOfDBV is what 0 dBV is in dBu: 20·log10(1 ÷ 0.7746), since 0 dBu is 0.7746 V (1 mW in 600 Ω).
const DBuOfDBV = 2.218487

// Pascal is the sound pressure of 1 Pa, dB SPL: 20·log10(1 ÷ 20 µPa) = 93.98.
const Pascal = 93.979400

// Levels are the levels of one voice at one microphone and input.
type Levels struct {
	SPL      Span `json:"spl" doc:"Mean at the microphone, dB SPL"`
	Mean     Span `json:"mean" doc:"Mean out of the microphone, dBu"`
	Gain     Span `json:"gain" doc:"To set so that the mean stands at −24 dBFS, dB"`
	Set      Span `json:"set" doc:"Gain as it stands: as said, else as proposed, dB"`
	Peak     Span `json:"peak" doc:"Peaks then, dBFS"`
	Headroom Span `json:"headroom" doc:"To clipping at the loudest peak, dB: 6 at least"`
	Noise    Span `json:"noise" doc:"Electronic noise under mean speech, dB: 40 at least"`
}

// Mean is where mean speech is captured, dBFS: its peaks then reach −12 to −9 [practice].
const Mean = -24.0

// LevelsOf plans the levels: pressure in dB SPL at the microphone, sensitivity in dBV/Pa, full scale in dBu at the
// least gain, noise of the input in dBu; gain as said, nil for the proposed one.
func LevelsOf(spl, sensitivity, fullScale, noise Span, gain *Span) Levels {
	l := Levels{SPL: spl}
	l.Mean = sensitivity.Plus(spl).Plus(Exactly(DBuOfDBV - Pascal))
	// gain = target − (signal in dBu − what 0 dBFS is in dBu)
	l.Gain = Exactly(Mean).Minus(l.Mean.Minus(fullScale))
	l.Set = Exactly(math.Round(max(0, l.Gain.Value)))
	if gain != nil {
		l.Set = *gain
	}
	mean := l.Mean.Minus(fullScale).Plus(l.Set)
	// it is turned until the meter shows the mean where it should be: what is not known comes out in the gain
	if gain == nil {
		mean = Exactly(Mean)
	}
	l.Peak = mean.Plus(Peaks)
	l.Headroom = Exactly(0).Minus(l.Peak)
	l.Noise = l.Mean.Minus(noise)
	return l
}

// Speed of sound at a temperature, m/s: 331.3 + 0.606 × °C, good to 0.1 % between −10 and 40 °C.
func Speed(celsius float64) float64 { return 331.3 + 0.606*celsius }

// Air is how long sound takes through the air, ms, at 20 °C.
func Air(metres Span) Span { return metres.Times(1000 / Speed(20)) }

// Planning figures of delay, ms or frames [estimate].
var (
	CameraFrames  = Span{1, 2, 3}     // out of a camera, frames of its picture
	BoxFrames     = Span{0, 1, 2}     // through a converter or switcher
	CaptureFrames = Span{1, 2, 3}     // capture and USB
	CardFrames    = Span{1, 1.5, 2}   // a card: less than USB; where between is ours
	ProgramFrames = Span{1, 1, 2}     // of the programme, and its buffer
	ProgramSound  = Span{20, 50, 100} // a program's own sound buffers
	Wireless      = Span{2, 10, 20}
	Interface     = Span{Buffer(128, 48), Buffer(256, 48), Buffer(1024, 48)} // usual settings [practice]
)

// Buffer is what a buffer of so many frames takes at a sample rate in kHz, ms.
func Buffer(frames int, kHz float64) float64 { return float64(frames) / kHz }

// Window is a window of sound against its picture, ms; late is above zero.
type Window struct {
	Early, Late float64
	Source      string
}

// The published windows: noticed and accepted, and the tighter one.
var (
	Noticed  = Window{45, 125, "ITU-R BT.1359-1"}
	Accepted = Window{90, 185, "ITU-R BT.1359-1"}
	Tight    = Window{40, 60, "EBU R 37"}
)

// Delay is a delay as it is set: in ms, in frames of the programme, and in samples at 48 kHz.
type Delay struct {
	Ms      float64 `json:"ms"`
	Frames  float64 `json:"frames" doc:"Of the programme"`
	Samples int     `json:"samples" doc:"At 48 kHz"`
}

// DelayOf writes so many ms, at a programme of so many frames a second.
func DelayOf(ms, fps float64) Delay {
	ms = math.Round(ms)
	return Delay{Ms: ms, Frames: math.Round(ms*fps/100) / 10, Samples: int(math.Round(ms * 48))}
}

// Claps is what several claps measured, in milliseconds: the one in the middle, between the least and the most; false
// for none.
func Claps(ms []float64) (Span, bool) {
	if len(ms) == 0 {
		return Span{}, false
	}
	all := slices.Sorted(slices.Values(ms))
	n := len(all)
	return Span{Low: all[0], Value: (all[(n-1)/2] + all[n/2]) / 2, High: all[n-1]}, true
}
