package store

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/rig"
	"eventether/internal/demo/rigs"
)

func TestShelf(t *testing.T) {
	s, ctx := open(t), t.Context()
	e := rigs.Shelf()[0]
	e.ID = "shelf-test"
	row, rev, err := s.PutOnShelf(ctx, e, "ann", "put")
	require.NoError(t, err)
	require.Equal(t, 1, rev.Number)
	require.Equal(t, "camera", row.Kind)

	second, _, err := s.PutOnShelf(ctx, e, "ann", "put again")
	require.NoError(t, err)
	require.Equal(t, "shelf-test-2", second.ID, "a taken id gets the next one")

	e.Gear.Name = "Renamed camera"
	_, rev, err = s.SaveOnShelf(ctx, e, 1, "ann", "renamed")
	require.NoError(t, err)
	require.Equal(t, 2, rev.Number)
	_, _, err = s.SaveOnShelf(ctx, e, 1, "bob", "from an old state")
	var clash *Clash
	require.ErrorAs(t, err, &clash)
	require.Equal(t, Clash{From: 1, Head: 2}, *clash)
	_, old, err := s.ShelfEntry(ctx, e.ID, 1)
	require.NoError(t, err)
	was, err := old.Entry()
	require.NoError(t, err)
	require.Equal(t, "Loft camera A", was.Gear.Name, "old states stay")

	// Where it is used: the newest states of rigs that are there.
	r := rigs.Loft()
	r.Items[0].Shelf = &rig.ShelfRef{ID: e.ID, Revision: 1}
	kept, _, err := s.Create(ctx, judge.Rig(r), "ann", "made")
	require.NoError(t, err)
	used := func() (n int) {
		uses, err := s.Uses(ctx)
		require.NoError(t, err)
		for _, u := range uses {
			if u.Entry == e.ID {
				require.Equal(t, "Bench camera", u.Label)
				require.Equal(t, kept.ID, u.RigID)
				require.Equal(t, 1, u.Revision)
				n++
			}
		}
		return n
	}
	require.Equal(t, 1, used())
	require.NoError(t, s.Delete(ctx, kept.ID))
	require.Zero(t, used())

	require.NoError(t, s.TakeOffShelf(ctx, e.ID))
	onShelf := func(deleted bool) bool {
		rows, revs, err := s.Shelf(ctx, deleted)
		require.NoError(t, err)
		for i := range rows {
			require.Equal(t, rows[i].ID, revs[i].EntryID)
			require.Equal(t, rows[i].Head, revs[i].Number)
			if rows[i].ID == e.ID {
				return true
			}
		}
		return false
	}
	require.False(t, onShelf(false))
	require.True(t, onShelf(true))
	require.NoError(t, s.BackOnShelf(ctx, e.ID))
	require.True(t, onShelf(false))
	require.ErrorIs(t, s.TakeOffShelf(ctx, "nothing-here"), ErrNotOnShelf)
	_, _, err = s.ShelfEntry(ctx, "nothing-here", 0)
	require.ErrorIs(t, err, ErrNotOnShelf)
	_, _, err = s.SaveOnShelf(ctx, gear.Entry{ID: "nothing-here"}, 1, "ann", "x")
	require.ErrorIs(t, err, ErrNotOnShelf)
}

func TestAFrozenRigStays(t *testing.T) {
	s, ctx := open(t), t.Context()
	row, _, err := s.Create(ctx, named(t, "Past show"), "ann", "made")
	require.NoError(t, err)
	require.NoError(t, s.Freeze(ctx, row.ID, true))
	_, _, err = s.Save(ctx, row.ID, 1, named(t, "Changed"), "ann", "x")
	require.ErrorIs(t, err, ErrFrozen)
	_, _, err = s.Undo(ctx, row.ID, 1, "ann")
	require.ErrorIs(t, err, ErrFrozen)
	require.NoError(t, s.Freeze(ctx, row.ID, false))
	_, _, err = s.Save(ctx, row.ID, 1, named(t, "Changed"), "ann", "x")
	require.NoError(t, err)
}
