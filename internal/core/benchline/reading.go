package benchline

import (
	"slices"
	"strings"

	"waryowl/internal/core/admit"
	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/phrase"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
)

// read reads a line: by the grammar where it takes the whole of it, else as people write, else whichever leaves fewer words
// unread.
func (c Context) read(text string) Answer {
	text = strings.ToValidUTF8(text, "\uFFFD")
	body := text
	if rest, ok := strings.CutPrefix(strings.TrimSpace(text), c.Unit+":"); ok && c.Unit != "" {
		body = strings.Repeat(" ", len([]rune(text))-len([]rune(rest))) + rest
	}
	g := shorthand.Parse(c.taught(body), c.Vocabulary)
	if c.grammarTakes(body, g) {
		return c.byGrammar(text, g)
	}
	n := c.natural(body)
	if len(n.choices) == 0 && opensGrammar(body) && g.Fact.Verb != "note" && len(g.Unread) < n.open() &&
		admit.Refuse(g.Fact, c.situation(c.fact(g))) == "" {
		return c.byGrammar(text, g)
	}
	return c.byNature(text, n)
}

// Resolve finds what a reading means on a phone as it lies there now: its step, its stops.
func Resolve(c Context, x shorthand.Reading) FactAnswer { return c.whole().fact(x) }

// open counts the words that a natural reading leaves unread; a line that is a note leaves all.
func (r *line) open() int {
	if len(r.drafts) == 1 && r.drafts[0].f.Verb == "note" && r.drafts[0].f.Surplus == nil {
		return len(strings.Fields(r.text))
	}
	n := len(r.unread)
	for _, d := range r.drafts {
		if d.asks != "" || d.m.doubtful {
			n++
		}
	}
	return n
}

// taught puts what the workshop's words mean in their place, for the grammar.
func (c Context) taught(text string) string {
	for _, o := range c.Words {
		if o.Kind == "model" || o.Kind == "unit" || o.Kind == "check" || o.Say == "" {
			continue
		}
		words := strings.Fields(text)
		for i, w := range words {
			if strings.EqualFold(w, o.Say) {
				words[i] = o.Means
				text = strings.Join(words, " ")
			}
		}
	}
	return text
}

// opensGrammar says whether a line begins as a line of the grammar does: with a verb letter, a sign, or a verb word, and no
// clause ends right behind it.
func opensGrammar(text string) bool {
	list := phrase.Tokens(text)
	trimmed := strings.TrimSpace(text)
	if strings.HasPrefix(trimmed, "?") || strings.HasPrefix(trimmed, "!") {
		return true
	}
	i := 0
	plus := strings.HasPrefix(trimmed, "+")
	if plus {
		i = 1
	}
	if i >= len(list) || list[i].Text == "" {
		return false
	}
	if i+1 < len(list) && list[i+1].Sep != "" {
		return false
	}
	w := list[i].Low
	next := ""
	if i+1 < len(list) {
		next = list[i+1].Low
	}
	if (w == "l" || w == "r") && slices.Contains([]string{"side", "edge", "top", "corner", "bottom"}, next) {
		return false
	}
	if plus && (w == "put" || w == "refit" || w == "reinstall" || w == "connect" || w == "reconnect") {
		return true
	}
	for n := min(3, len(list)-i); n > 0; n-- {
		p := ""
		for k := i; k < i+n; k++ {
			p = strings.TrimSpace(p + " " + list[k].Low)
		}
		for _, v := range trade.Verbs {
			if p != v.Letter && p != v.ID && !slices.Contains(v.Words, p) {
				continue
			}
			if v.ID == "tool" && p != "t" && p != "tool" {
				_, known := trade.ToolOf(next)
				return known
			}
			return true
		}
		if slices.Contains(shorthand.BackWords(), p) {
			return true
		}
	}
	return false
}

// grammarTakes says whether the grammar takes a whole line: it opens it, nothing is unread or refused, and a new part is made
// of words of the lexicon.
func (c Context) grammarTakes(text string, g shorthand.Reading) bool {
	trimmed := strings.TrimSpace(text)
	if trimmed == "" || strings.HasPrefix(trimmed, "?") {
		return true
	}
	if !opensGrammar(text) || len(g.Unread) > 0 || g.Fact.Verb == "note" && g.Fact.Surplus == nil && !noteWord(trimmed) {
		return false
	}
	if g.NewPart != nil {
		for _, w := range strings.Fields(lexicon.Norm(g.NewPart.Name)) {
			if !lexicon.Known(w) && !knownToTrade(w) {
				return false
			}
		}
	}
	letter := len(phrase.Tokens(trimmed)) > 0 && (len([]rune(phrase.Tokens(trimmed)[0].Low)) == 1 || strings.HasPrefix(trimmed, "!"))
	if f := g.Fact; !letter && f.Verb == "cut" && f.Joint == "" && strings.HasPrefix(strings.ToLower(trimmed), "pull") {
		return false // "pull jack": nothing sticks
	}
	if f := g.Fact; !letter && (f.Verb == "lift" || f.Verb == "bracket") && (f.Drive != "" || f.Count > 0 || f.Joint != "") {
		return false // a verb word, and screws: the grammar would lift them
	}
	if len(g.Candidates) > 0 {
		return true
	}
	return admit.Refuse(g.Fact, c.situation(c.fact(g))) == ""
}

func knownToTrade(w string) bool {
	if _, ok := trade.Thing(w); ok {
		return true
	}
	for s := range trade.Synonyms() {
		if slices.Contains(strings.Fields(s), w) {
			return true
		}
	}
	return false
}

func noteWord(text string) bool {
	w, _, _ := strings.Cut(strings.ToLower(text), " ")
	return w == "note" || w == "remark" || w == "n"
}

// situation is what admit needs to know beside a fact.
func (c Context) situation(a FactAnswer) admit.Situation {
	s := admit.Situation{NewPart: a.NewPart != nil, Step: a.StepID != "" && !a.Again, OnRecord: a.Fact.Part != ""}
	if !a.Fact.Back && (a.Fact.Verb == "lift" || a.Fact.Verb == "bracket") && a.Fact.Part != "" && a.Fact.Outcome == "" {
		r := line{c: c, past: c.Log}
		s.Out = r.isOut(a.Fact.Part)
	}
	return s
}

func (c Context) byGrammar(text string, g shorthand.Reading) Answer {
	f := c.fact(g)
	f.From, f.To = bounds(text)
	doubtful := g.NewPart != nil && slices.ContainsFunc(strings.Fields(lexicon.Norm(g.NewPart.Name)),
		func(w string) bool { return !lexicon.Known(w) && !knownToTrade(w) })
	if doubtful && f.Asks == "" {
		f.Asks = "new part"
	}
	a := c.answer("grammar", text, []FactAnswer{f})
	if doubtful {
		a.Choices = append(a.Choices, Choice{Text: g.NewPart.Name + " (new part)", Facts: a.Facts},
			Choice{Text: "a note", Facts: c.noteOf(text)})
	}
	return a
}

func bounds(text string) (from, to int) {
	rs := []rune(text)
	to = len(rs)
	from = len(rs) - len([]rune(strings.TrimLeft(text, " \t")))
	to = len([]rune(strings.TrimRight(text, " \t")))
	return min(from, to), to
}

// answer joins facts into the answer of a line.
func (c Context) answer(read, text string, facts []FactAnswer) Answer {
	a := Answer{FactAnswer: facts[0], Read: read, Facts: facts, Choices: []Choice{}, Learn: []phrase.Own{},
		Suggest: shorthand.Suggest(text, c.Vocabulary)}
	if len(facts) == 1 {
		return a
	}
	var echo, say []string
	a.Unread, a.Stops = []shorthand.Unread{}, a.Stops[:0:0]
	unit := ""
	if c.Unit != "" {
		unit = c.Unit + ": "
	}
	for _, f := range facts {
		echo = append(echo, strings.TrimPrefix(f.Echo, unit))
		say = append(say, f.Say)
		a.Unread = append(a.Unread, f.Unread...)
		a.Stops = append(a.Stops, f.Stops...)
		if a.Asks == "" {
			a.Asks = f.Asks
		}
	}
	a.Echo, a.Say = unit+strings.Join(echo, "; "), strings.Join(say, ". ")
	return a
}

// byNature turns the drafts of a natural reading into the answer; a fact that may not be logged is not offered, its words are
// unread and say why.
func (c Context) byNature(text string, r *line) Answer {
	facts, refused := c.facts(text, r.drafts)
	for _, t := range r.unread {
		refused = append(refused, shorthand.Unread{Column: t.From + 1, Length: t.To - t.From, Word: t.Text, Text: "not read", Known: []string{}})
	}
	if len(facts) == 0 {
		note := shorthand.Fact{Verb: "note", Note: noteText(text)}
		facts, _ = c.facts(text, []draft{{f: note, to: len([]rune(text))}})
	}
	c.spread(facts, refused)
	a := c.answer("natural", text, facts)
	if len(facts) == 1 {
		a.Unread = facts[0].Unread
	}
	c.ask(&a, text, r)
	return a
}

// spread gives each fact the unread words inside it; those of no fact go to the first.
func (c Context) spread(facts []FactAnswer, list []shorthand.Unread) {
	slices.SortStableFunc(list, func(a, b shorthand.Unread) int { return a.Column - b.Column })
	for i, u := range list {
		if i > 0 && list[i-1].Column == u.Column {
			continue
		}
		k := slices.IndexFunc(facts, func(f FactAnswer) bool { return u.Column > f.From && u.Column <= f.To })
		k = max(k, 0)
		facts[k].Unread = append(facts[k].Unread, u)
	}
}

// facts reads the drafts one after the other: each in the state that the one before it leaves.
func (c Context) facts(text string, drafts []draft) (out []FactAnswer, refused []shorthand.Unread) {
	for _, d := range drafts {
		x := shorthand.Reading{Fact: d.f}
		switch p := d.m.one(); {
		case p != nil:
			x.Fact.Part, x.Fact.Name = p.ID, p.Name
			if strings.HasPrefix(p.ID, "new:") {
				x.Fact.Part = p.ID
			}
		case len(d.m.parts) > 1:
			x.Candidates = c.likeliest(d.m.parts)
			x.Fact.Part, x.Fact.Name = x.Candidates[0].ID, x.Candidates[0].Name
		case d.m.fresh != "":
			kind, _ := trade.KindOf(d.m.fresh)
			k, _ := trade.KindByID(kind)
			family := k.Family
			if family == "" {
				family = "FR"
			}
			x.NewPart = &shorthand.NewPart{Name: d.m.fresh, Kind: kind, Family: family}
			if known := c.partNamed(d.m.fresh); known != nil { // named earlier in this line
				x.NewPart, x.Fact.Part, x.Fact.Name = nil, known.ID, known.Name
			}
		}
		c.say(&x)
		f := c.fact(x)
		f.From, f.To = d.from, d.to
		if d.asks != "" {
			f.Asks = d.asks
		}
		if x.NewPart != nil && d.m.doubtful && f.Asks == "" {
			f.Asks = "new part"
		}
		if d.before != "" {
			f.Say += ", as before: " + d.before
		}
		if why := admit.Refuse(f.Fact, c.situation(f)); why != "" && f.Asks == "" && d.f.Corrects == nil {
			for _, t := range phrase.Tokens(text) {
				if t.Text != "" && t.From >= d.from && t.To <= d.to {
					refused = append(refused, shorthand.Unread{Column: t.From + 1, Length: t.To - t.From, Word: t.Text, Text: why, Known: []string{}})
				}
			}
			continue
		}
		out = append(out, f)
		if len(f.Candidates) == 0 {
			c = c.afterFact(f, "")
		}
	}
	return out, refused
}

// say gives a reading its echo. The echo is a line of the grammar: where the grammar reads it as the same act in other
// fields, the fact takes those, so that a natural line and the grammar's line say the same.
func (c Context) say(x *shorthand.Reading) {
	plain := *x
	plain.Candidates = nil
	x.Echo = shorthand.Echo(plain, c.Vocabulary)
	if x.Fact.Corrects != nil || shorthand.KindOfFact(x.Fact) == "check" {
		return
	}
	only := shorthand.Vocabulary{Unit: c.Unit, Tools: c.Tools} // its exact name: no other part can be meant
	for _, p := range c.Parts {
		if p.ID == x.Fact.Part && p.ID != "" {
			only.Parts = []shorthand.Named{p}
		}
	}
	again := shorthand.Parse(x.Echo, only)
	f, g := x.Fact, again.Fact
	same := len(again.Unread) == 0 && f.Verb == g.Verb && f.Back == g.Back && f.Part == g.Part && f.Count == g.Count &&
		f.Drive == g.Drive && f.Seconds == g.Seconds && f.SetC == g.SetC && f.Outcome == g.Outcome && f.Connector == g.Connector &&
		len(f.Measures) == len(g.Measures) && f.Note == g.Note && f.Incident == g.Incident && f.Which == g.Which &&
		len(again.Candidates) == 0 && (x.NewPart == nil) == (again.NewPart == nil) && f.Result == g.Result && f.Side == g.Side
	if same {
		x.Fact = g
	}
}

func (c Context) partNamed(name string) *shorthand.Named {
	for i := range c.Parts {
		if trade.Plain(c.Parts[i].Name) == trade.Plain(name) {
			return &c.Parts[i]
		}
	}
	return nil
}

// likeliest orders parts that fit equally: those that a next step of the plan is about first.
func (c Context) likeliest(parts []shorthand.Named) []shorthand.Named {
	next := map[string]bool{}
	for _, s := range c.Steps {
		if !c.Done.Has(s.ID) && len(s.Lacks(c.Done)) == 0 {
			next[c.part(s)] = true
			for _, f := range s.Frees {
				next[f] = true
			}
		}
	}
	out := slices.Clone(parts)
	slices.SortStableFunc(out, func(a, b shorthand.Named) int {
		switch {
		case next[a.ID] == next[b.ID]:
			return 0
		case next[a.ID]:
			return -1
		}
		return 1
	})
	return out
}

// ask turns what a reading leaves open into choices that a digit answers.
func (c Context) ask(a *Answer, text string, r *line) {
	var asked *FactAnswer
	for i := range a.Facts {
		if f := &a.Facts[i]; len(f.Candidates) > 0 || f.Asks == "part" || f.Asks == "new part" {
			asked = f
			break
		}
	}
	switch {
	case r.asks == "entry":
		a.Asks = "entry"
		for _, ch := range r.choices {
			facts, _ := c.facts(text, ch.drafts)
			if len(facts) > 0 {
				a.Choices = append(a.Choices, Choice{Text: "take back: " + facts[0].Say, Facts: facts})
			}
		}
	case asked == nil:
	case len(asked.Candidates) > 0:
		short := ""
		for _, d := range r.drafts {
			if len(d.m.parts) > 1 {
				short = d.m.short
			}
		}
		c.offer(a, r, asked.Candidates, short)
	case asked.Asks == "part":
		c.offerParts(a, r)
	case asked.Asks == "new part":
		a.Choices = append(a.Choices, Choice{Text: asked.NewPart.Name + " (new part)", Facts: a.Facts},
			Choice{Text: "a note", Facts: c.noteOf(text)})
	}
	if len(a.Choices) > 0 {
		a.Learn = append(a.Learn, a.Choices[0].Learn...)
	}
}

func (c Context) noteOf(text string) []FactAnswer {
	facts, _ := c.facts(text, []draft{{f: shorthand.Fact{Verb: "note", Note: noteText(text)}, to: len([]rune(text))}})
	return facts
}

// offer makes one choice for each of the parts that fit.
func (c Context) offer(a *Answer, r *line, parts []shorthand.Named, short string) {
	for _, p := range parts[:min(5, len(parts))] {
		drafts := slices.Clone(r.drafts)
		for i := range drafts {
			if slices.ContainsFunc(drafts[i].m.parts, func(o shorthand.Named) bool { return o.ID == p.ID }) {
				drafts[i].m.parts = []shorthand.Named{p}
				if v := drafts[i].f.Verb; v == "lift" && covers(p.KindID()) {
					drafts[i].f.Verb = "bracket"
				} else if v == "bracket" && !covers(p.KindID()) {
					drafts[i].f.Verb = "lift"
				}
			}
		}
		facts, _ := c.facts(r.text, drafts)
		if len(facts) == 0 {
			continue
		}
		ch := Choice{Text: p.Name, Facts: facts}
		if short != "" && !strings.Contains(short, " ") && thingOf([]string{short}) == "" {
			ch.Learn = []phrase.Own{{Say: short, Means: p.Name, Kind: "part"}}
		}
		a.Choices = append(a.Choices, ch)
	}
}

// offerParts offers parts for an act that names none: those that can come next, then those of which leads come off.
func (c Context) offerParts(a *Answer, r *line) {
	i := slices.IndexFunc(r.drafts, func(d draft) bool { return d.asks == "part" })
	if i < 0 {
		return
	}
	state := line{c: c, past: c.Log}
	verb := r.drafts[i].f.Verb
	var fit []shorthand.Named
	for _, p := range c.likeliest(c.Parts) {
		k := p.KindID()
		switch {
		case verb == "disconnect" && (led[k] || leadPart(meant{parts: []shorthand.Named{p}})) && !state.leadOff(&p),
			verb == "bracket" && covers(k) && !state.isOut(p.ID),
			verb != "disconnect" && verb != "bracket" && !state.isOut(p.ID) && !r.drafts[i].f.Back,
			verb != "disconnect" && r.drafts[i].f.Back && state.isOut(p.ID):
			fit = append(fit, p)
		}
	}
	for _, p := range fit[:min(5, len(fit))] {
		drafts := slices.Clone(r.drafts)
		drafts[i].asks, drafts[i].m.parts = "", []shorthand.Named{p}
		if facts, _ := c.facts(r.text, drafts); len(facts) > 0 {
			a.Choices = append(a.Choices, Choice{Text: p.Name, Facts: facts})
		}
	}
}
