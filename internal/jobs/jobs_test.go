package jobs

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivermigrate"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/internal/postgres/pgtest"
	"eventether/internal/store"
)

var dsn string

const asWorker = "EVENTETHER_TEST_WORKER"

func TestMain(m *testing.M) {
	if to := os.Getenv(asWorker); to != "" {
		work(to)
		return
	}
	pgtest.Run(m, func(s string) { dsn = s })
}

var quiet = slog.New(slog.NewTextHandler(io.Discard, nil))

// fresh is a database with nothing waiting in it.
func fresh(t *testing.T) *pgx.Conn {
	t.Helper()
	st, err := store.Open(t.Context(), dsn)
	require.NoError(t, err)
	require.NoError(t, st.Close())
	c, err := pgx.Connect(t.Context(), dsn)
	require.NoError(t, err)
	t.Cleanup(func() { _ = c.Close(context.Background()) })
	_, err = c.Exec(t.Context(), "truncate jobs, river_job")
	require.NoError(t, err)
	return c
}

func open(t *testing.T, workers int, kinds ...Kind) *Queue {
	t.Helper()
	q, err := Open(t.Context(), dsn, workers, quiet, kinds...)
	require.NoError(t, err)
	t.Cleanup(q.Close)
	return q
}

func ended(t *testing.T, q *Queue, id uuid.UUID) *Job {
	t.Helper()
	ctx, cancel := context.WithTimeout(t.Context(), time.Minute)
	defer cancel()
	j, err := q.Follow(ctx, id, func(*Job) error { return nil })
	require.NoError(t, err)
	return j
}

// Our tables are those the queue's own migrations make: columns, their types and defaults, constraints and indexes.
func TestTablesAreTheQueues(t *testing.T) {
	c := fresh(t)
	_, err := c.Exec(t.Context(), "drop schema if exists theirs cascade; create schema theirs")
	require.NoError(t, err)
	q := open(t, 1)
	m, err := rivermigrate.New(riverpgxv5.New(q.pool), &rivermigrate.Config{Schema: "theirs", Logger: quiet})
	require.NoError(t, err)
	_, err = m.Migrate(t.Context(), rivermigrate.DirectionUp, nil)
	require.NoError(t, err)
	of := func(schema, what string) (out []string) {
		rows, err := c.Query(t.Context(), what, schema)
		require.NoError(t, err)
		out, err = pgx.CollectRows(rows, pgx.RowTo[string])
		require.NoError(t, err)
		return out
	}
	for name, what := range map[string]string{
		"columns": `select table_name || '.' || column_name || ' ' || udt_name || ' ' || is_nullable || ' ' || coalesce(replace(column_default, $1 || '.', ''), '')
			from information_schema.columns where table_schema = $1 and table_name like 'river%' and table_name <> 'river_migration' order by 1`,
		"constraints": `select c.relname || ' ' || k.conname || ' ' || replace(pg_get_constraintdef(k.oid), $1 || '.', '') from pg_constraint k
			join pg_class c on c.oid = k.conrelid join pg_namespace n on n.oid = c.relnamespace
			where n.nspname = $1 and c.relname like 'river%' and c.relname <> 'river_migration' order by 1`,
		"indexes": `select replace(indexdef, $1 || '.', '') from pg_indexes where schemaname = $1 and tablename like 'river%' and tablename <> 'river_migration' order by 1`,
		"states":  `select e.enumlabel from pg_enum e join pg_type t on t.oid = e.enumtypid join pg_namespace n on n.oid = t.typnamespace where n.nspname = $1 and t.typname = 'river_job_state' order by e.enumsortorder`,
	} {
		ours := of("public", what)
		assert.NotEmpty(t, ours, name)
		assert.Equal(t, of("theirs", what), ours, name)
	}
}

// Work is done, tells how far it is, fails in words, and is called off while it waits and while it runs.
func TestWork(t *testing.T) {
	fresh(t)
	begun, after := make(chan uuid.UUID, 10), atomic.Int32{}
	q := open(t, 1,
		Kind{Name: "adds", Run: func(_ context.Context, w Work) (any, error) {
			var spec struct{ A, B int }
			require.NoError(t, json.Unmarshal(w.Spec, &spec))
			return spec.A + spec.B, nil
		}},
		Kind{Name: "fails", Run: func(context.Context, Work) (any, error) { return nil, errors.New("the clip is no film") }},
		Kind{Name: "panics", Run: func(context.Context, Work) (any, error) { panic("at the core") }},
		Kind{Name: "waits", Run: func(ctx context.Context, w Work) (any, error) {
			w.Tell(map[string]int{"done": 1})
			begun <- w.ID
			<-ctx.Done()
			return nil, ctx.Err()
		}, After: func(json.RawMessage) { after.Add(1) }})
	put := func(kind string, spec map[string]any) uuid.UUID {
		j, err := q.Put(t.Context(), kind, "rig", spec, nil)
		require.NoError(t, err)
		return j.ID
	}
	j := ended(t, q, put("adds", map[string]any{"A": 2, "B": 3}))
	assert.Equal(t, Done, j.State)
	assert.JSONEq(t, "5", string(j.Result))
	j = ended(t, q, put("fails", nil))
	assert.Equal(t, Failed, j.State)
	assert.Equal(t, "the clip is no film", j.Problem)
	j = ended(t, q, put("panics", nil))
	assert.Equal(t, Failed, j.State)
	assert.NotContains(t, j.Problem, "core")

	running := put("waits", nil)
	require.Equal(t, running, <-begun)
	waiting := put("waits", nil) // there is one worker, and it is at work
	require.NoError(t, q.CallOff(t.Context(), waiting))
	assert.Equal(t, Off, ended(t, q, waiting).State)
	steps := []string{}
	j, err := q.Follow(t.Context(), running, func(j *Job) error {
		if j.Step != nil {
			steps = append(steps, string(j.Step))
			return q.CallOff(t.Context(), running)
		}
		return nil
	})
	require.NoError(t, err)
	assert.Equal(t, Off, j.State)
	require.NotEmpty(t, steps)
	assert.JSONEq(t, `{"done":1}`, steps[0])
	assert.GreaterOrEqual(t, after.Load(), int32(2))
	require.ErrorIs(t, q.CallOff(t.Context(), uuid.New()), ErrNone)
	all, err := q.Of(t.Context(), "waits", "rig")
	require.NoError(t, err)
	assert.Len(t, all, 2)
	_, err = q.Put(t.Context(), "nobody knows", "", nil, nil)
	require.Error(t, err)
}

// What only one process can do stays there, with what nobody may keep; nothing of that stands in the database.
func TestSecretsStayInTheProcess(t *testing.T) {
	c := fresh(t)
	kind := Kind{Name: "sends", Here: true, Run: func(_ context.Context, w Work) (any, error) { return len(w.Secret.(string)), nil }}
	q, other := open(t, 2, kind), open(t, 2, kind)
	for range 20 {
		j, err := q.Put(t.Context(), "sends", "", nil, "the-key-of-a-stream")
		require.NoError(t, err)
		assert.JSONEq(t, "19", string(ended(t, other, j.ID).Result))
	}
	var n int
	require.NoError(t, c.QueryRow(t.Context(), "select count(*) from jobs j, river_job r where j::text like '%key-of%' or r::text like '%key-of%'").Scan(&n))
	assert.Zero(t, n)
	q.mu.Lock()
	assert.Empty(t, q.secrets)
	q.mu.Unlock()
}

// A server that ends gives what it had begun back, and another does it.
func TestAServerThatEndsGivesBack(t *testing.T) {
	fresh(t)
	begun := make(chan string, 10)
	kind := func(name string, lets bool) Kind {
		return Kind{Name: "long", Run: func(ctx context.Context, _ Work) (any, error) {
			begun <- name
			if lets {
				return name, nil
			}
			<-ctx.Done()
			return nil, ctx.Err()
		}}
	}
	first, err := Open(t.Context(), dsn, 1, quiet, kind("first", false))
	require.NoError(t, err)
	j, err := first.Put(t.Context(), "long", "", nil, nil)
	require.NoError(t, err)
	assert.Equal(t, "first", <-begun)
	second := open(t, 1, kind("second", true))
	first.Close()
	got := ended(t, second, j.ID)
	assert.Equal(t, Done, got.State)
	assert.JSONEq(t, `"second"`, string(got.Result))
}

// A database whose connections all break in the middle of work: what was under way ends once, with its result, and what comes after
// is done.
func TestADatabaseThatGoesAndComesBack(t *testing.T) {
	c := fresh(t)
	begun, goOn := make(chan struct{}), make(chan struct{})
	q := open(t, 1, Kind{Name: "long", Run: func(context.Context, Work) (any, error) {
		begun <- struct{}{}
		<-goOn
		return "whole", nil
	}})
	j, err := q.Put(t.Context(), "long", "", nil, nil)
	require.NoError(t, err)
	<-begun
	_, err = c.Exec(t.Context(), "select pg_terminate_backend(pid) from pg_stat_activity where pid <> pg_backend_pid() and datname = current_database()")
	require.NoError(t, err)
	done := make(chan struct{})
	go func() { // begun again or not, it is let go on
		defer close(done)
		close(goOn)
		for {
			select {
			case <-begun:
			case <-t.Context().Done():
				return
			}
		}
	}()
	require.Eventually(t, func() bool {
		got, err := q.Get(t.Context(), j.ID)
		return err == nil && got.State == Done && string(got.Result) == `"whole"`
	}, time.Minute, 50*time.Millisecond)
	next, err := q.Put(t.Context(), "long", "", nil, nil)
	require.NoError(t, err)
	assert.Equal(t, Done, ended(t, q, next.ID).State)
}

// work is a server process of the test below: it adds up what nobody can do at once, and notes that it began.
func work(folder string) {
	q, err := Open(context.Background(), os.Getenv("EVENTETHER_TEST_DSN"), 2, quiet, Kind{Name: "sums", Run: func(_ context.Context, w Work) (any, error) {
		f, err := os.OpenFile(filepath.Join(folder, w.ID.String()), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
		if err != nil {
			return nil, err
		}
		fmt.Fprintln(f, os.Getpid())
		f.Close()
		sum := uint64(0)
		for i := range uint64(30_000_000) {
			sum += i * i % 7
		}
		return sum, nil
	}})
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	defer q.Close()
	_, _ = io.Copy(io.Discard, os.Stdin) // as long as the test lives
}

// Two hundred pieces of work, two servers, of which one is killed at random twenty times: each is done, and once.
func TestKilledServersLeaveNothingUndone(t *testing.T) {
	c := fresh(t)
	_, err := c.Exec(t.Context(), `drop table if exists ended; create table ended (id uuid, state text);
		create or replace function note_end() returns trigger language plpgsql as $$ begin
			if new.state <> old.state and new.state in ('done', 'failed', 'off') then insert into ended values (new.id, new.state); end if; return new; end $$;
		create or replace trigger note_end after update on jobs for each row execute function note_end()`)
	require.NoError(t, err)
	t.Cleanup(func() { _, _ = c.Exec(context.Background(), "drop trigger note_end on jobs") })
	folder := t.TempDir()
	start := func() *exec.Cmd {
		cmd := exec.Command(os.Args[0])
		cmd.Env = append(os.Environ(), asWorker+"="+folder, "EVENTETHER_TEST_DSN="+dsn)
		cmd.Stderr = os.Stderr
		cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL}
		_, err := cmd.StdinPipe()
		require.NoError(t, err)
		require.NoError(t, cmd.Start())
		return cmd
	}
	servers := []*exec.Cmd{start(), start()}
	asks := open(t, 0, Kind{Name: "sums"})
	const pieces, kills = 200, 20
	for range pieces {
		_, err := asks.Put(t.Context(), "sums", "", nil, nil)
		require.NoError(t, err)
	}
	dice := rand.New(rand.NewPCG(3, 4))
	done := func() (n int) {
		require.NoError(t, c.QueryRow(t.Context(), "select count(*) from jobs where state in ('done', 'failed', 'off')").Scan(&n))
		return n
	}
	deadline, tick := time.After(3*time.Minute), time.NewTicker(20*time.Millisecond)
	defer tick.Stop()
	for killed, next := 0, 1; ; {
		n := done()
		if n == pieces {
			assert.Equal(t, kills, killed)
			break
		}
		if killed < kills && n >= next {
			k := dice.IntN(2)
			require.NoError(t, servers[k].Process.Kill())
			_ = servers[k].Wait()
			servers[k] = start()
			killed, next = killed+1, n+1+dice.IntN(9)
		}
		select {
		case <-tick.C:
		case <-deadline:
			t.Fatalf("%d of %d done", n, pieces)
		}
	}
	for _, s := range servers {
		_ = s.Process.Kill()
		_ = s.Wait()
	}
	var once, wrong, begun int
	require.NoError(t, c.QueryRow(t.Context(), "select count(*), count(distinct id) from ended where state = 'done'").Scan(&begun, &once))
	assert.Equal(t, pieces, begun, "none ended twice")
	assert.Equal(t, pieces, once, "each ended")
	require.NoError(t, c.QueryRow(t.Context(), "select count(*) from jobs where state <> 'done' or result::text <> (select max(result::text) from jobs)").Scan(&wrong))
	assert.Zero(t, wrong)
	files, err := os.ReadDir(folder)
	require.NoError(t, err)
	assert.Len(t, files, pieces)
	again := 0
	for _, f := range files {
		raw, err := os.ReadFile(filepath.Join(folder, f.Name()))
		require.NoError(t, err)
		again += bytes.Count(raw, []byte{'\n'}) - 1
	}
	t.Logf("%d were begun again after a kill", again)
}
