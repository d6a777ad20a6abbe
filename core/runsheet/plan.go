package runsheet

import (
	"cmp"
	"container/heap"
	"math"
	"slices"
	"sort"
)

// Plan is who does what when, for so many people: as early as it can be, counted in minutes from the start of work.
type Plan struct {
	People  int     `json:"people"`
	Minutes float64 `json:"minutes" doc:"From the start of work until everything before air is done"`
	// AtLeast is what no order of the steps can be shorter than; equal to Minutes when the plan is the best there is.
	AtLeast float64 `json:"atLeast"`
	Proven  bool    `json:"proven" doc:"No other order is shorter"`
	// Start is minutes before air at which work begins, with Margin left for nothing.
	Start float64 `json:"start"`
	Turns []Turn  `json:"turns"`
}

// Turn is one step in a plan.
type Turn struct {
	Step     string  `json:"step"`
	Start    float64 `json:"start" doc:"Minutes from the start of work"`
	End      float64 `json:"end"`
	Who      []int   `json:"who" doc:"Which people, from 1; none where nobody has to stand by"`
	Critical bool    `json:"critical" doc:"A minute more here makes everything a minute later, with the work shared out as it is"`
}

// Margin is left before air for nothing, in minutes [estimate].
const Margin = 15

// task is a step as the planner sees it.
type task struct {
	id      string
	minutes float64
	people  int // that it holds
	place   int // -1 for anywhere: one step at a time at a place
	after   []int
}

// same is how near two times may be to be one.
const same = 1e-9

// schedule plans tasks for so many people. Every order of the tasks in which none comes before what it waits for gives
// one plan, each task as early as it can be behind those before it in the order; one of them is the best there is
// (serial generation: Kolisch, 1996 [memory]). A few rules of thumb make the first; each is pushed to the end and back
// to the beginning, which closes gaps (double justification: Valls and others, 2005 [memory]). Few tasks are then tried
// in every order, until the shortest length that can be proven is reached, or effort tasks have been placed.
func schedule(tasks []task, people, effort int) (starts []float64, length, atLeast float64) {
	s := newScheduler(tasks, people)
	s.best, s.atLeast = math.Inf(1), s.bound()
	back := newScheduler(reversed(tasks), people)
	for _, rank := range s.thumbs() {
		for range pushes {
			at, end := s.serial(rank)
			if end >= s.best-same {
				break
			}
			s.best, s.bestAt = end, at
			if end <= s.atLeast+same {
				return s.bestAt, s.best, s.atLeast
			}
			late, _ := back.serial(ranked(len(tasks), func(i int) float64 { return -(at[i] + tasks[i].minutes) }))
			rank = ranked(len(tasks), func(i int) float64 { return -(late[i] + tasks[i].minutes) })
		}
	}
	if len(tasks) > mostOrders {
		return s.bestAt, s.best, s.atLeast
	}
	s.effort = effort
	s.reset()
	s.deepen(0, 0)
	if s.effort > 0 { // every order was tried, or was not worth it
		s.atLeast = s.best
	}
	return s.bestAt, s.best, s.atLeast
}

// mostOrders is up to how many tasks every order is tried, and pushes how often a plan is pushed to the end and back.
const (
	mostOrders = 20
	pushes     = 6
)

// reversed are the tasks of the evening run backwards.
func reversed(tasks []task) []task {
	out := make([]task, len(tasks))
	for i := range tasks {
		out[i] = tasks[i]
		out[i].after = nil
	}
	for i := range tasks {
		for _, a := range tasks[i].after {
			out[a].after = append(out[a].after, i)
		}
	}
	return out
}

// ranked ranks tasks by a figure, the lowest first.
func ranked(n int, by func(i int) float64) []int {
	order := make([]int, n)
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(by(a), by(b)) })
	rank := make([]int, n)
	for r, i := range order {
		rank[i] = r
	}
	return rank
}

type scheduler struct {
	tasks  []task
	people int
	tail   []float64 // the longest chain behind a task, with the task
	head   []float64 // the longest chain before it
	later  [][]int   // what waits for it
	places int

	free    profile
	at      []profile // by place
	done    []bool
	starts  []float64
	effort  int
	best    float64
	atLeast float64
	bestAt  []float64
}

func newScheduler(tasks []task, people int) *scheduler {
	s := &scheduler{tasks: tasks, people: people, tail: make([]float64, len(tasks)), head: make([]float64, len(tasks)),
		later: make([][]int, len(tasks))}
	for i := range tasks {
		s.places = max(s.places, tasks[i].place+1)
		for _, a := range tasks[i].after {
			s.later[a] = append(s.later[a], i)
		}
	}
	s.at = make([]profile, s.places)
	s.done, s.starts = make([]bool, len(tasks)), make([]float64, len(tasks))
	order := s.topological()
	for _, i := range order {
		for _, a := range tasks[i].after {
			s.head[i] = max(s.head[i], s.head[a]+tasks[a].minutes)
		}
	}
	for _, i := range slices.Backward(order) {
		for _, l := range s.later[i] {
			s.tail[i] = max(s.tail[i], s.tail[l])
		}
		s.tail[i] += tasks[i].minutes
	}
	return s
}

// topological orders tasks so that none comes before what it waits for.
func (s *scheduler) topological() []int {
	waits := make([]int, len(s.tasks))
	var ready, out []int
	for i := range s.tasks {
		if waits[i] = len(s.tasks[i].after); waits[i] == 0 {
			ready = append(ready, i)
		}
	}
	for len(ready) > 0 {
		i := ready[0]
		ready = ready[1:]
		out = append(out, i)
		for _, l := range s.later[i] {
			if waits[l]--; waits[l] == 0 {
				ready = append(ready, l)
			}
		}
	}
	return out
}

func (s *scheduler) holds(i int) int { return min(s.tasks[i].people, s.people) }

// bound is what no plan is shorter than: the longest chain; and of any tasks that cannot begin before some time, and
// have to be over some time before the end, the time between: their work shared out among all people, and that at each
// place one by one.
func (s *scheduler) bound() float64 {
	least := 0.0
	heads, tails := []float64{0}, []float64{0}
	for i := range s.tasks {
		least = max(least, s.head[i]+s.tail[i])
		heads, tails = append(heads, s.head[i]), append(tails, s.tail[i]-s.tasks[i].minutes)
	}
	heads, tails = some(heads), some(tails)
	there := make([]float64, s.places)
	for _, head := range heads {
		for _, tail := range tails {
			sum := 0.0
			clear(there)
			for i := range s.tasks {
				if t := &s.tasks[i]; s.head[i] >= head && s.tail[i]-t.minutes >= tail {
					sum += float64(s.holds(i)) * t.minutes
					if t.place >= 0 {
						there[t.place] += t.minutes
					}
				}
			}
			most := sum / float64(s.people)
			for _, m := range there {
				most = max(most, m)
			}
			if most > 0 {
				least = max(least, head+most+tail)
			}
		}
	}
	return least
}

// mostTimes is between how many times of a plan the work is added up for a bound: of more, so many of them spread
// evenly. What is not looked at can only leave the bound lower.
const mostTimes = 64

// some are different times in their order, spread evenly where there are many.
func some(times []float64) []float64 {
	slices.Sort(times)
	times = slices.Compact(times)
	if len(times) <= mostTimes {
		return times
	}
	out := make([]float64, mostTimes)
	for i := range out {
		out[i] = times[i*(len(times)-1)/(mostTimes-1)]
	}
	return out
}

// thumbs are ranks worth trying first: as listed, the longest tail first, the most held first, and by the latest start.
func (s *scheduler) thumbs() [][]int {
	n := len(s.tasks)
	return [][]int{
		ranked(n, func(i int) float64 { return 0 }), // as listed: of plans as short, the one in the usual order
		ranked(n, func(i int) float64 { return -s.tail[i] }),
		ranked(n, func(i int) float64 { return -1e4*float64(s.holds(i)) - s.tail[i] }),
		ranked(n, func(i int) float64 { return s.head[i] - s.tail[i] }),
		ranked(n, func(i int) float64 { return s.tasks[i].minutes/2 - s.tail[i] }),
	}
}

func (s *scheduler) reset() {
	s.free.clear()
	for i := range s.at {
		s.at[i].clear()
	}
	clear(s.done)
}

// serial places the tasks one by one, of those that may come next the one of the lowest rank.
func (s *scheduler) serial(rank []int) (starts []float64, length float64) {
	s.reset()
	next := &byRank{rank: rank}
	waits := make([]int, len(s.tasks))
	for i := range s.tasks {
		if waits[i] = len(s.tasks[i].after); waits[i] == 0 {
			heap.Push(next, i)
		}
	}
	for next.Len() > 0 {
		i := heap.Pop(next).(int)
		s.put(i)
		length = max(length, s.starts[i]+s.tasks[i].minutes)
		for _, l := range s.later[i] {
			if waits[l]--; waits[l] == 0 {
				heap.Push(next, l)
			}
		}
	}
	return slices.Clone(s.starts), length
}

// byRank is a heap of tasks, the one of the lowest rank first.
type byRank struct {
	rank, of []int
}

func (b *byRank) Len() int           { return len(b.of) }
func (b *byRank) Less(i, j int) bool { return b.rank[b.of[i]] < b.rank[b.of[j]] }
func (b *byRank) Swap(i, j int)      { b.of[i], b.of[j] = b.of[j], b.of[i] }
func (b *byRank) Push(x any)         { b.of = append(b.of, x.(int)) }
func (b *byRank) Pop() any {
	last := b.of[len(b.of)-1]
	b.of = b.of[:len(b.of)-1]
	return last
}

func (s *scheduler) ready(i int) bool {
	return !slices.ContainsFunc(s.tasks[i].after, func(a int) bool { return !s.done[a] })
}

// earliest is when a task can start behind all that is placed.
func (s *scheduler) earliest(i int) float64 {
	t := &s.tasks[i]
	from := 0.0
	for _, a := range t.after {
		from = max(from, s.starts[a]+s.tasks[a].minutes)
	}
	for {
		at := s.free.fit(from, t.minutes, s.people-s.holds(i))
		if t.place >= 0 {
			at = s.at[t.place].fit(at, t.minutes, 0)
		}
		if at <= from+same {
			return from
		}
		from = at
	}
}

func (s *scheduler) put(i int) {
	at := s.earliest(i)
	s.starts[i], s.done[i] = at, true
	s.take(i, 1)
}

func (s *scheduler) take(i, sign int) {
	t := &s.tasks[i]
	if n := s.holds(i); n > 0 {
		s.free.add(s.starts[i], s.starts[i]+t.minutes, sign*n)
	}
	if t.place >= 0 {
		s.at[t.place].add(s.starts[i], s.starts[i]+t.minutes, sign)
	}
}

// deepen tries every task that may come next, as long as it may still lead to a shorter plan.
func (s *scheduler) deepen(placed int, length float64) {
	if placed == len(s.tasks) {
		if length < s.best-same {
			s.best, s.bestAt = length, slices.Clone(s.starts)
		}
		return
	}
	for i := range s.tasks {
		if s.done[i] || !s.ready(i) || s.best <= s.atLeast+same {
			continue
		}
		if s.effort--; s.effort <= 0 {
			return
		}
		at := s.earliest(i)
		if at+s.tail[i] >= s.best-same {
			continue
		}
		s.starts[i], s.done[i] = at, true
		s.take(i, 1)
		s.deepen(placed+1, max(length, at+s.tasks[i].minutes))
		s.take(i, -1)
		s.done[i] = false
	}
}

// profile is how much of something is in use over time: from at[k] on, used[k].
type profile struct {
	at   []float64
	used []int
}

func (p *profile) clear() { p.at, p.used = append(p.at[:0], 0), append(p.used[:0], 0) }

// fit is the earliest time not before from at which no more than room is in use for so long.
func (p *profile) fit(from, minutes float64, room int) float64 {
	for k := max(0, sort.SearchFloat64s(p.at, from+same)-1); k < len(p.at); k++ {
		end := math.Inf(1)
		if k+1 < len(p.at) {
			end = p.at[k+1]
		}
		if end <= from+same {
			continue
		}
		if p.at[k] >= from+minutes-same {
			break
		}
		if p.used[k] > room {
			from = end
		}
	}
	return from
}

func (p *profile) add(from, to float64, n int) {
	if to-from <= same {
		return
	}
	a, b := p.cut(from), 0
	b = p.cut(to)
	for k := a; k < b; k++ {
		p.used[k] += n
	}
}

// cut makes t a time where something may change, and gives its place.
func (p *profile) cut(t float64) int {
	k := sort.SearchFloat64s(p.at, t-same)
	if k < len(p.at) && p.at[k] <= t+same {
		return k
	}
	p.at, p.used = slices.Insert(p.at, k, t), slices.Insert(p.used, k, p.used[k-1])
	return k
}

// share gives each task its people, and says which have no time to spare.
func share(tasks []task, starts []float64, people int, length float64) []Turn {
	turns := make([]Turn, len(tasks))
	order := make([]int, len(tasks))
	for i := range tasks {
		turns[i] = Turn{Step: tasks[i].id, Start: tidy(starts[i]), End: tidy(starts[i] + tasks[i].minutes),
			Who: []int{}}
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(starts[a], starts[b]) })
	until, last := make([]float64, people), make([]int, people)
	for i := range last {
		last[i] = -1
	}
	next := make([][]int, len(tasks)) // what can begin only once this has ended, in this plan
	for i := range tasks {
		for _, a := range tasks[i].after {
			next[a] = append(next[a], i)
		}
	}
	there := map[int]int{}
	for _, i := range order {
		t := &tasks[i]
		if t.place >= 0 {
			if before, ok := there[t.place]; ok {
				next[before] = append(next[before], i)
			}
			there[t.place] = i
		}
		free := []int{}
		for p := range people {
			if until[p] <= starts[i]+same {
				free = append(free, p)
			}
		}
		// Whoever stands there goes on; then whoever has waited longest.
		slices.SortStableFunc(free, func(a, b int) int {
			return cmp.Or(-cmp.Compare(stays(tasks, last[a], t.place), stays(tasks, last[b], t.place)),
				cmp.Compare(until[a], until[b]), cmp.Compare(a, b))
		})
		for _, p := range free[:min(t.people, people, len(free))] {
			if last[p] >= 0 {
				next[last[p]] = append(next[last[p]], i)
			}
			until[p], last[p] = starts[i]+t.minutes, i
			turns[i].Who = append(turns[i].Who, p+1)
		}
		slices.Sort(turns[i].Who)
	}
	latest := make([]float64, len(tasks))
	for _, i := range slices.Backward(order) {
		latest[i] = length
		for _, n := range next[i] {
			latest[i] = min(latest[i], latest[n]-tasks[n].minutes)
		}
		turns[i].Critical = latest[i]-(starts[i]+tasks[i].minutes) <= 1e-6
	}
	return turns
}

func stays(tasks []task, last, place int) int {
	if last >= 0 && place >= 0 && tasks[last].place == place {
		return 1
	}
	return 0
}

// tidy keeps sums of decimals readable.
func tidy(m float64) float64 { return math.Round(m*1e6) / 1e6 }
