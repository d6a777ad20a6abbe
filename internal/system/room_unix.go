//go:build unix

package system

import (
	"fmt"
	"syscall"
)

// Room tells how many bytes the file system of a folder has, and how many of them are free to anybody.
func Room(folder string) (size, free uint64, err error) {
	var st syscall.Statfs_t
	if err := syscall.Statfs(folder, &st); err != nil {
		return 0, 0, fmt.Errorf("room on %s: %w", folder, err)
	}
	block := uint64(st.Bsize)
	return st.Blocks * block, st.Bavail * block, nil
}
