package core_test

import (
	"context"
	"encoding/json"
	"os"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/advise"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/lang"
	"eventether/core/place"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/view"
	"eventether/internal/demo/rigs"
)

// pseudo is a language that puts every text of docs/texts.json into brackets: what is shown without them cannot be
// translated, or is missing there.
func pseudo(t *testing.T) lang.Language {
	raw, err := os.ReadFile("../docs/texts.json")
	require.NoError(t, err)
	l, err := lang.Read(raw)
	require.NoError(t, err)
	require.Greater(t, len(l), 500)
	for text := range l {
		l[text] = "⟦" + text + "⟧"
	}
	return l
}

// spoken are the fields of a verdict that people read.
var spoken = map[string]bool{"says": true, "what": true, "name": true, "sum": true, "limitSum": true, "question": true,
	"how": true, "sentence": true, "summary": true,
	"givesUp": true, "caution": true, "why": true, "text": true, "label": true, "short": true, "words": true,
	"lost": true, "speed": true, "goesTo": true}

// everywhere are names of formats and units that are the same in every language.
var everywhere = map[string]bool{"MJPEG": true, "YUY": true, "AWG": true, "HDMI": true, "USB": true, "SDI": true,
	"MHz": true, "Gb": true, "est": true, "Mpx": true, "bit": true, "px": true, "GB": true, "kHz": true, "exFAT": true,
	"XLR": true}

var plainWord = regexp.MustCompile(`[A-Za-z]{3,}`)

// Every sentence people read comes from a text that a language can replace: in a language that brackets every text of
// the sources, no word stands outside of brackets but the names people gave their things and names of formats and
// links.
func TestEveryTextCanBeTranslated(t *testing.T) {
	rigsSeen := []*rig.Rig{rigs.Loft(), rigs.LoftEven(), rigs.Hall()}
	for seed := range uint64(60) {
		rigsSeen = append(rigsSeen, rigtest.Rig(seed+1))
	}
	lang.Use(pseudo(t))
	defer lang.Use(nil)
	missing := map[string]string{}
	spokenOf := 0
	for n, r := range rigsSeen {
		names := []string{gear.StrongerCapture[0].Gear.Name, gear.StrongerCapture[1].Gear.Name}
		raw, err := json.Marshal(r)
		require.NoError(t, err)
		var doc any
		require.NoError(t, json.Unmarshal(raw, &doc))
		texts(doc, "", func(_, s string) {
			names = append(names, s)
		})
		v := judge.Rig(r)
		var advice *advise.Advice
		if n < 3 {
			advice = advise.On(context.Background(), v, advise.Effort)
		}
		verdict := view.Of(v, advice)
		shown := map[string]any{"verdict": verdict, "tree": view.Tree(r, &verdict), "power": view.Powers(v),
			"placing": place.Suggest(r, place.Options{Effort: 100_000}),
			"text":    view.Report("", &verdict)}
		raw, err = json.Marshal(shown)
		require.NoError(t, err)
		require.NoError(t, json.Unmarshal(raw, &doc))
		texts(doc, "", func(key, s string) {
			if !spoken[key] || strings.HasPrefix(s, "items/") || strings.HasPrefix(s, "show/") ||
				strings.HasPrefix(s, "leads/") || strings.HasPrefix(s, "uplink/") || strings.HasPrefix(s, "sound/") {
				// paths
				return
			}
			spokenOf++
			rest := outside(s)
			for _, w := range plainWord.FindAllString(rest, -1) {
				known := everywhere[w]
				for _, name := range names {
					known = known || strings.Contains(strings.ToLower(name), strings.ToLower(w))
				}
				if !known {
					missing[w] = key + ": " + s
				}
			}
		})
	}
	require.Greater(t, spokenOf, 10000)
	for w, where := range missing {
		t.Errorf("%s in %s", w, where)
	}
}

// outside is what of a text stands outside of all brackets.
func outside(s string) string {
	var b strings.Builder
	depth := 0
	for _, r := range s {
		switch r {
		case '⟦':
			depth++
		case '⟧':
			depth--
		default:
			if depth == 0 {
				b.WriteRune(r)
			}
		}
	}
	return b.String()
}

func texts(v any, key string, each func(key, s string)) {
	switch x := v.(type) {
	case string:
		each(key, x)
	case []any:
		for _, y := range x {
			texts(y, key, each)
		}
	case map[string]any:
		for k, y := range x {
			texts(y, k, each)
		}
	}
}
