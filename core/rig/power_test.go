package rig

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/fact"
	"eventether/core/gear"
)

// powered is the small rig with everything that has to do with power on it.
func powered() *Rig {
	r := small()
	x := func(v float64) *fact.Fact { f := fact.Exactly(v); return &f }
	r.Items = append(r.Items,
		Item{ID: "strip", Label: "Strip", Gear: gear.Gear{Kind: gear.Strip, Name: "Strip",
			Power: &gear.Power{RatedA: x(10)}}},
		Item{ID: "ups", Label: "UPS", PoweredBy: "strip", Gear: gear.Gear{Kind: gear.UPS, Name: "UPS",
			Power: &gear.Power{LimitW: x(300), LimitVA: x(500), Efficiency: x(0.8)}}})
	r.Items[3].PoweredBy = "ups"
	r.Items[0].Gear.Power = &gear.Power{DrawW: x(6), PowerFactor: x(0.9),
		Battery: &gear.BatteryPack{MAh: fact.Exactly(1000), Volts: fact.Exactly(7.2), UsableShare: x(0.9)}}
	r.Items[2].Gear.Power = &gear.Power{SelfPowered: "yes", SupplyW: x(20), SupplyVolts: x(12), ChargesW: x(0)}
	r.Show.MainsVolts, r.Show.CircuitA = x(230), x(16)
	return r
}

// Negative and absurd figures, and supplies that are none, are named by place with what is allowed.
func TestCheckOfPower(t *testing.T) {
	require.Empty(t, Check(powered()))
	x := func(v float64) *fact.Fact { f := fact.Exactly(v); return &f }
	for _, c := range []struct {
		name  string
		spoil func(*Rig)
		want  string
	}{
		{"a negative draw", func(r *Rig) { r.Items[0].Gear.Power.DrawW = x(-1) },
			`items[0] "cam".gear.power.drawW: -1 is outside 0 to 5000 (watts)`},
		{"a draw no socket gives", func(r *Rig) { r.Items[0].Gear.Power.DrawW = x(9e9) },
			`items[0] "cam".gear.power.drawW: 9e+09 is outside 0 to 5000 (watts)`},
		{"one bound below nothing", func(r *Rig) { f := fact.Est(2, -3, 4); r.Items[0].Gear.Power.DrawW = &f },
			`items[0] "cam".gear.power.drawW: -3 is outside 0 to 5000 (watts)`},
		{"no supply at all", func(r *Rig) { r.Items[2].Gear.Power.SupplyW = x(0) },
			`items[2] "hub".gear.power.supplyW: 0 is outside 0.1 to 5000 (watts)`},
		{"a supply of the mains' volts", func(r *Rig) { r.Items[2].Gear.Power.SupplyVolts = x(230) },
			`items[2] "hub".gear.power.supplyVolts: 230 is outside 1 to 60 (volts)`},
		{"a power factor above one", func(r *Rig) { r.Items[0].Gear.Power.PowerFactor = x(1.2) },
			`items[0] "cam".gear.power.powerFactor: 1.2 is outside 0.1 to 1 (a share of 1)`},
		{"a strip of a thousand amperes", func(r *Rig) { r.Items[4].Gear.Power.RatedA = x(1000) },
			`items[4] "strip".gear.power.ratedA: 1000 is outside 0.5 to 100 (amperes)`},
		{"a UPS of no watts", func(r *Rig) { r.Items[5].Gear.Power.LimitW = x(0) },
			`items[5] "ups".gear.power.limitW: 0 is outside 1 to 100000 (watts)`},
		{"an efficiency in per cent", func(r *Rig) { r.Items[5].Gear.Power.Efficiency = x(85) },
			`items[5] "ups".gear.power.efficiency: 85 is outside 0.1 to 1 (a share of 1)`},
		{"a battery of nothing", func(r *Rig) { r.Items[0].Gear.Power.Battery.MAh = fact.Exactly(0) },
			`items[0] "cam".gear.power.battery.mAh: 0 is outside 1 to 1e+06 (milliampere-hours)`},
		{"a battery of a thousand volts", func(r *Rig) { r.Items[0].Gear.Power.Battery.Volts = fact.Exactly(1000) },
			`items[0] "cam".gear.power.battery.volts: 1000 is outside 0.5 to 100 (volts)`},
		{"a share above one", func(r *Rig) { r.Items[0].Gear.Power.Battery.UsableShare = x(90) },
			`items[0] "cam".gear.power.battery.usableShare: 90 is outside 0.01 to 1 (a share of 1)`},
		{"a house of ten volts", func(r *Rig) { r.Show.MainsVolts = x(10) },
			`show.mainsVolts: 10 is outside 50 to 500 (volts)`},
		{"a circuit of nothing", func(r *Rig) { r.Show.CircuitA = x(0) },
			`show.circuitA: 0 is outside 0.5 to 500 (amperes)`},
		{"a wire like a hair", func(r *Rig) { r.Leads[1].AWG = x(60) },
			`leads[1] "l2".awg: 60 is outside 10 to 36 (AWG)`},
		{"powered by nothing known", func(r *Rig) { r.Items[3].PoweredBy = "wall" },
			`items[3] "pc".poweredBy: "wall" is not an item of this rig`},
		{"powered by a camera", func(r *Rig) { r.Items[3].PoweredBy = "cam" },
			`items[3] "pc".poweredBy: "cam" is a camera: want a strip, UPS, supply, power bank, hub, dock or computer`},
		{"powered by itself", func(r *Rig) { r.Items[4].PoweredBy = "strip" },
			`items[4] "strip".poweredBy: "strip" cannot power itself`},
		{"powered by itself the long way", func(r *Rig) { r.Items[4].PoweredBy = "ups" },
			`items[4] "strip".poweredBy: "strip" hangs on itself by way of "ups"`},
	} {
		t.Run(c.name, func(t *testing.T) {
			r := powered()
			c.spoil(r)
			var said []string
			for _, p := range Check(r) {
				said = append(said, p.String())
			}
			require.Contains(t, said, c.want)
		})
	}
}

// Every fact of power can be asked for and changed in place, by the path it is named with; and only it changes.
func TestPowerByPath(t *testing.T) {
	r := powered()
	named := r.Facts()
	paths := 0
	for _, n := range named {
		v := n.Fact.Value * 0.99
		f := fact.Exactly(v)
		after, err := Apply(r, Edit{Do: "fact", Path: n.Path, Fact: &f})
		require.NoError(t, err, n.Path)
		changed := 0
		for i, have := range after.Facts() {
			require.Equal(t, named[i].Path, have.Path)
			if have.Fact != named[i].Fact {
				require.Equal(t, n.Path, have.Path)
				require.Equal(t, v, have.Fact.Value)
				changed++
			}
		}
		if n.Fact.Value != 0 {
			require.Equal(t, 1, changed, n.Path)
			paths++
		}
	}
	require.Greater(t, paths, 10)
	require.Equal(t, named, r.Facts(), "the rig itself stays")
}

func TestPowerWords(t *testing.T) {
	for path, words := range map[string][]string{
		"items/hub/power/selfPowered":        {"yes", "no", "unknown"},
		"items/cam/power/usb":                {"runs", "charges", "no", "unknown"},
		"items/cam/power/mains":              {"yes", "dummy-battery", "no", "unknown"},
		"items/pc/ports/left/slot/wired":     {"1x1", "2x4", "5x16"},
		"items/pc/ports/left/usb/speed":      {"480M", "5G", "10G", "unknown"},
		"items/stick/ports/usb/usb/transfer": {"bulk", "isochronous", "unknown"},
	} {
		for _, w := range words {
			_, err := Apply(powered(), Edit{Do: "word", Path: path, Word: w})
			require.NoError(t, err, "%s %s", path, w)
		}
		_, err := Apply(powered(), Edit{Do: "word", Path: path, Word: "perhaps"})
		require.ErrorContains(t, err, `"perhaps"`, path)
	}
	x := fact.Exactly(900)
	r, err := Apply(powered(), Edit{Do: "fact", Path: "items/pc/ports/left/allowsMa", Fact: &x},
		Edit{Do: "fact", Path: "leads/l2/awg", Fact: func() *fact.Fact { f := fact.Exactly(24); return &f }()},
		Edit{Do: "fact", Path: "show/circuitA", Fact: func() *fact.Fact { f := fact.Exactly(10); return &f }()})
	require.NoError(t, err)
	require.Equal(t, 900.0, r.Items[3].Gear.Ports[0].AllowsMA.Value)
	require.Equal(t, 24.0, r.Lead("l2").AWG.Value)
	require.Equal(t, 10.0, r.Show.CircuitA.Value)
	for _, bad := range []string{"items/pc/ports/middle/allowsMa", "items/cam/power/wattage", "leads/l2/gauge",
		"show/volts", "items/strip/power/battery/mAh"} {
		_, err := Apply(powered(), Edit{Do: "fact", Path: bad, Fact: &x})
		require.ErrorContains(t, err, bad)
	}
	nan := fact.Fact{Value: math.NaN()}
	_, err = Apply(powered(), Edit{Do: "fact", Path: "items/cam/power/drawW", Fact: &nan})
	require.Error(t, err)
}

func TestPoweredBy(t *testing.T) {
	r, err := Apply(powered(), Edit{Do: "powered-by", Item: "cam", Word: "ups"})
	require.NoError(t, err)
	require.Equal(t, "ups", r.Item("cam").PoweredBy)
	require.Empty(t, Check(r))
	r, err = Apply(r, Edit{Do: "powered-by", Item: "cam"})
	require.NoError(t, err)
	require.Empty(t, r.Item("cam").PoweredBy)
	_, err = Apply(r, Edit{Do: "powered-by", Item: "cam", Word: "sun"})
	require.ErrorContains(t, err, `"sun"`)
	_, err = Apply(r, Edit{Do: "powered-by", Item: "moon", Word: "ups"})
	require.ErrorContains(t, err, `"moon"`)
}

// However supplies are hung on each other, the check ends, and names exactly the items that hang on themselves.
func TestSuppliesInCircles(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := small()
		n := rapid.IntRange(1, 6).Draw(t, "strips")
		up := make([]int, n)
		for i := range n {
			up[i] = rapid.IntRange(-1, n-1).Draw(t, "up")
			it := Item{ID: string(rune('a' + i)), Label: "Strip", Gear: gear.Gear{Kind: gear.Strip, Name: "Strip"}}
			if up[i] >= 0 {
				it.PoweredBy = string(rune('a' + up[i]))
			}
			r.Items = append(r.Items, it)
		}
		var want []string
		for i := range n {
			at := up[i]
			for k := 0; k < n && at >= 0 && at != i; k++ {
				at = up[at]
			}
			if at == i {
				want = append(want, string(rune('a'+i)))
			}
		}
		var got []string
		for _, p := range Check(r) {
			for i := range n {
				if id := string(rune('a' + i)); slices.Contains([]string{`"` + id + `" cannot power itself`,
					`"` + id + `" hangs on itself by way of "` + r.Item(id).PoweredBy + `"`}, p.Text) {
					got = append(got, id)
				}
			}
		}
		require.Equal(t, want, got)
	})
}
