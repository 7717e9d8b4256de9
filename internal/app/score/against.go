package score

import (
	"context"
	"math"
	"slices"
	"strconv"
	"strings"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/app/rating"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/school"
	"waryowl/internal/store"
)

// Rival is one model in the comparison.
type Rival struct {
	ID    string `json:"id"`
	Name  string `json:"name"`
	Build string `json:"build"`
}

// Standing is a model under a school.
type Standing struct {
	Model   string     `json:"model"`
	Range   [2]float64 `json:"range"`
	IfSure  [2]float64 `json:"if_sure"`
	Classes []string   `json:"classes" nullable:"false"`
	Rank    [2]int     `json:"rank" doc:"best and worst place at the school's own weights"`
	RankAny [2]int     `json:"rank_any" doc:"whatever the weights"`
	Stamped string     `json:"stamped"`
}

// Field is every model under one school, with what can be said of each pair.
type Field struct {
	Rubric    string           `json:"rubric"`
	Title     string           `json:"title"`
	Scale     [2]float64       `json:"scale"`
	Standings []Standing       `json:"standings" nullable:"false"`
	Pairs     []school.Pairing `json:"pairs" nullable:"false"`
	Says      []string         `json:"says" nullable:"false"`
}

// Against is the comparison of models under each school.
type Against struct {
	Answer answer.Sentence `json:"answer" nullable:"false"`
	Models []Rival         `json:"models" nullable:"false"`
	Fields []Field         `json:"fields" nullable:"false"`
}

// mostRivals are the models that are compared at once, drawn the weights that are drawn for each school.
const (
	mostRivals = 8
	drawn      = 4000
)

// Compare sets a model against others: those named, else those of its maker. within is how far weights may be off, 0:
// any weights.
func Compare(ctx context.Context, s *act.Service, modelID string, with []string, within float64) (Against, error) {
	db := s.DB.WithContext(ctx)
	v := Against{Models: []Rival{}, Fields: []Field{}}
	ids, err := rivals(db, modelID, with)
	if err != nil {
		return v, err
	}
	today := s.Now().Format("2006-01-02")
	known, err := rating.Load(db, ids, today)
	if err != nil {
		return v, err
	}
	if known[modelID] == nil {
		return v, store.ErrNotFound
	}
	rules, own, err := rating.Rules(db)
	if err != nil {
		return v, err
	}
	rules = slices.DeleteFunc(rules, func(b school.Rubric) bool {
		row, drafted := own[b.ID]
		return drafted && !row.Published
	})
	samples := drawn
	in := school.Input{Facts: school.Facts(), Rubrics: rules, Shop: known[modelID].ShopFacts(), Samples: &samples}
	if within > 0 {
		in.WeightsWithin = &within
	}
	names := map[string]string{}
	for _, id := range ids {
		r := known[id]
		if r == nil {
			return v, fault.New("with", id, "the id of a model")
		}
		in.Models = append(in.Models, r.Model())
		names[id] = r.Know.Maker + " " + r.Know.Name
		v.Models = append(v.Models, Rival{id, names[id], r.Build})
	}
	out, err := school.Solve(in)
	if err != nil {
		return v, err
	}
	settled, pairs := 0, 0
	for _, b := range rules {
		f := Field{Rubric: b.ID, Title: b.Title, Scale: [2]float64{b.Scale[0], b.Scale[1]}, Standings: []Standing{},
			Pairs: []school.Pairing{}, Says: []string{}}
		for _, sc := range out.Scores {
			if sc.Rubric != b.ID {
				continue
			}
			st := Standing{Model: sc.Model, Range: sc.Range, IfSure: sc.IfSure, Classes: sc.Classes,
				Stamped: rating.Stamped(sc, b)}
			for _, k := range out.Ranks {
				if k.Rubric == b.ID && k.Model == sc.Model {
					st.Rank, st.RankAny = [2]int{k.Best, k.Worst}, [2]int{k.BestAny, k.WorstAny}
				}
			}
			f.Standings = append(f.Standings, st)
		}
		for _, p := range out.Compare {
			if p.Rubric != b.ID {
				continue
			}
			f.Pairs = append(f.Pairs, p)
			if p.A != modelID && p.B != modelID {
				continue
			}
			pairs++
			if p.Order != "open" {
				settled++
			}
			f.Says = append(f.Says, say(p, names, within))
		}
		v.Fields = append(v.Fields, f)
	}
	if len(ids) < 2 {
		v.Answer = answer.Sentence{answer.Text("There is no other model to compare with.")}
	} else {
		v.Answer = answer.Sentence{answer.Number(float64(settled), "", "#against"), answer.Text(" of "),
			answer.Count(pairs, "order", "#against"), answer.Text(" by scoring method stand whatever is still open.")}
	}
	return v, nil
}

// say is what holds of a pair in words.
func say(p school.Pairing, names map[string]string, within float64) string {
	a, b := names[p.A], names[p.B]
	share := p.ShareA
	if p.Order == "b" || p.Order == "open" && share[0]+share[1] < 1 {
		a, b, share = b, a, [2]float64{1 - share[1], 1 - share[0]}
	}
	weights := "any weights"
	if within > 0 {
		weights = "weights that are " + percent(within) + " off"
	}
	switch {
	case p.Always != "none":
		return a + " is above " + b + ", whatever the weights."
	case p.Order == "equal":
		return a + " and " + b + " come out the same."
	case p.Order == "open" && share[0] < 0.005 && share[1] > 0.995:
		return a + " or " + b + ": open; what is not known yet may turn it either way."
	case p.Order == "open":
		return a + " or " + b + ": open; above in " + percents(share) + " of " + weights + "."
	}
	return a + " is above " + b + " at the method's weights; with " + weights + " in " + percents(share) + " of them."
}

// rivals are the models to compare: the one asked about first.
func rivals(db *gorm.DB, modelID string, with []string) ([]string, error) {
	ids := []string{modelID}
	for _, id := range with {
		if !slices.Contains(ids, id) {
			ids = append(ids, id)
		}
	}
	if len(ids) > mostRivals {
		return nil, fault.New("with", len(ids)-1, "at most 7 other models")
	}
	if len(with) > 0 {
		return ids, nil
	}
	own, err := store.Get[store.Model](db, modelID)
	if err != nil {
		return nil, err
	}
	// Of its maker first, then others, as far as they have a plan.
	list, err := store.List[store.Model](db.Limit(4), "name", "maker = ? AND id <> ? AND id IN (SELECT model_id FROM "+
		"plan_steps WHERE deleted_at IS NULL)", own.Maker, modelID)
	if err != nil {
		return nil, err
	}
	for _, m := range list {
		ids = append(ids, m.ID)
	}
	return ids, nil
}

func percent(x float64) string { return strconv.Itoa(int(math.Round(100*x))) + " %" }

func percents(x [2]float64) string {
	a, b := percent(x[0]), percent(x[1])
	if a == b {
		return a
	}
	return strings.TrimSuffix(a, " %") + " to " + b
}
