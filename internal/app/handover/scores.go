package handover

import (
	"cmp"
	"context"
	"slices"

	"waryowl/internal/app/act"
	"waryowl/internal/app/rating"
	"waryowl/internal/core/school"
	"waryowl/internal/store"
)

// Scored is a score as it may leave the house.
type Scored struct {
	Title string   `json:"title"`
	Words string   `json:"words" doc:"with school, range, day and software"`
	Costs []string `json:"costs" nullable:"false" doc:"what costs most"`
	Open  []string `json:"open" nullable:"false" doc:"what would narrow it most"`
}

// Scores are a model by every school that ships or was published, as they may stand on a sheet.
func Scores(ctx context.Context, s *act.Service, modelID string) ([]Scored, error) {
	db := s.DB.WithContext(ctx)
	known, err := rating.Load(db, []string{modelID}, s.Now().Format("2006-01-02"))
	if err != nil {
		return nil, err
	}
	r := known[modelID]
	if r == nil {
		return nil, store.ErrNotFound
	}
	rules, own, err := rating.Rules(db)
	if err != nil {
		return nil, err
	}
	rules = slices.DeleteFunc(rules, func(x school.Rubric) bool { return own[x.ID].ID != "" && !own[x.ID].Published })
	facts, no := school.Facts(), false
	out, err := school.Solve(
		school.Input{Facts: facts, Rubrics: rules, Shop: r.ShopFacts(), Models: []school.Model{r.Model()},
			Compare: &no},
	)
	if err != nil {
		return nil, err
	}
	list := []Scored{}
	for i, sc := range out.Scores {
		x := Scored{Title: rules[i].Title, Words: rating.Stamped(sc, rules[i]), Costs: []string{}, Open: []string{}}
		dear := slices.SortedFunc(slices.Values(sc.Criteria), func(a, b school.Line) int {
			return cmp.Compare(b.Costs[0]+b.Costs[1], a.Costs[0]+a.Costs[1])
		})
		for _, l := range dear[:min(3, len(dear))] {
			for _, c := range rules[i].Criteria {
				title := cmp.Or(c.Title, facts[c.ID].Title, c.ID)
				if c.ID == l.ID && l.Costs[0]+l.Costs[1] > 0.01 && !slices.Contains(x.Costs, title) {
					x.Costs = append(x.Costs, title)
				}
			}
		}
		for _, n := range sc.Narrow[:min(3, len(sc.Narrow))] {
			x.Open = append(x.Open, facts[n.Fact].Title+": "+facts[n.Fact].Ask)
		}
		list = append(list, x)
	}
	return list, nil
}
