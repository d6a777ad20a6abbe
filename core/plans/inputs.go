package plans

import (
	"eventether/core/fact"
	"eventether/core/gear"
)

// InputsOf is how many microphones a thing takes while nobody has looked: an interface two as a rule, a desk a handful, a camera one
// [estimate].
var InputsOf = map[gear.Kind]fact.Fact{gear.AudioInterface: fact.Est(2, 1, 8), gear.Mixer: fact.Est(6, 2, 16), gear.Recorder: fact.Est(2, 1, 8),
	gear.Camera: fact.Est(1, 1, 2), gear.Switcher: fact.Est(2, 1, 4)}

// Plug is the input a way of sound goes into: of the first thing on its way that has some.
type Plug struct {
	Item   string `json:"item" doc:"Item id of the interface, desk, camera or other thing"`
	Number int    `json:"number" doc:"As it is printed there"`
	Said   bool   `json:"said" doc:"Somebody has said it; else the first that is free"`
	From   string `json:"-"` // what is plugged in
}

// GoesInto is the first thing on a way of sound that has inputs, and what goes into it; "" where there is none.
func (p *Plan) GoesInto(k int) (id, from string) {
	from = p.Sound.Paths[k].From
	for _, id := range p.Sound.Paths[k].Via {
		if it := p.Item(id); it != nil {
			if _, takes := InputsOf[it.Gear.Kind]; takes {
				return id, from
			}
		}
		from = id
	}
	return "", ""
}

// plugs gives every way its input: what is said, else the first that is free; what comes by one thing goes into one input.
func (p *Plan) plugs(ways []SoundWay) {
	taken := map[Plug]bool{}
	of := map[[2]string]int{}
	for k := range ways {
		id, from := p.GoesInto(k)
		if id == "" {
			continue
		}
		ways[k].Plug = &Plug{Item: id, From: from}
		if n := p.Sound.Paths[k].Input; n > 0 {
			ways[k].Plug.Number, ways[k].Plug.Said = n, true
			taken[Plug{Item: id, Number: n}], of[[2]string{id, from}] = true, n
		}
	}
	for k := range ways {
		plug := ways[k].Plug
		if plug == nil || plug.Said {
			continue
		}
		n := of[[2]string{plug.Item, plug.From}]
		for free := 1; n == 0; free++ {
			if !taken[Plug{Item: plug.Item, Number: free}] {
				n = free
			}
		}
		plug.Number = n
		taken[Plug{Item: plug.Item, Number: n}], of[[2]string{plug.Item, plug.From}] = true, n
	}
}
