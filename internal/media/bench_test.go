package media

import (
	"bytes"
	"encoding/binary"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"syscall"
	"testing"
	"time"

	"eventether/core/look"
)

// benchFilm is twenty seconds of 1080p60 with sound, as one records it.
func benchFilm(b *testing.B) string {
	b.Helper()
	path := filepath.Join(b.TempDir(), "bench.mp4")
	out, err := exec.Command("ffmpeg", "-v", "error", "-f", "lavfi", "-i", "testsrc2=size=1920x1080:rate=60:duration=20,noise=alls=6:allf=t", "-f", "lavfi", "-i",
		"anoisesrc=color=pink:amplitude=0.2:duration=20", "-c:v", "libx264", "-preset", "veryfast", "-crf", "20", "-g", "120", "-c:a", "aac", "-ac", "2", path).CombinedOutput()
	if err != nil {
		b.Fatal(err, string(out))
	}
	return path
}

// Inspecting against ffmpeg's decoding alone, in turns; the aim is 1.2.
func BenchmarkInspect(b *testing.B) {
	path := benchFilm(b)
	inTurns(b, "decoding", func() error {
		return exec.Command("ffmpeg", "-v", "error", "-nostdin", "-i", path, "-f", "null", "-").Run()
	}, func() error {
		_, err := Inspect(b.Context(), path, InspectOptions{Kbps: 6000, Times: true}, nil)
		return err
	})
}

// inTurns runs a reference and ours in turns, and reports how many times as long ours take and how much more of the processors
// they use, children and all: in the middle of all turns, since others may use the machine in one of them.
func inTurns(b *testing.B, reference string, theirs, ours func() error) {
	spent := func(of func() error) (clock, processor float64) {
		used := func() (sum float64) {
			for _, who := range []int{syscall.RUSAGE_SELF, syscall.RUSAGE_CHILDREN} {
				var u syscall.Rusage
				if err := syscall.Getrusage(who, &u); err != nil {
					b.Fatal(err)
				}
				sum += time.Duration(u.Utime.Nano() + u.Stime.Nano()).Seconds()
			}
			return sum
		}
		began, before := time.Now(), used()
		if err := of(); err != nil {
			b.Fatal(err)
		}
		return time.Since(began).Seconds(), used() - before
	}
	var clocks, processors []float64
	for b.Loop() {
		clock, processor := spent(theirs)
		clock2, processor2 := spent(ours)
		clocks, processors = append(clocks, clock2/clock), append(processors, processor2/processor)
	}
	middle := func(of []float64) float64 { return slices.Sorted(slices.Values(of))[len(of)/2] }
	b.ReportMetric(middle(clocks), "×"+reference)
	b.ReportMetric(middle(processors), "×"+reference+"-processor")
}

// Loudness, range and true peak of ten minutes of stereo against the ebur128 filter's, in turns, of the same samples: ours are
// in memory, as integers of 16 bits, and theirs in a file that was just read. The aim is 1.
func BenchmarkLoudness(b *testing.B) {
	for name, made := range map[string]string{
		"noise": "anoisesrc=color=pink:amplitude=0.3:duration=600:sample_rate=48000",
		"tone":  "sine=frequency=997:duration=600:sample_rate=48000", // as high everywhere
	} {
		b.Run(name, func(b *testing.B) {
			path := filepath.Join(b.TempDir(), "sound.wav")
			if out, err := exec.Command("ffmpeg", "-v", "error", "-f", "lavfi", "-i", made, "-ac", "2", path).CombinedOutput(); err != nil {
				b.Fatal(err, string(out))
			}
			raw, err := os.ReadFile(path)
			if err != nil {
				b.Fatal(err)
			}
			raw = raw[bytes.Index(raw, []byte("data"))+8:]
			left, right := make([]float32, 4800), make([]float32, 4800)
			inTurns(b, "ebur128", func() error {
				return exec.Command("ffmpeg", "-v", "error", "-nostdin", "-i", path, "-af", "ebur128=peak=true", "-f", "null", "-").Run()
			}, func() error {
				l := look.NewLoudness(48000, 2)
				for block := range slices.Chunk(raw, 4*len(left)) {
					n := len(block) / 4
					for i := range n {
						left[i] = float32(int16(binary.LittleEndian.Uint16(block[4*i:]))) / 32768
						right[i] = float32(int16(binary.LittleEndian.Uint16(block[4*i+2:]))) / 32768
					}
					l.Add(left[:n], right[:n])
				}
				_, _, _ = l.Integrated(), l.Range(), l.TruePeak()
				return nil
			})
		})
	}
}

// What inspecting takes of memory in this process, for a clip and for one six times as long.
func BenchmarkInspectMemory(b *testing.B) {
	short := filepath.Join(b.TempDir(), "short.mkv")
	if out, err := exec.Command("ffmpeg", "-v", "error", "-f", "lavfi", "-i", "testsrc2=size=1280x720:rate=30:duration=10", "-c:v", "libx264", "-preset", "ultrafast", short).CombinedOutput(); err != nil {
		b.Fatal(err, string(out))
	}
	long := filepath.Join(b.TempDir(), "long.mkv")
	if out, err := exec.Command("ffmpeg", "-v", "error", "-stream_loop", "5", "-i", short, "-c", "copy", long).CombinedOutput(); err != nil {
		b.Fatal(err, string(out))
	}
	for name, path := range map[string]string{"10s": short, "60s": long} {
		b.Run(name, func(b *testing.B) {
			b.ReportAllocs()
			for b.Loop() {
				if _, err := Inspect(b.Context(), path, InspectOptions{}, nil); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
