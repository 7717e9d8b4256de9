package visit

import (
	"context"
	"time"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/core/fault"
	"waryowl/internal/picture"
	"waryowl/internal/store"
)

// AddPhoto keeps a picture of a phone as it came or went. The file is made anew, so that its place and date are gone.
func AddPhoto(ctx context.Context, s *act.Service, c act.Command, visitID, id string, file []byte) (store.VisitPhoto, error) {
	p, err := picture.Read(ctx, file)
	if err != nil {
		return store.VisitPhoto{}, err
	}
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.VisitPhoto, error) {
		v, err := store.Lock[store.Visit](tx, visitID)
		if err != nil {
			return store.VisitPhoto{}, err
		}
		if v.ForgottenAt != nil {
			return store.VisitPhoto{}, fault.New("photo", "a picture", "none any more: what the owner said of this visit was deleted")
		}
		row := store.VisitPhoto{Row: store.Row{ID: id}, VisitID: visitID, ModelID: v.ModelID, Width: p.Width, Height: p.Height,
			Bytes: len(p.JPEG), Image: p.JPEG, Thumb: p.Thumb}
		return row, store.Create(tx, &row)
	})
}

// PhotoBytes is a picture as JPEG, or its thumbnail.
func PhotoBytes(ctx context.Context, s *act.Service, id string, thumb bool) ([]byte, error) {
	p, err := store.Get[store.VisitPhoto](s.DB.WithContext(ctx), id)
	if err != nil {
		return nil, err
	}
	if thumb {
		return p.Thumb, nil
	}
	return p.Image, nil
}

// DeletePhoto takes a picture away; RestorePhoto brings it back.
func DeletePhoto(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.VisitPhoto, error) {
	return act.Delete[store.VisitPhoto](ctx, s, c, id, saw, nil)
}

// RestorePhoto brings a deleted picture back.
func RestorePhoto(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.VisitPhoto, error) {
	return act.Restore[store.VisitPhoto](ctx, s, c, id, saw, nil)
}

// Forget deletes for good what the owners of phones said that were handed back long enough ago: ticket, words, remark and
// pictures; also where answers to changes still hold them. The trail keeps that it was deleted. It returns how many visits
// were cleared.
func Forget(ctx context.Context, s *act.Service) (int, error) {
	db := s.DB.WithContext(ctx)
	days := DaysKept
	office, err := store.List[store.Workshop](db.Limit(1), "id", "1 = 1")
	if err != nil {
		return 0, err
	}
	if len(office) > 0 && office[0].VisitDays > 0 {
		days = office[0].VisitDays
	}
	rows, err := store.List[store.Visit](db.Unscoped().Limit(200), "id", "forgotten_at IS NULL AND (handed_at < ? OR deleted_at < ?)",
		s.Now().UTC().Add(-time.Duration(days)*24*time.Hour), s.Now().UTC().Add(-time.Duration(days)*24*time.Hour))
	for i, v := range rows {
		if err != nil {
			return i, err
		}
		err = store.Within(ctx, s.DB, forget(s, v))
	}
	return len(rows), err
}

func forget(s *act.Service, v store.Visit) func(*gorm.DB) error {
	return func(g *gorm.DB) error {
		now := s.Now().UTC()
		tx := &store.Tx{DB: g, Happened: now, Arrived: now}
		if v.DeletedAt.Valid {
			if err := store.ForgetVisit(tx, v.ID); err != nil {
				return err
			}
		} else if _, err := store.Update(tx, v.ID, v.Version, func(v *store.Visit) error {
			v.Ticket, v.Said, v.Note, v.ForgottenAt = "", "", "", &now
			return nil
		}); err != nil {
			return err
		}
		return store.ForgetAnswers(tx, v.ID)
	}
}
