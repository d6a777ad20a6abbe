package plans

import (
	"math"

	"eventether/core/limit"
	"eventether/core/rig"
)

// mathis is the constant of the formula with delayed acknowledgements, and segment the payload of a segment on Ethernet, bytes.
const (
	mathis  = 0.87
	segment = 1460.0
)

// Mathis is what one connection carries over TCP at a round trip in ms and a loss in percent, Mb/s; endless without loss.
func Mathis(rttMs, lossPct float64) float64 {
	if rttMs <= 0 || lossPct <= 0 {
		return limit.Endless
	}
	return mathis * segment * 8 / (rttMs / 1000 * math.Sqrt(lossPct/100)) / 1e6
}

// OverTCP tells whether what is sent to a destination goes by one connection over TCP. What codes by itself, a page or a studio in the
// browser, leaves here by WebRTC whatever takes it on.
func (p *Plan) OverTCP(d *rig.Destination) bool {
	return p.CodesHere() && (d.Transport == "" || d.Transport == "rtmp" || d.Transport == "hls")
}
