package night_test

import (
	"encoding/json"
	"flag"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/night"
	"eventether/core/rig/rigtest"
)

// corpus are texts with keys of every kind there is, and harmless ones. Rules were made looking at every other one; the
// rest was looked at once they were done.
type corpus struct {
	Keys []struct {
		Text    string
		Secrets []string
	}
	Harmless []string
}

func readCorpus(t testing.TB) (c corpus) {
	raw, err := os.ReadFile("testdata/key-corpus.json")
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(raw, &c))
	require.GreaterOrEqual(t, len(c.Keys), 200)
	require.GreaterOrEqual(t, len(c.Harmless), 200)
	return c
}

// Of the half that was looked at and of the other: at most 2 % of keys missed, at most 5 % of harmless texts cut.
func TestCorpusOfKeys(t *testing.T) {
	c := readCorpus(t)
	for half, name := range []string{"looked at", "not looked at"} {
		missed, cut, keys, harmless := []string{}, []string{}, 0, 0
		for i := half; i < len(c.Keys); i += 2 {
			keys++
			k := &c.Keys[i]
			clean, _ := night.WithoutKeys(k.Text, nil)
			for _, s := range k.Secrets {
				if strings.Contains(clean, s) {
					missed = append(missed, k.Text+" → "+clean)
					break
				}
			}
		}
		for i := half; i < len(c.Harmless); i += 2 {
			harmless++
			if clean, found := night.WithoutKeys(c.Harmless[i], nil); found || clean != c.Harmless[i] {
				cut = append(cut, c.Harmless[i]+" → "+clean)
			}
		}
		t.Logf("%s: %d of %d keys missed, %d of %d harmless texts cut", name, len(missed), keys, len(cut), harmless)
		require.LessOrEqual(t, len(missed)*50, keys, "%s: %s", name, strings.Join(missed, "\n"))
		require.LessOrEqual(t, len(cut)*20, harmless, "%s: %s", name, strings.Join(cut, "\n"))
	}
}

var update = flag.Bool("update", false, "write the answers to random texts anew")

// Answers to random texts put together of pieces of the corpus: the browser has to give the same.
func TestAnswersToRandomTexts(t *testing.T) {
	c := readCorpus(t)
	d := rigtest.NewDice(7)
	var pieces []string
	for _, k := range c.Keys {
		pieces = append(pieces, k.Text)
	}
	pieces = append(pieces, c.Harmless...)
	type answer struct{ Text, Clean string }
	answers := make([]answer, 1500)
	for i := range answers {
		var b strings.Builder
		for range 1 + d.N(3) {
			p := []rune(pieces[d.N(len(pieces))])
			from := d.N(len(p))
			if d.Of(2) {
				from = 0
			}
			b.WriteString(string(p[from : from+d.N(len(p)-from)+1]))
			b.WriteString([]string{" ", "\n", ": ", "-", "", ", ", "“", "\u200b", " is "}[d.N(9)])
		}
		answers[i].Text = b.String()
		answers[i].Clean, _ = night.WithoutKeys(answers[i].Text, nil)
	}
	now, err := json.MarshalIndent(answers, "", " ")
	require.NoError(t, err)
	const name = "testdata/key-answers.json"
	if *update {
		require.NoError(t, os.WriteFile(name, append(now, '\n'), 0o644))
	}
	was, err := os.ReadFile(name)
	require.NoError(t, err)
	require.Equal(t, string(was), string(now)+"\n", "go test ./core/night -run Answers -args -update")
}

// What is clean stays as it is, byte for byte, and cleaning twice is cleaning once.
func FuzzWithoutKeys(f *testing.F) {
	c := readCorpus(f)
	for _, k := range c.Keys {
		f.Add(k.Text)
	}
	for _, h := range c.Harmless {
		f.Add(h)
	}
	f.Fuzz(func(t *testing.T, text string) {
		clean, found := night.WithoutKeys(text, nil)
		if !found && clean != text && strings.ToValidUTF8(text, "\ufffd") != clean {
			t.Fatalf("%q became %q, and nothing was found", text, clean)
		}
		if again, _ := night.WithoutKeys(clean, nil); again != clean && len(again) > len(clean)+len(night.Stripped) {
			t.Fatalf("%q, then %q", clean, again)
		}
	})
}

func BenchmarkWithoutKeys(b *testing.B) {
	c := readCorpus(b)
	plain := strings.Repeat("The sound was late after the break, camera two went black at 20:14 and came back. ", 1000)
	b.Run("plain", func(b *testing.B) {
		b.SetBytes(int64(len(plain)))
		for b.Loop() {
			night.WithoutKeys(plain, nil)
		}
	})
	b.Run("harmless", func(b *testing.B) {
		n := 0
		for _, h := range c.Harmless {
			n += len(h)
		}
		b.SetBytes(int64(n))
		for b.Loop() {
			for _, h := range c.Harmless {
				night.WithoutKeys(h, nil)
			}
		}
	})
}
