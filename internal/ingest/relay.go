package ingest

import (
	"context"
	"io"
	"net"
	"sync"
	"time"

	"eventether/core/inspect"
)

// relay stands before an ingest and hands on what comes, as badly as it is asked to: the far end a sender sees.
type relay struct {
	listener net.Listener
	to       string
	ctx      context.Context
	end      context.CancelFunc
	over     sync.WaitGroup

	mu      sync.Mutex
	conns   map[net.Conn]net.Conn
	bps     float64 // 0 for as much as there is
	delay   time.Duration
	stalled time.Time // until then nothing is taken
	denies  time.Time // until then nobody is
	changed chan struct{}
	turn    int // of what it does badly: what was asked for later stays
}

// narrowBuffer is how much the system takes in for a sender before we do: little, so that it feels what is done to it.
const narrowBuffer = 128 << 10

func newRelay(host, to string) (*relay, error) {
	l, err := net.Listen("tcp", host)
	if err != nil {
		return nil, err
	}
	r := &relay{listener: l, to: to, conns: map[net.Conn]net.Conn{}, changed: make(chan struct{})}
	r.ctx, r.end = context.WithCancel(context.Background())
	r.over.Go(func() {
		for {
			c, err := l.Accept()
			if err != nil {
				return
			}
			r.over.Go(func() { r.take(c) })
		}
	})
	return r, nil
}

func (r *relay) port() string {
	_, port, _ := net.SplitHostPort(r.listener.Addr().String())
	return port
}

func (r *relay) close() {
	r.end()
	_ = r.listener.Close()
	r.closeAll()
	r.over.Wait()
}

func (r *relay) closeAll() {
	r.mu.Lock()
	defer r.mu.Unlock()
	for a, b := range r.conns {
		reset(a)
		_ = b.Close()
	}
}

// reset closes a connection as a far end that dies does.
func reset(c net.Conn) {
	if t, ok := c.(*net.TCPConn); ok {
		_ = t.SetLinger(0)
	}
	_ = c.Close()
}

// take hands one connection on.
func (r *relay) take(c net.Conn) {
	defer c.Close()
	r.mu.Lock()
	refuse := time.Now().Before(r.denies) || len(r.conns) >= mostAtOnce
	r.mu.Unlock()
	if refuse {
		reset(c)
		return
	}
	if t, ok := c.(*net.TCPConn); ok {
		_ = t.SetReadBuffer(narrowBuffer)
	}
	to, err := net.Dial("tcp", r.to)
	if err != nil {
		return
	}
	defer to.Close()
	r.mu.Lock()
	r.conns[c] = to
	r.mu.Unlock()
	defer func() {
		r.mu.Lock()
		delete(r.conns, c)
		r.mu.Unlock()
	}()
	var both sync.WaitGroup
	both.Go(func() {
		r.hand(to, c, true)
		_ = to.Close()
	})
	both.Go(func() {
		r.hand(c, to, false)
		_ = c.Close()
	})
	both.Wait()
}

// hand copies from one to the other. What comes from the sender is taken no faster than it may be.
func (r *relay) hand(to, from net.Conn, narrowed bool) {
	type piece struct {
		due  time.Time
		data []byte
	}
	late := make(chan piece, 4096)
	var writes sync.WaitGroup
	writes.Go(func() {
		broken := false
		for p := range late {
			if broken || !r.until(p.due) {
				continue
			}
			if _, err := to.Write(p.data); err != nil {
				broken = true
				_ = from.Close()
			}
		}
	})
	defer writes.Wait()
	defer close(late)
	buf := make([]byte, 16<<10)
	free := time.Now()
	for {
		part := buf
		if narrowed {
			if !r.mayTake() {
				return
			}
			if bps := r.rate(); bps > 0 { // in pieces of a tenth of a second at most
				part = buf[:max(256, min(len(buf), int(bps/80)))]
			}
		}
		n, err := from.Read(part)
		if n > 0 {
			now := time.Now()
			if bps := r.rate(); narrowed && bps > 0 {
				if free.Before(now) {
					free = now
				}
				free = free.Add(time.Duration(float64(n) * 8 / bps * float64(time.Second)))
				if !r.until(free) {
					return
				}
			} else {
				free = now
			}
			select {
			case late <- piece{time.Now().Add(r.wait()), append([]byte{}, part[:n]...)}:
			case <-r.ctx.Done():
				return
			}
		}
		if err != nil {
			if err != io.EOF {
				_ = to.Close()
			}
			return
		}
	}
}

// until waits for a time, or until it is all over: false.
func (r *relay) until(t time.Time) bool {
	d := time.Until(t)
	if d <= 0 {
		return r.ctx.Err() == nil
	}
	timer := time.NewTimer(d)
	defer timer.Stop()
	select {
	case <-timer.C:
		return true
	case <-r.ctx.Done():
		return false
	}
}

// mayTake waits while nothing is taken.
func (r *relay) mayTake() bool {
	for {
		r.mu.Lock()
		until, changed := r.stalled, r.changed
		r.mu.Unlock()
		d := time.Until(until)
		if d <= 0 {
			return r.ctx.Err() == nil
		}
		timer := time.NewTimer(d)
		select {
		case <-timer.C:
		case <-changed:
		case <-r.ctx.Done():
		}
		timer.Stop()
		if r.ctx.Err() != nil {
			return false
		}
	}
}

func (r *relay) rate() float64 {
	r.mu.Lock()
	defer r.mu.Unlock()
	return r.bps
}

// wait is half of what the way there and back is slowed by.
func (r *relay) wait() time.Duration {
	r.mu.Lock()
	defer r.mu.Unlock()
	return r.delay / 2
}

// does does something badly for a while.
func (r *relay) does(kind string, value float64, lasts time.Duration) {
	r.mu.Lock()
	r.turn++
	turn := r.turn
	r.bps, r.delay, r.stalled, r.denies = 0, 0, time.Time{}, time.Time{}
	switch kind {
	case inspect.Narrow:
		r.bps = value * 1000
	case inspect.Slow:
		r.delay = time.Duration(value * float64(time.Millisecond))
	case inspect.Stalls:
		r.stalled = time.Now().Add(lasts)
	case inspect.Denies:
		r.denies = time.Now().Add(lasts)
	}
	close(r.changed)
	r.changed = make(chan struct{})
	r.mu.Unlock()
	if kind == inspect.Closes || kind == inspect.Denies {
		r.closeAll()
	}
	if kind == inspect.Narrow || kind == inspect.Slow {
		r.over.Go(func() {
			if !r.until(time.Now().Add(lasts)) {
				return
			}
			r.mu.Lock()
			defer r.mu.Unlock()
			if r.turn == turn {
				r.bps, r.delay = 0, 0
			}
		})
	}
}
