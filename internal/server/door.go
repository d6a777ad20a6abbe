package server

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"math/big"
	"mime"
	"net"
	"net/http"
	"strings"
	"sync"
	"time"

	"eventether/internal/wire"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
)

// A door lets phones on the local network into one show, for as long as its owner wants: off until somebody opens it,
// by a code that ends by itself and gives up after a few wrong ones.
const (
	codeLasts    = 10 * time.Minute
	doorLasts    = 12 * time.Hour
	wrongAtMost  = 8               // from one device: then it is not listened to until there is a new code
	wrongInAll   = 100             // from all: then the code is void, and the owner is told
	wrongPerSpan = 3               // wrong codes of a device in a span; more are refused unread
	wrongSpan    = 5 * time.Second // of the rate limit
	doorCookie   = "eventether-door"
)

// Door is how a door stands, for its owner.
type Door struct {
	Open      bool      `json:"open"`
	Addresses []string  `json:"addresses" doc:"Where phones find it"`
	Code      string    `json:"code,omitempty" doc:"Typed on the phone"`
	CodeUntil time.Time `json:"codeUntil,omitzero"`
	Locked    bool      `json:"locked" doc:"The code is void after too many wrong ones from many devices: somebody is guessing"`
	Wrong     int       `json:"wrong" doc:"Wrong codes so far"`
	Phones    int       `json:"phones" doc:"Let in so far"`
}

type door struct {
	sync.Mutex
	main   http.Handler
	now    func() time.Time
	night  uuid.UUID
	server *http.Server
	port   int
	code   string
	until  time.Time
	closes time.Time
	wrong  map[string][]time.Time // by device
	tokens map[string]bool
}

func (d *door) state() Door {
	out := Door{Addresses: []string{}}
	if d.over() {
		d.shut()
		return out
	}
	out.Open, out.Wrong, out.Phones = true, d.wrongs(), len(d.tokens)
	out.Locked = out.Wrong >= wrongInAll
	for _, ip := range localAddresses() {
		out.Addresses = append(out.Addresses, fmt.Sprintf("http://%s:%d/pair", ip, d.port))
	}
	if !out.Locked && d.now().Before(d.until) {
		out.Code, out.CodeUntil = d.code, d.until
	}
	return out
}

// over tells whether the door is closed, or has been open as long as one is.
func (d *door) over() bool { return d.server == nil || d.now().After(d.closes) }

// wrongs is how many wrong codes have come, from all devices.
func (d *door) wrongs() (n int) {
	for _, of := range d.wrong {
		n += len(of)
	}
	return n
}

// localAddresses are this computer's own on its networks, without the loopback.
func localAddresses() (out []string) {
	addrs, err := net.InterfaceAddrs()
	if err != nil {
		return nil
	}
	for _, a := range addrs {
		if n, ok := a.(*net.IPNet); ok && n.IP.To4() != nil && n.IP.IsGlobalUnicast() {
			out = append(out, n.IP.String())
		}
	}
	return out
}

// open opens the door to a night, or makes a new code where it is open to it already.
func (d *door) open(night uuid.UUID) (Door, error) {
	d.Lock()
	defer d.Unlock()
	if d.night != night || d.over() {
		d.shut()
	}
	n, err := rand.Int(rand.Reader, big.NewInt(1_000_000))
	if err != nil {
		return Door{}, err
	}
	d.code, d.until, d.wrong = fmt.Sprintf("%06d", n), d.now().Add(codeLasts), map[string][]time.Time{}
	if d.server != nil {
		return d.state(), nil
	}
	l, err := net.Listen("tcp4", "0.0.0.0:0")
	if err != nil {
		return Door{}, err
	}
	d.night, d.port, d.tokens, d.closes = night, l.Addr().(*net.TCPAddr).Port, map[string]bool{}, d.now().Add(doorLasts)
	d.server = HTTPServer(d)
	go func(s *http.Server) {
		if err := s.Serve(l); !errors.Is(err, http.ErrServerClosed) {
			slog.Error("door", "error", err)
		}
	}(d.server)
	return d.state(), nil
}

// shut closes the door; whoever is in is out.
func (d *door) shut() {
	if d.server != nil {
		_ = d.server.Close()
	}
	d.server, d.code, d.tokens, d.wrong = nil, "", nil, nil
}

// ServeHTTP is what a phone meets: the pages, pairing, and, once it is let in, the one show.
func (d *door) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	refuse := func(status int, why string) {
		w.Header().Set("Content-Type", "application/problem+json")
		w.WriteHeader(status)
		_ = wire.Write(w, huma.NewError(status, why))
	}
	host, _, err := net.SplitHostPort(r.Host)
	if err != nil || net.ParseIP(host) == nil { // a name could be anybody's
		refuse(http.StatusForbidden, "open the address as it is shown, in figures")
		return
	}
	if origin := r.Header.Get("Origin"); origin != "" && origin != "http://"+r.Host {
		refuse(http.StatusForbidden, "a request from another site is refused")
		return
	}
	d.Lock()
	night, over := d.night, d.over()
	cookie, err := r.Cookie(doorCookie)
	in := err == nil && d.tokens[cookie.Value]
	d.Unlock()
	path := r.URL.Path
	own := "/api/nights/" + night.String()
	switch {
	case over:
		refuse(http.StatusGone, "the door is closed")
	case path == "/api/pair" && r.Method == http.MethodPost:
		d.pair(w, r, refuse)
	case !strings.HasPrefix(path, "/api/") && (r.Method == http.MethodGet || r.Method == http.MethodHead):
		d.forward(w, r)
	case !in:
		refuse(http.StatusUnauthorized, "this phone is not let in: type the code that is shown beside the show")
	case r.Method == http.MethodGet && (path == own || path == own+"/events" || path == own+"/changes"),
		r.Method == http.MethodPost && path == own+"/ops":
		d.forward(w, r)
	default:
		refuse(http.StatusForbidden, "a phone is let into its show only")
	}
}

// forward hands a request on to the application, as if it were asked on this computer.
func (d *door) forward(w http.ResponseWriter, r *http.Request) {
	d.main.ServeHTTP(w, askedHere(r))
}

func (d *door) pair(w http.ResponseWriter, r *http.Request, refuse func(int, string)) {
	if kind, _, _ := mime.ParseMediaType(r.Header.Get("Content-Type")); kind != "application/json" {
		refuse(http.StatusUnsupportedMediaType, "send the code as application/json")
		return
	}
	var body struct{ Code string }
	if err := json.NewDecoder(http.MaxBytesReader(w, r.Body, 1000)).Decode(&body); err != nil {
		refuse(http.StatusUnprocessableEntity, "send the code, such as {\"code\":\"123456\"}")
		return
	}
	d.Lock()
	defer d.Unlock()
	now := d.now()
	device, _, err := net.SplitHostPort(r.RemoteAddr)
	if err != nil {
		device = r.RemoteAddr
	}
	recent := 0
	for _, at := range d.wrong[device] {
		if now.Sub(at) < wrongSpan {
			recent++
		}
	}
	switch {
	case len(d.wrong[device]) >= wrongAtMost, d.wrongs() >= wrongInAll:
		refuse(http.StatusLocked, "the code is void after too many wrong ones: ask for a new one at the computer")
		return
	case recent >= wrongPerSpan:
		w.Header().Set("Retry-After", fmt.Sprint(int(wrongSpan.Seconds())))
		refuse(http.StatusTooManyRequests, "wait some seconds, then try again")
		return
	case !now.Before(d.until):
		refuse(http.StatusGone, "the code has run out: ask for a new one at the computer")
		return
	case subtle.ConstantTimeCompare([]byte(strings.TrimSpace(body.Code)), []byte(d.code)) != 1:
		if d.wrong == nil {
			d.wrong = map[string][]time.Time{}
		}
		if d.wrong[device] = append(d.wrong[device], now); d.wrongs() == wrongInAll {
			slog.Warn("door: too many wrong codes from many devices, the code is void")
		}
		refuse(http.StatusForbidden, "this is not the code")
		return
	}
	raw := make([]byte, 32)
	if _, err := rand.Read(raw); err != nil {
		refuse(http.StatusInternalServerError, "something went wrong inside")
		return
	}
	token := base64.RawURLEncoding.EncodeToString(raw)
	d.tokens[token] = true
	http.SetCookie(w, &http.Cookie{Name: doorCookie, Value: token, Path: "/", HttpOnly: true,
		SameSite: http.SameSiteStrictMode, MaxAge: int(doorLasts.Seconds())})
	w.Header().Set("Content-Type", "application/json")
	_ = wire.Write(w, map[string]string{"night": d.night.String()})
}

func (a *api) registerDoor(h huma.API, op func(method, path, id, summary string) huma.Operation) {
	huma.Register(h, op("POST", "/api/nights/{id}/door", "openDoor",
		"Let phones on the local network into this show, by a code; asked again, a new code"), a.openDoor)
	huma.Register(h, op("GET", "/api/nights/{id}/door", "doorOf", "Whether phones are let into this show"), a.doorOf)
	huma.Register(h, op("DELETE", "/api/nights/{id}/door", "shutDoor", "Let no phone in any more"), a.shutDoor)
}

type doorOut struct{ Body Door }

func (a *api) openDoor(ctx context.Context, in *nightIn) (*doorOut, error) {
	get, cancel := limited(ctx)
	defer cancel()
	if _, err := a.store.Night(get, in.ID); err != nil {
		return nil, failed(err)
	}
	d, err := a.door.open(in.ID)
	if err != nil {
		return nil, huma.NewError(http.StatusServiceUnavailable, "No port could be opened on the network: "+err.Error())
	}
	return &doorOut{d}, nil
}

func (a *api) doorOf(_ context.Context, in *nightIn) (*doorOut, error) {
	a.door.Lock()
	defer a.door.Unlock()
	if a.door.night != in.ID {
		return &doorOut{Door{Addresses: []string{}}}, nil
	}
	return &doorOut{a.door.state()}, nil
}

func (a *api) shutDoor(_ context.Context, in *nightIn) (*doorOut, error) {
	a.door.Lock()
	defer a.door.Unlock()
	if a.door.night == in.ID {
		a.door.shut()
	}
	return &doorOut{Door{Addresses: []string{}}}, nil
}
