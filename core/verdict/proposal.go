package verdict

import "eventether/core/rig"

// ProposalKind is what a proposal chooses.
type ProposalKind string

// ProposeMode: the picture a source sends. ProposeDeliver: the picture the program takes from a device. ProposePower:
// what a camera runs on. ProposeBitrate: the video bitrate to a destination. ProposeSocket: the socket a device's plug
// goes into. ProposeCall: that a call that takes the pictures is counted as one.
const (
	ProposeMode    ProposalKind = "mode"
	ProposeDeliver ProposalKind = "deliver"
	ProposePower   ProposalKind = "power"
	ProposeBitrate ProposalKind = "bitrate"
	ProposeSocket  ProposalKind = "socket"
	ProposeCall    ProposalKind = "call"
)

// Proposal is a choice nobody has made, with the best there is: the rig is judged
// as if it were made.
type Proposal struct {
	Kind ProposalKind
	Of   string // the item, or the destination's name
	Port string // of the item
	Edit rig.Edit
}

// Proposed are the proposals for a rig.
type Proposed struct {
	Choices []Proposal
	// Proven: no other choices come out better. Tried is how many were judged to find that.
	Proven bool
	Tried  int
}

// Edits are all proposals as one change.
func (p *Proposed) Edits() []rig.Edit {
	out := make([]rig.Edit, len(p.Choices))
	for i := range p.Choices {
		out[i] = p.Choices[i].Edit
	}
	return out
}
