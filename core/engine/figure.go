package engine

import (
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/say"
)

// Figure is why a limit stands as it does, in the few words a technician would use to a colleague: "497 of 470 MB/s",
// "12 m, sure to 2.5 m", "25 among 29.97s". It is never a percentage; empty where there is nothing short to say.
func (w *Words) Figure() string {
	if w.Short != "" {
		return w.Short
	}
	l := w.Result
	if l.State == limit.Untested {
		const speed = "items/ID/ports/PORT/usb/speed" // what is asked first of a socket, whatever else it hangs on
		r := w.Rank()
		for _, d := range r {
			if d.Decides > 0 && l.Facts[d.Fact].Field == speed {
				return rig.FieldAt(speed).OnBoard()
			}
		}
		if len(r) > 0 {
			if f := rig.FieldAt(l.Facts[r[0].Fact].Field); f != nil && f.Board != "" {
				return f.OnBoard()
			}
		}
	}
	if l.Sense == limit.Fits {
		if l.State == limit.Slack || l.State == limit.Taut {
			return ""
		}
		return shortly(l)
	}
	unit, by := l.Unit, 1.0
	if unit == "mA" && l.Sure >= 100 {
		unit, by = "A", 1000
	}
	if l.Sense == limit.AtMost && l.Possible <= 0 { // there is nothing of it: why, the rule says in its line
		return lang.Text("%s %s wanted, and there is none", say.Number(say.Round2(l.Load.Low/by)), lang.Text(unit))
	}
	have, most := say.Number(say.Round2(l.Load.High/by)), say.Number(say.Round2(l.Sure/by))
	switch {
	case l.Sense == limit.AtLeast && unit == "V":
		return lang.Text("%s V, needs %s", say.Number(say.Round2(l.Load.Low)), say.Number(say.Round2(l.Sure)))
	case l.Sense == limit.AtLeast && unit == "m":
		return lang.Text("%s m, the run is %s", say.Number(l.Load.Low), say.Number(l.Sure))
	case l.Sense == limit.AtLeast:
		return lang.Text("%s of %s wanted", say.Number(l.Load.Low), say.Number(l.Sure))
	case l.Unit == "min" && l.Sure >= limit.Never:
		return ""
	case l.Unit == "min": // what there is of what is needed
		return lang.Text("%s of %s min", say.Number(say.Whole(l.Sure)), say.Number(say.Whole(l.Load.High)))
	case l.Unit == "m":
		return lang.Text("%s m, sure to %s m", have, most)
	case l.State == limit.Snapped && l.Sure <= 0: // nothing is sure, and it is too much even at best
		return lang.Text("%s of %s %s at best", say.Number(say.Round2(l.Load.Low/by)),
			say.Number(say.Round2(l.Possible/by)), lang.Text(unit))
	case l.State == limit.Untested && l.Load.Low < l.Load.High:
		return lang.Text("up to %s of %s %s", have, most, lang.Text(unit))
	case l.State == limit.Untested && l.Sure < l.Possible:
		return lang.Text("%s of %s to %s %s", have, most, say.Number(say.Round2(l.Possible/by)), lang.Text(unit))
	}
	return lang.Text("%s of %s %s", have, most, lang.Text(unit))
}

// shortly says a yes or no that is not known to be well.
func shortly(l *Result) string {
	if l.State == limit.Untested {
		return lang.Text(l.ID.Rule.Board.Open)
	}
	return lang.Text(l.ID.Rule.Board.Bad)
}
