package work_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"eventether/core/work"
)

func ExampleTimes_Lay() {
	_, desk := work.Times{}.Lay(false, 1.5, "")
	_, room := work.Times{}.Lay(false, 12, "")
	_, own := work.Times{"room": 3, "tape": 1}.Lay(false, 12, "")
	fmt.Println(desk, room, own)
	// Output: 1 8 5
}

// Two minutes more per started five metres over a walk; while nobody has said, without and with are the bounds.
func TestOverAWalk(t *testing.T) {
	for _, c := range []struct {
		metres    float64
		walk      work.Walk
		low, high float64
	}{{12, work.OverWalk, 10, 10}, {12, work.OffWalk, 4, 4}, {12, "", 4, 10}, {5, "", 4, 6}, {4.9, "", 4, 4},
		{4, work.OverWalk, 6, 6}, {2, work.OverWalk, 1, 1}} {
		low, high := work.Times{}.Bounds(false, c.metres, c.walk)
		assert.Equal(t, c.low, low, "%g m", c.metres)
		assert.Equal(t, c.high, high, "%g m", c.metres)
		_, m := work.Times{}.Lay(false, c.metres, c.walk)
		assert.True(t, low <= m && m <= high, "%g m: %g", c.metres, m)
	}
}

// What such work takes as a rule [practice].
func TestUsualTimes(t *testing.T) {
	for kind, minutes := range map[work.Kind]float64{work.Mount: 6, work.Setting: 0.5, work.Desk: 1, work.Room: 4,
		work.Tape: 2, work.SDI: 3, work.Plug: 1, work.Card: 15,
		work.First: 5, work.Source: 2, work.Mic: 5, work.Sheet: 10, work.SheetSeen: 2, work.TestFile: 6, work.Clap: 4,
		work.Ready: 6, work.Rehearsal: 10, work.Labels: 5, work.Reading: 3} {
		m, own := work.Times(nil).Minutes(kind)
		assert.Equal(t, minutes, m, kind)
		assert.False(t, own)
	}
	m, own := work.Times{"plug": 0.5}.Minutes(work.Plug)
	assert.Equal(t, 0.5, m)
	assert.True(t, own)
	for _, k := range work.All() {
		assert.True(t, work.Known(string(k.Kind)))
		assert.Positive(t, k.Minutes)
	}
	assert.False(t, work.Known("coffee"))
}
