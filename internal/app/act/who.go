package act

import (
	"context"

	"waryowl/internal/store"
)

// Who returns the person of an account that is signed in by a sign-in, or ErrNotFound when the account is gone or disabled,
// or the sign-in was ended.
func Who(ctx context.Context, s *Service, account, signIn string) (Actor, error) {
	var rows []struct {
		store.Account
		Alone bool
	}
	err := s.DB.WithContext(ctx).Raw(`SELECT a.*, a.role = 'administrator' AND NOT EXISTS (SELECT 1 FROM accounts b
			WHERE b.role = 'analyst' AND NOT b.disabled AND b.deleted_at IS NULL) AS alone FROM accounts a JOIN sign_ins i ON i.account_id = a.id
		WHERE a.id = ? AND i.id = ? AND a.deleted_at IS NULL AND NOT a.disabled AND i.ended_at IS NULL`, account, signIn).
		Scan(&rows).Error
	if err != nil {
		return Actor{}, err
	}
	if len(rows) == 0 {
		return Actor{}, ErrNotFound
	}
	who := Of(rows[0].Account)
	who.Alone = rows[0].Alone
	return who, nil
}

// Of is the person whose account a row is.
func Of(a store.Account) Actor {
	return Actor{ID: a.ID, Name: a.Name, Display: a.Display, Role: Role(a.Role)}
}
