package server

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"net"
	"net/http"
	"reflect"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"eventether/core/look"
	"eventether/core/verdict"
	"eventether/core/view"
	"eventether/internal/devices"
	"eventether/internal/wire"
)

// batchPath begins the addresses that take what a page samples of a device.
const batchPath = "/api/looks/"

// takeBatch looks at a batch of records, the body, and answers how the device does at the moment.
func (a *api) takeBatch(c *gin.Context) {
	l, err := a.devices.Find(c.Param("look"))
	if err != nil {
		answer(c, huma.NewError(http.StatusGone, err.Error()))
		return
	}
	if c.Request.ContentLength > devices.MostBatch {
		answer(c, huma.NewError(http.StatusRequestEntityTooLarge, "the batch is larger than 96 MB"))
		return
	}
	if ip := net.ParseIP(c.RemoteIP()); ip != nil && ip.IsLoopback() { // of another computer this one tells nothing
		a.devices.Gauge(l)
	}
	now, err := l.Take(c.Request.Body)
	switch {
	case errors.Is(err, devices.ErrGone):
		answer(c, huma.NewError(http.StatusGone, err.Error()))
	case err != nil:
		answer(c, huma.NewError(http.StatusUnprocessableEntity, err.Error()))
	default:
		text, err := wire.Marshal(now)
		if err != nil {
			answer(c, err)
			return
		}
		c.Data(http.StatusOK, "application/json", text)
	}
}

// Marked is a part of a camera's picture that somebody marked.
type Marked struct {
	Label  string `json:"label" maxLength:"200"`
	Pixels []byte `json:"pixels" maxLength:"40000" doc:"Red, green, blue of each pixel, a byte each, base64"`
}

// Waved is the look at the device that changed.
type Waved struct {
	Look string `json:"look"`
	Sure bool   `json:"sure"`
}

// registerDevices describes looking at devices that are open in a page.
func (a *api) registerDevices(h huma.API, op func(method, path, id, summary string) huma.Operation) {
	huma.Register(h, op("POST", "/api/rigs/{id}/inputs", "inputsOf",
		"Which of a rig's pictures and ways of sound a computer's cameras and microphones are, by their names"),
		func(ctx context.Context, in *struct {
			ID   uuid.UUID `path:"id"`
			Body struct {
				Inputs []view.Input `json:"inputs" maxItems:"100"`
			}
		}) (*struct{ Body []view.InputIs }, error) {
			v, err := a.judged(ctx, in.ID)
			if err != nil {
				return nil, err
			}
			return &struct{ Body []view.InputIs }{view.InputsOf(v.Verdict, in.Body.Inputs)}, nil
		})
	huma.Register(h, op("POST", "/api/rigs/{id}/looks", "openLook", "Begin a look at a device that is open in a page"),
		func(ctx context.Context, in *struct {
			ID   uuid.UUID `path:"id"`
			Body struct {
				Of    string           `json:"of" maxLength:"200" doc:"What it is, of lookedOf"`
				Facts view.DeviceFacts `json:"facts"`
			}
		}) (*struct{ Body *devices.Look }, error) {
			v, err := a.judged(ctx, in.ID)
			if err != nil {
				return nil, err
			}
			if _, err := view.LookedAt(v.Verdict, in.Body.Of, nil, nil); err != nil {
				return nil, huma.NewError(http.StatusUnprocessableEntity, err.Error())
			}
			l, err := a.devices.Open(in.ID.String(), in.Body.Of, in.Body.Facts)
			if err != nil {
				return nil, huma.NewError(http.StatusConflict, err.Error())
			}
			return &struct{ Body *devices.Look }{l}, nil
		})
	huma.Register(h, op("POST", "/api/looks/{look}/end", "endLook", "End a look: planned, measured, what follows"),
		func(ctx context.Context, in *struct {
			Look string `path:"look"`
			Body view.DeviceFacts
		}) (*struct{ Body *view.Looked }, error) {
			l, err := a.devices.Find(in.Look)
			if err != nil {
				return nil, huma.NewError(http.StatusGone, err.Error())
			}
			out, err := a.lookedAt(ctx, l.End(in.Body))
			if err != nil {
				return nil, err
			}
			return &struct{ Body *view.Looked }{out}, nil
		})
	huma.Register(h, op("POST", "/api/looks/wave", "waved",
		"Which of several devices of one name changes, while somebody waves at one of them"),
		func(_ context.Context, in *struct {
			Body struct {
				Looks []string `json:"looks" maxItems:"8"`
			}
		}) (*struct{ Body Waved }, error) {
			var all []*devices.Look
			for _, id := range in.Body.Looks {
				if l, err := a.devices.Find(id); err == nil {
					all = append(all, l)
				}
			}
			which, sure := devices.Waved(all)
			return &struct{ Body Waved }{Waved{which, sure}}, nil
		})
	huma.Register(h, op("POST", "/api/looks/together", "together",
		"Ended looks at devices alone, and at the same ones all open at once, in one order: does one hinder another?"),
		func(ctx context.Context, in *struct {
			Body struct {
				Alone  []string `json:"alone" maxItems:"8"`
				Beside []string `json:"beside" maxItems:"8"`
			}
		}) (*struct{ Body *view.Together }, error) {
			if len(in.Body.Alone) != len(in.Body.Beside) {
				return nil, huma.NewError(http.StatusUnprocessableEntity, "as many alone as beside the others are wanted")
			}
			var alone, beside []*view.Device
			var of []string
			rig := ""
			for i := range in.Body.Alone {
				a1, err1 := a.ended(in.Body.Alone[i])
				b1, err2 := a.ended(in.Body.Beside[i])
				if err := errors.Join(err1, err2); err != nil {
					return nil, huma.NewError(http.StatusGone, strings.SplitN(err.Error(), "\n", 2)[0])
				}
				alone, beside, of = append(alone, &a1.Device), append(beside, &b1.Device), append(of, a1.Of)
				if rig = cmp.Or(rig, a1.Rig); rig != a1.Rig {
					return nil, huma.NewError(http.StatusUnprocessableEntity, "looks of two rigs were named: all have to be of one")
				}
			}
			var v *verdict.Verdict
			if id, err := uuid.Parse(rig); err == nil {
				if known, err := a.judged(ctx, id); err == nil {
					v = known.Verdict
				}
			}
			return &struct{ Body *view.Together }{view.TogetherOf(v, of, alone, beside)}, nil
		})
	huma.Register(h, op("POST", "/api/looks/preflight", "preflight",
		"Ended looks in one line each, in the order they are named: planned, measured, what follows, which steps are done"),
		func(ctx context.Context, in *struct {
			Body struct {
				Looks  []string `json:"looks" maxItems:"48"`
				Beside []string `json:"beside,omitempty" maxItems:"48" doc:"Looks at the same devices all open at once, in the same order; empty where one was not"`
			}
		}) (*struct{ Body *view.Preflight }, error) {
			all := []*view.Looked{}
			for i, id := range in.Body.Looks {
				r, err := a.ended(id)
				if err != nil {
					return nil, huma.NewError(http.StatusGone, err.Error())
				}
				l, err := a.lookedAt(ctx, r)
				if err != nil {
					return nil, err
				}
				if i < len(in.Body.Beside) && in.Body.Beside[i] != "" {
					b, err := a.ended(in.Body.Beside[i])
					if err != nil {
						return nil, huma.NewError(http.StatusGone, err.Error())
					}
					l.Stumbled(view.TogetherOf(nil, nil, []*view.Device{&r.Device}, []*view.Device{&b.Device}).Rows[0])
				}
				all = append(all, l)
			}
			return &struct{ Body *view.Preflight }{view.PreflightOf(all)}, nil
		})
	huma.Register(h, op("POST", "/api/looks/claps", "heardFirst",
		"Two ended looks at microphones that were open at one time: which heard the claps first, and by how much"),
		func(_ context.Context, in *struct {
			Body struct {
				First  string `json:"first"`
				Second string `json:"second"`
			}
		}) (*struct{ Body look.HeardFirst }, error) {
			first, err1 := a.ended(in.Body.First)
			second, err2 := a.ended(in.Body.Second)
			if err := errors.Join(err1, err2); err != nil {
				return nil, huma.NewError(http.StatusGone, err.Error())
			}
			return &struct{ Body look.HeardFirst }{devices.Claps(first, second)}, nil
		})
	huma.Register(h, op("POST", "/api/looks/match", "matchCameras",
		"Marked parts of cameras' pictures that show one card, held against the first of them: light and colour"),
		func(_ context.Context, in *struct {
			Body struct {
				Patches []Marked `json:"patches" minItems:"2" maxItems:"8"`
			}
		}) (*struct{ Body []look.Match }, error) {
			var all []look.Patch
			for _, p := range in.Body.Patches {
				if len(p.Pixels) == 0 || len(p.Pixels)%3 != 0 {
					return nil, huma.NewError(http.StatusUnprocessableEntity,
						fmt.Sprintf("%s: %d bytes: want three for each pixel", p.Label, len(p.Pixels)))
				}
				all = append(all, look.Patch{Label: p.Label, Pixels: p.Pixels})
			}
			return &struct{ Body []look.Match }{look.MatchOf(all)}, nil
		})
	batch := op("PUT", "/api/looks/{look}", "takeBatch", "What a page sampled of a device since")
	batch.Description = "The body is records, as docs/api/README.md describes them; the answer is how the device does at the moment."
	batch.RequestBody = &huma.RequestBody{Required: true,
		Content: map[string]*huma.MediaType{"application/octet-stream": {}}}
	now := h.OpenAPI().Components.Schemas.Schema(reflect.TypeFor[devices.Now](), true, "Now")
	batch.Parameters = []*huma.Param{{Name: "look", In: "path", Required: true, Schema: &huma.Schema{Type: huma.TypeString}}}
	batch.Responses = map[string]*huma.Response{"200": {Description: "How it does",
		Content: map[string]*huma.MediaType{"application/json": {Schema: now}}}}
	h.OpenAPI().AddOperation(&batch)
}

// lookedAt sets what a look came to beside its rig as it is now.
func (a *api) lookedAt(ctx context.Context, r *devices.Result) (*view.Looked, error) {
	id, err := uuid.Parse(r.Rig)
	if err != nil {
		return nil, err
	}
	v, err := a.judged(ctx, id)
	if err != nil {
		return nil, err
	}
	out, err := view.LookedAtDevice(v.Verdict, r.Of, &r.Device)
	if err != nil {
		return nil, huma.NewError(http.StatusUnprocessableEntity, err.Error())
	}
	return out, nil
}

// ended is what an ended look came to.
func (a *api) ended(id string) (*devices.Result, error) {
	l, err := a.devices.Find(id)
	if err != nil {
		return nil, err
	}
	if r, ok := l.Ended(); ok {
		return r, nil
	}
	return nil, errors.New("a look that is still open was named")
}
