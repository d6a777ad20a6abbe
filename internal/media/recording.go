package media

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"os/exec"
	"strconv"
	"strings"
	"time"

	"eventether/core/picture"
	"eventether/internal/system"
)

// Film is what a test recording really is.
type Film struct {
	File    string  `json:"file"`
	Bytes   int64   `json:"bytes"`
	Seconds float64 `json:"seconds"`
	Kbps    float64 `json:"kbps" doc:"Size × 8 ÷ time: what is trusted"`
	// DeclaredKbps is what the file says of itself, which a player shows; 0 when it says nothing.
	DeclaredKbps float64 `json:"declaredKbps"`
	Agrees       bool    `json:"agrees" doc:"Both say the same, within a tenth"`
	Width        int     `json:"width"`
	Height       int     `json:"height"`
	Rate         string  `json:"rate"`
	BitsAPixel   float64 `json:"bitsAPixel"`
	Tracks       int     `json:"tracks" doc:"Sound tracks"`
}

// TypedRecording is what a recording comes to whose size (millions of bytes) and length (minutes) somebody typed;
// declared is what a player shows of it in kb/s, 0 for nothing.
func TypedRecording(mb, minutes, declared float64) Film {
	f := Film{Bytes: int64(math.Round(mb * 1e6)), Seconds: minutes * 60, DeclaredKbps: declared}
	f.Kbps = math.Round(float64(f.Bytes) * 8 / f.Seconds / 1000)
	f.Agrees = declared == 0 || math.Abs(declared-f.Kbps) <= f.Kbps/10
	return f
}

// probing is how long reading a recording may take, whatever its size: only its index is read.
const probing = 20 * time.Second

// readable are the formats recordings come in. Lists of other files are none: they would be opened too.
const readable = "mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,mpegts,mpeg,flv,mxf,asf,wav,w64,mp3,aac,flac,ogg,ac3,dv,h264,hevc,mjpeg,mpegvideo,nut,ivf"

// reading is how many recordings are read at once; the others wait for their turn.
var reading = make(chan struct{}, 2)

// ReadRecording reads a recording with ffprobe: never the whole of it, however large it is.
func ReadRecording(ctx context.Context, path string) (*Film, error) {
	st, err := plainFile(path)
	if err != nil {
		return nil, err
	}
	probe, err := exec.LookPath("ffprobe")
	if err != nil {
		return nil, ErrNoEncoder
	}
	ctx, cancel := context.WithTimeout(ctx, probing)
	defer cancel()
	select {
	case reading <- struct{}{}:
		defer func() { <-reading }()
	case <-ctx.Done():
		return nil, fmt.Errorf("%q waited too long for its turn: two recordings are read at once", path)
	}
	cmd := exec.CommandContext(ctx, probe, "-v", "error", "-protocol_whitelist", "file", "-format_whitelist", readable,
		"-show_format", "-show_streams", "-of", "json", "file:"+path)
	system.EndsWithUs(cmd)
	var said strings.Builder
	cmd.Stderr = &said
	out, err := cmd.Output()
	if err != nil {
		return nil, fmt.Errorf("%q cannot be read as a recording: %s", path, last(said.String()))
	}
	var p struct {
		Format struct {
			Duration string `json:"duration"`
		} `json:"format"`
		Streams []struct {
			Type     string `json:"codec_type"`
			Width    int    `json:"width"`
			Height   int    `json:"height"`
			Rate     string `json:"avg_frame_rate"`
			BitRate  string `json:"bit_rate"`
			Duration string `json:"duration"`
		} `json:"streams"`
	}
	if err := json.Unmarshal(out, &p); err != nil {
		return nil, fmt.Errorf("%q: what ffprobe says of it cannot be read: %w", path, err)
	}
	r := &Film{File: path, Bytes: st.Size()}
	r.Seconds, _ = strconv.ParseFloat(p.Format.Duration, 64)
	video := false
	for _, s := range p.Streams {
		switch s.Type {
		case "audio":
			r.Tracks++
		case "video":
			if video {
				continue
			}
			video = true
			r.Width, r.Height = s.Width, s.Height
			bits, _ := strconv.ParseFloat(s.BitRate, 64)
			r.DeclaredKbps = math.Round(bits / 1000)
			if rate, err := picture.ParseRate(s.Rate); err == nil {
				r.Rate = rate.String()
				r.BitsAPixel = rate.Float()
			}
			if d, err := strconv.ParseFloat(s.Duration, 64); err == nil && r.Seconds == 0 {
				r.Seconds = d
			}
		}
	}
	if !video || r.Seconds <= 0 {
		return nil, fmt.Errorf("%q holds no moving picture, or does not say how long it is", path)
	}
	r.Kbps = math.Round(float64(r.Bytes) * 8 / 1000 / r.Seconds)
	r.Agrees = r.DeclaredKbps == 0 || math.Abs(r.DeclaredKbps-r.Kbps) <= 0.1*r.Kbps
	if px := float64(r.Width*r.Height) * r.BitsAPixel; px > 0 {
		r.BitsAPixel = math.Round(r.Kbps*1000/px*1000) / 1000
	}
	return r, nil
}
