package store

import (
	"fmt"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"eventether/core/judge"
	"eventether/core/night"
	"eventether/core/runsheet"
	"eventether/internal/demo/rigs"
)

// evening opens a show of a fresh rig.
func evening(t *testing.T, s *Store) Night {
	t.Helper()
	v := judge.Rig(rigs.LoftEven())
	row, rev, err := s.Create(t.Context(), v, "ann", "made")
	require.NoError(t, err)
	n, err := s.OpenNight(t.Context(), Night{RigID: row.ID, Revision: rev.Number, Name: "First", AirAt: time.Now(),
		People: 2}, runsheet.Of(v, nil, runsheet.Options{People: 2}))
	require.NoError(t, err)
	return n
}

func ticked(id string, at int64) night.Op {
	return night.Op{ID: id, Kind: "tick", Step: "labels", At: at}
}

// Eight people tick at once, each sending everything twice: every operation is there once, numbered without a gap, and
// whoever has read up to a seq has seen all before it.
func TestManyAtOnce(t *testing.T) {
	s := open(t)
	n := evening(t, s)
	var all sync.WaitGroup
	for p := range 8 {
		all.Go(func() {
			for i := range 12 {
				ops := []night.Op{ticked(fmt.Sprintf("person-%d-%02d", p, i), int64(1000*p+i+1)),
					ticked(fmt.Sprintf("shared-%02d-x", i), int64(i+1))}
				for range 2 {
					seq, err := s.AddOps(t.Context(), n.ID, ops)
					if err != nil {
						t.Error(err)
						return
					}
					seen, err := s.Ops(t.Context(), n.ID, 0)
					if err != nil || int64(len(seen)) < seq {
						t.Errorf("%d of %d: %v", len(seen), seq, err)
					}
				}
			}
		})
	}
	all.Wait()
	var rows []NightOp
	require.NoError(t, s.db.Where("night_id = ?", n.ID).Order("seq").Find(&rows).Error)
	require.Len(t, rows, 8*12+12)
	for i := range rows {
		require.EqualValues(t, i+1, rows[i].Seq)
	}
	now, err := s.Night(t.Context(), n.ID)
	require.NoError(t, err)
	require.EqualValues(t, len(rows), now.Seq)
	later, err := s.Ops(t.Context(), n.ID, now.Seq-3)
	require.NoError(t, err)
	require.Len(t, later, 3)
}

// Operations are only ever added: the database itself refuses to change or drop one.
func TestOperationsStay(t *testing.T) {
	s := open(t)
	n := evening(t, s)
	_, err := s.AddOps(t.Context(), n.ID, []night.Op{ticked("op-000001", 5)})
	require.NoError(t, err)
	require.ErrorContains(t, s.db.Exec("update night_ops set at = now() where night_id = ?", n.ID).Error, "append-only")
	require.ErrorContains(t, s.db.Exec("delete from night_ops where night_id = ?", n.ID).Error, "append-only")
	seq, err := s.AddOps(t.Context(), n.ID, []night.Op{{ID: "op-000001", Kind: "untick", Step: "labels", At: 9}})
	require.NoError(t, err)
	require.EqualValues(t, 1, seq, "the first of an id stays")
}

// Opened twice under one id it is one show; what it counts for follows from what was added.
func TestNightsAddUp(t *testing.T) {
	s := open(t)
	n := evening(t, s)
	again, err := s.OpenNight(t.Context(), n, runsheet.Of(judge.Rig(rigs.LoftEven()), nil, runsheet.Options{}))
	require.NoError(t, err)
	require.Equal(t, n.ID, again.ID)
	hour := int64(3600_000)
	_, err = s.AddOps(t.Context(), n.ID, []night.Op{
		{ID: "op-000001", Kind: "tick", Step: "mount:cam-bench", At: hour, Who: "Ida"},
		{ID: "op-000002", Kind: "tick", Step: "mount:cam-face", At: hour + 5*60_000, Who: "Ida"},
		{ID: "op-000003", Kind: "air", At: 2 * hour}, {ID: "op-000004", Kind: "end", At: 4 * hour},
		{ID: "op-000005", Kind: "incident", At: 3 * hour, Incident: &night.Incident{Loss: "source", What: "black",
			MinutesLost: 2}},
		{ID: "op-000006", Kind: "figure", At: 3 * hour, Figure: &night.Figure{What: "uplink", Value: 7}}})
	require.NoError(t, err)
	sums, err := s.Sums(t.Context(), []uuid.UUID{n.ID})
	require.NoError(t, err)
	require.Len(t, sums, 1)
	require.Empty(t, sums[0].Sheet, "sums come without their sheets")
	h, err := sums[0].Sum()
	require.NoError(t, err)
	require.Equal(t, 120.0, h.Minutes)
	require.Equal(t, 5.0, h.SetUp)
	require.Equal(t, 2.0, h.Lost)
	require.Equal(t, []night.Took{{Step: "mount:cam-face", Kind: "mount", Minutes: 5, Planned: 6}}, h.Took)
	require.Len(t, h.Readings, 1)
	last, err := s.LastNight(t.Context(), n.RigID)
	require.NoError(t, err)
	require.Equal(t, n.ID, last.ID)
	_, err = s.LastNight(t.Context(), uuid.New())
	require.ErrorIs(t, err, ErrNoNight)
	_, err = s.AddOps(t.Context(), uuid.New(), []night.Op{ticked("op-000001", 5)})
	require.ErrorIs(t, err, ErrNoNight)
	mine, err := s.Nights(t.Context(), &n.RigID)
	require.NoError(t, err)
	require.Len(t, mine, 1)
	_, err = s.OpenNight(t.Context(), Night{RigID: uuid.New(), Revision: 1, Name: "Of no rig", AirAt: time.Now(),
		People: 1}, runsheet.Of(judge.Rig(rigs.LoftEven()), nil, runsheet.Options{}))
	require.Error(t, err, "a show stands on a revision there is")
}
