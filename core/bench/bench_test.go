package bench

import (
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/engine"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
)

// starter is the shelf as it comes, nothing owned but what is named.
func starter(owned ...string) (out []Stocked) {
	for _, e := range gear.Starter() {
		e.Owned = slices.Contains(owned, e.ID)
		out = append(out, Stocked{e, 1})
	}
	return out
}

// one is a rig of one camera by a stick into a laptop.
func one(t *testing.T) *rig.Rig {
	r, err := rig.New(rig.Start{Sources: []rig.StartSource{{Kind: "camera", Count: 1}},
		Out: rig.StartOut{Height: 1080, Fps: 30, Minutes: 60}, Computer: "laptop"})
	require.NoError(t, err)
	return r
}

// did does acts one after another and gives the rig.
func did(t *testing.T, r *rig.Rig, shelf []Stocked, acts ...Act) (*rig.Rig, []string) {
	var notes []string
	for _, a := range acts {
		d, err := Do(r, a, shelf)
		require.NoError(t, err, "%+v", a)
		after, err := rig.Apply(r, d.Edits...)
		require.NoError(t, err)
		require.Empty(t, rig.Check(after), "%+v", a)
		require.NotEmpty(t, d.What)
		notes = append(notes, d.Notes...)
		r = after
	}
	return r, notes
}

// way is the labels a feed passes.
func way(t *testing.T, r *rig.Rig, source string) string {
	v := judge.Rig(r)
	for i := range v.Feeds {
		if v.Feeds[i].Source.Label == source {
			var out []string
			for _, h := range v.Feeds[i].Hops {
				if it, _ := r.Port(h.Ref); it != nil && (len(out) == 0 || out[len(out)-1] != it.Label) {
					out = append(out, it.Label)
				}
			}
			return strings.Join(out, " > ")
		}
	}
	return ""
}

func TestMore(t *testing.T) {
	t.Run("a camera with its whole way, into what is owned and free", func(t *testing.T) {
		r, notes := did(t, one(t), starter("mirrorless-camera", "full-hd-stick"),
			Act{Do: "more", Entry: "mirrorless-camera"})
		require.NotNil(t, r.Item("full-hd-stick"))
		require.Equal(t, "full-hd-stick", r.Item("full-hd-stick").Shelf.ID)
		require.Empty(t, notes, "both are owned")
		require.Len(t, judge.Rig(r).Feeds, 2)
	})
	t.Run("what nobody owns has to be got, and is said so", func(t *testing.T) {
		r, notes := did(t, one(t), starter(), Act{Do: "more", Entry: "camcorder"})
		require.Contains(t, notes, "Camcorder is not owned: it has to be got")
		require.False(t, *r.Item("camcorder").Owned)
	})
	t.Run("four at once: the sockets run out, and a hub takes one", func(t *testing.T) {
		r, notes := did(t, one(t), starter(), Act{Do: "more", Entry: "webcam", Count: 4})
		require.NotNil(t, r.Item("webcam-4"))
		require.Equal(t, []string{"Webcam 1", "Webcam 2", "Webcam 3"}, []string{r.Item("webcam").Label,
			r.Item("webcam-2").Label, r.Item("webcam-3").Label})
		require.True(t, slices.ContainsFunc(r.Items, func(it rig.Item) bool { return it.Gear.Kind == gear.Hub }), notes)
		require.Len(t, judge.Rig(r).Feeds, 5)
		require.Contains(t, notes, "Webcam 2: an adapter from Type-A to Type-C")
	})
	t.Run("into the switcher that stands there", func(t *testing.T) {
		r, _ := did(t, one(t), starter(), Act{Do: "more", Entry: "four-input-switcher"},
			Act{Do: "more", Entry: "camcorder", Count: 2})
		for _, id := range []string{"camcorder", "camcorder-2"} {
			l := r.LeadIn(id + ".hdmi")
			require.NotNil(t, l)
			require.True(t, strings.HasPrefix(l.To, "four-input-switcher.in-"), l.To)
		}
	})
	t.Run("SDI behind a box for it", func(t *testing.T) {
		r, _ := did(t, one(t), starter(), Act{Do: "more", Entry: "studio-camera"})
		require.Len(t, judge.Rig(r).Feeds, 2)
	})
	t.Run("beside the tethers: drive, interface, strip, bank", func(t *testing.T) {
		r, notes := did(t, one(t), starter("fast-drive", "audio-interface", "mains-strip", "power-bank"),
			Act{Do: "more", Entry: "audio-interface"}, Act{Do: "more", Entry: "mains-strip"},
			Act{Do: "more", Entry: "power-bank"})
		require.NotNil(t, r.LeadIn("audio-interface.usb"))
		require.Equal(t, []string{"Power bank is not connected yet: pick up one of its sockets"}, notes)
	})
}

func TestBetweenAndOut(t *testing.T) {
	before := one(t)
	lead := before.LeadIn("camera-1.hdmi").ID
	r, _ := did(t, before, starter(), Act{Do: "between", At: lead, Entry: "splitter"})
	require.Equal(t, "Camera with HDMI > HDMI splitter, one to two > Stick 1 > Laptop > Camera with HDMI",
		way(t, r, "Camera with HDMI"))
	after, notes := did(t, r, starter(), Act{Do: "out", At: "hdmi-splitter-one-to-two"})
	require.Equal(t, way(t, before, "Camera with HDMI"), way(t, after, "Camera with HDMI"),
		"what came in is led past it")
	require.Empty(t, notes)

	_, err := Do(before, Act{Do: "between", At: lead, Entry: "hdmi-to-sdi"}, starter())
	require.ErrorContains(t, err, "gives HDMI", "one converter alone does not go back")
	_, err = Do(before, Act{Do: "between", At: lead, Entry: "four-port-hub"}, starter())
	require.ErrorContains(t, err, "nothing that takes HDMI")

	usb := before.LeadIn("stick-1.usb").ID
	r, _ = did(t, before, starter(), Act{Do: "between", At: usb, Entry: "four-port-hub"},
		Act{Do: "more", Entry: "webcam"})
	require.Contains(t, way(t, r, "Camera with HDMI"), "USB hub")
	r, notes = did(t, r, starter(), Act{Do: "out", At: "usb-hub"})
	require.Empty(t, notes)
	require.Len(t, judge.Rig(r).Feeds, 2)
}

func TestOutNamesWhatIsLoose(t *testing.T) {
	r, _ := did(t, one(t), starter(), Act{Do: "more", Entry: "four-input-switcher"},
		Act{Do: "more", Entry: "camcorder", Count: 2}, Act{Do: "more", Entry: "mains-strip"})
	r, err := rig.Apply(r, rig.Edit{Do: "powered-by", Item: "camcorder", Word: "mains-strip-six-sockets"})
	require.NoError(t, err)
	_, notes := did(t, r, starter(), Act{Do: "out", At: "four-input-switcher"})
	require.Equal(t, []string{"Camcorder 1 is loose now", "Camcorder 2 is loose now"}, notes)
	_, notes = did(t, r, starter(), Act{Do: "out", At: "mains-strip-six-sockets"})
	require.Equal(t, []string{"Camcorder 1 has no power named now"}, notes)
	_, notes = did(t, r, starter(), Act{Do: "out", At: "camera-1"})
	require.Equal(t, []string{"Stick 1 has no picture now"}, notes)
	left, _ := did(t, r, starter(), Act{Do: "out", At: "camera-1", Whole: true})
	require.Nil(t, left.Item("stick-1"))
}

func TestReplaceAndSame(t *testing.T) {
	r := one(t)
	after, notes := did(t, r, starter("four-input-switcher"), Act{Do: "replace", At: "stick-1",
		Entry: "four-input-switcher"})
	require.Equal(t, gear.Switcher, after.Item("stick-1").Gear.Kind)
	require.Empty(t, notes)
	require.Len(t, judge.Rig(after).Feeds, 1)

	measured := fact.Known(3.1, fact.Measured)
	r, err := rig.Apply(r, rig.Edit{Do: "fact", Path: "items/stick-1/power/drawW", Fact: &measured})
	require.NoError(t, err)
	after, notes = did(t, r, starter(), Act{Do: "same", At: "stick-1", Entry: "full-hd-stick"})
	require.Equal(t, &measured, after.Item("stick-1").Gear.Power.DrawW)
	require.Equal(t, "full-hd-stick", after.Item("stick-1").Shelf.ID)
	require.Len(t, notes, 1)
	require.Contains(t, notes[0], "3.1 W as measured here; the sheet says 2.5 W")
	_, err = Do(r, Act{Do: "same", At: "stick-1", Entry: "webcam"}, starter())
	require.ErrorContains(t, err, "replace it instead")

	all, err := rig.New(rig.Start{Sources: []rig.StartSource{{Kind: "camera", Count: 3}},
		Out: rig.StartOut{Height: 1080, Fps: 30, Minutes: 60}, Computer: "desktop"})
	require.NoError(t, err)
	all, _ = did(t, all, starter(), Act{Do: "replace", At: "stick-1", Entry: "4k-stick", Alike: true})
	for _, id := range []string{"stick-1", "stick-2", "stick-3"} {
		require.Equal(t, "4K stick", all.Item(id).Gear.Name)
	}
}

func TestWhatDoesNotFitSaysWhy(t *testing.T) {
	r, _ := did(t, one(t), starter(), Act{Do: "more", Entry: "studio-camera"},
		Act{Do: "more", Entry: "four-input-switcher"}, Act{Do: "more", Entry: "monitor"},
		Act{Do: "more", Entry: "camcorder"}, Act{Do: "more", Entry: "four-port-hub"})
	for _, c := range []struct{ a, b, why string }{
		{"studio-camera-with-sdi.hdmi", "monitor.in", ""},
		{"four-input-switcher.out", "monitor.in", ""},
		{"studio-camera-with-sdi.hdmi", "four-input-switcher.out", "both give a picture"},
		{"four-input-switcher.in-3", "monitor.in", "both take a picture"},
		{"four-input-switcher.out", "four-input-switcher.in-4", "is a loop"},
		{"camcorder.hdmi", "monitor.in", "is taken"},
		{"studio-camera-with-sdi.hdmi", "usb-hub.p1", "a capture device stands between them"},
		{"monitor.in", "usb-hub.p1", "a capture device stands between them"},
		{"monitor.in", "monitor.in", "the same socket"},
		{"monitor.in", "nowhere.in", "not in this rig"},
	} {
		why := WhyNot(r, c.a, c.b)
		if c.why == "" {
			require.Empty(t, why, "%+v", c)
			continue
		}
		require.Contains(t, why, c.why, "%+v", c)
	}
	fits := Fits(r, "monitor.in")
	require.True(t, fits[0].Fits)
	for _, f := range fits {
		require.Equal(t, f.Fits, f.Why == "", f)
	}
	_, err := Do(r, Act{Do: "connect", At: "studio-camera-with-sdi.hdmi", To: "usb-hub.p1"}, starter())
	require.ErrorContains(t, err, "a capture device stands between them")
	r, _ = did(t, r, starter(), Act{Do: "connect", At: "monitor.in", To: "four-input-switcher.out"})
	require.Equal(t, "four-input-switcher.out", r.LeadIn("monitor.in").From, "called from the end that gives")
}

func TestSoundByHand(t *testing.T) {
	r, _ := did(t, one(t), starter(), Act{Do: "more", Entry: "lapel-microphone"},
		Act{Do: "more", Entry: "audio-interface"}, Act{Do: "connect", At: "lapel-microphone-on-a-lead",
			To: "audio-interface"})
	require.Equal(t, []rig.SoundPath{{Voice: "Lapel microphone on a lead", From: "lapel-microphone-on-a-lead",
		Via: []string{"audio-interface"}}}, r.Sound.Paths)
	_, err := Do(r, Act{Do: "connect", At: "lapel-microphone-on-a-lead", To: "camera-1"}, starter())
	require.ErrorContains(t, err, "no input for sound")
}

func TestOffers(t *testing.T) {
	r := one(t)
	shelf := starter("4k-stick")
	offers, err := Offers(r, judge.Rig(r), Act{Do: "replace", At: "stick-1"}, shelf)
	require.NoError(t, err)
	require.Equal(t, "4k-stick", offers[0].Entry, "owned first")
	require.NotNil(t, offers[0].Does)
	for _, o := range offers {
		require.Contains(t, []gear.Kind{gear.Capture, gear.Card, gear.Switcher}, o.Kind)
		require.Equal(t, o.Fits, o.Why == "")
		if o.Fits {
			d, err := Do(r, Act{Do: "replace", At: "stick-1", Entry: o.Entry}, shelf)
			require.NoError(t, err)
			after, err := rig.Apply(r, d.Edits...)
			require.NoError(t, err)
			require.Equal(t, o.State, judge.Rig(after).State, o.Name)
		}
	}
	offers, err = Offers(r, judge.Rig(r), Act{Do: "between", At: r.LeadIn("camera-1.hdmi").ID}, shelf)
	require.NoError(t, err)
	require.True(t, slices.ContainsFunc(offers, func(o Offer) bool { return o.Entry == "splitter" && o.Fits }))
	require.True(t, slices.ContainsFunc(offers, func(o Offer) bool {
		return o.Entry == "four-port-hub" && !o.Fits && o.Why == "takes no HDMI"
	}))
	_, err = Offers(r, judge.Rig(r), Act{Do: "out", At: "stick-1"}, shelf)
	require.Error(t, err)
}

// Whatever is done by hand to whatever rig is done whole or refused in words, and never leaves a rig that cannot be
// kept.
func TestActsOnRandomRigs(t *testing.T) {
	const rigs = 200
	shelf := starter("4k-stick", "four-port-hub", "camcorder", "four-input-switcher", "dock")
	done, refused := 0, map[string]int{}
	for seed := range uint64(rigs) {
		r := rigtest.Rig(7_000_000 + seed)
		d := rigtest.NewDice(seed)
		for range 6 {
			a := randomAct(r, d, shelf)
			before := fmt.Sprint(*r)
			got, err := Do(r, a, shelf)
			require.Equal(t, before, fmt.Sprint(*r), "the rig given is never changed")
			if err != nil {
				require.NotContains(t, err.Error(), "items[", "%d %+v", seed, a)
				require.NotContains(t, err.Error(), "edit 1 (", "%d %+v", seed, a)
				refused[a.Do]++
				continue
			}
			after, err := rig.Apply(r, got.Edits...)
			require.NoError(t, err, "%d %+v", seed, a)
			require.Empty(t, rig.Check(after), "%d %+v", seed, a)
			done++
			if a.Do != "connect" {
				r = after
			}
		}
		require.NotPanics(t, func() { judge.Rig(r) })
	}
	require.Greater(t, done, rigs*3)
	t.Log(done, refused)
}

func randomAct(r *rig.Rig, d *rigtest.Dice, shelf []Stocked) Act {
	item := r.Items[d.N(len(r.Items))].ID
	entry := shelf[d.N(len(shelf))].ID
	switch d.N(7) {
	case 0:
		return Act{Do: "more", Entry: entry, Count: 1 + d.N(3)}
	case 1:
		return Act{Do: "replace", At: item, Entry: entry, Alike: d.Of(3)}
	case 2:
		return Act{Do: "same", At: item, Entry: entry}
	case 3:
		if len(r.Leads) > 0 {
			return Act{Do: "between", At: r.Leads[d.N(len(r.Leads))].ID, Entry: entry}
		}
	case 4:
		return Act{Do: "out", At: item, Whole: d.Of(2)}
	case 5:
		return Act{Do: "again", At: item}
	}
	socket := func() string {
		it := &r.Items[d.N(len(r.Items))]
		if len(it.Gear.Ports) == 0 {
			return it.ID
		}
		return it.ID + "." + it.Gear.Ports[d.N(len(it.Gear.Ports))].ID
	}
	return Act{Do: "connect", At: socket(), To: socket()}
}

// How long it takes from an act to what it does, in a rig of twelve sources, beside judging that rig alone.
func BenchmarkAct(b *testing.B) {
	r, err := rig.New(rig.Start{Sources: []rig.StartSource{{Kind: "camera", Count: 12}},
		Out: rig.StartOut{Height: 1080, Fps: 30, Minutes: 60}, Computer: "desktop"})
	require.NoError(b, err)
	shelf := starter("4k-stick")
	b.Run("judge", func(b *testing.B) {
		for b.Loop() {
			judge.Rig(r)
		}
	})
	b.Run("act and judge", func(b *testing.B) {
		for b.Loop() {
			d, err := Do(r, Act{Do: "more", Entry: "camcorder"}, shelf)
			require.NoError(b, err)
			after, err := rig.Apply(r, d.Edits...)
			require.NoError(b, err)
			require.NotEqual(b, limit.State(0), judge.Rig(after).State)
		}
	})
}

// A start knows what people have: every kind it offers makes a rig, and what is named together hangs together.
func TestBegin(t *testing.T) {
	out := rig.StartOut{Height: 1080, Fps: 30, Minutes: 60}
	for _, k := range StartKinds {
		a := Answers{Start: rig.Start{Out: out, Computer: "desktop",
			Sources: []rig.StartSource{{Kind: "webcam", Count: 1}}}, Things: []Counted{{k.Entry, 1}}}
		if k.Of == "computer" {
			a.Computer, a.Things = k.Entry, nil
		}
		r, err := Begin(a, starter(), nil)
		require.NoError(t, err, k.Entry)
		require.NotEqual(t, limit.State(0), judge.Rig(r).State)
	}
	r, err := Begin(Answers{Start: rig.Start{Out: out, Computer: "laptop",
		Sources: []rig.StartSource{{Kind: "camera", Count: 3}}},
		Things: []Counted{{"four-input-switcher", 1}, {"lapel-microphone", 2}, {"interface-two", 1}}}, starter(), nil)
	require.NoError(t, err)
	for n := range 3 {
		l := r.LeadIn(fmt.Sprintf("camera-with-hdmi%s.hdmi", []string{"", "-2", "-3"}[n]))
		require.Contains(t, l.To, "four-input-switcher.in-", "cameras go into the switcher there is")
	}
	require.Len(t, r.Sound.Paths, 2)
	require.Equal(t, []string{"interface-with-two-inputs"}, r.Sound.Paths[0].Via)
	require.Equal(t, 3, r.Show.Angles)
	for i := range r.Items {
		require.Nil(t, r.Items[i].Owned, "whoever names it has it: %s", r.Items[i].Label)
	}

	call, err := Begin(Answers{Start: rig.Start{Out: out, Computer: "laptop",
		Sources: []rig.StartSource{{Kind: "webcam", Count: 1}}}, For: "call"}, starter(), nil)
	require.NoError(t, err)
	require.Equal(t, "call", call.Show.Program.Kind)
	require.Empty(t, call.Show.Destinations)
	capped, err := Begin(Answers{Start: rig.Start{Out: rig.StartOut{Height: 1080, Fps: 60, Minutes: 60},
		Computer: "laptop", Sources: []rig.StartSource{{Kind: "webcam", Count: 1}}},
		Destination: "Capped at 720 lines"}, starter(), nil)
	require.NoError(t, err)
	require.Equal(t, 720, capped.Show.Destinations[0].Send.Height)
	require.EqualValues(t, 30, capped.Show.Destinations[0].Send.Rate.Nominal())
	kept, err := Begin(Answers{Start: rig.Start{Out: out, Computer: "laptop",
		Sources: []rig.StartSource{{Kind: "webcam", Count: 1}}}, For: "recording", MainsHz: 50}, starter(), nil)
	require.NoError(t, err)
	require.Len(t, kept.Show.Recordings, 1)
	require.Equal(t, 50, kept.Show.MainsHz)
	for _, bad := range []Answers{{Start: rig.Start{Out: out, Computer: "abacus"}, Things: []Counted{{"webcam", 1}}},
		{Start: rig.Start{Out: out, Computer: "laptop"}, Things: []Counted{{"nothing", 1}}},
		{Start: rig.Start{Out: out, Computer: "laptop"}}} {
		_, err := Begin(bad, starter(), nil)
		require.Error(t, err)
	}
}

// What takes the place of another and is not owned costs what it costs, not what the other did.
func TestReplacedCostsItsPrice(t *testing.T) {
	r := one(t)
	was := gear.Money{Amount: 100, Currency: "EUR"}
	for i := range r.Items {
		r.Items[i].Price = &was
	}
	after, notes := did(t, r, starter(), Act{Do: "replace", At: "stick-1", Entry: "4k-stick"})
	require.Equal(t, &gear.Money{Amount: 12000, Currency: "EUR"}, after.Item("stick-1").Price)
	require.False(t, *after.Item("stick-1").Owned)
	require.Contains(t, notes, "Stick 1 is not owned: it has to be got")
}

// What stands there with nothing in any of its sockets is named: silence is never slack.
func TestWhatIsLooseIsNamed(t *testing.T) {
	for _, entry := range []string{"monitor", "field-recorder", "four-port-hub", "dock", "4k-stick",
		"four-input-switcher", "splitter", "audio-interface"} {
		e := starter()[slices.IndexFunc(starter(), func(s Stocked) bool { return s.ID == entry })]
		r, err := rig.Apply(one(t), rig.Edit{Do: "add", NewItem: &rig.Item{ID: "loose", Label: "Loose", Gear: e.Gear}})
		require.NoError(t, err)
		require.True(t, slices.ContainsFunc(judge.Rig(r).Unjudged, func(n engine.NotJudged) bool {
			return n.Ref == "loose"
		}), entry)
	}
}

// Every act a request may name is done, and no other.
func TestActsAreThoseOfTheSchema(t *testing.T) {
	f, _ := reflect.TypeFor[Act]().FieldByName("Do")
	require.ElementsMatch(t, slices.Collect(maps.Keys(acts)), strings.Split(f.Tag.Get("enum"), ","))
}
