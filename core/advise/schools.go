package advise

import (
	"slices"

	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/work"
)

// School is a question on which habits differ, with what each says for itself and what the rig makes of it.
type School struct {
	ID       string         `json:"id"`
	Question string         `json:"question"`
	Options  []SchoolOption `json:"options"`
}

// SchoolOption is one answer.
type SchoolOption struct {
	Title   string      `json:"title"`
	Why     string      `json:"why" doc:"What is said for it"`
	Now     bool        `json:"now" doc:"The rig is so"`
	As      bool        `json:"asProposed" doc:"Nobody has said, and it is proposed so: the verdict goes by it"`
	Edits   []rig.Edit  `json:"edits" doc:"What makes it so; none where it is so, or where nothing here can be changed into it"`
	State   limit.State `json:"state,omitempty" enum:"slack,taut,kinked,untested,snapped" doc:"Of the whole rig, so"`
	Over    int         `json:"over" doc:"Limits that are over then"`
	Open    int         `json:"open" doc:"Limits that are not settled then"`
	Minutes float64     `json:"minutes"`
	Cost    *gear.Money `json:"cost,omitempty" doc:"About what has to be bought for it"`
}

// mostEach bounds the things a question is put for one by one.
const mostEach = 4

// Schools lists the questions of chapter 8 this rig raises; every answer that can be given here is judged in the whole
// rig.
func Schools(r *rig.Rig) []School {
	s := &schools{r: r, out: []School{}}
	s.all()
	as := &schools{r: judge.Rig(r).Rig, unjudged: true}
	as.all()
	for i := range s.out {
		k := slices.IndexFunc(as.out, func(o School) bool { return o.ID == s.out[i].ID })
		if k < 0 {
			continue
		}
		for j := range s.out[i].Options {
			o := &s.out[i].Options[j]
			o.As = !o.Now && slices.ContainsFunc(as.out[k].Options, func(p SchoolOption) bool {
				return p.Title == o.Title && p.Now
			})
		}
	}
	return s.out
}

func (s *schools) all() {
	s.rates()
	s.switching()
	s.program()
	s.waysIn()
	s.size()
	s.power()
	s.runs()
	s.hubs()
	s.ranges()
	s.containers()
	s.quality()
	s.sticks()
	s.microphones()
	s.cameras()
}

type schools struct {
	r   *rig.Rig
	out []School

	unjudged bool // only what the rig is counts, not what it would be
}

// ask adds a question with its answers, where there are two at least.
func (s *schools) ask(id, question string, options ...SchoolOption) {
	if len(options) < 2 {
		return
	}
	for i := range options {
		o := &options[i]
		if o.Edits == nil {
			o.Edits = []rig.Edit{}
		}
		if s.unjudged || !o.Now && len(o.Edits) == 0 {
			continue
		}
		after, err := rig.Apply(s.r, o.Edits...)
		if err != nil || len(rig.Check(after)) > 0 { // it cannot be had by a change of this rig alone
			o.Edits = []rig.Edit{}
			continue
		}
		v := judge.Rig(after)
		o.State, o.Over, o.Open = v.State, 0, 0
		for k := range v.Results {
			switch l := &v.Results[k]; l.State {
			case limit.Snapped, limit.Kinked:
				o.Over++
			case limit.Untested:
				o.Open++
			}
		}
	}
	s.out = append(s.out, School{id, question, options})
}

// option is an answer that is given now, or would be by edits.
func option(title, why string, now bool, minutes float64, edits ...rig.Edit) SchoolOption {
	o := SchoolOption{Title: title, Why: why, Now: now}
	if !now {
		o.Edits, o.Minutes = edits, minutes
	}
	return o
}

func (s *schools) takes(k work.Kind) float64 { return s.r.WorkMinutes.Of(k) }

func (s *schools) shown(change func(*rig.Show)) rig.Edit {
	show := s.r.Show
	show.Destinations, show.Recordings = slices.Clone(show.Destinations), slices.Clone(show.Recordings)
	change(&show)
	return rig.Edit{Do: "show", Show: &show}
}

func (s *schools) rates() {
	now := s.r.Show.Programme.Rate
	other := picture.NewRate(now.Num, now.Den*2)
	if now.Nominal() <= 30 {
		other = picture.NewRate(now.Num*2, now.Den)
	}
	if other.Float() < 23 || other.Float() > 61 {
		return
	}
	edit := s.shown(func(sh *rig.Show) {
		sh.Programme.Rate = other
		for i := range sh.Destinations {
			if sh.Destinations[i].Send.Rate == now {
				sh.Destinations[i].Send.Rate = other
			}
		}
	})
	slow, fast := now, other
	if now.Cmp(other) > 0 {
		slow, fast = other, now
	}
	s.ask("rate", lang.Text("%s or %s frames a second?", slow.Name(), fast.Name()),
		option(lang.Text("%s", slow.Name()),
			lang.Text("Enough for talk and slides, and half the work for bus, computer and line."), now == slow,
			s.takes(work.Show), edit),
		option(lang.Text("%s", fast.Name()),
			lang.Text("Motion is smoother: for music, play and sport. Cameras may run at it for either."), now == fast,
			s.takes(work.Show), edit))
}

func (s *schools) switching() {
	if s.r.Show.Angles < 2 {
		return
	}
	has := slices.ContainsFunc(s.r.Items, func(it rig.Item) bool { return it.Gear.Kind == gear.Switcher })
	set := func(software bool) rig.Edit {
		return s.shown(func(sh *rig.Show) {
			sh.AnglesSelectable = software
			if software && sh.Switching == "switcher" {
				sh.Switching = ""
			} else if !software {
				sh.Switching = "switcher"
			}
		})
	}
	hardware := option(lang.Text("On a hardware switcher"),
		lang.Text("Dependable, and light on the computer; it hands over one picture only."),
		has && !s.r.Show.AnglesSelectable, s.takes(work.Show), set(false))
	if !has {
		hardware.Edits = nil // there is none to do it with
	}
	s.ask("switching", lang.Text("Change angles in hardware or in software?"), hardware,
		option(lang.Text("In the program"),
			lang.Text("Every angle arrives by itself and can be kept by itself; more load on bus and computer."),
			s.r.Show.AnglesSelectable, s.takes(work.Show), set(true)))
}

func (s *schools) program() {
	kind := s.r.Show.Program.Kind
	set := func(to string) rig.Edit { return s.shown(func(sh *rig.Show) { sh.Program.Kind = to }) }
	options := []SchoolOption{
		option(lang.Text("An encoder on this computer"),
			lang.Text("Control: every value is yours to set, and every recording."), kind == "encoder",
			s.takes(work.Sheet), set("encoder")),
		option(lang.Text("A studio in the browser"),
			lang.Text("Ease, and guests by a link; it sets coding and bitrate by itself."), kind == "browser-studio",
			s.takes(work.Sheet), set("browser-studio"))}
	if kind != "encoder" && kind != "browser-studio" { // the rig is neither
		options = append(options, option(say.Sentence(plans.ProgramName(s.r.Show.Program)),
			lang.Text("Nothing to set but camera and microphone, and one camera at a time."), true, 0))
	}
	s.ask("program", lang.Text("An encoder program or a studio in the browser?"), options...)
}

func (s *schools) waysIn() {
	n := 0
	for i := range s.r.Items {
		it := &s.r.Items[i]
		if !it.Gear.Kind.Shoots() || n == mostEach {
			continue
		}
		usb, capture := ByUSB(s.r, it), ByCapture(s.r, it)
		if usb.Why != "" || capture.Why != "" {
			continue
		}
		n++
		one := option(lang.Text("By its own USB"),
			lang.Text("One lead, powered, with its sound in it; often a smaller picture."), usb.Now, usb.Minutes,
			usb.Edits...)
		other := option(lang.Text("Through a capture device"),
			lang.Text("The full picture, steadier, over any distance; a device more to buy and to place."),
			capture.Now, capture.Minutes, capture.Edits...)
		if !capture.Now && capture.Cost > 0 {
			other.Cost = Price(s.r, capture.Cost)
		}
		s.ask("way-in:"+it.ID, lang.Text("%s by USB or by capture?", it.Label), one, other)
	}
}

func (s *schools) size() {
	pr := s.r.Show.Programme
	n := 0
	for i := range s.r.Items {
		it := &s.r.Items[i]
		if !it.IsSource() || n == mostEach {
			continue
		}
		for j := range it.Gear.Ports {
			p := &it.Gear.Ports[j]
			if p.Direction != gear.Out || it.Set == nil {
				continue
			}
			now, said := it.Set.Output[p.ID]
			if !said {
				continue // it is proposed
			}
			large := slices.IndexFunc(p.Modes, func(m picture.Mode) bool {
				return m.Width > pr.Width && m.Rate == now.Rate
			})
			same := slices.IndexFunc(p.Modes, func(m picture.Mode) bool {
				return m.Width == pr.Width && m.Height == pr.Height && m.Rate == now.Rate
			})
			if large < 0 || same < 0 {
				continue
			}
			n++
			set := func(m *picture.Mode) rig.Edit {
				return rig.Edit{Do: "mode", Item: it.ID, Port: p.ID, Mode: m}
			}
			s.ask("size:"+it.ID, lang.Text("Does %s send its large picture, or the programme's?", it.Label),
				option(plans.ModeText(&p.Modes[same]), lang.Text("Fewer surprises: nothing is scaled on the way."),
					now.Width == pr.Width, s.takes(work.Mode), set(&p.Modes[same])),
				option(plans.ModeText(&p.Modes[large]),
					lang.Text("Room to crop, where the capture takes it; else it is scaled down there."),
					now.Width > pr.Width, s.takes(work.Mode), set(&p.Modes[large])))
		}
	}
}

func (s *schools) power() {
	var mains, battery []rig.Edit
	cameras, onMains, onBattery, dummies := 0, 0, 0, 0
	for i := range s.r.Items {
		it := &s.r.Items[i]
		pw := it.Gear.Power
		if it.Gear.Kind != gear.Camera || pw == nil || pw.Battery == nil ||
			pw.Mains != gear.MainsYes && pw.Mains != gear.MainsDummy {
			continue
		}
		cameras++
		switch runs := plans.RunsOn(s.r, it); runs {
		case "mains":
			onMains++
		case "battery":
			onBattery++
		}
		if pw.Mains == gear.MainsDummy && plans.RunsOn(s.r, it) != "mains" {
			dummies++
		}
		mains = append(mains, rig.Edit{Do: "runs-on", Item: it.ID, Word: "mains"})
		battery = append(battery, rig.Edit{Do: "runs-on", Item: it.ID, Word: "battery"})
	}
	if cameras == 0 {
		return
	}
	n := float64(cameras)
	one := option(lang.Text("From the mains, by adapter or dummy battery"),
		lang.Text("At home: no end, and the camera stays cooler with no battery charging inside."), onMains == cameras,
		n*s.takes(work.Power), mains...)
	if dummies > 0 && !one.Now {
		d := Dummy(s.r)
		d.Amount *= gear.Amount(dummies)
		one.Cost = d
	}
	s.ask("power", lang.Text("What do the cameras run on?"), one,
		option(lang.Text("On their batteries"),
			lang.Text("Outdoors and on the move: no lead more. Count the minutes, and the spares."),
			onBattery == cameras, n*s.takes(work.Power), battery...))
}

// runs asks of the longest HDMI lead.
func (s *schools) runs() {
	var longest *rig.Lead
	for i := range s.r.Leads {
		l := &s.r.Leads[i]
		if _, p := s.r.Port(l.From); p != nil && p.Connector.Family() == gear.HDMIFamily && l.LengthM.Value > 3 &&
			(longest == nil || l.LengthM.Value > longest.LengthM.Value) {
			longest = l
		}
	}
	if longest == nil {
		return
	}
	m := BySDI(s.r, longest)
	from, _ := s.r.Port(longest.From)
	sdi := option(lang.Text("SDI, with a converter at either end"),
		lang.Text("Locks, goes further, and fits a later switcher that has SDI only."), false, m.Minutes, m.Edits...)
	sdi.Cost = m.Cost
	s.ask("hdmi-sdi:"+longest.ID, lang.Text("HDMI or SDI from %s?", from.Label),
		option(lang.Text("HDMI"), lang.Text("Cheapest now; short runs hold."), true, 0), sdi)
}

func (s *schools) hubs() {
	for i := range s.r.Items {
		it := &s.r.Items[i]
		if it.Gear.Kind != gear.Hub {
			continue
		}
		for _, e := range gear.Starter() {
			if e.Gear.Kind != gear.Dock {
				continue
			}
			g := e.Gear
			dock := option(lang.Text("A dock with a controller of its own"),
				lang.Text("Spreads load and heat better: its sockets share nothing with the computer's own."), false,
				s.takes(work.Swap), rig.Edit{Do: "swap", Item: it.ID, Gear: &g})
			dock.Cost = e.Price
			s.ask("hub-dock:"+it.ID, lang.Text("A hub or a dock in place of %s?", it.Label),
				option(lang.Text("The hub"), lang.Text("A hub with a supply is enough for a few sticks."), true, 0),
				dock)
			return
		}
	}
}

func (s *schools) ranges() {
	if len(s.r.Show.Destinations) == 0 || s.r.Show.Program.Kind != "encoder" {
		return
	}
	n := 0
	for i := range s.r.Show.Destinations {
		if s.r.Show.Destinations[i].Send.Range == "full" {
			n++
		}
	}
	set := func(to string) rig.Edit {
		return s.shown(func(sh *rig.Show) {
			for i := range sh.Destinations {
				sh.Destinations[i].Send.Range = to
			}
		})
	}
	s.ask("range", lang.Text("Limited or full colour range?"),
		option(lang.Text("Limited, 16 to 235"),
			lang.Text("Video by BT.709 is defined so, and players take it for granted unless it is flagged."), n == 0,
			s.takes(work.Send), set("limited")),
		option(lang.Text("Full, 0 to 255"),
			lang.Text("Some set it everywhere; then camera, capture, program and player all have to be looked at."),
			n == len(s.r.Show.Destinations), s.takes(work.Send), set("full")))
}

func (s *schools) containers() {
	at := slices.IndexFunc(s.r.Show.Recordings, func(rec rig.Recording) bool { return !rec.InCamera })
	if at < 0 {
		return
	}
	now := s.r.Show.Recordings[at].Container
	set := func(to string) rig.Edit {
		return s.shown(func(sh *rig.Show) {
			for i := range sh.Recordings {
				if !sh.Recordings[i].InCamera {
					sh.Recordings[i].Container = to
				}
			}
		})
	}
	s.ask("container", lang.Text("In what is the recording kept?"),
		option(lang.Text("Fragmented MP4"), lang.Text("Survives a crash, and opens nearly everywhere."), now == "" ||
			now == "fmp4", s.takes(work.Send), set("fmp4")),
		option(lang.Text("Matroska"),
			lang.Text("Survives a crash, takes any number of tracks; some editors want it repacked."), now == "mkv",
			s.takes(work.Send), set("mkv")),
		option(lang.Text("Plain MP4 or MOV"),
			lang.Text("Opens everywhere, and is lost whole when program or power fails."), now == "mp4" ||
				now == "mov", s.takes(work.Send), set("mp4")))
}

func (s *schools) quality() {
	at := slices.IndexFunc(s.r.Show.Recordings, func(rec rig.Recording) bool {
		return !rec.InCamera && rec.Kbps == nil
	})
	if at < 0 {
		return
	}
	now := plans.QualityFor(&s.r.Show.Recordings[at], s.r.Show.Minutes)
	set := func(to float64) rig.Edit {
		return s.shown(func(sh *rig.Show) {
			for i := range sh.Recordings {
				if !sh.Recordings[i].InCamera {
					sh.Recordings[i].Quality = to
				}
			}
		})
	}
	s.ask("quality", lang.Text("How good is the recording?"),
		option(lang.Text("Quality 16"), lang.Text("For short clips that are cut and coded again; the largest files."),
			now <= 16, s.takes(work.Send), set(16)),
		option(lang.Text("Quality 18"), lang.Text("For an evening."), now > 16 && now < 20, s.takes(work.Send),
			set(18)),
		option(lang.Text("Quality 20"), lang.Text("For hours: about a fifth smaller than 18."), now >= 20,
			s.takes(work.Send), set(20)))
}

// cameras asks of the first camera whether a webcam would do: what is owned is tried first.
func (s *schools) cameras() {
	at := slices.IndexFunc(s.r.Items, func(it rig.Item) bool {
		return it.Gear.Kind == gear.Camera || it.Gear.Kind == gear.Webcam
	})
	if at < 0 {
		return
	}
	it := &s.r.Items[at]
	camera := it.Gear.Kind == gear.Camera
	s.ask("camera-webcam", lang.Text("A camera or a good webcam?"),
		option(lang.Text("A camera"), lang.Text("Its lens and its controls; a lead, a capture device and power more."),
			camera, 0),
		option(lang.Text("A good webcam"),
			lang.Text("One plug and nothing to set; little to set either. Try what is there before buying."), !camera,
			0))
}

// sticks asks of several capture devices on USB whether a card would do for them; it is put in on the shelf and the
// board.
func (s *schools) sticks() {
	usb, card := 0, 0
	for i := range s.r.Items {
		it := &s.r.Items[i]
		if it.Gear.Kind != gear.Capture && it.Gear.Kind != gear.Card {
			continue
		}
		if slices.ContainsFunc(it.Gear.Ports, func(p gear.Port) bool { return p.Connector == gear.PCIe }) {
			card++
		} else {
			usb++
		}
	}
	if usb+card < 2 {
		return
	}
	s.ask("sticks-card", lang.Text("Sticks on USB or a card in a slot?"),
		option(lang.Text("Sticks"), lang.Text("Cheap, and they travel; all of them share what their bus carries."),
			usb > 0, 0),
		option(lang.Text("A card"),
			lang.Text("Steadier, and no load on USB; fixed in one computer, hot, and in a slot that has the lanes."),
			card > 0, 0))
}

// microphones asks where the voices go in.
func (s *schools) microphones() {
	if s.r.Sound == nil {
		return
	}
	camera, computer := false, false
	for i := range s.r.Sound.Paths {
		p := &s.r.Sound.Paths[i]
		if p.On == "muted" {
			continue
		}
		through := slices.ContainsFunc(append([]string{p.From}, p.Via...), func(id string) bool {
			it := s.r.Item(id)
			return it != nil && (it.IsSource() || it.Gear.Kind == gear.Switcher)
		})
		camera, computer = camera || through, computer || !through
	}
	if !camera && !computer {
		return
	}
	s.ask("microphone", lang.Text("Microphone into the camera or into the computer?"),
		option(lang.Text("Into the camera or switcher"), lang.Text("Sound arrives with its picture, in step."), camera,
			0),
		option(lang.Text("Into the computer"),
			lang.Text("The microphone stays close and clear; its sound is early, and delayed by what the Sound page says."),
			computer, 0))
}
