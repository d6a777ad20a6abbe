package ladder

import (
	"math"

	"eventether/core/engine"
	"eventether/core/fact"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/verdict"
)

// Region is what one destination can be sent: bitrate against size and rate, between the edges that bound it.
type Region struct {
	Destination string  `json:"destination"`
	CapKbps     float64 `json:"capKbps" doc:"The destination's cap; 0 when nobody has looked it up"`
	LeastKbps   float64 `json:"leastKbps" doc:"The least it takes; 0 when it says nothing"`
	SlackKbps   float64 `json:"slackKbps" doc:"What the line leaves for this picture with room to spare, the others as they are"`
	SureKbps    float64 `json:"sureKbps" doc:"The same, to the last of what it surely carries"`
	FloorKbps   float64 `json:"floorKbps" doc:"Of each million of pixels a second: where blocks begin to show"`
	NowKbps     float64 `json:"nowKbps"`
	NowMpxS     float64 `json:"nowMpxS"`
	Spots       []Spot  `json:"spots" doc:"The rungs, by how much has to be coded"`
}

// Spot is one rung of a region.
type Spot struct {
	Label     string      `json:"label"`
	MpxS      float64     `json:"mpxS"`
	FloorKbps float64     `json:"floorKbps"`
	LowKbps   float64     `json:"lowKbps"`
	HighKbps  float64     `json:"highKbps"`
	Takes     bool        `json:"takes" doc:"The destination takes this size and rate"`
	Computer  limit.State `json:"computer" enum:"slack,taut,untested,snapped" doc:"How the processor stands with it"`
	Fits      limit.State `json:"fits" enum:"slack,taut,snapped" doc:"How the line stands with its least bitrate"`
	Edits     []rig.Edit  `json:"edits" doc:"What sends this, at the bitrate that suits it best here"`
	Now       bool        `json:"now"`
}

// Regions are the affordable regions of every destination that is sent to.
func Regions(v *verdict.Verdict) []Region {
	out := []Region{}
	rungs := plans.Rungs(v.Show.Programme, v.Show.Motion)
	sure := v.Upload().Low * 1000
	now := 0.0
	if up := v.Find(engine.ID{Rule: rules.Uplink}); up != nil {
		now = up.Load.High * 1000
	}
	for i := range v.Show.Destinations {
		d := &v.Show.Destinations[i]
		if d.Via != "" {
			continue
		}
		share := plans.UploadShare(d)
		mine := share * (v.Video(i).High + v.Audio(i).High)
		left := func(kbps float64) float64 {
			return math.Max(0, math.Floor((kbps-(now-mine))/share-v.Audio(i).High))
		}
		r := Region{Destination: d.Name, SlackKbps: left(plans.UplinkShare * sure), SureKbps: left(sure),
			NowKbps: v.Video(i).High, FloorKbps: 1000 * plans.LeastBits,
			NowMpxS: float64(d.Send.Width) * float64(d.Send.Height) * d.Send.Rate.Float() / 1e6, Spots: []Spot{}}
		if d.Ingest != nil {
			r.CapKbps = d.Ingest.MaxVideoKbps
			r.LeastKbps, _ = d.Ingest.Least()
		}
		for k := range rungs {
			g := &rungs[k]
			low, high, ok := takes(d, g)
			s := Spot{Label: g.Label, MpxS: g.MpxS, FloorKbps: g.FloorKbps, LowKbps: g.LowKbps, HighKbps: g.HighKbps,
				Takes: ok, Fits: limit.Snapped,
				Now: d.Send.Width == g.Width && d.Send.Height == g.Height && d.Send.Rate == g.Rate}
			if ok {
				s.LowKbps, s.HighKbps = low, high
			}
			switch {
			case s.LowKbps <= r.SlackKbps:
				s.Fits = limit.Slack
			case s.LowKbps <= r.SureKbps:
				s.Fits = limit.Taut
			}
			send := d.Send
			send.Width, send.Height, send.Rate = g.Width, g.Height, g.Rate
			send.VideoKbps = new(fact.Exactly(v.BitrateFor(i, send)))
			s.Edits = plans.SendEdits(&v.Show, i, send)
			s.Computer = processor(v, s.Edits)
			r.Spots = append(r.Spots, s)
		}
		out = append(out, r)
	}
	return out
}

// processor is how the processor stands after an edit of what is sent.
func processor(v *verdict.Verdict, edits []rig.Edit) limit.State {
	host := v.Host()
	if host == nil {
		return limit.Slack
	}
	after, err := rig.Apply(v.Rig, edits...)
	if err != nil {
		return limit.Slack // never: it names a destination of the rig
	}
	state := limit.Slack
	verdict.Look(after, func(a *verdict.Verdict) {
		if l := a.Find(engine.ID{Rule: rules.Processor, Place: host.ID}); l != nil {
			state = l.State
		}
	})
	return state
}
