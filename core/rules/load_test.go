package rules_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/verdict"
)

// busy is the plain rig on a computer that is known to the last figure: 100 Mpx/s of veryfast, 1000 of everything else,
// a tenth of it taken before the show.
func busy(change func(r *rig.Rig, can *gear.Computes)) *rig.Rig {
	r := plain()
	full := exactly(1000)
	can := &gear.Computes{EncodeMpxS: exactly(100), MJPEGMpxS: full, H264MpxS: full, ConvertMpxS: full,
		ScaleMpxS: full, DeinterlaceMpxS: full, ComposeMpxS: exactly(2500), MemoryGBps: exactly(20),
		IdleShare: exactly(0.1)}
	r.Item("pc").Gear.Computes, r.Item("pc").Gear.Class = can, gear.GoodLaptop
	if change != nil {
		change(r, can)
	}
	return r
}

// drive puts in a drive that is known, and a recording of the programme on it.
func drive(r *rig.Rig, writes, free float64, system string, rec rig.Recording) *rig.Rig {
	r.Items = append(r.Items, rig.Item{ID: "disk", Label: "Disk", Gear: gear.Gear{Kind: gear.Drive, Name: "Disk",
		WriteMBps: exactly(writes), FreeGB: exactly(free), FileSystem: system}})
	rec.What, rec.Drive = "programme", "disk"
	r.Show.Recordings = append(r.Show.Recordings, rec)
	return r
}

// Sums by hand from the arithmetic. 1920×1080 at 30000/1001 is 62.146 Mpx/s, 1280×720 27.620.
func TestWhatIsComputedSentAndKept(t *testing.T) {
	sent := func(do func(d *rig.Destination)) func() *rig.Rig {
		return func() *rig.Rig {
			return busy(func(r *rig.Rig, _ *gear.Computes) { do(&r.Show.Destinations[0]) })
		}
	}
	with := func(do func(r *rig.Rig, can *gear.Computes)) func() *rig.Rig {
		return func() *rig.Rig { return busy(do) }
	}
	for _, c := range []struct {
		name  string
		rig   func() *rig.Rig
		limit string
		want  State
		says  string
	}{
		// Converted 62.146/1000, scaled to 720 62.146/1000, idle 0.1: 22.43 %. medium (0.25 to 0.6 of 100): 27.620/25 =
		// 110 %: too much; faster (0.45 to 0.8): 27.620/45 = 61.4 %, 83.8 %: too much; veryfast: 27.6 + 22.4 = 50.05 %.
		{"the slowest preset that stays slack", with(nil), "processor:pc", Slack, "50.05 %"},
		{"a preset somebody chose", sent(func(d *rig.Destination) { d.Send.Encoder = "ultrafast" }), "processor:pc",
			Slack, "25.5 to 31.64 %"}, // 27.620/900 to /300
		{"one that is too slow", sent(func(d *rig.Destination) { d.Send.Encoder = "slow" }), "processor:pc", Untested,
			"83.81 to 206.6 %"}, // /45 to /15
		{"one that was measured", with(func(r *rig.Rig, can *gear.Computes) {
			can.SlowMpxS, r.Show.Destinations[0].Send.Encoder = exactly(20), "slow"
		}), "processor:pc", Snapped, "160.5 %"}, // 27.620/20 = 138.1 + 22.4
		{"on its battery", with(func(r *rig.Rig, _ *gear.Computes) { // once to twice: 10 + (12.43 + 27.620)·(1 to 2)
			r.Item("pc").Set = &rig.Set{RunsOn: "battery"}
			r.Show.Destinations[0].Send.Encoder = "veryfast"
		}), "processor:pc", Taut, "50.05 to 90.1 %"},
		{"MJPEG costs decoding", with(func(r *rig.Rig, _ *gear.Computes) {
			r.Items[1].Set.Deliver["usb"] = rig.Deliver{Format: picture.MJPEG, Width: 1920, Height: 1080}
		}), "processor:pc", Slack, "56.26 %"}, // 6.21 % more
		// Interlaced: a third of the machine for 51.84 Mpx/s at 25 frames, beside 5.184 converted, 6.22 scaled, 27.62
		// coded, 10 idle.
		{"an interlaced picture has to be deinterlaced", with(func(r *rig.Rig, can *gear.Computes) {
			can.DeinterlaceMpxS = exactly(155.52)
			m := picture.Mode{Width: 1920, Height: 1080, Rate: picture.R(25), Interlaced: true}
			r.Items[0].Set.Output["hdmi"] = m
			for i, p := range []int{0, 0} {
				port := &r.Items[i].Gear.Ports[p]
				port.Modes = append(slices.Clone(port.Modes), m)
			}
			r.Show.Destinations[0].Send.Encoder = "veryfast"
		}), "processor:pc", Taut, "82.35 %"},
		{"H.264 costs decoding too", with(func(r *rig.Rig, can *gear.Computes) {
			can.H264MpxS = exactly(621.46)
			r.Items[1].Gear.Delivers = []gear.Delivery{{Format: picture.H264, Width: 1920, Height: 1080,
				MaxRate: picture.R(60)}}
			r.Items[1].Set.Deliver["usb"] = rig.Deliver{Format: picture.H264, Width: 1920, Height: 1080}
			r.Show.Destinations[0].Send.Encoder = "veryfast"
		}), "processor:pc", Slack, "60.05 %"}, // 62.146 of 621.46 is a tenth
		{"a hardware encoder with room takes it", with(func(_ *rig.Rig, can *gear.Computes) {
			can.Hardware, can.HardwareMpxS, can.HardwareSessions = "Board encoder", exactly(250), exactly(2)
		}), "hardware-encoder:pc", Slack, "27.62 Mpx/s of 250"},
		{"it codes no more than it can", with(func(r *rig.Rig, can *gear.Computes) {
			can.Hardware, can.HardwareMpxS, r.Show.Destinations[0].Send.Encoder = "Board encoder", exactly(20),
				"hardware"
		}), "hardware-encoder:pc", Snapped, "27.62 Mpx/s of 20"},
		{"chosen, and nobody has said that there is one", sent(func(d *rig.Destination) {
			d.Send.Encoder = "hardware"
		}), "hardware-encoder:pc", Untested, "27.62 Mpx/s of 0 to 1500"},
		{"more streams than sessions", with(func(r *rig.Rig, can *gear.Computes) {
			can.Hardware, can.HardwareSessions = "Board encoder", exactly(1)
			other := r.Show.Destinations[0]
			other.Name, other.Send.Encoder = "second", "hardware"
			other.Send.VideoKbps, r.Show.Destinations[0].Send.VideoKbps = exactly(3000), exactly(4000)
			r.Show.Destinations[0].Send.Encoder = "hardware"
			r.Show.Destinations = append(r.Show.Destinations, other)
		}), "hardware-sessions:pc", Snapped, "Two streams of 1"},
		{"composing", with(nil), "graphics:pc", Slack, "64.63 to 99.43 Mpx/s of 2500"},
		// one layer, and two previews of 0.02 to 0.3 of one Beside it: one's own stream decoded and converted, 2 ×
		// 27.620/1000; the programme converted for a virtual camera, 62.146/1000; a screen of 1080 to 2160 lines
		// converted 30 times a second, 62.208 to 248.83/1000.
		{"one's own stream, watched here", with(func(r *rig.Rig, _ *gear.Computes) {
			r.Show.Besides = []string{rig.OwnStream}
		}), "processor:pc", Slack, "55.57 %"},
		{"a virtual camera", with(func(r *rig.Rig, _ *gear.Computes) { r.Show.Besides = []string{rig.VirtualCamera} }),
			"processor:pc", Slack, "56.26 %"},
		{"the screen recorded", with(func(r *rig.Rig, _ *gear.Computes) {
			r.Show.Besides = []string{rig.ScreenRecording}
		}), "processor:pc", Untested, "52.45 to 367"}, // and coded at 80 to 300 Mpx/s, the stream at ultrafast
		// 62.146 Mpx/s in × 12 bytes, 27.620 out × 11, and 100 of the screen × 12; a call codes one more of 27.620, and
		// brings 50 × 12.
		{"the screen recorded, at so many pixels", with(func(r *rig.Rig, _ *gear.Computes) {
			r.Show.Besides, r.Show.ScreenMpxS = []string{rig.ScreenRecording}, exactly(100)
		}), "memory-traffic:pc", Slack, "2.25 GB/s of"},
		{"a call's pictures, counted in pixels", with(func(r *rig.Rig, _ *gear.Computes) {
			r.Show.Calls = []rig.Call{{Name: "guests", DownMpxS: exactly(50)}}
		}), "memory-traffic:pc", Slack, "1.95 GB/s of"},
		// People of a call: each 0.6 to 3 Mb/s, decoded and converted at 360p to 720p.
		{"three people by a call", with(func(r *rig.Rig, _ *gear.Computes) {
			r.Show.Calls = []rig.Call{{Name: "guests", Persons: 3}}
		}), "downlink", Slack, "1.8 to 9 Mb/s of 20"},
		{"ten of them, the line not known", with(func(r *rig.Rig, _ *gear.Computes) {
			r.Show.Calls = []rig.Call{{Name: "guests", Persons: 10}}
		}), "downlink", Untested, "6 to 30 Mb/s of 20 to 1000"},
		{"nobody has counted them, and the line is thin", with(func(r *rig.Rig, _ *gear.Computes) {
			r.Show.Calls, r.Uplink.DownMbps = []rig.Call{{Name: "guests"}}, exactly(2)
		}), "downlink", Untested, "0.6 to 27 Mb/s of 2"},
		{"what comes in was looked up", with(func(r *rig.Rig, _ *gear.Computes) {
			r.Show.Calls, r.Uplink.DownMbps = []rig.Call{{Name: "guests", DownKbps: exactly(4000)}}, exactly(3)
		}), "downlink", Snapped, "4 Mb/s of 3"},
		// In 62.146 × 12 bytes, out 27.620 × 11: 0.746 + 0.304 GB/s.
		{"memory", with(nil), "memory-traffic:pc", Slack, "1.05 GB/s of 20"},
		{"little memory", with(func(_ *rig.Rig, can *gear.Computes) { can.MemoryGBps = exactly(1) }),
			"memory-traffic:pc", Snapped, "1.05 GB/s of 1 GB/s"},

		{"sent as it is composed, smaller", with(nil), "sent-size:0", Slack, "1280×720 is made of 1920×1080"},
		{"sent larger than it is composed", sent(func(d *rig.Destination) {
			d.Send.Width, d.Send.Height = 3840, 2160
		}), "sent-size:0", Kinked, "made larger, soft"},
		// 1000 kb/s over 27.620 Mpx/s is 0.0362.
		{"too few bits", sent(func(d *rig.Destination) { d.Send.VideoKbps = exactly(1000) }), "bits-a-pixel:0", Kinked,
			"0.036 bit/px"},
		{"bits enough", sent(func(d *rig.Destination) { d.Send.VideoKbps = exactly(2500) }), "bits-a-pixel:0", Slack,
			"0.091 bit/px"},
		{"another coding", sent(func(d *rig.Destination) { d.Ingest.VideoCodecs = []string{"av1"} }), "codec:0",
			Snapped, "takes av1"},
		{"another transport", sent(func(d *rig.Destination) { d.Ingest.Transports = []string{"srt"} }), "transport:0",
			Snapped, "takes reliable UDP (SRT), and it is sent by RTMP"},
		{"too much sound", sent(func(d *rig.Destination) {
			d.Ingest.MaxAudioKbps, d.Send.AudioKbps = 128,
				exactly(160)
		}), "ingest-audio:0", Snapped, "160 kb/s of the 128"},
		{"a cap on sound is kept to", sent(func(d *rig.Destination) { d.Ingest.MaxAudioKbps = 128 }), "ingest-audio:0",
			Slack, "128 kb/s of the 128"},
		{"less than it wants", sent(func(d *rig.Destination) {
			d.Ingest.MinVideoKbps, d.Send.VideoKbps = new(1000.0),
				exactly(600)
		}), "ingest-least:0", Snapped, "600 kb/s to d, which wants 1000"},

		// 12,000 kb/s measured, its sound with it, ÷ 8000 = 1.5 MB/s; an hour of it 5.4 GB.
		{"a drive that writes", func() *rig.Rig {
			return drive(plain(), 80, 100, "", rig.Recording{Kbps: exactly(12000)})
		}, "drive-write:disk", Slack, "1.5 MB/s of 80"},
		{"one that is slower", func() *rig.Rig {
			return drive(plain(), 1.4, 100, "", rig.Recording{Kbps: exactly(12000)})
		}, "drive-write:disk", Snapped, "1.5 MB/s of 1.4"},
		{"space", func() *rig.Rig { return drive(plain(), 80, 6, "", rig.Recording{Kbps: exactly(12000)}) },
			"drive-space:disk", Taut, "5.4 GB of 6 GB"},
		// Quality 18 is 0.05 to 1.2 bits a pixel: 3107 to 74,575 kb/s, and an hour 1.47 to 33.6 GB with the sound.
		{"space for three shows", func() *rig.Rig {
			return drive(plain(), 80, 18, "", rig.Recording{Kbps: exactly(12000)})
		}, "drive-space:disk", Slack, "room for three shows"}, // 5.4 GB each
		// 4096 × 2160 × 12 bits × 25 ÷ 8 ÷ 8 is 41.47 MB/s [practice], and 0.02 of sound.
		{"raw in the camera", func() *rig.Rig {
			r := plain()
			r.Items[0].Set.Output["hdmi"] = picture.Mode{Width: 1920, Height: 1080, Rate: picture.R(25)}
			r.Items[0].Gear.WriteMBps = exactly(60)
			r.Show.Recordings = []rig.Recording{{What: "cam-0", InCamera: true, Width: 4096, Height: 2160, RawBits: 12,
				RawRatio: 8}}
			return r
		}, "drive-write:cam-0", Slack, "41.49 MB/s of 60"},
		{"constant quality is a range", func() *rig.Rig {
			return drive(plain(), 80, 6, "", rig.Recording{Quality: 18})
		}, "drive-space:disk", Untested, "1.47 to 33.63 GB of 6 GB"},
		{"six steps down are twice as much", func() *rig.Rig {
			return drive(plain(), 80, 60, "", rig.Recording{Quality: 12})
		}, "drive-space:disk", Untested,
			"2.87 to 67.19 GB of 60 GB. 0 to 57.1 GB are left after the show. There is room for up to 20 shows"},
		{"FAT32 ends the file", func() *rig.Rig {
			return drive(plain(), 80, 100, "fat32", rig.Recording{Kbps: exactly(12000)})
		}, "file-end:0", Snapped, "5.4 GB in one file; FAT32 ends it at 4.29 GB"},
		// 7,272 kb/s measured over 120 min are 6.545 GB, of eight tracks too; its sound is not added again.
		{"eight tracks of a measured file", func() *rig.Rig {
			r := drive(plain(), 80, 7.272, "exfat", rig.Recording{Kbps: exactly(7272), Tracks: 8})
			r.Show.Minutes = 120
			return r
		}, "drive-space:disk", Taut, "6.54 GB of 7.27"},
		// And of constant quality the sound of eight tracks counts: 1280 kb/s for an hour are 0.576 GB, with 1.398 of
		// the least picture.
		{"eight tracks of constant quality", func() *rig.Rig {
			return drive(plain(), 80, 400, "fat32", rig.Recording{Quality: 18, Tracks: 8})
		}, "file-end:0", Untested, "1.97 to 34.13 GB in one file"},
		// The stream's own picture and sound: 5000 + 320 kb/s for an hour are 2.394 GB.
		{"the stream as it is sent", func() *rig.Rig {
			r := drive(plain(), 80, 400, "exfat", rig.Recording{What: "programme", Encoder: "stream"})
			r.Show.Destinations[0].Send.VideoKbps, r.Show.Destinations[0].Send.AudioKbps = exactly(5000), exactly(320)
			return r
		}, "drive-space:disk", Slack, "2.39 GB of 400"},
		{"the rehearsal counts too", func() *rig.Rig {
			r := drive(plain(), 80, 6, "exfat", rig.Recording{Kbps: exactly(12000)})
			r.Show.RehearsalMinutes = 15
			return r
		}, "drive-space:disk", Snapped, "6.75 GB of 6"},
		{"a file system nobody stated, past 4 GiB", func() *rig.Rig {
			return drive(plain(), 80, 100, "", rig.Recording{Kbps: exactly(12000)})
		}, "file-end:0", Untested, "nobody has looked which file system"},
		{"a file system nobody stated, far under it", func() *rig.Rig {
			return drive(plain(), 80, 100, "", rig.Recording{Kbps: exactly(5000)})
		}, "file-end:0", Slack, "any file system takes that"},
		{"no room to run over", func() *rig.Rig {
			return drive(plain(), 80, 100, "fat32", rig.Recording{Kbps: exactly(8500)})
		}, "file-end:0", Taut, "3.82 GB"},
		{"clips in a camera", func() *rig.Rig {
			r := plain()
			r.Items[0].Gear.FileSystem, r.Items[0].Gear.WriteMBps, r.Items[0].Gear.FreeGB = "fat32", exactly(60),
				exactly(100)
			r.Show.Recordings = []rig.Recording{{What: "cam-0", InCamera: true, Kbps: exactly(50000)}}
			return r
		}, "file-split:0", Taut, "begins another clip"},
		{"a card of its own in the camera", func() *rig.Rig {
			r := drive(plain(), 30, 20, "exfat", rig.Recording{InCamera: true, Kbps: exactly(50000)})
			r.Show.Recordings[0].What = "cam-0"
			return r
		}, "drive-space:disk", Snapped, "22.5 GB of 20"},
		{"25 sent as 30", sent(func(d *rig.Destination) { d.Send.Rate = picture.R(25) }), "sent-cadence:0", Kinked,
			"A programme at 29.97 sent at 25: judder"},
		{"sent as it is composed", with(nil), "sent-cadence:0", Slack, "same rate"},
		{"full range nobody looked at", sent(func(d *rig.Destination) { d.Send.Range = "full" }), "range:0", Untested,
			"nobody has looked at the far end"},
		{"full range, seen right", sent(func(d *rig.Destination) { d.Send.Range, d.Send.RangeSeen = "full", "yes" }),
			"range:0", Slack, "seen right"},
		{"full range, seen wrong", sent(func(d *rig.Destination) { d.Send.Range, d.Send.RangeSeen = "full", "no" }),
			"range:0", Kinked, "send limited"},
		{"limited range", with(nil), "range:0", Slack, "as players assume it"},
		{"sound nobody looked up", sent(func(d *rig.Destination) { d.Ingest.MaxAudioKbps = 0 }), "ingest-audio:0",
			Untested, "160 kb/s of the 96 to 512"},
		{"a least bitrate nobody looked up", sent(func(d *rig.Destination) { d.Ingest.MinVideoKbps = nil }),
			"ingest-least:0", Untested, "nobody has looked up what it wants at least"},
		{"plain MP4", func() *rig.Rig { return drive(plain(), 80, 100, "", rig.Recording{Container: "mp4"}) },
			"container:0", Taut, "everything since its start is lost"},
		{"Matroska", func() *rig.Rig { return drive(plain(), 80, 100, "", rig.Recording{Container: "mkv"}) },
			"container:0", Slack, "can be played after a crash"},
		{"recorded larger than it is", func() *rig.Rig {
			return drive(plain(), 80, 100, "", rig.Recording{Width: 3840, Height: 2160})
		}, "sent-size:r0", Kinked, "made larger, soft"},
	} {
		t.Run(c.name, func(t *testing.T) {
			r := c.rig()
			require.Empty(t, rig.Check(r))
			v := Full(r)
			row(c.limit)
			l := limitIn(&v, c.limit)
			require.NotNil(t, l, "%v", ids(&v))
			require.Equal(t, c.want, l.State, l.Says)
			require.Contains(t, l.Says, c.says)
			require.NotEmpty(t, l.Source.Name)
			if c.want == Untested {
				require.True(t, asked(&v, l), "nobody asks about %s", l.ID)
			}
		})
	}
}

// What is sent alike is coded once; a recording is coded for itself unless it keeps the stream.
func TestCodings(t *testing.T) {
	r := busy(func(r *rig.Rig, _ *gear.Computes) {
		second := r.Show.Destinations[0]
		second.Name = "second"
		r.Show.Destinations = append(r.Show.Destinations, second)
		r.Show.Recordings = []rig.Recording{{What: "programme", Encoder: "stream"}, {What: "cam-0"}}
		r.Show.Calls = []rig.Call{{Name: "guest"}}
	})
	p := verdict.As(r)
	require.Len(t, p.Codings, 3)
	assert.Equal(t, []int{0, 1}, p.Codings[0].Destinations)
	assert.Equal(t, []int{0}, p.Codings[0].Recordings)
	assert.Equal(t, []int{1}, p.Codings[1].Recordings)
	assert.Equal(t, [2]int{1920, 1080}, [2]int{p.Codings[1].Width, p.Codings[1].Height})
	assert.Equal(t, "guest", p.Codings[2].Call)
	assert.Same(t, &p.Codings[0], p.SentLike(1))
	assert.Same(t, &p.Codings[1], p.KeptLike(1))
	r.Show.Destinations[1].Send.VideoKbps = exactly(2000)
	assert.Len(t, verdict.As(r).Codings, 3, "what nobody has chosen goes along")
	r.Show.Destinations[0].Send.VideoKbps = exactly(3000)
	assert.Len(t, verdict.As(r).Codings, 4, "another bitrate is another coding")
}

// Keyframes come every 2 s or as often as a destination asks for at most; two exact intervals, or one past what another
// takes, are two codings. 60 frames at 30000/1001 are 2.002 s and serve 2 s.
func TestKeyframesOfACoding(t *testing.T) {
	for name, c := range map[string]struct {
		seconds []float64 // below zero: exactly
		want    []float64
	}{
		"nothing said":             {[]float64{0, 0}, []float64{2}},
		"4 s at most":              {[]float64{4, 0}, []float64{2}},
		"60 and 120 frames":        {[]float64{2, 4}, []float64{2}},
		"1 s at most of one":       {[]float64{1, 2}, []float64{1}},
		"exactly 4":                {[]float64{-4, 0}, []float64{4}},
		"exactly 4, and 2 at most": {[]float64{-4, 2}, []float64{4, 2}},
		"exactly 2, and 4 at most": {[]float64{-2, 4}, []float64{2}},
		"two exact ones":           {[]float64{-2, -1}, []float64{2, 1}},
		"a frame apart":            {[]float64{-2, -2.03}, []float64{2}},
	} {
		r := busy(func(r *rig.Rig, _ *gear.Computes) {
			first := r.Show.Destinations[0]
			r.Show.Destinations = nil
			for i, s := range c.seconds {
				d := first
				d.Name, d.Ingest = string(rune('a'+i)), &rig.Ingest{KeyframeSeconds: max(s, -s), KeyframeExact: s < 0}
				r.Show.Destinations = append(r.Show.Destinations, d)
			}
		})
		var got []float64
		for _, coding := range verdict.As(r).Codings {
			got = append(got, coding.KeyframeSeconds)
		}
		assert.ElementsMatch(t, c.want, got, name)
	}
}

// What stays slack with the class's bounds stays so with any computer of the class, and a slower class never codes at a
// slower preset.
func TestClassesAreInOrder(t *testing.T) {
	at := func(c gear.Class) int {
		r := plain()
		r.Item("pc").Gear.Class = c
		p := verdict.As(r)
		for i, name := range []string{"ultrafast", "superfast", "veryfast", "faster", "fast", "medium", "slow"} {
			if p.Codings[0].Preset.Name == name {
				return i
			}
		}
		return -1
	}
	was := -1
	for _, c := range gear.Classes {
		require.GreaterOrEqual(t, at(c), was, c)
		was = at(c)
	}
	assert.LessOrEqual(t, at(""), at(gear.SmallLaptop), "nobody has said which kind it is")
	for _, c := range append(gear.Classes, "", gear.Laptop, gear.DesktopClass) {
		can := gear.ByClass(c)
		for _, f := range []*fact.Fact{can.EncodeMpxS, can.MJPEGMpxS, can.H264MpxS, can.ConvertMpxS, can.ScaleMpxS,
			can.DeinterlaceMpxS, can.ComposeMpxS, can.MemoryGBps} {
			require.NoError(t, f.Check(), c)
			require.Equal(t, fact.Estimate, f.From)
		}
	}
}
