package memory

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// Places that differ in one letter, or in length, fall on slots of their own: few share the first they are looked for
// at.
func TestHashesDiffer(t *testing.T) {
	seen, places := map[uint64]string{}, 0
	try := func(place string) {
		if was, ok := seen[HashOf(7, place)]; ok {
			t.Errorf("%q and %q have one hash", was, place)
		}
		seen[HashOf(7, place)] = place
		places++
	}
	for n := range 24 {
		base := []byte("camera-on-the-stage-left")[:n]
		try(string(base))
		for at := range base {
			for _, c := range "abcxyz019" {
				if changed := []byte(string(base)); changed[at] != byte(c) {
					changed[at] = byte(c)
					try(string(changed))
				}
			}
		}
	}
	require.Greater(t, places, 2000)
	require.NotEqual(t, HashOf(1, "cam"), HashOf(2, "cam"))
}
