package propose

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/rules"
	"eventether/core/verdict"
)

// worthOf is what choices come to, with the whole rig judged: it shares the objective with the search and nothing else.
func worthOf(r *rig.Rig, all []open, chosen []int) (w worth) {
	p := rules.New(apply(r, all, chosen), rig.NewWiring(apply(r, all, chosen))).Run()
	for i := range p.Results {
		l := &p.Results[i]
		switch l.Counts() {
		case limit.Snapped:
			w.snapped++
		case limit.Untested:
			w.untested++
		}
		if l.Counts() == limit.Untested && l.Sense != limit.Fits && fact.Over(l.Ratio.Value, 1) {
			w.over++
		}
	}
	like := map[string]*option{}
	for i := range all {
		o := &all[i].options[chosen[i]]
		w.rough, w.size, w.loss = w.rough+o.rough, w.size+o.size, w.loss+o.loss
		if first := like[all[i].like]; first == nil {
			like[all[i].like] = o
		} else if first.cmp(o) != 0 {
			w.mixed++
		}
	}
	return w
}

// choices are what a rig leaves open besides power and bitrate, as the search has them.
func choices(r *rig.Rig) (all []open) {
	for i := range r.Items {
		all = outputs(all, r, &r.Items[i])
	}
	v := verdict.As(apply(r, all, make([]int, len(all))))
	return append(all, undecided(v)...)
}

// What is proposed is as good as the best of all choices there are, on random rigs small enough to try them all.
func TestProposalsAgainstTryingAll(t *testing.T) {
	if testing.Short() {
		t.Skip("make test runs it")
	}
	tried, better, open := 0, 0, 0
	for seed := uint64(1); tried < 120 && seed < 20000; seed++ {
		r := rigtest.Rig(seed)
		for i := range r.Leads { // which socket is tried by the tests of place
			r.Leads[i].AnySocket = false
		}
		for i := range r.Items { // nobody has chosen anything
			if s := r.Items[i].Set; s != nil {
				c := *s
				c.Output, c.Deliver = nil, nil
				r.Items[i].Set = &c
			}
		}
		all := choices(r)
		size := 1
		for i := range all {
			if size *= len(all[i].options); size > 150 {
				break
			}
		}
		if size < 2 || size > 150 {
			continue
		}
		_, proposed := Complete(r)
		base := r
		for _, c := range proposed.Choices {
			if c.Kind == verdict.ProposePower || c.Kind == verdict.ProposeBitrate {
				next, err := rig.Apply(base, c.Edit)
				require.NoError(t, err)
				base = next
			}
		}
		got := make([]int, len(all))
		for i := range all {
			for _, c := range proposed.Choices {
				if c.Kind == all[i].Kind && c.Of == all[i].Of && c.Port == all[i].Port {
					for k := range all[i].options {
						if o := &all[i].options[k]; c.Edit.Mode != nil && *o.edit.Mode == *c.Edit.Mode ||
							c.Edit.Deliver != nil && *o.edit.Deliver == *c.Edit.Deliver {
							got[i] = k
							break
						}
					}
				}
			}
		}
		mine := worthOf(base, all, got)
		first := worthOf(base, all, make([]int, len(all)))
		if mine.cmp(&first) < 0 {
			better++
		}
		chosen := make([]int, len(all))
		for n := range size {
			rest := n
			for i := range all {
				chosen[i] = rest % len(all[i].options)
				rest /= len(all[i].options)
			}
			w := worthOf(base, all, chosen)
			w.untested, w.loss = 0, 0 // told apart below
			m := mine
			m.untested, m.loss = 0, 0
			require.GreaterOrEqual(t, w.cmp(&m), 0, "seed %d: %+v is better than %+v, proven %v", seed,
				worthOf(base, all, chosen), mine, proposed.Proven)
			if w.cmp(&m) == 0 && proposed.Proven {
				require.GreaterOrEqual(t, worthOf(base, all, chosen).loss, mine.loss-1e-9, "seed %d", seed)
			}
		}
		tried++
		open += len(all)
	}
	require.Equal(t, 120, tried)
	require.Greater(t, better, 5, "some of them needed more than the best of each")
	t.Logf("%d rigs, %d choices, %d bettered", tried, open, better)
}

// Hundreds of modes and forty like cameras: what is proposed is soon there, and the best mode is found wherever it
// stands.
func TestProposalsForLongListsAndManyAlike(t *testing.T) {
	r := rigtest.Feeds(40)
	for i := range 40 {
		cam, stick := &r.Items[2*i], &r.Items[2*i+1]
		cam.Set, stick.Set = nil, nil
		var modes []picture.Mode
		for n := range 300 {
			modes = append(modes, picture.Mode{Width: 640 + 2*n, Height: 480, Rate: picture.R(int64(20 + n%31))})
		}
		best := picture.Mode{Width: 1920, Height: 1080, Rate: r.Show.Programme.Rate}
		at := (i * 7) % 300
		modes[at] = best
		cam.Gear.Ports = append([]gear.Port(nil), cam.Gear.Ports...)
		cam.Gear.Ports[0].Modes = modes
	}
	v := judged(r)
	found, formats := 0, map[picture.Format]int{}
	for _, c := range v.Proposed.Choices {
		switch c.Kind {
		case verdict.ProposeMode:
			require.Equal(t, r.Show.Programme.Rate, c.Edit.Mode.Rate)
			require.Equal(t, 1080, c.Edit.Mode.Height)
			found++
		case verdict.ProposeDeliver:
			formats[c.Edit.Deliver.Format]++
		}
	}
	require.Equal(t, 40, found)
	require.Len(t, formats, 1, "things alike are set alike")
	require.LessOrEqual(t, v.Proposed.Tried, mostTried)
}

// judged is the verdict on a rig with every open choice made.
func judged(r *rig.Rig) *verdict.Verdict {
	with, proposed := Complete(r)
	v := verdict.As(with)
	v.Given, v.Proposed = r, proposed
	return v
}
