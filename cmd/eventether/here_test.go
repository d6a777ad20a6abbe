package main

import (
	"encoding/json"
	"os"
	"runtime"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/internal/readers"
)

// This very computer is read whether or not it has USB: as many threads as the language counts at least, and the drive
// the tests write to.
func TestHere(t *testing.T) {
	if _, err := os.Stat("/proc/cpuinfo"); err != nil {
		t.Skip("needs Linux' own files")
	}
	status, out, errs := command(t, hereCommand(), nil, "--json")
	require.Equal(t, exitHolds, status, errs)
	var h readers.Here
	require.NoError(t, json.Unmarshal([]byte(out), &h))
	require.GreaterOrEqual(t, h.Machine.Threads, runtime.NumCPU())
	require.Positive(t, h.Machine.MemoryGB)
	require.NotNil(t, h.USB)

	status, out, errs = command(t, hereCommand(), nil)
	require.Equal(t, exitHolds, status, errs)
	for _, line := range h.Machine.Says[1:2] { // the memory; free space moves
		require.Contains(t, out, line)
	}
}

// Reports of other systems are read by the command too; what it prints as JSON is read again as it was.
func TestHereOfAReport(t *testing.T) {
	status, out, errs := command(t, hereCommand(), nil, "--json", "../../internal/readers/testdata/reports/profile.json")
	require.Equal(t, exitHolds, status, errs)
	var h readers.Here
	require.NoError(t, json.Unmarshal([]byte(out), &h))
	require.Equal(t, 16.0, h.Machine.MemoryGB)
	again, err := readers.ReadReports([]readers.Text{{Name: "out", Data: []byte(out)}})
	require.NoError(t, err)
	require.Equal(t, &h, again)
	status, out, errs = command(t, hereCommand(), nil, "../../internal/readers/testdata/reports/devices.json")
	require.Equal(t, exitHolds, status, errs)
	require.Contains(t, out, "34.2 GB of memory")
	status, _, errs = command(t, hereCommand(), []byte("{}"), "-")
	require.Equal(t, exitUnusable, status)
	require.Contains(t, errs, "nothing in it is known")
}
