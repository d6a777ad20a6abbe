package rules

import (
	"math"
	"slices"
	"strconv"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
)

var DriveWrite = rule(Rule{Name: "drive-write", Asks: "Does the drive write everything that is recorded on it?", Sum: "Σ bitrates ÷ 8 ≤ sustained write of the drive", Sense: limit.AtMost, Unit: "MB/s", Over: limit.Drops, Subject: TheSend,
	Source:  estimate("what drives of its kind usually write for long, until this one is measured; cards by SD Association speed classes"),
	Example: "1080p30 at quality 18 is 3 to 25 Mb/s, at most 3.1 MB/s: of a hard disk's 80 MB/s 4 %."})

var DriveSpace = rule(Rule{Name: "drive-space", Asks: "Does what is recorded fit on the drive?", Sum: "Σ bitrates with their sound × rehearsal and show ÷ 8 ≤ free space", Sense: limit.AtMost, Unit: "GB", Over: limit.Drops, Subject: TheSend,
	Source:  datasheet("what is free on the drive"),
	Example: "Two hours at 12 Mb/s are 10.8 GB; of 400 GB free 3 %."})

var Container = rule(Rule{Name: "container", Asks: "Does the recording survive a crash?", Sense: limit.Fits, Over: limit.Care, Subject: TheSend,
	Source:  practice("Fragmented MP4 or Matroska, never plain MP4: its table of contents is written at the very end"),
	Example: "Plain MP4, and the power goes after an hour: the hour is lost."})

var FileEnd = rule(Rule{Name: "file-end", Asks: "Does the file fit the drive's file system?", Sum: "bitrate with its sound × length of the show ÷ 8 ≤ 4 GiB", Sense: limit.AtMost, Unit: "GB", Over: limit.Drops, Subject: TheSend,
	Source:  standard("FAT32 keeps a file's length in 32 bits: 4 GiB, 4.295 GB"),
	Example: "An hour at 12 Mb/s is 5.4 GB: more than one file on FAT32."})

var FileSplit = rule(Rule{Name: "file-split", Asks: "Is a recording in a camera one clip?", Sum: "bitrate with its sound × length of the show ÷ 8 ≤ 4 GiB on FAT32", Sense: limit.AtMost, Unit: "GB", Over: limit.Care, Subject: TheSend,
	Source:  practice("Cameras begin another clip where FAT32 ends a file"),
	Example: "An hour at 50 Mb/s is 22.5 GB: six clips on a card with FAT32, to be joined."})

var SentSize = rule(Rule{Name: "sent-size", Asks: "Is a picture made larger than it is?", Sense: limit.Fits, Over: limit.Flaw, Subject: TheSend,
	Board:   Short{"", "made larger, soft"},
	Source:  practice("Making a picture larger adds pixels, not detail"),
	Example: "A 1280×720 programme sent as 1920×1080: soft."})

var BitsAPixel = rule(Rule{Name: "bits-a-pixel", Asks: "Are there bits enough for the size and rate that is sent?", Sum: "bitrate ÷ (width × height × rate) ≥ 0.045", Sense: limit.AtLeast, Unit: "bit/px", Ceiling: 1, Over: limit.Flaw, Subject: TheSend,
	Source:  practice("0.05 to 0.15 bits a pixel; below 0.045 H.264 shows blocks on movement: a smaller size or rate looks better"),
	Example: "2500 kb/s at 1920×1080 and 30 are 0.04 bits a pixel: too few; at 1280×720 they are 0.09."})

var Codec = rule(Rule{Name: "codec", Asks: "Does the destination take H.264?", Sense: limit.Fits, Over: limit.Dark, Subject: TheShow,
	Board:   Short{"", "takes no H.264"},
	Source:  datasheet("the destination's own limits"),
	Example: "A destination whose list names AV1 alone takes no H.264: snapped."})

var Transport = rule(Rule{Name: "transport", Asks: "Does the destination take the way it is sent?", Sense: limit.Fits, Over: limit.Dark, Subject: TheSend,
	Board:   Short{"", "does not take that transport"},
	Source:  datasheet("the destination's own limits"),
	Example: "RTMP to a destination that takes reliable UDP only: snapped."})

var IngestAudio = rule(Rule{Name: "ingest-audio", Asks: "Does the destination take the sound's bitrate?", Sum: "audio bitrate ≤ the destination's cap", Sense: limit.AtMost, Unit: "kb/s", Ceiling: 1, Over: limit.Dark, Subject: TheSend,
	Source:  datasheet("the destination's own limits"),
	Example: "160 kb/s to a destination that takes 128: snapped."})

var IngestLeast = rule(Rule{Name: "ingest-least", Asks: "Is the video bitrate as high as the destination asks for?", Sum: "video bitrate ≥ the least it takes", Sense: limit.AtLeast, Unit: "kb/s", Ceiling: 1, Over: limit.Dark, Subject: TheShow,
	Source:  datasheet("the destination's own limits"),
	Example: "600 kb/s to a destination that wants 1000 at least: refused.",
	Judge:   Judging{OnRig: judgeSent}})

// judgeSent judges each sent picture for itself: size, bits, and what the destination takes besides.
func judgeSent(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Show.Destinations {
		p.sent(own, i)
	}
}

func (p *Pass) sent(own *Rule, i int) {
	d := &p.Show.Destinations[i]
	at, in := strconv.Itoa(i), d.Ingest
	if in == nil {
		in = &rig.Ingest{}
	}
	add := func(id *Rule, l Result) {
		l.Stage, l.Shared, l.Where = Send, true, toSend
		p.add(nil, id, at, &l)
	}
	if d.Via != "" { // another sends it, as it was coded: how it looks and by what it goes is told there
		p.soundAndLeast(own, i, in, add)
		return
	}
	pr := p.Show.Programme
	size := Result{Limit: limit.Limit{Outcomes: limit.Yes}}
	larger := d.Send.Width > pr.Width || d.Send.Height > pr.Height
	if larger {
		size.Outcomes = limit.No
	}
	size.Say = func(w *Words) {
		sent, composed := picture.SizeName(d.Send.Width, d.Send.Height), picture.SizeName(pr.Width, pr.Height)
		w.What = w.T("Size sent to %s", d.Name)
		switch {
		case larger:
			w.Says = w.T("%s is sent to %s and %s is composed: made larger, soft, and no sharper for the bitrate it costs.", sent, d.Name, composed)
		case sent != composed:
			w.Says = w.T("%s is made of %s for %s.", sent, composed, d.Name)
		default:
			w.Says = w.T("%s is sent to %s as it is composed.", sent, d.Name)
		}
	}
	add(SentSize, size)

	bits := p.roomy(1, 1)
	px := float64(d.Send.Width) * float64(d.Send.Height) * d.Send.Rate.Float()
	bits.Loads = append(bits.Loads, limit.Load{Item: "send", Term: limit.Times(1000/px, bits.Let(p.video(i)))})
	bits.Caps = p.cap(limit.Times(0.045))
	bits.Say = func(w *Words) {
		w.What, w.Sum, w.Loads[0] = w.T("Bits a pixel to %s", d.Name), lang.Text("below it blocks show on movement"), LoadWords{d.Name, w.T("bitrate ÷ (%s × %s)", picture.SizeName(d.Send.Width, d.Send.Height), d.Send.Rate.Name())}
		w.Says = w.T("%s to %s.", w.load(), d.Name)
		if w.Result.State == limit.Kinked {
			w.Says = w.T("%s to %s: too few, blocks show on movement. A smaller size or rate looks better at this bitrate.", w.load(), d.Name)
		}
	}
	add(BitsAPixel, bits)

	// A destination takes H.264 and the transport it is known by, as a rule [practice]: its list says otherwise.
	codec := Result{Limit: limit.Limit{Outcomes: limit.Yes}}
	coded := len(in.VideoCodecs) == 0 || slices.Contains(in.VideoCodecs, "h264")
	if !coded {
		codec.Outcomes = limit.No
	}
	codec.Say = func(w *Words) {
		w.What, w.Says = w.T("Coding %s takes", d.Name), w.T("%s takes H.264.", d.Name)
		if !coded {
			w.Says = w.T("%s takes %s, and H.264 is what is sent.", d.Name, List(in.VideoCodecs))
		}
	}
	add(Codec, codec)
	by := Result{Limit: limit.Limit{Outcomes: limit.Yes}}
	transport := orElse(d.Transport, "rtmp")
	carried := len(in.Transports) == 0 || slices.Contains(in.Transports, transport)
	if !carried {
		by.Outcomes = limit.No
	}
	by.Say = func(w *Words) {
		w.What, w.Says = w.T("Transport %s takes", d.Name), w.T("%s takes %s.", d.Name, TransportName(transport))
		if !carried {
			names := make([]string, len(in.Transports))
			for i, t := range in.Transports {
				names[i] = TransportName(t)
			}
			w.Says = w.T("%s takes %s, and it is sent by %s.", d.Name, List(names), TransportName(transport))
		}
	}
	if p.Show.Program.Kind != "destination-page" { // its own page knows how to send to it
		add(Transport, by)
	}
	p.soundAndLeast(own, i, in, add)
}

// soundAndLeast judges what a destination takes of the sound, and wants of the picture at least.
func (p *Pass) soundAndLeast(own *Rule, i int, in *rig.Ingest, add func(*Rule, Result)) {
	d, at := &p.Show.Destinations[i], strconv.Itoa(i)
	sound := p.roomy(2, 1)
	sound.Loads = append(sound.Loads, limit.Load{Item: "send", Term: limit.Times(1, sound.Let(p.audio(i)))})
	most := limit.Known(in.MaxAudioKbps, "kb/s", fact.DataSheet)
	if in.MaxAudioKbps == 0 { // nobody has looked: from a plain voice to what music wants [estimate]
		most = limit.Choice(part("show/destinations/N/takesAudio", "", at), "kb/s", "not said", &takesAudio)
	}
	sound.Caps = p.cap(limit.Times(1, sound.Let(most)))
	sound.Say = func(w *Words) {
		w.What, w.Sum, w.Loads[0] = w.T("Sound %s takes", d.Name), lang.Text("the destination's cap"), LoadWords{d.Name, lang.Text("audio bitrate")}
		w.Says = w.T("%s of the %s %s takes.", w.load(), w.limit(), d.Name)
	}
	add(IngestAudio, sound)
	least, known := in.Least()
	l := p.roomy(2, 1)
	l.Loads = append(l.Loads, limit.Load{Item: "send", Term: limit.Times(1, l.Let(p.video(i)))})
	wants := limit.Known(least, "kb/s", fact.DataSheet)
	if !known { // from none to what some ask for [estimate]
		options := slices.DeleteFunc(slices.Clone(takesLeast), func(o limit.Option) bool { return in.MaxVideoKbps > 0 && o.Number > in.MaxVideoKbps })
		wants = limit.Choice(part("show/destinations/N/takesLeast", "", at), "kb/s", "not said", &options)
		if wants.High = in.MaxVideoKbps; in.MaxVideoKbps == 0 {
			wants.High = rig.Profiles[len(rig.Profiles)-1].Kbps
		}
	}
	l.Caps = p.cap(limit.Times(1, l.Let(wants)))
	l.Say = func(w *Words) {
		w.What, w.Sum, w.Loads[0] = w.T("Least bitrate %s takes", d.Name), lang.Text("the least the destination takes"), LoadWords{d.Name, lang.Text("video bitrate")}
		switch {
		case !known:
			w.Sum, w.Says = lang.Text("nobody has looked it up"), w.T("%s to %s: nobody has looked up what it wants at least.", w.load(), d.Name)
		case least == 0:
			w.Says = w.T("%s to %s, which takes any, however low.", w.load(), d.Name)
		default:
			w.Says = w.T("%s to %s, which wants %s at least.", w.load(), d.Name, w.limit())
		}
	}
	add(own, l)
}

// What destinations take of sound at most, and want of the picture at least, kb/s, while nobody has looked [estimate].
var (
	takesAudio = []limit.Option{{Word: "96", Number: 96}, {Word: "128", Number: 128}, {Word: "160", Number: 160}, {Word: "320", Number: 320}, {Word: "512", Number: 512}}
	takesLeast = []limit.Option{{Word: "0", Number: 0}, {Word: "400", Number: 400}, {Word: "1000", Number: 1000}, {Word: "3000", Number: 3000}, {Word: "6000", Number: 6000}, {Word: "8000", Number: 8000}}
)

// TransportName is what people call a transport.
func TransportName(t string) string {
	switch t {
	case "srt":
		return lang.Text("reliable UDP (SRT)")
	case "webrtc":
		return "WebRTC"
	case "hls":
		return "HLS"
	}
	return "RTMP"
}

// audio is the sound's bitrate to a destination, kb/s.
func (p *Plan) audio(i int) limit.Fact {
	i = p.passer(i)
	d := &p.Show.Destinations[i]
	standIn := fact.Known(defaultAudioKbps, fact.Practice)
	for j := range p.Show.Destinations { // nobody sends more than is taken, by it and by those it passes on to
		if in := p.Show.Destinations[j].Ingest; p.passer(j) == i && in != nil && in.MaxAudioKbps > 0 && in.MaxAudioKbps < standIn.Value {
			standIn = fact.Known(in.MaxAudioKbps, fact.Practice)
		}
	}
	return stated(part("show/destinations/N/audioKbps", "", strconv.Itoa(i)), "kb/s", d.Send.AudioKbps, standIn)
}

// Kept is everything recorded on one drive: an item, or the computer's own where Drive names none.
type Kept struct {
	Drive      *rig.Item // nil when the rig has nothing to record on
	Recordings []int
}

// KeptOn lists what is recorded, drive by drive, in the order of the recordings.
func (p *Plan) KeptOn() (out []Kept) {
	for i := range p.Show.Recordings {
		rec := &p.Show.Recordings[i]
		var k Kept
		switch at := p.Wiring.At(rec.Drive); {
		case rec.InCamera && at >= 0 && p.Items[at].Gear.Kind == gear.Drive: // the card that is named
			k = Kept{Drive: &p.Items[at]}
		case rec.InCamera:
			k = Kept{Drive: p.Item(rec.What)}
		case at >= 0:
			k = Kept{Drive: &p.Items[at]}
		default:
			k = Kept{Drive: p.Host()}
		}
		j := slices.IndexFunc(out, func(o Kept) bool { return o.Drive == k.Drive })
		if j < 0 {
			out = append(out, k)
			j = len(out) - 1
		}
		out[j].Recordings = append(out[j].Recordings, i)
	}
	return out
}

// writes is what a drive writes for long, and free what is free on it.
func (k *Kept) writes() limit.Fact {
	standIn := gear.DefaultWrite
	switch {
	case k.Drive.Gear.Kind == gear.Computer:
		standIn = gear.DefaultInner
	case k.Drive.Gear.Kind != gear.Drive:
		standIn = gear.DefaultCard
	}
	return stated(key("items/ID/writeMBps", k.Drive.ID), "MB/s", k.Drive.Gear.WriteMBps, standIn)
}

// Writes is what the drive writes for long, MB/s.
func (k *Kept) Writes() limit.Bounds { return boundsOf(k.writes()) }

func (k *Kept) free() limit.Fact {
	return stated(key("items/ID/freeGB", k.Drive.ID), "GB", k.Drive.Gear.FreeGB, gear.DefaultFree)
}

// judgeKept judges what is recorded: bytes against the drives, and what the files are.
func judgeKept(p *Pass) {
	for _, k := range p.KeptOn() {
		if k.Drive == nil {
			continue
		}
		p.kept(k)
	}
	for i := range p.Show.Recordings {
		p.file(i)
	}
}

func (p *Pass) kept(k Kept) {
	where := append(p.Mem.IDs.Room(3+len(k.Recordings)), k.Drive.ID, "show", "send")
	for _, i := range k.Recordings {
		if what := p.Show.Recordings[i].What; p.Wiring.At(what) >= 0 {
			where = merge(where, []string{what})
		}
		if s := p.streamFrom(p.Show.Recordings[i].What); s != nil {
			where = merge(where, s.where)
		}
	}
	n := len(k.Recordings)
	write, space := p.roomy(2*n+1, 2*n), p.roomy(2*n+1, 2*n)
	var names []string
	for _, i := range k.Recordings {
		for _, part := range p.keptParts(i) {
			names = append(names, part.name)
			part.load(&write.Limit, "show", 1/8000.0)
			part.load(&space.Limit, "show", p.keptSeconds()/8e6)
		}
	}
	drive := k.Drive.Label
	write.Caps, space.Caps = p.cap(limit.Times(1, write.Let(k.writes()))), p.cap(limit.Times(1, space.Let(k.free())))
	say := func(what, sum, each string) func(*Words) {
		return func(w *Words) {
			w.What, w.Sum = w.T(what, drive), lang.Text(sum)
			for j := range names {
				f := w.Result.Loads[j].Term
				kbps := limit.Bounds{}
				if by := f.By(); len(by) > 0 {
					k := w.Result.Fact(by[0])
					kbps = limit.Bounds{Low: k.Low, High: k.High}
				} else {
					kbps = limit.Bounds{Low: w.Result.Loads[j].Low, High: w.Result.Loads[j].High}
					w.Loads[j] = LoadWords{names[j], lang.Text("160 kb/s a track")}
					continue
				}
				w.Loads[j] = LoadWords{names[j], lang.Text(each, Span(kbps.Low, kbps.High, "kb/s"), Number(p.keptSeconds()/60))}
			}
			w.Says = w.T("%s of %s.", w.load(), w.limit())
			if w.Result.State == limit.Snapped {
				w.Says += lang.Text(" The recording ends before the show does, or has holes.")
			}
		}
	}
	write.Say = say("Writing to %s", "what it writes for long", "%s ÷ 8000")
	spaceSays := say("Space on %s", "what is free on it", "%s × %s min")
	space.Say = func(w *Words) {
		spaceSays(w)
		l := w.Result
		if l.State == limit.Snapped || l.Load.High <= 0 {
			return
		}
		if l.State == limit.Taut {
			w.Says += " " + lang.Text("Rehearsal and show fit; running over much does not.")
		}
		left := limit.Bounds{Low: max(0, l.Sure-l.Load.High), High: max(0, l.Possible-l.Load.Low)}
		shows := limit.Bounds{Low: math.Floor(l.Sure / l.Load.High), High: math.Floor(l.Possible / max(l.Load.Low, 1e-9))}
		w.Says += " " + w.T("%s are left after the show.", Span(round2(left.Low), round2(left.High), "GB"))
		if n := shownCount(shows); n != "" {
			w.Says += " " + w.T("There is room for %s like it in all.", n)
		}
	}
	write.Stage, write.Shared, write.Where = Send, true, where
	space.Stage, space.Shared, space.Where = Send, true, where
	p.add(nil, DriveWrite, k.Drive.ID, &write)
	p.add(nil, DriveSpace, k.Drive.ID, &space)
	for _, i := range k.Recordings {
		p.fileEnd(k, i, where)
	}
}

// MostFile is what FAT32 takes in one file, GB [standard: a file's length is kept in 32 bits].
const MostFile = 4.294967296

// fileEnd judges the longest file of a recording, the show's, against the file system of its drive: a program stops or loses the
// rest where FAT32 ends a file; a camera begins another clip. Nobody looked: asked for once a file may get there.
func (p *Pass) fileEnd(k Kept, i int, where []string) {
	rec := &p.Show.Recordings[i]
	rule := FileEnd
	if rec.InCamera || k.Drive.Gear.Kind == gear.Recorder {
		rule = FileSplit
	}
	system := k.Drive.Gear.FileSystem
	if system == "" && k.Drive.Gear.Kind == gear.Computer {
		system = "other" // no system of a computer is installed on FAT32 [practice]
	}
	l := p.roomy(3, 2)
	for _, part := range p.keptParts(i) {
		part.load(&l.Limit, "show", p.Show.Minutes*60/8e6)
	}
	l.Stage, l.Shared, l.Where = Send, true, where
	switch system {
	case "fat32":
		l.Caps = p.cap(limit.Times(MostFile))
	case "":
		l.Caps = p.cap(limit.Times(1, l.Let(limit.Choice(key("items/ID/fileSystem", k.Drive.ID), "GB", "not said", &fileSystems))))
	default: // no end that a show comes near
		l.Caps = p.cap(limit.Times(endlessFile))
	}
	name, drive, split := p.RecordingName(i), k.Drive.Label, rule == FileSplit
	l.Say = func(w *Words) {
		w.What, w.Sum = w.T("File of %s on %s", name, drive), lang.Text("what FAT32 takes in one file")
		for j := range w.Loads {
			w.Loads[j] = LoadWords{name, lang.Text("bitrate × length of the show ÷ 8")}
		}
		switch {
		case system == "" && w.Result.State == limit.Slack:
			w.Says = w.T("%s in one file: any file system takes that.", w.load())
		case system == "":
			w.Says = w.T("%s in one file, and nobody has looked which file system %s has: FAT32 ends a file at 4.29 GB.", w.load(), drive)
		case system != "fat32":
			w.Sum, w.Says = lang.Text("no end a show comes near"), w.T("%s in one file: its file system takes that.", w.load())
		case split:
			w.Says = w.T("%s; FAT32 ends a file at %s, and the camera begins another clip: they are joined afterwards.", w.load(), w.limit())
		default:
			w.Says = w.T("%s in one file; FAT32 ends it at %s. Split it by time, or use another file system.", w.load(), w.limit())
		}
	}
	p.add(nil, rule, strconv.Itoa(i), &l)
}

// endlessFile is where file systems but FAT32 end a file, GB: exFAT at 16 EB [standard], further than any show.
const endlessFile = 1e9

// fileSystems are what a drive may be formatted as, by what they take in one file, GB.
var fileSystems = []limit.Option{{Word: "fat32", Number: MostFile}, {Word: "exfat", Number: endlessFile}, {Word: "other", Number: endlessFile}}

// keptPart is a part of what a recording writes: the whole of it where a test recording was measured, else picture and sound.
type keptPart struct {
	name string
	fact limit.Fact
	kbps float64 // where there is no fact
}

// load adds a part to a limit, so much for each kb/s.
func (k *keptPart) load(l *limit.Limit, item string, by float64) {
	t := limit.Times(k.kbps * by)
	if k.kbps == 0 {
		t = limit.Times(by, l.Let(k.fact))
	}
	l.Loads = append(l.Loads, limit.Load{Item: item, Term: t})
}

// keptParts are what a recording writes. A measured file holds its sound already.
func (p *Plan) keptParts(i int) []keptPart {
	rec, name := &p.Show.Recordings[i], p.RecordingName(i)
	if c := p.KeptLike(i); c != nil && len(c.Destinations) > 0 { // the stream itself, as it is sent
		d := c.Destinations[0]
		return []keptPart{{name: name, fact: p.video(d)}, {name: lang.Text("its sound"), fact: p.audio(d)}}
	}
	out := []keptPart{{name: name, fact: p.keptKbps(i)}}
	if rec.Kbps == nil {
		out = append(out, keptPart{name: lang.Text("its sound"), kbps: float64(p.tracks(i)) * defaultAudioKbps})
	}
	return out
}

// keptSeconds is how long is recorded: the rehearsal and the show.
func (p *Plan) keptSeconds() float64 { return (p.Show.RehearsalMinutes + p.Show.Minutes) * 60 }

// KeptWhole is what a recording writes with its sound, kb/s.
func (p *Plan) KeptWhole(i int) (out limit.Bounds) {
	for _, part := range p.keptParts(i) {
		b := limit.Bounds{Low: part.kbps, Value: part.kbps, High: part.kbps}
		if part.kbps == 0 {
			b = boundsOf(part.fact)
		}
		out = limit.Bounds{Low: out.Low + b.Low, Value: out.Value + b.Value, High: out.High + b.High}
	}
	return out
}

// KeptGB is what a recording of rehearsal and show comes to with its sound: what is copied and sent away, GB.
func (p *Plan) KeptGB(i int) limit.Bounds { return scaled(p.KeptWhole(i), p.keptSeconds()/8e6) }

// KeptFileGB is its longest file, the show's, GB.
func (p *Plan) KeptFileGB(i int) limit.Bounds {
	return scaled(p.KeptWhole(i), p.Show.Minutes*60/8e6)
}

func scaled(b limit.Bounds, by float64) limit.Bounds {
	return limit.Bounds{Low: b.Low * by, Value: b.Value * by, High: b.High * by}
}

// tracks is how many sound tracks a recording has: one for each that was asked for, one at least.
func (p *Plan) tracks(i int) int { return max(1, p.Show.Recordings[i].Tracks) }

// RecordingName is what a recording is called.
func (p *Plan) RecordingName(i int) string {
	rec := &p.Show.Recordings[i]
	if rec.InCamera {
		return p.T("%s's own recording", p.RecordingOf(rec))
	}
	return p.T("recording of %s", p.RecordingOf(rec))
}

// file judges the file a recording is: its container, its size in pixels.
func (p *Pass) file(i int) {
	rec := &p.Show.Recordings[i]
	if !p.ByComputer(rec) {
		return
	}
	at, name := strconv.Itoa(i), p.RecordingName(i)
	l := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Stage: Send, Shared: true, Where: []string{"show"}}
	plain := rec.Container == "mp4" || rec.Container == "mov"
	if plain {
		l.Outcomes = limit.No
	}
	l.Say = func(w *Words) {
		w.What, w.Says = w.T("Container of the %s", name), lang.Text("It can be played after a crash.")
		if plain {
			w.Says = w.T("The %s is plain %s: if power or program fails, everything since its start is lost. Use fragmented MP4 or Matroska.", name, ContainerName(rec.Container))
		}
	}
	p.add(nil, Container, at, &l)
	if c := p.KeptLike(i); c != nil && rec.Width > 0 && rec.Height > 0 {
		larger := c.Width > c.From[0] || c.Height > c.From[1]
		s := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Stage: Send, Shared: true, Where: []string{"show"}}
		if larger {
			s.Outcomes = limit.No
		}
		from, to := picture.SizeName(c.From[0], c.From[1]), picture.SizeName(c.Width, c.Height)
		s.Say = func(w *Words) {
			w.What, w.Says = w.T("Size of the %s", name), w.T("%s of %s.", to, from)
			if larger {
				w.Says = w.T("%s is recorded and there is %s: made larger, soft, and no sharper for its bytes.", to, from)
			}
		}
		p.add(nil, SentSize, "r"+at, &s)
	}
}

// ContainerName is what people call a container.
func ContainerName(c string) string {
	switch c {
	case "mkv":
		return "Matroska"
	case "mp4":
		return "MP4"
	case "mov":
		return "MOV"
	}
	return lang.Text("fragmented MP4")
}

// shownCount is how many shows there is room for, on bounds; empty where that says nothing.
func shownCount(n limit.Bounds) string {
	const many = 999
	switch {
	case n.High < 1 || n.Low < 1 && n.High >= many:
		return ""
	case n.Low < 1:
		return lang.Text("up to %s", Count(int(n.High), "show", "shows"))
	case n.Low >= many:
		return lang.Text("more than %s shows", Number(many))
	case n.High >= many:
		return lang.Text("%s or more", Count(int(n.Low), "show", "shows"))
	case n.Low == n.High:
		return Count(int(n.Low), "show", "shows")
	}
	return lang.Text("%s to %s shows", Number(n.Low), Number(n.High))
}
