package server

import (
	"context"
	"errors"
	"net/http"
	"reflect"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"eventether/core/fact"
	"eventether/core/rig"
	"eventether/internal/rigfile"
	"eventether/internal/store"
)

// Took says where a measured value went.
type Took struct {
	Rig   bool   `json:"rig"`
	Shelf string `json:"shelf" doc:"Name of the thing on the shelf whose sheet says it now; empty where the item came from none, or the value is the rig's own"`
}

// takeMeasured takes a measured value into a rig and onto the sheet of the thing it was measured on, in one action,
// with its date.
func (a *api) takeMeasured(ctx context.Context, in *struct {
	ID   uuid.UUID `path:"id"`
	Body struct {
		Path  string  `json:"path" minLength:"1" maxLength:"300" doc:"The fact, as edits name it"`
		Value float64 `json:"value"`
		On    string  `json:"on" format:"date" doc:"When it was measured"`
		What  string  `json:"what" maxLength:"500" doc:"What it is, in words"`
	}
}) (*struct{ Body Took }, error) {
	if err := sound("what", in.Body.What); err != nil {
		return nil, err
	}
	if _, err := time.Parse(time.DateOnly, in.Body.On); err != nil {
		return nil, huma.NewError(http.StatusUnprocessableEntity, "on "+in.Body.On+": want a day such as 2026-11-20")
	}
	v := in.Body.Value
	e := rig.Edit{Do: "fact", Path: in.Body.Path, Fact: &fact.Fact{Value: v, Low: v, High: v, From: fact.Measured,
		At: in.Body.On}}
	ctx, cancel := limited(ctx)
	defer cancel()
	row, rev, err := a.store.Get(ctx, in.ID, 0)
	if err != nil {
		return nil, failed(err)
	}
	before, err := a.verdicts.revision(&rev)
	if err != nil {
		return nil, err
	}
	after, err := rigfile.Change(before.Given, []rig.Edit{e})
	if err != nil {
		return nil, failed(err)
	}
	_, kept, err := a.store.Save(ctx, in.ID, row.Head, knownOf(after).Verdict, who, orText(in.Body.What, "Measured"))
	if err != nil {
		return nil, failed(err)
	}
	a.events.tell(in.ID, kept.Number)
	out := Took{Rig: true}
	if parts := strings.Split(in.Body.Path, "/"); len(parts) > 2 && parts[0] == "items" {
		if it := after.Item(parts[1]); it != nil && it.Shelf != nil {
			if out.Shelf, err = a.ontoShelf(ctx, it.Shelf.ID, e, in.Body.What); err != nil {
				return nil, failed(err)
			}
		}
	}
	return &struct{ Body Took }{out}, nil
}

// ontoShelf says a measured value on a thing's sheet, and gives its name; "" where it is not on the shelf any more, or
// the value is none of its sheet's.
func (a *api) ontoShelf(ctx context.Context, id string, e rig.Edit, what string) (string, error) {
	row, rev, err := a.store.ShelfEntry(ctx, id, 0)
	if errors.Is(err, store.ErrNotOnShelf) || err == nil && row.DeletedAt != nil {
		return "", nil
	}
	if err != nil {
		return "", err
	}
	entry, err := rev.Entry()
	if err != nil {
		return "", err
	}
	g, ok := rig.OnSheet(entry.Gear, e)
	if !ok {
		return "", nil
	}
	if reflect.DeepEqual(g, entry.Gear) { // a retry: it says so already
		return g.Name, nil
	}
	entry.Gear = g
	if _, _, err := a.store.SaveOnShelf(store.Unkeyed(ctx), *entry, row.Head, who,
		orText(what, "Measured")); err != nil {
		return "", err
	}
	return g.Name, nil
}
