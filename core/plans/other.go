package plans

import (
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/say"
)

// SlotName is a slot as people say it.
func SlotName(s *gear.Slot) string {
	words := lang.Text("generation %s, %s lanes", say.Number(float64(s.Generation)), say.Number(float64(s.Lanes)))
	if s.Lanes == 1 {
		words = lang.Text("generation %s, one lane", say.Number(float64(s.Generation)))
	}
	if s.Size > s.Lanes {
		words += lang.Text(" in a ×%s socket", say.Number(float64(s.Size)))
	}
	return words
}
