package bench

import (
	"cmp"
	"slices"
	"strconv"
	"strings"

	"eventether/core/advise"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/verdict"
)

// Offer is a thing of the shelf at one place, with what it would do there.
type Offer struct {
	Entry string         `json:"entry"`
	Name  string         `json:"name"`
	Kind  gear.Kind      `json:"kind"`
	Left  int            `json:"left" doc:"How many are owned and not in this rig"`
	Fits  bool           `json:"fits"`
	Why   string         `json:"why,omitempty" doc:"Why it does not fit"`
	State limit.State    `json:"state,omitempty" doc:"Of the rig with it, of what was tried"`
	Does  *advise.Judged `json:"does,omitempty" doc:"What it would do to the verdict; nothing where it was not tried"`
	Price *gear.Money    `json:"price,omitempty"`
}

// MostTried is how many things are tried at one place; what is left is offered without its effect.
const MostTried = 24

// Offers are the things of the shelf that may be done something with at a place: of more everything, of replace and
// same what may stand in the item's place, of between what a lead may be led through. What fits comes first, owned
// before what has to be got, and what was tried by what it does.
func Offers(r *rig.Rig, v *verdict.Verdict, a Act, shelf []Stocked) ([]Offer, error) {
	h := &Hand{r: r, shelf: shelf}
	out := []Offer{}
	var it *rig.Item
	var from, to *gear.Port
	switch a.Do {
	case "replace", "same":
		if it = r.Item(a.At); it == nil {
			return nil, refuse("%s is not in this rig any more", a.At)
		}
	case "between":
		l := r.Lead(a.At)
		if l == nil {
			return nil, refuse("%s is no lead of this rig any more", a.At)
		}
		_, from = r.Port(l.From)
		_, to = r.Port(l.To)
	case "more":
	default:
		return nil, refuse("nothing of the shelf is needed to %s", a.Do)
	}
	tried := 0
	for i := range shelf {
		e := &shelf[i]
		o := Offer{Entry: e.ID, Name: e.Gear.Name, Kind: e.Gear.Kind, Left: max(0, h.left(e)), Fits: true,
			Price: e.Price}
		switch a.Do {
		case "replace", "same":
			if !stands(it, &e.Gear) || e.Gear.Name == it.Gear.Name && a.Do == "replace" {
				continue
			}
			o.Why = unfit(r, it, &e.Gear)
		case "between":
			if !passes(&e.Gear) {
				continue
			}
			switch in, on := Through(&e.Gear, from, to); {
			case in == nil:
				o.Why = lang.Text("takes no %s", FamilyName(from.Connector.Family()))
			case on == nil:
				o.Why = lang.Text("gives no %s", FamilyName(to.Connector.Family()))
			}
		}
		o.Fits = o.Why == ""
		out = append(out, o)
	}
	slices.SortStableFunc(out, func(a, b Offer) int {
		return cmp.Or(b2i(b.Fits)-b2i(a.Fits), b2i(b.Left > 0)-b2i(a.Left > 0),
			cmp.Compare(slices.Index(gear.Kinds, a.Kind), slices.Index(gear.Kinds, b.Kind)),
			strings.Compare(a.Name, b.Name))
	})
	if a.Do == "more" {
		return out, nil
	}
	for i := range out {
		o := &out[i]
		if !o.Fits || tried == MostTried {
			continue
		}
		tried++
		a.Entry = o.Entry
		done, err := Do(r, a, shelf)
		if err != nil {
			o.Fits, o.Why = false, err.Error()
			continue
		}
		if after, err := rig.Apply(r, done.Edits...); err == nil {
			is := judge.Rig(after)
			o.State, o.Does = is.State, advise.Told(v, is)
		}
	}
	slices.SortStableFunc(out, func(a, b Offer) int { return b2i(b.Fits) - b2i(a.Fits) })
	return out, nil
}

// stands tells whether a thing of some kind may stand where an item stands.
func stands(it *rig.Item, g *gear.Gear) bool {
	if it.IsSource() {
		return g.Kind.Shoots() || g.Kind == gear.Computer
	}
	alike := [][]gear.Kind{{gear.Capture, gear.Card, gear.Switcher}, {gear.Hub, gear.Dock},
		{gear.Strip, gear.UPS, gear.Supply, gear.PowerBank}, {gear.Microphone, gear.WirelessSound},
		{gear.AudioInterface, gear.Mixer}, {gear.Monitor, gear.Recorder}, {gear.Converter, gear.Splitter}}
	for _, kinds := range alike {
		if slices.Contains(kinds, it.Gear.Kind) {
			return slices.Contains(kinds, g.Kind)
		}
	}
	return it.Gear.Kind == g.Kind
}

// passes tells whether pictures or plugs go through a thing.
func passes(g *gear.Gear) bool {
	switch g.Kind {
	case gear.Converter, gear.Splitter, gear.Switcher, gear.Hub, gear.Dock, gear.Recorder, gear.Capture:
		return true
	}
	return false
}

// unfit names a lead in an item that would fit no socket of a thing in its place.
func unfit(r *rig.Rig, it *rig.Item, g *gear.Gear) string {
	for i := range r.Leads {
		l := &r.Leads[i]
		for _, ref := range []string{l.From, l.To} {
			if id, _ := rig.SplitRef(ref); id != it.ID {
				continue
			}
			_, p := r.Port(ref)
			if p != nil && !slices.ContainsFunc(g.Ports, func(q gear.Port) bool { return q.Replaces(p) }) {
				return lang.Text("has no %s for the lead that is in", FamilyName(p.Connector.Family()))
			}
		}
	}
	return ""
}

// KindName is a kind of thing as people say it.
func KindName(k gear.Kind) string {
	switch k {
	case gear.UPS:
		return "UPS"
	}
	return lang.Text(strings.ReplaceAll(string(k), "-", " "))
}

// said is a figure with its unit.
func said(v float64, unit string) string {
	n := strconv.FormatFloat(v, 'g', 4, 64)
	if unit == "" {
		return n
	}
	return n + " " + unit
}
