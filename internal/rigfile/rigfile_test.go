package rigfile

import (
	"bytes"
	"encoding/json"
	"math/rand/v2"
	"os"
	"strings"
	"testing"

	"github.com/danielgtaylor/huma/v2"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/sheet"
	"eventether/internal/demo/rigs"
)

func problems(t *testing.T, data []byte) []string {
	t.Helper()
	r, err := Read(data)
	require.Nil(t, r)
	var bad *Unusable
	require.ErrorAs(t, err, &bad)
	var out []string
	for _, p := range bad.Problems {
		out = append(out, p.String())
	}
	return out
}

// spoiled is the demo rig with one change made in its JSON.
func spoiled(t *testing.T, change func(doc map[string]any)) []byte {
	t.Helper()
	text, err := Write(rigs.Loft())
	require.NoError(t, err)
	var doc map[string]any
	require.NoError(t, json.Unmarshal(text, &doc))
	change(doc)
	out, err := json.Marshal(doc)
	require.NoError(t, err)
	return out
}

func item(doc map[string]any, i int) map[string]any { return doc["items"].([]any)[i].(map[string]any) }
func lead(doc map[string]any, i int) map[string]any { return doc["leads"].([]any)[i].(map[string]any) }

func TestBadInput(t *testing.T) {
	noise := make([]byte, 10<<20)
	rng := rand.New(rand.NewPCG(1, 2))
	for i := range noise {
		noise[i] = byte(rng.Uint32())
	}
	text, err := Write(rigs.Loft())
	require.NoError(t, err)
	for _, c := range []struct {
		name string
		data []byte
		want []string
	}{
		{"an unknown field", spoiled(t, func(d map[string]any) { item(d, 0)["colour"] = "red" }),
			[]string{`items[0] "cam-bench".colour: is not a field of a rig here: check the spelling`}},
		{"a wrong type", spoiled(t, func(d map[string]any) { d["show"].(map[string]any)["angles"] = "five" }),
			[]string{`show.angles: "five": want integer`}},
		{"a wrong unit", spoiled(t, func(d map[string]any) { lead(d, 0)["lengthM"] = "12 ft" }),
			[]string{`leads[0] "bench-lead".lengthM: "12 ft": want a plain number in metres`}},
		{"milliamperes as text", spoiled(t, func(d map[string]any) {
			item(d, 10)["gear"].(map[string]any)["ports"].([]any)[0].(map[string]any)["allowsMa"] = "0.9 A"
		}), []string{`items[10] "pc".gear.ports[0] "front-left".allowsMa: "0.9 A": want a plain number in milliamperes`}},
		{"a rounded rate", spoiled(t, func(d map[string]any) {
			d["show"].(map[string]any)["programme"].(map[string]any)["rate"] = "29.97"
		}), []string{`show.programme.rate: "29.97": want string to be a whole number or an exact fraction such as 30000/1001 (29.97 is a rounded name, not a rate)`}},
		{"a missing field", spoiled(t, func(d map[string]any) { delete(lead(d, 1), "grade") }),
			[]string{`leads[1] "face-lead": grade is missing`}},
		{"a kind nobody knows", spoiled(t, func(d map[string]any) {
			item(d, 0)["gear"].(map[string]any)["kind"] = "kite"
		}), []string{`items[0] "cam-bench".gear.kind: "kite": want value to be one of "camera,`}},
		{"a dangling lead", spoiled(t, func(d map[string]any) { lead(d, 0)["to"] = "nowhere.in" }),
			[]string{`leads[0] "bench-lead".to: "nowhere.in": there is no item "nowhere" in this rig`}},
		{"two things on one socket", spoiled(t, func(d map[string]any) { lead(d, 6)["to"] = "hub.p1" }),
			[]string{`leads[6] "slides-plug".to: "hub.p1" already has lead "face-plug" in it: one socket takes one plug`}},
		{"a loop", spoiled(t, func(d map[string]any) { lead(d, 8)["to"] = "hub.p3" }),
			[]string{"leads: the leads make a loop: hub → hub"}},
		{"no computer", spoiled(t, func(d map[string]any) { item(d, 10)["role"] = "source" }),
			[]string{"items: no computer takes the pictures"}},
		{"no feed", []byte(`{"format":"eventether-rig/1","name":"n","show":{"programme":{"width":1920,"height":1080,"rate":"30"},"minutes":1,"program":{"kind":"call"},"destinations":[]},"items":[{"id":"pc","label":"P","gear":{"kind":"computer","name":"P"}}],"leads":[]}`),
			[]string{"items: no feed: want at least one camera"}},
		{"an unknown newer format", spoiled(t, func(d map[string]any) {
			d["format"] = "eventether-rig/2"
			d["brandNew"] = 1
		}), []string{`format: "eventether-rig/2" is newer than this version, which reads up to "eventether-rig/1": update to open it`}},
		{"some other file", []byte(`{"format":"shopping-list/1"}`),
			[]string{`format: "shopping-list/1" is not a rig file: want "eventether-rig/1"`}},
		{"no format", []byte(`{"name":"x"}`),
			[]string{`format: is missing: a rig file says "format": "eventether-rig/1"`}},
		{"a list", []byte(`[]`), []string{`want a JSON object with "format": "eventether-rig/1", got a list`}},
		{"nothing", []byte{}, []string{`the file is empty: want a JSON object`}},
		{"10 MB of noise", noise, []string{"the file is larger than 4 MB: no rig is"}},
		{"1 MB of noise", noise[:1<<20], []string{"line "}},
		{"cut off", text[:len(text)/2], []string{"the file ends in the middle: it may have been cut off"}},
		{"something after the end", append(bytes.Clone(text), "{}"...),
			[]string{"something follows the end of the rig"}},
		{"a name twice", bytes.Replace(text, []byte(`"notes": "Weekly`), []byte(`"name": "Twice", "notes": "Weekly`),
			1), []string{`"name" stands twice in one object`}},
		{"bounds the wrong way round", spoiled(t, func(d map[string]any) {
			lead(d, 0)["lengthM"] = map[string]any{"value": 3, "low": 5, "high": 9}
		}), []string{"bounds must enclose the value: low 5, value 3, high 9"}},
	} {
		t.Run(c.name, func(t *testing.T) {
			got := problems(t, c.data)
			require.Len(t, got, len(c.want), "%v", got)
			for i := range got {
				require.Contains(t, got[i], c.want[i])
			}
		})
	}
}

func TestAllProblemsAtOnce(t *testing.T) {
	got := problems(t, spoiled(t, func(d map[string]any) {
		item(d, 0)["colour"] = "red"
		lead(d, 0)["lengthM"] = "long"
		d["show"].(map[string]any)["minutes"] = -5
	}))
	require.Len(t, got, 3, "%v", got)
}

// Which end a lead is called from says nothing of it: a file that calls every lead from its other end is read as the
// same rig, with nothing judged that was not, and nothing left out. Read as it stood, half of what hangs on such a lead
// was never looked at.
func TestALeadMayBeCalledFromEitherEnd(t *testing.T) {
	all := []*rig.Rig{rigs.Loft(), rigs.LoftEven(), rigs.Hall(), rigs.Desk()}
	for seed := range uint64(300) {
		all = append(all, rigtest.Rig(seed))
	}
	turned := 0
	for _, r := range all {
		text, err := Write(r)
		require.NoError(t, err)
		other := rigtest.Clone(r)
		for i := range other.Leads {
			l := &other.Leads[i]
			l.From, l.To = l.To, l.From
			turned++
		}
		back, err := Write(other)
		require.NoError(t, err)
		got, err := Read(back)
		require.NoError(t, err)
		for i := range got.Leads { // two outputs, or two inputs, stay as they are called
			if was := &r.Leads[i]; got.Leads[i].From == was.To {
				_, from := r.Port(was.From)
				_, to := r.Port(was.To)
				require.Equal(t, takes(from.Direction), takes(to.Direction), "%s: %s", r.Name, was.ID)
				got.Leads[i].From, got.Leads[i].To = was.From, was.To
			}
		}
		again, err := Write(got)
		require.NoError(t, err)
		require.Equal(t, string(text), string(again))
	}
	require.Greater(t, turned, 2000)
}

func takes(d gear.Direction) bool { return d == gear.In || d == gear.Downstream }

// Export then import gives the same rig, byte for byte.
func TestRoundTrip(t *testing.T) {
	for _, r := range []*rig.Rig{rigs.Loft(), rigs.LoftEven()} {
		text, err := Write(r)
		require.NoError(t, err)
		back, err := Read(text)
		require.NoError(t, err)
		again, err := Write(back)
		require.NoError(t, err)
		require.Equal(t, string(text), string(again))
	}
	rapid.Check(t, func(t *rapid.T) {
		r, err := rig.New(rig.Start{Name: rapid.StringMatching(`[!-~äöüß€][ -~äöüß€]{0,59}`).Draw(t, "name"),
			Computer: "desktop",
			Sources: []rig.StartSource{{Kind: "camera", Count: rapid.IntRange(1, 5).Draw(t, "cameras")},
				{Kind: "webcam", Count: rapid.IntRange(0, 3).Draw(t, "webcams")}},
			Out: rig.StartOut{Height: 1080, Fps: 30, Minutes: 60}})
		require.NoError(t, err)
		text, err := Write(r)
		require.NoError(t, err)
		back, err := Read(text)
		require.NoError(t, err)
		again, err := Write(back)
		require.NoError(t, err)
		require.Equal(t, string(text), string(again))
	})
}

// The schema in docs/formats and the API description in docs/api are the ones the binary makes.
func TestSchemaInDocsIsCurrent(t *testing.T) {
	for name, schema := range map[string]func() ([]byte, error){"rig": Schema, "shelf": ShelfSchema,
		"sheet": SheetSchema, "runsheet": RunSheetSchema, "measure": MeasureSchema} {
		want, err := schema()
		require.NoError(t, err)
		have, err := os.ReadFile("../../docs/formats/eventether-" + name + "-1.schema.json")
		require.NoError(t, err)
		require.Equal(t, string(want), string(have), "run make generate")
	}
}

// What is printed as a sheet is what its schema says.
func TestSheetsFollowTheirSchema(t *testing.T) {
	for _, r := range []*rig.Rig{rigs.Loft(), rigs.LoftEven(), rigs.Hall(), rigs.Desk()} {
		raw, err := json.Marshal(sheet.Of(judge.Rig(r)))
		require.NoError(t, err)
		tree, err := parse(raw)
		require.NoError(t, err)
		result := &huma.ValidateResult{}
		huma.Validate(registry, sheetSchema, huma.NewPathBuffer(nil, 0), huma.ModeReadFromServer, tree, result)
		require.Empty(t, result.Errors)
	}
}

func TestReadEdits(t *testing.T) {
	edits, err := ReadEdits([]byte(`[{"do":"plug","lead":"face-plug","end":"to","socket":"pc.back-2"}]`))
	require.NoError(t, err)
	require.Len(t, edits, 1)
	after, err := Change(rigs.Loft(), edits)
	require.NoError(t, err)
	require.Equal(t, "pc.back-2", after.Lead("face-plug").To)
	for text, want := range map[string]string{
		`[{"do":"dance"}]`:                             `edits[0].do: "dance": want value to be one of`,
		`[{"do":"plug","loud":true}]`:                  "edits[0].loud: is not a field",
		`{"do":"plug"}`:                                "want array",
		`[{"do":"fact","path":"x","fact":"6 W"}]`:      "edits[0].fact",
		`nonsense`:                                     "this is not JSON",
		`[{"do":"lead","lead":"a","lengthM":{"v":1}}]`: "edits[0].lengthM",
	} {
		_, err := ReadEdits([]byte(text))
		require.ErrorContains(t, err, want, text)
	}
	_, err = Change(rigs.Loft(), []rig.Edit{{Do: "plug", Lead: "face-plug", End: "to", Socket: "pc.back-1"}})
	require.ErrorContains(t, err, "one socket takes one plug")
}

// What comes of edits is held to the bounds of a file: one list longer, one level deeper, or one value more than those
// is refused, and what is just within them is not.
func TestWhatEditsMakeIsHeldToTheBoundsOfAFile(t *testing.T) {
	nested := func(n int) string { return strings.Repeat("[", n) + strings.Repeat("]", n) }
	list := func(n int) string { return "[" + strings.Repeat("1,", n-1) + "1]" }
	lists := func(n int) string { return "[" + strings.Repeat(list(longestList)+",", n-1) + list(longestList) + "]" }
	for text, fine := range map[string]bool{nested(deepest): true, nested(deepest + 1): false, list(longestList): true,
		list(longestList + 1):             false,
		lists(mostValues/longestList - 1): true, lists(mostValues/longestList + 1): false,
		`{"a":` + nested(deepest) + `}`: false, `{"a":` + list(longestList+1) + `}`: false} {
		_, err := scan([]byte(text))
		require.Equal(t, fine, err == nil, "a file: %v", err)
		tree, err := parse([]byte(text))
		require.NoError(t, err)
		err = within(tree)
		require.Equal(t, fine, err == nil, "what edits make: %v", err)
	}
}

// Files past every bound are answered, at once and in words: a mark before the text, names in another case, millions of
// small things, texts nobody can see.
func TestFilesPastTheirBounds(t *testing.T) {
	text, err := Write(rigs.Loft())
	require.NoError(t, err)
	r, err := Read(append([]byte("\ufeff"), text...))
	require.NoError(t, err, "a byte-order mark is no part of the text")
	require.Equal(t, rigs.Loft().Name, r.Name)

	head := `{"format":"eventether-rig/1","id":"r","name":"R","items":[`
	got := problems(t, []byte(head+strings.Repeat("{},", 1_000_000)+`{}],"leads":[]}`))
	require.LessOrEqual(t, len(got), 102)
	require.Contains(t, strings.Join(got, "\n"), "4000")
	got = problems(t, []byte(`{"format":"eventether-rig/1",`+strings.Repeat(`"name":"R",`,
		300_000)+`"items":[],"leads":[]}`))
	require.LessOrEqual(t, len(got), 102)
	got = problems(t, []byte(head+strings.Repeat(`{"id":"x"},`, 300)+`{"id":"x"}],"leads":[]}`))
	require.LessOrEqual(t, len(got), 102)
	require.Contains(t, got[len(got)-1], "more", "the rest is counted")

	for name, c := range map[string][2]string{
		"another case":        {`"name":"Marlpit`, `"Name":"Marlpit`},
		"a zero in a name":    {`"name":"Marlpit`, `"name":"\u0000Marlpit`},
		"turned round":        {`"name":"Marlpit`, `"name":"\u202eMarlpit`},
		"half a pair":         {`"name":"Marlpit`, `"name":"\ud800Marlpit`},
		"a mode without size": {`"width":1920`, `"width":1e300`},
	} {
		spoilt := strings.Replace(string(text), strings.Replace(c[0], ":", ": ", 1), c[1], 1)
		// the decoder of the language makes it the replacement character: kept as such, never as sent
		if name == "half a pair" {
			r, err := Read([]byte(spoilt))
			if err == nil {
				require.Contains(t, r.Name, "\ufffd")
			}
			continue
		}
		require.NotEqual(t, string(text), spoilt, name)
		require.NotEmpty(t, problems(t, []byte(spoilt)), name)
	}
}

// Edits are read without panic; what a change leaves can be written and read as a file is.
func FuzzEdits(f *testing.F) {
	f.Add([]byte(`[{"do":"unplug","lead":"face-plug"}]`))
	f.Add([]byte(`[{"do":"fact","path":"items/cam-bench/gear/power/drawW","fact":{"value":1e300}}]`))
	f.Add([]byte(`[{"do":"rename","item":"pc","name":"\u0000"},{"do":"plug","lead":"x","end":"to","socket":"pc.back-1"}]`))
	f.Add([]byte(`[null,{},{"do":"add-item","item":"pc"}]`))
	before := rigs.Loft()
	f.Fuzz(func(t *testing.T, data []byte) {
		edits, err := ReadEdits(data)
		if err != nil {
			require.NotEmpty(t, err.Error())
			return
		}
		after, err := Change(before, edits)
		if err != nil {
			require.NotEmpty(t, err.Error())
			return
		}
		text, err := Write(after)
		require.NoError(t, err)
		_, err = Read(text)
		require.NoError(t, err, "what is kept can be read again")
	})
}

// No input makes reading panic, and whatever is accepted can be written and read again.
func FuzzRead(f *testing.F) {
	text, err := Write(rigs.Loft())
	require.NoError(f, err)
	f.Add(text)
	f.Add([]byte(`{"format":"eventether-rig/1","items":[{"id":"a","gear":{"ports":[{"id":"b"}]}}],"leads":[{"from":"a.b","to":"a.b"}]}`))
	f.Add([]byte(`{"format":"eventether-rig/1","show":null,"items":[null],"leads":{}}`))
	f.Add([]byte(strings.Repeat("[", 2000)))
	f.Fuzz(func(t *testing.T, data []byte) {
		r, err := Read(data)
		if err != nil {
			require.NotEmpty(t, err.Error())
			return
		}
		out, err := Write(r)
		require.NoError(t, err)
		_, err = Read(out)
		require.NoError(t, err)
	})
}

// Counting finds what going over a document word by word finds: a name that stands twice, however it is written, and no
// other; and what counting lets pass is within every bound.
func TestCountingFindsWhatScanningFinds(t *testing.T) {
	twice, out := 0, 0
	rapid.Check(t, func(t *rapid.T) {
		var b strings.Builder
		var value func(depth int)
		value = func(depth int) {
			switch k := rapid.IntRange(0, 7).Draw(t, "kind"); {
			case k < 2 && depth < 6:
				b.WriteByte('{')
				for i := range rapid.IntRange(0, 4).Draw(t, "names") {
					if i > 0 {
						b.WriteString(" , ")
					}
					b.WriteString(rapid.SampledFrom([]string{`"a"`, `"b"`, `"\u0061"`, `"a:,"`, `"c\""`, `"{"`, `""`,
						`"\\"`}).Draw(t, "name") + " : ")
					value(depth + 1)
				}
				b.WriteByte('}')
			case k < 4 && depth < 6:
				b.WriteByte('[')
				for i := range rapid.IntRange(0, 4).Draw(t, "values") {
					if i > 0 {
						b.WriteByte(',')
					}
					value(depth + 1)
				}
				b.WriteByte(']')
			default:
				b.WriteString(rapid.SampledFrom([]string{`1`, `-2.5e3`, `true`, `null`, `"x:{,[\"]}"`, `"\\"`}).Draw(t,
					"value"))
			}
		}
		value(0)
		data := []byte(b.String())
		problems, err := scan(data)
		require.NoError(t, err)
		names, fine := outline(data)
		require.True(t, fine)
		tree, err := parse(data)
		require.NoError(t, err)
		require.Equal(t, len(problems) > 0, names != namesIn(tree), b.String())
		if len(problems) > 0 {
			twice++
		}
		_, got, err := open(data)
		require.NoError(t, err)
		require.Equal(t, problems, got)
	})
	require.Greater(t, twice, 5)
	for _, text := range []string{strings.Repeat("[", deepest+1), "[" + strings.Repeat("1,", longestList) + "1]",
		strings.Repeat(`{"a":[`, deepest), "[" + strings.Repeat("[1,2,3],", 3999) + "[" + strings.Repeat("[],",
			3000) + strings.Repeat("[{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{}],",
			900) + "1]]",
		`{"x` + strings.Repeat(`","y`, 10) + `":1}`, strings.Repeat(`"\`, 9), "}}}]", `{"a":1}}`} {
		_, scanned := scan([]byte(text))
		if _, fine := outline([]byte(text)); fine {
			require.NoError(t, scanned, clip(text))
		} else {
			out++
		}
	}
	require.Greater(t, out, 2)
}
