package narrate

import (
	"slices"
	"strings"
)

// np is a thing with its count: [count] [drive] modifiers head [of another].
type np struct {
	a, b   int // items of the clause
	head   string
	object string
	count  int
	each   bool // "both", "all"
	drive  string
	kind   byte
	tok    int // of the head
	numTok int // of the figure, −1 none
	prep   string
}

var preps = set("with|on|in|from|under|over|by|to|at|into|behind|near|along|between|around|round|beside|below" +
	"|above|through|beneath|toward|towards|inside|across|against|without|onto|past|for|of|than|like")

// generic things say little without what they belong to.
var generic = set("screw|standoff|cable|adhesive|pull tab|clip|bracket|tape|film|connector|hook|coax|foam|gasket" +
	"|mesh")

// things finds the noun phrases of a clause.
func (r *reader) things(c clause) []np {
	var list []np
	its := c.items
	for i := 0; i < len(its); i++ {
		it := its[i]
		start := i
		p := np{numTok: -1}
		k := i
		for k < len(its) {
			x := its[k]
			switch {
			case x.k == plain && determiners[x.c] && x.c != "of":
				if x.c == "single" {
					p.count, p.numTok = 1, x.a
				}
				if x.c == "both" || x.c == "all" {
					p.each = true
					if x.c == "both" {
						p.count, p.numTok = 2, x.a
					}
				}
			case x.k == number && k > 0 && its[k-1].s == "size":
			case x.k == number && x.n == float64(int(x.n)) && x.n > 0 && x.n < 500:
				p.count, p.numTok = int(x.n), x.a
				if x.n == 1 && k+1 < len(its) && r.toks[its[k+1].a].cue != r.toks[x.a].cue && x.s == "#" {
					p.count, p.numTok = 0, -1 // "into cup one" ends a cue
				}
			case x.k == drive:
				p.drive = x.c
				if p.tok == 0 {
					p.tok = x.a
				}
			case x.k == plain && (x.c == "of" || x.c == "size") && p.count > 0:
			case x.k == plain && p.count > 0 && its[k-1].k == number && k+1 < len(its) && its[k+1].k == noun &&
				generic[its[k+1].c] && !preps[x.c] &&
				!bes[x.c] && !leads[x.c] && !subjects[x.c] && x.c != "and" && x.c != "or": // a kind of screw that no list knows
			default:
				goto head
			}
			if r.toks[x.b-1].brk != 0 && !(x.k == drive) {
				k++
				goto head
			}
			k++
		}
	head:
		if p.numTok >= 0 && k < len(its) && k > 0 && slices.Contains([]string{"long", "short", "longer", "shorter"},
			its[k-1].s) &&
			r.toks[its[k].a].cue != r.toks[its[k-1].a].cue {
			p.count, p.numTok = 0, -1 // "seven short, two long": what follows is another thing
		}
		var names []string
		end := k
		for end < len(its) {
			x := its[end]
			if x.k != noun && !(x.k == check && (len(names) == 0 || end == k)) &&
				!(x.k == drive && len(names) > 0 && false) {
				break
			}
			if n := len(names); n > 0 && x.k == noun && (generic[names[n-1]] && swappable(x.c) ||
				r.toks[x.a].cue != r.toks[its[end-1].a].cue && (generic[names[n-1]] || strings.HasSuffix(names[n-1], " flex"))) {
				break // "new adhesive, board back": two things
			}
			names = append(names, x.c)
			p.head, p.kind, p.tok = x.c, x.k, x.a
			end++
			if r.toks[x.b-1].brk != 0 || many(x) && !(x.c == "coax" && end < len(its) && its[end].c == "cable") {
				break
			}
		}
		if len(names) == 0 && p.drive != "" && p.count > 0 { // "three cross heads"
			p.head, p.kind = "screw", noun
			names, end = []string{"screw"}, k
		}
		if len(names) == 0 {
			_ = it
			continue
		}
		p.a, p.b = start, end
		p.object = strings.Join(names, " ")
		if p.drive != "" && p.head == "screw" {
			p.object = p.drive + " screw"
		}
		if start > 0 && its[start-1].k == plain && preps[its[start-1].c] {
			p.prep = its[start-1].c
		}
		if p.prep == "of" || p.prep == "for" {
			if n := len(list); n > 0 && list[n-1].b == start-1 && generic[list[n-1].head] && p.kind == noun {
				if said := its[list[n-1].b-1].s; said == "strip" || said == "bead" || said == "piece" || said == "bit" {
					list[n-1].object, list[n-1].head, list[n-1].b = p.object, p.head, p.b
				} else {
					list[n-1].object = p.object + " " + list[n-1].head
				}
				i = end - 1
				continue
			}
		}
		list = append(list, p)
		i = end - 1
	}
	return list
}

// mood is whether something was done, and who says so.
type mood struct {
	did   string
	acted bool
	not   bool
}

func (r *reader) moodOf(c clause, before mood, pred int) mood {
	done := mood{did: "done", acted: true}
	words := map[string]bool{}
	for _, it := range c.items {
		if it.k == plain {
			words[it.c] = true
		}
	}
	has := func(list ...string) bool {
		for _, w := range list {
			if words[w] {
				return true
			}
		}
		return false
	}
	later := has("later", "tomorrow") || c.says("after lunch") || c.says("another day") || c.says("some day")
	switch {
	case c.says("people say") || c.says("they say") || c.says("i was told") || c.says("i am told") ||
		has("claim", "claims", "claimed", "wrote", "rumour") ||
		c.says("somebody") && has("told", "says", "said", "wrote") || c.says("the crew") && has("would", "give"):
		return mood{did: "said by others"}
	case before.did == "said by others" && c.prev && !has("i", "but", "so"):
		return before
	case c.prev && (c.lead == "and" || c.lead == "otherwise") && !before.acted && before.did != "negated" &&
		!has("i", "we", "they", "there") && !before.not:
		return before
	case c.lead == "if" || c.lead == "unless" || c.says("if you") || c.says("if i"):
		return mood{did: "hypothetical"}
	case before.did == "hypothetical" && c.prev && has("you", "could", "would", "might") && !has("ours", "but"):
		return mood{did: "hypothetical"}
	case has("would", "could", "might", "wanted", "supposed") && !c.says("could not be"):
		if has("not", "never") || has("wanted") {
			return mood{did: "negated", not: true}
		}
		return mood{did: "hypothetical"}
	case c.says("should have") || c.says("was going to") || c.says("had planned"):
		return mood{did: "negated", not: true}
	case has("not", "never", "nobody") || has("no") && has("need"):
		return mood{did: "negated", not: true}
	case later:
		return mood{did: "intended"}
	case has("will", "want", "plan") || c.says("going to"):
		return mood{did: "intended", acted: has("us", "we") || r.guide || c.says("going to take")}
	case c.says("let us"):
		return mood{did: "intended", acted: true}
	case c.says("need to") || c.says("needs to") || c.says("have to") || c.says("has to") ||
		has("must", "should", "can", "may"):
		return mood{did: "advised", acted: true}
	case r.guide && pred >= 0 && pred < len(c.items) && !c.items[pred].done:
		return mood{did: "advised", acted: true}
	case c.says("to go") || later:
		return done
	}
	return done
}
