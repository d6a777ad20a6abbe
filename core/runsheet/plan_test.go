package runsheet

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// someTasks are random tasks of whole minutes: chains, places, unattended ones.
func someTasks(t *rapid.T, most int) []task {
	tasks := make([]task, rapid.IntRange(1, most).Draw(t, "tasks"))
	for i := range tasks {
		tasks[i] = task{id: strconv.Itoa(i), minutes: float64(rapid.IntRange(1, 6).Draw(t, "minutes")),
			people: rapid.IntRange(0, 2).Draw(t, "people"), place: rapid.IntRange(-1, 2).Draw(t, "place")}
		for a := range i {
			if rapid.IntRange(0, 3).Draw(t, "waits") == 0 {
				tasks[i].after = append(tasks[i].after, a)
			}
		}
	}
	return tasks
}

// sound fails when a plan breaks a rule: it looks at every minute by itself.
func sound(t require.TestingT, tasks []task, starts []float64, people int, length float64) {
	busy := func(m float64, i int) bool { return starts[i] <= m && m < starts[i]+tasks[i].minutes }
	for i := range tasks {
		for _, a := range tasks[i].after {
			require.GreaterOrEqual(t, starts[i], starts[a]+tasks[a].minutes-1e-6)
		}
		require.LessOrEqual(t, starts[i]+tasks[i].minutes, length+1e-6)
	}
	for m := 0.25; m < length; m += 0.5 {
		held, there := 0, map[int]int{}
		for i := range tasks {
			if busy(m, i) {
				held += min(tasks[i].people, people)
				there[tasks[i].place]++
			}
		}
		require.LessOrEqual(t, held, people)
		for p, n := range there {
			require.False(t, p >= 0 && n > 1, "two steps at one place")
		}
	}
}

// shortest tries every start in whole minutes of every task: another way than the planner's, for few tasks.
func shortest(tasks []task, people int) float64 {
	sum := 0.0
	for i := range tasks {
		sum += tasks[i].minutes
	}
	best := sum
	starts := make([]float64, len(tasks))
	var try func(i int, length float64)
	try = func(i int, length float64) {
		if i == len(tasks) {
			best = min(best, length)
			return
		}
		from := 0.0
		for _, a := range tasks[i].after {
			from = max(from, starts[a]+tasks[a].minutes)
		}
		for at := from; at+tasks[i].minutes < best+0.5; at++ {
			ok := true
			for m := at + 0.5; m < at+tasks[i].minutes && ok; m++ {
				held, there := min(tasks[i].people, people), 0
				for k := range i {
					if starts[k] < m && m < starts[k]+tasks[k].minutes {
						held += min(tasks[k].people, people)
						if tasks[k].place == tasks[i].place && tasks[i].place >= 0 {
							there++
						}
					}
				}
				ok = held <= people && there == 0
			}
			if ok && max(length, at+tasks[i].minutes) < best {
				starts[i] = at
				try(i+1, max(length, at+tasks[i].minutes))
			}
		}
	}
	try(0, 0)
	return best
}

// For few steps the plan is the shortest there is, and says so; every plan keeps the rules, and none is shorter than
// its bound.
func TestPlanAgainstAllPlans(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		tasks := someTasks(t, 6)
		people := rapid.IntRange(1, 3).Draw(t, "of us")
		starts, length, atLeast := schedule(tasks, people, 1_000_000)
		sound(t, tasks, starts, people, length)
		require.InDelta(t, shortest(tasks, people), length, 1e-6)
		require.InDelta(t, length, atLeast, 1e-6)
	})
}

func TestLongPlans(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		tasks := someTasks(t, 40)
		people := rapid.IntRange(1, 3).Draw(t, "of us")
		starts, length, atLeast := schedule(tasks, people, 2000)
		sound(t, tasks, starts, people, length)
		require.LessOrEqual(t, atLeast, length+1e-6)
	})
}

// A step is critical when a minute more there makes all a minute later, with everybody's order of work kept; a step
// that is not can take a little longer at no cost.
func TestCriticalIsExact(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		tasks := someTasks(t, 12)
		people := rapid.IntRange(1, 2).Draw(t, "of us")
		starts, length, _ := schedule(tasks, people, 3000)
		turns := share(tasks, starts, people, length)
		for i := range tasks {
			longer := again(tasks, turns, starts, i, 0.25)
			if turns[i].Critical {
				require.InDelta(t, length+0.25, longer, 1e-6, "%d of %+v", i, turns)
			} else {
				require.InDelta(t, length, longer, 1e-6, "%d of %+v", i, turns)
			}
		}
	})
}

// again works a plan through with one step longer, everybody and every place keeping their order.
func again(tasks []task, turns []Turn, starts []float64, longer int, by float64) float64 {
	order := make([]int, len(tasks))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		return int(math.Copysign(1, starts[a]-starts[b])) * b2i(starts[a] != starts[b])
	})
	end := make([]float64, len(tasks))
	until, there := map[string]float64{}, map[int]float64{}
	all := 0.0
	for _, i := range order {
		at := 0.0
		for _, a := range tasks[i].after {
			at = max(at, end[a])
		}
		for _, w := range turns[i].Who {
			at = max(at, until[fmt.Sprint(w)])
		}
		if tasks[i].place >= 0 {
			at = max(at, there[tasks[i].place])
		}
		end[i] = at + tasks[i].minutes
		if i == longer {
			end[i] += by
		}
		for _, w := range turns[i].Who {
			until[fmt.Sprint(w)] = end[i]
		}
		if tasks[i].place >= 0 {
			there[tasks[i].place] = end[i]
		}
		all = max(all, end[i])
	}
	return all
}

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
}

// A long chain, as a sheet from elsewhere may have: planning goes by its length, and little more.
func BenchmarkChain(b *testing.B) {
	for _, n := range []int{200, 2000} {
		tasks := make([]task, n)
		for i := range tasks {
			tasks[i] = task{id: strconv.Itoa(i), minutes: 1 + float64(i)/1000, people: 1, place: -1}
			if i > 0 {
				tasks[i].after = []int{i - 1}
			}
		}
		b.Run(strconv.Itoa(n), func(b *testing.B) {
			for b.Loop() {
				schedule(tasks, 2, 0)
			}
		})
	}
}
