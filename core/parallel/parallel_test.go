package parallel_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/parallel"
)

// Both go on until each has heard of the other: one after the other they would wait for ever.
func TestWorkGoesOnBesideItsCaller(t *testing.T) {
	here, there := make(chan int), make(chan int)
	wait := parallel.Do(func() { here <- 1; <-there })
	require.Equal(t, 1, <-here)
	there <- 1
	wait()
}

// What goes wrong beside its caller goes wrong for the caller, who can be asked to answer for it; nothing else ends.
func TestAPanicIsPassedOn(t *testing.T) {
	wait := parallel.Do(func() { panic("one rig") })
	require.PanicsWithValue(t, "one rig", wait)
	require.NotPanics(t, parallel.Do(func() {}))
}
