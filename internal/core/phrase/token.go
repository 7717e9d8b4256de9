// Package phrase reads how people speak at a bench: words, figures, clauses, what is an act and what only a remark.
// It knows no line of the bench and no recording; both are read with it.
//
//	for _, c := range phrase.Clauses("batt out. 3410mAh", phrase.Words{}) { … } // two clauses
package phrase

import (
	"strings"
	"unicode"
)

// Token is a word or a figure of a text: as typed, as it is compared, where it stands (runes from 0, To exclusive),
// and the mark that parts it from the token before it ("" for none). A joiner (+ & /) is a token of its own.
type Token struct {
	Text, Low string
	From, To  int
	Sep       string
}

// joiner says whether a token only joins two others.
func (t Token) joiner() bool { return t.Low == "+" || t.Low == "&" || t.Low == "/" || t.Low == "and" }

// contracted are words that stand for two, or are written in one.
var contracted = map[string]string{"w/o": "without", "w/": "with", "i've": "have", "ive": "have", "it's": "it is",
	"its":    "its",
	"that's": "that is", "there's": "there is", "i'm": "am", "let's": "let us", "doesn't": "does not", "didn't": "did not",
	"don't": "do not", "isn't": "is not", "wasn't": "was not", "aren't": "are not", "couldn't": "could not",
	"shouldn't": "should not", "wouldn't": "would not", "haven't": "have not", "hasn't": "has not", "doesnt": "does not",
	"didnt": "did not", "dont": "do not", "isnt": "is not"}

// Tokens cuts a text. Hyphens between letters are opened, but for "re-"; marks between digits stay in the figure.
func Tokens(text string) []Token {
	rs := []rune(strings.ToValidUTF8(text, "\uFFFD"))
	var list []Token
	sep := ""
	add := func(from, to int) {
		low := strings.ToLower(string(rs[from:to]))
		low = strings.NewReplacer("’", "'", "‘", "'").Replace(low)
		words := []string{low}
		if two := contracted[low]; two != "" {
			words = strings.Fields(two)
		}
		for _, w := range words {
			w = strings.ReplaceAll(w, "'", "")
			if strings.HasPrefix(w, "re-") {
				w = "re" + w[3:]
			}
			list = append(list, Token{Text: string(rs[from:to]), Low: w, From: from, To: to, Sep: sep})
			sep = ""
		}
	}
	for i := 0; i < len(rs); {
		r := rs[i]
		switch {
		case unicode.IsSpace(r):
			i++
		case wordRune(r) || (r == '±' || r == '~' || r == '≈') && i+1 < len(rs) && unicode.IsDigit(rs[i+1]):
			k := wordEnd(rs, i)
			add(i, k)
			i = k
		case r == '+' || r == '&' || r == '/':
			add(i, i+1)
			i++
		default:
			if mark := separator(r, rs, i); mark != "" && (sep == "" || mark == "?") {
				sep = mark
			}
			i++
		}
	}
	if sep != "" && len(list) > 0 { // what closes the text says how its last clause ends
		list = append(list, Token{From: len(rs), To: len(rs), Sep: sep})
	}
	return list
}

func wordRune(r rune) bool {
	return unicode.IsLetter(r) || unicode.IsDigit(r) || r == '°' || r == '%' || r == 'µ'
}

// wordEnd is where the word that begins at i ends.
func wordEnd(rs []rune, i int) int {
	digits := unicode.IsDigit(rs[i]) || !wordRune(rs[i])
	k := i + 1
	for k < len(rs) {
		r := rs[k]
		next := func(f func(rune) bool) bool { return k+1 < len(rs) && f(rs[k+1]) }
		last := rs[k-1]
		switch {
		case wordRune(r):
			digits = digits || unicode.IsDigit(r)
		case (r == '\'' || r == '’') && unicode.IsLetter(last) && next(unicode.IsLetter):
		case (r == '.' || r == ',' || r == ':' || r == '/' || r == '×' || r == '*') && unicode.IsDigit(last) &&
			next(unicode.IsDigit):
		case (r == '-' || r == '–' || r == '—') && unicode.IsDigit(last) && next(unicode.IsDigit):
		case r == '×' && unicode.IsDigit(last):
		case r == '-' && strings.EqualFold(string(rs[i:k]), "re") && next(unicode.IsLetter):
			// "re-seated" is one word; its hyphen goes when it is compared
		case r == '/' && strings.EqualFold(string(rs[i:k]), "w"):
			if k+1 < len(rs) && (rs[k+1] == 'o' || rs[k+1] == 'O') && (k+2 == len(rs) || !wordRune(rs[k+2])) {
				return k + 2
			}
			return k + 1
		default:
			return k
		}
		k++
	}
	return k
}

// separator is the mark of clauses that a sign is, "" for a sign that parts none.
func separator(r rune, rs []rune, i int) string {
	switch r {
	case ',', ';', ':', '!', '?':
		return string(r)
	case '.', '…':
		return "."
	case '(', ')', '[', ']':
		return "("
	case '-', '–', '—':
		if i > 0 && unicode.IsSpace(rs[i-1]) && i+1 < len(rs) && unicode.IsSpace(rs[i+1]) {
			return "-"
		}
		return ""
	}
	return ""
}
