package server

import (
	"bufio"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/night"
	"eventether/core/runsheet"
)

// asked asks and reads the answer, which must come with a status.
func asked[T any](t testing.TB, url func(method, path, body string) (int, string), method, path, body string,
	want int) (out T) {
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
	e := asked[Night](t, url, "POST", "/api/rigs/"+rigID+"/nights",
		`{"airAt":"2026-12-04T19:30:00+01:00","people":2}`, 200)
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
				body := `{"ops":[` + op(fmt.Sprintf("person-%d-%d", p, i), "tick",
					`,"step":"mount:cam-face","who":"p"`) + `]}`
				for range 2 {
					status, text, _ := call(t, s, "POST", at+"/ops", body)
					assert.Equal(t, 200, status, text)
				}
			}
		})
	}
	both.Wait()
	now := asked[Night](t, url, "GET", at, "", 200)
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
	came := asked[Changed](t, url, "POST", at+"/ops",
		fmt.Sprintf(`{"sentAt":%d,"after":20,"ops":[{"id":"phone-0001","kind":"tick","step":"sound","at":%d}]}`, ahead,
			ahead-5000), 200)
	assert.InDelta(t, time.Now().UnixMilli()-5000, came.Ticks["sound"].At, 4000)
	assert.Len(t, came.Ticks, 1, "what was known already is not sent again")
	// One that is ahead and does not say so: when it came counts, and an untick after it wins.
	came = asked[Changed](t, url, "POST", at+"/ops",
		fmt.Sprintf(`{"after":21,"ops":[{"id":"phone-0002","kind":"tick","step":"sound","at":%d}]}`, ahead), 200)
	assert.InDelta(t, time.Now().UnixMilli(), came.Ticks["sound"].At, 4000)
	assert.Equal(t, ahead, came.Ticks["sound"].Said)
	came = asked[Changed](t, url, "POST", at+"/ops",
		fmt.Sprintf(`{"after":22,"ops":[{"id":"phone-0003","kind":"untick","step":"sound","at":%d}]}`,
			time.Now().UnixMilli()+5), 200)
	assert.False(t, came.Ticks["sound"].Done)
	came = asked[Changed](t, url, "POST", at+"/ops",
		fmt.Sprintf(`{"after":23,"ops":[{"id":"zz-phone-0001","kind":"tick","step":"order","at":%d},{"id":"aa-phone-0002","kind":"untick","step":"order","at":%d}]}`,
			ahead, ahead+1), 200)
	assert.False(t, came.Ticks["order"].Done, "what came together stays in its order")
	// A clock that says nonsense as it sends moves nothing.
	came = asked[Changed](t, url, "POST", at+"/ops",
		fmt.Sprintf(`{"sentAt":9000000000000000000,"after":25,"ops":[{"id":"phone-0004","kind":"tick","step":"sound","at":%d}]}`,
			time.Now().UnixMilli()+9), 200)
	assert.InDelta(t, time.Now().UnixMilli(), came.Ticks["sound"].At, 4000)

	// A key never gets in, and the user is told.
	came = asked[Changed](t, url, "POST", at+"/ops", `{"after":26,"ops":[`+op("incident-1", "incident",
		`,"incident":{"loss":"sending","part":"stick-stage","what":"stopped; used key abcd-1234-efgh-5678","minutesLost":2,"next":"=HYPERLINK(\"x\")"}`)+
		`]}`, 200)
	require.Len(t, came.Stripped, 1)
	assert.Equal(t, "incident.what", came.Stripped[0].Field)
	assert.NotContains(t, came.Incidents[0].Op.Incident.What, "1234")
	// Somebody who has looked says that it is none.
	came = asked[Changed](t, url, "POST", at+"/ops", `{"after":27,"ops":[`+op("note-00001", "note",
		`,"text":"serial abcd-1234-efgh-5678","whole":true`)+`]}`, 200)
	assert.Empty(t, came.Stripped)
	assert.Equal(t, "serial abcd-1234-efgh-5678", came.Notes[0].Op.Text)
	_, csv := url("GET", at+"/file?as=incidents", "")
	assert.Contains(t, csv, `"'=HYPERLINK(`, "no formula for a spreadsheet")
	came = asked[Changed](t, url, "POST", at+"/ops", `{"ops":[`+op("figure-0001", "figure",
		`,"figure":{"what":"uplink","value":7.5,"unit":"Mb/s"}`)+`,`+op("air-00001", "air", "")+`]}`, 200)
	assert.Positive(t, came.AirAt)
	assert.Empty(t, came.Figures, "who says nothing of what is known gets no lists")
	now = asked[Night](t, url, "GET", at, "", 200)
	assert.Len(t, now.Standing.Figures, 1)
	assert.Empty(t, now.Ops, "operations are in the file")
	all := asked[Changed](t, url, "GET", at+"/changes?after=0", "", 200)
	assert.Equal(t, now.Standing, all.Standing)

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
	copied := asked[Night](t, url, "GET", "/api/nights/7f2f3c5a-9a1c-4ad3-8c63-0c9d5d1f6a11", "", 200)
	assert.Equal(t, now.Standing, copied.Standing)

	// The next sheet is as last time, and no longer the first.
	sheet = asked[runsheet.RunSheet](t, url, "GET", "/api/rigs/"+rigID+"/runsheet", "", 200)
	assert.Equal(t, "same", sheet.Step("mount:cam-face").Change)
	assert.Contains(t, strings.Join(sheet.First, " "), `From the last show: =HYPERLINK("x")`,
		"what to change next time is said first")
	assert.Nil(t, sheet.Step("first:phone"))
	for as, want := range map[string]string{"text": "Alone: begin at 1", "markdown": "- [ ] **",
		"ical": "BEGIN:VCALENDAR", "json": "eventether-runsheet/1"} {
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
	e := asked[Night](t, url, "POST", "/api/rigs/"+rigID+"/nights", `{"airAt":"2026-12-04T19:30:00Z","people":1}`,
		200)
	at := "/api/nights/" + e.ID.String()
	status, text := url("POST", at+"/ops", `{"ops":[]}`)
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "want 1 to 2000")
	// Each operation is answered by itself: what is wrong with one holds up none of the others.
	bad := map[string]string{
		`{"id":"x","kind":"tick","at":1,"step":"a"}`: "8 to 60", `{"id":"op-000002","kind":"dance","at":1}`: "one of",
		`{"id":"op-000003","kind":"tick","at":5}`:                                            "which step",
		`{"id":"op-000004","kind":"tick","at":-5,"step":"a"}`:                                "the time -5 is none",
		`{"id":"op-000005","kind":"incident","at":5}`:                                        "say what happened",
		`{"id":"op-000006","kind":"note","at":5,"text":"a\u0000b"}`:                          "control",
		`{"id":"op-000007","kind":"note","at":5,"text":"from the chat: \u2068Ana\u2069"}`:    "direction",
		`{"id":"op-000008","kind":"figure","at":5,"figure":{"what":"","value":1}}`:           "measured",
		`{"id":"op-000009","kind":"tick","at":5,"step":"a","password":"x"}`:                  "unknown field",
		`{"id":"op-000010","kind":"figure","at":5,"figure":{"what":"x","value":"y"}}`:        "cannot be read",
		`{"id":"op-000011","kind":"figure","at":5,"figure":{"what":"x","value":1.7e308}}`:    "1,000,000,000",
		`{"id":"op-000012","kind":"figure","at":5,"figure":{"what":"x","value":1e999}}`:      "cannot be read",
		`{"id":"op-000013","kind":"note","at":5,"text":"` + strings.Repeat("x", 2001) + `"}`: "at most 2000",
		`[]`: "cannot be read", `7`: "cannot be read",
	}
	var ops, good []string
	for one := range bad {
		fine := fmt.Sprintf(`{"id":"fine-%06d","kind":"tick","at":5,"step":"a"}`, len(good))
		ops, good = append(ops, one, fine), append(good, fine)
	}
	came := asked[Changed](t, url, "POST", at+"/ops", `{"ops":[`+strings.Join(ops, ",")+`]}`, 200)
	assert.EqualValues(t, len(good), came.Seq)
	require.Len(t, came.Refused, len(bad))
	for one, want := range bad {
		var named struct{ ID string }
		_ = json.Unmarshal([]byte(one), &named)
		assert.True(t, slices.ContainsFunc(came.Refused, func(r night.Refusal) bool {
			return r.ID == named.ID && strings.Contains(r.Why, want)
		}), "%s: want %s in %+v", one, want, came.Refused)
	}
	for path, want := range map[string]int{"/api/nights/7f2f3c5a-9a1c-4ad3-8c63-0c9d5d1f6a99": 404,
		"/api/nights/x": 422, "/api/nights?rig=x": 422, "/api/rigs/" + rigID + "/runsheet?people=9": 422,
		"/api/rigs/" + rigID + "/runsheet/file?as=ical": 422, "/api/rigs/" + rigID + "/runsheet/file?air=soon": 422} {
		status, text := url("GET", path, "")
		assert.Equal(t, want, status, path+text)
	}
	status, _ = url("POST", "/api/nights", `{"format":"eventether-night/9"}`)
	assert.Equal(t, 422, status)

	// A night that comes from elsewhere is checked as one of ours is.
	_, file := url("GET", at+"/file", "")
	var told map[string]any
	require.NoError(t, json.Unmarshal([]byte(file), &told))
	told["id"] = "7f2f3c5a-9a1c-4ad3-8c63-0c9d5d1f6a22"
	steps := told["sheet"].(map[string]any)["steps"].([]any)
	step := steps[0].(map[string]any)
	for _, c := range []struct {
		in    map[string]any
		field string
		bad   any
		says  string
	}{
		{in: step, field: "minutes", bad: 1.7e308, says: "minutes"},
		{in: step, field: "minutes", bad: -1, says: "0 to 1000000"},
		{in: step, field: "do", bad: "a\u202eb", says: "direction"},
		{in: step, field: "do", bad: strings.Repeat("x", 2001), says: "2001"},
		{in: step, field: "after", bad: []any{"nothing"}, says: "which is no step"},
		{in: step, field: "after", bad: []any{step["id"]}, says: "circle"},
		{in: told, field: "name", bad: "\u202e x", says: "name"},
		{in: told, field: "name", bad: strings.Repeat("x", 121), says: "121"},
		{in: told, field: "people", bad: 1000, says: "people"},
		{in: told, field: "airAt", bad: "9999-01-01T00:00:00Z", says: "2099"},
	} {
		was := c.in[c.field]
		c.in[c.field] = c.bad
		body, err := json.Marshal(told)
		require.NoError(t, err)
		status, text := url("POST", "/api/nights", string(body))
		assert.Contains(t, []int{400, 422}, status, "%s %v: %.200s", c.field, c.bad, text)
		assert.Contains(t, text, c.says)
		c.in[c.field] = was
	}
	told["name"] = "to rtmp://a.example/live2/abcd-1234-efgh-5678-ijkl"
	body, err := json.Marshal(told)
	require.NoError(t, err)
	status, text = url("POST", "/api/nights", string(body))
	require.Equal(t, 200, status, text)
	assert.NotContains(t, asked[Night](t, url, "GET", "/api/nights/7f2f3c5a-9a1c-4ad3-8c63-0c9d5d1f6a22", "",
		200).Name, "1234")
	url("DELETE", "/api/rigs/"+rigID, "")
}
