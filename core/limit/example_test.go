package limit_test

import (
	"fmt"

	"eventether/core/fact"
	"eventether/core/limit"
)

// Two sticks of 2 to 4 W behind a hub on a socket of 900 mA: it depends on what they draw.
func Example() {
	l := limit.Limit{Sense: limit.AtMost, Unit: "mA", Ceiling: 0.8}
	for _, stick := range []string{"stick-1", "stick-2"} {
		draw := l.Let(limit.Of(limit.Key{Field: "items/ID/power/drawW", Of: stick}, "W", fact.Est(2.5, 2, 4)))
		l.Loads = append(l.Loads, limit.Load{Item: stick, Term: limit.Times(1000.0/5, draw)})
	}
	l.Caps = []limit.Term{limit.Times(1, l.Let(limit.Known(900, "mA", fact.Standard)))}
	l.Weigh()
	fmt.Printf("%.0f to %.0f of %.0f %s: %s\n", l.Load.Low, l.Load.High, l.Sure, l.Unit, l.State)
	for _, d := range l.Rank() {
		fmt.Printf("%s decides %.0f %%\n", l.Facts[d.Fact].Path(), 100*d.Decides)
	}
	// Output:
	// 800 to 1600 of 900 mA: untested
	// items/stick-1/power/drawW decides 67 %
	// items/stick-2/power/drawW decides 67 %
}
