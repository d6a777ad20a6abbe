// Package pgtest starts a PostgreSQL for one package's tests, in a folder of its own that goes when they end.
package pgtest

import (
	"context"
	"fmt"
	"os"
	"syscall"
	"testing"
	"time"

	"eventether/internal/postgres"
)

// Run starts a cluster, hands its connection string to use, runs the tests and stops the cluster. Call it from
// TestMain.
func Run(m *testing.M, use func(dsn string)) {
	os.Exit(run(m, use))
}

// inMemory is a folder in memory with room for a cluster, where the system has one: a slow disk is waited for with
// every commit. "" is the usual place.
func inMemory() string {
	const shm, room = "/dev/shm", 1 << 30
	var s syscall.Statfs_t
	if syscall.Statfs(shm, &s) != nil || s.Bavail*uint64(s.Bsize) < room {
		return ""
	}
	return shm
}

func run(m *testing.M, use func(dsn string)) int {
	dir, err := os.MkdirTemp(inMemory(), "eventether-test-")
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer os.RemoveAll(dir)
	ctx, cancel := context.WithTimeout(context.Background(), 2*time.Minute)
	defer cancel()
	c, err := postgres.Start(ctx, dir)
	if err != nil {
		fmt.Fprintln(os.Stderr, "starting PostgreSQL for the tests:", err)
		return 1
	}
	defer c.Stop()
	use(c.DSN())
	return m.Run()
}
