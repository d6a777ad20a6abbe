package ingest

import (
	"context"
	"fmt"
	"net"
	"os/exec"
	"strconv"
	"strings"
	"time"

	"eventether/internal/media"
	"eventether/internal/system"
)

// takeSRT listens by a child of ffmpeg, which hands what comes on to an ingest of our own. A child takes one sender; when that
// is gone the next begins. Its pass phrase is made for this rehearsal, and stands in the list of processes of this computer for
// as long as that lasts.
func (in *Ingest) takeSRT(ctx context.Context) error {
	tool, err := exec.LookPath("ffmpeg")
	if err != nil {
		return media.ErrNoEncoder
	}
	if err := in.takeRTMP(ctx, "127.0.0.1:0"); err != nil {
		return err
	}
	inner := in.address[0] + "/" + in.key
	in.address = nil
	host, _, _ := net.SplitHostPort(in.host())
	port, err := freeUDP(host)
	if err != nil {
		return err
	}
	from := fmt.Sprintf("srt://%s:%d?mode=listener&passphrase=%s&latency=200000", host, port, in.key)
	failed := make(chan error, 1)
	in.over.Go(func() {
		for n := 0; ctx.Err() == nil; n++ {
			cmd := exec.CommandContext(ctx, tool, "-v", "error", "-nostdin", "-analyzeduration", "1000000", "-i", from, "-map", "0:v:0?",
				"-map", "0:a:0?", "-c", "copy", "-f", "flv", "-flvflags", "no_duration_filesize", inner)
			system.EndsWithUs(cmd)
			said := system.Said{Most: 2000}
			cmd.Stderr = &said
			began := time.Now()
			err := cmd.Run()
			if ctx.Err() != nil {
				return
			}
			if n == 0 && err != nil && time.Since(began) < 300*time.Millisecond {
				failed <- fmt.Errorf("SRT cannot be listened for: %s", said.First())
				return
			}
			if text := said.First(); text != "" {
				in.note("ffmpeg says: %s", short(strings.ReplaceAll(text, in.key, "(the key)")))
			}
			select { // a child that ends at once is not begun a hundred times a second
			case <-time.After(200 * time.Millisecond):
			case <-ctx.Done():
			}
		}
	})
	select {
	case err := <-failed:
		return err
	case <-time.After(400 * time.Millisecond):
	}
	for _, h := range in.hosts(strconv.Itoa(port)) {
		in.address = append(in.address, "srt://"+h+"?mode=caller")
	}
	return nil
}

// freeUDP is a port nobody has at the moment.
func freeUDP(host string) (int, error) {
	c, err := net.ListenPacket("udp", net.JoinHostPort(host, "0"))
	if err != nil {
		return 0, err
	}
	defer c.Close()
	return c.LocalAddr().(*net.UDPAddr).Port, nil
}
