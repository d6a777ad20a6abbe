package usb

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
)

// Limits of USB 2.0 chapter 5 [standard: USB 2.0]: three 1024-byte transactions a microframe for one endpoint (5.9.2),
// thirteen 512-byte bulk transactions (Table 5-10), periodic transfers at most 80 % of a microframe (5.6.4).
func TestHighSpeedAgainstChapterFive(t *testing.T) {
	bulk, _ := EndpointMBps(HighSpeed, Bulk)
	require.InDelta(t, 53.248, bulk, 1e-9)
	low, high := ReservationMBps(1)
	require.InDelta(t, 24.576, high, 1e-9)
	require.Equal(t, 1.0, low)
	sure, possible := EndpointMBps(HighSpeed, Isochronous)
	require.InDelta(t, 24.48, (sure+possible)/2, 0.15, "about 24.48 of picture after the class's headers")

	// Table 5-5: a 1024-byte isochronous transaction costs 1024 + 38 byte-times of the 7500 in a microframe.
	const byteTimes, overhead = 7500, 38
	require.Equal(t, IsoPossible, byteTimes*80/100/(IsoTransaction+overhead))
	// 5.11.3: nanoseconds of one high-speed isochronous input transaction with worst-case bit stuffing, 38·8·2.083 +
	// 2.083·floor(3.167 + 7/6·8·bytes) + host delay (5 ns is typical, USB 2.0 5.11.3 leaves it to the host).
	ns := 38*8*2.083 + 2.083*math.Floor(3.167+7.0/6*8*IsoTransaction) + 5
	require.InDelta(t, 20550, ns, 30, "20.55 µs each")
	require.Equal(t, IsoSure, int(100_000/ns))
}

// The worked cases, each with its state's share of the limit.
func TestWorkedLoads(t *testing.T) {
	gen1, _ := BusMBps(Gen1, false, false)
	require.Equal(t, 470.0, gen1)
	require.InDelta(t, 0.53, 248.832/gen1, 0.005)
	require.Greater(t, 2*248.832/gen1, 1.0, "two 1080p60 YUY2 snap")
	require.InDelta(t, 0.79, 2*186.624/gen1, 0.005)
	iso, _ := EndpointMBps(Gen1, Isochronous)
	require.InDelta(t, 393.216, iso, 1e-9)
	require.InDelta(t, 0.95, 373.248/iso, 0.005)
	sure, possible := BusMBps(HighSpeed, true, false)
	require.Greater(t, 2*24.576, possible, "two streams that each reserve 3 × 1024 do not fit one high-speed bus")
	require.Less(t, sure, possible)
	bulk, _ := BusMBps(HighSpeed, false, false)
	require.Greater(t, 124.416, bulk, "1080p30 YUY2 never fits USB 2")
	require.Less(t, 41.472, bulk, "720p30 NV12 fits in bulk")
	_, isoHigh := EndpointMBps(HighSpeed, Isochronous)
	require.Greater(t, 41.472, isoHigh, "and in bulk only")
	require.Greater(t, 31.104, isoHigh, "1080p60 MJPEG at 2 bits does not fit one isochronous endpoint")
}

func TestSpeedsRise(t *testing.T) {
	last := 0.0
	for _, s := range Speeds[:5] {
		mb, _ := BusMBps(s, false, false)
		require.Greater(t, mb, last, s)
		last = mb
		require.True(t, AtLeast(s, HighSpeed))
		require.Equal(t, HighSpeed, Slower(s, HighSpeed))
		require.Equal(t, HighSpeed, Slower(HighSpeed, s))
		for _, tr := range []Transfer{Bulk, Isochronous, UnknownTransfer} {
			sure, possible := EndpointMBps(s, tr)
			require.LessOrEqual(t, sure, possible)
			require.Positive(t, sure)
		}
	}
	require.Zero(t, first(BusMBps("3M", false, false)))
}

func first(a, _ float64) float64 { return a }

func TestLeads(t *testing.T) {
	for _, c := range []struct {
		g              Grade
		sure, possible Speed
	}{
		{ChargeOnly, "", ""}, {USB2Lead, HighSpeed, HighSpeed}, {Lead5G, Gen1, Gen1}, {Lead10G, Gen2, Gen2},
		{UnknownGrade, HighSpeed, Gen2},
	} {
		sure, possible, err := GradeSpeed(c.g)
		require.NoError(t, err)
		require.Equal(t, c.sure, sure)
		require.Equal(t, c.possible, possible)
	}
	_, _, err := GradeSpeed("usb-9")
	require.ErrorContains(t, err, `"usb-9"`)

	// 26 ns at the 5.2 ns/m of a slow cable is the 5 m everybody quotes [standard: USB 2.0, 7.1.16].
	sure, _ := Reach(HighSpeed, false)
	require.InDelta(t, 26/5.2, sure, 1e-9)
	for _, s := range Speeds {
		plain, _ := Reach(s, false)
		typeC, _ := Reach(s, true)
		require.LessOrEqual(t, typeC, plain)
	}
}
