package server

import (
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
)

// Other computers are let in by the key alone, by names of this computer, and by no other site.
func TestAbroad(t *testing.T) {
	folder := t.TempDir()
	key, err := KeyIn(folder)
	require.NoError(t, err)
	again, err := KeyIn(folder)
	require.NoError(t, err)
	require.Equal(t, key, again)
	st, err := os.Stat(filepath.Join(folder, "key"))
	require.NoError(t, err)
	require.Equal(t, os.FileMode(0o600), st.Mode().Perm())
	s := serve(t)
	a := &Abroad{Main: s.Config.Handler, Key: key, Names: []string{"desk.local", "192.0.2.7"}}
	ask := func(method, host, path string, with func(*http.Request)) *httptest.ResponseRecorder {
		req := httptest.NewRequest(method, "https://"+host+path, http.NoBody)
		if with != nil {
			with(req)
		}
		out := httptest.NewRecorder()
		a.ServeHTTP(out, req)
		return out
	}
	in := func(r *http.Request) { r.AddCookie(&http.Cookie{Name: abroadCookie, Value: key}) }
	require.Equal(t, 401, ask("GET", "desk.local:4171", "/api/rigs", nil).Code)
	require.Equal(t, 401, ask("GET", "desk.local:4171", "/", nil).Code, "nor its pages")
	require.Equal(t, 403, ask("GET", "desk.local:4171", "/in/"+key[1:], nil).Code)
	require.Equal(t, 403, ask("GET", "elsewhere.example", "/in/"+key, nil).Code)
	door := ask("GET", "desk.local:4171", "/in/"+key, nil)
	require.Equal(t, 303, door.Code)
	require.Contains(t, door.Header().Get("Set-Cookie"), "Secure; SameSite=Strict")
	require.Equal(t, 200, ask("GET", "192.0.2.7:4171", "/api/rigs", in).Code)
	require.Equal(t, 403, ask("POST", "192.0.2.7:4171", "/api/rigs", func(r *http.Request) {
		in(r)
		r.Header.Set("Origin", "https://elsewhere.example")
	}).Code)
	res := ask("POST", "192.0.2.7:4171", "/api/rigs", func(r *http.Request) {
		in(r)
		r.Header.Set("Origin", "https://192.0.2.7:4171")
		r.Header.Set("Content-Type", "application/json")
	})
	require.NotEqual(t, 403, res.Code, "it may change things: %s", res.Body)
	for path, want := range map[string]string{"/": "camera=(), microphone=()", "/rigs/1": "camera=(), microphone=()",
		"/rigs/1/look": "camera=(self), microphone=(self)", "/nights/1": "camera=(self), microphone=(self)",
		"/api/rigs": "camera=(), microphone=()"} {
		require.Contains(t, ask("GET", "192.0.2.7:4171", path, in).Header().Get("Permissions-Policy"), want, path)
	}
}
