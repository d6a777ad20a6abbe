package readers

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestReadUplink(t *testing.T) {
	for _, c := range []struct {
		name, text string
		values     []float64
		problems   int
		errs       string
	}{
		{"commas and a header", "at,mbps,by\n2026-11-20T19:30,11.8,wired\n2026-11-21T19:40:00Z,9,air\n",
			[]float64{11.8, 9}, 0, ""},
		{"semicolons, decimal commas, a byte-order mark", "\ufeffdate;upload\r\n20.11.2026 19:30;11,8\r\n",
			[]float64{11.8}, 0, ""},
		{"tabs, no header", "2026-11-20 19:30\t11.8\n2026-11-20 20:30\t12\n", []float64{11.8, 12}, 0, ""},
		{"other columns first", "ping,upload,time\n12,8.5,2026-11-20\n", []float64{8.5}, 0, ""},
		{"a bad line among good ones",
			"at,mbps\n2026-11-20,11.8\n2026-11-21,fast\nyesterday,9\n2026-11-22,-3\n2026-11-23,7\n",
			[]float64{11.8, 7}, 3, ""},
		{"absurd", "at,mbps\n2026-11-20,1e300\n2026-11-20,NaN\n2026-11-20,Inf\n2026-11-20,5\n", []float64{5}, 3, ""},
		{"a formula is no number", "at,mbps\n2026-11-20,=1+1\n2026-11-20,5\n", []float64{5}, 1, ""},
		{"nothing", "", nil, 0, "no measurement can be read"},
		{"prose", "my line is quite fast\n", nil, 0, "no column mbps"},
		{"a wrong column", "time,download\n2026-11-20,50\n", nil, 0, "no column mbps"},
		{"too many", "at,mbps\n" + strings.Repeat("2026-11-20,5\n", MostReadings+1), nil, 0, "more than 1000"},
	} {
		t.Run(c.name, func(t *testing.T) {
			f, err := ReadUplink([]byte(c.text))
			if c.errs != "" {
				require.ErrorContains(t, err, c.errs)
				return
			}
			require.NoError(t, err)
			var got []float64
			for _, r := range f.Readings {
				got = append(got, r.Value)
			}
			assert.Equal(t, c.values, got)
			assert.Len(t, f.Problems, c.problems, "%v", f.Problems)
		})
	}
	f, err := ReadUplink([]byte("at,mbps,by\n2026-11-20T19:30,11.8,air\n"))
	require.NoError(t, err)
	assert.Equal(t, "2026-11-20T19:30:00Z", f.Readings[0].At)
	assert.Equal(t, "air", f.Readings[0].By)
}

func FuzzReadUplink(f *testing.F) {
	f.Add([]byte("at,mbps\n2026-11-20,11.8\n"))
	f.Add([]byte("\ufeffa;b\n\"1;2"))
	f.Fuzz(func(t *testing.T, data []byte) {
		if got, err := ReadUplink(data); err == nil && (len(got.Readings) == 0 || len(got.Readings) > MostReadings) {
			t.Fatal(len(got.Readings))
		}
	})
}
