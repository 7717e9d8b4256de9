// Package intake is the room before opening: models, units, builds, baselines, hypotheses and the gate.
package intake

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/study"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/dose"
	"waryowl/internal/core/entry"
	"waryowl/internal/store"
)

// Room is the room of intake.
type Room struct {
	study.Card
	Answer answer.Sentence  `json:"answer" nullable:"false"`
	Open   bool             `json:"open" doc:"may the phones be opened?"`
	Gate   []GateTick       `json:"gate" nullable:"false"`
	Checks []store.Check    `json:"checks" nullable:"false"`
	Intake []UnitIntake     `json:"intake" nullable:"false"`
	Limit  float64          `json:"limit" doc:"the workshop's charge limit, percent"`
	Asks   []study.Question `json:"questions" nullable:"false" doc:"statements to settle, and how far the swaps settle them"`
	Slots  []store.Part     `json:"slots" nullable:"false" doc:"parts that take part in swap tests"`
	Notes  []string         `json:"notes" nullable:"false" doc:"what is odd: masses that differ, red liquid marks, what is missing"`
}

func intake(b *study.Record) Room {
	v := Room{Card: b.Card(), Checks: b.Checks, Intake: []UnitIntake{}, Gate: []GateTick{}, Limit: entry.Limit(b.Know.ChargeLimit),
		Notes: []string{}}
	builds := map[string]bool{}
	var reasons answer.Sentence
	for _, u := range b.Units {
		ui := UnitIntake{Unit: u, Baseline: []store.Baseline{}, Untested: b.Untested(u.ID), Gate: gate(u, b.Know.ChargeLimit),
			Advice: dose.PryOrReheat(dose.Entry{GapMM: u.Entry.GapMM,
				SuctionLifts: u.Entry.SuctionLifts, FreedPercent: u.Entry.FreedPercent,
				SecondsAtHeat: study.Heated(b.Rounds(u.ID, ""))})}
		for _, l := range b.Baselines {
			if l.UnitID == u.ID {
				ui.Baseline = append(ui.Baseline, l)
			}
		}
		open := 0
		for _, g := range ui.Gate {
			if !g.Met {
				open++
			}
			if g.Stop {
				reasons = append(answer.Sentence{answer.Text(u.Name + " has a swollen battery; ")}, reasons...)
			}
		}
		if ui.Untested > 0 {
			reasons = append(reasons, answer.Text(u.Name+" has "), answer.Number(float64(ui.Untested), "", "#baseline"),
				answer.Text(fmt.Sprintf(" of %d checks untested", len(b.Checks))))
			if g := u.Gate.Charge; g != nil && *g > entry.Limit(b.Know.ChargeLimit) {
				reasons = append(reasons, answer.Text(" and "), answer.Number(*g, "%", "#gate"), answer.Text(" charge"))
			}
			reasons = append(reasons, answer.Text("; "))
		}
		if open > 0 {
			reasons = append(reasons, answer.Text(u.Name+": "), answer.Count(open, "safety check", "#gate"),
				answer.Text(" left; "))
		}
		if u.Gate.Liquid == "red" {
			v.Notes = append(v.Notes, u.Name+": the liquid indicator is red. Corrosion explains losses that look like "+
				"refused parts.")
		}
		if m := b.Know.MassG; m > 0 && u.MassG > 0 && (u.MassG-m > 0.02*m || m-u.MassG > 0.02*m) {
			v.Notes = append(v.Notes, fmt.Sprintf("%s weighs %g g, the model %g g: is something missing, or was it "+
				"opened before?", u.Name, u.MassG, m))
		}
		builds[u.Build] = true
		v.Intake = append(v.Intake, ui)
	}
	tested := len(b.Units) > 0 && !slices.ContainsFunc(v.Intake, func(u UnitIntake) bool { return u.Untested > 0 })
	v.Gate = append(v.Gate, GateTick{Text: "Two units of the model: one alone cannot tell a broken part from a " +
		"refused one", Met: len(b.Units) >= 2},
		GateTick{Text: "Every check run on every unit before opening", Met: tested},
		GateTick{Text: "Software build of every unit written down", Met: len(b.Units) > 0 && !builds[""]})
	met := func(g GateTick) bool { return g.Met }
	all := !slices.ContainsFunc(v.Gate, func(g GateTick) bool { return !g.Met })
	for _, u := range v.Intake {
		for _, g := range u.Gate {
			all = all && met(g)
		}
	}
	v.Open = all
	m := b.Missing
	for _, x := range []struct {
		is   bool
		what string
	}{{m.Guide, "guide"}, {m.Chart, "screw chart"}, {m.Adhesive, "spare adhesive"}, {m.Spares,
		"common spares"}, {m.Other != "", m.Other}} {
		if x.is {
			v.Notes = append(v.Notes, "Missing: "+x.what+".")
		}
	}
	if len(b.Units) < 2 {
		reasons = append(reasons, answer.Number(float64(len(b.Units)), "", "#units"),
			answer.Text(" of 2 units recorded; "))
	}
	if len(b.Units) > 0 && builds[""] {
		reasons = append(reasons, answer.Text("a build is not written down; "))
	}
	if v.Open {
		v.Answer = answer.Sentence{answer.Text("You may open: "),
			answer.Number(float64(len(b.Units)), "units", "#units"), answer.Text(" with a full baseline")}
		if len(builds) > 1 {
			v.Answer = append(v.Answer,
				answer.Text(", but on different builds: what they show is not comparable at once"))
		}
		v.Answer = append(v.Answer, answer.Text("."))
		return v
	}
	last := &reasons[len(reasons)-1]
	last.Text = strings.TrimSuffix(last.Text, "; ") + "."
	v.Answer = append(answer.Sentence{answer.Text("Do not open yet: ")}, reasons...)
	return v
}

// UnitIntake is a unit with its baseline, and how many cells of it are empty.
type UnitIntake struct {
	Unit     store.Unit       `json:"unit"`
	Baseline []store.Baseline `json:"baseline" nullable:"false"`
	Untested int              `json:"untested"`
	Gate     []GateTick       `json:"gate" nullable:"false"`
	Advice   string           `json:"advice" doc:"pry on or reheat"`
}

// Show shows units, builds and baselines, and says whether the phones may be opened.
func Show(ctx context.Context, s *act.Service, id string) (Room, error) {
	b, err := study.Load(s.DB.WithContext(ctx), id)
	if err != nil {
		return Room{}, err
	}
	v := intake(b)
	v.Asks, v.Slots = []study.Question{}, b.Slots()
	if len(b.Hypotheses) == 0 {
		return v, nil
	}
	build := ""
	if builds := b.Builds(); len(builds) > 0 {
		build = builds[len(builds)-1]
	}
	r, err := b.Read(build)
	if err == nil {
		v.Asks = r.Questions(b)
	}
	return v, err
}
