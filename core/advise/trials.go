package advise

import (
	"context"
	"sync/atomic"

	"eventether/core/parallel"
	"eventether/core/verdict"
)

// helping is how much of the work a second goroutine takes off a judging of moves, in limits weighed: the first twenty
// milliseconds or so. What takes longer leaves the other processors to other requests.
const helping = 25_000

// trials are moves that are judged one by one, in two goroutines at first. Which of them judges a move changes nothing:
// the moves that were judged when the effort ends are always a beginning of the list, and what each took is known.
type trials struct {
	ctx   context.Context
	moves []Move
	took  []int // limits weighed for each
	most  int64 // limits that may be weighed for all

	next, total atomic.Int64
}

// judge judges moves until all are judged, or the effort or the context ends, and gives how many were.
func (t *trials) judge(b *verdict.Base) int {
	t.took = make([]int, len(t.moves))
	wait := parallel.Do(func() { t.some(b.Fork(), helping) })
	t.some(b.Fork(), t.most)
	wait()
	return min(int(t.next.Load()), len(t.moves))
}

// some judges the moves that come next, for about so much work.
func (t *trials) some(b *verdict.Base, most int64) {
	for int64(b.Work) <= most && t.total.Load() <= t.most && t.ctx.Err() == nil {
		i := int(t.next.Add(1)) - 1
		if i >= len(t.moves) {
			return
		}
		was := b.Work
		judgeMove(b, &t.moves[i])
		t.took[i] = b.Work - was
		t.total.Add(int64(t.took[i]))
	}
}
