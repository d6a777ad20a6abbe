package postgres

import (
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"

	"github.com/stretchr/testify/require"
)

func made(t *testing.T) string {
	t.Helper()
	dir := t.TempDir()
	require.NoError(t, start(t, dir).Stop())
	return dir
}

// bare is a cluster with what is needed to run its programs.
func bare(t *testing.T, dir string) *Cluster {
	t.Helper()
	bin, err := findBin()
	require.NoError(t, err)
	cred, err := serverUser(dir)
	require.NoError(t, err)
	return &Cluster{dir: dir, bin: bin, cred: cred}
}

func pidIn(t *testing.T, dir string) int {
	t.Helper()
	var pid int
	require.Eventually(t, func() bool {
		text, err := os.ReadFile(filepath.Join(dir, "data", "postmaster.pid"))
		first, _, _ := strings.Cut(string(text), "\n")
		pid, _ = strconv.Atoi(first)
		return err == nil && pid > 0 && strings.Contains(string(text), "ready")
	}, answerTime, tickTime)
	return pid
}

// A server that was killed stays a zombie where nobody waits for it; the next start takes the folder all the same.
func TestStartBesideAZombie(t *testing.T) {
	dir := made(t)
	b := bare(t, dir)
	port := firstPort + 50
	for !free(port) {
		port++
	}
	server := b.command(t.Context(), "postgres")
	parent := exec.Command("sh", "-c", `"$@" & exec sleep 600`, "sh", server.Path, "-D", b.path("data"), "-p",
		strconv.Itoa(port), "-h", "127.0.0.1", "-c", "unix_socket_directories=")
	parent.SysProcAttr, parent.Dir, parent.Env = server.SysProcAttr, "/", server.Env
	require.NoError(t, parent.Start())
	t.Cleanup(func() { _ = parent.Process.Kill(); _ = parent.Wait() })
	pid := pidIn(t, dir)
	require.True(t, serves(pid, b.path("data")))
	require.NoError(t, syscall.Kill(pid, syscall.SIGKILL))
	require.Eventually(t, func() bool { return !alive(pid) }, endTime, tickTime)
	_, err := os.Stat("/proc/" + strconv.Itoa(pid))
	require.NoError(t, err, "it is a zombie: dead, and still there")

	c := start(t, dir)
	require.Equal(t, "1", query(t, c, "select '1'"))
	require.NoError(t, c.Stop())
}

// A server that was stopped (not ended) by a signal hears nothing: it is woken, and ended at once.
func TestStartBesideAStoppedServer(t *testing.T) {
	dir := made(t)
	b := bare(t, dir)
	port := firstPort + 70
	for !free(port) {
		port++
	}
	server := b.command(t.Context(), "postgres", "-D", b.path("data"), "-p", strconv.Itoa(port), "-h", "127.0.0.1",
		"-c", "unix_socket_directories=")
	require.NoError(t, server.Start())
	ended := make(chan struct{})
	go func() { _ = server.Wait(); close(ended) }()
	pid := pidIn(t, dir)
	require.NoError(t, syscall.Kill(pid, syscall.SIGSTOP))
	c := start(t, dir)
	<-ended
	require.Equal(t, "1", query(t, c, "select '1'"))
	require.NoError(t, c.Stop())
}

// A PID file that names somebody else's PostgreSQL stops nobody.
func TestSomebodyElsesServerStays(t *testing.T) {
	theirs, ours := start(t, t.TempDir()), made(t)
	text, err := os.ReadFile(theirs.path("data/postmaster.pid"))
	require.NoError(t, err)
	forged := strings.Replace(string(text), theirs.path("data"), filepath.Join(ours, "data"), 1)
	require.NoError(t, os.WriteFile(filepath.Join(ours, "data", "postmaster.pid"), []byte(forged), 0o600))
	c := start(t, ours)
	require.Equal(t, "1", query(t, c, "select '1'"))
	require.Equal(t, "1", query(t, theirs, "select '1'"), "it was not stopped")
	require.NoError(t, c.Stop())
	require.NoError(t, theirs.Stop())
}

// A start that was killed while the folder was made leaves an initdb; the next ends it and makes the folder anew.
func TestAnInitdbLeftBehind(t *testing.T) {
	dir := t.TempDir()
	b := bare(t, dir)
	half := filepath.Join(dir, halfMade+"77")
	require.NoError(t, os.Mkdir(half, 0o700))
	if b.cred != nil {
		require.NoError(t, os.Chown(half, int(b.cred.uid), int(b.cred.gid)))
	}
	left := b.command(t.Context(), "initdb", "-D", half, "-U", "x")
	require.NoError(t, left.Start())
	c := start(t, dir)
	require.Error(t, left.Wait(), "it was ended")
	require.NoDirExists(t, half)
	require.Equal(t, "1", query(t, c, "select '1'"))
	require.NoError(t, c.Stop())
}

// A password file that was emptied, changed or lost gets a new one that the database takes.
func TestPasswordFileThatIsWrong(t *testing.T) {
	dir := made(t)
	file := filepath.Join(dir, "password")
	for name, spoil := range map[string]func() error{
		"emptied": func() error { return os.WriteFile(file, nil, 0o600) },
		"changed": func() error { return os.WriteFile(file, []byte(randomPassword()), 0o600) },
		"lost":    func() error { return os.Remove(file) },
	} {
		require.NoError(t, spoil())
		c := start(t, dir)
		require.Equal(t, "1", query(t, c, "select '1'"), name)
		require.NoError(t, c.Stop())
	}
}
