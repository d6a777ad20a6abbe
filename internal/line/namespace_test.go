//go:build linux

package line

import (
	"errors"
	"math/rand/v2"
	"net"
	"os"
	"os/exec"
	"runtime"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/sys/unix"
)

const inside = "EVENTETHER_TEST_INSIDE"

// A line with a rate, a delay and losses of its own: two networks that only this test sees, and a forwarder between them
// that hands on packets late, and not all of them. What the system counts of a connection over it comes out as it was made.
func TestOnALineOfItsOwn(t *testing.T) {
	needsFFmpeg(t)
	if os.Getenv(inside) != "" {
		t.Skip("outside")
	}
	c := exec.Command(os.Args[0], "-test.run", "^TestInside$", "-test.v")
	c.Env = append(os.Environ(), inside+"=1")
	c.SysProcAttr = &syscall.SysProcAttr{Cloneflags: syscall.CLONE_NEWUSER | syscall.CLONE_NEWNET, Pdeathsig: syscall.SIGKILL,
		UidMappings: []syscall.SysProcIDMap{{ContainerID: 0, HostID: os.Getuid(), Size: 1}},
		GidMappings: []syscall.SysProcIDMap{{ContainerID: 0, HostID: os.Getgid(), Size: 1}}}
	out, err := c.CombinedOutput()
	var status *exec.ExitError
	if err != nil && !errors.As(err, &status) {
		t.Skipf("this machine gives no network of one's own: %v", err)
	}
	require.NoError(t, err, string(out))
	t.Log(string(out))
}

func TestInside(t *testing.T) {
	if os.Getenv(inside) == "" {
		t.Skip("within a network of its own only")
	}
	near, err := tunnel("10.99.0.1")
	if err != nil {
		t.Skipf("this machine gives no tunnel: %v", err)
	}
	type end struct {
		tun    *os.File
		listen net.Listener
		err    error
	}
	ends := make(chan end)
	go func() { // its thread stays in the far network, and ends with it
		runtime.LockOSThread()
		var e end
		if e.err = unix.Unshare(unix.CLONE_NEWNET); e.err == nil {
			if e.tun, e.err = tunnel("10.99.0.2"); e.err == nil {
				e.listen, e.err = net.Listen("tcp4", "10.99.0.2:1935")
			}
		}
		ends <- e
		select {}
	}()
	far := <-ends
	require.NoError(t, far.err)
	s := standInOn(far.listen)
	there, back := &way{from: near, to: far.tun}, &way{from: far.tun, to: near}
	go there.forward()
	go back.forward()
	film := func(kbps float64) *film {
		f, err := testFilm(t.Context(), kbps-audioKbps)
		require.NoError(t, err)
		return f
	}
	for name, c := range map[string]struct {
		line       wayIs
		kbps       float64
		congestion string
		check      func(*Tried)
	}{
		"far, and wide enough": {wayIs{rate: 20e6, delay: 30 * time.Millisecond}, 3000, "", func(o *Tried) {
			assert.False(t, o.Filled, "%+v", o)
			assert.Empty(t, o.Stalls)
			assert.GreaterOrEqual(t, o.LeastMs, 60.0)
			assert.Less(t, o.LeastMs, 90.0)
			assert.GreaterOrEqual(t, o.RTTms, o.LeastMs)
			assert.Less(t, o.Resent, 0.5)
		}},
		"too narrow": {wayIs{rate: 2e6, delay: 10 * time.Millisecond}, 5000, "", func(o *Tried) {
			assert.True(t, o.Filled, "%+v", o)
			assert.InDelta(t, 1.9, o.Mbps, 0.35)
			assert.Greater(t, o.RTTms, 20.0, "what waits before a narrow place takes its time")
		}},
		"loses, classic": {wayIs{rate: 50e6, delay: 5 * time.Millisecond, loss: 0.02}, 2500, "reno", func(o *Tried) {
			assert.InDelta(t, 2, o.Resent, 1.7, "%+v", o)
		}},
		"loses, present": {wayIs{rate: 50e6, delay: 5 * time.Millisecond, loss: 0.02}, 2500, "bbr", func(o *Tried) {
			assert.InDelta(t, 2, o.Resent, 1.7, "%+v", o)
			assert.False(t, o.Filled)
		}},
	} {
		there.set(c.line)
		back.set(wayIs{rate: 1e9, delay: c.line.delay})
		try := Try{Address: s.Address(), Key: s.Key(), Kbps: c.kbps, Seconds: 4, late: 4}
		try.dialer.Control = func(_, _ string, raw syscall.RawConn) (err error) {
			if c.congestion == "" {
				return nil
			}
			if e := raw.Control(func(fd uintptr) {
				err = unix.SetsockoptString(int(fd), unix.IPPROTO_TCP, unix.TCP_CONGESTION, c.congestion)
			}); e != nil {
				return e
			}
			return err
		}
		runOn(t, name, there, back, c.check, func() (*Tried, error) { return publish(t.Context(), try, film(c.kbps), "", quiet) })
	}
}

// runOn tries a line until the forwarder itself was on time: one that had to wait for this machine is not the line it was
// made to be, and tells nothing of what is counted on it.
func runOn(t *testing.T, name string, there, back *way, check func(*Tried), try func() (*Tried, error)) {
	const tries = 4
	for n := range tries {
		there.late.Store(0)
		back.late.Store(0)
		out, err := try()
		if errors.Is(err, unix.ENOENT) || errors.Is(err, unix.EPERM) {
			t.Logf("%s: this machine does not have what it is sent by", name)
			return
		}
		require.NoError(t, err, name)
		late := time.Duration(max(there.late.Load(), back.late.Load()))
		t.Logf("%s: %+v, handed on up to %s late", name, *out, late)
		if late > 50*time.Millisecond && n < tries-1 {
			continue
		}
		if late > 50*time.Millisecond {
			t.Logf("%s: this machine is too busy to be such a line", name)
			return
		}
		assert.True(t, out.Counted, name)
		assert.Empty(t, out.Closed, name)
		check(out)
		return
	}
}

// tunnel is a device of packets with an address, in the network of the thread that asks.
func tunnel(address string) (*os.File, error) {
	fd, err := unix.Open("/dev/net/tun", unix.O_RDWR|unix.O_NONBLOCK|unix.O_CLOEXEC, 0)
	if err != nil {
		return nil, err
	}
	ifr, err := unix.NewIfreq("line0")
	if err != nil {
		return nil, err
	}
	ifr.SetUint16(unix.IFF_TUN | unix.IFF_NO_PI)
	if err := unix.IoctlIfreq(fd, unix.TUNSETIFF, ifr); err != nil {
		return nil, err
	}
	by, err := unix.Socket(unix.AF_INET, unix.SOCK_DGRAM, 0)
	if err != nil {
		return nil, err
	}
	defer unix.Close(by)
	set := func(what uint, put func() error) {
		if err == nil {
			if err = put(); err == nil {
				err = unix.IoctlIfreq(by, what, ifr)
			}
		}
	}
	set(unix.SIOCSIFADDR, func() error { return ifr.SetInet4Addr(net.ParseIP(address).To4()) })
	set(unix.SIOCSIFNETMASK, func() error { return ifr.SetInet4Addr(net.IPv4(255, 255, 255, 0).To4()) })
	set(unix.SIOCSIFFLAGS, func() error { ifr.SetUint16(unix.IFF_UP | unix.IFF_RUNNING); return nil })
	if err != nil {
		return nil, err
	}
	return os.NewFile(uintptr(fd), "line0"), nil
}

// wayIs is what a way does to packets: so many bits a second, so late, so many of them lost.
type wayIs struct {
	rate  float64
	delay time.Duration
	loss  float64
}

// way hands packets on from one network to another.
type way struct {
	from, to *os.File
	is       atomic.Pointer[wayIs]
	late     atomic.Int64 // by how much a packet was handed on later than it was due, at most
}

func (w *way) set(is wayIs) { w.is.Store(&is) }

// forward hands packets on, in order, until there are none. What waits for longer than a fifth of a second before a narrow
// place is lost, as in a router.
func (w *way) forward() {
	type packet struct {
		due  time.Time
		data []byte
	}
	queue := make(chan packet, 10_000)
	go func() {
		for p := range queue {
			time.Sleep(time.Until(p.due))
			if late := int64(time.Since(p.due)); late > w.late.Load() {
				w.late.Store(late)
			}
			_, _ = w.to.Write(p.data)
		}
	}()
	defer close(queue)
	dice := rand.New(rand.NewPCG(1, 2))
	is, free := wayIs{rate: 1e9}, time.Now()
	data := make([]byte, 64<<10)
	for {
		n, err := w.from.Read(data)
		if err != nil {
			return
		}
		if now := w.is.Load(); now != nil {
			is = *now
		}
		now := time.Now()
		if free.Before(now) {
			free = now
		}
		if dice.Float64() < is.loss || free.Sub(now) > 200*time.Millisecond {
			continue
		}
		free = free.Add(time.Duration(float64(n) * 8 / is.rate * float64(time.Second)))
		queue <- packet{free.Add(is.delay), append([]byte{}, data[:n]...)}
	}
}
