package swap

import (
	"cmp"
	"context"
	"slices"

	"waryowl/internal/app/act"
	"waryowl/internal/app/study"
	"waryowl/internal/core/trade"
)

// KnownNotice is a notice that was shown before.
type KnownNotice struct {
	Text  string  `json:"text"`
	Kind  string  `json:"kind" enum:"persistent,passing"`
	Alike float64 `json:"alike" doc:"0 to 1: how alike in meaning to what was typed"`
}

// alikeEnough is from where on a notice is offered as the same in other words (house).
const alikeEnough = 0.5

// Notices lists the notices that the study has seen: all of them, or those that say in other words what was typed, the
// likest first.
func Notices(ctx context.Context, s *act.Service, studyID, typed string) ([]KnownNotice, error) {
	b, err := study.Load(s.DB.WithContext(ctx), studyID)
	if err != nil {
		return nil, err
	}
	list := []KnownNotice{}
	for _, t := range b.Trials {
		for _, n := range t.Notices {
			known := KnownNotice{n.Text, n.Kind, trade.SameNotice(typed, n.Text)}
			if (typed == "" || known.Alike >= alikeEnough) &&
				!slices.ContainsFunc(list, func(o KnownNotice) bool { return o.Text == n.Text }) {
				list = append(list, known)
			}
		}
	}
	slices.SortStableFunc(list, func(a, b KnownNotice) int { return cmp.Compare(b.Alike, a.Alike) })
	return list, nil
}
