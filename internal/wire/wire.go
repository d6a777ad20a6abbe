// Package wire answers: how does anything leave this program as JSON?
//
// It writes as encoding/json does, but for one thing: a list that is empty is [], never null, whoever made it. A page
// that counts what it was sent needs no guard for a list nobody filled.
package wire

import (
	"bytes"
	"io"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	jsonv1 "github.com/go-json-experiment/json/v1"
)

var options = json.JoinOptions(jsonv1.DefaultOptionsV1(), json.FormatNilSliceAsNull(false),
	json.FormatNilMapAsNull(false),
	jsontext.EscapeForHTML(false))

// Marshal is v in one line, without a line's end.
func Marshal(v any) ([]byte, error) { return json.Marshal(v, options) }

// Write writes v and a line's end, and nothing at all when v cannot be written.
func Write(w io.Writer, v any) error { return write(w, v) }

// WriteIndented is Write over lines indented by two blanks.
func WriteIndented(w io.Writer, v any) error { return write(w, v, jsontext.WithIndent("  ")) }

func write(w io.Writer, v any, more ...json.Options) error {
	var b bytes.Buffer
	if err := json.MarshalWrite(&b, v, append([]json.Options{options}, more...)...); err != nil {
		return err
	}
	b.WriteByte('\n')
	_, err := w.Write(b.Bytes())
	return err
}
