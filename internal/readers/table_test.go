package readers

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var night = time.Date(2026, 12, 4, 19, 30, 0, 0, time.UTC)

// Tables as programs write them: every separator, decimal commas, a byte-order mark, times of day, a row too short.
func TestReadTable(t *testing.T) {
	for name, text := range map[string]string{
		"commas":     "time,bitrate,dropped\n19:31,3980.5,0\n19:32:10,4012,2\n",
		"semicolons": "\ufefftime;bitrate;dropped\r\n19:31;3980,5;0\r\n19:32:10;4.012,0;2\r\n",
		"tabs":       "time\tbitrate\tdropped\n2026-12-04T19:31\t3980,5\t0\n2026-12-04 19:32:10\t4,012.0\t2\n",
	} {
		t.Run(name, func(t *testing.T) {
			got, err := ReadTable([]byte(text), night)
			require.NoError(t, err)
			require.Len(t, got.Columns, 3)
			assert.Equal(t, 2, got.Columns[0].Moments)
			assert.Equal(t, night.Add(time.Minute).UnixMilli(), *got.Columns[0].Times[0])
			assert.Equal(t, 2, got.Columns[1].Figures)
			assert.Equal(t, 3980.5, *got.Columns[1].Numbers[0])
			assert.Equal(t, 4012.0, *got.Columns[1].Numbers[1])
			assert.Empty(t, got.Problems)
		})
	}
	short, err := ReadTable([]byte("a,b\n1\n2,x,3\n"), night)
	require.NoError(t, err)
	assert.Len(t, short.Problems, 2)
	assert.Nil(t, short.Columns[1].Numbers[0])
	for text, says := range map[string]string{
		"": "no row", "a,b\n": "no row", "1,2\n3,4\n": "names of the columns",
		strings.Repeat("a,", 70) + "\n1\n":        "want 60",
		"a\n" + strings.Repeat("1\n", MostRows+1): "more than 2000 rows",
	} {
		_, err := ReadTable([]byte(text), night)
		require.ErrorContains(t, err, says)
	}
	for _, s := range []string{"0x10", "NaN", "Inf", "1e300", "=1+1", "", "-"} {
		_, ok := number(s)
		assert.False(t, ok, s)
	}
	v, ok := number("'-12,5")
	assert.True(t, ok)
	assert.Equal(t, -12.5, v)
}

func FuzzReadTable(f *testing.F) {
	f.Add("time;bitrate\n19:31;3980,5\n")
	f.Add("a\"b,c\n\"\n")
	f.Fuzz(func(t *testing.T, text string) {
		got, err := ReadTable([]byte(text), night)
		if err != nil {
			return
		}
		for _, c := range got.Columns {
			if len(c.Numbers) != got.Rows || len(c.Times) != got.Rows {
				t.Fatal("a column is not as long as the table")
			}
		}
	})
}
