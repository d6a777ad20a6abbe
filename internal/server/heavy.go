package server

import (
	"context"
	"runtime"
	"sync"
	"time"
)

// mostThought is how long one piece of advice is thought about; what was not finished by then is said.
const mostThought = 3 * time.Second

// mostRest is how long thinking rests at once while somebody waits for something short.
const mostRest = 50 * time.Millisecond

// heavy bounds how many verdicts with advice are worked out at once: more would only share the processors, and the
// memory, with those that ask for little. What is short has room of its own, and what is long rests meanwhile.
type heavy struct {
	longs, shorts chan struct{}

	sync.Mutex
	busy int           // short ones at work
	calm chan struct{} // closed when none is any more
}

func newHeavy() *heavy {
	n := max(1, runtime.GOMAXPROCS(0)-1)
	return &heavy{longs: make(chan struct{}, n), shorts: make(chan struct{}, n)}
}

// long waits for its turn, and works as long as mostThought; the error is the context's.
func (h *heavy) long(ctx context.Context, work func(context.Context)) error {
	return turn(ctx, h.longs, func() {
		short, cancel := context.WithTimeout(ctx, mostThought)
		defer cancel()
		work(resting{short, h})
	})
}

// short is for what is done in a few dozen milliseconds, and waited for by somebody who has just pressed a key.
func (h *heavy) short(ctx context.Context, work func(context.Context)) error {
	return turn(ctx, h.shorts, func() {
		defer h.waited()()
		work(ctx)
	})
}

// waited says that somebody waits for something short, until done is called: what is long rests meanwhile.
func (h *heavy) waited() (done func()) {
	h.Lock()
	defer h.Unlock()
	if h.busy++; h.busy == 1 {
		h.calm = make(chan struct{})
	}
	return func() {
		h.Lock()
		defer h.Unlock()
		if h.busy--; h.busy == 0 {
			close(h.calm)
		}
	}
}

func turn(ctx context.Context, slots chan struct{}, work func()) error {
	select {
	case slots <- struct{}{}:
	case <-ctx.Done():
		return ctx.Err()
	}
	defer func() { <-slots }()
	if ctx.Err() != nil {
		return ctx.Err()
	}
	work()
	return nil
}

// resting is the context of long work: whoever asks it whether to go on rests while something short is at work.
type resting struct {
	context.Context
	heavy *heavy
}

// Err is the context's, after a rest where somebody waits.
func (r resting) Err() error {
	r.heavy.Lock()
	busy, calm := r.heavy.busy > 0, r.heavy.calm
	r.heavy.Unlock()
	if busy {
		after := time.NewTimer(mostRest)
		defer after.Stop()
		select {
		case <-calm:
		case <-after.C:
		case <-r.Done():
		}
	}
	return r.Context.Err()
}
