package server

import (
	"crypto/rand"
	"crypto/subtle"
	"errors"
	"io/fs"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"eventether/internal/wire"
)

// abroadCookie is held by a browser on another computer that was let in.
const abroadCookie = "__Host-eventether"

// Abroad is what other computers meet, over HTTPS: the whole application, for whoever came once by the address with
// the key in it.
type Abroad struct {
	Main  http.Handler
	Key   string
	Names []string // this computer's own: names and addresses
}

// Names are what this computer is called in its own networks: names, and addresses.
func Names() (names []string, addresses []net.IP) {
	names = []string{"localhost"}
	if host, err := os.Hostname(); err == nil && host != "" && host != "localhost" {
		names = append(names, host)
		if !strings.Contains(host, ".") {
			names = append(names, host+".local")
		}
	}
	addresses = []net.IP{net.IPv4(127, 0, 0, 1), net.IPv6loopback}
	for _, a := range localAddresses() {
		addresses = append(addresses, net.ParseIP(a))
	}
	return names, addresses
}

// KeyIn is the key that is kept in a folder, made where there is none, readable by its owner only.
func KeyIn(folder string) (string, error) {
	path := filepath.Join(folder, "key")
	text, err := os.ReadFile(path)
	if key := strings.TrimSpace(string(text)); err == nil && len(key) >= 20 {
		return key, nil
	} else if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return "", err
	}
	key := rand.Text()
	return key, os.WriteFile(path, []byte(key+"\n"), 0o600)
}

// ServeHTTP lets in whoever has the key, and hands on what they ask as if it were asked on this computer.
func (a *Abroad) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	refuse := func(status int, why string) {
		w.Header().Set("Content-Type", "application/problem+json")
		w.WriteHeader(status)
		_ = wire.Write(w, huma.NewError(status, why))
	}
	host, _, err := net.SplitHostPort(r.Host)
	if err != nil {
		host = r.Host
	}
	if !slices.Contains(a.Names, strings.Trim(host, "[]")) {
		refuse(http.StatusForbidden, "host "+r.Host+" is no name of this computer: open an address eventether printed")
		return
	}
	if origin := r.Header.Get("Origin"); origin != "" && origin != "https://"+r.Host {
		refuse(http.StatusForbidden, "a request from another site ("+origin+") is refused")
		return
	}
	same := func(key string) bool { return subtle.ConstantTimeCompare([]byte(key), []byte(a.Key)) == 1 }
	if key, ok := strings.CutPrefix(r.URL.Path, "/in/"); ok && r.Method == http.MethodGet {
		if !same(key) {
			refuse(http.StatusForbidden, "this is not the key: open the address eventether printed")
			return
		}
		http.SetCookie(w, &http.Cookie{Name: abroadCookie, Value: a.Key, Path: "/", Secure: true, HttpOnly: true,
			SameSite: http.SameSiteStrictMode, MaxAge: 400 * 24 * 3600})
		w.Header().Set("Referrer-Policy", "no-referrer")
		w.Header().Set("Cache-Control", "no-store")
		http.Redirect(w, r, "/", http.StatusSeeOther)
		return
	}
	if cookie, err := r.Cookie(abroadCookie); err != nil || !same(cookie.Value) {
		refuse(http.StatusUnauthorized, "this browser was not let in: open the whole address eventether printed, with its key")
		return
	}
	a.Main.ServeHTTP(w, askedHere(r))
}

// askedHere is a request that was let in, as if it were asked on this computer.
func askedHere(r *http.Request) *http.Request {
	c := r.Clone(r.Context())
	c.Host = "127.0.0.1"
	c.Header.Del("Origin")
	return c
}
