package main

import (
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os/signal"
	"strings"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/look"
	"eventether/core/sheet"
	"eventether/core/verdict"
	"eventether/core/view"
	"eventether/internal/ingest"
)

func rehearseCommand() *cobra.Command {
	var asJSON, lan bool
	var file, part, by string
	var minutes float64
	c := &cobra.Command{Use: "rehearse", Short: "Listen like a destination: what does the program really send?",
		Long: "Open an address with a key made for it, wait for a sender, and say what arrives; with --rig it is held line by line against the\n" +
			"encoder sheet. It ends when the sender is gone, after --minutes, or with Ctrl-C.\n" +
			"Exit status: 0 as planned, 1 something is not, 2 it cannot listen, 3 too little came to tell.",
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			if minutes <= 0 || minutes > 24*60 {
				return &exit{exitUnusable, fmt.Errorf("minutes %g: want more than 0, 1440 at most", minutes)}
			}
			o := ingest.Options{Transport: by, Open: lan, Log: slog.New(slog.DiscardHandler)}
			var v *verdict.Verdict
			if file != "" {
				r, err := readRig(file, cmd.InOrStdin())
				if err != nil {
					return err
				}
				v = judge.Rig(r)
				w, ok := sheet.WantedOf(v, part)
				if !ok || !w.Stream {
					return &exit{exitUnusable, fmt.Errorf("--part %s: want a stream of the rig that its program codes, such as stream-0", part)}
				}
				if o.Kbps = w.Kbps; by == "" && w.Transport != "hls" {
					o.Transport = w.Transport
				}
			}
			if o.Transport == "" {
				o.Transport = "rtmp"
			}
			return rehearse(cmd, o, v, part, time.Duration(minutes*float64(time.Minute)), asJSON)
		}}
	c.Flags().BoolVar(&asJSON, "json", false, "print as JSON")
	c.Flags().BoolVar(&lan, "lan", false, "let senders of the local network in, too")
	c.Flags().StringVar(&file, "rig", "", "rig whose sheet it is held against (- reads standard input)")
	c.Flags().StringVar(&part, "part", "stream-0", "stream of the rig")
	c.Flags().StringVar(&by, "by", "", "rtmp, srt or webrtc; as the rig has it, or rtmp, when not said")
	c.Flags().Float64Var(&minutes, "minutes", 30, "how long it listens at most")
	return c
}

// rehearse listens until the sender is gone, and prints what came.
func rehearse(cmd *cobra.Command, o ingest.Options, v *verdict.Verdict, part string, most time.Duration, asJSON bool) error {
	ctx, stop := signal.NotifyContext(cmd.Context(), syscall.SIGINT, syscall.SIGTERM, syscall.SIGHUP, syscall.SIGQUIT)
	defer stop()
	in, err := ingest.Start(o)
	if err != nil {
		return &exit{exitUnusable, err}
	}
	defer in.Close()
	say := cmd.ErrOrStderr()
	fmt.Fprintf(say, "Server: %s\nKey:    %s\nBegin sending; Ctrl-C ends it.\n", strings.Join(in.Addresses(), "\n        "), in.Key())
	end := time.NewTimer(most)
	defer end.Stop()
	tick := time.NewTicker(250 * time.Millisecond)
	defer tick.Stop()
	told := 0
	for going := true; going; {
		select {
		case <-ctx.Done():
			going = false
		case <-end.C:
			going = false
		case <-tick.C:
			s := in.Standing()
			for ; told < len(s.Events); told++ {
				fmt.Fprintln(say, s.Events[told].Says)
			}
			going = s.Going.Connected || s.Going.Connections == 0
		}
	}
	s := in.Standing()
	if s.Going.Connections == 0 {
		return &exit{exitUntested, errors.New("nobody sent anything")}
	}
	if v == nil {
		if asJSON {
			return printJSON(cmd.OutOrStdout(), s.Arrived)
		}
		var b strings.Builder
		coded(&b, view.CodedAs(&s.Arrived, 0), nil, nil)
		fmt.Fprintf(&b, "  %.0f s, %.0f kb/s of picture (%.0f to %.0f), %d frames lost, %d stops, up to %.1f s late\n", s.Arrived.Came.Seconds, s.Arrived.Came.VideoKbps,
			s.Arrived.Came.Least, s.Arrived.Came.Most, s.Going.Lost, len(s.Going.Stalls), s.Going.Late)
		if h := s.Heard; h != nil {
			fmt.Fprintf(&b, "  %g LUFS, true peak %g dBTP\n", h.LUFS, h.TruePeak)
			for _, f := range h.Signs {
				if f.Answer == look.Found {
					fmt.Fprintf(&b, "  %-10s %s\n", f.What, f.Says)
				}
			}
		}
		_, err := io.WriteString(cmd.OutOrStdout(), b.String())
		return err
	}
	out, err := view.RehearsedAt(v, part, &s.Arrived, s.Going, s.Seen, s.Heard)
	if err != nil {
		return &exit{exitUnusable, err}
	}
	if asJSON {
		if err := printJSON(cmd.OutOrStdout(), out); err != nil {
			return err
		}
	} else {
		var b strings.Builder
		fmt.Fprintf(&b, "%s\n", out.Sentence)
		foundText(&b, out.Sounds)
		heldText(&b, out.Held)
		for _, r := range out.Held.Refuses {
			fmt.Fprintf(&b, "  refused: %s\n", r.Says)
		}
		if _, err := io.WriteString(cmd.OutOrStdout(), b.String()); err != nil {
			return err
		}
	}
	switch { // that it did not last five minutes is no fault here: how long it lasts was asked for
	case out.Preflight.Rows[0].Passes.Answer == look.Clear:
		return &exit{exitSnapped, nil}
	case out.Held.State == limit.Untested.String():
		return &exit{exitUntested, nil}
	}
	return nil
}
