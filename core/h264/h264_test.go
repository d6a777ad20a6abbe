package h264_test

import (
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/h264"
	"eventether/core/picture"
)

var (
	f2997 = picture.NewRate(30000, 1001)
	f5994 = picture.NewRate(60000, 1001)
)

// Worked by hand [standard: ITU-T H.264 Table A-1].
func TestLevelsOfTheUsualPictures(t *testing.T) {
	for _, c := range []struct {
		w, h  int
		rate  picture.Rate
		refs  int
		level string
	}{
		{1280, 720, f2997, 4, "3.1"}, {1280, 720, f5994, 4, "3.2"}, {1920, 1080, f2997, 4, "4"},
		{1920, 1080, picture.R(30), 4, "4"},
		{1920, 1080, f5994, 4, "4.2"}, {1920, 1080, f2997, 5, "5"}, {2560, 1440, picture.R(30), 4, "5"},
		{2560, 1440, picture.R(60), 4, "5.1"},
		{3840, 2160, picture.R(30), 4, "5.1"}, {3840, 2160, picture.R(60), 4, "5.2"},
		{4096, 2160, picture.R(30), 4, "5.2"},
		{3840, 2160, picture.R(60), 6, "6"}, // five pictures are all level 5.2 keeps of this size
		{16000, 64, picture.R(25), 1, "6"},  // 1000 macroblocks wide: √(8·MaxFS) decides
	} {
		got := h264.LevelFor(h264.Stream{Width: c.w, Height: c.h, Rate: c.rate, References: c.refs})
		require.NotNil(t, got, "%v", c)
		assert.Equal(t, c.level, got.Name, "%d×%d at %s, %d references", c.w, c.h, c.rate.Name(), c.refs)
	}
	assert.Nil(t, h264.LevelFor(h264.Stream{Width: 16384, Height: 8640, Rate: picture.R(60)}))
	for _, l := range h264.Levels {
		if strings.HasPrefix(l.Name, "4") {
			assert.Equal(t, 4, l.MaxReferences(1920, 1080), l.Name)
		}
	}
	// 1080 lines are 68 rows: 8160 macroblocks, and 30 pictures of them 244,800 a second.
	across, down := h264.Macroblocks(1920, 1080)
	assert.Equal(t, 244800, across*down*30)
}

func TestKeyframesAndBits(t *testing.T) {
	assert.Equal(t, 60, h264.Keyframe(2, f2997)) // 2.002 s
	assert.Equal(t, 50, h264.Keyframe(2, picture.R(25)))
	assert.Equal(t, 1, h264.Keyframe(0, picture.R(25)))
	assert.InDelta(t, 0.0804, h264.BitsPerPixel(5000, 1920, 1080, f2997), 0.0001)
	assert.Equal(t, "veryfast", h264.PresetNamed("veryfast").Name)
	assert.Nil(t, h264.PresetNamed("placebo"))
}

// idc is the level number in the first sequence parameter set of an Annex B stream: the third byte after the NAL
// header.
func idc(stream []byte) (level byte, ok bool) {
	for i := 0; i+7 < len(stream); i++ {
		if stream[i] == 0 && stream[i+1] == 0 && stream[i+2] == 1 && stream[i+3]&0x1f == 7 {
			return stream[i+6], true
		}
	}
	return 0, false
}

func name(idc byte) string {
	if idc%10 == 0 {
		return strconv.Itoa(int(idc / 10))
	}
	return fmt.Sprintf("%d.%d", idc/10, idc%10)
}

// TestLevelsAsTheReferenceEncoderWritesThem compares with what libx264 (Debian's ffmpeg) writes into its streams, for
// over 500 sizes, rates, references and bitrates: they agree in every one.
func TestLevelsAsTheReferenceEncoderWritesThem(t *testing.T) {
	if testing.Short() {
		t.Skip("make test runs it")
	}
	ffmpeg, err := exec.LookPath("ffmpeg")
	require.NoError(t, err, "Debian's ffmpeg is needed")
	rates := []picture.Rate{picture.NewRate(24000, 1001), picture.R(25), f2997, picture.R(30), picture.R(50), f5994,
		picture.R(60), picture.R(120)}
	sizes := [][2]int{{160, 120}, {320, 240}, {426, 240}, {640, 360}, {720, 480}, {720, 576}, {854, 480}, {960, 540},
		{1024, 768}, {1280, 720}, {1440, 1080},
		{1600, 900}, {1920, 1080}, {1080, 1920}, {2048, 1152}, {2560, 1440}, {3440, 1440}, {3840, 2160}, {4096, 2160},
		{2304, 128}}
	dice := rand.New(rand.NewPCG(7, 264))
	type stream struct{ refs, b, kbps, buffer int }
	dir := t.TempDir()
	var group sync.WaitGroup
	var lock sync.Mutex
	var wrong []string
	tried := 0
	type pictures struct {
		w, h    int
		rate    picture.Rate
		streams []stream
	}
	next := make(chan pictures)
	for range 3 {
		group.Go(func() {
			for j := range next {
				args := []string{"-v", "error", "-f", "lavfi", "-i", fmt.Sprintf("color=c=gray:s=%dx%d:r=%s", j.w,
					j.h, j.rate)}
				file := func(k int) string {
					return filepath.Join(dir, fmt.Sprintf("%d-%d-%d-%d-%d.264", j.w, j.h, j.rate.Num, j.rate.Den, k))
				}
				for k, s := range j.streams { // one input, several outputs
					x := fmt.Sprintf("ref=%d:bframes=%d:rc-lookahead=0:threads=1", s.refs, s.b)
					if s.kbps > 0 {
						x += fmt.Sprintf(":vbv-maxrate=%d:vbv-bufsize=%d", s.kbps, s.buffer)
					}
					args = append(args, "-frames:v", "1", "-c:v", "libx264", "-preset", "veryfast", "-profile:v",
						"high", "-x264-params", x, "-f", "h264", "-y", file(k))
				}
				msg, err := exec.Command(ffmpeg, args...).CombinedOutput()
				lock.Lock()
				if err != nil {
					wrong = append(wrong, fmt.Sprintf("%+v: %v %s", j, err, msg))
				}
				for k, s := range j.streams {
					tried++
					bytes, _ := os.ReadFile(file(k))
					got, ok := idc(bytes)
					want := h264.LevelFor(h264.Stream{Width: j.w, Height: j.h, Rate: j.rate, Kbps: float64(s.kbps),
						BufferKbit: float64(s.buffer), References: h264.Kept(s.refs, s.b)})
					if !ok || want == nil || name(got) != want.Name {
						wrong = append(wrong, fmt.Sprintf("%d×%d %s %+v: libx264 writes %s, we say %v", j.w, j.h,
							j.rate, s, name(got), want))
					}
				}
				lock.Unlock()
			}
		})
	}
	for _, size := range sizes {
		for _, r := range rates {
			j := pictures{w: size[0], h: size[1], rate: r}
			for range 4 {
				s := stream{refs: 1 + dice.IntN(6), b: dice.IntN(4)}
				if dice.IntN(3) > 0 {
					s.kbps = []int{200, 700, 1500, 2400, 4000, 6000, 12000, 17500, 25000, 62500, 100000}[dice.IntN(11)]
					s.buffer = s.kbps * (1 + dice.IntN(2))
				}
				j.streams = append(j.streams, s)
			}
			next <- j
		}
	}
	close(next)
	group.Wait()
	assert.GreaterOrEqual(t, tried, 500)
	assert.Empty(t, wrong, "%d of %d differ", len(wrong), tried)
}
