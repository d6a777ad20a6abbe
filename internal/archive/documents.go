package archive

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/google/uuid"

	"eventether/core/judge"
	"eventether/core/night"
	"eventether/core/rig"
	"eventether/core/runsheet"
	"eventether/core/view"
	"eventether/internal/rigfile"
	"eventether/internal/store"
	"eventether/internal/wire"
)

// rigHead is a rig; its revisions follow.
type rigHead struct {
	ID        uuid.UUID  `json:"id"`
	Name      string     `json:"name"`
	State     string     `json:"state"`
	Feeds     int        `json:"feeds"`
	Frozen    bool       `json:"frozen,omitempty"`
	CreatedAt time.Time  `json:"createdAt"`
	UpdatedAt time.Time  `json:"updatedAt"`
	DeletedAt *time.Time `json:"deletedAt,omitempty"`
	Head      int        `json:"head"`
}

// rigDoc1 is a rig with every revision, as the first form had it.
type rigDoc1 struct {
	rigHead
	Revisions []revDoc `json:"revisions"`
}

// revDoc is a revision: its document, or how it follows from the one before.
type revDoc struct {
	Number  int             `json:"number"`
	Kind    string          `json:"kind"`
	Shows   int             `json:"shows"`
	What    string          `json:"what"`
	Who     string          `json:"who"`
	At      time.Time       `json:"at"`
	Name    string          `json:"name,omitempty"`
	State   string          `json:"state,omitempty"`
	Doc     json.RawMessage `json:"doc,omitempty"`
	Same    *[2]int         `json:"same,omitempty"`
	Between string          `json:"between,omitempty"`
}

func headOfRig(r *store.Rig) *rigHead {
	return &rigHead{r.ID, r.Name, r.State, r.Feeds, r.Frozen, r.CreatedAt, r.UpdatedAt, r.DeletedAt, r.Head}
}

// Bounds of what stands beside a document.
const (
	mostWhat = 4000
	mostWho  = 200
)

// told says what is wrong with a text beside a document.
func told(what, text string, most int) error {
	if n := utf8.RuneCountInString(text); n > most {
		return unusable("%s is %d characters long: at most %d are read", what, n, most)
	}
	if p := rig.TextProblem(text); p != "" {
		return unusable("%s %s", what, p)
	}
	return nil
}

func moment(what string, t time.Time) error {
	if y := t.Year(); y < 1970 || y > 2099 {
		return unusable("%s: the year %d: want 1970 to 2099", what, y)
	}
	return nil
}

// reading is a rig as its revisions are read and checked, one by one.
type reading struct {
	head   *rigHead
	past   store.Past
	doc    []byte
	n      int
	shown  map[int][sha256.Size]byte // digests of documents, by revision
	newest *rig.Rig
}

// take checks a revision and gives it as it is kept.
func (r *reading) take(d *revDoc) (*store.Revision, error) {
	if r.n++; d.Number != r.n {
		return nil, unusable("its revisions are not numbered from 1 on: %d stands where %d should", d.Number, r.n)
	}
	doc, err := d.whole(r.doc)
	if err != nil {
		return nil, err
	}
	at := fmt.Sprintf("revision %d", d.Number)
	if err := r.past.Add(d.Kind, d.Number, d.Shows); err != nil {
		return nil, unusable("%s", err)
	}
	if !slices.Contains(states, d.State) {
		return nil, unusable("%s: state %q: want one of %s", at, cut(d.State), strings.Join(states, ", "))
	}
	if err := errors.Join(told(at+", what", d.What, mostWhat), told(at+", who", d.Who, mostWho),
		moment(at, d.At)); err != nil {
		return nil, unusable("%s", err)
	}
	sum := sha256.Sum256(doc)
	if r.shown == nil {
		r.shown = map[int][sha256.Size]byte{}
	}
	r.shown[d.Number] = sum
	if was, ok := r.shown[d.Shows]; !ok || was != sum {
		return nil, unusable("%s says it is as revision %d, and is not", at, d.Shows)
	}
	if r.newest == nil || !bytes.Equal(doc, r.doc) {
		if err := wire.Numbers(doc); err != nil {
			return nil, unusable("%s: %s", at, err)
		}
		var read rig.Rig
		if err := json.Unmarshal(doc, &read); err != nil {
			return nil, unusable("%s: %s", at, err)
		}
		if p := rigProblem(&read); p != "" {
			return nil, unusable("%s: %s", at, p)
		}
		r.newest = &read
	}
	r.doc = doc
	if d.Name != r.newest.Name {
		return nil, unusable("%s is called %q, and its rig %q", at, cut(d.Name), cut(r.newest.Name))
	}
	return &store.Revision{RigID: r.head.ID, Number: d.Number, Kind: d.Kind, Shows: d.Shows, What: d.What, Who: d.Who,
		At: d.At, Name: d.Name, State: d.State, Doc: doc}, nil
}

// end checks what is said of the whole against what came, and judges the newest: state and tethers are reckoned, not
// believed.
func (r *reading) end(row *store.Rig) error {
	if r.n == 0 || r.n != r.head.Head {
		return unusable("it has %d revisions, and says %d", r.n, r.head.Head)
	}
	straight := *r.newest
	rig.Straight(&straight)
	v := judge.Rig(&straight)
	row.Name, row.State, row.Feeds = r.newest.Name, v.State.String(), len(v.FeedsThat(false))
	return nil
}

var states = []string{"slack", "taut", "kinked", "untested", "snapped"}

func cut(s string) string {
	if r := []rune(s); len(r) > 40 {
		return string(r[:40]) + "…"
	}
	return s
}

func itoa(n int) string { return strconv.Itoa(n) }

func (h *rigHead) row() *store.Rig {
	return &store.Rig{ID: h.ID, Name: h.Name, Head: h.Head, State: h.State, Feeds: h.Feeds, Frozen: h.Frozen,
		CreatedAt: h.CreatedAt, UpdatedAt: h.UpdatedAt, DeletedAt: h.DeletedAt}
}

// comesBack brings a rig back by its head and its revisions, until next gives none.
func (h *rigHead) comesBack(ctx context.Context, s *store.Store, next func() (*revDoc, error)) (Row, error) {
	if err := errors.Join(told("its name", h.Name, mostWhat), moment("createdAt", h.CreatedAt),
		moment("updatedAt", h.UpdatedAt)); err != nil {
		return Row{}, unusable("%s", err)
	}
	if h.ID == uuid.Nil || !slices.Contains(states, h.State) {
		return Row{}, unusable("it has no id, or its state %q is none", cut(h.State))
	}
	row, r := h.row(), &reading{head: h}
	came, err := s.BringRig(ctx, row, func() (*store.Revision, error) {
		d, err := next()
		if err != nil {
			return nil, err
		}
		if d == nil {
			return nil, r.end(row)
		}
		return r.take(d)
	})
	return Row{"rig", h.ID.String(), row.Name, came}, err
}

func bringRig(ctx context.Context, s *store.Store, l *lines) (Row, error) {
	var h rigHead
	if _, err := l.next(&h); err != nil {
		return Row{}, err
	}
	return h.comesBack(ctx, s, func() (*revDoc, error) {
		var d revDoc
		ok, err := l.next(&d)
		if err != nil || !ok {
			return nil, err
		}
		return &d, nil
	})
}

func bringRig1(ctx context.Context, s *store.Store, raw []byte) (Row, error) {
	var d rigDoc1
	if err := parse("it", raw, &d); err != nil {
		return Row{}, err
	}
	d.Head = len(d.Revisions)
	at := 0
	return d.comesBack(ctx, s, func() (*revDoc, error) {
		if at == len(d.Revisions) {
			return nil, nil
		}
		at++
		rev := &d.Revisions[at-1]
		var doc bytes.Buffer // each was indented as it stood
		if err := json.Compact(&doc, rev.Doc); err != nil {
			return nil, unusable("revision %d: %s", rev.Number, err)
		}
		rev.Doc = doc.Bytes()
		return rev, nil
	})
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
	d := &entryDoc{ID: r.ID, Kind: r.Kind, Name: r.Name, Owned: r.Owned, UpdatedAt: r.UpdatedAt,
		DeletedAt: r.DeletedAt, Revisions: []revDoc{}}
	for i := range w.Revisions {
		v := &w.Revisions[i]
		d.Revisions = append(d.Revisions, revDoc{Number: v.Number, What: v.What, Who: v.Who, At: v.At, Doc: v.Doc})
	}
	return d
}

func (d *entryDoc) check() error {
	if len(d.ID) > 200 || d.ID == "" {
		return unusable("its id is %d characters long: want 1 to 200", len(d.ID))
	}
	if len(d.Revisions) == 0 {
		return unusable("it has no revisions")
	}
	if err := errors.Join(told("its id", d.ID, 200), moment("updatedAt", d.UpdatedAt)); err != nil {
		return unusable("%s", err)
	}
	for i := range d.Revisions {
		v := &d.Revisions[i]
		at := fmt.Sprintf("revision %d", v.Number)
		if v.Number != i+1 {
			return unusable("its revisions are not numbered from 1 on")
		}
		if err := errors.Join(told(at+", what", v.What, mostWhat), told(at+", who", v.Who, mostWho),
			moment(at, v.At)); err != nil {
			return unusable("%s", err)
		}
		e, err := rigfile.ReadEntry(v.Doc)
		if err != nil {
			return unusable("%s: %s", at, err)
		}
		d.Kind, d.Name, d.Owned = string(e.Gear.Kind), e.Gear.Name, e.Owned // as it is, not as it is said to be
	}
	return nil
}

func bringEntry(ctx context.Context, s *store.Store, raw []byte) (Row, error) {
	var d entryDoc
	if err := parse("it", raw, &d); err != nil {
		return Row{}, err
	}
	if err := d.check(); err != nil {
		return Row{}, err
	}
	return d.bring(ctx, s)
}

func (d *entryDoc) bring(ctx context.Context, s *store.Store) (Row, error) {
	w := store.WholeEntry{Entry: store.ShelfRow{ID: d.ID, Kind: d.Kind, Name: d.Name, Owned: d.Owned,
		Head: len(d.Revisions), UpdatedAt: d.UpdatedAt, DeletedAt: d.DeletedAt}}
	for i := range d.Revisions {
		v := &d.Revisions[i]
		w.Revisions = append(w.Revisions, store.ShelfRevision{EntryID: d.ID, Number: v.Number, What: v.What,
			Who: v.Who, At: v.At, Doc: v.Doc})
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

func (d *profileDoc) check() error {
	for i := range d.States {
		s := &d.States[i]
		at := fmt.Sprintf("state %d", s.Number)
		if err := errors.Join(told(at+", name", s.Name, mostWhat), told(at+", who", s.Who, mostWho),
			moment(at, s.At)); err != nil {
			return unusable("%s", err)
		}
		var k rig.Known
		if err := json.Unmarshal(s.Doc, &k); err != nil {
			return unusable("%s: %s", at, err)
		}
		if p := rig.CheckKnown(&k); p != "" {
			return unusable("%s: %s", at, p)
		}
	}
	return nil
}

func bringProfile(ctx context.Context, s *store.Store, raw []byte) (Row, error) {
	var d profileDoc
	if err := parse("it", raw, &d); err != nil {
		return Row{}, err
	}
	if err := d.check(); err != nil {
		return Row{}, err
	}
	return d.bring(ctx, s)
}

func (d *profileDoc) bring(ctx context.Context, s *store.Store) (Row, error) {
	w := store.WholeProfile{ID: d.ID}
	name := ""
	for i := range d.States {
		p := &d.States[i]
		name = p.Name
		w.States = append(w.States, store.Profile{ID: d.ID, Number: p.Number, Name: p.Name, Doc: p.Doc, Who: p.Who,
			At: p.At, Gone: p.Gone})
	}
	came, err := s.BringProfile(ctx, w)
	return Row{"profile", d.ID.String(), name, came}, err
}

// reportDoc is what a rehearsal came to.
type reportDoc struct {
	ID       uuid.UUID       `json:"id"`
	Rig      uuid.UUID       `json:"rig"`
	Revision int             `json:"revision"`
	Kind     string          `json:"kind"`
	Part     string          `json:"part"`
	Name     string          `json:"name"`
	At       time.Time       `json:"at"`
	Doc      json.RawMessage `json:"doc"`
}

func reportOf(r *store.Report) *reportDoc {
	return &reportDoc{r.ID, r.RigID, r.Revision, r.Kind, r.Part, r.Name, r.At, r.Doc}
}

func bringReport(ctx context.Context, s *store.Store, raw []byte) (Row, error) {
	var d reportDoc
	if err := parse("it", raw, &d); err != nil {
		return Row{}, err
	}
	var doc view.Rehearsed
	if err := errors.Join(told("name", d.Name, mostWhat), told("part", d.Part, mostWho), moment("it", d.At), parse("doc", d.Doc, &doc)); err != nil {
		return Row{}, unusable("%s", err)
	}
	if d.Kind != "rehearsal" || d.Revision < 1 {
		return Row{}, unusable("kind %q of revision %d: want a rehearsal of a revision", d.Kind, d.Revision)
	}
	came, err := s.BringReport(ctx, store.Report{ID: d.ID, RigID: d.Rig, Revision: d.Revision, Kind: d.Kind, Part: d.Part, Name: d.Name, At: d.At, Doc: d.Doc})
	return Row{"report", d.ID.String(), d.Name, came}, err
}

// nightHead is a night; its operations follow.
type nightHead struct {
	ID        uuid.UUID       `json:"id"`
	RigID     uuid.UUID       `json:"rigId"`
	Revision  int             `json:"revision"`
	Name      string          `json:"name"`
	AirAt     time.Time       `json:"airAt"`
	People    int             `json:"people"`
	CreatedAt time.Time       `json:"createdAt"`
	Sheet     json.RawMessage `json:"sheet"`
}

// nightDoc1 is a night with every operation, as the first form had it.
type nightDoc1 struct {
	nightHead
	Ops []night.Op `json:"ops"`
}

func headOfNight(n *store.Night) *nightHead {
	return &nightHead{n.ID, n.RigID, n.Revision, n.Name, n.AirAt, n.People, n.CreatedAt, n.Sheet}
}

// atOnce is how many operations of a night are brought at once.
const atOnce = 2000

// comesBack brings a night back, with operations until next gives none.
func (h *nightHead) comesBack(ctx context.Context, s *store.Store, next func() (*night.Op, error)) (Row, error) {
	var sheet runsheet.RunSheet
	if err := json.Unmarshal(h.Sheet, &sheet); err != nil {
		return Row{}, unusable("run sheet: %s", err)
	}
	w := store.WholeNight{Night: store.Night{ID: h.ID, RigID: h.RigID, Revision: h.Revision, Name: h.Name,
		AirAt: h.AirAt, People: h.People, Sheet: h.Sheet, CreatedAt: h.CreatedAt}}
	if err := moment("createdAt", h.CreatedAt); err != nil {
		return Row{}, err
	}
	if there, err := s.HasRevision(ctx, h.RigID, h.Revision); err != nil {
		return Row{}, err
	} else if !there {
		return Row{}, unusable("it is a show of rig %s at revision %d, which is neither in the archive nor here",
			h.RigID, h.Revision)
	}
	p, cut := CheckNight(&w, &sheet, nil)
	if p != "" {
		return Row{}, unusable("%s", p)
	}
	if cut { // else it stays as it came, byte for byte
		raw, err := wire.Marshal(&sheet)
		if err != nil {
			return Row{}, unusable("run sheet: %s", err)
		}
		w.Night.Sheet = raw
	}
	there, n := map[string]bool{}, 0
	came, err := s.BringNight(ctx, w.Night, func() ([]night.Op, error) {
		var some []night.Op
		for len(some) < atOnce {
			op, err := next()
			if err != nil {
				return nil, err
			}
			if op == nil {
				break
			}
			if n++; n > store.MostOps {
				return nil, unusable("a show holds at most %d operations", store.MostOps)
			}
			if p := checkOp(op, there, nil); p != "" {
				return nil, unusable("%s", p)
			}
			some = append(some, *op)
		}
		return some, nil
	})
	return Row{"night", h.ID.String(), w.Night.Name, came}, err
}

func bringNight(ctx context.Context, s *store.Store, l *lines) (Row, error) {
	var h nightHead
	if _, err := l.next(&h); err != nil {
		return Row{}, err
	}
	return h.comesBack(ctx, s, func() (*night.Op, error) {
		var op night.Op
		ok, err := l.next(&op)
		if err != nil || !ok {
			return nil, err
		}
		return &op, nil
	})
}

func bringNight1(ctx context.Context, s *store.Store, raw []byte) (Row, error) {
	var d nightDoc1
	if err := parse("it", raw, &d); err != nil {
		return Row{}, err
	}
	at := 0
	return d.comesBack(ctx, s, func() (*night.Op, error) {
		if at == len(d.Ops) {
			return nil, nil
		}
		at++
		return &d.Ops[at-1], nil
	})
}

// mostName bounds the name of a show.
const mostName = 120

// CheckNight says what is wrong with a night that comes from elsewhere, "" when nothing is; what looks like a stream
// key is taken out of its texts, and cut tells whether any stood in the sheet. own tells the ids of its rig, where they
// are known.
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
		if p := checkOp(&w.Ops[i], there, own); p != "" {
			return p
		}
	}
	return ""
}

// checkOp says what is wrong with an operation of a night that comes from elsewhere, and takes keys out of its texts.
func checkOp(op *night.Op, there map[string]bool, own func(word string) bool) string {
	if r := op.Refused(); r != nil {
		return fmt.Sprintf("%s %q: %s", cut(op.Kind), cut(op.ID), r.Why)
	}
	if there[op.ID] {
		return fmt.Sprintf("operation %q stands twice in it", op.ID)
	}
	there[op.ID] = true
	if op.Whole {
		return ""
	}
	mine := func(word string) bool {
		return own != nil && own(word) || op.Incident != nil && word == op.Incident.Part ||
			op.Figure != nil && word == op.Figure.Of
	}
	op.EachText(func(_ string, text *string) { *text, _ = night.WithoutKeys(*text, mine) })
	return ""
}
