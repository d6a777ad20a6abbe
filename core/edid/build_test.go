package edid

import "eventether/core/hdmi"

// builder makes EDIDs for the tests, byte by byte.
type builder struct {
	base       [BlockSize]byte
	blocks     [][]byte
	descriptor int
	data       []byte
	timings    [][]byte
	flags      byte
}

func newEDID() *builder {
	b := &builder{descriptor: 54}
	copy(b.base[:], header)
	b.base[8], b.base[9] = 0x51, 0xf4 // T, O, T
	b.base[10], b.base[11] = 0x34, 0x12
	b.base[16], b.base[17] = 10, 33
	b.base[18], b.base[19] = 1, 4
	b.base[20] = 0xa5
	b.base[21], b.base[22], b.base[23], b.base[24] = 60, 34, 120, 0x0a
	for i := 38; i < 54; i++ {
		b.base[i] = 1
	}
	return b
}

func (b *builder) put(d []byte) *builder {
	copy(b.base[b.descriptor:b.descriptor+18], d)
	b.descriptor += 18
	return b
}

func (b *builder) text(tag byte, s string) *builder {
	d := append([]byte{0, 0, 0, tag, 0}, s...)
	if len(s) < 13 {
		d = append(d, '\n')
	}
	for len(d) < 18 {
		d = append(d, ' ')
	}
	return b.put(d)
}

// dtd is a detailed timing from totals.
func dtd(w, h, hTotal, vTotal int, clock int64) []byte {
	return detailed(&hdmi.Timing{Width: w, Height: h, HTotal: hTotal, VTotal: vTotal, ClockHz: clock})
}

func dtdOf(t *hdmi.Timing) []byte { return detailed(t) }

func (b *builder) block(tag int, body ...byte) *builder {
	b.data = append(append(b.data, byte(tag<<5|len(body))), body...)
	return b
}

func (b *builder) extended(tag byte, body ...byte) *builder {
	return b.block(7, append([]byte{tag}, body...)...)
}

// extension closes the data blocks and timings gathered so far as one CTA-861 extension.
func (b *builder) extension() *builder {
	e := make([]byte, BlockSize)
	e[0], e[1], e[2], e[3] = 0x02, 3, byte(4+len(b.data)), b.flags
	copy(e[4:], b.data)
	at := 4 + len(b.data)
	for _, d := range b.timings {
		copy(e[at:], d)
		at += 18
	}
	b.blocks = append(b.blocks, e)
	b.data, b.timings = nil, nil
	return b
}

func (b *builder) bytes() []byte {
	for b.descriptor < 126 {
		b.put([]byte{0, 0, 0, 0x10, 0})
	}
	b.base[126] = byte(len(b.blocks))
	seal(b.base[:])
	out := append([]byte(nil), b.base[:]...)
	for _, e := range b.blocks {
		seal(e)
		out = append(out, e...)
	}
	return out
}

// capture4K is what a capture device with a 4K60 input says.
func capture4K() *builder {
	b := newEDID().put(dtdOf(hdmi.ByVIC(97))).put(dtdOf(hdmi.ByVIC(16))).text(0xfc, "Loft stick").
		put([]byte{0, 0, 0, 0xfd, 0, 23, 76, 15, 135, 60, 0, '\n', ' ', ' ', ' ', ' ', ' ', ' '})
	b.base[35], b.base[36] = 0x21, 0x08
	b.base[38], b.base[39] = 0x81, 0xc0
	b.flags = 0x71
	b.block(2, 97, 16|0x80, 4, 31, 19, 95, 94, 93, 5, 34, 33, 32).
		block(1, 0x09, 0x07, 0x07).
		block(4, 0x01, 0, 0).
		block(3, 0x03, 0x0c, 0x00, 0x10, 0x00, 0x38, 0x3c, 0x20, 0x00, 0x60, 0x01, 0x02, 0x03).
		block(3, 0xd8, 0x5d, 0xc4, 0x01, 0x78, 0x80, 0x03).
		extended(0x05, 0xc3, 0x00).
		extended(0x06, 0x0d, 0x01).
		extended(0x0f, 0x01)
	b.timings = [][]byte{dtd(2560, 1440, 2720, 1481, 241_500_000)}
	return b.extension()
}
