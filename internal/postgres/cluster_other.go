//go:build !linux

// Package postgres runs a PostgreSQL of the application's own; here it does not.
package postgres

import (
	"context"
	"errors"
	"log/slog"
)

// ErrInUse says that another eventether holds the data folder.
var ErrInUse = errors.New("the data folder is in use by another eventether")

// Cluster is none on this system.
type Cluster struct{}

// Start says that a database of the application's own needs Linux.
func Start(context.Context, string) (*Cluster, error) {
	return nil, errors.New("a database of its own is started on Linux only: give a PostgreSQL with --dsn")
}

// DSN is none.
func (*Cluster) DSN() string { return "" }

// Stop has nothing to stop.
func (*Cluster) Stop() error { return nil }

// Keep has nothing to keep.
func (*Cluster) Keep(context.Context, *slog.Logger) {}
