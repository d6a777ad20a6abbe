package main

import (
	"os"
	"testing"

	"github.com/stretchr/testify/require"
)

// docs/texts.json is what the sources make.
func TestTextsAreCurrent(t *testing.T) {
	want, err := gather("../..")
	require.NoError(t, err)
	have, err := os.ReadFile("../../docs/texts.json")
	require.NoError(t, err)
	require.Equal(t, string(want), string(have), "run make generate")
	require.Contains(t, string(have), `"Does not hold."`)
	require.NotContains(t, string(have), "items/ID", "a path is no text")
}
