package devices

import (
	"bufio"
	"encoding/binary"
	"fmt"
	"io"
	"math"

	"eventether/core/look"
)

// Kinds of records in a batch: each is its kind, one byte; its length in bytes, four; and what it holds. Numbers are
// little endian; times are seconds, as float64.
const (
	recordFrame = 'P' // time, width, height (2 bytes each), samples of luma
	recordClose = 'F' // time, width, height, all of the luma
	recordSound = 'A' // time, rate (4 bytes), channels (1), samples as float32, one channel after the other
	recordGap   = 'G' // time: what came before it was not looked at
)

// Bounds of a record and of a batch.
const (
	mostRecord  = 8192*4320 + 64
	MostBatch   = 96 << 20
	mostSamples = 1 << 20
)

// record is one of a batch; what it holds is good until the next.
type record struct {
	kind           byte
	at             float64
	width, height  int
	bytes          []byte
	rate, channels int
	left, right    []float32
}

// records reads a batch, and hands each record on. An error names the record and what is wrong with it; those before
// it were handed on.
func records(from io.Reader, take func(*record)) error {
	r := bufio.NewReaderSize(io.LimitReader(from, MostBatch), 1<<16)
	var body []byte
	var rec record
	for n := 1; ; n++ {
		var head [5]byte
		if _, err := io.ReadFull(r, head[:]); err == io.EOF {
			return nil
		} else if err != nil {
			return fmt.Errorf("record %d breaks off", n)
		}
		size := binary.LittleEndian.Uint32(head[1:])
		if size > mostRecord {
			return fmt.Errorf("record %d has %d bytes: want %d at most", n, size, mostRecord)
		}
		if cap(body) < int(size) {
			body = make([]byte, size)
		}
		body = body[:size]
		if _, err := io.ReadFull(r, body); err != nil {
			return fmt.Errorf("record %d breaks off", n)
		}
		if err := rec.read(head[0], body); err != nil {
			return fmt.Errorf("record %d: %w", n, err)
		}
		take(&rec)
	}
}

func (r *record) read(kind byte, b []byte) error {
	least := map[byte]int{recordFrame: 12, recordClose: 12, recordSound: 13, recordGap: 8}
	short, known := least[kind]
	switch {
	case !known:
		return fmt.Errorf("kind %q: want P, F, A or G", kind)
	case len(b) < short:
		return fmt.Errorf("%d bytes of kind %c: want %d at least", len(b), kind, short)
	}
	*r = record{kind: kind, at: math.Float64frombits(binary.LittleEndian.Uint64(b)), left: r.left[:0], right: r.right[:0]}
	if !(r.at >= 0 && r.at < 1e7) {
		return fmt.Errorf("at %v: want seconds from 0 on", r.at)
	}
	switch kind {
	case recordFrame, recordClose:
		r.width, r.height = int(binary.LittleEndian.Uint16(b[8:])), int(binary.LittleEndian.Uint16(b[10:]))
		r.bytes = b[12:]
		want := r.width * r.height
		if kind == recordFrame {
			want = look.SampledWidth * look.SampledHeight
		}
		if r.width < 32 || r.height < 18 || r.width > 8192 || r.height > 8192 || len(r.bytes) != want {
			return fmt.Errorf("%d × %d with %d bytes: want 32 × 18 to 8192 × 8192 with %d", r.width, r.height, len(r.bytes), want)
		}
	case recordSound:
		r.rate, r.channels = int(binary.LittleEndian.Uint32(b[8:])), int(b[12])
		n := (len(b) - 13) / 4
		if r.rate < 8000 || r.rate > 192000 || r.channels < 1 || r.channels > 2 || n*4 != len(b)-13 || n%r.channels != 0 ||
			n > mostSamples {
			return fmt.Errorf("%d samples a second of %d channels in %d bytes: want 8000 to 192000 of 1 or 2", r.rate, r.channels,
				len(b)-13)
		}
		each := n / r.channels
		for i := range each {
			r.left = append(r.left, sample(b[13+4*i:]))
		}
		r.right = append(r.right, r.left...)
		if r.channels == 2 {
			for i := range each {
				r.right[i] = sample(b[13+4*(each+i):])
			}
		}
	}
	return nil
}

// sample is one that can be reckoned with: what is no number is silence.
func sample(b []byte) float32 {
	v := math.Float32frombits(binary.LittleEndian.Uint32(b))
	if !(v >= -8 && v <= 8) {
		return 0
	}
	return v
}
