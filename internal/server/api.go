package server

import (
	"context"
	"encoding/json"
	"fmt"
	"io/fs"
	"log/slog"
	"net/http"
	"os/user"
	"reflect"
	"strings"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"eventether/core/advise"
	"eventether/core/bench"
	"eventether/core/judge"
	"eventether/core/rig"
	"eventether/core/rigtext"
	"eventether/core/view"
	"eventether/internal/demo"
	"eventether/internal/devices"
	"eventether/internal/jobs"
	"eventether/internal/readers"
	"eventether/internal/rigfile"
	"eventether/internal/store"
)

type api struct {
	store     *store.Store
	heavy     *heavy
	verdicts  verdicts
	watchers  *watchers
	events    rigEvents
	door      *door
	sums      sums
	folded    *folded
	restoring *restoring
	closing   <-chan struct{}
	logger    *slog.Logger

	jobs       func() (*jobs.Queue, error)
	clips      string // folder clips wait in
	rehearsals *rehearsing
	rest       *sync.WaitGroup
	devices    *devices.Bench
	sys        fs.FS // how this system describes itself, laid out like /sys
	own        func() *readers.Machine
}

// Doc is a rig document in a request; it is read by rigfile, which names every problem by place.
type Doc struct{ raw json.RawMessage }

// UnmarshalJSON keeps the document as it came.
func (d *Doc) UnmarshalJSON(b []byte) error { d.raw = append(d.raw[:0], b...); return nil }

// Schema is the rig's.
func (Doc) Schema(r huma.Registry) *huma.Schema {
	return r.Schema(reflect.TypeFor[rig.Rig](), true, "Rig")
}

// Edits are edits in a request, read by rigfile.
type Edits struct{ raw json.RawMessage }

// UnmarshalJSON keeps the edits as they came.
func (e *Edits) UnmarshalJSON(b []byte) error { e.raw = append(e.raw[:0], b...); return nil }

// Schema is that of a list of edits.
func (Edits) Schema(r huma.Registry) *huma.Schema {
	return r.Schema(reflect.TypeFor[[]rig.Edit](), true, "Edits")
}

// Listed is a rig in the list.
type Listed struct {
	ID        uuid.UUID  `json:"id"`
	Name      string     `json:"name"`
	State     string     `json:"state" enum:"slack,taut,kinked,untested,snapped"`
	Feeds     int        `json:"feeds"`
	Revision  int        `json:"revision"`
	UpdatedAt time.Time  `json:"updatedAt"`
	DeletedAt *time.Time `json:"deletedAt,omitempty"`
	Frozen    bool       `json:"frozen" doc:"For a past show: stays as it was"`
}

// Board is everything the board of one rig shows.
type Board struct {
	Listed
	Rig     *rig.Rig `json:"rig"`
	Verdict Told     `json:"verdict"`
	Newest  bool     `json:"newest" doc:"False for the rig as it was"`
	Undo    bool     `json:"undo" doc:"There is something to undo"`
	Redo    bool     `json:"redo" doc:"There is something to redo"`
	Undoes  string   `json:"undoes,omitempty" doc:"The change an undo takes back"`
	Redoes  string   `json:"redoes,omitempty" doc:"The change a redo makes again"`
	Changed string   `json:"changed" doc:"What the revision changed, in words"`
	Gaps    []string `json:"gaps" doc:"What the show does not say yet, the most deciding first"`
}

// Past is one revision in a rig's history.
type Past struct {
	Number int       `json:"number"`
	Kind   string    `json:"kind" enum:"create,edit,undo,redo"`
	What   string    `json:"what"`
	Who    string    `json:"who"`
	At     time.Time `json:"at"`
	State  string    `json:"state" enum:"slack,taut,kinked,untested,snapped"`
}

type (
	boardOut struct{ Body Board }
	idIn     struct {
		ID uuid.UUID `path:"id"`
	}
	fromIn struct {
		ID   uuid.UUID `path:"id"`
		Body struct {
			From int `json:"from" minimum:"1" maximum:"2147483647" doc:"The revision on screen"`
		}
	}
)

func (a *api) register(h huma.API) {
	op := func(method, path, id, summary string) huma.Operation {
		return huma.Operation{Method: method, Path: path, OperationID: id, Summary: summary, MaxBodyBytes: maxBody}
	}
	raw := func(o huma.Operation) huma.Operation { o.SkipValidateBody = true; return o }
	huma.Register(h, op("GET", "/api/rigs", "listRigs", "The rigs"), a.list)
	huma.Register(h, raw(op("POST", "/api/rigs", "importRig", "Keep a rig file as a new rig")), a.create)
	huma.Register(h, op("POST", "/api/start", "startRig", "A new rig from three answers"), a.start)
	huma.Register(h, op("POST", "/api/demo", "layOutDemo",
		"Lay the demo rigs out, once: what was deleted or changed since stays so"), a.demo)
	huma.Register(h, op("GET", "/api/rigs/{id}", "getBoard", "A rig with its verdict"), a.board)
	huma.Register(h, op("GET", "/api/rigs/{id}/advice", "getAdvice",
		"The verdict on a rig with all advice: what the board leaves for later on a large rig"), a.advice)
	huma.Register(h, op("DELETE", "/api/rigs/{id}", "deleteRig", "Hide a rig"), a.remove)
	huma.Register(h, op("POST", "/api/rigs/{id}/restore", "restoreRig", "Bring a deleted rig back"), a.restore)
	huma.Register(h, op("POST", "/api/rigs/{id}/copy", "copyRig", "A copy as a new rig"), a.copy)
	huma.Register(h, raw(op("POST", "/api/rigs/{id}/edits", "editRig", "Change a rig and keep the change")), a.edit)
	huma.Register(h, op("POST", "/api/rigs/{id}/undo", "undoRig", "One step back"), a.undo)
	huma.Register(h, op("POST", "/api/rigs/{id}/redo", "redoRig", "One step forth"), a.redo)
	huma.Register(h, op("POST", "/api/rigs/{id}/back", "goBackTo",
		"The rig as it was once, as a new state: nothing between is deleted"), a.back)
	huma.Register(h, op("GET", "/api/rigs/{id}/history", "rigHistory", "Every revision, the newest first"), a.history)
	huma.Register(h, op("GET", "/api/rigs/{id}/file", "exportRig", "The rig as a file"), a.file)
	huma.Register(h, raw(op("POST", "/api/judge", "judgeRig", "The verdict on a rig that is not kept")), a.judge)
	huma.Register(h, raw(op("POST", "/api/try", "tryEdits", "What edits would do, without keeping them")), a.try)
	// A whole rig file is taken as it comes, so that even one that is no JSON is answered in our words.
	doc := &huma.RequestBody{Required: true,
		Content: map[string]*huma.MediaType{"application/json": {Schema: Doc{}.Schema(h.OpenAPI().Components.Schemas)}}}
	h.OpenAPI().Paths["/api/rigs"].Post.RequestBody = doc
	h.OpenAPI().Paths["/api/judge"].Post.RequestBody = doc
	huma.Register(h, raw(op("POST", "/api/agree", "agreeOn", "What the two ends of a lead can agree on")), a.agree)
	huma.Register(h,
		raw(op("POST", "/api/ways", "compareWays",
			"A camera by its own USB or through a capture device, side by side")), a.ways)
	a.registerShelf(h, op, raw)
	a.registerBench(h, op, raw)
	a.registerTables(h, op)
	a.registerLooking(h, op)
	a.registerInspecting(h, op)
	a.registerRehearsing(h, op)
	a.registerDevices(h, op)
	a.registerLine(h, op)
	a.registerPorts(h, op, raw)
	a.registerSend(h, op, raw)
	a.registerNights(h, op, raw)
	a.registerDoor(h, op)
	a.registerSound(h, op, raw)
	a.registerEvents(h, op)
	a.registerCosts(h, op)
	huma.Register(h,
		raw(op("POST", "/api/moves", "listMoves", "Everything that can be done to one item or lead, judged")), a.moves)
}

// who is the person at this computer.
var who = func() string {
	if u, err := user.Current(); err == nil && u.Username != "" {
		return u.Username
	}
	return "someone"
}()

func limited(ctx context.Context) (context.Context, context.CancelFunc) {
	return context.WithTimeout(ctx, databaseTimeout)
}

func listed(r store.Rig) Listed {
	return Listed{ID: r.ID, Name: r.Name, State: r.State, Feeds: r.Feeds, Revision: r.Head, UpdatedAt: r.UpdatedAt,
		DeletedAt: r.DeletedAt, Frozen: r.Frozen}
}

// boardOf is what is known of a rig without asking the database more.
func boardOf(row store.Rig, rev store.Revision, r *rig.Rig, v Told) *boardOut {
	b := Board{Listed: listed(row), Rig: r, Verdict: v, Newest: rev.Number == row.Head, Changed: rev.What,
		Gaps: rig.Gaps(r)}
	b.Revision, b.State, b.Name = rev.Number, v.State.String(), r.Name
	return &boardOut{b}
}

// toBoard tells about a rig with the steps that can be taken back and forth.
func (a *api) toBoard(ctx context.Context, row store.Rig, rev store.Revision, r *rig.Rig, v Told) (*boardOut, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	steps, err := a.store.Steps(ctx, row.ID)
	if err != nil {
		return nil, failed(err)
	}
	out := boardOf(row, rev, r, v)
	out.Body.Undo, out.Body.Redo, out.Body.Undoes, out.Body.Redoes = steps.Undo > 0, steps.Redo > 0, steps.Undoes,
		steps.Redoes
	return out, nil
}

// shown reads a revision, judges it and tells about it.
func (a *api) shown(ctx context.Context, row store.Rig, rev store.Revision) (*boardOut, error) {
	v, err := a.verdicts.revision(&rev)
	if err != nil {
		return nil, err
	}
	t, err := a.soonest(ctx, v)
	if err != nil {
		return nil, err
	}
	return a.toBoard(ctx, row, rev, v.Given, t)
}

func (a *api) list(ctx context.Context, in *struct {
	Deleted bool `query:"deleted"`
}) (*struct{ Body []Listed }, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	rows, err := a.store.List(ctx, in.Deleted)
	if err != nil {
		return nil, failed(err)
	}
	out := &struct{ Body []Listed }{Body: make([]Listed, len(rows))}
	for i, r := range rows {
		out.Body[i] = listed(r)
	}
	return out, nil
}

func (a *api) keep(ctx context.Context, v *known, what string) (*boardOut, error) {
	t, err := a.soonest(ctx, v)
	if err != nil {
		return nil, err
	}
	keep, cancel := limited(ctx)
	defer cancel()
	row, rev, err := a.store.Create(keep, v.Verdict, who, what)
	if err != nil {
		return nil, failed(err)
	}
	return a.kept(ctx, row, rev, v.Given, t)
}

// kept answers a change that is in the database by now: whatever reading more of it meets, the answer is that it was
// kept.
func (a *api) kept(ctx context.Context, row store.Rig, rev store.Revision, r *rig.Rig, v Told) (*boardOut, error) {
	a.events.tell(row.ID, rev.Number)
	ctx, cancel := limited(context.WithoutCancel(ctx))
	defer cancel()
	out, err := a.toBoard(ctx, row, rev, r, v)
	if err != nil { // how many steps there are to undo is asked again with the next board
		out, err = boardOf(row, rev, r, v), nil
		out.Body.Undo = rev.Number > 1
	}
	return out, err
}

func (a *api) create(ctx context.Context, in *struct{ RawBody []byte }) (*boardOut, error) {
	defer a.heavy.waited()()
	v, err := a.verdicts.read(in.RawBody)
	if err != nil {
		return nil, err
	}
	return a.keep(ctx, v, "Imported from a file")
}

func (a *api) start(ctx context.Context, in *struct{ Body bench.Answers }) (*boardOut, error) {
	defer a.heavy.waited()()
	shelf, err := a.stock(ctx)
	if err != nil {
		return nil, err
	}
	var this *bench.Machine
	if in.Body.Computer == bench.Here {
		if this, err = a.machine(ctx, shelf); err != nil {
			return nil, err
		}
	}
	r, err := bench.Begin(in.Body, shelf, this)
	if err != nil {
		return nil, huma.NewError(http.StatusUnprocessableEntity, err.Error())
	}
	return a.keep(ctx, knownOf(r), "Started from three answers")
}

func (a *api) demo(ctx context.Context, _ *struct{}) (*struct{ Body []Listed }, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	if err := demo.Load(ctx, a.store); err != nil {
		return nil, failed(err)
	}
	return a.list(ctx, &struct {
		Deleted bool `query:"deleted"`
	}{})
}

func (a *api) board(ctx context.Context, in *struct {
	ID       uuid.UUID `path:"id"`
	Revision int       `query:"revision" minimum:"0" maximum:"2147483647"`
}) (*boardOut, error) {
	get, cancel := limited(ctx)
	defer cancel()
	row, rev, err := a.store.Get(get, in.ID, in.Revision)
	if err != nil {
		return nil, failed(err)
	}
	return a.shown(ctx, row, rev)
}

func (a *api) advice(ctx context.Context, in *struct {
	ID       uuid.UUID `path:"id"`
	Revision int       `query:"revision" minimum:"0" maximum:"2147483647"`
}) (*struct{ Body Told }, error) {
	get, cancel := limited(ctx)
	defer cancel()
	_, rev, err := a.store.Get(get, in.ID, in.Revision)
	if err != nil {
		return nil, failed(err)
	}
	v, err := a.verdicts.revision(&rev)
	if err != nil {
		return nil, err
	}
	full, err := a.whole(ctx, v)
	if err != nil {
		return nil, err
	}
	out, err := told(*full)
	return &struct{ Body Told }{out}, err
}

func (a *api) remove(ctx context.Context, in *idIn) (*struct{}, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	return nil, failed(a.store.Delete(ctx, in.ID))
}

func (a *api) restore(ctx context.Context, in *idIn) (*struct{}, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	return nil, failed(a.store.Restore(ctx, in.ID))
}

func (a *api) copy(ctx context.Context, in *idIn) (*boardOut, error) {
	get, cancel := limited(ctx)
	defer cancel()
	_, rev, err := a.store.Get(get, in.ID, 0)
	if err != nil {
		return nil, failed(err)
	}
	r, err := rev.Rig()
	if err != nil {
		return nil, failed(err)
	}
	from := r.Name
	r.Name = copyName(from)
	return a.keep(ctx, knownOf(r), "Copied from "+from)
}

// copyName is "NAME, copy", shortened so that it stays a name a rig may have.
func copyName(name string) string {
	const suffix, longest = ", copy", 120
	runes := []rune(name)
	if len(runes) > longest-len(suffix) {
		runes = runes[:longest-len(suffix)]
	}
	return string(runes) + suffix
}

func (a *api) edit(ctx context.Context, in *struct {
	ID   uuid.UUID `path:"id"`
	Body struct {
		From  int    `json:"from" doc:"The revision on screen"`
		Edits Edits  `json:"edits"`
		What  string `json:"what" doc:"What changes, in words" maxLength:"500"`
	}
}) (*boardOut, error) {
	defer a.heavy.waited()()
	if err := sound("what", in.Body.What); err != nil {
		return nil, err
	}
	edits, err := rigfile.ReadEdits(in.Body.Edits.raw)
	if err != nil {
		return nil, failed(err)
	}
	get, cancel := limited(ctx)
	defer cancel()
	_, rev, err := a.store.Get(get, in.ID, max(in.Body.From, 1))
	if err != nil {
		return nil, failed(err)
	}
	// Whether it is still the newest is asked where it is saved: a change that was kept already is answered as such.
	before, err := a.verdicts.revision(&rev)
	if err != nil {
		return nil, err
	}
	after, err := rigfile.Change(before.Given, edits)
	if err != nil {
		return nil, failed(err)
	}
	v := knownOf(after)
	what := strings.TrimSpace(in.Body.What)
	if what == "" {
		what = "Changed the rig"
	}
	t, err := a.soonest(ctx, v)
	if err != nil {
		return nil, err
	}
	save, cancel := limited(ctx)
	defer cancel()
	row, rev, err := a.store.Save(save, in.ID, in.Body.From, v.Verdict, who, what)
	if err != nil {
		return nil, failed(err)
	}
	return a.kept(ctx, row, rev, after, t)
}

func (a *api) undo(ctx context.Context, in *fromIn) (*boardOut, error) {
	return a.step(ctx, in, a.store.Undo)
}

func (a *api) redo(ctx context.Context, in *fromIn) (*boardOut, error) {
	return a.step(ctx, in, a.store.Redo)
}

func (a *api) step(ctx context.Context, in *fromIn, step func(context.Context, uuid.UUID, int, string) (store.Rig,
	store.Revision, error)) (*boardOut, error) {
	defer a.heavy.waited()()
	save, cancel := limited(ctx)
	defer cancel()
	row, rev, err := step(save, in.ID, in.Body.From, who)
	if err != nil {
		return nil, failed(err)
	}
	a.events.tell(row.ID, rev.Number)
	return a.shown(context.WithoutCancel(ctx), row, rev) // an older document: it could be told before
}

func (a *api) back(ctx context.Context, in *struct {
	ID   uuid.UUID `path:"id"`
	Body struct {
		From int `json:"from" minimum:"1" maximum:"2147483647" doc:"The revision on screen"`
		To   int `json:"to" minimum:"1" maximum:"2147483647" doc:"The revision it shall be as again"`
	}
}) (*boardOut, error) {
	get, cancel := limited(ctx)
	defer cancel()
	_, was, err := a.store.Get(get, in.ID, in.Body.To)
	if err != nil {
		return nil, failed(err)
	}
	v, err := a.verdicts.revision(&was)
	if err != nil {
		return nil, err
	}
	t, err := a.soonest(ctx, v)
	if err != nil {
		return nil, err
	}
	save, cancel := limited(ctx)
	defer cancel()
	row, rev, err := a.store.Save(save, in.ID, in.Body.From, v.Verdict, who, fmt.Sprintf("Back to revision %d: %s",
		was.Number, was.What))
	if err != nil {
		return nil, failed(err)
	}
	return a.kept(ctx, row, rev, v.Given, t)
}

func (a *api) history(ctx context.Context, in *idIn) (*struct{ Body []Past }, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	revs, err := a.store.History(ctx, in.ID)
	if err != nil {
		return nil, failed(err)
	}
	out := &struct{ Body []Past }{Body: make([]Past, len(revs))}
	for i, r := range revs {
		out.Body[i] = Past{Number: r.Number, Kind: r.Kind, What: r.What, Who: r.Who, At: r.At, State: r.State}
	}
	return out, nil
}

// handedOut is a file as it is handed out.
type handedOut struct {
	ContentType        string `header:"Content-Type"`
	ContentDisposition string `header:"Content-Disposition"`
	Body               []byte
}

func (a *api) file(ctx context.Context, in *struct {
	ID       uuid.UUID `path:"id"`
	Revision int       `query:"revision" minimum:"0" maximum:"2147483647"`
	As       string    `query:"as" enum:"json,text" default:"json"`
}) (*handedOut, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	_, rev, err := a.store.Get(ctx, in.ID, in.Revision)
	if err != nil {
		return nil, failed(err)
	}
	r, err := rev.Rig()
	if err != nil {
		return nil, failed(err)
	}
	if in.As == "text" {
		name := strings.TrimSuffix(fileName(r.Name), ".json") + ".txt"
		return &handedOut{"text/plain; charset=utf-8", `attachment; filename="` + name + `"`,
			[]byte(rigtext.Write(r))}, nil
	}
	data, err := rigfile.Write(r)
	if err != nil {
		return nil, err
	}
	out := &handedOut{"application/json", `attachment; filename="` + fileName(r.Name) + `"`, data}
	return out, nil
}

// fileName keeps letters, digits and hyphens of a name.
func fileName(name string) string {
	safe := strings.Map(func(c rune) rune {
		switch {
		case c >= 'a' && c <= 'z', c >= '0' && c <= '9':
			return c
		case c == ' ' || c == '-' || c == ',':
			return '-'
		}
		return -1
	}, strings.ToLower(name))
	safe = strings.Trim(strings.ReplaceAll(safe, "--", "-"), "-")
	if safe == "" {
		safe = "rig"
	}
	return safe + ".rig.json"
}

func (a *api) judge(ctx context.Context, in *struct {
	Plain   bool `query:"plain" doc:"Only the pass itself, without fixes, cure and questions"`
	RawBody []byte
}) (*struct{ Body view.Verdict }, error) {
	v, err := a.verdicts.read(in.RawBody)
	if err != nil {
		return nil, err
	}
	if in.Plain {
		return &struct{ Body view.Verdict }{view.Of(v.Verdict, nil)}, nil
	}
	out, err := a.whole(ctx, v)
	if err != nil {
		return nil, err
	}
	return &struct{ Body view.Verdict }{*out}, nil
}

// Ghost is a rig as it would be after edits.
type Ghost struct {
	Rig     *rig.Rig       `json:"rig"`
	Verdict view.Verdict   `json:"verdict"`
	Judged  *advise.Judged `json:"judged" doc:"Against the rig before"`
}

func (a *api) try(ctx context.Context, in *struct {
	Body struct {
		Rig   Doc   `json:"rig"`
		Edits Edits `json:"edits"`
		All   bool  `json:"all,omitempty" doc:"With all the advice, which takes longer; else with the cure alone, without what eases each finding (verdict.advice.complete says whether that is all)"`
	}
}) (*struct{ Body Ghost }, error) {
	before, err := a.verdicts.read(in.Body.Rig.raw)
	if err != nil {
		return nil, err
	}
	edits, err := rigfile.ReadEdits(in.Body.Edits.raw)
	if err != nil {
		return nil, failed(err)
	}
	changed, err := rigfile.Change(before.Given, edits)
	if err != nil {
		return nil, failed(err)
	}
	after := judge.Rig(changed)
	var v view.Verdict
	turn, advice, effort := a.heavy.short, advise.Mend, soon
	if in.Body.All {
		turn, advice, effort = a.heavy.long, advise.On, advise.Effort
	}
	err = turn(ctx, func(ctx context.Context) { v = view.Of(after, advice(ctx, after, effort)) })
	if err != nil {
		return nil, failed(err)
	}
	return &struct{ Body Ghost }{Ghost{changed, v, advise.Told(before.Verdict, after)}}, err
}

func (a *api) moves(ctx context.Context, in *aboutIn) (*struct{ Body []advise.Move }, error) {
	v, err := a.verdicts.read(in.Body.Rig.raw)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body []advise.Move }{}
	err = a.heavy.long(ctx, func(ctx context.Context) { out.Body = advise.JudgeOn(ctx, v.Verdict, in.Body.Of) })
	return out, failed(err)
}
