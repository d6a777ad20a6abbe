package main

import (
	"errors"
	"fmt"
	"io"
	"os/signal"
	"strings"
	"syscall"

	"github.com/spf13/cobra"

	"eventether/core/inspect"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/verdict"
	"eventether/core/view"
	"eventether/internal/media"
)

func inspectCommand() *cobra.Command {
	var asJSON bool
	var file, of, against string
	var seconds float64
	c := &cobra.Command{Use: "inspect FILE", Short: "Inspect a clip: what it shows, how it is coded, and whether that is what was planned",
		Long: "Look at a recording as look does, and read how it is coded: container and whether a crash would have lost it, rate, keyframes,\n" +
			"B-frames, level, the bitrate of every second against the buffer. With --rig it is held line by line against the encoder sheet.\n" +
			"Exit status: 0 as planned, 1 something is not, 2 the file is no recording, 3 nothing is wrong but something could not be told.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if seconds < 1 || seconds > 86400 {
				return &exit{exitUnusable, fmt.Errorf("seconds %g: want 1 to 86400", seconds)}
			}
			var v *verdict.Verdict
			if file != "" {
				r, err := readRig(file, cmd.InOrStdin())
				if err != nil {
					return err
				}
				v = judge.Rig(r)
				all := view.InspectedOf(v)
				if of == "" {
					of = all[0].What
				}
				if _, err := view.LookedAt(v, of, nil, nil); err != nil {
					return &exit{exitUnusable, fmt.Errorf("%w: want one of %s", err, names(all))}
				}
			} else if of != "" {
				return &exit{exitUnusable, errors.New("--of names a part of a rig: say which rig with --rig")}
			}
			ctx, stop := signal.NotifyContext(cmd.Context(), syscall.SIGINT, syscall.SIGTERM, syscall.SIGHUP, syscall.SIGQUIT)
			defer stop()
			o := media.InspectOptions{Seconds: seconds, Times: true, Other: against}
			if v != nil {
				o.Kbps = view.PlannedKbps(v, of)
			}
			in, err := media.Inspect(ctx, args[0], o, nil)
			switch {
			case ctx.Err() != nil:
				return &exit{exitInternal, errors.New("broken off")}
			case err != nil:
				return &exit{exitUnusable, err}
			}
			for i := range in.Times.Claps { // frames are for a screen
				in.Times.Claps[i].Frames = []media.Shot{}
			}
			return inspected(cmd, in, v, of, asJSON)
		}}
	c.Flags().BoolVar(&asJSON, "json", false, "print as JSON")
	c.Flags().StringVar(&file, "rig", "", "rig it is held against (- reads standard input)")
	c.Flags().StringVar(&of, "of", "", "what of the rig it is of: recording-0, stream-0, programme, or a source's id; the first recording when not said")
	c.Flags().StringVar(&against, "against", "", "another recording of the same sound: by how much it comes later, and whether its clock drifts")
	c.Flags().Float64Var(&seconds, "seconds", 600, "how much of it is looked at, at most")
	return c
}

func names(all []view.LookedFigure) string {
	out := make([]string, len(all))
	for i := range all {
		out[i] = all[i].What
	}
	return strings.Join(out, ", ")
}

// inspected prints an inspection, beside the plan where there is one.
func inspected(cmd *cobra.Command, in *media.Inspected, v *verdict.Verdict, of string, asJSON bool) error {
	w := cmd.OutOrStdout()
	if v == nil {
		if asJSON {
			return printJSON(w, in)
		}
		text, wrong := lookedText(&in.Looked)
		var b strings.Builder
		b.WriteString(text + "\n")
		coded(&b, view.CodedAs(&in.Arrived, in.Bytes), in.Arrived.Whole, in.Notes)
		timesText(&b, &in.Times)
		if _, err := io.WriteString(w, b.String()); err != nil {
			return &exit{exitInternal, err}
		}
		if f := view.GapsOf(&in.Arrived.Came); wrong || f != nil && f.State != limit.Slack {
			return &exit{exitSnapped, nil}
		}
		return nil
	}
	out, err := view.InspectedAt(v, of, &in.Arrived, in.Video, in.Audio, in.Bytes)
	if err != nil {
		return &exit{exitUnusable, err}
	}
	if asJSON {
		if err := printJSON(w, struct {
			*view.Inspected
			Times media.Times `json:"times"`
		}{out, in.Times}); err != nil {
			return err
		}
	} else {
		var b strings.Builder
		fmt.Fprintf(&b, "%s\n\n", out.Sentence)
		foundText(&b, out.Findings)
		b.WriteString("\n")
		coded(&b, out.Coded, out.Whole, in.Notes)
		timesText(&b, &in.Times)
		heldText(&b, out.Held)
		if _, err := io.WriteString(w, b.String()); err != nil {
			return &exit{exitInternal, err}
		}
	}
	worst := limit.Slack
	for _, f := range out.Findings {
		worst = max(worst, f.State)
	}
	if out.Held != nil {
		for _, l := range out.Held.Lines {
			if !l.Hidden {
				worst = max(worst, l.State)
			}
		}
	}
	switch worst {
	case limit.Snapped, limit.Kinked:
		return &exit{exitSnapped, nil}
	case limit.Untested:
		return &exit{exitUntested, nil}
	}
	return nil
}

func foundText(b *strings.Builder, all []view.Found) {
	for _, f := range all {
		fmt.Fprintf(b, "  %-9s %-10s %s\n", f.State, f.What, f.Says)
		if f.Do != "" {
			fmt.Fprintf(b, "  %-9s %-10s → %s\n", "", "", f.Do)
		}
	}
}

func coded(b *strings.Builder, all []view.LookedFigure, whole *inspect.Whole, notes []string) {
	for _, f := range all {
		fmt.Fprintf(b, "  %-12s %s\n", f.What, f.Says)
	}
	if whole != nil && whole.Says != "" {
		fmt.Fprintf(b, "  %s\n", whole.Says)
	}
	for _, n := range notes {
		fmt.Fprintf(b, "  %s\n", n)
	}
}

// timesText is what a clip tells of time.
func timesText(b *strings.Builder, t *media.Times) {
	if t.Slate != nil {
		fmt.Fprintf(b, "  %-12s %s\n", "slate", t.Slate.Says)
	}
	if t.Against != nil {
		fmt.Fprintf(b, "  %-12s %s\n", "second sound", t.Against.Says)
	}
	for _, c := range t.Claps {
		fmt.Fprintf(b, "  %-12s heard at %.3f s\n", "clap", c.At)
	}
}

// heldText is a part of the sheet beside what arrived.
func heldText(b *strings.Builder, h *inspect.Held) {
	if h == nil {
		return
	}
	fmt.Fprintf(b, "\n%s: %s\n", h.Name, h.Sentence)
	for _, l := range h.Lines {
		if l.Hidden {
			continue
		}
		fmt.Fprintf(b, "  %-9s %-28s %-18s %s\n", l.State, l.Name, l.Planned, l.Measured)
		if l.Says != "" {
			fmt.Fprintf(b, "  %-9s %-28s → %s\n", "", "", l.Says)
		}
	}
}
