package server

import (
	"bufio"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/runsheet"
)

// asked asks and reads the answer, which must come with a status.
func asked[T any](t testing.TB, url func(method, path, body string) (int, string), method, path, body string, want int) (out T) {
	t.Helper()
	status, text := url(method, path, body)
	require.Equal(t, want, status, text)
	if want == http.StatusOK && strings.HasPrefix(text, "{") {
		require.NoError(t, json.Unmarshal([]byte(text), &out))
	}
	return out
}

func op(id, kind, rest string) string {
	return fmt.Sprintf(`{"id":%q,"kind":%q,"at":%d%s}`, id, kind, time.Now().UnixMilli(), rest)
}

func TestNight(t *testing.T) {
	s := serve(t)
	url := func(method, path, body string) (int, string) {
		status, text, _ := call(t, s, method, path, body)
		return status, text
	}
	rigID := asked[Board](t, url, "POST", "/api/rigs", even(t), 200).ID.String()
	sheet := asked[runsheet.RunSheet](t, url, "GET", "/api/rigs/"+rigID+"/runsheet?people=3", "", 200)
	require.Len(t, sheet.Plans, 3)
	require.NotNil(t, sheet.Step("first:phone"), "its first show: devices are connected the first time")
	e := asked[Evening](t, url, "POST", "/api/rigs/"+rigID+"/nights", `{"airAt":"2026-12-04T19:30:00+01:00","people":2}`, 200)
	at := "/api/nights/" + e.ID.String()

	// Two people at once; one sends twice, since the first answer was lost.
	watching := make(chan string, 20)
	go func() {
		req, err := http.NewRequestWithContext(t.Context(), "GET", s.URL+at+"/events", nil)
		if err != nil {
			return
		}
		res, err := http.DefaultClient.Do(req)
		if err != nil {
			return
		}
		defer res.Body.Close()
		for lines := bufio.NewScanner(res.Body); lines.Scan(); {
			if data, ok := strings.CutPrefix(lines.Text(), "data: "); ok {
				watching <- data
			}
		}
	}()
	require.Contains(t, <-watching, `"seq":0`)
	var both sync.WaitGroup
	for p := range 2 {
		both.Go(func() {
			for i := range 10 {
				body := `{"ops":[` + op(fmt.Sprintf("person-%d-%d", p, i), "tick", `,"step":"mount:cam-face","who":"p"`) + `]}`
				for range 2 {
					status, text, _ := call(t, s, "POST", at+"/ops", body)
					assert.Equal(t, 200, status, text)
				}
			}
		})
	}
	both.Wait()
	now := asked[Evening](t, url, "GET", at, "", 200)
	assert.EqualValues(t, 20, now.Seq)
	assert.True(t, now.Standing.Ticks["mount:cam-face"].Done)
	for last := ""; !strings.Contains(last, `"seq":20`); {
		select {
		case last = <-watching:
		case <-time.After(5 * time.Second):
			require.Fail(t, "the other was not told")
		}
	}

	// A phone whose clock is an hour ahead.
	ahead := time.Now().Add(time.Hour).UnixMilli()
	now = asked[Evening](t, url, "POST", at+"/ops", fmt.Sprintf(`{"sentAt":%d,"ops":[{"id":"phone-0001","kind":"tick","step":"sound","at":%d}]}`, ahead, ahead-5000), 200)
	assert.InDelta(t, time.Now().UnixMilli()-5000, now.Standing.Ticks["sound"].At, 4000)

	// A key never gets in, and the user is told.
	now = asked[Evening](t, url, "POST", at+"/ops", `{"ops":[`+op("incident-1", "incident", `,"incident":{"loss":"sending","part":"stick-stage","what":"stopped; used key abcd-1234-efgh-5678","minutesLost":2,"next":"=HYPERLINK(\"x\")"}`)+`]}`, 200)
	assert.True(t, now.Stripped)
	assert.NotContains(t, now.Standing.Incidents[0].Op.Incident.What, "1234")
	_, csv := url("GET", at+"/file?as=incidents", "")
	assert.Contains(t, csv, `"'=HYPERLINK(`, "no formula for a spreadsheet")
	now = asked[Evening](t, url, "POST", at+"/ops", `{"ops":[`+op("figure-0001", "figure", `,"figure":{"what":"uplink","value":7.5,"unit":"Mb/s"}`)+`,`+op("air-00001", "air", "")+`]}`, 200)
	assert.Positive(t, now.Standing.AirAt)

	log := asked[Log](t, url, "GET", "/api/nights?rig="+rigID, "", 200)
	require.Len(t, log.Nights, 1)
	assert.Equal(t, 1, log.Season.Faults)
	assert.Equal(t, "stick-stage", log.Season.ByPart[0].Of)

	// What was exported is there already; under another id it is another night.
	_, file := url("GET", at+"/file", "")
	status, text := url("POST", "/api/nights", file)
	require.Equal(t, 200, status, text)
	assert.Contains(t, text, `"added":false`)
	other := strings.ReplaceAll(file, e.ID.String(), "7f2f3c5a-9a1c-4ad3-8c63-0c9d5d1f6a11")
	_, text = url("POST", "/api/nights", other)
	assert.Contains(t, text, `"added":true`)
	copied := asked[Evening](t, url, "GET", "/api/nights/7f2f3c5a-9a1c-4ad3-8c63-0c9d5d1f6a11", "", 200)
	assert.Equal(t, now.Standing, copied.Standing)

	// The next sheet is as last time, and no longer the first.
	sheet = asked[runsheet.RunSheet](t, url, "GET", "/api/rigs/"+rigID+"/runsheet", "", 200)
	assert.Equal(t, "same", sheet.Step("mount:cam-face").Change)
	assert.Contains(t, strings.Join(sheet.First, " "), `From the last show: =HYPERLINK("x")`, "what to change next time is said first")
	assert.Nil(t, sheet.Step("first:phone"))
	for as, want := range map[string]string{"text": "Alone: begin at 1", "markdown": "- [ ] **", "ical": "BEGIN:VCALENDAR", "json": "eventether-runsheet/1"} {
		status, text := url("GET", "/api/rigs/"+rigID+"/runsheet/file?as="+as+"&air=2026-12-04T19:30:00%2B01:00", "")
		require.Equal(t, 200, status)
		assert.Contains(t, text, want)
	}
	url("DELETE", "/api/rigs/"+rigID, "")
}

func TestNightRefuses(t *testing.T) {
	s := serve(t)
	url := func(method, path, body string) (int, string) {
		status, text, _ := call(t, s, method, path, body)
		return status, text
	}
	rigID := asked[Board](t, url, "POST", "/api/rigs", even(t), 200).ID.String()
	e := asked[Evening](t, url, "POST", "/api/rigs/"+rigID+"/nights", `{"airAt":"2026-12-04T19:30:00Z","people":1}`, 200)
	at := "/api/nights/" + e.ID.String()
	for body, want := range map[string]string{
		`{"ops":[]}`: "expected array length", `{"ops":[{"id":"x","kind":"tick","at":1,"step":"a"}]}`: "length", `{"ops":[{"id":"op-000001","kind":"dance","at":1}]}`: "one of",
		`{"ops":[{"id":"op-000001","kind":"tick","at":5}]}`:                                     "step is missing",
		`{"ops":[{"id":"op-000001","kind":"tick","at":-5,"step":"a"}]}`:                         "is no time",
		`{"ops":[{"id":"op-000001","kind":"incident","at":5}]}`:                                 "say what happened",
		`{"ops":[{"id":"op-000001","kind":"note","at":5,"text":"a\u0000b"}]}`:                   "control",
		`{"ops":[{"id":"op-000001","kind":"figure","at":5,"figure":{"what":"","value":1}}]}`:    "measured",
		`{"ops":[{"id":"op-000001","kind":"tick","at":5,"step":"a","password":"x"}]}`:           "unexpected property",
		`{"ops":[{"id":"op-000001","kind":"figure","at":5,"figure":{"what":"x","value":"y"}}]}`: "number",
	} {
		status, text := url("POST", at+"/ops", body)
		assert.Equal(t, 422, status, body)
		assert.Contains(t, text, want, body)
	}
	for path, want := range map[string]int{"/api/nights/7f2f3c5a-9a1c-4ad3-8c63-0c9d5d1f6a99": 404, "/api/nights/x": 422, "/api/nights?rig=x": 422, "/api/rigs/" + rigID + "/runsheet?people=9": 422, "/api/rigs/" + rigID + "/runsheet/file?as=ical": 422, "/api/rigs/" + rigID + "/runsheet/file?air=soon": 422} {
		status, text := url("GET", path, "")
		assert.Equal(t, want, status, path+text)
	}
	status, _ := url("POST", "/api/nights", `{"format":"eventether-night/9"}`)
	assert.Equal(t, 422, status)
	url("DELETE", "/api/rigs/"+rigID, "")
}
