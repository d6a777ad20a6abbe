// Package jobs answers: what long work is there, how far is it, and what did it come to?
//
// Work waits in PostgreSQL and is done by whichever server process takes it first, once: what it came to is kept together
// with the word that it is done, in one transaction. A process that dies leaves its work to the others, at once: it holds a
// lock for as long as its connection lives, and work that runs by somebody who holds none is taken up again. Work that ends
// five processes in a row is given up.
package jobs

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"strings"
	"sync"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
)

// State is how a piece of work stands.
type State string

// Waits: nobody has begun. Runs. Done: it came to a result. Failed: it came to none, for a reason. Off: somebody called it off.
const (
	Waits  State = "waits"
	Runs   State = "runs"
	Done   State = "done"
	Failed State = "failed"
	Off    State = "off"
)

// Ended tells whether nothing more will happen to it.
func (s State) Ended() bool { return s == Done || s == Failed || s == Off }

// Job is a piece of long work.
type Job struct {
	ID        uuid.UUID
	Kind      string
	About     string // what it is about, such as a rig's id
	Spec      json.RawMessage
	State     State
	Step      json.RawMessage // how far it is, as its kind tells it; nil before the first
	Result    json.RawMessage // nil before it is done
	Problem   string          // why it failed
	CreatedAt time.Time
}

// Kind is a way of long work.
type Kind struct {
	Name string
	// Here tells that only the process it was asked of can do it, which alone knows what it needs (Put's secret), one piece at
	// a time of all kinds of which that is so. Else every process of this computer may.
	Here bool
	// Run does it. It is to end when its context does. What it returns is kept as JSON; an error is why it failed, in words.
	Run func(ctx context.Context, w Work) (any, error)
	// After is called when it has ended in whatever way, by whoever ended it: what it leaves behind is thrown away here. It may
	// be called more than once.
	After func(spec json.RawMessage)
}

// Work is a piece of work that is being done.
type Work struct {
	Job
	Secret any            // what Put was given beside it, in the process that was asked
	Tell   func(step any) // how far it is
}

// ErrNone says that there is no such work.
var ErrNone = errors.New("there is no such work any more")

// Queue is long work in a database.
type Queue struct {
	pool   *pgxpool.Pool
	client *river.Client[pgx.Tx]
	kinds  map[string]Kind
	log    *slog.Logger
	id     string

	living sync.Mutex
	held   *pgx.Conn // whose lock says that this process lives

	mu      sync.Mutex
	secrets map[uuid.UUID]any
	stops   map[uuid.UUID]context.CancelCauseFunc
	stop    context.CancelFunc
	over    sync.WaitGroup
}

// mostTries is how many processes a piece of work may end before it is given up.
const mostTries = 5

// lockClass marks our locks among all advisory locks of the database.
const lockClass = 0x6A6F6273

// keptFor is how long what has ended can be asked for.
const keptFor = 7 * 24 * time.Hour

var (
	errCalledOff = errors.New("called off")
	errEnding    = errors.New("the server ends")
	errTaken     = errors.New("another process has taken it up")
)

type args struct {
	ID uuid.UUID `json:"id"`
}

func (args) Kind() string { return "work" }

type worker struct {
	river.WorkerDefaults[args]
	q *Queue
}

// Timeout is none: what takes long says how far it is, and is called off by people.
func (*worker) Timeout(*river.Job[args]) time.Duration { return -1 }

// NextRetry is at once.
func (*worker) NextRetry(*river.Job[args]) time.Time { return time.Now() }

func (w *worker) Work(ctx context.Context, job *river.Job[args]) error { return w.q.work(ctx, job) }

// Open begins to do the work of a database, as many pieces at once as workers tells, and one that only this process can do; with
// no workers it asks for the rest only.
func Open(ctx context.Context, dsn string, workers int, log *slog.Logger, kinds ...Kind) (*Queue, error) {
	config, err := pgxpool.ParseConfig(dsn)
	if err != nil {
		return nil, err
	}
	config.MaxConns = int32(workers + 5)
	pool, err := pgxpool.NewWithConfig(ctx, config)
	if err != nil {
		return nil, fmt.Errorf("opening the database for long work: %w", err)
	}
	q := &Queue{pool: pool, kinds: map[string]Kind{}, log: log, id: uuid.NewString(), secrets: map[uuid.UUID]any{},
		stops: map[uuid.UUID]context.CancelCauseFunc{}}
	for _, k := range kinds {
		q.kinds[k.Name] = k
	}
	all := river.NewWorkers()
	river.AddWorker(all, &worker{q: q})
	queues := map[string]river.QueueConfig{q.own(): {MaxWorkers: 1}}
	if workers > 0 {
		queues[host()] = river.QueueConfig{MaxWorkers: workers}
	}
	quiet := slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: slog.LevelError}))
	q.client, err = river.NewClient(riverpgxv5.New(pool), &river.Config{ID: q.id, Logger: quiet, Workers: all, MaxAttempts: 1000,
		FetchPollInterval: 2 * time.Second, RescueStuckJobsAfter: 365 * 24 * time.Hour, // rescue does it
		CompletedJobRetentionPeriod: keptFor, JobTimeout: -1,
		Queues: queues})
	if err != nil {
		pool.Close()
		return nil, err
	}
	if err := q.live(ctx); err != nil {
		pool.Close()
		return nil, err
	}
	run, stop := context.WithCancel(context.WithoutCancel(ctx))
	q.stop = stop
	if err := q.client.Start(run); err != nil {
		stop()
		pool.Close()
		return nil, fmt.Errorf("beginning long work: %w", err)
	}
	q.over.Go(func() { q.keep(run) })
	return q, nil
}

// host is the queue of the processes of one computer, which see the same files.
func host() string {
	name, err := os.Hostname()
	if err != nil || name == "" {
		name = "here"
	}
	clean := strings.Map(func(r rune) rune {
		if r >= 'a' && r <= 'z' || r >= '0' && r <= '9' {
			return r
		}
		return '-'
	}, strings.ToLower(name))
	return "on-" + strings.Trim(clean[:min(len(clean), 60)], "-")
}

func (q *Queue) own() string { return "by-" + q.id }

// Close ends what this process does; what it had begun goes back to the queue.
func (q *Queue) Close() {
	q.mu.Lock()
	for _, stop := range q.stops {
		stop(errEnding)
	}
	q.mu.Unlock()
	ctx, cancel := context.WithTimeout(context.Background(), 15*time.Second)
	defer cancel()
	if err := q.client.StopAndCancel(ctx); err != nil {
		q.log.Error("ending long work", "error", err)
	}
	q.stop()
	q.over.Wait()
	if q.held != nil { // nobody keeps it any more
		_ = q.held.Close(ctx)
	}
	q.pool.Close()
}

// live takes the lock that says that this process lives, unless it has it.
func (q *Queue) live(ctx context.Context) error {
	q.living.Lock()
	defer q.living.Unlock()
	if q.held != nil {
		if q.held.Ping(ctx) == nil {
			return nil
		}
		_ = q.held.Close(ctx)
		q.held = nil
	}
	conn, err := pgx.ConnectConfig(ctx, q.pool.Config().ConnConfig)
	if err != nil {
		return err
	}
	if _, err := conn.Exec(ctx, "select pg_advisory_lock($1, hashtext($2))", lockClass, q.id); err != nil {
		_ = conn.Close(ctx)
		return err
	}
	q.held = conn
	return nil
}

// keepEvery is how often a process looks for work of those that died.
const keepEvery = 2 * time.Second

// keep takes up what processes left that live no more, and what ended long ago is forgotten.
func (q *Queue) keep(ctx context.Context) {
	tick := time.NewTicker(keepEvery)
	defer tick.Stop()
	for n := 0; ; n++ {
		if err := q.live(ctx); err == nil {
			if err := q.rescue(ctx); err != nil && ctx.Err() == nil {
				q.log.Warn("looking for work that was left", "error", err)
			}
		}
		if n%1800 == 0 {
			_, _ = q.pool.Exec(ctx, "delete from jobs where state in ('done', 'failed', 'off') and updated_at < $1", time.Now().Add(-keptFor))
		}
		select {
		case <-tick.C:
		case <-ctx.Done():
			return
		}
	}
}

// lives is a condition on somebody's id: whether that process holds its lock.
const lives = `exists (select 1 from pg_locks l where l.locktype = 'advisory' and l.classid = $1::bigint::oid and l.objsubid = 2
	and l.granted and l.database = (select oid from pg_database where datname = current_database())
	and l.objid = ((hashtext(%s)::bigint + 4294967296) %% 4294967296)::oid)`

// rescue gives work back whose process lives no more; what only that process could do has failed.
func (q *Queue) rescue(ctx context.Context) error {
	by := fmt.Sprintf(lives, "attempted_by[array_upper(attempted_by, 1)]")
	if _, err := q.pool.Exec(ctx, `update river_job set state = 'available', scheduled_at = now() where kind = 'work' and state = 'running'
		and not `+by, lockClass); err != nil {
		return err
	}
	rows, err := q.pool.Query(ctx, `update jobs set state = 'failed', problem = 'the server it ran on ended', updated_at = now()
		where state in ('waits', 'runs') and spec ? '_by' and not `+fmt.Sprintf(lives, "spec->>'_by'")+` returning kind, spec`, lockClass)
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		var kind string
		var spec json.RawMessage
		if err := rows.Scan(&kind, &spec); err != nil {
			return err
		}
		if k, ok := q.kinds[kind]; ok && k.After != nil {
			k.After(spec)
		}
	}
	return rows.Err()
}

// Put asks for work. spec is what it needs, kept as JSON, an object; secret what it needs and nobody may keep: it stays in the
// memory of this process, which alone can do a kind that needs one.
func (q *Queue) Put(ctx context.Context, kind, about string, spec map[string]any, secret any) (*Job, error) {
	k, ok := q.kinds[kind]
	if !ok {
		return nil, fmt.Errorf("there is no work of the kind %q", kind)
	}
	if spec == nil {
		spec = map[string]any{}
	}
	queue := host()
	if k.Here {
		queue, spec["_by"] = q.own(), q.id
	}
	text, err := json.Marshal(spec)
	if err != nil {
		return nil, err
	}
	j := &Job{ID: uuid.New(), Kind: kind, About: about, Spec: text, State: Waits, CreatedAt: time.Now().UTC()}
	if secret != nil {
		q.mu.Lock()
		q.secrets[j.ID] = secret
		q.mu.Unlock()
	}
	err = pgx.BeginFunc(ctx, q.pool, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, "insert into jobs (id, kind, about, spec, created_at) values ($1, $2, $3, $4, $5)", j.ID, kind, about, text,
			j.CreatedAt); err != nil {
			return err
		}
		_, err := q.client.InsertTx(ctx, tx, args{j.ID}, &river.InsertOpts{Queue: queue})
		return err
	})
	if err != nil {
		q.forget(j.ID)
		return nil, err
	}
	return j, nil
}

// forget lets go of what work was given that nobody may keep.
func (q *Queue) forget(id uuid.UUID) {
	q.mu.Lock()
	defer q.mu.Unlock()
	delete(q.secrets, id)
}

const columns = "id, kind, about, spec, state, step, result, problem, created_at"

func scan(row pgx.Row) (*Job, error) {
	var j Job
	err := row.Scan(&j.ID, &j.Kind, &j.About, &j.Spec, &j.State, &j.Step, &j.Result, &j.Problem, &j.CreatedAt)
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, ErrNone
	}
	return &j, err
}

// Get is a piece of work as it stands.
func (q *Queue) Get(ctx context.Context, id uuid.UUID) (*Job, error) {
	return scan(q.pool.QueryRow(ctx, "select "+columns+" from jobs where id = $1", id))
}

// Of lists the work of a kind about something, the newest first, without what it came to.
func (q *Queue) Of(ctx context.Context, kind, about string) ([]Job, error) {
	rows, err := q.pool.Query(ctx, "select "+strings.Replace(columns, "result", "null::jsonb", 1)+" from jobs where kind = $1 and about = $2 order by created_at desc limit 50", kind, about)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	out := []Job{}
	for rows.Next() {
		j, err := scan(rows)
		if err != nil {
			return nil, err
		}
		out = append(out, *j)
	}
	return out, rows.Err()
}

// followEvery is how often work is asked after that somebody follows.
const followEvery = 200 * time.Millisecond

// Follow tells how work stands, every time that is something else, until it has ended. It returns how it ended, or the error
// of the context, or of tell.
func (q *Queue) Follow(ctx context.Context, id uuid.UUID, tell func(*Job) error) (*Job, error) {
	tick := time.NewTicker(followEvery)
	defer tick.Stop()
	last := ""
	for {
		j, err := q.Get(ctx, id)
		if err != nil {
			return nil, err
		}
		if now := string(j.State) + string(j.Step); now != last {
			last = now
			if err := tell(j); err != nil {
				return j, err
			}
		}
		if j.State.Ended() {
			return j, nil
		}
		select {
		case <-tick.C:
		case <-ctx.Done():
			return nil, ctx.Err()
		}
	}
}

// CallOff ends work that has not ended: at once where it waits or runs here, else as soon as who does it looks.
func (q *Queue) CallOff(ctx context.Context, id uuid.UUID) error {
	var kind string
	var spec json.RawMessage
	err := q.pool.QueryRow(ctx, `update jobs set called_off = true, state = case when state = 'waits' then 'off' else state end, updated_at = now()
		where id = $1 and state in ('waits', 'runs') returning kind, spec`, id).Scan(&kind, &spec)
	if errors.Is(err, pgx.ErrNoRows) {
		_, err := q.Get(ctx, id)
		return err
	} else if err != nil {
		return err
	}
	q.mu.Lock()
	stop := q.stops[id]
	delete(q.secrets, id)
	q.mu.Unlock()
	if stop != nil {
		stop(errCalledOff)
		return nil
	}
	if j, err := q.Get(ctx, id); err == nil && j.State == Off {
		if k := q.kinds[kind]; k.After != nil {
			k.After(spec)
		}
	}
	return nil
}

// begin marks work as running by this process; ok is false where it has ended meanwhile, or was given up.
func (q *Queue) begin(ctx context.Context, id uuid.UUID) (w Work, ok bool, err error) {
	j, err := scan(q.pool.QueryRow(ctx, `update jobs set state = case when tries >= $3 then 'failed' else 'runs' end,
		problem = case when tries >= $3 then 'it ended the server five times' else '' end, tries = tries + 1, runner = $2, updated_at = now()
		where id = $1 and state in ('waits', 'runs') and not called_off returning `+columns, id, q.id, mostTries))
	if errors.Is(err, ErrNone) { // called off, or done by another
		_, err := q.pool.Exec(ctx, "update jobs set state = 'off', updated_at = now() where id = $1 and state in ('waits', 'runs')", id)
		return w, false, err
	}
	if err != nil {
		return w, false, err
	}
	return Work{Job: *j}, j.State == Runs, nil
}

// work does one piece of work.
func (q *Queue) work(ctx context.Context, job *river.Job[args]) error {
	id := job.Args.ID
	w, ok, err := q.begin(ctx, id)
	k, known := q.kinds[w.Kind]
	switch {
	case err != nil:
		return err
	case !ok && w.Spec == nil:
		return nil
	case !ok:
		if k.After != nil {
			k.After(w.Spec)
		}
		return nil
	case !known:
		return fmt.Errorf("no work of the kind %q is known here", w.Kind)
	}
	run, stop := context.WithCancelCause(ctx)
	defer stop(nil)
	q.mu.Lock()
	w.Secret = q.secrets[id]
	q.stops[id] = stop
	q.mu.Unlock()
	defer func() {
		q.mu.Lock()
		delete(q.stops, id)
		q.mu.Unlock()
	}()
	steps := make(chan any, 1)
	w.Tell = func(step any) {
		select {
		case <-steps: // the last one says more
		default:
		}
		select {
		case steps <- step:
		default:
		}
	}
	told := make(chan struct{})
	go func() {
		defer close(told)
		q.tell(run, id, steps, stop)
	}()
	result, err := q.run(run, k, w)
	why := context.Cause(run)
	stop(nil)
	<-told
	if errors.Is(why, errTaken) { // it is the other's; the queue's row is given back to nobody before that has ended
		_, err := q.Follow(ctx, id, func(*Job) error { return nil })
		if errors.Is(err, ErrNone) {
			return nil
		}
		return err
	}
	if errors.Is(why, errEnding) || ctx.Err() != nil { // another process takes it up, or this one when it is back
		_, _ = q.pool.Exec(context.WithoutCancel(ctx), "update jobs set state = 'waits', runner = '', tries = tries - 1 where id = $1 and runner = $2 and state = 'runs'", id, q.id)
		return river.JobSnooze(0)
	}
	state, problem := Done, ""
	switch {
	case errors.Is(why, errCalledOff):
		state, result = Off, nil
	case err != nil:
		state, problem, result = Failed, err.Error(), nil
	}
	return q.end(context.WithoutCancel(ctx), job, w, state, result, problem)
}

// run does it; a panic is its failure, not the server's.
func (q *Queue) run(ctx context.Context, k Kind, w Work) (result any, err error) {
	defer func() {
		if p := recover(); p != nil {
			q.log.Error("panic", "work", w.Kind, "what", p)
			err = errors.New("something went wrong inside; it is in the log")
		}
	}()
	return k.Run(ctx, w)
}

// end keeps what it came to together with the word that it is done: both or neither.
func (q *Queue) end(ctx context.Context, job *river.Job[args], w Work, state State, result any, problem string) error {
	var text []byte
	if result != nil {
		var err error
		if text, err = json.Marshal(result); err != nil {
			state, problem = Failed, "what it came to cannot be kept"
			q.log.Error("keeping what work came to", "work", w.Kind, "error", err)
		}
	}
	err := pgx.BeginFunc(ctx, q.pool, func(tx pgx.Tx) error {
		kept, err := tx.Exec(ctx, `update jobs set state = $3, result = $4, problem = $5, updated_at = now()
			where id = $1 and runner = $2 and state = 'runs'`, w.ID, q.id, state, text, problem)
		if err != nil {
			return err
		}
		if kept.RowsAffected() == 0 { // another has taken it up meanwhile: what it comes to there counts
			return nil
		}
		_, err = river.JobCompleteTx[*riverpgxv5.Driver](ctx, tx, job)
		return err
	})
	if err != nil {
		return err
	}
	q.forget(w.ID)
	if k := q.kinds[w.Kind]; k.After != nil {
		k.After(w.Spec)
	}
	return nil
}

// tellEvery is how often it is kept how far work is.
const tellEvery = 250 * time.Millisecond

// tell keeps how far work is, and looks whether it was called off elsewhere, until the context ends.
func (q *Queue) tell(ctx context.Context, id uuid.UUID, steps <-chan any, stop context.CancelCauseFunc) {
	tick := time.NewTicker(tellEvery)
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
		var text []byte
		select {
		case s := <-steps:
			text, _ = json.Marshal(s)
		default:
		}
		var off bool
		err := q.pool.QueryRow(ctx, `update jobs set step = coalesce($3, step), updated_at = now() where id = $1 and runner = $2 and state = 'runs'
			returning called_off`, id, q.id, text).Scan(&off)
		switch {
		case errors.Is(err, pgx.ErrNoRows): // this one had lost its lock meanwhile: its database was away
			stop(errTaken)
			return
		case err == nil && off:
			stop(errCalledOff)
			return
		}
	}
}
