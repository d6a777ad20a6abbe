package server

import (
	"context"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/sse"
	"github.com/google/uuid"
)

// RigKept tells that a rig has come to a revision.
type RigKept struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
}

// Still tells that nothing has happened: whoever went away without a word is noticed.
type Still struct{}

// rigEvents are those who wait for any rig to change, with what each has not heard yet: the newest of every rig.
type rigEvents struct {
	sync.Mutex
	of map[*listener]bool
}

type listener struct {
	wake    chan struct{}
	pending map[uuid.UUID]int
}

func (e *rigEvents) join() (*listener, func()) {
	l := &listener{wake: make(chan struct{}, 1), pending: map[uuid.UUID]int{}}
	e.Lock()
	defer e.Unlock()
	if e.of == nil {
		e.of = map[*listener]bool{}
	}
	e.of[l] = true
	return l, func() {
		e.Lock()
		defer e.Unlock()
		delete(e.of, l)
	}
}

func (e *rigEvents) tell(id uuid.UUID, revision int) {
	e.Lock()
	defer e.Unlock()
	for l := range e.of {
		l.pending[id] = revision
		select {
		case l.wake <- struct{}{}:
		default: // it is awake already, and will see this too
		}
	}
}

// heard takes what a listener has not heard yet.
func (e *rigEvents) heard(l *listener) map[uuid.UUID]int {
	e.Lock()
	defer e.Unlock()
	out := l.pending
	l.pending = map[uuid.UUID]int{}
	return out
}

func (a *api) registerEvents(h huma.API, op func(method, path, id, summary string) huma.Operation) {
	sse.Register(h, op("GET", "/api/events", "watchRigs", "Tells when a rig was changed, whoever changed it"),
		map[string]any{"kept": RigKept{}, "still": Still{}}, a.watchRigs)
}

// watchRigs tells of every rig that is changed, until the one who watches leaves.
func (a *api) watchRigs(ctx context.Context, _ *struct{}, send sse.Sender) {
	l, leave := a.events.join()
	defer leave()
	if send.Data(Still{}) != nil {
		return
	}
	still := time.NewTicker(20 * time.Second)
	defer still.Stop()
	for {
		select {
		case <-l.wake:
			for id, revision := range a.events.heard(l) {
				if send.Data(RigKept{id.String(), revision}) != nil {
					return
				}
			}
		case <-still.C:
			if send.Data(Still{}) != nil {
				return
			}
		case <-a.closing:
			return
		case <-ctx.Done():
			return
		}
	}
}
