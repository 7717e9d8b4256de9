package school

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"waryowl/internal/core/fault"
)

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
	return curve{q: q, from: q.facts(), places: q.places(1), turns: xs, jumps: true, at: func(x float64) float64 {
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
	return curve{q: q, from: q.facts(), places: q.places(1), turns: xs, at: func(x float64) float64 {
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
