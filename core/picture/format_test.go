package picture

import (
	"bytes"
	"fmt"
	"os/exec"
	"testing"

	"github.com/stretchr/testify/require"
)

// run calls Debian's ffmpeg, which the tests need; make test installs it.
func run(t *testing.T, stdin []byte, args ...string) []byte {
	t.Helper()
	cmd := exec.Command("ffmpeg", append([]string{"-hide_banner", "-loglevel", "error", "-nostdin"}, args...)...)
	if stdin != nil {
		cmd.Args = append([]string{"ffmpeg", "-hide_banner", "-loglevel", "error"}, args...)
		cmd.Stdin = bytes.NewReader(stdin)
	}
	var out, errs bytes.Buffer
	cmd.Stdout, cmd.Stderr = &out, &errs
	require.NoError(t, cmd.Run(), "ffmpeg %v: %s", args, errs.String())
	return out.Bytes()
}

// Bytes a frame of every raw format against what Debian's ffmpeg writes for one frame of that size.
func TestFrameBytesAgainstFFmpeg(t *testing.T) {
	if testing.Short() {
		t.Skip("make test runs it")
	}
	names := map[Format]string{NV12: "nv12", I420: "yuv420p", YUY2: "yuyv422", UYVY: "uyvy422", RGB24: "rgb24",
		BGRA: "bgra", P010: "p010le"}
	sizes := [][2]int{{1280, 720}, {1920, 1080}, {2560, 1440}, {3440, 1440}, {640, 480}, {854, 480}, {722, 406}}
	for _, f := range Raw {
		for _, s := range sizes {
			t.Run(fmt.Sprintf("%s %dx%d", f, s[0], s[1]), func(t *testing.T) {
				source := fmt.Sprintf("color=size=%dx%d:rate=1", s[0], s[1])
				var out []byte
				if f == V210 {
					out = run(t, nil, "-f", "lavfi", "-i", source, "-frames:v", "1", "-c:v", "v210", "-f", "rawvideo",
						"-")
				} else {
					out = run(t, nil, "-f", "lavfi", "-i", source, "-frames:v", "1", "-pix_fmt", names[f], "-f",
						"rawvideo", "-")
				}
				want, err := f.FrameBytes(s[0], s[1])
				require.NoError(t, err)
				require.Equal(t, want, int64(len(out)))
			})
		}
	}
}

// The worked figures.
func TestWorkedStreams(t *testing.T) {
	for _, c := range []struct {
		f    Format
		w, h int
		r    Rate
		want int64
	}{
		{YUY2, 1920, 1080, R(60), 248_832_000},
		{NV12, 1920, 1080, R(60), 186_624_000},
		{YUY2, 1920, 1080, R(30), 124_416_000},
		{NV12, 3840, 2160, R(30), 373_248_000},
		{NV12, 1280, 720, R(30), 41_472_000},
		{YUY2, 640, 480, R(30), 18_432_000},
		{BGRA, 1920, 1080, R(60), 497_664_000},
	} {
		num, den, err := c.f.Stream(c.w, c.h, c.r)
		require.NoError(t, err)
		require.Equal(t, c.want, num/den, "%s %dx%d", c.f, c.w, c.h)
		require.Zero(t, num%den)
	}
	line, err := V210.FrameBytes(1920, 1)
	require.NoError(t, err)
	require.EqualValues(t, 5120, line, "1920 wide is 5120 bytes a line")
}

func TestCompressedHasNoFixedSize(t *testing.T) {
	for _, f := range []Format{MJPEG, H264, "YUV9"} {
		_, err := f.FrameBytes(1920, 1080)
		require.ErrorContains(t, err, string(f))
	}
}
