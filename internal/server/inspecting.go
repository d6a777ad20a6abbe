package server

import (
	"context"
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"reflect"
	"strconv"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"eventether/core/view"
	"eventether/internal/jobs"
	"eventether/internal/media"
)

// errNoWork says that long work cannot be done now.
func errNoWork(err error) error {
	return huma.NewError(http.StatusServiceUnavailable, "The database does not take long work at the moment: try again shortly.", err)
}

// Inspection is a clip that is inspected, was, or waits for its turn.
type Inspection struct {
	ID      uuid.UUID `json:"id"`
	Name    string    `json:"name" doc:"Of the clip"`
	Of      string    `json:"of" doc:"What of the rig it is of"`
	Rig     uuid.UUID `json:"rig"`
	State   string    `json:"state" enum:"waits,runs,done,failed,off"`
	Done    float64   `json:"done" doc:"Seconds of it that were looked at"`
	Total   float64   `json:"total"`
	Problem string    `json:"problem,omitempty"`
	At      time.Time `json:"at"`

	Inspected *view.Inspected   `json:"inspected,omitempty" doc:"What it came to, beside the rig as it is now"`
	Preflight *view.Preflight   `json:"preflight,omitempty" doc:"The same in one line, with the newest of the rig's other recordings, and whether they show their step of the run sheet done"`
	Times     media.Times       `json:"times" doc:"What it tells of time: a filmed slate, claps, one sound against another"`
	Delays    []view.LookedTake `json:"delays" doc:"What the rig can take over of that: delays, clocks"`
	Shots     []media.Shot      `json:"shots" doc:"Frames of what was found"`
	Cut       string            `json:"cut,omitempty" doc:"Why not all of it was looked at"`
	Notes     []string          `json:"notes"`
}

// inspectionOf tells how a piece of work stands.
func inspectionOf(j *jobs.Job) (*Inspection, error) {
	var s jobs.InspectSpec
	if err := json.Unmarshal(j.Spec, &s); err != nil {
		return nil, err
	}
	out := &Inspection{ID: j.ID, Name: s.Name, Of: s.Of, Rig: s.Rig, State: string(j.State), Problem: j.Problem, At: j.CreatedAt,
		Shots: []media.Shot{}, Notes: []string{}, Times: media.Times{Claps: []media.Clap{}}, Delays: []view.LookedTake{}}
	if j.Step != nil {
		var step jobs.InspectStep
		if err := json.Unmarshal(j.Step, &step); err != nil {
			return nil, err
		}
		out.Done, out.Total = step.Done, step.Of
	}
	return out, nil
}

// takeClip takes a clip in, to be inspected when its turn comes.
func (a *api) takeClip(c *gin.Context) {
	ctx := c.Request.Context()
	v, of, err := a.clipIs(c)
	if err != nil {
		answer(c, err)
		return
	}
	id := uuid.MustParse(c.Param("id")) // it was read above
	q, err := a.jobs()
	if err != nil {
		answer(c, errNoWork(err))
		return
	}
	file, err := clipOf(c, a.clips)
	if err != nil {
		answer(c, err)
		return
	}
	name := filepath.Base(strings.TrimSpace(c.Query("name")))
	if r := []rune(name); len(r) > 200 {
		name = string(r[:200])
	}
	_, rev, err := a.store.Get(ctx, id, 0)
	if err != nil {
		answer(c, errors.Join(failed(err), throwAway(file)))
		return
	}
	other, err := second(file, c.Query("first"))
	if err != nil {
		answer(c, errors.Join(err, throwAway(file)))
		return
	}
	j, err := q.Put(ctx, jobs.Inspecting, id.String(), jobs.Asked(jobs.InspectSpec{Path: file, Other: other, Name: name, Rig: id, Revision: rev.Number, Of: of,
		Kbps: view.PlannedKbps(v.Verdict, of)}), nil)
	if err != nil {
		answer(c, errors.Join(errNoWork(err), throwAway(file), throwAway(other)))
		return
	}
	out, err := inspectionOf(j)
	if err != nil {
		answer(c, err)
		return
	}
	c.JSON(http.StatusOK, out)
}

// second takes what came behind the first clip, which is so many bytes long, into a file of its own; "" where nothing did.
func second(file, first string) (string, error) {
	if first == "" {
		return "", nil
	}
	unusable := huma.NewError(http.StatusUnprocessableEntity, "first: want how many bytes the first of two clips has, fewer than came in")
	n, err := strconv.ParseInt(first, 10, 64)
	if err != nil || n <= 0 {
		return "", unusable
	}
	f, err := os.OpenFile(file, os.O_RDWR, 0)
	if err != nil {
		return "", err
	}
	defer f.Close()
	if st, err := f.Stat(); err != nil || n >= st.Size() {
		return "", unusable
	}
	if _, err := f.Seek(n, io.SeekStart); err != nil {
		return "", err
	}
	to, err := os.CreateTemp(filepath.Dir(file), "eventether-look-*")
	if err != nil {
		return "", err
	}
	_, err = io.Copy(to, f)
	if err = errors.Join(err, to.Close(), f.Truncate(n)); err != nil {
		return "", errors.Join(err, os.Remove(to.Name()))
	}
	return to.Name(), nil
}

func (a *api) inspection(ctx context.Context, in *idIn) (*struct{ Body Inspection }, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	j, err := a.job(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	out, err := inspectionOf(j)
	if err != nil {
		return nil, failed(err)
	}
	if j.State != jobs.Done {
		return &struct{ Body Inspection }{*out}, nil
	}
	v, err := a.judged(ctx, out.Rig)
	if err != nil {
		return nil, err
	}
	got, err := out.beside(j, v)
	if err != nil {
		return nil, failed(err)
	}
	out.Times = got.Times
	out.Delays = append(view.SlateTakes(v.Verdict, got.Times.Slate), view.DriftTakes(v.Verdict, got.Times.Against)...)
	others, err := a.otherParts(ctx, out, v)
	if err != nil {
		return nil, failed(err)
	}
	out.Preflight = view.PreflightOf(append([]*view.Looked{out.Inspected.Looked}, others...))
	out.Shots, out.Cut, out.Notes = append(out.Shots, got.Shots...), got.Cut, append(out.Notes, got.Notes...)
	return &struct{ Body Inspection }{*out}, nil
}

// beside sets what an inspection came to beside the rig; one of what is no part of the rig any more is held against the programme.
func (i *Inspection) beside(j *jobs.Job, v *known) (*media.Inspected, error) {
	got := &media.Inspected{}
	if err := json.Unmarshal(j.Result, got); err != nil {
		return nil, err
	}
	if _, err := view.LookedAt(v.Verdict, i.Of, nil, nil); err != nil {
		i.Of = "programme"
	}
	var err error
	i.Inspected, err = view.InspectedAt(v.Verdict, i.Of, &got.Arrived, got.Video, got.Audio, got.Bytes)
	return got, err
}

// otherParts are the newest inspections of the rig's other recordings: its step is done when each is as it has to be.
func (a *api) otherParts(ctx context.Context, but *Inspection, v *known) ([]*view.Looked, error) {
	q, err := a.jobs()
	if err != nil {
		return nil, err
	}
	all, err := q.Of(ctx, jobs.Inspecting, but.Rig.String())
	if err != nil {
		return nil, err
	}
	out, seen := []*view.Looked{}, map[string]bool{but.Of: true}
	for k := range all {
		one, err := inspectionOf(&all[k])
		if err != nil {
			return nil, err
		}
		if all[k].State != jobs.Done || seen[one.Of] || !strings.HasPrefix(one.Of, "recording-") {
			continue
		}
		seen[one.Of] = true
		whole, err := q.Get(ctx, one.ID)
		if err != nil {
			return nil, err
		}
		if _, err := one.beside(whole, v); err != nil {
			return nil, err
		}
		out = append(out, one.Inspected.Looked)
	}
	return out, nil
}

// job is a piece of long work by its id.
func (a *api) job(ctx context.Context, id uuid.UUID) (*jobs.Job, error) {
	q, err := a.jobs()
	if err != nil {
		return nil, errNoWork(err)
	}
	j, err := q.Get(ctx, id)
	if errors.Is(err, jobs.ErrNone) {
		return nil, huma.NewError(http.StatusNotFound, jobs.ErrNone.Error())
	}
	return j, failed(err)
}

// registerInspecting describes inspecting clips.
func (a *api) registerInspecting(h huma.API, op func(method, path, id, summary string) huma.Operation) {
	huma.Register(h, op("GET", "/api/rigs/{id}/inspected", "inspectedOf", "What a clip that is inspected may be of: recordings and streams of the sheet, and what a look may be of"),
		func(ctx context.Context, in *idIn) (*struct{ Body []view.LookedFigure }, error) {
			v, err := a.judged(ctx, in.ID)
			if err != nil {
				return nil, err
			}
			return &struct{ Body []view.LookedFigure }{view.InspectedOf(v.Verdict)}, nil
		})
	huma.Register(h, op("GET", "/api/rigs/{id}/inspections", "inspections", "Clips of a rig that were inspected or wait for it, the newest first, without what they came to"),
		func(ctx context.Context, in *idIn) (*struct{ Body []Inspection }, error) {
			ctx, cancel := limited(ctx)
			defer cancel()
			q, err := a.jobs()
			if err != nil {
				return nil, errNoWork(err)
			}
			all, err := q.Of(ctx, jobs.Inspecting, in.ID.String())
			if err != nil {
				return nil, failed(err)
			}
			out := []Inspection{}
			for i := range all {
				one, err := inspectionOf(&all[i])
				if err != nil {
					return nil, failed(err)
				}
				out = append(out, *one)
			}
			return &struct{ Body []Inspection }{out}, nil
		})
	huma.Register(h, op("GET", "/api/inspections/{id}", "inspection", "How an inspection stands, and what it came to"), a.inspection)
	huma.Register(h, op("DELETE", "/api/inspections/{id}", "callOffInspection", "Call an inspection off"),
		func(ctx context.Context, in *idIn) (*struct{ Body Inspection }, error) {
			q, err := a.jobs()
			if err != nil {
				return nil, errNoWork(err)
			}
			if err := q.CallOff(ctx, in.ID); errors.Is(err, jobs.ErrNone) {
				return nil, huma.NewError(http.StatusNotFound, err.Error())
			} else if err != nil {
				return nil, failed(err)
			}
			return a.inspection(ctx, in)
		})
	huma.Register(h, op("POST", "/api/inspections/{id}/claps", "clapped", "Claps of a clip whose frames were picked: the middle, the spread, and what the rig can take over"),
		func(ctx context.Context, in *struct {
			ID   uuid.UUID `path:"id"`
			Body struct {
				Heard []float64 `json:"heard" maxItems:"20" doc:"When each is heard, seconds"`
				Met   []float64 `json:"met" maxItems:"20" doc:"Time of the frame in which the hands meet, in the same order"`
			}
		}) (*struct{ Body view.ClapsMet }, error) {
			j, err := a.job(ctx, in.ID)
			if err != nil {
				return nil, err
			}
			one, err := inspectionOf(j)
			if err != nil {
				return nil, failed(err)
			}
			v, err := a.judged(ctx, one.Rig)
			if err != nil {
				return nil, err
			}
			if len(in.Body.Heard) != len(in.Body.Met) {
				return nil, huma.NewError(http.StatusUnprocessableEntity, "as many frames as claps are wanted")
			}
			return &struct{ Body view.ClapsMet }{*view.ClappedAt(v.Verdict, in.Body.Heard, in.Body.Met)}, nil
		})
	of := h.OpenAPI()
	take := op("POST", "/api/rigs/{id}/inspections", "inspectClip", "Inspect a clip: what it shows, how it is coded, held against the plan")
	take.Description = "The body is the clip; ?of= says what it is of, ?name= what it is called, and ?first= how many bytes the first of two clips has, where a second one of the same sound follows it. The work waits for its turn, and goes on when the page is gone; the clip is thrown away when it has ended."
	take.RequestBody = &huma.RequestBody{Required: true, Content: map[string]*huma.MediaType{"application/octet-stream": {}}}
	take.Responses = map[string]*huma.Response{"200": {Description: "The work", Content: map[string]*huma.MediaType{"application/json": {
		Schema: of.Components.Schemas.Schema(reflect.TypeFor[Inspection](), true, "Inspection")}}}}
	of.AddOperation(&take)
}
