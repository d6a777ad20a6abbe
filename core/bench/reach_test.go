package bench

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/gear"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
)

// Every rig of the generator can be reached by the acts of the board: its things put in from a shelf that has them,
// every lead that goes from what sends to what takes laid by hand and said to be what it is. A lead that joins two
// outputs, or two inputs, is refused in words.
func TestEveryRigIsReachedByActs(t *testing.T) {
	rigs := uint64(300)
	if testing.Short() {
		rigs = 60
	}
	laid, refused := 0, 0
	for seed := range rigs {
		want := rigtest.Rig(9_100_000 + seed)
		shelf := []Stocked{}
		for i := range want.Items {
			shelf = append(shelf, Stocked{Entry: gear.Entry{ID: want.Items[i].ID, Gear: want.Items[i].Gear,
				Owned: true}, Revision: 1})
		}
		h := New(&rig.Rig{Format: want.Format, Name: want.Name, Show: want.Show, Uplink: want.Uplink,
			Items: []rig.Item{}, Leads: []rig.Lead{}}, shelf)
		ids := map[string]string{} // of the rig that is wanted -> of the one that is built
		for i := range want.Items {
			it := &want.Items[i]
			require.NoError(t, h.act(&Act{Do: "more", Entry: it.ID}), "seed %d %s", seed, it.ID)
			for n := len(h.r.Items) - 1; n >= 0; n-- { // what was proposed to come with it goes again
				o := &h.r.Items[n]
				if o.Shelf != nil && o.Shelf.ID == it.ID {
					ids[it.ID] = o.ID
				}
			}
			for _, l := range h.r.Leads {
				require.NoError(t, h.do(rig.Edit{Do: "unplug", Lead: l.ID}))
			}
			for n := len(h.r.Items) - 1; n >= 0; n-- {
				if h.r.Items[n].Shelf == nil || isNew(h.r.Items[n].ID, ids) {
					require.NoError(t, h.act(&Act{Do: "out", At: h.r.Items[n].ID}))
				}
			}
			h.r.Item(ids[it.ID]).Role = it.Role
		}
		end := func(ref string) string {
			id, port := rig.SplitRef(ref)
			return ids[id] + "." + port
		}
		for i := range want.Leads {
			l := &want.Leads[i]
			_, fp := want.Port(l.From)
			_, tp := want.Port(l.To)
			err := h.act(&Act{Do: "connect", At: end(l.From), To: end(l.To)})
			if !fp.Direction.Sends() || !tp.Direction.Takes() {
				require.Error(t, err, "seed %d %s: %s to %s", seed, l.ID, l.From, l.To)
				refused++
				continue
			}
			require.NoError(t, err, "seed %d %s: %s to %s", seed, l.ID, l.From, l.To)
			got := h.r.LeadIn(end(l.From))
			require.NotNil(t, got)
			require.Equal(t, end(l.To), got.To)
			length := l.LengthM
			require.NoError(t, h.do(rig.Edit{Do: "word", Path: "leads/" + got.ID + "/grade", Word: l.Grade},
				rig.Edit{Do: "fact", Path: "leads/" + got.ID + "/lengthM", Fact: &length}))
			laid++
		}
		require.Len(t, h.r.Items, len(want.Items), "seed %d", seed)
		for i := range want.Items {
			require.Equal(t, want.Items[i].Gear.Ports, h.r.Item(ids[want.Items[i].ID]).Gear.Ports)
		}
	}
	require.Greater(t, laid, int(rigs)*3)
	t.Log(laid, refused)
}

func isNew(id string, ids map[string]string) bool {
	for _, known := range ids {
		if known == id {
			return false
		}
	}
	return true
}
