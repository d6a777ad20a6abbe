package h264_test

import (
	"os/exec"
	"regexp"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/h264"
)

// What a coder holds back. The lookahead of every preset stands in what libx264 itself writes into a file, in its
// options.
func TestDelayOfTheCoder(t *testing.T) {
	option := regexp.MustCompile(`rc_lookahead=(\d+)`)
	for i := range h264.Presets {
		p := &h264.Presets[i]
		out, err := exec.Command("ffmpeg", "-hide_banner", "-loglevel", "error", "-f", "lavfi", "-i",
			"color=size=64x64:rate=30:duration=0.1", "-c:v", "libx264", "-preset", p.Name, "-f", "h264", "-").Output()
		require.NoError(t, err, p.Name)
		said := option.FindSubmatch(out)
		frames := 0 // where it looks at none, it says nothing
		if said != nil {
			frames, err = strconv.Atoi(string(said[1]))
			require.NoError(t, err)
		}
		require.Equal(t, float64(frames+2), h264.DelayFrames(p, 1), p.Name)
	}
	slow := h264.PresetNamed("slow")
	require.Equal(t, []float64{52, 66, 78}, []float64{h264.DelayFrames(slow, 1), h264.DelayFrames(slow, 12),
		h264.DelayFrames(slow, 24)})
}
