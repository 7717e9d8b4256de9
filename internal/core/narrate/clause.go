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
	acts := func(list []item) bool {
		for _, it := range list {
			if it.k == act || it.k == back || it.k == result || it.k == plain && bes[it.c] {
				return true
			}
		}
		return false
	}
	for i, it := range items {
		next := item{}
		if i+1 < len(items) {
			next = items[i+1]
		}
		last := item{}
		if len(cur.items) > 0 {
			last = cur.items[len(cur.items)-1]
		}
		switch {
		case it.k == plain && leads[it.c] && !(it.c == "right" && (next.k == noun || next.k == plain && next.c == "side" || determiners[last.c])) &&
			!(it.c == "as" && !subjects[next.c]) && !(it.c == "well" && len(cur.items) > 0) && !(it.c == "next" && next.c == "to") && !(it.c == "once" && (next.c == "more" || next.c == "again")) && !(last.k == plain && bes[last.c]) &&
			!((it.c == "after" || it.c == "before") && (next.c == "lunch" || next.c == "that" || next.c == "dinner" || next.c == "anything" || next.k == noun && !later(items[i+1:]))) &&
			!(it.c == "plus" && (next.k == number || next.k == noun || determiners[next.c])):
			push(it.c, cur.first && len(cur.items) == 0)
		case it.k == result && (it.s == "okay" || it.s == "ok") && (len(cur.items) == 0 || last.k != noun && last.k != check && !(last.k == plain && bes[last.c])):
			push("", true)
			continue
		case it.k == plain && it.c == "and" && len(cur.items) > 1 && next.k == plain && (next.c == "i" || next.c == "we" || next.c == "they"):
			push("and", false)
			continue
		case it.k == phone && (next.k == back && next.s == "goes on" || next.k == plain && next.c == "goes") && settled(cur.items):
			push("", false)
		case last.s == "not" && len(cur.items) > 2 && (cur.items[len(cur.items)-2].s == "does" || cur.items[len(cur.items)-2].s == "is") &&
			(it.k == noun || it.k == check) && cur.items[len(cur.items)-3].k != plain:
			push("", false)
		case last.k == plain && last.c == "later" && (it.k == noun || it.k == number || it.k == act && next.k == plain && determiners[next.c]):
			push("", false)
		case (it.k == act || it.k == back) && it.a > 0 && toks[it.a-1].cue != toks[it.a].cue && next.k == plain && determiners[next.c] && settled(cur.items) &&
			!(last.k == plain && (subjects[last.c] || bes[last.c] || joins[last.c] || last.c == "to" || last.c == "not" || preps[last.c])):
			push("", false)
		case it.k == number && it.a > 0 && toks[it.a-1].cue != toks[it.a].cue && next.k == noun && acts(cur.items) && last.k == plain && last.c != "to" &&
			!preps[last.c] && !bes[last.c] && !joins[last.c] && !determiners[last.c] && !subjects[last.c]:
			push("", false)
		case it.k == plain && subjects[it.c] && len(cur.items) > 0 && !onlyChecks(cur.items) && !(last.k == plain && (joins[last.c] || bes[last.c])) && (last.k != act || last.done && (it.c == "they" || it.c == "i" || it.c == "you" || it.c == "we")) &&
			!(it.c == "there" && (last.k != noun && last.k != value || next.k != plain || !bes[next.c])) && !(it.c == "you" && last.k == plain):
			push("", false)
		case it.k == plain && (it.c == "it" || it.c == "that" || it.c == "this") && (acts(cur.items) || it.c == "it" && last.k == noun) && (next.k == plain && bes[next.c] || next.k == act && next.done || next.s == "weighs") &&
			last.k != act && last.k != back:
			push("", false)
		case it.k == plain && it.c == "and" && acts(cur.items) && opens(items[i+1:], toks):
			push("and", false)
			continue
		case len(cur.items) > 0 && last.state && (it.k == noun || it.k == number || it.k == plain && determiners[it.c] && it.c != "of"):
			push("", false)
		}
		if it.state || it.k == act && it.done {
			if k := thingBefore(
				cur.items,
			); k > 0 &&
				(it.state && settled(cur.items[:k]) || !it.state && cur.items[k-1].k == noun) {
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
