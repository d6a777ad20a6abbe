package system

import (
	"os/exec"
	"syscall"
)

// EndsWithUs makes a child end when this process does, however that ends.
func EndsWithUs(cmd *exec.Cmd) { cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL} }
