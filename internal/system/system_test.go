package system

import (
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Room is what df says, but for what is written meanwhile.
func TestRoom(t *testing.T) {
	folder := t.TempDir()
	size, free, err := Room(folder)
	require.NoError(t, err)
	out, err := exec.Command("df", "--block-size=1", "--output=size,avail", folder).Output()
	require.NoError(t, err)
	said := strings.Fields(strings.Split(string(out), "\n")[1])
	want, err := strconv.ParseFloat(said[0], 64)
	require.NoError(t, err)
	assert.InDelta(t, want, float64(size), 1)
	want, err = strconv.ParseFloat(said[1], 64)
	require.NoError(t, err)
	assert.InEpsilon(t, want, float64(free), 0.05)
	_, _, err = Room(filepath.Join(folder, "none"))
	require.ErrorContains(t, err, "none")
}
