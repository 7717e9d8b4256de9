package lexicon

import (
	"strings"

	"waryowl/internal/core/trade"
)

// Costs of likeness (house, measured on hands that were never read before). Most is the dearest name that still
// counts; two names within Near of each other cannot be told apart.
const (
	costPrefix  = 0.3
	costShort   = 0.6
	costUnsaid  = 1.0
	costIdle    = 0.2
	costTwoPart = 0.5
	Most        = 2.2
	Near        = 0.25
)

// heads are nouns of which a phone has several, told apart by the very word: a plate is no shield.
var heads = map[string]bool{"bracket": true, "cable": true, "button": true, "sensor": true, "antenna": true,
	"film":     true,
	"adhesive": true, "pull tab": true, "tape": true, "seal": true, "gasket": true, "screw": true, "clip": true,
	"rear camera": true}

var idle = map[string]bool{"assembly": true, "module": true, "block": true, "lead": true, "unit": true}

// Like says how dear it is to read a word as a word of a name: 0 when equal, 0.3 for a beginning of three letters or
// more, 0.6 for an abbreviation (same first letter, the rest in order, few vowels or three letters) or one slip of
// the pen in a word of five letters. False: it cannot be read so.
func Like(said, word string) (float64, bool) {
	if said == word || trade.Singular(said) == trade.Singular(word) {
		return 0, true
	}
	if a, ok := Tell(said); ok { // a word that tells parts apart is never an abbreviation of another one
		b, also := Tell(word)
		return 0, also && a == b
	}
	a, ok := Noun(said)
	if b, also := Noun(word); ok && also && a == b && !heads[a] {
		return 0.1, true
	}
	said, word = trade.Singular(said), trade.Singular(word)
	x, y := []rune(said), []rune(word)
	switch {
	case len(x) < 2 || len(y) < 2 || len(x) > 40 || len(y) > 40:
		return 0, false
	case len(x) >= 3 && strings.HasPrefix(word, said):
		return costPrefix, true
	case len(x) < len(y) && x[0] == y[0] && inOrder(x[1:], y[1:]) && (3*vowels(x) <= len(x) || len(x) >= 3):
		return costShort, true
	case len(x) >= 5 && len(y) >= 5 && slip(x, y):
		return costShort, true
	}
	return 0, false
}

func inOrder(x, y []rune) bool {
	for _, r := range y {
		if len(x) > 0 && x[0] == r {
			x = x[1:]
		}
	}
	return len(x) == 0
}

func vowels(x []rune) (n int) {
	for _, r := range x {
		if strings.ContainsRune("aeiou", r) {
			n++
		}
	}
	return n
}

// slip says whether two words differ by one letter more, less or other, or by two neighbours changed over.
func slip(x, y []rune) bool {
	if len(x) > len(y) {
		x, y = y, x
	}
	i := 0
	for i < len(x) && x[i] == y[i] {
		i++
	}
	same := func(a, b []rune) bool { return string(a) == string(b) }
	switch len(y) - len(x) {
	case 0:
		return i < len(x) && (same(x[i+1:], y[i+1:]) ||
			i+1 < len(x) && x[i] == y[i+1] && x[i+1] == y[i] && same(x[i+2:], y[i+2:]))
	case 1:
		return same(x[i:], y[i+1:])
	}
	return false
}

// NameCost says how dear it is to read words as a name: each word said must be read as a word of the name of its own;
// each word of the name that was not said costs 1, words such as "module" 0.2. A single word may be the initials of
// the name, or the first letter of its first word with an abbreviation of the second ("tcam": tele camera).
func NameCost(said, name []string) (float64, bool) {
	if len(said) == 1 && len(name) >= 2 {
		if initials(said[0], name) {
			return costShort, true
		}
		w := []rune(said[0])
		if len(name) == 2 && len(w) > 2 && string(w[0]) == string([]rune(name[0])[:1]) {
			if _, ok := Like(string(w[1:]), name[1]); ok && !Known(said[0]) || ok && string(w[1:]) == "cam" {
				return costTwoPart, true
			}
		}
	}
	if len(said) > len(name) || len(name) > 12 {
		return 0, false
	}
	best, found := 0.0, false
	var try func(i int, used uint, cost float64)
	try = func(i int, used uint, cost float64) {
		if found && cost >= best {
			return
		}
		if i == len(said) {
			for k, w := range name {
				if used&(1<<k) == 0 {
					if idle[w] {
						cost += costIdle
					} else {
						cost += costUnsaid
					}
				}
			}
			if !found || cost < best {
				best, found = cost, true
			}
			return
		}
		for k, w := range name {
			if used&(1<<k) != 0 {
				continue
			}
			if c, ok := Like(said[i], w); ok {
				try(i+1, used|1<<k, cost+c)
			}
		}
	}
	try(0, 0, 0)
	return best, found
}

func initials(w string, name []string) bool {
	r := []rune(w)
	if len(r) != len(name) || len(r) < 2 {
		return false
	}
	for i, n := range name {
		if []rune(n)[0] != r[i] {
			return false
		}
	}
	return true
}
