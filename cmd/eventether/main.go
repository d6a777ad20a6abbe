// Command eventether is the one binary: it judges rigs from the shell and serves the web application.
package main

import (
	"errors"
	"fmt"
	"os"

	"github.com/spf13/cobra"
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

func main() {
	root := &cobra.Command{Use: "eventether", Short: "Will the rig hold, where is it weakest, and what to change",
		SilenceErrors: true, SilenceUsage: true}
	root.AddCommand(judgeCommand(), placeCommand(), edidCommand(), usbCommand(), formatsCommand(), schemaCommand(), rulesCommand(), openAPICommand(), serveCommand(), demoCommand())
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
