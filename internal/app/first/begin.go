package first

import (
	"context"

	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

// begin looks whether anything is on record, and names the three steps where nothing is.
func (v *Room) begin(ctx context.Context, s *act.Service, who act.Actor) error {
	db := s.DB.WithContext(ctx)
	count := func(of any, where string, args ...any) (n int64, err error) {
		return n, db.Model(of).Where(where, args...).Limit(1).Count(&n).Error
	}
	models, err := count(&store.Model{}, "1 = 1")
	if err != nil || models > 0 {
		return err
	}
	v.Empty = true
	people, err := count(&store.Account{}, "role = ? AND disabled = 0", act.Analyst)
	if err != nil {
		return err
	}
	shop, err := count(&store.Workshop{}, "1 = 1")
	if err != nil {
		return err
	}
	admin := who.Role == act.Administrator
	v.Begin = []Step{
		{"Say who works here", "an analyst studies phones, a technician repairs, a buyer orders parts",
			"/accounts?new=1",
			people > 0, admin},
		{"Set up the workshop", "currency, opening hours, what an hour costs", "/parts?face=workshop", shop > 0,
			admin || who.Role == act.Buyer},
		{"Open the first study", "with the phone that lies before you, better with two of its model", "/?new=study",
			false,
			who.Role == act.Analyst || admin && people == 0},
	}
	return nil
}
