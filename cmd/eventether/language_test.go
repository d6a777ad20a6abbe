package main

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/lang"
	"eventether/internal/demo/rigs"
)

// A file of texts changes what every command says; a file that is none is named, with what is wrong with it.
func TestSpeak(t *testing.T) {
	defer lang.Use(nil)
	file := filepath.Join(t.TempDir(), "de.json")
	write := func(s string) { require.NoError(t, os.WriteFile(file, []byte(s), 0o600)) }
	write(`{"Holds after ": "Hält nach ", "\nTethers\n": "\nLeinen\n", "snapped": "gerissen"}`)
	require.NoError(t, speak(file))
	_, out, _ := run(t, text(t, rigs.Loft()), "-")
	require.Contains(t, out, "Leinen")
	require.Contains(t, out, "gerissen")
	require.NotContains(t, out, "Tethers")

	write(`{"%s of %s": "%s"}`)
	require.ErrorContains(t, speak(file), "de.json: the text for")
	write("hello")
	require.ErrorContains(t, speak(file), "de.json: a language is a JSON object of texts")
	require.ErrorContains(t, speak(file+".gone"), "de.json.gone")
}
