package plans

import (
	"strconv"
	"strings"

	"eventether/core/lang"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/say"
)

// CadenceText is how movement at one rate looks at another, in a few words.
func CadenceText(from, into picture.Rate) string {
	return CadenceWords(picture.CadenceOf(from, into), from, into)
}

func CadenceWords(c picture.Cadence, s, pr picture.Rate) string {
	switch c.Kind {
	case picture.SameRate:
		return lang.Text("same rate")
	case picture.Clean:
		if s.Cmp(pr) > 0 {
			return lang.Text("clean, one frame in %s shown", strconv.Itoa(len(c.Pattern)))
		}
		return lang.Text("clean, each shown %s times", strconv.Itoa(c.Pattern[0]))
	case picture.Slip:
		return lang.Text("a slip every %s s", say.Number(c.SlipSeconds))
	}
	return lang.Text("judder %s", Pattern(c.Pattern))
}

// Pattern writes repeats as 2,1,1,1.
func Pattern(p []int) string {
	words := make([]string, len(p))
	for i, n := range p {
		words[i] = strconv.Itoa(n)
	}
	return strings.Join(words, ",")
}

// ProgramKinds are the programs of handbook 5.0: what their name is, and the most lines the kind is known to take
// ([practice]; 0 is any).
var ProgramKinds = map[string]struct {
	Name     string
	Lines    int
	Mirrored bool
	One      bool // it takes one camera at a time, chosen in its menu
}{
	"encoder":          {"the encoder", 0, false, false},
	"browser-studio":   {"the studio in the browser", 1080, true, false},
	"destination-page": {"the destination's page", 1080, true, true},
	"call":             {"the call", 1080, true, true},
}

// CodesHere tells whether the program's coding is set here; calls, pages and studios in the browser set it by themselves.
func (p *Plan) CodesHere() bool { return p.Show.Program.Kind == "encoder" }

// ProgramName is a program as people say it.
func ProgramName(p rig.Program) string {
	if p.Name != "" {
		return p.Name
	}
	return lang.Text(ProgramKinds[p.Kind].Name)
}
