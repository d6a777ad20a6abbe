package server

import (
	"context"
	"maps"
	"net/http"
	"os/exec"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"eventether/core/bench"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/lang"
	"eventether/core/place"
	"eventether/core/rig"
	"eventether/core/view"
	"eventether/internal/readers"
	"eventether/internal/rigfile"
)

// Placed is a suggestion with the verdict on the rig as suggested.
type Placed struct {
	Suggestion *place.Suggestion `json:"suggestion"`
	Verdict    view.Verdict      `json:"verdict" doc:"On the rig as suggested"`
	Now        []view.Row        `json:"now" doc:"The tree of sockets as it is"`
	After      []view.Row        `json:"after" doc:"The tree as suggested"`
}

// placeTime bounds how long the server looks for a placing, whatever the machine; what it has then is not proven.
const placeTime = 10 * time.Second

func (a *api) registerPorts(h huma.API, op func(method, path, id, summary string) huma.Operation,
	raw func(huma.Operation) huma.Operation) {
	huma.Register(h, raw(op("POST", "/api/place", "placeRig", "The best socket and format for every USB device")),
		a.place)
	huma.Register(h,
		raw(op("POST", "/api/usb", "readUSB", "What listings of a machine's USB say, and how a rig becomes like it")),
		a.readUSB)
	huma.Register(h, op("GET", "/api/usb/commands", "reportCommands", "What to type on systems that are not Linux for a report that is read here"),
		func(context.Context, *struct{}) (*struct{ Body []string }, error) {
			out := []string{}
			for _, system := range slices.Sorted(maps.Keys(readers.ReportCommands)) {
				words := readers.ReportCommands[system]
				if last := words[len(words)-1]; strings.Contains(last, " ") {
					words = words[len(words)-1:] // as it is typed into that shell, which is begun for us only
				}
				out = append(out, strings.Join(words, " "))
			}
			return &struct{ Body []string }{out}, nil
		})
	huma.Register(h, raw(op("POST", "/api/usb/here", "readHere", "The same, read from this very computer")), a.readHere)
	huma.Register(h,
		raw(op("POST", "/api/power", "powerOf",
			"Batteries against the clock of the show, and ways to power a camera")), a.power)
}

func (a *api) place(ctx context.Context, in *struct {
	Body struct {
		Rig Doc `json:"rig"`
	}
}) (*struct{ Body Placed }, error) {
	now, err := a.verdicts.read(in.Body.Rig.raw)
	if err != nil {
		return nil, err
	}
	r := now.Rig
	until := time.Now().Add(placeTime)
	var s *place.Suggestion
	if err := a.heavy.long(ctx, func(ctx context.Context) {
		s = place.Suggest(r, place.Options{Stop: func() bool { return ctx.Err() != nil || time.Now().After(until) }})
	}); err != nil {
		return nil, failed(err)
	}
	after, err := rig.Apply(r, s.Edits...)
	if err != nil {
		return nil, err
	}
	was := view.Of(now.Verdict, nil)
	will, err := a.advised(ctx, judge.Rig(after), soon)
	if err != nil {
		return nil, err
	}
	return &struct{ Body Placed }{Placed{Suggestion: s, Verdict: will, Now: view.Tree(r, &was),
		After: view.Tree(after, &will)}}, nil
}

// USBText is one listing in a request.
type USBText struct {
	Name string `json:"name"`
	Text string `json:"text"`
}

// USBRead is a reading with the plan for a rig.
type USBRead struct {
	USB  *readers.USB  `json:"usb"`
	Here *readers.Here `json:"here,omitempty"`
	Plan *readers.Plan `json:"plan"`
}

func (a *api) planned(ctx context.Context, raw []byte, u *readers.USB) (*USBRead, error) {
	r, err := rigfile.Read(raw)
	if err != nil {
		return nil, failed(err)
	}
	ctx, cancel := limited(ctx)
	defer cancel()
	_, revs, err := a.store.Shelf(ctx, false)
	if err != nil {
		return nil, failed(err)
	}
	var shelf []gear.Entry
	for i := range revs {
		e, err := revs[i].Entry()
		if err != nil {
			return nil, err
		}
		shelf = append(shelf, *e)
	}
	plan, err := readers.ToRig(r, u, shelf)
	if err != nil {
		return nil, huma.NewError(http.StatusUnprocessableEntity, err.Error())
	}
	return &USBRead{USB: u, Plan: plan}, nil
}

func (a *api) readUSB(ctx context.Context, in *struct {
	Body struct {
		Rig   Doc       `json:"rig"`
		Texts []USBText `json:"texts" maxItems:"10"`
	}
}) (*struct{ Body USBRead }, error) {
	var texts []readers.Text
	for _, t := range in.Body.Texts {
		texts = append(texts, readers.Text{Name: t.Name, Data: []byte(t.Text)})
	}
	h, err := readers.ReadReports(texts)
	if err != nil {
		return nil, huma.NewError(http.StatusUnprocessableEntity, "Nothing could be read: "+err.Error())
	}
	out, err := a.read(ctx, in.Body.Rig.raw, h)
	if err != nil {
		return nil, err
	}
	return &struct{ Body USBRead }{*out}, nil
}

func (a *api) readHere(ctx context.Context, in *struct {
	Body struct {
		Rig Doc `json:"rig"`
	}
}) (*struct{ Body USBRead }, error) {
	h, err := a.readThis(ctx)
	if err != nil {
		return nil, err
	}
	out, err := a.read(ctx, in.Body.Rig.raw, h)
	if err != nil {
		return nil, err
	}
	return &struct{ Body USBRead }{*out}, nil
}

// read is a reading with the plan for a rig.
func (a *api) read(ctx context.Context, raw []byte, h *readers.Here) (*USBRead, error) {
	out, err := a.planned(ctx, raw, h.USB)
	if err != nil {
		return nil, err
	}
	for _, c := range h.Captures {
		if len(h.USB.Devices) == 0 {
			out.Plan.Left = append(out.Plan.Left, lang.Text("%s: it is there; where it is plugged in the list does not tell", c.Name))
		}
	}
	if h.Machine == nil {
		return out, nil
	}
	out.Here = h
	r, err := rigfile.Read(raw)
	if err != nil {
		return nil, failed(err)
	}
	edits, tells := h.Machine.Edits(r.Host(), time.Now().Format(time.DateOnly))
	out.Plan.Edits, out.Plan.Tells = append(out.Plan.Edits, edits...), tells
	return out, nil
}

// readThis reads the very computer this runs on.
func (a *api) readThis(ctx context.Context) (*readers.Here, error) {
	h, err := readers.Sysfs(a.sys, func(video string) ([]byte, error) {
		ask, cancel := context.WithTimeout(ctx, 3*time.Second)
		defer cancel()
		return exec.CommandContext(ask, "v4l2-ctl", "--device", "/dev/"+video, "--list-formats-ext").Output()
	})
	if err != nil {
		return nil, huma.NewError(http.StatusUnprocessableEntity, "This computer could not be read: "+err.Error())
	}
	h.Machine = a.own()
	return h, nil
}

// machine is the very computer, for a rig that begins on it.
func (a *api) machine(ctx context.Context, shelf []bench.Stocked) (*bench.Machine, error) {
	h, err := a.readThis(ctx)
	if err != nil {
		return nil, huma.NewError(http.StatusUnprocessableEntity,
			err.Error()+". Begin with a laptop or a desktop instead")
	}
	entries := make([]gear.Entry, len(shelf))
	for i := range shelf {
		entries[i] = shelf[i].Entry
	}
	return &bench.Machine{Laptop: h.Laptop, Read: func(r *rig.Rig) ([]rig.Edit, error) {
		plan, err := readers.ToRig(r, h.USB, entries)
		if err != nil {
			return nil, err
		}
		own, _ := h.Machine.Edits(r.Host(), time.Now().Format(time.DateOnly))
		return append(plan.Edits, own...), nil
	}}, nil
}

func (a *api) power(_ context.Context, in *struct {
	Body struct {
		Rig Doc `json:"rig"`
	}
}) (*struct{ Body view.PowerPlan }, error) {
	v, err := a.verdicts.read(in.Body.Rig.raw)
	if err != nil {
		return nil, err
	}
	return &struct{ Body view.PowerPlan }{*view.Powers(v.Verdict)}, nil
}
