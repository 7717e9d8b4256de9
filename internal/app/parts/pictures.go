package parts

import (
	"context"

	"waryowl/internal/app/act"
	"waryowl/internal/core/fault"
	"waryowl/internal/picture"
	"waryowl/internal/store"

	"gorm.io/gorm"
)

// mostPictures is how many pictures of one lot are kept.
const mostPictures = 12

// Picture is a picture of a piece of a lot.
type Picture struct {
	ID      string `json:"id"`
	Version int    `json:"version"`
	Caption string `json:"caption,omitempty"`
}

// AddPicture keeps a picture of a piece of a lot. The file is judged by its content and made anew, so that its place and
// date are gone.
func AddPicture(ctx context.Context, s *act.Service, c act.Command, delivery, id, caption string, file []byte) (Picture,
	error) {
	p, err := picture.Read(ctx, file)
	if err != nil {
		return Picture{}, err
	}
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (Picture, error) {
		d, err := store.Lock[store.Delivery](tx, delivery)
		if err != nil {
			return Picture{}, err
		}
		have, err := pictures(tx.DB, []string{d.ID})
		if err != nil {
			return Picture{}, err
		}
		if len(have[d.ID]) >= mostPictures {
			return Picture{}, fault.New("photo_id", len(have[d.ID])+1, "12 pictures of a lot at most: delete one first")
		}
		row := store.Photo{Row: store.Row{ID: id}, DeliveryID: d.ID, PhotoFacts: store.PhotoFacts{Caption: caption},
			Width: p.Width, Height: p.Height, Bytes: len(p.JPEG), Image: p.JPEG, Thumb: p.Thumb}
		return Picture{row.ID, 1, caption}, store.Create(tx, &row)
	})
}

// DeletePicture takes a picture of a lot away, RestorePicture brings it back; those of studies stay out of reach.
func DeletePicture(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (Picture, error) {
	return ofLot(act.Delete[store.Photo](ctx, s, c, id, saw, mustBeOfLot))
}

// RestorePicture brings a deleted one back.
func RestorePicture(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (Picture, error) {
	return ofLot(act.Restore[store.Photo](ctx, s, c, id, saw, mustBeOfLot))
}

func mustBeOfLot(_ *store.Tx, p *store.Photo) error {
	if p.DeliveryID == "" {
		return store.ErrNotFound
	}
	return nil
}

func ofLot(p store.Photo, err error) (Picture, error) {
	return Picture{p.ID, p.Version, p.Caption}, err
}

// pictures are the pictures of lots, the oldest first.
func pictures(db *gorm.DB, lots []string) (map[string][]Picture, error) {
	out := map[string][]Picture{}
	if len(lots) == 0 {
		return out, nil
	}
	var rows []struct {
		DeliveryID string
		Picture
	}
	err := db.Table("photos").Select("delivery_id, id, version, caption").
		Where("delivery_id IN ? AND deleted_at IS NULL", lots).Order("created_at, id").Find(&rows).Error
	for _, r := range rows {
		out[r.DeliveryID] = append(out[r.DeliveryID], r.Picture)
	}
	return out, err
}
