package gear

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/fact"
)

// Who lives on the socket it is plugged into, surely or possibly.
func TestBusPowered(t *testing.T) {
	for _, c := range []struct {
		name             string
		gear             Gear
		surely, possibly bool
	}{
		{"a stick", Gear{Kind: Capture}, true, true},
		{"a hub nobody looked at", Gear{Kind: Hub}, false, true},
		{"a hub with a supply", Gear{Kind: Hub, Power: &Power{SelfPowered: "yes"}}, false, false},
		{"a hub without", Gear{Kind: Hub, Power: &Power{SelfPowered: "no"}}, true, true},
		{"a dock", Gear{Kind: Dock}, false, false},
	} {
		surely, possibly := c.gear.BusPowered()
		require.Equal(t, c.surely, surely, c.name)
		require.Equal(t, c.possibly, possibly, c.name)
	}
}

// What a thing draws and takes of the bus has bounds for every kind, stated or not; what is stated wins.
func TestDrawsOfEveryKind(t *testing.T) {
	for _, k := range Kinds {
		g := Gear{Kind: k}
		d := g.Draws()
		require.NoError(t, d.Check(), string(k))
		require.GreaterOrEqual(t, d.Low, 0.0, string(k))
		require.LessOrEqual(t, d.High, 5000.0, string(k))
		require.Equal(t, fact.Estimate, d.From, string(k))
		b := g.TakesOfBus()
		require.NoError(t, b.Check(), string(k))
		require.GreaterOrEqual(t, b.Low, 0.0, string(k))
		watts := fact.Exactly(3)
		g.Power = &Power{DrawW: &watts}
		require.Equal(t, watts, g.Draws(), string(k))
	}
}

// Every kind stands on the shelf everybody begins with, and what gives power there says how much or leaves it open.
func TestStarterGives(t *testing.T) {
	seen := map[Kind]bool{}
	for _, e := range Starter() {
		seen[e.Gear.Kind] = true
		if p := e.Gear.Power; p != nil {
			for _, f := range []*fact.Fact{p.DrawW, p.SupplyW, p.SupplyVolts, p.ChargesW, p.PowerFactor, p.RatedA,
				p.LimitW, p.LimitVA, p.Efficiency} {
				if f != nil {
					require.NoError(t, f.Check(), e.ID)
				}
			}
		}
	}
	for _, k := range Kinds {
		require.True(t, seen[k], string(k))
	}
}
