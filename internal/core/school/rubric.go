package school

import (
	"fmt"
	"math"
	"slices"

	"waryowl/internal/core/fault"
)

// rule is a rubric that was read: S = min(Σ weight·points, every gate).
type rule struct {
	Rubric
	at       string
	criteria []node
	weights  []float64 // W, which sum to 1
	gates    []node
	parts    []*part // what hangs together of criteria and gates
	cuts     []gate
	confirm  []string
	facts    []string // that it uses, sorted
	known    map[string]*fact
}

func readRubric(at string, b Rubric, known map[string]*fact) (*rule, error) {
	if err := fault.ID(at+".id", b.ID); err != nil {
		return nil, err
	}
	if b.Version == "" {
		return nil, fault.New(at+".version", b.Version, "a version")
	}
	if len(b.Scale) != 2 || !(b.Scale[0] < b.Scale[1]) {
		return nil, fault.New(at+".scale", fmt.Sprint(b.Scale), "two numbers, the smaller first")
	}
	if b.Digits != nil && (*b.Digits < 0 || *b.Digits > 9) {
		return nil, fault.New(at+".digits", *b.Digits, "0 to 9")
	}
	r := &reader{known: known, low: b.Scale[0], high: b.Scale[1], where: at + "."}
	s := &rule{Rubric: b, at: at, known: known}
	if err := r.noted(at, b.Note); err != nil {
		return nil, err
	}
	if len(b.Criteria) == 0 {
		return nil, fault.New(at+".criteria", "none", "one criterion or more")
	}
	for j, w := range b.Jobs {
		if !(w > 0) {
			return nil, fault.New(at+".jobs."+j, w, "a share above 0")
		}
	}
	seen := map[string]bool{}
	byJob := map[string]float64{}
	for i, c := range b.Criteria {
		here := fmt.Sprintf("%s.criteria[%d]", at, i)
		if err := fault.ID(here+".id", c.ID); err != nil {
			return nil, err
		}
		if seen[c.ID] {
			return nil, fault.New(here+".id", c.ID, "an id that comes once")
		}
		seen[c.ID] = true
		if !(c.Weight > 0) {
			return nil, fault.New(here+".weight", c.Weight, "a weight above 0")
		}
		if len(b.Jobs) > 0 {
			if _, has := b.Jobs[c.job()]; !has {
				return nil, fault.New(here+".job", c.job(), "a job of jobs")
			}
		} else if c.Job != "" {
			return nil, fault.New(here+".job", c.Job, "a job only where the rubric has jobs")
		}
		byJob[c.job()] += c.Weight
		if err := r.noted(here, c.Note); err != nil {
			return nil, err
		}
		n, err := r.node(here+".points", c.Points)
		if err != nil {
			return nil, err
		}
		s.criteria = append(s.criteria, n)
	}
	shares := 0.0
	for j, w := range b.Jobs {
		if byJob[j] == 0 {
			return nil, fault.New(at+".jobs."+j, j, "a job that a criterion has")
		}
		shares += w
	}
	for _, c := range b.Criteria {
		w := c.Weight / byJob[c.job()]
		if len(b.Jobs) > 0 {
			w *= b.Jobs[c.job()] / shares
		}
		s.weights = append(s.weights, w)
	}
	for i, g := range b.Gates {
		here := fmt.Sprintf("%s.gates[%d]", at, i)
		if err := fault.ID(here+".id", g.ID); err != nil {
			return nil, err
		}
		if seen[g.ID] {
			return nil, fault.New(here+".id", g.ID, "an id that comes once")
		}
		seen[g.ID] = true
		if err := r.noted(here, g.Note); err != nil {
			return nil, err
		}
		n, err := r.node(here+".points", g.Points)
		if err != nil {
			return nil, err
		}
		s.gates = append(s.gates, n)
	}
	for i, c := range b.Classes {
		if c.Name == "" || i > 0 && !(c.AtLeast < b.Classes[i-1].AtLeast) {
			return nil, fault.New(fmt.Sprintf("%s.classes[%d].at_least", at, i), c.AtLeast, "a name and limits that fall")
		}
	}
	s.confirm = r.confirm
	if s.confirm == nil {
		s.confirm = []string{}
	}
	used := map[string]bool{}
	for _, n := range slices.Concat(s.criteria, s.gates) {
		for _, f := range n.facts() {
			used[f] = true
		}
	}
	for f := range used {
		s.facts = append(s.facts, f)
	}
	slices.Sort(s.facts)
	var terms []term
	for i, n := range s.criteria {
		terms = append(terms, apart(s.weights[i], n)...)
	}
	s.parts = split(terms, s.gates)
	for _, g := range s.gates {
		own := g.facts()
		at := slices.IndexFunc(s.parts, func(p *part) bool { return len(own) == 0 || slices.Contains(p.facts, own[0]) })
		s.cuts = append(s.cuts, gate{g, at})
	}
	return s, nil
}

func (c Criterion) job() string {
	if c.Job == "" {
		return "whole"
	}
	return c.Job
}

// whole is the score of an assignment, and what the gates leave of it.
func (s *rule) whole(a assignment) float64 {
	sum := 0.0
	for i, n := range s.criteria {
		sum += s.weights[i] * n.points(a)
	}
	for _, g := range s.gates {
		sum = math.Min(sum, g.points(a))
	}
	return sum
}

// class is the class of a score: it is first rounded; below all limits it is the last.
func (s *rule) class(v float64) int {
	if s.Digits != nil {
		t := math.Pow(10, float64(*s.Digits))
		v = math.Floor(v*t+0.5+whisker) / t
	}
	for i, c := range s.Classes {
		if v >= c.AtLeast-whisker {
			return i
		}
	}
	return len(s.Classes) - 1
}

// classes from that of the high end to that of the low end.
func (s *rule) classes(lo, hi float64) []string {
	list := []string{}
	if len(s.Classes) == 0 {
		return list
	}
	for i := s.class(hi); i <= s.class(lo); i++ {
		list = append(list, s.Classes[i].Name)
	}
	return list
}
