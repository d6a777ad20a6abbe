package core_test

import (
	"encoding/json"
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/engine"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/h264"
	"eventether/core/judge"
	"eventether/core/ladder"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/rules"
	"eventether/core/sheet"
	"eventether/core/verdict"
)

// processorAt is the state of the processor with every picture nobody chose the coding of coded at given presets: what
// is sent, and what is kept.
func processorAt(t *testing.T, v *verdict.Verdict, sent, kept string) limit.State {
	t.Helper()
	said := rigtest.Clone(v.Given)
	for _, c := range v.Codings {
		if c.Own || c.Said {
			continue
		}
		for _, i := range c.Destinations {
			said.Show.Destinations[i].Send.Encoder = sent
		}
		for _, i := range c.Recordings {
			if len(c.Destinations) > 0 {
				continue // it keeps the stream
			}
			said.Show.Recordings[i].Encoder = kept
		}
	}
	l := verdict.As(said).Find(engine.ID{Rule: rules.Processor, Place: said.Host().ID})
	require.NotNil(t, l)
	return l.State
}

// What is chosen against choosing by hand: on random rigs without a hardware encoder the streams get the slowest preset
// with which the processor can be slack at all, the recordings the slowest beside it; where nothing is slack, no choice
// stands better.
func TestThePresetAgainstTryingAll(t *testing.T) {
	tried, chosen := 0, map[string]int{}
	for seed := uint64(1); tried < 250; seed++ {
		r := rigtest.Rig(seed)
		host := r.Host()
		if host == nil || r.Show.Program.Kind != "encoder" {
			continue
		}
		if can := host.Gear.Computes; can != nil {
			can.Hardware = "none"
		}
		v := verdict.As(r)
		var sent, kept *h264.Preset
		for i := range v.Codings {
			c := &v.Codings[i]
			of := &kept
			if len(c.Destinations) > 0 {
				of = &sent
			}
			if !c.Own && !c.Said {
				require.True(t, *of == nil || *of == c.Preset, "seed %d: one preset for all alike", seed)
				*of = c.Preset
			}
		}
		if sent == nil && kept == nil {
			continue
		}
		tried++
		name := func(p *h264.Preset) string {
			if p == nil {
				return "veryfast" // nothing is coded by it
			}
			return p.Name
		}
		chosen[name(sent)+" "+name(kept)]++
		is := v.Find(engine.ID{Rule: rules.Processor, Place: host.ID}).State
		require.Equal(t, is, processorAt(t, v, name(sent), name(kept)), "seed %d: proposed or said, it is the same",
			seed)
		better := func(s, k *h264.Preset) bool { // slower for what is sent, or as slow and slower for what is kept
			switch {
			case sent != nil && s != sent:
				return s.Speed < sent.Speed
			case kept != nil && k != kept:
				return k.Speed < kept.Speed
			}
			return false
		}
		for i := range h264.Presets {
			for j := range h264.Presets {
				s, k := &h264.Presets[i], &h264.Presets[j]
				if sent == nil && i > 0 || kept == nil && j > 0 {
					continue
				}
				if is == limit.Slack && !better(s, k) {
					continue
				}
				got := processorAt(t, v, s.Name, k.Name)
				if is == limit.Slack {
					require.NotEqual(t, limit.Slack, got,
						"seed %d: %s and %s are slack too, and slower than %s and %s", seed, s.Name, k.Name,
						name(sent), name(kept))
				} else {
					require.GreaterOrEqual(t, got.Severity(), is.Severity(), "seed %d: %s and %s stand better", seed,
						s.Name, k.Name)
				}
			}
		}
	}
	require.Greater(t, len(chosen), 3, "%v", chosen)
	t.Logf("%d rigs: %v", tried, chosen)
}

// The line's best on random rigs: its edits apply and leave a sound rig; the line then stands as promised; nothing is
// enlarged or more than a destination takes; and asked again, there is nothing better.
func TestTheBestOfTheLineOnRandomRigs(t *testing.T) {
	found := map[limit.State]int{}
	for seed := range uint64(1500) {
		r := rigtest.Rig(seed + 1)
		if len(r.Show.Destinations) == 0 {
			continue
		}
		for i := range r.Show.Destinations { // what a destination asks for beyond size and bitrate is not the line's
			if in := r.Show.Destinations[i].Ingest; in != nil {
				in.VideoCodecs, in.Transports = nil, nil
			}
		}
		v := judge.Rig(r)
		p := ladder.Of(v)
		found[p.State]++
		if p.State == limit.Snapped {
			continue
		}
		after, err := rig.Apply(v.Rig, p.Edits...)
		require.NoError(t, err, "seed %d", seed+1)
		require.Empty(t, rig.Check(after), "seed %d", seed+1)
		now := verdict.As(after)
		up := now.Find(engine.ID{Rule: rules.Uplink})
		require.NotNil(t, up)
		calls := slices.ContainsFunc(r.Show.Calls, func(c rig.Call) bool {
			return c.UpKbps == nil || !c.UpKbps.Narrow()
		})
		if !calls && (up.Sure == up.Possible) {
			require.LessOrEqual(t, up.State.Severity(), p.State.Severity(), "seed %d: %s promised, %s is", seed+1,
				p.State, up.State)
		}
		require.NotEqual(t, limit.Snapped, up.State, "seed %d", seed+1)
		for i := range after.Show.Destinations {
			for _, rule := range []*engine.Rule{rules.Ingest, rules.IngestBitrate, rules.SentSize} {
				l := now.Find(engine.ID{Rule: rule, Place: fmt.Sprint(i)})
				if after.Show.Destinations[i].Via != "" {
					continue // another passes it on
				}
				require.NotContains(t, []limit.State{limit.Snapped, limit.Kinked}, l.State, "seed %d: %s", seed+1, l.ID)
			}
		}
		require.True(t, ladder.Of(now).Same, "seed %d", seed+1)
	}
	require.Greater(t, found[limit.Slack], 100)
	t.Logf("%v", found)
}

// Every spot of every region can be chosen: its edit applies, and the line stands as it says.
func TestSpotsOfTheRegion(t *testing.T) {
	spots := 0
	for seed := range uint64(300) {
		r := rigtest.Rig(seed + 1)
		v := judge.Rig(r)
		for _, reg := range ladder.Regions(v) {
			require.GreaterOrEqual(t, reg.SureKbps, reg.SlackKbps)
			for _, s := range reg.Spots {
				spots++
				after, err := rig.Apply(v.Rig, s.Edits...)
				require.NoError(t, err)
				require.Empty(t, rig.Check(after), "seed %d, %s", seed+1, s.Label)
				require.Positive(t, s.Edits[0].Send.VideoKbps.Value)
				require.LessOrEqual(t, s.LowKbps, s.HighKbps)
				host := after.Host()
				if host == nil {
					continue
				}
				l := verdict.As(after).Find(engine.ID{Rule: rules.Processor, Place: host.ID})
				require.Equal(t, l.State, s.Computer, "seed %d, %s", seed+1, s.Label)
			}
		}
		raw, err := json.Marshal(ladder.Of(v))
		require.NoError(t, err)
		require.NotContains(t, string(raw), "null", "seed %d", seed+1)
	}
	require.Greater(t, spots, 500)
}

// More of anything is never less load, and a faster computer never stands worse.
func TestLoadIsMonotone(t *testing.T) {
	load := func(r *rig.Rig) limit.Bounds {
		return verdict.As(r).Find(engine.ID{Rule: rules.Processor, Place: "pc"}).Load
	}
	base := func() *rig.Rig {
		r := rigtest.Clone(rigtest.Plain())
		r.Show.Destinations[0].Send.Encoder = "veryfast"
		return r
	}
	was := load(base())
	for name, more := range map[string]func(r *rig.Rig){
		"a recording": func(r *rig.Rig) {
			r.Show.Recordings = []rig.Recording{{What: "programme", Encoder: "veryfast"}}
		},
		"a call": func(r *rig.Rig) { r.Show.Calls = []rig.Call{{Name: "guest"}} },
		"an encoder beside": func(r *rig.Rig) {
			r.Show.Also = []rig.AlsoProgram{{Kind: "encoder", Name: "second", Takes: []string{"stick-0"}}}
		},
		"a program beside": func(r *rig.Rig) {
			r.Show.Also = []rig.AlsoProgram{{Kind: "call", Takes: []string{"stick-0"}}}
		},
		"a slower preset": func(r *rig.Rig) { r.Show.Destinations[0].Send.Encoder = "medium" },
		"a larger picture": func(r *rig.Rig) {
			r.Show.Destinations[0].Send.Width, r.Show.Destinations[0].Send.Height = 1920, 1080
		},
		"another bitrate": func(r *rig.Rig) { second(r).Send.VideoKbps = fp(1234) },
		"MJPEG": func(r *rig.Rig) {
			r.Items[1].Set.Deliver["usb"] = rig.Deliver{Format: picture.MJPEG, Width: 1920, Height: 1080}
		},
		"its battery":        func(r *rig.Rig) { r.Item("pc").Set = &rig.Set{RunsOn: "battery"} },
		"a slower class":     func(r *rig.Rig) { r.Item("pc").Gear.Class = gear.SmallLaptop },
		"programs left open": func(r *rig.Rig) { r.Item("pc").Gear.Computes = &gear.Computes{IdleShare: fp(0.25)} },
	} {
		r := base()
		more(r)
		require.Empty(t, rig.Check(r), name)
		now := load(r)
		assert.GreaterOrEqual(t, now.High, was.High-1e-9, name)
		if name != "a slower class" { // which is only narrower where nobody had said anything
			assert.GreaterOrEqual(t, now.Low, was.Low-1e-9, name)
		}
	}
	nowhere := base() // a call that sends somewhere nobody has named still codes
	nowhere.Show.Program.Kind, nowhere.Show.Destinations = "call", []rig.Destination{}
	require.Len(t, verdict.As(nowhere).Codings, 1)
	assert.Positive(t, verdict.As(nowhere).Codings[0].MpxS())
	alike := base()
	second(alike)
	assert.Equal(t, was, load(alike), "what is sent alike is coded once")
	via := base()
	second(via).Via = via.Show.Destinations[0].Name
	assert.Equal(t, was, load(via), "and what another passes on as well")
	kept := base()
	kept.Show.Recordings = []rig.Recording{{What: "programme", Encoder: "stream"}}
	assert.Equal(t, was, load(kept), "and a recording of the stream's own picture")
}

// second adds a destination like the first.
func second(r *rig.Rig) *rig.Destination {
	d := r.Show.Destinations[0]
	d.Name = "second"
	r.Show.Destinations = append(slices.Clone(r.Show.Destinations), d)
	return &r.Show.Destinations[len(r.Show.Destinations)-1]
}

// A destination that is passed on takes nothing of the line, is named as such, and cannot pass on in turn.
func TestPassedOn(t *testing.T) {
	r := rigtest.Clone(rigtest.Plain())
	was := verdict.As(r).Find(engine.ID{Rule: rules.Uplink}).Load
	second(r).Via = r.Show.Destinations[0].Name
	require.Empty(t, rig.Check(r))
	require.Equal(t, was, verdict.As(r).Find(engine.ID{Rule: rules.Uplink}).Load)
	require.Len(t, ladder.Regions(verdict.As(r)), 1)
	bad := func(change func(d *rig.Destination)) string {
		other := rigtest.Clone(r)
		change(&other.Show.Destinations[1])
		problems := rig.Check(other)
		require.NotEmpty(t, problems)
		return problems[0].String()
	}
	require.Contains(t, bad(func(d *rig.Destination) { d.Via = "nobody" }), "not another destination")
	require.Contains(t, bad(func(d *rig.Destination) { d.Via = d.Name }), "not another destination")
	require.Contains(t, bad(func(d *rig.Destination) { d.Send.Height = 480; d.Send.Width = 854 }), "differs from what")
	third := rigtest.Clone(r)
	d := third.Show.Destinations[1]
	d.Name, d.Via = "third", "second"
	third.Show.Destinations = append(third.Show.Destinations, d)
	require.Contains(t, rig.Check(third)[0].String(), "passed on by another itself")
	// Limits that contradict each other are named.
	odd := rigtest.Clone(rigtest.Plain())
	odd.Show.Destinations[0].Ingest = &rig.Ingest{MaxVideoKbps: 1000, MinVideoKbps: new(4000.0)}
	require.Contains(t, rig.Check(odd)[0].String(), "no bitrate is both")
	odd.Show.Destinations[0].Ingest = &rig.Ingest{Transports: []string{"pigeon"}}
	require.Contains(t, rig.Check(odd)[0].String(), "pigeon")
}

// Told: a five-minute recording of 1080p30 at quality 18 has 373 MB, and a player shows 18 Mb/s. Size and
// time say 9.95 Mb/s: the two do not agree, and the product plans with size and time [practice].
func TestSizeAndTimeAreTrusted(t *testing.T) {
	kbps := 373e6 * 8 / 300 / 1000
	require.InDelta(t, 9947, kbps, 1)
	r := rigtest.Clone(rigtest.Plain())
	k := fact.Fact{Value: kbps, Low: kbps, High: kbps, From: fact.Measured, At: "2026-11-20"}
	r.Show.Minutes, r.Show.Recordings = 5, []rig.Recording{{What: "programme", Quality: 18, Kbps: &k}}
	r.Item("pc").Gear.FreeGB, r.Item("pc").Gear.WriteMBps = fp(100), fp(200)
	space := verdict.As(r).Find(engine.ID{Rule: rules.DriveSpace, Place: "pc"})
	require.InDelta(t, 0.373, space.Load.Value, 0.001, "the file, its sound with it")
	// It lies within what the estimate had said: 0.05 to 1.2 bits a pixel.
	r.Show.Recordings[0].Kbps = nil
	wide := verdict.As(r).Kept(0)
	require.Less(t, wide.Low, kbps)
	require.Greater(t, wide.High, kbps)
	for _, p := range sheet.Of(judge.Rig(r)).Parts {
		for _, l := range p.Lines {
			require.NotEqual(t, "18", l.Value+l.Unit == "18Mb/s", "what a player shows is nowhere planned with")
		}
	}
}

// One camera in raw at 4096 × 2160, 12 bits, 8:1 and 25 frames is 41.5 MB/s, and a terabyte holds 6.7 hours [practice].
func TestRawInTheCamera(t *testing.T) {
	mbps := 4096.0 * 2160 * 12 * 25 / 8 / 8 / 1e6
	require.InDelta(t, 41.5, mbps, 0.05)
	r := rigtest.Clone(rigtest.Plain())
	r.Show.Minutes = 400
	kbps := fp(mbps * 8000)
	r.Show.Recordings = []rig.Recording{{What: "cam-0", InCamera: true, Kbps: kbps}}
	cam := &r.Items[0].Gear
	cam.FreeGB, cam.WriteMBps, cam.RecordLimitMinutes = fp(1000), fp(90), fp(1000)
	v := verdict.As(r)
	write, space := v.Find(engine.ID{Rule: rules.DriveWrite, Place: "cam-0"}),
		v.Find(engine.ID{Rule: rules.DriveSpace, Place: "cam-0"})
	require.Equal(t, limit.Slack, write.State)
	require.InDelta(t, 41.5, write.Load.Value, 0.1)
	require.Equal(t, limit.Taut, space.State, "400 of 402 minutes")
	cam.WriteMBps = fp(30)
	require.Equal(t, limit.Snapped, verdict.As(r).Find(engine.ID{Rule: rules.DriveWrite, Place: "cam-0"}).State,
		"a V30 card is too slow for it")
}
