// Package sdi answers: which SDI link carries this picture, and how far does a coax lead carry the link?
package sdi

import (
	"fmt"
	"math"
	"slices"

	"eventether/core/picture"
)

// Link is an SDI link by the name people give it.
type Link string

// The links. NoLink carries nothing.
const (
	NoLink      Link = ""
	SD          Link = "SD"
	HD          Link = "HD"
	ThreeG      Link = "3G"
	SixG        Link = "6G"
	TwelveG     Link = "12G"
	UnknownLink Link = "unknown"
)

// Links lists the known links in rising order.
var Links = []Link{SD, HD, ThreeG, SixG, TwelveG}

// linkMbps are the bit rates [standard: SMPTE ST 259, ST 292-1, ST 424, ST 2081-1, ST 2082-1; from memory of these].
var linkMbps = map[Link]float64{SD: 270, HD: 1485, ThreeG: 2970, SixG: 5940, TwelveG: 11880}

// Mbps is the nominal bit rate of a link in Mb/s, 0 for none or unknown.
func (l Link) Mbps() float64 { return linkMbps[l] }

// budgetDB is the loss a receiver makes up for, in dB at half the bit rate [memory: the same standards].
var budgetDB = map[Link]float64{SD: 20, HD: 20, ThreeG: 20, SixG: 40, TwelveG: 40}

// carries lists the pictures each link is mapped for, by lines and frames a second [standard: SMPTE ST 259, ST 292-1,
// ST 425-1, ST 2081-10, ST 2082-10; from memory]. HD has 1080 segmented and interlaced at 24 to 30 frames, and 720 at
// any rate to 60.
func carries(l Link, m picture.Mode) bool {
	n := m.Rate.Nominal()
	wide := m.Width == 1920 || m.Width == 2048
	large := m.Width == 3840 || m.Width == 4096
	if !ordinary(m.Rate) {
		return false // SDI knows the rates of television only
	}
	switch l {
	case SD:
		return m.Interlaced && m.Width == 720 && (m.Height == 576 && n == 25 || m.Height == 480 && n == 30)
	case HD:
		return !m.Interlaced && m.Width == 1280 && m.Height == 720 || wide && m.Height == 1080 && n <= 30
	case ThreeG:
		return wide && m.Height == 1080 && !m.Interlaced && n >= 48
	case SixG:
		return large && m.Height == 2160 && !m.Interlaced && n <= 30
	case TwelveG:
		return large && m.Height == 2160 && !m.Interlaced && n >= 48
	}
	return false
}

var rates = func() (out []picture.Rate) {
	for _, n := range []int64{24, 30, 48, 60} {
		out = append(out, picture.R(n), picture.NewRate(n*1000, 1001))
	}
	return append(out, picture.R(25), picture.R(50))
}()

func ordinary(r picture.Rate) bool { return slices.Contains(rates, r) }

// For is the lowest link that carries a picture, and the bit rate it then has: 1000/1001 of the nominal one at the
// /1001 rates, except SD, which has one bit rate. ok is false for a picture no link is mapped for, such as a
// computer's size.
func For(m picture.Mode) (l Link, mbps float64, ok bool) {
	for _, l := range Links {
		if carries(l, m) {
			mbps := l.Mbps()
			if m.Rate.Den == 1001 && l != SD {
				mbps = mbps * 1000 / 1001
			}
			return l, mbps, true
		}
	}
	return NoLink, 0, false
}

// TwoMappings tells whether a picture can be sent as level A or level B [standard: SMPTE ST 425-1]: 1080 lines at 50
// frames and more on 3G. A level-B source into a level-A-only input shows nothing.
func TwoMappings(m picture.Mode) bool {
	l, _, ok := For(m)
	return ok && l == ThreeG
}

// Level is how a 3G picture is mapped, and what an input takes.
type Level string

// The levels. BothLevels is an input that takes either; UnknownLevel has to be looked up or tried.
const (
	LevelA       Level = "A"
	LevelB       Level = "B"
	BothLevels   Level = "AB"
	UnknownLevel Level = "unknown"
)

// Meet tells whether an input of one level shows a source of another: surely, or possibly.
func Meet(source, input Level) (surely, possibly bool) {
	known := func(l Level) bool { return l == LevelA || l == LevelB || l == BothLevels }
	if input == BothLevels {
		return true, true
	}
	if !known(source) || !known(input) || source == BothLevels {
		return false, true
	}
	return source == input, source == input
}

// Class is a kind of coax lead.
type Class string

// The classes. UnknownCoax is a lead nobody has read the jacket of.
const (
	RG6         Class = "rg-6"
	RG59        Class = "rg-59"
	RG179       Class = "rg-179"
	UnknownCoax Class = "coax"
	Optical     Class = "fibre"
)

// Classes lists every class a document may name.
var Classes = []Class{RG6, RG59, RG179, UnknownCoax, Optical}

// Point is one row of a lead's data sheet: the loss in dB over 100 m at a frequency.
type Point struct {
	MHz float64 `json:"mhz" minimum:"1" maximum:"12000"`
	DB  float64 `json:"db" minimum:"0.1" maximum:"500" doc:"Loss over 100 m in dB"`
}

// planning are the losses at 1 GHz over 100 m that stand in for a data sheet [estimate].
var planning = map[Class]float64{RG6: 19, RG59: 25, RG179: 58}

// Planning is the one point a class stands for.
func Planning(c Class) (Point, bool) {
	db, ok := planning[c]
	return Point{1000, db}, ok
}

// Loss is the loss in dB over 100 m at a frequency. It follows a·√f + b·f: with two or more points of a data sheet the
// two around f (or the nearest two) give a and b; with one, √f alone up to 3 GHz, and towards 6 GHz up to 8 % more
// [estimate].
func Loss(points []Point, mhz float64) (float64, error) {
	switch len(points) {
	case 0:
		return 0, fmt.Errorf("no loss is known: want at least one point of the lead's data sheet")
	case 1:
		db := points[0].DB * math.Sqrt(mhz/points[0].MHz)
		return db * (1 + 0.08*min(1, max(0, (mhz-3000)/3000))), nil
	}
	sorted := slices.Clone(points)
	slices.SortFunc(sorted, func(a, b Point) int { return int(a.MHz - b.MHz) })
	i := 0
	for i+2 < len(sorted) && sorted[i+1].MHz < mhz {
		i++
	}
	p, q := sorted[i], sorted[i+1]
	if p.MHz == q.MHz {
		return 0, fmt.Errorf("two losses are given at %v MHz", p.MHz)
	}
	// p.DB = a·√p + b·p and q.DB = a·√q + b·q.
	sp, sq := math.Sqrt(p.MHz), math.Sqrt(q.MHz)
	b := (p.DB/sp - q.DB/sq) / (sp - sq)
	a := p.DB/sp - b*sp
	db := a*math.Sqrt(mhz) + b*mhz
	if db <= 0 {
		return 0, fmt.Errorf("the data sheet's points give no loss at %v MHz: %.1f dB", mhz, db)
	}
	return db, nil
}

// Reach is how far a lead carries a link in metres: its budget ÷ the loss at half the bit rate.
func Reach(points []Point, l Link) (float64, error) {
	db, err := Loss(points, l.Mbps()/2)
	if err != nil {
		return 0, err
	}
	return budgetDB[l] / db * 100, nil
}

// Budget is the loss a receiver of the link makes up for, in dB.
func Budget(l Link) float64 { return budgetDB[l] }

// HabitMetres are the safe runs people plan 12G with, whatever the sum says [practice]; 0 and 0 for
// links without such a habit.
func HabitMetres(l Link) (sure, possible float64) {
	if l == TwelveG {
		return 30, 60
	}
	return 0, 0
}
