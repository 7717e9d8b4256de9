package shorthand

import (
	"cmp"
	"slices"
	"strings"

	"waryowl/internal/core/trade"
)

// Closest lists at most three known words within two changes, or that begin like the word.
func Closest(word string, known []string) []string {
	type near struct {
		word string
		far  int
	}
	var found []near
	word = strings.ToLower(word)
	if r := []rune(word); len(r) > 40 {
		return nil
	}
	for _, k := range known {
		low := strings.ToLower(k)
		far := distance(word, low)
		if len(word) >= 2 && strings.HasPrefix(low, word) {
			far = 1
		}
		if far > 0 && far <= 2 && far < max(2, len([]rune(word))) {
			found = append(found, near{k, far})
		}
	}
	slices.SortStableFunc(found, func(a, b near) int { return cmp.Compare(a.far, b.far) })
	var list []string
	for _, n := range found[:min(3, len(found))] {
		list = append(list, n.word)
	}
	return list
}

// distance counts insertions, deletions, substitutions and swaps of neighbours between two words (optimal string
// alignment).
func distance(a, b string) int {
	x, y := []rune(a), []rune(b)
	if d := len(x) - len(y); d > 2 || d < -2 {
		return 3
	}
	rows := [3][]int{make([]int, len(y)+1), make([]int, len(y)+1), make([]int, len(y)+1)}
	for k := range rows[1] {
		rows[1][k] = k
	}
	for i := 1; i <= len(x); i++ {
		rows[2][0] = i
		for k := 1; k <= len(y); k++ {
			cost := 1
			if x[i-1] == y[k-1] {
				cost = 0
			}
			rows[2][k] = min(rows[1][k]+1, rows[2][k-1]+1, rows[1][k-1]+cost)
			if i > 1 && k > 1 && x[i-1] == y[k-2] && x[i-2] == y[k-1] {
				rows[2][k] = min(rows[2][k], rows[0][k-2]+1)
			}
		}
		rows[0], rows[1], rows[2] = rows[1], rows[2], rows[0]
	}
	return rows[1][len(y)]
}

// Suggest lists at most six completions of the last word of a line: verbs at its start, then parts, drives, methods and
// kinds of incident that fit the verb.
func Suggest(line string, v Vocabulary) []string {
	list := []string{}
	words := strings.Fields(line)
	last := ""
	if len(words) > 0 && !strings.HasSuffix(line, " ") {
		last = strings.ToLower(words[len(words)-1])
		words = words[:len(words)-1]
	}
	head := strings.Join(words, " ")
	if head != "" {
		head += " "
	}
	add := func(word string) {
		word = strings.ReplaceAll(word, " ", "-")
		if len(list) < 6 && strings.HasPrefix(strings.ToLower(word), last) && strings.ToLower(word) != last &&
			!slices.Contains(list, head+word) {
			list = append(list, head+word)
		}
	}
	verb := ""
	for _, w := range words {
		if w == "+" {
			continue
		}
		for _, known := range trade.Verbs {
			if strings.EqualFold(w, known.Letter) || strings.EqualFold(w, known.ID) {
				verb = known.ID
			}
		}
		break
	}
	switch {
	case verb == "":
		for _, known := range trade.Verbs {
			add(known.Letter)
			if len(last) > 1 {
				add(known.ID)
			}
		}
		return list
	case verb == "incident":
		for _, k := range trade.IncidentIDs() {
			add(k)
		}
	case verb == "heat" || verb == "solvent":
		for _, k := range trade.MethodIDs() {
			add(k)
		}
	case verb == "unfasten" && last != "":
		for _, k := range trade.DriveIDs() {
			add(k)
		}
	case verb == "tool":
		for _, k := range v.Tools {
			add(k)
		}
		return list
	}
	for _, p := range v.Parts {
		add(p.Name)
	}
	for _, p := range v.Parts {
		for _, a := range p.Aliases {
			if last != "" {
				add(a)
			}
		}
	}
	return list
}
