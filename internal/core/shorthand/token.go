package shorthand

import (
	"strings"
	"unicode"

	"waryowl/internal/core/trade"
)

// token is a word of the line: text as typed, plain as it is compared, column from 1, and whether it was used.
type token struct {
	text, plain string
	column      int
	used        bool
}

// tokens cuts a line at white space. Brackets, quotes and the commas and stops at the end of a word fall off; a comma
// or stop between digits stays. Text in “quotes” comes out whole.
func tokens(line string) (list []token, quoted []string) {
	column, start := 0, 0
	var word []rune
	inQuote := false
	end := func() {
		if len(word) == 0 {
			return
		}
		text := string(word)
		word = word[:0]
		trimmed := strings.TrimLeft(text, "(“\"")
		start += len([]rune(text)) - len([]rune(trimmed))
		trimmed = strings.TrimRight(trimmed, ",;:.)”\"!")
		if trimmed == "" {
			if strings.Trim(text, "(“\",;:.)”") != "" {
				trimmed = text
			} else {
				return
			}
		}
		list = append(list, token{text: trimmed, plain: strings.ToLower(trimmed), column: start})
	}
	for _, r := range line {
		column++
		switch {
		case r == '“' && !inQuote:
			end()
			inQuote = true
			continue
		case r == '”' && inQuote:
			inQuote = false
			if len(word) > 0 {
				quoted = append(quoted, string(word))
				word = word[:0]
			}
			continue
		case inQuote:
			word = append(word, r)
			continue
		case unicode.IsSpace(r):
			end()
			continue
		}
		if len(word) == 0 {
			start = column
		}
		word = append(word, r)
	}
	if inQuote && len(word) > 0 {
		quoted = append(quoted, string(word))
		word = nil
	}
	end()
	return list, quoted
}

// split opens the hyphens of a word where that makes it known: "upper-bracket", "rear-glass", and gives the words with
// the column of each.
func split(t token) []token {
	if !strings.ContainsAny(t.plain, "-_/") || !strings.ContainsFunc(t.plain, unicode.IsLetter) {
		return []token{t}
	}
	var out []token
	column := t.column
	for i, w := range strings.FieldsFunc(t.text, func(r rune) bool { return r == '-' || r == '_' || r == '/' }) {
		if i > 0 {
			column++
		}
		out = append(out, token{text: w, plain: strings.ToLower(w), column: column})
		column += len([]rune(w))
	}
	if len(out) == 0 {
		return []token{t}
	}
	return out
}

func spoken(list []token) string {
	var words []string
	for _, t := range list {
		words = append(words, t.plain)
	}
	return trade.Plain(strings.Join(words, " "))
}

func typed(list []token) string {
	var words []string
	for _, t := range list {
		words = append(words, t.text)
	}
	return strings.Join(words, " ")
}
