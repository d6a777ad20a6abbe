package judge_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/rig/rigtest"
	"eventether/core/verdict"
)

// A pass takes what it needs out of memory it keeps: what one more feed allocates is a few options of open facts and an
// id, and no wording (one closure a result were twenty).
func TestAFeedAllocatesLittle(t *testing.T) {
	few, many := rigtest.Feeds(40), rigtest.Feeds(80)
	verdict.StateOf(many) // the rooms are as large as they need to be
	a := testing.AllocsPerRun(50, func() { verdict.StateOf(few) })
	b := testing.AllocsPerRun(50, func() { verdict.StateOf(many) })
	require.Less(t, (b-a)/40, 6.0, "pieces of memory a feed; %v for 40 feeds, %v for 80", a, b)
	require.Greater(t, b, a, "more feeds bring more limits, which take some")
}
