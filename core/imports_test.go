// Package core_test holds the test that keeps the house: the core imports nothing from the outside, and imports point
// down only.
package core_test

import (
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// floors lists the packages of the core from the ground up; each may import those before it.
var floors = []string{"parallel", "word", "fact", "picture", "hdmi", "sdi", "edid", "usb", "pcie", "power", "h264",
	"sound", "lang", "typed", "gear", "negotiate", "limit", "say", "look", "memory", "work", "rig", "rig/rigtest", "plans",
	"engine", "rules", "verdict", "place", "propose", "judge", "advise", "bench", "rigtext", "sheet", "inspect", "ladder", "view",
	"runsheet", "night", "costs"}

// worldly packages of the standard library do what the core must not: files, processes, network, clock, chance.
var worldly = []string{"os", "io/fs", "net", "time", "math/rand", "log", "database", "syscall", "flag", "embed",
	"runtime"}

func TestCoreImportsNothingFromTheOutside(t *testing.T) {
	floor := map[string]int{}
	for i, name := range floors {
		floor["eventether/core/"+name] = i
	}
	files := 0
	err := filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		files++
		f, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ImportsOnly)
		require.NoError(t, err)
		here, known := floor["eventether/core/"+filepath.Dir(path)]
		require.True(t, known, "%s: a new package of the core needs its floor named in this test", path)
		for _, im := range f.Imports {
			name := strings.Trim(im.Path.Value, `"`)
			if at, ours := floor[name]; ours {
				require.Less(t, at, here, "%s imports %s, which stands above it", path, name)
				continue
			}
			require.NotContains(t, name, ".", "%s imports %s from outside the standard library", path, name)
			require.False(t, strings.HasPrefix(name, "eventether/"), "%s imports %s", path, name)
			for _, w := range worldly {
				require.False(t, name == w || strings.HasPrefix(name, w+"/"), "%s imports %s", path, name)
			}
		}
		return nil
	})
	require.NoError(t, err)
	require.Greater(t, files, 20)
}
