package rules

import "eventether/core/engine"

// What a rule is written in, by the names it has in core/engine.
type (
	Pass      = engine.Pass
	Walk      = engine.Walk
	Result    = engine.Result
	ID        = engine.ID
	Rule      = engine.Rule
	Judging   = engine.Judging
	Short     = engine.Short
	Words     = engine.Words
	LoadWords = engine.LoadWords
	FactWords = engine.FactWords
)

// The moments rules are called at.
const (
	AtSource      = engine.AtSource
	AtOutput      = engine.AtOutput
	AtLink        = engine.AtLink
	AtPictureLead = engine.AtPictureLead
	AtHDMILead    = engine.AtHDMILead
	AtCoax        = engine.AtCoax
	AtPictureIn   = engine.AtPictureIn
	AtBox         = engine.AtBox
	AtBoxOut      = engine.AtBoxOut
	AtCapture     = engine.AtCapture
	AtUSBLead     = engine.AtUSBLead
	AtUSBPort     = engine.AtUSBPort
	AtEnd         = engine.AtEnd
	AtProgramme   = engine.AtProgramme
	AfterWays     = engine.AfterWays
	OnRig         = engine.OnRig
)

// The subjects rules belong to.
const (
	TheShow  = engine.TheShow
	TheLead  = engine.TheLead
	TheBus   = engine.TheBus
	ThePower = engine.ThePower
	TheSend  = engine.TheSend
	TheSound = engine.TheSound
	Failing  = engine.Failing
)

// labelled is what a load is called, and the sum behind it.
func labelled(label, sum string) LoadWords { return LoadWords{Label: label, Sum: sum} }
