package core_test

import (
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// A document that names a file or folder of this tree names one there is.
func TestDocumentsNameWhatIsThere(t *testing.T) {
	path := regexp.MustCompile("`((?:cmd|core|docs|internal|scripts|web)/[A-Za-z0-9_./-]+)`")
	named := 0
	for _, pattern := range []string{"../*.md", "../docs/*.md", "../docs/*/*.md"} {
		files, err := filepath.Glob(pattern)
		require.NoError(t, err)
		for _, file := range files {
			if strings.HasSuffix(file, "CHANGELOG.md") {
				continue // what was there once
			}
			text, err := os.ReadFile(file)
			require.NoError(t, err)
			for _, m := range path.FindAllSubmatch(text, -1) {
				named++
				_, err := os.Stat("../" + strings.TrimRight(string(m[1]), "/."))
				require.NoError(t, err, "%s names %s", file, m[1])
			}
		}
	}
	require.Greater(t, named, 100)
}
