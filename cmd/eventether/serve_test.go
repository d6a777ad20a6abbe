package main

import (
	"bufio"
	"io"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// A busy port is passed over for the next one.
func TestListenTakesTheNextPort(t *testing.T) {
	busy, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer busy.Close()
	_, text, err := net.SplitHostPort(busy.Addr().String())
	require.NoError(t, err)
	port, err := strconv.Atoi(text)
	require.NoError(t, err)
	l, err := listen(port)
	require.NoError(t, err)
	defer l.Close()
	require.Greater(t, l.Addr().(*net.TCPAddr).Port, port)
	require.True(t, l.Addr().(*net.TCPAddr).IP.IsLoopback())
}

// TestMain lets the tests start the application as a process of its own: this very binary, told so.
func TestMain(m *testing.M) {
	if os.Getenv("EVENTETHER_RUN") != "" {
		main()
		return
	}
	os.Exit(m.Run())
}

// However it is told to stop, in the middle of long work or by a terminal that hangs up, the application ends well and
// takes its database with it; what was kept is there again.
func TestStops(t *testing.T) {
	self, err := os.Executable()
	require.NoError(t, err)
	dir := filepath.Join(t.TempDir(), "db")
	for _, sig := range []syscall.Signal{syscall.SIGHUP, syscall.SIGTERM} {
		cmd := exec.Command(self, "serve", "--data", dir, "--port", "46170")
		cmd.Env = append(os.Environ(), "EVENTETHER_RUN=1")
		out, err := cmd.StdoutPipe()
		require.NoError(t, err)
		require.NoError(t, cmd.Start())
		lines := bufio.NewScanner(out)
		address := ""
		for address == "" && lines.Scan() {
			if _, rest, ok := strings.Cut(lines.Text(), "is at "); ok {
				address, _, _ = strings.Cut(rest, " ")
			}
		}
		require.NotEmpty(t, address)
		file, err := os.ReadFile(filepath.Join(dir, "data", "postmaster.pid"))
		require.NoError(t, err)
		first, _, _ := strings.Cut(string(file), "\n")
		database, err := strconv.Atoi(first)
		require.NoError(t, err)
		if sig == syscall.SIGTERM { // work for longer than it will be waited for: a request that does not end by itself
			r, w := io.Pipe()
			t.Cleanup(func() { w.Close() })
			go func() { // the answer is of no interest, only that it is under way
				res, err := http.Post(address+"/api/judge", "application/json", r)
				if err == nil {
					res.Body.Close()
				}
			}()
			_, err := w.Write([]byte(`{"format":"eventether-rig/1",` + strings.Repeat(" ",
				1<<20))) // taken: the request has begun
			require.NoError(t, err)
		}
		require.NoError(t, cmd.Process.Signal(sig))
		go func() { _, _ = io.Copy(io.Discard, out) }()
		require.NoError(t, cmd.Wait(), "%v: exit status 0", sig)
		require.ErrorIs(t, syscall.Kill(database, 0), syscall.ESRCH, "%v: the database ended with it", sig)
	}
}

// childrenOf are the processes a process has started and that still run, as /proc has them.
func childrenOf(pid int) (out []int) {
	stats, _ := filepath.Glob("/proc/[0-9]*/stat")
	for _, file := range stats {
		text, err := os.ReadFile(file)
		if err != nil {
			continue // it ended meanwhile
		}
		f := strings.Fields(string(text[strings.LastIndexByte(string(text), ')')+1:]))
		if len(f) > 1 && f[1] == strconv.Itoa(pid) && f[0] != "Z" {
			n, _ := strconv.Atoi(filepath.Base(filepath.Dir(file)))
			out = append(out, n)
		}
	}
	return out
}

// Measuring that is killed in the middle leaves no file behind and no child running.
func TestMeasuringKilled(t *testing.T) {
	self, err := os.Executable()
	require.NoError(t, err)
	for _, stage := range []string{"H.264 at fast", "writing"} {
		folder, tmp := t.TempDir(), t.TempDir()
		cmd := exec.Command(self, "measure", "--size", "128x72", "--seconds", "0.2", "--folder", folder)
		cmd.Env = append(os.Environ(), "EVENTETHER_RUN=1", "TMPDIR="+tmp)
		said, err := cmd.StderrPipe()
		require.NoError(t, err)
		require.NoError(t, cmd.Start())
		lines, there := bufio.NewScanner(said), false
		for !there && lines.Scan() {
			there = strings.Contains(lines.Text(), stage)
		}
		require.True(t, there, stage)
		children := childrenOf(cmd.Process.Pid)
		require.NoError(t, cmd.Process.Kill())
		_ = cmd.Wait() // it was killed
		require.Eventually(t, func() bool {
			for _, pid := range children {
				if syscall.Kill(pid, 0) == nil {
					return false
				}
			}
			return true
		}, 10*time.Second, 20*time.Millisecond, "%s: children still run", stage)
		for _, dir := range []string{folder, tmp} {
			left, err := os.ReadDir(dir)
			require.NoError(t, err)
			require.Empty(t, left, stage)
		}
	}
}
