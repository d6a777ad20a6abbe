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
	for _, t := range costs.Of(judge.Rig(rigs.LoftEven()), nil).Totals {
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
	c := costs.Of(judge.Rig(r), nil)
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

// The loft with its faults: the cheapest cure of the long lead costs a lead, and the whole cure costs no more than the budget.
func TestCures(t *testing.T) {
	v := judge.Rig(rigs.Loft())
	c := costs.Of(v, advise.On(context.Background(), v, advise.Effort))
	require.NotEmpty(t, c.Cures)
	require.NotNil(t, c.All)
	require.LessOrEqual(t, c.All.Cost.Amount, gear.Amount(15000))
	for _, cure := range c.Cures {
		require.NotEmpty(t, cure.Move)
		require.NotEmpty(t, cure.What)
	}
}

func TestSideBySide(t *testing.T) {
	a, b := costs.SideOf(judge.Rig(rigs.Loft())), costs.SideOf(judge.Rig(rigs.LoftEven()))
	assert.Equal(t, "snapped", a.State.String())
	assert.Equal(t, "taut", b.State.String())
	assert.Greater(t, a.Room, b.Room)
	assert.Equal(t, 5, b.Angles)
	assert.Positive(t, b.SetUp)
	for seed := range uint64(100) { // of every kind of rig
		s := costs.SideOf(judge.Rig(rigtest.Rig(seed)))
		require.GreaterOrEqual(t, s.SetUp, 0.0)
	}
}
