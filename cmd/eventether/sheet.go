package main

import (
	"io"

	"github.com/spf13/cobra"

	"eventether/core/judge"
	"eventether/core/sheet"
)

func sheetCommand() *cobra.Command {
	var asJSON, asCSV, asMarkdown, asCommand bool
	c := &cobra.Command{Use: "sheet RIG.json",
		Short: "Print every value to set in the program: sources, streams, recordings (- reads standard input)",
		Long: "Print every value to set in the program, for the sources, every stream and every recording of a rig file; - reads standard input.\n" +
			"--command prints a line beginning with ffmpeg for each stream and recording, which makes 5 s of it in the current folder.\n" +
			"Exit status: 0 the sheet is printed, whatever the verdict; 2 the file is not usable.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			r, err := readRig(args[0], cmd.InOrStdin())
			if err != nil {
				return err
			}
			s := sheet.Of(judge.Rig(r))
			text := s.Text
			switch {
			case asJSON:
				return printJSON(cmd.OutOrStdout(), s)
			case asCSV:
				text = s.CSV
			case asMarkdown:
				text = s.Markdown
			case asCommand:
				text = s.Commands
			}
			if _, err := io.WriteString(cmd.OutOrStdout(), text()); err != nil {
				return &exit{exitInternal, err}
			}
			return nil
		}}
	c.Flags().BoolVar(&asJSON, "json", false, "print it as JSON")
	c.Flags().BoolVar(&asCSV, "csv", false, "print it as comma-separated values")
	c.Flags().BoolVar(&asMarkdown, "markdown", false, "print it as Markdown, with the reasons")
	c.Flags().BoolVar(&asCommand, "command", false, "print command lines of the reference encoder")
	c.MarkFlagsMutuallyExclusive("json", "csv", "markdown", "command")
	return c
}
