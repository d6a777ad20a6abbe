// Command eventether is the one binary: it judges rigs from the shell and serves the web application.
package main

import (
	"errors"
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"eventether/core/lang"
)

// Exit statuses, the same for every command that judges.
const (
	exitHolds    = 0 // slack or taut
	exitSnapped  = 1
	exitUnusable = 2 // the input is not usable
	exitUntested = 3 // nothing snapped, something untested
	exitInternal = 4
)

// exit carries a status through cobra.
type exit struct {
	status int
	err    error
}

func (e *exit) Error() string {
	if e.err == nil {
		return ""
	}
	return e.err.Error()
}

// speak sets the language from a file of texts; English when none is named.
func speak(file string) error {
	if file == "" {
		return nil
	}
	data, err := os.ReadFile(file)
	if err != nil {
		return err
	}
	l, err := lang.Read(data)
	if err != nil {
		return fmt.Errorf("%s: %w", file, err)
	}
	lang.Use(l)
	return nil
}

func main() {
	root := &cobra.Command{Use: "eventether", Short: "Will the rig hold, where is it weakest, and what to change",
		SilenceErrors: true, SilenceUsage: true}
	root.AddCommand(judgeCommand(), sheetCommand(), runsheetCommand(), backupCommand(), restoreCommand(),
		measureCommand(), lookCommand(), inspectCommand(), rehearseCommand(), placeCommand(), edidCommand(), usbCommand(), hereCommand(), formatsCommand(), schemaCommand(),
		rulesCommand(), editsCommand(), textCommand(), openAPICommand(), serveCommand(), demoCommand())
	language := root.PersistentFlags().String("language", "",
		"file of texts in another language, such as docs/texts.json")
	root.PersistentPreRunE = func(*cobra.Command, []string) error { return speak(*language) }
	err := root.Execute()
	var e *exit
	switch {
	case err == nil:
	case errors.As(err, &e):
		if e.err != nil {
			fmt.Fprintln(os.Stderr, e.err)
		}
		os.Exit(e.status)
	default:
		fmt.Fprintln(os.Stderr, "eventether:", err)
		os.Exit(exitUnusable)
	}
}
