package look_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"eventether/core/look"
)

// note is so many seconds of a stereo sine at a level in dBFS of its peak.
type note struct{ db, seconds float64 }

// played plays tones one behind the other, 1000 Hz at 48 kHz.
func played(hz float64, all ...note) *look.Loudness {
	l, n := look.NewLoudness(48000, 2), 0
	for _, t := range all {
		a := math.Pow(10, t.db/20)
		part := make([]float32, int(math.Round(t.seconds*48000)))
		for i := range part {
			part[i] = float32(a * math.Sin(2*math.Pi*hz*float64(n)/48000))
			n++
		}
		l.Add(part, part)
	}
	return l
}

func repeated(times int, all ...note) (out []note) {
	for range times {
		out = append(out, all...)
	}
	return out
}

// The cases of EBU Tech 3341 and 3342 that can be synthesised [standard; their numbers, signals and answers from memory].
func TestEBUCases(t *testing.T) {
	for name, c := range map[string]struct {
		of   []note
		lufs float64
	}{
		"3341-1": {[]note{{-23, 20}}, -23},
		"3341-2": {[]note{{-33, 20}}, -33},
		"3341-3": {[]note{{-36, 10}, {-23, 60}, {-36, 10}}, -23},
		"3341-4": {[]note{{-72, 10}, {-36, 10}, {-23, 60}, {-36, 10}, {-72, 10}}, -23},
		"3341-5": {[]note{{-26, 20}, {-20, 20.1}, {-26, 20}}, -23},
	} {
		assert.InDelta(t, c.lufs, played(1000, c.of...).Integrated(), 0.1, name)
	}
	// 9 and 12: short-term and momentary loudness stand still, though the tone does not.
	for _, s := range played(1000, repeated(5, note{-20, 1.34}, note{-30, 1.66})...).ShortTerm() {
		assert.InDelta(t, -23, s, 0.1, "3341-9")
	}
	momentary, _ := played(1000, repeated(25, note{-20, 0.18}, note{-30, 0.22})...).Most()
	assert.InDelta(t, -23, momentary, 0.1, "3341-12")
	// 10 and 13: one burst that fills the window, wherever it begins.
	for k := range 20 {
		_, short := played(1000, note{-200, float64(k) * 0.15}, note{-23, 3}, note{-200, 1}).Most()
		assert.InDelta(t, -23, short, 0.1, "3341-10, %d", k)
		momentary, _ := played(1000, note{-200, float64(k) * 0.02}, note{-23, 0.4}, note{-200, 1}).Most()
		assert.InDelta(t, -23, momentary, 0.1, "3341-13, %d", k)
	}
	for name, c := range map[string]struct {
		of []note
		lu float64
	}{
		"3342-1": {[]note{{-20, 20}, {-30, 20}}, 10},
		"3342-2": {[]note{{-20, 20}, {-15, 20}}, 5},
		"3342-3": {[]note{{-40, 20}, {-20, 20}}, 20},
		"3342-4": {[]note{{-50, 20}, {-35, 20}, {-20, 20}, {-35, 20}, {-50, 20}}, 15},
	} {
		assert.InDelta(t, c.lu, played(1000, c.of...).Range(), 1, name)
	}
	// True peak: sines of fs ÷ n that miss their tops by half a step.
	for name, c := range map[string]struct{ part, phase, amplitude, dbtp float64 }{
		"3341-15": {4, 0, 0.5, -6}, "3341-16": {4, 45, 0.5, -6}, "3341-17": {6, 60, 0.5, -6}, "3341-18": {8, 67.5, 0.5, -6},
		"3341-19": {4, 45, 1.41, 3},
	} {
		l, part := look.NewLoudness(48000, 2), make([]float32, 48000)
		for i := range part {
			fade := min(1, float64(i)/4800, float64(len(part)-i)/4800)
			part[i] = float32(fade * c.amplitude * math.Sin(2*math.Pi*float64(i)/c.part+c.phase*math.Pi/180))
		}
		l.Add(part, part)
		got := l.TruePeak()
		assert.LessOrEqual(t, got, c.dbtp+0.2, name)
		assert.GreaterOrEqual(t, got, c.dbtp-0.4, name)
	}
}
