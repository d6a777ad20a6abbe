//go:build linux

package ingest

import (
	"os/exec"
	"path/filepath"
	"syscall"
	"testing"
	"time"
)

// Four senders of 1080p60 at once, already coded: how much of a core our own process takes meanwhile, and what its children of
// ffmpeg take besides; the aim is under one core of our own.
func BenchmarkFourIngests(b *testing.B) {
	path := filepath.Join(b.TempDir(), "sent.flv")
	if out, err := exec.Command("ffmpeg", "-v", "error", "-f", "lavfi", "-i", "testsrc2=size=1920x1080:rate=60:duration=20,noise=alls=10:allf=t", "-f", "lavfi", "-i", "sine",
		"-c:v", "libx264", "-preset", "ultrafast", "-b:v", "6000k", "-maxrate", "6000k", "-bufsize", "6000k", "-g", "120", "-c:a", "aac", "-t", "20", path).CombinedOutput(); err != nil {
		b.Fatal(err, string(out))
	}
	used := func(who int) time.Duration {
		var r syscall.Rusage
		_ = syscall.Getrusage(who, &r)
		return time.Duration(r.Utime.Nano() + r.Stime.Nano())
	}
	for b.Loop() {
		var senders []*exec.Cmd
		var all []*Ingest
		for range 4 {
			in, err := Start(Options{Transport: "rtmp", Kbps: 6000})
			if err != nil {
				b.Fatal(err)
			}
			all = append(all, in)
			senders = append(senders, exec.Command("ffmpeg", "-v", "error", "-re", "-i", path, "-c", "copy", "-f", "flv", in.Addresses()[0]+"/"+in.Key()))
		}
		own, children, began := used(syscall.RUSAGE_SELF), used(syscall.RUSAGE_CHILDREN), time.Now()
		for _, s := range senders {
			if err := s.Start(); err != nil {
				b.Fatal(err)
			}
		}
		frames, lost := 0, 0
		for i, s := range senders {
			if err := s.Wait(); err != nil {
				b.Fatal(err)
			}
			st := all[i].Standing()
			frames, lost = frames+st.Arrived.Came.Frames, lost+st.Going.Lost
		}
		lasted := time.Since(began)
		for _, in := range all {
			in.Close()
		}
		b.ReportMetric(used(syscall.RUSAGE_SELF).Seconds()-own.Seconds(), "s-own")
		b.ReportMetric((used(syscall.RUSAGE_SELF)-own).Seconds()/lasted.Seconds(), "cores-own")
		b.ReportMetric((used(syscall.RUSAGE_CHILDREN)-children).Seconds()/lasted.Seconds(), "cores-ffmpeg")
		b.ReportMetric(float64(frames), "frames")
		b.ReportMetric(float64(lost), "lost")
	}
}
