package negotiate

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/picture"
	"eventether/core/sdi"
)

var (
	f2997 = picture.NewRate(30000, 1001)
	f5994 = picture.NewRate(60000, 1001)
)

func at(w, h int, r picture.Rate, c picture.Chroma) picture.Mode {
	return picture.Mode{Width: w, Height: h, Rate: r, Chroma: c}
}

var pool = []picture.Mode{at(3840, 2160, picture.R(60), picture.RGB), at(3840, 2160, picture.R(60), picture.YUV420),
	at(3840, 2160, f2997, ""), at(3840, 2160, picture.R(25), ""),
	at(1920, 1080, f5994, ""), at(1920, 1080, picture.R(60), picture.YUV422), at(1920, 1080, picture.R(50), ""),
	at(1920, 1080, f2997, ""), at(1920, 1080, picture.R(25), ""),
	{Width: 1920, Height: 1080, Rate: picture.R(25), Interlaced: true}, at(2560, 1440, picture.R(60), ""),
	at(1280, 720, f5994, "")}

func port(t *rapid.T, name string, sdiPort bool, d gear.Direction) *gear.Port {
	p := &gear.Port{ID: name, Connector: gear.HDMIA, Direction: d}
	p.Modes = rapid.SliceOfDistinct(rapid.SampledFrom(pool), rapid.ID[picture.Mode]).Draw(t, name+" modes")
	p.MoreModes = rapid.Bool().Draw(t, name+" more")
	if sdiPort {
		p.Connector = gear.BNC
		p.SDI = &gear.SDIPort{Link: rapid.SampledFrom(append([]sdi.Link{sdi.UnknownLink}, sdi.Links...)).Draw(t,
			name+" link"),
			Level: rapid.SampledFrom([]sdi.Level{"", sdi.LevelA, sdi.LevelB, sdi.BothLevels}).Draw(t, name+" level")}
		return p
	}
	mhz := rapid.SampledFrom([]float64{165, 340, 600}).Draw(t, name+" MHz")
	f := fact.Exactly(mhz)
	p.HDMI = &gear.HDMIPort{MaxTMDSMHz: &f,
		FixedRate: rapid.SampledFrom([]hdmi.FRL{hdmi.NoFRL, hdmi.FRL3x3, hdmi.FRL4x12, hdmi.UnknownFRL}).Draw(t,
			name+" fixed")}
	return p
}

func carry(t *rapid.T, name string, more Carry) Carry {
	draw := func(what string, least float64, values ...float64) (sure, possible float64) {
		sure = max(least, rapid.SampledFrom(values).Draw(t, name+what))
		return sure, max(sure, rapid.SampledFrom(values).Draw(t, name+what+" possible"))
	}
	var c Carry
	c.SureMHz, c.PossibleMHz = draw(" MHz", more.SureMHz, 74.25, 340, 600)
	c.SureGbps, c.PossibleGbps = draw(" Gb/s", more.SureGbps, 0, 20, 41)
	c.SureMbps, c.PossibleMbps = draw(" Mb/s", more.SureMbps, 270, 1485, 2970, 11880)
	c.PossibleMHz, c.PossibleGbps, c.PossibleMbps = max(c.PossibleMHz, more.PossibleMHz),
		max(c.PossibleGbps, more.PossibleGbps), max(c.PossibleMbps, more.PossibleMbps)
	return c
}

func find(o Outcome, m picture.Mode) *Taken {
	if i := slices.IndexFunc(o.Takes, func(t Taken) bool { return t.Mode == m }); i >= 0 {
		return &o.Takes[i]
	}
	return nil
}

// The laws: symmetric; never a picture outside either list; a better lead never loses one; narrower lists take no more.
func TestLaws(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		onSDI := rapid.Bool().Draw(t, "SDI")
		a, b := port(t, "out", onSDI, gear.Out), port(t, "in", onSDI, gear.In)
		lead := carry(t, "lead", Carry{})
		o := Between(a, b, lead)
		require.Equal(t, o, Between(b, a, lead), "symmetric")

		listed := func(p *gear.Port, m picture.Mode) bool { return slices.ContainsFunc(p.Modes, m.Same) }
		for _, taken := range o.Takes {
			require.True(t, listed(a, taken.Mode) || listed(b, taken.Mode))
			for _, p := range []*gear.Port{a, b} {
				if taken.Sure || len(p.Modes) > 0 && !p.MoreModes {
					require.True(t, listed(p, taken.Mode), "%s is on neither", taken.Mode.Name())
				}
			}
		}
		for _, f := range o.Fails {
			require.NotEmpty(t, f.Why)
			require.Nil(t, find(o, f.Mode))
		}

		better := Between(a, b, carry(t, "better", lead))
		for _, taken := range o.Takes {
			now := find(better, taken.Mode)
			require.NotNil(t, now, "a better lead lost %s", taken.Mode.Name())
			require.True(t, now.Sure || !taken.Sure, "a better lead made %s unsure", taken.Mode.Name())
		}
		require.GreaterOrEqual(t, len(better.Takes), len(o.Takes))
	})
}

// Rank is an order: whatever it is given, the same picture comes first, and it is one of those taken.
func TestRankDoesNotDependOnOrder(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var takes []Taken
		for _, m := range rapid.SliceOfNDistinct(rapid.SampledFrom(pool), 1, 8, rapid.ID[picture.Mode]).Draw(t,
			"modes") {
			takes = append(takes, Taken{m, rapid.Bool().Draw(t, "sure")})
		}
		first := Rank(takes, 1920, 1080, f2997)[0]
		require.Equal(t, first, Rank(rapid.Permutation(takes).Draw(t, "shuffled"), 1920, 1080, f2997)[0])
	})
}

func list(mhz float64, modes ...picture.Mode) *gear.Port {
	f := fact.Exactly(mhz)
	return &gear.Port{ID: "p", Connector: gear.HDMIA, Direction: gear.In, HDMI: &gear.HDMIPort{MaxTMDSMHz: &f},
		Modes: modes}
}

// Clean movement first, then size, then chroma, then load (1080p when the show is 1080).
func TestBestForTheShow(t *testing.T) {
	all := list(600, pool...)
	for _, c := range []struct {
		name string
		w, h int
		rate picture.Rate
		want string
	}{
		{"the programme's own", 1920, 1080, f2997, "1080p29.97"},
		{"25 in a 25 show", 1920, 1080, picture.R(25), "1080p25"},
		{"a 4K show", 3840, 2160, f2997, "2160p29.97"},
		{"movement before size: 720p59.94 is a whole multiple, and 1080p59.94 is larger", 1280, 720, f5994,
			"720p59.94"},
		{"nothing at 60 but a slip", 3840, 2160, f5994, "1080p59.94"},
	} {
		t.Run(c.name, func(t *testing.T) {
			best := Rank(Between(all, list(600, pool...), Anything).Takes, c.w, c.h, c.rate)[0]
			require.Equal(t, c.want, best.Mode.Name())
			require.True(t, best.Sure)
		})
	}
}

func TestWhyNot(t *testing.T) {
	why := func(o Outcome, name string) string {
		for _, f := range o.Fails {
			if f.Mode.Name() == name {
				return f.Why
			}
		}
		return ""
	}
	out := list(600, pool...)
	out.Direction = gear.Out
	o := Between(out, list(165, at(1920, 1080, f5994, ""), at(3840, 2160, f2997, "")), Anything)
	require.Equal(t, "the input does not list it", why(o, "1080p50"))
	require.Equal(t, "it needs 296.7 MHz, and the sockets carry 165", why(o, "2160p29.97"))
	require.NotNil(t, find(o, at(1920, 1080, f5994, "")))
	o = Between(out, list(600, pool...), Carry{SureMHz: 74.25, PossibleMHz: 74.25})
	require.Equal(t, "it needs 148.4 MHz, and the lead carries 74.25", why(o, "1080p59.94"))
	in := list(600, at(3840, 2160, picture.R(60), ""))
	in.ModesFrom = "edid"
	require.Equal(t, "the input does not list it at 4:2:0", why(Between(out, in, Anything), "2160p60"))
	in.Refuses, in.Modes = in.Modes, nil
	require.Equal(t, "the input was tried with it and shows nothing", why(Between(out, in, Anything), "2160p60"))
	require.Nil(t, Settles(Between(out, in, Anything), in))
	in = list(340, at(1280, 720, f5994, ""), at(1920, 1080, f5994, ""))
	require.Equal(t, "720p59.94", Settles(Between(out, in, Anything), in).Name(),
		"on auto the source follows what the sink lists first")
}
