package edid

import (
	"bytes"
	"encoding/hex"
	"fmt"
	"os/exec"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/hdmi"
)

// reference is what Debian's edid-decode reads in the same bytes.
type reference struct {
	maker, model, name string
	modes              []string
	native, only, also []int
	maxTMDS            int64
	audio              bool
	preferred          string
}

var (
	timingLine = regexp.MustCompile(`^\s+(?:(VIC|HDMI VIC|DTD|DMT|CVT|GTF|IBM|Apple)\b[^:]*):\s+(\d+)x(\d+)(i?)\s+([\d.]+) Hz\s+\S+\s+[\d.]+ kHz\s+([\d.]+) MHz(.*)$`)
	vicNumber  = regexp.MustCompile(`^\s+VIC\s+(\d+):`)
)

func decodeElsewhere(t require.TestingT, data []byte) reference {
	cmd := exec.Command("edid-decode", "-s", "-p")
	cmd.Stdin = bytes.NewReader(data)
	out, err := cmd.CombinedOutput()
	if _, isExit := err.(*exec.ExitError); !isExit { // it exits with 1 where it has complaints of its own
		require.NoError(t, err, "the Debian package edid-decode has it")
	}
	var r reference
	section, forum := "", false
	for _, line := range strings.Split(string(out), "\n") {
		trim := strings.TrimSpace(line)
		if strings.HasSuffix(trim, ":") {
			section = trim
		}
		field := func(name string) (string, bool) { return strings.CutPrefix(trim, name+": ") }
		if v, ok := field("Manufacturer"); ok {
			r.maker = v
		}
		if v, ok := field("Model"); ok {
			r.model = v
		}
		if v, ok := field("Display Product Name"); ok {
			r.name += strings.Trim(v, "'")
		}
		for _, name := range []string{"Maximum TMDS clock", "Maximum TMDS Character Rate"} {
			if v, ok := field(name); ok {
				n, _ := strconv.Atoi(strings.TrimSuffix(v, " MHz"))
				if n > 0 && (name != "Maximum TMDS clock" || !forum) {
					r.maxTMDS, forum = int64(n)*1e6, name != "Maximum TMDS clock"
				}
			}
		}
		if trim == "Basic audio support" || trim == "Audio Data Block:" {
			r.audio = true
		}
		m := timingLine.FindStringSubmatch(line)
		if m == nil {
			continue
		}
		mode := key(m[2]+"x"+m[3]+m[4], m[5], m[6])
		if strings.HasPrefix(section, "Preferred") && r.preferred == "" { // that of the base block comes first
			r.preferred = mode
			continue
		}
		if strings.HasPrefix(section, "Preferred") || strings.HasPrefix(section, "Native") {
			continue
		}
		if !slices.Contains(r.modes, mode) {
			r.modes = append(r.modes, mode)
		}
		if v := vicNumber.FindStringSubmatch(line); v != nil {
			n, _ := strconv.Atoi(v[1])
			switch section {
			case "Video Data Block:":
				if strings.Contains(m[7], "native") {
					r.native = append(r.native, n)
				}
			case "YCbCr 4:2:0 Video Data Block:":
				r.only = append(r.only, n)
			case "YCbCr 4:2:0 Capability Map Data Block:":
				r.also = append(r.also, n)
			}
		}
	}
	return r
}

func key(size, hz, mhz string) string { return size + " " + hz + " Hz " + mhz + " MHz" }

func keyOf(w, h int, interlaced bool, hz float64, clock int64) string {
	size := fmt.Sprintf("%dx%d", w, h)
	if interlaced {
		size += "i"
	}
	return key(size, strconv.FormatFloat(hz, 'f', 6, 64), strconv.FormatFloat(float64(clock)/1e6, 'f', 6, 64))
}

// agree compares a whole reading field by field. [standard: VESA E-EDID, CTA-861, HDMI, as edid-decode reads them]
func agree(t require.TestingT, data []byte) *Reading {
	want, got := decodeElsewhere(t, data), Decode(data)
	require.True(t, got.Valid, "%s", got.Reason)
	require.Equal(t, want.maker, got.Maker)
	require.Equal(t, want.model, strconv.Itoa(got.ProductCode))
	require.Equal(t, strings.TrimRight(want.name, " "), strings.TrimRight(got.Name, " "))
	var modes []string
	var native, only, also []int
	for _, m := range got.Modes {
		if k := keyOf(m.Width, m.Height, m.Interlaced, m.RateHz, m.PixelClockHz); !slices.Contains(modes, k) {
			modes = append(modes, k)
		}
		if m.VIC == nil {
			continue
		}
		if m.Native {
			native = append(native, *m.VIC)
		}
		if m.Chroma420Only {
			only = append(only, *m.VIC)
		}
		if m.Chroma420Also {
			also = append(also, *m.VIC)
		}
	}
	require.ElementsMatch(t, want.modes, modes)
	require.Subset(t, unique(want.native), unique(native))
	require.Subset(t, unique(native), unique(want.native))
	require.ElementsMatch(t, unique(want.only), unique(only))
	require.ElementsMatch(t, unique(want.also), unique(also))
	var rate int64
	if got.MaxTMDSHz != nil {
		rate = *got.MaxTMDSHz
	}
	require.Equal(t, want.maxTMDS, rate)
	require.Equal(t, want.audio, got.Audio)
	if got.Preferred == nil {
		require.Empty(t, want.preferred)
	} else {
		p := got.Preferred
		require.Equal(t, want.preferred, keyOf(p.Width, p.Height, p.Interlaced, p.RateHz, p.PixelClockHz))
	}
	return got
}

func unique(list []int) []int {
	out := append([]int{}, list...)
	slices.Sort(out)
	return slices.Compact(out)
}

func TestCapture4K(t *testing.T) {
	r := agree(t, capture4K().bytes())
	require.Equal(t, "Loft stick", r.Name)
	require.Equal(t, "TOT", r.Maker)
	require.Equal(t, 2023, r.Year)
	require.EqualValues(t, 600_000_000, *r.MaxTMDSHz)
	require.Equal(t, []string{"PQ", "HLG"}, r.HDR)
	require.Equal(t, []int{10, 12}, r.DeepColour)
	require.Equal(t, []AudioFormat{{"LPCM", 2, []int{32000, 44100, 48000}}}, r.AudioFormats)
	require.Empty(t, r.UnknownBlocks)
	// The older vendor block's own codes are VIC 95, 94 and 93, which the video block lists too.
	at := slices.IndexFunc(r.Modes, func(m Picture) bool { return m.VIC != nil && *m.VIC == 95 })
	require.Equal(t, []string{"svd", "hdmi-vic"}, r.Modes[at].Sources)
	at = slices.IndexFunc(r.Modes, func(m Picture) bool { return m.VIC != nil && *m.VIC == 97 })
	require.Equal(t, []string{"dtd", "svd"}, r.Modes[at].Sources)
	require.True(t, r.Modes[at].Chroma420Also)
	require.False(t, r.Modes[at].Chroma420Only)
}

// Each trap, against the tool and by name.
func TestTraps(t *testing.T) {
	vic := func(r *Reading, n int) *Picture {
		for i := range r.Modes {
			if r.Modes[i].VIC != nil && *r.Modes[i].VIC == n {
				return &r.Modes[i]
			}
		}
		return nil
	}
	plain := func() *builder { return newEDID().put(dtdOf(hdmi.ByVIC(16))).text(0xfc, "trap") }
	vendor := []byte{0x03, 0x0c, 0x00, 0x10, 0x00, 0x00, 60}

	t.Run("2160p only by the older block's own codes", func(t *testing.T) {
		r := agree(t, plain().block(2, 16).block(3, append(slices.Clone(vendor), 0x20, 0x00, 4<<5, 1, 2, 3, 4)...).
			extension().bytes())
		for _, n := range []int{95, 94, 93, 98} {
			require.NotNil(t, vic(r, n), "VIC %d", n)
			require.Equal(t, []string{"hdmi-vic"}, vic(r, n).Sources)
		}
	})
	t.Run("latencies before the codes", func(t *testing.T) {
		r := agree(t, plain().block(2, 16).block(3, append(slices.Clone(vendor), 0xe0, 1, 2, 3, 4, 0x00, 1<<5, 2)...).
			extension().bytes())
		require.NotNil(t, vic(r, 94))
	})
	t.Run("the native bit ends at code 64", func(t *testing.T) {
		r := agree(t, plain().block(2, 0x80|16, 0x80|64, 65, 97, 193, 219).block(3, vendor...).extension().bytes())
		require.True(t, vic(r, 16).Native)
		require.True(t, vic(r, 64).Native)
		require.False(t, vic(r, 65).Native)
		require.False(t, vic(r, 193).Native)
		require.NotNil(t, vic(r, 219))
	})
	t.Run("a Forum rate of 0 leaves the older block's", func(t *testing.T) {
		r := agree(t, plain().block(2, 16).block(3, append(slices.Clone(vendor[:6]), 40)...).block(3, 0xd8, 0x5d,
			0xc4, 1, 0, 0x80, 0).extension().bytes())
		require.EqualValues(t, 200_000_000, *r.MaxTMDSHz)
	})
	t.Run("nobody states a rate", func(t *testing.T) {
		r := agree(t, plain().block(2, 16).block(3, 0x03, 0x0c, 0x00, 0x10, 0x00).extension().bytes())
		require.Nil(t, r.MaxTMDSHz)
		require.Contains(t, strings.Join(r.Warnings, "\n"), "165 MHz")
	})
	t.Run("4:2:0 only and also 4:2:0 are two things", func(t *testing.T) {
		r := agree(t, plain().block(2, 16, 31, 95).block(3, vendor...).extended(0x0e, 97, 96).extended(0x0f,
			0x05).extension().bytes())
		require.True(t, vic(r, 97).Chroma420Only)
		require.False(t, vic(r, 97).Chroma420Also)
		require.True(t, vic(r, 16).Chroma420Also)
		require.False(t, vic(r, 31).Chroma420Also)
		require.True(t, vic(r, 95).Chroma420Also)
	})
	t.Run("an empty map means all", func(t *testing.T) { // the tool says so in words
		data := plain().block(2, 16, 31).block(3, vendor...).extended(0x0f).extension().bytes()
		cmd := exec.Command("edid-decode", "-s")
		cmd.Stdin = bytes.NewReader(data)
		out, _ := cmd.CombinedOutput()
		require.Contains(t, string(out), "All VDB SVDs")
		r := Decode(data)
		require.True(t, vic(r, 16).Chroma420Also && vic(r, 31).Chroma420Also)
	})
	t.Run("fixed-rate link", func(t *testing.T) {
		r := agree(t, plain().block(2, 16, 118).block(3, vendor...).block(3, 0xd8, 0x5d, 0xc4, 1, 120, 0x80,
			6<<4|7).extension().bytes())
		require.Equal(t, 6, r.FixedRateLink)
		require.Equal(t, []int{10, 12, 16}, r.Deep420)
	})
	t.Run("several extensions and a block map", func(t *testing.T) {
		b := plain()
		b.blocks = append(b.blocks, append([]byte{0xf0, 0x02, 0x02}, make([]byte, 125)...))
		b.block(2, 16).block(3, vendor...).extension().block(2, 31, 97).extension()
		r := agree(t, b.bytes())
		require.NotNil(t, vic(r, 97))
		require.Equal(t, 3, int(b.bytes()[126]))
		b.blocks[0][2] = 0x70
		require.Contains(t, strings.Join(Decode(b.bytes()).Warnings, "\n"),
			"the block map in block 1 says that block 3 is a DisplayID extension")
	})
	t.Run("unknown blocks are kept and named", func(t *testing.T) {
		b := plain().block(2, 16).block(3, 0x11, 0x22, 0x33, 9, 8).extended(0x66, 1, 2, 3).block(3, vendor...).
			extension()
		b.blocks = append(b.blocks, append([]byte{0x70, 0x12}, make([]byte, 126)...))
		r := Decode(b.bytes())
		require.True(t, r.Valid, r.Reason)
		var names []string
		for _, u := range r.UnknownBlocks {
			names = append(names, u.Name)
		}
		require.Equal(t, []string{"vendor block 33-22-11", "extended data block 0x66", "DisplayID extension"}, names)
		require.Equal(t, "1122330908", r.UnknownBlocks[0].Bytes)
	})
	t.Run("one timing, two shapes: the size in mm decides", func(t *testing.T) {
		both := func(first, second byte, timed int) []byte {
			return newEDID().put(dtdOf(hdmi.ByVIC(16))).put(dtdOf(hdmi.ByVIC(timed))).text(0xfc, "trap").block(2,
				first, second).block(3, vendor...).extension().bytes()
		}
		for _, timed := range []int{2, 3} {
			for _, order := range [][2]byte{{2, 3}, {3, 2}} {
				r := agree(t, both(order[0], order[1], timed))
				require.Contains(t, vic(r, timed).Sources, "dtd", "VIC %d of %v", timed, order)
				require.NotContains(t, vic(r, 5-timed).Sources, "dtd")
			}
		}
		r := agree(t, newEDID().put(dtdOf(hdmi.ByVIC(16))).put(dtdOf(hdmi.ByVIC(3))).text(0xfc, "trap").block(2,
			2).block(3, vendor...).extension().bytes())
		require.Equal(t, []string{"svd"}, vic(r, 2).Sources, "a 16:9 timing is not the 4:3 code")
	})
	t.Run("more than the block itself allows", func(t *testing.T) {
		r := Decode(plain().block(2, 16, 97).block(3, append(slices.Clone(vendor[:6]), 68)...).extension().bytes())
		require.Contains(t, strings.Join(r.Warnings, "\n"),
			"needs 594.00 MHz, past the 340 MHz the block itself allows")
	})
}

// Random EDIDs of all the parts the reader knows, both readings field by field.
func TestAgainstReferenceTool(t *testing.T) {
	codes := []int{}
	for i := range hdmi.CTA {
		codes = append(codes, hdmi.CTA[i].VIC)
	}
	small := func(c *hdmi.Timing) bool { // what a detailed timing can hold, and counts the lines of as plain timings do
		return c.ClockHz < 655_350_000 && c.HTotal-c.Width < 1024 && c.Width < 4096 && c.Height <= 2160 && c.VIC != 39
	}
	rapid.Check(t, func(t *rapid.T) {
		b := newEDID()
		b.base[19] = byte(rapid.IntRange(3, 4).Draw(t, "minor"))
		timing := func() []byte {
			for {
				if c := hdmi.ByVIC(rapid.SampledFrom(codes).Draw(t, "timing")); small(c) {
					return dtdOf(c)
				}
			}
		}
		b.put(timing())
		for range rapid.IntRange(0, 1).Draw(t, "more timings") {
			b.put(timing())
		}
		b.text(0xfc, rapid.StringMatching(`[A-Za-z][A-Za-z0-9 ]{0,10}[a-z]`).Draw(t, "name"))
		if rapid.Bool().Draw(t, "established 3") {
			d := []byte{0, 0, 0, 0xf7, 0, 10, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0}
			for i := 6; i < 11; i++ {
				d[i] = byte(rapid.IntRange(0, 255).Draw(t, "bits"))
			}
			d[11] = byte(rapid.IntRange(0, 15).Draw(t, "last bits")) << 4
			b.put(d)
		}
		b.base[35], b.base[36] = byte(rapid.IntRange(0, 255).Draw(t, "established 1")),
			byte(rapid.IntRange(0, 255).Draw(t, "established 2"))
		b.base[37] = byte(rapid.IntRange(0, 1).Draw(t, "established 17")) << 7
		for i := range rapid.IntRange(0, 8).Draw(t, "standard") {
			b.base[38+2*i] = byte(rapid.IntRange(33, 255).Draw(t, "width"))
			b.base[39+2*i] = byte(rapid.IntRange(0, 255).Draw(t, "shape and rate"))
		}
		for range rapid.IntRange(0, 2).Draw(t, "extensions") {
			b.flags = byte(rapid.IntRange(0, 15).Draw(t, "flags")) << 4
			var svds []byte
			for _, c := range rapid.SliceOfNDistinct(rapid.SampledFrom(codes), 1, 20, rapid.ID[int]).Draw(t, "codes") {
				if c <= 64 && rapid.Bool().Draw(t, "native") {
					c |= 0x80
				}
				svds = append(svds, byte(c))
			}
			b.block(2, svds...)
			if rapid.Bool().Draw(t, "audio") {
				b.block(1, 0x09, 0x07, 0x07)
			}
			if rapid.Bool().Draw(t, "hdmi") {
				b.block(3, 0x03, 0x0c, 0x00, 0x10, 0x00, 0x30, byte(rapid.IntRange(1, 68).Draw(t, "rate")))
				if rapid.Bool().Draw(t, "forum") {
					b.block(3, 0xd8, 0x5d, 0xc4, 1, byte(rapid.IntRange(69, 120).Draw(t, "forum rate")), 0x80, 3)
				}
			}
			if rapid.Bool().Draw(t, "4:2:0 only") {
				b.extended(0x0e, byte(rapid.SampledFrom([]int{96, 97, 101, 102}).Draw(t, "only")))
			}
			if rapid.Bool().Draw(t, "4:2:0 also") && len(b.blocks) == 0 { // the tool counts each extension by itself
				b.extended(0x0f, byte(rapid.IntRange(0, 1<<min(8, len(svds))-1).Draw(t, "map")))
			}
			b.timings = [][]byte{timing()}
			b.extension()
			if len(b.blocks) == 1 && rapid.Bool().Draw(t, "just one") {
				break
			}
		}
		agree(t, b.bytes())
	})
}

// VESA's monitor timings against the list of edid-decode. [standard: VESA DMT, as edid-decode states it]
func TestMonitorsAgainstReferenceTool(t *testing.T) {
	out, err := exec.Command("edid-decode", "--list-dmts").Output()
	require.NoError(t, err)
	lines := regexp.MustCompile(`(?m)^DMT 0x(..):\s+(\d+)x(\d+)(i?)\s+([\d.]+) Hz.*?([\d.]+) MHz(.*)$`).
		FindAllStringSubmatch(string(out), -1)
	require.Len(t, lines, len(hdmi.Monitors))
	for _, l := range lines {
		id, err := strconv.ParseInt(l[1], 16, 0)
		require.NoError(t, err)
		m := monitor(int(id))
		rate := float64(m.ClockHz) / float64(m.HTotal) / float64(m.VTotal)
		if m.Interlaced {
			rate *= 2
		}
		require.Equal(t, key(l[2]+"x"+l[3]+l[4], l[5], l[6]), keyOf(m.Width, m.Height, m.Interlaced, rate, m.ClockHz),
			l[0])
		if m.STD != 0 {
			require.Contains(t, l[7], fmt.Sprintf("STD: 0x%02x 0x%02x", m.STD>>8, m.STD&255))
		}
		require.Equal(t, m.Reduced, strings.Contains(l[7], "(RB"))
	}
}

func TestBadInput(t *testing.T) {
	good := capture4K().bytes()
	change := func(at int, to byte) []byte {
		b := bytes.Clone(good)
		b[at] = to
		return b
	}
	lying := newEDID().put(dtdOf(hdmi.ByVIC(16))).block(2, 16).extension().bytes()
	lying[128+4] = 2<<5 | 31
	seal(lying[128:])
	for _, c := range []struct {
		name   string
		data   []byte
		offset int
		reason string
		modes  bool // something could be read all the same
	}{
		{"nothing", nil, 0, "the file is empty", false},
		{"cut off in the base block", good[:100], 100, "cut off after 100 bytes: the base block has 128", true},
		{"cut off in an extension", good[:200], 200, "the last block is cut off after 72 of 128", true},
		{"an extension missing", good[:128], 126, "byte 126 announces 1 further blocks, and 0 are there", true},
		{"one too many", append(bytes.Clone(good), good[128:]...), 126,
			"byte 126 announces 1 further blocks, and 2 are there", true},
		{"a wrong header", change(3, 0xfe), 3, "byte 3 is 0xfe", false},
		{"a wrong checksum", change(60, good[60]^1), 127, "the checksum of the base block is", true},
		{"a wrong checksum further on", change(140, good[140]^1), 255, "the checksum of block 1 is", true},
		{"a lying length", lying, 132, "the data block at byte 132 says it is 31 bytes long, and 1 are left", true},
		{"text", []byte("1920x1080 60.00*+\n"), 0, "this is text, not the bytes of an EDID", false},
		{"a dump as text", []byte(hex.Dump(good)), 0, "this is text", false},
		{"hexadecimal text", []byte(hex.EncodeToString(good)), 0, "256 bytes were read from it", true},
		{"noise", bytes.Repeat([]byte{7, 200, 3}, 100), 0, "this is no EDID", false},
		{"far too long", append(bytes.Clone(good), make([]byte, 1<<20)...), MaxBytes, "an EDID has at most 32768",
			true},
	} {
		t.Run(c.name, func(t *testing.T) {
			r := Decode(c.data)
			require.False(t, r.Valid)
			require.Contains(t, r.Reason, c.reason)
			require.Equal(t, c.offset, *r.Offset)
			require.Equal(t, c.modes, len(r.Modes) > 0)
		})
	}
}

// A sample EDID is one the reference tool reads the same.
func TestSample(t *testing.T) {
	for i := range hdmi.CTA {
		c := &hdmi.CTA[i]
		if c.Width >= 4096 || c.ClockHz >= 655_350_000 || c.HTotal-c.Width >= 1024 || c.VIC == 39 ||
			c.ClockHz%10_000 != 0 {
			continue
		}
		r := agree(t, Sample(c.VIC))
		require.Equal(t, c.Width, r.Preferred.Width)
		require.Equal(t, c.Rate(), r.Modes[0].FrameRate(), "VIC %d", c.VIC)
	}
}

// Whatever the bytes: no panic, an end, and no more modes than the bytes can hold.
func FuzzDecode(f *testing.F) {
	f.Add(capture4K().bytes())
	f.Add(capture4K().bytes()[:130])
	f.Add(newEDID().put(dtdOf(hdmi.ByVIC(5))).text(0xfc, "x").block(2, 1, 2, 0xff).extended(0x0f).extension().bytes())
	f.Add([]byte(hex.EncodeToString(header)))
	f.Fuzz(func(t *testing.T, data []byte) {
		r := Decode(data)
		require.LessOrEqual(t, len(r.Modes), 17+44+8*2+24+8*len(data))
		require.Equal(t, r.Valid, r.Offset == nil)
		require.LessOrEqual(t, len(r.UnknownBlocks), len(r.Blocks))
		for _, m := range r.Modes {
			require.NotEmpty(t, m.Sources)
		}
	})
}

// 256 bytes: at most 20 µs and 100 allocations; the reference encodes the same bytes as text.
func BenchmarkDecode(b *testing.B) {
	data := capture4K().bytes()
	b.ReportAllocs()
	for b.Loop() {
		Decode(data)
	}
}

func BenchmarkReference(b *testing.B) {
	data := capture4K().bytes()
	for b.Loop() {
		_ = hex.Dump(data)
	}
}

func TestDecodeAllocatesLittle(t *testing.T) {
	data := capture4K().bytes()
	require.LessOrEqual(t, testing.AllocsPerRun(100, func() { Decode(data) }), 100.0)
}
