package server

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"eventether/core/edid"
	"eventether/core/gear"
	"eventether/core/rig"
	"eventether/internal/readers"
	"eventether/internal/rigfile"
	"eventether/internal/store"
)

// Shelved is an entry of the shelf as it is listed.
type Shelved struct {
	Entry     gear.Entry `json:"entry"`
	Revision  int        `json:"revision"`
	UpdatedAt time.Time  `json:"updatedAt"`
	What      string     `json:"what" doc:"What its newest state changed, in words"`
	Uses      []UseOf    `json:"uses" doc:"Items of rigs that were copied from it"`
}

// UseOf is one item of a rig that was copied from a shelf entry.
type UseOf struct {
	Rig      uuid.UUID `json:"rig"`
	Name     string    `json:"name"`
	Item     string    `json:"item"`
	Label    string    `json:"label"`
	Revision int       `json:"revision" doc:"The state it was copied from"`
	Frozen   bool      `json:"frozen"`
}

// Newer is a spec sheet the shelf knows better than a rig does.
type Newer struct {
	Item    string        `json:"item"`
	Label   string        `json:"label"`
	Entry   string        `json:"entry"`
	From    int           `json:"from"`
	To      int           `json:"to"`
	Changes []gear.Change `json:"changes"`
	Edits   []rig.Edit    `json:"edits" doc:"Take it: one edit"`
}

// EntryDoc is a shelf entry in a request, read by rigfile.
type EntryDoc struct{ raw json.RawMessage }

// UnmarshalJSON keeps the entry as it came.
func (d *EntryDoc) UnmarshalJSON(b []byte) error { d.raw = append(d.raw[:0], b...); return nil }

// Schema is that of an entry.
func (EntryDoc) Schema(r huma.Registry) *huma.Schema {
	return r.Schema(typeOf[gear.Entry](), true, "Entry")
}

// GearDoc is a spec sheet in a request, read by rigfile as part of an entry.
type GearDoc struct{ raw json.RawMessage }

// UnmarshalJSON keeps the sheet as it came.
func (d *GearDoc) UnmarshalJSON(b []byte) error { d.raw = append(d.raw[:0], b...); return nil }

// Schema is that of a sheet.
func (GearDoc) Schema(r huma.Registry) *huma.Schema {
	return r.Schema(typeOf[gear.Gear](), true, "Gear")
}

// read gives the sheet, or what is wrong with it.
func (d *GearDoc) read() (*gear.Gear, error) {
	e, err := rigfile.ReadEntry([]byte(fmt.Sprintf(`{"id":"sheet","owned":false,"gear":%s}`, d.raw)))
	if err != nil {
		return nil, err
	}
	return &e.Gear, nil
}

type shelvedOut struct{ Body Shelved }

func (a *api) registerShelf(h huma.API, op func(method, path, id, summary string) huma.Operation,
	raw func(huma.Operation) huma.Operation) {
	huma.Register(h, op("GET", "/api/shelf", "listShelf", "What is owned, or could be bought"), a.shelf)
	huma.Register(h, raw(op("POST", "/api/shelf", "putOnShelf", "Put one thing on the shelf")), a.putOnShelf)
	huma.Register(h, raw(op("PUT", "/api/shelf/{entry}", "saveOnShelf", "Change a thing on the shelf")), a.saveOnShelf)
	huma.Register(h, op("DELETE", "/api/shelf/{entry}", "takeOffShelf", "Hide a thing"), a.takeOffShelf)
	huma.Register(h, op("POST", "/api/shelf/{entry}/restore", "backOnShelf", "Bring a hidden thing back"),
		a.backOnShelf)
	huma.Register(h, op("POST", "/api/shelf/{entry}/copy", "copyOnShelf", "A copy as a new thing"), a.copyOnShelf)
	huma.Register(h, op("GET", "/api/shelf/{entry}/history", "shelfHistory",
		"Every state of a thing on the shelf, the newest first"), a.shelfHistory)
	huma.Register(h, op("POST", "/api/shelf/{entry}/back", "backToSheet",
		"A thing as it was once, as a new state: nothing between is deleted"), a.backToSheet)
	huma.Register(h, op("GET", "/api/shelf-file", "exportShelf", "The shelf as a file, JSON or CSV"), a.shelfFile)
	huma.Register(h, op("POST", "/api/shelf-file", "importShelf", "Put every entry of a file on the shelf"),
		a.importShelf)
	huma.Register(h, op("GET", "/api/rigs/{id}/newer", "newerSheets", "Sheets the shelf knows better than the rig"),
		a.newer)
	huma.Register(h, op("POST", "/api/rigs/{id}/freeze", "freezeRig",
		"Keep a rig as it is, for a past show, or let it change again"), a.freeze)
	huma.Register(h,
		raw(op("POST", "/api/edid", "readEDID", "What an EDID says, and what a sheet would become by it")), a.readEDID)
	huma.Register(h,
		raw(op("POST", "/api/formats", "readFormats",
			"What a listing of formats says, and what a sheet would become by it")), a.readFormats)
}

func (a *api) shelved(row store.ShelfRow, rev store.ShelfRevision, uses []store.Use) (Shelved, error) {
	e, err := rev.Entry()
	if err != nil {
		return Shelved{}, err
	}
	s := Shelved{Entry: *e, Revision: rev.Number, UpdatedAt: row.UpdatedAt, What: rev.What, Uses: []UseOf{}}
	for _, u := range uses {
		if u.Entry == row.ID {
			s.Uses = append(s.Uses, UseOf{Rig: u.RigID, Name: u.RigName, Item: u.Item, Label: u.Label,
				Revision: u.Revision, Frozen: u.Frozen})
		}
	}
	return s, nil
}

func (a *api) shelf(ctx context.Context, in *struct {
	Deleted bool `query:"deleted"`
}) (*struct{ Body []Shelved }, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	var rows []store.ShelfRow
	var revs []store.ShelfRevision
	var uses []store.Use
	err := a.store.Snapshot(ctx, func(s *store.Store) (err error) {
		if rows, revs, err = s.Shelf(ctx, in.Deleted); err == nil {
			uses, err = s.Uses(ctx)
		}
		return err
	})
	if err != nil {
		return nil, failed(err)
	}
	out := &struct{ Body []Shelved }{Body: make([]Shelved, len(rows))}
	for i := range rows {
		if out.Body[i], err = a.shelved(rows[i], revs[i], uses); err != nil {
			return nil, err
		}
	}
	return out, nil
}

func (a *api) onShelf(ctx context.Context, row store.ShelfRow, rev store.ShelfRevision, err error) (*shelvedOut,
	error) {
	if err != nil {
		return nil, failed(err)
	}
	// It is kept by now: where it is used is told if the database still answers, and the answer is given either way.
	ctx, cancel := limited(context.WithoutCancel(ctx))
	defer cancel()
	uses, err := a.store.Uses(ctx)
	if err != nil {
		uses = nil
	}
	s, err := a.shelved(row, rev, uses)
	if err != nil {
		return nil, failed(err)
	}
	return &shelvedOut{s}, nil
}

func (a *api) putOnShelf(ctx context.Context, in *struct {
	Body struct {
		Entry EntryDoc `json:"entry"`
		What  string   `json:"what,omitempty" maxLength:"500"`
	}
}) (*shelvedOut, error) {
	if err := sound("what", in.Body.What); err != nil {
		return nil, err
	}
	e, err := rigfile.ReadEntry(in.Body.Entry.raw)
	if err != nil {
		return nil, failed(err)
	}
	ctx, cancel := limited(ctx)
	defer cancel()
	row, rev, err := a.store.PutOnShelf(ctx, *e, who, orText(in.Body.What, "Put on the shelf"))
	return a.onShelf(ctx, row, rev, err)
}

func orText(s, other string) string {
	if s = strings.TrimSpace(s); s == "" {
		return other
	}
	return s
}

func (a *api) saveOnShelf(ctx context.Context, in *struct {
	Entry string `path:"entry"`
	Body  struct {
		From  int      `json:"from" doc:"The state on screen"`
		Entry EntryDoc `json:"entry"`
		What  string   `json:"what,omitempty" maxLength:"500"`
	}
}) (*shelvedOut, error) {
	if err := sound("what", in.Body.What); err != nil {
		return nil, err
	}
	e, err := rigfile.ReadEntry(in.Body.Entry.raw)
	if err != nil {
		return nil, failed(err)
	}
	if e.ID != in.Entry {
		return nil, huma.NewError(http.StatusUnprocessableEntity,
			fmt.Sprintf("the entry calls itself %q and is kept as %q: an id does not change", e.ID, in.Entry))
	}
	ctx, cancel := limited(ctx)
	defer cancel()
	row, rev, err := a.store.SaveOnShelf(ctx, *e, in.Body.From, who, orText(in.Body.What, "Changed"))
	return a.onShelf(ctx, row, rev, err)
}

// PastSheet is one state of a thing on the shelf.
type PastSheet struct {
	Number int       `json:"number"`
	What   string    `json:"what"`
	Who    string    `json:"who"`
	At     time.Time `json:"at"`
}

func (a *api) shelfHistory(ctx context.Context, in *entryIn) (*struct{ Body []PastSheet }, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	revs, err := a.store.ShelfHistory(ctx, in.Entry)
	if err != nil {
		return nil, failed(err)
	}
	out := &struct{ Body []PastSheet }{Body: make([]PastSheet, len(revs))}
	for i, r := range revs {
		out.Body[i] = PastSheet{r.Number, r.What, r.Who, r.At}
	}
	return out, nil
}

// backToSheet makes a thing as it was once, as a new state.
func (a *api) backToSheet(ctx context.Context, in *struct {
	Entry string `path:"entry"`
	Body  struct {
		From int `json:"from" doc:"The state on screen"`
		To   int `json:"to" minimum:"1" doc:"The state it becomes as"`
	}
}) (*shelvedOut, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	_, was, err := a.store.ShelfEntry(ctx, in.Entry, in.Body.To)
	if err != nil {
		return nil, failed(err)
	}
	e, err := was.Entry()
	if err != nil {
		return nil, failed(err)
	}
	row, rev, err := a.store.SaveOnShelf(ctx, *e, in.Body.From, who, fmt.Sprintf("As in state %d", in.Body.To))
	return a.onShelf(ctx, row, rev, err)
}

type entryIn struct {
	Entry string `path:"entry"`
}

func (a *api) takeOffShelf(ctx context.Context, in *entryIn) (*struct{}, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	return nil, failed(a.store.TakeOffShelf(ctx, in.Entry))
}

func (a *api) backOnShelf(ctx context.Context, in *entryIn) (*struct{}, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	return nil, failed(a.store.BackOnShelf(ctx, in.Entry))
}

func (a *api) copyOnShelf(ctx context.Context, in *entryIn) (*shelvedOut, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	_, rev, err := a.store.ShelfEntry(ctx, in.Entry, 0)
	if err != nil {
		return nil, failed(err)
	}
	e, err := rev.Entry()
	if err != nil {
		return nil, failed(err)
	}
	from := e.Gear.Name
	e.Gear.Name = copyName(from)
	e.ID, e.Demo = gear.Slug(e.Gear.Name), false // the copy is one's own
	row, kept, err := a.store.PutOnShelf(ctx, *e, who, "Copied from "+from)
	return a.onShelf(ctx, row, kept, err)
}

func (a *api) shelfFile(ctx context.Context, in *struct {
	Format string   `query:"format" enum:"json,csv" default:"json"`
	Only   []string `query:"only" doc:"Ids; every entry when none is named"`
}) (*struct {
	ContentType        string `header:"Content-Type"`
	ContentDisposition string `header:"Content-Disposition"`
	Body               []byte
}, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	_, revs, err := a.store.Shelf(ctx, false)
	if err != nil {
		return nil, failed(err)
	}
	entries := []gear.Entry{}
	for i := range revs {
		if len(in.Only) > 0 && !slices.Contains(in.Only, revs[i].EntryID) {
			continue
		}
		e, err := revs[i].Entry()
		if err != nil {
			return nil, failed(err)
		}
		entries = append(entries, *e)
	}
	write, kind := rigfile.WriteShelf, "application/json"
	if in.Format == "csv" {
		write, kind = rigfile.WriteShelfCSV, "text/csv; charset=utf-8"
	}
	data, err := write(entries)
	if err != nil {
		return nil, err
	}
	return &struct {
		ContentType        string `header:"Content-Type"`
		ContentDisposition string `header:"Content-Disposition"`
		Body               []byte
	}{kind, `attachment; filename="shelf.` + in.Format + `"`, data}, nil
}

func (a *api) importShelf(ctx context.Context, in *struct {
	Body struct {
		Text string `json:"text" doc:"The file, JSON or CSV"`
	}
}) (*struct{ Body []Shelved }, error) {
	text := []byte(in.Body.Text)
	read := rigfile.ReadShelf
	if first := strings.TrimSpace(in.Body.Text); !strings.HasPrefix(first, "{") && !strings.HasPrefix(first, "[") {
		read = rigfile.ReadShelfCSV
	}
	entries, err := read(text)
	if err != nil {
		return nil, failed(err)
	}
	ctx, cancel := limited(ctx)
	defer cancel()
	out := &struct{ Body []Shelved }{Body: []Shelved{}}
	rows, revs, err := a.store.PutAllOnShelf(ctx, entries, who, "Imported from a file")
	if err != nil {
		return nil, failed(err)
	}
	for i := range rows {
		one, err := a.shelved(rows[i], revs[i], nil)
		if err != nil {
			return nil, failed(err)
		}
		out.Body = append(out.Body, one)
	}
	return out, nil
}

func (a *api) newer(ctx context.Context, in *idIn) (*struct{ Body []Newer }, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	row, rev, err := a.store.Get(ctx, in.ID, 0)
	if err != nil {
		return nil, failed(err)
	}
	out := &struct{ Body []Newer }{Body: []Newer{}}
	if row.Frozen {
		return out, nil // it stays as it was
	}
	r, err := rev.Rig()
	if err != nil {
		return nil, failed(err)
	}
	_, revs, err := a.store.Shelf(ctx, false)
	if err != nil {
		return nil, failed(err)
	}
	for i := range r.Items {
		it := &r.Items[i]
		if it.Shelf == nil {
			continue
		}
		at := slices.IndexFunc(revs, func(rev store.ShelfRevision) bool { return rev.EntryID == it.Shelf.ID })
		if at < 0 || revs[at].Number <= it.Shelf.Revision {
			continue
		}
		e, err := revs[at].Entry()
		if err != nil {
			return nil, failed(err)
		}
		n := Newer{Item: it.ID, Label: it.Label, Entry: e.ID, From: it.Shelf.Revision, To: revs[at].Number,
			Changes: gear.Changes(&it.Gear, &e.Gear),
			Edits: []rig.Edit{{Do: "take", Item: it.ID, Gear: &e.Gear, Shelf: &rig.ShelfRef{ID: e.ID,
				Revision: revs[at].Number}}}}
		out.Body = append(out.Body, n)
	}
	return out, nil
}

func (a *api) freeze(ctx context.Context, in *struct {
	ID   uuid.UUID `path:"id"`
	Body struct {
		Frozen bool `json:"frozen"`
	}
}) (*struct{}, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	return nil, failed(a.store.Freeze(ctx, in.ID, in.Body.Frozen))
}

// EDIDRead is a reading with what a port's list would become by it.
type EDIDRead struct {
	Name    string        `json:"name" doc:"Of the file"`
	Reading *edid.Reading `json:"reading"`
	Port    string        `json:"port,omitempty" doc:"The input it was read for"`
	Before  []string      `json:"before" doc:"Pictures the input took"`
	After   []string      `json:"after" doc:"Pictures it takes by the EDID"`
	Gear    *gear.Gear    `json:"gear,omitempty" doc:"The sheet with the new list"`
}

// EDIDFile is one file dropped on the shelf.
type EDIDFile struct {
	Name string `json:"name"`
	Data []byte `json:"data" doc:"The file, base64"`
}

func (a *api) readEDID(_ context.Context, in *struct {
	Body struct {
		Files []EDIDFile `json:"files" maxItems:"20"`
		Gear  *GearDoc   `json:"gear,omitempty" doc:"The sheet to refresh; its first picture input when port is not said"`
		Port  string     `json:"port,omitempty"`
		On    string     `json:"on,omitempty" doc:"Date of the reading"`
	}
}) (*struct{ Body []EDIDRead }, error) {
	var g *gear.Gear
	port := -1
	if in.Body.Gear != nil {
		read, err := in.Body.Gear.read()
		if err != nil {
			return nil, failed(err)
		}
		g = read
		port = slices.IndexFunc(g.Ports, func(p gear.Port) bool {
			return p.Direction == gear.In && (in.Body.Port == "" || in.Body.Port == p.ID)
		})
		if port < 0 {
			return nil, huma.NewError(http.StatusUnprocessableEntity,
				fmt.Sprintf("%s has no picture input %s to read an EDID for", g.Name, in.Body.Port))
		}
	}
	out := &struct{ Body []EDIDRead }{Body: []EDIDRead{}}
	for _, f := range in.Body.Files {
		r := edid.Decode(f.Data)
		one := EDIDRead{Name: f.Name, Reading: r, Before: []string{}, After: modeNames(gear.EDIDModes(r))}
		if g != nil {
			one.Port, one.Before = g.Ports[port].ID, modeNames(g.Ports[port].Modes)
			after := *g
			after.Ports = slices.Clone(g.Ports)
			after.Ports[port] = after.Ports[port].FromEDID(r, in.Body.On)
			one.Gear = &after
		}
		out.Body = append(out.Body, one)
	}
	return out, nil
}

// FormatsRead is a listing with what a sheet's delivered list would become by it.
type FormatsRead struct {
	Listing *readers.Listing `json:"listing"`
	Left    []string         `json:"left" doc:"Formats rigs do not know; they stay out of the sheet"`
	Before  []string         `json:"before"`
	After   []string         `json:"after"`
	Gear    *gear.Gear       `json:"gear,omitempty"`
}

func (a *api) readFormats(_ context.Context, in *struct {
	Body struct {
		Text string   `json:"text"`
		Gear *GearDoc `json:"gear,omitempty"`
	}
}) (*struct{ Body FormatsRead }, error) {
	l, err := readers.Formats([]byte(in.Body.Text))
	if err != nil {
		return nil, huma.NewError(http.StatusUnprocessableEntity, "This listing cannot be used: "+err.Error())
	}
	delivers, left := l.Delivers()
	if left == nil {
		left = []string{}
	}
	out := FormatsRead{Listing: l, Left: left, Before: []string{}, After: deliveryNames(delivers)}
	if in.Body.Gear != nil {
		g, err := in.Body.Gear.read()
		if err != nil {
			return nil, failed(err)
		}
		out.Before = deliveryNames(g.Delivers)
		g.Delivers = delivers[:min(len(delivers), 200)]
		out.Gear = g
	}
	return &struct{ Body FormatsRead }{out}, nil
}
