package wire

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"math"

	"github.com/go-json-experiment/json/jsontext"
)

// MostNumber is the largest number that comes in: beyond any time in milliseconds, any size in bytes and any rate, so
// that sums and products of a few of them are finite.
const MostNumber = 1e15

// Numbers says of JSON that comes in where a number stands that is out of all bounds; nil where none does. Each field
// has bounds of its own besides. What is no JSON is left to whoever reads it.
func Numbers(raw []byte) error {
	d := jsontext.NewDecoder(bytes.NewReader(raw), jsontext.AllowDuplicateNames(true), jsontext.AllowInvalidUTF8(true))
	for {
		t, err := d.ReadToken()
		if errors.Is(err, io.EOF) || err != nil {
			return nil
		}
		if t.Kind() == '0' {
			if v, err := t.Float(); err != nil || math.IsNaN(v) || v > MostNumber || v < -MostNumber {
				return fmt.Errorf("%s: %s is larger than any figure we keep", d.StackPointer(), t)
			}
		}
	}
}
