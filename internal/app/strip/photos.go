package strip

import (
	"context"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/app/study"
	"waryowl/internal/core/fault"
	"waryowl/internal/picture"
	"waryowl/internal/store"
)

// photos lists the pictures of a study without their bytes.
func photos(db *gorm.DB, study string) ([]store.Photo, error) {
	return store.List[store.Photo](db.Omit("image", "thumb"), "id", "study_id = ?", study)
}

// AddPhoto stores a picture of a study. The file is judged by its content and made anew, so that its place and date are
// gone.
func AddPhoto(ctx context.Context, s *act.Service, c act.Command, studyID, id, unit string, f store.PhotoFacts,
	file []byte) (store.Photo, error) {
	p, err := picture.Read(ctx, file)
	if err != nil {
		return store.Photo{}, err
	}
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.Photo, error) {
		b, err := study.Load(tx.DB, studyID)
		if err != nil {
			return store.Photo{}, err
		}
		if err := act.Belongs("unit_id", unit, b.UnitByID, "a unit of this study"); err != nil {
			return store.Photo{}, err
		}
		if err := checkPhoto(b, f); err != nil {
			return store.Photo{}, err
		}
		row := store.Photo{Row: store.Row{ID: id}, StudyID: studyID, UnitID: unit, PhotoFacts: f, Width: p.Width,
			Height: p.Height, Bytes: len(p.JPEG), Image: p.JPEG, Thumb: p.Thumb}
		return row, store.Create(tx, &row)
	})
}

func checkPhoto(b *study.Record, f store.PhotoFacts) error {
	if f.PartID != "" {
		if err := act.Belongs("part_id", f.PartID, b.Know.PartByID, "a part of this model"); err != nil {
			return err
		}
	}
	for _, e := range b.Log {
		if e.ID == f.EntryID {
			return nil
		}
	}
	if f.EntryID != "" {
		return fault.New("entry_id", f.EntryID, "an entry of this study's log")
	}
	return nil
}

// ChangePhoto replaces caption, subject and pins.
func ChangePhoto(ctx context.Context, s *act.Service, c act.Command, id string, saw int,
	f store.PhotoFacts) (store.Photo, error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, p *store.Photo) error {
		b, err := study.Load(tx.DB, p.StudyID)
		if err != nil {
			return err
		}
		p.PhotoFacts = f
		return checkPhoto(b, f)
	})
}

// DeletePhoto takes a picture away; RestorePhoto brings it back.
func DeletePhoto(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.Photo, error) {
	return act.Delete[store.Photo](ctx, s, c, id, saw, nil)
}

// RestorePhoto brings a deleted picture back.
func RestorePhoto(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.Photo, error) {
	return act.Restore[store.Photo](ctx, s, c, id, saw, nil)
}

// PhotoBytes is the picture as JPEG, or its thumbnail.
func PhotoBytes(ctx context.Context, s *act.Service, id string, thumb bool) ([]byte, error) {
	p, err := store.Get[store.Photo](s.DB.WithContext(ctx), id)
	if err != nil {
		return nil, err
	}
	if thumb {
		return p.Thumb, nil
	}
	return p.Image, nil
}
