package main

import (
	"errors"
	"fmt"
	"io"
	"os/signal"
	"strings"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"eventether/core/picture"
	"eventether/internal/media"
)

func measureCommand() *cobra.Command {
	var asJSON bool
	var size, rate, folder string
	var seconds float64
	c := &cobra.Command{Use: "measure", Short: "Measure what this computer can do: coding, decoding, scaling, writing",
		Long: "Measure what this computer can do with Debian's ffmpeg: software H.264 at each preset, decoding, converting, scaling, every hardware\n" +
			"encoder that opens, and, with --folder, sustained writing. With --json the result can be taken to another computer: it is imported on the\n" +
			"Send screen.",
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			o := media.Options{Folder: folder, Each: time.Duration(seconds * float64(time.Second))}
			if _, err := fmt.Sscanf(size, "%dx%d", &o.Width, &o.Height); err != nil {
				return &exit{exitUnusable, fmt.Errorf("size %q: want one such as 1920x1080", size)}
			}
			if seconds < 0.2 || seconds > 120 {
				return &exit{exitUnusable, fmt.Errorf("seconds %g: want 0.2 to 120", seconds)}
			}
			var err error
			if o.Rate, err = picture.ParseRate(rate); err != nil {
				return &exit{exitUnusable, err}
			}
			ctx, stop := signal.NotifyContext(cmd.Context(), syscall.SIGINT, syscall.SIGTERM, syscall.SIGHUP,
				syscall.SIGQUIT)
			defer stop()
			r, err := media.Measure(ctx, o, func(p media.Progress) {
				if p.Step != "" {
					fmt.Fprintf(cmd.ErrOrStderr(), "%2d of %d: %s\n", p.Done+1, p.Of, p.Step)
				}
			})
			switch {
			case ctx.Err() != nil:
				return &exit{exitInternal, errors.New("broken off; nothing is left behind")}
			case err != nil:
				return &exit{exitUnusable, err}
			case asJSON:
				return printJSON(cmd.OutOrStdout(), r)
			}
			var b strings.Builder
			fmt.Fprintf(&b, "%s, %s, on %s\n%s\n\n", r.Host, r.At, r.Computes.Measured.On, r.Computes.Measured.Load)
			for _, s := range r.Steps {
				if s.Failed != "" {
					fmt.Fprintf(&b, "%-28s %s\n", s.Name, s.Failed)
					continue
				}
				fmt.Fprintf(&b, "%-28s %8.1f to %8.1f %s", s.Name, s.Low, s.High, s.Unit)
				if s.Slower > 0.05 {
					fmt.Fprintf(&b, ", %.0f %% slower in the last third", 100*s.Slower)
				}
				b.WriteString("\n")
			}
			_, err = io.WriteString(cmd.OutOrStdout(), b.String())
			return err
		}}
	f := c.Flags()
	f.BoolVar(&asJSON, "json", false, "print the result as JSON")
	f.StringVar(&size, "size", "1920x1080", "picture to measure with")
	f.StringVar(&rate, "rate", "30000/1001", "its rate, as an exact fraction")
	f.StringVar(&folder, "folder", "", "measure sustained writing to this folder")
	f.Float64Var(&seconds, "seconds", 2, "how long each step runs")
	return c
}
