package main

import (
	"encoding/json"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/place"
	"eventether/core/view"
	"eventether/internal/demo/rigs"
	"eventether/internal/readers"
	"eventether/internal/rigfile"
)

func TestPlaceCommand(t *testing.T) {
	out := filepath.Join(t.TempDir(), "placed.json")
	status, text1, errs := command(t, placeCommand(), []byte(text(t, rigs.Loft())), "-", "--apply", out)
	require.Contains(t, []int{exitHolds, exitSnapped, exitUntested}, status, errs)
	require.Contains(t, text1, "Best placing")
	require.Contains(t, text1, ": from ")
	raw, err := os.ReadFile(out)
	require.NoError(t, err)
	after, err := rigfile.Read(raw)
	require.NoError(t, err)
	v, was := view.Of(judge.Rig(after), nil), view.Of(judge.Rig(rigs.Loft()), nil)
	snapped := func(v *view.Verdict) (n int) {
		for i := range v.Limits {
			if v.Limits[i].Rule == "bus" && v.Limits[i].State == limit.Snapped {
				n++
			}
		}
		return
	}
	require.Positive(t, snapped(&was))
	require.Zero(t, snapped(&v), "placing cures the bus")

	status, text1, _ = command(t, placeCommand(), []byte(text(t, after)), "-", "--json")
	require.Equal(t, exitSnapped, status, "other faults remain")
	var s place.Suggestion
	require.NoError(t, json.Unmarshal([]byte(text1), &s))
	require.True(t, s.Possible && s.Proven)
	require.Empty(t, s.Moves, "placing what is placed moves nothing")

	status, _, errs = command(t, placeCommand(), []byte("{}"), "-")
	require.Equal(t, exitUnusable, status)
	require.Contains(t, errs, "standard input")
}

func TestUSBCommand(t *testing.T) {
	const tree = "/:  Bus 001.Port 001: Dev 001, Class=root_hub, Driver=xhci_hcd/4p, 480M\r\n    |__ Port 002: Dev 002, If 0, Class=Video, Driver=uvcvideo, 480M\r\n"
	status, out, errs := command(t, usbCommand(), []byte(tree), "-")
	require.Equal(t, exitHolds, status, errs)
	require.Contains(t, out, "  1-2, 480 Mb/s, sends pictures")
	file := filepath.Join(t.TempDir(), "tree.txt")
	require.NoError(t, os.WriteFile(file, []byte(tree[:len(tree)-12]), 0o600))
	status, out, _ = command(t, usbCommand(), nil, file, "--json")
	require.Equal(t, exitHolds, status)
	var u readers.USB
	require.NoError(t, json.Unmarshal([]byte(out), &u))
	require.True(t, u.Incomplete)
	require.Equal(t, 2, u.Problems[0].Line)
	require.Contains(t, out, file)

	for name, args := range map[string][]string{"the listing is empty": {"-"}, "want files to read": {},
		"shows no USB devices": {"--here", "--sys", t.TempDir()}, "no such file": {file + ".none"}} {
		status, _, errs = command(t, usbCommand(), nil, args...)
		require.Equal(t, exitUnusable, status, name)
		require.Contains(t, errs, name)
	}
	sys := t.TempDir()
	dir := filepath.Join(sys, "bus/usb/devices/usb1")
	require.NoError(t, os.MkdirAll(dir, 0o700))
	for name, s := range map[string]string{"busnum": "1\n", "devnum": "1\n", "maxchild": "4\n", "speed": "480\n",
		"serial": "0000:00:14.0\n"} {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), []byte(s), 0o600))
	}
	status, out, errs = command(t, usbCommand(), nil, "--here", "--sys", sys)
	require.Equal(t, exitHolds, status, errs)
	require.Contains(t, out, "controller 0000:00:14.0: buses 1")
	require.Contains(t, out, "usb1, 480 Mb/s, hub of 4")
}
