package costs_test

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/advise"
	"eventether/core/costs"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/internal/demo/rigs"
)

func priced(amount gear.Amount, currency string) *gear.Money {
	return &gear.Money{Amount: amount, Currency: currency}
}

func Example() {
	for _, t := range costs.Of(judge.Rig(rigs.LoftEven()), nil, nil).Totals {
		fmt.Println(t.All.Amount, t.Currency, "or", t.Angle.Amount, "an angle; left of the budget", t.Left.Amount)
	}
	// Output: 1915.00 EUR or 383.00 an angle; left of the budget 150.00
}

// Two currencies are never added; what nobody has priced is named; a budget that does not suffice says by how much.
func TestTotals(t *testing.T) {
	yes, no := true, false
	r := rigs.LoftEven()
	r.Items = append([]rig.Item(nil), r.Items...)
	for i := range r.Items {
		r.Items[i].Price, r.Items[i].Owned = nil, nil
	}
	r.Items[0].Price, r.Items[0].Owned = priced(10010, "EUR"), &yes
	r.Items[1].Price, r.Items[1].Owned = priced(20020, "EUR"), &no
	r.Items[2].Price = priced(5, "SEK")
	r.Items[3].Price, r.Items[3].Owned, r.Items[3].Borrowed = priced(99900, "EUR"), &yes, true
	c := costs.Of(judge.Rig(r), nil, nil)
	require.Len(t, c.Totals, 2)
	eur := c.Totals[0]
	assert.Equal(t, gear.Amount(30030), eur.All.Amount)
	assert.Equal(t, gear.Amount(10010), eur.Owned.Amount)
	assert.Equal(t, gear.Amount(20020), eur.ToBuy.Amount)
	assert.Equal(t, gear.Amount(6006), eur.Angle.Amount, "five angles")
	assert.Equal(t, gear.Amount(99900), eur.Borrowed.Amount, "in no other sum")
	assert.Nil(t, eur.Left)
	assert.Equal(t, gear.Amount(5020), eur.Short.Amount, "150.00 of 200.20")
	assert.Equal(t, gear.Amount(5), c.Totals[1].NotSaid.Amount)
	assert.Len(t, c.Unpriced, len(r.Items)-4)
	list := c.CSV(strings.ToUpper)
	assert.Contains(t, list, "TO BUY,200.20,EUR")
	assert.NotContains(t, list, "100.10", "what is owned is not bought")
}

// The loft with its faults: the cheapest cure of the long lead costs a lead, and the whole cure costs no more than the
// budget.
func TestCures(t *testing.T) {
	v := judge.Rig(rigs.Loft())
	c := costs.Of(v, advise.On(context.Background(), v, advise.Effort), nil)
	require.NotEmpty(t, c.Cures)
	require.NotNil(t, c.All)
	require.LessOrEqual(t, c.All.Cost.Amount, gear.Amount(15000))
	for _, cure := range c.Cures {
		require.NotEmpty(t, cure.Move)
		require.NotEmpty(t, cure.What)
	}
}

// What the rig states no price of has the shelf's, said so; what is proposed is bought too, and is inside what is left
// of the budget.
func TestShelfPricesAndProposals(t *testing.T) {
	r := rigs.LoftEven()
	r.Items = append([]rig.Item(nil), r.Items...)
	for i := range r.Items {
		r.Items[i].Price = nil
	}
	r.Items[1].Price = priced(100, "EUR")
	v := judge.Rig(r)
	prices := func(it *rig.Item) *gear.Money {
		if it.ID == r.Items[0].ID || it.ID == r.Items[1].ID {
			return priced(20000, "EUR")
		}
		return nil
	}
	c := costs.Of(v, nil, prices)
	require.Equal(t, gear.Amount(20100), c.Totals[0].All.Amount, "200.00 by the shelf and 1.00 as the rig states it")
	for _, l := range c.Lines {
		assert.Equal(t, l.Item == r.Items[0].ID, l.Shelf, l.Label)
	}

	loft := rigs.Loft()
	v = judge.Rig(loft)
	a := advise.On(context.Background(), v, advise.Effort)
	require.NotNil(t, a.Cure)
	eur := costs.Of(v, a, nil).Totals[0]
	require.NotNil(t, eur.Proposed)
	assert.Equal(t, a.Cure.Cost.Amount, eur.Proposed.Amount, "nothing proposed here is bought but by the cure")
	assert.Equal(t, eur.All.Amount+eur.Proposed.Amount, eur.With.Amount)
	left := loft.Show.Budget.Amount - eur.ToBuy.Amount - eur.Proposed.Amount
	assert.Equal(t, left, eur.Left.Amount)

	small := rigtest.Plain() // its camera runs dry, and the mains by a dummy battery are proposed
	small.Items[0].Gear.Power = &gear.Power{Mains: gear.MainsDummy, Battery: &gear.BatteryPack{MAh: fact.Exactly(500),
		Volts: fact.Exactly(7.2)}, DrawW: new(fact.Exactly(8))}
	small.Items[0].Set.RunsOn = ""
	v = judge.Rig(small)
	total := costs.Of(v, nil, nil).Totals
	require.Len(t, total, 1)
	assert.Equal(t, advise.Dummy(small).Amount, total[0].Proposed.Amount)
}

func TestSideBySide(t *testing.T) {
	a, b := costs.SideOf(judge.Rig(rigs.Loft()), nil, nil), costs.SideOf(judge.Rig(rigs.LoftEven()), nil, nil)
	assert.Equal(t, "snapped", a.State.String())
	assert.Equal(t, "taut", b.State.String())
	assert.Greater(t, a.Room, b.Room)
	assert.Equal(t, 5, b.Angles)
	assert.Positive(t, b.SetUp)
	assert.Contains(t, a.Picture, "composed 1920×1080 at 29.97")
	assert.Contains(t, a.Picture, "sent 1280×720 at 29.97")
	assert.Contains(t, a.Worst, "Reach of the lead")
	require.NotEmpty(t, a.Cannot)
	assert.Contains(t, a.Cannot[0], "12 m long")
	v := judge.Rig(rigs.Loft())
	assert.Equal(t, 1, costs.SideOf(v, advise.On(context.Background(), v, advise.Effort), nil).Plugs,
		"Stick 1 goes into back 2")
	for seed := range uint64(100) { // of every kind of rig
		s := costs.SideOf(judge.Rig(rigtest.Rig(seed)), nil, nil)
		require.GreaterOrEqual(t, s.SetUp, 0.0)
	}
}
