package app

import (
	"context"

	"gorm.io/gorm"

	"waryowl/internal/core/fault"
	"waryowl/internal/picture"
	"waryowl/internal/store"
)

// photos lists the pictures of a study without their bytes.
func photos(db *gorm.DB, study string) ([]store.Photo, error) {
	return store.List[store.Photo](db.Omit("image", "thumb"), "id", "study_id = ?", study)
}

// AddPhoto stores a picture of a study. The file is judged by its content and made anew, so that its place and date are gone.
func (s *Service) AddPhoto(ctx context.Context, c Command, study, id, unit string, f store.PhotoFacts, file []byte) (store.Photo, error) {
	p, err := picture.Read(file)
	if err != nil {
		return store.Photo{}, err
	}
	return Do(ctx, s, c, 201, func(tx *store.Tx) (store.Photo, error) {
		b, err := loadStudy(tx.DB, study)
		if err != nil {
			return store.Photo{}, err
		}
		if err := belongs("unit_id", unit, b.unit, "a unit of this study"); err != nil {
			return store.Photo{}, err
		}
		if err := b.checkPhoto(f); err != nil {
			return store.Photo{}, err
		}
		row := store.Photo{Row: store.Row{ID: id}, StudyID: study, UnitID: unit, PhotoFacts: f, Width: p.Width, Height: p.Height, Bytes: len(p.JPEG), Image: p.JPEG, Thumb: p.Thumb}
		return row, store.Create(tx, &row)
	})
}

func (b *bench) checkPhoto(f store.PhotoFacts) error {
	if f.PartID != "" {
		if err := belongs("part_id", f.PartID, b.know.part, "a part of this model"); err != nil {
			return err
		}
	}
	for _, e := range b.log {
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
func (s *Service) ChangePhoto(ctx context.Context, c Command, id string, saw int, f store.PhotoFacts) (store.Photo, error) {
	return change(ctx, s, c, id, saw, func(tx *store.Tx, p *store.Photo) error {
		b, err := loadStudy(tx.DB, p.StudyID)
		if err != nil {
			return err
		}
		p.PhotoFacts = f
		return b.checkPhoto(f)
	})
}

// DeletePhoto takes a picture away; RestorePhoto brings it back.
func (s *Service) DeletePhoto(ctx context.Context, c Command, id string, saw int) (store.Photo, error) {
	return deleteRow[store.Photo](ctx, s, c, id, saw, nil)
}

// RestorePhoto brings a deleted picture back.
func (s *Service) RestorePhoto(ctx context.Context, c Command, id string, saw int) (store.Photo, error) {
	return restoreRow[store.Photo](ctx, s, c, id, saw, nil)
}

// PhotoBytes is the picture as JPEG, or its thumbnail.
func (s *Service) PhotoBytes(ctx context.Context, id string, thumb bool) ([]byte, error) {
	p, err := store.Get[store.Photo](s.DB.WithContext(ctx), id)
	if err != nil {
		return nil, err
	}
	if thumb {
		return p.Thumb, nil
	}
	return p.Image, nil
}
