//go:build linux && (amd64 || arm64)

package line

import (
	"errors"
	"fmt"
	"sync"
	"unsafe"

	"github.com/ebitengine/purego"
)

// srtLibraries are the names Debian's library of SRT has, which its ffmpeg brings along.
var srtLibraries = []string{"libsrt-gnutls.so.1.5", "libsrt-openssl.so.1.5", "libsrt.so.1.5"}

// Options of a socket [documented: libsrt 1.5, srt.h; the numbers are held against Debian's header by a test].
const (
	srtoSndSyn         = 1
	srtoSndTimeout     = 13
	srtoLatency        = 23
	srtoPassphrase     = 26
	srtoConnectTimeout = 36
	srtoStreamID       = 46
	srtoPayloadSize    = 49
)

// srtStats is what the library counts of a connection [documented: libsrt 1.5, CBytePerfMon].
type srtStats struct {
	MsTimeStamp, PktSentTotal, PktRecvTotal                                 int64
	PktSndLossTotal, PktRcvLossTotal, PktRetransTotal, PktSentACKTotal      int32
	PktRecvACKTotal, PktSentNAKTotal, PktRecvNAKTotal                       int32
	UsSndDurationTotal                                                      int64
	PktSndDropTotal, PktRcvDropTotal, PktRcvUndecryptTotal                  int32
	ByteSentTotal, ByteRecvTotal, ByteRcvLossTotal, ByteRetransTotal        uint64
	ByteSndDropTotal, ByteRcvDropTotal, ByteRcvUndecryptTotal               uint64
	PktSent, PktRecv                                                        int64
	PktSndLoss, PktRcvLoss, PktRetrans, PktRcvRetrans                       int32
	PktSentACK, PktRecvACK, PktSentNAK, PktRecvNAK                          int32
	MbpsSendRate, MbpsRecvRate                                              float64
	UsSndDuration                                                           int64
	PktReorderDistance                                                      int32
	PktRcvAvgBelatedTime                                                    float64
	PktRcvBelated                                                           int64
	PktSndDrop, PktRcvDrop, PktRcvUndecrypt                                 int32
	ByteSent, ByteRecv, ByteRcvLoss, ByteRetrans, ByteSndDrop, ByteRcvDrop  uint64
	ByteRcvUndecrypt                                                        uint64
	UsPktSndPeriod                                                          float64
	PktFlowWindow, PktCongestionWindow, PktFlightSize                       int32
	MsRTT, MbpsBandwidth                                                    float64
	ByteAvailSndBuf, ByteAvailRcvBuf                                        int32
	MbpsMaxBW                                                               float64
	ByteMSS, PktSndBuf, ByteSndBuf, MsSndBuf, MsSndTsbPdDelay               int32
	PktRcvBuf, ByteRcvBuf, MsRcvBuf, MsRcvTsbPdDelay                        int32
	PktSndFilterExtraTotal, PktRcvFilterExtraTotal, PktRcvFilterSupplyTotal int32
	PktRcvFilterLossTotal, PktSndFilterExtra, PktRcvFilterExtra             int32
	PktRcvFilterSupply, PktRcvFilterLoss, PktReorderTolerance               int32
	PktSentUniqueTotal, PktRecvUniqueTotal                                  int64
	ByteSentUniqueTotal, ByteRecvUniqueTotal                                uint64
	PktSentUnique, PktRecvUnique                                            int64
	ByteSentUnique, ByteRecvUnique                                          uint64
	_                                                                       [256]byte // what a later version counts besides
}

// srt are the calls of the library we need.
type srt struct {
	startup       func() int32
	createSocket  func() int32
	setSockFlag   func(socket, option int32, value unsafe.Pointer, length int32) int32
	connect       func(socket int32, address unsafe.Pointer, length int32) int32
	send          func(socket int32, data unsafe.Pointer, length int32) int32
	stats         func(socket int32, to *srtStats, clear, instantaneous int32) int32
	close         func(socket int32) int32
	lastError     func() string
	rejectReason  func(socket int32) int32
	rejectMessage func(reason int32) string
}

var errNoSRT = errors.New("SRT needs the library that Debian's ffmpeg brings along (libsrt1.5), and it is not here")

// srtLibrary is the library, opened when it is first wanted.
var srtLibrary = sync.OnceValues(func() (*srt, error) {
	for _, name := range srtLibraries {
		lib, err := purego.Dlopen(name, purego.RTLD_NOW|purego.RTLD_GLOBAL)
		if err != nil {
			continue
		}
		s := &srt{}
		for name, to := range map[string]any{"srt_startup": &s.startup, "srt_create_socket": &s.createSocket, "srt_setsockflag": &s.setSockFlag,
			"srt_connect": &s.connect, "srt_send": &s.send, "srt_bistats": &s.stats, "srt_close": &s.close, "srt_getlasterror_str": &s.lastError,
			"srt_getrejectreason": &s.rejectReason, "srt_rejectreason_str": &s.rejectMessage} {
			if _, err := purego.Dlsym(lib, name); err != nil {
				return nil, errNoSRT
			}
			purego.RegisterLibFunc(to, lib, name)
		}
		if s.startup() < 0 {
			return nil, errNoSRT
		}
		return s, nil
	}
	return nil, errNoSRT
})

// srtConn is a connection.
type srtConn struct {
	lib    *srt
	socket int32
	once   sync.Once
}

// dialSRT calls a listener: address as connect(2) takes it. What the stream is called and its pass phrase stay in this process.
func dialSRT(address []byte, streamID, passphrase string, latencyMs int32) (*srtConn, error) {
	lib, err := srtLibrary()
	if err != nil {
		return nil, err
	}
	c := &srtConn{lib: lib, socket: lib.createSocket()}
	if c.socket < 0 {
		return nil, errors.New(lib.lastError())
	}
	number := func(option, value int32) {
		if err == nil && lib.setSockFlag(c.socket, option, unsafe.Pointer(&value), 4) < 0 {
			err = errors.New(lib.lastError())
		}
	}
	text := func(option int32, what, value string) {
		if err == nil && value != "" {
			b := []byte(value)
			if lib.setSockFlag(c.socket, option, unsafe.Pointer(&b[0]), int32(len(b))) < 0 {
				err = fmt.Errorf("the %s is not one SRT takes: a pass phrase has 10 to 79 characters, a stream id 512 at most", what)
			}
		}
	}
	number(srtoSndSyn, 1)
	number(srtoConnectTimeout, int32(connectWithin.Milliseconds()))
	number(srtoSndTimeout, 3000)
	number(srtoLatency, latencyMs)
	number(srtoPayloadSize, srtPayload)
	text(srtoStreamID, "stream id", streamID)
	text(srtoPassphrase, "pass phrase", passphrase)
	if err == nil && lib.connect(c.socket, unsafe.Pointer(&address[0]), int32(len(address))) < 0 {
		// Why it was refused comes with a number; 1 000 and more are the far end's own, such as 1 401 for a wrong key.
		err = fmt.Errorf("it does not take the stream: %s", lib.rejectMessage(lib.rejectReason(c.socket)))
	}
	if err != nil {
		c.Close()
		return nil, err
	}
	return c, nil
}

// Write sends a message of srtPayload bytes at most.
func (c *srtConn) Write(b []byte) (int, error) {
	n := c.lib.send(c.socket, unsafe.Pointer(&b[0]), int32(len(b)))
	if n < 0 {
		return 0, errors.New(c.lib.lastError())
	}
	return int(n), nil
}

// counted is what the library counts so far.
func (c *srtConn) counted() (s srtCounted, ok bool) {
	var st srtStats
	if c.lib.stats(c.socket, &st, 0, 1) < 0 {
		return s, false
	}
	return srtCounted{sent: st.ByteSentUniqueTotal, waits: uint64(max(0, st.ByteSndBuf)), waitsMs: float64(st.MsSndBuf), dropped: st.ByteSndDropTotal,
		packets: st.PktSentTotal, again: int64(st.PktRetransTotal), rttMs: st.MsRTT}, true
}

// Close ends it.
func (c *srtConn) Close() { c.once.Do(func() { c.lib.close(c.socket) }) }
