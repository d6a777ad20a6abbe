package propose

import (
	"slices"

	"eventether/core/place"
	"eventether/core/rig"
	"eventether/core/verdict"
)

// socketEffort is how many steps choosing sockets may take: some milliseconds' worth.
const socketEffort = 40_000

// sockets proposes a socket for every plug of which nobody has said where it goes (rig.Lead.AnySocket): together, by
// the order, at worst where that can be had, else as likely. Where that breaks more than leaving the
// plugs where they stand, they are left there.
func sockets(r *rig.Rig) (choices []verdict.Proposal, proven bool, tried int) {
	open := false
	for i := range r.Leads {
		open = open || r.Leads[i].AnySocket
	}
	if !open {
		return nil, true, 0
	}
	var s *place.Setting
	var best *place.Placing
	for _, worst := range []bool{true, false} {
		s = place.Of(r, worst)
		s.Hold(func(l *rig.Lead) bool { return !l.AnySocket })
		if best, proven = place.Solve(&s.Problem, place.Options{Effort: socketEffort}); best != nil {
			break
		}
	}
	put := func(p *place.Placing) (out []verdict.Proposal) {
		for _, plug := range s.Plugs(p) {
			if r.Leads[plug.Lead].AnySocket {
				out = append(out, verdict.Proposal{Kind: verdict.ProposeSocket, Of: r.Items[plug.Item].ID,
					Port: r.Items[plug.Item].Gear.Ports[plug.Port].ID, Edit: plug.Edit})
			}
		}
		return out
	}
	stay := put(nil)
	if best == nil {
		return stay, proven, 0
	}
	breaks := func(choices []verdict.Proposal) (snapped, untested int) {
		tried++
		after, err := rig.Apply(r, (&verdict.Proposed{Choices: choices}).Edits()...)
		if err != nil || len(rig.Check(after)) > 0 {
			return 1 << 20, 0
		}
		verdict.Look(after, func(v *verdict.Verdict) { snapped, untested = v.Breaks() })
		return snapped, untested
	}
	placed := put(best)
	if slices.EqualFunc(placed, stay, func(a, b verdict.Proposal) bool {
		return a.Edit.Lead == b.Edit.Lead && a.Edit.End == b.Edit.End && a.Edit.Socket == b.Edit.Socket
	}) {
		return placed, proven, tried
	}
	was, unsure := breaks(stay)
	if is, now := breaks(placed); is < was || is == was && now <= unsure {
		return placed, proven, tried
	}
	return stay, false, tried
}
