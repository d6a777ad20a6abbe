package sound_test

import (
	"encoding/binary"
	"fmt"
	"math"
	"os/exec"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/sound"
)

const kHz = 8 // of the recordings below

// samples makes sound with Debian's ffmpeg from its own noise source, through a filter: 16-bit, one channel.
func samples(t *testing.T, filter string) []float64 {
	t.Helper()
	raw, err := exec.Command("ffmpeg", "-v", "error", "-f", "lavfi", "-i",
		fmt.Sprintf("anoisesrc=seed=7:duration=1.2:sample_rate=%d000,%s", kHz, filter), "-f", "s16le", "-").Output()
	require.NoError(t, err)
	out := make([]float64, len(raw)/2)
	for i := range out {
		out[i] = float64(int16(binary.LittleEndian.Uint16(raw[2*i:])))
	}
	return out
}

// lag finds by cross-correlation how many ms b is behind a, within 300 either way.
func lag(a, b []float64) float64 {
	best, at := math.Inf(-1), 0
	for d := -300 * kHz; d <= 300*kHz; d++ {
		sum := 0.0
		for i := max(0, -d); i < len(a) && i+d < len(b); i++ {
			sum += a[i] * b[i+d]
		}
		if sum > best {
			best, at = sum, d
		}
	}
	return float64(at) / kHz
}

// The sound that comes in with a picture is late by what the picture takes; a microphone's is early against it. What is
// planned for the microphone, applied with ffmpeg's own delay filter, brings both together: found again by
// cross-correlation.
func TestPlannedDelayAgainstARecording(t *testing.T) {
	for _, c := range []struct{ picture, own float64 }{{167, 56}, {100, 23}, {267, 2}} {
		scene := samples(t, fmt.Sprintf("adelay=%v", c.picture))
		microphone := samples(t, fmt.Sprintf("adelay=%v", c.own))
		require.InDelta(t, c.own-c.picture, lag(scene, microphone), 0.5, "before")
		set := sound.DelayOf(c.picture-c.own, 30000.0/1001)
		mended := samples(t, fmt.Sprintf("adelay=%v,adelay=%v", c.own, set.Ms))
		require.InDelta(t, 0, lag(scene, mended), 0.5, "after")
		inSamples := samples(t, fmt.Sprintf("adelay=%v,adelay=%dS", c.own, set.Samples*kHz/48))
		require.InDelta(t, 0, lag(scene, inSamples), 0.5, "the same in samples")
	}
}
