package compare

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"

	"waryowl/internal/core/quantity"
)

const shownMove = 2.448

// sureMargin is the margin from which a pair needs no confirmation (house).
const sureMargin = 1

// Solve compares two models.
func Solve(in Input) (Output, error) {
	if err := in.check(); err != nil {
		return Output{}, err
	}
	a, b := read(in.A, in.B), read(in.B, in.B)
	pairs, scores := match(a, b, in)
	out := Output{Matched: []Match{}, Jobs: []JobChange{}, Ranked: []Ranked{}}
	partner := [2]map[int]int{{}, {}} // of a part: its pair
	slices.SortFunc(pairs, func(p, q pair) int { return cmp.Compare(a[p.a].ID, a[q.a].ID) })
	for k, p := range pairs {
		out.Total += p.score
		partner[0][p.a], partner[1][p.b] = k, k
		out.Matched = append(out.Matched, in.matched(a[p.a], b[p.b], p))
	}
	other := func(side, part int) (traits, bool) { // the partner of a part of this side
		k, paired := partner[side][part]
		switch {
		case !paired:
			return traits{}, false
		case side == 0:
			return b[pairs[k].b], true
		}
		return a[pairs[k].a], true
	}
	alone := func(side int, mine, theirs []traits, apart string, at func(i, j int) float64) []Alone {
		list := []Alone{}
		for i, p := range mine {
			if _, paired := partner[side][i]; paired {
				continue
			}
			x := Alone{Part: p.ID, Minutes: map[string]float64{}, changes: []string{[]string{"gone", "added"}[side]}}
			heir := heirOf(p, theirs, func(j int) (traits, bool) { return other(1-side, j) })
			if heir >= 0 {
				x.With = theirs[heir].ID
				x.changes = []string{"replaced"}
				if k, paired := partner[1-side][heir]; paired {
					x.changes = []string{apart}
					m := &out.Matched[k]
					to := &m.Merged
					if side == 1 {
						to = &m.Split
					}
					*to = append(*to, p.ID)
				}
			}
			best := -2.0
			for j, q := range theirs {
				if _, paired := partner[1-side][j]; paired {
					continue
				}
				if s := at(i, j); s > best || s == best && x.Maybe != "" && q.ID < x.Maybe {
					best, x.Maybe = s, q.ID
				}
			}
			list = append(list, x)
		}
		slices.SortFunc(list, func(x, y Alone) int { return cmp.Compare(x.Part, y.Part) })
		return list
	}
	out.Gone = alone(0, a, b, "merged", func(i, j int) float64 { return scores[i][j] })
	out.Added = alone(1, b, a, "split", func(j, i int) float64 { return scores[i][j] })
	for k := range out.Matched {
		out.Matched[k].judge(in.Must)
	}
	out.price(in)
	out.rank(in)
	out.count(in)
	out.conclude(in)
	return out, nil
}

// heirOf is the part of the other side that carries most of the functions of a lone part which its own partner does not
// carry, at least half of them and at least one; −1 for none.
func heirOf(p traits, theirs []traits, partner func(int) (traits, bool)) int {
	best, most := -1, 0
	for j, q := range theirs {
		n := 0
		mate, paired := partner(j)
		for f := range p.carries {
			if q.carries[f] && !(paired && mate.carries[f]) {
				n++
			}
		}
		if n == 0 || 2*n < len(p.carries) {
			continue
		}
		if n > most || n == most && q.ID < theirs[best].ID {
			best, most = j, n
		}
	}
	return best
}

func (in Input) matched(a, b traits, p pair) Match {
	m := Match{A: a.ID, B: b.ID, Score: p.score, Margin: p.margin, Confirmed: p.confirmed,
		Sure: p.confirmed || p.margin >= sureMargin-1e-9, Renamed: likeness(a, b) < 1-1e-12, Sizes: []Size{},
		Merged: []string{}, Split: []string{}, Minutes: map[string]float64{}}
	if a.Rect != nil && b.Rect != nil {
		v := Move{DX: b.x - a.x, DY: b.y - a.y, U: math.Hypot(in.A.placed(), in.B.placed())}
		v.MM = math.Hypot(v.DX, v.DY)
		v.Shown = v.MM > shownMove*v.U
		m.Moved = &v
	}
	if a.Layer != nil && b.Layer != nil {
		m.Layer = *b.Layer - *a.Layer
	}
	for _, name := range slices.Sorted(maps.Keys(a.Quantities)) {
		x := a.Quantities[name]
		y, both := b.Quantities[name]
		if !both || x.Unit != y.Unit {
			continue
		}
		d, _ := quantity.Compare(quantity.Quantity{Value: x.Value, U: x.U, Unit: x.Unit}, // of one unit
			quantity.Quantity{Value: y.Value, U: y.U, Unit: y.Unit})
		s := Size{Quantity: name, Delta: d.Value, U: d.U, Unit: d.Unit, Shown: d.Resolved}
		if x.Value != 0 {
			s.Percent, s.PercentU = &d.Percent, &d.PercentU
		}
		m.Sizes = append(m.Sizes, s)
	}
	m.JointsGained, m.JointsLost = joints(b.Part, a.Part), joints(a.Part, b.Part)
	return m
}

// joints are those that the first part has more of than the second, in words.
func joints(have, less Part) []string {
	type kind struct {
		name, what string
		length     float64
	}
	n := map[kind]int{}
	for _, j := range have.Joints {
		n[kind{j.Type, j.What, j.Length}] += j.count()
	}
	for _, j := range less.Joints {
		n[kind{j.Type, j.What, j.Length}] -= j.count()
	}
	list := []string{}
	for k, c := range n {
		if c <= 0 {
			continue
		}
		text := fmt.Sprint(c, " ", k.name)
		if k.what != "" {
			text += " " + k.what
		}
		if k.length != 0 {
			text += " " + strconv.FormatFloat(k.length, 'f', -1, 64)
		}
		list = append(list, text)
	}
	slices.Sort(list)
	return list
}

// connector says that some of these joints are connectors.
func connector(before, after []string) bool {
	for _, j := range slices.Concat(before, after) {
		var n int
		var kind string
		if fmt.Sscan(j, &n, &kind); kind == "connector" {
			return true
		}
	}
	return false
}

// judge lists the changes of a matched part and whether they rule its interchange out.
func (m *Match) judge(must []string) {
	slices.Sort(m.Merged)
	slices.Sort(m.Split)
	resized, ruled := false, len(m.Merged)+len(m.Split) > 0 || connector(m.JointsGained, m.JointsLost)
	for _, s := range m.Sizes {
		resized = resized || s.Shown
		ruled = ruled || s.Shown && slices.Contains(must, s.Quantity)
	}
	m.Changes = []string{}
	for _, c := range []struct {
		name string
		is   bool
	}{{"moved", m.Moved != nil && m.Moved.Shown}, {"layer", m.Layer != 0}, {"resized", resized},
		{"joints", len(m.JointsGained)+len(m.JointsLost) > 0}, {"merged", len(m.Merged) > 0}, {"split", len(m.Split) > 0}} {
		if c.is {
			m.Changes = append(m.Changes, c.name)
		}
	}
	m.Interchange = "open"
	if ruled {
		m.Interchange = "ruled out"
	}
}

// price gives every part its minutes in every job, and the jobs what is left.
func (out *Output) price(in Input) {
	for _, j := range in.Jobs {
		if !j.both() {
			continue
		}
		c := JobChange{Job: j.Job, Minutes: (j.B.Seconds - j.A.Seconds) / 60, Depth: j.B.Depth - j.A.Depth,
			Risk: map[string]float64{}}
		before, after := seconds(j.A), seconds(j.B)
		c.Rest = c.Minutes
		give := func(minutes map[string]float64, a, b string) {
			m := (after[b] - before[a]) / 60
			minutes[j.Job] = m
			c.Rest -= m
		}
		for _, m := range out.Matched {
			give(m.Minutes, m.A, m.B)
		}
		for _, g := range out.Gone {
			give(g.Minutes, g.Part, "")
		}
		for _, g := range out.Added {
			give(g.Minutes, "", g.Part)
		}
		c.ToolsGained, c.ToolsLost = without(j.B.Tools, j.A.Tools), without(j.A.Tools, j.B.Tools)
		for part, r := range j.A.Risk {
			c.Risk[part] -= r
		}
		for part, r := range j.B.Risk {
			c.Risk[part] += r
		}
		out.Jobs = append(out.Jobs, c)
	}
}

// seconds of the steps by their part; those of no part are not asked for.
func seconds(w Way) map[string]float64 {
	sum := map[string]float64{}
	for _, s := range w.Steps {
		if s.Part != "" {
			sum[s.Part] += s.Seconds
		}
	}
	return sum
}

func without(list, others []string) []string {
	left := []string{}
	for _, x := range list {
		if !slices.Contains(others, x) && !slices.Contains(left, x) {
			left = append(left, x)
		}
	}
	slices.Sort(left)
	return left
}

func (out *Output) rank(in Input) {
	weighted := func(minutes map[string]float64) float64 {
		sum := 0.0
		for _, j := range in.Jobs {
			sum += j.Weight * minutes[j.Job]
		}
		return sum
	}
	for _, m := range out.Matched {
		if w := weighted(m.Minutes); len(m.Changes) > 0 || math.Abs(w) > 1e-12 {
			out.Ranked = append(out.Ranked, Ranked{A: m.A, B: m.B, Changes: m.Changes, Minutes: w,
				ruled: m.Interchange != "open"})
		}
	}
	for _, g := range out.Gone {
		out.Ranked = append(out.Ranked, Ranked{A: g.Part, B: g.With, Changes: g.changes, Minutes: weighted(g.Minutes),
			gone: true})
	}
	for _, g := range out.Added {
		out.Ranked = append(out.Ranked, Ranked{A: g.With, B: g.Part, Changes: g.changes, Minutes: weighted(g.Minutes),
			added: true})
	}
	steps := func(x float64) float64 { return math.Round(math.Abs(x) * 1e9) } // rounding makes no order
	slices.SortStableFunc(out.Ranked, func(x, y Ranked) int {
		return cmp.Or(cmp.Compare(steps(y.Minutes), steps(x.Minutes)), cmp.Compare(len(y.Changes), len(x.Changes)),
			cmp.Compare(x.A, y.A), cmp.Compare(x.B, y.B))
	})
}

func (out *Output) count(in Input) {
	f := &out.Facts
	f.PartsA, f.PartsB = len(in.A.Parts), len(in.B.Parts)
	for _, m := range out.Matched {
		by := map[string]*int{"moved": &f.Moved, "layer": &f.Layer, "resized": &f.Resized, "joints": &f.Joints}
		for _, c := range m.Changes {
			if n := by[c]; n != nil {
				*n++
			}
		}
		if len(m.Changes) == 0 {
			f.Same++
		}
		f.Merged += len(m.Merged)
		f.Split += len(m.Split)
		differ, shown := false, false
		for _, s := range m.Sizes {
			differ, shown = differ || s.Delta != 0, shown || s.Shown
		}
		if differ && !shown {
			f.Unresolved++
		}
		if m.Interchange != "open" {
			f.RuledOut++
		}
		if !m.Sure {
			f.ToConfirm++
		}
	}
	for _, g := range out.Gone {
		if g.With == "" {
			f.Gone++
		}
		if g.Maybe != "" {
			f.ToConfirm++
		}
	}
	for _, g := range out.Added {
		if g.With == "" {
			f.Added++
		}
	}
	for _, j := range in.Jobs {
		if !j.both() {
			continue
		}
		f.Minutes += j.Weight * (j.B.Seconds - j.A.Seconds) / 60
	}
}
