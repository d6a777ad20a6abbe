package server

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"os"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/ladder"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/sheet"
	"eventether/core/verdict"
	"eventether/core/view"
	"eventether/internal/jobs"
	"eventether/internal/media"
	"eventether/internal/readers"
	"eventether/internal/rigfile"
	"eventether/internal/store"
)

// Sending is everything the Send screen shows of a rig.
type Sending struct {
	State    limit.State     `json:"state" enum:"slack,taut,kinked,untested,snapped"`
	Sheet    *sheet.Sheet    `json:"sheet"`
	Plan     *ladder.Carries `json:"plan" doc:"What the line carries"`
	Sends    []rig.Send      `json:"sends" doc:"What each destination is sent, held changes among it"`
	Regions  []ladder.Region `json:"regions" doc:"What each destination can be sent"`
	Limits   []view.Limit    `json:"limits" doc:"Every limit of what is computed, sent and kept"`
	Outs     []view.Out      `json:"outs" doc:"Destinations and recordings, in their order"`
	Computer string          `json:"computer" doc:"Item id of the computer that takes the pictures; empty when there is none"`
	Can      *gear.Computes  `json:"can,omitempty" doc:"What it can do, as measured or stated"`
	Windows  []ladder.Window `json:"windows" doc:"Shapes viewers may see the picture in that cut its sides off"`
	Stale    []Stale         `json:"stale" doc:"Destinations whose limits nobody has checked for 90 days"`
}

// Stale is a destination whose limits were checked long ago, or never.
type Stale struct {
	Destination string `json:"destination"`
	CheckedOn   string `json:"checkedOn" doc:"Empty when nobody has said when"`
	Days        int    `json:"days"`
}

// staleDays is after how many days a destination's limits want another look: such limits change.
const staleDays = 90

func (a *api) registerSend(h huma.API, op func(method, path, id, summary string) huma.Operation,
	raw func(huma.Operation) huma.Operation) {
	huma.Register(h,
		raw(op("POST", "/api/send", "sendOf",
			"What is computed, sent and kept: the sheet, the line, what each destination can be sent")), a.send)
	huma.Register(h, op("GET", "/api/rigs/{id}/sheet", "sheetOf", "The encoder sheet of a rig, as a file"), a.sheet)
	huma.Register(h, op("POST", "/api/measure", "measure", "Measure this computer; one at a time"), a.measure)
	huma.Register(h, op("GET", "/api/measure", "measured", "How far measuring has come, and what it found"), a.measured)
	huma.Register(h, op("DELETE", "/api/measure", "stopMeasuring", "Break measuring off"), a.stopMeasuring)
	huma.Register(h, op("POST", "/api/measurement", "readMeasurement",
		"Read a file of measurements made on another computer"), a.readMeasurement)
	huma.Register(h, op("GET", "/api/destinations", "knownDestinations",
		"Kinds of destination to begin from: one's own, then the general ones"), a.destinations)
	huma.Register(h, op("PUT", "/api/destinations", "keepDestination",
		"Keep what a destination of one's own takes, under its name"), a.keepDestination)
	huma.Register(h, op("DELETE", "/api/destinations", "dropDestination",
		"Take a destination of one's own off the list; keeping one of its name brings it back"), a.dropDestination)
	huma.Register(h, op("POST", "/api/uplink", "readUplink", "Read a table of upload measurements"), a.readUplink)
	huma.Register(h, op("POST", "/api/recording", "readRecording", "What a test recording on this computer really is"),
		a.readRecording)
}

func (a *api) send(_ context.Context, in *struct {
	Body struct {
		Rig   Doc   `json:"rig"`
		Edits Edits `json:"edits,omitempty" doc:"Changes that are held, and not kept yet"`
		Since *Doc  `json:"since,omitempty" doc:"An older state to compare the sheet with"`
	}
}) (*struct{ Body Sending }, error) {
	v, err := a.verdicts.read(in.Body.Rig.raw)
	if err != nil {
		return nil, err
	}
	now := v.Verdict
	if len(in.Body.Edits.raw) > 0 {
		edits, err := rigfile.ReadEdits(in.Body.Edits.raw)
		if err != nil {
			return nil, failed(err)
		}
		if len(edits) > 0 {
			changed, err := rigfile.Change(v.Given, edits)
			if err != nil {
				return nil, failed(err)
			}
			now = judge.Rig(changed)
		}
	}
	out := sending(now)
	if in.Body.Since != nil {
		older, err := a.verdicts.read(in.Body.Since.raw)
		if err != nil {
			return nil, err
		}
		out.Sheet.Since(sheet.Of(older.Verdict))
	}
	return &struct{ Body Sending }{out}, nil
}

func sending(v *verdict.Verdict) Sending {
	said := view.Of(v, nil)
	out := Sending{State: v.State, Sheet: sheet.Of(v), Plan: ladder.Of(v), Regions: ladder.Regions(v),
		Windows: ladder.Windows(v.Show.Programme), Outs: said.Outs, Limits: []view.Limit{}, Stale: []Stale{}}
	out.Sends = make([]rig.Send, len(v.Given.Show.Destinations))
	for i := range out.Sends {
		out.Sends[i] = v.Given.Show.Destinations[i].Send
	}
	for _, l := range said.Limits {
		if l.Stage == plans.Send && l.Rule != rules.Angles.Name && !ofSound(&l) {
			out.Limits = append(out.Limits, l)
		}
	}
	if it := v.Host(); it != nil {
		out.Computer, out.Can = it.ID, it.Gear.Computes
	}
	for _, d := range v.Show.Destinations {
		if d.Ingest == nil {
			continue // it is asked for
		}
		at, err := time.Parse(time.DateOnly, d.Ingest.CheckedOn)
		days := int(time.Since(at).Hours() / 24)
		switch {
		case err != nil:
			out.Stale = append(out.Stale, Stale{Destination: d.Name})
		case days > staleDays:
			out.Stale = append(out.Stale, Stale{d.Name, d.Ingest.CheckedOn, days})
		}
	}
	return out
}

func (a *api) sheet(ctx context.Context, in *struct {
	ID       uuid.UUID `path:"id"`
	Revision int       `query:"revision" minimum:"0" maximum:"2147483647"`
	As       string    `query:"as" enum:"text,markdown,csv,json,command" default:"text"`
}) (*handedOut, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	_, rev, err := a.store.Get(ctx, in.ID, in.Revision)
	if err != nil {
		return nil, failed(err)
	}
	v, err := a.verdicts.revision(&rev)
	if err != nil {
		return nil, err
	}
	s := sheet.Of(v.Verdict)
	out := &handedOut{ContentType: "text/plain; charset=utf-8"}
	end := "txt"
	switch in.As {
	case "markdown":
		out.ContentType, out.Body, end = "text/markdown; charset=utf-8", []byte(s.Markdown()), "md"
	case "csv":
		out.ContentType, out.Body, end = "text/csv; charset=utf-8", []byte(s.CSV()), "csv"
	case "json":
		text, err := json.MarshalIndent(s, "", "  ")
		if err != nil {
			return nil, err
		}
		out.ContentType, out.Body, end = "application/json", append(text, '\n'), "json"
	case "command":
		out.Body, end = []byte("#!/bin/sh\n"+s.Commands()), "sh"
	default:
		out.Body = []byte(s.Text())
	}
	name := strings.TrimSuffix(strings.TrimSuffix(fileName(v.Given.Name), ".json"), ".rig")
	out.ContentDisposition = `attachment; filename="` + name + "-sheet." + end + `"`
	return out, nil
}

// Measuring is how far it has come.
type Measuring struct {
	Running  bool           `json:"running"`
	Progress media.Progress `json:"progress"`
	Result   *media.Result  `json:"result,omitempty"`
	Failed   string         `json:"failed,omitempty" doc:"Why there is no result"`
}

// ErrMeasuring says that measuring runs already.
var ErrMeasuring = errors.New("this computer is being measured already: wait, or break it off")

// measures is what measuring is about: this computer.
const measures = "here"

// lastMeasured is the newest measuring there is, nil where there is none.
func (a *api) lastMeasured(ctx context.Context) (*jobs.Queue, *jobs.Job, error) {
	q, err := a.jobs()
	if err != nil {
		return nil, nil, errNoWork(err)
	}
	all, err := q.Of(ctx, jobs.Measuring, measures)
	if err != nil || len(all) == 0 {
		return q, nil, failed(err)
	}
	j, err := q.Get(ctx, all[0].ID)
	return q, j, failed(err)
}

// measuringOf tells how far measuring has come.
func measuringOf(j *jobs.Job) (*struct{ Body Measuring }, error) {
	out := &struct{ Body Measuring }{}
	if j == nil {
		return out, nil
	}
	m := &out.Body
	m.Running = !j.State.Ended()
	if j.Step != nil {
		if err := json.Unmarshal(j.Step, &m.Progress); err != nil {
			return nil, failed(err)
		}
	}
	switch j.State {
	case jobs.Done:
		return out, failed(json.Unmarshal(j.Result, &m.Result))
	case jobs.Off:
		m.Failed = "broken off; nothing is left behind"
	case jobs.Failed:
		m.Failed = j.Problem
	}
	return out, nil
}

func (a *api) measure(ctx context.Context, in *struct {
	Body struct {
		Width   int     `json:"width" minimum:"64" maximum:"8192"`
		Height  int     `json:"height" minimum:"64" maximum:"8192"`
		Rate    string  `json:"rate" maxLength:"30" doc:"An exact fraction"`
		Folder  string  `json:"folder,omitempty" maxLength:"1000" doc:"Where writing is measured; it is not when empty"`
		Seconds float64 `json:"seconds,omitempty" minimum:"0.2" maximum:"60" doc:"How long each step runs; 2 when not said"`
	}
}) (*struct{ Body Measuring }, error) {
	rate, err := picture.ParseRate(in.Body.Rate)
	if err != nil {
		return nil, huma.NewError(http.StatusUnprocessableEntity, err.Error())
	}
	if in.Body.Folder != "" {
		if st, err := os.Stat(in.Body.Folder); err != nil || !st.IsDir() {
			return nil, huma.NewError(http.StatusUnprocessableEntity,
				fmt.Sprintf("folder %q is not there: want one that can be written to", in.Body.Folder))
		}
	}
	ctx, cancel := limited(ctx)
	defer cancel()
	q, last, err := a.lastMeasured(ctx)
	if err != nil {
		return nil, err
	}
	if last != nil && !last.State.Ended() {
		return nil, huma.NewError(http.StatusConflict, ErrMeasuring.Error())
	}
	j, err := q.Put(ctx, jobs.Measuring, measures, jobs.Asked(jobs.MeasureSpec{Width: in.Body.Width, Height: in.Body.Height, Rate: rate,
		Seconds: cmp.Or(in.Body.Seconds, 2), Folder: in.Body.Folder}), nil)
	if err != nil {
		return nil, errNoWork(err)
	}
	return measuringOf(j)
}

func (a *api) measured(ctx context.Context, _ *struct{}) (*struct{ Body Measuring }, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	_, j, err := a.lastMeasured(ctx)
	if err != nil {
		return nil, err
	}
	return measuringOf(j)
}

func (a *api) stopMeasuring(ctx context.Context, _ *struct{}) (*struct{ Body Measuring }, error) {
	ctx, cancel := limited(ctx)
	defer cancel()
	q, j, err := a.lastMeasured(ctx)
	if err != nil {
		return nil, err
	}
	if j != nil && !j.State.Ended() {
		if err := q.CallOff(ctx, j.ID); err != nil {
			return nil, failed(err)
		}
	}
	return a.measured(ctx, nil)
}

func (a *api) readMeasurement(_ context.Context, in *struct {
	Body struct {
		Text string `json:"text" maxLength:"200000"`
	}
}) (*struct{ Body media.Result }, error) {
	r, err := media.ReadResult([]byte(in.Body.Text))
	if err != nil {
		return nil, huma.NewError(http.StatusUnprocessableEntity, err.Error())
	}
	// What it says a computer can do has to stand in a rig.
	probe := &rig.Rig{Format: rig.Format, Name: "x", Show: rig.Show{Programme: rig.Programme{Width: 1280, Height: 720,
		Rate: picture.R(30)}, Minutes: 1, Program: rig.Program{Kind: "encoder"}, Destinations: []rig.Destination{}},
		Items: []rig.Item{{ID: "pc", Label: "pc", Gear: gear.Gear{Kind: gear.Computer, Name: "pc",
			Computes: &r.Computes}}}, Leads: []rig.Lead{}}
	for _, p := range rig.Check(probe) {
		if strings.Contains(p.Place, "computes") {
			return nil, huma.NewError(http.StatusUnprocessableEntity, "This measurement cannot be used: "+p.String())
		}
	}
	return &struct{ Body media.Result }{*r}, nil
}

// BeginFrom is a kind of destination to begin from: one of the general ones, or one of one's own.
type BeginFrom struct {
	rig.Known
	Own   bool `json:"own"`
	Stale bool `json:"stale" doc:"Nobody has looked at its limits for more than 90 days"`
}

func (a *api) destinations(ctx context.Context, _ *struct{}) (*struct{ Body []BeginFrom }, error) {
	own, err := a.store.Profiles(ctx)
	if err != nil {
		return nil, err
	}
	out := []BeginFrom{}
	for i := range own {
		k, err := own[i].Known()
		if err != nil {
			return nil, err
		}
		out = append(out, BeginFrom{k, true, stale(k.Ingest.CheckedOn)})
	}
	for _, k := range rig.KnownDestinations {
		out = append(out, BeginFrom{Known: k})
	}
	return &struct{ Body []BeginFrom }{out}, nil
}

// stale tells whether a day is so long ago that limits want another look, or no day is said.
func stale(day string) bool {
	at, err := time.Parse(time.DateOnly, day)
	return err != nil || time.Since(at) > staleDays*24*time.Hour
}

func (a *api) keepDestination(ctx context.Context, in *struct {
	Body rig.Known
}) (*struct{}, error) {
	if p := rig.TextProblem(in.Body.Name); p != "" {
		return nil, huma.NewError(http.StatusUnprocessableEntity, fmt.Sprintf("name %q %s", in.Body.Name, p))
	}
	if slices.ContainsFunc(rig.KnownDestinations, func(k rig.Known) bool { return k.Name == in.Body.Name }) {
		return nil, huma.NewError(http.StatusUnprocessableEntity,
			fmt.Sprintf("%q is one of the general kinds: give yours another name", in.Body.Name))
	}
	if p := rig.CheckKnown(&in.Body); p != "" {
		return nil, huma.NewError(http.StatusUnprocessableEntity, "These limits cannot be kept: "+p)
	}
	return nil, a.store.KeepProfile(ctx, in.Body, who)
}

func (a *api) dropDestination(ctx context.Context, in *struct {
	Called string `query:"name" required:"true" maxLength:"120"`
}) (*struct{}, error) {
	err := a.store.DropProfile(ctx, in.Called, who)
	if errors.Is(err, store.ErrNoProfile) {
		return nil, huma.NewError(http.StatusNotFound, err.Error())
	}
	return nil, err
}

func (a *api) readUplink(_ context.Context, in *struct {
	Body struct {
		Text string `json:"text" maxLength:"1000000"`
	}
}) (*struct{ Body readers.UplinkFile }, error) {
	f, err := readers.ReadUplink([]byte(in.Body.Text))
	if err != nil {
		return nil, huma.NewError(http.StatusUnprocessableEntity, err.Error())
	}
	return &struct{ Body readers.UplinkFile }{*f}, nil
}

func (a *api) readRecording(ctx context.Context, in *struct {
	Body struct {
		Path         string  `json:"path,omitempty" maxLength:"4000" doc:"Where the file is on this computer"`
		MB           float64 `json:"mb,omitempty" minimum:"0" maximum:"100000000" doc:"In its place: how large a recording is, in millions of bytes"`
		Minutes      float64 `json:"minutes,omitempty" minimum:"0" maximum:"100000" doc:"And how long"`
		DeclaredKbps float64 `json:"declaredKbps,omitempty" minimum:"0" maximum:"100000000" doc:"What a player shows of it, to check one against the other"`
	}
}) (*struct{ Body media.Film }, error) {
	if b := &in.Body; b.Path == "" {
		if b.MB <= 0 || b.Minutes <= 0 {
			return nil, huma.NewError(http.StatusUnprocessableEntity,
				"want a path, or a size in MB and a length in minutes, both above nothing")
		}
		return &struct{ Body media.Film }{media.TypedRecording(b.MB, b.Minutes, b.DeclaredKbps)}, nil
	}
	r, err := media.ReadRecording(ctx, in.Body.Path)
	if err != nil {
		return nil, huma.NewError(http.StatusUnprocessableEntity, err.Error())
	}
	return &struct{ Body media.Film }{*r}, nil
}
