package school

import (
	"fmt"
	"math"
	"math/rand/v2"
	"runtime"
	"slices"
	"strconv"
	"sync"

	"waryowl/internal/core/fault"
)

// Move is what one fact moved of each end.
type Move struct {
	Fact string  `json:"fact"`
	Low  float64 `json:"low"`
	High float64 `json:"high"`
}

// Moved says what moved a score; the moves add up to the change (L. S. Shapley 1953).
type Moved struct {
	Model  string     `json:"model"`
	Was    string     `json:"was"`
	Rubric string     `json:"rubric"`
	From   [2]float64 `json:"from"`
	To     [2]float64 `json:"to"`
	Moves  []Move     `json:"moves" nullable:"false"`
	How    string     `json:"how"`
}

// Output is every model under every rubric.
type Output struct {
	Scores  []Score             `json:"scores" nullable:"false"`
	Compare []Pairing           `json:"compare" nullable:"false"`
	Ranks   []Rank              `json:"ranks" nullable:"false"`
	Alpha   map[string]*float64 `json:"alpha"`
	Diffs   []Moved             `json:"diffs" nullable:"false"`
}

const (
	usualSamples = 20000
	usualEffort  = 1 << 18
	mostExact    = 10  // players of a difference that are worked out in every order
	mostOrders   = 200 // else so many orders
)

// Solve scores.
func Solve(in Input) (Output, error) {
	out := Output{Scores: []Score{}, Compare: []Pairing{}, Ranks: []Rank{}, Alpha: map[string]*float64{}, Diffs: []Moved{}}
	w := weighing{within: in.WeightsWithin, samples: usualSamples, seed: 1}
	effort := usualEffort
	if in.Samples != nil {
		w.samples = *in.Samples
	}
	if in.Seed != nil {
		w.seed = *in.Seed
	}
	if in.Effort != nil {
		effort = *in.Effort
	}
	switch {
	case in.WeightsWithin != nil && !(*in.WeightsWithin > 0 && *in.WeightsWithin < 1):
		return out, fault.New("weights_within", *in.WeightsWithin, "a share above 0 and below 1")
	case w.samples < 1 || w.samples > 1_000_000:
		return out, fault.New("samples", w.samples, "1 to 1000000")
	case effort < 1:
		return out, fault.New("effort", effort, "1 or more")
	}
	facts, err := readFacts(in.Facts)
	if err != nil {
		return out, err
	}
	var rules []*rule
	byRule := map[string]*rule{}
	for i, b := range in.Rubrics {
		at := fmt.Sprintf("rubrics[%d]", i)
		r, err := readRubric(at, b, facts)
		if err != nil {
			return out, err
		}
		if byRule[r.ID] != nil {
			return out, fault.New(at+".id", r.ID, "an id that comes once")
		}
		byRule[r.ID] = r
		rules = append(rules, r)
	}
	read := func(at string, list map[string]Value, st state) error {
		for id, v := range list {
			f := facts[id]
			if f == nil {
				return fault.New(at+"."+id, "an unknown fact", "the ids of facts")
			}
			k, err := f.know(at+"."+id, v)
			if err != nil {
				return err
			}
			st[id] = k
		}
		return nil
	}
	shop := state{}
	if err := read("shop", in.Shop, shop); err != nil {
		return out, err
	}
	states := map[string]state{}
	ofShop := map[string]map[string]bool{}
	var ids []string
	byModel := map[string]Model{}
	for i, m := range in.Models {
		at := fmt.Sprintf("models[%d]", i)
		if err := fault.ID(at+".id", m.ID); err != nil {
			return out, err
		}
		if states[m.ID] != nil {
			return out, fault.New(at+".id", m.ID, "an id that comes once")
		}
		st := state{}
		for id, f := range facts {
			st[id] = known{x: f.all, sure: f.all}
		}
		from := map[string]bool{}
		for id, k := range shop {
			st[id] = k
			from[id] = true
		}
		if err := read(at+".facts", m.Facts, st); err != nil {
			return out, err
		}
		for id := range m.Facts {
			delete(from, id)
		}
		states[m.ID], ofShop[m.ID] = st, from
		byModel[m.ID] = m
		ids = append(ids, m.ID)
	}
	for _, r := range rules {
		var scores []*scored
		for _, m := range in.Models {
			scores = append(scores, r.score(m, states[m.ID], effort))
		}
		for i, s := range scores {
			s.narrows(slices.Concat(scores[:i], scores[i+1:]))
		}
		for _, s := range scores {
			out.Scores = append(out.Scores, s.Score)
		}
		if in.Compare != nil && !*in.Compare {
			continue
		}
		var drawn [][]float64
		if len(scores) > 1 {
			drawn = w.draw(r.weights)
		}
		var pairs []Pairing
		for i, a := range scores {
			for _, b := range scores[i+1:] {
				both := map[string]bool{}
				for f := range ofShop[a.Model] {
					both[f] = ofShop[b.Model][f]
				}
				pairs = append(pairs, w.pair(a, b, both, drawn))
			}
		}
		out.Compare = append(out.Compare, pairs...)
		out.Ranks = append(out.Ranks, ranks(r.ID, ids, pairs)...)
	}
	// by model, then rubric: the order in which they were given
	slices.SortStableFunc(out.Scores, func(a, b Score) int {
		return slices.Index(ids, a.Model) - slices.Index(ids, b.Model)
	})
	for i, r := range in.Ratings {
		a, err := alpha(fmt.Sprintf("ratings[%d]", i), r)
		if err != nil {
			return out, err
		}
		if _, twice := out.Alpha[r.ID]; twice {
			return out, fault.New(fmt.Sprintf("ratings[%d].id", i), r.ID, "an id that comes once")
		}
		out.Alpha[r.ID] = a
	}
	tell := make([]func() Moved, len(in.Diffs))
	for i, d := range in.Diffs {
		at := fmt.Sprintf("diffs[%d]", i)
		now, was := byRule[d.Rubric], byRule[d.Rubric]
		if d.WasRubric != "" {
			was = byRule[d.WasRubric]
		}
		switch {
		case states[d.Model] == nil:
			return out, fault.New(at+".model", d.Model, "the id of a model")
		case states[d.Was] == nil:
			return out, fault.New(at+".was", d.Was, "the id of a model")
		case now == nil:
			return out, fault.New(at+".rubric", d.Rubric, "the id of a rubric")
		case was == nil:
			return out, fault.New(at+".was_rubric", d.WasRubric, "the id of a rubric")
		}
		tell[i] = func() Moved { return moved(d, now, was, states[d.Model], states[d.Was], effort, w.seed) }
	}
	if len(tell) > 0 {
		out.Diffs = make([]Moved, len(tell))
	}
	var wait sync.WaitGroup
	turn := make(chan bool, runtime.GOMAXPROCS(0))
	for i := range tell { // side by side: each is worked out for itself
		wait.Go(func() {
			turn <- true
			out.Diffs[i] = tell[i]()
			<-turn
		})
	}
	wait.Wait()
	return out, nil
}

// moved tells by facts, and the rubric where it changed, what moved a score.
func moved(d Diff, now, was *rule, is, before state, effort int, seed uint64) Moved {
	const theRubric = "rubric"
	var players []string
	for _, f := range slices.Compact(slices.Sorted(slices.Values(slices.Concat(now.facts, was.facts)))) {
		if !slices.Equal(is[f].x, before[f].x) {
			players = append(players, f)
		}
	}
	if now != was {
		players = append(players, theRubric)
	}
	memo := map[string][2]float64{}
	groups := map[string]*group{} // by rubric, part and which of its facts moved
	found := map[*part]*sieved{}
	worth := func(in []bool) [2]float64 {
		bits := make([]byte, len(in))
		r, moved := was, map[string]bool{}
		for i, p := range players {
			if !in[i] {
				continue
			}
			if bits[i] = 1; p == theRubric {
				r = now
			} else {
				moved[p] = true
			}
		}
		if v, known := memo[string(bits)]; known {
			return v
		}
		p := &problem{gates: r.cuts, effort: effort}
		for i, part := range r.parts {
			key := strconv.AppendInt(strconv.AppendBool(nil, r == now), int64(i), 10)
			x := make(map[string][]float64, len(part.facts))
			for _, f := range part.facts {
				if x[f] = before[f].x; moved[f] {
					x[f], key = is[f].x, append(append(key, ' '), f...)
				}
			}
			if found[part] == nil {
				found[part] = &sieved{uses: map[string][]use{}, left: map[string][2][]float64{}}
			}
			if found[part].changed = moved; groups[string(key)] == nil {
				groups[string(key)] = part.sieve(x, effort, found[part])
			}
			p.groups = append(p.groups, groups[string(key)])
		}
		lo, hi, _ := p.between(nil)
		memo[string(bits)] = [2]float64{lo, hi}
		return memo[string(bits)]
	}
	n := len(players)
	none, all := make([]bool, n), make([]bool, n)
	for i := range all {
		all[i] = true
	}
	m := Moved{Model: d.Model, Was: d.Was, Rubric: d.Rubric, From: worth(none), To: worth(all), Moves: []Move{}, How: "exact"}
	gain := make([][2]float64, n)
	if n <= mostExact {
		fact := make([]float64, n+1)
		fact[0] = 1
		for i := 1; i <= n; i++ {
			fact[i] = fact[i-1] * float64(i)
		}
		for s := range 1 << n {
			in := make([]bool, n)
			size := 0
			for i := range n {
				if in[i] = s>>i&1 == 1; in[i] {
					size++
				}
			}
			base := worth(in)
			for i := range n {
				if in[i] {
					continue
				}
				in[i] = true
				v := worth(in)
				in[i] = false
				f := fact[size] * fact[n-size-1] / fact[n]
				gain[i][low] += f * (v[low] - base[low])
				gain[i][high] += f * (v[high] - base[high])
			}
		}
	} else {
		m.How = fmt.Sprintf("%d orders", mostOrders)
		r := rand.New(rand.NewPCG(seed, 0x5a))
		for range mostOrders {
			in := make([]bool, n)
			last := worth(in)
			for _, i := range r.Perm(n) {
				in[i] = true
				v := worth(in)
				gain[i][low] += (v[low] - last[low]) / mostOrders
				gain[i][high] += (v[high] - last[high]) / mostOrders
				last = v
			}
		}
	}
	for i, p := range players {
		m.Moves = append(m.Moves, Move{p, gain[i][low], gain[i][high]})
	}
	byGreatest(m.Moves, func(x Move) float64 { return math.Abs(x.Low) + math.Abs(x.High) }, func(x Move) string { return x.Fact })
	return m
}

// alpha is Krippendorff's (Content Analysis, 2004, chapter 11); nil without variation.
func alpha(at string, r Rating) (*float64, error) {
	if r.ID == "" {
		return nil, fault.New(at+".id", r.ID, "an id")
	}
	if !slices.Contains([]string{"nominal", "ordinal", "interval"}, r.Metric) {
		return nil, fault.New(at+".metric", r.Metric, "nominal, ordinal, interval")
	}
	count := map[float64]float64{}
	var units [][]float64
	total := 0.0
	for _, u := range r.Units {
		if len(u) < 2 {
			continue
		}
		var xs []float64
		for _, x := range u {
			xs = append(xs, x)
			count[x]++
			total++
		}
		slices.Sort(xs)
		units = append(units, xs)
	}
	var values []float64
	for x := range count {
		values = append(values, x)
	}
	slices.Sort(values)
	delta := func(a, b float64) float64 {
		switch r.Metric {
		case "nominal":
			if a == b {
				return 0
			}
			return 1
		case "interval":
			return (a - b) * (a - b)
		}
		lo, hi := math.Min(a, b), math.Max(a, b)
		sum := -(count[a] + count[b]) / 2
		for _, g := range values {
			if g >= lo && g <= hi {
				sum += count[g]
			}
		}
		if a == b {
			return 0
		}
		return sum * sum
	}
	observed, expected := 0.0, 0.0
	for _, xs := range units {
		sum := 0.0
		for i, a := range xs {
			for j, b := range xs {
				if i != j {
					sum += delta(a, b)
				}
			}
		}
		observed += sum / float64(len(xs)-1)
	}
	for _, a := range values {
		for _, b := range values {
			expected += count[a] * count[b] * delta(a, b)
		}
	}
	if expected == 0 {
		return nil, nil
	}
	x := 1 - (total-1)*observed/expected
	return &x, nil
}
