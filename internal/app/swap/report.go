package swap

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"

	"waryowl/internal/app/model"
	"waryowl/internal/app/study"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/round"
)

// mostCards is how many acts are offered, besides the control of each phone (house).
const mostCards = 5

// worthDoubt is from what chance on a reading is named as probably wrong (house).
const worthDoubt = 0.1

func (v *Room) fill(b *study.Record, r Advised) {
	name := map[string]string{}
	settled, tested := 0, 0
	for _, c := range v.Checks {
		name[c.Mark] = c.Name
		rep := CheckReport{Check: c, Suspects: []Suspicion{}, Disputes: []Dispute{},
			Arrangements: []ArrangementLine{}}
		out := r.Out.Checks[c.Mark]
		for _, t := range r.In.Trials {
			if ledger.IsBaseline(t.ID) {
				continue
			}
			switch t.Results[c.Mark] {
			case "lost", "weak":
				rep.Lost++
				rep.Tested++
			case "pass":
				rep.Tested++
			}
		}
		rep.Consistent, rep.Settled = out.Consistent, r.settled(c.Mark) && rep.Tested > 0
		if out.Bits != nil {
			rep.Bits = *out.Bits
		}
		rep.explain(b, r)
		fickle := false // what comes and goes disagrees with itself: that is no dispute any more
		for a, p := range out.Marginal {
			fickle = fickle || p >= 0.5 && r.History.Atom(a).Kind == ledger.Sometimes
		}
		for _, k := range out.Conflicts {
			if fickle {
				break
			}
			d := Dispute{Trial: k.Trial, Words: []string{}, Against: append([]string{}, k.Against...)}
			only := len(k.Atoms) > 0
			for _, a := range k.Atoms {
				d.Words = append(d.Words, b.Words(r.History.Atom(a)))
				only = only && r.History.Atom(a).BroughtUp()
			}
			if only { // but for what only the readings brought up, they disagree
				d.Against = r.against(k.Trial, c.Mark)
			}
			rep.Disputes = append(rep.Disputes, d)
		}
		if rep.Tested > 0 {
			tested++
		}
		if rep.Settled {
			settled++
		}
		v.Reports = append(v.Reports, rep)
	}
	v.rows(b, r.Reading)
	for _, k := range r.Skips {
		v.Skips = append(v.Skips, SkipView{k.Trial, name[k.Check], k.Why, k.Text()})
	}
	for _, d := range r.Out.SuspectTrials {
		if d.P < worthDoubt {
			continue
		}
		minutes, trial := float64(round.Assumed), d.Trial
		for _, u := range b.Units {
			if trial == ledger.BaselineID(u.ID) {
				trial, minutes = "baseline of "+u.Name, model.CheckTime(b.Checks)/60
			}
		}
		for _, t := range b.Trials {
			if study.TrialMark(t) == d.Trial && t.Minutes > 0 {
				minutes = t.Minutes
			}
		}
		v.Doubts = append(v.Doubts, Doubt{trial, name[d.Check], d.P, minutes})
	}
	slices.SortStableFunc(v.Doubts, func(a, b Doubt) int { return cmp.Compare(b.P, a.P) })
	for _, n := range r.Next {
		if len(v.Next) < mostCards || n.Kind == "control" { // all home is always among them
			v.Next = append(v.Next, n)
		}
	}
	if len(r.Calibrate) > 0 && len(v.Next) < mostCards {
		v.Next = append(v.Next, r.Calibrate[0])
	}
	v.Plan = append(v.Plan, r.Plan...)
	for _, c := range v.Reports {
		if c.Lost > 0 && !c.Settled {
			v.Open = append(v.Open, c.Check.Name)
		}
	}
	for _, c := range r.Out.Checks {
		v.Inexact = max(v.Inexact, c.Error)
	}
	v.settled = settled
}

// explain fills in what explains the losses of a check, the likeliest first, and how its pairs of parts did.
func (rep *CheckReport) explain(b *study.Record, r Advised) {
	c := r.Culprit.Check(rep.Check.Mark)
	rep.Unexplained = c.Unexplained
	if rep.Lost == 0 {
		return
	}
	for _, x := range r.Culprit.Likely(rep.Check.Mark) {
		if x.P >= 0.05 && len(rep.Suspects) < 6 {
			rep.Suspects = append(rep.Suspects, Suspicion{b.Words(x.Atom), x.P})
		}
	}
	for _, a := range r.Culprit.Arrangements(rep.Check.Mark) {
		rep.Arrangements = append(rep.Arrangements, ArrangementLine{arranged(a.Slots), a.Lost, a.Of, a.Verdict, a.Eye})
	}
}

// arranged says a setting of two parts: whose piece each of them was.
func arranged(slots map[string]string) string {
	var words []string
	for _, slot := range slices.Sorted(maps.Keys(slots)) {
		switch st := slots[slot]; st {
		case "own":
			words = append(words, "its own "+slot)
		case "stranger":
			words = append(words, "another phone's "+slot)
		default:
			words = append(words, slot+" ("+strings.ReplaceAll(st, "@", " ")+")")
		}
	}
	return strings.Join(words, ", ")
}

// against are passing trials that together speak against every explanation of a lost trial but those that the readings
// brought up: few, one after the other.
func (r Advised) against(trial, check string) []string {
	open := map[string]bool{}
	for _, t := range r.In.Trials {
		if t.ID == trial {
			for _, a := range t.AtomNames() {
				if x := r.History.Atom(a); !x.BroughtUp() && !x.Accident() && r.In.Prior.Atoms[a][check] > 0 {
					open[a] = true
				}
			}
		}
	}
	list := []string{}
	for len(open) > 0 {
		best, most, least := -1, 0, 0
		for i := len(r.In.Trials) - 1; i >= 0; i-- { // of those that say as much, the one that held least, then the latest
			t, n := r.In.Trials[i], 0
			names := t.AtomNames()
			for _, a := range names {
				if open[a] && t.Results[check] == "pass" {
					n++
				}
			}
			if n > most || n == most && n > 0 && len(names) < least {
				best, most, least = i, n, len(names)
			}
		}
		if best < 0 {
			break
		}
		for _, a := range r.In.Trials[best].AtomNames() {
			delete(open, a)
		}
		list = append(list, r.In.Trials[best].ID)
	}
	slices.Sort(list)
	return list
}

// rows are the slots and states with their verdicts, here and on the other builds.
func (v *Room) rows(b *study.Record, r study.Reading) {
	others := map[string]study.Reading{}
	for _, build := range v.Builds {
		if build != v.Build {
			if o, err := b.Read(build); err == nil {
				others[build] = o
			}
		}
	}
	for _, st := range ledger.States(r.In) {
		row := SuspectRow{Part: st[0], State: st[1], Verdicts: []ledger.Verdict{}, Others: []BuildVerdicts{}}
		if p := b.Know.PartNamed(st[0]); p != nil {
			row.PartID = p.ID
		}
		for _, c := range v.Checks {
			row.Verdicts = append(row.Verdicts, r.Grade(st[0], st[1], c.Mark))
		}
		row.Mark, row.Eye = ledger.Summary(row.Verdicts, study.IsNotice)
		for _, build := range v.Builds {
			o, read := others[build]
			if !read {
				continue
			}
			list := BuildVerdicts{build, []ledger.Verdict{}}
			for _, c := range v.Checks {
				if w := o.Grade(st[0], st[1], c.Mark); w.Mark != ledger.Untested {
					list.Verdicts = append(list.Verdicts, w)
				}
			}
			if len(list.Verdicts) > 0 {
				row.Others = append(row.Others, list)
			}
		}
		v.Rows = append(v.Rows, row)
	}
}

// sentence answers what to do next, and why.
func (v *Room) sentence(b *study.Record) {
	v.Answer = answer.Sentence{answer.Number(float64(v.settled), "", "#known"),
		answer.Text(fmt.Sprintf(" of %d checks settled", len(v.Checks)))}
	halt := slices.IndexFunc(v.Warnings, func(w ledger.Warning) bool { return w.Kind == "halt" })
	switch {
	case len(b.Units) == 0:
		v.Answer = answer.Sentence{answer.Text("Swap tests need a unit of the model; none is on record.")}
	case len(b.Units) == 1 && halt < 0:
		v.Answer = answer.Sentence{answer.Text("One phone shows what goes when a part is off, seated anew or restored; " +
			"what another phone's part would lose it can never tell")}
		if len(v.Next) > 0 {
			v.Answer = append(v.Answer, answer.Text(". "+v.Next[0].Words+": "),
				answer.Number(v.Next[0].Minutes, "min", "#next"))
		}
		v.Answer = append(v.Answer, answer.Text("."))
	case halt >= 0:
		v.Answer = answer.Sentence{answer.Text("Stop. " + v.Warnings[halt].Text)}
	case len(b.Trials) == 0:
		v.Answer = append(v.Answer,
			answer.Text(": exchange the main boards first, then every other part is from another phone at once."))
	case len(v.Next) > 0:
		n := v.Next[0]
		words := n.Words
		if len(words) > 90 { // the card lists them
			words, _, _ = strings.Cut(words, ": ")
		}
		v.Answer = append(v.Answer, answer.Text(". "+words+": "), answer.Number(n.Minutes, "min", "#next"),
			answer.Text(" with refit and checks"))
		if k := len(n.Settles); k > 0 {
			v.Answer = append(v.Answer, answer.Text("; it settles "), answer.Number(float64(k), "", "#next"),
				answer.Text(fmt.Sprintf(" of %d", len(v.Checks))))
		}
		v.Answer = append(v.Answer, answer.Text("."))
	default:
		v.Answer = append(v.Answer, answer.Text("; nothing that could be exchanged next is worth its minutes."))
		if len(v.Open) > 0 {
			v.Answer = append(v.Answer, answer.Text(" It stays open which part loses "+strings.Join(v.Open, ", ")+"."))
		}
	}
}
