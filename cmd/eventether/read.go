package main

import (
	"fmt"
	"io"
	"os"
	"strings"

	"github.com/spf13/cobra"

	"eventether/core/edid"
	"eventether/internal/readers"
	"eventether/internal/wire"
)

// maxListing bounds what is read of a listing; real ones have a few thousand lines.
const maxListing = 4 << 20

// readInput reads a file, or standard input for "-"; name is what messages call it.
func readInput(path string, stdin io.Reader, limit int64) (data []byte, name string, err error) {
	name, in := path, stdin
	if path == "-" {
		name = "standard input"
	} else {
		f, err := os.Open(path)
		if err != nil {
			return nil, name, &exit{exitUnusable, err}
		}
		defer f.Close()
		in = f
	}
	data, err = io.ReadAll(io.LimitReader(in, limit+1))
	if err != nil {
		return nil, name, &exit{exitUnusable, fmt.Errorf("%s: %w", name, err)}
	}
	if int64(len(data)) > limit {
		return nil, name, &exit{exitUnusable, fmt.Errorf("%s: more than %d bytes: no such file is as long", name,
			limit)}
	}
	return data, name, nil
}

func printJSON(out io.Writer, v any) error {
	if err := wire.WriteIndented(out, v); err != nil {
		return &exit{exitInternal, err}
	}
	return nil
}

func edidCommand() *cobra.Command {
	var asJSON bool
	c := &cobra.Command{Use: "edid FILE", Short: "Decode an EDID, what a sink says it takes (- reads standard input)",
		Long: "Decode an EDID; - reads standard input.\nExit status: 0 it is sound, 2 something is wrong with the bytes (what could be read is printed all the same).",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			data, name, err := readInput(args[0], cmd.InOrStdin(), edid.MaxBytes+1)
			if err != nil {
				return err
			}
			r := edid.Decode(data)
			if asJSON {
				err = printJSON(cmd.OutOrStdout(), r)
			} else {
				_, err = io.WriteString(cmd.OutOrStdout(), edidReport(r))
			}
			if err != nil {
				return err
			}
			if !r.Valid {
				return &exit{exitUnusable, fmt.Errorf("%s: byte %d: %s", name, *r.Offset, r.Reason)}
			}
			return nil
		}}
	c.Flags().BoolVar(&asJSON, "json", false, "print the reading as JSON")
	return c
}

// edidReport is a reading as plain text.
func edidReport(r *edid.Reading) string {
	var b strings.Builder
	if !r.Valid {
		fmt.Fprintf(&b, "PARTIAL: %s\n\n", r.Reason)
	}
	fmt.Fprintf(&b, "%s %s, product %d, EDID %s", r.Maker, r.Name, r.ProductCode, r.Version)
	if r.Year > 0 {
		fmt.Fprintf(&b, ", made %d", r.Year)
	}
	b.WriteString("\n")
	if r.MaxTMDSHz != nil {
		fmt.Fprintf(&b, "highest character rate %g MHz\n", float64(*r.MaxTMDSHz)/1e6)
	}
	if p := r.Preferred; p != nil {
		fmt.Fprintf(&b, "prefers %s\n", modeLine(p.Width, p.Height, p.Interlaced, p.RateHz, p.PixelClockHz))
	}
	fmt.Fprintf(&b, "\nPictures\n")
	for _, m := range r.Modes {
		var marks []string
		if m.VIC != nil {
			marks = append(marks, fmt.Sprintf("VIC %d", *m.VIC))
		}
		if m.Native {
			marks = append(marks, "native")
		}
		if m.Chroma420Only {
			marks = append(marks, "4:2:0 only")
		}
		if m.Chroma420Also {
			marks = append(marks, "also 4:2:0")
		}
		fmt.Fprintf(&b, "  %-44s %s\n", modeLine(m.Width, m.Height, m.Interlaced, m.RateHz, m.PixelClockHz),
			strings.Join(append(marks, m.Sources...), ", "))
	}
	if len(r.AudioFormats) > 0 {
		b.WriteString("\nSound\n")
		for _, a := range r.AudioFormats {
			fmt.Fprintf(&b, "  %s, %d channels, %v Hz\n", a.Format, a.Channels, a.RatesHz)
		}
	}
	section := func(title string, lines []string) {
		if len(lines) > 0 {
			fmt.Fprintf(&b, "\n%s\n  %s\n", title, strings.Join(lines, "\n  "))
		}
	}
	var unknown []string
	for _, u := range r.UnknownBlocks {
		unknown = append(unknown, fmt.Sprintf("byte %d: %s, %d bytes", u.Offset, u.Name, len(u.Bytes)/2))
	}
	section("Kept, not understood", unknown)
	section("Warnings", r.Warnings)
	return b.String()
}

func modeLine(w, h int, interlaced bool, hz float64, clock int64) string {
	scan := ""
	if interlaced {
		scan = "i"
	}
	return fmt.Sprintf("%5d × %d%-2s %9.3f Hz %9.3f MHz", w, h, scan, hz, float64(clock)/1e6)
}

func formatsCommand() *cobra.Command {
	var asJSON bool
	c := &cobra.Command{Use: "formats FILE",
		Short: "Read what v4l2-ctl --list-formats-ext prints (- reads standard input)",
		Long:  "Read what a capture device delivers from the output of v4l2-ctl --list-formats-ext; - reads standard input.\nExit status: 0 read (perhaps in part, which is said), 2 nothing could be read.",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			data, name, err := readInput(args[0], cmd.InOrStdin(), maxListing)
			if err != nil {
				return err
			}
			l, err := readers.Formats(data)
			if err != nil {
				return &exit{exitUnusable, fmt.Errorf("%s: %w", name, err)}
			}
			for i := range l.Problems {
				l.Problems[i].File = name
			}
			if asJSON {
				return printJSON(cmd.OutOrStdout(), l)
			}
			_, err = io.WriteString(cmd.OutOrStdout(), formatsReport(l))
			return err
		}}
	c.Flags().BoolVar(&asJSON, "json", false, "print the reading as JSON")
	return c
}

func formatsReport(l *readers.Listing) string {
	var b strings.Builder
	for _, m := range l.Modes {
		size := fmt.Sprintf("%d × %d", m.Width, m.Height)
		if m.SizeKind != "discrete" {
			size = fmt.Sprintf("%d × %d to %d × %d in steps of %d and %d", m.MinWidth, m.MinHeight, m.MaxWidth,
				m.MaxHeight, m.StepWidth, m.StepHeight)
		}
		rates := strings.Join(m.Rates, ", ")
		if rates == "" {
			rates = "rates unknown"
		}
		fmt.Fprintf(&b, "%-5s %-16s %s\n", m.PixelFormat, size, rates)
	}
	if l.Incomplete {
		b.WriteString("\nPARTIAL: some of it could not be read\n")
		for _, p := range l.Problems {
			fmt.Fprintf(&b, "  line %d: %s\n", p.Line, p.Text)
		}
	}
	return b.String()
}
