package look

import (
	"math"
	"math/bits"
	"math/cmplx"
)

// transform is the discrete Fourier transform of values, in place, by halves; their number is a power of two. Back again
// it leaves them so many times as large.
func transform(v []complex128, back bool) {
	n := len(v)
	if n < 2 {
		return
	}
	shift := 64 - bits.TrailingZeros(uint(n))
	for i := range v {
		if j := int(bits.Reverse64(uint64(i)) >> shift); i < j {
			v[i], v[j] = v[j], v[i]
		}
	}
	sign := -2 * math.Pi
	if back {
		sign = 2 * math.Pi
	}
	for size := 2; size <= n; size *= 2 {
		half := size / 2
		turn := make([]complex128, half)
		for k := range turn {
			turn[k] = cmplx.Rect(1, sign*float64(k)/float64(size))
		}
		for from := 0; from < n; from += size {
			for k, t := range turn {
				a, b := v[from+k], v[from+k+half]*t
				v[from+k], v[from+k+half] = a+b, a-b
			}
		}
	}
}

// powerOfTwo is the least that holds n.
func powerOfTwo(n int) int { return 1 << bits.Len(uint(max(1, n)-1)) }
