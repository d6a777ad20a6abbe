package rules_test

import (
	"context"
	"flag"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"eventether/core/advise"
	"eventether/core/engine"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/rules"
	"eventether/core/verdict"
	"eventether/core/view"
)

// The words of these tests.
const (
	Slack    = limit.Slack
	Taut     = limit.Taut
	Untested = limit.Untested
	Snapped  = limit.Snapped
	Kinked   = limit.Kinked
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
func Rig(r *rig.Rig) Verdict { return view.Of(verdict.As(r), nil) }

// Full judges a rig and advises.
func Full(r *rig.Rig) Verdict {
	v := verdict.As(r)
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

// rows are the rules the tables of these tests have a row for.
var rows = map[engine.Name]bool{}

// row notes the rule of a limit a table has a row for.
func row(id string) {
	rule, _, _ := strings.Cut(id, ":")
	rows[engine.Name(rule)] = true
}

// A rule no table has a row for fails the build.
func TestMain(m *testing.M) {
	flag.Parse()
	code := m.Run()
	if code == 0 && flag.Lookup("test.run").Value.String() == "" && flag.Lookup("test.bench").Value.String() == "" {
		var missing []string
		for _, r := range rules.All() {
			if !rows[r.Name] {
				missing = append(missing, string(r.Name))
			}
		}
		if len(missing) > 0 {
			slices.Sort(missing)
			fmt.Println("rules without a row in any table of core/rules/*_test.go:", strings.Join(missing, ", "))
			code = 1
		}
	}
	os.Exit(code)
}
