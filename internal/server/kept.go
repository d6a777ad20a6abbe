package server

import (
	"context"
	"crypto/sha256"
	"runtime"
	"sync/atomic"

	"github.com/google/uuid"
	lru "github.com/hashicorp/golang-lru/v2"

	"eventether/core/advise"
	"eventether/core/judge"
	"eventether/core/rig"
	"eventether/core/verdict"
	"eventether/core/view"
	"eventether/internal/rigfile"
	"eventether/internal/store"
)

// known is a rig that was read and judged, with the advice somebody has waited for. It is never changed but for that.
type known struct {
	*verdict.Verdict
	turn  chan struct{} // one at a time works out the advice; the others wait for it
	full  *view.Verdict
	first atomic.Pointer[Told] // what came at once, as it was sent
}

func knownOf(r *rig.Rig) *known {
	return &known{Verdict: judge.Rig(r), turn: make(chan struct{}, 1)}
}

// verdicts keeps the rigs that were judged last, by the bytes they came in: a page that shows the board, the sockets
// and the power of one rig has it read and judged once.
type verdicts struct {
	of    *lru.Cache[[sha256.Size]byte, *known]
	large chan struct{} // turns of documents that are long: they leave a processor to the short ones
}

// Rigs that are kept, and the longest document worth keeping: some tens of megabytes at most.
const (
	verdictsKept = 32
	longestKept  = 128 << 10
)

// shortDocument is how long a document may be to be judged beside whatever else is: a millisecond or two, as a rule.
const shortDocument = 8 << 10

func newVerdicts() verdicts {
	of, err := lru.New[[sha256.Size]byte, *known](verdictsKept)
	if err != nil {
		panic(err) // only for a size of nothing
	}
	return verdicts{of, make(chan struct{}, max(1, runtime.GOMAXPROCS(0)-1))}
}

// read gives the verdict on a rig document in a request.
func (k verdicts) read(raw []byte) (*known, error) {
	return k.get(raw, func() (*rig.Rig, error) { return rigfile.Read(raw) })
}

// revision gives the verdict on a revision of a kept rig.
func (k verdicts) revision(rev *store.Revision) (*known, error) {
	return k.get(rev.Doc, rev.Rig)
}

func (k verdicts) get(raw []byte, read func() (*rig.Rig, error)) (*known, error) {
	if len(raw) > longestKept {
		return k.judged(raw, read)
	}
	sum := sha256.Sum256(raw)
	if v, ok := k.of.Get(sum); ok {
		return v, nil
	}
	v, err := k.judged(raw, read)
	if err == nil {
		k.of.Add(sum, v)
	}
	return v, err
}

// judged reads and judges a document, a long one in its turn.
func (k verdicts) judged(raw []byte, read func() (*rig.Rig, error)) (*known, error) {
	if len(raw) > shortDocument {
		k.large <- struct{}{}
		defer func() { <-k.large }()
	}
	r, err := read()
	if err != nil {
		return nil, failed(err)
	}
	return knownOf(r), nil
}

// whole is the verdict with all its advice, worked out in its turn, and once.
func (a *api) whole(ctx context.Context, k *known) (*view.Verdict, error) {
	select {
	case k.turn <- struct{}{}:
	case <-ctx.Done():
		return nil, failed(ctx.Err())
	}
	defer func() { <-k.turn }()
	if k.full != nil {
		return k.full, nil
	}
	out, err := a.advised(ctx, k.Verdict, advise.Effort)
	if err != nil {
		return nil, err
	}
	if out.Advice.Complete {
		k.full = &out
	}
	return &out, nil
}

// soonest is the verdict with the advice there is by now, or that comes at once; worked out and written once.
func (a *api) soonest(ctx context.Context, k *known) (Told, error) {
	var full *view.Verdict
	select {
	case k.turn <- struct{}{}:
		full = k.full
		<-k.turn
	default: // somebody is at it
	}
	if kept := k.first.Load(); kept != nil && (full == nil || kept.Advice.Complete) {
		return *kept, nil
	}
	if full == nil {
		out, err := a.advised(ctx, k.Verdict, soon)
		if err != nil {
			return Told{}, err
		}
		full = &out
	}
	t, err := told(*full)
	if err == nil && ctx.Err() == nil { // advice that was called off is not all that comes at once
		k.first.Store(&t)
	}
	return t, err
}

// judged is a rig as it is kept now, with its verdict.
func (a *api) judged(ctx context.Context, id uuid.UUID) (*known, error) {
	get, cancel := limited(ctx)
	defer cancel()
	_, rev, err := a.store.Get(get, id, 0)
	if err != nil {
		return nil, failed(err)
	}
	return a.verdicts.revision(&rev)
}
