package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"runtime"
	"strings"

	"github.com/spf13/cobra"

	"eventether/internal/readers"
)

func hereCommand() *cobra.Command {
	var asJSON bool
	var root string
	c := &cobra.Command{Use: "here [REPORT…]", Args: cobra.MaximumNArgs(10),
		Short: "Read this very computer: sockets and what is plugged in, processor, memory, drives, battery",
		Long: `Read what this computer says of itself: its USB sockets and what is plugged where, displays, capture devices,
processor, memory, drives with free space, and what it runs on. On Linux it is read from the system's own files; on the
two other common systems their own report tool is asked (written from memory: what of its report was not read is named).
REPORT is what such a tool printed on another computer, ffmpeg's listing of devices, or eventether here --json. Nothing of it
goes anywhere; the JSON can be brought into a rig on another machine, on its Ports screen.
Exit status: 0 read (perhaps in part, which is said).`,
		RunE: func(cmd *cobra.Command, files []string) error {
			if len(files) > 0 || runtime.GOOS != "linux" && root == "/sys" {
				h, err := reported(cmd, files)
				if err != nil {
					return err
				}
				return tellHere(cmd, h, asJSON)
			}
			sys := os.DirFS(root)
			h, err := readers.Sysfs(sys, listFormats)
			if err != nil { // the rest can be read all the same
				h = &readers.Here{USB: &readers.USB{Controllers: []readers.USBController{}, Devices: []readers.USBDevice{},
					Problems: []readers.Problem{{File: root, Text: err.Error()}}, Incomplete: true},
					Displays: []readers.Display{}, Captures: []readers.Capture{}, Laptop: readers.Laptop(sys)}
			}
			h.Machine = readers.ThisMachine(sys)
			return tellHere(cmd, h, asJSON)
		}}
	c.Flags().BoolVar(&asJSON, "json", false, "print the reading as JSON")
	c.Flags().StringVar(&root, "sys", "/sys", "where the system's sysfs is")
	return c
}

// reported reads reports of files, or of this system's own tool.
func reported(cmd *cobra.Command, files []string) (*readers.Here, error) {
	var texts []readers.Text
	for _, path := range files {
		data, name, err := readInput(path, cmd.InOrStdin(), maxListing)
		if err != nil {
			return nil, err
		}
		texts = append(texts, readers.Text{Name: name, Data: data})
	}
	if len(files) == 0 {
		ask := readers.ReportCommands[runtime.GOOS]
		if len(ask) == 0 {
			return nil, errors.New("what this computer is made of cannot be read on this system")
		}
		out, err := exec.CommandContext(cmd.Context(), ask[0], ask[1:]...).Output()
		if err != nil {
			return nil, fmt.Errorf("%s: %w", ask[0], err)
		}
		texts = append(texts, readers.Text{Name: ask[0], Data: out})
	}
	h, err := readers.ReadReports(texts)
	if err != nil {
		return nil, &exit{exitUnusable, err}
	}
	return h, nil
}

func tellHere(cmd *cobra.Command, h *readers.Here, asJSON bool) error {
	if asJSON {
		enc := json.NewEncoder(cmd.OutOrStdout())
		enc.SetIndent("", "  ")
		return enc.Encode(h)
	}
	if h.Machine != nil {
		cmd.Println(strings.Join(h.Machine.Says, "\n"))
	}
	cmd.Print(usbReport(h.USB) + hereReport(h))
	return nil
}
