package store

import (
	"context"
	"encoding/json"
	"errors"
	"sync"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/judge"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/verdict"
	"eventether/internal/demo/rigs"
	"eventether/internal/postgres/pgtest"
)

var dsn string

func TestMain(m *testing.M) { pgtest.Run(m, func(s string) { dsn = s }) }

func open(t testing.TB) *Store {
	t.Helper()
	s, err := Open(context.Background(), dsn)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	return s
}

func named(t testing.TB, name string) *verdict.Verdict {
	t.Helper()
	r, err := rig.Apply(rigs.Loft(), rig.Edit{Do: "name", Name: name})
	require.NoError(t, err)
	return judge.Rig(r)
}

func TestARigIsKeptAsItIs(t *testing.T) {
	s, ctx := open(t), t.Context()
	row, _, err := s.Create(ctx, named(t, "Kept"), "ann", "made")
	require.NoError(t, err)
	require.Equal(t, "snapped", row.State)
	require.Equal(t, 5, row.Feeds)
	_, rev, err := s.Get(ctx, row.ID, 0)
	require.NoError(t, err)
	r, err := rev.Rig()
	require.NoError(t, err)
	want, err := json.Marshal(named(t, "Kept").Given)
	require.NoError(t, err)
	got, err := json.Marshal(r)
	require.NoError(t, err)
	require.Equal(t, string(want), string(got))
	require.Equal(t, "ann", rev.Who)
}

func TestClashIsToldAndChangesNothing(t *testing.T) {
	s, ctx := open(t), t.Context()
	row, _, err := s.Create(ctx, named(t, "A"), "ann", "made")
	require.NoError(t, err)
	_, _, err = s.Save(ctx, row.ID, 1, named(t, "B"), "ann", "called B")
	require.NoError(t, err)
	_, _, err = s.Save(ctx, row.ID, 1, named(t, "C"), "bob", "called C")
	var clash *Clash
	require.ErrorAs(t, err, &clash)
	require.Equal(t, Clash{From: 1, Head: 2}, *clash)
	_, rev, err := s.Get(ctx, row.ID, 0)
	require.NoError(t, err)
	require.Equal(t, "B", rev.Name)
}

// Many saves from the same revision at once: exactly one is kept.
func TestRaceKeepsOne(t *testing.T) {
	s, ctx := open(t), t.Context()
	row, _, err := s.Create(ctx, named(t, "A"), "ann", "made")
	require.NoError(t, err)
	var wg sync.WaitGroup
	errs := make([]error, 12)
	for i := range errs {
		wg.Go(func() { _, _, errs[i] = s.Save(ctx, row.ID, 1, named(t, "B"), "ann", "called B") })
	}
	wg.Wait()
	kept := 0
	for _, err := range errs {
		var clash *Clash
		if err == nil {
			kept++
		} else {
			require.ErrorAs(t, err, &clash)
		}
	}
	require.Equal(t, 1, kept)
}

func TestRevisionsStay(t *testing.T) {
	s, ctx := open(t), t.Context()
	row, _, err := s.Create(ctx, named(t, "A"), "ann", "made")
	require.NoError(t, err)
	for _, sql := range []string{"update revisions set what = 'other' where rig_id = ?",
		"delete from revisions where rig_id = ?"} {
		require.ErrorContains(t, s.db.Exec(sql, row.ID).Error, "append-only")
	}
}

// Undo and redo against a plain model: a list of documents and a place in it.
func TestUndoRedoAgainstModel(t *testing.T) {
	s, ctx := open(t), t.Context()
	rapid.Check(t, func(rt *rapid.T) {
		row, _, err := s.Create(ctx, named(t, "0"), "ann", "made")
		require.NoError(t, err)
		model, at := []string{"0"}, 0
		for i := range rapid.IntRange(1, 12).Draw(rt, "steps") {
			switch rapid.SampledFrom([]string{"edit", "undo", "redo"}).Draw(rt, "do") {
			case "edit":
				name := string(rune('a' + i))
				model, at = append(model[:at+1], name), at+1
				row, _, err = s.Save(ctx, row.ID, row.Head, named(t, name), "ann", "called "+name)
			case "undo":
				next, rev, stepErr := s.Undo(ctx, row.ID, row.Head, "ann")
				if at == 0 {
					require.ErrorIs(t, stepErr, ErrNothing)
					continue
				}
				require.Equal(t, "undid: called "+model[at], rev.What)
				row, err, at = next, stepErr, at-1
			case "redo":
				next, rev, stepErr := s.Redo(ctx, row.ID, row.Head, "ann")
				if at == len(model)-1 {
					require.ErrorIs(t, stepErr, ErrNothing)
					continue
				}
				row, err, at = next, stepErr, at+1
				require.Equal(t, "redid: called "+model[at], rev.What)
			}
			require.NoError(t, err)
			_, rev, err := s.Get(ctx, row.ID, 0)
			require.NoError(t, err)
			require.Equal(t, model[at], rev.Name)
			steps, err := s.Steps(ctx, row.ID)
			undo, redo := steps.Undo, steps.Redo
			require.NoError(t, err)
			require.Equal(t, at > 0, undo > 0)
			require.Equal(t, at < len(model)-1, redo > 0)
		}
		past, err := s.History(ctx, row.ID)
		require.NoError(t, err)
		require.Len(t, past, row.Head, "nothing is ever taken away")
	})
}

func TestDeleteAndRestore(t *testing.T) {
	s, ctx := open(t), t.Context()
	row, _, err := s.Create(ctx, named(t, "Gone"), "ann", "made")
	require.NoError(t, err)
	has := func(deleted bool) bool {
		rows, err := s.List(ctx, deleted)
		require.NoError(t, err)
		for _, r := range rows {
			if r.ID == row.ID {
				return true
			}
		}
		return false
	}
	require.True(t, has(false))
	require.NoError(t, s.Delete(ctx, row.ID))
	require.False(t, has(false))
	require.True(t, has(true))
	require.NoError(t, s.Restore(ctx, row.ID))
	require.True(t, has(false))
	require.ErrorIs(t, s.Delete(ctx, uuid.New()), ErrNotFound)
	_, _, err = s.Get(ctx, uuid.New(), 0)
	require.ErrorIs(t, err, ErrNotFound)
	_, _, err = s.Get(ctx, row.ID, 99)
	require.ErrorIs(t, err, ErrNotFound)
}

func TestOnceIsOnceAndWhole(t *testing.T) {
	s, ctx := open(t), t.Context()
	runs := 0
	fail := errors.New("half way")
	require.ErrorIs(t, s.Once(ctx, "thing", func(*Store) error { runs++; return fail }), fail)
	for range 2 {
		require.NoError(t, s.Once(ctx, "thing", func(*Store) error { runs++; return nil }))
	}
	require.Equal(t, 2, runs, "again after it failed, never after it succeeded")
}

func TestOpenTwiceAtOnce(t *testing.T) {
	var wg sync.WaitGroup
	for range 4 {
		wg.Go(func() {
			s, err := Open(context.Background(), dsn)
			if err == nil {
				err = s.Ping(context.Background())
				s.Close()
			}
			if err != nil {
				t.Error(err)
			}
		})
	}
	wg.Wait()
}

// A rig an older version kept may call leads from their far ends: it is read as every other, or half of what hangs on
// such a lead would go unjudged.
func TestAKeptLeadMayBeCalledFromEitherEnd(t *testing.T) {
	turned := rigtest.Clone(rigs.Loft())
	for i := range turned.Leads {
		l := &turned.Leads[i]
		l.From, l.To = l.To, l.From
	}
	doc, err := json.Marshal(turned)
	require.NoError(t, err)
	rev := Revision{Doc: doc}
	r, err := rev.Rig()
	require.NoError(t, err)
	require.Equal(t, rigs.Loft().Leads, r.Leads)
}
