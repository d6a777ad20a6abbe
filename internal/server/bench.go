package server

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"

	"github.com/danielgtaylor/huma/v2"

	"eventether/core/bench"
	"eventether/core/gear"
	"eventether/core/rig"
	"eventether/core/rigtext"
	"eventether/internal/rigfile"
)

func (a *api) registerBench(h huma.API, op func(method, path, id, summary string) huma.Operation,
	raw func(huma.Operation) huma.Operation) {
	huma.Register(h,
		raw(op("POST", "/api/act", "actByHand",
			"An act of the board as edits: one more thing with its way, replace, put between, take out, connect")),
		a.act)
	huma.Register(h,
		raw(op("POST", "/api/offers", "offerThings",
			"What of the shelf may be put in at a place, and what it would do there")), a.offers)
	huma.Register(h,
		raw(op("POST", "/api/say", "sayLines",
			"Lines said of a rig as edits, or what is not understood at its place")), a.say)
	huma.Register(h, raw(op("POST", "/api/complete", "completeLine", "What could stand where somebody is typing")),
		a.complete)
	huma.Register(h, op("GET", "/api/start", "startKinds",
		"What a start offers beside cameras, webcams, phones, second computers and consoles"), a.startKinds)
	huma.Register(h, op("POST", "/api/text", "rigFromText", "Keep a rig told as text as a new one"), a.fromText)
	huma.Register(h,
		raw(op("POST", "/api/fits", "fitSockets", "Where a lead from a socket goes, and why not elsewhere")), a.fits)
}

type actIn struct {
	Body struct {
		Rig Doc       `json:"rig"`
		Act bench.Act `json:"act"`
	}
}

// stock is the shelf as it is now, with the general kinds that never stood on it: those nobody owns.
func (a *api) stock(ctx context.Context) ([]bench.Stocked, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	_, revs, err := a.store.Shelf(ctx, false)
	if err != nil {
		return nil, failed(err)
	}
	gone, _, err := a.store.Shelf(ctx, true)
	if err != nil {
		return nil, failed(err)
	}
	known := map[string]bool{}
	for i := range gone {
		known[gone[i].ID] = true
	}
	out := make([]bench.Stocked, len(revs))
	for i := range revs {
		e, err := revs[i].Entry()
		if err != nil {
			return nil, failed(err)
		}
		known[e.ID] = true
		out[i] = bench.Stocked{Entry: *e, Revision: revs[i].Number}
	}
	for _, e := range gear.Starter() {
		if !known[e.ID] {
			e.Owned = false
			out = append(out, bench.Stocked{Entry: e})
		}
	}
	return out, nil
}

// onBench is a rig in a request, and the shelf beside it.
func (a *api) onBench(ctx context.Context, doc *Doc) (*known, []bench.Stocked, error) {
	v, err := a.verdicts.read(doc.raw)
	if err != nil {
		return nil, nil, err
	}
	shelf, err := a.stock(ctx)
	return v, shelf, err
}

// refused answers an act that cannot be done with why, in words for whoever did it.
func refused(err error) error {
	var r *bench.Refusal
	if errors.As(err, &r) {
		return huma.NewError(http.StatusUnprocessableEntity, r.Why)
	}
	return failed(err)
}

func (a *api) act(ctx context.Context, in *actIn) (*struct{ Body bench.Done }, error) {
	v, shelf, err := a.onBench(ctx, &in.Body.Rig)
	if err != nil {
		return nil, err
	}
	var done *bench.Done
	var why error
	if err := a.heavy.short(ctx, func(context.Context) {
		done, why = bench.Do(v.Given, in.Body.Act, shelf)
	}); err != nil {
		return nil, failed(err)
	}
	if why != nil {
		return nil, refused(why)
	}
	return &struct{ Body bench.Done }{*done}, nil
}

func (a *api) offers(ctx context.Context, in *actIn) (*struct{ Body []bench.Offer }, error) {
	v, shelf, err := a.onBench(ctx, &in.Body.Rig)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body []bench.Offer }{}
	var why error
	err = a.heavy.long(ctx, func(context.Context) {
		out.Body, why = bench.Offers(v.Given, v.Verdict, in.Body.Act, shelf)
	})
	if err != nil {
		return nil, failed(err)
	}
	if why != nil {
		return nil, refused(why)
	}
	return out, nil
}

func (a *api) fits(_ context.Context, in *struct {
	Body struct {
		Rig    Doc    `json:"rig"`
		Socket string `json:"socket" maxLength:"130" doc:"item.socket"`
	}
}) (*struct{ Body []bench.Fit }, error) {
	v, err := a.verdicts.read(in.Body.Rig.raw)
	if err != nil {
		return nil, err
	}
	if _, p := v.Given.Port(in.Body.Socket); p == nil {
		return nil, huma.NewError(http.StatusUnprocessableEntity,
			"There is no socket "+in.Body.Socket+" in this rig any more.")
	}
	return &struct{ Body []bench.Fit }{bench.Fits(v.Given, in.Body.Socket)}, nil
}

// Said is what typed lines come to.
type Said struct {
	bench.Done
	Problems []rigtext.Mark `json:"problems" doc:"What is not understood; nothing is done then"`
}

func (a *api) say(ctx context.Context, in *struct {
	Body struct {
		Rig  Doc    `json:"rig"`
		Text string `json:"text" maxLength:"400000"`
	}
}) (*struct{ Body Said }, error) {
	v, shelf, err := a.onBench(ctx, &in.Body.Rig)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body Said }{}
	err = a.heavy.short(ctx, func(context.Context) {
		got := rigtext.Say(v.Given, in.Body.Text, shelf)
		out.Body.Done, out.Body.Problems = *got.Done, got.Problems
		if out.Body.Problems == nil {
			out.Body.Problems = []rigtext.Mark{}
		} else {
			out.Body.Edits = []rig.Edit{}
		}
	})
	return out, failed(err)
}

func (a *api) complete(ctx context.Context, in *struct {
	Body struct {
		Rig  Doc    `json:"rig"`
		Line string `json:"line" maxLength:"4000"`
		At   int    `json:"at" minimum:"0" maximum:"4000" doc:"Characters before the cursor"`
	}
}) (*struct{ Body []rigtext.Completion }, error) {
	v, shelf, err := a.onBench(ctx, &in.Body.Rig)
	if err != nil {
		return nil, err
	}
	return &struct{ Body []rigtext.Completion }{rigtext.Complete(v.Given, in.Body.Line, in.Body.At, shelf)}, nil
}

func (a *api) fromText(ctx context.Context, in *struct {
	Body struct {
		Text string `json:"text" minLength:"1" maxLength:"3000000"`
	}
}) (*boardOut, error) {
	shelf, err := a.stock(ctx)
	if err != nil {
		return nil, err
	}
	got := rigtext.Read(in.Body.Text, shelf)
	if n := len(got.Problems); n > 0 {
		details := make([]error, n)
		for i, p := range got.Problems {
			details[i] = &huma.ErrorDetail{Location: fmt.Sprintf("line %d", p.Line), Message: p.InWords()}
		}
		return nil, huma.NewError(http.StatusUnprocessableEntity,
			fmt.Sprintf("This text cannot be used: %d to mend. Nothing was changed.", n), details...)
	}
	r, err := rigfile.Kept(got.Rig)
	if err != nil {
		return nil, failed(err)
	}
	return a.keep(ctx, knownOf(r), "Told as text")
}

// StartKind is a kind of thing a start offers.
type StartKind struct {
	Entry string `json:"entry"`
	Name  string `json:"name"`
	Of    string `json:"of" enum:"sources,between,sound,computer" doc:"The answer it folds out of"`
}

func (a *api) startKinds(ctx context.Context, _ *struct{}) (*struct{ Body []StartKind }, error) {
	shelf, err := a.stock(ctx)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body []StartKind }{Body: []StartKind{}}
	for _, k := range bench.StartKinds {
		if at := slices.IndexFunc(shelf, func(e bench.Stocked) bool { return e.ID == k.Entry }); at >= 0 {
			out.Body = append(out.Body, StartKind{k.Entry, shelf[at].Gear.Name, k.Of})
		}
	}
	return out, nil
}
