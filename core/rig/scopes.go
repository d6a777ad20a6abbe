package rig

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"eventether/core/gear"
)

// scope is which things of a rig fields belong to: one row says how their paths begin, where such things stand, and how
// a document writes it. Finding a field, visiting every place it can stand in and naming it in a problem come from its
// row.
type scope struct {
	prefix string // how the paths of its fields begin
	// each visits every such thing of a rig, for reading.
	each func(s *spot, do func(of, sub string))
	// find fills in a spot from the ids of a path.
	find func(s *spot, of, sub string) error
	// in is where such a thing stands in a document, up to its fields: show.destinations[0] "page".send.
	in func(s *spot, of, sub string) string
	// within is how the path of a field goes on behind what in has said already.
	within string
}

// scopes are all of them; the first whose prefix fits counts.
var scopes = []scope{
	listed("show/destinations/", "destination", func(r *Rig) int { return len(r.Show.Destinations) },
		func(s *spot) string {
			return fmt.Sprintf("show.destinations[%d] %q.send.", s.n, s.r.Show.Destinations[s.n].Name)
		}),
	listed("show/recordings/", "recording", func(r *Rig) int { return len(r.Show.Recordings) },
		func(s *spot) string { return fmt.Sprintf("show.recordings[%d].", s.n) }),
	listed("sound/paths/", "way of sound", func(r *Rig) int {
		if r.Sound == nil {
			return 0
		}
		return len(r.Sound.Paths)
	}, func(s *spot) string { return fmt.Sprintf("sound.paths[%d].", s.n) }),
	once("sound/", func(r *Rig) bool { return r.Sound != nil }),
	calls(),
	once("show/", func(*Rig) bool { return true }),
	once("uplink/", func(r *Rig) bool { return r.Uplink != nil }),
	leads(),
	parts("items/ID/ports/", "PORT", func(g *gear.Gear) []string {
		return idsOf(g.Ports, func(p *gear.Port) string { return p.ID })
	},
		func(s *spot, sub string) error {
			return fmt.Errorf("%q has no port %q; it has %s", s.it.ID, sub, portList(&s.it.Gear))
		}, func(s *spot, sub string) string { return fmt.Sprintf("ports[%d] %q.", s.n, sub) }),
	numbered("items/ID/delivers/", "delivers", "delivered picture", func(g *gear.Gear) int { return len(g.Delivers) },
		0),
	parts("items/ID/controllers/", "CONTROLLER", func(g *gear.Gear) []string {
		return idsOf(g.Controllers, func(c *gear.Controller) string { return c.ID })
	}, func(s *spot, sub string) error { return fmt.Errorf("%q has no controller %q", s.it.ID, sub) },
		func(s *spot, sub string) string { return fmt.Sprintf("controllers[%d] %q.", s.n, sub) }),
	numbered("items/ID/heatLimits/", "heatLimits", "heat limit", func(g *gear.Gear) int { return len(g.HeatLimits) },
		1),
	parts("items/ID/settings/", "", settingIDs, noSetting, nil),
	parts("items/ID/set/settings/", "", settingIDs, noSetting, nil), // how an item is set, for one of its settings
	of("items/ID/power/battery/", func(s *spot) bool {
		return s.it.Gear.Power != nil && s.it.Gear.Power.Battery != nil
	}, func(s *spot) error {
		switch g := &s.it.Gear; {
		case g.Power != nil && g.Power.Battery != nil, g.Kind == gear.Camera, g.Kind == gear.Phone,
			g.Kind == gear.PowerBank:
			return nil
		}
		return fmt.Errorf("%q is a %s, which has no battery of its own", s.it.ID, s.it.Gear.Kind)
	}),
	of("items/ID/computes/", isComputer, needsComputer),
	of("items/ID/class", isComputer, needsComputer),
	of("items/", func(*spot) bool { return true }, func(*spot) error { return nil }),
}

// scopeOf is the scope of a path.
func scopeOf(path string) *scope {
	return &scopes[slices.IndexFunc(scopes, func(s scope) bool { return strings.HasPrefix(path, s.prefix) })]
}

// once is what a rig has one of.
func once(prefix string, has func(*Rig) bool) scope {
	return scope{
		prefix: prefix,
		each: func(s *spot, do func(of, sub string)) {
			if has(s.r) {
				do("", "")
			}
		},
		find: func(*spot, string, string) error { return nil },
		in:   func(*spot, string, string) string { return "" },
	}
}

// listed is what a rig has a list of, told apart by their places.
func listed(prefix, what string, count func(*Rig) int, in func(s *spot) string) scope {
	return scope{
		prefix: prefix, within: prefix + "N/",
		each: func(s *spot, do func(of, sub string)) { s.count(count(s.r), "", strconv.Itoa, do) },
		find: func(s *spot, _, sub string) error {
			if prefix == "sound/paths/" && s.r.Sound == nil {
				return errNowhere
			}
			return place(s, sub, count(s.r), what)
		},
		in: func(s *spot, _, _ string) string { return in(s) },
	}
}

// calls are listed; the one that is proposed can be written to as well.
func calls() scope {
	c := listed("show/calls/", "call", func(r *Rig) int { return len(r.Show.Calls) },
		func(s *spot) string { return fmt.Sprintf("show.calls[%d].", s.n) })
	find := c.find
	c.find = func(s *spot, of, sub string) error {
		if s.write && sub == "0" && s.r.Show.Program.Kind == "call" && len(s.r.Show.Calls) == 0 {
			s.r.Show.Calls = []Call{{Name: s.r.Show.Program.Name, Persons: 1}}
		}
		return find(s, of, sub)
	}
	return c
}

func leads() scope {
	return scope{
		prefix: "leads/", within: "leads/ID/",
		each: func(s *spot, do func(of, sub string)) {
			for i := range s.r.Leads {
				s.lead = &s.r.Leads[i]
				do(s.lead.ID, "")
			}
		},
		find: func(s *spot, of, _ string) error {
			if s.lead = s.r.Lead(of); s.lead == nil {
				return fmt.Errorf("lead %q: not in this rig", of)
			}
			return nil
		},
		in: func(s *spot, of, _ string) string {
			return fmt.Sprintf("leads[%d] %q.", slices.IndexFunc(s.r.Leads, func(l Lead) bool {
				return l.ID == s.lead.ID
			}), of)
		},
	}
}

// of is an item, where it is one that has such a thing; may tells whether it can be said of it.
func of(prefix string, has func(*spot) bool, may func(*spot) error) scope {
	return scope{
		prefix: prefix, within: "items/ID/",
		each: func(s *spot, do func(of, sub string)) {
			s.items(func(of string) {
				if has(s) {
					do(of, "")
				}
			})
		},
		find: func(s *spot, of, _ string) error {
			if err := s.item(of); err != nil {
				return err
			}
			return may(s)
		},
		in: func(s *spot, of, _ string) string { return s.inItem(of) },
	}
}

// numbered is what an item has a list of, told apart by their places; so many behind the last may be said.
func numbered(prefix, field, what string, count func(*gear.Gear) int, more int) scope {
	return scope{
		prefix: prefix, within: prefix + "N/",
		each: func(s *spot, do func(of, sub string)) {
			s.items(func(of string) { s.count(count(&s.it.Gear), of, strconv.Itoa, do) })
		},
		find: func(s *spot, of, sub string) error {
			if err := s.item(of); err != nil {
				return err
			}
			return place(s, sub, count(&s.it.Gear)+more, what)
		},
		in: func(s *spot, of, _ string) string { return s.inItem(of) + fmt.Sprintf("%s[%d].", field, s.n) },
	}
}

// parts are what an item has a list of, told apart by ids. Where in says nothing of them, a document has them in their
// item.
func parts(prefix, id string, ids func(*gear.Gear) []string, none func(s *spot, sub string) error,
	in func(s *spot, sub string) string) scope {
	p := scope{
		prefix: prefix, within: "items/ID/",
		each: func(s *spot, do func(of, sub string)) {
			s.items(func(of string) {
				all := ids(&s.it.Gear)
				s.count(len(all), of, func(j int) string { return all[j] }, do)
			})
		},
		find: func(s *spot, of, sub string) error {
			if err := s.item(of); err != nil {
				return err
			}
			if s.n = slices.Index(ids(&s.it.Gear), sub); s.n < 0 {
				return none(s, sub)
			}
			return nil
		},
		in: func(s *spot, of, _ string) string { return s.inItem(of) },
	}
	if in != nil {
		p.within = prefix + id + "/"
		p.in = func(s *spot, of, sub string) string { return s.inItem(of) + in(s, sub) }
	}
	return p
}

func idsOf[T any](list []T, id func(*T) string) []string {
	out := make([]string, len(list))
	for i := range list {
		out[i] = id(&list[i])
	}
	return out
}

func settingIDs(g *gear.Gear) []string {
	return idsOf(g.Settings, func(s *gear.Setting) string { return s.ID })
}

func noSetting(s *spot, sub string) error { return fmt.Errorf("%q has no setting %q", s.it.ID, sub) }

func isComputer(s *spot) bool { return s.it.Gear.Kind == gear.Computer }

func needsComputer(s *spot) error {
	if !isComputer(s) {
		return fmt.Errorf("%q is a %s, not a computer", s.it.ID, s.it.Gear.Kind)
	}
	return nil
}

// count visits so many things that are told apart by an id.
func (s *spot) count(n int, of string, id func(int) string, do func(of, sub string)) {
	for j := range n {
		s.n, s.id = j, id(j)
		do(of, s.id)
	}
}

// items visits every item.
func (s *spot) items(do func(of string)) {
	for i := range s.r.Items {
		s.it = &s.r.Items[i]
		do(s.it.ID)
	}
}

// item finds the item of an id.
func (s *spot) item(id string) error {
	if s.it = s.r.Item(id); s.it == nil {
		return noItem(id)
	}
	return nil
}

// inItem is where an item's sheet stands in a document.
func (s *spot) inItem(of string) string {
	return fmt.Sprintf("items[%d] %q.gear.", slices.IndexFunc(s.r.Items, func(it Item) bool {
		return it.ID == s.it.ID
	}), of)
}

func place(s *spot, sub string, n int, what string) (err error) {
	if s.n, err = strconv.Atoi(sub); err != nil || s.n < 0 || s.n >= n {
		return fmt.Errorf("no such %s", what)
	}
	return nil
}
