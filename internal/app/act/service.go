// Package act carries out one change once: who does it, with which right, under which key. It knows nothing of the job.
package act

import (
	"context"
	"encoding/json"
	"errors"
	"math/rand/v2"
	"sync"
	"time"

	"gorm.io/gorm"

	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// Service is the application on a database. Now is the clock. Full says that the database has no room for changes; nil
// where nobody can tell before it happens.
type Service struct {
	DB   *gorm.DB
	DSN  string // of the database, for backups
	Now  func() time.Time
	Full func() bool
	// House tells of what the program runs on; nil where nobody can say.
	House func() House

	failures failures
}

// House is what the program runs on: whether it takes backups by itself, when the last one was taken, and how much room
// is left on the disk of the database (-1: not known).
type House struct {
	Backups bool
	Backup  time.Time
	FreeGB  float64
}

// failures are the requests of a day that came to nothing by no fault of who asked.
type failures struct {
	mu  sync.Mutex
	day string
	n   int
}

// Failed counts a request that could not be finished; Failures says how many there were on the day of the clock.
func (s *Service) Failed() { s.fail(1) }

// Failures is how many requests of today could not be finished, since the program was started.
func (s *Service) Failures() int { return s.fail(0) }

func (s *Service) fail(more int) int {
	s.failures.mu.Lock()
	defer s.failures.mu.Unlock()
	if today := s.Now().Format(time.DateOnly); s.failures.day != today {
		s.failures.day, s.failures.n = today, 0
	}
	s.failures.n += more
	return s.failures.n
}

// ErrFull says that there is no room for a change on the disk of the database; reading goes on.
var ErrFull = errors.New("the disk of the database is full")

// Actor is who acts.
type Actor struct {
	ID      string `json:"id"`
	Name    string `json:"name"`
	Display string `json:"display"`
	Role    Role   `json:"role"`
	Token   string `json:"token,omitempty" doc:"name of the token by which another program acts"`
	Alone   bool   `json:"alone,omitempty" doc:"an administrator while there is no analyst: may do an analyst's work"`
}

// Command is one change as it arrived: Key is its idempotency key (UUIDv7), Hash that of its canonical body, Happened
// when it happened at the bench (zero: now).
type Command struct {
	Actor    Actor
	Key      string
	Hash     string
	Happened time.Time
}

// ErrKeyReused says that the idempotency key came before with another body or from another person.
var ErrKeyReused = errors.New("this Idempotency-Key was used for another change; take a new one")

// ErrNotFound says that there is no such row.
var ErrNotFound = store.ErrNotFound

// Do carries out a change once: the key, the change, its audit lines and its answer are committed together, and a
// repeat is given the stored answer. A refused change leaves no trace.
func Do[O any](ctx context.Context, s *Service, c Command, status int, work func(*store.Tx) (O, error)) (O, error) {
	var out O
	var err error
	if s.Full != nil && s.Full() {
		return out, ErrFull
	}
	for k := range 8 { // a deadlock ends one of two transactions; running it again is all that is needed
		if out, err = try(ctx, s, c, status, work); store.Apart(err) {
			store.Leave(s.DB)
		} else if !store.Retriable(err) {
			break
		}
		if k > 0 { // not in step with whoever it met
			select {
			case <-ctx.Done():
				return out, err
			case <-time.After(rand.N(time.Millisecond << k)):
			}
		}
	}
	if store.Full(err) {
		err = ErrFull
	}
	return out, err
}

func try[O any](ctx context.Context, s *Service, c Command, status int, work func(*store.Tx) (O, error)) (O, error) {
	var out O
	err := store.Within(ctx, s.DB, func(g *gorm.DB) error {
		now := s.Now().UTC()
		tx := &store.Tx{DB: g, Account: c.Actor.ID, Token: c.Actor.Token, Own: c.Actor.Role != "" && c.Actor.Role != Analyst && !c.Actor.Alone,
			Happened: c.Happened, Arrived: now}
		if tx.Happened.IsZero() {
			tx.Happened = now
		}
		earlier, err := tx.Claim(store.Command{ID: c.Key, AccountID: c.Actor.ID, BodyHash: c.Hash})
		if err != nil {
			return err
		}
		if earlier != nil {
			if earlier.BodyHash != c.Hash || earlier.AccountID != c.Actor.ID {
				return ErrKeyReused
			}
			return json.Unmarshal([]byte(earlier.Answer), &out)
		}
		if out, err = work(tx); err != nil {
			return err
		}
		answer, err := json.Marshal(out)
		if err != nil {
			return err
		}
		return tx.Settle(c.Key, status, answer)
	})
	return out, err
}

// Carried says whether a command with this key was carried out.
func (s *Service) Carried(ctx context.Context, key string) (bool, error) {
	rows, err := store.List[store.Command](s.DB.WithContext(ctx), "id", "id = ?", key)
	return len(rows) > 0, err
}

// Belongs refuses an id that is not among the rows of its owner.
func Belongs[T any](field, id string, rows map[string]T, what string) error {
	if _, ok := rows[id]; !ok {
		return fault.New(field, id, what)
	}
	return nil
}
