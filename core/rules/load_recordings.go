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

var DriveWrite = rule(Rule{
	Name:    "drive-write",
	Asks:    "Does the drive write everything that is recorded on it?",
	Sum:     "Σ bitrates ÷ 8 ≤ sustained write of the drive",
	Sense:   limit.AtMost,
	Unit:    "MB/s",
	Over:    limit.Drops,
	Subject: TheSend,
	Source:  estimate("what drives of its kind usually write for long, until this one is measured; cards by SD Association speed classes"),
	Example: "1080p30 at quality 18 is 3 to 25 Mb/s, at most 3.1 MB/s: of a hard disk's 80 MB/s 4 %.",
})

var DriveSpace = rule(Rule{
	Name:    "drive-space",
	Asks:    "Does what is recorded fit on the drive?",
	Sum:     "Σ bitrates with their sound × rehearsal and show ÷ 8 ≤ free space",
	Sense:   limit.AtMost,
	Unit:    "GB",
	Over:    limit.Drops,
	Subject: TheSend,
	Source:  datasheet("what is free on the drive"),
	Example: "Two hours at 12 Mb/s are 10.8 GB; of 400 GB free 3 %.",
})

var Container = rule(Rule{
	Name:    "container",
	Asks:    "Does the recording survive a crash?",
	Sense:   limit.Fits,
	Over:    limit.Care,
	Subject: TheSend,
	Source:  practice("Fragmented MP4 or Matroska, never plain MP4: its table of contents is written at the very end"),
	Example: "Plain MP4, and the power goes after an hour: the hour is lost.",
})

var FileEnd = rule(Rule{
	Name:    "file-end",
	Asks:    "Does the file fit the drive's file system?",
	Sum:     "bitrate with its sound × length of the show ÷ 8 ≤ 4 GiB",
	Sense:   limit.AtMost,
	Unit:    "GB",
	Over:    limit.Drops,
	Subject: TheSend,
	Source:  standard("FAT32 keeps a file's length in 32 bits: 4 GiB, 4.295 GB"),
	Example: "An hour at 12 Mb/s is 5.4 GB: more than one file on FAT32.",
})

var FileSplit = rule(Rule{
	Name:    "file-split",
	Asks:    "Is a recording in a camera one clip?",
	Sum:     "bitrate with its sound × length of the show ÷ 8 ≤ 4 GiB on FAT32",
	Sense:   limit.AtMost,
	Unit:    "GB",
	Over:    limit.Care,
	Subject: TheSend,
	Source:  practice("Cameras begin another clip where FAT32 ends a file"),
	Example: "An hour at 50 Mb/s is 22.5 GB: six clips on a card with FAT32, to be joined.",
})

var SentSize = rule(Rule{
	Name:    "sent-size",
	Asks:    "Is a picture made larger than it is?",
	Sense:   limit.Fits,
	Over:    limit.Flaw,
	Subject: TheSend,
	Board:   Short{Bad: "made larger, soft"},
	Source:  practice("Making a picture larger adds pixels, not detail"),
	Example: "A 1280×720 programme sent as 1920×1080: soft.",
})

var BitsAPixel = rule(Rule{
	Name:    "bits-a-pixel",
	Asks:    "Are there bits enough for the size and rate that is sent?",
	Sum:     "bitrate ÷ (width × height × rate) ≥ 0.045",
	Sense:   limit.AtLeast,
	Unit:    "bit/px",
	Ceiling: 1,
	Over:    limit.Flaw,
	Subject: TheSend,
	Source:  practice("0.05 to 0.15 bits a pixel; below 0.045 H.264 shows blocks on movement: a smaller size or rate looks better"),
	Example: "2500 kb/s at 1920×1080 and 30 are 0.04 bits a pixel: too few; at 1280×720 they are 0.09.",
})

var Codec = rule(Rule{
	Name:    "codec",
	Asks:    "Does the destination take H.264?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheShow,
	Board:   Short{Bad: "takes no H.264"},
	Source:  datasheet("the destination's own limits"),
	Example: "A destination whose list names AV1 alone takes no H.264: snapped.",
})

var Transport = rule(Rule{
	Name:    "transport",
	Asks:    "Does the destination take the way it is sent?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheSend,
	Board:   Short{Bad: "does not take that transport"},
	Source:  datasheet("the destination's own limits"),
	Example: "RTMP to a destination that takes reliable UDP only: snapped.",
})

var IngestAudio = rule(Rule{
	Name:    "ingest-audio",
	Asks:    "Does the destination take the sound's bitrate?",
	Sum:     "audio bitrate ≤ the destination's cap",
	Sense:   limit.AtMost,
	Unit:    "kb/s",
	Ceiling: 1,
	Over:    limit.Dark,
	Subject: TheSend,
	Source:  datasheet("the destination's own limits"),
	Example: "160 kb/s to a destination that takes 128: snapped.",
})

var IngestLeast = rule(Rule{
	Name:    "ingest-least",
	Asks:    "Is the video bitrate as high as the destination asks for?",
	Sum:     "video bitrate ≥ the least it takes",
	Sense:   limit.AtLeast,
	Unit:    "kb/s",
	Ceiling: 1,
	Over:    limit.Dark,
	Subject: TheShow,
	Source:  datasheet("the destination's own limits"),
	Example: "600 kb/s to a destination that wants 1000 at least: refused.",
	Judge:   Judging{OnRig: judgeSent},
})

// judgeSent judges each sent picture for itself: size, bits, and what the destination takes besides.
func judgeSent(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Show.Destinations {
		judgeSentTo(p, own, i)
	}
}

func judgeSentTo(p *Pass, own *Rule, i int) {
	d := &p.Show.Destinations[i]
	at, in := strconv.Itoa(i), d.Ingest
	if in == nil {
		in = &rig.Ingest{}
	}
	add := func(id *Rule, l Result) {
		l.Stage, l.Shared, l.Where = plans.Send, true, toSend
		p.Add(nil, id, at, &l)
	}
	if d.Via != "" { // another sends it, as it was coded: how it looks and by what it goes is told there
		judgeSoundAndLeast(p, own, i, in, add)
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
			w.Says = w.T("%s is sent to %s and %s is composed: made larger, soft, and no sharper for the bitrate it costs.",
				sent, d.Name, composed)
		case sent != composed:
			w.Says = w.T("%s is made of %s for %s.", sent, composed, d.Name)
		default:
			w.Says = w.T("%s is sent to %s as it is composed.", sent, d.Name)
		}
	}
	add(SentSize, size)

	bits := p.Roomy(1, 1)
	px := float64(d.Send.Width) * float64(d.Send.Height) * d.Send.Rate.Float()
	bits.Loads = append(bits.Loads, limit.Load{Item: "send", Term: limit.Times(1000/px, bits.Let(p.VideoFact(i)))})
	bits.Caps = p.CapAt(limit.Times(0.045))
	bits.Say = func(w *Words) {
		w.What, w.Sum, w.Loads[0] = w.T("Bits a pixel to %s", d.Name), lang.Text("below it blocks show on movement"),
			labelled(d.Name, w.T("bitrate ÷ (%s × %s)", picture.SizeName(d.Send.Width, d.Send.Height),
				d.Send.Rate.Name()))
		w.Says = w.T("%s to %s.", w.LoadText(), d.Name)
		if w.Result.State == limit.Kinked {
			w.Says = w.T("%s to %s: too few, blocks show on movement. A smaller size or rate looks better at this bitrate.",
				w.LoadText(), d.Name)
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
			w.Says = w.T("%s takes %s, and H.264 is what is sent.", d.Name, say.List(in.VideoCodecs))
		}
	}
	add(Codec, codec)
	by := Result{Limit: limit.Limit{Outcomes: limit.Yes}}
	transport := cmp.Or(d.Transport, "rtmp")
	carried := len(in.Transports) == 0 || slices.Contains(in.Transports, transport)
	if !carried {
		by.Outcomes = limit.No
	}
	by.Say = func(w *Words) {
		w.What, w.Says = w.T("Transport %s takes", d.Name), w.T("%s takes %s.", d.Name, plans.TransportName(transport))
		if !carried {
			names := make([]string, len(in.Transports))
			for i, t := range in.Transports {
				names[i] = plans.TransportName(t)
			}
			w.Says = w.T("%s takes %s, and it is sent by %s.", d.Name, say.List(names), plans.TransportName(transport))
		}
	}
	if p.Show.Program.Kind != "destination-page" { // its own page knows how to send to it
		add(Transport, by)
	}
	judgeSoundAndLeast(p, own, i, in, add)
}

// judgeSoundAndLeast judges what a destination takes of the sound, and wants of the picture at least.
func judgeSoundAndLeast(p *Pass, own *Rule, i int, in *rig.Ingest, add func(*Rule, Result)) {
	d, at := &p.Show.Destinations[i], strconv.Itoa(i)
	sound := p.Roomy(2, 1)
	sound.Loads = append(sound.Loads, limit.Load{Item: "send", Term: limit.Times(1, sound.Let(p.AudioFact(i)))})
	most := limit.Known(in.MaxAudioKbps, "kb/s", fact.DataSheet)
	if in.MaxAudioKbps == 0 { // nobody has looked: from a plain voice to what music wants [estimate]
		most = limit.Choice(limit.Part("show/destinations/N/takesAudio", "", at), "kb/s", "not said", &takesAudio)
	}
	sound.Caps = p.CapAt(limit.Times(1, sound.Let(most)))
	sound.Say = func(w *Words) {
		w.What, w.Sum, w.Loads[0] = w.T("Sound %s takes", d.Name), lang.Text("the destination's cap"),
			labelled(d.Name, lang.Text("audio bitrate"))
		w.Says = w.T("%s of the %s %s takes.", w.LoadText(), w.LimitText(), d.Name)
	}
	add(IngestAudio, sound)
	least, known := in.Least()
	l := p.Roomy(2, 1)
	l.Loads = append(l.Loads, limit.Load{Item: "send", Term: limit.Times(1, l.Let(p.VideoFact(i)))})
	wants := limit.Known(least, "kb/s", fact.DataSheet)
	if !known { // from none to what some ask for [estimate]
		options := slices.DeleteFunc(slices.Clone(takesLeast), func(o limit.Option) bool {
			return in.MaxVideoKbps > 0 && o.Number > in.MaxVideoKbps
		})
		wants = limit.Choice(limit.Part("show/destinations/N/takesLeast", "", at), "kb/s", "not said", &options)
		if wants.High = in.MaxVideoKbps; in.MaxVideoKbps == 0 {
			wants.High = rig.Profiles[len(rig.Profiles)-1].Kbps
		}
	}
	l.Caps = p.CapAt(limit.Times(1, l.Let(wants)))
	l.Say = func(w *Words) {
		w.What, w.Sum, w.Loads[0] = w.T("Least bitrate %s takes", d.Name),
			lang.Text("the least the destination takes"), labelled(d.Name, lang.Text("video bitrate"))
		switch {
		case !known:
			w.Sum, w.Says = lang.Text("nobody has looked it up"),
				w.T("%s to %s: nobody has looked up what it wants at least.", w.LoadText(), d.Name)
		case least == 0:
			w.Says = w.T("%s to %s, which takes any, however low.", w.LoadText(), d.Name)
		default:
			w.Says = w.T("%s to %s, which wants %s at least.", w.LoadText(), d.Name, w.LimitText())
		}
	}
	add(own, l)
}

// What destinations take of sound at most, and want of the picture at least, kb/s, while nobody has looked [estimate].
var (
	takesAudio = []limit.Option{{Word: "96", Number: 96}, {Word: "128", Number: 128}, {Word: "160", Number: 160},
		{Word: "320", Number: 320}, {Word: "512", Number: 512}}
	takesLeast = []limit.Option{{Word: "0", Number: 0}, {Word: "400", Number: 400}, {Word: "1000", Number: 1000},
		{Word: "3000", Number: 3000}, {Word: "6000", Number: 6000}, {Word: "8000", Number: 8000}}
)

func freeOn(k *plans.Kept) limit.Fact {
	return limit.Stated(limit.At("items/ID/freeGB", k.Drive.ID), "GB", k.Drive.Gear.FreeGB, gear.DefaultFree)
}

// judgeKept judges what is recorded: bytes against the drives, and what the files are.
func judgeKept(p *Pass) {
	for _, k := range p.KeptOn() {
		if k.Drive == nil {
			continue
		}
		judgeDrive(p, k)
	}
	for i := range p.Show.Recordings {
		judgeFile(p, i)
	}
}

func judgeDrive(p *Pass, k plans.Kept) {
	where := append(p.Mem.IDs.Room(3+len(k.Recordings)), k.Drive.ID, "show", "send")
	for _, i := range k.Recordings {
		if what := p.Show.Recordings[i].What; p.Wiring.At(what) >= 0 {
			where = plans.Merge(where, []string{what})
		}
		if s := p.StreamFrom(p.Show.Recordings[i].What); s != nil {
			where = plans.Merge(where, s.Where)
		}
	}
	n := len(k.Recordings)
	write, space := p.Roomy(2*n+1, 2*n), p.Roomy(2*n+1, 2*n)
	var names []string
	for _, i := range k.Recordings {
		for _, part := range p.KeptParts(i) {
			names = append(names, part.Name)
			part.Load(&write.Limit, "show", 1/8000.0)
			part.Load(&space.Limit, "show", p.KeptSeconds()/8e6)
		}
	}
	drive := k.Drive.Label
	write.Caps, space.Caps = p.CapAt(limit.Times(1, write.Let(k.WritesFact()))),
		p.CapAt(limit.Times(1, space.Let(freeOn(&k))))
	says := func(what, sum, each string) func(*Words) {
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
					w.Loads[j] = labelled(names[j], lang.Text("160 kb/s a track"))
					continue
				}
				w.Loads[j] = labelled(names[j], lang.Text(each, say.Span(kbps.Low, kbps.High, "kb/s"),
					say.Number(p.KeptSeconds()/60)))
			}
			w.Says = w.T("%s of %s.", w.LoadText(), w.LimitText())
			if w.Result.State == limit.Snapped {
				w.Says += lang.Text(" The recording ends before the show does, or has holes.")
			}
		}
	}
	write.Say = says("Writing to %s", "what it writes for long", "%s ÷ 8000")
	spaceSays := says("Space on %s", "what is free on it", "%s × %s min")
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
		shows := limit.Bounds{Low: math.Floor(l.Sure / l.Load.High),
			High: math.Floor(l.Possible / max(l.Load.Low, 1e-9))}
		w.Says += " " + w.T("%s are left after the show.", say.Span(say.Round2(left.Low), say.Round2(left.High), "GB"))
		if n := shownCount(shows); n != "" {
			w.Says += " " + w.T("There is room for %s like it in all.", n)
		}
	}
	write.Stage, write.Shared, write.Where = plans.Send, true, where
	space.Stage, space.Shared, space.Where = plans.Send, true, where
	p.Add(nil, DriveWrite, k.Drive.ID, &write)
	p.Add(nil, DriveSpace, k.Drive.ID, &space)
	for _, i := range k.Recordings {
		judgeFileEnd(p, k, i, where)
	}
}

// judgeFileEnd judges the longest file of a recording, the show's, against the file system of its drive: a program
// stops or loses the rest where FAT32 ends a file; a camera begins another clip. Nobody looked: asked for once a file
// may get there.
func judgeFileEnd(p *Pass, k plans.Kept, i int, where []string) {
	rec := &p.Show.Recordings[i]
	rule := FileEnd
	if rec.InCamera || k.Drive.Gear.Kind == gear.Recorder {
		rule = FileSplit
	}
	system := k.Drive.Gear.FileSystem
	if system == "" && k.Drive.Gear.Kind == gear.Computer {
		system = "other" // no system of a computer is installed on FAT32 [practice]
	}
	l := p.Roomy(3, 2)
	for _, part := range p.KeptParts(i) {
		part.Load(&l.Limit, "show", p.Show.Minutes*60/8e6)
	}
	l.Stage, l.Shared, l.Where = plans.Send, true, where
	switch system {
	case "fat32":
		l.Caps = p.CapAt(limit.Times(plans.MostFile))
	case "":
		l.Caps = p.CapAt(limit.Times(1, l.Let(limit.Choice(limit.At("items/ID/fileSystem", k.Drive.ID), "GB",
			"not said", &fileSystems))))
	default: // no end that a show comes near
		l.Caps = p.CapAt(limit.Times(endlessFile))
	}
	name, drive, split := p.RecordingName(i), k.Drive.Label, rule == FileSplit
	l.Say = func(w *Words) {
		w.What, w.Sum = w.T("File of %s on %s", name, drive), lang.Text("what FAT32 takes in one file")
		for j := range w.Loads {
			w.Loads[j] = labelled(name, lang.Text("bitrate × length of the show ÷ 8"))
		}
		switch {
		case system == "" && w.Result.State == limit.Slack:
			w.Says = w.T("%s in one file: any file system takes that.", w.LoadText())
		case system == "":
			w.Says = w.T("%s in one file, and nobody has looked which file system %s has: FAT32 ends a file at 4.29 GB.",
				w.LoadText(), drive)
		case system != "fat32":
			w.Sum, w.Says = lang.Text("no end a show comes near"), w.T("%s in one file: its file system takes that.",
				w.LoadText())
		case split:
			w.Says = w.T("%s; FAT32 ends a file at %s, and the camera begins another clip: they are joined afterwards.",
				w.LoadText(), w.LimitText())
		default:
			w.Says = w.T("%s in one file; FAT32 ends it at %s. Split it by time, or use another file system.",
				w.LoadText(), w.LimitText())
		}
	}
	p.Add(nil, rule, strconv.Itoa(i), &l)
}

// endlessFile is where file systems but FAT32 end a file, GB: exFAT at 16 EB [standard], further than any show.
const endlessFile = 1e9

// fileSystems are what a drive may be formatted as, by what they take in one file, GB.
var fileSystems = []limit.Option{{Word: "fat32", Number: plans.MostFile}, {Word: "exfat", Number: endlessFile},
	{Word: "other", Number: endlessFile}}

// judgeFile judges the file a recording is: its container, its size in pixels.
func judgeFile(p *Pass, i int) {
	rec := &p.Show.Recordings[i]
	if !p.ByComputer(rec) {
		return
	}
	at, name := strconv.Itoa(i), p.RecordingName(i)
	l := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Stage: plans.Send, Shared: true, Where: []string{"show"}}
	plain := rec.Container == "mp4" || rec.Container == "mov"
	if plain {
		l.Outcomes = limit.No
	}
	l.Say = func(w *Words) {
		w.What, w.Says = w.T("Container of the %s", name), lang.Text("It can be played after a crash.")
		if plain {
			w.Says = w.T("The %s is plain %s: if power or program fails, everything since its start is lost. Use fragmented MP4 or Matroska.",
				name, plans.ContainerName(rec.Container))
		}
	}
	p.Add(nil, Container, at, &l)
	if c := p.KeptLike(i); c != nil && rec.Width > 0 && rec.Height > 0 {
		larger := c.Width > c.From[0] || c.Height > c.From[1]
		s := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Stage: plans.Send, Shared: true, Where: []string{"show"}}
		if larger {
			s.Outcomes = limit.No
		}
		from, to := picture.SizeName(c.From[0], c.From[1]), picture.SizeName(c.Width, c.Height)
		s.Say = func(w *Words) {
			w.What, w.Says = w.T("Size of the %s", name), w.T("%s of %s.", to, from)
			if larger {
				w.Says = w.T("%s is recorded and there is %s: made larger, soft, and no sharper for its bytes.", to,
					from)
			}
		}
		p.Add(nil, SentSize, "r"+at, &s)
	}
}

// shownCount is how many shows there is room for, on bounds; empty where that says nothing.
func shownCount(n limit.Bounds) string {
	const many = 999
	switch {
	case n.High < 1 || n.Low < 1 && n.High >= many:
		return ""
	case n.Low < 1:
		return lang.Text("up to %s", say.Count(int(n.High), "show", "shows"))
	case n.Low >= many:
		return lang.Text("more than %s shows", say.Number(many))
	case n.High >= many:
		return lang.Text("%s or more", say.Count(int(n.Low), "show", "shows"))
	case n.Low == n.High:
		return say.Count(int(n.Low), "show", "shows")
	}
	return lang.Text("%s to %s shows", say.Number(n.Low), say.Number(n.High))
}
