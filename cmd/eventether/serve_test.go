package main

import (
	"net"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"
)

// A busy port is passed over for the next one.
func TestListenTakesTheNextPort(t *testing.T) {
	busy, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer busy.Close()
	_, text, err := net.SplitHostPort(busy.Addr().String())
	require.NoError(t, err)
	port, err := strconv.Atoi(text)
	require.NoError(t, err)
	l, err := listen(port)
	require.NoError(t, err)
	defer l.Close()
	require.Greater(t, l.Addr().(*net.TCPAddr).Port, port)
	require.True(t, l.Addr().(*net.TCPAddr).IP.IsLoopback())
}
