package server

import (
	"bytes"
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/sse"
	"github.com/google/uuid"
	lru "github.com/hashicorp/golang-lru/v2"

	"eventether/core/advise"
	"eventether/core/lang"
	"eventether/core/night"
	"eventether/core/runsheet"
	"eventether/core/say"
	"eventether/core/verdict"
	"eventether/internal/archive"
	"eventether/internal/calendar"
	"eventether/internal/readers"
	"eventether/internal/rigfile"
	"eventether/internal/store"
	"eventether/internal/wire"
)

// NightFile is the format of a night as it is taken elsewhere.
const NightFile = "eventether-night/1"

// Night is one night with all that is known of it.
type Night struct {
	Format   string             `json:"format"`
	ID       uuid.UUID          `json:"id"`
	RigID    uuid.UUID          `json:"rigId"`
	Revision int                `json:"revision" doc:"Of the rig, as it was"`
	Name     string             `json:"name"`
	AirAt    time.Time          `json:"airAt" doc:"When it is to go to air"`
	People   int                `json:"people"`
	Sheet    *runsheet.RunSheet `json:"sheet"`
	Standing night.Standing     `json:"standing"`
	Pace     night.Pace         `json:"pace" doc:"How the set-up comes along"`
	Ops      []night.Op         `json:"ops,omitempty" doc:"In files: everything that happened, in the order it was kept"`
	Seq      int64              `json:"seq" doc:"Operations so far"`
	Now      int64              `json:"now" doc:"The clock of the computer that keeps it, milliseconds since 1970 UTC"`
	Facts    []Measurable       `json:"facts" doc:"Facts of the rig that can be measured tonight"`
	Parts    []string           `json:"parts" doc:"What the things of the rig are called"`
	Stripped bool               `json:"stripped,omitempty" doc:"Something that looked like a stream key was taken out of its name"`
}

// Measurable is a fact of a rig somebody can measure.
type Measurable struct {
	Path  string  `json:"path"`
	Name  string  `json:"name"`
	Unit  string  `json:"unit"`
	Item  string  `json:"item,omitempty"`
	Value float64 `json:"value" doc:"As planned with"`
	Low   float64 `json:"low"`
	High  float64 `json:"high"`
}

// measurable lists the numbers a verdict rests on that are of an item or the line, each once.
func measurable(v *verdict.Verdict) []Measurable {
	out := []Measurable{}
	seen := map[string]bool{}
	for i := range v.Results {
		facts := v.Results[i].Facts
		for k := range facts {
			f := &facts[k]
			path := f.Path()
			name := v.FactName(f)
			if name == "" || seen[path] || len(f.Choices()) > 0 || v.Item(f.Of) == nil {
				continue
			}
			seen[path] = true
			out = append(out, Measurable{path, say.Sentence(name), f.Unit, f.Of, f.Value, f.Low, f.High})
		}
	}
	slices.SortFunc(out, func(a, b Measurable) int { return strings.Compare(a.Name+a.Path, b.Name+b.Path) })
	return out
}

// parts are the names of things that can fail: items, leads, and the line.
func parts(v *verdict.Verdict) []string {
	out := []string{lang.Text("the line")}
	for i := range v.Items {
		out = append(out, v.Items[i].Label)
	}
	for i := range v.Leads {
		if l := &v.Leads[i]; l.LengthM.High > 0 {
			out = append(out, lang.Text("the lead %s", v.LeadTitle(l)))
		}
	}
	return out
}

// NightRow is a night in the log.
type NightRow struct {
	ID      uuid.UUID `json:"id"`
	RigID   uuid.UUID `json:"rigId"`
	AirAt   time.Time `json:"airAt"`
	Name    string    `json:"name"`
	Minutes float64   `json:"minutes" doc:"On air"`
	SetUp   float64   `json:"setUp" doc:"Minutes of set-up; 0 when not ticked"`
	Planned float64   `json:"planned" doc:"Minutes of set-up as planned"`
	Faults  int       `json:"faults"`
	Lost    float64   `json:"lost" doc:"Minutes lost"`
}

// Log is what all nights tell.
type Log struct {
	Nights []NightRow   `json:"nights"`
	Season night.Season `json:"season"`
}

func (a *api) registerNights(h huma.API, op func(method, path, id, summary string) huma.Operation,
	raw func(huma.Operation) huma.Operation) {
	huma.Register(h, op("GET", "/api/rigs/{id}/runsheet", "runSheetOf",
		"The run sheet of a rig, against its last show's"), a.runSheet)
	huma.Register(h, op("GET", "/api/rigs/{id}/runsheet/file", "runSheetFile",
		"The run sheet as text, Markdown, iCalendar or JSON"), a.runSheetFile)
	huma.Register(h, op("POST", "/api/rigs/{id}/nights", "openNight",
		"Open a show: the rig and its run sheet as they are now"), a.openNight)
	huma.Register(h, op("GET", "/api/nights", "log", "Every show, and what they tell together"), a.log)
	huma.Register(h, op("POST", "/api/nights", "importNight", "Keep a show that was exported"), a.importNight)
	huma.Register(h, op("GET", "/api/nights/{id}", "getNight", "One show as it stands"), a.night)
	huma.Register(h, op("GET", "/api/nights/{id}/changes", "nightChanges",
		"What has become of a show since it had come to a seq"), a.changes)
	huma.Register(h,
		raw(op("POST", "/api/nights/{id}/ops", "addOps",
			"Add what happened, each by itself; sending it again adds nothing")), a.addOps)
	huma.Register(h, op("GET", "/api/nights/{id}/file", "nightFile",
		"A show as JSON, its incidents or figures as CSV"), a.nightFile)
	huma.Register(h, op("POST", "/api/rigs/{id}/measured", "takeMeasured",
		"Take a measured value into a rig, and onto the sheet of what it was measured on"), a.takeMeasured)
	huma.Register(h, op("POST", "/api/nights/{id}/table", "readTable",
		"Read a table of figures, to choose its columns from"), a.readTable)
	sse.Register(h, op("GET", "/api/nights/{id}/events", "watchNight", "Tells when something was added"),
		map[string]any{"added": Added{}}, a.watch)
}

// Added tells that a night has come to a seq.
type Added struct {
	Seq int64 `json:"seq"`
}

// watchers are who waits for a night to go on.
type watchers struct {
	sync.Mutex
	of map[uuid.UUID]map[chan int64]bool
}

func (w *watchers) join(id uuid.UUID) (told chan int64, leave func()) {
	told = make(chan int64, 1)
	w.Lock()
	defer w.Unlock()
	if w.of == nil {
		w.of = map[uuid.UUID]map[chan int64]bool{}
	}
	if w.of[id] == nil {
		w.of[id] = map[chan int64]bool{}
	}
	w.of[id][told] = true
	return told, func() {
		w.Lock()
		defer w.Unlock()
		if delete(w.of[id], told); len(w.of[id]) == 0 {
			delete(w.of, id)
		}
	}
}

// tell tells everybody; who has not heard the last one yet hears the later of both instead.
func (w *watchers) tell(id uuid.UUID, seq int64) {
	w.Lock()
	defer w.Unlock()
	for told := range w.of[id] {
		last := seq
		select {
		case unheard := <-told:
			last = max(last, unheard)
		default:
		}
		told <- last
	}
}

type nightIn struct {
	ID uuid.UUID `path:"id"`
}

// sheetOf makes a rig's run sheet, and marks what is new since its last show.
func (a *api) sheetOf(ctx context.Context, id uuid.UUID, revision, people int) (*runsheet.RunSheet, store.Revision,
	error) {
	get, cancel := limited(ctx)
	defer cancel()
	_, rev, err := a.store.Get(get, id, revision)
	if err != nil {
		return nil, rev, failed(err)
	}
	last, err := a.store.LastNight(get, id)
	first := errors.Is(err, store.ErrNoNight)
	if err != nil && !first {
		return nil, rev, failed(err)
	}
	v, err := a.verdicts.revision(&rev)
	if err != nil {
		return nil, rev, err
	}
	var cure *advise.Cure
	told, err := a.soonest(ctx, v)
	if err != nil {
		return nil, rev, err
	}
	cure = told.Cure
	var sum night.Held
	if !first {
		if sum, err = a.sums.of(get, a.store, &last); err != nil {
			return nil, rev, failed(err)
		}
	}
	s := runsheet.Of(v.Verdict, cure, runsheet.Options{People: max(people, 2), First: first, Failed: sum.Failed})
	if !first {
		before, err := last.RunSheet()
		if err != nil {
			return nil, rev, failed(err)
		}
		s.Since(before)
		for _, in := range sum.Mishaps {
			if in.Next != "" {
				s.First = append(s.First, lang.Text("From the last show: %s (%s).", strings.TrimSuffix(in.Next, "."),
					in.What))
			}
		}
	}
	return s, rev, nil
}

func (a *api) runSheet(ctx context.Context, in *struct {
	ID       uuid.UUID `path:"id"`
	Revision int       `query:"revision" minimum:"0" maximum:"2147483647"`
	People   int       `query:"people" minimum:"0" maximum:"6"`
}) (*struct{ Body *runsheet.RunSheet }, error) {
	s, _, err := a.sheetOf(ctx, in.ID, in.Revision, in.People)
	if err != nil {
		return nil, err
	}
	return &struct{ Body *runsheet.RunSheet }{s}, nil
}

func (a *api) runSheetFile(ctx context.Context, in *struct {
	ID     uuid.UUID `path:"id"`
	As     string    `query:"as" enum:"text,markdown,ical,json" default:"text"`
	Air    string    `query:"air" doc:"When it goes to air, RFC 3339"`
	People int       `query:"people" minimum:"0" maximum:"6"`
}) (*huma.StreamResponse, error) {
	s, _, err := a.sheetOf(ctx, in.ID, 0, in.People)
	if err != nil {
		return nil, err
	}
	var clock runsheet.Clock
	var air time.Time
	if in.Air != "" {
		if air, err = time.Parse(time.RFC3339, in.Air); err != nil {
			return nil, huma.NewError(http.StatusUnprocessableEntity,
				fmt.Sprintf("air %q: want a date and time such as 2026-12-04T19:30:00+01:00", in.Air))
		}
		clock = calendar.Clock(air)
	}
	people := max(1, in.People)
	var b bytes.Buffer
	kind, ending := "text/plain; charset=utf-8", "txt"
	switch in.As {
	case "markdown":
		kind, ending = "text/markdown; charset=utf-8", "md"
		b.WriteString(s.Markdown(people, clock))
	case "ical":
		if air.IsZero() {
			return nil, huma.NewError(http.StatusUnprocessableEntity,
				"air: a calendar needs the time the show goes to air")
		}
		kind, ending = "text/calendar; charset=utf-8", "ics"
		if err := calendar.Write(&b, s, air, people, time.Now()); err != nil {
			return nil, failed(err)
		}
	case "json":
		kind, ending = "application/json", "json"
		if err := wire.Write(&b, s); err != nil {
			return nil, failed(err)
		}
	default:
		b.WriteString(s.Text(people, clock))
	}
	return download(kind, "run-sheet."+ending, b.Bytes()), nil
}

// download answers with a file.
func download(kind, name string, body []byte) *huma.StreamResponse {
	return &huma.StreamResponse{Body: func(c huma.Context) {
		c.SetHeader("Content-Type", kind)
		c.SetHeader("Content-Disposition", `attachment; filename="`+name+`"`)
		_, _ = c.BodyWriter().Write(body)
	}}
}

func (a *api) openNight(ctx context.Context, in *struct {
	ID   uuid.UUID `path:"id"`
	Body struct {
		AirAt  time.Time `json:"airAt"`
		People int       `json:"people" minimum:"1" maximum:"6"`
		Name   string    `json:"name,omitempty" maxLength:"120"`
		ID     uuid.UUID `json:"id,omitempty" doc:"Made by who asks: asking again opens nothing new"`
	}
}) (*struct{ Body *Night }, error) {
	s, rev, err := a.sheetOf(ctx, in.ID, 0, in.Body.People)
	if err != nil {
		return nil, err
	}
	name := in.Body.Name
	if name == "" {
		name = rev.Name
	}
	name, stripped := night.WithoutKeys(name, nil)
	if err := sound("name", name); err != nil {
		return nil, err
	}
	keep, cancel := limited(ctx)
	defer cancel()
	if y := in.Body.AirAt.Year(); y < 1970 || y > 2099 {
		return nil, huma.NewError(http.StatusUnprocessableEntity, fmt.Sprintf("airAt: the year %d: want 1970 to 2099",
			y))
	}
	n, err := a.store.OpenNight(keep, store.Night{ID: in.Body.ID, RigID: in.ID, Revision: rev.Number, Name: name,
		AirAt: in.Body.AirAt.UTC(), People: in.Body.People}, s)
	if err != nil {
		return nil, failed(err)
	}
	e, err := a.nightOf(ctx, n)
	if err != nil {
		return nil, err
	}
	e.Stripped = stripped
	return &struct{ Body *Night }{e}, nil
}

func (a *api) night(ctx context.Context, in *nightIn) (*struct{ Body *Night }, error) {
	get, cancel := limited(ctx)
	defer cancel()
	n, err := a.store.Night(get, in.ID)
	if err != nil {
		return nil, failed(err)
	}
	e, err := a.nightOf(ctx, n)
	if err != nil {
		return nil, err
	}
	return &struct{ Body *Night }{e}, nil
}

// nightOf tells about a night.
func (a *api) nightOf(ctx context.Context, n store.Night) (*Night, error) {
	get, cancel := limited(ctx)
	defer cancel()
	s, err := n.RunSheet()
	if err != nil {
		return nil, failed(err)
	}
	_, rev, err := a.store.Get(get, n.RigID, n.Revision)
	if err != nil {
		return nil, failed(err)
	}
	v, err := a.verdicts.revision(&rev)
	if err != nil {
		return nil, err
	}
	e := &Night{Format: NightFile, ID: n.ID, RigID: n.RigID, Revision: n.Revision, Name: n.Name, AirAt: n.AirAt,
		People: n.People, Sheet: s, Now: time.Now().UnixMilli(), Facts: measurable(v.Verdict), Parts: parts(v.Verdict)}
	if err := a.folded.look(get, a.store, n.ID, func(st *night.State) {
		e.Standing, e.Seq = st.Standing(), st.Seq()
	}); err != nil {
		return nil, failed(err)
	}
	e.Pace = night.PaceOf(s, n.People, &e.Standing, n.AirAt.UnixMilli(), e.Now)
	return e, nil
}

// Changed is what has become of a show since it had come to some seq.
type Changed struct {
	night.Changes
	Seq      int64           `json:"seq" doc:"Operations so far"`
	Now      int64           `json:"now" doc:"The clock of the computer that keeps it, milliseconds since 1970 UTC"`
	Pace     night.Pace      `json:"pace" doc:"How the set-up comes along"`
	Refused  []night.Refusal `json:"refused" doc:"Operations that came with this request and were not kept, with why; the others were"`
	Stripped []Stripped      `json:"stripped" doc:"Texts of this request in which something that looked like a stream key was taken out"`
}

// Stripped is a text as it is kept, without what looked like a stream key.
type Stripped struct {
	ID    string `json:"id" doc:"Of the operation"`
	Field string `json:"field"`
	Text  string `json:"text" doc:"As it is kept"`
}

// since tells what has changed of a night after a seq; nothing of it where that is negative.
func (a *api) since(ctx context.Context, n *store.Night, seq int64) (*Changed, error) {
	get, cancel := limited(ctx)
	defer cancel()
	out := &Changed{Now: time.Now().UnixMilli(), Refused: []night.Refusal{}, Stripped: []Stripped{}}
	sheet, err := n.RunSheet()
	if err != nil {
		return nil, failed(err)
	}
	err = a.folded.look(get, a.store, n.ID, func(st *night.State) {
		out.Seq = st.Seq()
		if seq < 0 {
			seq = out.Seq
		}
		out.Changes = st.Since(seq)
		out.Pace = night.PaceOf(sheet, n.People, st.Ticked(), n.AirAt.UnixMilli(), out.Now)
	})
	return out, failed(err)
}

func (a *api) changes(ctx context.Context, in *struct {
	ID    uuid.UUID `path:"id"`
	After int64     `query:"after" minimum:"0" doc:"What is known already"`
}) (*struct{ Body *Changed }, error) {
	get, cancel := limited(ctx)
	defer cancel()
	n, err := a.store.Night(get, in.ID)
	if err != nil {
		return nil, failed(err)
	}
	c, err := a.since(ctx, &n, in.After)
	if err != nil {
		return nil, err
	}
	return &struct{ Body *Changed }{c}, nil
}

// mostSkew is how far a clock may be off before what it says is put right, in milliseconds.
const mostSkew = 2000

// SentOp is an operation as it came: read by itself, so that one nobody can read holds up no other.
type SentOp struct{ raw json.RawMessage }

// UnmarshalJSON keeps the operation as it came.
func (o *SentOp) UnmarshalJSON(b []byte) error { o.raw = append(o.raw[:0], b...); return nil }

// Schema is the operation's.
func (SentOp) Schema(r huma.Registry) *huma.Schema {
	return r.Schema(reflect.TypeFor[night.Op](), true, "Op")
}

// read reads one operation; what is wrong with it is said of it alone.
func (o *SentOp) read() (op night.Op, refused *night.Refusal) {
	d := json.NewDecoder(bytes.NewReader(o.raw))
	d.DisallowUnknownFields()
	if err := d.Decode(&op); err != nil {
		var named struct{ ID string }
		_ = json.Unmarshal(o.raw, &named) // where even that cannot be read it has no name
		return op, &night.Refusal{ID: named.ID, Why: "it cannot be read: " + strings.TrimPrefix(err.Error(), "json: ")}
	}
	return op, op.Refused()
}

// AddOps are operations that are sent.
type AddOps struct {
	Ops    []SentOp `json:"ops" minItems:"1" maxItems:"2000"`
	SentAt int64    `json:"sentAt,omitempty" doc:"The sender's clock as it sends, milliseconds since 1970 UTC: a clock that is off is put right by it"`
	After  *int64   `json:"after,omitempty" doc:"What the sender knows already: what has changed since comes back"`
}

// mostSent is how many operations come in at once.
const mostSent = 2000

func (a *api) addOps(ctx context.Context, in *struct {
	ID   uuid.UUID `path:"id"`
	Body AddOps
}) (*struct{ Body *Changed }, error) {
	defer a.heavy.waited()()
	if n := len(in.Body.Ops); n == 0 || n > mostSent {
		return nil, huma.NewError(http.StatusUnprocessableEntity,
			fmt.Sprintf("ops: %d operations: want 1 to %d at once", n, mostSent))
	}
	get, cancel := limited(ctx)
	defer cancel()
	n, err := a.store.Night(get, in.ID)
	if err != nil {
		return nil, failed(err)
	}
	own, err := a.ownWords(get, &n)
	if err != nil {
		return nil, err
	}
	now, off := time.Now().UnixMilli(), int64(0)
	if s := in.Body.SentAt; s > 0 && s < night.LastTime && (now-s > mostSkew || s-now > mostSkew) {
		off = now - s
	}
	var ops []night.Op
	ahead := int64(0)
	refused, stripped := []night.Refusal{}, []Stripped{}
	for i := range in.Body.Ops {
		op, no := in.Body.Ops[i].read()
		if no == nil {
			if op.Arrive(now, off); op.Said > 0 { // what came together stays in its order
				op.At += ahead
				ahead++
			}
			no = op.Refused()
		}
		if no != nil {
			refused = append(refused, *no)
			continue
		}
		stripped = append(stripped, withoutKeys(&op, own)...)
		ops = append(ops, op)
	}
	if len(ops) > 0 {
		keep, done := limited(ctx)
		defer done()
		seq, err := a.store.AddOps(keep, in.ID, ops)
		if err != nil {
			return nil, failed(err)
		}
		a.watchers.tell(in.ID, seq)
	}
	after := int64(-1)
	if in.Body.After != nil {
		after = *in.Body.After
	}
	c, err := a.since(context.WithoutCancel(ctx), &n, after)
	if err != nil {
		return nil, err
	}
	c.Refused, c.Stripped = refused, stripped
	return &struct{ Body *Changed }{c}, nil
}

// ownWords tells the ids of a night's rig: they are no keys.
func (a *api) ownWords(ctx context.Context, n *store.Night) (func(word string) bool, error) {
	_, rev, err := a.store.Get(ctx, n.RigID, n.Revision)
	if err != nil {
		return nil, failed(err)
	}
	r, err := rev.Rig()
	if err != nil {
		return nil, failed(err)
	}
	return func(word string) bool { return r.Item(word) != nil || r.Lead(word) != nil }, nil
}

// withoutKeys takes what looks like a stream key out of an operation.
func withoutKeys(op *night.Op, own func(word string) bool) (out []Stripped) {
	if op.Whole {
		return nil
	}
	op.EachText(func(field string, text *string) {
		if clean, found := night.WithoutKeys(*text, own); found {
			*text = clean
			out = append(out, Stripped{op.ID, field, clean})
		}
	})
	return out
}

func (a *api) log(ctx context.Context, in *struct {
	Rig string `query:"rig" doc:"Only of this rig"`
}) (*struct{ Body Log }, error) {
	get, cancel := limited(ctx)
	defer cancel()
	var of *uuid.UUID
	if in.Rig != "" {
		id, err := uuid.Parse(in.Rig)
		if err != nil {
			return nil, huma.NewError(http.StatusUnprocessableEntity, fmt.Sprintf("rig %q: want the id of a rig",
				in.Rig))
		}
		of = &id
	}
	rows, err := a.store.Nights(get, of)
	if err != nil {
		return nil, failed(err)
	}
	if err := a.sums.read(get, a.store, rows); err != nil {
		return nil, failed(err)
	}
	out := Log{Nights: make([]NightRow, len(rows))}
	held := make([]night.Held, len(rows))
	for i := range rows {
		h, err := a.sums.of(get, a.store, &rows[i])
		if err != nil {
			return nil, failed(err)
		}
		held[i] = h
		out.Nights[i] = NightRow{rows[i].ID, rows[i].RigID, rows[i].AirAt, h.Name, h.Minutes, h.SetUp, h.Planned,
			len(h.Mishaps), h.Lost}
	}
	out.Season = night.Over(held)
	return &struct{ Body Log }{out}, nil
}

// sums keeps what nights count for, by how far they have come: a night that is over is read once.
type sums struct {
	kept *lru.Cache[sumKey, night.Held]
}

type sumKey struct {
	id  uuid.UUID
	seq int64
}

// sumsKept is how many nights are kept: some years of them.
const sumsKept = 4096

func newSums() sums {
	kept, err := lru.New[sumKey, night.Held](sumsKept)
	if err != nil {
		panic(err) // the size is above zero
	}
	return sums{kept}
}

// read reads those of the nights that are not kept yet, all at once.
func (s sums) read(ctx context.Context, st *store.Store, rows []store.Night) error {
	var missing []uuid.UUID
	for i := range rows {
		if !s.kept.Contains(sumKey{rows[i].ID, rows[i].Seq}) {
			missing = append(missing, rows[i].ID)
		}
	}
	if len(missing) == 0 {
		return nil
	}
	fresh, err := st.Sums(ctx, missing)
	if err != nil {
		return err
	}
	for i := range fresh {
		h, err := fresh[i].Sum()
		if err != nil {
			return err
		}
		s.kept.Add(sumKey{fresh[i].ID, fresh[i].Seq}, h)
	}
	return nil
}

// of is what a night counts for; one that has gone on meanwhile, or was dropped for room, is read by itself.
func (s sums) of(ctx context.Context, st *store.Store, n *store.Night) (night.Held, error) {
	if h, ok := s.kept.Get(sumKey{n.ID, n.Seq}); ok {
		return h, nil
	}
	fresh, err := st.Sums(ctx, []uuid.UUID{n.ID})
	if err != nil || len(fresh) == 0 {
		return night.Held{}, err
	}
	return fresh[0].Sum()
}

func (a *api) importNight(ctx context.Context, in *struct{ Body Night }) (*struct {
	Body struct {
		Added bool      `json:"added" doc:"False when it was there already"`
		ID    uuid.UUID `json:"id"`
	}
}, error) {
	e := &in.Body
	if e.Format != NightFile {
		return nil, huma.NewError(http.StatusUnprocessableEntity, fmt.Sprintf("format %q: this version reads %q",
			e.Format, NightFile))
	}
	if e.Sheet == nil {
		return nil, huma.NewError(http.StatusUnprocessableEntity, "sheet: the show has no run sheet")
	}
	n := store.Night{ID: e.ID, RigID: e.RigID, Revision: e.Revision, Name: e.Name, AirAt: e.AirAt.UTC(),
		People: e.People, CreatedAt: time.Now().UTC()}
	get, cancel := limited(ctx)
	defer cancel()
	own, err := a.ownWords(get, &n)
	if err != nil {
		return nil, err
	}
	w := store.WholeNight{Night: n, Ops: e.Ops}
	if p, _ := archive.CheckNight(&w, e.Sheet, own); p != "" {
		return nil, huma.NewError(http.StatusUnprocessableEntity, p+". Nothing of it was kept.")
	}
	n = w.Night
	if n.Sheet, err = wire.Marshal(e.Sheet); err != nil {
		return nil, failed(err)
	}
	added, err := a.store.PutNight(get, n, e.Ops)
	if err != nil {
		return nil, failed(err)
	}
	out := &struct {
		Body struct {
			Added bool      `json:"added" doc:"False when it was there already"`
			ID    uuid.UUID `json:"id"`
		}
	}{}
	out.Body.Added, out.Body.ID = added, n.ID
	return out, nil
}

func (a *api) nightFile(ctx context.Context, in *struct {
	ID uuid.UUID `path:"id"`
	As string    `query:"as" enum:"json,incidents,figures" default:"json"`
}) (*huma.StreamResponse, error) {
	get, cancel := limited(ctx)
	defer cancel()
	n, err := a.store.Night(get, in.ID)
	if err != nil {
		return nil, failed(err)
	}
	e, err := a.nightOf(ctx, n)
	if err != nil {
		return nil, err
	}
	name := "show-" + n.AirAt.Format(time.DateOnly)
	var b bytes.Buffer
	if in.As == "json" {
		if e.Ops, err = a.store.Ops(get, n.ID, 0); err != nil {
			return nil, failed(err)
		}
		if err := wire.WriteIndented(&b, e); err != nil {
			return nil, failed(err)
		}
		return download("application/json", name+".json", b.Bytes()), nil
	}
	w := csv.NewWriter(&b)
	rows := [][]string{{"at", "loss", "part", "hop", "what", "cause", "cure", "minutes lost", "next"}}
	if in.As == "figures" {
		rows = [][]string{{"at", "what", "of", "value", "unit"}}
	}
	at := func(ms int64) string { return time.UnixMilli(ms).UTC().Format(time.RFC3339) }
	if in.As == "figures" {
		for _, k := range e.Standing.Figures {
			f := k.Op.Figure
			rows = append(rows, []string{at(k.Op.At), f.What, f.Of, strconv.FormatFloat(f.Value, 'g', -1, 64), f.Unit})
		}
	} else {
		for _, k := range e.Standing.Incidents {
			f := k.Op.Incident
			rows = append(rows, []string{at(k.Op.At), f.Loss, f.Part, f.Hop, f.What, f.Cause, f.Cure,
				strconv.FormatFloat(f.MinutesLost, 'g', -1, 64), f.Next})
		}
	}
	for _, row := range rows {
		for i := range row {
			row[i] = rigfile.Harmless(row[i])
		}
		if err := w.Write(row); err != nil {
			return nil, failed(err)
		}
	}
	w.Flush()
	return download("text/csv; charset=utf-8", name+"-"+in.As+".csv", b.Bytes()), nil
}

func (a *api) readTable(ctx context.Context, in *struct {
	ID   uuid.UUID `path:"id"`
	Body struct {
		Text string `json:"text" maxLength:"2000000"`
	}
}) (*struct{ Body readers.Table }, error) {
	get, cancel := limited(ctx)
	defer cancel()
	n, err := a.store.Night(get, in.ID)
	if err != nil {
		return nil, failed(err)
	}
	t, err := readers.ReadTable([]byte(in.Body.Text), n.AirAt.In(time.Local))
	if err != nil {
		return nil, huma.NewError(http.StatusUnprocessableEntity, err.Error())
	}
	return &struct{ Body readers.Table }{*t}, nil
}

// watch tells when something was added, until the one who watches leaves.
func (a *api) watch(ctx context.Context, in *nightIn, send sse.Sender) {
	told, leave := a.watchers.join(in.ID)
	defer leave()
	n, err := a.store.Night(ctx, in.ID)
	if err != nil || send.Data(Added{n.Seq}) != nil {
		return
	}
	still := time.NewTicker(20 * time.Second)
	defer still.Stop()
	for {
		select {
		case seq := <-told:
			err = send.Data(Added{seq})
		case <-still.C: // whoever went away without a word is noticed
			err = send.Data(Added{n.Seq})
		case <-a.closing:
			return
		case <-ctx.Done():
			return
		}
		if err != nil {
			return
		}
	}
}
