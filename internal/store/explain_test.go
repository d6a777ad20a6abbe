package store

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"eventether/core/judge"
	"eventether/core/night"
	"eventether/core/runsheet"
	"eventether/internal/demo/rigs"
)

// With a log of 500 shows and 20,000 incidents, what the database is asked of one night, of one rig and after a tick
// goes by an index; the overview reads all shows, and no operation of them.
func TestTheLogGoesByItsIndexes(t *testing.T) {
	s, ctx := open(t), t.Context()
	row, rev, err := s.Create(ctx, judge.Rig(rigs.LoftEven()), "ann", "made")
	require.NoError(t, err)
	other, otherRev, err := s.Create(ctx, judge.Rig(rigs.Hall()), "ann", "made")
	require.NoError(t, err)
	sheet, err := json.Marshal(runsheet.Of(judge.Rig(rigs.LoftEven()), nil, runsheet.Options{}))
	require.NoError(t, err)
	var one uuid.UUID
	for i := range 500 {
		air := time.Date(2020, 1, 1, 19, 0, 0, 0, time.UTC).AddDate(0, 0, i)
		n := Night{ID: uuid.New(), RigID: row.ID, Revision: rev.Number, Name: fmt.Sprint("Show ", i), AirAt: air,
			People: 1, Sheet: sheet, CreatedAt: air}
		if i%100 == 0 {
			n.RigID, n.Revision = other.ID, otherRev.Number
		}
		var ops []night.Op
		for k := range 40 {
			ops = append(ops, night.Op{ID: fmt.Sprintf("inc-%04d-%03d", i, k), Kind: "incident", At: air.UnixMilli(),
				Incident: &night.Incident{Loss: "source", What: "went black"}})
		}
		_, err := s.PutNight(ctx, n, ops)
		require.NoError(t, err)
		one = n.ID
	}
	require.NoError(t, s.db.Exec("analyze nights, night_ops").Error)
	plan := func(query string, args ...any) string {
		var lines []string
		require.NoError(t, s.db.Raw("explain "+query, args...).Scan(&lines).Error)
		return strings.Join(lines, "\n")
	}
	ops := plan("select doc from night_ops where night_id = ? and seq > ? order by seq", one, 30)
	require.Contains(t, ops, "night_ops_seq", ops)
	require.NotContains(t, ops, "Seq Scan", ops)
	mine := plan("select id from nights where rig_id = ? order by air_at desc, id", other.ID)
	require.Contains(t, mine, "nights_rig", mine)
	last := plan("select id from nights where rig_id = ? order by air_at desc, id limit 1", row.ID)
	require.Contains(t, last, "nights_", last)
	all := plan("select id, name, air_at from nights order by air_at desc, id")
	require.NotContains(t, all, "night_ops", all)
}
