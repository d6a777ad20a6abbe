package line

import (
	"math"
	"net"
	"slices"
	"sync"
	"time"
)

// counted is what the system counts of a connection [documented: tcp(7), TCP_INFO].
type counted struct {
	acked, waiting   uint64 // bytes that arrived, and that were written and have not
	rtt, least       time.Duration
	segments, resent uint64
}

// watch looks at a connection while it is sent on.
type watch struct {
	sync.Mutex
	client *publisher
	conn   *net.TCPConn
	began  time.Time
	first  counted
	last   counted
	ok     bool // the system counts
	rtts   []float64
	stalls []Stall
	since  time.Time // when something arrived last
	wrote  uint64
}

// looks is how often.
const looks = 100 * time.Millisecond

func newWatch(c *publisher, began time.Time) *watch {
	w := &watch{client: c, began: began, since: began}
	conn := c.conn.Conn
	if t, ok := conn.(interface{ NetConn() net.Conn }); ok { // within TLS
		conn = t.NetConn()
	}
	w.conn, _ = conn.(*net.TCPConn)
	if w.conn != nil {
		w.first, w.ok = info(w.conn)
	}
	w.last, w.wrote = w.first, c.BytesSent()
	return w
}

// run looks at the connection until it is over, and tells how it does every half second.
func (w *watch) run(over <-chan struct{}, tell func(mbps, rttMs float64)) {
	tick := time.NewTicker(looks)
	defer tick.Stop()
	told, arrived := w.began, w.bytes()
	for {
		select {
		case <-over:
			return
		case at := <-tick.C:
			w.look()
			if d := at.Sub(told); d >= 500*time.Millisecond {
				now := w.bytes()
				w.Lock()
				rtt := float64(w.last.rtt.Microseconds()) / 1000
				w.Unlock()
				tell(math.Round(float64(now-arrived)*8/d.Seconds()/1e4)/100, rtt)
				told, arrived = at, now
			}
		}
	}
}

// bytes is what has arrived; what was written where the system does not count.
func (w *watch) bytes() uint64 {
	w.Lock()
	defer w.Unlock()
	if !w.ok {
		return w.client.BytesSent() - w.wrote
	}
	return w.last.acked - w.first.acked
}

// look notes what the system counts now.
func (w *watch) look() {
	if w.conn == nil {
		return
	}
	now, ok := info(w.conn)
	w.Lock()
	defer w.Unlock()
	if !ok {
		return
	}
	at := time.Now()
	if now.acked > w.last.acked || now.waiting == 0 {
		if d := at.Sub(w.since); d > stalled && w.last.waiting > 0 {
			w.stalls = append(w.stalls, Stall{round(w.since.Sub(w.began)), round(at.Sub(w.began))})
		}
		w.since = at
	}
	w.rtts = append(w.rtts, float64(now.rtt.Microseconds())/1000)
	w.last = now
}

func round(d time.Duration) float64 { return math.Round(d.Seconds()*10) / 10 }

// drain waits until all that was written has arrived, at most so long.
func (w *watch) drain(most time.Duration) {
	for end := time.Now().Add(most); time.Now().Before(end); time.Sleep(looks / 4) {
		w.look()
		w.Lock()
		done := !w.ok || w.last.waiting == 0
		w.Unlock()
		if done {
			return
		}
	}
}

// into puts what was counted into the answer.
func (w *watch) into(t *Tried) {
	arrived := w.bytes()
	w.Lock()
	defer w.Unlock()
	t.Mbps = math.Round(float64(arrived)*8/t.Seconds/1e4) / 100
	t.Counted = w.ok
	if !w.ok {
		return
	}
	if d := time.Since(w.since); d > stalled && w.last.waiting > 0 {
		w.stalls = append(w.stalls, Stall{round(w.since.Sub(w.began)), round(time.Since(w.began))})
	}
	t.Stalls = append(t.Stalls, w.stalls...)
	slices.Sort(w.rtts)
	if n := len(w.rtts); n > 0 {
		t.RTTms = math.Round(w.rtts[n/2]*100) / 100
	}
	t.LeastMs = math.Round(float64(w.last.least.Microseconds())/10) / 100
	if sent := w.last.segments - w.first.segments; sent > 0 {
		t.Resent = math.Round(float64(w.last.resent-w.first.resent)/float64(sent)*1e4) / 100
	}
}
