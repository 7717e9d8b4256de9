// Package find is the first room: one field over models, parts, labels and codes, and the list of studies.
package find

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/match"
	"waryowl/internal/store"
)

// Match is one thing that a search found: a part of a model. Why names the text that was met when it is not the name.
type Match struct {
	ModelID string `json:"model_id"`
	Model   string `json:"model"`
	PartID  string `json:"part_id"`
	Part    string `json:"part"`
	Family  string `json:"family"`
	Why     string `json:"why,omitempty"`
	rank    float64
}

// Found is the answer of the find field.
type Found struct {
	Query   string          `json:"query" doc:"what was looked for"`
	Answer  answer.Sentence `json:"answer" nullable:"false"`
	Matches []Match         `json:"matches" nullable:"false" doc:"parts, the best first"`
	Groups  []Group         `json:"groups" nullable:"false" doc:"what was found by kind, the likeliest kind first"`
}

// mostMatches is how many matches are listed.
const mostMatches = 30

// mostRanked is how many of those that meet the query are ranked, mostWords how many of its words count.
const (
	mostRanked = 300
	mostWords  = 8
)

// Search looks for models, parts, aliases, labels, chip marks and connector codes.
func Search(ctx context.Context, s *act.Service, query string) (Found, error) {
	db := s.DB.WithContext(ctx)
	f := Found{Query: query, Matches: []Match{}, Groups: []Group{}}
	words := strings.Fields(store.Words(query))
	n, more := 0, false // more: there are others beside those that are ranked
	var parts []store.Part
	byID := map[string]store.Model{}
	if len(words) > 0 {
		ids, err := store.Find(db, words[:min(mostWords, len(words))], mostRanked)
		if err != nil {
			return Found{}, err
		}
		n = len(ids)
		more = n == mostRanked
		if parts, err = store.List[store.Part](db, "name", "id IN ?", ids); err != nil {
			return Found{}, err
		}
		models, err := store.List[store.Model](db, "name", "id IN (SELECT model_id FROM parts WHERE id IN ?)", ids)
		if err != nil {
			return Found{}, err
		}
		for _, m := range models {
			byID[m.ID] = m
		}
	}
	for _, p := range parts {
		m, ok := byID[p.ModelID]
		if !ok {
			n--
			continue
		}
		texts := append([]string{m.Maker, m.Name, p.Name, p.Label, p.ChipMark, p.ConnectorCode},
			append(slices.Clone(m.Aliases), p.Aliases...)...)
		rank := match.Rank(query, texts...)
		if rank == 0 {
			n--
			continue
		}
		hit := Match{ModelID: m.ID, Model: m.Maker + " " + m.Name, PartID: p.ID, Part: p.Name, Family: p.Family,
			rank: rank}
		if match.Rank(query, m.Maker, m.Name, p.Name) == 0 {
			for _, t := range append([]string{p.Label, p.ChipMark, p.ConnectorCode},
				append(slices.Clone(p.Aliases), m.Aliases...)...) {
				if strings.ContainsFunc(t, func(rune) bool { return true }) &&
					slices.ContainsFunc(strings.Fields(query), func(w string) bool { return match.Rank(w, t) > 0 }) {
					hit.Why = t
					break
				}
			}
		}
		f.Matches = append(f.Matches, hit)
	}
	slices.SortStableFunc(f.Matches, func(a, b Match) int {
		return cmp.Or(cmp.Compare(b.rank, a.rank), strings.Compare(a.Model, b.Model), strings.Compare(a.Part, b.Part))
	})
	f.Matches = f.Matches[:min(mostMatches, len(f.Matches))]
	var err error
	if f.Groups, err = groups(db, words, f.Matches); err != nil {
		return f, err
	}
	if n == 0 {
		if others := f.elsewhere(); others > 0 {
			f.Answer = answer.Sentence{answer.Text("“" + short(query) + "”: no part, but "),
				answer.Count(others, "other match", "#matches"), answer.Text(".")}
			return f, nil
		}
	}
	switch {
	case strings.TrimSpace(query) == "":
		f.Answer = answer.Sentence{answer.Text("Which phone, which part, or a code you hold?")}
	case n == 0:
		f.Answer = answer.Sentence{answer.Text("Nothing on record for “" + short(query) +
			"”. Try fewer letters, an alias, or the code printed on the connector.")}
	case n == 1:
		f.Answer = answer.Sentence{answer.Text(f.Matches[0].Model + ", " + f.Matches[0].Part + ": "),
			answer.Number(1, "match", "#matches"), answer.Text(".")}
	default:
		f.Answer = answer.Sentence{answer.Text("“" + short(query) + "”: ")}
		if more {
			f.Answer = append(f.Answer, answer.Text("at least "))
		}
		f.Answer = append(f.Answer, answer.Number(float64(n), "matches", "#matches"), answer.Text("."))
		if n > mostMatches {
			f.Answer = append(f.Answer, answer.Text(fmt.Sprintf(" The best %d are listed; add a word to narrow them.",
				mostMatches)))
		}
	}
	return f, nil
}

// elsewhere counts what was found beside parts.
func (f Found) elsewhere() (n int) {
	for _, g := range f.Groups {
		if g.Kind != "part" {
			n += len(g.Hits)
		}
	}
	return n
}

func short(s string) string {
	if r := []rune(s); len(r) > 40 {
		return string(r[:40]) + "…"
	}
	return s
}
