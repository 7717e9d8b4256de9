package compare

import (
	"context"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/store"
)

// GenerationJob is the way to a job in one generation; Runs counts its steps with a measured time.
type GenerationJob struct {
	Job     string  `json:"job"`
	Minutes float64 `json:"minutes" doc:"attended, in"`
	Closed  float64 `json:"closed"  doc:"to closed and tested"`
	Steps   int     `json:"steps"`
	Runs    int     `json:"runs"`
}

// Generation is one model of a chain, the oldest first.
type Generation struct {
	ModelID string          `json:"model_id"`
	Name    string          `json:"name"`
	Jobs    []GenerationJob `json:"jobs"     nullable:"false"`
}

// mostGenerations is how many models of a chain are shown.
const mostGenerations = 8

// Generations are a model, its predecessors and its successors, by the names that they give of each other.
func Generations(ctx context.Context, s *act.Service, id string) ([]Generation, error) {
	db := s.DB.WithContext(ctx)
	m, err := store.Get[store.Model](db, id)
	if err != nil {
		return nil, err
	}
	family, err := store.List[store.Model](db, "id", "maker = ?", m.Maker)
	if err != nil {
		return nil, err
	}
	chain := []store.Model{*m}
	seen := map[string]bool{m.ID: true}
	for len(chain) < mostGenerations {
		older := slices.IndexFunc(family, func(o store.Model) bool {
			return !seen[o.ID] && o.Name == strings.TrimSpace(chain[0].Predecessor)
		})
		newer := slices.IndexFunc(family, func(o store.Model) bool {
			return !seen[o.ID] && strings.TrimSpace(o.Predecessor) == chain[len(chain)-1].Name
		})
		switch {
		case older >= 0:
			chain = slices.Insert(chain, 0, family[older])
			seen[family[older].ID] = true
		case newer >= 0:
			chain = append(chain, family[newer])
			seen[family[newer].ID] = true
		default:
			older = -2
		}
		if older == -2 {
			break
		}
	}
	var ids []string
	for _, o := range chain {
		ids = append(ids, o.ID)
	}
	records, err := model.LoadAll(db, ids, true)
	if err != nil {
		return nil, err
	}
	list := []Generation{}
	for _, o := range chain {
		g := Generation{ModelID: o.ID, Name: o.Name, Jobs: []GenerationJob{}}
		for _, j := range model.JobKinds {
			if w := wayOf(records[o.ID], j.Kind); w != nil {
				g.Jobs = append(
					g.Jobs,
					GenerationJob{j.Job, w.AttendedMinutes, w.ClosedMinutes, len(w.Steps), w.Measured},
				)
			}
		}
		list = append(list, g)
	}
	return list, nil
}
