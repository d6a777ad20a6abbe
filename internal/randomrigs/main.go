// Command randomrigs prints random rigs as JSON, one a line: the same ones the laws of the core are held against, for
// the tests of the screens. Usage: randomrigs FIRST COUNT.
package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"strconv"

	"eventether/core/rig/rigtest"
	"eventether/internal/rigfile"
)

func main() {
	if err := print(os.Args[1:]); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(2)
	}
}

func print(args []string) error {
	if len(args) != 2 {
		return fmt.Errorf("want the first seed and how many rigs")
	}
	first, err := strconv.ParseUint(args[0], 10, 32)
	if err != nil {
		return err
	}
	count, err := strconv.ParseUint(args[1], 10, 16)
	if err != nil {
		return err
	}
	for seed := first; seed < first+count; seed++ {
		file, err := rigfile.Write(rigtest.Rig(seed))
		if err != nil {
			return err
		}
		var line bytes.Buffer
		if err := json.Compact(&line, file); err != nil {
			return err
		}
		fmt.Println(line.String())
	}
	return nil
}
