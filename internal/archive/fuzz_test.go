package archive

import (
	"bytes"
	"encoding/json"
	"testing"
	"unicode/utf8"

	"eventether/core/judge"
	"eventether/core/night"
	"eventether/core/runsheet"
	"eventether/internal/demo/rigs"
	"eventether/internal/store"
)

// Of any two documents the second comes back from what differs.
func FuzzDifference(f *testing.F) {
	f.Add([]byte(`{"name":"a"}`), []byte(`{"name":"äb"}`))
	f.Add([]byte(`{"name":"ü"}`), []byte(`{"name":"ö"}`))
	f.Add([]byte(`{}`), []byte(`{}`))
	f.Fuzz(func(t *testing.T, was, now []byte) {
		if !json.Valid(now) || !utf8.Valid(now) {
			return
		}
		d := revDoc{Number: 2}
		d.Same, d.Between = difference(was, now)
		line, err := json.Marshal(d)
		if err != nil {
			t.Fatal(err)
		}
		var read revDoc
		if err := json.Unmarshal(line, &read); err != nil {
			t.Fatal(err)
		}
		whole, err := read.whole(was)
		if err != nil || !bytes.Equal(whole, now) {
			t.Fatalf("%q after %q came back as %q: %v", now, was, whole, err)
		}
	})
}

// Whatever comes as a show is refused with a reason, or can be planned, folded and written.
func FuzzImportedNight(f *testing.F) {
	type file struct {
		Name   string
		People int
		Sheet  runsheet.RunSheet
		Ops    []night.Op
	}
	sheet := runsheet.Of(judge.Rig(rigs.LoftEven()), nil, runsheet.Options{People: 2})
	sheet.Steps, sheet.Packing = sheet.Steps[:3], nil
	for i := range sheet.Steps {
		sheet.Steps[i].After = nil
	}
	for i := range sheet.Plans {
		sheet.Plans[i].Turns = nil
	}
	good, err := json.Marshal(file{"Show", 2, *sheet, []night.Op{{ID: "op-000001", Kind: "tick", Step: sheet.Steps[0].ID, At: 5}, {ID: "op-000002", Kind: "figure", At: 5, Figure: &night.Figure{What: "x", Value: 1}}}})
	if err != nil {
		f.Fatal(err)
	}
	f.Add(good)
	f.Add(bytes.ReplaceAll(good, []byte(`"minutes":`), []byte(`"minutes":1e300,"x":`)))
	f.Fuzz(func(t *testing.T, raw []byte) {
		var in file
		if json.Unmarshal(raw, &in) != nil {
			return
		}
		w := store.WholeNight{Night: store.Night{Name: in.Name, People: in.People, Revision: 1, AirAt: aired}, Ops: in.Ops}
		if p, _ := CheckNight(&w, &in.Sheet, nil); p != "" {
			return
		}
		st := night.NewState()
		for _, op := range w.Ops {
			st.Add(op)
		}
		standing := st.Standing()
		pace := night.PaceOf(&in.Sheet, in.People, &standing, aired.UnixMilli(), aired.UnixMilli()-3600_000)
		held := st.Held(night.Show{ID: "x", Name: in.Name, AirAt: aired.UnixMilli(), People: in.People, Sheet: &in.Sheet})
		if _, err := json.Marshal([]any{standing, pace, held, night.Over([]night.Held{held})}); err != nil {
			t.Fatalf("a show that cannot be written: %s", err)
		}
	})
}
