package main

import (
	"context"
	"fmt"
	"io"
	"os"
	"os/signal"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/place"
	"eventether/core/rig"
	"eventether/internal/rigfile"
)

func placeCommand() *cobra.Command {
	var asJSON bool
	var apply string
	c := &cobra.Command{Use: "place RIG.json",
		Short: "Find the best socket and format for every USB device (- reads standard input)",
		Long: "Find the best socket and format for every USB device: the picture first, then the worst-loaded bus, then the fewest plugs to move.\n" +
			"Exit status: that of judging the rig as suggested (0 it holds, 1 something snapped, 3 untested); 1 when no placing exists; 2 the file is not usable.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			r, err := readRig(args[0], cmd.InOrStdin())
			if err != nil {
				return err
			}
			parent := cmd.Context()
			if parent == nil {
				parent = context.Background()
			}
			ctx, stop := signal.NotifyContext(parent, os.Interrupt) // Ctrl-C ends the search, not the report
			defer stop()
			said := time.Now()
			s := place.Suggest(judge.Rig(r).Rig, place.Options{Stop: func() bool { return ctx.Err() != nil },
				Report: func(p place.Progress) {
					if time.Since(said) > 2*time.Second { // only of long work
						said = time.Now()
						fmt.Fprintf(cmd.ErrOrStderr(),
							"sweep %d, %.0f %% done; no placing loses less than %d; Ctrl-C stops\n", p.Sweep,
							100*p.Done, p.Bound)
					}
				}})
			after, err := rig.Apply(r, s.Edits...)
			if err != nil {
				return &exit{exitInternal, err}
			}
			if apply != "" && s.Possible {
				text, err := rigfile.Write(after)
				if err != nil {
					return &exit{exitInternal, err}
				}
				if err := os.WriteFile(apply, text, 0o600); err != nil {
					return &exit{exitInternal, err}
				}
			}
			if asJSON {
				err = printJSON(cmd.OutOrStdout(), s)
			} else {
				_, err = io.WriteString(cmd.OutOrStdout(), placeReport(s))
			}
			if err != nil {
				return err
			}
			if !s.Possible {
				return &exit{status: exitSnapped}
			}
			return stateExit(judge.Rig(after).State)
		}}
	c.Flags().BoolVar(&asJSON, "json", false, "print the suggestion as JSON")
	c.Flags().StringVar(&apply, "apply", "", "write the rig as suggested to this file")
	return c
}

// placeReport is a suggestion as plain text.
func placeReport(s *place.Suggestion) string {
	var b strings.Builder
	switch {
	case !s.Possible && s.Proven:
		fmt.Fprintf(&b, "No placing exists: %s.\n", s.Why)
		if len(s.Changes) > 0 {
			fmt.Fprintf(&b, "It would with: %s.\n", strings.Join(s.Changes, "; and "))
		}
	case !s.Possible:
		b.WriteString("The search was stopped before it found a placing; whether there is one is not known.\n")
	case len(s.Moves) == 0 && len(s.Formats) == 0:
		b.WriteString("Everything is best where it is.\n")
	default:
		fmt.Fprintf(&b, "Best placing%s\n",
			map[bool]string{true: ":", false: " as likely (at worst some of it may not hold):"}[s.Sure])
		for _, m := range s.Moves {
			fmt.Fprintf(&b, "  %s\n", m.Words)
		}
		for _, f := range s.Formats {
			fmt.Fprintf(&b, "  %s: from %s to %s\n", f.Label, f.Was, f.Is)
		}
	}
	if s.Possible && !s.Proven {
		b.WriteString("Not proven: a better one may exist.\n")
	}
	if s.Lost != "" {
		fmt.Fprintf(&b, "Given up: %s.\n", s.Lost)
	}
	if len(s.Shared) > 0 {
		b.WriteString("\nShared                                                 now  suggested    carries\n")
	}
	for _, x := range s.Shared {
		fmt.Fprintf(&b, "  %-48s %8.1f %10.1f %10.1f %s\n", x.Name, x.Now, x.Suggested, x.Carries, x.Unit)
	}
	return b.String()
}

// stateExit is the exit status of a judged rig.
func stateExit(s limit.State) error {
	switch s {
	case limit.Snapped:
		return &exit{status: exitSnapped}
	case limit.Untested:
		return &exit{status: exitUntested}
	}
	return nil
}
