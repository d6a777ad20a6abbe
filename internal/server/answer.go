package server

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net/http"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"eventether/core/advise"
	"eventether/core/rig"
	"eventether/core/verdict"
	"eventether/core/view"
	"eventether/internal/rigfile"
	"eventether/internal/store"
	"eventether/internal/wire"
)

// failed turns an error into a response that says what happened, and whether asking again may help: only where the
// connection to the database failed is it 503.
func failed(err error) error {
	var bad *rigfile.Unusable
	var clash *store.Clash
	switch {
	case err == nil:
		return nil
	case errors.As(err, &bad):
		details := make([]error, len(bad.Problems))
		for i, p := range bad.Problems {
			details[i] = &huma.ErrorDetail{Location: p.Place, Message: p.Text}
		}
		return huma.NewError(http.StatusUnprocessableEntity,
			fmt.Sprintf("This rig cannot be used: %d to mend. Nothing was changed.", len(details)), details...)
	case errors.As(err, &clash):
		return huma.NewError(http.StatusConflict, err.Error())
	case errors.Is(err, store.ErrNotFound), errors.Is(err, store.ErrNotOnShelf), errors.Is(err, store.ErrNoNight):
		return huma.NewError(http.StatusNotFound, err.Error())
	case errors.Is(err, store.ErrNothing), errors.Is(err, store.ErrFull), errors.Is(err, store.ErrFrozen),
		errors.Is(err, store.ErrKeyUsed):
		return huma.NewError(http.StatusConflict, err.Error())
	case errors.Is(err, context.Canceled):
		return huma.NewError(499, "the client went away")
	}
	slog.Error("database", "error", err)
	switch store.TroubleOf(err) {
	case store.Away:
		return huma.NewError(http.StatusServiceUnavailable,
			"The database does not answer. Nothing was lost; it is tried again.")
	case store.Late:
		return huma.NewError(http.StatusGatewayTimeout,
			"The database broke this off for its length, and nothing was changed. Try again in a moment.")
	case store.Full:
		return huma.NewError(http.StatusInsufficientStorage,
			"There is no room left on the disk, and nothing was changed. Make room, then try again.")
	case store.Clashed:
		return huma.NewError(http.StatusConflict,
			"Others are changing the same things at this moment, and nothing was changed. Try again.")
	case store.Refused:
		return huma.NewError(http.StatusUnprocessableEntity, "The database cannot keep this: "+err.Error())
	}
	return huma.NewError(http.StatusInternalServerError,
		"Something went wrong inside, and nothing was changed; it is in the log.")
}

// sound refuses a text that cannot be kept.
func sound(what, text string) error {
	if p := rig.TextProblem(text); p != "" {
		return huma.NewError(http.StatusUnprocessableEntity, fmt.Sprintf("%s %s", what, p))
	}
	return nil
}

// Told is a verdict with its JSON, made before anything is stored: what cannot be told is not kept.
type Told struct {
	view.Verdict
	json []byte
}

// MarshalJSON gives what was made.
func (t Told) MarshalJSON() ([]byte, error) { return t.json, nil }

// UnmarshalJSON reads the verdict.
func (t *Told) UnmarshalJSON(b []byte) error {
	t.json = bytes.Clone(b)
	return json.Unmarshal(b, &t.Verdict)
}

// Schema is the verdict's.
func (Told) Schema(r huma.Registry) *huma.Schema {
	return r.Schema(typeOf[view.Verdict](), true, "Verdict")
}

func told(v view.Verdict) (Told, error) {
	text, err := wire.Marshal(v)
	if err != nil {
		return Told{}, huma.NewError(http.StatusInternalServerError,
			"The verdict on this rig cannot be written ("+err.Error()+
				"), so the rig was not kept as it would be. Please report it.")
	}
	return Told{v, text}, nil
}

// soon is how much advice comes with a board at once, in limits weighed: a few dozen milliseconds' worth. The page asks
// for the rest.
const soon = 60_000

// advised is the verdict with advice, worked out in its turn.
func (a *api) advised(ctx context.Context, v *verdict.Verdict, effort int) (out view.Verdict, err error) {
	turn := a.heavy.long
	if effort <= soon {
		turn = a.heavy.short
	}
	err = turn(ctx, func(ctx context.Context) { out = view.Of(v, advise.On(ctx, v, effort)) })
	return out, failed(err)
}

// jsonFormat writes a body only when the whole of it could be made: before the status line, not behind it.
var jsonFormat = huma.Format{
	Marshal: func(w io.Writer, v any) error {
		text, err := wire.Marshal(v)
		if err != nil {
			slog.Error("answer", "error", err)
			if g, ok := w.(gin.ResponseWriter); ok {
				g.WriteHeader(http.StatusInternalServerError)
			}
			return wire.Write(w, huma.NewError(http.StatusInternalServerError,
				"The answer could not be written; it is in the log."))
		}
		_, err = w.Write(append(text, '\n'))
		return err
	},
	Unmarshal: func(data []byte, v any) error {
		if _, described := v.(*any); described {
			// a body that is held to its description; rigs, edits and operations have checks, and words, of their own
			if err := wire.Numbers(data); err != nil {
				return err
			}
		}
		return json.Unmarshal(data, v)
	},
}

// keyHeader names a request; the same key with the same request gives the same answer, and makes nothing twice.
const keyHeader = "Idempotency-Key"

// maxKey is how long a key may be.
const maxKey = 200

// keyed puts the key of a request, and a digest of all it asks, where the store finds them.
func keyed(c *gin.Context) (problem string) {
	name := c.GetHeader(keyHeader)
	if name == "" {
		return ""
	}
	if len(name) > maxKey || rig.TextProblem(name) != "" {
		return fmt.Sprintf("%s: want up to %d plain characters", keyHeader, maxKey)
	}
	body, err := io.ReadAll(c.Request.Body)
	if err != nil {
		return "" // the reader of the body says what is wrong with it
	}
	c.Request.Body = io.NopCloser(bytes.NewReader(body))
	h := sha256.New()
	fmt.Fprintf(h, "%s %s\n", c.Request.Method, c.Request.URL.RequestURI())
	h.Write(body)
	c.Request = c.Request.WithContext(store.WithKey(c.Request.Context(), store.Key{Name: name, Print: h.Sum(nil)}))
	return ""
}
