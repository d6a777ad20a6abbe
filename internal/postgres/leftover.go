//go:build linux

package postgres

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"syscall"
	"time"
)

// What an earlier run left behind: a server still running or ending, a stale PID file, a folder being made, a password
// file that was changed. We hold the lock on the folder, so whatever works on it is nobody's.

// halfMade begins the names of folders that are still being made.
const halfMade = "data.half"

// tickTime is how often an ending process is looked at.
const tickTime = 20 * time.Millisecond

// endTime bounds how long a server an earlier run left may take to end.
const endTime = 30 * time.Second

// clearLeftover deals with a PID file from an unclean stop. A process is stopped only when it is a PostgreSQL on our
// very folder: PIDs are used again, and the file may be a copy.
func (c *Cluster) clearLeftover(ctx context.Context) error {
	pidFile := c.path("data/postmaster.pid")
	text, err := os.ReadFile(pidFile)
	if errors.Is(err, os.ErrNotExist) {
		return nil
	}
	if err != nil {
		return err
	}
	first, _, _ := strings.Cut(string(text), "\n")
	if pid, err := strconv.Atoi(strings.TrimSpace(first)); err == nil && serves(pid, c.path("data")) {
		if err := stop(ctx, pid, func() bool { return serves(pid, c.path("data")) }, syscall.SIGINT,
			syscall.SIGQUIT); err != nil {
			return fmt.Errorf("stopping the database an earlier run left behind (process %d): %w", pid, err)
		}
	}
	err = os.Remove(pidFile)
	if errors.Is(err, os.ErrNotExist) {
		return nil
	}
	return err
}

// serves tells whether a living process is a PostgreSQL started on a data folder. One that has died and waits for its
// parent to notice (a zombie, for ever in a container without an init) does not live.
func serves(pid int, dir string) bool {
	args := arguments(pid)
	at := slices.Index(args, "-D")
	return len(args) > 0 && filepath.Base(args[0]) == "postgres" && at > 0 && at+1 < len(args) && args[at+1] == dir &&
		alive(pid)
}

// arguments are those a process was started with; none for one that ended.
func arguments(pid int) []string {
	text, err := os.ReadFile(fmt.Sprintf("/proc/%d/cmdline", pid))
	if err != nil || len(text) == 0 {
		return nil
	}
	return strings.Split(strings.TrimSuffix(string(text), "\x00"), "\x00")
}

// alive is false for zombies. The state stands behind the name, which may hold anything. [general tool: proc(5)]
func alive(pid int) bool {
	text, err := os.ReadFile(fmt.Sprintf("/proc/%d/stat", pid))
	if err != nil {
		return false
	}
	_, rest, _ := strings.Cut(string(text[max(0, strings.LastIndexByte(string(text), ')')):]), " ")
	return rest != "" && rest[0] != 'Z' && rest[0] != 'X'
}

// stop sends a process the first signal, waits, and goes on to the next.
func stop(ctx context.Context, pid int, still func() bool, signals ...syscall.Signal) error {
	for _, sig := range signals {
		if err := syscall.Kill(pid, sig); err != nil && !errors.Is(err, syscall.ESRCH) {
			return err
		}
		_ = syscall.Kill(pid, syscall.SIGCONT) // one that was stopped hears nothing until it goes on
		late := time.Now().Add(endTime)
		for still() && time.Now().Before(late) {
			select {
			case <-ctx.Done():
				return ctx.Err()
			case <-time.After(tickTime):
			}
		}
		if !still() {
			return nil
		}
	}
	return fmt.Errorf("it does not end: end it by hand, then start again")
}

// endHalfMade ends what an earlier start that was killed still makes, and removes what it made.
func (c *Cluster) endHalfMade(ctx context.Context) error {
	procs, _ := filepath.Glob("/proc/[0-9]*")
	for _, p := range procs {
		pid, err := strconv.Atoi(filepath.Base(p))
		if err != nil || !c.making(pid) {
			continue
		}
		if err := stop(ctx, pid, func() bool { return c.making(pid) && alive(pid) }, syscall.SIGKILL); err != nil {
			return fmt.Errorf("ending the making of a database that an earlier start began (process %d): %w", pid, err)
		}
	}
	halves, _ := filepath.Glob(c.path(halfMade) + "*")
	for _, half := range halves {
		if err := os.RemoveAll(half); err != nil {
			return err
		}
	}
	return nil
}

// making tells whether a process is an initdb, or a PostgreSQL it runs, on a half-made folder of ours.
func (c *Cluster) making(pid int) bool {
	args := arguments(pid)
	if len(args) == 0 || !slices.Contains([]string{"initdb", "postgres"}, filepath.Base(args[0])) {
		return false
	}
	if slices.ContainsFunc(args, func(a string) bool {
		return strings.HasPrefix(strings.TrimPrefix(a, "-D"), c.path(halfMade))
	}) {
		return true
	}
	cwd, err := os.Readlink(fmt.Sprintf("/proc/%d/cwd", pid)) // where a server of initdb's works
	return err == nil && strings.HasPrefix(cwd, c.path(halfMade))
}

var passwordForm = regexp.MustCompile(`^[0-9a-f]{16,}$`)

func randomPassword() string {
	random := make([]byte, 24)
	_, _ = rand.Read(random) // never fails
	return hex.EncodeToString(random)
}

func (c *Cluster) writePassword(pass string) error {
	if err := os.WriteFile(c.path("password"), []byte(pass), 0o600); err != nil {
		return err
	}
	if c.cred != nil {
		return os.Chown(c.path("password"), int(c.cred.uid), int(c.cred.gid))
	}
	return nil
}

// newPassword gives the database another password, without the server running: the file with the old one was changed,
// emptied or lost, and whoever owns the folder owns the database.
func (c *Cluster) newPassword(ctx context.Context) error {
	pass := randomPassword()
	cmd := c.command(ctx, "postgres", "--single", "-D", c.path("data"), "postgres")
	cmd.Stdin = strings.NewReader("alter role " + dbUser + " password '" + pass + "'\n")
	out, err := cmd.CombinedOutput()
	if err != nil || strings.Contains(string(out), "ERROR") {
		return fmt.Errorf("the file %s does not hold the password of the database, and a new one could not be set: %w\n%s",
			c.path("password"), err, out)
	}
	if err := c.writePassword(pass); err != nil {
		return err
	}
	c.pass = pass
	return nil
}
