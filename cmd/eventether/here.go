package main

import (
	"encoding/json"
	"errors"
	"os"
	"runtime"
	"strings"

	"github.com/spf13/cobra"

	"eventether/internal/readers"
)

func hereCommand() *cobra.Command {
	var asJSON bool
	var root string
	c := &cobra.Command{Use: "here", Args: cobra.NoArgs,
		Short: "Read this very computer: sockets and what is plugged in, processor, memory, drives, battery",
		Long: `Read what this computer says of itself: its USB sockets and what is plugged where, displays, capture devices,
processor, memory, drives with free space, and what it runs on. It is read from Linux' own files and goes nowhere.
Exit status: 0 read (perhaps in part, which is said).`,
		RunE: func(cmd *cobra.Command, _ []string) error {
			if runtime.GOOS != "linux" && root == "/sys" {
				return errors.New("what this computer is made of is read from Linux' own files; on this system looking at clips, judging and the line work, this does not")
			}
			sys := os.DirFS(root)
			h, err := readers.Sysfs(sys, listFormats)
			if err != nil { // the rest can be read all the same
				h = &readers.Here{USB: &readers.USB{Controllers: []readers.USBController{}, Devices: []readers.USBDevice{},
					Problems: []readers.Problem{{File: root, Text: err.Error()}}, Incomplete: true},
					Displays: []readers.Display{}, Captures: []readers.Capture{}, Laptop: readers.Laptop(sys)}
			}
			h.Machine = readers.ThisMachine(sys)
			if asJSON {
				enc := json.NewEncoder(cmd.OutOrStdout())
				enc.SetIndent("", "  ")
				return enc.Encode(h)
			}
			cmd.Print(strings.Join(h.Machine.Says, "\n") + "\n" + usbReport(h.USB) + hereReport(h))
			return nil
		}}
	c.Flags().BoolVar(&asJSON, "json", false, "print the reading as JSON")
	c.Flags().StringVar(&root, "sys", "/sys", "where the system's sysfs is")
	return c
}
