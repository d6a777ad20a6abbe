package place

import (
	"cmp"
	"math"
	"math/bits"
	"slices"

	"eventether/core/fact"
)

// Solve finds the best placing. Nil and proven means that there is none; nil and not proven that the search was
// stopped, or that there are more than MostDevices.
//
// Ports that share anything make a domain, as a rule one for each controller. For a domain and a set of devices the
// best that can be done there is a small problem of its own (inner); the best for all devices is then the best way to
// share them out: for every set the best over its parts (a dynamic program over subsets). That is exact, because losses
// and moves add up over domains and the worst bus is the worst of theirs: a first sweep finds the least loss and the
// lowest worst bus, a second one the fewest moves that keep the loss and the state of the worst bus, and more of these
// the lowest worst bus so many moves can have.
func Solve(p *Problem, o Options) (best *Placing, proven bool) {
	if len(p.Devices) > MostDevices {
		return nil, false
	}
	s, ok := newSearch(p, o)
	if !ok {
		return nil, true
	}
	// What has to be lost is not known yet: it is looked for below a ceiling that rises, since a low one prunes most.
	var first *share
	lowest := s.atLeast(uint32(1)<<len(p.Devices)-1, s.roomOfAll())
	if math.IsInf(lowest, 1) {
		return nil, true
	}
	for step := int(math.Ceil(lowest-1e-6)) - s.bound; first == nil && !s.stopped; step += 1 + step/2 {
		ceiling := min(s.bound+step, s.most)
		first = s.sweep(1, 1, ceiling)
		if ceiling == s.most {
			break
		}
		if first == nil {
			s.proved = ceiling + 1
		}
	}
	if s.stopped {
		s.report()
		return s.quick(), false
	}
	if first == nil {
		return nil, true
	}
	even := s.placing(first)
	state := 1.0
	if !even.taut() {
		state = Ceiling
	}
	second := s.sweep(2, state*(1+tolerance)+tolerance, even.Loss)
	if second == nil { // stopped
		return even, false
	}
	best = s.placing(second)
	// As few moves, and the lowest worst bus so many can have: halfway down, until one step below takes more.
	for floor := even.Ratio; best.Ratio > floor+tolerance; {
		at, last := (best.Ratio+floor)/2, best.Ratio-floor < 0.02
		if last {
			at = best.Ratio - 2*tolerance
		}
		lower := s.sweep(2, at, even.Loss)
		if s.stopped {
			return best, false
		}
		var next *Placing
		if lower != nil {
			next = s.placing(lower)
		}
		switch {
		case next != nil && next.Moves <= best.Moves && next.Ratio < best.Ratio:
			best = next
		case last:
			floor = best.Ratio
		default:
			floor = at
		}
	}
	best.Proven = true
	if even.Ratio < best.Ratio-tolerance {
		if lowest := s.sweep(2, even.Ratio*(1+tolerance)+tolerance, even.Loss); lowest != nil {
			even = s.placing(lowest)
		}
		best.Even = even
	}
	return best, true
}

// saving is one step down in format along the lower hull of a device's loss against its need.
type saving struct {
	device       int
	saves, costs float64
}

// hulls works the savings of every device out, the ones that save most for their loss first.
func (s *search) hulls() {
	for d := range s.Devices {
		now, lost := s.leastNeed(d, 0), s.least[d]
		for {
			best, to, at := saving{}, 0.0, 0
			for i := range s.Devices[d].Formats {
				f := &s.Devices[d].Formats[i]
				v := f.Fast
				if f.High >= 0 {
					v = 0
				}
				if f.Loss <= lost || v >= now {
					continue
				}
				if c := (saving{d, now - v, float64(f.Loss - lost)}); best.costs == 0 ||
					c.saves*best.costs > best.saves*c.costs {
					best, to, at = c, v, f.Loss
				}
			}
			if best.costs == 0 {
				break
			}
			s.savings = append(s.savings, best)
			now, lost = to, at
		}
	}
	slices.SortStableFunc(s.savings, func(a, b saving) int { return cmp.Compare(b.saves*a.costs, a.saves*b.costs) })
}

// atLeast bounds from below what a set of devices loses in so much room on fast buses: what saves room is bought where
// it costs least, in fractions. +Inf when even the least formats do not fit.
func (s *search) atLeast(set uint32, room float64) float64 {
	need, loss := 0.0, 0.0
	for rest := set; rest != 0; rest &= rest - 1 {
		d := bits.TrailingZeros32(rest)
		need += s.leastNeed(d, 0)
		loss += float64(s.least[d])
	}
	room = room*(1+tolerance) + tolerance
	for i := range s.savings {
		if need <= room {
			return loss
		}
		if x := &s.savings[i]; set&(1<<x.device) != 0 {
			part := min(1, (need-room)/x.saves)
			need -= part * x.saves
			loss += part * x.costs
		}
	}
	if need <= room*(1+1e-6)+1e-6 {
		return loss
	}
	return math.Inf(1)
}

// roomOfAll is what all controllers carry together; +Inf where a domain has no one controller.
func (s *search) roomOfAll() float64 {
	room := 0.0
	for k := range s.domains {
		r := s.root(k)
		if r < 0 {
			return math.Inf(1)
		}
		room += s.Resources[r].Cap
	}
	return room
}

// class is a set of ports that are alike: same plug, side, current and resources.
type class struct {
	Port
	members []int
}

// domain is a set of classes that share something with each other and nothing with the rest.
type domain struct {
	classes []int
	ports   int
}

// value is what a set of devices comes to in a domain: loss, then the worst bus or the moves.
type value struct {
	loss   int32
	second float64
}

var impossible = value{math.MaxInt32, 0}

func (a value) less(b value) bool {
	if a.loss != b.loss {
		return a.loss < b.loss
	}
	return a.second < b.second-tolerance
}

// taking is what a device in a format on a class takes of one resource.
type taking struct {
	resource int
	amount   float64
	bus      bool
}

type search struct {
	*Problem
	o       Options
	classes []class
	domains []domain
	fits    [][]int // device -> classes
	least   []int   // device -> its least loss
	tried   int64
	stopped bool
	bound   int // the least every device loses, in all
	most    int // the most they can lose
	proved  int // less than this cannot be lost
	sweeps  int
	done    float64

	tables [][]value // domain -> set: what the first sweep found, good for every ceiling

	savings []saving
	order   []int     // devices, the neediest first
	alike   []uint32  // device -> the devices that are the same
	needs   []float64 // device -> the least it takes of a fast bus in any format
	roots   []int     // domain -> its controller's fast bus, or -1
	waysIn  [][][]int // domain, device -> classes there

	taking [][][][]taking // device, format, class
	home   [][]bool       // device, class: it is there now
	inside [][]int        // class -> classes that are the same but for a lower current

	// Of the inner problem under way.
	in inner
}

func newSearch(p *Problem, o Options) (*search, bool) {
	s := &search{Problem: p, o: o}
	for i := range p.Ports {
		q := &p.Ports[i]
		at := slices.IndexFunc(s.classes, func(c class) bool {
			return c.Plug == q.Plug && c.High == q.High && c.Open == q.Open && c.MaxMW == q.MaxMW &&
				slices.Equal(c.Uses, q.Uses)
		})
		if at < 0 {
			s.classes = append(s.classes, class{Port: *q})
			at = len(s.classes) - 1
		}
		s.classes[at].members = append(s.classes[at].members, i)
	}
	// The weaker sockets first: wasteful and twin both go by it, and must not contradict each other.
	current := func(c class) float64 {
		if c.MaxMW == 0 {
			return math.Inf(1)
		}
		return c.MaxMW
	}
	slices.SortStableFunc(s.classes, func(a, b class) int { return cmp.Compare(current(a), current(b)) })
	for d := range p.Devices {
		dev := &p.Devices[d]
		var fits []int
		for c := range s.classes {
			if s.classes[c].Plug == dev.Plug && (s.classes[c].MaxMW == 0 || !fact.Over(dev.MW, s.classes[c].MaxMW)) &&
				(!dev.Fixed || slices.Contains(s.classes[c].members, dev.Now)) {
				fits = append(fits, c)
			}
		}
		s.fits = append(s.fits, fits)
		least := math.MaxInt
		for i := range dev.Formats {
			least = min(least, dev.Formats[i].Loss)
		}
		s.least = append(s.least, least)
		if len(fits) == 0 || len(dev.Formats) == 0 {
			return nil, false
		}
		s.bound += least
		most := 0
		for i := range dev.Formats {
			most = max(most, dev.Formats[i].Loss)
		}
		s.most += most
	}
	s.proved = s.bound
	s.split()
	s.weigh()
	s.hulls()
	s.in.load = make([]float64, len(p.Resources))
	s.in.free = make([]int, len(s.classes))
	s.in.class = make([]int, len(p.Devices))
	s.in.format = make([]int, len(p.Devices))
	return s, true
}

// split finds the domains: classes are joined while they share a resource.
func (s *search) split() {
	of := make([]int, len(s.classes))
	for i := range of {
		of[i] = i
	}
	var root func(i int) int
	root = func(i int) int {
		if of[i] != i {
			of[i] = root(of[i])
		}
		return of[i]
	}
	by := map[int]int{}
	for i := range s.classes {
		for _, r := range s.classes[i].Uses {
			if j, ok := by[r]; ok {
				of[root(i)] = root(j)
			} else {
				by[r] = i
			}
		}
	}
	at := map[int]int{}
	for i := range s.classes {
		k, ok := at[root(i)]
		if !ok {
			k = len(s.domains)
			at[root(i)] = k
			s.domains = append(s.domains, domain{})
		}
		s.domains[k].classes = append(s.domains[k].classes, i)
		s.domains[k].ports += len(s.classes[i].members)
	}
}

// tick counts a step and now and then looks whether to stop, and reports.
func (s *search) tick() bool {
	s.tried++
	if s.o.Effort > 0 && s.tried >= s.o.Effort {
		s.stopped = true
	}
	if s.tried&0xfff == 0 {
		if s.o.Stop != nil && s.o.Stop() {
			s.stopped = true
		}
		s.report()
	}
	return !s.stopped
}

func (s *search) report() {
	if s.o.Report != nil {
		s.o.Report(Progress{s.sweeps, s.done, s.proved, s.tried})
	}
}

// share is how a set is shared out: what the last domain gets, for every domain and set.
type share struct {
	goal  goal
	parts [][]uint32 // domain -> set -> the part this domain takes
}

type goal struct {
	moves   bool
	limit   float64
	ceiling int // on the loss of all
}

// sweep finds for every set of devices the best sharing over the domains. The first sweep minimizes loss and the worst
// bus, the second loss and moves with every bus within limit. Nil when there is none, or it was stopped.
func (s *search) sweep(n int, limit float64, ceiling int) *share {
	s.sweeps, s.done = n, 0
	sh := &share{goal: goal{n == 2, limit, ceiling}}
	sets := 1 << len(s.Devices)
	all := uint32(sets - 1)
	before := make([]value, sets)
	for i := range before {
		before[i] = impossible
	}
	before[0] = value{}
	for k := range s.domains {
		here := s.table(k, sh.goal, k == len(s.domains)-1 && k == 0)
		if s.stopped {
			return nil
		}
		now, parts := s.merge(before, here, k, sh.goal)
		if s.stopped {
			return nil
		}
		before = now
		sh.parts = append(sh.parts, parts)
		s.done = float64(k+1) / float64(len(s.domains))
	}
	s.report()
	if before[all] == impossible || int(before[all].loss) > ceiling {
		return nil
	}
	s.proved = int(before[all].loss)
	return sh
}

// merge shares sets out between the domains before and the k-th: for every set the best of all ways to split it, and
// the part the k-th takes. Of the last domain only the set of all counts.
func (s *search) merge(before, here []value, k int, g goal) (now []value, parts []uint32) {
	sets := len(before)
	all := uint32(sets - 1)
	now, parts = make([]value, sets), make([]uint32, sets)
	for i := range now {
		now[i] = impossible
	}
	try := func(r, t uint32) {
		a, b := before[r], here[t]
		if a.loss == impossible.loss || int(a.loss+b.loss) > g.ceiling {
			return
		}
		v := value{a.loss + b.loss, a.second + b.second}
		if !g.moves {
			v.second = max(a.second, b.second)
		}
		if v.less(now[r|t]) {
			now[r|t], parts[r|t] = v, t
		}
	}
	for t := range uint32(sets) {
		if here[t].loss == impossible.loss {
			continue
		}
		if !s.tick() {
			return now, parts
		}
		rest := all &^ t
		switch {
		case k == len(s.domains)-1:
			try(rest, t)
		case k == 0:
			try(0, t)
		default:
			for r := rest; ; r = (r - 1) & rest {
				try(r, t)
				if s.tried += 1; r&0xfff == 0 && !s.tick() {
					return now, parts
				}
				if r == 0 {
					break
				}
			}
		}
	}
	return now, parts
}

// table is the best a domain can do for every set of devices; with whole only the set of all is worked out.
func (s *search) table(k int, g goal, whole bool) []value {
	sets := uint32(1) << len(s.Devices)
	out := make([]value, sets)
	var known []value
	if s.tables == nil {
		s.tables = make([][]value, len(s.domains))
	}
	if known = s.tables[k]; !g.moves {
		s.tables[k] = out
	}
	var able uint32 // devices that fit here at all
	for d := range s.Devices {
		if slices.ContainsFunc(s.fits[d], func(c int) bool { return slices.Contains(s.domains[k].classes, c) }) {
			able |= 1 << d
		}
	}
	for t := uint32(1); t < sets; t++ {
		out[t] = impossible
		if t&^able != 0 || bits.OnesCount32(t) > s.domains[k].ports || whole && t != sets-1 {
			continue
		}
		if !whole && !g.moves && s.partImpossible(out, t) {
			continue // what does not fit does not fit with more
		}
		switch {
		case known != nil && !g.moves && known[t] != impossible:
			out[t] = known[t] // whatever the ceiling, it is the best there is
			continue
		case known != nil && g.moves && (known[t] == impossible || known[t].second > g.limit ||
			int(known[t].loss) > g.ceiling):
			continue // loses too much already, or its buses are past the limit at the least it loses
		}
		out[t] = s.inner(k, t, g)
		if s.stopped {
			return out
		}
	}
	return out
}

func (s *search) partImpossible(out []value, t uint32) bool {
	for rest := t; rest != 0; rest &= rest - 1 {
		if out[t&^(rest&-rest)] == impossible {
			return true
		}
	}
	return false
}

// inner is one domain with one set of devices.
type inner struct {
	devs   []int
	ways   [][]int // of devs: the classes of this domain they fit
	least  []int   // least loss of the devices from k on
	need   []float64
	load   []float64
	free   []int
	class  []int
	format []int
	worst  float64
	moves  int
	goal   goal
	best   value
	root   int // the resource every class of the domain uses for its fast side, -1 when there is none
	keep   func()
}

// inner finds the best for a set in a domain by branch and bound: the neediest devices first.
func (s *search) inner(k int, set uint32, g goal) value {
	in := &s.in
	if r := s.roots[k]; r >= 0 {
		least := 0
		for rest := set; rest != 0; rest &= rest - 1 {
			least += s.least[bits.TrailingZeros32(rest)]
		}
		if s.atLeast(set, s.Resources[r].Cap*g.limit) > float64(g.ceiling-s.bound+least)+1e-6 {
			return impossible
		}
	}
	in.devs, in.ways = in.devs[:0], in.ways[:0]
	for _, d := range s.order {
		if set&(1<<d) != 0 {
			in.devs = append(in.devs, d)
		}
	}
	in.least = append(in.least[:0], make([]int, len(in.devs)+1)...)
	in.need = append(in.need[:0], make([]float64, len(in.devs)+1)...)
	for i := len(in.devs) - 1; i >= 0; i-- {
		in.least[i] = in.least[i+1] + s.least[in.devs[i]]
		in.need[i] = in.need[i+1] + s.needs[in.devs[i]]
	}
	for _, d := range in.devs {
		in.ways = append(in.ways, s.waysIn[k][d])
	}
	for _, c := range s.domains[k].classes {
		in.free[c] = len(s.classes[c].members)
		for _, r := range s.classes[c].Uses {
			in.load[r] = 0
		}
	}
	in.root = s.roots[k]
	budget := g.ceiling - s.bound + in.least[0] // the others lose their least at least
	in.worst, in.moves, in.goal, in.best = 0, 0, g, value{int32(budget), math.Inf(1)}
	s.walk(0, 0)
	if math.IsInf(in.best.second, 1) {
		return impossible
	}
	return in.best
}

// root is the fast bus every class of a domain uses last, its controller; -1 when they have none in common.
func (s *search) root(k int) int {
	common := -1
	for _, c := range s.domains[k].classes {
		last := -1
		for _, r := range s.classes[c].Uses {
			if s.Resources[r].Kind == FastBus {
				last = r
			}
		}
		if last < 0 || common >= 0 && last != common {
			return -1
		}
		common = last
	}
	return common
}

// leastNeed is the least a device takes of the fast bus when it may lose so much more than its least: nothing when it
// can work on the 480 Mb/s side.
func (s *search) leastNeed(d, extra int) float64 {
	out := math.Inf(1)
	for i := range s.Devices[d].Formats {
		f := &s.Devices[d].Formats[i]
		if f.Loss-s.least[d] > extra {
			continue
		}
		if f.High >= 0 {
			return 0
		}
		out = min(out, f.Fast)
	}
	return out
}

// hopeless tells whether the devices from k on cannot fit, or not well enough, whatever they do.
func (s *search) hopeless(k, lost int) bool {
	in := &s.in
	floor := int32(lost + in.least[k])
	if floor > in.best.loss {
		return true
	}
	second := in.worst
	if in.goal.moves {
		second = float64(in.moves)
	}
	if floor == in.best.loss && second >= in.best.second-tolerance {
		return true
	}
	if in.root < 0 {
		return false
	}
	room := s.Resources[in.root].Cap*in.goal.limit*(1+tolerance) + tolerance - in.load[in.root]
	if in.need[k] > room {
		return true
	}
	// What may be lost beyond the least bounds how little the rest can take.
	spare := int(in.best.loss) - lost - in.least[k]
	total := 0.0
	for _, d := range in.devs[k:] {
		total += s.leastNeed(d, spare)
	}
	if total > room {
		return true
	}
	// At the same loss only a lower bus helps.
	return spare == 0 && !in.goal.moves && (in.load[in.root]+total)/s.Resources[in.root].Cap >= in.best.second-tolerance
}

// walk places the devices from k on.
func (s *search) walk(k, lost int) {
	in := &s.in
	if k == len(in.devs) {
		v := value{int32(lost), in.worst}
		if in.goal.moves {
			v.second = float64(in.moves)
		}
		if v.less(in.best) {
			in.best = v
			if in.keep != nil {
				in.keep()
			}
		}
		return
	}
	if !s.tick() || s.hopeless(k, lost) {
		return
	}
	d := in.devs[k]
	dev := &s.Devices[d]
	for f := range dev.Formats {
		fm := &dev.Formats[f]
		if int32(lost+fm.Loss+in.least[k+1]) > in.best.loss {
			continue
		}
		for _, c := range in.ways[k] {
			if in.free[c] == 0 || !works(fm, &s.classes[c]) || s.wasteful(d, c) || s.twin(k, c, f) {
				continue
			}
			worst, moves := in.worst, in.moves
			if s.put(d, f, c) {
				s.walk(k+1, lost+fm.Loss)
			}
			s.take(d, f, c)
			in.worst, in.moves = worst, moves
			if s.stopped {
				return
			}
		}
	}
}

// twin tells whether the device before this one is the same and stands later: then it was tried the other way round.
func (s *search) twin(k, c, f int) bool {
	in := &s.in
	if k == 0 || in.goal.moves {
		return false
	}
	d, p := in.devs[k], in.devs[k-1]
	return s.alike[d]&(1<<p) != 0 && (in.class[p] > c || in.class[p] == c && in.format[p] > f)
}

// takes is what a device takes of a resource on a class of ports in a format.
func takes(r *Resource, d *Device, f *Format, c *class) float64 {
	switch r.Kind {
	case FastBus:
		if (!c.High || c.Open) && f.Fast >= 0 {
			return f.Fast
		}
	case HighBus:
		if c.High || f.Fast < 0 || f.Either {
			return f.High
		}
	case BothSides:
		return f.Sends
	case Power:
		return d.MW
	}
	return 0
}

func works(f *Format, c *class) bool {
	if c.High || f.Either {
		return f.High >= 0
	}
	return f.Fast >= 0 || f.High >= 0
}

// weigh works out once what every device takes where, and which classes lie inside others.
func (s *search) weigh() {
	for d := range s.Devices {
		byFormat := make([][][]taking, len(s.Devices[d].Formats))
		for f := range byFormat {
			byFormat[f] = make([][]taking, len(s.classes))
			for _, c := range s.fits[d] {
				for _, r := range s.classes[c].Uses {
					if t := takes(&s.Resources[r], &s.Devices[d], &s.Devices[d].Formats[f], &s.classes[c]); t > 0 {
						byFormat[f][c] = append(byFormat[f][c], taking{r, t, s.Resources[r].Kind != Power})
					}
				}
			}
		}
		s.taking = append(s.taking, byFormat)
		home := make([]bool, len(s.classes))
		for c := range s.classes {
			home[c] = s.Devices[d].Now >= 0 && slices.Contains(s.classes[c].members, s.Devices[d].Now)
		}
		s.home = append(s.home, home)
	}
	for d := range s.Devices {
		s.order = append(s.order, d)
		s.needs = append(s.needs, s.leastNeed(d, math.MaxInt32))
		same := uint32(0)
		for e := range s.Devices {
			x, y := &s.Devices[d], &s.Devices[e]
			if e != d && x.Plug == y.Plug && x.MW == y.MW && !x.Fixed && !y.Fixed && slices.Equal(x.Formats,
				y.Formats) {
				same |= 1 << e
			}
		}
		s.alike = append(s.alike, same)
	}
	slices.SortStableFunc(s.order, func(a, b int) int { return cmp.Compare(s.needs[b], s.needs[a]) })
	for k := range s.domains {
		s.roots = append(s.roots, s.root(k))
		ways := make([][]int, len(s.Devices))
		for d := range s.Devices {
			for _, c := range s.fits[d] {
				if slices.Contains(s.domains[k].classes, c) {
					ways[d] = append(ways[d], c)
				}
			}
		}
		s.waysIn = append(s.waysIn, ways)
	}
	s.inside = make([][]int, len(s.classes))
	for i := range s.classes {
		for j := range s.classes {
			a, b := &s.classes[i], &s.classes[j]
			if i != j && a.Plug == b.Plug && a.High == b.High && a.Open == b.Open && slices.Equal(a.Uses, b.Uses) &&
				b.MaxMW > 0 && (a.MaxMW == 0 || b.MaxMW < a.MaxMW) {
				s.inside[i] = append(s.inside[i], j)
			}
		}
	}
}

// wasteful tells whether a device would take a socket of more current while one of less, which does as well, is free:
// who needs the stronger one may come later, and whoever comes to the weaker one can take the stronger instead.
func (s *search) wasteful(d, c int) bool {
	if s.in.goal.moves || s.Devices[d].Fixed {
		return false
	}
	for _, j := range s.inside[c] {
		if s.in.free[j] > 0 && !fact.Over(s.Devices[d].MW, s.classes[j].MaxMW) {
			return true
		}
	}
	return false
}

// put takes a device's share out of the resources; it reports whether every one still holds, each bus within limit
// times what it carries.
func (s *search) put(d, f, c int) bool {
	in := &s.in
	ok := true
	for _, t := range s.taking[d][f][c] {
		in.load[t.resource] += t.amount
		carries, load := s.Resources[t.resource].Cap, in.load[t.resource]
		if t.bus {
			in.worst = max(in.worst, load/carries)
			carries *= in.goal.limit
		}
		ok = ok && !fact.Over(load, carries)
	}
	in.free[c]--
	in.class[d], in.format[d] = c, f
	if !s.home[d][c] {
		in.moves++
	}
	return ok
}

func (s *search) take(d, f, c int) {
	in := &s.in
	for _, t := range s.taking[d][f][c] {
		in.load[t.resource] -= t.amount
	}
	in.free[c]++
}

// placing works a sharing out again, domain by domain, and writes it down: ports within a class go to the devices that
// are on them already.
func (s *search) placing(sh *share) *Placing {
	n := len(s.Devices)
	p := &Placing{Port: make([]int, n), Format: make([]int, n)}
	classOf := make([]int, n)
	set := uint32(1)<<n - 1
	for k := len(s.domains) - 1; k >= 0; k-- {
		part := sh.parts[k][set]
		s.in.keep = func() {
			for _, d := range s.in.devs {
				classOf[d], p.Format[d] = s.in.class[d], s.in.format[d]
			}
		}
		if part != 0 {
			s.inner(k, part, sh.goal)
		}
		s.in.keep = nil
		set &^= part
	}
	s.sockets(p, classOf)
	return p
}

// quickSteps bounds the search for just any placing.
const quickSteps = 100_000

// quick is a placing that holds, found without looking far: every device, the neediest first, in the format that takes
// least; then each in the best one there is still room for. Nil when none is found in so many steps. It is what a
// search that was stopped has to show, and is never proven.
func (s *search) quick() *Placing {
	in := &s.in
	for i := range in.load {
		in.load[i] = 0
	}
	for c := range s.classes {
		in.free[c] = len(s.classes[c].members)
	}
	in.goal, in.keep = goal{limit: 1}, nil
	ways := make([][]int, len(s.Devices))
	for d := range ways { // where it is first
		ways[d] = slices.Clone(s.fits[d])
		slices.SortStableFunc(ways[d], func(a, b int) int { return cmp.Compare(b2i(s.home[d][b]), b2i(s.home[d][a])) })
	}
	by := func(d int, of func(*Format) float64) []int {
		list := make([]int, len(s.Devices[d].Formats))
		for f := range list {
			list[f] = f
		}
		slices.SortStableFunc(list, func(a, b int) int {
			return cmp.Compare(of(&s.Devices[d].Formats[a]), of(&s.Devices[d].Formats[b]))
		})
		return list
	}
	fits := func(d, f, c int) bool {
		if in.free[c] == 0 || !works(&s.Devices[d].Formats[f], &s.classes[c]) {
			return false
		}
		if s.put(d, f, c) {
			return true
		}
		s.take(d, f, c)
		return false
	}
	steps := 0
	var put func(k int) bool
	put = func(k int) bool {
		if k == len(s.order) {
			return true
		}
		d := s.order[k]
		for _, f := range by(d, func(f *Format) float64 { return max(f.Fast, 0) }) {
			for _, c := range ways[d] {
				if steps++; steps > quickSteps {
					return false
				}
				if !fits(d, f, c) {
					continue
				}
				if put(k + 1) {
					return true
				}
				s.take(d, f, c)
			}
		}
		return false
	}
	if !put(0) {
		return nil
	}
	for _, d := range s.order {
		f, c := in.format[d], in.class[d]
		s.take(d, f, c)
		better := false
		for _, g := range by(d, func(f *Format) float64 { return float64(f.Loss) }) {
			if better = slices.ContainsFunc(ways[d], func(c int) bool { return fits(d, g, c) }); better {
				break
			}
		}
		if !better {
			s.put(d, f, c)
		}
	}
	p := &Placing{Port: make([]int, len(s.Devices)), Format: slices.Clone(in.format)}
	s.sockets(p, slices.Clone(in.class))
	return p
}

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
}

// sockets gives every device a socket of its class, the one it is in where it can stay, and sums up.
func (s *search) sockets(p *Placing, classOf []int) {
	used := make([]bool, len(s.Ports))
	for d := range s.Devices {
		p.Port[d] = -1
		p.Loss += s.Devices[d].Formats[p.Format[d]].Loss
		if now := s.Devices[d].Now; now >= 0 && slices.Contains(s.classes[classOf[d]].members, now) {
			p.Port[d], used[now] = now, true
		}
	}
	for d := range s.Devices {
		if p.Port[d] >= 0 {
			continue
		}
		for _, m := range s.classes[classOf[d]].members {
			if !used[m] {
				p.Port[d], used[m] = m, true
				break
			}
		}
		p.Moves++
	}
	load := make([]float64, len(s.Resources))
	for d := range s.Devices {
		c := &s.classes[classOf[d]]
		for _, i := range c.Uses {
			load[i] += takes(&s.Resources[i], &s.Devices[d], &s.Devices[d].Formats[p.Format[d]], c)
		}
	}
	for i := range s.Resources {
		if s.Resources[i].Kind != Power {
			p.Ratio = max(p.Ratio, load[i]/s.Resources[i].Cap)
		}
	}
}
