package advise

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"slices"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
)

var slowFor = flag.Duration("slow", 0, "how long to search for the slowest rig per byte")

// slowest are the worst meshes a search of that kind has found.
var slowest = []rigtest.Mesh{
	{Kind: gear.Switcher, Cameras: 1, Outs: 2, Width: 1, Depth: 20, Leads: 2, Sends: 1},
	{Kind: gear.Switcher, Cameras: 1, Outs: 2, Width: 2, Depth: 8, Leads: 2, Cross: 1, Sends: 1},
	{Kind: gear.Switcher, Cameras: 1, Outs: 3, Width: 2, Depth: 22, Leads: 2, Cross: 3, Hubs: 3, Sends: 4},
	{Kind: gear.Capture, Cameras: 1, Outs: 3, Width: 2, Depth: 19, Leads: 2, Cross: 3, Hubs: 4, Sends: 4},
	{Kind: gear.Recorder, Cameras: 1, Outs: 3, Width: 2, Depth: 13, Leads: 2, Cross: 3, Hubs: 3, Voices: 2, Sends: 4},
	{Kind: gear.Switcher, Cameras: 2, Outs: 1, Width: 2, Depth: 18, Leads: 3, Cross: 1, Hubs: 3, Sends: 1, Keeps: 3},
	{Kind: gear.Converter, Cameras: 5, Outs: 3, Width: 4, Depth: 13, Leads: 2, Cross: 3, Hubs: 2, Voices: 4, Sends: 1,
		Keeps: 2},
	{Kind: gear.Switcher, Cameras: 8, Outs: 3, Width: 4, Depth: 12, Leads: 4, Cross: 2, Hubs: 2, Voices: 4, Sends: 2,
		Keeps: 2},
	{Kind: gear.Switcher, Cameras: 8, Outs: 3, Width: 4, Depth: 16, Leads: 3, Cross: 3, Hubs: 2, Voices: 4, Sends: 2,
		Keeps: 2},
	{Kind: gear.Converter, Cameras: 1, Outs: 1, Width: 1, Depth: 2, Leads: 3, Cross: 3, Hubs: 4, Voices: 5, Sends: 2},
}

// took is how much processor a mesh takes, whatever else the machine does, and how many bytes it has.
func took(m rigtest.Mesh) (d time.Duration, bytes int, a *Advice) {
	r := m.Rig()
	raw, err := json.Marshal(r)
	if err != nil || len(rig.Check(r)) > 0 {
		return 0, 1, nil
	}
	began := processor()
	a = On(context.Background(), judge.Rig(r), Effort)
	return processor() - began, len(raw), a
}

// processor is what this process has taken of it so far.
func processor() time.Duration {
	var u syscall.Rusage
	if err := syscall.Getrusage(syscall.RUSAGE_SELF, &u); err != nil {
		panic(err)
	}
	return time.Duration(u.Utime.Nano() + u.Stime.Nano())
}

// Meshes of every kind are judged and advised on, and what was not finished is said: the work counted stays within what
// was allowed by no more than one trial of it, however a rig is knit.
func TestMeshesStayWithinTheirEffort(t *testing.T) {
	d := rigtest.NewDice(1)
	sound := 0
	for i := range 24 {
		m := rigtest.MeshOf(d)
		if i < 3 {
			m = slowest[i]
		}
		r := m.Rig()
		if len(rig.Check(r)) > 0 {
			continue
		}
		sound++
		const effort = 40_000
		v := judge.Rig(r)
		a := On(context.Background(), v, effort)
		require.Less(t, a.Work, 3*effort+40*len(v.Results), "%+v", m)
		if a.Work > effort {
			require.False(t, a.Complete, "%+v", m)
		}
	}
	require.Greater(t, sound, 15)
}

// By hand, for as long as one has: go test ./core/advise -run Slowest -args -slow 1h
func TestSlowest(t *testing.T) {
	if *slowFor == 0 {
		t.Skip("by hand, with -slow")
	}
	type found struct {
		m   rigtest.Mesh
		per float64
		d   time.Duration
		kB  float64
	}
	var worst []found
	d := rigtest.NewDice(uint64(time.Now().UnixNano()))
	for until, n := time.Now().Add(*slowFor), 0; time.Now().Before(until); n++ {
		m := rigtest.MeshOf(d)
		if len(worst) > 0 && !d.Of(3) {
			m = worst[d.N(len(worst))].m.Change(d)
		}
		if slices.ContainsFunc(worst, func(f found) bool { return f.m == m }) {
			continue
		}
		t, bytes, a := took(m)
		if a == nil {
			continue
		}
		worst = append(worst, found{m, t.Seconds() / float64(bytes), t, float64(bytes) / 1000})
		slices.SortFunc(worst, func(a, b found) int { return int(1e9 * (b.per - a.per)) })
		worst = worst[:min(len(worst), 10)]
	}
	for _, f := range worst {
		fmt.Printf("%.2f s, %.1f kB: %+v\n", f.d.Seconds(), f.kB, f.m)
	}
}

func BenchmarkSlowest(b *testing.B) {
	for i, m := range slowest {
		b.Run(fmt.Sprint(i), func(b *testing.B) {
			for b.Loop() {
				took(m)
			}
		})
	}
}
