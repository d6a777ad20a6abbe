// Package negotiate answers: on which pictures can this output and this input agree over this lead, why not on the
// others, and which is best for the show?
package negotiate

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/picture"
	"eventether/core/sdi"
)

// Carry is what a lead carries, surely and possibly. The zero Carry carries nothing.
type Carry struct {
	SureMHz, PossibleMHz   float64 // character rate of an HDMI lead
	SureGbps, PossibleGbps float64 // fixed-rate link of an HDMI lead
	SureMbps, PossibleMbps float64 // bit rate of a coax lead
}

// Anything is a lead that carries whatever there is.
var Anything = Carry{1e6, 1e6, 1e6, 1e6, 1e6, 1e6}

// Taken is a picture both ends and the lead take. Sure is false when one of them has not said so.
type Taken struct {
	Mode picture.Mode
	Sure bool
}

// Failed is a picture one end has and that does not work, and why.
type Failed struct {
	Mode picture.Mode
	Why  string
}

// Outcome is all two sockets can agree on.
type Outcome struct {
	Takes []Taken
	Fails []Failed
}

// Between lists what an output and an input agree on. It is symmetric: the order of the two does not matter.
func Between(a, b *gear.Port, lead Carry) Outcome {
	var out Outcome
	if a.Direction == gear.In {
		a, b = b, a
	}
	for _, m := range candidates(a, b) {
		sure, why := true, ""
		for _, end := range [2]*gear.Port{a, b} {
			s, w := has(end, m)
			sure = sure && s
			if w != "" && why == "" {
				why = w
			}
		}
		if why == "" {
			var s bool
			s, why = carries(a, b, lead, m)
			sure = sure && s
		}
		if why != "" {
			out.Fails = append(out.Fails, Failed{m, why})
		} else {
			out.Takes = append(out.Takes, Taken{m, sure})
		}
	}
	return out
}

// candidates is every picture either end lists, each once; where one end names the chroma and the other does not, the
// named one stands for both.
func candidates(a, b *gear.Port) []picture.Mode {
	var out []picture.Mode
	for _, list := range [4][]picture.Mode{a.Modes, b.Modes, a.Refuses, b.Refuses} {
		for _, m := range list {
			if !slices.Contains(out, m) {
				out = append(out, m)
			}
		}
	}
	out = slices.DeleteFunc(out, func(m picture.Mode) bool {
		return m.Chroma == picture.NotSaid && slices.ContainsFunc(out, func(o picture.Mode) bool {
			return o.Same(m) && o != m && o.Chroma != picture.YUV420 && o.Chroma != picture.NotSaid
		})
	})
	slices.SortFunc(out, func(x, y picture.Mode) int { // one order, whichever end it came from
		return cmp.Or(cmp.Compare(y.Height*y.Width, x.Height*x.Width), y.Rate.Cmp(x.Rate),
			cmp.Compare(btoi(x.Interlaced), btoi(y.Interlaced)),
			strings.Compare(string(x.Chroma), string(y.Chroma)), cmp.Compare(x.Depth(), y.Depth()),
			x.Inner.Cmp(y.Inner), cmp.Compare(y.Width, x.Width))
	})
	return slices.Compact(out)
}

func btoi(b bool) int {
	if b {
		return 1
	}
	return 0
}

// has tells whether a socket has a picture on its list: sure, or why not. An empty or open list leaves it open.
func has(p *gear.Port, m picture.Mode) (sure bool, why string) {
	same := func(o picture.Mode) bool { return o.Same(m) }
	if slices.ContainsFunc(p.Refuses, same) {
		return false, fmt.Sprintf("the %s was tried with it and shows nothing", side(p))
	}
	at := false
	for _, o := range p.Modes {
		if !o.Same(m) {
			continue
		}
		at = true
		if o.Chroma == m.Chroma || m.Chroma != picture.YUV420 && o.Chroma != picture.YUV420 {
			return true, ""
		}
	}
	switch {
	case at && p.ModesFrom == "edid" && m.Chroma == picture.YUV420:
		return false, fmt.Sprintf("the %s does not list it at 4:2:0", side(p))
	case at, len(p.Modes) == 0, p.MoreModes:
		return false, ""
	}
	return false, fmt.Sprintf("the %s does not list it", side(p))
}

func side(p *gear.Port) string {
	if p.Direction == gear.In {
		return "input"
	}
	return "output"
}

// carries tells whether both sockets and the lead carry a picture's rate.
func carries(a, b *gear.Port, lead Carry, m picture.Mode) (sure bool, why string) {
	if a.Connector.Family() == gear.SDIFamily {
		return carriesSDI(a, b, lead, m)
	}
	low, high := hdmi.CharacterRate(m)
	low, high = low/1e6, high/1e6
	sureEnd, possibleEnd := characterLimit(a)
	s, p := characterLimit(b)
	sureEnd, possibleEnd = min(sureEnd, s), min(possibleEnd, p)
	switch {
	case low > possibleEnd && fixed(a) && fixed(b):
		return carriesFixed(a, b, lead, m)
	case low > possibleEnd:
		return false, fmt.Sprintf("it needs %.4g MHz, and the sockets carry %.4g", low, possibleEnd)
	case low > lead.PossibleMHz:
		return false, fmt.Sprintf("it needs %.4g MHz, and the lead carries %.4g", low, lead.PossibleMHz)
	}
	return high <= sureEnd && high <= lead.SureMHz, ""
}

func characterLimit(p *gear.Port) (sure, possible float64) {
	if p.HDMI == nil || p.HDMI.MaxTMDSMHz == nil {
		return gear.DefaultMaxTMDS.Low, gear.DefaultMaxTMDS.High
	}
	return p.HDMI.MaxTMDSMHz.Low, p.HDMI.MaxTMDSMHz.High
}

func fixed(p *gear.Port) bool { return p.HDMI != nil && p.HDMI.FixedRate != hdmi.NoFRL }

func carriesFixed(a, b *gear.Port, lead Carry, m picture.Mode) (sure bool, why string) {
	low, high := hdmi.FixedRateNeed(m)
	sure = high <= lead.SureGbps
	if low > lead.PossibleGbps {
		return false, fmt.Sprintf("it needs %.4g Gb/s of a fixed-rate link, and the lead carries %.4g", low,
			lead.PossibleGbps)
	}
	for _, end := range [2]*gear.Port{a, b} {
		have := end.HDMI.FixedRate.PayloadGbps()
		if end.HDMI.FixedRate == hdmi.UnknownFRL {
			sure = false
			continue
		}
		if low > have {
			return false, fmt.Sprintf("it needs %.4g Gb/s of a fixed-rate link, and the %s carries %.4g", low,
				side(end), have)
		}
		sure = sure && high <= have
	}
	return sure, ""
}

func carriesSDI(a, b *gear.Port, lead Carry, m picture.Mode) (sure bool, why string) {
	_, mbps, ok := sdi.For(m)
	if !ok {
		return false, "SDI has no mapping for it"
	}
	if mbps > lead.PossibleMbps {
		return false, fmt.Sprintf("it needs %.0f Mb/s, and the lead carries %.0f that far", mbps, lead.PossibleMbps)
	}
	sure = mbps <= lead.SureMbps
	for _, end := range [2]*gear.Port{a, b} {
		switch {
		case end.SDI == nil || end.SDI.Link == sdi.UnknownLink || end.SDI.Link == sdi.NoLink:
			sure = false
		case mbps > end.SDI.Link.Mbps():
			return false, fmt.Sprintf("it needs %.0f Mb/s, and the %s is %s-SDI", mbps, side(end), end.SDI.Link)
		}
	}
	if sdi.TwoMappings(m) {
		s, possible := meet(a, b)
		if !possible {
			return false, "the input does not take the mapping of 3G-SDI the output sends"
		}
		sure = sure && s
	}
	return sure, ""
}

func meet(a, b *gear.Port) (surely, possibly bool) {
	level := func(p *gear.Port) sdi.Level {
		if p.SDI == nil || p.SDI.Level == "" {
			return sdi.UnknownLevel
		}
		return p.SDI.Level
	}
	return sdi.Meet(level(a), level(b)) // a is the output
}

// Settles is the picture a source left on auto sends: the first the sink lists (the one it prefers) that both have and
// the lead carries; nil when there is none.
func Settles(o Outcome, sink *gear.Port) *picture.Mode {
	for _, m := range sink.Modes {
		for i := range o.Takes {
			if o.Takes[i].Mode.Same(m) && o.Takes[i].Sure {
				return &o.Takes[i].Mode
			}
		}
	}
	return nil
}

// Rank orders pictures from the best for a programme: sure ones first; then as Suit has it.
func Rank(takes []Taken, width, height int, rate picture.Rate) []Taken {
	out := slices.Clone(takes)
	slices.SortStableFunc(out, func(x, y Taken) int {
		a, b := SuitFor(&x.Mode, width, height, rate), SuitFor(&y.Mode, width, height, rate)
		return cmp.Or(cmp.Compare(btoi(y.Sure), btoi(x.Sure)), cmp.Compare(a.Rough, b.Rough),
			cmp.Compare(a.Size, b.Size), cmp.Compare(a.Load, b.Load))
	})
	return out
}

// Suit is how a picture suits a programme; less is better, the first figure that differs decides.
type Suit struct {
	// Rough is 0 for movement without a fault, 1 for a slip, 2 for fewer frames than the programme, 3 for judder; an
	// interlaced picture, which somebody has to deinterlace, stands half a step behind.
	Rough float64
	// Size is how much larger a picture is than the programme; pictures smaller than it come after all that fill it.
	Size float64
	// Load is chroma below 4:2:2, then the character rate in GHz.
	Load float64
}

// SuitFor is how a picture suits a programme of a size and rate.
func SuitFor(m *picture.Mode, width, height int, rate picture.Rate) Suit {
	s := Suit{Rough: roughness(m, rate), Size: misfit(m, width, height), Load: load(m) / 1e9}
	if m.Chroma == picture.YUV420 {
		s.Load += 1e3
	}
	return s
}

func roughness(m *picture.Mode, rate picture.Rate) float64 {
	r := m.Rate
	if !m.Inner.IsZero() {
		r = m.Inner
	}
	rough := 0.0
	switch picture.CadenceOf(r, rate).Kind {
	case picture.Judder:
		rough = 3
	case picture.Slip:
		rough = 1
	}
	if rough < 2 && r.Nominal() < rate.Nominal() {
		rough = 2
	}
	if m.Interlaced {
		rough += 0.5
	}
	return rough
}

func misfit(m *picture.Mode, width, height int) float64 {
	share := min(float64(m.Width)/float64(width), float64(m.Height)/float64(height))
	if share < 1 {
		return 1e3 / share
	}
	return share
}

func load(m *picture.Mode) float64 {
	_, high := hdmi.CharacterRate(*m)
	return high
}
