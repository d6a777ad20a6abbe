package gear

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// A sheet that is silent may be any sheet there is: what stands in for a figure is never narrower than what the things
// of the shelf say of it, or silence would be slack.
func TestSilenceIsAsWideAsTheShelf(t *testing.T) {
	drawing := 0
	check := func(g *Gear) {
		bare := Gear{Kind: g.Kind, Class: g.Class}
		if g.Power != nil && g.Power.DrawW != nil {
			drawing++
			is, may := *g.Power.DrawW, bare.Draws()
			assert.False(t, is.Low < may.Low || is.High > may.High, "%s %s draws %v, silence %v", g.Kind, g.Name, is, may)
		}
	}
	for _, list := range [][]Generic{StrongerCapture, Sources, Computers} {
		for i := range list {
			check(&list[i].Gear)
		}
	}
	for _, list := range [][]Entry{MoreKinds(), Starter()} {
		for i := range list {
			check(&list[i].Gear)
		}
	}
	assert.Greater(t, drawing, 30)
}
