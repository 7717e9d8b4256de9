package school

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"waryowl/internal/core/fault"
)

// assignment is a value for each fact.
type assignment map[string]float64

// use is a place of a fact whose value, turned by a sign, never lets the score fall when it rises: points of a leaf, or
// the value itself in a larger formula.
type use struct {
	fact string
	of   func(x float64) float64
}

// node gives points. Its parts never lower it when they rise.
type node interface {
	points(assignment) float64
	// between is a range that holds whatever the facts in their sets are.
	between(sets) (lo, hi float64)
	facts() []string
	uses(sets) []use
}

// sets are the values that each fact may take.
type sets func(fact string) []float64

// formula is a quantity of facts, monotone in each of them.
type formula interface {
	value(assignment) float64
	between(sets) (lo, hi float64)
	facts() []string
	// places lists the facts with the sign of their place, +1 or −1.
	places(sign float64) []place
}

type place struct {
	fact string
	sign float64
	of   func(x float64) float64
}

type (
	plain  struct{ fact string }
	amount struct{ x float64 }
	mapped struct {
		fact string
		to   []float64
	}
	total   struct{ parts []formula }
	product struct{ parts []formula }
	ratio   struct{ over, under formula }
)

func (q plain) value(a assignment) float64 { return a[q.fact] }
func (q plain) facts() []string            { return []string{q.fact} }
func (q plain) between(s sets) (_, _ float64) {
	return ends(s(q.fact), func(x float64) float64 { return x })
}
func (q plain) places(sign float64) []place {
	return []place{{q.fact, sign, func(x float64) float64 { return x }}}
}

func (q amount) value(assignment) float64      { return q.x }
func (q amount) facts() []string               { return nil }
func (q amount) between(sets) (_, _ float64)   { return q.x, q.x }
func (q amount) places(float64) []place        { return nil }
func (q mapped) at(x float64) float64          { return q.to[int(x)] }
func (q mapped) value(a assignment) float64    { return q.at(a[q.fact]) }
func (q mapped) facts() []string               { return []string{q.fact} }
func (q mapped) between(s sets) (_, _ float64) { return ends(s(q.fact), q.at) }
func (q mapped) places(sign float64) []place   { return []place{{q.fact, sign, q.at}} }

func ends(xs []float64, of func(float64) float64) (lo, hi float64) {
	lo, hi = math.Inf(1), math.Inf(-1)
	for _, x := range xs {
		y := of(x)
		lo, hi = math.Min(lo, y), math.Max(hi, y)
	}
	return lo, hi
}

func (q total) value(a assignment) float64 {
	sum := 0.0
	for _, p := range q.parts {
		sum += p.value(a)
	}
	return sum
}
func (q total) between(s sets) (lo, hi float64) {
	for _, p := range q.parts {
		l, h := p.between(s)
		lo, hi = lo+l, hi+h
	}
	return lo, hi
}
func (q total) facts() []string             { return factsOf(q.parts) }
func (q total) places(sign float64) []place { return placesOf(q.parts, sign) }

func (q product) value(a assignment) float64 {
	x := 1.0
	for _, p := range q.parts {
		x *= p.value(a)
	}
	return x
}
func (q product) between(s sets) (lo, hi float64) {
	lo, hi = 1, 1
	for _, p := range q.parts {
		l, h := p.between(s)
		lo, hi = lo*l, hi*h
	}
	return lo, hi
}
func (q product) facts() []string             { return factsOf(q.parts) }
func (q product) places(sign float64) []place { return placesOf(q.parts, sign) }

func (q ratio) value(a assignment) float64 { return q.over.value(a) / q.under.value(a) }
func (q ratio) between(s sets) (lo, hi float64) {
	l, h := q.over.between(s)
	m, n := q.under.between(s)
	return l / n, h / m
}
func (q ratio) facts() []string { return factsOf([]formula{q.over, q.under}) }
func (q ratio) places(sign float64) []place {
	return append(q.over.places(sign), q.under.places(-sign)...)
}

func factsOf(parts []formula) (list []string) {
	for _, p := range parts {
		list = append(list, p.facts()...)
	}
	return list
}

func placesOf(parts []formula, sign float64) (list []place) {
	for _, p := range parts {
		list = append(list, p.places(sign)...)
	}
	return list
}

type (
	constant struct{ p float64 }
	table    struct {
		fact string
		p    []float64
	}
	// curve is a leaf on a formula: rising steps or straight lines.
	curve struct {
		q  formula
		at func(x float64) float64
		// turns are where its direction may change.
		turns []float64
		jumps bool // at turns, it belongs to the step before
	}
	worst struct{ parts []node }
	best  struct{ parts []node }
	mean  struct {
		parts   []node
		weights []float64 // that sum to 1
	}
)

func (n constant) points(assignment) float64   { return n.p }
func (n constant) between(sets) (_, _ float64) { return n.p, n.p }
func (n constant) facts() []string             { return nil }
func (n constant) uses(sets) []use             { return nil }
func (n table) at(x float64) float64           { return n.p[int(x)] }
func (n table) points(a assignment) float64    { return n.at(a[n.fact]) }
func (n table) between(s sets) (_, _ float64)  { return ends(s(n.fact), n.at) }
func (n table) facts() []string                { return []string{n.fact} }
func (n table) uses(sets) []use                { return []use{{n.fact, n.at}} }
func (n curve) points(a assignment) float64    { return n.at(n.q.value(a)) }
func (n curve) facts() []string                { return n.q.facts() }

func (n curve) between(s sets) (lo, hi float64) {
	if p, direct := n.q.(plain); direct {
		return ends(s(p.fact), n.at)
	}
	l, h := n.q.between(s)
	return ends(n.on(l, h), n.at)
}

// on are the places between two where the least and the greatest may lie.
func (n curve) on(l, h float64) []float64 {
	xs := []float64{l, h}
	for _, t := range n.turns {
		for _, x := range []float64{t, t + 2*whisker*math.Max(1, math.Abs(t))} {
			if x > l && x < h {
				xs = append(xs, x)
			}
		}
	}
	slices.Sort(xs)
	return xs
}

func (n curve) uses(s sets) []use {
	if p, direct := n.q.(plain); direct {
		return []use{{p.fact, n.at}}
	}
	l, h := n.q.between(s)
	rises, falls := false, false
	xs := n.on(l, h)
	for i := 1; i < len(xs); i++ {
		d := n.at(xs[i]) - n.at(xs[i-1])
		rises, falls = rises || d > 0, falls || d < 0
	}
	var list []use
	for _, p := range n.q.places(1) {
		for _, dir := range []struct {
			is   bool
			sign float64
		}{{rises, 1}, {falls, -1}} {
			if dir.is {
				sign, of := p.sign*dir.sign, p.of
				list = append(list, use{p.fact, func(x float64) float64 { return sign * of(x) }})
			}
		}
	}
	return list
}

func nodeFacts(parts []node) (list []string) {
	for _, p := range parts {
		list = append(list, p.facts()...)
	}
	return list
}

func nodeUses(parts []node, s sets) (list []use) {
	for _, p := range parts {
		list = append(list, p.uses(s)...)
	}
	return list
}

func (n worst) points(a assignment) float64 {
	x := math.Inf(1)
	for _, p := range n.parts {
		x = math.Min(x, p.points(a))
	}
	return x
}
func (n worst) between(s sets) (lo, hi float64) {
	lo, hi = math.Inf(1), math.Inf(1)
	for _, p := range n.parts {
		l, h := p.between(s)
		lo, hi = math.Min(lo, l), math.Min(hi, h)
	}
	return lo, hi
}
func (n worst) facts() []string   { return nodeFacts(n.parts) }
func (n worst) uses(s sets) []use { return nodeUses(n.parts, s) }

func (n best) points(a assignment) float64 {
	x := math.Inf(-1)
	for _, p := range n.parts {
		x = math.Max(x, p.points(a))
	}
	return x
}
func (n best) between(s sets) (lo, hi float64) {
	lo, hi = math.Inf(-1), math.Inf(-1)
	for _, p := range n.parts {
		l, h := p.between(s)
		lo, hi = math.Max(lo, l), math.Max(hi, h)
	}
	return lo, hi
}
func (n best) facts() []string   { return nodeFacts(n.parts) }
func (n best) uses(s sets) []use { return nodeUses(n.parts, s) }

func (n mean) points(a assignment) float64 {
	x := 0.0
	for i, p := range n.parts {
		x += n.weights[i] * p.points(a)
	}
	return x
}
func (n mean) between(s sets) (lo, hi float64) {
	for i, p := range n.parts {
		l, h := p.between(s)
		lo, hi = lo+n.weights[i]*l, hi+n.weights[i]*h
	}
	return lo, hi
}
func (n mean) facts() []string   { return nodeFacts(n.parts) }
func (n mean) uses(s sets) []use { return nodeUses(n.parts, s) }

// reader turns the data of a rubric into nodes.
type reader struct {
	known     map[string]*fact
	low, high float64 // scale
	confirm   []string
	where     string
}

func (r *reader) note(at string, v any) error {
	m, ok := v.(map[string]any)
	if !ok {
		return fault.New(at+".note", "nothing", "certainty and source")
	}
	n := Note{}
	for k, x := range m {
		switch k {
		case "certainty":
			n.Certainty, _ = x.(string)
		case "source":
			n.Source, _ = x.(string)
		case "confirm":
			b, isBool := x.(bool)
			if !isBool {
				return fault.New(at+".note.confirm", x, "true or false")
			}
			n.Confirm = b
		default:
			return fault.New(at+".note."+k, "an unknown field", "certainty, source, confirm")
		}
	}
	return r.noted(at, &n)
}

func (r *reader) noted(at string, n *Note) error {
	if n == nil {
		return fault.New(at+".note", "nothing", "certainty and source")
	}
	if !slices.Contains([]string{"published", "from memory", "common practice", "house"}, n.Certainty) {
		return fault.New(at+".note.certainty", n.Certainty, "published, from memory, common practice, house")
	}
	if n.Source == "" {
		return fault.New(at+".note.source", n.Source, "where the constant is from")
	}
	if n.Confirm {
		path := strings.TrimPrefix(at+".", r.where)
		r.confirm = append(r.confirm, path+"note")
	}
	return nil
}

func keys(at string, m map[string]any, allowed ...string) error {
	for k := range m {
		if !slices.Contains(allowed, k) {
			return fault.New(at+"."+k, "an unknown field", strings.Join(allowed, ", "))
		}
	}
	return nil
}

// leaf reads the note that every leaf has.
func (r *reader) leaf(at string, m map[string]any, allowed ...string) error {
	if err := keys(at, m, append(allowed, "note")...); err != nil {
		return err
	}
	return r.note(at, m["note"])
}

func (r *reader) inScale(at string, v any) (float64, error) {
	x, ok := number(v)
	if !ok || x < r.low-whisker || x > r.high+whisker {
		return 0, fault.New(at, v, fmt.Sprintf("points from %g to %g", r.low, r.high))
	}
	return x, nil
}

func (r *reader) choice(at string, v any) (*fact, error) {
	id, _ := v.(string)
	f := r.known[id]
	if f == nil || !f.choice {
		return nil, fault.New(at, v, "the id of a choice")
	}
	return f, nil
}

// every reads a number for every value of a choice.
func (r *reader) every(at string, f *fact, v any, read func(string, any) (float64, error)) ([]float64, error) {
	m, ok := v.(map[string]any)
	if !ok || len(m) != len(f.values) {
		return nil, fault.New(at, fmt.Sprintf("%d values", len(m)), "every value of "+f.id+": "+strings.Join(f.values, ", "))
	}
	out := make([]float64, len(f.values))
	for i, name := range f.values {
		x, has := m[name]
		if !has {
			return nil, fault.New(at+"."+name, "nothing", "every value of "+f.id)
		}
		y, err := read(at+"."+name, x)
		if err != nil {
			return nil, err
		}
		out[i] = y
	}
	return out, nil
}

// node reads points.
func (r *reader) node(at string, v any) (node, error) {
	m, ok := v.(map[string]any)
	if !ok {
		return nil, fault.New(at, v, "a node: constant, table, steps, linear, worst, best or mean")
	}
	has := func(k string) bool { _, is := m[k]; return is }
	switch {
	case has("constant"):
		if err := r.leaf(at, m, "constant"); err != nil {
			return nil, err
		}
		p, err := r.inScale(at+".constant", m["constant"])
		return constant{p}, err
	case has("table"):
		if err := r.leaf(at, m, "table", "points"); err != nil {
			return nil, err
		}
		f, err := r.choice(at+".table", m["table"])
		if err != nil {
			return nil, err
		}
		p, err := r.every(at+".points", f, m["points"], r.inScale)
		return table{f.id, p}, err
	case has("steps"):
		return r.steps(at, m)
	case has("linear"):
		return r.linear(at, m)
	case has("worst"), has("best"):
		name := "worst"
		if has("best") {
			name = "best"
		}
		if err := keys(at, m, name); err != nil {
			return nil, err
		}
		list, ok := m[name].([]any)
		if !ok || len(list) == 0 {
			return nil, fault.New(at+"."+name, m[name], "one node or more")
		}
		var parts []node
		for i, x := range list {
			p, err := r.node(fmt.Sprintf("%s.%s[%d]", at, name, i), x)
			if err != nil {
				return nil, err
			}
			parts = append(parts, p)
		}
		if name == "best" {
			return best{parts}, nil
		}
		return worst{parts}, nil
	case has("mean"):
		if err := keys(at, m, "mean"); err != nil {
			return nil, err
		}
		list, ok := m["mean"].([]any)
		if !ok || len(list) == 0 {
			return nil, fault.New(at+".mean", m["mean"], "one part or more")
		}
		n := mean{}
		sum := 0.0
		for i, x := range list {
			here := fmt.Sprintf("%s.mean[%d]", at, i)
			part, ok := x.(map[string]any)
			if !ok {
				return nil, fault.New(here, x, "weight and of")
			}
			if err := keys(here, part, "weight", "of"); err != nil {
				return nil, err
			}
			w, ok := number(part["weight"])
			if !ok || !(w > 0) {
				return nil, fault.New(here+".weight", part["weight"], "a number above 0")
			}
			p, err := r.node(here+".of", part["of"])
			if err != nil {
				return nil, err
			}
			n.parts, n.weights = append(n.parts, p), append(n.weights, w)
			sum += w
		}
		for i := range n.weights {
			n.weights[i] /= sum
		}
		return n, nil
	}
	return nil, fault.New(at, "no node", "constant, table, steps, linear, worst, best or mean")
}

// rows reads pairs of a place and points, places rising.
func (r *reader) rows(at string, v any) (xs, ps []float64, err error) {
	list, ok := v.([]any)
	if !ok || len(list) == 0 {
		return nil, nil, fault.New(at, v, "pairs of a number and points")
	}
	for i, row := range list {
		here := fmt.Sprintf("%s[%d]", at, i)
		pair, ok := row.([]any)
		if !ok || len(pair) != 2 {
			return nil, nil, fault.New(here, row, "a number and points")
		}
		x, ok := number(pair[0])
		if !ok || i > 0 && !(x > xs[i-1]) {
			return nil, nil, fault.New(here+"[0]", pair[0], "a number above the one before")
		}
		p, err := r.inScale(here+"[1]", pair[1])
		if err != nil {
			return nil, nil, err
		}
		xs, ps = append(xs, x), append(ps, p)
	}
	return xs, ps, nil
}

func (r *reader) steps(at string, m map[string]any) (node, error) {
	if err := r.leaf(at, m, "steps", "at_most", "above"); err != nil {
		return nil, err
	}
	q, err := r.formula(at+".steps", m["steps"])
	if err != nil {
		return nil, err
	}
	xs, ps, err := r.rows(at+".at_most", m["at_most"])
	if err != nil {
		return nil, err
	}
	above, err := r.inScale(at+".above", m["above"])
	if err != nil {
		return nil, err
	}
	return curve{q: q, turns: xs, jumps: true, at: func(x float64) float64 {
		for i, y := range xs {
			if x <= y+whisker {
				return ps[i]
			}
		}
		return above
	}}, nil
}

func (r *reader) linear(at string, m map[string]any) (node, error) {
	if err := r.leaf(at, m, "linear", "through", "log"); err != nil {
		return nil, err
	}
	q, err := r.formula(at+".linear", m["linear"])
	if err != nil {
		return nil, err
	}
	xs, ps, err := r.rows(at+".through", m["through"])
	if err != nil {
		return nil, err
	}
	log, isBool := m["log"].(bool)
	if _, has := m["log"]; has && !isBool {
		return nil, fault.New(at+".log", m["log"], "true or false")
	}
	if log && !(xs[0] > 0) {
		return nil, fault.New(at+".through[0][0]", xs[0], "a number above 0 where the scale is logarithmic")
	}
	return curve{q: q, turns: xs, at: func(x float64) float64 {
		n := len(xs) - 1
		switch {
		case x <= xs[0]:
			return ps[0]
		case x >= xs[n]:
			return ps[n]
		}
		i := 1
		for x > xs[i] {
			i++
		}
		share := (x - xs[i-1]) / (xs[i] - xs[i-1])
		if log {
			share = math.Log(x/xs[i-1]) / math.Log(xs[i]/xs[i-1])
		}
		return ps[i-1] + share*(ps[i]-ps[i-1])
	}}, nil
}

// formula reads a quantity; on the whole domains factors and dividends must be 0 or more, divisors above 0.
func (r *reader) formula(at string, v any) (formula, error) {
	if id, text := v.(string); text {
		f := r.known[id]
		if f == nil || f.choice {
			return nil, fault.New(at, id, "the id of a number")
		}
		return plain{id}, nil
	}
	m, ok := v.(map[string]any)
	if !ok || len(m) == 0 {
		return nil, fault.New(at, v, "a fact, number, map, sum, product or ratio")
	}
	whole := func(f string) []float64 { return r.known[f].all }
	parts := func(name string, least int) ([]formula, error) {
		if err := keys(at, m, name); err != nil {
			return nil, err
		}
		list, ok := m[name].([]any)
		if !ok || len(list) < least {
			return nil, fault.New(at+"."+name, m[name], fmt.Sprintf("%d parts or more", least))
		}
		var out []formula
		for i, x := range list {
			q, err := r.formula(fmt.Sprintf("%s.%s[%d]", at, name, i), x)
			if err != nil {
				return nil, err
			}
			out = append(out, q)
		}
		return out, nil
	}
	notNegative := func(at string, q formula, above bool) error {
		if lo, _ := q.between(whole); lo < 0 || above && lo <= 0 {
			return fault.New(at, lo, "0 or more on the whole range of its facts; above 0 below a line")
		}
		return nil
	}
	switch {
	case m["number"] != nil:
		x, ok := number(m["number"])
		if !ok {
			return nil, fault.New(at+".number", m["number"], "a number")
		}
		return amount{x}, keys(at, m, "number")
	case m["map"] != nil:
		if err := keys(at, m, "map", "to"); err != nil {
			return nil, err
		}
		f, err := r.choice(at+".map", m["map"])
		if err != nil {
			return nil, err
		}
		to, err := r.every(at+".to", f, m["to"], func(at string, v any) (float64, error) {
			x, ok := number(v)
			if !ok {
				return 0, fault.New(at, v, "a number")
			}
			return x, nil
		})
		return mapped{f.id, to}, err
	case m["sum"] != nil:
		list, err := parts("sum", 1)
		return total{list}, err
	case m["product"] != nil:
		list, err := parts("product", 1)
		for i, q := range list {
			if err == nil {
				err = notNegative(fmt.Sprintf("%s.product[%d]", at, i), q, false)
			}
		}
		return product{list}, err
	case m["ratio"] != nil:
		list, err := parts("ratio", 2)
		if err != nil {
			return nil, err
		}
		if len(list) != 2 {
			return nil, fault.New(at+".ratio", len(list), "two parts")
		}
		if err := notNegative(at+".ratio[0]", list[0], false); err != nil {
			return nil, err
		}
		return ratio{list[0], list[1]}, notNegative(at+".ratio[1]", list[1], true)
	}
	return nil, fault.New(at, "no formula", "a fact, number, map, sum, product or ratio")
}
