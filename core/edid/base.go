package edid

import (
	"eventether/core/hdmi"
)

// Single-source lists are shared, so that a mode costs no memory of its own for them.
var (
	fromDTD         = []string{"dtd"}
	fromSVD         = []string{"svd"}
	fromEstablished = []string{"established"}
	fromStandard    = []string{"standard"}
	fromCVT         = []string{"cvt"}
	fromHDMI        = []string{"hdmi-vic"}
	fromY420        = []string{"y420"}
)

// base reads the base block; only the first known bytes are there, the rest is padding.
func (r *Reading) base(b []byte, known int) {
	r.note("base block", 0, BlockSize)
	r.identity(b)
	if known < BlockSize && known < 54 {
		return
	}
	if known >= 38 {
		r.established(b)
	}
	minor := b[19]
	formula := hdmi.GTF // of standard timings VESA lists nowhere; CVT only where the range limits say so
	for i := 54; i < 126 && i+18 <= known; i += 18 {
		if minor >= 4 && b[i] == 0 && b[i+1] == 0 && b[i+3] == 0xfd && b[i+10] == 4 {
			formula = hdmi.CVT
		}
	}
	for i := 38; i < 54; i += 2 {
		r.standard(b[i], b[i+1], minor, formula)
	}
	for i := 54; i < 126 && i+18 <= known; i += 18 {
		r.descriptor(b[i:i+18], i, minor, formula)
	}
	if r.Preferred == nil && known == BlockSize {
		r.warn("the first descriptor is no timing: the sink names no preferred picture")
	}
}

func (r *Reading) identity(b []byte) {
	id := uint(b[8])<<8 | uint(b[9])
	maker := [3]byte{byte(id>>10&31) + '@', byte(id>>5&31) + '@', byte(id&31) + '@'}
	r.Maker = string(maker[:])
	for _, c := range maker {
		if c < 'A' || c > 'Z' || id&0x8000 != 0 {
			r.warn("the maker id 0x%04x does not stand for three letters", id)
			break
		}
	}
	r.ProductCode = int(b[10]) | int(b[11])<<8
	r.Serial = uint32(b[12]) | uint32(b[13])<<8 | uint32(b[14])<<16 | uint32(b[15])<<24
	if b[17] > 0 || b[16] > 0 {
		r.Year = 1990 + int(b[17])
		if b[16] > 0 && b[16] <= 54 {
			r.Week = int(b[16])
		}
	}
	if v := versions[[2]byte{b[18], b[19]}]; v != "" {
		r.Version = v
	} else {
		r.Version = "unknown"
		r.warn("EDID version %d.%d is not one this reader knows; it is read as 1.4", b[18], b[19])
	}
	r.Digital = b[20]&0x80 != 0
	if !r.Digital {
		r.warn("the sink calls itself analog: an HDMI or SDI sink is digital")
	}
	if b[21] > 0 && b[22] > 0 {
		r.WidthCM, r.HeightCM = int(b[21]), int(b[22])
	}
	if r.Digital && b[19] >= 4 { // feature byte, bits 4 and 3
		r.Chroma444, r.Chroma422 = b[24]&0x08 != 0, b[24]&0x10 != 0
	}
}

var versions = map[[2]byte]string{{1, 0}: "1.0", {1, 1}: "1.1", {1, 2}: "1.2", {1, 3}: "1.3", {1, 4}: "1.4"}

// legacyTiming is one of the established timings VESA gave no number.
func legacyTiming(w, h, hTotal, vTotal int, clock int64) hdmi.Monitor {
	return hdmi.Monitor{Computed: hdmi.Computed{Width: w, Height: h, HTotal: hTotal, VTotal: vTotal, ClockHz: clock}}
}

// monitor finds a VESA monitor timing by its number. The numbers stand nearly in order.
func monitor(id int) hdmi.Monitor {
	for i := range hdmi.Monitors {
		if hdmi.Monitors[i].ID == id {
			return hdmi.Monitors[i]
		}
	}
	return hdmi.Monitor{}
}

func (r *Reading) monitor(m *hdmi.Monitor, sources []string) {
	if m.Width == 0 {
		return
	}
	rate := float64(m.ClockHz) / float64(m.HTotal) / float64(m.VTotal)
	if m.Interlaced {
		rate *= 2
	}
	r.add(Picture{Width: m.Width, Height: m.Height, Interlaced: m.Interlaced, RateHz: rate, PixelClockHz: m.ClockHz,
		Sources: sources, hTotal: m.HTotal, vTotal: m.VTotal})
}

// established timings, bits of bytes 35 to 37 from the highest [standard: VESA E-EDID 3.8; the three without a VESA
// number from memory].
var establishedTimings = [17]hdmi.Monitor{
	legacyTiming(720, 400, 900, 449, 28_320_000), legacyTiming(720, 400, 900, 449, 35_500_000), monitor(0x04),
	legacyTiming(640, 480, 864, 525, 30_240_000),
	monitor(0x05), monitor(0x06), monitor(0x08), monitor(0x09),
	monitor(0x0a), monitor(0x0b), legacyTiming(832, 624, 1152, 667, 57_284_000), monitor(0x0f), monitor(0x10),
	monitor(0x11), monitor(0x12), monitor(0x24),
	legacyTiming(1152, 870, 1456, 915, 100_000_000),
}

// established3 are the monitor timings of the bits of an Established Timings III descriptor, from byte 6, highest bit
// first.
var established3 = [44]int{0x01, 0x02, 0x03, 0x07, 0x0e, 0x0c, 0x13, 0x15, 0x16, 0x17, 0x18, 0x19, 0x20, 0x21, 0x23,
	0x25,
	0x27, 0x2e, 0x2f, 0x30, 0x31, 0x29, 0x2a, 0x2b, 0x2c, 0x39, 0x3a, 0x3b, 0x3c, 0x33, 0x34, 0x35,
	0x36, 0x37, 0x3e, 0x3f, 0x41, 0x42, 0x44, 0x45, 0x46, 0x47, 0x49, 0x4a}

func (r *Reading) established(b []byte) {
	for i := range establishedTimings {
		if b[35+i/8]&(0x80>>(i%8)) != 0 {
			r.monitor(&establishedTimings[i], fromEstablished)
		}
	}
}

// standard reads one two-byte timing: width, shape and rate.
func (r *Reading) standard(a, c, minor byte, formula hdmi.Blanking) {
	if a == 1 && c == 1 {
		return // unused
	}
	if a == 0 {
		if c != 0 {
			r.warn("a standard timing has the reserved code 00 %02x", c)
		}
		return
	}
	code := uint16(a)<<8 | uint16(c)
	for i := range hdmi.Monitors {
		if hdmi.Monitors[i].STD == code {
			r.monitor(&hdmi.Monitors[i], fromStandard)
			return
		}
	}
	w := (int(a) + 31) * 8
	h := 0
	switch c >> 6 {
	case 0:
		h = w * 10 / 16
		if minor < 3 {
			h = w
		}
	case 1:
		h = w * 3 / 4
	case 2:
		h = w * 4 / 5
	case 3:
		h = w * 9 / 16
	}
	r.monitor(&hdmi.Monitor{Computed: hdmi.Compute(w, h, float64(c&63)+60, formula)}, fromStandard)
}

// descriptor reads one of the 18-byte descriptors: a timing, or something about the monitor.
func (r *Reading) descriptor(d []byte, at int, minor byte, formula hdmi.Blanking) {
	if d[0] != 0 || d[1] != 0 {
		r.timing(d, at, at == 54)
		return
	}
	switch d[3] {
	case 0xff:
		r.SerialText = text(d[5:])
	case 0xfe:
		r.Texts = append(r.Texts, text(d[5:]))
	case 0xfc:
		r.Name += text(d[5:])
	case 0xfd:
		r.limits(d)
	case 0xf7:
		for i, id := range established3 {
			if d[6+i/8]&(0x80>>(i%8)) != 0 {
				m := monitor(id)
				r.monitor(&m, fromEstablished)
			}
		}
	case 0xfa:
		for i := 5; i < 17; i += 2 {
			r.standard(d[i], d[i+1], minor, formula)
		}
	case 0xf8:
		for i := 6; i < 18; i += 3 {
			r.cvt(d[i : i+3])
		}
	case 0xfb, 0xf9, 0x10: // white points, colour management, dummy
	case 0x00:
	default:
		if d[3] > 0x0f {
			r.unknown("monitor descriptor", at, d)
		} else {
			r.note("maker's descriptor", at, len(d))
		}
	}
}

// text of a descriptor ends with a line feed and is filled with blanks.
func text(b []byte) string {
	n := 0
	for n < len(b) && b[n] != '\n' && b[n] != 0 {
		n++
	}
	out := make([]byte, 0, n)
	for _, c := range b[:n] {
		if c < ' ' || c > '~' {
			c = '?'
		}
		out = append(out, c)
	}
	for len(out) > 0 && out[len(out)-1] == ' ' {
		out = out[:len(out)-1]
	}
	return string(out)
}

func (r *Reading) limits(d []byte) {
	offset := func(bit byte) int {
		if d[4]&bit != 0 {
			return 255
		}
		return 0
	}
	r.Range = &Range{MinVHz: int(d[5]), MaxVHz: int(d[6]) + offset(2), MinHkHz: int(d[7]),
		MaxHkHz: int(d[8]) + offset(8), MaxPixelClockMHz: int(d[9]) * 10}
	if d[4]&3 == 3 {
		r.Range.MinVHz += 255
	}
	if d[4]&12 == 12 {
		r.Range.MinHkHz += 255
	}
	if r.Range.MinVHz > r.Range.MaxVHz || r.Range.MinHkHz > r.Range.MaxHkHz {
		r.warn("the range limits are the wrong way round")
	}
}

// cvt reads one three-byte code: lines, shape and the rates it may come at.
func (r *Reading) cvt(d []byte) {
	if d[0] == 0 && d[1] == 0 && d[2] == 0 {
		return
	}
	lines := (int(d[0]) | int(d[1]&0xf0)<<4) + 1
	h := lines * 2
	w := 0
	switch d[1] & 0x0c {
	case 0x00:
		w = h * 4 / 3 / 8 * 8
	case 0x04:
		w = h * 16 / 9 / 8 * 8
	case 0x08:
		w = h * 16 / 10 / 8 * 8
	case 0x0c:
		w = h * 15 / 9 / 8 * 8
	}
	for _, one := range []struct {
		bit byte
		hz  float64
		b   hdmi.Blanking
	}{{0x10, 50, hdmi.CVT}, {0x08, 60, hdmi.CVT}, {0x04, 75, hdmi.CVT}, {0x02, 85, hdmi.CVT},
		{0x01, 60, hdmi.CVTReduced}} {
		if d[2]&one.bit != 0 {
			r.monitor(&hdmi.Monitor{Computed: hdmi.Compute(w, h, one.hz, one.b)}, fromCVT)
		}
	}
}

// timing reads a detailed timing of 18 bytes.
func (r *Reading) timing(d []byte, at int, preferred bool) {
	clock := int64(d[0])*10_000 + int64(d[1])*2_560_000
	w, hBlank := int(d[2])|int(d[4]&0xf0)<<4, int(d[3])|int(d[4]&0x0f)<<8
	h, vBlank := int(d[5])|int(d[7]&0xf0)<<4, int(d[6])|int(d[7]&0x0f)<<8
	interlaced := d[17]&0x80 != 0
	m := Picture{Width: w, Height: h, Interlaced: interlaced, PixelClockHz: clock, Sources: fromDTD,
		hTotal: w + hBlank, vTotal: h + vBlank,
		wideMM: int(d[12]) | int(d[14]&0xf0)<<4, highMM: int(d[13]) | int(d[14]&0x0f)<<8}
	fields := 1.0
	if interlaced { // the descriptor counts the lines of one field; a frame has both and a half line each
		m.Height, m.vTotal, fields = 2*h, 2*(h+vBlank)+1, 2
	}
	if w == 0 || h == 0 || m.hTotal == 0 || m.vTotal == 0 {
		r.warn("the timing at byte %d has no picture: %d×%d", at, w, m.Height)
		return
	}
	sync := int(d[9]) | int(d[11]&0x30)<<4
	if front := int(d[8]) | int(d[11]&0xc0)<<2; front+sync > hBlank {
		r.warn("the timing at byte %d has %d pixels of blanking and %d of sync: it does not add up", at, hBlank,
			front+sync)
	}
	m.RateHz = float64(clock) / float64(m.hTotal) / float64(m.vTotal) * fields
	if preferred {
		r.Preferred = &Preferred{m.Width, m.Height, m.Interlaced, m.RateHz, clock}
	}
	r.add(m)
}
