package certificate

import (
	"crypto/x509"
	"net"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestFor(t *testing.T) {
	folder := filepath.Join(t.TempDir(), "https")
	now := time.Now()
	names, ips := []string{"localhost", "desk.local"}, []net.IP{net.IPv4(127, 0, 0, 1), net.IPv4(192, 0, 2, 7)}
	a, err := For(folder, names, ips, now)
	require.NoError(t, err)
	for file, rights := range map[string]os.FileMode{"authority-key.pem": 0o600, "certificate-key.pem": 0o600,
		"authority.pem": 0o644} {
		st, err := os.Stat(filepath.Join(folder, file))
		require.NoError(t, err)
		assert.Equal(t, rights, st.Mode().Perm(), file)
	}
	pool := x509.NewCertPool()
	text, err := os.ReadFile(a.Authority)
	require.NoError(t, err)
	require.True(t, pool.AppendCertsFromPEM(text))
	for _, name := range []string{"localhost", "desk.local", "192.0.2.7"} {
		_, err := a.TLS.Leaf.Verify(x509.VerifyOptions{DNSName: name, Roots: pool, CurrentTime: now})
		require.NoError(t, err, name)
	}
	_, err = a.TLS.Leaf.Verify(x509.VerifyOptions{DNSName: "elsewhere.example", Roots: pool, CurrentTime: now})
	require.Error(t, err)
	assert.Len(t, a.Fingerprint, 32*3-1)

	same, err := For(folder, names, ips, now.Add(24*time.Hour))
	require.NoError(t, err)
	assert.Equal(t, a.TLS.Leaf.SerialNumber, same.TLS.Leaf.SerialNumber, "it is kept")
	moved, err := For(folder, names, ips[:1], now)
	require.NoError(t, err)
	assert.NotEqual(t, a.TLS.Leaf.SerialNumber, moved.TLS.Leaf.SerialNumber, "another address, another certificate")
	assert.Equal(t, a.Fingerprint, moved.Fingerprint, "trusted once")
	later, err := For(folder, names, ips[:1], now.Add(380*24*time.Hour))
	require.NoError(t, err)
	assert.NotEqual(t, moved.TLS.Leaf.SerialNumber, later.TLS.Leaf.SerialNumber, "it is renewed in time")

	require.NoError(t, os.WriteFile(filepath.Join(folder, "authority.pem"), []byte("no"), 0o600))
	_, err = For(folder, names, ips, now)
	require.ErrorContains(t, err, "take the folder away")
}
