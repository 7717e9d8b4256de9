package benchline

import (
	"fmt"
	"hash/fnv"
	"strconv"
	"sync"

	"waryowl/internal/core/shorthand"
)

// about is what the words of a step are about.
type about struct{ id, kind string }

// known keeps what words were found to be about, for the parts at that time: a line is read at every key, and asks about
// every step of the plan.
var known = struct {
	sync.Mutex
	by map[string]about
}{by: map[string]about{}}

// mostKnown is how many words are kept before all are forgotten.
const mostKnown = 20_000

// namesOf stands for the parts as the reader sees them.
func namesOf(parts []shorthand.Named) string {
	h := fnv.New128a()
	for _, p := range parts {
		fmt.Fprintf(h, "%q%q%q%q", p.ID, p.Name, p.Kind, p.Aliases)
	}
	return string(h.Sum(nil))
}

// found is the part that words are about.
func (c Context) found(words string) about {
	key := c.names + strconv.Itoa(len(c.Parts)) + " " + words
	known.Lock()
	t, ok := known.by[key]
	known.Unlock()
	if ok && c.names != "" {
		return t
	}
	t.id, t.kind, _ = shorthand.Find(words, c.Vocabulary)
	if c.names != "" {
		known.Lock()
		if len(known.by) >= mostKnown {
			clear(known.by)
		}
		known.by[key] = t
		known.Unlock()
	}
	return t
}
