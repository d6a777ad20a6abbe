// Package edid answers: which pictures does this sink say it takes? It reads the EDID a capture device, switcher or
// monitor tells a source: base block, CTA-861 extensions, block maps.
//
// Standards: VESA E-EDID Release A revision 2 (base block), CTA-861-I (extension), HDMI 1.4b and 2.1 (vendor blocks),
// all from memory; the tests beside this file compare whole readings with Debian's edid-decode.
package edid

import (
	"bytes"
	"encoding/hex"
	"fmt"
	"strconv"
	"strings"

	"eventether/core/hdmi"
	"eventether/core/picture"
)

// BlockSize is the length of every block in bytes.
const BlockSize = 128

// MaxBytes is the longest EDID there is: a base block and 255 extensions.
const MaxBytes = 256 * BlockSize

// Reading is what an EDID says. Valid is false when something is wrong with the bytes; then Reason and Offset say what
// and where, and the rest is what could be read all the same.
type Reading struct {
	Valid  bool   `json:"valid"`
	Reason string `json:"reason,omitempty"`
	Offset *int   `json:"offset,omitempty" doc:"Byte the reason is about"`

	Maker       string     `json:"maker" doc:"Three letters"`
	ProductCode int        `json:"productCode"`
	Serial      uint32     `json:"serial,omitempty"`
	SerialText  string     `json:"serialText,omitempty"`
	Name        string     `json:"name"`
	Version     string     `json:"version" doc:"Of the EDID structure, such as 1.4"`
	Year        int        `json:"year,omitempty"`
	Week        int        `json:"week,omitempty"`
	Digital     bool       `json:"digital"`
	WidthCM     int        `json:"widthCm,omitempty"`
	HeightCM    int        `json:"heightCm,omitempty"`
	Texts       []string   `json:"texts,omitempty"`
	Preferred   *Preferred `json:"preferred"`
	Modes       []Picture  `json:"modes"`
	// MaxTMDSHz is the highest TMDS character rate the vendor blocks state; nil where they do not say.
	MaxTMDSHz     *int64         `json:"maxTmdsHz"`
	FixedRateLink int            `json:"fixedRateLink,omitempty" doc:"Code of the fastest fixed-rate link, 1 (3×3 Gb/s) to 6 (4×12); 0 for none"`
	Audio         bool           `json:"audio"`
	AudioFormats  []AudioFormat  `json:"audioFormats,omitempty"`
	Speakers      []string       `json:"speakers,omitempty"`
	Chroma444     bool           `json:"chroma444" doc:"YCbCr 4:4:4 is taken"`
	Chroma422     bool           `json:"chroma422"`
	DeepColour    []int          `json:"deepColour,omitempty" doc:"Bits a component beyond 8"`
	Deep420       []int          `json:"deep420,omitempty" doc:"Bits a component beyond 8 at 4:2:0"`
	Colorimetry   []string       `json:"colorimetry,omitempty"`
	HDR           []string       `json:"hdr,omitempty" doc:"Transfer curves taken beyond the ordinary one"`
	Range         *Range         `json:"range,omitempty"`
	Blocks        []Block        `json:"blocks" doc:"Every block and data block, in order"`
	UnknownBlocks []UnknownBlock `json:"unknownBlocks"`
	Warnings      []string       `json:"warnings"`
}

// Preferred is the picture the sink likes best.
type Preferred struct {
	Width        int     `json:"width"`
	Height       int     `json:"height"`
	Interlaced   bool    `json:"interlaced"`
	RateHz       float64 `json:"rateHz" doc:"Fields a second when interlaced"`
	PixelClockHz int64   `json:"pixelClockHz"`
}

// Picture is one picture a sink takes. Interlaced modes give the frame's height and the field rate.
type Picture struct {
	Width         int      `json:"width"`
	Height        int      `json:"height"`
	Interlaced    bool     `json:"interlaced"`
	RateHz        float64  `json:"rateHz"`
	PixelClockHz  int64    `json:"pixelClockHz"`
	VIC           *int     `json:"vic" doc:"Video identification code; null where the mode has none"`
	Native        bool     `json:"native"`
	Chroma420Only bool     `json:"chroma420Only"`
	Chroma420Also bool     `json:"chroma420Also"`
	Sources       []string `json:"sources" doc:"Where it stands: dtd, svd, established, standard, cvt, hdmi-vic, y420"`

	hTotal, vTotal int
	wideMM, highMM int // of the picture, as a detailed timing says; 0 when not said
}

// FrameRate is frames a second, exactly; two fields make a frame. The zero Rate when the timing is not known, as in a
// reading that came through JSON.
func (m *Picture) FrameRate() picture.Rate {
	if m.hTotal == 0 || m.vTotal == 0 {
		return picture.Rate{}
	}
	return picture.NewRate(m.PixelClockHz, int64(m.hTotal)*int64(m.vTotal))
}

// Range are the limits a monitor states.
type Range struct {
	MinVHz           int `json:"minVHz"`
	MaxVHz           int `json:"maxVHz"`
	MinHkHz          int `json:"minHkHz"`
	MaxHkHz          int `json:"maxHkHz"`
	MaxPixelClockMHz int `json:"maxPixelClockMHz"`
}

// AudioFormat is one short audio descriptor.
type AudioFormat struct {
	Format   string `json:"format"`
	Channels int    `json:"channels"`
	RatesHz  []int  `json:"ratesHz"`
}

// Block names one block or data block and where it starts.
type Block struct {
	Name   string `json:"name"`
	Offset int    `json:"offset"`
	Length int    `json:"length"`
}

// UnknownBlock is a block this reader has no rule for; its bytes are kept.
type UnknownBlock struct {
	Name   string `json:"name"`
	Offset int    `json:"offset"`
	Bytes  string `json:"bytes" doc:"Hexadecimal"`
}

var header = []byte{0x00, 0xff, 0xff, 0xff, 0xff, 0xff, 0xff, 0x00}

// Decode reads an EDID. It never fails: what is wrong stands in Reason and Offset, and whatever could be read is there.
func Decode(data []byte) *Reading {
	r := &Reading{Valid: true, Modes: make([]Picture, 0, 48), Blocks: make([]Block, 0, 16),
		UnknownBlocks: []UnknownBlock{}, Warnings: []string{}}
	if bytes, isText := fromText(data); isText {
		r.bad(0, "this is text, not the bytes of an EDID")
		if len(bytes) == 0 {
			return r
		}
		r.Reason = fmt.Sprintf("this is a hexadecimal text, not the bytes of an EDID; %d bytes were read from it",
			len(bytes))
		data = bytes
	}
	if len(data) == 0 {
		r.bad(0, "the file is empty: an EDID has 128 bytes or more")
		return r
	}
	if len(data) > MaxBytes {
		r.bad(MaxBytes, fmt.Sprintf("%d bytes: an EDID has at most %d", len(data), MaxBytes))
		data = data[:MaxBytes]
	}
	for i := range min(len(header), len(data)) {
		if data[i] != header[i] {
			r.bad(i, fmt.Sprintf("byte %d is 0x%02x, and an EDID begins 00 ff ff ff ff ff ff 00: this is no EDID",
				i, data[i]))
			return r
		}
	}
	if len(data) < BlockSize {
		r.bad(len(data), fmt.Sprintf("cut off after %d bytes: the base block has %d", len(data), BlockSize))
		data = append(bytes.Clone(data), make([]byte, BlockSize-len(data))...)
		r.base(data, *r.Offset)
		r.finish(nil)
		return r
	}
	r.checksum(data, 0, "the base block")
	r.base(data[:BlockSize], BlockSize)
	blocks := len(data) / BlockSize
	if rest := len(data) % BlockSize; rest != 0 {
		r.bad(len(data), fmt.Sprintf("%d bytes: the last block is cut off after %d of %d", len(data), rest, BlockSize))
	}
	r.extensions(data, blocks)
	return r
}

// extensions reads what follows the base block.
func (r *Reading) extensions(data []byte, blocks int) {
	told, toldAt := int(data[126]), 126
	c := &cta{r: r}
	for b := 1; b < blocks; b++ {
		at := b * BlockSize
		block := data[at : at+BlockSize]
		r.checksum(data, at, fmt.Sprintf("block %d", b))
		switch block[0] {
		case 0x02:
			r.note(fmt.Sprintf("CTA-861 extension, revision %d", block[1]), at, BlockSize)
			c.block(block, at)
		case 0xf0:
			r.note("block map", at, BlockSize)
		default:
			r.unknown(extensionName(block[0]), at, block)
		}
	}
	if c.override > 0 {
		told, toldAt = c.override, c.overrideAt
	}
	switch have := blocks - 1; {
	case have < told:
		r.bad(toldAt, fmt.Sprintf("byte %d announces %d further blocks, and %d are there", toldAt, told, have))
	case have > told:
		r.bad(toldAt, fmt.Sprintf("byte %d announces %d further blocks, and %d are there: the rest may belong to something else",
			toldAt, told, have))
	}
	r.maps(data, blocks)
	r.finish(c)
}

// maps checks block maps against the blocks that are there.
func (r *Reading) maps(data []byte, blocks int) {
	for b := 1; b < blocks; b++ {
		block := data[b*BlockSize : (b+1)*BlockSize]
		if block[0] != 0xf0 {
			continue
		}
		for i := 1; i < 127; i++ {
			if k := b + i; block[i] != 0 && (k >= blocks || data[k*BlockSize] != block[i]) {
				r.warn("the block map in block %d says that block %d is a %s, and it is not", b, k,
					extensionName(block[i]))
			}
		}
	}
}

// finish draws what follows from everything read.
func (r *Reading) finish(c *cta) {
	if c != nil {
		c.finish()
	}
	if len(r.Modes) == 0 {
		r.warn("no picture is listed at all")
	}
	if r.MaxTMDSHz == nil && r.Digital && c != nil && c.hdmi {
		r.warn("the HDMI block states no highest character rate: 165 MHz is what every HDMI sink takes")
	}
	for i := range r.Modes {
		m := &r.Modes[i]
		if m.Chroma420Only && (contains(m.Sources, "svd") || contains(m.Sources, "dtd")) {
			r.warn("%d×%d at %.3f Hz stands both among the pictures at 4:2:0 only and among the others", m.Width,
				m.Height, m.RateHz)
		}
		if r.MaxTMDSHz != nil && r.FixedRateLink == 0 && !m.Chroma420Only && !m.Chroma420Also &&
			m.PixelClockHz > *r.MaxTMDSHz && m.VIC != nil {
			r.warn("%d×%d at %.3f Hz needs %.2f MHz, past the %.0f MHz the block itself allows", m.Width, m.Height,
				m.RateHz, float64(m.PixelClockHz)/1e6, float64(*r.MaxTMDSHz)/1e6)
		}
	}
}

// bad notes the first thing wrong; what comes later stands in the warnings.
func (r *Reading) bad(offset int, reason string) {
	if !r.Valid {
		r.Warnings = append(r.Warnings, reason)
		return
	}
	r.Valid, r.Reason, r.Offset = false, reason, &offset
}

func (r *Reading) warn(format string, args ...any) {
	r.Warnings = append(r.Warnings, fmt.Sprintf(format, args...))
}

func (r *Reading) note(name string, offset, length int) {
	r.Blocks = append(r.Blocks, Block{name, offset, length})
}

func (r *Reading) unknown(name string, offset int, data []byte) {
	r.note(name, offset, len(data))
	r.UnknownBlocks = append(r.UnknownBlocks, UnknownBlock{name, offset, hex.EncodeToString(data)})
}

func (r *Reading) checksum(data []byte, at int, what string) {
	var sum byte
	for _, b := range data[at : at+BlockSize] {
		sum += b
	}
	if sum != 0 {
		last := data[at+BlockSize-1]
		r.bad(at+BlockSize-1,
			fmt.Sprintf("the checksum of %s is 0x%02x and should be 0x%02x: a byte was changed or lost", what, last,
				last-sum))
	}
}

// add keeps a mode, or adds its source to one that is the same picture with the same timing.
func (r *Reading) add(m Picture) {
	for i := range r.Modes {
		have := &r.Modes[i]
		same := have.Width == m.Width && have.Height == m.Height && have.Interlaced == m.Interlaced &&
			have.PixelClockHz == m.PixelClockHz &&
			have.hTotal == m.hTotal && have.vTotal == m.vTotal
		if !same || have.VIC != nil && m.VIC != nil && *have.VIC != *m.VIC || !sameShape(have, &m) ||
			!sameShape(&m, have) {
			continue
		}
		if have.VIC == nil {
			have.VIC = m.VIC
		}
		if have.wideMM == 0 || have.highMM == 0 {
			have.wideMM, have.highMM = m.wideMM, m.highMM
		}
		have.Native = have.Native || m.Native
		have.Chroma420Only = have.Chroma420Only || m.Chroma420Only
		have.Chroma420Also = have.Chroma420Also || m.Chroma420Also
		for _, s := range m.Sources {
			if !contains(have.Sources, s) {
				have.Sources = append(have.Sources[:len(have.Sources):len(have.Sources)], s)
			}
		}
		return
	}
	r.Modes = append(r.Modes, m)
}

// sameShape tells whether the code of one mode can be that of a detailed timing: codes with one timing differ in the
// shape of the picture (2 is 4:3 and 3 is 16:9), and the timing says its size in millimetres [standard: CTA-861].
func sameShape(coded, timed *Picture) bool {
	if coded.VIC == nil || timed.wideMM == 0 || timed.highMM == 0 {
		return true
	}
	t := hdmi.ByVIC(*coded.VIC)
	w, h, ok := strings.Cut(t.Aspect, ":")
	wide, err := strconv.Atoi(w)
	high, err2 := strconv.Atoi(h)
	if !ok || err != nil || err2 != nil {
		return true
	}
	off := float64(timed.wideMM*high) / float64(timed.highMM*wide)
	return off > 0.88 && off < 1/0.88
}

func contains(list []string, s string) bool {
	for _, x := range list {
		if x == s {
			return true
		}
	}
	return false
}

// fromText tells whether the data is text, and gives the bytes of a hexadecimal dump in it, if it is one.
func fromText(data []byte) (decoded []byte, isText bool) {
	if len(data) == 0 || bytes.HasPrefix(data, header) {
		return nil, false
	}
	for _, b := range data {
		if (b < ' ' || b > '~') && b != '\n' && b != '\r' && b != '\t' {
			return nil, false
		}
	}
	var digits []byte
	for _, word := range bytes.Fields(data) {
		word = bytes.TrimSuffix(bytes.TrimPrefix(word, []byte("0x")), []byte(","))
		if _, err := hex.DecodeString(string(word)); err != nil {
			return nil, true
		}
		digits = append(digits, word...)
	}
	if len(digits) > 2*MaxBytes {
		return nil, true
	}
	decoded, err := hex.DecodeString(string(digits))
	if err != nil {
		return nil, true
	}
	return decoded, true
}

func extensionName(tag byte) string {
	switch tag {
	case 0x02:
		return "CTA-861 extension"
	case 0x10:
		return "video timing block"
	case 0x40:
		return "display information extension"
	case 0x50:
		return "localized string extension"
	case 0x60:
		return "digital packet video link extension"
	case 0x70:
		return "DisplayID extension"
	case 0xf0:
		return "block map"
	case 0xff:
		return "maker's extension"
	}
	return fmt.Sprintf("extension 0x%02x", tag)
}
