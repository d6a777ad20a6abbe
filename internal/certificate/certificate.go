// Package certificate answers: how does a browser on another computer come to trust this one?
//
// An authority of one's own is made once and kept, readable by its owner only; what it signs is made anew whenever the
// names or addresses of this computer change, or a year is nearly over. A browser that trusts the authority trusts
// what it signs.
package certificate

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/sha256"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"errors"
	"fmt"
	"io/fs"
	"math/big"
	"net"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

// How long what is made is good for; browsers take no more than 398 days of what is signed.
const (
	authorityLasts = 10 * 365 * 24 * time.Hour
	signedLasts    = 397 * 24 * time.Hour
	renewBefore    = 30 * 24 * time.Hour
)

// Own is a certificate of this computer's own.
type Own struct {
	TLS         tls.Certificate
	Authority   string // path of the authority, to be trusted by browsers
	Fingerprint string // of the authority, SHA-256 as browsers show it
}

// For makes a certificate for names and addresses, or takes the one kept in a folder where it is for just these and
// good for some time yet. An error names the file that is wrong, and what to do about it.
func For(folder string, names []string, addresses []net.IP, now time.Time) (*Own, error) {
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return nil, err
	}
	authority, key, err := authorityIn(folder, now)
	if err != nil {
		return nil, err
	}
	sum := sha256.Sum256(authority.Raw)
	hex := make([]string, len(sum))
	for i, b := range sum {
		hex[i] = fmt.Sprintf("%02X", b)
	}
	own := &Own{Authority: filepath.Join(folder, "authority.pem"), Fingerprint: strings.Join(hex, ":")}
	certFile, keyFile := filepath.Join(folder, "certificate.pem"), filepath.Join(folder, "certificate-key.pem")
	if kept, err := tls.LoadX509KeyPair(certFile, keyFile); err == nil && fits(kept.Leaf, authority, names, addresses, now) {
		own.TLS = kept
		return own, nil
	}
	leafKey, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return nil, err
	}
	leaf := &x509.Certificate{SerialNumber: serial(), Subject: pkix.Name{CommonName: "Even Tether on this computer"},
		NotBefore: now.Add(-time.Hour), NotAfter: now.Add(signedLasts), DNSNames: names, IPAddresses: addresses,
		KeyUsage: x509.KeyUsageDigitalSignature, ExtKeyUsage: []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth}}
	raw, err := x509.CreateCertificate(rand.Reader, leaf, authority, &leafKey.PublicKey, key)
	if err != nil {
		return nil, err
	}
	if err := errors.Join(writeKey(keyFile, leafKey), write(certFile, "CERTIFICATE", raw, 0o644)); err != nil {
		return nil, err
	}
	own.TLS, err = tls.LoadX509KeyPair(certFile, keyFile)
	return own, err
}

func serial() *big.Int {
	n, err := rand.Int(rand.Reader, new(big.Int).Lsh(big.NewInt(1), 120))
	if err != nil {
		panic(err) // the system has no random numbers
	}
	return n
}

// fits tells whether a certificate is one of the authority's for just these names, and good for some time.
func fits(c, authority *x509.Certificate, names []string, addresses []net.IP, now time.Time) bool {
	return c != nil && c.CheckSignatureFrom(authority) == nil && now.After(c.NotBefore) &&
		now.Add(renewBefore).Before(c.NotAfter) && slices.Equal(c.DNSNames, names) &&
		slices.EqualFunc(c.IPAddresses, addresses, net.IP.Equal)
}

// authorityIn is the authority that is kept in a folder, made where there is none.
func authorityIn(folder string, now time.Time) (*x509.Certificate, *ecdsa.PrivateKey, error) {
	certFile, keyFile := filepath.Join(folder, "authority.pem"), filepath.Join(folder, "authority-key.pem")
	kept, err := tls.LoadX509KeyPair(certFile, keyFile)
	if err == nil {
		key, ok := kept.PrivateKey.(*ecdsa.PrivateKey)
		if ok && kept.Leaf != nil && now.Before(kept.Leaf.NotAfter) {
			return kept.Leaf, key, nil
		}
	} else if !errors.Is(err, fs.ErrNotExist) {
		return nil, nil, fmt.Errorf("the authority in %s cannot be read: %w; take the folder away and it is made anew, to be trusted anew",
			folder, err)
	}
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return nil, nil, err
	}
	host, err := os.Hostname()
	if err != nil {
		host = "this computer"
	}
	c := &x509.Certificate{SerialNumber: serial(), Subject: pkix.Name{CommonName: "Even Tether's own, " + host},
		NotBefore: now.Add(-time.Hour), NotAfter: now.Add(authorityLasts), IsCA: true, BasicConstraintsValid: true,
		MaxPathLenZero: true, KeyUsage: x509.KeyUsageCertSign}
	raw, err := x509.CreateCertificate(rand.Reader, c, c, &key.PublicKey, key)
	if err != nil {
		return nil, nil, err
	}
	if err := errors.Join(writeKey(keyFile, key), write(certFile, "CERTIFICATE", raw, 0o644)); err != nil {
		return nil, nil, err
	}
	made, err := x509.ParseCertificate(raw)
	return made, key, err
}

func writeKey(path string, key *ecdsa.PrivateKey) error {
	raw, err := x509.MarshalPKCS8PrivateKey(key)
	if err != nil {
		return err
	}
	return write(path, "PRIVATE KEY", raw, 0o600)
}

// write puts a file in the place of what was there, with these rights from its first byte on.
func write(path, kind string, raw []byte, rights fs.FileMode) error {
	temp := path + ".new"
	if err := os.Remove(temp); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	f, err := os.OpenFile(temp, os.O_CREATE|os.O_EXCL|os.O_WRONLY, rights)
	if err != nil {
		return err
	}
	if err := errors.Join(pem.Encode(f, &pem.Block{Type: kind, Bytes: raw}), f.Close()); err != nil {
		return err
	}
	return os.Rename(temp, path)
}
