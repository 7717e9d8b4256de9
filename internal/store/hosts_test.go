package store

import (
	"context"
	"net"
	"strings"
	"testing"
	"time"
)

// Of several database servers the first that answers is taken; without one the error names all.
func TestSeveralHosts(t *testing.T) {
	gone, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	dead := gone.Addr().String()
	gone.Close()
	live, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer live.Close()
	c, err := dialHosts(context.Background(), dead+", "+live.Addr().String())
	if err != nil || c.RemoteAddr().String() != live.Addr().String() {
		t.Fatalf("%v, %v", c, err)
	}
	c.Close()
	if _, err := dialHosts(context.Background(), dead+","+dead); err == nil || strings.Count(err.Error(), dead) != 2 {
		t.Errorf("nobody there: %v", err)
	}
	ctx, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	defer cancel()
	if _, err := Open(ctx, "u:p@hosts("+dead+")/waryowl"); err == nil || !strings.Contains(err.Error(), "refused") {
		t.Errorf("opened by hosts: %v", err)
	}
}
