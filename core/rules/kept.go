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

var _ = rule(Rule{ID: "drive-write", Asks: "Does the drive write everything that is recorded on it?", Sum: "Σ bitrates ÷ 8 ≤ sustained write of the drive", Sense: limit.AtMost, Unit: "MB/s", Over: limit.Drops, Chapter: "5.5",
	Source:  estimate("what drives of its kind usually write for long, until this one is measured; cards by SD Association speed classes"),
	Example: "1080p30 at quality 18 is 3 to 25 Mb/s, at most 3.1 MB/s: of a hard disk's 80 MB/s 4 %."})

var _ = rule(Rule{ID: "drive-space", Asks: "Does what is recorded fit on the drive?", Sum: "Σ bitrates × length of the show ÷ 8 ≤ free space", Sense: limit.AtMost, Unit: "GB", Over: limit.Drops, Chapter: "5.5",
	Source:  datasheet("what is free on the drive"),
	Example: "Two hours at 12 Mb/s are 10.8 GB; of 400 GB free 3 %."})

var _ = rule(Rule{ID: "container", Asks: "Does the recording survive a crash?", Sense: limit.Fits, Over: limit.Care, Chapter: "5.3, 5.5",
	Source:  practice("Fragmented MP4 or Matroska, never plain MP4: its table of contents is written at the very end"),
	Example: "Plain MP4, and the power goes after an hour: the hour is lost."})

var _ = rule(Rule{ID: "file-end", Asks: "Does the file fit the drive's file system?", Sum: "bitrate × length of the show ÷ 8 ≤ 4 GiB", Sense: limit.AtMost, Unit: "GB", Ceiling: 1, Over: limit.Drops, Chapter: "5.5",
	Source:  standard("FAT32 keeps a file's length in 32 bits: 4 GiB, 4.295 GB"),
	Example: "An hour at 12 Mb/s is 5.4 GB: more than one file on FAT32."})

var _ = rule(Rule{ID: "sent-size", Asks: "Is a picture made larger than it is?", Sense: limit.Fits, Over: limit.Flaw, Chapter: "5.2",
	Source:  practice("Making a picture larger adds pixels, not detail"),
	Example: "A 1280×720 programme sent as 1920×1080: soft."})

var _ = rule(Rule{ID: "bits-a-pixel", Asks: "Are there bits enough for the size and rate that is sent?", Sum: "bitrate ÷ (width × height × rate) ≥ 0.045", Sense: limit.AtLeast, Unit: "bit/px", Ceiling: 1, Over: limit.Flaw, Chapter: "5.3",
	Source:  practice("0.05 to 0.15 bits a pixel; below 0.045 H.264 shows blocks on movement: a smaller size or rate looks better"),
	Example: "2500 kb/s at 1920×1080 and 30 are 0.04 bits a pixel: too few; at 1280×720 they are 0.09."})

var _ = rule(Rule{ID: "codec", Asks: "Does the destination take H.264?", Sense: limit.Fits, Over: limit.Dark, Chapter: "1.1",
	Source:  datasheet("the destination's own limits"),
	Example: "A destination whose list names AV1 alone takes no H.264: snapped."})

var _ = rule(Rule{ID: "transport", Asks: "Does the destination take the way it is sent?", Sense: limit.Fits, Over: limit.Dark, Chapter: "5.8",
	Source:  datasheet("the destination's own limits"),
	Example: "RTMP to a destination that takes reliable UDP only: snapped."})

var _ = rule(Rule{ID: "ingest-audio", Asks: "Does the destination take the sound's bitrate?", Sum: "audio bitrate ≤ the destination's cap", Sense: limit.AtMost, Unit: "kb/s", Ceiling: 1, Over: limit.Dark, Chapter: "5.3",
	Source:  datasheet("the destination's own limits"),
	Example: "160 kb/s to a destination that takes 128: snapped."})

var _ = rule(Rule{ID: "ingest-least", Asks: "Is the video bitrate as high as the destination asks for?", Sum: "video bitrate ≥ the least it takes", Sense: limit.AtLeast, Unit: "kb/s", Ceiling: 1, Over: limit.Dark, Chapter: "1.1",
	Source:  datasheet("the destination's own limits"),
	Example: "600 kb/s to a destination that wants 1000 at least: refused.",
	Judge:   map[Moment]func(*Pass, *Walk){OnRig: judgeSent}})

// judgeSent judges each sent picture for itself: size, bits, and what the destination takes besides.
func judgeSent(p *Pass, _ *Walk) {
	for i := range p.Show.Destinations {
		p.sent(i)
	}
}

func (p *Pass) sent(i int) {
	d := &p.Show.Destinations[i]
	at, in := strconv.Itoa(i), d.Ingest
	if in == nil {
		in = &rig.Ingest{}
	}
	add := func(id limit.RuleID, l Result) {
		l.Stage, l.Shared, l.Where = Send, true, toSend
		p.add(nil, id, at, &l)
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
	add("sent-size", size)

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
	add("bits-a-pixel", bits)

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
	add("codec", codec)
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
	add("transport", by)
	sound := p.roomy(2, 1)
	sound.Loads = append(sound.Loads, limit.Load{Item: "send", Term: limit.Times(1, sound.Let(p.audio(i)))})
	most := limit.Known(in.MaxAudioKbps, "kb/s", fact.DataSheet)
	if in.MaxAudioKbps == 0 { // 160 everywhere [practice], more perhaps
		most = limit.Fact{Key: part("show/destinations/N/takesAudio", "", at), Unit: "kb/s", Low: defaultAudioKbps, Value: 320, High: 512, From: fact.Practice, Word: "not said", Options: &[]limit.Option{{Word: "160", Number: 160}, {Word: "320", Number: 320}, {Word: "512", Number: 512}}}
	}
	sound.Caps = p.cap(limit.Times(1, sound.Let(most)))
	sound.Say = func(w *Words) {
		w.What, w.Sum, w.Loads[0] = w.T("Sound %s takes", d.Name), lang.Text("the destination's cap"), LoadWords{d.Name, lang.Text("audio bitrate")}
		w.Says = w.T("%s of the %s %s takes.", w.load(), w.limit(), d.Name)
	}
	add("ingest-audio", sound)
	if in.MinVideoKbps > 0 {
		l := p.roomy(1, 1)
		l.Loads = append(l.Loads, limit.Load{Item: "send", Term: limit.Times(1, l.Let(p.video(i)))})
		l.Caps = p.cap(limit.Times(in.MinVideoKbps))
		l.Say = func(w *Words) {
			w.What, w.Sum, w.Loads[0] = w.T("Least bitrate %s takes", d.Name), lang.Text("the least the destination takes"), LoadWords{d.Name, lang.Text("video bitrate")}
			w.Says = w.T("%s to %s, which wants %s at least.", w.load(), d.Name, w.limit())
		}
		add("ingest-least", l)
	}
}

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
func (p *Pass) audio(i int) limit.Fact {
	d := &p.Show.Destinations[i]
	standIn := fact.Known(defaultAudioKbps, fact.Practice)
	if d.Ingest != nil && d.Ingest.MaxAudioKbps > 0 && d.Ingest.MaxAudioKbps < standIn.Value { // nobody sends more than is taken
		standIn = fact.Known(d.Ingest.MaxAudioKbps, fact.Practice)
	}
	return stated(part("show/destinations/N/audioKbps", "", strconv.Itoa(i)), "kb/s", d.Send.AudioKbps, standIn)
}

// Kept is everything recorded on one drive: an item, or the computer's own where Drive names none.
type Kept struct {
	Drive      *rig.Item // nil when the rig has nothing to record on
	Recordings []int
}

// KeptOn lists what is recorded, drive by drive, in the order of the recordings.
func (p *Pass) KeptOn() (out []Kept) {
	for i := range p.Show.Recordings {
		rec := &p.Show.Recordings[i]
		var k Kept
		switch at := p.Wiring.At(rec.Drive); {
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
	where := append(p.whereRoom.room(3+len(k.Recordings)), k.Drive.ID, "show", "send")
	for _, i := range k.Recordings {
		if what := p.Show.Recordings[i].What; p.Wiring.At(what) >= 0 {
			where = merge(where, []string{what})
		}
		if s := p.streamFrom(p.Show.Recordings[i].What); s != nil {
			where = merge(where, s.where)
		}
	}
	n := len(k.Recordings)
	write, space := p.roomy(n+1, n+1), p.roomy(n+1, n+1)
	sound := 0.0
	names := make([]string, n)
	for j, i := range k.Recordings {
		f := p.keptKbps(i)
		sound += float64(p.tracks(i)) * defaultAudioKbps
		write.Loads = append(write.Loads, limit.Load{Item: "show", Term: limit.Times(1/8000.0, write.Let(f))})
		space.Loads = append(space.Loads, limit.Load{Item: "show", Term: limit.Times(p.Show.Minutes*60/8e6, space.Let(f))})
		names[j] = p.RecordingName(i)
	}
	drive := k.Drive.Label
	write.Loads = append(write.Loads, limit.Load{Item: "show", Term: limit.Times(sound / 8000)})
	space.Loads = append(space.Loads, limit.Load{Item: "show", Term: limit.Times(sound * p.Show.Minutes * 60 / 8e6)})
	write.Caps, space.Caps = p.cap(limit.Times(1, write.Let(k.writes()))), p.cap(limit.Times(1, space.Let(k.free())))
	say := func(what, sum string, each func(f *limit.Fact) string) func(*Words) {
		return func(w *Words) {
			w.What, w.Sum = w.T(what, drive), lang.Text(sum)
			for j := range names {
				w.Loads[j] = LoadWords{names[j], each(&w.Result.Facts[j])}
			}
			w.Loads[n] = LoadWords{lang.Text("sound"), lang.Text("%s kb/s, all tracks", Number(sound))}
			w.Says = w.T("%s of %s.", w.load(), w.limit())
			if w.Result.State == limit.Snapped {
				w.Says += lang.Text(" The recording ends before the show does, or has holes.")
			}
		}
	}
	write.Say = say("Writing to %s", "what it writes for long", func(f *limit.Fact) string {
		return lang.Text("%s ÷ 8000", Span(f.Low, f.High, "kb/s"))
	})
	spaceSays := say("Space on %s", "what is free on it", func(f *limit.Fact) string {
		return lang.Text("%s × %s min", Span(f.Low, f.High, "kb/s"), Number(p.Show.Minutes))
	})
	space.Say = func(w *Words) {
		spaceSays(w)
		l := w.Result
		if l.State == limit.Snapped || l.Load.High <= 0 {
			return
		}
		left := limit.Bounds{Low: max(0, l.Sure-l.Load.High), High: max(0, l.Possible-l.Load.Low)}
		shows := limit.Bounds{Low: math.Floor(l.Sure / l.Load.High), High: math.Floor(l.Possible / max(l.Load.Low, 1e-9))}
		w.Says += " " + w.T("%s are left after the show; there is room for %s like it in all.", Span(round2(left.Low), round2(left.High), "GB"), shownCount(shows))
	}
	write.Stage, write.Shared, write.Where = Send, true, where
	space.Stage, space.Shared, space.Where = Send, true, where
	p.add(nil, "drive-write", k.Drive.ID, &write)
	p.add(nil, "drive-space", k.Drive.ID, &space)
	if k.Drive.Gear.FileSystem != "fat32" {
		return
	}
	for _, i := range k.Recordings {
		f := p.keptKbps(i)
		l := Result{Stage: Send, Shared: true, Where: where}
		l.Facts, l.Loads, l.Caps = p.facts(f), p.load("show", limit.Times(p.Show.Minutes*60/8e6, 1)), p.cap(limit.Times(4.294967296))
		name := p.RecordingName(i)
		l.Say = func(w *Words) {
			w.What, w.Sum, w.Loads[0] = w.T("File of %s on %s", name, drive), lang.Text("what FAT32 takes in one file"), LoadWords{name, lang.Text("bitrate × length of the show ÷ 8")}
			w.Says = w.T("%s in one file; FAT32 ends it at %s. Split it by time, or use another file system.", w.load(), w.limit())
		}
		p.add(nil, "file-end", strconv.Itoa(i), &l)
	}
}

// tracks is how many sound tracks a recording has: one for each that was asked for, one at least.
func (p *Pass) tracks(i int) int { return max(1, p.Show.Recordings[i].Tracks) }

// RecordingName is what a recording is called.
func (p *Pass) RecordingName(i int) string {
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
	p.add(nil, "container", at, &l)
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
		p.add(nil, "sent-size", "r"+at, &s)
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

// shownCount is how many shows there is room for, on bounds.
func shownCount(n limit.Bounds) string {
	const many = 999
	switch {
	case n.Low >= many:
		return lang.Text("more than %s shows", Number(many))
	case n.High >= many:
		return lang.Text("%s shows or more", Number(n.Low))
	case n.Low == n.High:
		return Count(int(n.Low), "show", "shows")
	}
	return lang.Text("%s to %s shows", Number(n.Low), Number(n.High))
}
