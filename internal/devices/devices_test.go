package devices

import (
	"bytes"
	"encoding/binary"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/look"
	"eventether/core/view"
	"eventether/internal/readers"
)

// batch writes records as a page does.
type batch struct{ bytes.Buffer }

func (b *batch) record(kind byte, at float64, body []byte) {
	b.WriteByte(kind)
	_ = binary.Write(b, binary.LittleEndian, uint32(8+len(body)))
	_ = binary.Write(b, binary.LittleEndian, at)
	b.Write(body)
}

func size(w, h int, luma []byte) []byte {
	return append(binary.LittleEndian.AppendUint16(binary.LittleEndian.AppendUint16(nil, uint16(w)), uint16(h)), luma...)
}

func (b *batch) frame(at float64, shade byte) {
	b.record('P', at, size(1920, 1080, bytes.Repeat([]byte{shade}, look.SampledWidth*look.SampledHeight)))
}

func (b *batch) sound(at float64, rate uint32, channels ...[]float32) {
	body := append(binary.LittleEndian.AppendUint32(nil, rate), byte(len(channels)))
	for _, c := range channels {
		for _, v := range c {
			body = binary.LittleEndian.AppendUint32(body, math.Float32bits(v))
		}
	}
	b.record('A', at, body)
}

func TestALookFromBeginToEnd(t *testing.T) {
	b := NewBench(nil)
	l, err := b.Open("rig", "cam", view.DeviceFacts{Label: "HDMI to USB"})
	require.NoError(t, err)
	var sent batch
	for n := range 120 {
		at := float64(n) / 30
		if n >= 60 { // the page was hidden for seven seconds
			at += 7
		}
		if n == 60 {
			sent.record('G', at, nil)
		}
		sent.frame(at, byte(60+n%90))
	}
	tone := make([]float32, 4800)
	for i := range tone {
		tone[i] = float32(0.5 * math.Sin(2*math.Pi*1000*float64(i)/48000))
	}
	sent.sound(0, 48000, tone, make([]float32, len(tone)))
	now, err := l.Take(&sent)
	require.NoError(t, err)
	assert.InDelta(t, 4, now.Seconds, 0.1)
	assert.InDelta(t, 30, now.Picture.Hz, 0.5)
	assert.InDelta(t, -9, *now.LevelDB, 0.2)
	r := l.End(view.DeviceFacts{Skipped: 3})
	assert.Equal(t, "HDMI to USB", r.Label)
	assert.Equal(t, 3, r.Skipped)
	assert.Equal(t, "30", r.Seen.Pace.Name)
	assert.Zero(t, r.Seen.Pace.Lost, "what nobody looked at is not missing")
	assert.Equal(t, look.Found, look.Find(r.Heard.Signs, look.IsOneSided).Answer)
	assert.Same(t, r, l.End(view.DeviceFacts{}), "it ends once")
	_, err = l.Take(&sent)
	require.ErrorIs(t, err, ErrGone)
}

func TestBoundsOfTheBench(t *testing.T) {
	b := NewBench(nil)
	at := time.Now()
	b.now = func() time.Time { return at }
	var last *Look
	for range MostOpen {
		l, err := b.Open("rig", "cam", view.DeviceFacts{})
		require.NoError(t, err)
		last = l
	}
	_, err := b.Open("rig", "cam", view.DeviceFacts{})
	require.ErrorContains(t, err, "8 devices")
	last.End(view.DeviceFacts{})
	_, err = b.Open("rig", "cam", view.DeviceFacts{})
	require.NoError(t, err)
	at = at.Add(silentAfter)
	_, err = b.Open("rig", "cam", view.DeviceFacts{})
	require.NoError(t, err, "pages that were closed without a word take no place")
	at = at.Add(forgetAfter + time.Second)
	_, err = b.Open("rig", "cam", view.DeviceFacts{})
	require.NoError(t, err, "pages that have gone hold nothing")
	_, err = b.Find(last.ID)
	require.ErrorIs(t, err, ErrGone)
}

func TestWhoIsWavedAt(t *testing.T) {
	b := NewBench(nil)
	one, _ := b.Open("rig", "a", view.DeviceFacts{})
	two, _ := b.Open("rig", "b", view.DeviceFacts{})
	still, waved := new(batch), new(batch)
	for n := range 30 {
		still.frame(float64(n)/30, 100)
		waved.frame(float64(n)/30, byte(100+20*(n%2)))
	}
	_, err := one.Take(still)
	require.NoError(t, err)
	_, sure := Waved([]*Look{one, two})
	assert.False(t, sure, "the other gives nothing")
	_, err = two.Take(waved)
	require.NoError(t, err)
	which, sure := Waved([]*Look{one, two})
	assert.True(t, sure)
	assert.Equal(t, two.ID, which)

	// One of two microphones is tapped.
	left, _ := b.Open("rig", "sound:0", view.DeviceFacts{})
	right, _ := b.Open("rig", "sound:1", view.DeviceFacts{})
	for l, loud := range map[*Look]float32{left: 0.001, right: 0.2} {
		sent := new(batch)
		sent.sound(0, 48000, slices.Repeat([]float32{loud, -loud}, 4800))
		_, err := l.Take(sent)
		require.NoError(t, err)
	}
	which, sure = Waved([]*Look{left, right})
	assert.True(t, sure)
	assert.Equal(t, right.ID, which)
}

func TestRecordsThatAreNone(t *testing.T) {
	for name, c := range map[string]struct {
		make func(*batch)
		says string
	}{
		"kind":      {func(b *batch) { b.record('X', 0, nil) }, "kind 'X': want P, F, A or G"},
		"time":      {func(b *batch) { b.frame(math.NaN(), 1) }, "at NaN"},
		"past":      {func(b *batch) { b.frame(-1, 1) }, "want seconds from 0 on"},
		"size":      {func(b *batch) { b.record('F', 0, size(640, 480, make([]byte, 7))) }, "640 × 480 with 7 bytes"},
		"no size":   {func(b *batch) { b.record('P', 0, size(0, 0, make([]byte, look.SampledWidth*look.SampledHeight))) }, "0 × 0"},
		"rate":      {func(b *batch) { b.sound(0, 3, []float32{1}) }, "3 samples a second"},
		"channels":  {func(b *batch) { b.sound(0, 48000) }, "of 0 channels"},
		"long":      {func(b *batch) { b.Write([]byte{'P', 255, 255, 255, 255}) }, "4294967295 bytes"},
		"short":     {func(b *batch) { b.Write([]byte{'P', 20, 0, 0, 0, 1}) }, "record 2 breaks off"},
		"half head": {func(b *batch) { b.Write([]byte{'P', 20}) }, "record 2 breaks off"},
	} {
		l, err := NewBench(nil).Open("rig", "cam", view.DeviceFacts{})
		require.NoError(t, err)
		b := new(batch)
		b.frame(0, 50)
		c.make(b)
		_, err = l.Take(b)
		require.ErrorContains(t, err, c.says, name)
		assert.Equal(t, 1, l.picture.Frames(), "%s: what came before is taken", name)
	}
}

// Whatever a page sends, nothing breaks, and what is no number is silence.
func FuzzBatch(f *testing.F) {
	b := new(batch)
	b.frame(0, 50)
	b.record('F', 0, size(32, 18, make([]byte, 32*18)))
	b.sound(0, 48000, []float32{1, float32(math.NaN()), float32(math.Inf(1))})
	b.record('G', 1, nil)
	f.Add(b.Bytes())
	f.Fuzz(func(t *testing.T, sent []byte) {
		l, err := NewBench(nil).Open("rig", "cam", view.DeviceFacts{})
		require.NoError(t, err)
		_, _ = l.Take(bytes.NewReader(sent))
		r := l.End(view.DeviceFacts{})
		if r.Heard != nil {
			require.False(t, math.IsNaN(r.Heard.PeakDB))
		}
	})
}

// However often pages open looks and leave, so many are kept.
func TestNoMoreThanSoMany(t *testing.T) {
	b := NewBench(nil)
	at := time.Now()
	b.now = func() time.Time { at = at.Add(silentAfter); return at }
	for range 3 * mostKept {
		_, err := b.Open("rig", "cam", view.DeviceFacts{})
		require.NoError(t, err)
	}
	assert.LessOrEqual(t, len(b.all), mostKept)
}

// What one frame of 1080p costs with all that is sent of it: at most a millisecond.
func BenchmarkFrames(b *testing.B) {
	one := new(batch)
	for n := range 12 { // a fifth of a second at 60
		one.frame(float64(n)/60, byte(n))
	}
	one.record('F', 0, size(1920, 1080, make([]byte, 1920*1080)))
	l, _ := NewBench(nil).Open("rig", "cam", view.DeviceFacts{})
	b.SetBytes(int64(one.Len()))
	for b.Loop() {
		l.picture = nil
		_, _ = l.Take(bytes.NewReader(one.Bytes()))
	}
	b.ReportMetric(float64(b.Elapsed().Microseconds())/float64(b.N)/12, "µs/frame")
}

// While a device of this computer is looked at, how busy and how warm it gets is noted once a second; of what tells nothing,
// nothing is.
func TestGauge(t *testing.T) {
	now := time.Unix(1000, 0)
	at := 0
	gauges := []readers.Gauge{{Busy: 100, All: 1000, WarmestC: 50}, {Busy: 150, All: 1100, WarmestC: 71}, {Busy: 240, All: 1200, WarmestC: 66}}
	b := NewBench(func() (readers.Gauge, bool) { at++; return gauges[at-1], true })
	b.now = func() time.Time { return now }
	l, err := b.Open("rig", "cam", view.DeviceFacts{})
	require.NoError(t, err)
	b.Gauge(l)
	require.Nil(t, l.warm.warmed(), "one reading tells nothing")
	b.Gauge(l)
	require.Equal(t, 1, at, "once a second")
	for range 2 {
		now = now.Add(time.Second)
		b.Gauge(l)
	}
	require.Equal(t, &view.Warm{BusyPct: 70, MostPct: 90, FromC: 50, ToC: 71}, l.End(view.DeviceFacts{}).Warm)
	l, _ = NewBench(nil).Open("rig", "cam", view.DeviceFacts{})
	NewBench(nil).Gauge(l)
	require.Nil(t, l.End(view.DeviceFacts{}).Warm)
}

// Two microphones by one clock, one begun a second later: which hears the claps first comes out all the same.
func TestClapsOfLooks(t *testing.T) {
	dice := rand.New(rand.NewPCG(1, 2))
	room := make([]float32, 8*48000)
	for k := range 5 {
		for i := range 4800 {
			room[(k+2)*48000+i] = float32(0.5 * dice.NormFloat64() * math.Exp(-float64(i)/1200))
		}
	}
	b := NewBench(nil)
	heard := func(from float64, late int) *Result {
		l, err := b.Open("rig", "sound:0", view.DeviceFacts{})
		require.NoError(t, err)
		begin := int(from * 48000)
		for at := begin; at+4096 <= len(room); at += 4096 {
			part := make([]float32, 4096)
			for i := range part {
				if k := at + i - late; k >= 0 {
					part[i] = room[k] + float32(0.001*dice.NormFloat64())
				}
			}
			l.take(&record{kind: recordSound, at: 100 + float64(at)/48000, rate: 48000, channels: 1, left: part, right: part})
		}
		return l.End(view.DeviceFacts{})
	}
	near, far := heard(0, 0), heard(1, 960)
	c := Claps(near, far)
	require.Equal(t, look.Found, c.Answer, c.Says)
	require.InDelta(t, 20, c.Middle, 0.5, c.Says)
	require.InDelta(t, -20, Claps(far, near).Middle, 0.5)
	require.Equal(t, look.CannotTell, Claps(near, &Result{}).Answer, "no sound at all")
}
