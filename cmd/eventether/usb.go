package main

import (
	"encoding/json"
	"fmt"
	"io"
	"os"
	"os/exec"
	"strings"

	"github.com/spf13/cobra"

	"eventether/internal/readers"
)

func usbCommand() *cobra.Command {
	var asJSON, here bool
	var root string
	c := &cobra.Command{Use: "usb FILE…",
		Short: "Read what lsusb -t and lsusb -v print, or this very computer (--here)",
		Long:  "Read the USB topology from the output of lsusb -t and lsusb -v, in any order (- reads standard input), or from the running Linux system.\nExit status: 0 read (perhaps in part, which is said), 2 nothing could be read.",
		RunE: func(cmd *cobra.Command, args []string) error {
			var v any
			var text string
			switch {
			case here && len(args) == 0:
				h, err := readers.Sysfs(os.DirFS(root), listFormats)
				if err != nil {
					return &exit{exitUnusable, err}
				}
				v, text = h, usbReport(h.USB)+hereReport(h)
			case len(args) > 0 && !here:
				var texts []readers.Text
				for _, path := range args {
					data, name, err := readInput(path, cmd.InOrStdin(), maxListing)
					if err != nil {
						return err
					}
					texts = append(texts, readers.Text{Name: name, Data: data})
				}
				u, err := readers.ReadUSB(texts)
				if err != nil {
					return &exit{exitUnusable, err}
				}
				v, text = u, usbReport(u)
			default:
				return &exit{exitUnusable, fmt.Errorf("want files to read, or --here for this computer")}
			}
			if asJSON {
				// Here a list that is null says something: the listing does not tell.
				enc := json.NewEncoder(cmd.OutOrStdout())
				enc.SetIndent("", "  ")
				if err := enc.Encode(v); err != nil {
					return &exit{exitInternal, err}
				}
				return nil
			}
			_, err := io.WriteString(cmd.OutOrStdout(), text)
			return err
		}}
	c.Flags().BoolVar(&asJSON, "json", false, "print the reading as JSON")
	c.Flags().BoolVar(&here, "here", false, "read the running system")
	c.Flags().StringVar(&root, "sys", "/sys", "where the system's sysfs is")
	return c
}

// listFormats asks v4l2-ctl, where it is installed, what a video device delivers.
func listFormats(video string) ([]byte, error) {
	return exec.Command("v4l2-ctl", "--device", "/dev/"+video, "--list-formats-ext").Output()
}

func usbReport(u *readers.USB) string {
	var b strings.Builder
	for _, c := range u.Controllers {
		fmt.Fprintf(&b, "controller %s: buses %s\n", c.ID, strings.Trim(fmt.Sprint(c.Buses), "[]"))
	}
	for _, d := range u.Devices {
		path := "?"
		indent := 0
		if d.Path != nil {
			path = *d.Path
			if !strings.HasPrefix(path, "usb") {
				indent = 1 + strings.Count(path, ".")
			}
		}
		line := strings.Repeat("  ", indent) + path
		if d.Name != nil {
			line += "  " + *d.Name
		}
		if d.SpeedMbps != nil {
			line += fmt.Sprintf(", %g Mb/s", *d.SpeedMbps)
		}
		if d.Hub != nil && *d.Hub {
			line += ", hub"
			if d.HubPorts != nil {
				line += fmt.Sprintf(" of %d", *d.HubPorts)
			}
		}
		if d.MaxPowerMA != nil {
			line += fmt.Sprintf(", %d mA", *d.MaxPowerMA)
		}
		if d.UVC != nil && *d.UVC {
			line += ", sends pictures"
		}
		most := 0
		for _, a := range d.IsoAlt {
			most = max(most, a.BytesPerInterval*1_000_000/max(1, a.IntervalUs))
		}
		if most > 0 {
			line += fmt.Sprintf(", reserves up to %.1f MB/s", float64(most)/1e6)
		}
		b.WriteString(line + "\n")
	}
	if u.Incomplete {
		b.WriteString("\nPARTIAL: some of it could not be read\n")
		for _, p := range u.Problems {
			at := p.File
			if p.Line > 0 {
				at += fmt.Sprintf(" line %d", p.Line)
			}
			fmt.Fprintf(&b, "  %s: %s\n", strings.TrimSpace(at), p.Text)
		}
	}
	return b.String()
}

func hereReport(h *readers.Here) string {
	var b strings.Builder
	for _, c := range h.Captures {
		fmt.Fprintf(&b, "\n%s on %s: %s\n", c.Video, c.Path, c.Name)
		if c.Listing != nil {
			b.WriteString(formatsReport(c.Listing))
		}
	}
	for _, d := range h.Displays {
		fmt.Fprintf(&b, "\n%s: %s %s\n", d.Output, d.Reading.Maker, d.Reading.Name)
	}
	return b.String()
}
