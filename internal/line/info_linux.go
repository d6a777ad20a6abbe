package line

import (
	"net"
	"time"

	"golang.org/x/sys/unix"
)

// info asks the system what it counts of a connection; ok is false where it cannot.
func info(c *net.TCPConn) (out counted, ok bool) {
	raw, err := c.SyscallConn()
	if err != nil {
		return out, false
	}
	var i *unix.TCPInfo
	var waiting int
	if raw.Control(func(fd uintptr) {
		if i, err = unix.GetsockoptTCPInfo(int(fd), unix.IPPROTO_TCP, unix.TCP_INFO); err == nil {
			waiting, err = unix.IoctlGetInt(int(fd), unix.SIOCOUTQ)
		}
	}) != nil || err != nil {
		return out, false
	}
	return counted{acked: i.Bytes_acked, waiting: uint64(max(0, waiting)), rtt: time.Duration(i.Rtt) * time.Microsecond,
		least: time.Duration(i.Min_rtt) * time.Microsecond, segments: uint64(i.Segs_out), resent: uint64(i.Total_retrans)}, true
}
