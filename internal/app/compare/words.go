package compare

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/app/model"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/compare"
	"waryowl/internal/core/quantity"
	"waryowl/internal/store"
)

// judge says what a change means, and for whom.
func (r Room) judge(c compare.Ranked, a, b *model.Record) Change {
	name := cmp.Or(b.PartByID[c.B].Name, a.PartByID[c.A].Name)
	if old := a.PartByID[c.A].Name; old != "" && c.B != "" && !strings.EqualFold(old, name) {
		name = old + " → " + name
	}
	out := Change{Ranked: c, Name: name, Judgement: "no matter", For: "technicians"}
	minutes := 0.0 // in the job that it changes most
	job := ""
	add := func(m map[string]float64) {
		for _, j := range model.JobKinds {
			if x := m[j.Job]; max(x, -x) > max(minutes, -minutes) {
				minutes, job = x, j.Job
			}
		}
	}
	var match *compare.Match
	for i, m := range r.Found.Matched {
		if m.A == c.A && m.B == c.B {
			match = &r.Found.Matched[i]
			add(m.Minutes)
		}
	}
	for _, g := range append(slices.Clone(r.Found.Gone), r.Found.Added...) {
		if match == nil && (g.Part == c.A || g.Part == c.B) {
			add(g.Minutes)
		}
	}
	reasons := []string{}
	if match != nil {
		for _, j := range match.JointsGained {
			reasons = append(reasons, j+" more")
		}
		for _, j := range match.JointsLost {
			reasons = append(reasons, j+" fewer")
		}
	}
	if max(minutes, -minutes) >= 0.05 {
		reasons = append([]string{signed(minutes) + " min in the " + job + " job"}, reasons...)
	}
	switch {
	case minutes > 0.05:
		out.Judgement = "harder"
	case minutes < -0.05:
		out.Judgement = "easier"
	case match != nil && match.Interchange == "ruled out" || match == nil:
		out.Judgement, out.For = "dearer", "parts buyers"
	}
	if match != nil && match.Interchange == "ruled out" && out.For == "technicians" {
		out.For = "technicians, dearer for parts buyers"
	}
	if match != nil && match.Interchange == "ruled out" {
		reasons = append(reasons, "no longer interchanges: to be stocked for each model")
	}
	if match == nil {
		reasons = append(
			reasons,
			map[string]string{"gone": "this part is not there any more", "added": "a part that was not there before",
				"merged": "its functions went into another part, which is replaced as a whole",
				"split":  "took over functions of another part", "replaced": "another part does its work now"}[c.Changes[0]],
		)
	}
	out.Why = strings.Join(reasons, "; ")
	return out
}

// signed is a difference to a tenth, with a minus sign as it is set in print.
func signed(x float64) string { return strings.Replace(fmt.Sprintf("%+.1f", x), "-", "−", 1) }

// say is the sentence that the visitor came for.
func (r Room) say() answer.Sentence {
	s := answer.Sentence{answer.Text(r.Found.Answer.Text)}
	f := r.Found.Facts
	if f.RuledOut > 0 {
		s = append(
			s,
			answer.Text("; "),
			answer.Count(f.RuledOut, "part", "#changes"),
			answer.Text(" no longer interchange"),
		)
		if f.RuledOut == 1 {
			s[len(s)-1] = answer.Text(" no longer interchanges")
		}
	}
	if f.ToConfirm > 0 {
		s = append(s, answer.Text("; "), answer.Count(f.ToConfirm, "pair", "#confirm"), answer.Text(" to confirm"))
	}
	return append(s, answer.Text("."))
}

// onlyInferred says whether all that is on record of a model was copied by look from another one.
func onlyInferred(k *model.Record) bool {
	return len(k.Parts) > 0 && !slices.ContainsFunc(k.Parts, func(p store.Part) bool { return p.Source != "inferred by look" })
}

// doubts are figures that do not go together across the two models.
func doubts(out compare.Output, a, b *model.Record) []string {
	list := []string{}
	for _, m := range out.Matched {
		p, q := a.PartByID[m.A], b.PartByID[m.B]
		if quantity.Turned(
			quantity.Pack{MAh: p.CapacityMAh, Wh: p.EnergyWh},
			quantity.Pack{MAh: q.CapacityMAh, Wh: q.EnergyWh},
		) {
			list = append(
				list,
				fmt.Sprintf(
					"%s: %g mAh and %g Wh against %g mAh and %g Wh turn the order over: one figure was misread?",
					q.Name,
					q.CapacityMAh,
					q.EnergyWh,
					p.CapacityMAh,
					p.EnergyWh,
				),
			)
		}
		x, y := model.Quantities(p), model.Quantities(q)
		for name, v := range x {
			if w, both := y[name]; both && v.Unit != w.Unit {
				list = append(
					list,
					fmt.Sprintf("%s: %s is in %s here and in %s there: not compared", q.Name, name, w.Unit, v.Unit),
				)
			}
		}
	}
	slices.Sort(list)
	return list
}
