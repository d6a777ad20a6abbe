package server

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"sync"
	"sync/atomic"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"eventether/core/sheet"
	"eventether/core/view"
	"eventether/internal/ingest"
	"eventether/internal/store"
)

// Rehearsal is a destination of one's own that takes a stream of a rig, or took it.
type Rehearsal struct {
	ID        uuid.UUID      `json:"id"`
	Rig       uuid.UUID      `json:"rig"`
	Revision  int            `json:"revision" doc:"Of the rig, as it was when it began"`
	Part      string         `json:"part"`
	Transport string         `json:"transport" enum:"rtmp,srt,webrtc"`
	Open      bool           `json:"open" doc:"To the local network, not to this computer alone"`
	Addresses []string       `json:"addresses" doc:"What is typed into the program as its server; none when it has ended"`
	Key       string         `json:"key" doc:"Made for this rehearsal, and good for nothing else; empty when it has ended"`
	At        time.Time      `json:"at"`
	Seconds   float64        `json:"seconds" doc:"Since it was opened"`
	Ended     bool           `json:"ended"`
	Report    uuid.UUID      `json:"report" doc:"What is kept of it when it has ended and somebody had sent; all 0 before"`
	Events    []ingest.Event `json:"events"`
	Shot      []byte         `json:"shot,omitempty" doc:"The last keyframe that was looked at, a small JPEG in base64"`

	Now   *view.Rehearsed  `json:"now"`
	Else  []view.Elsewhere `json:"else" doc:"What kinds of destination would refuse of it, by name; those that take all of it have no refusals"`
	Badly bool             `json:"badly" doc:"The far end can do badly on demand"`
}

// Bounds of rehearsals.
const (
	mostRehearsals = 8
	longestOpen    = 6 * time.Hour
	keptRehearsals = 32 // ended ones that can be asked for still
)

// rehearsing are the rehearsals there are.
type rehearsing struct {
	sync.Mutex
	all   map[uuid.UUID]*open
	order []uuid.UUID
}

// open is one of them.
type open struct {
	sync.Mutex // while it is ended
	about      Rehearsal
	in         *ingest.Ingest
	known      *known
	ended      atomic.Pointer[Rehearsal]
}

// rehearse opens a destination for a stream of a rig.
func (a *api) rehearse(ctx context.Context, in *struct {
	ID   uuid.UUID `path:"id"`
	Body struct {
		Part string `json:"part" maxLength:"60" doc:"stream-0, the first destination of the show"`
		Open bool   `json:"open,omitempty" doc:"To the local network, not to this computer alone"`
		By   string `json:"by,omitempty" enum:"rtmp,srt,webrtc" doc:"What it takes; as the destination has it when not said"`
	}
}) (*struct{ Body Rehearsal }, error) {
	v, err := a.judged(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	w, ok := sheet.WantedOf(v.Verdict, in.Body.Part)
	if !ok || !w.Stream {
		return nil, huma.NewError(http.StatusUnprocessableEntity, "No stream of this rig that its program codes is called so: name a destination on the Show page first.")
	}
	by := in.Body.By
	if by == "" {
		by = w.Transport
	}
	if by == "hls" {
		by = "rtmp"
	}
	get, cancel := limited(ctx)
	defer cancel()
	_, rev, err := a.store.Get(get, in.ID, 0)
	if err != nil {
		return nil, failed(err)
	}
	a.rehearsals.Lock()
	defer a.rehearsals.Unlock()
	going := 0
	for _, o := range a.rehearsals.all {
		if o.ended.Load() == nil {
			going++
		}
	}
	if going >= mostRehearsals {
		return nil, huma.NewError(http.StatusConflict, "Eight rehearsals are open already: end one of them.")
	}
	far, err := ingest.Start(ingest.Options{Transport: by, Open: in.Body.Open, Kbps: w.Kbps, Log: a.logger})
	if err != nil {
		return nil, huma.NewError(http.StatusServiceUnavailable, "No destination could be opened here: "+err.Error())
	}
	o := &open{in: far, known: v, about: Rehearsal{ID: uuid.New(), Rig: in.ID, Revision: rev.Number, Part: in.Body.Part, Transport: by, Open: in.Body.Open,
		Addresses: far.Addresses(), Key: far.Key(), At: time.Now().UTC(), Badly: by != "webrtc"}}
	a.rehearsals.add(o)
	a.rest.Go(func() { // it does not stay open for ever, nor longer than the server
		timer := time.NewTimer(longestOpen)
		defer timer.Stop()
		select {
		case <-timer.C:
		case <-a.closing:
		}
		ctx, cancel := context.WithTimeout(context.Background(), databaseTimeout)
		defer cancel()
		if _, err := a.endOf(ctx, o); err != nil {
			a.logger.Warn("ending a rehearsal", "error", err)
		}
	})
	out, err := a.standing(ctx, o)
	return out, err
}

// add keeps a rehearsal; of those that have ended the oldest go.
func (r *rehearsing) add(o *open) {
	if r.all == nil {
		r.all = map[uuid.UUID]*open{}
	}
	r.all[o.about.ID] = o
	r.order = append(r.order, o.about.ID)
	for k := 0; len(r.order) > keptRehearsals && k < len(r.order); {
		if old := r.all[r.order[k]]; old.ended.Load() != nil {
			delete(r.all, r.order[k])
			r.order = append(r.order[:k], r.order[k+1:]...)
			continue
		}
		k++
	}
}

func (a *api) rehearsal(id uuid.UUID) (*open, error) {
	a.rehearsals.Lock()
	defer a.rehearsals.Unlock()
	if o := a.rehearsals.all[id]; o != nil {
		return o, nil
	}
	return nil, huma.NewError(http.StatusNotFound, "There is no such rehearsal any more; its report is in the list, if anybody had sent.")
}

// standing tells how a rehearsal stands.
func (a *api) standing(ctx context.Context, o *open) (*struct{ Body Rehearsal }, error) {
	o.Lock()
	defer o.Unlock()
	if e := o.ended.Load(); e != nil {
		return &struct{ Body Rehearsal }{*e}, nil
	}
	out, err := a.rehearsed(ctx, o)
	if err != nil {
		return nil, err
	}
	return &struct{ Body Rehearsal }{*out}, nil
}

// rehearsed sets what arrives beside the rig as it was when the rehearsal began.
func (a *api) rehearsed(ctx context.Context, o *open) (*Rehearsal, error) {
	s := o.in.Standing()
	out := o.about
	now, err := view.RehearsedAt(o.known.Verdict, out.Part, &s.Arrived, s.Going, s.Seen, s.Heard)
	if err != nil {
		return nil, failed(err)
	}
	out.Now, out.Seconds, out.Events, out.Shot, out.Else = now, s.At, s.Events, s.Shot, []view.Elsewhere{}
	if s.Going.Connections > 0 {
		all, err := a.destinations(ctx, nil)
		if err != nil {
			return nil, err
		}
		for i := range all.Body {
			out.Else = append(out.Else, view.ElsewhereOf(&all.Body[i].Known, &s.Arrived))
		}
	}
	return &out, nil
}

// endOf ends a rehearsal and keeps its report, once. Where nobody had sent there is nothing to keep.
func (a *api) endOf(ctx context.Context, o *open) (*Rehearsal, error) {
	o.Lock()
	defer o.Unlock()
	if e := o.ended.Load(); e != nil {
		return e, nil
	}
	out, err := a.rehearsed(ctx, o)
	if err != nil {
		return nil, err
	}
	if out.Now.Going.Connections > 0 {
		doc, err := json.Marshal(out.Now)
		if err != nil {
			return nil, err
		}
		id := uuid.New()
		if err := a.store.KeepReport(ctx, store.Report{ID: id, RigID: out.Rig, Revision: out.Revision, Kind: "rehearsal", Part: out.Part,
			Name: out.Now.Label, At: time.Now().UTC(), Doc: doc}); err != nil {
			return nil, failed(err)
		}
		out.Report = id
	}
	a.otherStreams(out)
	o.in.Close()
	out.Ended, out.Addresses, out.Key = true, []string{}, ""
	o.ended.Store(out)
	return out, nil
}

// otherStreams adds the newest ended rehearsals of the rig's other streams to what the run sheet is shown: its step is done when
// each is as it has to be.
func (a *api) otherStreams(to *Rehearsal) {
	a.rehearsals.Lock()
	defer a.rehearsals.Unlock()
	seen := map[string]bool{to.Part: true}
	for k := len(a.rehearsals.order) - 1; k >= 0; k-- {
		o := a.rehearsals.all[a.rehearsals.order[k]]
		e := o.ended.Load()
		if o.about.Rig != to.Rig || seen[o.about.Part] || e == nil || e.Now.Going.Connections == 0 {
			continue
		}
		seen[o.about.Part] = true
		to.Now.Preflight.Rows = append(to.Now.Preflight.Rows, e.Now.Preflight.Rows[0])
	}
}

// Reported is a report of a rehearsal.
type Reported struct {
	ID       uuid.UUID       `json:"id"`
	Rig      uuid.UUID       `json:"rig"`
	Revision int             `json:"revision"`
	Name     string          `json:"name"`
	At       time.Time       `json:"at"`
	Was      *view.Rehearsed `json:"was,omitempty" doc:"None in the list"`
}

// registerRehearsing describes rehearsals.
func (a *api) registerRehearsing(h huma.API, op func(method, path, id, summary string) huma.Operation) {
	huma.Register(h, op("POST", "/api/rigs/{id}/rehearsals", "rehearse", "Open a destination of one's own for a stream of a rig: an address and a key made for it"), a.rehearse)
	huma.Register(h, op("GET", "/api/rigs/{id}/rehearsals", "rehearsals", "Rehearsals of a rig that are open, or ended not long ago, the newest first"),
		func(ctx context.Context, in *idIn) (*struct{ Body []Rehearsal }, error) {
			a.rehearsals.Lock()
			var mine []*open
			for k := len(a.rehearsals.order) - 1; k >= 0; k-- {
				if o := a.rehearsals.all[a.rehearsals.order[k]]; o.about.Rig == in.ID {
					mine = append(mine, o)
				}
			}
			a.rehearsals.Unlock()
			out := []Rehearsal{}
			for _, o := range mine {
				one, err := a.standing(ctx, o)
				if err != nil {
					return nil, err
				}
				out = append(out, one.Body)
			}
			return &struct{ Body []Rehearsal }{out}, nil
		})
	huma.Register(h, op("GET", "/api/rehearsals/{id}", "rehearsal", "How a rehearsal stands: what arrives, line by line against the sheet"),
		func(ctx context.Context, in *idIn) (*struct{ Body Rehearsal }, error) {
			o, err := a.rehearsal(in.ID)
			if err != nil {
				return nil, err
			}
			return a.standing(ctx, o)
		})
	huma.Register(h, op("POST", "/api/rehearsals/{id}/dip", "dip", "Have the far end do something badly for a while"),
		func(ctx context.Context, in *struct {
			ID   uuid.UUID `path:"id"`
			Body struct {
				Kind    string  `json:"kind" enum:"narrow,slow,stalls,closes,denies"`
				Value   float64 `json:"value,omitempty" doc:"kb/s of narrow, milliseconds of slow"`
				Seconds float64 `json:"seconds,omitempty"`
			}
		}) (*struct{ Body Rehearsal }, error) {
			o, err := a.rehearsal(in.ID)
			if err != nil {
				return nil, err
			}
			if o.ended.Load() != nil {
				return nil, huma.NewError(http.StatusConflict, "The rehearsal has ended.")
			}
			if err := o.in.Dip(in.Body.Kind, in.Body.Value, in.Body.Seconds); err != nil {
				return nil, huma.NewError(http.StatusUnprocessableEntity, err.Error())
			}
			return a.standing(ctx, o)
		})
	huma.Register(h, op("POST", "/api/rehearsals/{id}/end", "endRehearsal", "End a rehearsal: its report is kept, its address and key are gone"),
		func(ctx context.Context, in *idIn) (*struct{ Body Rehearsal }, error) {
			o, err := a.rehearsal(in.ID)
			if err != nil {
				return nil, err
			}
			ctx, cancel := limited(ctx)
			defer cancel()
			out, err := a.endOf(ctx, o)
			if err != nil {
				return nil, err
			}
			return &struct{ Body Rehearsal }{*out}, nil
		})
	huma.Register(h, op("GET", "/api/rigs/{id}/reports", "reports", "Reports of a rig's rehearsals, the newest first"),
		func(ctx context.Context, in *idIn) (*struct{ Body []Reported }, error) {
			ctx, cancel := limited(ctx)
			defer cancel()
			all, err := a.store.Reports(ctx, in.ID)
			if err != nil {
				return nil, failed(err)
			}
			out := []Reported{}
			for _, r := range all {
				out = append(out, Reported{ID: r.ID, Rig: r.RigID, Revision: r.Revision, Name: r.Name, At: r.At})
			}
			return &struct{ Body []Reported }{out}, nil
		})
	huma.Register(h, op("GET", "/api/reports/{id}", "report", "One report of a rehearsal"),
		func(ctx context.Context, in *idIn) (*struct{ Body Reported }, error) {
			ctx, cancel := limited(ctx)
			defer cancel()
			r, err := a.store.Report(ctx, in.ID)
			if errors.Is(err, store.ErrNoReport) {
				return nil, huma.NewError(http.StatusNotFound, "There is no such report.")
			} else if err != nil {
				return nil, failed(err)
			}
			out := Reported{ID: r.ID, Rig: r.RigID, Revision: r.Revision, Name: r.Name, At: r.At, Was: &view.Rehearsed{}}
			if err := json.Unmarshal(r.Doc, out.Was); err != nil {
				return nil, failed(err)
			}
			return &struct{ Body Reported }{out}, nil
		})
}
