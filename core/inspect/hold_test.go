package inspect_test

import (
	"encoding/json"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/inspect"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/sheet"
	"eventether/core/verdict"
)

// On the streams and recordings of random rigs: of what nobody said and nothing came of, no line is as it is set, and none does no
// harm; what is held always encodes, without a list that is null; and a line's words stand where it is not as it is set.
func TestSilenceIsNeverSlack(t *testing.T) {
	parts, streams := 0, 0
	for seed := range 400 {
		v := judge.Rig(rigtest.Rig(uint64(seed) + 1))
		for _, part := range sheet.Of(v).Parts {
			w, ok := sheet.WantedOf(v, part.ID)
			if !ok {
				continue
			}
			parts++
			if w.Stream {
				streams++
			}
			for name, a := range map[string]*inspect.Arrived{"nothing": {}, "says nothing": {Video: &inspect.Video{}, Audio: &inspect.Audio{}}} {
				held, ok := inspect.Hold(v, part.ID, a)
				require.True(t, ok)
				for _, l := range held.Lines {
					calm := l.State == limit.Slack || l.State == limit.Taut
					assert.False(t, calm && l.ID != "audio-tracks", "%d, %s, %s: %s is %s", seed, part.ID, name, l.ID, l.State)
					assert.NotEmpty(t, l.Says, "%d, %s, %s: %s", seed, part.ID, name, l.ID)
				}
				assert.NotEqual(t, "slack", held.State)
				if w.Stream && w.Ingest == nil {
					assert.Len(t, held.Unknown, 7)
				}
				text, err := json.Marshal(held)
				require.NoError(t, err)
				assert.NotContains(t, string(text), "null")
			}
		}
	}
	assert.Greater(t, parts, 200)
	assert.Greater(t, streams, 100)
}

// Each limit of a destination refuses what is past it, and takes what is just within; of those nobody has looked up it is said.
func TestRefuses(t *testing.T) {
	came := func(kbps, sound float64, keys float64) inspect.Came {
		tr := inspect.NewTraffic(0)
		stream(tr, 30*30, 30, int(30*keys), 0, func(int) int { return int(kbps * 1000 / 8 / 30) })
		for n := range 900 {
			tr.Sound(inspect.Packet{At: float64(n) / 30, Bytes: int(sound * 1000 / 8 / 30)})
		}
		return tr.Came()
	}
	video := func(w, h int) *inspect.Video { return &inspect.Video{Codec: "h264", Width: w, Height: h} }
	least := 1000.0
	full := rig.Ingest{MaxWidth: 1280, MaxHeight: 720, MaxRate: picture.R(30), MaxVideoKbps: 4000, MinVideoKbps: &least, KeyframeSeconds: 2, VideoCodecs: []string{"h264"},
		MaxAudioKbps: 160, Transports: []string{"rtmp", "srt"}}
	assert.Empty(t, inspect.Unknown(&full))
	assert.Len(t, inspect.Unknown(nil), 7)
	upright := full
	upright.LandscapeOnly = true
	exact := full
	exact.KeyframeExact = true
	slow := full
	slow.MaxRate = picture.R(25)
	for name, c := range map[string]struct {
		in   *rig.Ingest
		a    inspect.Arrived
		line string
	}{
		"as it takes it":         {&full, inspect.Arrived{Transport: "rtmp", Video: video(1280, 720), Came: came(3900, 150, 2)}, ""},
		"upright":                {&full, inspect.Arrived{Video: video(720, 1280), Came: came(3900, 150, 2)}, ""},
		"upright, where it lies": {&upright, inspect.Arrived{Video: video(720, 1280), Came: came(3900, 150, 2)}, "size"},
		"too large":              {&full, inspect.Arrived{Video: video(1920, 1080), Came: came(3900, 150, 2)}, "size"},
		"too fast":               {&slow, inspect.Arrived{Video: video(1280, 720), Came: came(3900, 150, 2)}, "rate"},
		"too much":               {&full, inspect.Arrived{Video: video(1280, 720), Came: came(4500, 150, 2)}, "bitrate"},
		"too little":             {&full, inspect.Arrived{Video: video(1280, 720), Came: came(800, 150, 2)}, "bitrate"},
		"keyframes too far":      {&full, inspect.Arrived{Video: video(1280, 720), Came: came(3900, 150, 4)}, "keyframe-seconds"},
		"keyframes nearer":       {&full, inspect.Arrived{Video: video(1280, 720), Came: came(3900, 150, 1)}, ""},
		"nearer than exactly":    {&exact, inspect.Arrived{Video: video(1280, 720), Came: came(3900, 150, 1)}, "keyframe-seconds"},
		"loud":                   {&full, inspect.Arrived{Video: video(1280, 720), Came: came(3900, 320, 2)}, "audio-bitrate"},
		"another coding":         {&full, inspect.Arrived{Video: &inspect.Video{Codec: "hevc", Width: 1280, Height: 720}, Came: came(3900, 150, 2)}, "encoder"},
		"another way":            {&full, inspect.Arrived{Transport: "webrtc", Video: video(1280, 720), Came: came(3900, 150, 2)}, "transport"},
		"nothing is known":       {nil, inspect.Arrived{Video: video(7680, 4320), Came: came(90_000, 150, 8)}, ""},
	} {
		got := inspect.Refuses(c.in, "Somewhere", &c.a)
		if c.line == "" {
			assert.Empty(t, got, name)
			continue
		}
		require.NotEmpty(t, got, name)
		for _, r := range got {
			assert.Equal(t, c.line, r.Line, "%s: %+v", name, got)
		}
		assert.Contains(t, got[0].Says, "Somewhere", name)
	}
}

// wanted is a part of a random rig's sheet that can be held against something, of a size whose width can be a quarter less.
func wanted(t *testing.T) (*verdict.Verdict, string, sheet.Wanted) {
	t.Helper()
	for seed := range uint64(100) {
		v := judge.Rig(rigtest.Rig(seed))
		for _, part := range sheet.Of(v).Parts {
			if w, ok := sheet.WantedOf(v, part.ID); ok && w.Width%4 == 0 && w.Width != w.Height {
				return v, part.ID, w
			}
		}
	}
	t.Fatal("no rig sends or records")
	return nil, "", sheet.Wanted{}
}

// The size is that in which a picture is shown: pixels that are not square change it, and a mark that turns it is told.
func TestTheSizeIsWhatIsShown(t *testing.T) {
	v, part, w := wanted(t)
	for name, c := range map[string]struct {
		video inspect.Video
		state limit.State
		says  string
	}{
		"as it is set":             {inspect.Video{Width: w.Width, Height: w.Height}, limit.Slack, ""},
		"pixels of the same shape": {inspect.Video{Width: w.Width, Height: w.Height, Shape: inspect.ShapeOf(1, 1)}, limit.Slack, ""},
		"of another":               {inspect.Video{Width: w.Width, Height: w.Height, Shape: "4:3"}, limit.Kinked, "not square (4:3)"},
		"wide ones make it up":     {inspect.Video{Width: w.Width * 3 / 4, Height: w.Height, Shape: "4:3"}, limit.Kinked, "which is shown as " + picture.SizeName(w.Width, w.Height)},
		"turned into it":           {inspect.Video{Width: w.Width, Height: w.Height, Turned: 90}, limit.Taut, "turns it by 90°"},
		"turned out of it":         {inspect.Video{Width: w.Height, Height: w.Width, Turned: 90}, limit.Kinked, "It comes as " + picture.SizeName(w.Height, w.Width)},
		"of none":                  {inspect.Video{}, limit.Untested, "does not say"},
	} {
		held, ok := inspect.Hold(v, part, &inspect.Arrived{Video: &c.video})
		require.True(t, ok)
		at := slices.IndexFunc(held.Lines, func(l inspect.Line) bool { return l.ID == "size" })
		require.GreaterOrEqual(t, at, 0)
		assert.Equal(t, c.state, held.Lines[at].State, name)
		assert.Contains(t, held.Lines[at].Says, c.says, name)
	}
}
