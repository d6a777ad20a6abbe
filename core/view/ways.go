package view

import (
	"fmt"
	"strings"

	"eventether/core/advise"
	"eventether/core/engine"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/say"
	"eventether/core/verdict"
)

// Way is one way a camera's picture can take into the computer, judged in the rig as it stands.
type Way struct {
	Kind     string      `json:"kind" enum:"usb,capture"`
	Title    string      `json:"title"`
	Now      bool        `json:"now" doc:"It is connected so"`
	Possible bool        `json:"possible"`
	Why      string      `json:"why,omitempty" doc:"Why it is not possible"`
	State    limit.State `json:"state,omitempty" enum:"slack,taut,kinked,untested,snapped" doc:"Of this feed"`
	Rig      limit.State `json:"rig,omitempty" enum:"slack,taut,kinked,untested,snapped" doc:"Of the whole rig"`
	Picture  string      `json:"picture,omitempty" doc:"What the program gets"`
	Movement string      `json:"movement,omitempty"`
	Bus      string      `json:"bus,omitempty" doc:"Share of its connection"`
	Weakest  string      `json:"weakest,omitempty"`
	Minutes  float64     `json:"minutes"`
	Cost     *gear.Money `json:"cost,omitempty"`
	Gives    []string    `json:"gives"`
	GivesUp  []string    `json:"givesUp"`
	Edits    []rig.Edit  `json:"edits"`
}

// Ways compares taking a camera's picture by its own USB with taking it through a capture device.
func Ways(r *rig.Rig, id string) ([]Way, error) {
	it := r.Item(id)
	if it == nil {
		return nil, fmt.Errorf("item %q: not in this rig", id)
	}
	if !it.Gear.Kind.Shoots() {
		return nil, fmt.Errorf("item %q: is a %s; only a source can come in by USB or by capture", id, it.Gear.Kind)
	}
	c := &comparison{r: r, it: it}
	return []Way{c.byUSB(), c.byCapture()}, nil
}

type comparison struct {
	r  *rig.Rig
	it *rig.Item
}

// along fills a way in with its route, and with what the rig makes of it.
func (c *comparison) along(w Way, route advise.Route) Way {
	if w.Now, w.Why, w.Minutes = route.Now, route.Why, route.Minutes; w.Why != "" {
		return w
	}
	if route.Edits != nil {
		w.Edits = route.Edits
	}
	if route.Cost > 0 {
		w.Cost = advise.Price(c.r, route.Cost)
	}
	return c.judged(w)
}

func (c *comparison) byUSB() Way {
	w := Way{Kind: "usb", Title: lang.Text("By its own USB"), Edits: []rig.Edit{},
		Gives: []string{lang.Text("one cable, with power and sound over it"), lang.Text("no capture device to buy"),
			lang.Text("listed under its own name")},
		GivesUp: []string{lang.Text("often only 720p or 1080p at 30"),
			lang.Text("a charge-only or USB 2 cable limits it"), lang.Text("its menus lock other functions out")}}
	if c.it.Gear.USBWay == "remote" {
		w.Gives = []string{lang.Text("a larger picture than a webcam mode on some cameras"),
			lang.Text("a virtual camera several programs can share")}
		w.GivesUp = []string{lang.Text("software to install, and perhaps to pay"),
			lang.Text("a driver that may come only at the first connection"), lang.Text("listed cameras only")}
	}
	return c.along(w, advise.ByUSB(c.r, c.it))
}

func (c *comparison) byCapture() Way {
	w := Way{Kind: "capture", Title: lang.Text("Through a capture device"), Edits: []rig.Edit{},
		Gives: []string{lang.Text("full size and rate"), lang.Text("long runs, and steadier"),
			lang.Text("its USB socket stays free for power")},
		GivesUp: []string{lang.Text("a capture device and the right lead"),
			lang.Text("continuous power for the camera")}}
	return c.along(w, advise.ByCapture(c.r, c.it))
}

// judged fills in what the rig makes of a way.
func (c *comparison) judged(w Way) Way {
	after, err := rig.Apply(c.r, w.Edits...)
	if err == nil {
		if bad := rig.Check(after); len(bad) > 0 {
			err = fmt.Errorf("%s", bad[0])
		}
	}
	if err != nil {
		w.Why = err.Error()
		return w
	}
	v := judge.Rig(after)
	w.Possible, w.Rig = true, v.State
	for _, f := range v.FeedsThat(false) {
		if f.Source.ID != c.it.ID {
			continue
		}
		w.State = v.FeedState(f)
		worst := (*engine.Result)(nil)
		for i := range f.Hops {
			h := &f.Hops[i]
			label, detail := v.HopWords(h)
			switch h.Stage {
			case plans.Capture:
				w.Picture = detail
			case plans.Picture:
				w.Movement = label
			}
			for _, at := range h.Results {
				l := &v.Results[at]
				if l.ID.Rule == rules.Link && verdict.ShowsRoom(l) {
					w.Bus = say.Percent(l.Ratio)
				}
				if l.State != limit.Slack && (worst == nil || l.State.Severity() > worst.State.Severity()) {
					worst = l
				}
			}
		}
		if worst != nil {
			w.Weakest = v.Word(worst).Says
		}
	}
	if d := c.it.Gear.Driver; w.Kind == "usb" && (d == "driver" || d == "software") &&
		!strings.Contains(strings.Join(w.GivesUp, " "), "install") {
		w.GivesUp = append(w.GivesUp, "a "+d+lang.Text(" to install"))
	}
	return w
}
