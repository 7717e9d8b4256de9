package app

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"slices"
	"strings"

	"golang.org/x/crypto/argon2"

	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// ErrSignIn says that name and password do not go together; which of the two is wrong is not said.
var ErrSignIn = errors.New("name or password is wrong")

// argon2id parameters: the second recommended option of RFC 9106, section 4 (memory from memory).
const (
	argonTime, argonMemoryKiB, argonThreads = 3, 64 * 1024, 2
	argonKey                                = 32
)

// HashPassword gives a salted argon2id hash in PHC form.
func HashPassword(password string) string {
	salt := make([]byte, 16)
	rand.Read(salt)
	key := argon2.IDKey([]byte(password), salt, argonTime, argonMemoryKiB, argonThreads, argonKey)
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, argonMemoryKiB, argonTime, argonThreads,
		base64.RawStdEncoding.EncodeToString(salt), base64.RawStdEncoding.EncodeToString(key))
}

func samePassword(hash, password string) bool {
	var version, memory, time, threads int
	parts := strings.Split(hash, "$")
	if len(parts) != 6 {
		return false
	}
	if _, err := fmt.Sscanf(parts[2]+" "+parts[3], "v=%d m=%d,t=%d,p=%d", &version, &memory, &time, &threads); err != nil {
		return false
	}
	salt, err1 := base64.RawStdEncoding.DecodeString(parts[4])
	key, err2 := base64.RawStdEncoding.DecodeString(parts[5])
	if err1 != nil || err2 != nil || len(key) == 0 {
		return false
	}
	again := argon2.IDKey([]byte(password), salt, uint32(time), uint32(memory), uint8(threads), uint32(len(key)))
	return subtle.ConstantTimeCompare(key, again) == 1
}

// nobody is a hash that no password meets in practice; checking it keeps an unknown name as slow as a known one.
var nobody = HashPassword(rand.Text())

// SignIn returns the account of the name when the password is right, else ErrSignIn.
func (s *Service) SignIn(ctx context.Context, name, password string) (Actor, error) {
	rows, err := store.List[store.Account](s.DB.WithContext(ctx), "id", "name = ?", name)
	if err != nil {
		return Actor{}, err
	}
	if len(rows) == 0 {
		samePassword(nobody, password)
		return Actor{}, ErrSignIn
	}
	if !samePassword(rows[0].PasswordHash, password) {
		return Actor{}, ErrSignIn
	}
	return actor(rows[0]), nil
}

// Who returns the account of a session, or ErrNotFound when it is gone.
func (s *Service) Who(ctx context.Context, id string) (Actor, error) {
	row, err := store.Get[store.Account](s.DB.WithContext(ctx), id)
	if err != nil {
		return Actor{}, err
	}
	return actor(*row), nil
}

func actor(a store.Account) Actor { return Actor{a.ID, a.Name, a.Display, Role(a.Role)} }

// AddAccount makes an account.
func (s *Service) AddAccount(ctx context.Context, c Command, name, display, role, password string) (Actor, error) {
	if !slices.Contains(Roles, Role(role)) {
		return Actor{}, fault.New("role", role, "analyst, technician, buyer or administrator")
	}
	if name == "" || len(name) > 64 {
		return Actor{}, fault.New("name", name, "1 to 64 characters")
	}
	if len(password) < 8 || len(password) > 200 {
		return Actor{}, fault.New("password", fmt.Sprintf("%d characters", len(password)), "8 to 200 characters")
	}
	return Do(ctx, s, c, 201, func(tx *store.Tx) (Actor, error) {
		a := store.Account{Name: name, Display: display, Role: role, PasswordHash: HashPassword(password)}
		var taken *store.Taken
		if err := store.Create(tx, &a); errors.As(err, &taken) {
			return Actor{}, fault.New("name", name, "a name that nobody has")
		} else if err != nil {
			return Actor{}, err
		}
		return actor(a), nil
	})
}
