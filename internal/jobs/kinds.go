package jobs

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/google/uuid"

	"eventether/core/picture"
	"eventether/internal/line"
	"eventether/internal/media"
)

// Names of the kinds of long work there are.
const (
	Inspecting = "inspect" // a clip; what it comes to is a media.Inspected
	Measuring  = "measure" // what this computer can do; a media.Result
	TryingLine = "line"    // what a line carries; a line.Tried. The secret is the line.Try: its address may hold a key as well as its key
)

// InspectSpec is a clip to be inspected.
type InspectSpec struct {
	Path     string    `json:"path"`  // of the clip, which goes when the work has ended
	Other    string    `json:"other"` // another of the same sound, to be held against it; none when empty
	Name     string    `json:"name"`  // as people know it
	Rig      uuid.UUID `json:"rig"`
	Revision int       `json:"revision"`
	Of       string    `json:"of"`   // what of the rig it is of
	Kbps     float64   `json:"kbps"` // planned for its picture
}

// InspectStep is how far an inspection is, in seconds of the clip.
type InspectStep struct {
	Done float64 `json:"done"`
	Of   float64 `json:"of"`
}

// MeasureSpec is what a computer is measured with.
type MeasureSpec struct {
	Width   int          `json:"width"`
	Height  int          `json:"height"`
	Rate    picture.Rate `json:"rate"`
	Seconds float64      `json:"seconds"` // each step
	Folder  string       `json:"folder"`  // where writing is measured; it is not when empty
}

// Asked gives the spec of a kind as Put takes it.
func Asked(spec any) map[string]any {
	out := map[string]any{}
	if text, err := json.Marshal(spec); err == nil {
		_ = json.Unmarshal(text, &out)
	}
	return out
}

// Kinds are all kinds of long work; clips is the folder clips wait in, none of which stays when its work has ended.
func Kinds(clips string) []Kind {
	return []Kind{
		{Name: Inspecting, Run: inspect, After: func(spec json.RawMessage) {
			var s InspectSpec
			if json.Unmarshal(spec, &s) != nil {
				return
			}
			for _, path := range []string{s.Path, s.Other} {
				if within(clips, path) {
					_ = os.Remove(path)
				}
			}
		}},
		{Name: Measuring, Here: true, Run: measure},
		{Name: TryingLine, Here: true, Run: tryLine},
	}
}

// within tells whether a file is one of a folder's own.
func within(folder, path string) bool {
	return folder != "" && filepath.Dir(path) == filepath.Clean(folder)
}

func inspect(ctx context.Context, w Work) (any, error) {
	var s InspectSpec
	if err := json.Unmarshal(w.Spec, &s); err != nil {
		return nil, err
	}
	out, err := media.Inspect(ctx, s.Path, media.InspectOptions{Kbps: s.Kbps, Shots: true, Times: true, Other: s.Other}, func(done, of float64) { w.Tell(InspectStep{done, of}) })
	if err != nil {
		return nil, errors.New(strings.NewReplacer(fmt.Sprintf("%q", s.Path), "It", fmt.Sprintf("%q", s.Other), "The second clip").Replace(err.Error()))
	}
	out.File = s.Name
	return out, nil
}

func measure(ctx context.Context, w Work) (any, error) {
	var s MeasureSpec
	if err := json.Unmarshal(w.Spec, &s); err != nil {
		return nil, err
	}
	return media.Measure(ctx, media.Options{Width: s.Width, Height: s.Height, Rate: s.Rate, Each: time.Duration(s.Seconds * float64(time.Second)),
		Folder: s.Folder}, func(p media.Progress) { w.Tell(p) })
}

func tryLine(ctx context.Context, w Work) (any, error) {
	t, ok := w.Secret.(line.Try)
	if !ok {
		return nil, errors.New("what was to be tried is not known any more")
	}
	return line.Do(ctx, t, func(p line.Step) { w.Tell(p) })
}

// Sweep throws clips away that no work is there for any more, such as those whose upload broke off.
func (q *Queue) Sweep(ctx context.Context, clips string) error {
	files, err := os.ReadDir(clips)
	if err != nil {
		return err
	}
	for _, f := range files {
		path := filepath.Join(clips, f.Name())
		var waits bool
		if err := q.pool.QueryRow(ctx, "select exists (select 1 from jobs where state in ('waits', 'runs') and $1 in (spec->>'path', spec->>'other'))", path).Scan(&waits); err != nil {
			return err
		}
		if st, err := f.Info(); err == nil && !waits && time.Since(st.ModTime()) > time.Hour {
			_ = os.Remove(path)
		}
	}
	return nil
}
