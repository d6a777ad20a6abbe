package runsheet

import (
	"cmp"
	"math"
	"slices"
	"strconv"

	"eventether/core/advise"
	"eventether/core/engine"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/say"
	"eventether/core/sheet"
	"eventether/core/verdict"
	"eventether/core/work"
)

type maker struct {
	*RunSheet
	v     *verdict.Verdict
	first bool
	ids   map[string]int
	host  *rig.Item
	typed *sheet.Sheet // what is typed into the program

	plugged map[string]bool // items that are connected, by a step before
	choose  []string        // ids of steps that choose a source
}

// add puts a step on the sheet; what waits for steps this rig does not need waits for nothing.
func (m *maker) add(st Step) {
	st.Heading = st.Phase.Name()
	if st.Kind != "" {
		each, own := m.v.WorkMinutes.Minutes(st.Kind)
		if st.Minutes == 0 {
			st.Minutes = each
		}
		st.Own = own
	}
	if st.Values == nil {
		st.Values = []Value{}
	}
	after := []string{}
	for _, a := range st.After {
		if _, ok := m.ids[a]; ok && !slices.Contains(after, a) {
			after = append(after, a)
		}
	}
	if _, ok := m.ids["carry"]; ok && len(after) == 0 && st.Phase.atThePlace() {
		after = append(after, "carry")
	}
	st.After = after
	if st.Pass == nil {
		st.Pass = []string{}
	}
	if st.Fails == nil {
		st.Fails = []string{}
	}
	if st.at != "" && st.Where == "" {
		if it := m.v.Item(st.at); it != nil {
			st.Where = it.Label
		}
	}
	m.ids[st.ID] = len(m.Steps)
	m.Steps = append(m.Steps, st)
}

// proposed tells whether the value of an item was proposed, not said.
func (m *maker) proposed(kind verdict.ProposalKind, item string) bool {
	return slices.ContainsFunc(m.v.Proposed.Choices, func(c verdict.Proposal) bool {
		return c.Kind == kind && c.Of == item
	})
}

func (m *maker) steps(cure *advise.Cure) {
	m.host, m.typed = m.v.Host(), sheet.Of(m.v)
	m.Steps = make([]Step, 0, 12+8*len(m.v.Items))
	m.beforehand()
	m.find(cure)
	m.carry()
	m.place()
	m.power()
	m.set()
	m.cards()
	m.undisturbed()
	m.connect()
	m.sources()
	m.sound()
	m.enter()
	m.test()
	m.ready()
	m.live()
	m.end()
}

// desk is the id of the place where the program runs.
func (m *maker) desk() string {
	if m.host != nil {
		return m.host.ID
	}
	return ""
}

// mostAsked bounds the facts looked up on a sheet: the rest stays on the board.
const mostAsked = 6

// find are the moves that mend the rig, and what has to be looked up because the verdict hangs on it.
func (m *maker) find(cure *advise.Cure) {
	if cure != nil && m.v.State == limit.Snapped {
		for i := range cure.Moves {
			c := &cure.Moves[i]
			m.add(Step{ID: "move:" + c.ID, Phase: Find, Do: say.Sentence(c.Label) + ".", Minutes: c.Minutes, People: 1})
		}
	}
	asked := 0
	for _, q := range advise.Questions(m.v) {
		if q.Flaw || asked == mostAsked {
			continue
		}
		asked++
		st := Step{ID: "look:" + q.Path, Phase: Find, Do: q.Ask, Kind: work.Look, Minutes: q.Minutes, People: 1,
			Off: true}
		if q.How != "" {
			st.Pass = []string{q.How}
		}
		m.add(st)
	}
}

// cameras are what is put up and looked through: everything a picture begins at but other computers' screens.
func (m *maker) cameras() (out []*rig.Item) {
	for i := range m.v.Items {
		if it := &m.v.Items[i]; it.IsSource() {
			out = append(out, it)
		}
	}
	return out
}

func filmed(it *rig.Item) bool {
	return it.Gear.Kind == gear.Camera || it.Gear.Kind == gear.Phone || it.Gear.Kind == gear.Webcam
}

func (m *maker) place() {
	caution := lang.Text("Weight over people: rated clamps and a safety line for anything above head height; a licensed rigger for overhead work.")
	for _, it := range m.cameras() {
		if !filmed(it) {
			continue
		}
		st := Step{ID: "mount:" + it.ID, Phase: Place, Do: lang.Text("Mount and frame %s.", it.Label),
			Kind: work.Mount, People: 1, at: it.ID, Off: true,
			Pass: []string{lang.Text("Nothing shakes or sags; looked at in its own screen.")}, Caution: caution}
		caution = "" // once is enough
		m.add(st)
	}
	if len(m.v.Streams) > 1 {
		m.add(Step{ID: "labels", Phase: Place,
			Do:   lang.Text("Print the labels and stick them on: each device, and the socket it goes into."),
			Kind: work.Labels, People: 1, Off: true})
	}
}

// power are the supplies: what each camera runs on, and what is kept for a change.
func (m *maker) power() {
	for _, it := range m.cameras() {
		if it.Gear.Kind != gear.Camera && it.Gear.Kind != gear.Phone {
			continue
		}
		st := Step{ID: "power:" + it.ID, Phase: Powering, Kind: work.Plug, People: 1, at: it.ID,
			After: []string{"mount:" + it.ID}}
		from := ""
		if giver := m.v.Item(it.PoweredBy); giver != nil {
			from = giver.Label
		}
		switch plans.RunsOn(m.v.Rig, it) {
		case "mains":
			st.Do = lang.Text("Run %s from the mains.", it.Label)
			if it.Gear.Power != nil && it.Gear.Power.Mains == gear.MainsDummy {
				st.Do = lang.Text("Put the dummy battery into %s and its adapter into the mains.", it.Label)
				st.Caution = lang.Text("Dummy batteries and adapters: right voltage and polarity for that camera, from a maker you can name.")
			}
			st.Pass = []string{lang.Text("It shows that it runs from outside.")}
		case "usb":
			st.Do = lang.Text("Run %s by USB from %s.", it.Label,
				cmp.Or(from, lang.Text("the socket it is plugged into")))
			st.Pass = []string{lang.Text("It shows that it is fed, and the battery does not fall within ten minutes.")}
		case "grip":
			st.Do, st.Caution = lang.Text("Two full batteries into the grip of %s.", it.Label),
				lang.Text(rules.BatteryCaution)
		case "battery":
			st.Do, st.Caution = lang.Text("A full battery into %s.", it.Label), lang.Text(rules.BatteryCaution)
			if it.Set != nil && it.Set.Spares > 0 {
				st.Pass = []string{lang.Text("%s laid beside it, full.", say.Count(it.Set.Spares, "spare", "spares"))}
			}
		default:
			st.Do = lang.Text("Give %s its power: nobody has said what it runs on.", it.Label)
		}
		st.Values = []Value{{Name: lang.Text("Runs on"), Value: cmp.Or(plans.RunsOn(m.v.Rig, it),
			lang.Text("not said")), Proposed: m.proposed(verdict.ProposePower, it.ID)}}
		m.add(st)
	}
	if m.host != nil {
		switch m.host.Gear.Class {
		case gear.Laptop, gear.SmallLaptop, gear.GoodLaptop:
			m.add(Step{ID: "power:" + m.host.ID, Phase: Powering,
				Do: lang.Text("Plug the charger into %s: on battery it works slower.", m.host.Label), Kind: work.Plug,
				People: 1, at: m.host.ID})
		}
	}
}

// set are the settings of each camera, in an order that settings which exclude each other allow: what has to be off
// comes before what it would block.
func (m *maker) set() {
	for _, it := range m.cameras() {
		var vals []Value
		for i := range it.Gear.Ports {
			port := &it.Gear.Ports[i]
			if port.Direction != gear.Out || it.Set == nil {
				continue
			}
			if mode, ok := it.Set.Output[port.ID]; ok {
				vals = append(vals, Value{Name: lang.Text("Picture at %s", rig.PortName(port)),
					Value: plans.ModeText(&mode), Proposed: m.proposed(verdict.ProposeMode, it.ID)})
			}
		}
		if filmed(it) && it.Gear.Kind == gear.Camera && it.Gear.Clean != gear.AlwaysClean {
			said := it.Set != nil && it.Set.InfoDisplay != ""
			vals = append(vals, Value{Name: lang.Text("Information display on the output"), Value: lang.Text("off"),
				Proposed: !said})
		}
		for _, s := range inOrder(it) {
			word, said := plans.Stands(it, s)
			if k := s.Known(); k.Want != "" {
				vals = append(vals, Value{Name: say.Sentence(lang.Text(k.Label)), Value: lang.Text(k.Want),
					Proposed: !said || word != k.Want})
			}
		}
		if it.Set != nil && !it.Set.Shutter.IsZero() {
			vals = append(vals, Value{Name: lang.Text("Shutter"), Value: it.Set.Shutter.String() + " s"})
		}
		if len(vals) == 0 {
			continue
		}
		m.add(Step{ID: "set:" + it.ID, Phase: Set, Do: lang.Text("Set %s.", it.Label), Values: vals,
			Kind: work.Setting, Minutes: max(4*m.v.WorkMinutes.Of(work.Setting),
				m.v.WorkMinutes.Of(work.Setting)*float64(len(vals))),
			People: 1, at: it.ID, After: []string{"mount:" + it.ID, "power:" + it.ID}})
	}
}

// inOrder puts settings that must be off before those they would block.
func inOrder(it *rig.Item) []*gear.Setting {
	out := make([]*gear.Setting, 0, len(it.Gear.Settings))
	for i := range it.Gear.Settings {
		out = append(out, &it.Gear.Settings[i])
	}
	slices.SortStableFunc(out, func(a, b *gear.Setting) int { return goesOff(a) - goesOff(b) })
	return out
}

func goesOff(s *gear.Setting) int {
	if s.Known().Want == "off" {
		return 0
	}
	return 1
}

// connect are the leads, from each lens to the computer, one at a time, looking after each.
func (m *maker) connect() {
	m.plugged = map[string]bool{}
	last := map[string]string{} // the step after which an item has its picture
	done := map[string]bool{}
	lay := func(l *rig.Lead) {
		if done[l.ID] {
			return
		}
		done[l.ID] = true
		from, out := m.v.Port(l.From)
		to, in := m.v.Port(l.To)
		if from == nil || to == nil || out == nil || in == nil || out.Connector.Family() == gear.PCIeFamily {
			return // a card stays where it is
		}
		metres := l.LengthM.Value
		st := Step{ID: "lead:" + l.ID, Phase: Connect, People: 1, After: []string{"mount:" + from.ID,
			"power:" + from.ID, "labels", last[from.ID]},
			Label: from.Label + " → " + to.Label + ", " + rig.PortName(in)}
		if slices.ContainsFunc(m.v.Proposed.Choices, func(c verdict.Proposal) bool {
			return c.Kind == verdict.ProposeSocket && c.Edit.Lead == l.ID
		}) {
			into := in
			if into.Direction != gear.Downstream { // laid the other way round
				into = out
			}
			st.Values = []Value{{Name: lang.Text("Socket"), Value: rig.PortName(into), Proposed: true}}
		}
		switch family := out.Connector.Family(); {
		case metres == 0:
			st.Kind, st.Do = work.Plug, lang.Text("Plug %s into %s of %s.", from.Label, rig.PortName(in), to.Label)
			st.at = to.ID
		default:
			st.Kind, st.Minutes = m.v.WorkMinutes.Lay(family == gear.SDIFamily, metres, work.Walk(l.OverWalk))
			st.Do = lang.Text("Lay %s from %s of %s to %s of %s.", m.leadName(l, family), rig.PortName(out),
				from.Label, rig.PortName(in), to.Label)
			if st.Kind == work.Room {
				st.People, st.Caution = 2, lang.Text(rules.FloorCaution)
				if low, high := m.v.WorkMinutes.Bounds(family == gear.SDIFamily, metres,
					work.Walk(l.OverWalk)); low < high {
					st.Do += " " + lang.Text("Nobody has said whether it lies over a walk: %s min if not, %s taped all along.",
						say.Number(low), say.Number(high))
				}
			}
			if out.Connector.Small() || in.Connector.Small() {
				st.Pass = append(st.Pass, lang.Text("The small socket has strain relief."))
			}
		}
		m.add(st)
		if to.IsHost() || m.host == nil {
			m.plugged[from.ID] = true
			if m.first && from.Gear.Driver != "none" {
				m.add(Step{ID: "first:" + from.ID, Phase: Connect,
					Do: lang.Text("Let the computer take in %s: its driver, and the permission to use cameras.",
						from.Label), Kind: work.First, People: 0, After: []string{st.ID}})
				last[to.ID] = ""
			}
		}
		last[to.ID] = st.ID
	}
	for i := range m.v.Feeds {
		f := &m.v.Feeds[i]
		for k := range f.Hops {
			if h := &f.Hops[k]; h.Lead != nil {
				lay(h.Lead)
			}
		}
	}
	for i := range m.v.Leads { // what carries no picture: hubs' own, drives, monitors, microphones
		lay(&m.v.Leads[i])
	}
}

func (m *maker) leadName(l *rig.Lead, family gear.Family) string {
	grade := ""
	switch family {
	case gear.HDMIFamily:
		grade = "HDMI"
	case gear.SDIFamily:
		grade = "SDI"
	case gear.LANFamily:
		grade = lang.Text("network")
	default:
		grade = "USB"
	}
	return lang.Text("the %s m %s lead", say.Number(l.LengthM.Value), grade)
}

// sources are what the program is told to take, with a look at each picture.
func (m *maker) sources() {
	for _, p := range m.typed.Parts {
		if p.Kind != "sources" {
			continue
		}
		for _, l := range p.Lines {
			if l.ID == "microphone" {
				continue
			}
			st := Step{ID: l.ID, Phase: Choose, Do: lang.Text("Choose %s in the program.", l.Name),
				Values: []Value{{Name: lang.Text("Listed as"), Value: l.Value}}, Kind: work.Source, People: 1,
				at: m.desk(), After: m.waysOf(l.ID)}
			st.Pass = []string{lang.Text("The right picture, whole, at that size and rate; no menu, box or border; it moves evenly.")}
			st.Fails = []string{lang.Text("Nothing: lead in, right way round, camera awake, full HD at the camera, another program closed, permission given."),
				lang.Text("Small or bordered: set its size by hand; fix the camera's output size."),
				lang.Text("Menus: information display off.")}
			st.Both, st.Looks = true, m.picturesOf(l.ID)
			m.choose = append(m.choose, st.ID)
			m.add(st)
		}
		if p.Note != "" && len(m.choose) > 0 {
			m.Steps[m.ids[m.choose[0]]].Caution = p.Note
		}
	}
}

// picturesOf are the feeds that come by a source of the program.
func (m *maker) picturesOf(source string) (out []string) {
	for i := range m.v.Feeds {
		if f := &m.v.Feeds[i]; f.Bytes != nil && "source-"+f.Bytes.Owner.ID == source {
			out = append(out, f.ID)
		}
	}
	return out
}

// waysOf are the steps that have to be done for a source to be there.
func (m *maker) waysOf(source string) (out []string) {
	for i := range m.v.Feeds {
		f := &m.v.Feeds[i]
		if f.Bytes == nil || "source-"+f.Bytes.Owner.ID != source {
			continue
		}
		for k := range f.Hops {
			if h := &f.Hops[k]; h.Lead != nil {
				out = append(out, "lead:"+h.Lead.ID)
			}
			if h := &f.Hops[k]; h.Item != nil {
				out = append(out, "set:"+h.Item.ID, "first:"+h.Item.ID, "mount:"+h.Item.ID)
			}
		}
	}
	return out
}

// sound are the microphones, each with the name to look for, its gain and its delay; and what has to be mute.
func (m *maker) sound() {
	plan := m.v.Sounds()
	if plan == nil {
		m.soundUnsaid()
		return
	}
	muted := []Value{}
	for i := range plan.Paths {
		w := &plan.Paths[i]
		if w.On == "muted" {
			muted = append(muted, Value{Name: w.Name, Value: lang.Text("muted"), Proposed: w.Proposed})
			continue
		}
		where := lang.Text("on air")
		if w.On == "track" {
			where = lang.Text("on its own track only")
		}
		st := Step{ID: "sound:" + w.Items[0] + ":" + w.Voice, Phase: Sound,
			Do: lang.Text("Place, choose and level %s.", w.Name), Kind: work.Mic, People: 1, at: m.desk(), Both: true,
			After: []string{"mount:" + w.Items[0]},
			Values: []Value{{Name: lang.Text("Look for it as"), Value: w.ListedAs},
				{Name: lang.Text("Goes"), Value: where, Proposed: w.Proposed}},
			Pass: []string{lang.Text("Speech peaks at −12 to −6 dBFS, never 0; every other input still."),
				lang.Text("On headphones: one voice, no echo, no hum.")},
			Fails: []string{lang.Text("Too low: nearer first, gain after. Clipping: gain down where it comes in, not at the end."),
				lang.Text("Hollow or echo: two paths of one voice are open; a loudspeaker is on.")},
			Caution: lang.Text("Hearing: set the level low before putting headphones on."),
			Looks:   []string{advise.ClipOfSound + strconv.Itoa(i)}}
		if _, twice := m.ids[st.ID]; twice {
			st.ID += ":" + strconv.Itoa(i)
		}
		if it := m.v.Item(w.Items[0]); it != nil && (it.Gear.Kind == gear.Computer || it.Gear.Kind == gear.Player ||
			it.Gear.Kind == gear.Console) {
			st.Kind, st.Both, st.Do, st.Caution = work.Source, false, lang.Text("Choose and level %s.", w.Name), ""
		}
		if w.Plug != nil {
			st.Values = append(st.Values, Value{Name: lang.Text("Goes into"), Value: lang.Text("input %s of %s",
				strconv.Itoa(w.Plug.Number), m.v.Item(w.Plug.Item).Label), Proposed: !w.Plug.Said})
		}
		if w.Levels != nil {
			st.Values = append(st.Values, Value{Name: lang.Text("Gain to begin with"),
				Value: say.Number(math.Round(w.Levels.Set.Value)) + " dB", Proposed: m.v.Sound.Paths[i].GainDB == nil})
		}
		if w.Set.Ms > 0 {
			st.Values = append(st.Values, Value{Name: lang.Text("Delay in the program"),
				Value: lang.Text("%s ms (%s frames, %s samples)", say.Number(w.Set.Ms), say.Number(w.Set.Frames),
					strconv.Itoa(w.Set.Samples)), Proposed: !w.SetSaid})
		}
		m.add(st)
	}
	for _, pic := range plan.Pictures {
		if pic.Set.Ms >= 1 && len(plan.Pictures) > 1 {
			muted = append(muted, Value{Name: lang.Text("Picture of %s", pic.Label),
				Value: lang.Text("delayed by %s ms, where cuts have to agree", say.Number(pic.Set.Ms)), Proposed: true})
		}
	}
	var placed []string
	for i := range m.Steps {
		if m.Steps[i].Phase == Sound {
			placed = append(placed, m.Steps[i].ID)
		}
	}
	defer m.listening(placed)
	if len(muted) > 0 {
		m.add(Step{ID: "mute", Phase: Sound, Do: lang.Text("Mute every other input, and set the delays of pictures."),
			Values: muted, Minutes: 1, People: 1, at: m.desk(), After: m.choose})
	}
}

func (m *maker) soundUnsaid() {
	for _, p := range m.typed.Parts {
		for _, l := range p.Lines {
			if l.ID != "microphone" {
				continue
			}
			m.add(Step{ID: "sound", Phase: Sound,
				Do:     lang.Text("Place the microphone near the mouth, choose it in the program, mute every other, set its level."),
				Values: []Value{{Name: l.Name, Value: l.Value}}, Kind: work.Mic, People: 1, at: m.desk(), Both: true,
				Pass: []string{lang.Text("Speech peaks at −12 to −6 dBFS, never 0; every other input still."),
					lang.Text("On headphones: one voice, no echo, no hum.")},
				Fails: []string{lang.Text("Too low: nearer first, gain after. Clipping: gain down where it comes in, not at the end."),
					lang.Text("Hollow or echo: two paths of one voice are open; a loudspeaker is on.")},
				Caution: lang.Text("Hearing: set the level low before putting headphones on.")})
		}
	}
}

// enter are the sheets of the encoder: typed in the first time, looked through after that.
func (m *maker) enter() {
	kind, do := work.SheetSeen, lang.Text("Look through the settings of %s.")
	if m.first {
		kind, do = work.Sheet, lang.Text("Enter the settings of %s.")
	}
	for _, p := range m.typed.Parts {
		if p.Kind == "sources" || len(p.Lines) == 0 {
			continue
		}
		st := Step{ID: "enter:" + p.Kind + ":" + p.Name, Phase: Enter, Do: lang.Text(do, p.Name), Kind: kind,
			People: 1, at: m.desk()}
		for _, l := range p.Lines {
			if l.Matters <= 2 || m.first {
				st.Values = append(st.Values, Value{Name: l.Name, Value: l.T(), Proposed: l.How == sheet.Proposed})
			}
		}
		m.add(st)
	}
}

// test are the tests before air, with what they have to show.
func (m *maker) test() {
	after := append([]string{"sound", "mute"}, m.choose...)
	for i := range m.Steps {
		if m.Steps[i].Phase == Enter || m.Steps[i].Phase == Sound {
			after = append(after, m.Steps[i].ID)
		}
	}
	p := m.v.Show.Programme
	pass := []string{lang.Text("Two minutes or more of the real scene, with motion and speech, played back."),
		lang.Text("Speech peaks at −12 to −6 dBFS; nothing clipped, nothing silent.")}
	for i := range m.v.Show.Recordings {
		if m.v.KeptLike(i) == nil {
			continue
		}
		w, h, rate := m.v.KeptPicture(i)
		kbps := m.v.KeptWhole(i)
		pass = append(pass, lang.Text("%s: %s × %s at exactly %s, %s over its whole length.",
			say.Sentence(m.v.RecordingName(i)), strconv.Itoa(w), strconv.Itoa(h), rate.Name(),
			say.Span(kbps.Low, kbps.High, "kb/s")))
	}
	if len(m.v.Show.Recordings) == 0 {
		pass = append(pass, lang.Text("%s × %s at exactly %s.", strconv.Itoa(p.Width), strconv.Itoa(p.Height),
			p.Rate.Name()))
	}
	if plan := m.v.Sounds(); plan != nil {
		t := plan.Target
		pass = append(pass, lang.Text("Loudness %s LUFS, %s LU either way; true peak at most %s dBTP.",
			say.Number(t.LUFS), say.Number(t.Within), say.Number(t.Peak)))
	}
	pass = append(pass,
		lang.Text("No frames lost in the program's figures; processor under four fifths; the preview not late."))
	fails := []string{lang.Text("Frames lost while coding: a faster preset, fewer programs open."),
		lang.Text("Repeated frames: the bus, or a rate that is not the programme's.")}
	m.add(Step{ID: "test", Phase: Test, Do: lang.Text("Make a test recording and look at the file."),
		Kind: work.TestFile, People: 1, at: m.desk(), After: after, Pass: pass, Fails: append(fails, m.weakest()...),
		Looks: m.recorded()})
	apart := m.v.Show.SoundFrom != "" && m.v.Show.SoundFrom != "camera" && m.v.Show.SoundFrom != "switcher"
	if plan := m.v.Sounds(); plan != nil {
		apart = slices.ContainsFunc(plan.Paths, func(w plans.SoundWay) bool { return w.On == "air" && w.With == "" })
	}
	if apart {
		m.add(Step{ID: "clap", Phase: Test,
			Do:   lang.Text("Clap five times before the main camera; find hands and sound in the file."),
			Kind: work.Clap, People: 1, Both: true, at: m.desk(), After: []string{"test"},
			Pass:  []string{lang.Text("Middle of the five: sound at most 40 ms early and 60 ms late (EBU R 37).")},
			Fails: []string{lang.Text("Early: delay the sound by the difference, and clap again. Late: delay every picture by it.")}})
	}
	if len(m.v.Show.Destinations) > 0 {
		st := Step{ID: "uplink", Phase: Test,
			Do:   lang.Text("Take a reading of the uplink, by cable; stop back-ups, updates and phones that upload."),
			Kind: work.Reading, People: 1, at: m.desk()}
		if l := m.v.Find(engine.ID{Rule: rules.Uplink}); l != nil && l.Load.High > 0 {
			need := math.Ceil(10*l.Load.High/l.Ceiling) / 10
			st.Pass = []string{lang.Text("%s Mb/s up or more: %s are sent, and three quarters of a line is what is planned with.",
				say.Number(need), say.Number(l.Load.High))}
			st.Fails = []string{lang.Text("Less: send at most three quarters of what it shows, all destinations together; the Send page has the next picture down.")}
		}
		m.add(st)
	}
}

// weakest names the shared limits nearest to their end: where to look first when a test fails.
func (m *maker) weakest() (out []string) {
	for i := range m.v.Results {
		l := &m.v.Results[i]
		if l.Shared && l.State == limit.Taut && len(out) < 3 {
			w := m.v.Word(l)
			out = append(out, lang.Text("Near its limit here: %s.", w.What))
		}
	}
	return out
}

// recorded are the recordings the computer makes, whose files a look at each shows.
func (m *maker) recorded() (out []string) {
	for i := range m.v.Show.Recordings {
		if part := "recording-" + strconv.Itoa(i); m.coded(part) {
			out = append(out, part)
		}
	}
	return out
}

// coded tells whether a part of the sheet has figures what arrives can be held against.
func (m *maker) coded(part string) bool {
	_, ok := sheet.WantedOf(m.v, part)
	return ok
}

func (m *maker) ready() {
	m.second()
	var made []string
	for i := range m.v.Show.Destinations {
		d := &m.v.Show.Destinations[i]
		if d.Via != "" {
			continue
		}
		id := "ready:" + d.Name
		made = append(made, id)
		m.add(Step{ID: id, Phase: Ready,
			Do: lang.Text("Make %s ready: title, words, picture, time; private or unlisted until air. Copy server and key straight from it into the program.",
				d.Name), Kind: work.Ready, People: 1, at: m.desk(),
			Caution: lang.Text("A key lets anyone stream to your channel: keep it off camera and off shared screens, and renew it if it was seen. It is kept nowhere here.")})
	}
	if len(made) == 0 {
		return
	}
	var streams []string
	for i := range m.v.Show.Destinations {
		if part := "stream-" + strconv.Itoa(i); m.coded(part) {
			streams = append(streams, part)
		}
	}
	m.add(Step{ID: "rehearsal", Phase: Ready, Looks: streams,
		Do:   lang.Text("Private rehearsal: send, cut through every source, speak; look at the destination's own preview and report."),
		Kind: work.Rehearsal, Minutes: max(m.v.WorkMinutes.Of(work.Rehearsal), m.v.Show.RehearsalMinutes),
		People: 1, at: m.desk(), After: append(made, "test", "clap", "uplink"),
		Pass: []string{lang.Text("The destination reports the sent size, rate and bitrate as on the sheet, and no warning."),
			lang.Text("No frames lost while sending in five minutes; sound and picture together for a friend at the far end, 10 to 30 s late."),
			lang.Text("Every source comes up when it is chosen.")},
		Fails: []string{lang.Text("Frames lost while sending: lower the bitrate; by cable, not by air; stop other uploads."),
			lang.Text("Cropped or scaled: send the size the destination takes.")}})
}

func (m *maker) live() {
	d := m.desk()
	if len(m.v.Show.Recordings) > 0 {
		m.add(Step{ID: "record", Phase: Live,
			Do: lang.Text("Start every recording; see its clock run and its file grow."), Minutes: 1, People: 1, at: d,
			Values: m.restarts()})
	}
	for i := range m.v.Show.Destinations {
		dest := &m.v.Show.Destinations[i]
		m.add(Step{ID: "live:" + dest.Name, Phase: Live,
			Do:      lang.Text("Start the stream to %s; look at the preview there, then make it public.", dest.Name),
			Minutes: 1, People: 1, at: d})
	}
	if len(m.v.Show.Destinations) > 0 {
		m.add(Step{ID: "chat", Phase: Live,
			Do:      lang.Text("Somebody named watches the chat, on another device. Nobody watches the stream on this computer."),
			Minutes: 1, People: 1})
	}
	for _, it := range m.cameras() {
		if plans.RunsOn(m.v.Rig, it) != "battery" || it.Set == nil || it.Set.Spares == 0 {
			continue
		}
		l := m.v.Find(engine.ID{Rule: rules.RunTime, Place: it.ID})
		if l == nil || l.Sure <= 0 {
			continue
		}
		each := math.Floor(l.Sure / float64(it.Set.Spares+1) * m.v.PlanningCeiling())
		m.add(Step{ID: "battery:" + it.ID, Phase: Live,
			Do: lang.Text("Change the battery of %s %s min after it was switched on, and every %s min from then, while another picture is on air.",
				it.Label, say.Number(each), say.Number(each)), Kind: work.Spare, People: 1, at: it.ID,
			Caution: lang.Text(rules.BatteryCaution)})
	}
	for _, it := range m.cameras() {
		l := m.v.Find(engine.ID{Rule: rules.Standby, Place: it.ID})
		if it.Set == nil || !it.Set.Touched || l == nil || l.Sense == limit.Fits {
			// it never sleeps, or a setting sees to it
			continue
		}
		do := lang.Text("Touch %s again and again, so that it does not fall asleep: nobody has measured when it does.",
			it.Label)
		if every, ok := plans.TouchEvery(it, m.v.PlanningCeiling()); ok {
			do = lang.Text("Touch %s every %s min at the latest, from when it was switched on, so that it does not fall asleep: half-press, turn a dial. Not while its picture is on air, where that shows.",
				it.Label, say.Number(every))
		}
		m.add(Step{ID: "touch:" + it.ID, Phase: Live, Do: do, Minutes: 1, People: 1, at: it.ID})
	}
	watch := []string{lang.Text("Frames lost, by kind: at the source, while composing, while coding, while sending."),
		lang.Text("Processor under four fifths; the preview not late, which is the first sign.")}
	for _, k := range m.v.KeptOn() {
		if k.Drive == nil {
			continue
		}
		if l := m.v.Find(engine.ID{Rule: rules.DriveSpace, Place: k.Drive.ID}); l != nil && l.Possible > 0 {
			watch = append(watch, lang.Text("%s: %s will be left at the end.", k.Drive.Label,
				say.Span(max(0, l.Sure-l.Load.High), max(0, l.Possible-l.Load.Low), "GB")))
		}
	}
	m.add(Step{ID: "watch", Phase: Live, Do: lang.Text("Watch the figures; stamp whatever happens."),
		Minutes: m.v.Show.Minutes, People: 1, at: d, Pass: watch})
}

func (m *maker) end() {
	d := m.desk()
	if len(m.v.Show.Destinations) > 0 {
		m.add(Step{ID: "end:stream", Phase: End,
			Do: lang.Text("End the stream at the destination, or in the program, as it asks."), Minutes: 1, People: 1,
			at: d})
	}
	if len(m.v.Show.Recordings) > 0 {
		m.add(Step{ID: "end:recording", Phase: End,
			Do: lang.Text("Stop the recordings, and wait until their files are closed."), Minutes: 1, People: 1, at: d,
			After: []string{"end:stream"}})
	}
	for _, k := range m.v.KeptOn() {
		if k.Drive == nil {
			continue
		}
		gb, slowest := 0.0, k.Writes().Low
		for _, i := range k.Recordings {
			gb += m.v.KeptGB(i).High
		}
		if gb <= 0 || slowest <= 0 {
			continue
		}
		// Twice the bytes over the slower drive; of the drives copied to nothing is known, so they count as no faster.
		minutes := math.Ceil(2 * gb * 1000 / slowest / 60)
		m.add(Step{ID: "copy:" + k.Drive.ID, Phase: After,
			Do: lang.Text("Copy what is on %s twice, to two drives, and label them; wipe nothing before.",
				k.Drive.Label), Minutes: max(1, minutes), People: 0, at: d,
			Values: []Value{{Name: lang.Text("At most"), Value: say.Number(gb) + " GB"}},
			After:  []string{"end:recording"}})
	}
	m.sendAway()
	strike := 0.0
	for i := range m.Steps {
		if st := &m.Steps[i]; st.Phase == Place || st.Phase == Powering || st.Phase == Connect {
			strike += st.Minutes / 2
		}
	}
	if strike > 0 {
		m.add(Step{ID: "strike", Phase: After,
			Do:      lang.Text("Strike the set: count everything back into its bag, batteries on the maker's charger."),
			Minutes: tidy(strike), People: 1, After: []string{"end:stream", "end:recording"},
			Caution: lang.Text(rules.BatteryCaution)})
	}
	var lent []string
	for i := range m.v.Items {
		if m.v.Items[i].Borrowed {
			lent = append(lent, m.v.Items[i].Label)
		}
	}
	if len(lent) > 0 {
		m.add(Step{ID: "give-back", Phase: After,
			Do: lang.Text("Put what is borrowed by itself, and give it back: %s.", say.List(lent)), Minutes: 5,
			People: 1})
	}
	m.add(Step{ID: "log", Phase: After,
		Do:      lang.Text("Write the log while it is fresh: what happened, when, what cured it; what to change next time."),
		Minutes: 5, People: 1})
}

// packing lists what travels, bag by bag.
func (m *maker) packing() {
	owned := func(it *rig.Item) string {
		switch {
		case it.Borrowed:
			return "borrowed"
		case it.Owned == nil:
			return "not-said"
		case *it.Owned:
			return "owned"
		}
		return "missing"
	}
	bags := []string{lang.Text("Cameras"), lang.Text("Computer and capture"), lang.Text("Power"), lang.Text("Sound"),
		lang.Text("Leads")}
	out := make([][]Packed, len(bags))
	put := func(bag int, what, owned string) {
		out[bag] = append(out[bag], Packed{bags[bag], what, owned})
	}
	for i := range m.v.Items {
		it := &m.v.Items[i]
		bag := 1
		switch it.Gear.Kind {
		case gear.Camera, gear.Phone, gear.Webcam:
			bag = 0
		case gear.Battery, gear.PowerBank, gear.Supply, gear.UPS, gear.Strip:
			bag = 2
		case gear.Microphone, gear.AudioInterface, gear.Mixer, gear.WirelessSound:
			bag = 3
		}
		put(bag, it.Label, owned(it))
		if it.Set != nil && it.Set.Spares > 0 {
			put(2, lang.Text("%s for %s",
				say.Sentence(say.Count(it.Set.Spares, "charged battery", "charged batteries")), it.Label), "not-said")
		}
		if plans.RunsOn(m.v.Rig, it) == "mains" && it.Gear.Power != nil && it.Gear.Power.Mains == gear.MainsDummy {
			put(2, lang.Text("Dummy battery and adapter for %s", it.Label), "not-said")
		}
	}
	for i := range m.v.Leads {
		l := &m.v.Leads[i]
		from, out := m.v.Port(l.From)
		to, _ := m.v.Port(l.To)
		if l.LengthM.Value == 0 || from == nil || to == nil || out == nil || out.Connector.Family() == gear.PCIeFamily {
			continue
		}
		put(4, lang.Text("%s, %s to %s", say.Sentence(m.leadName(l, out.Connector.Family())), from.Label, to.Label),
			"not-said")
	}
	for _, b := range out {
		m.Packing = append(m.Packing, b...)
	}
}

// restarts are the recordings in cameras that are stopped and started again during the show, and when.
func (m *maker) restarts() (out []Value) {
	for i := range m.v.Show.Recordings {
		rec := &m.v.Show.Recordings[i]
		it := m.v.Item(rec.What)
		if it == nil || !rec.InCamera || !rec.Restarts {
			continue
		}
		if every, ok := plans.RestartEvery(it); ok {
			out = append(out, Value{Name: lang.Text("Stop and start again, %s", it.Label),
				Value: lang.Text("every %s min at the latest", say.Number(every))})
		}
	}
	return out
}
