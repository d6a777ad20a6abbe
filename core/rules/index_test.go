package rules

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/rig"
	"eventether/core/rig/rigtest"
)

// The index against a map, through growing, emptying and asking for what is not there.
func TestIndexAgainstAMap(t *testing.T) {
	var x index
	some := make([]*Rule, 37)
	for i := range some {
		some[i] = &Rule{Name: Name(fmt.Sprint("rule-", i)), at: i + 1}
	}
	for round := range 4 {
		x.empty(round * 10)
		var results []Result
		want := map[ID]int{}
		for i := range 500 {
			id := ID{Rule: some[i%37], Place: fmt.Sprintf("place-%d", i%211)}
			at, slot, there := x.find(results, id)
			was, known := want[id]
			require.Equal(t, known, there, id)
			if there {
				require.Equal(t, was, at)
				continue
			}
			want[id] = len(results)
			results = append(results, Result{ID: id})
			x.put(results, slot, len(results)-1)
		}
		require.Greater(t, len(want), 400)
		for id, at := range want {
			got, _, ok := x.find(results, id)
			require.True(t, ok, id)
			require.Equal(t, at, got)
		}
		_, _, ok := x.find(results, ID{Rule: &Rule{}})
		require.False(t, ok)
	}
}

// Places that differ in one letter, or in length, fall on slots of their own: few share the first they are looked for at.
func TestHashesDiffer(t *testing.T) {
	seen, places := map[uint64]string{}, 0
	try := func(place string) {
		if was, ok := seen[hashOf(7, place)]; ok {
			t.Errorf("%q and %q have one hash", was, place)
		}
		seen[hashOf(7, place)] = place
		places++
	}
	for n := range 24 {
		base := []byte("camera-on-the-stage-left")[:n]
		try(string(base))
		for at := range base {
			for _, c := range "abcxyz019" {
				if changed := []byte(string(base)); changed[at] != byte(c) {
					changed[at] = byte(c)
					try(string(changed))
				}
			}
		}
	}
	require.Greater(t, places, 2000)
	require.NotEqual(t, hashOf(1, "cam"), hashOf(2, "cam"))
}

// What a pass hands out pointers to stays where it is: no feed has more hops than there was room for from the beginning.
func TestHopsStayWhereTheyAre(t *testing.T) {
	most := 0
	for seed := range uint64(400) {
		r := rigtest.Rig(seed)
		p := New(r, rig.NewWiring(r)).Run()
		for i := range p.Feeds {
			require.Equal(t, 2+2*len(p.Ways[i].Hops), cap(p.Feeds[i].Hops), "seed %d, %s: its hops were moved", seed, p.Feeds[i].ID)
			if len(p.Feeds[i].Hops) == 2+2*len(p.Ways[i].Hops) {
				most++
			}
		}
	}
	require.Positive(t, most, "none used all its room")
}

// Merging by sets gives what merging one by one does, in the same order, whatever is merged one after the other.
func TestRestsIsMerge(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := &Pass{Plan: Plan{Rig: &rig.Rig{Items: make([]rig.Item, 3)}}}
		ids := rapid.SliceOfNDistinct(rapid.StringMatching("[a-z]{1,3}"), 0, 30, rapid.ID[string])
		for range 6 {
			a, b := ids.Draw(t, "a"), ids.Draw(t, "b")
			require.Equal(t, merge(slices.Clone(a), b), append([]string{}, p.rests(a, b)...))
		}
	})
}

// Ids are ordered as they are written.
func TestIDsAreOrderedAsWritten(t *testing.T) {
	ids := []ID{{IngestBitrate, "0"}, {Ingest, "0"}, {Reach, "l1"}, {Uplink, ""}, {Reach, "l10"}, {Run, "l1"}, {RunTime, "cam"}}
	for _, a := range ids {
		for _, b := range ids {
			require.Equal(t, strings.Compare(a.String(), b.String()), a.Compare(b), "%s %s", a, b)
		}
	}
}
