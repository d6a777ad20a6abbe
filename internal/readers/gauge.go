package readers

import (
	"io/fs"
	"strconv"
	"strings"
)

// Gauge is how busy and how warm a system is at a moment.
type Gauge struct {
	Busy, All uint64  // of the processor, in ticks since it started
	WarmestC  float64 // of its sensors, °C; 0 where it tells none
}

// ReadGauge reads folders laid out like /proc and /sys [documented: proc(5); sysfs-class-thermal and hwmon, thousandths of a
// degree]; ok is false where the system does not tell how busy it is.
func ReadGauge(proc, sys fs.FS) (g Gauge, ok bool) {
	for line := range lines(proc, "stat") {
		f := strings.Fields(line)
		if len(f) < 5 || f[0] != "cpu" {
			continue
		}
		for i, s := range f[1:] {
			n, err := strconv.ParseUint(s, 10, 64)
			if err != nil || i > 7 { // guests are in user already
				break
			}
			g.All += n
			if i != 3 && i != 4 { // idle, waiting for a drive
				g.Busy += n
			}
		}
		ok = true
		break
	}
	for _, pattern := range []string{"class/thermal/thermal_zone*/temp", "class/hwmon/hwmon*/temp*_input"} {
		names, _ := fs.Glob(sys, pattern)
		for _, name := range names {
			text, _ := fs.ReadFile(sys, name)
			if v, err := strconv.ParseFloat(strings.TrimSpace(string(text)), 64); err == nil && v > 0 && v < 150_000 {
				g.WarmestC = max(g.WarmestC, v/1000)
			}
		}
	}
	return g, ok
}
