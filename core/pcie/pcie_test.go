package pcie

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/picture"
)

// The figures. [standard: PCI Express Base, from memory]
func TestLinks(t *testing.T) {
	for gen, want := range map[int]float64{1: 250, 2: 500, 3: 984.6, 4: 1969.2, 5: 3938.5} {
		require.InDelta(t, want, Link{gen, 1}.CodedMBps(), 0.05)
	}
	// A USB card on one Gen 2 lane carries 410 MB/s for all its ports.
	require.InDelta(t, 410, Link{2, 1}.UsableMBps(), 1e-9)
	require.InDelta(t, 1640, Link{2, 4}.UsableMBps(), 1e-9)
	require.Equal(t, Link{2, 4}, Meet(Link{3, 4}, Link{2, 16}))
	require.Zero(t, Link{9, 4}.UsableMBps())
	require.Zero(t, Link{}.UsableMBps())
	// 2160p60 YUY2 fits Gen 2 ×4; packed 10-bit 4:4:4 in 4 bytes a pixel does not.
	yuy2, _, err := picture.YUY2.Stream(3840, 2160, picture.R(60))
	require.NoError(t, err)
	require.Less(t, float64(yuy2)/1e6, Link{2, 4}.UsableMBps())
	require.Greater(t, 3840*2160*4*60/1e6, Link{2, 4}.UsableMBps())
}

func TestWords(t *testing.T) {
	for g := 1; g <= MaxGeneration; g++ {
		for _, n := range Lanes {
			l := Link{g, n}
			back, err := Parse(l.Word())
			require.NoError(t, err)
			require.Equal(t, l, back)
		}
	}
	for _, bad := range []string{"", "3", "3x", "x4", "0x4", "6x1", "3x3", "03x4", "3x4 ", "-3x4", "3x32"} {
		_, err := Parse(bad)
		require.ErrorContains(t, err, "want generation and lanes such as 3x4", bad)
	}
}
