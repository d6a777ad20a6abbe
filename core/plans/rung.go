package plans

import (
	"cmp"
	"math"
	"slices"

	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/say"
)

// Rung is one size and rate, with the bitrates people start from. Handbook 5.3, 5.4.
type Rung struct {
	Width    int          `json:"width"`
	Height   int          `json:"height"`
	Rate     picture.Rate `json:"rate"`
	Label    string       `json:"label" doc:"Lines and rate, as people say it: 1080p29.97"`
	LowKbps  float64      `json:"lowKbps" doc:"The least that looks right"`
	HighKbps float64      `json:"highKbps" doc:"The wish"`
	// FloorKbps is where blocks begin to show: 0.045 bits a pixel.
	FloorKbps float64 `json:"floorKbps"`
	LeastKbps float64 `json:"leastKbps" doc:"What the wish is lowered to at most: the last step of 50 not under the floor"`
	MpxS      float64 `json:"mpxS" doc:"What has to be coded, millions of pixels a second"`
	// Worth is what the picture is worth in this show, to compare.
	Worth int `json:"-"`
}

// motions are how much a doubling of the rate is worth, against a doubling of the pixels, by what moves [practice: 30 suffices for
// talk, 60 for motion: handbook 8; the figures are ours, an estimate].
var motions = map[string]float64{"still": 0.1, "talk": 0.3, "": 0.3, "stage": 0.8, "play": 1.5, "sport": 1.8}

// sizes of the ladder, the largest first.
var sizes = [][2]int{{3840, 2160}, {2560, 1440}, {1920, 1080}, {1280, 720}, {854, 480}}

// Rungs are the sizes and rates a programme can be sent at without making anything larger, the best first for what moves in the
// show: its own rate, and half of it where that is a rate people watch.
func Rungs(pr rig.Programme, motion string) []Rung {
	weight, ok := motions[motion]
	if !ok {
		weight = motions[""]
	}
	rates := []picture.Rate{pr.Rate}
	if half := picture.NewRate(pr.Rate.Num, pr.Rate.Den*2); half.Float() >= 23 {
		rates = append(rates, half)
	}
	var out []Rung
	add := func(w, h int) {
		for _, r := range rates {
			g := Rung{Width: w, Height: h, Rate: r, Label: RungLabel(w, h, r)}
			start := StartKbps(w, h, r)
			g.LowKbps, g.HighKbps = start.Low, start.Value
			px := float64(w) * float64(h) * r.Float()
			g.FloorKbps, g.MpxS, g.LeastKbps = math.Ceil(leastBits*px/1000), px/1e6, LeastOf(start.Value, px)
			g.Worth = int(math.Round(1000 * (math.Log2(float64(w)*float64(h)) + weight*math.Log2(r.Float()))))
			out = append(out, g)
		}
	}
	own := false
	for _, s := range sizes {
		if pr.Height > pr.Width { // an upright programme
			s[0], s[1] = s[1], s[0]
		}
		if s[0] > pr.Width || s[1] > pr.Height {
			continue
		}
		own = own || s == [2]int{pr.Width, pr.Height}
		add(s[0], s[1])
	}
	if !own {
		add(pr.Width, pr.Height)
	}
	slices.SortStableFunc(out, func(a, b Rung) int {
		return cmp.Or(cmp.Compare(b.Worth, a.Worth), cmp.Compare(b.MpxS, a.MpxS))
	})
	return out
}

// RungLabel is a size and rate as people say it, by its shorter side: 1080p29.97.
func RungLabel(w, h int, r picture.Rate) string {
	return say.Number(float64(min(w, h))) + "p" + r.Name()
}
