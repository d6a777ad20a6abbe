package media

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/inspect"
	"eventether/core/look"
)

// filmedSlate is a clip of a slate: light gathered over whole frames, in linear light and then by the curve of BT.709, of pictures
// thirty times as many; sound later by so many seconds.
func filmedSlate(t *testing.T, hz, late float64, more ...string) string {
	t.Helper()
	on := fmt.Sprintf("lt(mod(t-0.4\\,%g)\\,%g)*gte(t\\,0.4)", inspect.SlateEvery, inspect.SlateFlash)
	beep := fmt.Sprintf("if(gte(t\\,%[1]g)*lt(mod(t-%[1]g\\,%[2]g)\\,%[3]g)\\,0.3*sin(2*PI*1000*mod(t-%[1]g\\,%[2]g))\\,0)", 0.4+late, inspect.SlateEvery, inspect.SlateBeep)
	return film(t, "slate.mkv", append([]string{"-f", "lavfi", "-i", fmt.Sprintf("color=0x202020:size=128x72:rate=%g:duration=9,format=gray,drawbox=x=80:y=26:w=32:h=28:t=fill:c=white:enable='%s',tmix=frames=30,fps=%g:round=down,lutyuv=y='16+219*if(lt(val\\,5)\\,4.5*val/255\\,1.099*pow(val/255\\,0.45)-0.099)',format=yuv420p", hz*30, on, hz),
		"-f", "lavfi", "-i", "aevalsrc=" + beep + ":s=48000:d=9", "-c:v", "libx264", "-crf", "16", "-c:a", "pcm_s16le"}, more...)...)
}

// A filmed slate of a known offset comes out as that, whatever the rate; one of none has none.
func TestAFilmedSlate(t *testing.T) {
	for _, c := range []struct{ hz, late float64 }{{25, 0.06}, {30, -0.045}} {
		in, err := Inspect(t.Context(), filmedSlate(t, c.hz, c.late), InspectOptions{Times: true}, nil)
		require.NoError(t, err)
		s := in.Times.Slate
		require.NotNil(t, s)
		require.Equal(t, look.Found, s.Answer, s.Says)
		assert.InDelta(t, 1000*c.late, s.Ms, 1.5, "%g at %g: %s", c.late, c.hz, s.Says)
	}
	in, err := Inspect(t.Context(), film(t, "plain.mkv", "-f", "lavfi", "-i", "testsrc2=size=192x108:rate=25:duration=12", "-f", "lavfi", "-i", "sine=frequency=1000:duration=12", "-c:a", "pcm_s16le"),
		InspectOptions{Times: true}, nil)
	require.NoError(t, err)
	assert.Nil(t, in.Times.Slate)
	assert.Empty(t, in.Times.Claps)
}

// Two tracks of ten minutes, one 12.5 ms later and of a clock 41.67 ppm fast (48002 Hz taken for 48000), come out to a millisecond
// and to 2 ppm; a second file does, too.
func TestTracksAgainstEachOther(t *testing.T) {
	if testing.Short() {
		t.Skip("ten minutes of sound")
	}
	const noise = "anoisesrc=color=pink:amplitude=0.3:duration=600:seed=5,volume='0.2+0.8*gt(sin(3*t),0)':eval=frame"
	late := noise + ",adelay=12.5,asetrate=48002,aresample=48000"
	two := film(t, "two.mka", "-f", "lavfi", "-i", noise, "-f", "lavfi", "-i", late, "-map", "0", "-map", "1", "-c:a", "pcm_s16le")
	in, err := Inspect(t.Context(), two, InspectOptions{Times: true}, nil)
	require.NoError(t, err)
	a := in.Times.Against
	require.NotNil(t, a)
	assert.Equal(t, "track", in.Times.Of)
	assert.InDelta(t, 12.5, a.Ms, 1, a.Says)
	assert.InDelta(t, -1e6*2/48002, a.PPM, 2, a.Says)
	assert.Less(t, a.PPMs, 2.0)

	one := film(t, "one.mka", "-f", "lavfi", "-i", noise, "-t", "60", "-c:a", "pcm_s16le")
	other := film(t, "other.mka", "-f", "lavfi", "-i", noise+",atrim=start=3,asetpts=PTS-STARTPTS", "-t", "60", "-c:a", "pcm_s16le")
	in, err = Inspect(t.Context(), one, InspectOptions{Other: other}, nil)
	require.NoError(t, err)
	assert.InDelta(t, -3000, in.Times.Against.Ms, 1, in.Times.Against.Says)
}

// Claps are found where they are, with the frames around each; speech is none.
func TestClapsOfAClip(t *testing.T) {
	const claps = "if(lt(mod(t-2\\,1.5)\\,0.05)*between(t\\,2\\,9)\\,(2*random(0)-1)*exp(-60*mod(t-2\\,1.5))\\,0.001*(2*random(1)-1))"
	path := film(t, "claps.mkv", "-f", "lavfi", "-i", "testsrc2=size=192x108:rate=25:duration=10", "-f", "lavfi", "-i", "aevalsrc="+claps+":s=48000:d=10", "-c:v", "libx264", "-g", "50",
		"-c:a", "pcm_s16le")
	in, err := Inspect(t.Context(), path, InspectOptions{Times: true}, nil)
	require.NoError(t, err)
	require.Len(t, in.Times.Claps, 5)
	for i, c := range in.Times.Claps {
		at := 2 + 1.5*float64(i)
		assert.InDelta(t, at, c.At, 0.001)
		require.Len(t, c.Frames, clapFrames)
		assert.InDelta(t, at, c.Frames[clapFrames/2].At, 0.041)
		assert.InDelta(t, 0.04, c.Frames[1].At-c.Frames[0].At, 1e-3)
		assert.False(t, math.IsNaN(c.At))
	}
	talk, err := Inspect(t.Context(), film(t, "talk.mkv", "-f", "lavfi", "-i", "testsrc2=size=192x108:rate=25:duration=10", "-f", "lavfi", "-i",
		"anoisesrc=color=pink:amplitude=0.2:duration=10,volume='if(lt(mod(t,3),2),1,0.02)':eval=frame", "-c:a", "pcm_s16le"), InspectOptions{Times: true}, nil)
	require.NoError(t, err)
	assert.Empty(t, talk.Times.Claps)
}
