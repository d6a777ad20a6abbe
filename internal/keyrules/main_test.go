package main

import (
	"os"
	"testing"

	"github.com/stretchr/testify/require"
)

// What the browser reads is what the core has.
func TestRulesAreCurrent(t *testing.T) {
	kept, err := os.ReadFile("../../web/src/night/keyRules.json")
	require.NoError(t, err)
	require.True(t, string(kept) == string(rules()),
		"web/src/night/keyRules.json is not what core/night says: run make generate")
}

func TestPatternsForTheBrowser(t *testing.T) {
	for source, want := range map[string]pattern{
		`(?i)a\s*[^\s"]+`: {`a[\t\n\f\r ]*[^\t\n\f\r "]+`, "i"},
		`\b[\]\s]\.\s`:    {`\b[\]\t\n\f\r ]\.[\t\n\f\r ]`, ""},
		`x`:               {`x`, ""},
	} {
		require.Equal(t, want, forBrowser(source), source)
	}
}
