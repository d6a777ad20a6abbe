// Package readers answers: what do these bytes or this listing from another tool say about a device? It turns them into
// spec sheets and never takes anything silently: what could not be read is named by line.
package readers

import (
	"bytes"
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"eventether/core/gear"
	"eventether/core/picture"
)

// Problem is a line that could not be read.
type Problem struct {
	File string `json:"file,omitempty"`
	Line int    `json:"line"`
	Text string `json:"text"`
}

// Listing is what a device delivers, as `v4l2-ctl --list-formats-ext` prints it.
type Listing struct {
	Modes      []ListedMode `json:"modes"`
	Incomplete bool         `json:"incomplete" doc:"Something was left out; the problems name it"`
	Problems   []Problem    `json:"problems"`
}

// ListedMode is one size in one pixel format. A discrete size has Width and Height, any other the six after them.
type ListedMode struct {
	PixelFormat string   `json:"pixelFormat" doc:"As listed, four characters"`
	Format      string   `json:"format,omitempty" doc:"The same by the name rigs use; none for formats they do not know"`
	SizeKind    string   `json:"sizeKind" enum:"discrete,stepwise,continuous"`
	Width       int      `json:"width,omitempty"`
	Height      int      `json:"height,omitempty"`
	MinWidth    int      `json:"minWidth,omitempty"`
	MaxWidth    int      `json:"maxWidth,omitempty"`
	StepWidth   int      `json:"stepWidth,omitempty"`
	MinHeight   int      `json:"minHeight,omitempty"`
	MaxHeight   int      `json:"maxHeight,omitempty"`
	StepHeight  int      `json:"stepHeight,omitempty"`
	Rates       []string `json:"rates" doc:"Exact fractions, the fastest first as listed; empty when unknown"`
	RateRange   bool     `json:"rateRange,omitempty" doc:"The rates are the two ends of a range, every rate between them included"`
}

// fourCC are the formats rigs know, by the codes of linux/videodev2.h.
var fourCC = map[string]picture.Format{"NV12": picture.NV12, "YU12": picture.I420, "YUYV": picture.YUY2,
	"UYVY": picture.UYVY, "RGB3": picture.RGB24,
	"BGR4": picture.BGRA, "AR24": picture.BGRA, "XR24": picture.BGRA, "P010": picture.P010, "v210": picture.V210,
	"MJPG": picture.MJPEG, "JPEG": picture.MJPEG, "H264": picture.H264}

var (
	formatLine   = regexp.MustCompile(`^\[(\d+)\]: '(.{4})' \(.*\)$`)
	discreteLine = regexp.MustCompile(`^Size: Discrete (\d+)x(\d+)$`)
	rangeLine    = regexp.MustCompile(`^Size: (Stepwise|Continuous) (\d+)x(\d+) - (\d+)x(\d+)(?: with step (\d+)/(\d+))?$`)
	fpsLine      = regexp.MustCompile(`^Interval: Discrete [\d.,]+s \(([\d.,]+) fps\)$`)
	fpsRangeLine = regexp.MustCompile(`^Interval: (?:Stepwise|Continuous) [\d.,]+s - [\d.,]+s(?: with step [\d.,]+s)? \(([\d.,]+)-([\d.,]+) fps\)$`)
	headLine     = regexp.MustCompile(`^(ioctl: \S+|Type: .*|Flags?\s*:.*|Mbus Code:.*|\[\d+\] ?:?.*\(/dev/.*\)|/dev/\S+:?)$`)
)

// Formats reads a listing. An error means that nothing at all could be read.
func Formats(data []byte) (*Listing, error) {
	f := &formats{out: Listing{Modes: []ListedMode{}, Problems: []Problem{}}}
	if i := bytes.IndexByte(data, 0); i >= 0 {
		if bytes.IndexByte(data, '\n') < 0 {
			return nil, fmt.Errorf("byte %d is 0: this is no text; want what v4l2-ctl --list-formats-ext prints", i)
		}
		data = withoutZeros(data, func(line int) { f.problem(line, "this line holds a zero byte and is left out") })
	}
	if len(bytes.TrimSpace(data)) == 0 {
		return nil, fmt.Errorf("the listing is empty: want what v4l2-ctl --list-formats-ext prints")
	}
	lines := strings.Split(string(data), "\n")
	for i, line := range lines {
		whole := i < len(lines)-1 // the last one ends without a line end
		f.line(i+1, strings.TrimSpace(line), whole)
	}
	if len(f.out.Modes) == 0 {
		if len(f.out.Problems) > 0 {
			p := f.out.Problems[0]
			return nil, fmt.Errorf("line %d: %s", p.Line, p.Text)
		}
		return nil, fmt.Errorf("no size is listed: want what v4l2-ctl --list-formats-ext prints (with -ext, which lists sizes)")
	}
	return &f.out, nil
}

type formats struct {
	out    Listing
	format string
	open   bool // the last mode takes rates
}

func (f *formats) problem(line int, format string, args ...any) {
	f.out.Incomplete = true
	f.out.Problems = append(f.out.Problems, Problem{Line: line, Text: fmt.Sprintf(format, args...)})
	f.open = false
}

func (f *formats) line(n int, line string, whole bool) {
	if line == "" || headLine.MatchString(line) {
		return
	}
	if m := fpsLine.FindStringSubmatch(line); m != nil {
		f.rates(n, m[1])
		return
	}
	if m := fpsRangeLine.FindStringSubmatch(line); m != nil {
		if f.rates(n, m[2], m[1]); f.open {
			f.out.Modes[len(f.out.Modes)-1].RateRange = true
		}
		return
	}
	if m := formatLine.FindStringSubmatch(line); m != nil {
		f.format, f.open = strings.TrimRight(m[2], " "), false
		return
	}
	if !whole { // a size cut short reads like a smaller one
		f.problem(n, "%q: the listing ends in the middle of this line", line)
		return
	}
	discrete, span := discreteLine.FindStringSubmatch(line), rangeLine.FindStringSubmatch(line)
	switch {
	case discrete == nil && span == nil:
		f.problem(n, "%q is no line of such a listing%s", clip(line), hint(line))
		return
	case f.format == "":
		f.problem(n, "%q: no pixel format was named before this size", clip(line))
		return
	}
	mode := ListedMode{PixelFormat: f.format, Format: string(fourCC[f.format]), SizeKind: "discrete", Rates: []string{}}
	if discrete != nil {
		mode.Width, mode.Height = atoi(discrete[1]), atoi(discrete[2])
		if mode.Width == 0 || mode.Height == 0 || mode.Width > 16384 || mode.Height > 16384 {
			f.problem(n, "%q: sizes from 1×1 to 16384×16384 are possible", clip(line))
			return
		}
	} else {
		mode.SizeKind = strings.ToLower(span[1])
		mode.MinWidth, mode.MinHeight, mode.MaxWidth, mode.MaxHeight = atoi(span[2]), atoi(span[3]), atoi(span[4]),
			atoi(span[5])
		mode.StepWidth, mode.StepHeight = max(1, atoi(span[6])), max(1, atoi(span[7]))
		if mode.MinWidth < 1 || mode.MinHeight < 1 || mode.MinWidth > mode.MaxWidth ||
			mode.MinHeight > mode.MaxHeight || mode.MaxWidth > 65536 || mode.MaxHeight > 65536 {
			f.problem(n, "%q: the smallest size is not below the largest", clip(line))
			return
		}
	}
	f.out.Modes = append(f.out.Modes, mode)
	f.open = true
}

func (f *formats) rates(n int, texts ...string) {
	if !f.open {
		f.problem(n, "a rate stands here without a size before it")
		return
	}
	m := &f.out.Modes[len(f.out.Modes)-1]
	for _, text := range texts {
		r, err := exactRate(text)
		if err != nil {
			f.problem(n, "%v", err)
			f.open = true
			continue
		}
		m.Rates = append(m.Rates, r)
	}
}

// known are the rates devices have that are no whole number [practice], as a listing rounds them.
var known = map[int64]string{23976: "24000/1001", 29970: "30000/1001", 59940: "60000/1001", 119880: "120000/1001",
	47952: "48000/1001", 14985: "15000/1001"}

// exactRate turns a decimal of a listing into an exact fraction: a whole number, a known /1001 rate, or else the
// thousandths as they were printed.
func exactRate(text string) (string, error) {
	whole, frac, _ := strings.Cut(strings.Replace(text, ",", ".", 1), ".")
	for len(frac) < 3 {
		frac += "0"
	}
	n, err := strconv.ParseInt(whole+frac[:3], 10, 64)
	if err != nil || n <= 0 || n > 1_000_000 {
		return "", fmt.Errorf("%q is no rate: want 0.001 to 1000 frames a second", text)
	}
	switch {
	case known[n] != "":
		return known[n], nil
	case n%1000 == 0:
		return strconv.FormatInt(n/1000, 10) + "/1", nil
	}
	return strconv.FormatInt(n, 10) + "/1000", nil
}

func atoi(s string) int {
	n, _ := strconv.Atoi(s) // digits by the expression that found them; too many are refused by size
	return n
}

func clip(s string) string {
	if r := []rune(s); len(r) > 80 {
		return string(r[:80]) + "…"
	}
	return s
}

func hint(line string) string {
	if strings.Contains(line, "x") && strings.ContainsAny(line, "0123456789") {
		return ": is it in another language? Print it again with LC_ALL=C"
	}
	return ""
}

// Delivers turns a listing into what a spec sheet says a device delivers, the largest and richest first. Formats that
// rigs do not know are named in left.
func (l *Listing) Delivers() (out []gear.Delivery, left []string) {
	for _, m := range l.Modes {
		if m.Format == "" {
			if !slices.Contains(left, m.PixelFormat) {
				left = append(left, m.PixelFormat)
			}
			continue
		}
		d := gear.Delivery{Format: picture.Format(m.Format), Width: m.Width, Height: m.Height}
		if m.SizeKind != "discrete" {
			d.Width, d.Height = min(m.MaxWidth, 16384), min(m.MaxHeight, 16384)
			d.Steps = &gear.Steps{MinWidth: m.MinWidth, MinHeight: m.MinHeight, StepWidth: m.StepWidth,
				StepHeight: m.StepHeight}
		}
		for _, text := range m.Rates {
			if r, err := picture.ParseRate(text); err == nil {
				d.Rates = append(d.Rates, r)
			}
		}
		d.MaxRate = picture.R(60) // [estimate] where the listing has no rates
		if len(d.Rates) > 0 {
			d.MaxRate = slices.MaxFunc(d.Rates, picture.Rate.Cmp)
		}
		if m.RateRange {
			d.Rates = nil // a range of rates, not two
		}
		if d.Width < 16 || d.Height < 16 { // no sheet has so small a picture
			if small := m.PixelFormat + " " + picture.SizeName(d.Width, d.Height); !slices.Contains(left, small) {
				left = append(left, small)
			}
			continue
		}
		if !slices.ContainsFunc(out, func(o gear.Delivery) bool {
			return o.Format == d.Format && o.Width == d.Width && o.Height == d.Height && o.Steps == nil && d.Steps ==
				nil
		}) {
			out = append(out, d)
		}
	}
	slices.SortStableFunc(out, func(a, b gear.Delivery) int {
		return cmp.Or(cmp.Compare(b.Width*b.Height, a.Width*a.Height), cmp.Compare(b.Format.Richness(),
			a.Format.Richness()))
	})
	return out, left
}
