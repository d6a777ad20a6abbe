package demo

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"time"

	"github.com/google/uuid"

	"eventether/core/judge"
	"eventether/core/night"
	"eventether/core/runsheet"
	"eventether/internal/demo/rigs"
	"eventether/internal/store"
	"eventether/internal/wire"
)

// nights is how many weekly shows the season has.
const nights = 30

// season keeps a season of the loft: a stick that ran hot in the summer, a hub that was replaced, an uplink that got
// slower, and a set-up that got faster. All of it is made up, and the same every time.
func season(ctx context.Context, s *store.Store, rig uuid.UUID, revision int) error {
	sheet := runsheet.Of(judge.Rig(rigs.LoftEven()), nil, runsheet.Options{People: 2})
	text, err := wire.Marshal(sheet)
	if err != nil {
		return err
	}
	chance := rand.New(rand.NewPCG(1910, 4))
	first := time.Date(2026, 4, 3, 17, 30, 0, 0, time.UTC) // Fridays
	for i := range nights {
		air := first.AddDate(0, 0, 7*i)
		n := store.Night{ID: uuid.NewSHA1(uuid.NameSpaceURL, fmt.Appendf(nil, "loft night %d", i)), RigID: rig,
			Revision: revision, Name: fmt.Sprintf("Puppet class %d", i+1), AirAt: air, People: 2, Sheet: text,
			CreatedAt: air.AddDate(0, 0, -1)}
		if _, err := s.PutNight(ctx, n, evening(sheet, air, i, chance)); err != nil {
			return err
		}
	}
	return nil
}

// evening is what happened on one night.
func evening(sheet *runsheet.RunSheet, air time.Time, week int, chance *rand.Rand) (ops []night.Op) {
	add := func(kind string, at time.Time, fill func(*night.Op)) {
		op := night.Op{ID: fmt.Sprintf("loft-%02d-%03d", week, len(ops)), Kind: kind, At: at.UnixMilli(), Who: "Ida"}
		fill(&op)
		ops = append(ops, op)
	}
	plan := sheet.Plan(2)
	practice := 0.72 + 0.55*math.Exp(-float64(week)/9) // they got faster
	begin := air.Add(-time.Duration((plan.Minutes*practice + 12) * float64(time.Minute)))
	done := map[string]float64{} // by person, minutes from the beginning
	for _, t := range plan.Turns {
		who, name := "1", "Ida"
		if len(t.Who) > 0 && t.Who[0] == 2 {
			who, name = "2", "Bo"
		}
		took := (t.End - t.Start) * practice * (0.85 + 0.3*chance.Float64())
		done[who] = max(done[who], t.Start*practice) + took
		add("tick", begin.Add(time.Duration(done[who]*float64(time.Minute))), func(op *night.Op) {
			op.Step, op.Who = t.Step, name
		})
	}
	add("figure", air.Add(-20*time.Minute), func(op *night.Op) {
		mbps := 9.4 - 0.1*float64(week) + 0.35*chance.NormFloat64()
		op.Figure = &night.Figure{What: "uplink", Unit: "Mb/s", Value: math.Round(10*mbps) / 10}
	})
	summer := math.Max(0, 1-math.Abs(float64(week)-15)/9) // warmest in the middle of July
	add("figure", air.Add(40*time.Minute), func(op *night.Op) {
		op.Figure = &night.Figure{What: "temperature", Of: "Stick 1", Unit: "°C",
			Value: math.Round(41 + 17*summer + 1.5*chance.NormFloat64())}
	})
	add("figure", air.Add(60*time.Minute), func(op *night.Op) {
		op.Figure = &night.Figure{What: "processor", Unit: "%", Value: math.Round(58 + 3*chance.NormFloat64())}
	})
	add("air", air.Add(time.Duration(chance.IntN(90))*time.Second), func(*night.Op) {})
	happened := func(after int, in night.Incident) {
		add("incident", air.Add(time.Duration(after)*time.Minute), func(op *night.Op) { op.Incident = &in })
	}
	switch {
	case week == 3 || week == 5 || week == 6:
		happened(25+week, night.Incident{Loss: "source", Part: "Small hub", Hop: "port",
			What: "Stick 1 vanished when Stick 3 was opened", Cause: "the small hub has not the power for two sticks",
			Cure: "one stick moved to the back", MinutesLost: 3, Next: "a powered hub, or no hub"})
	case week == 7:
		add("note", air.Add(-90*time.Minute), func(op *night.Op) {
			op.Text = "The small hub is replaced: Stick 3 goes into the back now."
		})
	case week >= 12 && week <= 18 && week%2 == 0:
		happened(70+week, night.Incident{Loss: "source", Part: "Stick 1", Hop: "capture",
			What: "face camera froze, then black", Cause: "Stick 1 ran hot behind the computer",
			Cure: "pulled, cooled, put in front", MinutesLost: 4, Next: "Stick 1 in front, a hand's width of air"})
	case week == 22 || week == 26 || week == 28:
		happened(40+week, night.Incident{Loss: "sending", Part: "the line", Hop: "send",
			What: "frames lost while sending for a minute", Cause: "the line gave less than 5.5 Mb/s",
			Cure: "bitrate to 3500", MinutesLost: 1.5, Next: "plan with the line as it is now"})
	case week == 10:
		happened(15, night.Incident{Loss: "sound", Part: "Roving phone", Hop: "picture", What: "echo for the viewers",
			Cause: "the phone's microphone was open", Cure: "muted in the program", MinutesLost: 2,
			Next: "mute the phone in the sound step"})
	}
	add("end", air.Add(time.Duration(118+chance.IntN(6))*time.Minute), func(*night.Op) {})
	return ops
}
