package ladder

import (
	"math"

	"eventether/core/lang"
	"eventether/core/rig"
)

// Window is a shape viewers may see the sent picture in, filled by it: the sides that do not fit are cut off.
type Window struct {
	Name  string  `json:"name"`
	Wide  int     `json:"wide"`
	Tall  int     `json:"tall"`
	Keeps float64 `json:"keeps" doc:"Share of the picture's width that is seen, 0 to 1"`
	// Inset is how many pixels of the programme an inset has to stand off its left or right edge to be seen whole.
	Inset int `json:"inset" doc:"Pixels from the side that are cut off"`
}

// windows are the shapes people watch in.
var windows = []struct {
	name       string
	wide, tall int
}{{"4:3", 4, 3}, {"square", 1, 1}, {"upright", 9, 16}}

// Windows are the windows that cut the sides of a programme off.
func Windows(pr rig.Programme) []Window {
	out := []Window{}
	for _, w := range windows {
		keeps := float64(w.wide) / float64(w.tall) * float64(pr.Height) / float64(pr.Width)
		if keeps >= 1 {
			continue
		}
		out = append(out, Window{lang.Text(w.name), w.wide, w.tall, math.Round(keeps*1000) / 1000,
			int(math.Ceil((1 - keeps) / 2 * float64(pr.Width)))})
	}
	return out
}
