package server

import (
	"context"

	"github.com/danielgtaylor/huma/v2"

	"eventether/core/advise"
	"eventether/core/engine"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/rules"
	speech "eventether/core/sound"
	"eventether/core/view"
)

// Sounding is everything the Sound screen shows of a rig.
type Sounding struct {
	State  limit.State      `json:"state" enum:"slack,taut,kinked,untested,snapped"`
	Plan   *plans.SoundPlan `json:"plan,omitempty" doc:"None while nobody has described how sound gets to air"`
	Limits []view.Limit     `json:"limits" doc:"Every limit of sound"`
	// What clap tests ask of the delays that are set.
	Corrections []advise.Correction `json:"corrections"`
	// The published windows of sound against its picture.
	Windows []SyncWindow `json:"windows"`
}

// SyncWindow is a published window of sound against its picture, ms.
type SyncWindow struct {
	Early  float64 `json:"early"`
	Late   float64 `json:"late"`
	Source string  `json:"source"`
	Means  string  `json:"means" enum:"tight,noticed,accepted"`
}

func (a *api) registerSound(h huma.API, op func(method, path, id, summary string) huma.Operation,
	raw func(huma.Operation) huma.Operation) {
	huma.Register(h, raw(op("POST", "/api/sound", "soundOf", "How sound gets to air: ways, levels, delays")), a.sound)
}

func (a *api) sound(_ context.Context, in *struct {
	Body struct {
		Rig Doc `json:"rig"`
	}
}) (*struct{ Body Sounding }, error) {
	v, err := a.verdicts.read(in.Body.Rig.raw)
	if err != nil {
		return nil, err
	}
	window := func(w speech.Window, means string) SyncWindow { return SyncWindow{w.Early, w.Late, w.Source, means} }
	out := Sounding{State: v.State, Plan: v.Sounds(), Limits: []view.Limit{}, Corrections: []advise.Correction{},
		Windows: []SyncWindow{window(speech.Tight, "tight"), window(speech.Noticed, "noticed"),
			window(speech.Accepted, "accepted")}}
	if out.Plan != nil {
		for i := range out.Plan.Paths {
			if c := advise.CorrectionOf(v.Given, &out.Plan.Paths[i]); c != nil {
				out.Corrections = append(out.Corrections, *c)
			}
		}
	}
	for _, l := range view.Of(v.Verdict, nil).Limits {
		if ofSound(&l) {
			out.Limits = append(out.Limits, l)
		}
	}
	return &struct{ Body Sounding }{out}, nil
}

// ofSound tells whether a limit is one of sound.
func ofSound(l *view.Limit) bool {
	r := rules.Named(l.Rule)
	return r != nil && r.Subject == engine.TheSound
}
