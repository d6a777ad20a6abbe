package main

import (
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/fact"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/view"
	"eventether/internal/demo/rigs"
	"eventether/internal/rigfile"
)

// run judges one document from standard input and gives the exit status, the output and the error text.
func run(t *testing.T, input string, args ...string) (int, string, string) {
	t.Helper()
	return command(t, judgeCommand(), []byte(input), args...)
}

func text(t *testing.T, r *rig.Rig) string {
	t.Helper()
	b, err := rigfile.Write(r)
	require.NoError(t, err)
	return string(b)
}

func TestJudgeExitStatus(t *testing.T) {
	length := fact.Est(9, 5, 14)
	open, err := rig.Apply(rigs.LoftEven(), rig.Edit{Do: "fact", Path: "leads/face-lead/lengthM", Fact: &length})
	require.NoError(t, err)
	flawed, err := rig.Apply(rigs.LoftEven(), rig.Edit{Do: "mode", Item: "cam-stage", Port: "hdmi",
		Mode: &picture.Mode{Width: 1920, Height: 1080, Rate: picture.R(25), Chroma: picture.YUV422, Bits: 8}})
	require.NoError(t, err)
	unlooked, err := rig.Apply(rigs.LoftEven(), rig.Edit{Do: "word", Path: "items/cam-stage/clean", Word: "unknown"})
	require.NoError(t, err)
	for _, c := range []struct {
		name, input string
		status      int
		out, errs   string
	}{
		{"it holds", text(t, rigs.LoftEven()), exitHolds, "Holds", ""},
		{"a flaw alone holds, and is printed", text(t, flawed), exitHolds,
			"kinked    Stage camera at 25 in a picture at 29.97", ""},
		{"what is only a flaw and not known holds, and is printed", text(t, unlooked), exitHolds,
			"Nobody has looked whether Stage camera draws menus", ""},
		{"something snapped", text(t, rigs.Loft()), exitSnapped, "five moves", ""},
		{"something is untested", text(t, open), exitUntested, "Next question", ""},
		{"not usable", `{"format":"eventether-rig/1"}`, exitUnusable, "", "standard input: items is missing"},
		{"not JSON", `{"format": hello`, exitUnusable, "", "this is not JSON"},
		{"told as text", "PC [Desktop]\nBench camera [Camcorder] > High Speed 2 m > Stick [4K stick] > back 1",
			exitUntested, "Bench camera", ""},
		{"text nobody understands", "PC [Desktop]\nhello", exitUnusable, "",
			"standard input:2:1: “hello” is no thing of this rig"},
	} {
		t.Run(c.name, func(t *testing.T) {
			status, out, errs := run(t, c.input, "-")
			require.Equal(t, c.status, status, errs)
			require.Contains(t, out, c.out)
			require.Contains(t, errs, c.errs)
		})
	}
}

func TestJudgeFileAndJSON(t *testing.T) {
	path := filepath.Join(t.TempDir(), "loft.rig.json")
	require.NoError(t, os.WriteFile(path, []byte(text(t, rigs.Loft())), 0o600))
	status, out, _ := run(t, "", path, "--json")
	require.Equal(t, exitSnapped, status)
	var v view.Verdict
	require.NoError(t, json.Unmarshal([]byte(out), &v))
	require.Equal(t, limit.Snapped, v.State)
	require.Len(t, v.Feeds, 5)
	require.Len(t, v.Cure.Moves, 5)

	status, _, errs := run(t, "", path+".none")
	require.Equal(t, exitUnusable, status)
	require.Contains(t, errs, "loft.rig.json.none")
}

func TestSheetAndMeasure(t *testing.T) {
	for flag, want := range map[string]string{"": "Keyframe interval in frames  60 frames",
		"--csv": "part,field,value", "--markdown": "| Bitrate | 4000 kb/s |",
		"--json": `"format": "eventether-sheet/1"`, "--command": "ffmpeg -hide_banner -y "} {
		args := []string{"-"}
		if flag != "" {
			args = append(args, flag)
		}
		status, out, errs := command(t, sheetCommand(), []byte(text(t, rigs.LoftEven())), args...)
		require.Equal(t, exitHolds, status, errs)
		require.Contains(t, out, want)
		if flag == "--command" {
			for l := range strings.SplitSeq(strings.TrimSpace(out), "\n") {
				require.True(t, strings.HasPrefix(l, "ffmpeg "), l)
			}
		}
	}
	status, _, errs := command(t, sheetCommand(), []byte(`{}`), "-")
	require.Equal(t, exitUnusable, status)
	require.Contains(t, errs, "standard input")
	for _, args := range [][]string{{"--size", "big"}, {"--rate", "29.97"}, {"--seconds", "0"},
		{"--folder", "/no/such/folder", "--seconds", "0.2"}} {
		status, _, errs := command(t, measureCommand(), nil, args...)
		require.Equal(t, exitUnusable, status)
		require.NotEmpty(t, errs)
	}
}

func TestRunSheet(t *testing.T) {
	for _, c := range []struct {
		args []string
		want string
	}{
		{nil, "−"}, {[]string{"--air", "2026-12-04T19:30:00+01:00"}, "Alone: begin at 16:5"},
		{[]string{"--people", "2", "--markdown"}, "- [ ] **"},
		{[]string{"--json"}, `"format": "eventether-runsheet/1"`},
		{[]string{"--ical", "--air", "2026-12-04T19:30:00+01:00"}, "BEGIN:VEVENT"},
	} {
		status, out, errs := command(t, runsheetCommand(), []byte(text(t, rigs.LoftEven())), append(c.args, "-")...)
		require.Equal(t, exitHolds, status, errs)
		require.Contains(t, out, c.want)
	}
	for _, args := range [][]string{{"--air", "tomorrow"}, {"--people", "0"}, {"--people", "99"}, {"--ical"}} {
		status, _, errs := command(t, runsheetCommand(), []byte(text(t, rigs.LoftEven())), append(args, "-")...)
		require.Equal(t, exitUnusable, status)
		require.Contains(t, errs, args[0])
	}
}
