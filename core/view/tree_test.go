package view_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/view"
	"eventether/internal/demo/rigs"
)

// Every socket stands in the tree once, what hangs on a hub one step deeper, and a shared bus at its controller.
func TestTree(t *testing.T) {
	r := rigs.Loft()
	v := view.Of(judge.Rig(r), nil)
	rows := view.Tree(r, &v)
	at := map[string]int{}
	for i, row := range rows {
		at[row.Ref] = i
		if i > 0 {
			require.LessOrEqual(t, row.Depth, rows[i-1].Depth+1, row.Ref)
		}
	}
	require.Equal(t, view.RowComputer, rows[0].Kind)
	hub := rows[at["pc.front-right"]]
	require.NotEmpty(t, hub.Plugged)
	require.Equal(t, limit.Snapped, hub.State, "two hungry sticks on a bus-powered hub")
	for i := at["pc.front-right"] + 1; i < len(rows) && rows[i].Depth > hub.Depth; i++ {
		require.Equal(t, hub.Depth+1, rows[i].Depth)
		require.Contains(t, rows[i].Ref, hub.Item+".")
	}
	plugs := 0
	for _, row := range rows {
		if row.Lead != "" {
			plugs++
			require.NotNil(t, r.Lead(row.Lead))
		}
	}
	require.GreaterOrEqual(t, plugs, 3)

	desk := rigs.Desk()
	v = view.Of(judge.Rig(desk), nil)
	for _, row := range view.Tree(desk, &v) {
		if row.Kind == view.RowSlot && row.Plugged != "" {
			require.Contains(t, row.Speed, "one lane in a ×16 socket")
			require.Equal(t, limit.Snapped, row.State)
			return
		}
	}
	t.Fatal("no slot with a card in it")
}
