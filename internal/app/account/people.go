package account

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"time"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// linkDays is how long a one-time link opens (house).
const linkDays = 3

// ErrLink says that a one-time link opens nothing: it was used, is too old, or never was.
var ErrLink = errors.New("this link was used, is too old, or never was one: ask for another")

// Person is an account as administrators see it.
type Person struct {
	ID         string     `json:"id"`
	Version    int        `json:"version"`
	Name       string     `json:"name"`
	Display    string     `json:"display"`
	Role       string     `json:"role" enum:"analyst,technician,buyer,administrator"`
	Disabled   bool       `json:"disabled"`
	Apprentice bool       `json:"apprentice" doc:"another person looks at their work at the gates that the office chose"`
	SignIns    int        `json:"sign_ins" doc:"that are open"`
	Seen       *time.Time `json:"seen,omitempty"`
	Waiting    bool       `json:"waiting" doc:"a one-time link is open"`
}

// SignedIn is one sign-in of somebody.
type SignedIn struct {
	ID      string    `json:"id"`
	Started time.Time `json:"started"`
	Seen    time.Time `json:"seen"`
	Agent   string    `json:"agent"`
	Here    bool      `json:"here" doc:"it is this one"`
}

// PersonFacts are what an administrator sets.
type PersonFacts struct {
	Display    string `json:"display" minLength:"1" maxLength:"120"`
	Role       string `json:"role" enum:"analyst,technician,buyer,administrator"`
	Disabled   bool   `json:"disabled,omitempty"`
	Apprentice bool   `json:"apprentice,omitempty" doc:"another person looks at their work at the gates that the office chose"`
}

// lifetime is how long a sign-in lasts at most.
const lifetime = 12 * time.Hour

// People lists the accounts.
func People(ctx context.Context, s *act.Service) ([]Person, error) {
	db := s.DB.WithContext(ctx)
	rows, err := store.List[store.Account](db, "name", "1 = 1")
	if err != nil {
		return nil, err
	}
	var open []struct {
		AccountID string
		N         int
		Seen      time.Time
	}
	if err := db.Raw("SELECT account_id, COUNT(*) AS n, MAX(seen_at) AS seen FROM sign_ins WHERE ended_at IS NULL "+
		"AND started_at > ? "+
		"GROUP BY account_id", s.Now().UTC().Add(-lifetime)).Scan(&open).Error; err != nil {
		return nil, err
	}
	var links []string
	if err := db.Raw("SELECT DISTINCT account_id FROM links WHERE used_at IS NULL AND expires_at > ?", s.Now().UTC()).
		Scan(&links).Error; err != nil {
		return nil, err
	}
	list := []Person{}
	for _, a := range rows {
		p := person(a)
		p.Waiting = slices.Contains(links, a.ID)
		for _, o := range open {
			if o.AccountID == a.ID {
				seen := o.Seen
				p.SignIns, p.Seen = o.N, &seen
			}
		}
		list = append(list, p)
	}
	return list, nil
}

func person(a store.Account) Person {
	return Person{ID: a.ID, Version: a.Version, Name: a.Name, Display: a.Display, Role: a.Role, Disabled: a.Disabled,
		Apprentice: a.Apprentice}
}

var tokenForm = regexp.MustCompile(`^[0-9a-f]{32,64}$`)

func hashed(token string) string {
	sum := sha256.Sum256([]byte(token))
	return hex.EncodeToString(sum[:])
}

// open makes a one-time link of a token; earlier ones of the account close.
func open(tx *store.Tx, account, token string) error {
	if !tokenForm.MatchString(token) {
		return fault.New("token", fmt.Sprintf("%d characters", len(token)), "32 to 64 hexadecimal digits")
	}
	err := tx.DB.Exec("UPDATE links SET used_at = ? WHERE account_id = ? AND used_at IS NULL", tx.Arrived, account).Error
	if err != nil {
		return err
	}
	return tx.DB.Exec("INSERT INTO links (hash, account_id, expires_at) VALUES (?, ?, ?)", hashed(token), account,
		tx.Arrived.Add(linkDays*24*time.Hour)).Error
}

// Invite makes an account without a password; whoever holds the token sets one.
func Invite(
	ctx context.Context,
	s *act.Service,
	c act.Command,
	id, name string,
	f PersonFacts,
	token string,
) (Person, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (Person, error) {
		a := store.Account{
			Row:          store.Row{ID: id},
			Name:         strings.TrimSpace(name),
			Display:      f.Display,
			Role:         f.Role,
			Apprentice:   f.Apprentice,
			PasswordHash: "-",
		}
		if a.Name == "" {
			return Person{}, fault.New("name", name, "1 to 64 characters")
		}
		var taken *store.Taken
		if err := store.Create(tx, &a); errors.As(err, &taken) {
			return Person{}, fault.New("name", name, "a name that nobody has")
		} else if err != nil {
			return Person{}, err
		}
		p := person(a)
		p.Waiting = true
		return p, open(tx, a.ID, token)
	})
}

// Change sets what an administrator sets. The last administrator stays one.
func Change(ctx context.Context, s *act.Service, c act.Command, id string, saw int, f PersonFacts) (Person, error) {
	return act.Do(ctx, s, c, 200, func(tx *store.Tx) (Person, error) {
		row, err := store.Update(tx, id, saw, func(a *store.Account) error {
			if a.Role == string(act.Administrator) && !a.Disabled &&
				(f.Disabled || f.Role != string(act.Administrator)) {
				var others int64
				if err := tx.DB.Raw("SELECT COUNT(*) FROM accounts WHERE role = 'administrator' AND NOT disabled AND deleted_at IS NULL "+
					"AND id <> ? FOR UPDATE", id).Scan(&others).Error; err != nil {
					return err
				}
				if others == 0 {
					return fault.New("role", f.Role, "administrator: this is the last one")
				}
			}
			a.Display, a.Role, a.Disabled, a.Apprentice = strings.TrimSpace(f.Display), f.Role, f.Disabled, f.Apprentice
			if a.Display == "" {
				return fault.New("display", f.Display, "the name that others see")
			}
			return nil
		})
		if err != nil {
			return Person{}, err
		}
		if row.Disabled {
			err = endAll(tx.DB, id, "", tx.Arrived)
		}
		return person(*row), err
	})
}

// Link opens a one-time link for somebody who forgot the password.
func Link(ctx context.Context, s *act.Service, c act.Command, id, token string) (Person, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (Person, error) {
		a, err := store.Get[store.Account](tx.DB, id)
		if err != nil {
			return Person{}, err
		}
		p := person(*a)
		p.Waiting = true
		return p, open(tx, id, token)
	})
}

// First opens a one-time link for the first administrator while there is no account; "" otherwise.
func First(ctx context.Context, s *act.Service) (string, error) {
	var n int64
	if err := s.DB.WithContext(ctx).Raw("SELECT COUNT(*) FROM accounts").Scan(&n).Error; err != nil || n > 0 {
		return "", err
	}
	secret := make([]byte, 16)
	_, _ = rand.Read(secret)
	token := hex.EncodeToString(secret)
	_, err := act.Do(ctx, s, act.Command{Key: store.NewID(), Hash: "first"}, 201, func(tx *store.Tx) (bool, error) {
		return true, open(tx, "", token)
	})
	return token, err
}

// Opened is what a one-time link opens: the password of an account, or the first account.
type Opened struct {
	First bool   `json:"first" doc:"it makes the first administrator"`
	Name  string `json:"name,omitempty"`
}

func opened(db *gorm.DB, token string, now time.Time, lock string) (Opened, *store.Account, error) {
	var accounts []string
	if err := db.Raw("SELECT account_id FROM links WHERE hash = ? AND used_at IS NULL AND expires_at > ?"+lock, hashed(token), now).
		Scan(&accounts).Error; err != nil {
		return Opened{}, nil, err
	}
	if len(accounts) == 0 {
		return Opened{}, nil, ErrLink
	}
	if accounts[0] == "" {
		var n int64
		if err := db.Raw("SELECT COUNT(*) FROM accounts").Scan(&n).Error; err != nil {
			return Opened{}, nil, err
		}
		if n > 0 {
			return Opened{}, nil, ErrLink
		}
		return Opened{First: true}, nil, nil
	}
	a, err := store.Get[store.Account](db, accounts[0])
	if errors.Is(err, store.ErrNotFound) || err == nil && a.Disabled {
		return Opened{}, nil, ErrLink
	}
	if err != nil {
		return Opened{}, nil, err
	}
	return Opened{Name: a.Name}, a, nil
}

// Open says what a one-time link opens.
func Open(ctx context.Context, s *act.Service, token string) (Opened, error) {
	o, _, err := opened(s.DB.WithContext(ctx), token, s.Now().UTC(), "")
	return o, err
}

// Use sets the password of a link's account, or makes the first administrator. All open sign-ins of the account end.
func Use(ctx context.Context, s *act.Service, token, name, display, password string) (act.Actor, error) {
	o, a, err := opened(s.DB.WithContext(ctx), token, s.Now().UTC(), "")
	if err != nil {
		return act.Actor{}, err
	}
	if !o.First {
		name, display = a.Name, a.Display
	}
	if err := strong(password, name, display); err != nil {
		return act.Actor{}, err
	}
	hash := ""
	if e := inTurn(ctx, func() { hash, err = HashPassword(password) }); e != nil || err != nil {
		return act.Actor{}, errors.Join(e, err)
	}
	return act.Do(ctx, s, act.Command{Key: store.NewID(), Hash: "link"}, 200, func(tx *store.Tx) (act.Actor, error) {
		o, a, err := opened(tx.DB, token, tx.Arrived, " FOR UPDATE")
		if err != nil {
			return act.Actor{}, err
		}
		if o.First {
			a = &store.Account{
				Name:         strings.TrimSpace(name),
				Display:      strings.TrimSpace(display),
				Role:         string(act.Administrator),
				PasswordHash: hash,
			}
			if a.Name == "" || len(a.Name) > 64 {
				return act.Actor{}, fault.New("name", name, "1 to 64 characters")
			}
			if a.Display == "" {
				a.Display = a.Name
			}
			err = store.Create(tx, a)
		} else {
			a, err = setPassword(tx, a, hash, "")
		}
		if err != nil {
			return act.Actor{}, err
		}
		return act.Of(*a), tx.DB.Exec("UPDATE links SET used_at = ? WHERE hash = ?", tx.Arrived, hashed(token)).Error
	})
}

// setPassword keeps a new hash and ends all sign-ins but one.
func setPassword(tx *store.Tx, a *store.Account, hash, but string) (*store.Account, error) {
	row, err := store.Update(tx, a.ID, a.Version, func(x *store.Account) error {
		x.PasswordHash = hash
		return nil
	})
	if err != nil {
		return nil, err
	}
	return row, endAll(tx.DB, a.ID, but, tx.Arrived)
}

// Password changes one's own; the other sign-ins end.
func Password(ctx context.Context, s *act.Service, who act.Actor, signIn, old, password string) error {
	a, err := store.Get[store.Account](s.DB.WithContext(ctx), who.ID)
	if err != nil {
		return err
	}
	same := false
	if err := inTurn(ctx, func() { same = SamePassword(a.PasswordHash, old) }); err != nil {
		return err
	}
	if !same {
		return fault.New("old", "another one", "the password that you have now")
	}
	if err := strong(password, a.Name, a.Display); err != nil {
		return err
	}
	hash := ""
	if e := inTurn(ctx, func() { hash, err = HashPassword(password) }); e != nil || err != nil {
		return errors.Join(e, err)
	}
	_, err = act.Do(
		ctx,
		s,
		act.Command{Actor: who, Key: store.NewID(), Hash: "password"},
		200,
		func(tx *store.Tx) (bool, error) {
			_, err := setPassword(tx, a, hash, signIn)
			return err == nil, err
		},
	)
	return err
}

// Begin records a sign-in, and returns its id.
func Begin(ctx context.Context, s *act.Service, account, agent string) (string, error) {
	id, now := store.NewID(), s.Now().UTC()
	if r := []rune(agent); len(r) > 200 {
		agent = string(r[:200])
	}
	return id, s.DB.WithContext(ctx).
		Exec("INSERT INTO sign_ins (id, account_id, started_at, seen_at, agent) VALUES (?, ?, ?, ?, ?)",
			id, account, now, now, agent).
		Error
}

// Seen notes that a sign-in is used, at most every five minutes.
func Seen(ctx context.Context, s *act.Service, id string) error {
	now := s.Now().UTC()
	return s.DB.WithContext(ctx).Exec("UPDATE sign_ins SET seen_at = ? WHERE id = ? AND seen_at < ?", now, id,
		now.Add(-5*time.Minute)).Error
}

// SignIns lists the open sign-ins of an account; here is the one of who asks.
func SignIns(ctx context.Context, s *act.Service, account, here string) ([]SignedIn, error) {
	var rows []struct {
		ID, Agent         string
		StartedAt, SeenAt time.Time
	}
	err := s.DB.WithContext(ctx).
		Raw("SELECT id, agent, started_at, seen_at FROM sign_ins WHERE account_id = ? AND ended_at IS NULL "+
			"AND started_at > ? ORDER BY started_at DESC LIMIT 100", account, s.Now().UTC().Add(-lifetime)).
		Scan(&rows).
		Error
	list := []SignedIn{}
	for _, r := range rows {
		list = append(
			list,
			SignedIn{ID: r.ID, Started: r.StartedAt, Seen: r.SeenAt, Agent: r.Agent, Here: r.ID == here},
		)
	}
	return list, err
}

// End ends one sign-in of an account.
func End(ctx context.Context, s *act.Service, account, id string) error {
	r := s.DB.WithContext(ctx).
		Exec("UPDATE sign_ins SET ended_at = ? WHERE id = ? AND account_id = ?", s.Now().UTC(), id, account)
	if r.Error == nil && r.RowsAffected == 0 {
		return act.ErrNotFound
	}
	return r.Error
}

func endAll(db *gorm.DB, account, but string, now time.Time) error {
	return db.Exec(
		"UPDATE sign_ins SET ended_at = ? WHERE account_id = ? AND id <> ? AND ended_at IS NULL",
		now,
		account,
		but,
	).Error
}
