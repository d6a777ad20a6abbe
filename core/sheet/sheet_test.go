package sheet_test

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"os/exec"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/engine"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/sheet"
)

func idOf(rule *engine.Rule, place string) engine.ID { return engine.ID{Rule: rule, Place: place} }

func part(t *testing.T, r *rig.Rig, id string) *sheet.Part {
	t.Helper()
	s := sheet.Of(judge.Rig(r))
	at := slices.IndexFunc(s.Parts, func(p sheet.Part) bool { return p.ID == id })
	require.GreaterOrEqual(t, at, 0, id)
	return &s.Parts[at]
}

// Values by hand from the arithmetic.
func TestValues(t *testing.T) {
	f2997 := picture.NewRate(30000, 1001)
	for _, c := range []struct {
		name, part string
		rig        func() *rig.Rig
		want       map[string]string
	}{
		{"720p29.97 of 1080p", "stream-0", func() *rig.Rig {
			r := rigtest.Plain()
			r.Show.Destinations[0].Send.VideoKbps = exactly(4000)
			return r
		}, map[string]string{"size": "1280×720", "rate": "29.97", "bitrate": "4000", "buffer": "4000",
			"keyframe-seconds": "2", "keyframe-frames": "60", "level": "3.1", "profile": "High", "b-frames": "2",
			"rate-control": "CBR", "range": "limited", "audio-bitrate": "160", "audio-rate": "48",
			"scaling": "Lanczos, once, at the output"}},
		{"a destination that asks for a keyframe each second", "stream-0", func() *rig.Rig {
			r := rigtest.Plain()
			r.Show.Destinations[0].Ingest.KeyframeSeconds = 1
			return r
		}, map[string]string{"keyframe-seconds": "1", "keyframe-frames": "30"}},
		{"a slow preset keeps no more than its level", "stream-0", func() *rig.Rig {
			return show(1920, 1080, f2997, 6000, "slow")
		}, map[string]string{"level": "4", "references": "4", "preset": "slow"}},
		{"full range, chosen", "stream-0", func() *rig.Rig {
			r := show(1920, 1080, f2997, 6000, "")
			r.Show.Destinations[0].Send.Range = "full"
			return r
		}, map[string]string{"range": "full", "scaling": "none"}},
		{"larger than any level", "stream-0", func() *rig.Rig {
			return show(16384, 8640, picture.R(60), 50000, "ultrafast")
		}, map[string]string{"level": "none holds it"}},
		{"a recording for half an hour", "recording-0", func() *rig.Rig {
			r := rigtest.Plain()
			r.Show.Minutes, r.Show.Recordings = 30, []rig.Recording{{What: "programme", Tracks: 3}}
			return r
		}, map[string]string{"quality": "16", "container": "fragmented MP4", "audio-tracks": "3", "size": "1920×1080",
			"rate-control": "constant quality"}},
		// 12,000 kb/s fill 4 GiB in 47.7 minutes.
		{"a stick with FAT32", "recording-0", func() *rig.Rig {
			r := rigtest.Plain()
			r.Items = append(r.Items, rig.Item{ID: "disk", Label: "Disk", Gear: gear.Gear{Kind: gear.Drive,
				Name: "Disk", FileSystem: "fat32"}})
			r.Show.Recordings = []rig.Recording{{What: "programme", Drive: "disk", Kbps: exactly(12000), Quality: 18}}
			return r
		}, map[string]string{"split": "47", "drive": "Disk", "file-size": "5.4"}},
		{"the stream's own", "recording-0", func() *rig.Rig {
			r := rigtest.Plain()
			r.Show.Recordings = []rig.Recording{{What: "programme", Encoder: "stream", Container: "mkv"}}
			return r
		}, map[string]string{"encoder": "the stream's own", "container": "Matroska"}},
	} {
		t.Run(c.name, func(t *testing.T) {
			r := c.rig()
			p := part(t, r, c.part)
			for id, want := range c.want {
				assert.Equal(t, want, line(t, p, id), id)
			}
			for _, l := range p.Lines {
				assert.NotEmpty(t, l.Why, l.ID)
				assert.NotEmpty(t, l.Source, l.ID)
				assert.NotEmpty(t, l.How, l.ID)
				assert.Contains(t, []int{1, 2, 3}, l.Matters, l.ID)
			}
		})
	}
}

// A program gets exactly what its users can set.
func TestKindsOfProgram(t *testing.T) {
	for _, kind := range []string{"browser-studio", "destination-page", "call"} {
		r := rigtest.Plain()
		r.Show.Program.Kind = kind
		r.Show.Recordings = []rig.Recording{{What: "programme"}}
		s := sheet.Of(judge.Rig(r))
		require.Empty(t, s.Commands(), kind)
		for _, p := range s.Parts {
			for _, l := range p.Lines {
				require.NotContains(t, []string{"bitrate", "level", "profile", "keyframe-frames", "preset", "quality"},
					l.ID, "%s has no field for it", kind)
			}
		}
		require.Contains(t, s.Text(), "Stick", "the device by its listed name")
		require.Contains(t, s.Text(), "Upload it will use")
	}
}

func TestExports(t *testing.T) {
	r := show(1280, 720, picture.R(30), 2500, "veryfast")
	r.Name = "=cmd|' /C calc'!A0"
	r.Show.Destinations[0].Name = "=1+1 | <b>; rm -rf '$HOME'\" `x`"
	s := sheet.Of(judge.Rig(r))
	rows, err := csv.NewReader(strings.NewReader(s.CSV())).ReadAll()
	require.NoError(t, err)
	for _, row := range rows {
		for _, cell := range row {
			require.NotRegexp(t, `^[=+@\-\t]`, cell, "a spreadsheet would run it")
		}
	}
	require.Contains(t, s.Markdown(), "\\|")
	require.NotContains(t, s.Markdown(), "<b>")
	// The shell makes exactly one command of the line, with nothing of the name left to run.
	out, err := exec.Command("sh", "-c", `ffmpeg() { printf '%s\n' "$@"; }; `+s.Commands()).CombinedOutput()
	require.NoError(t, err)
	args := strings.Split(strings.TrimSpace(string(out)), "\n")
	require.Equal(t, "1-1-b-rm-rf-home-x.flv", strings.TrimPrefix(args[len(args)-1], "stream-to-"))
	raw, err := json.Marshal(s)
	require.NoError(t, err)
	var back sheet.Sheet
	require.NoError(t, json.Unmarshal(raw, &back))
	require.Equal(t, s, &back)
	older := sheet.Of(judge.Rig(show(1280, 720, picture.R(30), 2000, "veryfast")))
	older.Parts[1].Name = s.Parts[1].Name
	s.Since(older)
	require.Contains(t, s.Text(), "2500 kb/s (was 2000 kb/s)")
}

// Every random rig has a sheet, every line of it a reason, and the same sheet twice.
func TestSheetsOfRandomRigs(t *testing.T) {
	if testing.Short() {
		t.Skip("make test runs it")
	}
	for seed := range uint64(400) {
		r := rigtest.Rig(seed + 1)
		s := sheet.Of(judge.Rig(r))
		for _, p := range s.Parts {
			for _, l := range p.Lines {
				require.NotEmpty(t, l.Value, "seed %d: %s, %s", seed+1, p.Name, l.ID)
				require.NotContains(t, l.Value, "NaN")
				require.NotEmpty(t, l.Why, "seed %d: %s, %s", seed+1, p.Name, l.ID)
			}
		}
		require.Equal(t, s, sheet.Of(judge.Rig(r)), "seed %d", seed+1)
	}
}

func Example() {
	r := rigtest.Plain()
	s := sheet.Of(judge.Rig(r))
	for _, l := range s.Parts[1].Lines[:4] {
		fmt.Println(l.Name+":", l.T())
	}
	// Output:
	// Output size: 1280×720
	// Frame rate: 29.97 frames/s
	// Scaling: Lanczos, once, at the output
	// Bitrate: 2500 kb/s
}

// Sheets for four destinations and six recordings.
func BenchmarkSheet(b *testing.B) {
	r := rigtest.Plain()
	for i := range 3 {
		d := r.Show.Destinations[0]
		d.Name, d.Send.VideoKbps = fmt.Sprint("d", i), exactly(float64(2000+500*i))
		r.Show.Destinations = append(r.Show.Destinations, d)
	}
	for i := range 6 {
		r.Show.Recordings = append(r.Show.Recordings, rig.Recording{What: "programme", Quality: float64(16 + i)})
	}
	v := judge.Rig(r)
	for b.Loop() {
		sheet.Of(v)
	}
}
