package server

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A phone at the door: nothing without the code, its show only with it; the code runs out, wrong ones slow down and
// void it, and the owner is told.
func TestDoor(t *testing.T) {
	s := serve(t)
	url := func(method, path, body string) (int, string) {
		status, text, _ := call(t, s, method, path, body)
		return status, text
	}
	rigID := asked[Board](t, url, "POST", "/api/rigs", even(t), 200).ID.String()
	open := func() string {
		return asked[Night](t, url, "POST", "/api/rigs/"+rigID+"/nights",
			`{"airAt":"2026-12-04T19:30:00Z","people":1}`, 200).ID.String()
	}
	night, other := open(), open()
	require.False(t, asked[Door](t, url, "GET", "/api/nights/"+night+"/door", "", 200).Open,
		"closed until somebody opens it")
	d := asked[Door](t, url, "POST", "/api/nights/"+night+"/door", "", 200)
	require.True(t, d.Open)
	require.Len(t, d.Code, 6)

	the := doors[s]
	clock := time.Now()
	the.Lock()
	the.now = func() time.Time { return clock }
	at := fmt.Sprintf("http://127.0.0.1:%d", the.port)
	the.Unlock()
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	phone := &http.Client{Jar: jar}
	ask := func(method, path, body string, headers ...string) (int, string) {
		req, err := http.NewRequest(method, at+path, strings.NewReader(body))
		require.NoError(t, err)
		req.Header.Set("Content-Type", "application/json")
		for i := 0; i < len(headers); i += 2 {
			if headers[i] == "Host" {
				req.Host = headers[i+1]
			}
			req.Header.Set(headers[i], headers[i+1])
		}
		res, err := phone.Do(req)
		require.NoError(t, err)
		defer res.Body.Close()
		text, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		return res.StatusCode, string(text)
	}
	status := func(method, path, body string, headers ...string) int {
		st, _ := ask(method, path, body, headers...)
		return st
	}
	assert.Equal(t, 200, status("GET", "/pair", ""), "the page is there for everybody")
	assert.Equal(t, 401, status("GET", "/api/nights/"+night, ""))
	assert.Equal(t, 401, status("GET", "/api/rigs", ""))
	assert.Equal(t, 403, status("GET", "/pair", "", "Host", "evil.example:80"))
	assert.Equal(t, 403, status("POST", "/api/pair", `{"code":"`+d.Code+`"}`, "Origin", "http://evil.example"))

	wrong := func() int { return status("POST", "/api/pair", `{"code":"12345x"}`) }
	for range wrongPerSpan {
		assert.Equal(t, 403, wrong())
	}
	assert.Equal(t, 429, wrong(), "and the right one waits too")
	assert.Equal(t, 429, status("POST", "/api/pair", `{"code":"`+d.Code+`"}`))
	clock = clock.Add(wrongSpan)
	st, text := ask("POST", "/api/pair", `{"code":" `+d.Code+`"}`)
	require.Equal(t, 200, st, text)
	assert.Contains(t, text, night)

	st, text = ask("GET", "/api/nights/"+night, "")
	require.Equal(t, 200, st)
	var e Night
	require.NoError(t, json.Unmarshal([]byte(text), &e))
	assert.Equal(t, 200, status("POST", "/api/nights/"+night+"/ops", `{"ops":[`+op("phone-00001", "tick",
		`,"step":"labels"`)+`]}`, "Origin", at))
	for _, path := range []string{"/api/nights/" + other, "/api/rigs", "/api/nights", "/api/backup",
		"/api/nights/" + night + "/door", "/api/nights/" + night + "/file", "/api/nights/" + night + "/../" + other} {
		assert.NotEqual(t, 200, status("GET", path, ""), path)
	}
	assert.Equal(t, 403, status("DELETE", "/api/nights/"+night+"/door", ""))

	for range wrongAtMost - wrongPerSpan {
		clock = clock.Add(wrongSpan)
		wrong()
	}
	assert.Equal(t, 423, status("POST", "/api/pair", `{"code":"`+d.Code+`"}`),
		"this device is not listened to any more")
	told := asked[Door](t, url, "GET", "/api/nights/"+night+"/door", "", 200)
	assert.False(t, told.Locked)
	assert.Equal(t, d.Code, told.Code)
	assert.Equal(t, wrongAtMost, told.Wrong)
	assert.Equal(t, 1, told.Phones)
	assert.Equal(t, 200, status("GET", "/api/nights/"+night, ""), "who is in stays in")
	// Another device's right code counts; many devices' wrong ones void it for all.
	from := func(ip, code string) int {
		r := httptest.NewRequest("POST", at+"/api/pair", strings.NewReader(`{"code":"`+code+`"}`))
		r.RemoteAddr, r.Host = ip+":4000", "127.0.0.1:80"
		r.Header.Set("Content-Type", "application/json")
		w := httptest.NewRecorder()
		the.ServeHTTP(w, r)
		return w.Code
	}
	assert.Equal(t, 200, from("10.0.0.9", d.Code))
	for i := range wrongInAll - wrongAtMost {
		assert.Equal(t, 403, from(fmt.Sprintf("10.0.1.%d", i), "x"))
	}
	assert.Equal(t, 423, from("10.0.0.10", d.Code))
	told = asked[Door](t, url, "GET", "/api/nights/"+night+"/door", "", 200)
	assert.True(t, told.Locked)
	assert.Empty(t, told.Code)
	assert.Equal(t, 415, status("POST", "/api/pair", `{"code":"1"}`, "Content-Type", "text/plain"))
	assert.Equal(t, 200, status("GET", "/api/nights/"+night+"/changes?after=0", ""))

	d = asked[Door](t, url, "POST", "/api/nights/"+night+"/door", "", 200)
	clock = clock.Add(codeLasts)
	assert.Equal(t, 410, status("POST", "/api/pair", `{"code":"`+d.Code+`"}`), "it has run out")
	clock = clock.Add(doorLasts)
	assert.Equal(t, 410, status("GET", "/api/nights/"+night, ""), "the door closes by itself")
	assert.False(t, asked[Door](t, url, "GET", "/api/nights/"+night+"/door", "", 200).Open, "and the owner is told so")
	again := asked[Door](t, url, "POST", "/api/nights/"+night+"/door", "", 200)
	require.True(t, again.Open)
	assert.Equal(t, 200, from("10.0.0.11", again.Code), "a new code opens it anew")
	asked[Door](t, url, "DELETE", "/api/nights/"+night+"/door", "", 200)
	_, err = phone.Get(at + "/pair")
	require.Error(t, err, "nobody listens any more")
}
