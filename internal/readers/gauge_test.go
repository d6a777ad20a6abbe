package readers

import (
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// How busy and how warm a system is, laid out as proc(5) and sysfs describe it; where it tells nothing, that is said.
func TestGauge(t *testing.T) {
	file := func(s string) *fstest.MapFile { return &fstest.MapFile{Data: []byte(s)} }
	proc := fstest.MapFS{"stat": file("cpu  100 20 30 400 50 6 7 8 90 1\ncpu0 1 2 3 4\nintr 5\n")}
	sys := fstest.MapFS{"class/thermal/thermal_zone0/temp": file("47000\n"), "class/thermal/thermal_zone1/temp": file("-274000\n"),
		"class/hwmon/hwmon3/temp2_input": file("61500\n"), "class/hwmon/hwmon3/temp3_input": file("odd\n")}
	g, ok := ReadGauge(proc, sys)
	require.True(t, ok)
	assert.Equal(t, Gauge{Busy: 171, All: 621, WarmestC: 61.5}, g)
	g, ok = ReadGauge(fstest.MapFS{}, fstest.MapFS{})
	assert.False(t, ok)
	assert.Zero(t, g)
}
