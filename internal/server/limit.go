package server

import (
	"context"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/binary"
	"encoding/hex"
	"hash/maphash"
	"net"
	"net/http"
	"net/netip"
	"strings"
	"sync"
	"time"
	"unicode"

	"golang.org/x/text/unicode/norm"
	"golang.org/x/time/rate"

	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

// attempts limits sign-ins: per name ten at once, then one every twenty seconds, and after some forty one a minute, so
// that nobody guesses more than a hundred times in an hour; per address forty at once, then one every second. Names
// that the database takes for one are one here. A device on which somebody has signed in before has an allowance of
// its own for that name, so that strangers cannot lock its owner out. The buckets are of a fixed number: no flood of
// names makes the limits forget. Each program refuses by itself first; what it would take it asks the database, which
// counts for all programs.
type attempts struct {
	mu      sync.Mutex
	buckets [1 << 15]bucket
	seed    maphash.Seed
	secret  []byte // of all programs on the database: signs the cookies of devices, and numbers the buckets
	proxies []netip.Prefix
	now     func() time.Time
	shared  func(ctx context.Context, bucket uint32, every time.Duration, burst int) bool
}

type bucket struct{ names, longNames, addresses, devices *rate.Limiter }

func newAttempts(proxies []netip.Prefix) *attempts {
	a := &attempts{seed: maphash.MakeSeed(), secret: make([]byte, 32), proxies: proxies,
		now: time.Now}
	_, _ = rand.Read(a.secret)
	return a
}

// share lets the database count.
func (a *attempts) share(ctx context.Context, s *act.Service) error {
	secret, err := store.Secret(ctx, s.DB, "devices")
	if err != nil {
		return err
	}
	a.secret = secret
	a.shared = func(ctx context.Context, bucket uint32, every time.Duration, burst int) bool {
		ok, err := store.Allow(ctx, s.DB, bucket, every, burst, s.Now())
		return ok || err != nil // without a database nobody signs in anyway
	}
	return nil
}

// kinds of buckets.
const (
	byAddress = iota
	byDevice
	byName
	byNameLong // the same name over an hour
)

// canonical is a name as the database compares it, or closer: without case, accents, marks that cannot be seen, and
// outer blanks.
func canonical(name string) string {
	var b strings.Builder
	for _, r := range norm.NFKD.String(name) {
		if !unicode.Is(unicode.Mn, r) && !unicode.Is(unicode.Cf, r) && !unicode.IsControl(r) {
			b.WriteRune(unicode.ToLower(unicode.ToUpper(r)))
		}
	}
	return strings.Join(strings.Fields(b.String()), " ")
}

func (a *attempts) take(ctx context.Context, kind int, key string, every time.Duration, burst int) bool {
	k := &a.buckets[maphash.String(a.seed, key)%uint64(len(a.buckets))]
	l := []**rate.Limiter{byAddress: &k.addresses, byDevice: &k.devices, byName: &k.names,
		byNameLong: &k.longNames}[kind]
	a.mu.Lock()
	if *l == nil {
		*l = rate.NewLimiter(rate.Every(every), burst)
	}
	a.mu.Unlock()
	if !(*l).AllowN(a.now(), 1) {
		return false
	}
	if a.shared == nil {
		return true
	}
	m := hmac.New(sha256.New, a.secret)
	m.Write([]byte(key))
	bucket := binary.LittleEndian.Uint32(m.Sum(nil)) % uint32(len(a.buckets))
	return a.shared(ctx, uint32(kind*len(a.buckets))+bucket, every, burst)
}

// allow says whether somebody at an address may try a name; device is the cookie that an earlier sign-in left there.
func (a *attempts) allow(ctx context.Context, name, address, device string) bool {
	if !a.take(ctx, byAddress, address, time.Second, 40) {
		return false
	}
	name = canonical(name)
	if id, ok := a.known(device, name); ok {
		return a.take(ctx, byDevice, id, 6*time.Second, 10)
	}
	return a.take(ctx, byName, name, 20*time.Second, 10) && a.take(ctx, byNameLong, name, time.Minute, 36)
}

// deviceCookie is the name of the cookie that a device keeps after a sign-in.
const deviceCookie = "waryowl-device"

// device makes the cookie of a device for a name.
func (a *attempts) device(name string) string {
	id := rand.Text()
	return id + "." + a.sign(id, canonical(name))
}

func (a *attempts) sign(id, name string) string {
	m := hmac.New(sha256.New, a.secret)
	m.Write([]byte(id + "\x00" + name))
	return hex.EncodeToString(m.Sum(nil))
}

func (a *attempts) known(cookie, name string) (id string, ok bool) {
	id, signed, _ := strings.Cut(cookie, ".")
	return id, hmac.Equal([]byte(signed), []byte(a.sign(id, name)))
}

// address is where a request comes from: the peer, or what the nearest declared proxy says. Addresses of version 6
// count by their network.
func (a *attempts) address(r *http.Request) string {
	host, _, err := net.SplitHostPort(r.RemoteAddr)
	if err != nil {
		host = r.RemoteAddr
	}
	hops := strings.Split(strings.Join(r.Header.Values("X-Forwarded-For"), ","), ",")
	for k := len(hops) - 1; k >= 0 && a.proxy(host); k-- {
		if hop := strings.TrimSpace(hops[k]); hop != "" {
			host = hop
		}
	}
	at, err := netip.ParseAddr(host)
	if err != nil {
		return host
	}
	if at = at.Unmap(); at.Is6() {
		if p, err := at.Prefix(64); err == nil {
			return p.String()
		}
	}
	return at.String()
}

// declared says that a request comes from a proxy whose word counts.
func (a *attempts) declared(r *http.Request) bool {
	host, _, err := net.SplitHostPort(r.RemoteAddr)
	return err == nil && a.proxy(host)
}

func (a *attempts) proxy(host string) bool {
	at, err := netip.ParseAddr(host)
	if err != nil {
		return false
	}
	for _, p := range a.proxies {
		if p.Contains(at.Unmap()) {
			return true
		}
	}
	return false
}
