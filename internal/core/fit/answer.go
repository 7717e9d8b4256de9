package fit

import (
	"cmp"
	"maps"
	"math"
	"math/bits"
	"slices"

	"waryowl/internal/core/risk"
)

// Reached counts fittings that were tested directly and got at least as far as asked, with the exact 95 % interval.
type Reached struct {
	K    int     `json:"k"`
	N    int     `json:"n"`
	Low  float64 `json:"low"`
	High float64 `json:"high"`
}

// Pair is one line in one host. Levels are the chances of the rungs; Serves is 1 for a host's own piece.
type Pair struct {
	Donor   string         `json:"donor"`
	Host    string         `json:"host"`
	Same    float64        `json:"same"`
	Levels  []float64      `json:"levels" nullable:"false"`
	Serves  float64        `json:"serves"`
	Level   string         `json:"level"`
	Range   [2]string      `json:"range"`
	Reached Reached        `json:"reached"`
	Lost    map[string]int `json:"lost"`
	Grade   string         `json:"grade" enum:"shut,half,open"`
	Missing []string       `json:"missing" nullable:"false"`

	geometry bool
	tested   int
}

// Group is a largest set of models that lie in one class at least as likely as not.
type Group struct {
	Models      []string `json:"models" nullable:"false"`
	Together    float64  `json:"together"`
	Exactly     float64  `json:"exactly"`
	Interchange float64  `json:"interchange"`
}

// Stock is a choice of lines with which line serves which host.
type Stock struct {
	Lines    []string          `json:"lines" nullable:"false"`
	Serves   map[string]string `json:"serves"`
	Unserved []string          `json:"unserved" nullable:"false"`
	Untested []string          `json:"untested" nullable:"false"`
	Cost     float64           `json:"cost"`
	All      float64           `json:"all"`
}

// Suspect is a test whose outcome is likely not what the pair does.
type Suspect struct {
	Test string  `json:"test"`
	P    float64 `json:"p"`
}

// Contradiction is two tests that do not go together; Repeat is the likelier noise.
type Contradiction struct {
	Host   string    `json:"host"`
	Tests  [2]string `json:"tests"`
	Repeat string    `json:"repeat"`
}

// Next is what a candidate tells.
type Next struct {
	ID            string  `json:"id"`
	Bits          float64 `json:"bits"`
	BitsPerMinute float64 `json:"bits_per_minute"`
	LinesSaved    float64 `json:"lines_saved"`
}

// Unneeded is a pair that needs no test.
type Unneeded struct {
	Donor string  `json:"donor"`
	Host  string  `json:"host"`
	Why   string  `json:"why" enum:"geometry,inferred"`
	P     float64 `json:"p"`
}

// Output is all that can be said.
type Output struct {
	Pairs          []Pair          `json:"pairs" nullable:"false"`
	Groups         []Group         `json:"groups" nullable:"false"`
	Bits           float64         `json:"bits"`
	Fewest         Stock           `json:"fewest"`
	Naive          Stock           `json:"naive"`
	Suspects       []Suspect       `json:"suspects" nullable:"false"`
	Contradictions []Contradiction `json:"contradictions" nullable:"false"`
	Ignored        []string        `json:"ignored" nullable:"false"`
	Next           []Next          `json:"next" nullable:"false"`
	Unneeded       []Unneeded      `json:"unneeded" nullable:"false"`
}

// whisker is the rounding that thresholds forgive.
const whisker = 1e-12

// Solve answers which piece can stand in for which, how sure that is, how few lines are enough, and what to test next.
func Solve(in Input) (Output, error) {
	if err := in.check(); err != nil {
		return Output{}, err
	}
	out := Output{Groups: []Group{}, Suspects: []Suspect{}, Contradictions: []Contradiction{}, Ignored: []string{},
		Next: []Next{}, Unneeded: []Unneeded{}}
	var tests []Test
	for _, t := range in.Tests {
		if t.Damaged {
			out.Ignored = append(out.Ignored, t.ID)
		} else {
			tests = append(tests, t)
		}
	}
	slices.Sort(out.Ignored)
	w, err := newWorld(in, tests)
	if err != nil {
		return Output{}, err
	}
	untested, err := newWorld(in, nil)
	if err != nil {
		return Output{}, err
	}
	lines := len(in.Models) + len(in.Copies)
	for d := range lines {
		for h := range in.Models {
			out.Pairs = append(out.Pairs, w.pair(d, h, tests, untested))
		}
	}
	for _, p := range out.Pairs {
		if why := p.unneeded(); why != "" {
			out.Unneeded = append(out.Unneeded, Unneeded{p.Donor, p.Host, why, p.Serves})
		}
	}
	out.Groups = w.groups()
	out.Bits = w.bits()
	s := newStocker(w, func(d, h int) float64 { return out.Pairs[d*len(in.Models)+h].Serves })
	out.Fewest = s.fewest(func(d, h int) bool { return out.Pairs[d*len(in.Models)+h].tested > 0 })
	out.Naive = s.naive()
	out.doubts(w, tests)
	out.Next = w.next(s, out.Pairs)
	return out, nil
}

func (w *world) line(d int) string {
	if n := len(w.in.Models); d >= n {
		return w.in.Copies[d-n].ID
	}
	return w.in.Models[d].ID
}

// levels is the belief in a line in a host, over the classes it may lie in.
func (w *world) levels(d, h int) (at [rungs]float64, same, serves float64) {
	if n := len(w.in.Models); d >= n {
		l := w.copies[d-n][h]
		return l.at, 0, l.serve
	}
	for b, p := range w.p {
		if b>>d&1 == 0 || p == 0 {
			continue
		}
		l := w.class[b][h]
		for k := range at {
			at[k] += p * l.at[k]
		}
		if b>>h&1 == 1 {
			same += p
			serves += p
		} else {
			serves += p * l.serve
		}
	}
	if d == h {
		serves = 1
	}
	return at, min(1, same), min(1, serves)
}

func (w *world) pair(d, h int, tests []Test, untested *world) Pair {
	at, same, serves := w.levels(d, h)
	p := Pair{Donor: w.line(d), Host: w.in.Models[h].ID, Same: same, Levels: at[:], Serves: serves,
		Lost: map[string]int{}, Missing: []string{}}
	best, sum, low, high := 0, 0.0, -1, -1
	for k, x := range at {
		if x > at[best] {
			best = k
		}
		sum += x
		if low < 0 && sum > 0.025 {
			low = k
		}
		if high < 0 && sum >= 0.975-whisker {
			high = k
		}
	}
	p.Level, p.Range = Ladder[best], [2]string{Ladder[low], Ladder[high]}
	var direct []Test
	for _, t := range tests {
		if t.Donor != p.Donor || t.Host != p.Host {
			continue
		}
		direct = append(direct, t)
		p.Reached.N += t.fittings()
		if rung(t.Outcome) >= w.asked {
			p.Reached.K += t.fittings()
		}
		for _, f := range t.Lost {
			p.Lost[f] += t.fittings()
		}
	}
	p.tested = len(direct)
	p.Reached.Low, p.Reached.High = risk.Count{K: p.Reached.K, N: p.Reached.N}.Interval()
	before, _, _ := untested.levels(d, h)
	p.geometry = d != h && serves < 0.5 && before[0]+before[noMate] >= 0.99-whisker
	if d != h && !p.geometry {
		p.Missing = w.missing(p, direct, tests)
	}
	sure := max(serves, 1-serves)
	switch {
	case d == h || len(p.Missing) == 0 && sure >= 0.95:
		p.Grade = "open"
	case sure >= 0.9 || len(direct) > 0:
		p.Grade = "half"
	default:
		p.Grade = "shut"
	}
	return p
}

// missing is what a verdict on a pair still lacks for the open eye, in the order in which it is asked for.
func (w *world) missing(p Pair, direct, tests []Test) []string {
	list := []string{}
	yes := p.Serves >= 0.5
	fittings, highest := 0, -1
	ticked := map[string]bool{}
	onNewest, against := false, false
	newest, dated := w.in.Newest[p.Host]
	for _, t := range direct {
		o := rung(t.Outcome)
		if o >= w.asked != yes {
			against = true
			continue
		}
		fittings += t.fittings()
		highest = max(highest, o)
		for _, c := range t.Conditions {
			ticked[c] = true
		}
		onNewest = onNewest || t.Build == newest
	}
	need := func(conditions ...string) {
		for _, c := range conditions {
			if !ticked[c] {
				list = append(list, c)
			}
		}
	}
	if fittings < 2 {
		list = append(list, "second fitting")
	}
	switch {
	case yes:
		need("waited", "deep")
	case highest < 0 || highest == dark:
		need("charger", "waited", "reseated", "known-good", "home")
	default:
		need("reseated", "home")
	}
	if !yes && !slices.ContainsFunc(tests, func(t Test) bool {
		return t.Donor == p.Host && t.Host == p.Host && rung(t.Outcome) >= w.asked
	}) {
		list = append(list, "own control")
	}
	if dated && !onNewest {
		list = append(list, "newest build")
	}
	if against {
		list = append(list, "contradiction")
	}
	return list
}

// unneeded says why a pair needs no test: "" where it does.
func (p Pair) unneeded() string {
	switch {
	case p.Donor == p.Host || p.tested > 0:
		return ""
	case p.geometry:
		return "geometry"
	case max(p.Serves, 1-p.Serves) >= 0.99-whisker:
		return "inferred"
	}
	return ""
}

// bits is the entropy of the partition.
func (w *world) bits() float64 {
	sum := w.logZ[len(w.logZ)-1]
	for b, p := range w.p {
		if p > 0 {
			sum -= p * w.logG[b]
		}
	}
	return max(0, sum/math.Ln2)
}

// groups are the largest sets of models that lie in one class at least as likely as not.
func (w *world) groups() []Group {
	n := len(w.in.Models)
	together := slices.Clone(w.p)
	for i := range n { // sums over the sets above
		for b := range together {
			if b>>i&1 == 0 {
				together[b] += together[b|1<<i]
			}
		}
	}
	list := []Group{}
	for b := range together {
		if bits.OnesCount(uint(b)) < 2 || together[b] < 0.5-whisker {
			continue
		}
		largest := true
		for i := range n {
			largest = largest && (b>>i&1 == 1 || together[b|1<<i] < 0.5-whisker)
		}
		if largest {
			g := Group{Together: min(1, together[b]), Exactly: w.p[b], Interchange: w.joint(func(class set, h int) bool {
				return b>>h&1 == 1 && class&set(b) != 0
			})}
			for i, m := range w.in.Models {
				if b>>i&1 == 1 {
					g.Models = append(g.Models, m.ID)
				}
			}
			slices.Sort(g.Models)
			list = append(list, g)
		}
	}
	slices.SortFunc(list, func(a, b Group) int {
		return cmp.Or(cmp.Compare(b.Together, a.Together), slices.Compare(a.Models, b.Models))
	})
	return list
}

// joint is the chance that every class serves every host that it must, itself always.
func (w *world) joint(must func(class set, h int) bool) float64 {
	g := slices.Clone(w.logG)
	for b := 1; b < len(g); b++ {
		for h := range w.in.Models {
			if b>>h&1 == 0 && must(set(b), h) {
				g[b] += math.Log(w.class[b][h].serve)
			}
		}
	}
	all := len(g) - 1
	return math.Exp(partitions(g)[all] - w.logZ[all])
}

// doubts lists tests that are likely not what the pair does, and pairs of tests that do not go together.
func (out *Output) doubts(w *world, tests []Test) {
	wrong := map[string]float64{}
	for _, t := range tests {
		at, _, _ := w.levels(w.number[t.Donor], w.number[t.Host])
		p := max(0, 1-at[rung(t.Outcome)])
		wrong[t.ID] = p
		if p >= 0.05-whisker {
			out.Suspects = append(out.Suspects, Suspect{t.ID, p})
		}
	}
	slices.SortFunc(out.Suspects, func(a, b Suspect) int {
		return cmp.Or(cmp.Compare(b.P, a.P), cmp.Compare(a.Test, b.Test))
	})
	for i, a := range tests {
		for _, b := range tests[i+1:] {
			if a.Host != b.Host || (rung(a.Outcome) >= w.asked) == (rung(b.Outcome) >= w.asked) {
				continue
			}
			if d, e := w.number[a.Donor], w.number[b.Donor]; d != e {
				if n := len(w.in.Models); d >= n || e >= n {
					continue
				}
				if _, same, _ := w.levels(d, e); same < 0.9-whisker {
					continue
				}
			}
			c := Contradiction{Host: a.Host, Tests: [2]string{min(a.ID, b.ID), max(a.ID, b.ID)}}
			c.Repeat = c.Tests[0]
			if wrong[c.Tests[1]] > wrong[c.Tests[0]] {
				c.Repeat = c.Tests[1]
			}
			out.Contradictions = append(out.Contradictions, c)
		}
	}
	slices.SortFunc(out.Contradictions, func(a, b Contradiction) int { return slices.Compare(a.Tests[:], b.Tests[:]) })
}

func sortedKeys[V any](m map[string]V) []string { return slices.Sorted(maps.Keys(m)) }
