package rig

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/fact"
)

// What is measured on an item goes onto its sheet; how it is set here, and what is about a lead, does not.
func TestOnSheet(t *testing.T) {
	g := full().Item("cam").Gear
	watts := fact.Fact{Value: 6.25, Low: 6.25, High: 6.25, From: fact.Measured, At: "2026-11-20"}
	out, ok := OnSheet(g, Edit{Do: "fact", Path: "items/cam/power/drawW", Fact: &watts})
	require.True(t, ok)
	require.Equal(t, watts, *out.Power.DrawW)
	require.NotEqual(t, watts, *g.Power.DrawW, "the sheet that was there stays")
	for _, e := range []Edit{
		{Do: "word", Path: "items/cam/set/shutter", Word: "1/50"},
		{Do: "fact", Path: "leads/l1/lengthM", Fact: &watts},
		{Do: "fact", Path: "items/cam/no/such", Fact: &watts},
		{Do: "name", Name: "x"},
	} {
		_, ok := OnSheet(g, e)
		require.False(t, ok, e.Path)
	}
}
