package gear

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/edid"
	"eventether/core/fact"
	"eventether/core/hdmi"
	"eventether/core/picture"
)

func TestPortFromEDID(t *testing.T) {
	mhz, vic97, vic5, vic6 := int64(600_000_000), 97, 5, 6
	r := &edid.Reading{MaxTMDSHz: &mhz, FixedRateLink: 3}
	for _, m := range []struct {
		vic        *int
		only, also bool
	}{{&vic97, false, true}, {&vic5, false, false}, {&vic6, false, false}} {
		one := edid.Decode(edid.Sample(*m.vic))
		require.True(t, one.Valid, one.Reason)
		p := one.Modes[0]
		p.VIC, p.Chroma420Only, p.Chroma420Also = m.vic, m.only, m.also
		r.Modes = append(r.Modes, p)
	}
	refused := picture.Mode{Width: 1920, Height: 1080, Rate: picture.R(30), Interlaced: true}
	p := Port{ID: "in", Connector: HDMIA, Direction: In, MoreModes: true, Refuses: []picture.Mode{refused}}
	after := p.FromEDID(r, "2026-09-01")
	require.Equal(t, fact.Fact{Value: 600, Low: 600, High: 600, From: fact.Measured, At: "2026-09-01"},
		*after.HDMI.MaxTMDSMHz)
	require.Equal(t, hdmi.FRL4x6, after.HDMI.FixedRate)
	require.False(t, after.MoreModes)
	require.Equal(t, "edid", after.ModesFrom)
	var names []string
	for _, m := range after.Modes {
		names = append(names, m.Name()+string(m.Chroma))
	}
	// A 60 Hz code stands for its /1001 rate too; also-4:2:0 gives a mode that says so; what was tried and refused
	// stays out; 480i is 720 wide, sent with every pixel twice.
	require.Equal(t, []string{"2160p60", "2160p604:2:0", "2160p59.94", "2160p59.944:2:0", "1080i29.97", "480i29.97"},
		names)
	require.Nil(t, p.HDMI, "the port itself is not changed")
}

func TestChanges(t *testing.T) {
	was := Starter()[0].Gear
	is := Starter()[0].Gear
	require.Empty(t, Changes(&was, &is))
	draw := fact.Fact{Value: 6.1, Low: 6.1, High: 6.1, From: fact.Measured, At: "2026-09-01"}
	power := *is.Power
	power.DrawW = &draw
	is.Power, is.Clean, is.Ports = &power, AlwaysClean, is.Ports[:1]
	require.Equal(t, []Change{{"clean", "after-setting", "clean"}, {"ports › usb", "there", "gone"},
		{"power › drawW", "6 (4 to 9), estimate", "6.1, measured 2026-09-01"}}, Changes(&was, &is))
}

func TestSlug(t *testing.T) {
	for name, want := range map[string]string{"Two-port stick": "two-port-stick", "  Öl & Co. ": "l-co",
		"äöü": "thing", "A  B": "a-b"} {
		require.Equal(t, want, Slug(name))
	}
}

func TestKnownSettings(t *testing.T) {
	s := Setting{ID: "auto-power-off", Label: "sleep timer"}
	k := s.Known()
	require.Equal(t, []string{"sleep timer", "off"}, []string{k.Label, k.Want})
	require.True(t, k.Ends && k.Sleeps)
	own := (&Setting{ID: "beeper"}).Known()
	require.Equal(t, "beeper", own.Label)
	require.Empty(t, own.Want)
	require.True(t, Starter()[0].Gear.HasPort(HDMIFamily, Out))
	require.False(t, Starter()[0].Gear.HasPort(SDIFamily, Out))
}
