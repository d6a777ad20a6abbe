package inspect

import "eventether/core/look"

// Gap is a stretch in which one of picture and sound does not come while the other does.
type Gap struct {
	Of   string  `json:"of" enum:"picture,sound" doc:"What does not come"`
	From float64 `json:"from" doc:"Seconds since the beginning"`
	To   float64 `json:"to"`
}

// Kinds of what has gaps.
const (
	OfPicture = "picture"
	OfSound   = "sound"
)

// Of gaps [estimate].
const (
	holeFrom  = 0.1 // seconds past the usual step from one packet of sound to the next that are heard
	endsApart = 1.0 // seconds by which one may begin later, or end sooner, than the other: programs do not begin both at once
	mostHoles = 100 // that are kept
)

// run follows packets of one kind, and unrolls their time stamps where they begin anew.
type run struct {
	some   bool
	offset float64 // added to what they say
	from   float64
	to     float64 // the latest
	step   float64 // the usual one; 0 before it is known
	holes  []look.Stretch
	anew   []float64 // times at which their time stamps began anew
}

// add takes the time of a packet, in the order they are decoded, and tells by how much it is shifted.
func (r *run) add(at float64) (offset float64) {
	if !r.some {
		r.some, r.from, r.to = true, at, at
		return 0
	}
	step := at + r.offset - r.to
	if step < -goesBack { // another clock from here on
		r.offset += r.step - step
		if len(r.anew) < mostHoles {
			r.anew = append(r.anew, r.to+r.step)
		}
		step = r.step
	}
	switch {
	case step <= 0:
		return r.offset
	case r.step > 0 && step > holeFrom+gapFrom*r.step:
		if len(r.holes) < mostHoles {
			r.holes = append(r.holes, look.Stretch{From: r.to + r.step, To: at + r.offset})
		}
	case r.step == 0:
		r.step = step
	default:
		r.step += follows * (step - r.step)
	}
	r.to = at + r.offset
	return r.offset
}

// Holes tells whether the sound is gone in the middle.
func (t *Traffic) Holes() bool { return len(t.listen.holes) > 0 }

// gaps are those of a sound, and by how much one of the two begins later or ends sooner. even is whether the picture has a
// constant rate: the last frame of one that has none may be shown for long.
func gaps(picture, sound *run, even bool) (out []Gap) {
	began := min(picture.from, sound.from)
	switch {
	case !sound.some:
		return out
	case !picture.some:
		began = sound.from
	}
	put := func(of string, from, to float64) { out = append(out, Gap{of, tenth(from - began), tenth(to - began)}) }
	if late := sound.from - picture.from; picture.some && late >= endsApart {
		put(OfSound, picture.from, sound.from)
	} else if picture.some && -late >= endsApart {
		put(OfPicture, sound.from, picture.from)
	}
	for _, h := range sound.holes {
		put(OfSound, h.From, h.To)
	}
	ends, heard := picture.to+picture.step, sound.to+sound.step
	if picture.some && ends-heard >= endsApart {
		put(OfSound, heard, ends)
	} else if picture.some && even && heard-ends >= endsApart {
		put(OfPicture, ends, heard)
	}
	return out
}
