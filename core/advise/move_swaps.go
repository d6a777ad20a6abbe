// What a technician would do by putting another thing in the place of one: a stronger capture device, another of its
// kind.

package advise

import (
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/rig"
	"eventether/core/work"
)

func (u *universe) swaps(it *rig.Item) {
	u.ups(it)
	u.connect(it)
	if surely, _ := it.Gear.BusPowered(); it.Gear.Kind == gear.Hub && surely {
		u.poweredHub(it)
	}
	if it.Gear.Kind != gear.Capture {
		return
	}
	for i := range gear.StrongerCapture {
		sw := &gear.StrongerCapture[i]
		if sw.Gear.Name == it.Gear.Name {
			continue
		}
		m := move("swap", "swap:"+it.ID+":"+sw.Key, it.ID).
			slotted("swap:" + it.ID).
			taking(u.takes(work.Swap)).
			costing(u.money(sw.Price)).
			doing(rig.Edit{Do: "swap", Item: it.ID, Gear: &sw.Gear})
		if !sameShape(&it.Gear, &sw.Gear) {
			continue
		}
		m.say = func() (label, short string) {
			return lang.Text("Replace %s by a %s", it.Label, sw.Gear.Name),
				lang.Text("%s becomes a %s", it.Label, sw.Gear.Name)
		}
		u.add(m)
	}
}

// sameShape tells whether a capture device can stand in for another: one socket in and one plug of the same shapes.
func sameShape(a, b *gear.Gear) bool {
	if len(a.Ports) != len(b.Ports) {
		return false
	}
	for i := range a.Ports {
		p, q := &a.Ports[i], &b.Ports[i]
		if p.Direction != q.Direction || p.Connector.Family() != q.Connector.Family() {
			return false
		}
	}
	return true
}

// others offers every other thing of the same kind there is: typical ones, and the spec sheets of like things in the
// rig. What stands in StrongerCapture is offered already.
func (u *universe) others(id string) {
	it := u.Item(id)
	if it == nil {
		return
	}
	seen := map[string]bool{it.Gear.Name: true}
	for i := range u.out {
		if u.out[i].Kind == "swap" {
			seen[u.out[i].Edits[0].Gear.Name] = true
		}
	}
	offer := func(g *gear.Gear, key string, price *gear.Money) {
		if g.Kind != it.Gear.Kind || seen[g.Name] {
			return
		}
		seen[g.Name] = true
		m := move("swap", "swap:"+id+":"+key, id).
			slotted("swap:" + id).
			taking(u.takes(work.Swap)).
			costing(price).
			proposing(). // what it delivers is open again
			saying(func() (string, string) {
				return lang.Text("Replace %s by %s", it.Label, g.Name), lang.Text("%s becomes %s", it.Label, g.Name)
			}).
			doing(rig.Edit{Do: "swap", Item: id, Gear: g})
		if after, err := rig.Apply(u.Rig, m.Edits...); err == nil && len(rig.Check(after)) == 0 {
			u.add(m)
		}
	}
	for _, list := range [][]gear.Generic{gear.Sources, {gear.Stick, gear.SpareHub}, gear.Computers} {
		for i := range list {
			if list[i].Gear.Kind == gear.Computer && (list[i].Key == "slides") != (it.Role == "source") {
				continue // one takes the pictures, the other gives one
			}
			offer(&list[i].Gear, list[i].Key, nil)
		}
	}
	for i := range u.Items {
		if u.Items[i].IsHost() == it.IsHost() {
			offer(&u.Items[i].Gear, "like-"+u.Items[i].ID, u.Items[i].Price)
		}
	}
}
