package rules

import (
	"cmp"
	"math"
	"slices"
	"strconv"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
)

// Uneven steps a second that still pass for smooth where nothing moves, in talk and on a stage, and in sport and play.
// A slip between a rate and its /1001 neighbour comes at most every 16 s (0.06 a second at 60) and goes unseen but in
// sport and play; every judder lies far above; where nothing moves neither is seen [practice; the
// figures are ours].
const (
	unevenStill = 120
	unevenTalk  = 0.2
	unevenSport = 0.05
)

// UnevenStepsAllowed is how many uneven steps a second pass for smooth in a show of a motion; talk when nobody has
// said.
func UnevenStepsAllowed(motion string) float64 {
	switch motion {
	case "still":
		return unevenStill
	case "play", "sport":
		return unevenSport
	}
	return unevenTalk
}

var Arrives = rule(Rule{
	Name:    "arrives",
	Asks:    "Does the picture get to the computer?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheShow,
	Board:   Short{Open: "does it get there?", Bad: "does not get there"},
	Source:  practice("A feed counts only when it reaches the computer"),
	Example: "A camera into a monitor only: no lead takes it on to the computer, so it snaps.",
	Judge:   Judging{AtEnd: judgeArrives},
})

// judgeArrives judges a way that does not get to the computer.
func judgeArrives(p *Pass, own *Rule, w *Walk) {
	src, it, socket := w.Feed.Source, w.Item, w.Socket
	p.Add(w.Hop, own, w.Feed.ID, &Result{Limit: limit.Limit{Outcomes: limit.No}, Where: w.Deps(), Say: func(w *Words) {
		w.What = w.T("Way of %s to the computer", src.Label)
		w.Says = w.T("%s goes no further than %s: no lead takes it on to the computer.", src.Label, it.Label)
		if socket {
			w.Says = w.T("%s goes into a picture socket of %s, but no capture device stands before it.", src.Label,
				it.Label)
		}
	}})
}

var Cadence = rule(Rule{
	Name:    "cadence",
	Asks:    "Does movement stay even at the programme's rate?",
	Sum:     "uneven steps a second of the source's rate in the programme's ≤ 0.2, ≤ 0.05 in sport and play; any where nothing moves",
	Sense:   limit.AtMost,
	Unit:    "uneven steps/s",
	Many:    "their rate does not go evenly into the programme’s",
	Over:    limit.Flaw,
	Subject: TheShow,
	Source:  practice("Whole multiples of the programme rate; never mix 25/50 with 30/60"),
	Example: "25 in a programme at 30 shows 2,1,1,1,1: five uneven steps a second, judder. 59.94 in 29.97 is clean.",
	Say:     sayCadence,
	Judge:   Judging{AtProgramme: judgeCadence},
})

func judgeCadence(p *Pass, own *Rule, w *Walk) {
	s := w.Bytes
	source := w.Feed.Source
	if s.Unknown {
		p.Add(w.Hop, own, w.Arrived, &Result{Limit: limit.Limit{Sense: limit.Fits, Outcomes: limit.Maybe,
			Facts: p.FactList(deliversFact(p, s.Owner, w.Mode))}, Where: w.Deps(), Say: func(w *Words) {
			w.What, w.Says = w.T("Movement of %s in the programme", source.Label),
				w.T("Nobody has said which pictures %s delivers, nor at which rate.", s.Owner.Label)
		}})
		return
	}
	judgeCadenceOf(p, own, w, w.Arrived, plans.Movement(w.Mode, s), p.Show.Programme.Rate, nil)
}

// judgeCadenceOf judges movement at one rate in a picture at another: the programme's, or that of a box on the way.
func judgeCadenceOf(p *Pass, own *Rule, w *Walk, place string, from, into picture.Rate, box *rig.Item) {
	c := picture.CadenceOf(from, into)
	source := w.Feed.Source
	l := Result{Limit: limit.Limit{Facts: p.FactList(limit.Known(c.UnevenPerSecond, "/s", fact.Standard)),
		Loads: p.LoadOf(source.ID, limit.Times(1, 1)), Caps: p.CapAt(limit.Times(UnevenStepsAllowed(p.Show.Motion)))},
		Where: p.WithShow(w)}
	if box != nil {
		l.Say = func(w *Words) {
			sayMovement(w, source, from, into)
			w.What = w.T("Movement of %s in %s", source.Label, box.Label)
		}
	}
	p.Add(w.Hop, own, place, &l)
}

func sayCadence(w *Words) {
	h := w.Result.Hop
	sayMovement(w, h.Item, plans.Movement(h.Mode, h.Bytes), w.Show.Programme.Rate)
}

// sayMovement words how a source's rate goes into another.
func sayMovement(w *Words, source *rig.Item, from, into picture.Rate) {
	c := picture.CadenceOf(from, into)
	w.What, w.Sum = w.T("Movement of %s in the programme", source.Label), unevenSum(w.Show.Motion)
	w.Short = lang.Text("%s among %ss", from.Name(), into.Name())
	w.Facts[0].Name, w.Loads[0].Sum = lang.Text("uneven steps a second"), cadenceSum(c, from, into)
	w.Says = w.T("%s at %s in a picture at %s: %s.", source.Label, from.Name(), into.Name(),
		plans.CadenceWords(c, from, into))
}

// unevenSum is where the limit of uneven steps comes from.
func unevenSum(motion string) string {
	switch UnevenStepsAllowed(motion) {
	case unevenStill:
		return lang.Text("where nothing moves no step is seen")
	case unevenSport:
		return lang.Text("in sport and play one uneven step every twenty seconds goes unseen")
	}
	return lang.Text("one uneven step every five seconds goes unseen")
}

func cadenceSum(c picture.Cadence, s, pr picture.Rate) string {
	switch c.Kind {
	case picture.SameRate, picture.Clean:
		return lang.Text("%s into %s: every step alike", s.String(), pr.String())
	case picture.Slip:
		return lang.Text("%s into %s: one slip every %s s", s.String(), pr.String(), say.Number(c.SlipSeconds))
	}
	text := lang.Text("%s into %s: frames shown %s times", s.String(), pr.String(), plans.Pattern(c.Pattern))
	if c.SlipSeconds > 0 {
		text += lang.Text(", and a slip every %s s", say.Number(c.SlipSeconds))
	}
	return text
}

var Size = rule(Rule{
	Name:    "size",
	Asks:    "Is the picture as large as the programme, or has it to be enlarged?",
	Sense:   limit.Fits,
	Many:    "they are enlarged to fill the programme, and soft",
	Over:    limit.Flaw,
	Subject: TheSend,
	Board:   Short{Open: "how large?", Bad: "enlarged, soft"},
	Source:  practice("Warn when a picture is enlarged"),
	Example: "1280×720 in a programme of 1920×1080 is enlarged 1.5×: soft, kinked.",
	Say:     saySize,
	Judge:   Judging{AtProgramme: judgeSize},
})

func judgeSize(p *Pass, own *Rule, w *Walk) {
	s, sent := w.Bytes, w.Mode
	pr := &p.Show.Programme
	l := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Where: w.Deps()}
	grow := enlarged(s, pr, largest(p, w.Feed.Source.ID))
	down := w.WasDown || sent.Width > s.Width && sent.Height > s.Height && s.Width < pr.Width
	switch {
	case s.Unknown:
		l.Outcomes, l.Facts = limit.Maybe, p.FactList(deliversFact(p, s.Owner, w.Mode))
	case grow > 1.0005 && down:
		l.Outcomes = limit.No
		l.Say = func(w *Words) {
			saySize(w)
			w.Says = w.T("%s is made smaller on the way and enlarged %s× again: soft for nothing.",
				w.Result.Hop.Item.Label, say.Number(grow))
		}
	case grow > 1.0005:
		l.Outcomes = limit.No
	}
	p.Add(w.Hop, own, w.Arrived, &l)
}

// enlarged is how many times a stream's picture is made larger to fill its part of the programme.
func enlarged(s *plans.Stream, pr *rig.Programme, part picture.Rect) float64 {
	w, h := int(math.Round(part.W*float64(pr.Width))), int(math.Round(part.H*float64(pr.Height)))
	return picture.Fit(s.Width, s.Height, w, h, picture.Box).Enlarged
}

func saySize(w *Words) {
	h, pr := w.Result.Hop, &w.Show.Programme
	s, source := h.Bytes, h.Item.Label
	part := largest(w.Pass, h.Item.ID)
	grow := enlarged(s, pr, part)
	switch w.What = w.T("Size of %s in the programme", source); {
	case s.Unknown:
		w.Says = w.T("Nobody has said which pictures %s delivers: %s may have to be enlarged.", s.Owner.Label, source)
	case w.Result.State == limit.Kinked && part != picture.Whole:
		w.Says = w.T("%s is enlarged %s× to fill its part of the programme, %s % of the width: soft.", source,
			say.Number(grow), say.Number(say.Round1(100*part.W)))
	case w.Result.State == limit.Kinked:
		w.Says = w.T("%s is enlarged %s× to fill the programme: soft.", source, say.Number(grow))
	case part != picture.Whole:
		w.Says = w.T("%s is as large as its part of the programme or larger: %s % of the width at most, in the arrangements.",
			source, say.Number(say.Round1(100*part.W)))
	case grow < 0.9995 || h.Mode.Width > s.Width:
		w.Says = w.T("%s is made smaller to %s.", source, picture.SizeName(pr.Width, pr.Height))
	default:
		w.Says = w.T("%s is as large as the programme or larger.", source)
	}
}

var Depth = rule(Rule{
	Name:    "depth",
	Asks:    "Does a deep picture arrive at 8 bits, where HDR and log look washed out?",
	Sense:   limit.Fits,
	Over:    limit.Flaw,
	Subject: TheBus,
	Board:   Short{Bad: "deep picture at 8 bits"},
	Source:  practice("Turn HDR off at the source, or capture P010 or v210 and tone-map"),
	Example: "10-bit into an 8-bit capture: harmless unless it is HDR or log.",
	Judge:   Judging{AtProgramme: judgeDepthOfPicture},
})

func judgeDepthOfPicture(p *Pass, own *Rule, w *Walk) {
	if w.Mode.Depth() <= 8 || w.Bytes.Deep {
		return
	}
	source, depth := w.Feed.Source, w.Mode.Depth()
	p.Add(w.Hop, own, w.Arrived, &Result{Limit: limit.Limit{Outcomes: limit.Yes}, Where: w.Deps(), Say: func(w *Words) {
		w.What, w.Says = w.T("Depth of %s", source.Label),
			w.T("%s sends %s-bit and arrives at 8: harmless unless it is HDR or log, which then looks washed out.",
				source.Label, strconv.Itoa(depth))
	}})
}

var Interlaced = rule(Rule{
	Name:    "interlaced",
	Asks:    "Does somebody have to deinterlace the picture?",
	Sense:   limit.Fits,
	Over:    limit.Flaw,
	Subject: TheShow,
	Board:   Short{Bad: "has to be deinterlaced"},
	Source:  practice("Two fields a frame, apart in time, have to be put together"),
	Example: "1080i50 from a camcorder: edges comb on movement until it is deinterlaced, about a field or a frame of delay.",
	Judge:   Judging{AtProgramme: judgeInterlaced},
})

func judgeInterlaced(p *Pass, own *Rule, w *Walk) {
	if !w.Mode.Interlaced {
		return
	}
	source := w.Feed.Source
	p.Add(w.Hop, own, w.Arrived, &Result{Limit: limit.Limit{Outcomes: limit.Soft}, Where: w.Deps(),
		Say: func(w *Words) {
			w.What, w.Says = w.T("Scan of %s", source.Label),
				w.T("%s sends an interlaced picture: somebody must deinterlace it (about a field or a frame of delay), or edges comb on movement.",
					source.Label)
		}})
}

// takesOne tells whether the program takes one camera at a time.
func takesOne(p *Pass) bool { return plans.ProgramKinds[p.Show.Program.Kind].One }

var OneCamera = rule(Rule{
	Name:    "one-camera",
	Asks:    "Does the program take as many pictures at once as the show cuts between?",
	Sense:   limit.Fits,
	Over:    limit.Flaw,
	Subject: TheSend,
	Board:   Short{Bad: "one camera at a time"},
	Source:  practice("A call and a destination's own page take one camera, chosen in a menu; the picture is black meanwhile"),
	Example: "Two webcams in a call: one is on air, the other is chosen in the menu of the call. A switcher's one picture is one camera to it.",
	Judge:   Judging{OnRig: judgeOneCamera},
})

// judgeOneCamera judges pictures that come by themselves to a program that takes one of them; where each has to be
// picked there, angles says it.
func judgeOneCamera(p *Pass, own *Rule, _ *Walk) {
	if !takesOne(p) || p.Show.Angles == 1 || p.Show.AnglesSelectable && p.Show.Angles > 0 {
		return
	}
	come := pickable(p)
	if come < 2 {
		return
	}
	p.Add(nil, own, "", &Result{Limit: limit.Limit{Outcomes: limit.No}, Stage: plans.Send, Shared: true,
		Where: whereWired(p), Kinds: &wiringKinds, Say: func(w *Words) {
			name := plans.ProgramName(w.Show.Program)
			w.What, w.Says = w.T("Cameras %s takes", name),
				w.T("%s takes one camera, and %s pictures come to it: another is chosen in its menu, and nothing is seen meanwhile.",
					say.Sentence(name), strconv.Itoa(come))
		}})
}

var WhoSwitches = rule(Rule{
	Name:    "who-switches",
	Asks:    "Is what changes angles in the rig?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheShow,
	Board:   Short{Bad: "nothing to change angles with"},
	Source:  practice("What angles are changed with has to be there"),
	Example: "A hardware switcher is to change angles, and none is in the rig: snapped.",
	Judge:   Judging{OnRig: judgeWhoSwitches},
})

// switchers are the kinds of things each way of changing angles needs; a helper brings his own hands.
var switchers = map[string]struct {
	kind gear.Kind
	name string
}{"switcher": {gear.Switcher, "a hardware switcher"}, "keys": {gear.KeyPad, "a keyboard"},
	"pad": {gear.KeyPad, "a pad of keys"}, "pedal": {gear.KeyPad, "a pedal"}}

// judgeWhoSwitches judges whether there is a thing to change angles with. Without a switcher nothing is cut; keys, pads
// and pedals are a help. A laptop has keys of its own.
func judgeWhoSwitches(p *Pass, own *Rule, _ *Walk) {
	by, needs := switchers[p.Show.Switching]
	if !needs || p.Show.Angles == 1 {
		return
	}
	l := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Stage: plans.Send, Shared: true, Where: []string{"show"}}
	if by.kind != gear.Switcher {
		l.Over = limit.Care
	}
	host := p.Host()
	has, keys := slices.IndexFunc(p.Items, func(it rig.Item) bool { return it.Gear.Kind == by.kind }), false
	if host != nil && p.Show.Switching == "keys" {
		l.Where = append(l.Where, host.ID)
	}
	switch {
	case has >= 0:
		l.Where = append(l.Where, p.Items[has].ID)
	case p.Show.Switching != "keys" || host == nil:
		l.Outcomes, l.Lacks = limit.No, by.kind
	case host.Gear.Class == gear.Laptop || host.Gear.Class == gear.SmallLaptop || host.Gear.Class == gear.GoodLaptop:
		keys = true
	case host.Gear.Class == "":
		l.Outcomes, l.Lacks, l.Facts = limit.Maybe, by.kind,
			p.FactList(limit.Open(limit.At("items/ID/class", host.ID), keysByClass))
	default:
		l.Outcomes, l.Lacks = limit.No, by.kind
	}
	l.Say = func(w *Words) {
		thing := lang.Text(by.name)
		w.What = lang.Text("What changes angles")
		switch {
		case keys:
			w.Says = w.T("The keys of %s change angles.", host.Label)
		case w.Result.State == limit.Untested:
			w.Says = w.T("Keys are to change angles: a laptop has some, beside a desktop %s has to stand, and nobody has said which %s is.",
				thing, host.Label)
		case has < 0:
			w.Says = w.T("%s is to change angles, and none is in this rig.", say.Sentence(thing))
		default:
			w.Says = w.T("%s changes angles.", say.Sentence(thing))
		}
	}
	p.Add(nil, own, "", &l)
}

// keysByClass are the kinds of computers with keys of their own, and those without.
var keysByClass = limit.OneOf(limit.Would(string(gear.SmallLaptop), limit.Slack), limit.Would(string(gear.GoodLaptop),
	limit.Slack), limit.Would(string(gear.Laptop), limit.Slack),
	limit.Would(string(gear.MidDesktop), limit.Taut), limit.Would(string(gear.LargeDesktop), limit.Taut),
	limit.Would(string(gear.DesktopClass), limit.Taut))

var WorksWith = rule(Rule{
	Name:    "works-with",
	Asks:    "Has the device worked with the program?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheBus,
	Board:   Short{Open: "tried in the program?", Bad: "the program refuses it"},
	Source:  measured("What happened when it was tried"),
	Example: "A device with a driver of its own that a call program has refused: snapped.",
	Say:     sayWorksWith,
	Judge:   Judging{AtProgramme: judgeWorksWith},
})

var worksWords = limit.OneOf(limit.Would("works", limit.Slack), limit.Would("badly", limit.Taut),
	limit.Would("no", limit.Snapped))

func judgeWorksWith(p *Pass, own *Rule, w *Walk) {
	it := w.Bytes.Owner
	program := &p.Show.Program
	l := Result{Where: p.WithShow(w)}
	works := ""
	if e := triedWith(it, program); e != nil {
		works = e.Works
	}
	switch {
	case works == "works", plainDevice(it):
		l.Outcomes = limit.Yes
	case works == "badly":
		l.Outcomes = limit.Soft
	case works == "no":
		l.Outcomes = limit.No
	default:
		l.Outcomes = limit.Maybe
		l.Facts = p.FactList(limit.Open(limit.Part("items/ID/worksWith/PROGRAM", it.ID,
			cmp.Or(program.Name, program.Kind)), worksWords))
	}
	p.Add(w.Hop, own, it.ID, &l)
}

// plainDevice tells of one that needs no driver and has been tried with nothing: nearly every program takes it.
func plainDevice(it *rig.Item) bool {
	return (it.Gear.Driver == "" || it.Gear.Driver == "none") && len(it.Gear.WorksWith) == 0
}

// triedWith is what a device did in a program, by its name or else by its kind; nil when nobody has tried.
func triedWith(it *rig.Item, program *rig.Program) *gear.Experience {
	var kind *gear.Experience
	for i := range it.Gear.WorksWith {
		switch e := &it.Gear.WorksWith[i]; {
		case e.Program == program.Name && e.Program != "":
			return e
		case kind == nil && e.Program == program.Kind:
			kind = e
		}
	}
	return kind
}

func sayWorksWith(w *Words) {
	it := w.Result.Hop.Bytes.Owner
	name := plans.ProgramName(w.Show.Program)
	e := triedWith(it, &w.Show.Program)
	text := lang.Text("Nobody has tried %s in %s.")
	switch {
	case plainDevice(it):
		text = lang.Text("%s works as a plain device; %s takes such.")
		w.Source = practice("Plain webcam-class devices need no driver")
	case w.Result.State == limit.Slack:
		text = lang.Text("%s has worked in %s.")
	case w.Result.State == limit.Taut:
		text = lang.Text("%s has worked badly in %s.")
	case w.Result.State == limit.Snapped:
		text = lang.Text("%s does not work in %s.")
	}
	w.What, w.Says = w.T("%s in %s", it.Label, name), w.T(text, it.Label, name)
	if e != nil {
		w.Source.Name = w.T("tried %s", cmp.Or(e.At, "no date"))
	}
	if it.Gear.ListedAs != "" {
		w.Says += w.T(" Programs list it as “%s”.", it.Gear.ListedAs)
	}
}

var ProgramSize = rule(Rule{
	Name:    "program-size",
	Asks:    "Does the program take a picture of this size?",
	Sense:   limit.Fits,
	Over:    limit.Flaw,
	Subject: TheSend,
	Board:   Short{Open: "how large?", Bad: "more than the program takes"},
	Source:  practice("Studios and calls often take up to 1080p, and less when the line is short"),
	Example: "2160p into a call, which usually makes it 1080 lines at most: taut.",
	Judge:   Judging{AtProgramme: judgeProgramSize},
})

func judgeProgramSize(p *Pass, own *Rule, w *Walk) {
	if p.CodesHere() {
		return
	}
	s, source, kind := w.Bytes, w.Feed.Source, plans.ProgramKinds[p.Show.Program.Kind]
	l := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Where: p.WithShow(w)}
	if s.Unknown || s.Height > kind.Lines {
		l.Outcomes = limit.Soft
	}
	l.Say = func(w *Words) {
		name, lines := plans.ProgramName(w.Show.Program), strconv.Itoa(kind.Lines)
		w.What, w.Says = w.T("Size %s takes", name), w.T("%s takes pictures of up to %s lines.", say.Sentence(name),
			lines)
		if s.Unknown {
			w.Says = w.T("Nobody has said which pictures %s delivers; %s usually takes up to %s lines.", s.Owner.Label,
				name, lines)
		} else if s.Height > kind.Lines {
			w.Says = w.T("%s sends %s; %s usually makes it 1080 lines at most.", source.Label,
				picture.SizeName(s.Width, s.Height), name)
		}
	}
	p.Add(w.Hop, own, s.Owner.ID+":"+w.Feed.ID, &l)
}

var Mirrored = rule(Rule{
	Name:    "mirrored",
	Asks:    "Does the program show a source mirrored?",
	Sense:   limit.Fits,
	Over:    limit.Care,
	Subject: TheSend,
	Source:  practice("Only the preview is mirrored; check the recording"),
	Example: "A call mirrors the self-view; what is sent is not.",
	Judge:   Judging{AtProgramme: judgeMirrored},
})

func judgeMirrored(p *Pass, own *Rule, w *Walk) {
	it := w.Bytes.Owner
	if !plans.ProgramKinds[p.Show.Program.Kind].Mirrored || it.Gear.Kind == gear.Switcher {
		return
	}
	p.Add(w.Hop, own, it.ID+":"+w.Feed.ID, &Result{Limit: limit.Limit{Outcomes: limit.Yes}, Where: w.Deps(),
		Say: func(w *Words) {
			w.What, w.Says = lang.Text("Mirrored self-view"), w.T("%s may show you mirrored; what is sent is not.",
				say.Sentence(plans.ProgramName(w.Show.Program)))
		}})
}

var ByHand = rule(Rule{
	Name:    "by-hand",
	Asks:    "Has the size of a device to be chosen by hand in the program?",
	Sense:   limit.Fits,
	Over:    limit.Flaw,
	Subject: TheSend,
	Board:   Short{Bad: "its size is chosen by hand"},
	Source:  practice("Some devices open at their smallest size"),
	Example: "A device that opens at 640×480: choose 1920×1080 by hand.",
	Judge:   Judging{AtProgramme: judgeByHand},
})

func judgeByHand(p *Pass, own *Rule, w *Walk) {
	s := w.Bytes
	if !s.Owner.Gear.OpensSmall {
		return
	}
	p.Add(w.Hop, own, s.Owner.ID+":"+w.Feed.ID, &Result{Limit: limit.Limit{Outcomes: limit.Yes}, Where: w.Deps(),
		Say: func(w *Words) {
			w.What, w.Says = w.T("Size of %s in the program", s.Owner.Label),
				w.T("%s opens small: choose %s by hand in %s.", s.Owner.Label, picture.SizeName(s.Width, s.Height),
					plans.ProgramName(w.Show.Program))
		}})
}

var TwoPrograms = rule(Rule{
	Name:    "two-programs",
	Asks:    "Do two programs want one device?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheSend,
	Board:   Short{Bad: "two programs want it"},
	Source:  practice("Several programs take one camera only through something that shares it"),
	Example: "An encoder and a call both want the stick: it opens for one of them.",
	Judge:   Judging{AtProgramme: judgeTwoPrograms},
})

func judgeTwoPrograms(p *Pass, own *Rule, w *Walk) {
	it := w.Bytes.Owner
	for i := range p.Show.Also {
		also := &p.Show.Also[i]
		if !slices.Contains(also.Takes, it.ID) && !slices.Contains(also.Takes, w.Feed.Source.ID) {
			continue
		}
		l := Result{Limit: limit.Limit{Outcomes: limit.No}, Where: p.WithShow(w)}
		if it.Gear.Shares {
			l.Outcomes = limit.Yes
		}
		l.Say = func(w *Words) {
			name, other := plans.ProgramName(w.Show.Program),
				plans.ProgramName(rig.Program{Kind: also.Kind, Name: also.Name})
			w.What = w.T("Programs that take %s", it.Label)
			w.Says = w.T("%s and %s both want %s, and a device opens for one: something that shares its picture has to stand between.",
				name, other, it.Label)
			if it.Gear.Shares {
				w.Says = w.T("%s shares its picture: %s and %s both have it.", it.Label, name, other)
			}
		}
		p.Add(w.Hop, own, it.ID, &l)
	}
}
