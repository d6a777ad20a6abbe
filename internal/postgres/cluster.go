//go:build linux

// Package postgres runs a PostgreSQL of the application's own on loopback: own data folder, own port, password login.
// It never touches another cluster on the machine.
package postgres

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
)

const (
	dbUser = "eventether"
	dbName = "eventether"
	// firstPort is tried first; a busy one is passed over for the next.
	firstPort = 54461
	portTries = 200
)

// ErrInUse says that another eventether holds the data folder.
var ErrInUse = errors.New("the data folder is in use by another eventether")

// Cluster is a running PostgreSQL.
type Cluster struct {
	dir  string // holds data/, password, lock, log
	bin  string
	port int
	pass string
	cred *credential
	lock *os.File

	stopping atomic.Bool
	mu       sync.Mutex // guards cmd and done, which change when the server is started again
	cmd      *exec.Cmd
	done     chan struct{}
}

// Start brings up the cluster kept in dir, making it on the first call. It repairs what an unclean stop left: a server
// still running on the folder is stopped, a stale PID file is removed, and the write-ahead log does the rest.
func Start(ctx context.Context, dir string) (*Cluster, error) {
	dir, err := filepath.Abs(dir)
	if err != nil {
		return nil, err
	}
	bin, err := findBin()
	if err != nil {
		return nil, err
	}
	c := &Cluster{dir: dir, bin: bin, done: make(chan struct{})}
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return nil, err
	}
	if c.cred, err = serverUser(dir); err != nil {
		return nil, err
	}
	if err := c.takeLock(); err != nil {
		return nil, err
	}
	if err := c.bringUp(ctx); err != nil {
		c.lock.Close()
		return nil, err
	}
	return c, nil
}

func (c *Cluster) bringUp(ctx context.Context) error {
	if err := c.initialise(ctx); err != nil {
		return err
	}
	if err := c.clearLeftover(ctx); err != nil {
		return err
	}
	pass, err := os.ReadFile(c.path("password"))
	if err != nil && !errors.Is(err, os.ErrNotExist) {
		return fmt.Errorf("the database password cannot be read: %w", err)
	}
	if c.pass = strings.TrimSpace(string(pass)); !passwordForm.MatchString(c.pass) {
		if err := c.newPassword(ctx); err != nil {
			return err
		}
	}
	err = c.bringUpOn(ctx)
	if errors.Is(err, errPassword) { // the file holds another one by now
		if err := c.newPassword(ctx); err != nil {
			return err
		}
		err = c.bringUpOn(ctx)
	}
	return err
}

func (c *Cluster) bringUpOn(ctx context.Context) error {
	for port := firstPort; port < firstPort+portTries; port++ {
		if !free(port) {
			continue
		}
		if err := c.launch(ctx, port); err == nil {
			return c.createDatabase(ctx)
		} else if ctx.Err() != nil || errors.Is(err, errPassword) || free(port) { // not the port's fault
			return err
		}
	}
	return fmt.Errorf("no free port for the database between %d and %d", firstPort, firstPort+portTries-1)
}

// DSN is the connection string for the application's database.
func (c *Cluster) DSN() string { return c.dsn(dbName) }

func (c *Cluster) dsn(db string) string {
	return fmt.Sprintf("postgres://%s:%s@127.0.0.1:%d/%s?sslmode=disable", dbUser, c.pass, c.port, db)
}

// Stop ends the server (fast shutdown) and waits for it.
func (c *Cluster) Stop() error { return c.end(syscall.SIGINT) }

// Kill ends the server at once, as a crash would, and lets go of the folder; for tests of what happens then.
func (c *Cluster) Kill() error { return c.end(syscall.SIGKILL) }

func (c *Cluster) end(sig syscall.Signal) error {
	defer c.lock.Close()
	c.stopping.Store(true)
	c.mu.Lock()
	cmd, done := c.cmd, c.done
	c.mu.Unlock()
	if err := cmd.Process.Signal(sig); err != nil && !errors.Is(err, os.ErrProcessDone) {
		return err
	}
	<-done
	return nil
}

func (c *Cluster) path(name string) string { return filepath.Join(c.dir, name) }

// findBin finds the newest PostgreSQL of Debian's packages, or one on the PATH.
func findBin() (string, error) {
	dirs, _ := filepath.Glob("/usr/lib/postgresql/*/bin")
	slices.SortFunc(dirs, func(a, b string) int { return version(b) - version(a) })
	for _, d := range dirs {
		if _, err := os.Stat(filepath.Join(d, "postgres")); err == nil {
			return d, nil
		}
	}
	if p, err := exec.LookPath("postgres"); err == nil {
		return filepath.Dir(p), nil
	}
	return "", errors.New("PostgreSQL is not installed: the Debian package is called postgresql")
}

func version(dir string) int {
	n, _ := strconv.Atoi(filepath.Base(filepath.Dir(dir)))
	return n
}

// credential is the user the server runs as when we are root, since PostgreSQL refuses to run as root.
type credential struct {
	uid, gid uint32
	reach    bool // the data folder lies below one this user may not enter
}

func serverUser(dir string) (*credential, error) {
	if os.Geteuid() != 0 {
		return nil, nil
	}
	u, err := user.Lookup("postgres")
	if err != nil {
		return nil, errors.New("running as root, and PostgreSQL needs a user of its own: the Debian package postgresql makes the user postgres")
	}
	uid, _ := strconv.ParseUint(u.Uid, 10, 32)
	gid, _ := strconv.ParseUint(u.Gid, 10, 32)
	c := &credential{uid: uint32(uid), gid: uint32(gid)}
	for p := dir; p != "/"; p = filepath.Dir(p) {
		if st, err := os.Stat(p); err == nil && st.Mode().Perm()&0o001 == 0 {
			c.reach = true
		}
	}
	return c, nil
}

// capDacReadSearch lets the server enter folders above its own that belong to root alone (a clone below /root).
const capDacReadSearch = 2

func (c *Cluster) command(ctx context.Context, name string, args ...string) *exec.Cmd {
	cmd := exec.CommandContext(ctx, filepath.Join(c.bin, name), args...)
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true} // Ctrl-C goes to us, and we stop the server
	if c.cred != nil {
		cmd.SysProcAttr.Credential = &syscall.Credential{Uid: c.cred.uid, Gid: c.cred.gid}
		if c.cred.reach {
			cmd.SysProcAttr.AmbientCaps = []uintptr{capDacReadSearch}
		}
	}
	cmd.Dir = "/"
	cmd.Env = append(os.Environ(), "LC_ALL=C.UTF-8", "TZ=UTC")
	return cmd
}

// takeLock keeps a second eventether off the folder; the kernel lets go of it however we end.
func (c *Cluster) takeLock() error {
	f, err := os.OpenFile(c.path("lock"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return err
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		f.Close()
		return fmt.Errorf("%w: %s", ErrInUse, c.dir)
	}
	c.lock = f
	return nil
}

// initialise makes the data folder. It is made beside its final name and moved there when whole, so that a stop
// half-way leaves nothing that looks finished.
func (c *Cluster) initialise(ctx context.Context) error {
	if _, err := os.Stat(c.path("data/PG_VERSION")); err == nil {
		return nil
	}
	if err := c.writePassword(randomPassword()); err != nil {
		return err
	}
	if err := c.endHalfMade(ctx); err != nil {
		return err
	}
	if err := os.RemoveAll(c.path("data")); err != nil {
		return err
	}
	half, err := os.MkdirTemp(c.dir, halfMade) // a name of its own, apart from whatever an earlier start began
	if err != nil {
		return err
	}
	if c.cred != nil {
		if err := os.Chown(half, int(c.cred.uid), int(c.cred.gid)); err != nil {
			return err
		}
	}
	out, err := c.command(ctx, "initdb", "-D", half, "-U", dbUser, "--pwfile="+c.path("password"),
		"--auth=scram-sha-256",
		"--encoding=UTF8", "--locale=C.UTF-8", "--no-instructions").CombinedOutput()
	if err != nil {
		return fmt.Errorf("making the database: %w\n%s", err, out)
	}
	return os.Rename(half, c.path("data"))
}

func free(port int) bool {
	l, err := net.Listen("tcp", net.JoinHostPort("127.0.0.1", strconv.Itoa(port)))
	if err != nil {
		return false
	}
	l.Close()
	return true
}

// errOrphans says that processes of a killed server are still on their way out.
var errOrphans = errors.New("processes of an earlier database are still ending")

// errPassword says that the server does not take the password in the file.
var errPassword = errors.New("the database does not take the password kept for it")

// answerTime bounds how long a started server may take until it answers: crash recovery included.
const answerTime = 2 * time.Minute

// launch starts the server on a port and waits until it answers; it gives the processes of a killed server a while to
// end.
func (c *Cluster) launch(ctx context.Context, port int) error {
	for range 60 {
		err := c.launchOnce(ctx, port)
		if !errors.Is(err, errOrphans) {
			return err
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(250 * time.Millisecond):
		}
	}
	return errOrphans
}

func (c *Cluster) launchOnce(ctx context.Context, port int) error {
	log, err := os.OpenFile(c.path("log"), os.O_CREATE|os.O_WRONLY|os.O_TRUNC, 0o600)
	if err != nil {
		return err
	}
	defer log.Close()
	// The server must outlive ctx: it is stopped by Stop, in its own way.
	cmd := c.command(context.WithoutCancel(ctx), "postgres", "-D", c.path("data"), "-p", strconv.Itoa(port), "-h",
		"127.0.0.1",
		"-c", "unix_socket_directories=", "-c", "max_connections=40", "-c", "shared_buffers=32MB")
	cmd.Stdout, cmd.Stderr = log, log
	if err := cmd.Start(); err != nil {
		return err
	}
	done := make(chan struct{})
	c.mu.Lock()
	c.cmd, c.port, c.done = cmd, port, done
	c.mu.Unlock()
	go func() {
		_ = cmd.Wait()
		close(done)
	}()
	late := time.After(answerTime)
	tick := time.NewTicker(30 * time.Millisecond)
	defer tick.Stop()
	for {
		conn, err := pgx.Connect(ctx, c.dsn("postgres"))
		if err == nil {
			return conn.Close(ctx)
		}
		if pg := new(pgconn.PgError); errors.As(err, &pg) && strings.HasPrefix(pg.Code, "28") { // invalid authorisation
			_ = cmd.Process.Signal(syscall.SIGINT)
			<-done
			return fmt.Errorf("%w (%s): %w", errPassword, c.path("password"), err)
		}
		select {
		case <-late:
			_ = cmd.Process.Signal(syscall.SIGINT)
			<-done
			return fmt.Errorf("the database did not answer within %v: %w", answerTime, err)
		case <-done:
			text, _ := os.ReadFile(c.path("log"))
			if strings.Contains(string(text), "shared memory block") {
				return errOrphans
			}
			return fmt.Errorf("the database did not start:\n%s", text)
		case <-ctx.Done():
			_ = cmd.Process.Signal(syscall.SIGINT)
			<-done
			return ctx.Err()
		case <-tick.C:
		}
	}
}

func (c *Cluster) createDatabase(ctx context.Context) error {
	conn, err := pgx.Connect(ctx, c.dsn("postgres"))
	if err != nil {
		return err
	}
	defer conn.Close(ctx)
	var there bool
	if err := conn.QueryRow(ctx, "select exists (select from pg_database where datname = $1)", dbName).
		Scan(&there); err != nil || there {
		return err
	}
	_, err = conn.Exec(ctx, "create database "+dbName)
	return err
}

// Keep brings the server up again, on the same port, whenever it ends without Stop having been called, until ctx ends.
func (c *Cluster) Keep(ctx context.Context, log *slog.Logger) {
	for {
		select {
		case <-ctx.Done():
			return
		case <-c.ended():
		}
		if c.stopping.Load() || ctx.Err() != nil {
			return
		}
		log.Error("the database ended by itself; starting it again")
		if err := c.relaunch(ctx); err != nil {
			log.Error("starting the database again", "error", err)
			select {
			case <-ctx.Done():
				return
			case <-time.After(2 * time.Second):
			}
		}
	}
}

func (c *Cluster) relaunch(ctx context.Context) error {
	if err := c.clearLeftover(ctx); err != nil {
		return err
	}
	return c.launch(ctx, c.port)
}

func (c *Cluster) ended() <-chan struct{} {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.done
}
