package main

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"encoding/pem"
	"math/big"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"
)

// TestOtherDevices serves https on an address of its own, as for phones and tablets of the workshop, with cookies for
// https.
func TestOtherDevices(t *testing.T) {
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		t.Fatal(err)
	}
	card := &x509.Certificate{SerialNumber: big.NewInt(1), NotAfter: time.Now().Add(time.Hour),
		IPAddresses: []net.IP{net.IPv4(127, 0, 0, 1)}, IsCA: true, BasicConstraintsValid: true}
	der, err := x509.CreateCertificate(rand.Reader, card, card, &key.PublicKey, key)
	if err != nil {
		t.Fatal(err)
	}
	private, err := x509.MarshalPKCS8PrivateKey(key)
	if err != nil {
		t.Fatal(err)
	}
	dir := t.TempDir()
	certFile, keyFile := filepath.Join(dir, "cert.pem"), filepath.Join(dir, "key.pem")
	os.WriteFile(certFile, pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der}), 0o600)
	os.WriteFile(keyFile, pem.EncodeToMemory(&pem.Block{Type: "PRIVATE KEY", Bytes: private}), 0o600)
	address := "127.0.0.1:" + freePort(t)
	t.Setenv("WARYOWL_TLS_CERT", certFile)
	t.Setenv("WARYOWL_TLS_KEY", keyFile)
	p := launchWith(t, t.TempDir(), "1", []string{"WARYOWL_LISTEN=" + address}, "demo")
	pool := x509.NewCertPool()
	ours, _ := x509.ParseCertificate(der)
	pool.AddCert(ours)
	client := &http.Client{Transport: &http.Transport{TLSClientConfig: &tls.Config{RootCAs: pool}},
		Timeout: 5 * time.Second}
	for end := time.Now().Add(60 * time.Second); ; time.Sleep(50 * time.Millisecond) {
		if a, err := client.Get("https://" + address + "/healthz"); err == nil && a.StatusCode == 200 {
			a.Body.Close()
			break
		} else if time.Now().After(end) {
			t.Fatalf("no https: %v\n%s", err, p.out)
		}
	}
	a, err := client.Post("https://"+address+"/api/session", "application/json",
		strings.NewReader(`{"name":"buyer","password":"demo-buyer"}`))
	if err != nil || a.StatusCode != 200 {
		t.Fatalf("sign-in over https: %v %v", a, err)
	}
	r, _ := http.NewRequest("GET", "https://"+address+"/api/models", nil)
	for _, c := range a.Cookies() {
		if !c.Secure || c.Domain != "" || c.Name == "waryowl" || c.Name == "__Host-waryowl" && c.Path != "/" {
			t.Errorf("a cookie over https: %v", c)
		}
		r.AddCookie(c)
	}
	if a, err := client.Do(r); err != nil || a.StatusCode != 200 {
		t.Errorf("signed in over https: %v %v", a, err)
	}
	for i, c := range r.Cookies() { // the name without the prefix, which a neighbour could set, is not believed
		if i == 0 {
			r.Header.Del("Cookie")
		}
		r.AddCookie(&http.Cookie{Name: strings.TrimPrefix(c.Name, "__Host-"), Value: c.Value})
	}
	if a, err := client.Do(r); err != nil || a.StatusCode != 401 {
		t.Errorf("a cookie of the plain name over https: %v %v", a, err)
	}
	if !strings.Contains(p.out.String(), "Wary Owl serves https://"+address) {
		t.Errorf("says: %s", p.out)
	}
	if err := p.end(syscall.SIGTERM); err != nil {
		t.Error(err)
	}
}
