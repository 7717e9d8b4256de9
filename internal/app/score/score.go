// Package score is the room of scorecards.
package score

import (
	"context"
	"slices"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/score"
	"waryowl/internal/store"
)

// Room is the room of scores.
type Room struct {
	Model  store.Model     `json:"model"`
	Answer answer.Sentence `json:"answer" nullable:"false"`
	Card   score.Card      `json:"card"`
}

// Show rates a model by the physical school.
func Show(ctx context.Context, s *act.Service, modelID string) (Room, error) {
	k, err := model.Load(s.DB.WithContext(ctx), modelID)
	if err != nil {
		return Room{}, err
	}
	card := k.Card()
	room := Room{Model: k.Model, Card: card, Answer: answer.Sentence{answer.Text(answer.Title(card.School) + " "),
		model.Points(card.Low, card.High), answer.Text(" of 10")}}
	widest := slices.MaxFunc(card.Lines, func(a, b score.Line) int {
		if (a.High-a.Low)*a.Weight < (b.High-b.Low)*b.Weight {
			return -1
		}
		return 1
	})
	weakest := slices.MinFunc(card.Lines, func(a, b score.Line) int {
		if a.High < b.High {
			return -1
		}
		return 1
	})
	room.Answer = append(room.Answer, answer.Text("; what costs most is "), answer.Name(weakest.Title, "#"+weakest.ID))
	if widest.High > widest.Low && widest.Narrow != "" {
		room.Answer = append(room.Answer, answer.Text(". To narrow it: "+widest.Narrow))
	}
	room.Answer = append(room.Answer, answer.Text("."))
	return room, nil
}
