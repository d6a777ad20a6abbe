package server

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"reflect"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"eventether/core/view"
	"eventether/internal/jobs"
	"eventether/internal/line"
)

// LineTry is what a page asks to be tried. The key is used once and kept nowhere.
type LineTry struct {
	Address string  `json:"address" maxLength:"500" doc:"rtmp:// or rtmps://, without the key, or srt://host:port; empty for the stand-in on this computer"`
	Key     string  `json:"key,omitempty" maxLength:"500"`
	Kbps    float64 `json:"kbps,omitempty" doc:"Of picture and sound; what the plan needs ÷ 0.75 when 0"`
	Seconds float64 `json:"seconds"`
	By      string  `json:"by,omitempty" enum:"wired,air"`
	At      string  `json:"at,omitempty" format:"date-time" doc:"By the clock of the place"`
}

// Trying is what is told while a line is tried: how far it is, and at the end what it came to, or why not.
type Trying struct {
	line.Step
	Waits   bool            `json:"waits,omitempty" doc:"Another line is tried first"`
	Tried   *view.LineTried `json:"tried,omitempty"`
	Problem string          `json:"problem,omitempty"`
}

// LineNeeds is what a try of the line sends where nobody says how much.
type LineNeeds struct {
	Kbps float64 `json:"kbps"`
}

// needed is the need of a plan ÷ 0.75, within what is tried.
func needed(v *known) float64 {
	return min(line.MostKbps, max(line.LeastKbps, view.LineNeeds(v.Verdict)))
}

// tryLine sends a test picture to an address somebody named, and says what the line carried. It is called off when the
// page goes.
func (a *api) tryLine(c *gin.Context) {
	ctx, cancel := context.WithCancel(c.Request.Context())
	defer cancel()
	id, err := uuid.Parse(c.Param("id"))
	if err != nil {
		answer(c, huma.NewError(http.StatusNotFound, "no such rig"))
		return
	}
	var in LineTry
	if err := c.ShouldBindJSON(&in); err != nil {
		answer(c, huma.NewError(http.StatusUnprocessableEntity, "want an address, a key and seconds, as JSON"))
		return
	}
	if in.At != "" {
		if _, err := time.Parse(time.RFC3339, in.At); err != nil {
			answer(c, huma.NewError(http.StatusUnprocessableEntity, "at: want a time with its zone, such as 2026-12-04T19:30:00+01:00"))
			return
		}
	}
	if in.By != "" && in.By != "wired" && in.By != "air" {
		answer(c, huma.NewError(http.StatusUnprocessableEntity, "by: want wired or air"))
		return
	}
	v, err := a.judged(ctx, id)
	if err != nil {
		answer(c, err)
		return
	}
	t := line.Try{Address: in.Address, Key: in.Key, Kbps: in.Kbps, Seconds: in.Seconds}
	if t.Kbps == 0 {
		t.Kbps = needed(v)
	}
	if err := t.Check(); err != nil {
		answer(c, huma.NewError(http.StatusUnprocessableEntity, err.Error()))
		return
	}
	q, err := a.jobs()
	if err != nil {
		answer(c, errNoWork(err))
		return
	}
	j, err := q.Put(ctx, jobs.TryingLine, id.String(), nil, t)
	if err != nil {
		answer(c, errNoWork(err))
		return
	}
	defer func() { // when the page goes, or all is told
		if err := q.CallOff(context.WithoutCancel(ctx), j.ID); err != nil && !errors.Is(err, jobs.ErrNone) {
			a.logger.Warn("calling off a try of the line", "error", err)
		}
	}()
	go func() {
		select {
		case <-a.closing:
			cancel()
		case <-ctx.Done():
		}
	}()
	tell := linesTo(c)
	ended, err := q.Follow(ctx, j.ID, func(j *jobs.Job) error {
		l := Trying{Waits: j.State == jobs.Waits}
		if j.Step != nil {
			if err := json.Unmarshal(j.Step, &l.Step); err != nil {
				return err
			}
		}
		if j.State.Ended() {
			return nil
		}
		return tell(l)
	})
	if err != nil {
		return
	}
	var out line.Tried
	switch {
	case ended.State != jobs.Done:
		_ = tell(Trying{Problem: cmp.Or(ended.Problem, "broken off")})
	case json.Unmarshal(ended.Result, &out) == nil:
		_ = tell(Trying{Tried: view.OfLine(&view.LineTry{Wanted: out.Wanted, Mbps: out.Mbps, Seconds: out.Seconds, Stalls: len(out.Stalls), Filled: out.Filled, Local: out.Local, Counted: out.Counted, RTTms: out.RTTms,
			LeastMs: out.LeastMs, Pct: out.Resent, Closed: out.Closed, At: in.At, By: in.By})})
	}
}

// registerLine describes trying a line.
func (a *api) registerLine(h huma.API, op func(method, path, id, summary string) huma.Operation) {
	huma.Register(h, op("GET", "/api/rigs/{id}/line", "lineNeeds", "What a try of the line sends: the need of the plan ÷ 0.75"),
		func(ctx context.Context, in *struct {
			ID uuid.UUID `path:"id"`
		}) (*struct{ Body LineNeeds }, error) {
			v, err := a.judged(ctx, in.ID)
			if err != nil {
				return nil, err
			}
			return &struct{ Body LineNeeds }{LineNeeds{needed(v)}}, nil
		})
	of := h.OpenAPI()
	try := op("POST", "/api/rigs/{id}/line", "tryLine", "Try the line: send a test picture to an ingest, and see what arrives")
	try.Description = "The answer is lines of JSON, each a Trying. Nothing is kept; the key stands in no log."
	try.RequestBody = &huma.RequestBody{Required: true, Content: map[string]*huma.MediaType{"application/json": {
		Schema: of.Components.Schemas.Schema(reflect.TypeFor[LineTry](), true, "LineTry")}}}
	of.Components.Schemas.Schema(reflect.TypeFor[Trying](), true, "Trying")
	try.Responses = map[string]*huma.Response{"200": {Description: "Lines of JSON",
		Content: map[string]*huma.MediaType{"application/x-ndjson": {Schema: &huma.Schema{Ref: "#/components/schemas/Trying"}}}}}
	of.AddOperation(&try)
}
