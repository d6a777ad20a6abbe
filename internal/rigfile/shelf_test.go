package rigfile

import (
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/internal/demo/rigs"
)

// The starter shelf covers every kind there is, keeps to the schema, and comes back the same from both kinds of file.
func TestStarterShelf(t *testing.T) {
	all := append(gear.Starter(), rigs.Shelf()...)
	kinds := map[gear.Kind]bool{}
	for _, e := range gear.Starter() {
		kinds[e.Gear.Kind] = true
	}
	for _, k := range gear.Kinds {
		require.True(t, kinds[k], "no %s on the starter shelf", k)
	}
	text, err := WriteShelf(all)
	require.NoError(t, err)
	back, err := ReadShelf(text)
	require.NoError(t, err)
	again, err := WriteShelf(back)
	require.NoError(t, err)
	require.Equal(t, string(text), string(again))

	table, err := WriteShelfCSV(all)
	require.NoError(t, err)
	fromTable, err := ReadShelfCSV(table)
	require.NoError(t, err)
	again, err = WriteShelf(fromTable)
	require.NoError(t, err)
	require.Equal(t, string(text), string(again), "a table loses nothing")
}

func TestBadShelfFiles(t *testing.T) {
	for name, c := range map[string]struct{ text, want string }{
		"not JSON": {"nonsense", "this is not JSON"},
		"a rig file": {`{"format":"eventether-rig/1"}`,
			`"eventether-rig/1" is not a shelf file of this version`},
		"an unknown field":    {`{"format":"eventether-shelf/1","entries":[{"id":"a","owned":true,"colour":1,"gear":{"kind":"hub","name":"H"}}]}`, `entries[0] "a".colour: is not a field`},
		"two of one id":       {`{"format":"eventether-shelf/1","entries":[{"id":"a","owned":true,"gear":{"kind":"hub","name":"H"}},{"id":"a","owned":true,"gear":{"kind":"hub","name":"I"}}]}`, "is the id of entries[0] too"},
		"an absurd draw":      {`{"format":"eventether-shelf/1","entries":[{"id":"a","owned":true,"gear":{"kind":"hub","name":"H","power":{"drawW":-3}}}]}`, "-3 is outside 0 to 5000 (watts)"},
		"settings at odds":    {`{"format":"eventether-shelf/1","entries":[{"id":"a","owned":true,"gear":{"kind":"camera","name":"C","settings":[{"id":"x","excludes":["y"]}]}}]}`, `"y" is no other setting of this sheet`},
		"SDI on an HDMI port": {`{"format":"eventether-shelf/1","entries":[{"id":"a","owned":true,"gear":{"kind":"camera","name":"C","ports":[{"id":"p","connector":"hdmi-a","direction":"out","sdi":{"link":"3G"}}]}}]}`, "only a bnc socket has SDI"},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := ReadShelf([]byte(c.text))
			require.ErrorContains(t, err, c.want)
		})
	}
	for name, c := range map[string]struct{ text, want string }{
		"nothing":           {"", "want a first line that names the columns"},
		"an unknown column": {"kind,name,colour\nhub,H,red\n", `column "colour" is not known`},
		"no kind":           {"name\nH\n", `column "kind" is missing`},
		"no lines":          {"kind,name\n", "no line below its head"},
		"a kind of no use":  {"kind,name\nkite,K\n", `entries[0] "k".gear.kind: "kite"`},
		"a price in words":  {"kind,name,price\nhub,H,cheap\n", `line 2, column price: amount "cheap"`},
		"a draw in words": {"kind,name,draw W\nhub,H,2 W\n",
			`line 2, column draw W: "2 W": want a plain number in watts`},
		"owned perhaps":      {"kind,name,owned\nhub,H,perhaps\n", `line 2, column owned: "perhaps": want yes or no`},
		"an open quote":      {"kind,name\nhub,\"H\n", "line 2: the table cannot be read on"},
		"binary":             {"kind,name\x00", "this is not text"},
		"a sheet that lies":  {"kind,name,sheet\nhub,H,\"{\"\"x\"\":1}\"\n", "line 2, column sheet"},
		"no name in line 3":  {"kind,name\nhub,H\nhub,\n", "line 3, column name: is empty"},
		"an absurd count":    {"kind,name,count\nhub,H,-2\n", `line 2, column count: "-2"`},
		"a sum without euro": {"kind,name,price\nhub,H,3.00\n", "currency"},
	} {
		t.Run("table: "+name, func(t *testing.T) {
			_, err := ReadShelfCSV([]byte(c.text))
			require.ErrorContains(t, err, c.want)
		})
	}
}

// Whatever a spreadsheet might run as a formula is written so that it does not, and read back as it was; quotes in the
// wrong place and numbers that are none are named by line.
func TestTablesThatBite(t *testing.T) {
	for _, name := range []string{"=1+1", "+49 30", "-x", "@sum", "'quoted", "\tindented", "plain"} {
		e := gear.Entry{ID: "x", Gear: gear.Gear{Kind: gear.Hub, Name: name}}
		text, err := WriteShelfCSV([]gear.Entry{e})
		require.NoError(t, err)
		for line := range strings.SplitSeq(string(text), "\n") {
			for cell := range strings.SplitSeq(line, ",") {
				require.False(t, cell != "" && strings.ContainsAny(strings.Trim(cell, `"`)[:min(1,
					len(strings.Trim(cell, `"`)))], "=+@\t"), "%s: cell %q", name, cell)
			}
		}
		back, err := ReadShelfCSV(text)
		require.NoError(t, err, "%s\n%s", name, text)
		require.Equal(t, strings.TrimSpace(name), strings.TrimSpace(back[0].Gear.Name))
	}
	for text, want := range map[string]string{
		"kind,name\na\"b,c\n":              "line 2",
		"kind,name,draw W\nhub,H,NaN\n":    `"NaN"`,
		"kind,name,draw W\nhub,H,Inf\n":    `"Inf"`,
		"kind,name\nhub,H\x01\n":           "control character",
		"kind,name\nhub,\"H\nx\",c\"d\n\"": "line",
	} {
		_, err := ReadShelfCSV([]byte(text))
		require.ErrorContains(t, err, want, "%q", text)
	}
}

// No table and no shelf file makes reading panic, and what is accepted can be written and read again, both ways.
func FuzzShelf(f *testing.F) {
	f.Add([]byte("kind,name,owned,draw W\ncapture,S,yes,2.4\n"))
	f.Add([]byte("kind,name\na\"b,c\n"))
	f.Add([]byte("kind;name\r\nhub;=1+1\r\n"))
	f.Add([]byte(`{"format":"eventether-shelf/1","entries":[{"id":"a","owned":true,"gear":{"kind":"hub","name":"H"}}]}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		for _, read := range []func([]byte) ([]gear.Entry, error){ReadShelf, ReadShelfCSV} {
			entries, err := read(data)
			if err != nil {
				require.NotEmpty(t, err.Error())
				continue
			}
			text, err := WriteShelf(entries)
			require.NoError(t, err)
			_, err = ReadShelf(text)
			require.NoError(t, err)
			table, err := WriteShelfCSV(entries)
			require.NoError(t, err)
			_, err = ReadShelfCSV(table)
			require.NoError(t, err, "%s", table)
		}
	})
}

func TestTableByHand(t *testing.T) {
	entries, err := ReadShelfCSV([]byte("\ufeffName,Kind,Owned,Draw W,Draw from,Measured on\r\nTwo-port stick,capture,yes,2.4,measured,2026-09-01\r\n"))
	require.NoError(t, err)
	require.Len(t, entries, 1)
	require.Equal(t, "two-port-stick", entries[0].ID)
	require.True(t, entries[0].Owned)
	require.Equal(t, fact.Fact{Value: 2.4, Low: 2.4, High: 2.4, From: fact.Measured, At: "2026-09-01"},
		*entries[0].Gear.Power.DrawW)
}

func TestShelfSchemaInDocsIsCurrent(t *testing.T) {
	want, err := ShelfSchema()
	require.NoError(t, err)
	have, err := os.ReadFile("../../docs/formats/eventether-shelf-1.schema.json")
	require.NoError(t, err)
	require.Equal(t, string(want), string(have), "run make generate")
	require.False(t, strings.Contains(string(want), `"Lead"`), "only what its root leads to")
}

// What a spreadsheet would run is marked, whatever stands before it; numbers stay numbers; and what was marked comes
// back.
func TestHarmless(t *testing.T) {
	for cell, want := range map[string]string{
		"": "", "plain": "plain", "=1+1": "'=1+1", " =1+1": "' =1+1", "\n=1": "'\n=1", "\t@x": "'\t@x",
		"\u00a0+x": "'\u00a0+x", "\u200b=x": "'\u200b=x", "＝1+1": "'＝1+1", "＋x": "'＋x", "－x": "'－x", "＠x": "'＠x",
		"-40": "-40", "-40.5": "-40.5", "+3": "+3", "-1e-5": "-1e-5", "-x": "'-x", "-40 ms": "'-40 ms",
		"'quoted": "''quoted", "it's": "it's", " ": " ",
	} {
		require.Equal(t, want, Harmless(cell), "%q", cell)
		require.Equal(t, cell, plain(Harmless(cell)), "%q", cell)
	}
}
