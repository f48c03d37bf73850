package main

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
	"strings"
	"time"
)

// How long a certificate that Vindel makes is good for, and how long before its end it makes another: browsers
// take none that is good for more than 398 days.
const (
	certGood  = 397 * 24 * time.Hour
	certAnew  = 14 * 24 * time.Hour
	certFile  = "tls-cert.pem"
	keyFile   = "tls-key.pem"
	onlyMine  = 0o600
	clockSkew = time.Hour
)

// certificate is the one that lies in the folder of data; where there is none, or it ends soon, or a name by
// which this machine is called is not in it, another is made. The fingerprint is the SHA-256 of what a browser is
// shown, in pairs of hexadecimal figures.
func certificate(dir string, names []string, now time.Time) (c tls.Certificate, fingerprint string, err error) {
	cert, key := filepath.Join(dir, certFile), filepath.Join(dir, keyFile)
	c, err = tls.LoadX509KeyPair(cert, key)
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return c, "", fmt.Errorf("%s: %w; move both %s and %s away, and another is made", cert, err, certFile, keyFile)
	}
	if err != nil || !serves(c.Leaf, names, now) {
		if err := makeCertificate(cert, key, names, now); err != nil {
			return c, "", err
		}
		if c, err = tls.LoadX509KeyPair(cert, key); err != nil {
			return c, "", err
		}
	}
	sum := sha256.Sum256(c.Certificate[0])
	return c, strings.ReplaceAll(fmt.Sprintf("% X", sum[:]), " ", ":"), nil
}

func serves(leaf *x509.Certificate, names []string, now time.Time) bool {
	if leaf == nil || now.Add(certAnew).After(leaf.NotAfter) || now.Before(leaf.NotBefore) {
		return false
	}
	for _, n := range names {
		if leaf.VerifyHostname(n) != nil {
			return false
		}
	}
	return true
}

func makeCertificate(cert, key string, names []string, now time.Time) error {
	private, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return err
	}
	serial, err := rand.Int(rand.Reader, new(big.Int).Lsh(big.NewInt(1), 120))
	if err != nil {
		return err
	}
	t := &x509.Certificate{SerialNumber: serial, Subject: pkix.Name{CommonName: "Vindel at home"},
		NotBefore: now.Add(-clockSkew), NotAfter: now.Add(certGood),
		KeyUsage: x509.KeyUsageDigitalSignature, ExtKeyUsage: []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth},
		BasicConstraintsValid: true}
	for _, n := range names {
		if ip := net.ParseIP(n); ip != nil {
			t.IPAddresses = append(t.IPAddresses, ip)
		} else {
			t.DNSNames = append(t.DNSNames, n)
		}
	}
	der, err := x509.CreateCertificate(rand.Reader, t, t, &private.PublicKey, private)
	if err != nil {
		return err
	}
	raw, err := x509.MarshalECPrivateKey(private)
	if err != nil {
		return err
	}
	if err := os.WriteFile(key, pem.EncodeToMemory(&pem.Block{Type: "EC PRIVATE KEY", Bytes: raw}),
		onlyMine); err != nil {
		return err
	}
	return os.WriteFile(cert, pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der}), onlyMine)
}
