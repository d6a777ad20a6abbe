package runsheet_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/runsheet"
	"eventether/core/work"
	"eventether/internal/demo/rigs"
)

// like is the plain rig, changed: one camera, one stick, one computer.
func like(change func(r *rig.Rig)) *rig.Rig {
	r := rigtest.Clone(rigtest.Plain())
	change(r)
	return r
}

// What a rig is like decides which steps there are, and what stands in them.
func TestStepsByRig(t *testing.T) {
	value := func(st *runsheet.Step, name string) string {
		for _, v := range st.Values {
			if v.Name == name {
				return v.Value
			}
		}
		return ""
	}
	for _, c := range []struct {
		name  string
		rig   *rig.Rig
		first bool
		step  string // that there is, or with "-" before it, is not
		look  func(t *testing.T, st *runsheet.Step)
	}{
		{"a camera on batteries is changed in time", like(func(r *rig.Rig) {
			it := r.Item("cam-0")
			it.Gear.Power = &gear.Power{DrawW: exactly(6), Battery: &gear.BatteryPack{MAh: fact.Exactly(2000),
				Volts: fact.Exactly(7.2)}}
			it.Set.RunsOn, it.Set.Spares = "battery", 2
		}), false, "battery:cam-0", func(t *testing.T, st *runsheet.Step) {
			assert.Equal(t, runsheet.Live, st.Phase)
			assert.Contains(t, st.Do, "while another picture is on air")
			assert.NotEmpty(t, st.Caution)
		}},
		{"a camera on the mains is not", like(func(r *rig.Rig) { r.Item("cam-0").Set.RunsOn = "mains" }), false,
			"-battery:cam-0", nil},
		{"nobody has said what it runs on", like(func(r *rig.Rig) {
			r.Item("cam-0").Gear.Power, r.Item("cam-0").Set.RunsOn = nil, ""
		}), false, "power:cam-0", func(t *testing.T, st *runsheet.Step) {
			assert.Contains(t, st.Do, "nobody has said")
		}},
		{"a laptop's charger", like(func(r *rig.Rig) { r.Item("pc").Gear.Class = gear.Laptop }), false, "power:pc",
			func(t *testing.T, st *runsheet.Step) { assert.Contains(t, st.Do, "charger") }},
		{"a desktop has none", like(func(r *rig.Rig) { r.Item("pc").Gear.Class = gear.MidDesktop }), false,
			"-power:pc", nil},
		{"a lead on the desk", like(func(r *rig.Rig) { r.Lead("h0").LengthM = fact.Exactly(2) }), false, "lead:h0",
			func(t *testing.T, st *runsheet.Step) {
				assert.Equal(t, work.Desk, st.Kind)
				assert.Equal(t, 1, st.People)
				assert.Equal(t, 1.0, st.Minutes)
			}},
		{"a lead across the room: two, four minutes and two for each five metres more", like(func(r *rig.Rig) {
			r.Lead("h0").LengthM = fact.Exactly(12)
		}), false, "lead:h0", func(t *testing.T, st *runsheet.Step) {
			assert.Equal(t, work.Room, st.Kind)
			assert.Equal(t, 2, st.People)
			assert.Equal(t, 8.0, st.Minutes)
			assert.Contains(t, st.Do, "Nobody has said whether it lies over a walk: 4 min if not, 10 taped all along")
			assert.Contains(t, st.Caution, "Cables on floors")
		}},
		{"the same over a walk", like(func(r *rig.Rig) {
			r.Lead("h0").LengthM, r.Lead("h0").OverWalk = fact.Exactly(12), "yes"
		}), false, "lead:h0", func(t *testing.T, st *runsheet.Step) {
			assert.Equal(t, 10.0, st.Minutes)
			assert.NotContains(t, st.Do, "Nobody has said")
		}},
		{"a stick is plugged in", like(func(*rig.Rig) {}), false, "lead:u0", func(t *testing.T, st *runsheet.Step) {
			assert.Equal(t, work.Plug, st.Kind)
		}},
		{"the first time a driver installs by itself", like(func(r *rig.Rig) {
			r.Item("stick-0").Gear.Driver = "driver"
		}), true, "first:stick-0", func(t *testing.T, st *runsheet.Step) {
			assert.Zero(t, st.People)
			assert.Equal(t, 5.0, st.Minutes)
			assert.Contains(t, st.After, "lead:u0")
		}},
		{"a device that needs none", like(func(r *rig.Rig) { r.Item("stick-0").Gear.Driver = "none" }), true,
			"-first:stick-0", nil},
		{"settings that have to be off come first", like(func(r *rig.Rig) {
			r.Item("cam-0").Gear.Settings = []gear.Setting{{ID: "usb-remote", Excludes: []string{"phone-link"}},
				{ID: "phone-link"}, {ID: "movie-mode"}}
		}), false, "set:cam-0", func(t *testing.T, st *runsheet.Step) {
			var names []string
			for _, v := range st.Values {
				names = append(names, v.Name)
			}
			assert.Less(t, slices.Index(names, "Phone link"), slices.Index(names, "Remote by USB"))
			assert.Equal(t, "off", value(st, "Phone link"))
			assert.Equal(t, "on", value(st, "Remote by USB"))
		}},
		{"a camera's settings take two minutes at least", like(func(*rig.Rig) {}), false, "set:cam-0",
			func(t *testing.T, st *runsheet.Step) { assert.Equal(t, 2.0, st.Minutes) }},
		{"the whole sheet is entered the first time", like(func(*rig.Rig) {}), true, "enter:stream:Stream to d",
			func(t *testing.T, st *runsheet.Step) {
				assert.Equal(t, 10.0, st.Minutes)
				assert.NotEmpty(t, value(st, "B-frames"))
			}},
		{"and looked through after that", like(func(*rig.Rig) {}), false, "enter:stream:Stream to d",
			func(t *testing.T, st *runsheet.Step) {
				assert.Equal(t, 2.0, st.Minutes)
				assert.Empty(t, value(st, "B-frames"))
				assert.NotEmpty(t, value(st, "Bitrate"))
			}},
		{"a page of a destination has nothing to type in but the upload it takes", like(func(r *rig.Rig) {
			r.Show.Program.Kind = "destination-page"
		}), false, "enter:stream:Stream to d", func(t *testing.T, st *runsheet.Step) {
			assert.Len(t, st.Values, 1)
		}},
		{"a rehearsal as long as the show wants", like(func(r *rig.Rig) { r.Show.RehearsalMinutes = 25 }), false,
			"rehearsal", func(t *testing.T, st *runsheet.Step) { assert.Equal(t, 25.0, st.Minutes) }},
		{"nobody keeps a key", like(func(*rig.Rig) {}), false, "ready:d", func(t *testing.T, st *runsheet.Step) {
			assert.Contains(t, st.Caution, "kept nowhere here")
		}},
		{"what is recorded is copied twice, by itself", like(func(r *rig.Rig) {
			r.Items = append(r.Items, rig.Item{ID: "disk", Label: "Disk", Gear: gear.Gear{Kind: gear.Drive,
				Name: "Disk", WriteMBps: exactly(100), FreeGB: exactly(500)}})
			r.Show.Minutes = 100
			r.Show.Recordings = []rig.Recording{{What: "programme", Width: 1920, Height: 1080, Drive: "disk",
				Kbps: exactly(20000)}}
		}), false, "copy:disk", func(t *testing.T, st *runsheet.Step) {
			assert.Equal(t, runsheet.After, st.Phase)
			assert.Zero(t, st.People)
			assert.Equal(t, 5.0, st.Minutes, "15 GB at 100 MB/s, twice: 300 s")
			assert.Equal(t, "15 GB", value(st, "At most"))
		}},
	} {
		t.Run(c.name, func(t *testing.T) {
			require.Empty(t, rig.Check(c.rig))
			s := runsheet.Of(judge.Rig(c.rig), nil, runsheet.Options{First: c.first})
			if id, not := strings.CutPrefix(c.step, "-"); not {
				require.Nil(t, s.Step(id))
				return
			}
			st := s.Step(c.step)
			require.NotNil(t, st, "%s", ids(s))
			c.look(t, st)
		})
	}
}

func exactly(v float64) *fact.Fact { f := fact.Exactly(v); return &f }

func ids(s *runsheet.RunSheet) (out []string) {
	for i := range s.Steps {
		out = append(out, s.Steps[i].ID)
	}
	return out
}

// What travels, bag by bag: what is not owned is named, charged batteries are counted, plugs that sit on a device are
// no lead.
func TestPacking(t *testing.T) {
	no := false
	r := like(func(r *rig.Rig) {
		r.Item("stick-0").Owned = &no
		r.Item("cam-0").Set.Spares = 3
		r.Item("cam-0").Borrowed = true
	})
	var lines []string
	for _, p := range runsheet.Of(judge.Rig(r), nil, runsheet.Options{}).Packing {
		lines = append(lines, p.Bag+": "+p.What+" "+p.Owned)
	}
	assert.Contains(t, lines, "Computer and capture: Stick missing")
	assert.Contains(t, lines, "Cameras: Camera borrowed")
	assert.Contains(t, lines, "Power: Three charged batteries for Camera not-said")
	leads := 0
	for _, l := range lines {
		if strings.HasPrefix(l, "Leads: ") {
			leads++
		}
	}
	assert.Equal(t, 1, leads, "the HDMI lead; the stick's plug is its own")
}

// The hall on SDI with its switcher, the desk with its card: their steps, and plans that keep the order of things.
func TestSheetsOfTheDemo(t *testing.T) {
	for _, r := range []*rig.Rig{rigs.Hall(), rigs.Desk(), rigs.Loft(), rigs.LoftEven()} {
		v := judge.Rig(r)
		s := runsheet.Of(v, nil, runsheet.Options{People: 4})
		require.Len(t, s.Plans, 4)
		for i := range s.Plans {
			p := &s.Plans[i]
			end := map[string]float64{}
			for _, turn := range p.Turns {
				end[turn.Step] = turn.End
			}
			for _, turn := range p.Turns {
				for _, a := range s.Step(turn.Step).After {
					if e, ok := end[a]; ok {
						require.LessOrEqual(t, e, turn.Start+1e-6, "%s: %s before %s", r.Name, a, turn.Step)
					}
				}
				require.LessOrEqual(t, len(turn.Who), p.People)
			}
			require.Equal(t, p.Minutes+runsheet.Margin, p.Start)
		}
		if v.State == limit.Snapped {
			require.NotEmpty(t, s.First, r.Name)
		}
	}
	hall := runsheet.Of(judge.Rig(rigs.Hall()), nil, runsheet.Options{})
	require.True(t, slices.ContainsFunc(hall.Steps, func(st runsheet.Step) bool {
		return strings.Contains(st.Do, "SDI lead")
	}))
}

// A camera that ends a recording by itself is stopped and started again in time: the sheet says of which, and how
// often.
func TestTheSheetSaysWhenARecordingIsStartedAgain(t *testing.T) {
	r := rigs.Loft()
	most := fact.Exactly(29.9)
	cam := r.Item("cam-bench")
	cam.Gear.RecordLimitMinutes = &most
	r.Show.Recordings = append(r.Show.Recordings, rig.Recording{What: cam.ID, InCamera: true})
	find := func() []runsheet.Value {
		s := runsheet.Of(judge.Rig(r), nil, runsheet.Options{})
		at := slices.IndexFunc(s.Steps, func(s runsheet.Step) bool { return s.ID == "record" })
		require.GreaterOrEqual(t, at, 0)
		return s.Steps[at].Values
	}
	require.Empty(t, find())
	after, err := rig.Apply(r, rig.Edit{Do: "word", Path: "show/recordings/1/restarts", Word: "yes"})
	require.NoError(t, err)
	require.False(t, r.Show.Recordings[1].Restarts)
	r = after
	require.Equal(t, []runsheet.Value{{Name: "Stop and start again, Bench camera",
		Value: "every 29 min at the latest"}}, find())
}

// A camera somebody is to touch in time is a step of the night, with how often where that is known.
func TestACameraTouchedInTime(t *testing.T) {
	r := rigs.Loft()
	cam := r.Item("cam-stage")
	find := func() string {
		s := runsheet.Of(judge.Rig(r), nil, runsheet.Options{})
		if at := slices.IndexFunc(s.Steps, func(s runsheet.Step) bool { return s.ID == "touch:cam-stage" }); at >= 0 {
			return s.Steps[at].Do
		}
		return ""
	}
	cam.Gear.Standby = &gear.Standby{Does: "black", AfterMinutes: new(fact.Exactly(30))}
	require.Empty(t, find(), "left alone")
	r, err := rig.Apply(r, rig.Edit{Do: "word", Path: "items/cam-stage/set/touched", Word: "yes"})
	require.NoError(t, err)
	require.Contains(t, find(), "Touch Stage camera every 24 min at the latest")
	r.Item("cam-stage").Gear.Standby = &gear.Standby{Does: "black"}
	require.Contains(t, find(), "nobody has measured when it does")
	r.Item("cam-stage").Gear.Standby = &gear.Standby{Does: "nothing"}
	require.Empty(t, find(), "there is nothing to touch it for")
	r.Item("cam-stage").Gear.Standby = &gear.Standby{Does: "black"}
	r.Item("cam-stage").Gear.Settings = []gear.Setting{{ID: "auto-power-off"}}
	require.Empty(t, find(), "a setting sees to it")
}
