package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/spf13/cobra"
	"github.com/stretchr/testify/require"

	"eventether/core/edid"
	"eventether/internal/readers"
)

// command runs one command on standard input and gives its status, output and error text.
func command(t *testing.T, c *cobra.Command, input []byte, args ...string) (int, string, string) {
	t.Helper()
	var out bytes.Buffer
	c.SetIn(bytes.NewReader(input))
	c.SetOut(&out)
	c.SetArgs(args)
	c.SilenceErrors, c.SilenceUsage = true, true
	err := c.Execute()
	var e *exit
	if errors.As(err, &e) {
		return e.status, out.String(), e.Error()
	}
	require.NoError(t, err)
	return exitHolds, out.String(), ""
}

func TestEDIDCommand(t *testing.T) {
	good := edid.Sample(16)
	status, out, errs := command(t, edidCommand(), good, "-")
	require.Equal(t, exitHolds, status, errs)
	require.Contains(t, out, "TOT")
	require.Contains(t, out, "1920 × 1080")

	status, out, _ = command(t, edidCommand(), good, "-", "--json")
	require.Equal(t, exitHolds, status)
	var r map[string]any
	require.NoError(t, json.Unmarshal([]byte(out), &r))
	require.Equal(t, true, r["valid"])
	require.Nil(t, r["maxTmdsHz"], "null where the block does not say")
	require.Contains(t, r, "maxTmdsHz")
	mode := r["modes"].([]any)[0].(map[string]any)
	require.Equal(t, 60.0, mode["rateHz"])
	require.Equal(t, 148500000.0, mode["pixelClockHz"])
	require.Contains(t, mode, "vic")
	require.Equal(t, []any{}, r["unknownBlocks"])

	file := filepath.Join(t.TempDir(), "cut.bin")
	require.NoError(t, os.WriteFile(file, good[:90], 0o600))
	status, out, errs = command(t, edidCommand(), nil, file, "--json")
	require.Equal(t, exitUnusable, status)
	require.Contains(t, errs, "cut.bin: byte 90: cut off after 90 bytes")
	require.Contains(t, out, `"valid": false`)
	require.Contains(t, out, `"offset": 90`)
	status, out, _ = command(t, edidCommand(), good[:90], "-")
	require.Equal(t, exitUnusable, status)
	require.Contains(t, out, "PARTIAL")
	status, _, errs = command(t, edidCommand(), nil, file+".none")
	require.Equal(t, exitUnusable, status)
	require.Contains(t, errs, "cut.bin.none")
	status, _, errs = command(t, edidCommand(), make([]byte, 1<<20), "-")
	require.Equal(t, exitUnusable, status)
	require.Contains(t, errs, "standard input: more than")
}

func TestFormatsCommand(t *testing.T) {
	text := "\t[0]: 'NV12' (Y/CbCr 4:2:0)\n\t\tSize: Discrete 1920x1080\n\t\t\tInterval: Discrete 0.017s (59.940 fps)\n"
	status, out, _ := command(t, formatsCommand(), []byte(text), "-")
	require.Equal(t, exitHolds, status)
	require.Contains(t, out, "60000/1001")
	status, out, _ = command(t, formatsCommand(), []byte(text+"\t\tSize: Discrete 128"), "-", "--json")
	require.Equal(t, exitHolds, status)
	var l readers.Listing
	require.NoError(t, json.Unmarshal([]byte(out), &l))
	require.True(t, l.Incomplete)
	require.Equal(t, "standard input", l.Problems[0].File)
	require.Equal(t, 4, l.Problems[0].Line)
	_, out, _ = command(t, formatsCommand(), []byte(text+"\t\tSize: Discrete 128"), "-")
	require.Contains(t, out, "PARTIAL")
	status, _, errs := command(t, formatsCommand(), []byte("hello\n"), "-")
	require.Equal(t, exitUnusable, status)
	require.Contains(t, errs, "standard input: line 1")
}

func TestSchemas(t *testing.T) {
	for _, name := range []string{"rig", "shelf", "sheet", "runsheet", "measure"} {
		status, out, _ := command(t, schemaCommand(), nil, name)
		require.Equal(t, exitHolds, status)
		require.True(t, strings.Contains(out, "eventether-"+name+"-1.schema.json"))
	}
}
