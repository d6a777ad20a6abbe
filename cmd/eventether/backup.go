package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"github.com/spf13/cobra"

	"eventether/internal/archive"
	"eventether/internal/postgres"
	"eventether/internal/store"
)

func backupCommand() *cobra.Command {
	return archiveCommand("backup FILE", "Write everything (rigs, shelf, log) into one archive",
		"The application must not be running on the folder; while it is, the Log page gives the same archive.",
		func(ctx context.Context, cmd *cobra.Command, s *store.Store, name string) (err error) {
			f, err := os.CreateTemp(filepath.Dir(name), ".eventether-*")
			if err != nil {
				return &exit{exitUnusable, err}
			}
			defer func() {
				_ = f.Close()
				_ = os.Remove(f.Name()) // gone already when all went well
			}()
			if err := archive.Write(ctx, s, f, time.Now()); err != nil {
				return &exit{exitInternal, err}
			}
			if err := errors.Join(f.Sync(), f.Close(), os.Rename(f.Name(), name)); err != nil {
				return &exit{exitUnusable, err}
			}
			fmt.Fprintf(cmd.OutOrStdout(), "Everything is in %s.\n", name)
			return nil
		})
}

func restoreCommand() *cobra.Command {
	return archiveCommand("restore FILE", "Bring an archive back; nothing that is there is overwritten",
		"Prints what was new, longer (revisions or ticks were added), the same, ahead (what is there goes on from it), or clashing (another stands there; it stays).\n"+
			"Exit status: 0 all was taken or was there; 1 something clashes; 2 the archive is not usable.",
		func(ctx context.Context, cmd *cobra.Command, s *store.Store, name string) error {
			f, err := os.Open(name)
			if err != nil {
				return &exit{exitUnusable, err}
			}
			defer f.Close()
			info, err := f.Stat()
			if err != nil {
				return &exit{exitUnusable, err}
			}
			report, err := archive.Read(ctx, s, f, info.Size(), nil)
			if err != nil {
				status := exitInternal
				if bad := (*archive.Unusable)(nil); errors.As(err, &bad) {
					status = exitUnusable
				}
				return &exit{status, fmt.Errorf("%s: %w", name, err)}
			}
			out := cmd.OutOrStdout()
			for _, r := range report.Rows {
				fmt.Fprintf(out, "%-7s %-6s %s\n", r.Came, r.Kind, r.Name)
			}
			fmt.Fprintf(out, "%d new, %d longer, %d the same, %d ahead, %d clashing.\n", report.Count(store.CameNew),
				report.Count(store.CameLonger), report.Count(store.CameSame), report.Count(store.CameAhead),
				report.Count(store.CameClash))
			if report.Count(store.CameClash) > 0 {
				return &exit{exitSnapped, nil}
			}
			return nil
		})
}

func archiveCommand(use, short, long string, do func(ctx context.Context, cmd *cobra.Command, s *store.Store,
	name string) error) *cobra.Command {
	var data, dsn string
	c := &cobra.Command{Use: use, Short: short, Long: short + ".\n" + long, Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			ctx := cmd.Context()
			at := dsn
			if at == "" {
				cluster, err := postgres.Start(ctx, data)
				if err != nil {
					return &exit{exitUnusable, err}
				}
				defer func() { _ = cluster.Stop() }()
				at = cluster.DSN()
			}
			s, err := store.Open(ctx, at)
			if err != nil {
				return &exit{exitInternal, err}
			}
			defer s.Close()
			return do(ctx, cmd, s, args[0])
		}}
	c.Flags().StringVar(&data, "data", "var/db", "folder of the application's own database")
	c.Flags().StringVar(&dsn, "dsn", "", "use this PostgreSQL instead of an own one")
	return c
}
