package rules

import (
	"eventether/core/lang"
	"eventether/core/limit"
)

// Figure is why a limit stands as it does, in the few words a technician would use to a colleague: "497 of 470 MB/s", "12 m,
// sure to 2.5 m", "25 among 29.97s". It is never a percentage; empty where there is nothing short to say.
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
				return lang.Text(asks[speed])
			}
		}
		if len(r) > 0 {
			if s, ok := asks[l.Facts[r[0].Fact].Field]; ok {
				return lang.Text(s)
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
		return lang.Text("%s %s wanted, and there is none", Number(round2(l.Load.Low/by)), lang.Text(unit))
	}
	have, most := Number(round2(l.Load.High/by)), Number(round2(l.Sure/by))
	switch {
	case l.Sense == limit.AtLeast && unit == "V":
		return lang.Text("%s V, needs %s", Number(round2(l.Load.Low)), Number(round2(l.Sure)))
	case l.Sense == limit.AtLeast && unit == "m":
		return lang.Text("%s m, the run is %s", Number(l.Load.Low), Number(l.Sure))
	case l.Sense == limit.AtLeast:
		return lang.Text("%s of %s wanted", Number(l.Load.Low), Number(l.Sure))
	case l.Unit == "min" && l.Sure >= limit.Never:
		return ""
	case l.Unit == "min": // what there is of what is needed
		return lang.Text("%s of %s min", Number(whole(l.Sure)), Number(whole(l.Load.High)))
	case l.Unit == "m":
		return lang.Text("%s m, sure to %s m", have, most)
	case l.State == limit.Snapped && l.Sure <= 0: // nothing is sure, and it is too much even at best
		return lang.Text("%s of %s %s at best", Number(round2(l.Load.Low/by)), Number(round2(l.Possible/by)), lang.Text(unit))
	case l.State == limit.Untested && l.Load.Low < l.Load.High:
		return lang.Text("up to %s of %s %s", have, most, lang.Text(unit))
	case l.State == limit.Untested && l.Sure < l.Possible:
		return lang.Text("%s of %s to %s %s", have, most, Number(round2(l.Possible/by)), lang.Text(unit))
	}
	return lang.Text("%s of %s %s", have, most, lang.Text(unit))
}

// shortly says a yes or no that is not known to be well.
func shortly(l *Result) string {
	if s, ok := shorts[l.ID.Rule]; ok {
		if l.State == limit.Untested {
			return lang.Text(s.open)
		}
		return lang.Text(s.bad)
	}
	return ""
}

// shorts are yes or no questions on the board, while they are open and when the answer is bad.
var shorts = map[limit.RuleID]struct{ open, bad string }{
	"clean":          {"menus in it? nobody looked", "menus in the picture"},
	"standby":        {"does it sleep?", "falls asleep"},
	"setting":        {"a setting to look at", "a setting is wrong"},
	"excludes":       {"", "two settings exclude each other"},
	"protected":      {"black? nobody tried", "encrypted: captured as black"},
	"sends":          {"does it send that?", "cannot send that"},
	"takes":          {"does it take that?", "does not take that"},
	"chroma":         {"does it take 4:2:0?", "no 4:2:0"},
	"odd-size":       {"what of an odd size?", "odd size shows nothing"},
	"grade":          {"what is printed on it?", "too poor a lead"},
	"fixed-rate":     {"fast enough?", "link too slow"},
	"way-round":      {"which way round?", "output meets output"},
	"source-end":     {"which way round?", "wrong way round"},
	"run":            {"does it reach?", "shorter than the run"},
	"sdi-level":      {"level A or B?", "levels A and B do not meet"},
	"sdi-link":       {"which SDI is it?", "SDI link too slow"},
	"sdi-picture":    {"", "no SDI picture"},
	"carries-data":   {"data wires in it?", "charge only, no data"},
	"works-with":     {"tried in the program?", "the program refuses it"},
	"run-time":       {"what does it run on?", "cannot run on that"},
	"delivers":       {"which picture?", "does not deliver that"},
	"size":           {"how large?", "enlarged, soft"},
	"flicker":        {"50 or 60 Hz light?", "bands in lamp light"},
	"ingest":         {"what does it take?", "more than it takes"},
	"arrives":        {"does it get there?", "does not get there"},
	"hub-depth":      {"", "too many hubs"},
	"one-input":      {"", "two in one input"},
	"one-plug":       {"", "two plugs, one socket"},
	"two-programs":   {"", "two programs want it"},
	"switcher-mode":  {"do the rates agree?", "rates do not agree"},
	"loop-of":        {"", "nothing comes in"},
	"by-hand":        {"", "its size is chosen by hand"},
	"depth":          {"", "deep picture at 8 bits"},
	"interlaced":     {"", "has to be deinterlaced"},
	"arranged":       {"", "cannot be composed here"},
	"one-camera":     {"", "one camera at a time"},
	"who-switches":   {"", "nothing to change angles with"},
	"program-size":   {"how large?", "more than the program takes"},
	"upright":        {"", "stands upright"},
	"recorded":       {"is it recorded?", "nothing records it"},
	"range":          {"full range: right at the far end?", "shadows and lights lost"},
	"sent-size":      {"", "made larger, soft"},
	"codec":          {"", "takes no H.264"},
	"transport":      {"", "does not take that transport"},
	"voice":          {"which way to air?", "no way to air, or two"},
	"sound-level":    {"mic or line?", "line into microphone, or the other way"},
	"one-leg":        {"one leg, or both?", "both legs cancel: silence"},
	"mic-power":      {"is the microphone fed?", "microphone without its power"},
	"loudspeaker":    {"loudspeakers on?", "loudspeaker into an open microphone"},
	"level-control":  {"level control off?", "level control on"},
	"one-sided":      {"in the middle?", "on one side only"},
	"hum":            {"does it hum?", "it hums"},
	"computer-awake": {"", "not undisturbed"},
	"permission":     {"", "may not go live yet"},
	"arrival":        {"in time?", "arrives too late"},
	"venue-network":  {"tried from the place?", "does not get out"},
	"monitor":        {"", "he hears himself late"},
	"sound-treated":  {"", "a call treats the voice"},
}

// asks are the facts a limit hangs on most, as a question on the board.
var asks = map[string]string{
	"items/ID/ports/PORT/usb/speed":    "5 Gb/s, or 480 Mb/s?",
	"items/ID/ports/PORT/usb/transfer": "reserves its bandwidth?",
	"items/ID/power/selfPowered":       "has it a supply?",
	"items/ID/usb2":                    "one bus, or one each?",
	"leads/ID/grade":                   "what is printed on it?",
	"leads/ID/lengthM":                 "how long is it?",
	"leads/ID/awg":                     "how thick are its wires?",
	"items/ID/power/drawW":             "how much does it draw?",
	"items/ID/class":                   "which kind of computer?",
	"items/ID/freeGB":                  "how much is free on it?",
	"items/ID/writeMBps":               "how fast does it write?",
}

// round2 leaves three figures at most.
func round2(v float64) float64 {
	switch {
	case v >= 100:
		return whole(v)
	case v >= 10:
		return float64(int(v*10+0.5)) / 10
	}
	return float64(int(v*100+0.5)) / 100
}

func whole(v float64) float64 { return float64(int(v + 0.5)) }
