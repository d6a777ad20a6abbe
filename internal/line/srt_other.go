//go:build !linux || !(amd64 || arm64)

package line

import "errors"

type srtConn struct{}

func dialSRT([]byte, string, string, int32) (*srtConn, error) {
	return nil, errors.New("a line is tried by SRT on Linux only: try it by RTMP")
}

func (*srtConn) Write([]byte) (int, error)   { return 0, nil }
func (*srtConn) counted() (srtCounted, bool) { return srtCounted{}, false }
func (*srtConn) Close()                      {}
