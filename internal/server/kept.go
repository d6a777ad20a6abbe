package server

import (
	"crypto/sha256"

	lru "github.com/hashicorp/golang-lru/v2"

	"eventether/core/judge"
	"eventether/internal/rigfile"
	"eventether/internal/store"
)

// verdicts keeps the rigs that were read and judged last, by the bytes they came in: a page that shows the board, the sockets
// and the power of one rig has it read and judged once. What is kept is never changed.
type verdicts struct {
	known *lru.Cache[[sha256.Size]byte, *judge.Verdict]
}

// Rigs that are kept, and the longest document worth keeping: some tens of megabytes at most.
const (
	verdictsKept = 64
	longestKept  = 256 << 10
)

func newVerdicts() verdicts {
	known, err := lru.New[[sha256.Size]byte, *judge.Verdict](verdictsKept)
	if err != nil {
		panic(err) // only for a size of nothing
	}
	return verdicts{known}
}

// read gives the verdict on a rig document in a request.
func (k verdicts) read(raw []byte) (*judge.Verdict, error) {
	return k.of(raw, func() (*judge.Verdict, error) {
		r, err := rigfile.Read(raw)
		if err != nil {
			return nil, failed(err)
		}
		return judge.Rig(r), nil
	})
}

// revision gives the verdict on a revision of a kept rig.
func (k verdicts) revision(rev *store.Revision) (*judge.Verdict, error) {
	return k.of(rev.Doc, func() (*judge.Verdict, error) {
		r, err := rev.Rig()
		if err != nil {
			return nil, failed(err)
		}
		return judge.Rig(r), nil
	})
}

func (k verdicts) of(raw []byte, judged func() (*judge.Verdict, error)) (*judge.Verdict, error) {
	if len(raw) > longestKept {
		return judged()
	}
	sum := sha256.Sum256(raw)
	if v, ok := k.known.Get(sum); ok {
		return v, nil
	}
	v, err := judged()
	if err == nil {
		k.known.Add(sum, v)
	}
	return v, err
}
