package core_test

import (
	"flag"
	"fmt"
	"regexp"
	"runtime"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"

	"eventether/core/advise"
	"eventether/core/judge"
	"eventether/core/rig/rigtest"
	"eventether/core/runsheet"
	"eventether/core/sheet"
	"eventether/core/view"
)

var wordRigs = flag.Int("wordrigs", 200, "random rigs whose words are read")

const (
	many  = `(?:[2-9]|[1-9][0-9]+|[Tt]wo|[Tt]hree|[Ff]our|[Ff]ive|[Ss]ix|[Ss]even|[Ee]ight|[Nn]ine|[Tt]en)`
	does  = `(?:goes|is|has|takes|needs|wants|comes|stands|gets|uses|draws|reaches|runs|hangs)`
	doing = `(?:go|are|have|take|need|want|come|stand|get|use|draw|reach|run|hang)`
)

// What nobody would say: each with what it looks like.
var nobodySays = map[string]*regexp.Regexp{
	"nothing or more":       regexp.MustCompile(`\b(?:for|is|are|of) 0 [^,.;:]*\bor more`),
	"many that does":        regexp.MustCompile(`(?:^|[.:] )` + many + ` [a-z]+s ` + does + `\b`),
	"one that do":           regexp.MustCompile(`(?:^|[.:] )(?:1|[Oo]ne) [a-z]+ ` + doing + `\b`),
	"one of several":        regexp.MustCompile(`(?:^|[ (])(?:1|[Oo]ne) (?:cameras|pictures|streams|moves|facts|voices|devices|sockets|leads|frames|sources|shows|people|ways)\b`),
	"what Go prints":        regexp.MustCompile(`%!|<nil>|NaN|\bInf\b|map\[`),
	"two blanks or stops":   regexp.MustCompile(`  |\.\.|,,| ,| \.(?:[^0-9]|$)`),
	"a list of nothing":     regexp.MustCompile(`: *\.|\(\)`),
	"a number of no bounds": regexp.MustCompile(`[0-9]e\+?[0-9]{2}|1000000000`),
}

// twice gives what a list names more than once: "North cam, North cam and South cam".
func twice(text string) string {
	text = strings.ReplaceAll(text, "again and again", "often")
	for _, sentence := range regexp.MustCompile(`[.;:] `).Split(text, -1) {
		items := regexp.MustCompile(`, | and `).Split(strings.TrimSuffix(sentence, "."), -1)
		for i := 1; i < len(items); i++ {
			if items[i] != "" && strings.ContainsAny(items[i], "abcdefghijklmnopqrstuvwxyz") &&
				(items[i-1] == items[i] || strings.HasSuffix(items[i-1], " "+items[i])) {
				return items[i]
			}
		}
	}
	return ""
}

// No sentence of a verdict, its questions and moves, its sheet or its run sheet is one that nobody would say.
func TestNobodyWouldSay(t *testing.T) {
	rigs := *wordRigs
	if testing.Short() {
		rigs = 60
	}
	seen, mu := map[string][]string{}, sync.Mutex{}
	each := func(seed uint64) {
		read := func(where, text string) {
			found := ""
			for name, form := range nobodySays {
				if form.MatchString(text) {
					found = name
				}
			}
			if item := twice(text); item != "" {
				found = "a name twice"
			}
			if found != "" {
				mu.Lock()
				if len(seen[found]) < 12 {
					seen[found] = append(seen[found], fmt.Sprintf("seed %d, %s: %s", seed, where, text))
				}
				mu.Unlock()
			}
		}
		r := rigtest.Rig(seed)
		v := judge.Rig(r)
		for i := range v.Results {
			w := v.Word(&v.Results[i])
			read("what", w.What)
			read("says", w.Says)
		}
		a := advise.On(t.Context(), v, 700)
		if a.Cure != nil {
			for i := range a.Cure.Moves {
				read("move", a.Cure.Moves[i].Label)
			}
		}
		full := view.Of(v, a)
		read("sentence", full.Sentence)
		read("proposed", full.Proposed.Words)
		for i := range full.Findings {
			read("finding", full.Findings[i].Says)
		}
		for i := range full.Questions {
			read("question", full.Questions[i].Ask)
		}
		for i := range full.NotJudged {
			read("not judged", full.NotJudged[i].Label+": "+full.NotJudged[i].Why)
		}
		s := sheet.Of(v)
		for i := range s.Parts {
			for k := range s.Parts[i].Lines {
				read("sheet", s.Parts[i].Lines[k].Why)
			}
		}
		sheet := runsheet.Of(v, nil, runsheet.Options{})
		for i := range sheet.Steps {
			read("step", sheet.Steps[i].Do)
			for _, p := range sheet.Steps[i].Pass {
				read("passes", p)
			}
		}
	}
	var group sync.WaitGroup
	next := make(chan uint64)
	for range runtime.NumCPU() {
		group.Go(func() {
			for seed := range next {
				each(seed)
			}
		})
	}
	for seed := range uint64(rigs) {
		next <- seed + 1
	}
	close(next)
	group.Wait()
	for name, texts := range seen {
		assert.Empty(t, strings.Join(texts, "\n"), name)
	}
}
