package plans

import (
	"strconv"

	"eventether/core/lang"
	"eventether/core/picture"
	"eventether/core/say"
)

// Light is how a camera stands against lamps on the mains. Handbook 1.4.
type Light struct {
	MainsHz int
	Rate    picture.Rate
	BeatHz  float64 // how often a second the brightness beats with a wrong exposure; 0 stands as bands
	Shutter string  // the exposure to set; none when every one flickers
}

// LightOf is how a rate stands against mains.
func LightOf(rate picture.Rate, mains int64) Light {
	l := Light{MainsHz: int(mains), Rate: rate, BeatHz: picture.Beat(rate, mains)}
	if e, ok := picture.Shutter(rate, mains); ok {
		l.Shutter = e.String()
	}
	return l
}

// Words say what to set, and what comes of another exposure.
func (l Light) Words() string {
	if l.Shutter == "" {
		return lang.Text("no exposure within a frame at %s is free of flicker in %s Hz light.", l.Rate.Name(), strconv.Itoa(l.MainsHz))
	}
	what := lang.Text("with another one the brightness beats %s times a second.", say.Number(say.Round1(l.BeatHz*10)/10))
	switch {
	case l.BeatHz == 0:
		what = lang.Text("with another one bands stand in the picture.")
	case l.BeatHz < 0.5:
		what = lang.Text("with another one bands crawl through the picture.")
	}
	return lang.Text("set the shutter to %s s; %s", l.Shutter, what)
}
