package compare

import (
	"cmp"
	"fmt"
	"math"
	"slices"
)

// Cause is what makes jobs take other minutes: lines of parts that change together.
type Cause struct {
	Kind     string             `json:"kind" enum:"steps,rest,gained,lost"`
	Jobs     []string           `json:"jobs" nullable:"false"`
	Lines    []CauseLine        `json:"lines" nullable:"false"`
	Minutes  map[string]float64 `json:"minutes" doc:"by job"`
	Weighted float64            `json:"weighted"`
	Effect   string             `json:"effect" enum:"easier,harder,gained,lost"`
}

// CauseLine is a matched pair, a part that went (no b) or one that came (no a), with its weighted minutes.
type CauseLine struct {
	A       string  `json:"a"`
	B       string  `json:"b"`
	Minutes float64 `json:"minutes"`
}

// leastMinutes is from where on minutes of a part in a job count, together from which share of jobs two lines are one
// cause (house).
const (
	leastMinutes = 0.05
	together     = 2.0 / 3
	insteadMore  = 3600.0 // seconds: a larger assembly is bought and everything moves over (house)
)

// line is a part with its minutes by job, and the jobs in which they count.
type line struct {
	a, b    string
	minutes map[string]float64
	jobs    map[string]bool
	heir    string // of a lone part: on the other side
}

// causes puts the minutes by part together by what they come from.
func (out *Output) causes(in Input) {
	var lines []line
	add := func(a, b, heir string, minutes map[string]float64) {
		l := line{a, b, minutes, map[string]bool{}, heir}
		for job, m := range minutes {
			if math.Abs(m) >= leastMinutes-1e-9 {
				l.jobs[job] = true
			}
		}
		if len(l.jobs) > 0 {
			lines = append(lines, l)
		}
	}
	for _, m := range out.Matched {
		add(m.A, m.B, "", m.Minutes)
	}
	for _, g := range out.Gone {
		add(g.Part, "", g.With, g.Minutes)
	}
	for _, g := range out.Added {
		add("", g.Part, g.With, g.Minutes)
	}
	group := make([]int, len(lines))
	for i := range group {
		group[i] = i
	}
	for i := range lines {
		for k := range i {
			if lines[i].belongs(lines[k]) {
				from, to := group[i], group[k]
				for n := range group {
					if group[n] == from {
						group[n] = to
					}
				}
			}
		}
	}
	for g := range lines {
		c := Cause{Kind: "steps", Minutes: map[string]float64{}, Lines: []CauseLine{}, Jobs: []string{}}
		member := false
		for i, l := range lines {
			if group[i] != g {
				continue
			}
			member = true
			weighted := 0.0
			for _, j := range in.Jobs {
				if !j.both() {
					continue
				}
				c.Minutes[j.Job] += l.minutes[j.Job]
				weighted += j.Weight * l.minutes[j.Job]
				if l.jobs[j.Job] && !slices.Contains(c.Jobs, j.Job) {
					c.Jobs = append(c.Jobs, j.Job)
				}
			}
			c.Lines = append(c.Lines, CauseLine{l.a, l.b, weighted})
		}
		if member {
			out.addCause(in, c)
		}
	}
	rest := Cause{Kind: "rest", Minutes: map[string]float64{}, Lines: []CauseLine{}, Jobs: []string{}}
	for _, j := range out.Jobs {
		rest.Minutes[j.Job] = j.Rest
		if math.Abs(j.Rest) >= leastMinutes-1e-9 {
			rest.Jobs = append(rest.Jobs, j.Job)
		}
	}
	if len(rest.Jobs) > 0 {
		out.addCause(in, rest)
	}
	for k, r := range out.Table {
		if r.State != gained && r.State != lost {
			continue
		}
		j := in.Jobs[k]
		there, other, sign := j.B, j.A, 1.0
		if r.State == lost {
			there, other, sign = j.A, j.B, -1
		}
		instead := there.Seconds + insteadMore
		if other.Instead != nil {
			instead = *other.Instead
		}
		m := sign * (there.Seconds - instead) / 60
		c := Cause{Kind: r.State, Jobs: []string{j.Job}, Minutes: map[string]float64{j.Job: m}, Lines: []CauseLine{}}
		if j.Target != (Target{}) {
			c.Lines = append(c.Lines, CauseLine{j.Target.A, j.Target.B, j.Weight * m})
		}
		out.addCause(in, c)
	}
	order := map[string]int{gained: 0, lost: 0, "steps": 1, "rest": 2}
	rounded := func(x float64) float64 { return math.Round(math.Abs(x) * 1e9) }
	slices.SortStableFunc(out.Causes, func(a, b Cause) int {
		first := func(c Cause) CauseLine {
			if len(c.Lines) > 0 {
				return c.Lines[0]
			}
			return CauseLine{}
		}
		return cmp.Or(cmp.Compare(rounded(b.Weighted), rounded(a.Weighted)), cmp.Compare(order[a.Kind], order[b.Kind]),
			cmp.Compare(len(b.Jobs), len(a.Jobs)), cmp.Compare(len(b.Lines), len(a.Lines)),
			cmp.Compare(first(a).A, first(b).A), cmp.Compare(first(a).B, first(b).B))
	})
}

// addCause weighs a cause and puts its jobs and lines in order.
func (out *Output) addCause(in Input, c Cause) {
	var jobs []string
	for _, j := range in.Jobs {
		c.Weighted += j.Weight * c.Minutes[j.Job]
		if slices.Contains(c.Jobs, j.Job) {
			jobs = append(jobs, j.Job)
		}
	}
	c.Jobs = jobs
	slices.SortStableFunc(c.Lines, func(a, b CauseLine) int {
		return cmp.Or(cmp.Compare(math.Round(math.Abs(b.Minutes)*1e9), math.Round(math.Abs(a.Minutes)*1e9)),
			cmp.Compare(a.A, b.A),
			cmp.Compare(a.B, b.B))
	})
	switch {
	case c.Kind == gained || c.Kind == lost:
		c.Effect = c.Kind
	case c.Weighted < 0:
		c.Effect = "easier"
	default:
		c.Effect = "harder"
	}
	out.Causes = append(out.Causes, c)
}

// belongs says whether two lines come from one cause: many jobs of both are shared, or one is a lone part and the
// other its heir.
func (l line) belongs(o line) bool {
	meet, all := 0, len(o.jobs)
	for j := range l.jobs {
		if o.jobs[j] {
			meet++
		} else {
			all++
		}
	}
	if len(l.jobs) >= 2 && len(o.jobs) >= 2 && float64(meet) >= together*float64(all)-1e-9 {
		return true
	}
	heir := func(x, of line) bool {
		return x.heir != "" && (x.a == "" && of.a == x.heir || x.b == "" && of.b == x.heir)
	}
	return meet > 0 && (heir(l, o) || heir(o, l))
}

// say puts a cause into words: its largest job to a tenth of a minute, its first part; of a job that came or went its
// target. Say is a cause in words: the job that it changes most, by how much, and by what.
func (c Cause) Say(in Input) string {
	name := func(l CauseLine) string {
		if n := in.B.called(l.B); n != "" {
			return n
		}
		return in.A.called(l.A)
	}
	switch {
	case c.Kind == gained:
		text := c.Jobs[0] + " is a job of its own now"
		if len(c.Lines) > 0 {
			text += ", " + name(c.Lines[0])
		}
		return text
	case c.Kind == lost:
		text := c.Jobs[0] + " is no job of its own any more"
		if len(c.Lines) > 0 {
			l := c.Lines[0]
			if n := in.A.called(l.A); n != "" {
				text += ", " + n
			} else {
				text += ", " + name(l)
			}
		}
		return text
	}
	job := c.Jobs[0]
	for _, j := range c.Jobs {
		if math.Abs(c.Minutes[j]) > math.Abs(c.Minutes[job])+1e-9 {
			job = j
		}
	}
	more := "more"
	if c.Minutes[job] < 0 {
		more = "less"
	}
	text := fmt.Sprintf("%s takes %.1f min %s", job, math.Abs(c.Minutes[job]), more)
	if c.Kind == "rest" {
		return text + " by tool changes and waits"
	}
	text += ", by the " + name(c.Lines[0])
	if len(c.Lines) > 1 {
		text += " and " + name(c.Lines[1])
	}
	return text
}
