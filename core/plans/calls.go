package plans

import (
	"strconv"

	"eventether/core/fact"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/say"
)

// What a person's picture in a call takes down the line, kb/s, and in pixels: a call program asks for 360p to 720p of
// each at 30 frames/s, by how many there are and how large they are shown [estimate].
var (
	CallDownKbps = fact.Est(900, 600, 3000)
	callDownMpxS = limit.Bounds{Low: 640 * 360 * 30 / say.Mega, Value: 960 * 540 * 30 / say.Mega,
		High: 1280 * 720 * 30 / say.Mega}
)

// screenMpxS is a screen of 1080 to 2160 lines, taken 30 times a second [estimate].
var screenMpxS = fact.Est(2560*1440*30/say.Mega, 1920*1080*30/say.Mega, 3840*2160*30/say.Mega)

// Screen is how much of a screen is recorded.
func (p *Plan) Screen() limit.Fact {
	return limit.Stated(limit.At("show/screenMpxS", ""), "Mpx/s", p.Show.ScreenMpxS, screenMpxS)
}

// mostPersons is how many people's pictures a call may show while nobody has counted them: a page of nine [estimate].
const mostPersons = 9

// CallName is the i-th call as people say it.
func CallName(sh *rig.Show, i int) string {
	if n := sh.Calls[i].Name; n != "" {
		return lang.Text("call %s", n)
	}
	return lang.Text("call %s", strconv.Itoa(i+1))
}

// Persons is how many people's pictures come in on a call.
func (p *Plan) Persons(i int) limit.Fact {
	if n := float64(p.Show.Calls[i].Persons); n > 0 {
		return limit.Fact{Key: limit.Part("show/calls/N/persons", "", strconv.Itoa(i)), Low: n, Value: n, High: n,
			From: fact.Given}
	}
	return limit.Fact{Key: limit.Part("show/calls/N/persons", "", strconv.Itoa(i)), Low: 1, Value: 1,
		High: mostPersons, From: fact.Estimate}
}

// Download is what the line brings in: at least what it sends, while nobody has measured [practice].
func (p *Plan) Download() limit.Fact {
	var have *fact.Fact
	if p.Uplink != nil {
		have = p.Uplink.DownMbps
	}
	up := p.UploadFact()
	return limit.Stated(limit.At("uplink/downMbps", ""), "Mb/s", have, fact.Est(max(50, up.Value), min(up.Low, 1000),
		max(up.High, 1000)))
}

// Beside is what else the computer is made to do, as work of its places.
type Beside struct {
	Name   string
	Kind   JobKind
	Px     limit.Fact // Mpx/s
	Copies float64    // bytes a pixel in memory
}

// Besides lists it: what comes in from calls is decoded, what a shared camera gives and what the screen shows is
// converted; what the screen shows is coded too.
func (p *Plan) Besides() (out []Beside) {
	sh := &p.Show
	pr := float64(sh.Programme.Width) * float64(sh.Programme.Height) * sh.Programme.Rate.Float() / say.Mega
	for i := range sh.Calls {
		who := p.Persons(i)
		px := limit.Stated(limit.Part("show/calls/N/downMpxS", "", strconv.Itoa(i)), "Mpx/s", sh.Calls[i].DownMpxS,
			fact.Est(who.Value*callDownMpxS.Value, who.Low*callDownMpxS.Low, who.High*callDownMpxS.High))
		out = append(out, Beside{lang.Text("people of %s", CallName(sh, i)), DecodingH264, px, CopiesIn})
	}
	for _, what := range sh.Besides {
		switch what {
		case rig.VirtualCamera:
			out = append(out, Beside{lang.Text("virtual camera for other programs"), ConvertingWork,
				mpxS(limit.Bounds{Low: pr, Value: pr, High: pr}), CopiesOut})
		case rig.ScreenRecording:
			out = append(out, Beside{lang.Text("recording of the screen"), ConvertingWork, p.Screen(), CopiesIn})
		case rig.OwnStream:
			if len(sh.Destinations) > 0 {
				s := &sh.Destinations[0].Send
				px := float64(s.Width) * float64(s.Height) * s.Rate.Float() / say.Mega
				out = append(out, Beside{lang.Text("one's own stream, watched here"), DecodingH264,
					mpxS(limit.Bounds{Low: px, Value: px, High: px}), CopiesIn})
			}
		}
	}
	return out
}
