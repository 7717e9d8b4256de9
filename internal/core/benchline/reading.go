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

// read reads a line: by the grammar where it takes the whole of it, else as people write, else whichever leaves fewer
// words unread.
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
	if why := admit.Refuse(g.Fact, c.situation(c.fact(g))); why != "" && n.onlyRemark() && opensGrammar(body) &&
		len(g.Unread) == 0 &&
		g.Fact.Verb != "note" { // the grammar takes it, and it cannot be: its words say why
		n.refused = why
	}
	return c.byNature(text, n)
}

// onlyRemark says whether a line is read as a remark alone.
func (r *line) onlyRemark() bool {
	return len(r.drafts) == 0 || len(r.drafts) == 1 && r.drafts[0].f.Verb == "note" && r.drafts[0].f.Surplus == nil
}

// Resolve finds what a reading means on a phone as it lies there now: its step, its stops.
func Resolve(c Context, x shorthand.Reading) FactAnswer { return c.whole().fact(x) }

func (c Context) byGrammar(text string, g shorthand.Reading) Answer {
	g.Leaves = leavesBy(text)
	f := c.fact(g)
	f.From, f.To = bounds(text)
	f.echoLeaving(g.Leaves)
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

// byNature turns the drafts of a natural reading into the answer; a fact that may not be logged is not offered, its
// words are unread and say why.
func (c Context) byNature(text string, r *line) Answer {
	facts, refused := c.facts(text, r.drafts)
	for _, t := range r.unread {
		refused = append(refused, shorthand.Unread{Column: t.From + 1, Length: t.To - t.From, Word: t.Text,
			Text: "not read", Known: []string{}})
	}
	if r.refused != "" {
		for _, t := range phrase.Tokens(text) {
			if t.Text != "" {
				refused = append(refused, shorthand.Unread{Column: t.From + 1, Length: t.To - t.From, Word: t.Text, Text: r.refused,
					Known: []string{}})
			}
		}
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
	apart := map[int]bool{} // remarks that only say what becomes of the part before them
	for i, d := range drafts {
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
		if apart[i] {
			continue
		}
		x.Leaves = between(text, d)
		if i+1 < len(drafts) && drafts[i+1].f.Verb == "note" && slices.Contains(shorthand.Leavers, d.f.Verb) {
			if w := leavesBy(drafts[i+1].f.Note); w != "" && !strings.Contains(drafts[i+1].f.Note, " ") { // "pried up, hangs"
				x.Leaves, apart[i+1] = w, true
			}
		}
		c.say(&x)
		f := c.fact(x)
		f.From, f.To = d.from, d.to
		f.echoLeaving(x.Leaves)
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
					refused = append(refused, shorthand.Unread{Column: t.From + 1, Length: t.To - t.From, Word: t.Text, Text: why,
						Known: []string{}})
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
		f.Drive == g.Drive && f.Seconds == g.Seconds && f.SetC == g.SetC && f.Outcome == g.Outcome &&
		f.Connector == g.Connector &&
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
