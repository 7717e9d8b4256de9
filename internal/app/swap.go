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

// assumedRound is the bench time of a swap whose way is not on record (house, minutes).
const assumedRound = 30

// Swap is the room of swap tests, read for one software build.
type Swap struct {
	StudyCard
	Answer  answer.Sentence `json:"answer" nullable:"false"`
	Build   string          `json:"build"`
	Builds  []string        `json:"builds" nullable:"false" doc:"newest last"`
	Slots   []store.Part    `json:"slots" nullable:"false"`
	Checks  []store.Check   `json:"checks" nullable:"false"`
	Trials  []TrialView     `json:"trials" nullable:"false"`
	Reports []CheckReport   `json:"reports" nullable:"false"`
	Rows    []SuspectRow    `json:"rows" nullable:"false"`
	Skips   []SkipView      `json:"skips" nullable:"false"`
	Doubts  []Doubt         `json:"doubts" nullable:"false"`
	Next    []NextSwap      `json:"next" nullable:"false"`
	Noise   diagnose.Noise  `json:"noise"`
	Limit   string          `json:"limit" doc:"what this reading cannot see"`
	Refused string          `json:"refused,omitempty" doc:"why no posterior could be computed"`
}

// TrialView is a trial with its name, board first, and the derived state of every slot that is not own.
type TrialView struct {
	store.Trial
	Mark   string            `json:"mark"`
	Title  string            `json:"title"`
	States map[string]string `json:"states" doc:"id of the part: state"`
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

// NextSwap is a candidate with what it would tell.
type NextSwap struct {
	Words         string   `json:"words"`
	BoardUnitID   string   `json:"board_unit_id"`
	FromUnitID    string   `json:"from_unit_id"`
	PartIDs       []string `json:"part_ids" nullable:"false"`
	Minutes       float64  `json:"minutes"`
	Assumed       bool     `json:"assumed" doc:"the minutes are assumed: no way is on record"`
	Bits          float64  `json:"bits"`
	BitsPerMinute float64  `json:"bits_per_minute"`
}

const seatLimit = "Noise is taken per reading here, while a loose connector takes every check of its cable at once: reseat and repeat before believing several losses together."

// Swap reads the study's swaps for a build; the newest by default.
func (s *Service) Swap(ctx context.Context, id, build string) (Swap, error) {
	b, err := loadStudy(s.DB.WithContext(ctx), id)
	if err != nil {
		return Swap{}, err
	}
	v := Swap{StudyCard: b.card(), Builds: b.builds(), Build: build, Slots: []store.Part{}, Checks: b.checks, Trials: []TrialView{}, Reports: []CheckReport{},
		Rows: []SuspectRow{}, Skips: []SkipView{}, Doubts: []Doubt{}, Next: []NextSwap{}, Noise: ledger.Noise, Limit: seatLimit}
	if build == "" && len(v.Builds) > 0 {
		v.Build = v.Builds[len(v.Builds)-1]
	}
	for _, p := range b.know.parts {
		if p.Slot {
			v.Slots = append(v.Slots, p)
		}
	}
	for _, t := range b.trials {
		v.Trials = append(v.Trials, b.trialView(t))
	}
	r, err := b.read(v.Build, true)
	var f *fault.Fault
	if errors.As(err, &f) { // too much for one exact question: say so, and show the trials all the same
		v.Refused = f.Error()
		v.Answer = answer.Sentence{answer.Text("The trials are on record, but too many explanations stand open for an exact reading: " + f.Allowed + ".")}
		return v, nil
	}
	if err != nil {
		return Swap{}, err
	}
	v.fill(b, r)
	return v, nil
}

func (b *bench) trialView(t store.Trial) TrialView {
	v := TrialView{Trial: t, Mark: trialMark(t), States: map[string]string{}}
	count := map[string]int{}
	var order []string
	for _, p := range t.Pieces {
		st := ledger.State(b.board(t.BoardUnitID), b.piece(p))
		v.States[p.PartID] = st
		kind, _, _ := strings.Cut(st, "@")
		if count[kind] == 0 {
			order = append(order, kind)
		}
		count[kind]++
	}
	parts := []string{}
	for _, kind := range order {
		if kind == "stranger" && count[kind] > 1 {
			kind = "strangers"
		}
		parts = append(parts, fmt.Sprintf("%d %s", count[strings.TrimSuffix(kind, "s")], kind))
	}
	if len(parts) == 0 {
		parts = []string{"every piece its own"}
	}
	v.Title = b.unit[t.BoardUnitID].Name + " board: " + strings.Join(parts, ", ")
	return v
}

func (v *Swap) fill(b *bench, r reading) {
	name := map[string]string{}
	settled, tested := 0, 0
	for _, c := range b.checks {
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
	for _, st := range ledger.States(r.in) {
		row := SuspectRow{Part: st[0], State: st[1], Verdicts: []ledger.Verdict{}}
		if p := b.know.partNamed(st[0]); p != nil {
			row.PartID = p.ID
		}
		for _, c := range b.checks {
			row.Verdicts = append(row.Verdicts, r.study.Grade(r.in, r.out, st[0], st[1], c.Mark))
		}
		v.Rows = append(v.Rows, row)
	}
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
	for _, n := range r.out.Next {
		if c := r.next[n.ID]; len(v.Next) < 5 && n.Bits >= 0.01 {
			c.Bits, c.BitsPerMinute = n.Bits, n.BitsPerMinute
			v.Next = append(v.Next, c)
		}
	}
	v.Answer = answer.Sentence{answer.Number(float64(settled), "", "#known"), answer.Text(fmt.Sprintf(" of %d checks settled", len(b.checks)))}
	switch {
	case len(b.units) < 2:
		v.Answer = answer.Sentence{answer.Text("Swap tests need two units of the model; "), answer.Number(float64(len(b.units)), "", "#units"), answer.Text(" on record.")}
	case len(b.trials) == 0:
		v.Answer = append(v.Answer, answer.Text(": exchange the main boards first, which makes every other part a stranger at once."))
	case len(v.Next) > 0:
		n := v.Next[0]
		v.Answer = append(v.Answer, answer.Text(". "+n.Words+": "), answer.Number(n.Minutes, "min", "#next"), answer.Text(" with refit and checks, "), answer.Number(n.Bits, "bits", "#next"), answer.Text("."))
	default:
		v.Answer = append(v.Answer, answer.Text("; nothing that could be exchanged next is worth its minutes."))
	}
}

// checkTrial refuses what cannot be: unknown ids, a slot twice, a piece in two places, an unknown result.
func (b *bench) checkTrial(f *store.TrialFacts) error {
	if err := belongs("board_unit_id", f.BoardUnitID, b.unit, "a unit of this study"); err != nil {
		return err
	}
	for i, p := range f.Pieces {
		at := field("pieces[%d]", i)
		part, ok := b.know.part[p.PartID]
		if !ok || !part.Slot {
			return fault.New(at+".part_id", p.PartID, "a part of this model that takes part in swap tests")
		}
		if slices.ContainsFunc(f.Pieces[:i], func(q store.Piece) bool { return q.PartID == p.PartID }) {
			return fault.New(at+".part_id", part.Name, "each slot once")
		}
		switch p.Origin {
		case "", "unit":
			f.Pieces[i].Origin = "unit"
			if err := belongs(at+".unit_id", p.UnitID, b.unit, "a unit of this study"); err != nil {
				return err
			}
		case ledger.Copy:
			if p.Lot == "" {
				return fault.New(at+".lot", p.Lot, "the delivery that a copy came with")
			}
		}
	}
	for c, r := range f.Results {
		if !slices.ContainsFunc(b.checks, func(k store.Check) bool { return k.Mark == c }) {
			return fault.New("results", c, "the short name of a check in the catalogue")
		}
		if !slices.Contains([]string{"pass", "weak", "lost", "skipped", "dark"}, r) {
			return fault.New("results."+c, r, "pass, weak, lost, skipped or dark")
		}
	}
	return nil
}

// AddTrial records a trial.
func (s *Service) AddTrial(ctx context.Context, c Command, study, id string, f store.TrialFacts) (store.Trial, error) {
	return Do(ctx, s, c, 201, func(tx *store.Tx) (store.Trial, error) {
		t := store.Trial{Row: store.Row{ID: id}, StudyID: study}
		b, err := lockStudy(tx, study)
		if err != nil {
			return t, err
		}
		if err := b.checkTrial(&f); err != nil {
			return t, err
		}
		// Deleted trials keep their numbers: t7 is t7 for good.
		var last struct{ Seq int }
		if err := tx.DB.Unscoped().Model(&store.Trial{}).Select("COALESCE(MAX(seq), 0) AS seq").Where("study_id = ?", study).Scan(&last).Error; err != nil {
			return t, err
		}
		t.TrialFacts, t.Seq = f, last.Seq+1
		return t, store.Create(tx, &t)
	})
}

// ChangeTrial replaces the facts of a trial.
func (s *Service) ChangeTrial(ctx context.Context, c Command, id string, saw int, f store.TrialFacts) (store.Trial, error) {
	return change(ctx, s, c, id, saw, func(tx *store.Tx, t *store.Trial) error {
		b, err := lockStudy(tx, t.StudyID)
		if err != nil {
			return err
		}
		if err := b.checkTrial(&f); err != nil {
			return err
		}
		t.TrialFacts = f
		return nil
	})
}

// DeleteTrial takes a trial back.
func (s *Service) DeleteTrial(ctx context.Context, c Command, id string, saw int) (store.Trial, error) {
	return deleteRow[store.Trial](ctx, s, c, id, saw, nil)
}

// RestoreTrial brings a trial back.
func (s *Service) RestoreTrial(ctx context.Context, c Command, id string, saw int) (store.Trial, error) {
	return restoreRow[store.Trial](ctx, s, c, id, saw, nil)
}
