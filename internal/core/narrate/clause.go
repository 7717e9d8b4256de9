package narrate

import "strings"

// clause is a stretch of items about one thing done or said, with the word that led it.
type clause struct {
	items []item
	lead  string // if, because, before …
	first bool   // it begins a sentence
	prev  bool   // it goes on the one before
	text  string // as it was said, a blank at either end
}

var leads = set("then|so|but|because|since|while|when|if|after|before|until|which|although|though|now|next|okay" +
	"|ok|anyway|also|finally|once|unless|as|right|great|damn|um|uh|er|mind|careful|plus|there now" +
	"|well|otherwise")

var subjects = set("i|we|you|they|there|he|she|somebody|people")
var bes = set("is|are|was|were|be|been|has|have|had|does|did|can|will|would|could|may|needs|need|must|should" +
	"|gets|stays|looks")

// joins are words behind which a subject goes on with the same clause.
var joins = set("that|what|and|which|as|than|where|who|why|how|do|whatever|the|think|like")

// placing are words that tell where: a comma before one does not end the thought.
var placing = set("under|beneath|behind|below|starting")

// set is a set of words, written with bars between them.
func set(words string) map[string]bool {
	m := map[string]bool{}
	for w := range strings.SplitSeq(words, "|") {
		m[w] = true
	}
	return m
}

// clauses parts the items of a recording. Ends of cues are no ends of clauses: people speak on.
func clauses(items []item, toks []tok) []clause {
	var out []clause
	cur := clause{first: true}
	push := func(lead string, sentence bool) {
		if len(cur.items) > 0 {
			var b strings.Builder
			for _, it := range cur.items {
				b.WriteByte(' ')
				b.WriteString(it.s)
			}
			b.WriteByte(' ')
			cur.text = b.String()
			out = append(out, cur)
		}
		cur = clause{lead: lead, first: sentence, prev: !sentence}
	}
	for i, it := range items {
		at := seam{it: it, done: cur.items, rest: items[i+1:], toks: toks}
		if i+1 < len(items) {
			at.next = items[i+1]
		}
		if len(cur.items) > 0 {
			at.last = cur.items[len(cur.items)-1]
		}
		next := at.next
		switch {
		case at.lead():
			push(it.c, cur.first && len(cur.items) == 0)
		case at.okay():
			push("", true)
			continue
		case at.andPerson():
			push("and", false)
			continue
		case at.otherPhone(), at.afterNot(), at.afterLater(), at.actAtCue(), at.countAtCue(), at.person(), at.pronoun():
			push("", false)
		case it.k == plain && it.c == "and" && acts(cur.items) && opens(items[i+1:], toks):
			push("and", false)
			continue
		case at.afterState():
			push("", false)
		}
		if it.state || it.k == act && it.done {
			k := thingBefore(cur.items)
			if k > 0 && (it.state && settled(cur.items[:k]) || !it.state && cur.items[k-1].k == noun) {
				rest := cur.items[k:]
				cur.items = cur.items[:k:k]
				push("", false)
				cur.items = append(cur.items, rest...)
			}
		}
		cur.items = append(cur.items, it)
		if brk := toks[it.b-1].brk; brk == '.' {
			push("", true)
		} else if brk == ',' && !list(cur.items, items[i+1:], toks) && !(next.k == plain && placing[next.c]) {
			push("", false)
		}
	}
	push("", true)
	return out
}

// onlyChecks says whether nothing but functions was named so far: "wireless charging I did not test".
func onlyChecks(list []item) bool {
	for _, x := range list {
		if x.k != check && !(x.k == plain && (determiners[x.c] || x.c == "and")) {
			return false
		}
	}
	return true
}

// later says whether an act follows within the stretch.
func later(rest []item) bool {
	for k, it := range rest {
		if it.k == act || it.k == back || it.k == plain && bes[it.c] {
			return k < 6
		}
	}
	return false
}

// thingBefore is where the one thing begins that ends a stretch; 0: there is none, or nothing before it.
func thingBefore(list []item) int {
	k := len(list)
	for k > 0 {
		x := list[k-1]
		switch {
		case x.k == noun && k < len(list) && (many(x) || generic[x.c] && list[k].k == noun && swappable(list[k].c)):
			return k
		case x.k == noun || x.k == drive || x.k == number || x.k == plain && determiners[x.c] && x.c != "of":
			k--
			if x.k == number {
				return k
			}
			continue
		}
		break
	}
	if k == len(list) {
		return 0
	}
	return k
}

// many says whether a thing is said in the plural: what follows is another one.
func many(x item) bool {
	return strings.HasSuffix(x.s, "s") && !strings.HasSuffix(x.s, "ss") && (generic[x.c] || x.c == "coax") ||
		x.c == "coax"
}

// settled says whether a stretch says something of its own.
func settled(list []item) bool {
	for _, x := range list {
		if x.k == act || x.k == back || x.k == value ||
			x.k == plain && (bes[x.c] || preps[x.c] || x.c == "likes" || x.c == "plus") {
			return true
		}
	}
	return false
}

// opens says whether what follows "and" is a clause of its own: a subject, an act, or a thing with its verb.
func opens(rest []item, toks []tok) bool {
	for k, it := range rest {
		switch {
		case it.k == act || it.k == back || it.k == result:
			return true
		case it.k == plain && (subjects[it.c] || bes[it.c] || it.c == "it" || leads[it.c] || it.c == "with" || it.c == "that"):
			return true
		case it.k == plain && it.c == "and":
			return false
		case it.k == value, it.k == noun && k+1 < len(rest) && (rest[k+1].s == "last" || rest[k+1].s == "first"):
			return true
		}
		if toks[it.b-1].brk != 0 || k > 7 {
			return false
		}
	}
	return false
}

// list says whether a comma stands inside a row of things: "the brackets, two screws and the coil".
func list(done, rest []item, toks []tok) bool {
	if len(rest) == 0 || strings.IndexByte("NDF", done[len(done)-1].k) < 0 {
		return false
	}
	for k, it := range rest {
		switch {
		case it.k == noun || it.k == drive || it.k == number || it.k == check || it.k == plain && determiners[it.c]:
		case it.k == plain && it.c == "and" && k > 0:
			return true
		default:
			return false
		}
		if k > 8 {
			return false
		}
	}
	return false
}

func (c clause) has(words ...string) bool {
	for _, it := range c.items {
		for _, w := range words {
			if it.k == plain && it.c == w || it.s == w {
				return true
			}
		}
	}
	return c.lead != "" && strings.Contains("|"+strings.Join(words, "|")+"|", "|"+c.lead+"|")
}

// says tells whether words stand in the clause one after the other.
func (c clause) says(phrase string) bool {
	for rest, at := c.text, 0; ; rest = rest[at+1:] {
		if at = strings.Index(rest, phrase); at < 0 {
			return false
		}
		if at > 0 && rest[at-1] == ' ' && rest[at+len(phrase)] == ' ' {
			return true
		}
	}
}
