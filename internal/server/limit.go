package server

import (
	"sync"
	"time"

	"golang.org/x/time/rate"
)

// attempts limits sign-ins per name: ten at once, then one every six seconds.
type attempts struct {
	mu sync.Mutex
	by map[string]*rate.Limiter
}

func newAttempts() *attempts { return &attempts{by: map[string]*rate.Limiter{}} }

func (a *attempts) allow(name string) bool {
	a.mu.Lock()
	defer a.mu.Unlock()
	if len(a.by) > 10_000 { // somebody tries many names; forgetting them costs an attacker nothing but us no memory
		clear(a.by)
	}
	l, ok := a.by[name]
	if !ok {
		l = rate.NewLimiter(rate.Every(6*time.Second), 10)
		a.by[name] = l
	}
	return l.Allow()
}
