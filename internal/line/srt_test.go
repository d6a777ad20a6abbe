//go:build linux && (amd64 || arm64)

package line

import (
	"fmt"
	"net"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"reflect"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The numbers of options and the figures of the statistics are those of Debian's header: names, order, sizes.
func TestSRTAgainstItsHeader(t *testing.T) {
	raw, err := os.ReadFile("/usr/include/srt/srt.h")
	if err != nil {
		t.Skip("no header of SRT here")
	}
	text := string(raw)
	next, known := 0, map[string]int{}
	for _, m := range regexp.MustCompile(`(?m)^\s+(SRTO_\w+)(?:\s*=\s*(\d+))?,`).FindAllStringSubmatch(text, -1) {
		if m[2] != "" {
			next, _ = strconv.Atoi(m[2])
		}
		if _, there := known[m[1]]; !there {
			known[m[1]] = next
		}
		next++
	}
	for name, is := range map[string]int{"SRTO_SNDSYN": srtoSndSyn, "SRTO_SNDTIMEO": srtoSndTimeout, "SRTO_LATENCY": srtoLatency, "SRTO_PASSPHRASE": srtoPassphrase,
		"SRTO_CONNTIMEO": srtoConnectTimeout, "SRTO_STREAMID": srtoStreamID, "SRTO_PAYLOADSIZE": srtoPayloadSize} {
		assert.Equal(t, known[name], is, name)
	}
	body := text[strings.Index(text, "struct CBytePerfMon\n"):]
	body = body[:strings.Index(body, "\n};")]
	kinds := map[string]reflect.Kind{"int64_t": reflect.Int64, "uint64_t": reflect.Uint64, "int": reflect.Int32, "double": reflect.Float64}
	of := reflect.TypeFor[srtStats]()
	fields := regexp.MustCompile(`(?m)^\s+(int64_t|uint64_t|int|double)\s+(\w+);`).FindAllStringSubmatch(body, -1)
	require.Equal(t, of.NumField()-1, len(fields))
	for i, m := range fields {
		f := of.Field(i)
		assert.Equal(t, strings.ToLower(m[2]), strings.ToLower(f.Name))
		assert.Equal(t, kinds[m[1]], f.Type.Kind(), f.Name)
	}
}

// listener is ffmpeg that takes a stream by SRT and keeps it.
func listener(t *testing.T, more string) (port int, file string) {
	t.Helper()
	c, err := net.ListenPacket("udp", "127.0.0.1:0")
	require.NoError(t, err)
	port = c.LocalAddr().(*net.UDPAddr).Port
	require.NoError(t, c.Close())
	file = filepath.Join(t.TempDir(), "came.ts")
	cmd := exec.Command("ffmpeg", "-v", "error", "-nostdin", "-i", fmt.Sprintf("srt://127.0.0.1:%d?mode=listener%s", port, more), "-c", "copy", file)
	require.NoError(t, cmd.Start())
	t.Cleanup(func() { _ = cmd.Process.Kill(); _ = cmd.Wait() })
	return port, file
}

// By SRT to a listener of ffmpeg: all of it arrives, and what stands in the file is the film; with another pass phrase it is
// refused, and neither that nor the key is in the error, nor in a list of processes.
func TestTryBySRT(t *testing.T) {
	needsFFmpeg(t)
	if _, err := srtLibrary(); err != nil {
		t.Skip(err)
	}
	port, file := listener(t, "&passphrase=a-phrase-of-one-try")
	f, err := testFilm(t.Context(), 2000-audioKbps)
	require.NoError(t, err)
	address := fmt.Sprintf("srt://127.0.0.1:%d?latency=200&passphrase=", port)
	_, err = doSRT(t.Context(), Try{Address: address + "another-phrase-here", Key: "live_secret-key-42", Kbps: 2000, Seconds: 3}, f, true, quiet)
	require.Error(t, err)
	assert.Contains(t, err.Error(), "does not take the stream")
	assert.NotContains(t, err.Error(), "another-phrase")
	assert.NotContains(t, err.Error(), "secret")
	steps := 0
	out, err := doSRT(t.Context(), Try{Address: address + "a-phrase-of-one-try", Key: "live_secret-key-42", Kbps: 2000, Seconds: 4}, f, true, func(s Step) {
		steps++
		if steps == 2 {
			all, err := os.ReadFile("/proc/self/cmdline")
			assert.NoError(t, err)
			assert.NotContains(t, string(all), "secret")
		}
	})
	require.NoError(t, err)
	assert.Empty(t, out.Closed)
	assert.False(t, out.Filled, "%+v", out)
	assert.True(t, out.Counted)
	assert.InDelta(t, out.Wanted, out.Mbps, 0.35, "%+v", out)
	assert.Greater(t, steps, 3)
	assert.Less(t, out.RTTms, 300.0)
	require.Eventually(t, func() bool {
		st, err := os.Stat(file)
		return err == nil && float64(st.Size())*8/1e6 > out.Wanted*2.5
	}, 30*time.Second, 50*time.Millisecond, "the film has arrived")
	_, err = doSRT(t.Context(), Try{Address: fmt.Sprintf("srt://127.0.0.1:%d", port), Kbps: 2000, Seconds: 2}, f, false, quiet)
	require.ErrorIs(t, err, errOwn)
}

// What an address by SRT may say, and what is said of one that may not; nothing secret in it.
func TestSRTAddresses(t *testing.T) {
	for address, says := range map[string]string{
		"srt://ingest.example:9000":                                      "",
		"srt://ingest.example:9000?streamid=x&latency=500":               "",
		"srt://ingest.example:9000?mode=caller&passphrase=0123456789":    "",
		"srt://ingest.example":                                           "names no port",
		"srt://ingest.example:9000?mode=listener":                        "no caller's",
		"srt://ingest.example:9000?latency=5":                            "want 20 to 8000",
		"srt://ingest.example:9000?pkt_size=1316&passphrase=hush-hush-1": "pkt_size",
		"srt://:9000": "names no host",
	} {
		err := (&Try{Address: address, Kbps: 2000, Seconds: 10}).Check()
		if says == "" {
			assert.NoError(t, err, address)
			continue
		}
		require.ErrorContains(t, err, says, address)
		u, _ := url.Parse(address)
		if p := u.Query().Get("passphrase"); p != "" {
			assert.NotContains(t, err.Error(), p)
		}
	}
}
