package plans

import "eventether/core/rig"

// RecordingOf is what a recording is of.
func (p *Plan) RecordingOf(rec *rig.Recording) string {
	if it := p.Item(rec.What); it != nil {
		return it.Label
	}
	return rec.What
}
