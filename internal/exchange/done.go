package exchange

import (
	"cmp"
	"context"
	"fmt"

	"waryowl/internal/app/act"
	"waryowl/internal/app/study"
	"waryowl/internal/store"
)

// mostPhotos is how many pictures a sheet holds.
const mostPhotos = 12

// log is what was done on each phone, fact by fact, with its pictures.
func (p *Paper) log(ctx context.Context, s *act.Service, studyID string) error {
	b, err := study.Load(s.DB.WithContext(ctx), studyID)
	if err != nil {
		return err
	}
	for _, u := range b.Units {
		g := Grid{Heads: []string{"", "What was done", "Time"}, Wide: []float64{0.07, 0.81, 0.12}}
		for _, e := range b.Log {
			if e.UnitID != u.ID {
				continue
			}
			time := ""
			if e.Seconds > 0 {
				time = clock(e.Seconds)
			}
			g.Rows = append(g.Rows, []string{fmt.Sprint(len(g.Rows) + 1), b.Told(e), time})
		}
		if len(g.Rows) > 0 {
			p.add(Block{Heading: "What was done on " + u.Name + ", fact by fact"}, Block{Table: &g})
		}
	}
	var photos []store.Photo
	if err := s.DB.WithContext(ctx).Omit("image").Order("id").Limit(mostPhotos).Find(&photos, "study_id = ?",
		studyID).Error; err != nil {
		return err
	}
	block := Block{}
	for _, x := range photos {
		block.Photos = append(block.Photos, Photo{x.Thumb, cmp.Or(x.Caption, b.Sticker(x.UnitID))})
	}
	if len(block.Photos) > 0 {
		p.add(Block{Heading: "Pictures"}, block)
	}
	return nil
}
