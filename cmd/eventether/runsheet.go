package main

import (
	"context"
	"fmt"
	"io"
	"time"

	"github.com/spf13/cobra"

	"eventether/core/advise"
	"eventether/core/judge"
	"eventether/core/runsheet"
	"eventether/internal/calendar"
)

func runsheetCommand() *cobra.Command {
	var asJSON, asMarkdown, asICal, first bool
	var airText string
	people := 1
	c := &cobra.Command{Use: "runsheet RIG.json",
		Short: "Print the run sheet: the steps this rig needs, in order, with times (- reads standard input)",
		Long: "Print the run sheet of a rig file: only the steps this rig needs, in the order of the work, each with its values and its time; - reads standard input.\n" +
			"Times are minutes before air, or times of day with --air.\n" +
			"Exit status: 0 the sheet is printed, whatever the verdict; 2 the file or an option is not usable.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if people < 1 || people > runsheet.MostPeople {
				return &exit{exitUnusable, fmt.Errorf("--people %d: want 1 to %d", people, runsheet.MostPeople)}
			}
			var air time.Time
			var clock runsheet.Clock
			if airText != "" {
				var err error
				if air, err = time.Parse(time.RFC3339, airText); err != nil {
					return &exit{exitUnusable,
						fmt.Errorf("--air %q: want a date and time such as 2026-12-04T19:30:00+01:00", airText)}
				}
				clock = calendar.Clock(air)
			} else if asICal {
				return &exit{exitUnusable, fmt.Errorf("--ical needs --air, such as --air 2026-12-04T19:30:00+01:00")}
			}
			r, err := readRig(args[0], cmd.InOrStdin())
			if err != nil {
				return err
			}
			v := judge.Rig(r)
			s := runsheet.Of(v, advise.On(context.Background(), v, advise.Effort).Cure,
				runsheet.Options{People: max(people, 2), First: first})
			out := cmd.OutOrStdout()
			switch {
			case asJSON:
				return printJSON(out, s)
			case asICal:
				err = calendar.Write(out, s, air, people, time.Now())
			case asMarkdown:
				_, err = io.WriteString(out, s.Markdown(people, clock))
			default:
				_, err = io.WriteString(out, s.Text(people, clock))
			}
			if err != nil {
				return &exit{exitInternal, err}
			}
			return nil
		}}
	c.Flags().StringVar(&airText, "air", "", "when the show goes to air, such as 2026-12-04T19:30:00+01:00")
	c.Flags().IntVar(&people, "people", 1, "how many people set up")
	c.Flags().BoolVar(&first, "first", false,
		"the rig's first show: sheets are entered, devices connected the first time")
	c.Flags().BoolVar(&asJSON, "json", false, "print it as JSON")
	c.Flags().BoolVar(&asMarkdown, "markdown", false, "print it as Markdown, with boxes to tick")
	c.Flags().BoolVar(&asICal, "ical", false, "print it as iCalendar (RFC 5545); needs --air")
	c.MarkFlagsMutuallyExclusive("json", "markdown", "ical")
	return c
}
