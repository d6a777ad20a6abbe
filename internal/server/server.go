// Package server is the web side: requests in, core called, responses out. No rule of the job lives here.
package server

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"io"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path"
	"strings"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
	"github.com/gin-contrib/gzip"
	"github.com/gin-gonic/gin"

	"eventether/core/rules"
	"eventether/internal/devices"
	"eventether/internal/jobs"
	"eventether/internal/readers"
	"eventether/internal/rigfile"
	"eventether/internal/store"
)

// maxBody bounds what a request may send: a rig file and a little around it.
const maxBody = rigfile.MaxBytes + 1<<16

// databaseTimeout bounds how long a request waits for the database.
const databaseTimeout = 3 * time.Second

// How long a request may take to come in, and to be answered.
const (
	readWithin   = 30 * time.Second
	answerWithin = time.Minute
)

// Config is what a server needs.
type Config struct {
	Store *store.Store
	Site  fs.FS // the built front end
	Sys   fs.FS // how this system describes itself; /sys when nil
	Log   *slog.Logger
	// Jobs is long work; nil does none. Clips is the folder clips wait in for it.
	Jobs  func() (*jobs.Queue, error)
	Clips string
	// Closing is closed when the server is about to end: who only waits is let go. Nil never closes.
	Holds   func(bytes int64) // told how much the shows that are looked at take, where anybody wants to know
	Closing <-chan struct{}
	// Rest is what is still to be kept once Closing is closed, such as the report of a rehearsal: the database stays until it is
	// done. Nil where nobody waits.
	Rest *sync.WaitGroup
}

// New builds the handler.
func New(cfg Config) http.Handler {
	h, _ := build(cfg)
	return h
}

func build(cfg Config) (http.Handler, *api) {
	gin.SetMode(gin.ReleaseMode)
	if cfg.Sys == nil {
		cfg.Sys = os.DirFS("/sys")
	}
	if cfg.Rest == nil {
		cfg.Rest = &sync.WaitGroup{}
	}
	if cfg.Jobs == nil {
		cfg.Jobs = func() (*jobs.Queue, error) { return nil, errors.New("this server does no long work") }
	}
	g := gin.New()
	g.Use(logged(cfg.Log), gin.CustomRecoveryWithWriter(nil, func(c *gin.Context, what any) {
		cfg.Log.Error("panic", "path", c.Request.URL.Path, "what", what)
		c.AbortWithStatusJSON(http.StatusInternalServerError, huma.NewError(http.StatusInternalServerError,
			"something went wrong inside; it is in the log"))
	}), crowd(), guard, gzip.Gzip(gzip.DefaultCompression, gzip.WithExcludedPaths([]string{"/api/"})))
	api := &api{store: cfg.Store, heavy: newHeavy(), verdicts: newVerdicts(), jobs: cfg.Jobs, clips: cmp.Or(cfg.Clips, os.TempDir()), logger: cfg.Log, rehearsals: &rehearsing{}, rest: cfg.Rest, sys: cfg.Sys,
		devices:  devices.NewBench(func() (readers.Gauge, bool) { return readers.ReadGauge(os.DirFS("/proc"), cfg.Sys) }),
		own:      func() *readers.Machine { return readers.ThisMachine(cfg.Sys) },
		watchers: &watchers{}, sums: newSums(), folded: newFolded(cfg.Holds), restoring: &restoring{},
		door: &door{main: g, now: time.Now}, closing: cfg.Closing}
	h := humagin.New(g, apiConfig())
	api.register(h)
	nameRules(h.OpenAPI())
	g.GET("/api/openapi.json", described(h.OpenAPI()))
	g.GET("/healthz", api.health)
	g.GET("/api/backup", api.backup)
	g.POST(restorePath, api.restoreAll)
	g.GET(restorePath, api.restored)
	g.POST("/api/rigs/:id/look", api.lookAt)
	g.POST("/api/rigs/:id/inspections", api.takeClip)
	g.PUT("/api/looks/:look", api.takeBatch)
	g.POST("/api/rigs/:id/line", api.tryLine)
	g.NoRoute(site(cfg.Site))
	if cfg.Closing != nil {
		go func() {
			<-cfg.Closing
			api.door.Lock()
			defer api.door.Unlock()
			api.door.shut()
		}()
	}
	return g, api
}

// Describe gives the API description for a store-less build, such as the TypeScript types.
func Describe() *huma.OpenAPI {
	gin.SetMode(gin.ReleaseMode)
	h := humagin.New(gin.New(), apiConfig())
	(&api{}).register(h)
	nameRules(h.OpenAPI())
	return h.OpenAPI()
}

// nameRules says in the description which rules there are: what names one can be nothing else.
func nameRules(d *huma.OpenAPI) {
	var names []any
	for _, r := range rules.All() {
		names = append(names, string(r.Name))
	}
	of := d.Components.Schemas.Map()
	of["RuleName"] = &huma.Schema{Type: huma.TypeString, Enum: names, Description: "A rule of docs/rules.md"}
	one := &huma.Schema{Ref: "#/components/schemas/RuleName"}
	of["Limit"].Properties["rule"], of["RuleWords"].Properties["id"] = one, one
}

// described serves the description of the API, written once.
func described(d *huma.OpenAPI) gin.HandlerFunc {
	text := sync.OnceValues(func() ([]byte, error) { return json.Marshal(d) })
	return func(c *gin.Context) {
		b, err := text()
		if err != nil {
			c.Status(http.StatusInternalServerError)
			return
		}
		c.Data(http.StatusOK, "application/json", b)
	}
}

func apiConfig() huma.Config {
	c := huma.DefaultConfig("Even Tether", "1")
	c.DocsPath = ""
	c.Components.Schemas = huma.NewMapRegistry("#/components/schemas/", rigfile.Name)
	c.SchemasPath = ""
	c.OpenAPIPath = "" // served by described
	c.Formats = map[string]huma.Format{"application/json": jsonFormat, "json": jsonFormat}
	c.CreateHooks = nil // no $schema links in bodies
	rigfile.Aliases(c.Components.Schemas)
	return c
}

// HTTPServer wraps a handler with time limits.
func HTTPServer(h http.Handler) *http.Server {
	return &http.Server{Handler: h, ReadHeaderTimeout: 5 * time.Second, ReadTimeout: readWithin,
		WriteTimeout: answerWithin,
		IdleTimeout:  2 * time.Minute, MaxHeaderBytes: 1 << 16}
}

func logged(log *slog.Logger) gin.HandlerFunc {
	return func(c *gin.Context) {
		began := time.Now()
		c.Next()
		if status := c.Writer.Status(); status >= 500 || strings.HasPrefix(c.Request.URL.Path, "/api/") {
			log.Info("request", "method", c.Request.Method, "path", c.Request.URL.Path, "status", status, "ms",
				time.Since(began).Milliseconds())
		}
	}
}

const contentPolicy = "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; font-src 'self'; img-src 'self' data:; media-src 'self' blob:; worker-src 'self'; connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"

// looksAtDevices tells the pages that open cameras and microphones: Look, and the page of a night. A page that was opened
// elsewhere and led there loads itself anew before it asks for them (web/src/look/device.ts).
func looksAtDevices(path string) bool {
	return strings.HasPrefix(path, "/rigs/") && strings.HasSuffix(path, "/look") || strings.HasPrefix(path, "/nights/")
}

// guard keeps other sites out: only loopback names as Host (DNS rebinding), only our own Origin for anything that
// changes something, only JSON bodies (which other sites cannot send without asking first), and nothing loaded from
// elsewhere.
func guard(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", contentPolicy)
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "no-referrer")
	devices := "camera=(), microphone=()"
	if looksAtDevices(c.Request.URL.Path) {
		devices = "camera=(self), microphone=(self)"
	}
	h.Set("Permissions-Policy", devices+", display-capture=(), geolocation=(), usb=(), serial=(), hid=()")
	h.Set("Cross-Origin-Opener-Policy", "same-origin")
	h.Set("Cross-Origin-Resource-Policy", "same-origin")
	refuse := func(status int, why string) {
		h.Set("Content-Type", "application/problem+json")
		c.AbortWithStatusJSON(status, huma.NewError(status, why))
	}
	if !loopbackName(c.Request.Host) {
		refuse(http.StatusForbidden,
			"host "+c.Request.Host+" is not this computer: open the address eventether printed")
		return
	}
	if c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead {
		origin := c.GetHeader("Origin")
		site := c.GetHeader("Sec-Fetch-Site") // what asks from another port of this computer says same-site
		if origin != "" && origin != "http://"+c.Request.Host || site != "" && site != "same-origin" && site != "none" {
			refuse(http.StatusForbidden, "a request from another site ("+cmp.Or(origin, site)+") is refused")
			return
		}
		if want := rawBody(c.Request.Method, c.Request.URL.Path); want != "" {
			if c.GetHeader("Content-Type") != want {
				refuse(http.StatusUnsupportedMediaType, "content type "+c.GetHeader("Content-Type")+": want "+want)
				return
			}
			c.Next()
			return
		}
		if c.Request.ContentLength != 0 && !strings.HasPrefix(c.GetHeader("Content-Type"), "application/json") {
			refuse(http.StatusUnsupportedMediaType,
				"content type "+c.GetHeader("Content-Type")+": want application/json")
			return
		}
		if c.Request.ContentLength > maxBody {
			// Read off first: a client that is still sending would see a broken line instead of the answer.
			_, _ = io.CopyN(io.Discard, c.Request.Body, drainMost)
			refuse(http.StatusRequestEntityTooLarge, "the file is larger than 4 MB: no rig is")
			return
		}
		sent := c.Request.Body
		defer func() { _, _ = io.CopyN(io.Discard, sent, drainMost) }()
		c.Request.Body = io.NopCloser(io.LimitReader(sent, maxBody+1))
		if problem := keyed(c); problem != "" {
			refuse(http.StatusUnprocessableEntity, problem)
			return
		}
	}
	c.Next()
}

// drainMost bounds what is read of a body nobody wants, in bytes.
const drainMost = 64 << 20

func loopbackName(hostPort string) bool {
	host := hostPort
	if h, _, err := net.SplitHostPort(hostPort); err == nil {
		host = h
	}
	host = strings.Trim(host, "[]")
	if host == "localhost" {
		return true
	}
	ip := net.ParseIP(host)
	return ip != nil && ip.IsLoopback()
}

// health answers 200 when the database answers, 503 when it does not.
func (a *api) health(c *gin.Context) {
	ctx, cancel := context.WithTimeout(c.Request.Context(), databaseTimeout)
	defer cancel()
	c.Header("Cache-Control", "no-store")
	if err := a.store.Ping(ctx); err != nil {
		c.JSON(http.StatusServiceUnavailable, gin.H{"ok": false, "database": "does not answer"})
		return
	}
	c.JSON(http.StatusOK, gin.H{"ok": true, "database": "answers"})
}

// site serves the front end; any other path is the application's own and gets its page.
func site(files fs.FS) gin.HandlerFunc {
	return func(c *gin.Context) {
		p := strings.TrimPrefix(path.Clean(c.Request.URL.Path), "/")
		if strings.HasPrefix(p, "api/") || c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead {
			c.Header("Content-Type", "application/problem+json")
			c.JSON(http.StatusNotFound, huma.NewError(http.StatusNotFound,
				c.Request.Method+" "+c.Request.URL.Path+": there is no such address"))
			return
		}
		if st, err := fs.Stat(files, p); err != nil || st.IsDir() {
			if p == "assets" || strings.HasPrefix(p, "assets/") {
				c.String(http.StatusNotFound, "There is no file "+p+".\n")
				return
			}
			p = "index.html"
		}
		if strings.HasPrefix(p, "assets/") {
			c.Header("Cache-Control", "public, max-age=31536000, immutable")
		} else {
			c.Header("Cache-Control", "no-cache")
		}
		data, err := fs.ReadFile(files, p)
		if errors.Is(err, fs.ErrNotExist) {
			c.String(http.StatusNotFound, "The front end is not built into this binary: run make build.\n")
			return
		}
		http.ServeContent(c.Writer, c.Request, p, time.Time{}, strings.NewReader(string(data)))
	}
}
