// Package look answers: what does a picture, or a sound, really come to?
//
// It is fed with frames, samples and their times, wherever they come from, and knows no file, device or clock. A
// Picture takes frames one after the other and keeps a small part of each; a Sound takes blocks of samples. What they
// come to is figures, and findings that say how they were found, or that they cannot be told from this.
//
// The thresholds are starts [estimate], tuned on one half of made clips and held against the other half
// (internal/media).
package look

import "slices"

// Answer is what looking came to.
type Answer string

// Found is there, Clear is not, and CannotTell stands for what this picture or sound does not show.
const (
	Found      Answer = "found"
	Clear      Answer = "clear"
	CannotTell Answer = "cannot-tell"
)

// Sign is one thing that was looked for.
type Sign struct {
	What   Name      `json:"what" enum:"rate,repeats,black,frozen,border,range,combing,flicker,exposure,overlay,asleep,silent,clipped,one-sided,equal,inverted,offset,hum,pumping,echo,focus,level,turned"`
	Answer Answer    `json:"answer" enum:"found,clear,cannot-tell"`
	Value  float64   `json:"value,omitempty" doc:"Its figure, in the unit of its kind"`
	Unit   string    `json:"unit,omitempty"`
	Says   string    `json:"says" doc:"In one line"`
	Spans  []Stretch `json:"spans" doc:"When, in seconds from the beginning"`
}

// Stretch is a stretch of time, in seconds.
type Stretch struct {
	From float64 `json:"from"`
	To   float64 `json:"to"`
}

// Name is what is looked for.
type Name string

// What is looked for in pictures and in sound.
const (
	IsRate     Name = "rate"
	IsRepeats  Name = "repeats"
	IsBlack    Name = "black"
	IsFrozen   Name = "frozen"
	IsBorder   Name = "border"
	IsRange    Name = "range"
	IsCombing  Name = "combing"
	IsFlicker  Name = "flicker"
	IsExposure Name = "exposure"
	IsOverlay  Name = "overlay"
	IsAsleep   Name = "asleep"
	IsFocus    Name = "focus"
	IsLevel    Name = "level"
	IsTurned   Name = "turned"

	IsSilent   Name = "silent"
	IsClipped  Name = "clipped"
	IsOneSided Name = "one-sided"
	IsEqual    Name = "equal"
	IsInverted Name = "inverted"
	IsOffset   Name = "offset"
	IsHum      Name = "hum"
	IsPumping  Name = "pumping"
	IsEcho     Name = "echo"
	IsLoudness Name = "loudness" // against what is aimed at; looking itself does not know that
	IsGaps     Name = "gaps"     // in picture or sound, of how a recording's packets come
	IsCurve    Name = "curve"    // of light: what a recording says of it
)

// Find is the finding of a name, nil when it was not looked for.
func Find(all []Sign, n Name) *Sign {
	if i := slices.IndexFunc(all, func(f Sign) bool { return f.What == n }); i >= 0 {
		return &all[i]
	}
	return nil
}

// runs are the stretches of frames for which something holds, from a length in seconds on.
func runs(times []float64, holds func(int) bool, least float64) []Stretch {
	out := []Stretch{}
	for i := 0; i < len(times); i++ {
		if !holds(i) {
			continue
		}
		from := i
		for i+1 < len(times) && holds(i+1) {
			i++
		}
		if end := times[min(i+1, len(times)-1)]; end-times[from] >= least {
			out = append(out, Stretch{times[from], end})
		}
	}
	return out
}

// quantile is a share of the way up sorted values; 0 of none.
func quantile(sorted []float64, share float64) float64 {
	if len(sorted) == 0 {
		return 0
	}
	return sorted[min(len(sorted)-1, int(share*float64(len(sorted))))]
}

func median(v []float64) float64 { return quantile(slices.Sorted(slices.Values(v)), 0.5) }
