package phrase

import (
	"slices"
	"strings"

	"waryowl/internal/core/lexicon"
)

// Own is a word of the workshop: what is said, and what it means, of which kind (part, check, tool, drive, method, model,
// unit, material, mishearing).
type Own struct {
	Say   string `json:"say"`
	Means string `json:"means"`
	Kind  string `json:"kind" enum:"part,check,tool,drive,method,model,unit,material,mishearing"`
}

// Words is what a reader knows beside the lexicon: the names of the parts on record, by number, and the workshop's words.
type Words struct {
	Names [][]string // each a name in words; names of one part follow each other
	Own   []Own
}

// Item is a word or a run of words of a clause with what it may mean.
type Item struct {
	Tokens []Token
	Senses []lexicon.Sense
	Fig    *Figure
	Name   bool   // the name of a part on record, two words or more
	Own    *Own   // a word of the workshop
	Low    string // as compared
	Joins  bool   // + & / and: joins what stands beside it
	Sep    string // mark before it
}

// Is says whether an item has a sense of a class.
func (it Item) Is(class lexicon.Class) bool { return it.Canon(class) != "" }

// Canon is what an item stands for in a class, "" where it has no such sense.
func (it Item) Canon(class lexicon.Class) string {
	for _, s := range it.Senses {
		if s.Class == class {
			return s.Canon
		}
	}
	return ""
}

// Done says whether an item is a form of an act that says that it was done.
func (it Item) Done() bool {
	return slices.ContainsFunc(it.Senses, func(s lexicon.Sense) bool { return s.Done })
}

// From and To are where the item stands in the text.
func (it Item) From() int { return it.Tokens[0].From }

// To is where the item ends.
func (it Item) To() int { return it.Tokens[len(it.Tokens)-1].To }

// Clause is a part of a text that says one thing.
type Clause struct {
	Items    []Item
	Sep      string // mark before it
	Question bool
	Repeat   bool // "then", "also": the act before it is done again where it names none
}

// Text is the clause as it was typed.
func (c Clause) Text(text string) string {
	if len(c.Items) == 0 {
		return ""
	}
	rs := []rune(strings.ToValidUTF8(text, "\uFFFD"))
	return strings.TrimSpace(string(rs[c.Items[0].From():c.Items[len(c.Items)-1].To()]))
}

// fillers open a clause and say nothing.
var fillers = map[string]bool{"ok": true, "okay": true, "so": true, "well": true, "now": true, "then": true, "next": true,
	"also": true, "finally": true, "and": true, "but": true, "right": true}

// Clauses cuts a text into clauses: at its marks, before "then", and behind "out" or "off" where another thing with an act of
// its own follows. A clause of figures alone belongs to the one before it.
func Clauses(text string, w Words) []Clause {
	items := tag(Tokens(text), w)
	var out []Clause
	cur := Clause{}
	end := func(question bool) {
		cur.Question = question
		for len(cur.Items) > 0 && fillers[cur.Items[0].Low] && !(cur.Items[0].Low == "right" && len(cur.Items) > 1) {
			cur.Repeat = cur.Repeat || cur.Items[0].Low == "then" || cur.Items[0].Low == "also"
			cur.Items = cur.Items[1:]
		}
		for len(cur.Items) > 0 && cur.Items[len(cur.Items)-1].Low == "and" {
			cur.Items = cur.Items[:len(cur.Items)-1]
		}
		if len(cur.Items) > 0 {
			out = append(out, cur)
		}
		cur = Clause{}
	}
	for i, it := range items {
		if it.Sep != "" {
			end(it.Sep == "?")
			cur.Sep = it.Sep
		}
		if it.Tokens[0].Text == "" {
			continue
		}
		if (it.Low == "while" || it.Low == "when" || it.Low == "because") && acted(cur.Items) {
			end(false)
		}
		if it.Low == "but" && len(cur.Items) > 0 {
			end(false)
			continue
		}
		if (it.Low == "then" || it.Low == "afterwards") && len(cur.Items) > 0 {
			end(false)
			cur.Repeat = true
			continue
		}
		if it.Joins && len(cur.Items) > 0 && i+1 < len(items) && acted(cur.Items) && opens(items[i+1:]) {
			end(false)
			continue
		}
		if len(cur.Items) > 0 && splits(cur.Items, items[i:]) {
			end(false)
		}
		cur.Items = append(cur.Items, it)
	}
	end(false)
	return out
}

// acted says whether a clause so far holds an act.
func acted(items []Item) bool {
	return slices.ContainsFunc(items, func(it Item) bool {
		return it.Is(lexicon.Particle) || it.Is(lexicon.Verb) || it.Is(lexicon.Back) || it.Is(lexicon.Outcome) || it.Is(lexicon.Incident) ||
			it.Fig != nil
	})
}

// opens says whether what follows a joiner is an act of its own: a particle or verb at once ("and out"), or a thing with one.
func opens(rest []Item) bool {
	if len(rest) == 0 {
		return false
	}
	first := rest[0]
	if leaves(first) || first.Is(lexicon.Outcome) || first.Fig != nil && first.Fig.Count() > 0 {
		return true
	}
	if first.Is(lexicon.Verb) && !first.Is(lexicon.NounWord) {
		return true
	}
	for _, it := range rest {
		switch {
		case it.Sep != "" || it.Joins && !it.Is(lexicon.NounWord):
			return false
		case leaves(it) || it.Is(lexicon.Verb) && it.Done():
			return true
		}
	}
	return false
}

// leaves says whether an item is a particle of an act.
func leaves(it Item) bool { return it.Is(lexicon.Particle) && !it.Is(lexicon.NounWord) }

// splits says whether a new clause begins here: behind out or off, where a thing and another particle follow.
func splits(before, rest []Item) bool {
	last := before[len(before)-1]
	done := leaves(last) && len(before) > 1 || last.Is(lexicon.Verb) && last.Done() && len(before) > 1 && !last.Is(lexicon.Quiet)
	if !done || !thing(rest[0]) || rest[0].Sep != "" || last.Low == "on" || last.Low == "in" {
		return false
	}
	for _, it := range rest[1:] {
		switch {
		case it.Sep != "" || it.Joins:
			return false
		case leaves(it) || it.Is(lexicon.Verb) && it.Done():
			return true
		}
	}
	return false
}

// thing says whether an item can begin the name of a thing.
func thing(it Item) bool {
	return it.Name || it.Own != nil && it.Own.Kind == "part" || it.Is(lexicon.NounWord) || it.Is(lexicon.Telling) ||
		len(it.Senses) == 0 && it.Fig == nil && !it.Joins && !Little[it.Low]
}

// Little are words that join others and say nothing by themselves.
var Little = set("the a an of at its this that these those on in to for is are it by from into onto now was were as i we my our " +
	"after you me they them there be been have has had got get did does do will am us he she which who so just what")

func set(s string) map[string]bool {
	m := map[string]bool{}
	for _, w := range strings.Fields(s) {
		m[w] = true
	}
	return m
}

// tag finds the names of parts first, then the workshop's words, figures, and the longest forms of the lexicon.
func tag(list []Token, w Words) []Item {
	var out []Item
	for i := 0; i < len(list); {
		it, n := itemAt(list, i, w)
		it.Tokens, it.Sep = list[i:i+n], list[i].Sep
		var low []string
		for _, t := range it.Tokens {
			low = append(low, t.Low)
		}
		it.Low = strings.Join(low, " ")
		out = append(out, it)
		i += n
	}
	return out
}

func itemAt(list []Token, i int, w Words) (Item, int) {
	t := list[i]
	if t.Text == "" {
		return Item{}, 1
	}
	run := 1 // tokens in reach: no mark and no joiner between them
	for i+run < len(list) && list[i+run].Sep == "" && list[i+run].Text != "" && !list[i+run].joiner() {
		run++
	}
	if t.joiner() {
		return Item{Joins: true}, 1
	}
	if n := named(list[i:i+run], w.Names); n > 0 {
		return Item{Name: true}, n
	}
	if k, n := own(list[i:i+run], w.Own); n > 0 {
		return Item{Own: &w.Own[k], Senses: ownSenses(w.Own[k])}, n
	}
	for n := min(run, lexicon.Longest); n > 1; n-- {
		if s := lexicon.Of(joined(list[i : i+n])); s != nil {
			return Item{Senses: s}, n
		}
	}
	if f, n := figureAt(list, i); n > 0 && !(f.Word && pronoun(list, i, n)) {
		it := Item{Fig: &f}
		if n == 1 {
			it.Senses = lexicon.Of(t.Low)
		}
		return it, n
	}
	return Item{Senses: lexicon.Of(t.Low)}, 1
}

// pronoun says whether "one" or "both" stands for a thing and is no count.
func pronoun(list []Token, i, n int) bool {
	if n > 1 || list[i].Low != "one" {
		return false
	}
	return i+1 == len(list) || list[i+1].Sep != "" || list[i+1].Text == "" || Little[list[i+1].Low] ||
		leaves(Item{Senses: lexicon.Of(list[i+1].Low)})
}

func joined(list []Token) string {
	w := make([]string, len(list))
	for i, t := range list {
		w[i] = t.Low
	}
	return strings.Join(w, " ")
}

// named is how many tokens the longest name of a part takes here: two words or more.
func named(list []Token, names [][]string) int {
	best := 0
	for _, name := range names {
		if len(name) < 2 || len(name) > len(list) || len(name) <= best {
			continue
		}
		ok := true
		for k, w := range name {
			ok = ok && (list[k].Low == w || k == len(name)-1 && list[k].Low == w+"s")
		}
		if ok {
			best = len(name)
		}
	}
	return best
}

func own(list []Token, words []Own) (k, n int) {
	for j, o := range words {
		say := strings.Fields(lexicon.Norm(o.Say))
		if len(say) == 0 || len(say) > len(list) || len(say) <= n {
			continue
		}
		if joined(list[:len(say)]) == strings.Join(say, " ") {
			k, n = j, len(say)
		}
	}
	return k, n
}

// ownSenses gives a word of the workshop the class that its kind has.
func ownSenses(o Own) []lexicon.Sense {
	class := map[string]lexicon.Class{"drive": lexicon.Drive, "tool": lexicon.Tool, "method": lexicon.Method,
		"check": lexicon.Function, "part": lexicon.NounWord, "material": lexicon.NounWord, "model": lexicon.Quiet,
		"unit": lexicon.Quiet}[o.Kind]
	if o.Kind == "mishearing" {
		return lexicon.Of(lexicon.Norm(o.Means))
	}
	return []lexicon.Sense{{Class: class, Canon: o.Means}}
}
