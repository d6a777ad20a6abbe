package store

import (
	"fmt"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/rig"
)

// Many keep destinations of one name at once: one destination comes of it, and every state is there.
func TestProfilesOfOneName(t *testing.T) {
	s, ctx := open(t), t.Context()
	var all sync.WaitGroup
	for i := range 16 {
		all.Add(1)
		go func() {
			defer all.Done()
			for range 2 { // the second time it may stand there already
				if err := s.KeepProfile(ctx,
					rig.Known{Name: "Crowded", Ingest: rig.Ingest{MaxVideoKbps: float64(1000 + i)}},
					fmt.Sprintf("p%d", i)); err != nil {
					t.Error(err)
				}
			}
		}()
	}
	all.Wait()
	var whole []WholeProfile
	require.NoError(t, s.eachProfile(func(w WholeProfile) error {
		if w.States[0].Name == "Crowded" {
			whole = append(whole, w)
		}
		return nil
	}))
	require.Len(t, whole, 1)
	require.GreaterOrEqual(t, len(whole[0].States), 16)
	require.NoError(t, numbered(whole[0].States, func(p *Profile) (int, bool) { return p.Number, true }))
	require.ErrorContains(t, s.db.Exec("update profiles set name = 'x'").Error, "append-only")

	require.NoError(t, s.DropProfile(ctx, "Crowded", "ann"))
	require.ErrorIs(t, s.DropProfile(ctx, "Crowded", "ann"), ErrNoProfile)
	require.ErrorIs(t, s.DropProfile(ctx, "no\x00thing", "ann"), ErrNoProfile)
	list, err := s.Profiles(ctx)
	require.NoError(t, err)
	for _, p := range list {
		require.NotEqual(t, "Crowded", p.Name)
	}
}
