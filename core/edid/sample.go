package edid

import "eventether/core/hdmi"

// Sample is the smallest sound EDID that prefers one coded picture: a base block of 128 bytes whose detailed timing has
// the code's raster, with made-up sync. Pictures wider than 4095 do not fit one. It is what a simulated sink answers.
func Sample(vic int) []byte {
	b := make([]byte, BlockSize)
	copy(b, header)
	b[8], b[9], b[18], b[19], b[20], b[24] = 0x51, 0xf4, 1, 4, 0xa5,
		0x0a // maker TOT, EDID 1.4, digital, the first timing is its own
	for i := 38; i < 54; i++ {
		b[i] = 1
	}
	if t := hdmi.ByVIC(vic); t != nil {
		copy(b[54:], detailed(t))
	}
	for at := 72; at < 126; at += 18 {
		b[at+3] = 0x10 // dummy descriptors
	}
	seal(b)
	return b
}

// detailed is the 18-byte timing of a coded picture.
func detailed(t *hdmi.Timing) []byte {
	h, vTotal := t.Height, t.VTotal
	if t.Interlaced { // counted by the field
		h, vTotal = h/2, vTotal/2
	}
	hBlank, vBlank := t.HTotal-t.Width, vTotal-h
	front, sync := hBlank/4, hBlank/4
	clock := t.ClockHz / 10_000
	d := []byte{byte(clock), byte(clock >> 8), byte(t.Width), byte(hBlank), byte(t.Width>>8<<4 | hBlank>>8),
		byte(h), byte(vBlank), byte(h>>8<<4 | vBlank>>8), byte(front), byte(sync), 2<<4 | 3,
		byte(front>>8<<6 | sync>>8<<4),
		0x58, 0x54, 0x21, 0, 0, 0x1e} // 600 × 340 mm
	if t.Aspect == "4:3" {
		d[12], d[13], d[14] = 0x90, 0x2c, 0x11 // 400 × 300 mm
	}
	if t.Interlaced {
		d[17] |= 0x80
	}
	return d
}

// seal makes the checksum of a block right.
func seal(block []byte) {
	var s byte
	for _, c := range block[:BlockSize-1] {
		s += c
	}
	block[BlockSize-1] = -s
}
