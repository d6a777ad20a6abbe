package media_test

import (
	"context"
	"errors"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/fact"
	"eventether/core/h264"
	"eventether/core/picture"
	"eventether/internal/media"
)

func small(folder string) media.Options {
	return media.Options{Width: 320, Height: 180, Rate: picture.R(30), Each: 100 * time.Millisecond, Folder: folder}
}

// leftovers are our files in a folder.
func leftovers(t *testing.T, folder string) []string {
	t.Helper()
	files, err := filepath.Glob(filepath.Join(folder, "eventether-*"))
	require.NoError(t, err)
	return files
}

// Measured with Debian's ffmpeg: every figure there, with its bounds.
func TestMeasure(t *testing.T) {
	folder, tmp := t.TempDir(), t.TempDir()
	t.Setenv("TMPDIR", tmp)
	var seen []string
	r, err := media.Measure(context.Background(), small(folder), func(p media.Progress) {
		seen = append(seen, p.Step)
		assert.LessOrEqual(t, p.Done, p.Of)
	})
	require.NoError(t, err)
	assert.Contains(t, seen, "H.264 at veryfast")
	can := &r.Computes
	for name, f := range map[string]*fact.Fact{"mjpeg": can.MJPEGMpxS, "h264": can.H264MpxS,
		"convert": can.ConvertMpxS, "scale": can.ScaleMpxS, "deinterlace": can.DeinterlaceMpxS, "write": r.Write,
		"free": r.FreeGB} {
		require.NotNil(t, f, "%s: %+v", name, r.Steps)
		require.NoError(t, f.Check(), name)
		assert.Equal(t, fact.Measured, f.From)
		assert.NotEmpty(t, f.At)
	}
	speed := func(name string) float64 { return (*can.AtPreset(name)).Value }
	for _, p := range h264.Presets {
		require.NotNil(t, *can.AtPreset(p.Name), "%s: %+v", p.Name, r.Steps)
	}
	// The presets are given on: far apart they are so many times as much work that no load of the machine hides it.
	assert.Greater(t, speed("ultrafast"), speed("slow"))
	assert.NotEmpty(t, can.Hardware)
	assert.Contains(t, []string{"mains", "battery", "unknown"}, can.Measured.On)
	assert.NotEmpty(t, can.Measured.Slowdown)
	assert.Empty(t, leftovers(t, folder))
	assert.Empty(t, leftovers(t, tmp))
}

// Broken off in the middle: nothing left behind, no child left running.
func TestCancelled(t *testing.T) {
	folder, tmp := t.TempDir(), t.TempDir()
	t.Setenv("TMPDIR", tmp)
	ctx, cancel := context.WithCancel(context.Background())
	_, err := media.Measure(ctx, small(folder), func(p media.Progress) {
		if p.Step == "H.264 at faster" {
			cancel()
		}
	})
	require.ErrorIs(t, err, context.Canceled)
	assert.Empty(t, leftovers(t, folder))
	assert.Empty(t, leftovers(t, tmp))
	assert.Empty(t, children(t))
}

// children are processes this one has started and that still run, as /proc has them.
func children(t *testing.T) (out []string) {
	t.Helper()
	stats, err := filepath.Glob("/proc/[0-9]*/stat")
	require.NoError(t, err)
	for _, file := range stats {
		text, err := os.ReadFile(file)
		if err != nil {
			continue // it ended meanwhile
		}
		f := strings.Fields(string(text[strings.LastIndexByte(string(text), ')')+1:]))
		if len(f) > 1 && f[1] == strconv.Itoa(os.Getpid()) && f[0] != "Z" {
			out = append(out, file)
		}
	}
	return out
}

func TestWhatCannotBeMeasured(t *testing.T) {
	o := small("")
	o.Width = 8
	_, err := media.Measure(context.Background(), o, nil)
	require.ErrorContains(t, err, "8 × 180")
	_, err = media.Measure(context.Background(), small(filepath.Join(t.TempDir(), "none")), nil)
	require.ErrorContains(t, err, "is not there")
	t.Setenv("PATH", t.TempDir())
	_, err = media.Measure(context.Background(), small(""), nil)
	require.ErrorIs(t, err, media.ErrNoEncoder)
}

// A folder that vanishes while measuring fails for itself; the rest is measured.
func TestAFolderThatVanishes(t *testing.T) {
	folder := filepath.Join(t.TempDir(), "stick")
	require.NoError(t, os.Mkdir(folder, 0o700))
	r, err := media.Measure(context.Background(), small(folder), func(p media.Progress) {
		if p.Step == "scaling" {
			require.NoError(t, os.Remove(folder))
		}
	})
	require.NoError(t, err)
	assert.Nil(t, r.Write)
	assert.NotNil(t, r.Computes.EncodeMpxS)
	end := r.Steps[len(r.Steps)-1]
	assert.NotEmpty(t, end.Failed)
}

// A disk that is full before the share is written: the step says so, the rest is measured, nothing is left. The disk is
// a real, small one, mounted where only a child of this test sees it.
func TestAFullDisk(t *testing.T) {
	if disk := os.Getenv("EVENTETHER_TEST_DISK"); disk != "" {
		require.NoError(t, syscall.Mount("tmpfs", disk, "tmpfs", 0, "size=40m"))
		o := small(disk)
		o.MostShare = 4 // as if somebody else filled it meanwhile
		r, err := media.Measure(context.Background(), o, func(media.Progress) {})
		require.NoError(t, err)
		require.Nil(t, r.Write)
		require.NotNil(t, r.Computes.EncodeMpxS, "the rest keeps working")
		last := r.Steps[len(r.Steps)-1]
		require.Contains(t, last.Name, disk)
		require.Contains(t, last.Failed, "no space left on device")
		require.Empty(t, leftovers(t, disk))
		return
	}
	cmd := exec.Command(os.Args[0], "-test.run=^TestAFullDisk$", "-test.v")
	cmd.Env = append(os.Environ(), "EVENTETHER_TEST_DISK="+t.TempDir())
	cmd.SysProcAttr = &syscall.SysProcAttr{Cloneflags: syscall.CLONE_NEWUSER | syscall.CLONE_NEWNS,
		UidMappings: []syscall.SysProcIDMap{{ContainerID: 0, HostID: os.Getuid(), Size: 1}},
		GidMappings: []syscall.SysProcIDMap{{ContainerID: 0, HostID: os.Getgid(), Size: 1}}}
	out, err := cmd.CombinedOutput()
	if errors.Is(err, syscall.EPERM) || errors.Is(err, syscall.ENOSPC) || errors.Is(err, syscall.EINVAL) {
		t.Skipf("this machine lets nobody mount a disk of his own: %v", err)
	}
	require.NoError(t, err, "%s", out)
	require.Contains(t, string(out), "--- PASS: TestAFullDisk")
}
