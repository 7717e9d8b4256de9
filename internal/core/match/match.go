// Package match ranks names against what somebody typed into the find field: case, hyphens and the
// order of words do not count, and every word must be met.
//
//	match.Rank("drift 4 batt", "Pellow Drift 4", "battery") // 2: good; 0 would be no match
package match

import (
	"slices"
	"strings"
)

// Rank scores a query against the texts of one thing: each word of the query adds 3 for a whole word, 2 for the start
// of one and 1 for a place inside; the sum is divided by the number of words. one more when a text is just the query. 0
// means that a word was not met at all. Cost is linear in the texts.
func Rank(query string, texts ...string) float64 {
	words := split(query)
	have := split(strings.Join(texts, " "))
	if len(words) == 0 {
		return 0
	}
	sum := 0
	for _, w := range words {
		best := 0
		for _, h := range have {
			switch {
			case h == w:
				best = 3
			case strings.HasPrefix(h, w):
				best = max(best, 2)
			case strings.Contains(h, w) && len(w) > 1:
				best = max(best, 1)
			}
		}
		if best == 0 {
			return 0
		}
		sum += best
	}
	rank := float64(sum) / float64(len(words))
	for _, t := range texts {
		if slices.Equal(split(t), words) {
			return rank + 1
		}
	}
	return rank
}

func split(s string) []string {
	return strings.FieldsFunc(strings.ToLower(s), func(r rune) bool {
		return r == ' ' || r == '-' || r == '/' ||
			r == ',' || r == ':' || r == '·'
	})
}
