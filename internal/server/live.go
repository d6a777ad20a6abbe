package server

import (
	"context"
	"sync"

	"github.com/google/uuid"
	lru "github.com/hashicorp/golang-lru/v2"

	"eventether/core/night"
	"eventether/internal/store"
)

// showsKept is how many shows are kept folded up: those that are looked at.
const showsKept = 8

// folded keeps shows that are looked at folded up, so that a tick costs what it changes, however long the show is.
type folded struct {
	sync.Mutex
	kept *lru.Cache[uuid.UUID, *unfolding]
}

type unfolding struct {
	sync.Mutex
	state *night.State
}

func newFolded() *folded {
	kept, err := lru.New[uuid.UUID, *unfolding](showsKept)
	if err != nil {
		panic(err) // the size is above zero
	}
	return &folded{kept: kept}
}

// look brings a show up to what is in the database and hands it over; nobody else looks at it meanwhile.
func (f *folded) look(ctx context.Context, st *store.Store, id uuid.UUID, at func(*night.State)) error {
	f.Lock()
	u, ok := f.kept.Get(id)
	if !ok {
		u = &unfolding{state: night.NewState()}
		f.kept.Add(id, u)
	}
	f.Unlock()
	u.Lock()
	defer u.Unlock()
	ops, err := st.Ops(ctx, id, u.state.Seq())
	if err != nil {
		return err
	}
	for i := range ops {
		u.state.Add(ops[i])
	}
	at(u.state)
	return nil
}
