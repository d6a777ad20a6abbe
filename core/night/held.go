package night

import (
	"maps"
	"slices"

	"eventether/core/runsheet"
)

// Show is what is known of a show when it is opened.
type Show struct {
	ID, Name string
	AirAt    int64 // milliseconds since 1970 UTC
	People   int
	Sheet    *runsheet.RunSheet
}

// Held is what a show counts for over all shows, by its operations so far.
func (s *State) Held(of Show) Held {
	st := s.Standing()
	h := Held{Lost: st.Lost, ID: of.ID, Name: of.Name, At: of.AirAt, Mishaps: []Incident{}, Readings: []Figure{},
		Took: []Took{}, Failed: slices.Sorted(maps.Keys(s.failed))}
	if st.AirAt > 0 {
		h.At = st.AirAt
		if st.EndAt > st.AirAt {
			h.Minutes = float64(st.EndAt-st.AirAt) / 60000
		}
	}
	for _, k := range st.Incidents {
		h.Mishaps = append(h.Mishaps, *k.Op.Incident)
		if st.AirAt == 0 || k.First().At < st.AirAt {
			h.BeforeAir++
		}
	}
	for _, k := range st.Figures {
		h.Readings = append(h.Readings, *k.Op.Figure)
	}
	h.Planned = of.Sheet.Plan(of.People).Minutes
	var steps []Step
	first, last := int64(0), int64(0)
	for i := range of.Sheet.Steps {
		x := &of.Sheet.Steps[i]
		if !x.Phase.Before() {
			continue
		}
		steps = append(steps, Step{ID: x.ID, Kind: string(x.Kind), Minutes: x.Minutes})
		if t, ok := st.Ticks[x.ID]; ok && t.Done {
			if first == 0 || t.At < first {
				first = t.At
			}
			last = max(last, t.At)
		}
	}
	if first > 0 {
		h.SetUp = float64(last-first) / 60000
		h.Took = Times(&st, steps)
	}
	return h
}
