package archive

import (
	"context"
	"encoding/json"
	"fmt"
	"time"
	"unicode/utf8"

	"github.com/google/uuid"

	"eventether/core/gear"
	"eventether/core/night"
	"eventether/core/rig"
	"eventether/core/runsheet"
	"eventether/internal/store"
	"eventether/internal/wire"
)

// rigDoc is a rig with every revision.
type rigDoc struct {
	ID        uuid.UUID  `json:"id"`
	Name      string     `json:"name"`
	State     string     `json:"state"`
	Feeds     int        `json:"feeds"`
	Frozen    bool       `json:"frozen,omitempty"`
	CreatedAt time.Time  `json:"createdAt"`
	UpdatedAt time.Time  `json:"updatedAt"`
	DeletedAt *time.Time `json:"deletedAt,omitempty"`
	Revisions []revDoc   `json:"revisions"`
}

type revDoc struct {
	Number int             `json:"number"`
	Kind   string          `json:"kind"`
	Shows  int             `json:"shows"`
	What   string          `json:"what"`
	Who    string          `json:"who"`
	At     time.Time       `json:"at"`
	Name   string          `json:"name,omitempty"`
	State  string          `json:"state,omitempty"`
	Doc    json.RawMessage `json:"doc"`
}

func rigOf(w *store.WholeRig) *rigDoc {
	r := &w.Rig
	d := &rigDoc{ID: r.ID, Name: r.Name, State: r.State, Feeds: r.Feeds, Frozen: r.Frozen, CreatedAt: r.CreatedAt, UpdatedAt: r.UpdatedAt, DeletedAt: r.DeletedAt, Revisions: []revDoc{}}
	for i := range w.Revisions {
		v := &w.Revisions[i]
		d.Revisions = append(d.Revisions, revDoc{v.Number, v.Kind, v.Shows, v.What, v.Who, v.At, v.Name, v.State, v.Doc})
	}
	return d
}

func (d *rigDoc) check(name string) error {
	for i := range d.Revisions {
		v := &d.Revisions[i]
		var r rig.Rig
		if err := json.Unmarshal(v.Doc, &r); err != nil {
			return unusable("%s, revision %d: %s", name, v.Number, err)
		}
		if p := rigProblem(&r); p != "" {
			return unusable("%s, revision %d: %s", name, v.Number, p)
		}
		if p := rig.TextProblem(v.What + v.Who + v.Name); p != "" {
			return unusable("%s, revision %d: a text %s", name, v.Number, p)
		}
	}
	return nil
}

func (d *rigDoc) bring(ctx context.Context, s *store.Store) (Row, error) {
	w := store.WholeRig{Rig: store.Rig{ID: d.ID, Name: d.Name, Head: len(d.Revisions), State: d.State, Feeds: d.Feeds, Frozen: d.Frozen, CreatedAt: d.CreatedAt, UpdatedAt: d.UpdatedAt, DeletedAt: d.DeletedAt}}
	for i := range d.Revisions {
		v := &d.Revisions[i]
		w.Revisions = append(w.Revisions, store.Revision{RigID: d.ID, Number: v.Number, Kind: v.Kind, Shows: v.Shows, What: v.What, Who: v.Who, At: v.At, Name: v.Name, State: v.State, Doc: v.Doc})
	}
	came, err := s.BringRig(ctx, w)
	return Row{"rig", d.ID.String(), d.Name, came}, err
}

// entryDoc is a thing on the shelf with every revision.
type entryDoc struct {
	ID        string     `json:"id"`
	Kind      string     `json:"kind"`
	Name      string     `json:"name"`
	Owned     bool       `json:"owned"`
	UpdatedAt time.Time  `json:"updatedAt"`
	DeletedAt *time.Time `json:"deletedAt,omitempty"`
	Revisions []revDoc   `json:"revisions"`
}

func entryOf(w *store.WholeEntry) *entryDoc {
	r := &w.Entry
	d := &entryDoc{ID: r.ID, Kind: r.Kind, Name: r.Name, Owned: r.Owned, UpdatedAt: r.UpdatedAt, DeletedAt: r.DeletedAt, Revisions: []revDoc{}}
	for i := range w.Revisions {
		v := &w.Revisions[i]
		d.Revisions = append(d.Revisions, revDoc{Number: v.Number, What: v.What, Who: v.Who, At: v.At, Doc: v.Doc})
	}
	return d
}

func (d *entryDoc) check(name string) error {
	if p := rig.TextProblem(d.ID + d.Kind + d.Name); p != "" {
		return unusable("%s: a text %s", name, p)
	}
	for i := range d.Revisions {
		var e gear.Entry
		if err := json.Unmarshal(d.Revisions[i].Doc, &e); err != nil {
			return unusable("%s, revision %d: %s", name, d.Revisions[i].Number, err)
		}
	}
	return nil
}

func (d *entryDoc) bring(ctx context.Context, s *store.Store) (Row, error) {
	w := store.WholeEntry{Entry: store.ShelfRow{ID: d.ID, Kind: d.Kind, Name: d.Name, Owned: d.Owned, Head: len(d.Revisions), UpdatedAt: d.UpdatedAt, DeletedAt: d.DeletedAt}}
	for i := range d.Revisions {
		v := &d.Revisions[i]
		w.Revisions = append(w.Revisions, store.ShelfRevision{EntryID: d.ID, Number: v.Number, What: v.What, Who: v.Who, At: v.At, Doc: v.Doc})
	}
	came, err := s.BringEntry(ctx, w)
	return Row{"shelf", d.ID, d.Name, came}, err
}

// profileDoc is a destination of one's own with every state.
type profileDoc struct {
	ID     uuid.UUID         `json:"id"`
	States []profileStateDoc `json:"states"`
}

type profileStateDoc struct {
	Number int             `json:"number"`
	Name   string          `json:"name"`
	Who    string          `json:"who"`
	At     time.Time       `json:"at"`
	Gone   bool            `json:"gone,omitempty"`
	Doc    json.RawMessage `json:"doc"`
}

func profileOf(w *store.WholeProfile) *profileDoc {
	d := &profileDoc{ID: w.ID, States: []profileStateDoc{}}
	for i := range w.States {
		p := &w.States[i]
		d.States = append(d.States, profileStateDoc{p.Number, p.Name, p.Who, p.At, p.Gone, p.Doc})
	}
	return d
}

func (d *profileDoc) check(name string) error {
	for i := range d.States {
		s := &d.States[i]
		if p := rig.TextProblem(s.Name + s.Who); p != "" {
			return unusable("%s: a text %s", name, p)
		}
		var k rig.Known
		if err := json.Unmarshal(s.Doc, &k); err != nil {
			return unusable("%s, state %d: %s", name, s.Number, err)
		}
		if p := rig.CheckKnown(&k); p != "" {
			return unusable("%s, state %d: %s", name, s.Number, p)
		}
	}
	return nil
}

func (d *profileDoc) bring(ctx context.Context, s *store.Store) (Row, error) {
	w := store.WholeProfile{ID: d.ID}
	name := ""
	for i := range d.States {
		p := &d.States[i]
		name = p.Name
		w.States = append(w.States, store.Profile{ID: d.ID, Number: p.Number, Name: p.Name, Doc: p.Doc, Who: p.Who, At: p.At, Gone: p.Gone})
	}
	came, err := s.BringProfile(ctx, w)
	return Row{"profile", d.ID.String(), name, came}, err
}

// nightDoc is a night with every operation.
type nightDoc struct {
	ID        uuid.UUID       `json:"id"`
	RigID     uuid.UUID       `json:"rigId"`
	Revision  int             `json:"revision"`
	Name      string          `json:"name"`
	AirAt     time.Time       `json:"airAt"`
	People    int             `json:"people"`
	CreatedAt time.Time       `json:"createdAt"`
	Sheet     json.RawMessage `json:"sheet"`
	Ops       []night.Op      `json:"ops"`
}

func nightOf(w *store.WholeNight) *nightDoc {
	n := &w.Night
	return &nightDoc{n.ID, n.RigID, n.Revision, n.Name, n.AirAt, n.People, n.CreatedAt, n.Sheet, w.Ops}
}

func (d *nightDoc) check(name string) error {
	var s runsheet.RunSheet
	if err := json.Unmarshal(d.Sheet, &s); err != nil {
		return unusable("%s, run sheet: %s", name, err)
	}
	w := store.WholeNight{Night: store.Night{Name: d.Name, AirAt: d.AirAt, People: d.People, Revision: d.Revision}, Ops: d.Ops}
	p, cut := CheckNight(&w, &s, nil)
	if p != "" {
		return unusable("%s: %s", name, p)
	}
	if d.Name = w.Night.Name; cut { // else it stays as it came, byte for byte
		sheet, err := wire.Marshal(&s)
		if err != nil {
			return unusable("%s, run sheet: %s", name, err)
		}
		d.Sheet = sheet
	}
	return nil
}

// mostName bounds the name of a show.
const mostName = 120

// CheckNight says what is wrong with a night that comes from elsewhere, "" when nothing is; what looks like a stream key is taken
// out of its texts, and cut tells whether any stood in the sheet. own tells the ids of its rig, where they are known.
func CheckNight(w *store.WholeNight, sheet *runsheet.RunSheet, own func(word string) bool) (problem string, cut bool) {
	if p := checkNight(w, own); p != "" {
		return p, false
	}
	if p := sheet.Problem(); p != "" {
		return p, false
	}
	for _, t := range sheet.Texts() {
		clean, found := night.WithoutKeys(*t, own)
		*t, cut = clean, cut || found
	}
	return "", cut
}

func checkNight(w *store.WholeNight, own func(word string) bool) string {
	n := &w.Night
	switch length := utf8.RuneCountInString(n.Name); {
	case n.People < 1 || n.People > 6:
		return fmt.Sprintf("people %d: want 1 to 6", n.People)
	case n.AirAt.Year() < 1970 || n.AirAt.Year() > 2099:
		return fmt.Sprintf("airAt: the year %d: want 1970 to 2099", n.AirAt.Year())
	case n.Revision < 1:
		return fmt.Sprintf("revision %d: want 1 or more", n.Revision)
	case length == 0 || length > mostName:
		return fmt.Sprintf("the name of the show is %d characters long: want 1 to %d", length, mostName)
	case len(w.Ops) > store.MostOps:
		return fmt.Sprintf("%d operations: a show holds at most %d", len(w.Ops), store.MostOps)
	}
	if p := rig.TextProblem(n.Name); p != "" {
		return "the name of the show " + p
	}
	n.Name, _ = night.WithoutKeys(n.Name, own)
	there := make(map[string]bool, len(w.Ops))
	for i := range w.Ops {
		op := &w.Ops[i]
		if r := op.Refused(); r != nil {
			return fmt.Sprintf("%s %q: %s", op.Kind, op.ID, r.Why)
		}
		if there[op.ID] {
			return fmt.Sprintf("operation %q stands twice in it", op.ID)
		}
		there[op.ID] = true
		mine := func(word string) bool {
			return own != nil && own(word) || op.Incident != nil && word == op.Incident.Part || op.Figure != nil && word == op.Figure.Of
		}
		if op.Whole {
			continue
		}
		op.EachText(func(_ string, text *string) { *text, _ = night.WithoutKeys(*text, mine) })
	}
	return ""
}

func (d *nightDoc) bring(ctx context.Context, s *store.Store) (Row, error) {
	came, err := s.BringNight(ctx, store.WholeNight{Night: store.Night{ID: d.ID, RigID: d.RigID, Revision: d.Revision, Name: d.Name, AirAt: d.AirAt, People: d.People, Sheet: d.Sheet, CreatedAt: d.CreatedAt}, Ops: d.Ops})
	return Row{"night", d.ID.String(), d.Name, came}, err
}
