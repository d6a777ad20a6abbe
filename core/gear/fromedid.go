package gear

import (
	"slices"

	"eventether/core/edid"
	"eventether/core/fact"
	"eventether/core/hdmi"
	"eventether/core/picture"
)

// FromEDID gives an input port as its own EDID describes it: the pictures it takes, its highest character rate, its
// fixed-rate link. What was tried by hand stays. at is the date of the reading, "2026-09-01".
func (p Port) FromEDID(r *edid.Reading, at string) Port {
	p.Modes, p.MoreModes, p.ModesFrom, p.ModesAt = EDIDModes(r), false, "edid", at
	h := HDMIPort{}
	if p.HDMI != nil {
		h = *p.HDMI
	}
	if r.MaxTMDSHz != nil {
		f := fact.Known(float64(*r.MaxTMDSHz)/1e6, fact.Measured)
		f.At = at
		h.MaxTMDSMHz = &f
	}
	h.FixedRate = hdmi.NoFRL
	if r.FixedRateLink > 0 {
		h.FixedRate = hdmi.FRLs[r.FixedRateLink-1]
	}
	p.HDMI = &h
	p.Modes = slices.DeleteFunc(p.Modes, func(m picture.Mode) bool { return slices.ContainsFunc(p.Refuses, m.Same) })
	return p
}

// EDIDModes turns the pictures of an EDID into modes, in its order, which begins with what the sink prefers. A coded
// picture of the 60 Hz family stands for its /1001 rate too [standard: CTA-861]; one that is taken at 4:2:0 gets a mode
// that says so.
func EDIDModes(r *edid.Reading) []picture.Mode {
	var out []picture.Mode
	add := func(m picture.Mode) {
		if !slices.Contains(out, m) {
			out = append(out, m)
		}
	}
	for i := range r.Modes {
		e := &r.Modes[i]
		rate := e.FrameRate()
		if rate.IsZero() || e.Width < 16 || e.Height < 16 || rate.Num > picture.MaxRate*rate.Den {
			continue
		}
		m := picture.Mode{Width: e.Width, Height: e.Height, Rate: rate, Interlaced: e.Interlaced}
		if e.Interlaced && e.Width == 1440 { // every pixel is sent twice
			m.Width = 720
		}
		rates := []picture.Rate{rate}
		if e.VIC != nil && rate.Den == 1 && rate.Num%6 == 0 {
			rates = append(rates, picture.NewRate(rate.Num*1000, 1001))
		}
		for _, rate := range rates {
			m.Rate = rate
			if !e.Chroma420Only {
				m.Chroma = picture.NotSaid
				add(m)
			}
			if e.Chroma420Only || e.Chroma420Also {
				m.Chroma = picture.YUV420
				add(m)
			}
		}
	}
	return out
}
