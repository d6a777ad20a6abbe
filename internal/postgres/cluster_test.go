package postgres

import (
	"context"
	"fmt"
	"net"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"
)

func query(t *testing.T, c *Cluster, sql string) string {
	t.Helper()
	ctx := context.Background()
	conn, err := pgx.Connect(ctx, c.DSN())
	require.NoError(t, err)
	defer conn.Close(ctx)
	var out string
	require.NoError(t, conn.QueryRow(ctx, sql).Scan(&out))
	return out
}

func start(t *testing.T, dir string) *Cluster {
	t.Helper()
	c, err := Start(t.Context(), dir)
	require.NoError(t, err)
	return c
}

// One life of a cluster: made, kept over a stop, repaired after a crash, after a leftover server, after a PID file that
// names some other process, and never shared.
func TestClusterLife(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "behind", "closed") // as a clone below /root would lie
	require.NoError(t, os.MkdirAll(filepath.Dir(dir), 0o755))
	require.NoError(t, os.Chmod(filepath.Dir(dir), 0o700))

	c := start(t, dir)
	query(t, c, "select set_config('x.y', 'z', false)")
	ctx := t.Context()
	conn, err := pgx.Connect(ctx, c.DSN())
	require.NoError(t, err)
	_, err = conn.Exec(ctx, "create table kept (what text); insert into kept values ('this')")
	require.NoError(t, err)
	require.NoError(t, conn.Close(ctx))

	_, err = Start(ctx, dir)
	require.ErrorIs(t, err, ErrInUse, "a second eventether stays off the folder")
	require.NoError(t, c.Stop())

	c = start(t, dir)
	require.Equal(t, "this", query(t, c, "select what from kept"))
	require.NoError(t, c.Kill())
	pidFile := filepath.Join(dir, "data", "postmaster.pid")
	require.FileExists(t, pidFile, "a killed server leaves its PID file")

	c = start(t, dir)
	require.Equal(t, "this", query(t, c, "select what from kept"), "after a crash")

	// We die and the server stays: the kernel drops our lock, the next start stops what was left.
	require.NoError(t, c.lock.Close())
	d := start(t, dir)
	<-c.done
	require.Equal(t, "this", query(t, d, "select what from kept"), "after a leftover server")
	require.NoError(t, d.Kill())

	// The PID in the file now belongs to some living process that is no server: us.
	text, err := os.ReadFile(pidFile)
	require.NoError(t, err)
	lines := strings.SplitN(string(text), "\n", 2)
	require.NoError(t, os.WriteFile(pidFile, []byte(strconv.Itoa(os.Getpid())+"\n"+lines[1]), 0o600))
	c = start(t, dir)
	require.Equal(t, "this", query(t, c, "select what from kept"), "after a stale PID file")
	require.NoError(t, c.Stop())
}

func TestClusterTakesTheNextPort(t *testing.T) {
	first := firstPort
	for !free(first) {
		first++
	}
	l, err := net.Listen("tcp", fmt.Sprintf("127.0.0.1:%d", first))
	require.NoError(t, err)
	defer l.Close()
	c := start(t, t.TempDir())
	require.Greater(t, c.port, first)
	require.Equal(t, "127.0.0.1", query(t, c, "show listen_addresses"))
	require.NoError(t, c.Stop())
}

func TestHalfMadeFolderIsMadeAnew(t *testing.T) {
	dir := t.TempDir()
	require.NoError(t, os.MkdirAll(filepath.Join(dir, "data.half", "base"), 0o700))
	require.NoError(t, os.MkdirAll(filepath.Join(dir, "data"), 0o700)) // an initdb of old that got no further
	c := start(t, dir)
	require.Equal(t, "1", query(t, c, "select '1'"))
	require.NoError(t, c.Stop())
}
