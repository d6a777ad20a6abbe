package rigtext

import (
	"regexp"
	"slices"
	"strings"

	"eventether/core/gear"
	"eventether/core/typed"
)

// grade is one grade of a lead: its word in a rig, its name in a text, and what has to be said to mean it.
type grade struct {
	word, name string
	family     gear.Family
	means      []string
}

// grades are all of them, those of whose words others are a part last.
var grades = []grade{
	{"premium", "Premium High Speed HDMI", gear.HDMIFamily, []string{"premium"}},
	{"ultra", "Ultra High Speed HDMI", gear.HDMIFamily, []string{"ultra"}},
	{"high-speed", "High Speed HDMI", gear.HDMIFamily, []string{"high", "speed"}},
	{"standard", "Standard HDMI", gear.HDMIFamily, []string{"standard"}},
	{"active", "Active HDMI", gear.HDMIFamily, []string{"active"}},
	{"optical", "Optical HDMI", gear.HDMIFamily, []string{"optical"}},
	{"usb-charge", "Charge-only USB", gear.USBFamily, []string{"charge-only"}},
	{"usb-40g", "USB 40 Gb/s", gear.USBFamily, []string{"usb", "40"}},
	{"usb-20g", "USB 20 Gb/s", gear.USBFamily, []string{"usb", "20"}},
	{"usb-10g", "USB 10 Gb/s", gear.USBFamily, []string{"usb", "10"}},
	{"usb-5g", "USB 5 Gb/s", gear.USBFamily, []string{"usb", "5"}},
	{"usb-5g", "USB 3", gear.USBFamily, []string{"usb", "3"}},
	{"usb-2", "USB 2", gear.USBFamily, []string{"usb", "2"}},
	{"rg-6", "RG-6 coax", gear.SDIFamily, []string{"rg-6"}},
	{"rg-59", "RG-59 coax", gear.SDIFamily, []string{"rg-59"}},
	{"rg-179", "RG-179 coax", gear.SDIFamily, []string{"rg-179"}},
	{"fibre", "SDI over fibre", gear.SDIFamily, []string{"fibre"}},
	{"slot", "Slot", gear.PCIeFamily, []string{"slot"}},
	{"lan", "Network", gear.LANFamily, []string{"network"}},
	{"coax", "Unmarked coax", gear.SDIFamily, []string{"coax"}},
	{"coax", "SDI", gear.SDIFamily, []string{"sdi"}},
	{"usb-unknown", "Unmarked USB", gear.USBFamily, []string{"usb"}},
	{"unknown", "Unmarked HDMI", gear.HDMIFamily, []string{"hdmi"}},
}

// besides are words that may stand in what is said of a lead and say nothing more.
var besides = []string{"hdmi", "usb", "sdi", "lead", "cable", "coax", "class", "gb/s", "high", "speed", "unmarked",
	"over", "straight", "in"}

// gradeName is a grade as texts have it; "" for one that is none.
func gradeName(word string) string {
	for i := range grades {
		if grades[i].word == word {
			return grades[i].name
		}
	}
	return ""
}

// lengthOf is a length at the end of what is said of a lead; typed.Number reads it.
var lengthOf = regexp.MustCompile(`(?:^|\s)(\d+(?:[.,]\d+)?\s*[a-z]+)$`)

// said is what an element says of a lead.
type said struct {
	grade  *grade
	metres *float64
}

// leadIn reads an element as a lead: a grade, a length, or both; no lead is one that says neither, or a word no lead
// has. unknown is the word nobody knows where the rest says a lead.
func leadIn(text string) (s said, ok bool, unknown string) {
	rest := text
	if m := lengthOf.FindStringSubmatchIndex(text); m != nil {
		if v, err := typed.Number(text[m[2]:m[3]], "m"); err == nil {
			s.metres, rest = &v, text[:m[0]]
		}
	}
	words := strings.Fields(strings.ToLower(rest))
	if len(words) == 0 {
		return s, s.metres != nil, ""
	}
	for i := range grades {
		g := &grades[i]
		if !containsAll(words, g.means) {
			continue
		}
		for _, w := range words {
			if !slices.Contains(g.means, w) && !slices.Contains(besides, w) {
				unknown = w
			}
		}
		if unknown == "" || s.metres != nil || len(words) > 1 {
			s.grade = g
			return s, unknown == "", unknown
		}
	}
	if s.metres != nil { // a length, and words no lead has
		return s, false, strings.TrimSpace(rest)
	}
	return s, false, ""
}

func containsAll(words, all []string) bool {
	for _, w := range all {
		if !slices.Contains(words, w) {
			return false
		}
	}
	return true
}
