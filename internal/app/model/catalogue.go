package model

import (
	"context"
	"slices"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// EnsureCatalogue adds the checks that a database lacks and brings the others into the order of the catalogue.
func EnsureCatalogue(ctx context.Context, s *act.Service) error {
	return store.Within(ctx, s.DB, func(g *gorm.DB) error {
		have, err := store.List[store.Check](g.Unscoped(), "position", "1 = 1")
		if err != nil {
			return err
		}
		now := s.Now().UTC()
		tx := &store.Tx{DB: g, Account: "", Happened: now, Arrived: now}
		for _, c := range Shipped() {
			row := c
			k := slices.IndexFunc(have, func(h store.Check) bool { return h.Mark == c.Mark })
			switch {
			case k < 0:
				err = store.Create(tx, &row)
			case have[k].Position != row.Position || have[k].Group != row.Group:
				_, err = store.Update(tx, have[k].ID, have[k].Version, func(h *store.Check) error {
					h.Position, h.Group, h.Depth = row.Position, row.Group, row.Depth
					return nil
				})
			}
			if err != nil {
				return err
			}
		}
		return nil
	})
}

// Shipped is the catalogue that a new database starts with, without the ids of its rows.
func Shipped() []store.Check {
	list := []store.Check{}
	for i, c := range trade.Checks {
		list = append(list, store.Check{Mark: c.Mark, Name: c.Name, Family: c.Family, Seconds: c.Seconds, Position: i + 1,
			Group: c.Group, Depth: c.Depth})
	}
	return list
}

// ChecksFor is the catalogue as edited for a model: without what it has not, with what is its own.
func ChecksFor(db *gorm.DB, m store.Model) ([]store.Check, error) {
	checks, err := Catalogue(db)
	return Edited(checks, m), err
}

// Catalogue lists the checks that every model has unless it says otherwise.
func Catalogue(db *gorm.DB) ([]store.Check, error) {
	return store.List[store.Check](db, "position", "1 = 1")
}

// Edited is the catalogue as edited for a model.
func Edited(catalogue []store.Check, m store.Model) []store.Check {
	checks := slices.Clone(catalogue)
	for _, c := range m.CheckChanges {
		k := slices.IndexFunc(checks, func(h store.Check) bool { return h.Mark == c.Mark })
		switch {
		case c.Off && k >= 0:
			checks = slices.Delete(checks, k, k+1)
		case c.Off:
		case k >= 0:
			edit(&checks[k], c)
		default:
			own := store.Check{Row: store.Row{ID: m.ID, Version: m.Version}, Mark: c.Mark, Name: c.Mark, Family: "FR",
				Group: "of this model", Position: len(checks) + 1}
			edit(&own, c)
			checks = append(checks, own)
		}
	}
	return checks
}

func edit(check *store.Check, c store.CheckChange) {
	for _, f := range []struct {
		have *string
		want string
	}{{&check.Name, c.Name}, {&check.Group, c.Group}, {&check.Depth, c.Depth}, {&check.Family, c.Family}} {
		if f.want != "" {
			*f.have = f.want
		}
	}
	if c.Seconds > 0 {
		check.Seconds = c.Seconds
	}
}
