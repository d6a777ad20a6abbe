package main

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"strings"

	"github.com/spf13/cobra"

	"eventether/core/advise"
	"eventether/core/bench"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/rig"
	"eventether/core/rigtext"
	"eventether/core/rules"
	"eventether/core/view"
	"eventether/internal/rigfile"
)

func judgeCommand() *cobra.Command {
	var asJSON bool
	c := &cobra.Command{Use: "judge RIG",
		Short: "Print the verdict on a rig file or a rig told as text (- reads standard input)",
		Long:  "Print the verdict on a rig file, or on a rig told as text (docs/formats/rig-text.md); - reads standard input.\nExit status: 0 it holds, 1 something snapped, 2 the file is not usable, 3 nothing snapped but something is untested.",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			r, err := readRig(args[0], cmd.InOrStdin())
			if err != nil {
				return err
			}
			figures := judge.Rig(r)
			v := view.Of(figures, advise.On(cmd.Context(), figures, advise.Effort))
			if asJSON {
				if err := printJSON(cmd.OutOrStdout(), v); err != nil {
					return err
				}
			} else if _, err := io.WriteString(cmd.OutOrStdout(), view.Report(r.Name, &v)); err != nil {
				return &exit{exitInternal, err}
			}
			return stateExit(v.State)
		}}
	c.Flags().BoolVar(&asJSON, "json", false, "print the verdict as JSON")
	return c
}

// readRig reads a rig file; the error names the file and every problem by place.
func readRig(path string, stdin io.Reader) (*rig.Rig, error) {
	data, name, err := readInput(path, stdin, rigfile.MaxBytes)
	if err != nil {
		return nil, err
	}
	if !strings.HasSuffix(path, ".json") && !bytes.HasPrefix(bytes.TrimSpace(bytes.TrimPrefix(data, []byte("\ufeff"))),
		[]byte("{")) {
		return readText(string(data), name)
	}
	r, err := rigfile.Read(data)
	var bad *rigfile.Unusable
	switch {
	case errors.As(err, &bad):
		lines := make([]string, len(bad.Problems))
		for i, p := range bad.Problems {
			lines[i] = name + ": " + p.String()
		}
		return nil, &exit{exitUnusable, errors.New(strings.Join(lines, "\n"))}
	case err != nil:
		return nil, &exit{exitUnusable, fmt.Errorf("%s: %w", name, err)}
	}
	return r, nil
}

// readText reads a rig told as text; every general kind counts as one that can be got.
func readText(text, name string) (*rig.Rig, error) {
	shelf := []bench.Stocked{}
	for _, e := range gear.Starter() {
		e.Owned = false
		shelf = append(shelf, bench.Stocked{Entry: e})
	}
	got := rigtext.Read(text, shelf)
	if len(got.Problems) > 0 {
		lines := make([]string, len(got.Problems))
		for i := range got.Problems {
			p := &got.Problems[i]
			lines[i] = fmt.Sprintf("%s:%d:%d: %s", name, p.Line, p.From+1, p.InWords())
		}
		return nil, &exit{exitUnusable, errors.New(strings.Join(lines, "\n"))}
	}
	r, err := rigfile.Kept(got.Rig)
	if err != nil {
		return nil, &exit{exitUnusable, fmt.Errorf("%s: %w", name, err)}
	}
	return r, nil
}

func textCommand() *cobra.Command {
	return &cobra.Command{Use: "text RIG", Short: "Print a rig file as text (- reads standard input)",
		Args: cobra.ExactArgs(1), RunE: func(cmd *cobra.Command, args []string) error {
			r, err := readRig(args[0], cmd.InOrStdin())
			if err == nil {
				_, err = io.WriteString(cmd.OutOrStdout(), rigtext.Write(r))
			}
			return err
		}}
}

func schemaCommand() *cobra.Command {
	return &cobra.Command{Use: "schema [rig|shelf|sheet|runsheet|measure]",
		Short: "Print the JSON Schema of the rig file, the shelf file, the encoder sheet, the run sheet or measurements",
		Args:  cobra.MatchAll(cobra.MaximumNArgs(1), cobra.OnlyValidArgs), ValidArgs: []string{"rig", "shelf", "sheet",
			"runsheet", "measure"},
		RunE: func(cmd *cobra.Command, args []string) error {
			name := "rig"
			if len(args) == 1 {
				name = args[0]
			}
			schemas := map[string]func() ([]byte, error){"rig": rigfile.Schema, "shelf": rigfile.ShelfSchema,
				"sheet": rigfile.SheetSchema, "runsheet": rigfile.RunSheetSchema, "measure": rigfile.MeasureSchema}
			s, err := schemas[name]()
			if err != nil {
				return &exit{exitInternal, err}
			}
			_, err = cmd.OutOrStdout().Write(s)
			return err
		}}
}

func rulesCommand() *cobra.Command {
	return &cobra.Command{Use: "rules", Short: "Print every rule as Markdown", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			_, err := io.WriteString(cmd.OutOrStdout(), rules.Markdown())
			return err
		}}
}

func editsCommand() *cobra.Command {
	return &cobra.Command{Use: "edits", Short: "Print everything an edit can do as Markdown", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			_, err := io.WriteString(cmd.OutOrStdout(), rig.VerbsMarkdown())
			return err
		}}
}
