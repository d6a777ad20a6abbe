package judge

import (
	"strconv"
	"strings"

	"eventether/core/fact"
	"eventether/core/picture"
)

// UnevenStepsAllowed is how many uneven steps a second still pass for smooth: one every five seconds. Slips between a
// rate and its /1001 neighbour (at most 0.12 a second at 120) stay below it, every judder lies far above
// [practice: handbook 1.3 advises against judder and accepts slips; the figure is ours].
const UnevenStepsAllowed = 0.2

// picture judges what the programme makes of the picture: cadence, size, scan. Handbook 1.2, 1.3, 5.2.
func (p *pass) picture(w *walk, s *stream) {
	pr := p.Show.Programme
	rate := s.rate
	if !w.mode.Inner.IsZero() && w.mode.Inner.Cmp(rate) < 0 {
		rate = w.mode.Inner // the movement inside is slower than the link
	}
	id := s.owner.ID + "." + s.port + ":" + w.feed.ID
	detail := p.sizeName(s.width, s.height)
	if s.width != pr.Width || s.height != pr.Height {
		detail = p.say("%s into %s", detail, p.sizeName(pr.Width, pr.Height))
	}
	hop := w.at(AtPicture, "rig", w.feed.ID, p.cadenceText(picture.CadenceOf(rate, pr.Rate), rate, pr.Rate), detail)
	if s.unknown {
		p.add(hop, &Limit{ID: "cadence:" + id, Rule: "cadence", Sense: Fits, outcomes: maybe, Where: w.deps(), What: p.say("Movement of %s in the programme", w.feed.Label),
			Says: p.say("Nobody has said which pictures %s delivers, nor at which rate.", s.owner.Label), Facts: p.facts.of(p.deliversBasis(s.owner, w.mode)),
			Source: Source{fact.Practice, "Handbook 1.3: whole multiples of the programme rate; never mix 25/50 with 30/60"}})
	} else {
		p.cadence(hop, w, "cadence:"+id, rate, pr.Rate, p.say("Movement of %s in the programme", w.feed.Label))
	}
	p.size(hop, w, s, id)
	p.program(hop, w, s)
	p.hdr(hop, w, s, id)
	if !p.quiet {
		w.feed.Shape = p.shape(w, s)
	}
	if w.mode.Interlaced {
		p.add(hop, &Limit{ID: "interlaced:" + id, Rule: "interlaced", Sense: Fits, outcomes: soft, Where: w.deps(), What: p.say("Scan of %s", w.feed.Label),
			Says:   p.say("%s sends an interlaced picture: somebody must deinterlace it (about a field or a frame of delay), or edges comb on movement.", w.feed.Label),
			Source: Source{fact.Practice, "Handbook 1.2"}})
	}
}

// cadence judges movement at one rate in a picture at another. Handbook 1.3.
func (p *pass) cadence(hop *Hop, w *walk, id string, from, into picture.Rate, what string) {
	c := picture.CadenceOf(from, into)
	uneven := Basis{Name: "uneven steps a second", Unit: "/s", Low: c.UnevenPerSecond, Value: c.UnevenPerSecond, High: c.UnevenPerSecond, From: fact.Standard}
	l := Limit{ID: id, Rule: "cadence", Unit: "uneven steps/s", Where: w.deps(), What: what,
		Facts: p.facts.of(uneven),
		Loads: p.loads.of(Load{Item: w.feed.Source, Label: w.feed.Label, Sum: p.cadenceSum(c, from, into), term: times(1, 0)}),
		caps:  p.terms.of(times(UnevenStepsAllowed)), LimitSum: "one uneven step every five seconds goes unseen",
		Source: Source{fact.Practice, "Handbook 1.3: whole multiples of the programme rate; never mix 25/50 with 30/60"}}
	kept := p.add(hop, &l)
	if !p.quiet {
		kept.Says = p.say("%s at %s in a picture at %s: %s.", w.feed.Label, from.Name(), into.Name(), p.cadenceText(c, from, into))
	}
}

// hdr judges an HDR or log picture that ends in an ordinary capture: it looks washed out. Handbook 3.1.
func (p *pass) hdr(hop *Hop, w *walk, s *stream, id string) {
	if w.mode.Depth() <= 8 || s.deep {
		return
	}
	p.add(hop, &Limit{ID: "depth:" + id, Rule: "depth", Sense: Fits, outcomes: yes, Where: w.deps(), What: p.say("Depth of %s", w.feed.Label),
		Says:   p.say("%s sends %s-bit and arrives at 8: harmless unless it is HDR or log, which then looks washed out.", w.feed.Label, strconv.Itoa(w.mode.Depth())),
		Source: Source{fact.Practice, "Handbook 3.1: turn HDR off at the source, or capture P010 or v210 and tone-map"}})
}

// size says when a picture has to be enlarged: it still works, softly.
func (p *pass) size(hop *Hop, w *walk, s *stream, id string) {
	pr := p.Show.Programme
	l := Limit{ID: "size:" + id, Rule: "size", Sense: Fits, Where: w.deps(), What: p.say("Size of %s in the programme", w.feed.Label),
		Source: Source{fact.Practice, "Handbook 5.2: warn when a picture is enlarged"}}
	grow := picture.Fit(s.width, s.height, pr.Width, pr.Height, picture.Box).Enlarged
	sent := w.mode
	down := w.wasDown || sent.Width > s.width && sent.Height > s.height && s.width < pr.Width
	switch {
	case s.unknown:
		l.outcomes, l.Says = soft, p.say("Nobody has said which pictures %s delivers: %s may have to be enlarged.", s.owner.Label, w.feed.Label)
	case grow > 1.0005 && down:
		l.outcomes, l.Says = soft, p.say("%s is made smaller on the way and enlarged %s× again: soft for nothing.", w.feed.Label, p.num(grow))
	case grow > 1.0005:
		l.outcomes, l.Says = soft, p.say("%s is enlarged %s× to fill the programme: it holds, but soft.", w.feed.Label, p.num(grow))
	case grow < 0.9995 || sent.Width > s.width:
		l.outcomes, l.Says = yes, p.say("%s is made smaller to %s.", w.feed.Label, p.sizeName(pr.Width, pr.Height))
	default:
		l.outcomes, l.Says = yes, p.say("%s is as large as the programme or larger.", w.feed.Label)
	}
	p.add(hop, &l)
}

// cadenceText is the cadence in a few words.
func (p *pass) cadenceText(c picture.Cadence, s, pr picture.Rate) string {
	if p.quiet {
		return ""
	}
	switch c.Kind {
	case picture.SameRate:
		return "same rate"
	case picture.Clean:
		if s.Cmp(pr) > 0 {
			return p.say("clean, one frame in %s shown", strconv.Itoa(len(c.Pattern)))
		}
		return p.say("clean, each shown %s times", strconv.Itoa(c.Pattern[0]))
	case picture.Slip:
		return p.say("a slip every %s s", p.num(c.SlipSeconds))
	}
	return "judder " + Pattern(c.Pattern)
}

// Pattern writes repeats as 2,1,1,1.
func Pattern(p []int) string {
	words := make([]string, len(p))
	for i, n := range p {
		words[i] = strconv.Itoa(n)
	}
	return strings.Join(words, ",")
}

func (p *pass) cadenceSum(c picture.Cadence, s, pr picture.Rate) string {
	if p.quiet {
		return ""
	}
	switch c.Kind {
	case picture.SameRate, picture.Clean:
		return p.say("%s into %s: every step alike", s.String(), pr.String())
	case picture.Slip:
		return p.say("%s into %s: one slip every %s s", s.String(), pr.String(), p.num(c.SlipSeconds))
	}
	text := p.say("%s into %s: frames shown %s times", s.String(), pr.String(), Pattern(c.Pattern))
	if c.SlipSeconds > 0 {
		text += p.say(", and a slip every %s s", p.num(c.SlipSeconds))
	}
	return text
}
