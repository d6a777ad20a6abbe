package main

import (
	"errors"
	"fmt"
	"os/signal"
	"strings"
	"syscall"

	"github.com/spf13/cobra"

	"eventether/core/look"
	"eventether/core/say"
	"eventether/internal/media"
)

func lookCommand() *cobra.Command {
	var asJSON bool
	var seconds float64
	c := &cobra.Command{Use: "look FILE", Short: "Look at a clip: what its picture and its sound really come to",
		Long: "Decode a recording with Debian's ffmpeg and look at every frame and every sample: the rate it really has, repeated frames,\n" +
			"black, frozen, border, range, combing, flicker; loudness, peaks, clipping, hum, one-sided or inverted sound, level control.\n" +
			"Exit status: 0 nothing was found that nobody wants, 1 something was, 2 the file is no recording.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if seconds < 1 || seconds > 86400 {
				return &exit{exitUnusable, fmt.Errorf("seconds %g: want 1 to 86400", seconds)}
			}
			ctx, stop := signal.NotifyContext(cmd.Context(), syscall.SIGINT, syscall.SIGTERM, syscall.SIGHUP,
				syscall.SIGQUIT)
			defer stop()
			l, err := media.Look(ctx, args[0], media.LookOptions{Seconds: seconds}, nil)
			switch {
			case ctx.Err() != nil:
				return &exit{exitInternal, errors.New("broken off")}
			case err != nil:
				return &exit{exitUnusable, err}
			}
			text, wrong := lookedText(l)
			if asJSON {
				if err := printJSON(cmd.OutOrStdout(), l); err != nil {
					return err
				}
			} else {
				fmt.Fprint(cmd.OutOrStdout(), text)
			}
			if wrong {
				return &exit{exitSnapped, nil}
			}
			return nil
		}}
	c.Flags().BoolVar(&asJSON, "json", false, "print as JSON")
	c.Flags().Float64Var(&seconds, "seconds", 600, "how much of it is looked at, at most")
	return c
}

// lookedText is what a look came to, for people; wrong tells whether something was found that nobody wants.
func lookedText(l *media.Looked) (text string, wrong bool) {
	var b strings.Builder
	part := func(signs []look.Sign) {
		for _, s := range signs {
			mark := map[look.Answer]string{look.Found: "found", look.Clear: "clear", look.CannotTell: "cannot tell"}[s.Answer]
			fmt.Fprintf(&b, "  %-12s %-10s %s\n", mark, s.What, s.Says)
			bad := s.What != look.IsRate && s.What != look.IsEqual && s.What != look.IsRange
			wrong = wrong || s.Answer == look.Found && bad
		}
	}
	fmt.Fprintf(&b, "%s, %s s\n", l.File, say.Number(say.Round1(l.Seconds)))
	if v := l.Video; v != nil {
		fmt.Fprintf(&b, "\n%d × %d, in use %d × %d\n", v.Width, v.Height, v.Active.W, v.Active.H)
		part(v.Signs)
	}
	if a := l.Audio; a != nil {
		fmt.Fprintf(&b, "\n%s LUFS, range %s LU, peak %s dBTP, quietest tenth %s dBFS\n", say.Number(a.LUFS),
			say.Number(a.Range), say.Number(a.TruePeak), say.Number(a.FloorDB))
		part(a.Signs)
	}
	if l.Cut != "" {
		fmt.Fprintf(&b, "\nNot all of it: %s\n", l.Cut)
	}
	return b.String(), wrong
}
