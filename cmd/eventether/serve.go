package main

import (
	"context"
	"crypto/tls"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"path/filepath"
	"runtime/debug"
	"slices"
	"strconv"
	"sync"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"eventether/internal/certificate"
	"eventether/internal/demo"
	"eventether/internal/jobs"
	"eventether/internal/postgres"
	"eventether/internal/server"
	"eventether/internal/store"
	"eventether/web"
)

type serveOptions struct {
	port  int
	data  string
	dsn   string
	sys   string
	demo  bool
	https int
	holds func(bytes int64)
}

// memoryLimit is from where on memory is cleared away sooner.
const memoryLimit = 192 << 20

func serveCommand() *cobra.Command {
	return webCommand("serve", "Serve the web application on this computer", false)
}

func demoCommand() *cobra.Command {
	return webCommand("demo", "Serve the web application with the demo data", true)
}

func webCommand(use, short string, withDemo bool) *cobra.Command {
	o := serveOptions{demo: withDemo}
	abroad := false
	c := &cobra.Command{Use: use, Short: short, Args: cobra.NoArgs, RunE: func(cmd *cobra.Command, _ []string) error {
		ctx, stop := signal.NotifyContext(cmd.Context(), os.Interrupt, syscall.SIGTERM, syscall.SIGHUP, syscall.SIGQUIT)
		defer stop()
		if os.Getenv("GOGC") == "" { // judging keeps little and throws much away
			debug.SetGCPercent(300)
		}
		if os.Getenv("GOMEMLIMIT") == "" { // and where much is judged at once, it is cleared away sooner
			o.holds = func(bytes int64) {
				debug.SetMemoryLimit(memoryLimit + 3*bytes)
			} // what long shows take comes on top, with room to clear it away seldom
			o.holds(0)
		}
		if !abroad {
			o.https = 0
		}
		if err := serve(ctx, o); err != nil && ctx.Err() == nil {
			return &exit{exitInternal, err}
		}
		return nil
	}}
	c.Flags().IntVar(&o.port, "port", 4170, "port on 127.0.0.1; the next free one when it is busy")
	c.Flags().StringVar(&o.data, "data", "var/db", "folder of the application's own database")
	c.Flags().StringVar(&o.sys, "sys", "/sys", "folder this computer is read from, laid out like /sys")
	c.Flags().IntVar(&o.https, "https-port", 4171, "port for other computers, with --https")
	c.Flags().BoolVar(&abroad, "https", false,
		"let other computers in too, over HTTPS with a certificate of this computer's own and a key")
	c.Flags().StringVar(&o.dsn, "dsn", "", "use this PostgreSQL instead of an own one")
	return c
}

func serve(ctx context.Context, o serveOptions) (err error) {
	log := slog.New(slog.NewTextHandler(os.Stderr, nil))
	dsn := o.dsn
	if dsn == "" {
		cluster, err := postgres.Start(ctx, o.data)
		if err != nil {
			return err
		}
		defer func() {
			if stopErr := cluster.Stop(); stopErr != nil {
				log.Error("stopping the database", "error", stopErr)
			}
		}()
		go cluster.Keep(ctx, log)
		dsn = cluster.DSN()
	}
	st, err := store.Open(ctx, dsn)
	if err != nil {
		return err
	}
	defer st.Close()
	if err := demo.Starter(ctx, st); err != nil {
		return fmt.Errorf("loading the first shelf: %w", err)
	}
	if o.demo {
		if err := demo.Load(ctx, st); err != nil {
			return fmt.Errorf("loading the demo: %w", err)
		}
	}
	l, err := listen(o.port)
	if err != nil {
		return err
	}
	clips := filepath.Join(o.data, "clips")
	if err := os.MkdirAll(clips, 0o700); err != nil {
		return fmt.Errorf("making the folder clips wait in: %w", err)
	}
	clips, err = filepath.Abs(clips)
	if err != nil {
		return err
	}
	queue, err := jobs.Open(ctx, dsn, 1, log, jobs.Kinds(clips)...)
	if err != nil {
		return err
	}
	defer queue.Close()
	if err := queue.Sweep(ctx, clips); err != nil {
		log.Warn("throwing old clips away", "error", err)
	}
	var rest sync.WaitGroup
	closing, shut := context.WithCancel(ctx)
	defer rest.Wait() // before the database goes
	defer shut()
	app := server.New(server.Config{Store: st, Rest: &rest, Jobs: func() (*jobs.Queue, error) { return queue, nil }, Clips: clips, Site: web.Site(), Sys: os.DirFS(o.sys), Log: log,
		Closing: closing.Done(), Holds: o.holds})
	srv := server.HTTPServer(app)
	work, giveUp := context.WithCancel(context.Background())
	defer giveUp()
	srv.BaseContext = func(net.Listener) context.Context { return work }
	failed := make(chan error, 2)
	go func() { failed <- srv.Serve(l) }()
	fmt.Printf("Even Tether is at http://%s (Ctrl-C stops it)\n", l.Addr())
	if o.https > 0 {
		end, err := serveAbroad(app, o, work, failed)
		if err != nil {
			_ = srv.Close()
			return err
		}
		defer end()
	}
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
	}
	fmt.Println("Stopping.")
	end, cancel := context.WithTimeout(context.Background(), goodbye)
	defer cancel()
	if err := srv.Shutdown(end); err != nil && !errors.Is(err, http.ErrServerClosed) {
		// Somebody's long work is under way: it is told to stop. What was kept is kept.
		giveUp()
		return srv.Close()
	}
	return nil
}

// serveAbroad lets other computers in over HTTPS, and says how. What comes back ends it.
func serveAbroad(app http.Handler, o serveOptions, work context.Context, failed chan<- error) (end func(), err error) {
	folder := filepath.Join(o.data, "https")
	names, addresses := server.Names()
	own, err := certificate.For(folder, names, addresses, time.Now())
	if err != nil {
		return nil, err
	}
	key, err := server.KeyIn(folder)
	if err != nil {
		return nil, err
	}
	all := slices.Clone(names)
	for _, a := range addresses {
		all = append(all, a.String())
	}
	srv := server.HTTPServer(&server.Abroad{Main: app, Key: key, Names: all})
	srv.BaseContext = func(net.Listener) context.Context { return work }
	srv.TLSConfig = &tls.Config{Certificates: []tls.Certificate{own.TLS}, MinVersion: tls.VersionTLS12}
	srv.ErrorLog = slog.NewLogLogger(slog.DiscardHandler, slog.LevelInfo) // browsers that do not trust it yet
	l, err := net.Listen("tcp", net.JoinHostPort("", strconv.Itoa(o.https)))
	if err != nil {
		return nil, fmt.Errorf("port %d for other computers: %w; take another by --https-port", o.https, err)
	}
	go func() { failed <- srv.ServeTLS(l, "", "") }()
	fmt.Println("From other computers, whoever has this address can see and change everything:")
	for _, name := range all {
		if ip := net.ParseIP(name); name != "localhost" && (ip == nil || !ip.IsLoopback()) {
			fmt.Printf("  https://%s/in/%s\n", net.JoinHostPort(name, strconv.Itoa(o.https)), key)
		}
	}
	fmt.Printf("Their browsers warn until they trust %s: bring it in among the authorities of the browser or the system.\n"+
		"Its SHA-256, to compare: %s\n", own.Authority, own.Fingerprint)
	return func() { _ = srv.Close() }, nil
}

// goodbye is how long requests under way may take to end by themselves when the application stops.
const goodbye = 5 * time.Second

// listen takes the wanted port on loopback, or says that it is busy and takes the next free one.
func listen(want int) (net.Listener, error) {
	for port := want; port < want+100; port++ {
		l, err := net.Listen("tcp", net.JoinHostPort("127.0.0.1", strconv.Itoa(port)))
		if err == nil {
			return l, nil
		}
		if !errors.Is(err, syscall.EADDRINUSE) {
			return nil, err
		}
		fmt.Printf("Port %d is busy; trying %d.\n", port, port+1)
	}
	return nil, fmt.Errorf("no free port from %d to %d on 127.0.0.1", want, want+99)
}

func openAPICommand() *cobra.Command {
	return &cobra.Command{Use: "openapi", Short: "Print the OpenAPI description of the web API", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			enc := json.NewEncoder(cmd.OutOrStdout())
			enc.SetEscapeHTML(false)
			enc.SetIndent("", "  ")
			return enc.Encode(server.Describe())
		}}
}
