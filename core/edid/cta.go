package edid

import (
	"fmt"

	"eventether/core/hdmi"
)

// cta gathers what the CTA-861 extensions of one EDID say together.
type cta struct {
	r          *Reading
	hdmi       bool
	oldTMDS    int64 // of the older vendor block, Hz; 0 where it does not say
	forum      bool
	forumTMDS  int64
	svds       []int // codes in the order of the video data blocks, for the 4:2:0 map
	alsoMap    []byte
	alsoAll    bool
	override   int
	overrideAt int
	natives    int
}

// block reads one extension of 128 bytes that begins at byte at of the EDID.
func (c *cta) block(b []byte, at int) {
	r := c.r
	revision, timings := b[1], int(b[2])
	if revision == 0 {
		r.warn("the CTA-861 extension at byte %d has revision 0", at)
	}
	if revision >= 2 {
		r.Audio = r.Audio || b[3]&0x40 != 0
		r.Chroma444 = r.Chroma444 || b[3]&0x20 != 0
		r.Chroma422 = r.Chroma422 || b[3]&0x10 != 0
		c.natives = int(b[3] & 0x0f)
	}
	if timings == 0 {
		return // neither data blocks nor timings
	}
	if timings < 4 || timings > 127 {
		r.bad(at+2, fmt.Sprintf("byte %d says that timings begin at byte %d of the block: 4 to 127 is possible", at+2,
			timings))
		return
	}
	if revision >= 3 {
		c.dataBlocks(b[4:timings], at+4)
	}
	for i := timings; i+18 <= 127; i += 18 {
		if b[i] == 0 && b[i+1] == 0 {
			break
		}
		r.timing(b[i:i+18], at+i, false)
	}
}

func (c *cta) dataBlocks(b []byte, at int) {
	for i := 0; i < len(b); {
		tag, length := b[i]>>5, int(b[i]&31)
		if i+1+length > len(b) {
			c.r.bad(at+i, fmt.Sprintf("the data block at byte %d says it is %d bytes long, and %d are left", at+i,
				length, len(b)-i-1))
			return
		}
		body := b[i+1 : i+1+length]
		c.dataBlock(tag, body, at+i)
		i += 1 + length
	}
}

func (c *cta) dataBlock(tag byte, d []byte, at int) {
	r := c.r
	name := ""
	switch tag {
	case 1:
		name = "audio data block"
		c.audio(d, at)
	case 2:
		name = "video data block"
		for _, code := range d {
			c.svd(code)
		}
	case 3:
		c.vendor(d, at)
		return
	case 4:
		name = "speaker allocation data block"
		c.speakers(d)
	case 5:
		name = "VESA display transfer characteristic data block"
	case 6:
		name = "video format data block"
		c.formats(d)
	case 7:
		c.extended(d, at)
		return
	default:
		r.unknown(fmt.Sprintf("data block with the reserved tag %d", tag), at, d)
		return
	}
	r.note(name, at, len(d)+1)
}

// svd reads one short video descriptor. The native bit holds for codes 1 to 64 only; 65 to 127 and 193 to 253 are
// plain codes.
func (c *cta) svd(code byte) {
	vic, native := int(code), false
	if code >= 129 && code <= 192 {
		vic, native = int(code&0x7f), true
	}
	c.svds = append(c.svds, vic)
	if !c.code(vic, fromSVD, native, false) {
		c.r.warn("video code %d is reserved: no picture is known for it", code)
	}
}

// code adds the picture of a video identification code.
func (c *cta) code(vic int, sources []string, native, only420 bool) bool {
	t := hdmi.ByVIC(vic)
	if t == nil {
		return false
	}
	rate := float64(t.ClockHz) / float64(t.HTotal) / float64(t.VTotal)
	if t.Interlaced {
		rate *= 2
	}
	c.r.add(Picture{Width: t.Width, Height: t.Height, Interlaced: t.Interlaced, RateHz: rate, PixelClockHz: t.ClockHz,
		VIC: &t.VIC, Native: native,
		Chroma420Only: only420, Sources: sources, hTotal: t.HTotal, vTotal: t.VTotal})
	return true
}

func (c *cta) vendor(d []byte, at int) {
	if len(d) < 3 {
		c.r.bad(at, fmt.Sprintf("the vendor block at byte %d is %d bytes long: it begins with a maker's number of 3",
			at, len(d)))
		return
	}
	switch oui := int(d[0]) | int(d[1])<<8 | int(d[2])<<16; oui {
	case 0x000c03:
		c.r.note("HDMI vendor block", at, len(d)+1)
		c.hdmiVendor(d, at)
	case 0xc45dd8:
		c.r.note("HDMI Forum vendor block", at, len(d)+1)
		c.forumBlock(d[3:], at)
	default:
		c.r.unknown(fmt.Sprintf("vendor block %02x-%02x-%02x", d[2], d[1], d[0]), at, d)
	}
}

// hdmiVendor reads the older vendor block [memory: HDMI 1.4b, 8.3.2].
func (c *cta) hdmiVendor(d []byte, at int) {
	c.hdmi = true
	if len(d) < 5 {
		c.r.warn("the HDMI vendor block at byte %d has no source address: it is %d bytes long", at, len(d))
		return
	}
	if len(d) > 5 {
		for _, deep := range []struct {
			bit  byte
			bits int
		}{{0x10, 10}, {0x20, 12}, {0x40, 16}} {
			if d[5]&deep.bit != 0 {
				c.r.DeepColour = append(c.r.DeepColour, deep.bits)
			}
		}
	}
	if len(d) > 6 && d[6] > 0 {
		c.oldTMDS = int64(d[6]) * 5_000_000
	}
	if len(d) <= 7 {
		return
	}
	i := 8 // past the latencies the flags announce
	if d[7]&0x80 != 0 {
		i += 2
		if d[7]&0x40 != 0 {
			i += 2
		}
	}
	if d[7]&0x20 == 0 {
		return
	}
	if i+1 >= len(d) {
		c.r.bad(at+1+len(d), fmt.Sprintf("the HDMI vendor block at byte %d announces pictures and ends before them",
			at))
		return
	}
	codes := int(d[i+1] >> 5)
	i += 2
	for k := range codes {
		if i+k >= len(d) {
			c.r.bad(at+1+len(d), fmt.Sprintf("the HDMI vendor block at byte %d announces %d codes and holds %d", at,
				codes, k))
			return
		}
		// Its own codes 1 to 4 are 2160p at 30, 25, 24 and 4096×2160 at 24: video codes 95, 94, 93 and 98.
		switch code := d[i+k]; {
		case code >= 1 && code <= 4:
			c.code([5]int{0, 95, 94, 93, 98}[code], fromHDMI, false, false)
		default:
			c.r.warn("HDMI code %d is reserved: no picture is known for it", code)
		}
	}
}

// forumBlock reads the HDMI Forum's block, from its version on [memory: HDMI 2.1, 10.3.2].
func (c *cta) forumBlock(d []byte, at int) {
	c.forum = true
	if len(d) < 4 {
		c.r.warn("the HDMI Forum block at byte %d is cut short: %d bytes", at, len(d))
		return
	}
	c.forumTMDS = int64(d[1]) * 5_000_000
	if d[1] > 120 {
		c.r.warn("the HDMI Forum block states %d MHz: no HDMI link goes past 600", int(d[1])*5)
	}
	for _, deep := range []struct {
		bit  byte
		bits int
	}{{0x01, 10}, {0x02, 12}, {0x04, 16}} {
		if d[3]&deep.bit != 0 {
			c.r.Deep420 = append(c.r.Deep420, deep.bits)
		}
	}
	if link := int(d[3] >> 4); link <= 6 {
		c.r.FixedRateLink = max(c.r.FixedRateLink, link)
	} else {
		c.r.warn("the HDMI Forum block names the reserved fixed-rate link %d", link)
	}
}

func (c *cta) extended(d []byte, at int) {
	r := c.r
	if len(d) == 0 {
		r.bad(at, fmt.Sprintf("the extended data block at byte %d is empty", at))
		return
	}
	body := d[1:]
	name := extendedNames[d[0]]
	switch d[0] {
	case 0x05:
		c.flags(body, colorimetryBits, &r.Colorimetry)
	case 0x06:
		if len(body) > 0 {
			for i, curve := range []string{"", "HDR gamma", "PQ", "HLG"} {
				if i > 0 && body[0]&(1<<i) != 0 {
					r.HDR = append(r.HDR, curve)
				}
			}
		}
	case 0x0e:
		for _, code := range body {
			if !c.code(int(code), fromY420, false, true) {
				r.warn("video code %d in the 4:2:0 block is reserved", code)
			}
		}
	case 0x0f:
		if len(body) == 0 {
			c.alsoAll = true
		} else {
			c.alsoMap = append(c.alsoMap, body...)
		}
	case 0x78:
		if len(body) > 0 {
			c.override, c.overrideAt = int(body[0]), at+2
		}
	case 0x79:
		if len(body) >= 2 {
			c.forumBlock(body[2:], at)
		}
	case 0x01, 0x11:
		if len(body) >= 3 {
			r.unknown(fmt.Sprintf("%s %02x-%02x-%02x", name, body[2], body[1], body[0]), at, body)
			return
		}
	}
	if name == "" {
		r.unknown(fmt.Sprintf("extended data block 0x%02x", d[0]), at, body)
		return
	}
	r.note(name, at, len(d)+1)
}

// extendedNames are the extended data blocks [memory: CTA-861-I, table 58, and HDMI 2.1].
var extendedNames = map[byte]string{0x00: "video capability data block", 0x01: "vendor's video data block",
	0x02: "VESA display device data block",
	0x03: "VESA video timing block extension", 0x05: "colorimetry data block", 0x06: "HDR static metadata data block",
	0x07: "HDR dynamic metadata data block",
	0x08: "native video resolution data block", 0x0d: "video format preference data block",
	0x0e: "4:2:0 video data block", 0x0f: "4:2:0 capability map",
	0x11: "vendor's audio data block", 0x12: "HDMI audio data block", 0x13: "room configuration data block",
	0x14: "speaker location data block",
	0x20: "InfoFrame data block", 0x22: "DisplayID type VII timing", 0x23: "DisplayID type VIII timing",
	0x2a: "DisplayID type X timing",
	0x78: "HDMI Forum extension override", 0x79: "HDMI Forum sink capability block"}

var colorimetryBits = []string{"xvYCC 601", "xvYCC 709", "sYCC 601", "opYCC 601", "opRGB", "BT.2020 cYCC",
	"BT.2020 YCC", "BT.2020 RGB"}

func (c *cta) flags(d []byte, names []string, into *[]string) {
	if len(d) == 0 {
		return
	}
	for i, name := range names {
		if d[0]&(1<<i) != 0 {
			*into = append(*into, name)
		}
	}
}

// audioNames are the coding types of short audio descriptors [memory: CTA-861-I, table 37].
var audioNames = [16]string{"", "LPCM", "AC-3", "MPEG-1", "MP3", "MPEG-2", "AAC LC", "DTS", "ATRAC", "one-bit audio",
	"enhanced AC-3", "DTS-HD", "MAT", "DST", "WMA Pro", "extension"}

var audioRates = [7]int{32000, 44100, 48000, 88200, 96000, 176400, 192000}

func (c *cta) audio(d []byte, at int) {
	c.r.Audio = true
	if len(d)%3 != 0 {
		c.r.warn("the audio block at byte %d is %d bytes long: it holds descriptors of 3", at, len(d))
	}
	for ; len(d) >= 3; d = d[3:] {
		f := AudioFormat{Format: audioNames[d[0]>>3&15], Channels: int(d[0]&7) + 1,
			RatesHz: make([]int, 0, len(audioRates))}
		if f.Format == "" {
			c.r.warn("the audio block at byte %d holds the reserved format 0", at)
			continue
		}
		for i, hz := range audioRates {
			if d[1]&(1<<i) != 0 {
				f.RatesHz = append(f.RatesHz, hz)
			}
		}
		c.r.AudioFormats = append(c.r.AudioFormats, f)
	}
}

func (c *cta) speakers(d []byte) {
	c.flags(d, []string{"front left/right", "low-frequency", "front centre", "back left/right", "back centre",
		"front left/right of centre", "rear left/right of centre", "front wide"}, &c.r.Speakers)
}

// formats of a video format data block are computed by an optimised formula this reader does not have; its codes of
// plain video identification are read, the rest is named.
func (c *cta) formats(d []byte) {
	if len(d) > 1 {
		c.r.warn("a video format data block lists pictures by resolution number; they are named, not computed")
	}
}

// finish applies what concerns the blocks together: the 4:2:0 map counts the codes of all video data blocks, and the
// character rate is the Forum block's, unless it is 0, when the older block's holds.
func (c *cta) finish() {
	for i, vic := range c.svds {
		if c.alsoAll || i/8 < len(c.alsoMap) && c.alsoMap[i/8]&(1<<(i%8)) != 0 {
			for k := range c.r.Modes {
				if m := &c.r.Modes[k]; m.VIC != nil && *m.VIC == vic {
					m.Chroma420Also = true
				}
			}
		}
	}
	if n := len(c.svds); n < 8*len(c.alsoMap) {
		for i := n; i < 8*len(c.alsoMap); i++ {
			if c.alsoMap[i/8]&(1<<(i%8)) != 0 {
				c.r.warn("the 4:2:0 map marks picture %d, and %d are listed", i+1, n)
				break
			}
		}
	}
	rate := c.oldTMDS
	if c.forumTMDS > 0 {
		rate = c.forumTMDS
		if rate <= 340_000_000 {
			c.r.warn("the HDMI Forum block states %d MHz: below 340 it should be 0", rate/1e6)
		}
	}
	if rate > 0 {
		c.r.MaxTMDSHz = &rate
	}
	if c.forum && !c.hdmi {
		c.r.warn("there is an HDMI Forum block without the older HDMI vendor block")
	}
}
