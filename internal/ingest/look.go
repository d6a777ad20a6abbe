package ingest

import (
	"bytes"
	"context"
	"image"
	"image/jpeg"
	"os/exec"
	"time"

	"eventether/core/look"
	"eventether/internal/system"
)

// keyframe is a coded picture that can be decoded alone, with start codes.
type keyframe struct {
	at   float64 // when it is shown
	data []byte
}

// wants hands a keyframe to be looked at, unless one is being looked at.
func (in *Ingest) wants(k keyframe) {
	select {
	case in.looker <- k:
	default:
	}
}

// look decodes keyframes, at most one every lookEvery, each by a child that ends with it.
func (in *Ingest) look(ctx context.Context) {
	var last time.Time
	for {
		select {
		case <-ctx.Done():
			return
		case k := <-in.looker:
			if time.Since(last) < lookEvery*9/10 {
				continue
			}
			last = time.Now()
			shot := decoded(ctx, k.data)
			if shot == nil {
				continue
			}
			img, err := jpeg.Decode(bytes.NewReader(shot))
			if err != nil {
				continue
			}
			in.mu.Lock()
			in.shot, in.shotAt = shot, k.at
			if y, ok := img.(*image.YCbCr); ok && in.seen.Frames() < 5000 {
				in.seen.Add(lumaOf(k.at, y))
			}
			in.mu.Unlock()
		}
	}
}

// lumaOf is the luma of a picture without the room between its rows.
func lumaOf(at float64, y *image.YCbCr) look.Frame {
	w, h := y.Rect.Dx(), y.Rect.Dy()
	f := look.Frame{At: at, Width: w, Height: h, Luma: make([]byte, w*h)}
	for row := range h {
		copy(f.Luma[row*w:(row+1)*w], y.Y[row*y.YStride:])
	}
	return f
}

// decoded is a keyframe as a small JPEG; nil of what cannot be decoded.
func decoded(ctx context.Context, data []byte) []byte {
	tool, err := exec.LookPath("ffmpeg")
	if err != nil {
		return nil
	}
	ctx, cancel := context.WithTimeout(ctx, decodedWithin)
	defer cancel()
	cmd := exec.CommandContext(ctx, tool, "-v", "error", "-threads", "1", "-f", "h264", "-i", "pipe:0", "-frames:v", "1", "-vf", "scale=320:-2", "-c:v", "mjpeg",
		"-q:v", "5", "-f", "image2pipe", "pipe:1")
	system.EndsWithUs(cmd)
	cmd.Stdin = bytes.NewReader(data)
	out, err := cmd.Output()
	if err != nil || len(out) == 0 || len(out) > 1<<20 {
		return nil
	}
	return out
}
