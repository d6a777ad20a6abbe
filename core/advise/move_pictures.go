// What a technician would do with pictures: another size or rate at a source, another format from a capture device.

package advise

import (
	"strconv"

	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/work"
)

func (u *universe) modes(it *rig.Item) {
	if !it.IsSource() && it.Gear.Kind != gear.Switcher {
		return
	}
	for j := range it.Gear.Ports {
		port := &it.Gear.Ports[j]
		if port.Direction != gear.Out || !it.IsSource() && len(port.Modes) < 2 {
			continue
		}
		now, assumed := u.p.OutputMode(it, port)
		for _, mode := range port.Modes {
			if mode == now && !assumed || u.nobodySets(it, mode.Rate) {
				continue
			}
			m := move("mode", "mode:"+it.ID+"."+port.ID+":"+u.Mode(mode), it.ID).
				slotted("mode:" + it.ID + "." + port.ID).
				taking(u.takes(work.Mode)).
				doing(rig.Edit{Do: "mode", Item: it.ID, Port: port.ID, Mode: &mode})
			m.GivesUp, m.loss = u.loses(mode.Width, mode.Height, mode.Rate)
			if mode.Rate != u.Show.Programme.Rate { // of equal moves, the programme's own rate
				m.loss++
			}
			if mode.Width != now.Width { // and the size it has
				m.loss += 2
			}
			m.say = func() (label, short string) {
				return lang.Text("Set %s to %s", it.Label, plans.ModeText(&mode)),
					lang.Text("%s to %s", it.Label, mode.Name())
			}
			u.add(m)
		}
	}
}

// nobodySets tells of a rate a console, a player or a computer is not set to for a show that wants more: games and
// slides at 24 frames to fit a card.
func (u *universe) nobodySets(it *rig.Item, rate picture.Rate) bool {
	switch it.Gear.Kind {
	case gear.Console, gear.Player, gear.Computer:
		return rate.Nominal() < 29 && rate.Nominal() < u.Show.Programme.Rate.Nominal()
	}
	return false
}

// Mode is a mode as an id.
func (u *universe) Mode(m picture.Mode) string {
	return m.Name() + "/" + string(m.Chroma) + strconv.Itoa(m.Depth())
}

// loses says what a picture gives up against the programme, and how much for ordering.
func (u *universe) loses(w, h int, r picture.Rate) (string, int) {
	pr := u.Show.Programme
	switch {
	case w < pr.Width || h < pr.Height:
		return lang.Text("a picture smaller than the programme"), 1000 - h/10
	case !r.IsZero() && r.Nominal() < pr.Rate.Nominal():
		return lang.Text("fewer frames than the programme"), 500
	}
	return "", 0
}

func (u *universe) delivers(it *rig.Item) {
	if len(it.Gear.Delivers) < 2 {
		return
	}
	for j := range it.Gear.Ports {
		port := &it.Gear.Ports[j]
		if port.Direction != gear.Upstream {
			continue
		}
		var now rig.Deliver
		asked := false
		if it.Set != nil {
			now, asked = it.Set.Deliver[port.ID]
		}
		for _, d := range it.Gear.Delivers {
			if asked && d.Format == now.Format && (now.Width == 0 || d.Width == now.Width && d.Height == now.Height) {
				continue
			}
			m := move("deliver", "deliver:"+it.ID+"."+port.ID+":"+string(d.Format)+":"+picture.SizeName(d.Width,
				d.Height), it.ID).
				slotted("deliver:" + it.ID + "." + port.ID).
				taking(u.takes(work.Deliver)).
				doing(rig.Edit{Do: "deliver", Item: it.ID, Port: port.ID, Deliver: &rig.Deliver{Format: d.Format,
					Width: d.Width, Height: d.Height, Rate: now.Rate}})
			m.GivesUp, m.loss = u.loses(d.Width, d.Height, picture.Rate{})
			m.loss += 10 - d.Format.Richness()
			m.say = func() (label, short string) {
				return lang.Text("Take %s %s from %s", string(d.Format), picture.SizeName(d.Width, d.Height), it.Label),
					lang.Text("%s to %s", it.Label, string(d.Format))
			}
			u.add(m)
		}
	}
}
