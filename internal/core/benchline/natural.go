package benchline

import (
	"slices"
	"strings"

	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/phrase"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
)

// draft is a fact on its way: what it says, of which part, what is still to be asked, and where it stands in the line.
type draft struct {
	f        shorthand.Fact
	m        meant
	asks     string
	from, to int
	clause   int
	before   string
}

// line is a line that is read as people write it.
type line struct {
	c              Context
	text           string
	words          phrase.Words
	names          [][]string
	of             []int
	past           []Entry // of the log, then the drafts of this line
	back           bool    // the line puts back
	drafts         []draft
	unread         []phrase.Token
	refused        string // why the grammar's reading of the whole line may not be logged
	clause         int
	headNoun       []phrase.Token // the noun phrase of the clause before
	subject        meant          // and what it named
	pendingSubject []int          // clauses that only named what the next one is about
	qualified      []int          // clauses that only qualified screws
	surplusSaid    bool
	reason         string // why something would not come, said before how it ended
	placeSaid      string // where the screws of the next clause are
	tabsSaid       int    // tabs counted in the clause before
	choices        []Choice
	asks           string
}

// natural reads a line that the grammar does not take: clause by clause, each in the light of the ones before it.
func (c Context) natural(text string) *line {
	r := &line{c: c, text: text, past: slices.Clone(c.Log)}
	r.names, r.of = c.nameWords()
	r.words = phrase.Words{Names: r.names, Own: c.Words}
	r.back = c.Together != nil && *c.Together || c.Together == nil && lastBack(c.Log)
	trimmed := strings.TrimSpace(text)
	rest, plus := strings.CutPrefix(trimmed, "+")
	clauses := phrase.Clauses(text, r.words)
	if plus && len(clauses) > 0 {
		for len(clauses[0].Items) > 0 && clauses[0].Items[0].Joins {
			clauses[0].Items = clauses[0].Items[1:]
		}
		if len(clauses[0].Items) == 0 {
			clauses = clauses[1:]
		}
		if r.moreHeat(rest, clauses) {
			return r
		}
		r.back = true
	}
	clauses = r.merge(clauses)
	if r.retracts(clauses) {
		return r
	}
	for i, cl := range clauses {
		r.clause = i
		if lead, ok := leadIn(cl); ok {
			r.back = r.back || lead
			continue
		}
		r.read(cl)
	}
	r.settle(clauses)
	return r
}

func lastBack(log []Entry) bool {
	for i := len(log) - 1; i >= 0; i-- {
		f := log[i].Fact
		if v, _ := trade.VerbOf(f.Verb); v.Step {
			return f.Back
		}
	}
	return false
}

// moreHeat reads "+ 2 min" right after a heat as a further round.
func (r *line) moreHeat(rest string, clauses []phrase.Clause) bool {
	if len(clauses) != 1 || len(r.past) == 0 || r.past[len(r.past)-1].Fact.Verb != "heat" {
		return false
	}
	for _, it := range clauses[0].Items {
		if it.Fig == nil || it.Fig.Unit != "s" && it.Fig.Unit != "C" {
			return false
		}
	}
	d := draft{f: shorthand.Fact{Verb: "heat"}, from: clauses[0].Items[0].From(), to: clauses[0].Items[0].To()}
	r.heatFigures(&d, clauses[0].Items, map[int]bool{})
	r.fromLastHeat(&d)
	r.add(d)
	return true
}

// merge joins clauses of figures alone to what stands before them, and a clause of quiet words to nothing.
func (r *line) merge(list []phrase.Clause) []phrase.Clause {
	var out []phrase.Clause
	for _, cl := range list {
		figures := len(out) > 0 && !cl.Question
		for _, it := range cl.Items {
			value := it.Fig != nil && (it.Fig.Unit != "" || it.Fig.Width > 0 || it.Fig.Count() >= 0 && cl.Sep == ":")
			if !value && !it.Is(lexicon.Quiet) && !phrase.Little[it.Low] && !it.Is(lexicon.Prep) && !it.Joins {
				figures = false
			}
		}
		if figures {
			out[len(out)-1].Items = append(slices.Clone(out[len(out)-1].Items), cl.Items...)
			continue
		}
		out = append(out, cl)
	}
	return out
}

// leadIn says whether a clause only says in which direction the work goes: "putting it back:".
func leadIn(cl phrase.Clause) (back, ok bool) {
	var words []string
	for _, it := range cl.Items {
		words = append(words, it.Low)
	}
	switch strings.Join(words, " ") {
	case "putting it back", "putting back", "putting it together", "closing up", "closing", "reassembly", "back together",
		"putting it back together":
		return true, true
	case "taking it apart", "opening", "opening up":
		return false, true
	}
	return false, false
}

// retracts reads a line that takes something of the log back: "no, 3", "sorry 3 screws", "battery not out yet".
func (r *line) retracts(clauses []phrase.Clause) bool {
	if len(clauses) == 0 || len(clauses[0].Items) == 0 {
		return false
	}
	first := clauses[0].Items[0]
	how := first.Canon(lexicon.Correction)
	if how == "" {
		return false
	}
	rest := slices.Clone(clauses[0].Items[1:])
	marked := len(rest) == 0 && len(clauses) > 1
	for _, cl := range clauses[1:] {
		rest = append(rest, cl.Items...)
	}
	if len(rest) == 0 && how == "replaced" && !(first.Low == "scratch that" || first.Low == "wrong") {
		return false
	}
	if second := canonOf(rest, lexicon.Correction); second == "withdrawn" {
		how = "withdrawn"
	}
	if k, entry := r.lastCounted(); how == "replaced" && k >= 0 {
		n, plain := -1, true
		for _, it := range rest {
			switch {
			case it.Fig != nil && it.Fig.Count() >= 0 && n < 0:
				n = it.Fig.Count()
			case it.Is(lexicon.NounWord) && (it.Canon(lexicon.NounWord) == "screw" || it.Canon(lexicon.NounWord) == "pull tab"),
				phrase.Little[it.Low], it.Canon(lexicon.Correction) == "replaced", it.Low == "only", it.Low == "just":
			default:
				plain = false
			}
		}
		if plain && n >= 0 && (marked || first.Low != "wait") {
			f := entry.Fact
			f.Count, f.Lengths, f.Note = n, nil, ""
			f.Corrects = &shorthand.Correction{Entry: entry.ID, How: "replaced"}
			r.add(draft{f: f, m: r.known(f), from: clauses[0].Items[0].From(), to: end(clauses)})
			return true
		}
	}
	if how == "replaced" && first.Low == "no" && !marked && canonOf(rest, lexicon.Correction) == "" && len(clauses) == 1 {
		return false // "no marks on the frame": a remark
	}
	if how == "replaced" && first.Low == "wait" && !marked {
		return false
	}
	r.withdraw(how, rest, clauses)
	return true
}

func canonOf(items []phrase.Item, class lexicon.Class) string {
	for _, it := range items {
		if c := it.Canon(class); c != "" {
			return c
		}
	}
	return ""
}

func end(clauses []phrase.Clause) int {
	last := clauses[len(clauses)-1].Items
	return last[len(last)-1].To()
}

// lastCounted is the last entry with a count.
func (r *line) lastCounted() (int, Entry) {
	for i := len(r.past) - 1; i >= 0; i-- {
		if r.past[i].Fact.Count > 0 && r.past[i].Fact.Corrects == nil {
			return i, r.past[i]
		}
	}
	return -1, Entry{}
}

// known is what a fact of the log is about.
func (r *line) known(f shorthand.Fact) meant {
	for _, p := range r.c.Parts {
		if p.ID == f.Part && f.Part != "" {
			return meant{parts: []shorthand.Named{p}}
		}
	}
	return meant{}
}

// withdraw takes back the last entry that is about the part named; where none is, it asks which.
func (r *line) withdraw(how string, rest []phrase.Item, clauses []phrase.Clause) {
	var nouns []phrase.Token
	for _, it := range rest {
		if noun(it) && !it.Is(lexicon.Correction) {
			nouns = append(nouns, it.Tokens...)
		}
	}
	m := meant{}
	if len(nouns) > 0 {
		m = r.find(nouns)
	}
	var list []draft
	for i := len(r.past) - 1; i >= 0 && len(list) < 5; i-- {
		e := r.past[i]
		if v, _ := trade.VerbOf(e.Fact.Verb); !v.Step || e.Fact.Corrects != nil {
			continue
		}
		f := e.Fact
		f.Corrects = &shorthand.Correction{Entry: e.ID, How: "withdrawn"}
		d := draft{f: f, m: r.known(f), from: clauses[0].Items[0].From(), to: end(clauses)}
		if p := m.one(); how == "withdrawn" && p != nil && p.ID == f.Part {
			r.add(d)
			return
		}
		list = append(list, d)
	}
	if len(list) == 0 {
		r.add(draft{f: shorthand.Fact{Verb: "note", Note: strings.TrimSpace(r.text)}, to: len([]rune(r.text))})
		return
	}
	r.asks = "entry"
	for _, d := range list {
		d.asks = "entry"
		r.choices = append(r.choices, Choice{drafts: []draft{d}})
	}
	r.drafts = append(r.drafts, r.choices[0].drafts...)
}

// add keeps a fact, and lets the rest of the line know of it. The same fact twice is one.
func (r *line) add(d draft) {
	d.clause = r.clause
	if p := d.m.one(); p != nil {
		d.f.Part, d.f.Name = p.ID, p.Name
	}
	for _, o := range r.drafts {
		if o.f.Verb == d.f.Verb && o.f.Verb != "note" && o.f.Part != "" && o.f.Part == d.f.Part && o.f.Back == d.f.Back &&
			o.f.Count == d.f.Count && len(d.f.Measures) == 0 && d.f.Outcome == o.f.Outcome && d.f.Connector == o.f.Connector &&
			d.f.Drive == o.f.Drive {
			r.qualified = append(r.qualified, r.clause)
			return
		}
	}
	r.drafts = append(r.drafts, d)
	r.past = append(r.past, Entry{Fact: d.f})
}
