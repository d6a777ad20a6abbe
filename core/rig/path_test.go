package rig

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/picture"
)

// full is the small rig with one of everything that can be answered by a word.
func full() *Rig {
	r := powered()
	cam := &r.Items[0]
	cam.Gear.Settings = []gear.Setting{{ID: "auto-power-off", As: "on", Want: "off"}}
	cam.Gear.Standby = &gear.Standby{Does: "unknown"}
	cam.Gear.Turns = true
	cam.Gear.HeatLimits = []gear.HeatLimit{{Minutes: fact.Exactly(30)}}
	r.Items[1].Gear.Delivers = []gear.Delivery{{Format: picture.NV12, Width: 1920, Height: 1080}}
	return r
}

// Every question that is answered by a word takes every word it offers, refuses any other by name, and changes nothing
// else.
func TestEveryWordByPath(t *testing.T) {
	for path, words := range map[string][]string{
		"items/cam/clean":                     {"clean", "after-setting", "never", "unknown"},
		"items/cam/protected":                 {"never", "setting", "always", "unknown"},
		"items/stick/oddSizes":                {"box", "crop", "scale", "refuse", "unknown"},
		"items/stick/overview":                {"yes", "no", "unknown"},
		"items/stick/driver":                  {"none", "driver", "software", "unknown"},
		"items/cam/standby/does":              {"nothing", "resizes", "black", "unknown"},
		"items/cam/set/upright":               {"yes", "no"},
		"items/cam/set/protection":            {"on", "off"},
		"items/cam/owned":                     {"borrowed", "owned", "to-buy"},
		"items/cam/price":                     {"10.50 EUR", "7.00 SEK"},
		"items/cam/set/spares":                {"0", "3", "50"},
		"items/cam/set/shutter":               {"1/50", "1/100", "1/60"},
		"items/stick/worksWith/encoder":       {"works", "badly", "no", "untested"},
		"items/cam/ports/hdmi/hdmi/fixedRate": {"3x3", "4x12", "unknown"},
		"items/cam/ports/hdmi/sdi/link":       {"3G", "unknown"},
		"items/cam/ports/hdmi/sdi/level":      {"A", "B", "AB", "unknown"},
		"leads/l1/direction":                  {"right", "wrong"},
	} {
		for _, w := range words {
			before, err := json.Marshal(full())
			require.NoError(t, err)
			r := full()
			after, err := Apply(r, Edit{Do: "word", Path: path, Word: w})
			require.NoError(t, err, "%s: %s", path, w)
			now, err := json.Marshal(r)
			require.NoError(t, err)
			require.Equal(t, string(before), string(now), "the rig that was edited stays as it was")
			again, err := Apply(after, Edit{Do: "word", Path: path, Word: w})
			require.NoError(t, err)
			a, _ := json.Marshal(after)
			b, _ := json.Marshal(again)
			require.Equal(t, string(a), string(b), "said twice is said once")
		}
		for _, bad := range []string{"perhaps", "", "YES", "-1", "51"} {
			if bad == "" && (path == "items/cam/ports/hdmi/hdmi/fixedRate" || path == "items/cam/price") ||
				bad == "51" && (path == "items/cam/set/shutter" || path == "items/cam/price") {
				continue // no fixed-rate link, no price any more; 51 seconds, 51 of the show's currency
			}
			_, err := Apply(full(), Edit{Do: "word", Path: path, Word: bad})
			require.Error(t, err, "%s: %q", path, bad)
			require.Contains(t, err.Error(), path)
		}
		x := fact.Exactly(1)
		_, err := Apply(full(), Edit{Do: "fact", Path: path, Fact: &x})
		if path != "items/cam/set/upright" {
			require.Error(t, err, "%s is no number", path)
		}
	}
	// A setting keeps whatever the sheet calls its positions.
	r, err := Apply(full(), Edit{Do: "word", Path: "items/cam/settings/auto-power-off/as", Word: "30 min"},
		Edit{Do: "word", Path: "items/cam/set/settings/auto-power-off", Word: "off"})
	require.NoError(t, err)
	require.Equal(t, "30 min", r.Items[0].Gear.Settings[0].As)
	require.Equal(t, "off", r.Items[0].Set.Settings["auto-power-off"])
	_, err = Apply(full(), Edit{Do: "word", Path: "items/cam/set/settings/flash", Word: "off"})
	require.ErrorContains(t, err, `"cam" has no setting "flash"`)
	_, err = Apply(full(), Edit{Do: "word", Path: "items/cam/ports/usb/usb/speed", Word: "5G"})
	require.ErrorContains(t, err, `"cam" has no port "usb"; it has hdmi`)
}

// Every number by path, and what is no number by its name.
func TestEveryFactByPath(t *testing.T) {
	x := fact.Exactly(7)
	for path, read := range map[string]func(*Rig) *fact.Fact{
		"items/cam/standby/afterMinutes": func(r *Rig) *fact.Fact { return r.Items[0].Gear.Standby.AfterMinutes },
		"items/cam/recordLimitMinutes":   func(r *Rig) *fact.Fact { return r.Items[0].Gear.RecordLimitMinutes },
		"items/cam/heatLimits/0/minutes": func(r *Rig) *fact.Fact {
			return &r.Items[0].Gear.HeatLimits[0].Minutes
		},
		"items/stick/busMBps": func(r *Rig) *fact.Fact { return r.Items[1].Gear.BusMBps },
		"items/stick/delivers/0/bitsPerPixel": func(r *Rig) *fact.Fact {
			return r.Items[1].Gear.Delivers[0].BitsPerPixel
		},
		"items/cam/ports/hdmi/hdmi/maxTmdsMHz": func(r *Rig) *fact.Fact {
			return r.Items[0].Gear.Ports[0].HDMI.MaxTMDSMHz
		},
		"leads/l1/reachM":  func(r *Rig) *fact.Fact { return r.Leads[0].ReachM },
		"leads/l1/lengthM": func(r *Rig) *fact.Fact { return &r.Leads[0].LengthM },
		"show/mainsVolts":  func(r *Rig) *fact.Fact { return r.Show.MainsVolts },
		"show/destinations/0/videoKbps": func(r *Rig) *fact.Fact {
			return r.Show.Destinations[0].Send.VideoKbps
		},
		"show/destinations/0/audioKbps": func(r *Rig) *fact.Fact {
			return r.Show.Destinations[0].Send.AudioKbps
		},
		"uplink/estimateMbps": func(r *Rig) *fact.Fact { return r.Uplink.EstimateMbps },
	} {
		r, err := Apply(full(), Edit{Do: "fact", Path: path, Fact: &x})
		require.NoError(t, err, path)
		require.Equal(t, x, *read(r), path)
		_, err = Apply(full(), Edit{Do: "fact", Path: path})
		require.ErrorContains(t, err, "fact is missing", path)
		upside := fact.Fact{Value: 1, Low: 3, High: 2}
		_, err = Apply(full(), Edit{Do: "fact", Path: path, Fact: &upside})
		require.Error(t, err, path)
	}
	for _, bad := range []string{"", "items", "items/cam", "items/nobody/busMBps", "leads/l9/lengthM",
		"show/destinations/7/videoKbps", "show/destinations/0/price", "items/stick/delivers/9/bitsPerPixel",
		"items/cam/name"} {
		_, err := Apply(full(), Edit{Do: "fact", Path: bad, Fact: &x})
		require.Error(t, err, bad)
	}
}

// A newer sheet keeps of the settings what it still knows, and drops what it does not.
func TestTakingANewerSheet(t *testing.T) {
	r := full()
	hd := r.Items[0].Gear.Ports[0].Modes[0]
	r.Items[0].Set = &Set{Output: map[string]picture.Mode{"hdmi": hd, "sdi": hd},
		Settings: map[string]string{"auto-power-off": "off", "flash": "off"}, Upright: true, RunsOn: "mains"}
	newer := r.Items[0].Gear
	newer.Turns = false
	after, err := Apply(r, Edit{Do: "take", Item: "cam", Gear: &newer, Shelf: &ShelfRef{ID: "camera", Revision: 4}})
	require.NoError(t, err)
	set := after.Items[0].Set
	require.Equal(t, map[string]picture.Mode{"hdmi": hd}, set.Output)
	require.Equal(t, map[string]string{"auto-power-off": "off"}, set.Settings)
	require.False(t, set.Upright, "it no longer turns")
	require.Equal(t, "mains", set.RunsOn)
	require.Equal(t, 4, after.Items[0].Shelf.Revision)
	require.Len(t, r.Items[0].Set.Settings, 2, "the rig that was edited stays as it was")
}

// What a show leaves open is said in the order it decides, and each answer takes its line away.
func TestGaps(t *testing.T) {
	r := small()
	r.Show.Destinations = nil
	require.Equal(t, "where it is sent", Gaps(r)[0])
	r = small()
	was := len(Gaps(r))
	require.Contains(t, Gaps(r), "what Class takes at most")
	for _, answer := range []func(*Show){
		func(s *Show) { kb := fact.Exactly(4500); s.Destinations[0].Send.VideoKbps = &kb },
		func(s *Show) { s.Angles = 1 },
		func(s *Show) { s.MainsHz = 50 },
		func(s *Show) { s.Program.Name = "Any" },
		func(s *Show) { s.SoundFrom = "mixer" },
		func(s *Show) { s.Budget = &gear.Money{Amount: 100, Currency: "EUR"} },
	} {
		answer(&r.Show)
		was--
		require.Len(t, Gaps(r), was)
	}
	r.Show.Angles = 3
	require.Contains(t, Gaps(r), "who or what changes angles")
}
