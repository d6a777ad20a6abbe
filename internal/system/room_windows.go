package system

import (
	"fmt"

	"golang.org/x/sys/windows"
)

// Room tells how many bytes the file system of a folder has, and how many of them are free to anybody.
func Room(folder string) (size, free uint64, err error) {
	name, err := windows.UTF16PtrFromString(folder)
	if err != nil {
		return 0, 0, err
	}
	if err := windows.GetDiskFreeSpaceEx(name, &free, &size, nil); err != nil {
		return 0, 0, fmt.Errorf("room on %s: %w", folder, err)
	}
	return size, free, nil
}
