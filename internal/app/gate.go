package app

import (
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/core/answer"
	"waryowl/internal/core/dose"
	"waryowl/internal/store"
)

// chargeLimit is the workshop's limit before a phone is opened, in percent (house).
const chargeLimit = 25.0

// GateTick is one condition before opening; Unit is empty for the study's own. Stop says that it forbids opening altogether.
type GateTick struct {
	Unit string `json:"unit,omitempty"`
	Text string `json:"text"`
	Met  bool   `json:"met"`
	Stop bool   `json:"stop,omitempty"`
}

// gate lists the conditions before a unit is opened (common practice, no source).
func gate(u store.Unit) []GateTick {
	g := u.Gate
	tick := func(met bool, text string) GateTick { return GateTick{Unit: u.Name, Text: text, Met: met} }
	list := []GateTick{
		tick(g.Off, "switched off"),
		tick(g.Tray, "card tray out"),
		tick(g.Charge != nil && *g.Charge <= chargeLimit, fmt.Sprintf("charge at most %.0f %%, written down", chargeLimit)),
		tick(g.Swelling == "flat", "cell not swollen"),
		tick(g.Liquid == "white" || g.Liquid == "red", "liquid mark read"),
		tick(g.Data != "", "data backed up or erased"),
		tick(g.Lock != "" && g.Lock != "unknown", "lock status known"),
		tick(g.Protection, "eye protection on, fire-safe box in reach"),
		tick(g.Guide, "guide in reach, or known to be missing"),
	}
	if g.Swelling == "swollen" {
		list[3] = GateTick{u.Name, "the cell is swollen: stop. Fire-safe box, and the workshop's rule for swollen cells", false, true}
	}
	return list
}

// Intake is the room of intake.
type Intake struct {
	StudyCard
	Answer answer.Sentence `json:"answer" nullable:"false"`
	Open   bool            `json:"open" doc:"may the phones be opened?"`
	Gate   []GateTick      `json:"gate" nullable:"false"`
	Checks []store.Check   `json:"checks" nullable:"false"`
	Intake []UnitIntake    `json:"intake" nullable:"false"`
	Limit  float64         `json:"limit" doc:"the workshop's charge limit, percent"`
	Notes  []string        `json:"notes" nullable:"false" doc:"what is odd: masses that differ, red liquid marks, what is missing"`
}

func (b *bench) intake() Intake {
	v := Intake{StudyCard: b.card(), Checks: b.checks, Intake: []UnitIntake{}, Gate: []GateTick{}, Limit: chargeLimit, Notes: []string{}}
	builds := map[string]bool{}
	var reasons answer.Sentence
	for _, u := range b.units {
		ui := UnitIntake{Unit: u, Baseline: []store.Baseline{}, Untested: b.untested(u.ID), Gate: gate(u), Advice: dose.PryOrReheat(dose.Entry{GapMM: u.Entry.GapMM,
			SuctionLifts: u.Entry.SuctionLifts, FreedPercent: u.Entry.FreedPercent, SecondsAtHeat: heated(b.rounds(u.ID, ""))})}
		for _, l := range b.baselines {
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
				reasons = append(answer.Sentence{answer.Text(u.Name + " has a swollen cell; ")}, reasons...)
			}
		}
		if ui.Untested > 0 {
			reasons = append(reasons, answer.Text(u.Name+" has "), answer.Number(float64(ui.Untested), "", "#baseline"),
				answer.Text(fmt.Sprintf(" of %d checks untested", len(b.checks))))
			if g := u.Gate.Charge; g != nil && *g > chargeLimit {
				reasons = append(reasons, answer.Text(" and "), answer.Number(*g, "%", "#gate"), answer.Text(" charge"))
			}
			reasons = append(reasons, answer.Text("; "))
		}
		if open > 0 {
			reasons = append(reasons, answer.Text(u.Name+": "), answer.Count(open, "tick", "#gate"), answer.Text(" of the gate open; "))
		}
		if u.Gate.Liquid == "red" {
			v.Notes = append(v.Notes, u.Name+": the liquid mark is red. Corrosion explains losses that look like refused parts.")
		}
		if m := b.know.MassG; m > 0 && u.MassG > 0 && (u.MassG-m > 0.02*m || m-u.MassG > 0.02*m) {
			v.Notes = append(v.Notes, fmt.Sprintf("%s weighs %g g, the model %g g: is something missing, or was it opened before?", u.Name, u.MassG, m))
		}
		builds[u.Build] = true
		v.Intake = append(v.Intake, ui)
	}
	tested := len(b.units) > 0 && !slices.ContainsFunc(v.Intake, func(u UnitIntake) bool { return u.Untested > 0 })
	v.Gate = append(v.Gate, GateTick{Text: "Two units of the model: one alone cannot tell a broken part from a refused one", Met: len(b.units) >= 2},
		GateTick{Text: "Every check run on every unit before opening", Met: tested},
		GateTick{Text: "Software build of every unit written down", Met: len(b.units) > 0 && !builds[""]})
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
	}{{m.Guide, "guide"}, {m.Chart, "screw chart"}, {m.Adhesive, "spare adhesive"}, {m.Spares, "common spares"}, {m.Other != "", m.Other}} {
		if x.is {
			v.Notes = append(v.Notes, "Missing: "+x.what+".")
		}
	}
	if len(b.units) < 2 {
		reasons = append(reasons, answer.Number(float64(len(b.units)), "", "#units"), answer.Text(" of 2 units recorded; "))
	}
	if len(b.units) > 0 && builds[""] {
		reasons = append(reasons, answer.Text("a build is not written down; "))
	}
	if v.Open {
		v.Answer = answer.Sentence{answer.Text("You may open: "), answer.Number(float64(len(b.units)), "units", "#units"), answer.Text(" with a full baseline")}
		if len(builds) > 1 {
			v.Answer = append(v.Answer, answer.Text(", but on different builds: what they show is not comparable at once"))
		}
		v.Answer = append(v.Answer, answer.Text("."))
		return v
	}
	last := &reasons[len(reasons)-1]
	last.Text = strings.TrimSuffix(last.Text, "; ") + "."
	v.Answer = append(answer.Sentence{answer.Text("Do not open yet: ")}, reasons...)
	return v
}
