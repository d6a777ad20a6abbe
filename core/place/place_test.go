package place

import (
	"fmt"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/usb"
	"eventether/internal/demo/rigs"
)

// all tries every port and format for every device and keeps the best. It shares only the objective with the search.
func all(p *Problem) *Placing {
	n := len(p.Devices)
	var best *Placing
	a := &Placing{Port: make([]int, n), Format: make([]int, n)}
	var walk func(d int)
	walk = func(d int) {
		if d == n {
			if p.Check(a) != nil {
				return
			}
			c := &Placing{Port: append([]int(nil), a.Port...), Format: append([]int(nil), a.Format...)}
			load := make([]float64, len(p.Resources))
			for i := range p.Devices {
				f := &p.Devices[i].Formats[a.Format[i]]
				c.Loss += f.Loss
				if a.Port[i] != p.Devices[i].Now {
					c.Moves++
				}
				port := &p.Ports[a.Port[i]]
				for _, u := range port.Uses {
					switch {
					case p.Resources[u].Kind == FastBus && (!port.High || port.Open) && f.Fast >= 0:
						load[u] += f.Fast
					case p.Resources[u].Kind == HighBus && (port.High || f.Fast < 0 || f.Either):
						load[u] += f.High
					case p.Resources[u].Kind == BothSides:
						load[u] += f.Sends
					}
				}
			}
			for i, r := range p.Resources {
				if r.Kind != Power {
					c.Ratio = max(c.Ratio, load[i]/r.Cap)
				}
			}
			if c.Better(best) {
				best = c
			}
			return
		}
		for port := range p.Ports {
			if p.Devices[d].Fixed && port != p.Devices[d].Now {
				continue
			}
			for f := range p.Devices[d].Formats {
				a.Port[d], a.Format[d] = port, f
				walk(d + 1)
			}
		}
	}
	walk(0)
	return best
}

// small draws a problem of a size that can be tried out whole.
func small(t *rapid.T) *Problem {
	p := &Problem{}
	for range rapid.IntRange(1, 2).Draw(t, "controllers") {
		fast := len(p.Resources)
		p.Resources = append(p.Resources, Resource{"c", FastBus, rapid.SampledFrom([]float64{300, 410, 500}).Draw(t,
			"fast")}, Resource{"c", HighBus, rapid.SampledFrom([]float64{32, 53}).Draw(t, "high")})
		hub := rapid.Bool().Draw(t, "hub")
		for range rapid.IntRange(1, 3).Draw(t, "ports") {
			p.Ports = append(p.Ports, Port{Name: "p", Plug: rapid.SampledFrom([]string{"a", "a", "c"}).Draw(t, "plug"),
				High: rapid.IntRange(0, 3).Draw(t, "slow") == 0, Open: rapid.Bool().Draw(t, "or fast"),
				MaxMW: rapid.SampledFrom([]float64{0, 2500, 4500}).Draw(t, "current"), Uses: []int{fast, fast + 1}})
		}
		if hub {
			up := len(p.Resources)
			p.Resources = append(p.Resources, Resource{"h", FastBus, 250}, Resource{"h", HighBus, 32},
				Resource{"h", Power, rapid.SampledFrom([]float64{4000, 9000}).Draw(t, "hub power")},
				Resource{"h", BothSides, rapid.SampledFrom([]float64{140, 260}).Draw(t, "way up")})
			for range 2 {
				p.Ports = append(p.Ports, Port{Name: "h", Plug: "a", Uses: []int{up, up + 1, up + 2, up + 3, fast,
					fast + 1}})
			}
		}
	}
	n := rapid.IntRange(1, min(4, len(p.Ports))).Draw(t, "devices")
	for range n {
		d := Device{Name: "d", Plug: rapid.SampledFrom([]string{"a", "a", "c"}).Draw(t, "plug"),
			MW:  rapid.SampledFrom([]float64{0, 2200, 2800, 4000}).Draw(t, "mW"),
			Now: rapid.IntRange(-1, len(p.Ports)-1).Draw(t, "now")}
		for f := range rapid.IntRange(1, 2).Draw(t, "formats") {
			v := rapid.SampledFrom([]float64{15, 31, 93, 124, 187, 249}).Draw(t, "MB/s")
			high := v
			if v > 53 {
				high = -1
			}
			fast := v
			if rapid.IntRange(0, 4).Draw(t, "only slow") == 0 && high > 0 {
				fast = -1
			}
			d.Formats = append(d.Formats, Format{"f", fast, high, f * rapid.SampledFrom([]int{0, 1, 20}).Draw(t,
				"loss"), rapid.IntRange(0, 5).Draw(t, "either side") == 0, v})
		}
		p.Devices = append(p.Devices, d)
	}
	seen := map[int]bool{}
	for d := range p.Devices { // one plug a socket
		if now := p.Devices[d].Now; now >= 0 && (seen[now] || p.Ports[now].Plug != p.Devices[d].Plug) {
			p.Devices[d].Now = -1
		} else if now >= 0 {
			seen[now] = true
		}
	}
	return p
}

// Against trying everything, on thousands of small problems; and what is found is feasible and repeatable.
func TestAgainstTryingAll(t *testing.T) {
	found, none := 0, 0
	for range 20 { // 20 × rapid's 100
		rapid.Check(t, func(t *rapid.T) {
			p := small(t)
			want := all(p)
			got, proven := Solve(p, Options{})
			require.True(t, proven)
			if want == nil {
				require.Nil(t, got)
				none++
				return
			}
			require.NotNil(t, got)
			require.NoError(t, p.Check(got))
			require.Equal(t, want.Loss, got.Loss, "loss")
			require.InDelta(t, want.Ratio, got.Ratio, 1e-6, "worst bus")
			require.Equal(t, want.Moves, got.Moves, "moves")
			again, _ := Solve(p, Options{})
			require.Equal(t, got, again, "repeatable")
			found++
		})
	}
	require.Greater(t, found, 100)
	require.Greater(t, none, 100)
}

// Laws: never worse than the present placing; the order of devices and ports does not matter to how good it is.
func TestLaws(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := small(t)
		got, _ := Solve(p, Options{})
		present := &Placing{Port: make([]int, len(p.Devices)), Format: make([]int, len(p.Devices))}
		feasible := true
		for d := range p.Devices {
			present.Port[d] = p.Devices[d].Now
			feasible = feasible && p.Devices[d].Now >= 0
			present.Loss += p.Devices[d].Formats[0].Loss
		}
		if feasible && p.Check(present) == nil {
			require.NotNil(t, got)
			require.LessOrEqual(t, got.Loss, present.Loss)
		}
		q := p.clone()
		ports := rapid.Permutation(indices(len(p.Ports))).Draw(t, "ports")
		for i, k := range ports {
			q.Ports[i] = p.Ports[k]
		}
		order := rapid.Permutation(indices(len(p.Devices))).Draw(t, "devices")
		for i, k := range order {
			q.Devices[i] = p.Devices[k]
			if now := q.Devices[i].Now; now >= 0 {
				for at, was := range ports {
					if was == now {
						q.Devices[i].Now = at
					}
				}
			}
		}
		other, _ := Solve(q, Options{})
		if got == nil {
			require.Nil(t, other)
			return
		}
		require.Equal(t, []any{got.Loss, got.Moves}, []any{other.Loss, other.Moves})
		require.InDelta(t, got.Ratio, other.Ratio, 1e-6)
	})
}

func indices(n int) (out []int) {
	for i := range n {
		out = append(out, i)
	}
	return out
}

// tight is a seeded problem of the full size: 12 devices on 24 ports over 4 controllers in 3 formats each, with so much
// room that it is just possible, or just not.
func tight(seed uint64) *Problem {
	rng := rand.New(rand.NewPCG(seed, 7))
	p := &Problem{}
	formats := []float64{248.832, 186.624, 31.104, 124.416, 93.312, 373.248, 62.208, 15.552}
	total := 0.0
	for range 12 {
		d := Device{Name: "d", Plug: "a", MW: float64(1500 + rng.IntN(3000)), Now: -1}
		base := rng.IntN(3)
		for f := range 3 {
			v := formats[(base+f*2+rng.IntN(2))%len(formats)] * (0.97 + 0.06*rng.Float64())
			high := v
			if v > 53 {
				high = -1
			}
			d.Formats = append(d.Formats, Format{"f", v, high, f * []int{1, 20, 21}[rng.IntN(3)], false, v})
		}
		total += d.Formats[0].Fast
		p.Devices = append(p.Devices, d)
	}
	squeeze := 0.75 + 0.35*rng.Float64() // of what the devices want in all
	for c := range 4 {
		fast := len(p.Resources)
		p.Resources = append(p.Resources, Resource{"c", FastBus, total / 4 * squeeze * (0.9 + 0.2*rng.Float64())},
			Resource{"c", HighBus, 32.768})
		for k := range 4 {
			p.Ports = append(p.Ports, Port{Name: "p", Plug: "a", High: k == 3 && c%2 == 0,
				MaxMW: []float64{4500, 2500}[rng.IntN(2)], Uses: []int{fast, fast + 1}})
		}
		up := len(p.Resources)
		p.Resources = append(p.Resources, Resource{"h", FastBus, 470}, Resource{"h", HighBus, 32.768},
			Resource{"h", Power, float64(4000 + rng.IntN(6000))})
		for range 2 {
			p.Ports = append(p.Ports, Port{Name: "h", Plug: "a", Uses: []int{up, up + 1, up + 2, fast, fast + 1}})
		}
	}
	taken := map[int]bool{}
	for d := range p.Devices {
		if at := rng.IntN(len(p.Ports)); !taken[at] {
			p.Devices[d].Now, taken[at] = at, true
		}
	}
	return p
}

// BenchmarkTight solves the seeded set of 200 tight problems; it reports the slowest of them and how many needed
// more than their steps. The reference is the same number of steps of plain arithmetic.
func BenchmarkTight(b *testing.B) {
	for b.Loop() {
		worst, none := time.Duration(0), 0
		var steps int64
		for seed := range uint64(200) {
			p := tight(seed)
			began := time.Now()
			var tried int64
			best, proven := Solve(p, Options{Report: func(p Progress) { tried = p.Tried }})
			if took := time.Since(began); took > worst {
				worst = took
			}
			steps = max(steps, tried)
			if !proven {
				b.Fatal("not proven")
			}
			if best == nil {
				none++
			}
		}
		b.ReportMetric(float64(worst.Microseconds())/1000, "worst-ms")
		b.ReportMetric(float64(none), "impossible")
		b.ReportMetric(float64(steps), "most-steps")
	}
}

// The tight ones are proven within a bounded number of steps, which does not depend on how fast a machine is.
func TestTightIsProvenWithinSteps(t *testing.T) {
	for seed := range uint64(40) {
		p := tight(seed)
		var tried int64
		best, proven := Solve(p, Options{Report: func(p Progress) { tried = p.Tried }})
		require.True(t, proven)
		require.Less(t, tried, int64(8_000_000), "seed %d", seed)
		if best != nil {
			require.NoError(t, p.Check(best), "seed %d", seed)
		}
	}
}

// Stopped early, an answer is never called proven.
func TestStopped(t *testing.T) {
	stopped := 0
	for seed := range uint64(30) {
		p := tight(seed)
		calls := 0
		best, proven := Solve(p, Options{Stop: func() bool { calls++; return true }})
		if calls > 0 {
			stopped++
			require.False(t, proven)
			if best != nil {
				require.False(t, best.Proven)
				require.NoError(t, p.Check(best))
			}
		}
	}
	require.Positive(t, stopped)
}

// The loft: two sticks on one hub without a supply. One plug move mends the bus and the current.
func TestLoft(t *testing.T) {
	s := Suggest(rigs.Loft(), Options{})
	require.True(t, s.Possible)
	require.True(t, s.Sure)
	require.True(t, s.Proven)
	require.NotEmpty(t, s.Moves)
	after, err := rig.Apply(rigs.Loft(), s.Edits...)
	require.NoError(t, err)
	require.Empty(t, rig.Check(after))
	v := rules.New(after, rig.NewWiring(after)).Run()
	for i := range v.Results {
		switch l := &v.Results[i]; l.ID.Rule {
		case rules.Bus, rules.PortCurrent, rules.Supply, rules.Link:
			require.NotEqual(t, limit.Snapped, l.State, v.Word(l).Says)
		}
	}
	require.NotEmpty(t, s.Shared)
	again := Suggest(rigs.Loft(), Options{})
	require.Equal(t, s, again, "repeatable")
}

// Where nothing fits, it is proven, said, and the smallest change named.
func TestNothingFits(t *testing.T) {
	r := rigs.Loft()
	pc := r.Item("pc")
	pc.Gear.Ports = append(pc.Gear.Ports[:0:0], pc.Gear.Ports...)
	for i := range pc.Gear.Ports {
		if u := pc.Gear.Ports[i].USB; u != nil {
			pc.Gear.Ports[i].USB = &gear.USBPort{Speed: usb.HighSpeed}
		}
	}
	up := fact.Exactly(3900)
	pc.Gear.Controllers[0].UplinkMBps, pc.Gear.Controllers[1].UplinkMBps = &up, &up
	for i := range r.Items {
		if r.Items[i].Gear.Kind == "capture" { // nothing that fits USB 2
			r.Items[i].Gear.Delivers = r.Items[i].Gear.Delivers[:1]
		}
	}
	s := Suggest(r, Options{})
	require.False(t, s.Possible)
	require.True(t, s.Proven)
	require.NotEmpty(t, s.Why)
	require.NotEmpty(t, s.Shared)
}

// Several sticks on a dock with a controller and supply of its own are well; the same on a hub that lives on its socket
// are not. [practice: no single source]
func TestDockOfItsOwn(t *testing.T) {
	r := rigs.Loft()
	hub := r.Item("hub")
	yes := fact.Exactly(60)
	uplink := fact.Exactly(2000)
	hub.Gear.Kind = "dock"
	hub.Gear.Controllers = append(hub.Gear.Controllers, gear.Controller{ID: "dock", UplinkMBps: &uplink})
	for i := range hub.Gear.Ports[1:] {
		hub.Gear.Ports[i+1].Controller = "dock"
	}
	hub.Gear.Power.SupplyW, hub.Gear.Power.SelfPowered = &yes, "yes"
	require.Empty(t, rig.Check(r))
	v := rules.New(r, rig.NewWiring(r)).Run()
	for i := range v.Results {
		l := &v.Results[i]
		if l.ID.Rule == rules.Bus || l.ID.Rule == rules.PortCurrent || l.ID.Rule == rules.Supply {
			require.NotEqual(t, limit.Snapped, l.State, v.Word(l).Says)
		}
	}
}

// crowd is 21 hubs on one controller and 16 sticks: more ways than can ever be looked at.
func crowd(short float64) *Problem {
	p := &Problem{Resources: []Resource{{"controller", FastBus, 900}, {"controller", HighBus, 40}}}
	for h := range 21 {
		at := len(p.Resources)
		p.Resources = append(p.Resources, Resource{fmt.Sprintf("hub %d", h), FastBus, 400},
			Resource{fmt.Sprintf("hub %d", h), HighBus, 40}, Resource{fmt.Sprintf("hub %d", h), Power,
				4500 + float64(h)})
		for k := range 4 {
			p.Ports = append(p.Ports, Port{Name: fmt.Sprintf("hub %d, %d", h, k), Plug: "A", MaxMW: 4500,
				Uses: []int{at, at + 1, at + 2, 0, 1}})
		}
	}
	for d := range 16 {
		p.Devices = append(p.Devices, Device{Name: fmt.Sprintf("stick %d", d), Plug: "A", MW: 2000 + 10*float64(d),
			Now: -1, Formats: []Format{
				{"YUY2", 124 + float64(d), -1, 0, false, 0}, {"NV12", 93 + float64(d), -1, 20, false, 0},
				{"MJPEG", short + float64(d)/10, 20, 21, false, 0}}})
	}
	return p
}

// However many ways there are, the search ends within its effort, shows what it has, and calls nothing proven that is
// not.
func TestEffortEndsTheSearch(t *testing.T) {
	for _, short := range []float64{10, 54} {
		p := crowd(short)
		var tried int64
		best, proven := Solve(p, Options{Effort: 500_000, Report: func(pr Progress) { tried = pr.Tried }})
		require.LessOrEqual(t, tried, int64(510_000))
		if best != nil {
			require.NoError(t, p.Check(best))
			require.Equal(t, proven, best.Proven)
		}
		if short == 10 {
			require.NotNil(t, best, "just any placing is found at once")
		}
	}
	// A budget that is not reached changes nothing.
	p := tight(3)
	want, proven := Solve(p, Options{})
	got, again := Solve(p, Options{Effort: 1 << 40})
	require.Equal(t, proven, again)
	require.Equal(t, want, got)
}
