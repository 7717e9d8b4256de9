package benchline

import (
	"slices"
	"strings"

	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/phrase"
	"waryowl/internal/core/shorthand"
)

// nounPhrase is a run of words that names a thing.
type nounPhrase struct {
	tokens   []phrase.Token
	at, to   int // items
	prep     string
	joined   bool // joined to the one before
	count    int  // the figure right before or behind it, −1 for none
	all      bool
	m        meant
	tells    bool // words that tell parts apart, without a head
	used     bool
	articled bool
}

// clause is one clause while it is read.
type clause struct {
	*line
	items    []phrase.Item
	role     []role
	used     []bool
	nouns    []nounPhrase
	verb     string // of the act said, "" for none; "particle" where a particle says it
	part     string // the particle
	back     bool
	on       bool // the particle is "on"
	toolSaid string
}

// read reads a clause: a remark, or the acts in it.
func (r *line) read(cl phrase.Clause) {
	c := &clause{line: r, items: cl.Items, role: r.roles(cl.Items), used: make([]bool, len(cl.Items)), back: r.back}
	if cl.Question || c.remark() {
		r.remark(cl)
		return
	}
	c.phrases()
	before := len(r.drafts)
	if c.joinsBefore() {
		return
	}
	if len(c.nouns) > 0 {
		defer func(list []phrase.Token) {
			if len(list) > 0 {
				r.headNoun = list
			}
		}(c.nouns[0].tokens)
	}
	for _, f := range []func() bool{c.longer, c.heat, c.soak, c.mishap, c.tabs, c.check, c.tooMuch} {
		if f() {
			c.finish(cl, before)
			return
		}
	}
	c.acts(cl)
	c.finish(cl, before)
}

// remark says whether the mood of a clause makes it a remark: what should, would or may be, what stays or is not.
func (c *clause) remark() bool {
	acts := false
	for i := range c.items {
		acts = acts || c.role[i] == outcome || c.role[i] == figure
	}
	for i := range c.items {
		switch c.role[i] {
		case mood:
			if c.items[i].Low == "careful" && i > 0 && c.hasAct(i) { // "face module out, careful with the flex"
				continue
			}
			return true
		case not:
			if i+1 < len(c.items) {
				switch c.role[i+1] {
				case act, backAct:
					return true
				case particle:
					return !c.purpose()
				case quiet, thing, prep:
					return true
				}
			}
		}
	}
	return false
}

func (c *clause) hasAct(before int) bool {
	for i := range before {
		if c.role[i] == particle || c.role[i] == act {
			return true
		}
	}
	return false
}

// purpose says whether the clause says "on purpose".
func (c *clause) purpose() bool { return c.find2("purpose") >= 0 || c.find2("deliberately") >= 0 }

func (c *clause) find2(low string) int {
	return slices.IndexFunc(c.items, func(it phrase.Item) bool { return it.Low == low })
}

// phrases builds the noun phrases of the clause and resolves them.
func (c *clause) phrases() {
	prep, all, article := "", false, false
	joined := false
	for i := 0; i < len(c.items); i++ {
		it := c.items[i]
		switch c.role[i] {
		case joins:
			joined = true
			continue
		case prep_:
			prep = it.Low
			continue
		case quiet:
			if it.Low == "all" || it.Low == "both" {
				all = true
			}
			article = article || it.Low == "the"
			continue
		case thing:
		default:
			if c.role[i] != length && c.role[i] != figure && c.role[i] != drive {
				prep = ""
			}
			continue
		}
		n := nounPhrase{at: i, prep: prep, joined: joined, all: all, count: -1, articled: article}
		k := i
		for ; k < len(c.items) && c.role[k] == thing; k++ {
			if k > i && c.items[k].Sep != "" {
				break
			}
			n.tokens = append(n.tokens, c.nounTokens(k)...)
			if id := thingOf([]string{c.items[k].Low}); id == "screw" || id == "post" { // screws end a phrase
				k++
				break
			}
			if k+2 < len(c.items) && c.items[k+1].Low == "of" { // "flex of the display"
				j := k + 2
				if c.items[j].Low == "the" && j+1 < len(c.items) {
					j++
				}
				if c.role[j] == thing {
					for m := k + 1; m < j; m++ {
						c.used[m] = true
					}
					k = j - 1
				}
			}
		}
		n.to = k
		if i > 0 && c.role[i-1] == figure && c.items[i-1].Fig.Count() >= 0 {
			n.count = c.items[i-1].Fig.Count()
		}
		c.nouns = append(c.nouns, n)
		prep, all, joined, article = "", false, false, false
		i = k - 1
	}
	c.heads()
	for i := range c.nouns {
		n := &c.nouns[i]
		n.tells = !slices.ContainsFunc(n.tokens, func(t phrase.Token) bool {
			return !onlyTells([]string{t.Low})
		})
		if w := lows(n.tokens); len(w) > 1 && thingOf(w[len(w)-1:]) == "rim" && onlyTells(w[:len(w)-1]) {
			n.tells = true // "bottom edge"
		}
		if n.tells && !(len(c.nouns) > i+1 && c.nouns[i+1].joined) {
			if head := c.headWords(); len(head) > 0 && (n.articled || c.has("too") || c.next(n.to).Is(lexicon.Again)) {
				n.tokens, n.tells = slices.Concat(n.tokens, head), false
			}
		}
		if !n.tells {
			n.m = c.find(n.tokens)
			if n.all || c.find2("both") >= 0 || c.find2("all") >= 0 {
				n.m.all = true
			}
		}
	}
}

const prep_ = prep

func (c *clause) has(low string) bool { return c.find2(low) >= 0 }

func (c *clause) next(i int) phrase.Item {
	if i >= 0 && i < len(c.items) {
		return c.items[i]
	}
	return phrase.Item{}
}

// nounTokens are the tokens of an item of a noun phrase; a word of the workshop stands for what it means.
func (c *clause) nounTokens(i int) []phrase.Token {
	it := c.items[i]
	if it.Own == nil {
		return it.Tokens
	}
	var out []phrase.Token
	for _, w := range strings.Fields(lexicon.Norm(it.Own.Means)) {
		out = append(out, phrase.Token{Text: w, Low: w, From: it.From(), To: it.To()})
	}
	return out
}

// heads gives joined words that only tell parts apart the head of the phrase that they are joined to: "front and rear
// cam".
func (c *clause) heads() {
	for i := len(c.nouns) - 2; i >= 0; i-- {
		n, next := &c.nouns[i], c.nouns[i+1]
		only := !slices.ContainsFunc(n.tokens, func(t phrase.Token) bool { _, tell := lexicon.Tell(t.Low); return !tell })
		if next.joined && only && len(next.tokens) > 1 {
			n.tokens = append(slices.Clone(n.tokens), next.tokens[len(next.tokens)-1])
		}
	}
}

// headWords is the head noun of what was spoken of last.
func (c *clause) headWords() []phrase.Token {
	if len(c.headNoun) > 0 {
		return c.headNoun[len(c.headNoun)-1:]
	}
	for i := len(c.past) - 1; i >= 0; i-- {
		if w := strings.Fields(lexicon.Norm(c.past[i].Fact.Name)); len(w) > 0 {
			return []phrase.Token{{Text: w[len(w)-1], Low: w[len(w)-1]}}
		}
	}
	return nil
}

// remark keeps a clause as a note.
func (r *line) remark(cl phrase.Clause) {
	d := draft{f: shorthand.Fact{Verb: "note", Note: cl.Text(r.text)}, from: cl.Items[0].From(),
		to:     cl.Items[len(cl.Items)-1].To(),
		clause: r.clause}
	r.drafts = append(r.drafts, d)
}

// finish says what of the clause was not read: beside an act every word must have said something.
func (c *clause) finish(cl phrase.Clause, before int) {
	acted := len(c.drafts) > before
	c.afterFigures(before)
	if slices.Contains(c.qualified, c.clause) && !acted {
		return
	}
	if !acted && len(c.nouns) == 1 && c.nouns[0].m.thing == "screw" && c.nouns[0].m.none() &&
		c.onlyNoun() { // "bottom screws"
		var w []string
		for _, t := range c.nouns[0].tokens {
			if onlyTells([]string{t.Low}) {
				w = append(w, t.Low)
			}
		}
		c.placeSaid = join(w)
		c.pendingSubject = append(c.pendingSubject, c.clause)
	}
	if !acted && c.silent() {
		return
	}
	if !acted {
		if len(c.nouns) > 0 && !c.nouns[0].m.none() && !c.nouns[0].m.doubtful && c.onlyNoun() { // "main board: 4 star"
			c.subject = c.nouns[0].m
			c.reason = c.whys()
			c.pendingSubject = append(c.pendingSubject, c.clause)
		}
		c.line.remark(cl)
		return
	}
	for _, n := range c.nouns {
		if n.used {
			c.unread = append(c.unread, n.m.idle...)
			for k := n.at; k < n.to; k++ {
				c.used[k] = true
			}
		}
	}
	for i, it := range c.items {
		if c.used[i] || c.role[i] == quiet || c.role[i] == joins || c.role[i] == prep_ || it.Is(lexicon.Quiet) ||
			phrase.Little[it.Low] {
			continue
		}
		c.unread = append(c.unread, it.Tokens...)
	}
}

// afterFigures keeps what stands behind the figures of a part as a remark: "2140 mAh steel can".
func (c *clause) afterFigures(before int) {
	if len(c.drafts) == before || c.drafts[len(c.drafts)-1].f.Verb != "measure" {
		return
	}
	last := -1
	for i, it := range c.items {
		if it.Fig != nil && it.Fig.Unit != "" {
			last = i
		}
	}
	from := last + 1
	for k := from; k < len(c.items); k++ {
		if c.role[k] != thing && c.role[k] != quiet && c.role[k] != prep_ {
			return
		}
	}
	free := false
	for k := from; k < len(c.items); k++ {
		free = free || c.role[k] == thing && !c.used[k] && !c.inUsed(k)
	}
	if !free {
		return
	}
	rs := []rune(c.text)
	c.line.drafts = append(c.line.drafts, draft{f: shorthand.Fact{Verb: "note",
		Note: strings.TrimSpace(string(rs[c.items[from].From():c.items[len(c.items)-1].To()]))},
		from: c.items[from].From(), to: c.items[len(c.items)-1].To(), clause: -1})
	for k := from; k < len(c.items); k++ {
		c.used[k] = true
	}
}

func (c *clause) inUsed(i int) bool {
	return slices.ContainsFunc(c.nouns, func(n nounPhrase) bool { return n.used && n.at <= i && i < n.to })
}

func (c *clause) onlyNoun() bool {
	for i := range c.items {
		switch c.role[i] {
		case thing, quiet, prep_, joins, why:
		case particle:
			if c.items[i].Low != "in" || c.whys() == "" {
				return false
			}
		default:
			return false
		}
	}
	return true
}

// silent says whether a clause says nothing at all: "outside:", "ok".
func (c *clause) silent() bool {
	for i := range c.items {
		if c.role[i] != quiet && c.role[i] != joins && c.role[i] != prep_ && !onlyTells(lows(c.items[i].Tokens)) {
			return false
		}
	}
	return true
}

// whys are the words that say why something would not come.
func (c *clause) whys() string {
	s := ""
	for i, it := range c.items {
		if c.role[i] == why {
			s = strings.TrimSpace(s + " " + it.Low)
		}
	}
	return s
}
