package inspect

import (
	"math"
	"slices"
)

// Of claps in a clip [estimate]: how far one stands out of what was before it, how loud it is at least, how far two lie apart, and
// how many are shown.
const (
	clapOver  = 16.0  // dB over the half second before it
	clapLeast = -40.0 // dBFS
	clapApart = 0.5   // seconds
	clapGone  = 12.0  // dB it is down again after a fifth of a second: speech goes on
	mostClaps = 6
)

// ClapsIn finds when claps begin in a sound of one channel: the loudest of what rises out of quiet at once, in their order.
// Each is where the sound first comes to a quarter of what it comes to.
func ClapsIn(sound []float32, rate float64) []float64 {
	block := int(rate / 200)
	if block == 0 {
		return []float64{}
	}
	levels := make([]float64, len(sound)/block)
	for i := range levels {
		sum := 0.0
		for _, v := range sound[i*block : (i+1)*block] {
			sum += float64(v) * float64(v)
		}
		levels[i] = 10 * math.Log10(max(sum/float64(block), 1e-13))
	}
	type clap struct{ at, over float64 }
	var all []clap
	for i := 100; i < len(levels); i++ {
		before := slices.Sorted(slices.Values(levels[i-100 : i-2]))[80] // nearly the loudest of it: speech does not stand out of speech
		if levels[i] < clapLeast || levels[i] < before+clapOver || len(all) > 0 && float64(i*block)/rate-all[len(all)-1].at < clapApart {
			continue
		}
		peak := slices.Max(levels[i:min(len(levels), i+6)])
		if after := levels[min(len(levels), i+30):min(len(levels), i+50)]; len(after) > 0 && slices.Max(after) > peak-clapGone {
			continue
		}
		from, end := (i-2)*block, min(len(sound), (i+4)*block)
		most := 0.0
		for _, v := range sound[from:end] {
			most = max(most, math.Abs(float64(v)))
		}
		for k := from; k < end; k++ {
			if math.Abs(float64(sound[k])) >= most/4 {
				all = append(all, clap{float64(k) / rate, levels[i] - before})
				break
			}
		}
	}
	slices.SortFunc(all, func(a, b clap) int {
		if a.over > b.over {
			return -1
		}
		return 1
	})
	out := []float64{}
	for _, c := range all[:min(len(all), mostClaps)] {
		out = append(out, math.Round(c.at*1e4)/1e4)
	}
	slices.Sort(out)
	return out
}
