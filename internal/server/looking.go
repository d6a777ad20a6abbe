package server

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"os"
	"reflect"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"eventether/core/view"
	"eventether/internal/media"
	"eventether/internal/system"
)

// rawBody is the type of body of an address that takes something else than JSON; "" of every other one.
func rawBody(method, path string) string {
	switch {
	case path == restorePath:
		return "application/zip"
	case strings.HasPrefix(path, "/api/rigs/") && strings.HasSuffix(path, "/look"),
		method == http.MethodPost && strings.HasPrefix(path, "/api/rigs/") && strings.HasSuffix(path, "/inspections"):
		return "application/octet-stream"
	case method == http.MethodPut && strings.HasPrefix(path, batchPath):
		return "application/octet-stream"
	}
	return ""
}

// mostClip is the largest clip that is taken in; the command looks at larger ones where they are.
const mostClip = 4 << 30

// Looking is what is told while a clip is looked at: how far it is, and at the end what it came to, or why not.
type Looking struct {
	Done    float64      `json:"done" doc:"Seconds of the clip that were looked at"`
	Of      float64      `json:"of"`
	Waits   bool         `json:"waits,omitempty" doc:"Another clip is looked at first"`
	Looked  *view.Looked `json:"looked,omitempty"`
	Cut     string       `json:"cut,omitempty" doc:"Why not all of it was looked at"`
	Problem string       `json:"problem,omitempty"`
}

// looking is one clip at a time: decoding takes all the processors there are.
var looking = make(chan struct{}, 1)

// lookAt takes a clip, looks at it and throws it away. Nothing of it is kept. It is called off when the page goes.
func (a *api) lookAt(c *gin.Context) {
	ctx, cancel := context.WithCancel(c.Request.Context())
	defer cancel()
	v, of, err := a.clipIs(c)
	if err != nil {
		answer(c, err)
		return
	}
	file, err := clipOf(c, os.TempDir())
	if err != nil {
		answer(c, err)
		return
	}
	defer os.Remove(file)
	line := linesTo(c)
	tell := func(l Looking) {
		if line(l) != nil {
			cancel()
		}
	}
	select {
	case looking <- struct{}{}:
	default:
		tell(Looking{Waits: true})
		select {
		case looking <- struct{}{}:
		case <-ctx.Done():
			return
		}
	}
	defer func() { <-looking }()
	go func() {
		select {
		case <-a.closing:
			cancel()
		case <-ctx.Done():
		}
	}()
	l, err := media.Look(ctx, file, media.LookOptions{}, func(done, of float64) { tell(Looking{Done: done, Of: of}) })
	if err != nil {
		tell(Looking{Problem: strings.ReplaceAll(err.Error(), fmt.Sprintf("%q", file), "It")})
		return
	}
	out, err := view.LookedAt(v.Verdict, of, l.Video, l.Audio)
	if err != nil {
		tell(Looking{Problem: err.Error()})
		return
	}
	tell(Looking{Done: l.Seconds, Of: l.Seconds, Looked: out, Cut: l.Cut})
}

// clipIs is the rig a clip is of, and what of it.
func (a *api) clipIs(c *gin.Context) (v *known, of string, err error) {
	id, err := uuid.Parse(c.Param("id"))
	if err != nil {
		return nil, "", huma.NewError(http.StatusNotFound, "no such rig")
	}
	if v, err = a.judged(c.Request.Context(), id); err != nil {
		return nil, "", err
	}
	of = c.DefaultQuery("of", "programme")
	if _, err := view.LookedAt(v.Verdict, of, nil, nil); err != nil {
		return nil, "", huma.NewError(http.StatusUnprocessableEntity, err.Error())
	}
	return v, of, nil
}

// throwAway removes a clip nobody needs any more, where there is one.
func throwAway(path string) error {
	if path == "" {
		return nil
	}
	return os.Remove(path)
}

// clipOf keeps the body in a file of its own in a folder, for as long as it is looked at.
func clipOf(c *gin.Context, folder string) (path string, err error) {
	if c.Request.ContentLength > mostClip {
		return "", tooLarge()
	}
	f, err := os.CreateTemp(folder, "eventether-look-*")
	if err != nil {
		return "", err
	}
	if _, free, err := system.Room(folder); err == nil && c.Request.ContentLength > 0 &&
		uint64(c.Request.ContentLength) > free*9/10 {
		_ = f.Close()
		_ = os.Remove(f.Name())
		return "", huma.NewError(http.StatusInsufficientStorage,
			"There is no room for the clip on this computer's drive; eventether look FILE looks at it where it is.")
	}
	size, err := io.Copy(f, io.LimitReader(c.Request.Body, mostClip+1))
	if shut := f.Close(); err == nil {
		err = shut
	}
	switch {
	case err != nil:
		err = huma.NewError(http.StatusBadRequest, "The clip did not come in whole; nothing of it was kept.")
	case size > mostClip:
		err = tooLarge()
	case size == 0:
		err = huma.NewError(http.StatusUnprocessableEntity, "The clip is empty.")
	default:
		return f.Name(), nil
	}
	return "", errors.Join(err, os.Remove(f.Name()))
}

func tooLarge() error {
	return huma.NewError(http.StatusRequestEntityTooLarge, fmt.Sprintf(
		"The clip is larger than the %d GB that are taken in; eventether look FILE looks at larger ones where they are.",
		mostClip>>30))
}

// registerLooking says what a clip may be of, and describes what looking answers.
func (a *api) registerLooking(h huma.API, op func(method, path, id, summary string) huma.Operation) {
	huma.Register(h, op("GET", "/api/rigs/{id}/look", "lookedOf",
		"What a clip may be of: the pictures that get to the computer, and the programme"),
		func(ctx context.Context, in *struct {
			ID uuid.UUID `path:"id"`
		}) (*struct{ Body []view.LookedFigure }, error) {
			v, err := a.judged(ctx, in.ID)
			if err != nil {
				return nil, err
			}
			return &struct{ Body []view.LookedFigure }{view.LookedOf(v.Verdict)}, nil
		})
	of := h.OpenAPI()
	of.Components.Schemas.Schema(reflect.TypeFor[Looking](), true, "Looking")
	look := op("POST", "/api/rigs/{id}/look", "lookAt",
		"Look at a clip: frames, border, light, sound, beside what is planned")
	look.Description =
		"The body is the clip. The answer is lines of JSON, each a Looking: how far it is, and at the end what it came to. Nothing is kept."
	look.RequestBody = &huma.RequestBody{Required: true,
		Content: map[string]*huma.MediaType{"application/octet-stream": {}}}
	look.Responses = map[string]*huma.Response{"200": {Description: "Lines of JSON",
		Content: map[string]*huma.MediaType{"application/x-ndjson": {Schema: &huma.Schema{Ref: "#/components/schemas/Looking"}}}}}
	of.AddOperation(&look)
}
