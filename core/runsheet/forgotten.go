package runsheet

import (
	"math"
	"slices"
	"strconv"
	"strings"

	"eventether/core/engine"
	"eventether/core/gear"
	"eventether/core/ladder"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/rules"
	"eventether/core/say"
	"eventether/core/work"
)

// beforehand are the things of the days before: what is ordered, who has to allow something, whom to call.
func (m *maker) beforehand() {
	var missing []string
	for i := range m.v.Items {
		it := &m.v.Items[i]
		if it.Arrives != "" {
			m.add(Step{ID: "arrives:" + it.ID, Phase: Find,
				Do: lang.Text("See that %s has arrived: it is ordered for %s.", it.Label, it.Arrives), Minutes: 1,
				People: 1, Off: true})
		} else if it.Owned != nil && !*it.Owned && !it.Borrowed {
			missing = append(missing, it.Label)
		}
	}
	if len(missing) > 0 {
		st := Step{ID: "order", Phase: Find,
			Do:      lang.Text("Order or borrow what is not there yet, in time for the show: %s.", say.List(missing)),
			Minutes: 5, People: 1, Off: true}
		if m.v.Show.Date != "" {
			st.Values = []Value{{Name: lang.Text("There before"), Value: m.v.Show.Date}}
		}
		m.add(st)
	}
	for i := range m.v.Show.Destinations {
		d := &m.v.Show.Destinations[i]
		if d.Via != "" || d.Permission == "yes" {
			continue
		}
		m.add(Step{ID: "permission:" + d.Name, Phase: Find,
			Do: lang.Text("The day before: see that the account may go live on %s, and sign in from where the show is.",
				d.Name), Minutes: 3, People: 1, Off: true,
			Pass:  []string{lang.Text("The live page opens, without a waiting time; the second factor is at hand there.")},
			Fails: []string{lang.Text("The first permission for live may take a day: ask for it now.")}})
	}
	if m.v.Uplink != nil && m.v.Uplink.Whose == "venue" {
		m.add(Step{ID: "venue", Phase: Find,
			Do:   lang.Text("From the place, by its network: send 60 s to the real ingest, privately."),
			Kind: work.Reading, Minutes: 10, People: 1, Off: true,
			Pass:  []string{lang.Text("It arrives whole; no sign-in page comes back within the length of the show.")},
			Fails: []string{lang.Text("A sign-in page, closed ports, sessions that end: ask for a socket of one's own, or bring a line.")}})
	}
	if l := m.v.Find(engine.ID{Rule: rules.Allowance}); l != nil {
		m.add(Step{ID: "allowance", Phase: Find,
			Do: lang.Text("Look how much of the data allowance is left: the evening sends %s GB at most.",
				say.Number(math.Ceil(10*l.Load.High)/10)), Kind: work.Look, People: 1, Off: true})
	}
}

// daysBefore are the steps so far that are no work of the evening: what is ordered, and who has to allow something.
func (m *maker) daysBefore() (ids []string) {
	for i := range m.Steps {
		if id := m.Steps[i].ID; id == "order" || strings.HasPrefix(id, "arrives:") ||
			strings.HasPrefix(id, "permission:") {
			ids = append(ids, id)
		}
	}
	return ids
}

// carry is what comes before anything stands: carrying in, and a spare lead of each kind.
func (m *maker) carry() {
	kinds := []string{}
	for i := range m.v.Leads {
		l := &m.v.Leads[i]
		_, out := m.v.Port(l.From)
		if l.LengthM.Value == 0 || out == nil || out.Connector.Family() == gear.PCIeFamily {
			continue
		}
		kind := map[gear.Family]string{gear.HDMIFamily: "HDMI", gear.SDIFamily: "SDI",
			gear.LANFamily: lang.Text("network"), gear.USBFamily: "USB"}[out.Connector.Family()]
		if kind != "" && !slices.Contains(kinds, kind) {
			kinds = append(kinds, kind)
		}
	}
	st := Step{ID: "carry", Phase: Place, Do: lang.Text("Carry in and unpack."), Kind: work.Carry, People: 1,
		Off: true, After: m.daysBefore(), Pass: []string{lang.Text("Everything of the packing list is there.")}}
	if len(kinds) > 0 {
		st.Pass = append(st.Pass, lang.Text("A spare lead of each kind: %s.", say.List(kinds)))
	}
	m.add(st)
}

// undisturbed are the settings of the computer that would end or spoil a show.
func (m *maker) undisturbed() {
	if m.host == nil {
		return
	}
	st := Step{ID: "undisturbed:" + m.host.ID, Phase: Set, Do: lang.Text("Set %s so that nothing disturbs the show.",
		m.host.Label), Minutes: 3, People: 1, at: m.host.ID,
		Pass: []string{lang.Text("Until after the show: nothing sleeps, restarts, scans, rings or pops up.")}}
	for _, u := range plans.Undisturbed {
		said := m.host.Set != nil && m.host.Set.Undisturbed[u.ID] != ""
		st.Values = append(st.Values, Value{Name: lang.Text(u.Name), Value: lang.Text("off"), Proposed: !said})
	}
	m.add(st)
}

// cards are what cameras and recorders keep on: in, and empty.
func (m *maker) cards() {
	for _, k := range m.v.KeptOn() {
		if k.Drive == nil || k.Drive.IsHost() {
			continue
		}
		own := slices.ContainsFunc(k.Recordings, func(i int) bool { return !m.v.ByComputer(&m.v.Show.Recordings[i]) })
		if !own {
			continue
		}
		gb := 0.0
		for _, i := range k.Recordings {
			gb += m.v.KeptGB(i).High
		}
		m.add(Step{ID: "card:" + k.Drive.ID, Phase: Set,
			Do: lang.Text("Put the card of %s in, formatted there and empty.", k.Drive.Label), Minutes: 2, People: 1,
			at: k.Drive.ID,
			Pass: []string{lang.Text("It shows room for %s GB, rehearsal and show; what was on it is copied twice.",
				say.Number(math.Ceil(gb)))}})
	}
}

// listening are the things of sound that only ears tell.
func (m *maker) listening(after []string) {
	plan := m.v.Sounds()
	if plan == nil {
		return
	}
	var level, sides []Value
	radio := false
	seen := map[string]bool{}
	for i := range plan.Paths {
		w := &plan.Paths[i]
		if w.On == "muted" {
			continue
		}
		sides = append(sides, Value{Name: w.Name, Value: lang.Text("middle"),
			Proposed: m.v.Sound.Paths[i].Middle != "yes"})
		for _, id := range w.Items {
			it := m.v.Item(id)
			if it == nil || it.IsHost() || seen[id] {
				continue
			}
			seen[id] = true
			radio = radio || it.Gear.Kind == gear.WirelessSound
			if it.Gear.Sound == nil || it.Gear.Sound.AutoLevel != gear.No {
				level = append(level, Value{Name: it.Label, Value: lang.Text("off"), Proposed: true})
			}
		}
	}
	if len(level) > 0 {
		m.add(Step{ID: "level-control", Phase: Sound,
			Do: lang.Text("Turn automatic level control off, in the device, the call and the system."), Values: level,
			Minutes: float64(len(level)), People: 1, at: m.desk()})
	}
	if len(sides) > 0 {
		m.add(Step{ID: "listen", Phase: Sound,
			Do:     lang.Text("Listen on headphones, then in mono: every voice in the middle, no hum in pauses."),
			Values: sides, Minutes: 2, People: 1, at: m.desk(), After: append(after, "mute", "level-control"),
			Fails:   []string{lang.Text("On one side: set its input to the middle. Hum: both ends into one outlet, a balanced lead or a transformer.")},
			Caution: lang.Text("Hearing: set the level low before putting headphones on. Never lift or tape off a safety earth to stop a hum.")})
	}
	if radio {
		m.add(Step{ID: "radio", Phase: Sound,
			Do:      lang.Text("Walk the place with the radio microphone, at the hour of the show, with Wi-Fi as it will be."),
			Minutes: 4, People: 1, Both: true,
			Pass: []string{lang.Text("No drop-outs; sets of one band stay 100 kHz or more off each other's third-order products.")}})
	}
	if slices.ContainsFunc(plan.Paths, func(w plans.SoundWay) bool { return w.On != "muted" }) {
		m.add(Step{ID: "speaker", Phase: Sound,
			Do: lang.Text("Call the speaker: for the microphone, the clap and the rehearsal."), Minutes: 1, People: 1})
	}
}

// second is the line that stands by.
func (m *maker) second() {
	up := m.v.Uplink
	if up == nil || up.SecondMbps == nil {
		return
	}
	m.add(Step{ID: "second-line", Phase: Test,
		Do:      lang.Text("Change over to the second line and back, once, with the lowest rung."),
		Minutes: max(2, 2*up.SecondTakes), People: 1, at: m.desk(), After: []string{"uplink"},
		Pass: []string{lang.Text("It sends within %s min of the change.", say.Number(max(1, up.SecondTakes)))}})
}

// sendAway is what is sent after the show, with its time.
func (m *maker) sendAway() {
	for i, l := range ladder.Of(m.v).Later {
		if l.GB.High <= 0 || l.SendHours.High >= limit.Never {
			continue
		}
		m.add(Step{ID: "send-away:" + strconv.Itoa(i), Phase: After,
			Do:      lang.Text("Send %s away, where somebody waits for it.", l.Recording),
			Minutes: max(1, math.Ceil(60*l.SendHours.High)), People: 0, at: m.desk(), After: []string{"end:recording"},
			Values: []Value{{Name: lang.Text("Size"), Value: say.Span(l.GB.Low, l.GB.High, "GB")},
				{Name: lang.Text("Over this line"), Value: say.Span(math.Round(10*l.SendHours.Low)/10,
					math.Round(10*l.SendHours.High)/10, "h")}}})
	}
}
