// Package account is the room of people: who may sign in, and with what.
package account

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"slices"
	"sync"

	"waryowl/internal/app/act"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"

	"github.com/alexedwards/argon2id"
	"github.com/trustelem/zxcvbn"
)

// ErrSignIn says that name and password do not go together; which of the two is wrong is not said.
var ErrSignIn = errors.New("name or password is wrong")

// params are the second recommended option of RFC 9106, section 4 (from memory): 64 MiB, three passes; two lanes are
// ours.
var params = &argon2id.Params{Memory: 64 * 1024, Iterations: 3, Parallelism: 2, SaltLength: 16, KeyLength: 32}

// ErrBusy says that too many passwords are being checked at this moment.
var ErrBusy = errors.New("too many passwords are being checked")

// A password takes 64 MiB and a third of a second of a processor: few are checked at once, and not many wait.
var (
	checking = make(chan struct{}, 2)
	waiting  = make(chan struct{}, 16)
)

// inTurn checks or hashes one password when it is its turn.
func inTurn(ctx context.Context, work func()) error {
	select {
	case waiting <- struct{}{}:
		defer func() { <-waiting }()
	default:
		return ErrBusy
	}
	select {
	case checking <- struct{}{}:
		defer func() { <-checking }()
	case <-ctx.Done():
		return ctx.Err()
	}
	work()
	return nil
}

// HashPassword gives a salted argon2id hash in PHC form.
func HashPassword(password string) (string, error) { return argon2id.CreateHash(password, params) }

// SamePassword says whether the password is that of the hash; nobody meets a hash that cannot be read.
func SamePassword(hash, password string) bool {
	if !readable(hash) {
		return false
	}
	same, err := argon2id.ComparePasswordAndHash(password, hash)
	return err == nil && same
}

// readable says that a hash is one that a password can meet.
func readable(hash string) bool {
	_, salt, key, err := argon2id.DecodeHash(hash)
	return err == nil && len(salt) > 0 && len(key) > 0
}

// nobody is a hash that no password meets in practice; checking it keeps an unknown name as slow as a known one.
var nobody = sync.OnceValue(func() string {
	hash, _ := HashPassword(rand.Text())
	return hash
})

// SignIn returns the account of the name when the password is right, else ErrSignIn.
func SignIn(ctx context.Context, s *act.Service, name, password string) (act.Actor, error) {
	rows, err := store.List[store.Account](s.DB.WithContext(ctx), "id", "name = ?", name)
	if err != nil {
		return act.Actor{}, err
	}
	same := false
	if err := inTurn(ctx, func() {
		hash := nobody()
		if len(rows) > 0 && readable(rows[0].PasswordHash) { // one who has not chosen a password yet has none
			hash = rows[0].PasswordHash
		}
		same = SamePassword(hash, password) && len(rows) > 0 && hash == rows[0].PasswordHash
	}); err != nil {
		return act.Actor{}, err
	}
	if !same || rows[0].Disabled {
		return act.Actor{}, ErrSignIn
	}
	return act.Of(rows[0]), nil
}

// leastGuesses is what a password must withstand: the third of the five grades of the library's scale, which stops
// guessing through a sign-in that limits attempts.
const leastGuesses = 1e6

// Guesses estimates how many tries a password withstands (zxcvbn; D. L. Wheeler, USENIX Security 2016): common
// passwords, words, names, dates, keyboard rows and repeats count little, and so does what everybody knows of its
// owner.
func Guesses(password string, known ...string) float64 {
	if r := []rune(password); len(r) > 100 { // the estimate grows with the square of the length
		password = string(r[:100])
	}
	return zxcvbn.PasswordStrength(password, append(known, "wary", "owl", "waryowl", "workshop", "repair")).Guesses
}

// strong refuses a password that is short or guessed easily.
func strong(password, name, display string) error {
	if len(password) < 8 || len(password) > 200 {
		return fault.New("password", fmt.Sprintf("%d characters", len(password)), "8 to 200 characters")
	}
	if tries := Guesses(password, name, display); tries < leastGuesses {
		return fault.New("password", fmt.Sprintf("one that is guessed in about %.0f tries", tries),
			"one that takes a million tries or more: three or four words that do not belong together")
	}
	return nil
}

// Add makes an account. A password that is guessed easily is refused.
func Add(ctx context.Context, s *act.Service, c act.Command, name, display, role, password string) (act.Actor, error) {
	if !slices.Contains(act.Roles, act.Role(role)) {
		return act.Actor{}, fault.New("role", role, "analyst, technician, buyer or administrator")
	}
	if name == "" || len(name) > 64 {
		return act.Actor{}, fault.New("name", name, "1 to 64 characters")
	}
	if err := strong(password, name, display); err != nil {
		return act.Actor{}, err
	}
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (act.Actor, error) {
		hash, err := HashPassword(password)
		if err != nil {
			return act.Actor{}, err
		}
		a := store.Account{Name: name, Display: display, Role: role, PasswordHash: hash}
		var taken *store.Taken
		if err := store.Create(tx, &a); errors.As(err, &taken) {
			return act.Actor{}, fault.New("name", name, "a name that nobody has")
		} else if err != nil {
			return act.Actor{}, err
		}
		return act.Of(a), nil
	})
}
