package rules_test

import (
	"context"

	"eventether/core/advise"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/view"
)

// The words of these tests.
const (
	Slack    = limit.Slack
	Taut     = limit.Taut
	Untested = limit.Untested
	Snapped  = limit.Snapped
	Fits     = limit.Fits
)

type (
	Verdict = view.Verdict
	Limit   = view.Limit
	State   = limit.State
)

var (
	feedsRig = rigtest.Feeds
	plain    = rigtest.Plain
	line     = rigtest.Line
)

// Rig judges a rig and puts the verdict into words.
func Rig(r *rig.Rig) Verdict { return view.Of(judge.Rig(r), nil) }

// Full judges a rig and advises.
func Full(r *rig.Rig) Verdict {
	v := judge.Rig(r)
	return view.Of(v, advise.On(context.Background(), v, advise.Effort))
}

func limitIn(v *Verdict, id string) *Limit { return v.Find(id) }

// asked tells whether anybody is asked about what an untested limit depends on.
func asked(v *Verdict, l *Limit) bool {
	for _, q := range v.Questions {
		for _, id := range q.Limits {
			if id == l.ID {
				return true
			}
		}
	}
	return false
}
