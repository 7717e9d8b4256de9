package app

import (
	"context"
	"fmt"
	"math"
	"slices"

	"waryowl/internal/core/answer"
	"waryowl/internal/core/score"
	"waryowl/internal/core/teardown"
	"waryowl/internal/store"
)

// spread widens the minutes of a way by this factor each way where no step was timed (house).
const spread = 1.4

// ScoreRoom is the room of scores.
type ScoreRoom struct {
	Model  store.Model     `json:"model"`
	Answer answer.Sentence `json:"answer" nullable:"false"`
	Card   score.Card      `json:"card"`
}

// Score rates a model by the physical school.
func (s *Service) Score(ctx context.Context, model string) (ScoreRoom, error) {
	k, err := loadModel(s.DB.WithContext(ctx), model)
	if err != nil {
		return ScoreRoom{}, err
	}
	card := k.score()
	room := ScoreRoom{Model: k.Model, Card: card, Answer: answer.Sentence{answer.Text(title(card.School) + " "), points(card.Low, card.High), answer.Text(" of 10")}}
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

// known says whether a range is one figure to the tenth of a point that is shown.
func known(low, high float64) bool { return math.Round(10*low) == math.Round(10*high) }

func points(low, high float64) answer.Fragment {
	if known(low, high) {
		return answer.Number(low, "points", "#lines")
	}
	return answer.Range(low, high, "points", "#lines")
}

func (k *knowledge) score() score.Card {
	f := score.Facts{Battery: k.job("battery"), Display: k.job("display assembly"), Port: k.job("charge port"), Steps: len(k.steps)}
	for _, s := range k.steps {
		if s.Tool != "" && !slices.Contains(f.Tools, s.Tool) {
			f.Tools = append(f.Tools, s.Tool)
		}
		if s.Joint != "screw" && s.Joint != "post" {
			continue
		}
		switch {
		case s.Drive == "":
			f.UnknownDrives++
		case !slices.Contains(f.Drives, s.Drive):
			f.Drives = append(f.Drives, s.Drive)
			if slices.Contains(teardown.Security, s.Drive) {
				f.Security = append(f.Security, s.Drive)
			}
		}
	}
	return score.Physical(f)
}

func (k *knowledge) job(name string) score.Job {
	j := score.Job{Part: name}
	p := k.partNamed(name)
	if p == nil {
		return j
	}
	w := k.wayTo(p.ID, nil)
	if w == nil || w.Blocked != "" {
		return j
	}
	j.Known, j.Depth, j.Tools, j.Predicted = true, w.Depth, w.Tools, w.Measured == 0
	j.Low, j.High = w.ElapsedMinutes, w.ElapsedMinutes
	if share := 1 - float64(w.Measured)/float64(len(w.Steps)); share > 0 {
		j.Low, j.High = w.ElapsedMinutes*(1-share+share/spread), w.ElapsedMinutes*(1-share+share*spread)
	}
	for _, s := range w.Steps {
		switch s.Joint {
		case "adhesive", "pull tab", "tape", "solder":
			j.Adhesives = append(j.Adhesives, s.Joint)
		case "":
			if s.Verb == "cut" || s.Verb == "peel" {
				j.Adhesives = append(j.Adhesives, "")
			}
		}
	}
	return j
}

// describe says a range of points in words, for lists.
func describe(c score.Card) string {
	if known(c.Low, c.High) {
		return fmt.Sprintf("%.1f", c.Low)
	}
	return fmt.Sprintf("%.1f to %.1f", c.Low, c.High)
}
