// Package view answers: what do screens and reports show of a verdict?
//
// It puts figures and ids into the words a person reads, once, after judging: the board with its feeds and hops, every
// limit with its sum, the tree of sockets, the clock of the show, the ways a camera can come in, and the text report.
package view

import (
	"slices"
	"strconv"

	"eventether/core/advise"
	"eventether/core/engine"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/say"
	"eventether/core/verdict"
)

// Verdict is everything judging finds, in words.
type Verdict struct {
	State     limit.State       `json:"state" enum:"slack,taut,kinked,untested,snapped"`
	Sentence  string            `json:"sentence" doc:"The verdict in one sentence, with the smallest set of moves"`
	ToFindOut []string          `json:"toFindOut" doc:"The facts that decide whether it holds, as their limits are called"`
	Feeds     []Feed            `json:"feeds"`
	Branches  []Feed            `json:"branches" doc:"Where pictures go besides: recorders, monitors"`
	Outs      []Out             `json:"outs" doc:"What leaves the programme: destinations and recordings"`
	Layouts   []Arrangement     `json:"layouts" doc:"Which sources are seen together, and where"`
	Limits    []Limit           `json:"limits"`
	NotJudged []NotJudged       `json:"notJudged" doc:"What no rule looks at yet, by name"`
	Findings  []Finding         `json:"findings"`
	Proposed  Proposed          `json:"proposed" doc:"Choices nobody has made, as they were judged"`
	Advice    *Advice           `json:"advice,omitempty" doc:"How far the advice got; none when there is none yet"`
	Cure      *advise.Cure      `json:"cure,omitempty"`
	Questions []advise.Question `json:"questions" doc:"What to ask next, the most deciding first"`
}

// Arrangement is one arrangement of the programme, for a drawing true to shape.
type Arrangement struct {
	Name  string `json:"name"`
	Words string `json:"words" doc:"Where each source lies"`
	Boxes []Laid `json:"boxes" doc:"In the order they lie over each other, the lowest first"`
}

// Laid is the place of one source in an arrangement.
type Laid struct {
	Source string       `json:"source"`
	Label  string       `json:"label"`
	At     picture.Rect `json:"at" doc:"The part of the programme it fills at most"`
}

// NotJudged is a thing no rule looks at: named, never passed over. A rig that holds holds but for these.
type NotJudged struct {
	Kind  string `json:"kind" enum:"item,lead,port,setting,destination,recording,subject"`
	Ref   string `json:"ref" doc:"What it is: an id, or item.port"`
	Label string `json:"label"`
	Why   string `json:"why"`
}

// Feed is the verdict on one source's way to the audience.
type Feed struct {
	ID     string      `json:"id"`
	Source string      `json:"source" doc:"Item id of the source"`
	Label  string      `json:"label"`
	State  limit.State `json:"state" enum:"slack,taut,kinked,untested,snapped"`
	Branch bool        `json:"branch,omitempty" doc:"It goes elsewhere than to the computer, beside the way that counts"`
	End    string      `json:"end,omitempty" doc:"Of a branch: the item it ends at"`
	Hops   []Hop       `json:"hops"`
	Shape  *Shape      `json:"shape,omitempty" doc:"How the picture lies on the programme; none when it does not get there"`
	Light  *Light      `json:"light,omitempty" doc:"Shutter and mains flicker, of cameras"`
	Sleep  *Sleep      `json:"sleep,omitempty" doc:"Of a source that falls asleep when nobody touches it, and has no setting against it"`
}

// Hop is one stretch of a feed on the board.
type Hop struct {
	Stage    plans.Stage `json:"stage" enum:"camera,socket,lead,capture,port,picture,send"`
	Ref      string      `json:"ref" doc:"What it is: an item id, a lead id or item.port"`
	Kind     string      `json:"kind" enum:"item,port,lead,rig"`
	Label    string      `json:"label"`
	Detail   string      `json:"detail"`
	State    limit.State `json:"state" enum:"slack,taut,kinked,untested,snapped"`
	Room     float64     `json:"room" doc:"Share of the worst limit that is left at worst: 1 idle, 0 at the limit"`
	Limits   []string    `json:"limits" doc:"Ids of the limits judged here"`
	Figure   string      `json:"figure,omitempty" doc:"Why it is so: the worst limit here in a few words, never a percentage"`
	Proposed bool        `json:"proposed,omitempty" doc:"How it is set is proposed: nobody has said"`
	Lead     string      `json:"lead,omitempty" doc:"The lead whose plug is in this socket"`
	Joins    string      `json:"joins,omitempty" doc:"Feeds with the same mark run together here"`
}

// Shape is how a source's picture lies on the programme, for a small true-to-shape drawing.
type Shape struct {
	Programme [2]int       `json:"programme" doc:"Width and height of the programme"`
	Sent      [2]int       `json:"sent" doc:"Width and height of what the source sends"`
	At        picture.Rect `json:"at" doc:"The part of the programme it covers"`
	Shows     picture.Rect `json:"shows" doc:"The part of what is sent that is seen"`
	Fills     float64      `json:"fills" doc:"Share of the programme it covers"`
	Words     string       `json:"words" doc:"Border, crop and scale in words; empty when it fits as it is"`
}

// Sleep is what becomes of a source that falls asleep when nobody touches it.
type Sleep struct {
	Touched bool   `json:"touched" doc:"Somebody is to touch it in time"`
	Words   string `json:"words"`
}

// Light is how a camera stands against lamps on the mains.
type Light struct {
	MainsHz int     `json:"mainsHz"`
	Rate    string  `json:"rate" doc:"Frames a second, as people say it"`
	BeatHz  float64 `json:"beatHz" doc:"How often a second the brightness beats with a wrong exposure; 0 stands as bands"`
	Shutter string  `json:"shutter,omitempty" doc:"The exposure to set; none when every one flickers"`
	Words   string  `json:"words"`
}

// Out is one strand from the programme: a destination or a recording.
type Out struct {
	Kind   string      `json:"kind" enum:"destination,recording"`
	Label  string      `json:"label"`
	Detail string      `json:"detail"`
	State  limit.State `json:"state" enum:"slack,taut,kinked,untested,snapped"`
	Room   float64     `json:"room"`
	Limits []string    `json:"limits"`
	Judged bool        `json:"judged" doc:"False while this version has no rule for it"`
	Figure string      `json:"figure,omitempty" doc:"Why it is so: the worst limit here in a few words, never a percentage"`
}

// Limit is every limit there is: a bus, a supply, a voltage, a reach, an uplink, a yes or no. One type, one line on
// screen, one line in the text report.
type Limit struct {
	ID          string            `json:"id" doc:"Rule and place, such as reach:l1"`
	Rule        engine.Name       `json:"rule"`
	Over        limit.Consequence `json:"over" enum:"dark,drops,flaw,care" doc:"What happens when it is over"`
	What        string            `json:"what" doc:"What is limited, in words"`
	Says        string            `json:"says" doc:"The judgement in one line"`
	Stage       plans.Stage       `json:"stage" enum:"camera,socket,lead,capture,port,picture,send"`
	Shared      bool              `json:"shared" doc:"Several things hang on it"`
	Where       []string          `json:"where" doc:"Ids of the items and leads it depends on"`
	Sense       limit.Sense       `json:"sense" enum:"at-most,at-least,within,fits"`
	Unit        string            `json:"unit"`
	Ceiling     float64           `json:"ceiling" doc:"Share of the limit that still counts as slack"`
	Loads       []Load            `json:"loads"`
	Load        limit.Bounds      `json:"load"`
	Sure        float64           `json:"sure"`
	Possible    float64           `json:"possible"`
	SureLow     float64           `json:"sureLow,omitempty"`
	PossibleLow float64           `json:"possibleLow,omitempty"`
	LimitSum    string            `json:"limitSum" doc:"Where the limit's number comes from, as a sum"`
	State       limit.State       `json:"state" enum:"slack,taut,kinked,untested,snapped"`
	Ratio       limit.Bounds      `json:"ratio" doc:"Load over limit (limit over load for at-least); 1 is the limit"`
	Figure      string            `json:"figure,omitempty" doc:"Why it stands as it does, in a few words, never a percentage"`
	Share       string            `json:"share" doc:"The ratio in words; empty for a yes or no"`
	Facts       []Basis           `json:"facts" doc:"Every fact the limit rests on"`
	DependsOn   []Dependence      `json:"dependsOn" doc:"Of an untested limit: the facts that would decide, most first"`
	Source      limit.Source      `json:"source"`
	Caution     string            `json:"caution,omitempty"`
}

// Load is one item's share of a limit.
type Load struct {
	Item  string `json:"item"`
	Label string `json:"label"`
	limit.Bounds
	Sum string `json:"sum" doc:"The sum behind the number"`
	Est bool   `json:"est" doc:"Rests on an estimate"`
}

// Basis is one fact a limit rests on: a number with bounds, or a choice.
type Basis struct {
	Path    string    `json:"path" doc:"Where in the rig it stands; empty for figures of the rules"`
	Name    string    `json:"name"`
	Unit    string    `json:"unit"`
	Low     float64   `json:"low"`
	Value   float64   `json:"value"`
	High    float64   `json:"high"`
	From    fact.From `json:"from"`
	At      string    `json:"at,omitempty"`
	Word    string    `json:"word,omitempty" doc:"The choice as it stands"`
	Options []Option  `json:"options,omitempty" doc:"What a choice may turn out to be"`
}

// Option is one thing a choice may turn out to be, and what that would mean: a number in a sum, or a state.
type Option struct {
	Word   string      `json:"word"`
	Label  string      `json:"label"`
	Number float64     `json:"number"`
	State  limit.State `json:"state,omitempty"`
}

// Dependence is a fact an untested limit depends on, with the share of its possible values that would decide it.
type Dependence struct {
	Path    string  `json:"path"`
	Name    string  `json:"name"`
	Decides float64 `json:"decides"`
}

// Finding is one limit that is not slack, or several that are the same thing of several things.
type Finding struct {
	State    limit.State       `json:"state" enum:"taut,kinked,untested,snapped"`
	Over     limit.Consequence `json:"over" enum:"dark,drops,flaw,care" doc:"What happens when it is over"`
	Says     string            `json:"says"`
	Members  []Member          `json:"members" doc:"The limits it stands for, the worst first"`
	Question string            `json:"question,omitempty" doc:"Path of the question that would settle it"`
}

// Member is one limit of a finding, with what would mend it.
type Member struct {
	Limit string        `json:"limit" doc:"Id of the limit"`
	Says  string        `json:"says"`
	Fixes []advise.Move `json:"fixes" doc:"Already judged, the best first"`
	Eases []advise.Move `json:"eases" doc:"Of an untested limit that no move settles: what makes its worst less"`
	Lacks gear.Kind     `json:"lacks,omitempty" doc:"What kind of thing is said to be used and is not in the rig"`
}

// Proposal is a choice nobody has made, with the best there is: the rig is judged as if it were made.
type Proposal struct {
	Kind  verdict.ProposalKind `json:"kind" enum:"mode,deliver,power,bitrate,socket,call"`
	Of    string               `json:"of" doc:"Item id, or the destination's name"`
	Port  string               `json:"port,omitempty"`
	Label string               `json:"label" doc:"As an order: Set Face camera to 1080p29.97"`
	Edit  rig.Edit             `json:"edit"`
}

// Proposed are the choices a rig leaves open, as they were judged.
type Proposed struct {
	Choices []Proposal `json:"choices"`
	Words   string     `json:"words" doc:"All of them in one sentence; empty for none"`
	Edits   []rig.Edit `json:"edits" doc:"All of them as one change"`
	Proven  bool       `json:"proven" doc:"No other choices come out better"`
}

// Advice says how far the advice of a verdict got: what was not finished is said, never passed as proven.
type Advice struct {
	Complete   bool `json:"complete" doc:"Every move was judged, and the search for a cure ended by itself"`
	Moves      int  `json:"moves" doc:"Moves worth judging"`
	Judged     int  `json:"judged" doc:"Of them, how many were"`
	Unlisted   int  `json:"unlisted" doc:"Fixes that are judged and not listed, for length"`
	WayOut     bool `json:"wayOut" doc:"Nothing mends the rig: the cure changes what the show asks for, or leaves sources out"`
	CureProven bool `json:"cureProven" doc:"The cure is the smallest there is; or, when there is none, none of up to seven moves exists"`
}

// Of puts a verdict into words, with what to do about it when that is known.
func Of(v *verdict.Verdict, a *advise.Advice) Verdict {
	t := teller{v: v, dates: dates(v.Rig)}
	out := Verdict{State: v.State, Feeds: []Feed{}, Branches: []Feed{}, Outs: []Out{}, Layouts: t.layouts(),
		Limits: make([]Limit, len(v.Results)), NotJudged: []NotJudged{}, Findings: []Finding{},
		Questions: []advise.Question{}}
	t.ids = make([]string, len(v.Results))
	for i := range v.Results {
		t.limit(&out.Limits[i], &v.Results[i])
		t.ids[i] = out.Limits[i].ID
	}
	t.limits = out.Limits
	for _, f := range v.FeedsThat(false) {
		out.Feeds = append(out.Feeds, t.feed(f))
	}
	for _, f := range v.FeedsThat(true) {
		out.Branches = append(out.Branches, t.feed(f))
	}
	t.outs(&out)
	for _, n := range v.Unjudged {
		label, why := v.Name(&n)
		out.NotJudged = append(out.NotJudged, NotJudged{n.Kind, n.Ref, label, why})
	}
	if a != nil {
		out.Advice = &Advice{Complete: a.Complete, Moves: a.Moves, Judged: a.Judged, Unlisted: a.Unlisted,
			WayOut: a.WayOut, CureProven: a.CureProven}
		out.Cure, out.Questions = a.Cure, a.Questions
		for i := range a.Findings {
			f := &a.Findings[i]
			out.Findings = append(out.Findings, t.finding(f))
		}
	}
	out.Proposed = t.proposed()
	out.Sentence, out.ToFindOut = sentence(&out), toFindOut(&out)
	return out
}

// teller puts one verdict into words.
type teller struct {
	v      *verdict.Verdict
	limits []Limit
	ids    []string
	dates  map[string]string // path of a measured fact -> when
}

func (t *teller) place(l *engine.Result) int {
	i, _ := t.v.Index(l.ID)
	return i
}

// dates are when facts of a rig were measured, by path.
func dates(r *rig.Rig) map[string]string {
	out := map[string]string{}
	for _, f := range r.Facts() {
		if f.Fact.At != "" {
			out[f.Path] = f.Fact.At
		}
	}
	if up := r.Uplink; up != nil {
		last := ""
		for _, m := range up.MeasuredMbps {
			last = max(last, m.At)
		}
		out["uplink/measuredMbps"], out["uplink/reading"] = last, last
	}
	return out
}

func (t *teller) limit(to *Limit, l *engine.Result) {
	w := t.v.Word(l)
	*to = Limit{ID: l.ID.String(), Rule: l.ID.Rule.Name, Over: l.Over, What: w.What, Says: w.Says, Stage: l.Stage,
		Shared: l.Shared, Where: l.Where, Sense: l.Sense, Unit: l.Unit, Ceiling: l.Ceiling,
		Loads: make([]Load, len(l.Loads)), Load: l.Load, Sure: l.Sure, Possible: l.Possible, SureLow: l.SureLow,
		PossibleLow: l.PossibleLow, LimitSum: w.Sum, State: l.State, Ratio: l.Ratio,
		Facts: make([]Basis, len(l.Facts)), DependsOn: []Dependence{}, Source: w.Source, Caution: w.Caution}
	if to.Where == nil {
		to.Where = []string{}
	}
	to.Figure = w.Figure()
	if verdict.ShowsRoom(l) {
		to.Share = say.Percent(l.Ratio)
	}
	for i := range l.Loads {
		ld := &l.Loads[i]
		to.Loads[i] = Load{ld.Item, w.Loads[i].Label, ld.Bounds, w.Loads[i].Sum, l.Estimated(ld)}
	}
	for i := range l.Facts {
		f := &l.Facts[i]
		b := &to.Facts[i]
		*b = Basis{Path: f.Path(), Name: w.Facts[i].Name, Unit: f.Unit, Low: f.Low, Value: f.Value, High: f.High,
			From: f.From, Word: f.Word}
		if f.IsZero() {
			b.Word = ""
		}
		if len(t.dates) > 0 {
			b.At = t.dates[b.Path]
		}
		for _, o := range f.Choices() {
			if o.State == limit.Snapped && l.Over == limit.Flaw {
				o.State = limit.Kinked
			}
			b.Options = append(b.Options, Option{o.Word, plans.OptionLabel(f, &o), o.Number, o.State})
		}
	}
	for _, d := range w.Rank() {
		to.DependsOn = append(to.DependsOn, Dependence{to.Facts[d.Fact].Path, to.Facts[d.Fact].Name, d.Decides})
	}
}

// tells tells whether one of two limits of a state says more of a hop: what breaks the rig before what does not, what
// has a figure near its limit before what has none.
func tells(l, than *engine.Result) bool {
	if a, b := l.Over.Breaks(), than.Over.Breaks(); a != b {
		return a
	}
	if a, b := verdict.ShowsRoom(l), verdict.ShowsRoom(than); a != b {
		return a
	}
	return l.Ratio.High > than.Ratio.High
}

// layouts are the arrangements of the programme.
func (t *teller) layouts() []Arrangement {
	pr := t.v.Show.Programme
	out := make([]Arrangement, len(t.v.Show.Layouts))
	for i := range out {
		l := &t.v.Show.Layouts[i]
		out[i] = Arrangement{plans.LayoutName(t.v.Rig, i), say.Sentence(plans.LayoutWords(t.v.Rig, i)),
			make([]Laid, len(l.Sources))}
		boxes := l.Boxes(pr.Width, pr.Height)
		for k, id := range l.Sources {
			out[i].Boxes[k] = Laid{id, t.v.Item(id).Label, boxes[k]}
		}
	}
	return out
}

// proposedAt tells whether how a hop is set is proposed.
func (t *teller) proposedAt(h *plans.Hop) bool {
	return h.Item != nil && slices.ContainsFunc(t.v.Proposed.Choices, func(c verdict.Proposal) bool {
		switch c.Kind {
		case verdict.ProposeMode:
			return h.Stage == plans.Socket && h.Kind == "port" && h.Port != nil && c.Of == h.Item.ID && c.Port ==
				h.Port.ID
		case verdict.ProposeDeliver:
			return h.Stage == plans.Capture && h.Bytes != nil && h.Bytes.Owner.ID == c.Of
		case verdict.ProposeSocket:
			return h.Stage == plans.Port && h.Kind == "port" && h.Lead != nil && h.Lead.ID == c.Edit.Lead
		case verdict.ProposePower:
			return h.Stage == plans.Camera && c.Of == h.Item.ID
		}
		return false
	})
}

func (t *teller) feed(f *plans.Feed) Feed {
	out := Feed{ID: f.ID, Source: f.Source.ID, Label: f.Source.Label, State: limit.Slack, Branch: f.Branch,
		Hops: make([]Hop, len(f.Hops))}
	if f.End != nil {
		out.End = f.End.ID
	}
	for i := range f.Hops {
		h := &f.Hops[i]
		label, detail := t.v.HopWords(h)
		to := &out.Hops[i]
		*to = Hop{Stage: h.Stage, Ref: h.Ref, Kind: h.Kind, Label: label, Detail: detail, State: limit.Slack, Room: 1,
			Limits: make([]string, 0, len(h.Results)), Joins: h.Joins, Proposed: t.proposedAt(h)}
		if h.Kind == "port" && h.Lead != nil {
			to.Lead = h.Lead.ID
		}
		to.State = t.v.HopState(h)
		worst, why := 0.0, (*engine.Result)(nil)
		for _, k := range h.Results {
			l := &t.v.Results[k]
			to.Limits = append(to.Limits, t.ids[k])
			if verdict.ShowsRoom(l) && l.Ratio.High > worst {
				worst = l.Ratio.High
				to.Room = max(0, 1-worst)
			}
			if l.State == to.State && (why == nil || tells(l, why)) {
				why = l
			}
		}
		if why != nil && (to.State != limit.Slack || verdict.ShowsRoom(why)) {
			to.Figure = t.limits[t.place(why)].Figure
		}
	}
	out.State = t.v.FeedState(f)
	if sh := t.v.ShapeOf(f); sh != nil {
		out.Shape = &Shape{sh.Programme, sh.Sent, sh.At, sh.Shows, sh.Fills, sh.Words()}
	}
	if !f.Light.IsZero() {
		l := plans.LightOf(f.Light, int64(t.v.Show.MainsHz))
		out.Light = &Light{l.MainsHz, l.Rate.Name(), l.BeatHz, l.Shutter, l.Words()}
	}
	if l := t.v.Find(engine.ID{Rule: rules.Standby, Place: f.Source.ID}); l != nil && l.Sense != limit.Fits {
		out.Sleep = &Sleep{f.Source.Set != nil && f.Source.Set.Touched, t.v.Word(l).Says}
	}
	return out
}

// outs are what leaves the programme, each with the limits it depends on.
func (t *teller) outs(v *Verdict) {
	host := ""
	if it := t.v.Host(); it != nil {
		host = it.ID
	}
	coded := []engine.ID{{Rule: rules.Processor, Place: host}, {Rule: rules.Graphics, Place: host},
		{Rule: rules.MemoryTraffic, Place: host}}
	out := func(kind, label, detail string, c *plans.Coding, ids ...engine.ID) {
		o := Out{Kind: kind, Label: label, Detail: detail, State: limit.Slack, Room: 1, Limits: []string{}}
		if c != nil {
			o.Detail += ", " + plans.CodedBy(c)
			ids = append(ids, coded...)
			if c.Hardware {
				ids = append(ids, engine.ID{Rule: rules.HardwareEncoder, Place: host},
					engine.ID{Rule: rules.HardwareSessions, Place: host})
			}
		}
		worst := -1
		for _, id := range ids {
			at, ok := t.v.Index(id)
			if !ok {
				continue
			}
			l := &t.v.Results[at]
			if s := l.Counts(); s.Severity() > o.State.Severity() || worst < 0 && s != limit.Slack {
				worst = at
			}
			o.Judged = true
			o.Limits, o.State = append(o.Limits, id.String()), limit.Worse(o.State, l.Counts())
			if l.Sense == limit.AtMost && l.Ceiling < 1 { // what is made for its limit has no room to speak of
				o.Room = min(o.Room, max(0, 1-l.Ratio.High))
			}
		}
		if worst >= 0 {
			o.Figure = t.limits[t.place(&t.v.Results[worst])].Figure
		}
		v.Outs = append(v.Outs, o)
	}
	for i := range t.v.Show.Destinations {
		d, at := &t.v.Show.Destinations[i], strconv.Itoa(i)
		out("destination", d.Name, t.v.T("%s at %s", picture.SizeName(d.Send.Width, d.Send.Height),
			d.Send.Rate.Name()), t.v.SentLike(i),
			engine.ID{Rule: rules.Ingest, Place: at}, engine.ID{Rule: rules.IngestBitrate, Place: at},
			engine.ID{Rule: rules.IngestLeast, Place: at}, engine.ID{Rule: rules.IngestAudio, Place: at},
			engine.ID{Rule: rules.Codec, Place: at}, engine.ID{Rule: rules.Transport, Place: at},
			engine.ID{Rule: rules.SentSize, Place: at}, engine.ID{Rule: rules.BitsAPixel, Place: at},
			engine.ID{Rule: rules.SentCadence, Place: at}, engine.ID{Rule: rules.Range, Place: at},
			engine.ID{Rule: rules.Uplink})
	}
	drives := t.v.KeptOn()
	for i := range t.v.Show.Recordings {
		at := strconv.Itoa(i)
		w, h, r := t.v.KeptPicture(i)
		ids := []engine.ID{{Rule: rules.Recorded, Place: at}, {Rule: rules.Container, Place: at},
			{Rule: rules.FileEnd, Place: at}, {Rule: rules.FileSplit, Place: at},
			{Rule: rules.SentSize, Place: "r" + at}}
		detail := t.v.T("%s at %s", picture.SizeName(w, h), r.Name())
		for k := range drives {
			if d := drives[k].Drive; d != nil && slices.Contains(drives[k].Recordings, i) {
				ids = append(ids, engine.ID{Rule: rules.DriveWrite, Place: d.ID}, engine.ID{Rule: rules.DriveSpace,
					Place: d.ID}, engine.ID{Rule: rules.RecordLimit, Place: d.ID})
				detail += ", " + t.v.T("on %s", d.Label)
			}
		}
		out("recording", say.Sentence(t.v.RecordingName(i)), detail, t.v.KeptLike(i), ids...)
	}
}

// Find is the limit of an id, nil when there is none.
func (v *Verdict) Find(id string) *Limit {
	if i := slices.IndexFunc(v.Limits, func(l Limit) bool { return l.ID == id }); i >= 0 {
		return &v.Limits[i]
	}
	return nil
}
