package act

import (
	"context"

	"waryowl/internal/store"
)

// Who returns the person of an account, or ErrNotFound when it is gone.
func Who(ctx context.Context, s *Service, id string) (Actor, error) {
	row, err := store.Get[store.Account](s.DB.WithContext(ctx), id)
	if err != nil {
		return Actor{}, err
	}
	return Of(*row), nil
}

// Of is the person whose account a row is.
func Of(a store.Account) Actor {
	return Actor{ID: a.ID, Name: a.Name, Display: a.Display, Role: Role(a.Role)}
}
