package server

import (
	"context"
	"sync"
	"sync/atomic"

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
	kept  *lru.Cache[uuid.UUID, *unfolding]
	holds func(bytes int64) // told how much they take, about
}

type unfolding struct {
	sync.Mutex
	state *night.State
	bytes atomic.Int64
}

// opBytes is what an operation takes besides its texts, about [measured].
const opBytes = 600

func newFolded(holds func(bytes int64)) *folded {
	kept, err := lru.New[uuid.UUID, *unfolding](showsKept)
	if err != nil {
		panic(err) // the size is above zero
	}
	return &folded{kept: kept, holds: holds}
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
	more := int64(0)
	for i := range ops {
		u.state.Add(ops[i])
		more += opBytes
		ops[i].EachText(func(_ string, text *string) { more += int64(len(*text)) })
	}
	if u.bytes.Add(more); more > 0 && f.holds != nil {
		f.holds(f.bytes())
	}
	at(u.state)
	return nil
}

// bytes is what all of them take, about.
func (f *folded) bytes() (sum int64) {
	f.Lock()
	defer f.Unlock()
	for _, u := range f.kept.Values() {
		sum += u.bytes.Load()
	}
	return sum
}
