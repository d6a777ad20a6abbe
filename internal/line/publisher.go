package line

import (
	"context"
	"crypto/tls"
	"fmt"
	"net"
	"net/url"
	"strings"
	"sync/atomic"

	"github.com/bluenviron/gortmplib/pkg/amf0"
	"github.com/bluenviron/gortmplib/pkg/bytecounter"
	"github.com/bluenviron/gortmplib/pkg/handshake"
	"github.com/bluenviron/gortmplib/pkg/message"
)

// publisher is a connection that publishes one stream [standard: RTMP 1.0, 7.2]. It is as the library's own client, but
// takes no offence at answers it does not understand: ingests send commands of their own kinds.
type publisher struct {
	conn     *noting
	bytes    *bytecounter.ReadWriter
	messages *message.ReadWriter
}

// noting remembers that reading ended, so that an answer that is not understood is told from a line that broke.
type noting struct {
	net.Conn
	ended atomic.Bool
}

func (n *noting) Read(p []byte) (int, error) {
	k, err := n.Conn.Read(p)
	if err != nil {
		n.ended.Store(true)
	}
	return k, err
}

// newPublisher connects to an ingest and begins to publish. An error never holds the key.
func newPublisher(ctx context.Context, d *net.Dialer, u *url.URL, key, standIn string) (*publisher, error) {
	port := "1935"
	if u.Scheme == "rtmps" {
		port = "443"
	}
	if u.Port() != "" {
		port = u.Port()
	}
	conn, err := dial(ctx, d, net.JoinHostPort(u.Hostname(), port), standIn)
	if err != nil {
		return nil, err
	}
	stop := context.AfterFunc(ctx, func() { _ = conn.Close() })
	defer stop()
	if u.Scheme == "rtmps" {
		conn = tls.Client(conn, &tls.Config{ServerName: u.Hostname(), MinVersion: tls.VersionTLS12})
	}
	p := &publisher{conn: &noting{Conn: conn}}
	p.bytes = bytecounter.NewReadWriter(p.conn)
	if err := p.begin(u, key); err != nil {
		_ = conn.Close()
		return nil, err
	}
	return p, nil
}

// begin shakes hands, connects to the application and publishes.
func (p *publisher) begin(u *url.URL, key string) error {
	if _, _, err := handshake.DoClient(p.bytes, false, false); err != nil {
		return fmt.Errorf("it does not answer as an ingest: %w", err)
	}
	p.messages = message.NewReadWriter(p.bytes, p.bytes, false)
	app := strings.Trim(u.Path, "/")
	if u.RawQuery != "" {
		app += "?" + u.RawQuery
	}
	command := func(id int, stream uint32, name string, args ...any) error {
		channel := byte(3)
		if stream != 0 {
			channel = 4
		}
		return p.messages.Write(&message.CommandAMF0{ChunkStreamID: channel, MessageStreamID: stream, Name: name, CommandID: id,
			Arguments: args})
	}
	for _, m := range []message.Message{&message.SetWindowAckSize{Value: 2_500_000}, &message.SetChunkSize{Value: 65536}} {
		if err := p.messages.Write(m); err != nil {
			return err
		}
	}
	if err := command(1, 0, "connect", amf0.Object{{Key: "app", Value: app}, {Key: "type", Value: "nonprivate"},
		{Key: "flashVer", Value: "FMLE/3.0 (compatible)"}, {Key: "tcUrl", Value: u.Scheme + "://" + u.Host + "/" + app}}); err != nil {
		return err
	}
	if err := p.answered(1, "the application"); err != nil {
		return err
	}
	for id, c := range [][]any{{"releaseStream", nil, key}, {"FCPublish", nil, key}, {"createStream", nil}} {
		name, _ := c[0].(string)
		if err := command(id+2, 0, name, c[1:]...); err != nil {
			return err
		}
	}
	if err := p.answered(4, "a stream"); err != nil {
		return err
	}
	const stream = 1 << 24 // the first, as it is written: the low byte first
	if err := command(5, stream, "publish", nil, key, "live"); err != nil {
		return err
	}
	return p.answered(0, "the key")
}

// answered waits for the answer to a command; for that of publishing, which has no number, by its name.
func (p *publisher) answered(id int, what string) error {
	for {
		m, err := p.Read()
		if err != nil {
			return fmt.Errorf("it closed the connection when asked for %s", what)
		}
		c, ok := m.(*message.CommandAMF0)
		switch {
		case !ok:
		case c.Name == "_error" && (c.CommandID == id || id == 0):
			return fmt.Errorf("it refuses %s: %s", what, said(c))
		case c.Name == "_result" && c.CommandID == id && id > 0:
			return nil
		case c.Name == "onStatus" && id == 0:
			if level(c) == "status" {
				return nil
			}
			return fmt.Errorf("it refuses %s: %s", what, said(c))
		}
	}
}

// field is a text in the answer to a command.
func field(c *message.CommandAMF0, name string) string {
	for _, a := range c.Arguments {
		o, ok := a.(amf0.Object)
		if list, is := a.(amf0.ECMAArray); is {
			o, ok = amf0.Object(list), true
		}
		if ok {
			if v, has := o.GetString(name); has {
				return v
			}
		}
	}
	return ""
}

func level(c *message.CommandAMF0) string { return field(c, "level") }

// said is what an ingest gives as its reason.
func said(c *message.CommandAMF0) string {
	for _, name := range []string{"description", "code"} {
		if v := field(c, name); v != "" {
			return v
		}
	}
	return "it says no reason"
}

// Read reads what the far end says next that can be understood.
func (p *publisher) Read() (message.Message, error) {
	const patience = 100
	for n := 0; ; n++ {
		m, err := p.messages.Read()
		if err == nil || p.conn.ended.Load() || n == patience {
			return m, err
		}
	}
}

// Write sends a message.
func (p *publisher) Write(m message.Message) error { return p.messages.Write(m) }

// BytesReceived is how many came.
func (p *publisher) BytesReceived() uint64 { return p.bytes.Reader.Count() }

// BytesSent is how many were written.
func (p *publisher) BytesSent() uint64 { return p.bytes.Writer.Count() }

// Close ends it.
func (p *publisher) Close() { _ = p.conn.Close() }
