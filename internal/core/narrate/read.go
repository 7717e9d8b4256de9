package narrate

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/shorthand"
)

// reader goes through a recording once, clause by clause.
type reader struct {
	in       Input
	dict     *dictionary
	toks     []tok
	list     []Proposal
	guide    bool
	put      bool   // things go back in
	unit     string // in work
	by       string
	acted    string // acted on last
	named    string // named last
	face     string // opened last
	faceless []int  // heats of which nobody said which face, by word
	heat     int    // proposal of the last heat, −1
	soft     int    // of the last solvent, −1
	time     float64
	scored   float64 // when a score was given last, plus one
	paid     float64 // when a price was named last, plus one
	tape     string  // tape, film or sticker that was named last
	tail     *item   // the function that ended the clause before, nothing said of it yet
	tried    string  // exchanged last
	tabs     int     // pull tabs that were counted
	fast     string  // screws that were named last
	big      string  // part that may be exchanged, named last
	read     []bool  // by token: rests under a proposal
	why      []string
	fixes    []Correction

	vocabulary shorthand.Vocabulary
	parsed     map[string]bool // by line: the bench reads it
}

// Solve proposes what a recording tells.
func Solve(in Input) (Output, error) {
	out := Output{Proposals: []Proposal{}, Corrections: []Correction{}, Skipped: []Span{}, Unread: []Span{},
		Summary: Summary{ByKind: map[string]int{}, Screws: []ScrewSum{}, Sums: []Sum{}, Voice: "log"}}
	if err := in.check(); err != nil {
		return out, err
	}
	r := &reader{
		in:     in,
		dict:   newDictionary(in),
		toks:   tokens(in.Cues),
		unit:   in.Unit,
		by:     "in work",
		heat:   -1,
		soft:   -1,
		parsed: map[string]bool{},
	}
	r.read, r.why = make([]bool, len(r.toks)), make([]string, len(r.toks))
	items := r.particles(r.dict.lex(r.toks))
	list := clauses(items, r.toks)
	r.guide = in.Voice == "guide" || in.Voice != "log" && guides(list)
	if r.guide {
		out.Summary.Voice = "guide"
	}
	ad := false
	before := mood{did: "done", acted: true}
	for i, c := range list {
		if len(c.items) == 0 {
			continue
		}
		if advertised(c) {
			ad = true
		} else if ad && benched(c) {
			ad = false
		}
		if ad {
			r.skip(c, "advert")
			continue
		}
		next := clause{}
		if i+1 < len(list) {
			next = list[i+1]
		}
		before = r.clause(c, next, before)
	}
	r.merge()
	r.finish(&out)
	return out, nil
}

// guides says whether a recording tells others what to do rather than what was done.
func guides(list []clause) bool {
	told, orders := 0, 0
	for _, c := range list {
		for k, it := range c.items {
			switch {
			case it.k == plain && (it.c == "i" || it.c == "my"):
				told++
			case it.k == plain && (it.c == "you" || it.c == "your"):
				orders++
			case (it.k == act || it.k == back) && !it.done && k == 0 && c.first:
				orders += 2
			}
		}
		if c.says("has to") || c.says("needs to be") || c.says("can be") || c.says("can now be") ||
			c.says("have to be") {
			orders++
		}
	}
	return orders > told
}

func advertised(c clause) bool {
	for _, it := range c.items {
		if it.k == advert {
			return true
		}
	}
	return c.says("brought to you") || c.says("pay for the tea") || c.says("quick word from") ||
		c.says("sent me three for nothing") ||
		c.says("this sort of thing")
}

// benched says whether a clause has an act and a thing: the bench speaks again.
func benched(c clause) bool {
	verb, thing := c.says("back to work") || c.says("right back to") || c.says("back to the"), false
	for _, it := range c.items {
		verb = verb || it.k == act || it.k == back
		thing = thing || it.k == noun || it.k == drive
	}
	return verb && (thing || c.says("back to")) || c.lead == "right" && c.says("back to")
}

func (r *reader) skip(c clause, why string) {
	for _, it := range c.items {
		for k := it.a; k < it.b; k++ {
			r.why[k] = why
		}
	}
}

// particles makes acts of "off" and "out" behind a thing, and marks "in", "on", "back" there.
func (r *reader) particles(items []item) []item {
	for i := range items {
		it := &items[i]
		if p := items[max(0, i-1)]; it.s == "open" && i > 0 && p.k == noun &&
			(p.c == "display" || p.c == "rear glass") &&
			r.toks[p.b-1].brk == 0 &&
			!(i > 1 && items[i-2].k == act) {
			it.done, it.state = true, true // "screen open"
			continue
		}
		if it.k != plain || i == 0 || r.toks[it.a-1].brk == '.' {
			continue
		}
		prev := items[i-1]
		after := ""
		if i+1 < len(items) && r.toks[it.b-1].brk == 0 {
			after = items[i+1].s
		}
		thing := prev.k == noun || prev.k == check
		taken := prev.k == plain && strings.Contains("|it|them|those|these|both|all|one|", "|"+prev.c+"|") &&
			took(items[:i])
		be := prev.k == plain && (prev.c == "is" || prev.c == "are") && i > 1
		switch {
		case (it.c == "off" || it.c == "out" || it.c == "free") && (thing || be || taken || prev.k == act && prev.state) &&
			after != "of" && after != "from":
			it.k, it.done, it.state = act, true, true
			it.c = "lift"
			for k := i - 1; k >= max(0, i-5); k-- { // "pulled the camera out": one act
				if x := &items[k]; x.k == act && !x.state {
					if slices.Contains([]string{"pull", "slide", "pry", "lift"}, x.c) && !strings.Contains(x.s, " ") {
						x.k = plain
					}
					break
				}
			}
		case (it.c == "in" || it.c == "on" || it.c == "down" || it.c == "back") && thing && (after == "" ||
			after == "then" || after == "and" || after == "with" ||
			after == "first" || after == "last" || i+1 < len(items) && (items[i+1].k == back || items[i+1].k == act) ||
			i+1 < len(items) && (items[i+1].k == number || items[i+1].k == drive || items[i+1].k == noun && it.c != "on")):
			it.k, it.done, it.state = back, true, true
			it.c = "lift"
		case it.c == "done" && thing && after != "with":
			it.k, it.done, it.state = back, true, true
			it.c = "lift"
		}
	}
	return items
}

// took says whether "take" stands before a pronoun: "take them out".
func took(before []item) bool {
	for k := max(0, len(before)-4); k < len(before); k++ {
		if before[k].k == plain && strings.Contains("|take|took|taken|get|got|bring|", "|"+before[k].c+"|") {
			return true
		}
	}
	return false
}

// add puts a proposal on the list.
func (r *reader) add(c clause, p Proposal, m mood) int {
	t := r.toks[p.tok]
	p.Cue, p.Start = t.cue, r.in.Cues[t.cue].Start
	p.Did, p.Acted = m.did, m.acted
	p.Unit, p.UnitBy = r.unit, r.by
	if p.Unit == "" {
		p.UnitBy = ""
	}
	p.Doubts = []Doubt{}
	first, last := t, t
	for _, it := range c.items {
		a, b := r.toks[it.a], r.toks[it.b-1]
		if a.cue == t.cue && a.from < first.from {
			first = a
		}
		if b.cue == t.cue && b.to > last.to {
			last = b
		}
		for k := it.a; k < it.b; k++ {
			r.read[k] = true
		}
	}
	p.From, p.To = first.from, last.to
	if end := r.toks[c.items[len(c.items)-1].b-1]; end.cue > t.cue {
		p.ToCue = end.cue
	}
	p.Part = r.partOf(p.Object)
	if p.Rule == "" {
		p.Rule = p.Kind
	}
	r.list = append(r.list, p)
	return len(r.list) - 1
}

// partOf is the part of the model that an object is.
func (r *reader) partOf(object string) string {
	o := lexicon.Norm(object)
	for _, p := range r.in.Parts {
		for _, a := range append([]string{p.Name}, p.Aliases...) {
			a = lexicon.Norm(a)
			if a == o {
				return p.Name
			}
			if c, known := lexicon.Noun(a); known && c == o {
				return p.Name
			}
		}
	}
	return ""
}

var confidence = map[string]float64{
	"step.state":   .91,
	"step.active":  .85,
	"step.passive": .9,
	"put_back":     .87,
	"heat":         .9,
	"solvent":      .8,
	"wait":         .85,
	"release":      .85,
	"count":        .82,
	"measure":      .93,
	"incident":     .85,
	"check":        .85,
	"trial":        .8,
	"part":         .6,
	"covers":       .7,
	"hidden":       .6,
	"caution":      .7,
	"price":        .9,
	"score":        .85,
	"verdict":      .55,
	"unit":         .6,
	"left_over":    .85,
	"note":         .5,
}

// finish counts confidence, orders and numbers the proposals, and lists what was not read.
func (r *reader) finish(out *Output) {
	slices.SortStableFunc(
		r.list,
		func(a, b Proposal) int { return cmp.Or(cmp.Compare(a.Start, b.Start), cmp.Compare(a.tok, b.tok)) },
	)
	for i := range r.list {
		p := &r.list[i]
		p.ID = fmt.Sprint("n", i+1)
		m, known := confidence[p.Rule]
		if !known {
			m = .6
		}
		const weight = 20
		n := r.in.Record[p.Rule]
		p.Confidence = (float64(n[0]) + weight*m) / (float64(n[1]) + weight)
		if !p.Acted && p.Did != "done" {
			p.Confidence = min(p.Confidence, .75)
		}
		if p.UnitBy == "guess" {
			p.Doubts = append(p.Doubts, Doubt{"which phone", "the phone was not named"})
		}
		for range p.Doubts {
			p.Confidence -= .08
		}
		p.Confidence = float64(int(1000*max(.05, p.Confidence)+.5)) / 1000
		p.Into = map[string]string{"check": "checks", "trial": "swap", "verdict": "score", "score": "score",
			"price": "offers", "part": "catalogue",
			"covers": "plan", "hidden": "plan", "left_over": "closing", "unit": "unit"}[p.Kind]
		p.Into = cmp.Or(p.Into, "log")
		p.Line = r.line(*p)
		out.Summary.ByKind[p.Kind]++
	}
	id := map[string]string{} // what was said is known by its word until it has a number
	for _, p := range r.list {
		id[fmt.Sprint("#", p.tok)] = p.ID
	}
	for i := range r.list {
		r.list[i].Withdrawn = id[r.list[i].Withdrawn]
	}
	for _, f := range r.fixes {
		if f.Proposal, f.By = id[f.Proposal], id[f.By]; f.Proposal != "" && f.By != "" {
			out.Corrections = append(out.Corrections, f)
		}
	}
	if len(r.list) > 0 {
		out.Proposals = r.list
	}
	r.screws(out)
	r.spans(out)
	if n := len(r.in.Cues); n > 0 {
		out.Summary.Seconds = max(r.in.Cues[n-1].End, r.in.Cues[n-1].Start) - r.in.Cues[0].Start
	}
}

// screws adds up what went out and came back.
func (r *reader) screws(out *Output) {
	by := map[string]*ScrewSum{}
	for _, p := range r.list {
		if !p.Acted || p.Verb != "unfasten" || p.Count == 0 || p.Withdrawn != "" {
			continue
		}
		name := "screw"
		if d, is := strings.CutSuffix(p.Object, " screw"); is {
			if _, known := lexicon.Is(lexicon.Norm(d), lexicon.Drive); known {
				name = d
			}
		}
		if by[name] == nil {
			by[name] = &ScrewSum{Drive: name}
		}
		if p.Kind == "put_back" {
			by[name].Back += p.Count
		} else {
			by[name].Out += p.Count
		}
	}
	for _, s := range by {
		out.Summary.Screws = append(out.Summary.Screws, *s)
	}
	slices.SortFunc(out.Summary.Screws, func(a, b ScrewSum) int { return cmp.Compare(a.Drive, b.Drive) })
}

// spans lists every stretch of words that no proposal rests on: skipped with a reason, or unread where a bench word
// stands in it.
func (r *reader) spans(out *Output) {
	words := 0
	for i := 0; i < len(r.toks); {
		if r.read[i] {
			words++
			i++
			continue
		}
		k := i
		for k < len(r.toks) && !r.read[k] && r.toks[k].cue == r.toks[i].cue && r.why[k] == r.why[i] {
			k++
		}
		s := Span{Cue: r.toks[i].cue, From: r.toks[i].from, To: r.toks[k-1].to, Why: r.why[i]}
		runes := []rune(r.in.Cues[s.Cue].Text)
		text := string(runes[s.From:s.To])
		bench := false
		for _, it := range r.dict.lex(r.toks[i:k]) {
			bench = bench || it.k == act || it.k == noun || it.k == value
		}
		switch {
		case s.Why != "":
			out.Skipped = append(out.Skipped, s)
		case bench:
			s.Text, s.Near = text, []string{}
			out.Unread = append(out.Unread, s)
		default:
			s.Why = "nothing of the bench"
			out.Skipped = append(out.Skipped, s)
		}
		i = k
	}
	if len(r.toks) > 0 {
		out.Summary.WordsRead = float64(int(1000*float64(words)/float64(len(r.toks))+.5)) / 1000
	}
}
