package demo

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/internal/postgres/pgtest"
	"eventether/internal/store"
)

var dsn string

func TestMain(m *testing.M) { pgtest.Run(m, func(s string) { dsn = s }) }

// The demo is loaded once: what the user deleted stays deleted, what the user changed stays changed.
func TestLoadIsOnce(t *testing.T) {
	ctx := t.Context()
	s, err := store.Open(context.Background(), dsn)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	require.NoError(t, Starter(ctx, s))
	require.NoError(t, Load(ctx, s))
	rows, err := s.List(ctx, false)
	require.NoError(t, err)
	require.Len(t, rows, 4)
	require.Equal(t, "Marlpit Puppet Loft", rows[0].Name, "the one with faults stands first")
	require.Equal(t, "snapped", rows[0].State)
	require.Equal(t, "taut", rows[1].State)

	require.NoError(t, s.Delete(ctx, rows[1].ID))
	require.NoError(t, Load(ctx, s))
	rows, err = s.List(ctx, false)
	require.NoError(t, err)
	require.Len(t, rows, 3)

	shelf, _, err := s.Shelf(ctx, false)
	require.NoError(t, err)
	require.Greater(t, len(shelf), 30)
	require.NoError(t, Starter(ctx, s))
	again, _, err := s.Shelf(ctx, false)
	require.NoError(t, err)
	require.Len(t, again, len(shelf))
	// What was measured since is offered to the rigs that have the first state.
	_, rev, err := s.ShelfEntry(ctx, "loft-camera-a", 0)
	require.NoError(t, err)
	require.Equal(t, 2, rev.Number)
}
