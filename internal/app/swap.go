package app

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/core/answer"
	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// Swap is the room of swap tests, read for one software build.
type Swap struct {
	StudyCard
	Answer   answer.Sentence  `json:"answer" nullable:"false"`
	Build    string           `json:"build"`
	Builds   []string         `json:"builds" nullable:"false" doc:"newest last"`
	Board    Board            `json:"board"`
	Slots    []store.Part     `json:"slots" nullable:"false"`
	Checks   []store.Check    `json:"checks" nullable:"false" doc:"those of the model, then the notices that were shown"`
	Trials   []TrialView      `json:"trials" nullable:"false"`
	Acts     []ActView        `json:"acts" nullable:"false"`
	Warnings []ledger.Warning `json:"warnings" nullable:"false"`
	Reports  []CheckReport    `json:"reports" nullable:"false"`
	Rows     []SuspectRow     `json:"rows" nullable:"false"`
	Skips    []SkipView       `json:"skips" nullable:"false"`
	Doubts   []Doubt          `json:"doubts" nullable:"false"`
	Remedies []string         `json:"remedies" nullable:"false" doc:"what brought a check back that had stayed lost"`
	Next     []NextSwap       `json:"next" nullable:"false"`
	Plan     []NextSwap       `json:"plan" nullable:"false" doc:"what settles most within the minutes that were named; greedy, not proven"`
	Open     []string         `json:"open" nullable:"false" doc:"checks that stay open"`
	Retests  []Retest         `json:"retests" nullable:"false" doc:"what to test again on the newest build, most valuable first"`
	Learned  []Learned        `json:"learned" nullable:"false" doc:"priors counted in earlier studies of other models"`
	Noise    diagnose.Noise   `json:"noise"`
	Inexact  float64          `json:"inexact,omitempty" doc:"no probability is further off than this; left out: exact"`
	Limit    string           `json:"limit" doc:"what this reading cannot see"`
	Refused  string           `json:"refused,omitempty" doc:"why no posterior could be computed"`

	settled int
}

// SwapAsk says how the room is to be read.
type SwapAsk struct {
	Build   string
	Noise   *diagnose.Noise
	Budget  float64
	Learned bool
}

// ActView is an act in words.
type ActView struct {
	store.SwapAct
	Text string `json:"text"`
}

// Retest is a configuration whose verdicts were seen on an older build only.
type Retest struct {
	Trial   string   `json:"trial"`
	Title   string   `json:"title"`
	Build   string   `json:"build"`
	Cells   int      `json:"cells" doc:"verdicts that a repeat would bring up to date"`
	Minutes float64  `json:"minutes"`
	PartIDs []string `json:"part_ids" nullable:"false"`
	BoardID string   `json:"board_unit_id"`
}

// TrialView is a trial with its name, board first, and the derived state of every slot that is not own.
type TrialView struct {
	store.Trial
	Mark   string            `json:"mark"`
	Title  string            `json:"title"`
	States map[string]string `json:"states" doc:"id of the part: state"`
	Older  string            `json:"on_build" doc:"build it was made on"`
	Spoilt string            `json:"spoilt,omitempty" doc:"why it proves nothing at all"`
}

// Suspicion is one explanation in words, with its posterior.
type Suspicion struct {
	Words string  `json:"words"`
	P     float64 `json:"p"`
}

// Dispute is a conflict in words: who is suspected in a lost trial, or which passing trials speak against it.
type Dispute struct {
	Trial   string   `json:"trial"`
	Words   []string `json:"words" nullable:"false"`
	Against []string `json:"against" nullable:"false"`
}

// CheckReport says for one check what is suspected. Lost and Tested count the readings that count.
type CheckReport struct {
	Check      store.Check `json:"check"`
	Tested     int         `json:"tested"`
	Lost       int         `json:"lost"`
	Settled    bool        `json:"settled"`
	Consistent bool        `json:"consistent"`
	Bits       float64     `json:"bits"`
	Suspects   []Suspicion `json:"suspects" nullable:"false"`
	Disputes   []Dispute   `json:"disputes" nullable:"false"`
	Diagnoses  [][]string  `json:"diagnoses" nullable:"false"`
	Total      int         `json:"total"`
}

// SuspectRow is a slot in a state with its verdict for every check.
type SuspectRow struct {
	PartID   string           `json:"part_id"`
	Part     string           `json:"part"`
	State    string           `json:"state"`
	Mark     string           `json:"mark" doc:"over all checks"`
	Eye      string           `json:"eye" enum:"shut,half,open"`
	Verdicts []ledger.Verdict `json:"verdicts" nullable:"false"`
	Others   []BuildVerdicts  `json:"others" nullable:"false" doc:"the same on other builds, never averaged"`
}

// BuildVerdicts are the verdicts of a row on another build.
type BuildVerdicts struct {
	Build    string           `json:"build"`
	Verdicts []ledger.Verdict `json:"verdicts" nullable:"false"`
}

// SkipView is a reading that a guard keeps from counting.
type SkipView struct {
	Trial string `json:"trial"`
	Check string `json:"check"`
	Why   string `json:"why"`
}

// Doubt is a reading that was probably noise.
type Doubt struct {
	Trial   string  `json:"trial"`
	Check   string  `json:"check"`
	P       float64 `json:"p"`
	Minutes float64 `json:"minutes" doc:"to repeat it"`
}

const seatLimit = "Noise is taken per reading here, while a loose connector takes every check of its cable at once. A seat that was kept over several trials is among the explanations; one that was used once is not: reseat and repeat before believing several losses together."

// Swap reads the study's swaps as asked; for the newest build by default.
func (s *Service) Swap(ctx context.Context, id string, ask SwapAsk) (Swap, error) {
	db := s.DB.WithContext(ctx)
	b, err := loadStudy(db, id)
	if err != nil {
		return Swap{}, err
	}
	v := Swap{StudyCard: b.card(), Builds: b.builds(), Build: ask.Build, Slots: b.slots(), Checks: b.swapChecks(), Trials: []TrialView{}, Acts: []ActView{},
		Warnings: []ledger.Warning{}, Reports: []CheckReport{}, Rows: []SuspectRow{}, Skips: []SkipView{}, Doubts: []Doubt{}, Remedies: []string{}, Next: []NextSwap{},
		Plan: []NextSwap{}, Open: []string{}, Retests: []Retest{}, Learned: []Learned{}, Noise: ledger.Noise, Limit: seatLimit}
	if v.Build == "" && len(v.Builds) > 0 {
		v.Build = v.Builds[len(v.Builds)-1]
	}
	if ask.Noise != nil {
		v.Noise = *ask.Noise
	}
	if ask.Learned {
		if v.Learned, err = b.learn(db); err != nil {
			return Swap{}, err
		}
	}
	for _, a := range b.acts {
		v.Acts = append(v.Acts, ActView{a, b.actWords(a)})
	}
	r, err := b.readAs(asked{build: v.Build, candidates: true, noise: &v.Noise, budget: ask.Budget})
	v.Board = b.swapBoard(r.history)
	for i, t := range b.trials {
		v.Trials = append(v.Trials, b.trialView(t, r.history.Trials[i]))
	}
	var f *fault.Fault
	if errors.As(err, &f) && !strings.HasPrefix(f.Field, "noise") { // too much for one question: say so, and show the trials all the same
		v.Refused = f.Error()
		v.Answer = answer.Sentence{answer.Text("The trials are on record, but too many explanations stand open for a reading: " + f.Allowed + ".")}
		return v, nil
	}
	if err != nil {
		return Swap{}, err
	}
	v.Warnings = r.study.Warnings(r.history, b.sticker)
	for _, m := range r.history.Remedies {
		v.Remedies = append(v.Remedies, fmt.Sprintf("%s: %s was lost from %s on and came back in %s, after %s", b.sticker(m.Board), m.Check, m.Since, m.Back, first(strings.Join(m.By, ", "), "nothing that was recorded")))
	}
	v.fill(b, r)
	v.Retests = b.retests(v.Build)
	v.sentence(b)
	return v, nil
}

func (b *bench) trialView(t store.Trial, d ledger.Derived) TrialView {
	v := TrialView{Trial: t, Mark: trialMark(t), States: map[string]string{}, Older: d.Build}
	for slot, st := range d.States {
		v.States[b.know.partNamed(slot).ID] = st
	}
	v.Title = b.named(t.BoardUnitID, t.HousingUnitID, d.States, len(b.slots()))
	for _, why := range d.Skips {
		if strings.HasPrefix(why, "the ") && strings.Contains(why, "damaged") {
			v.Spoilt = why
		}
	}
	return v
}

func (v *Swap) fill(b *bench, r reading) {
	name := map[string]string{}
	settled, tested := 0, 0
	for _, c := range v.Checks {
		name[c.Mark] = c.Name
		rep := CheckReport{Check: c, Suspects: []Suspicion{}, Disputes: []Dispute{}, Diagnoses: [][]string{}}
		out := r.out.Checks[c.Mark]
		for _, t := range r.in.Trials {
			if strings.HasPrefix(t.ID, "baseline-") {
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
		rep.Consistent, rep.Settled, rep.Total = out.Consistent, out.Settled && rep.Tested > 0, out.DiagnosesTotal
		if out.Bits != nil {
			rep.Bits = *out.Bits
		}
		for a, p := range out.Marginal {
			if rep.Lost > 0 && p >= 0.05 {
				rep.Suspects = append(rep.Suspects, Suspicion{b.words(a), p})
			}
		}
		slices.SortFunc(rep.Suspects, func(a, c Suspicion) int {
			return cmp.Or(cmp.Compare(c.P, a.P), strings.Compare(a.Words, c.Words))
		})
		rep.Suspects = rep.Suspects[:min(6, len(rep.Suspects))]
		for _, k := range out.Conflicts {
			d := Dispute{Trial: k.Trial, Words: []string{}, Against: append([]string{}, k.Against...)}
			for _, a := range k.Atoms {
				d.Words = append(d.Words, b.words(a))
			}
			rep.Disputes = append(rep.Disputes, d)
		}
		for _, set := range out.Diagnoses[:min(6, len(out.Diagnoses))] {
			var words []string
			for _, a := range set {
				words = append(words, b.words(a))
			}
			rep.Diagnoses = append(rep.Diagnoses, words)
		}
		if rep.Tested > 0 {
			tested++
		}
		if rep.Settled {
			settled++
		}
		v.Reports = append(v.Reports, rep)
	}
	v.rows(b, r)
	for _, k := range r.skips {
		v.Skips = append(v.Skips, SkipView{k.Trial, name[k.Check], k.Why})
	}
	for _, d := range r.out.SuspectTrials {
		minutes, trial := float64(assumedRound), d.Trial
		for _, u := range b.units {
			if trial == "baseline-"+u.ID {
				trial, minutes = "baseline of "+u.Name, checkTime(b.checks)/60
			}
		}
		for _, t := range b.trials {
			if trialMark(t) == d.Trial && t.Minutes > 0 {
				minutes = t.Minutes
			}
		}
		v.Doubts = append(v.Doubts, Doubt{trial, name[d.Check], d.P, minutes})
	}
	kinds, most := map[string]int{}, map[string]int{"board": 1, "control": 1, "single": 2, "pair": 2, "set": 2}
	for _, n := range r.out.Next {
		if c := r.next[n.ID]; len(v.Next) < 5 && kinds[c.Kind] < most[c.Kind] && (n.Bits >= 0.01 || settled == len(v.Checks) && c.Grades > 0) {
			c.Bits, c.BitsPerMinute, c.GradesPerMinute = n.Bits, n.BitsPerMinute, n.GradesPerMinute
			v.Next = append(v.Next, c)
			kinds[c.Kind]++ // five of one kind would hide that there are others
		}
	}
	// Once little is left to learn, the control that a verdict lacks is worth more than another bit.
	if k := slices.IndexFunc(r.out.Next, func(n diagnose.Next) bool { return r.next[n.ID].Kind == "control" && r.next[n.ID].Grades > 0 }); k >= 0 {
		c := r.next[r.out.Next[k].ID]
		if !slices.ContainsFunc(v.Next, func(n NextSwap) bool { return n.Words == c.Words }) {
			c.Bits, c.BitsPerMinute, c.GradesPerMinute = r.out.Next[k].Bits, r.out.Next[k].BitsPerMinute, r.out.Next[k].GradesPerMinute
			v.Next = append(v.Next[:min(4, len(v.Next))], c)
		}
	}
	for _, id := range r.out.Plan {
		c := r.next[id]
		n := r.out.Next[slices.IndexFunc(r.out.Next, func(n diagnose.Next) bool { return n.ID == id })]
		c.Bits, c.BitsPerMinute = n.Bits, n.BitsPerMinute
		v.Plan = append(v.Plan, c)
	}
	for _, c := range v.Reports {
		if c.Lost > 0 && !c.Settled {
			v.Open = append(v.Open, c.Check.Name)
		}
	}
	for _, c := range r.out.Checks {
		v.Inexact = max(v.Inexact, c.Error)
	}
	v.settled = settled
}

// rows are the slots and states with their verdicts, here and on the other builds.
func (v *Swap) rows(b *bench, r reading) {
	others := map[string]reading{}
	for _, build := range v.Builds {
		if build != v.Build {
			if o, err := b.read(build, false); err == nil {
				others[build] = o
			}
		}
	}
	for _, st := range ledger.States(r.in) {
		row := SuspectRow{Part: st[0], State: st[1], Verdicts: []ledger.Verdict{}, Others: []BuildVerdicts{}}
		if p := b.know.partNamed(st[0]); p != nil {
			row.PartID = p.ID
		}
		for _, c := range v.Checks {
			row.Verdicts = append(row.Verdicts, r.grade(st[0], st[1], c.Mark))
		}
		row.Mark, row.Eye = ledger.Summary(row.Verdicts, isNotice)
		for _, build := range v.Builds {
			o, read := others[build]
			if !read {
				continue
			}
			list := BuildVerdicts{build, []ledger.Verdict{}}
			for _, c := range v.Checks {
				if w := o.grade(st[0], st[1], c.Mark); w.Mark != ledger.Untested {
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
func (v *Swap) sentence(b *bench) {
	v.Answer = answer.Sentence{answer.Number(float64(v.settled), "", "#known"), answer.Text(fmt.Sprintf(" of %d checks settled", len(v.Checks)))}
	halt := slices.IndexFunc(v.Warnings, func(w ledger.Warning) bool { return w.Kind == "halt" })
	switch {
	case len(b.units) < 2:
		v.Answer = answer.Sentence{answer.Text("Swap tests need two units of the model; "), answer.Number(float64(len(b.units)), "", "#units"), answer.Text(" on record.")}
	case halt >= 0:
		v.Answer = answer.Sentence{answer.Text("Stop. " + v.Warnings[halt].Text)}
	case len(b.trials) == 0:
		v.Answer = append(v.Answer, answer.Text(": exchange the main boards first, which makes every other part a stranger at once."))
	case len(v.Next) > 0:
		n := v.Next[0]
		v.Answer = append(v.Answer, answer.Text(". "+n.Words+": "), answer.Number(n.Minutes, "min", "#next"), answer.Text(" with refit and checks, "), answer.Number(n.Bits, "bits", "#next"), answer.Text("."))
	default:
		v.Answer = append(v.Answer, answer.Text("; nothing that could be exchanged next is worth its minutes."))
		if len(v.Open) > 0 {
			v.Answer = append(v.Answer, answer.Text(" It stays open which part costs "+strings.Join(v.Open, ", ")+"."))
		}
	}
}

// retests lists the trials of older builds whose verdicts were not seen on the newest one, most verdicts a minute first.
func (b *bench) retests(build string) []Retest {
	builds := b.builds()
	list := []Retest{}
	if len(builds) < 2 || build != builds[len(builds)-1] {
		return list
	}
	now, err := b.read(build, false)
	if err != nil {
		return list
	}
	seen := map[string]bool{}
	for _, old := range builds[:len(builds)-1] {
		r, err := b.read(old, false)
		if err != nil {
			continue
		}
		for i, t := range b.trials {
			d := r.history.Trials[i]
			if d.Build != old || len(d.States) == 0 {
				continue
			}
			x := Retest{Trial: trialMark(t), Build: old, Minutes: t.Minutes, PartIDs: []string{}, BoardID: t.BoardUnitID}
			for slot, st := range d.States {
				x.PartIDs = append(x.PartIDs, b.know.partNamed(slot).ID)
				for _, c := range r.study.Checks {
					if d.Results[c] == "" {
						continue
					}
					if v := r.grade(slot, st, c); (v.Mark == ledger.Loses || v.Mark == ledger.Works) && now.grade(slot, st, c).Mark == ledger.Untested {
						x.Cells++
					}
				}
			}
			slices.Sort(x.PartIDs)
			if key := x.BoardID + strings.Join(x.PartIDs, " "); x.Cells > 0 && !seen[key] {
				seen[key] = true
				x.Title = b.named(t.BoardUnitID, t.HousingUnitID, d.States, len(b.slots()))
				if x.Minutes == 0 {
					x.Minutes = assumedRound
				}
				list = append(list, x)
			}
		}
	}
	slices.SortStableFunc(list, func(a, c Retest) int { return cmp.Compare(float64(c.Cells)/c.Minutes, float64(a.Cells)/a.Minutes) })
	return list[:min(5, len(list))]
}

// actWords says an act in plain language.
func (b *bench) actWords(a store.SwapAct) string {
	names := func(list []store.Piece) string {
		var out []string
		for _, p := range list {
			out = append(out, b.pieceWords(p))
		}
		return strings.Join(out, ", ")
	}
	board := b.sticker(a.BoardUnitID)
	switch a.Kind {
	case "move":
		var out []string
		for _, m := range a.Moves {
			to := "to the mat"
			if m.ToUnitID != "" {
				to = "into " + b.sticker(m.ToUnitID)
			}
			out = append(out, b.pieceWords(m.Piece)+" "+to)
		}
		if len(out) > 4 {
			return fmt.Sprintf("%d pieces moved: %s …", len(out), strings.Join(out[:3], ", "))
		}
		return strings.Join(out, ", ")
	case ledger.Calibrate:
		if a.Accepted {
			return board + " board: calibrated with " + names(a.Pieces) + ", accepted"
		}
		return board + " board: calibration with " + names(a.Pieces) + " refused, " + a.Reason
	case ledger.Update, ledger.Flash:
		return board + " board: " + a.Kind + " to build " + a.Build
	case ledger.Damage:
		return names(a.Pieces) + " damaged: " + a.What
	}
	if len(a.Pieces) > 0 {
		return board + ": " + a.Kind + ", " + names(a.Pieces)
	}
	return board + ": " + a.Kind
}

func (b *bench) pieceWords(p store.Piece) string {
	name := b.know.part[p.PartID].Name
	switch p.Origin {
	case ledger.Copy, ledger.Unknown:
		return name + " (" + p.Origin + " " + p.Lot + ")"
	}
	return b.sticker(p.UnitID) + "'s " + name
}
