package account

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"regexp"
	"slices"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// A token is made up where it is shown, so that nobody else ever has it; only its sum is kept.
var tokenShape = regexp.MustCompile(`^wo_[A-Za-z0-9_-]{40,80}$`)

const (
	usualDays = 90  // that a token lives, where nobody says otherwise (house)
	mostDays  = 730 // at most
	mostKept  = 50  // tokens of a person that are open
)

// NewTokenFacts are what somebody asks a token to be. Token is what is to be shown to the program.
type NewTokenFacts struct {
	Name      string   `json:"name" minLength:"1" maxLength:"80"`
	Token     string   `json:"token" minLength:"43" maxLength:"83" pattern:"^wo_[A-Za-z0-9_-]+$" doc:"made up by the browser; only its sum is kept"`
	ReadsOnly bool     `json:"reads_only,omitempty"`
	Rooms     []string `json:"rooms,omitempty" nullable:"false" maxItems:"30" doc:"none: all that the person may"`
	Days      int      `json:"days,omitempty" minimum:"0" maximum:"730" doc:"until it expires; 90 when left out"`
}

func sum(token string) string {
	s := sha256.Sum256([]byte(token))
	return hex.EncodeToString(s[:])
}

// AddToken makes a token of a person.
func AddToken(ctx context.Context, s *act.Service, c act.Command, id, account string, f NewTokenFacts) (store.Token,
	error) {
	if !tokenShape.MatchString(f.Token) {
		return store.Token{}, fault.New("token", fmt.Sprintf("%d characters", len(f.Token)),
			"wo_ and 40 to 80 letters, digits, _ or -, made up by chance")
	}
	for i, r := range f.Rooms {
		if !slices.Contains(act.Resources(), act.Resource(r)) {
			return store.Token{}, fault.New(fmt.Sprintf("rooms[%d]", i), r, "one of: "+act.ResourceNames())
		}
	}
	if f.Days == 0 {
		f.Days = usualDays
	}
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.Token, error) {
		t := store.Token{Row: store.Row{ID: id}, AccountID: account, Hash: sum(f.Token),
			TokenFacts: store.TokenFacts{Name: f.Name,
				ReadsOnly: f.ReadsOnly, Rooms: f.Rooms, ExpiresAt: tx.Arrived.AddDate(0, 0, min(f.Days, mostDays))}}
		if _, err := store.Get[store.Account](tx.DB, account); err != nil {
			return t, err
		}
		open, err := store.List[store.Token](tx.DB, "id", "account_id = ? AND revoked_at IS NULL AND expires_at > ?",
			account, tx.Arrived)
		if err != nil {
			return t, err
		}
		if len(open) >= mostKept {
			return t, fault.New("name", f.Name, fmt.Sprintf("at most %d tokens of one person: revoke one first", mostKept))
		}
		if slices.ContainsFunc(open, func(o store.Token) bool { return o.Name == f.Name }) {
			return t, fault.New("name", f.Name, "a name that no other open token of this person has")
		}
		return t, store.Create(tx, &t)
	})
}

// Tokens lists the tokens of a person, the newest first.
func Tokens(ctx context.Context, s *act.Service, account string) ([]store.Token, error) {
	return store.List[store.Token](s.DB.WithContext(ctx), "id DESC", "account_id = ?", account)
}

// RevokeToken ends a token at once.
func RevokeToken(ctx context.Context, s *act.Service, c act.Command, account, id string) (store.Token, error) {
	return act.Do(ctx, s, c, 200, func(tx *store.Tx) (store.Token, error) {
		t, err := store.Get[store.Token](tx.DB, id)
		if err != nil {
			return store.Token{}, err
		}
		if t.AccountID != account {
			return store.Token{}, act.ErrNotFound
		}
		if t.RevokedAt != nil {
			return *t, nil
		}
		t, err = store.Update(tx, id, t.Version, func(t *store.Token) error {
			t.RevokedAt = &tx.Arrived
			return nil
		})
		if err != nil {
			return store.Token{}, err
		}
		return *t, nil
	})
}

// usedEvery is how often at most the last use of a token is written down.
const usedEvery = time.Minute

// ByToken finds the token that a program shows and whose it is: ErrNotFound for one that is malformed, unknown,
// expired or revoked, or of somebody who is disabled. All of these take the same questions.
func ByToken(ctx context.Context, s *act.Service, shown, from string) (store.Token, act.Actor, error) {
	db := s.DB.WithContext(ctx)
	tokens, err := store.List[store.Token](db, "id", "hash = ?", sum(shown))
	if err != nil {
		return store.Token{}, act.Actor{}, err
	}
	var t store.Token
	if len(tokens) > 0 {
		t = tokens[0]
	}
	people, err := store.List[store.Account](db, "id", "id = ? AND NOT disabled", t.AccountID)
	if err != nil {
		return t, act.Actor{}, err
	}
	now := s.Now().UTC()
	if len(tokens) == 0 || len(people) == 0 || t.RevokedAt != nil || !t.ExpiresAt.After(now) {
		return store.Token{}, act.Actor{}, act.ErrNotFound
	}
	if t.LastUsedAt == nil || now.Sub(*t.LastUsedAt) > usedEvery || t.LastUsedFrom != from {
		if len(from) > 64 {
			from = from[:64]
		}
		_ = db.Exec("UPDATE tokens SET last_used_at = ?, last_used_from = ? WHERE id = ?", now, from,
			t.ID).Error // reading goes on
	}
	who := act.Of(people[0])
	who.Token = t.Name
	return t, who, nil
}
