package night_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"eventether/core/night"
)

// Three nights, one of which never went to air: hours, faults and minutes lost add up, by part, place and kind, the
// most first.
func TestOver(t *testing.T) {
	hot := night.Incident{Loss: "source", Part: "Stick 1", Hop: "capture", What: "black", MinutesLost: 4}
	s := night.Over([]night.Held{
		{Minutes: 120, Mishaps: []night.Incident{hot, hot}},
		{Minutes: 60, Mishaps: []night.Incident{{Loss: "sending", Hop: "send", What: "lost", MinutesLost: 1.5}}},
		{Planned: 60, SetUp: 50},
	})
	assert.Equal(t, 2, s.Shows)
	assert.Equal(t, 3.0, s.Hours)
	assert.Equal(t, 3, s.Faults)
	assert.Equal(t, 9.5, s.Lost)
	assert.Equal(t, []night.Share{{Of: "Stick 1", Faults: 2, Lost: 8}, {Of: "—", Faults: 1, Lost: 1.5}}, s.ByPart)
	assert.Equal(t, "capture", s.ByHop[0].Of)
	assert.Equal(t, "source", s.ByLoss[0].Of)
	assert.Equal(t, 1.0, s.Between.Hours)
	assert.Equal(t, 2, s.Between.Rests)
	assert.Less(t, s.Between.Low, 1.0)
	assert.Greater(t, s.Between.High, 1.0)
	assert.Equal(t, night.Season{ByPart: []night.Share{}, ByHop: []night.Share{}, ByLoss: []night.Share{},
		Work: []night.Learn{}, Drift: []night.Drift{}}, night.Over(nil))
}
