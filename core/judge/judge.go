// Package judge answers: will the rig hold, and where is it weakest?
//
// A rig is completed first, every open choice made (core/propose), and then judged once as it then stands
// (core/verdict). What comes back is figures and ids; what they mean in words is asked for afterwards (core/view).
package judge

import (
	"eventether/core/propose"
	"eventether/core/rig"
	"eventether/core/verdict"
)

// Rig judges a rig that passes rig.Check: every choice nobody has made is proposed, and what comes of it is judged,
// every hop, every limit.
func Rig(r *rig.Rig) *verdict.Verdict {
	with, proposed := propose.Complete(r)
	v := verdict.As(with)
	v.Given, v.Proposed = r, proposed
	return v
}

// LookRig judges a rig as Rig does and hands the verdict to look, which must keep nothing of it. What was not judged is
// not listed.
func LookRig(r *rig.Rig, look func(*verdict.Verdict)) {
	with, proposed := propose.Complete(r)
	verdict.Look(with, func(v *verdict.Verdict) {
		v.Given, v.Proposed = r, proposed
		look(v)
	})
}
