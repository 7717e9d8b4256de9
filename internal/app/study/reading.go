package study

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"

	"github.com/google/uuid"

	"waryowl/internal/core/culprit"
	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// LedgerBoard is the board of a unit in the terms of the ledger.
func (b *Record) LedgerBoard(unit string) ledger.Board {
	return ledger.Board{Unit: unit, Model: b.ModelID}
}

// Piece is a piece in the terms of the ledger.
func (b *Record) Piece(p store.Piece) ledger.Piece {
	q := ledger.Piece{Slot: b.Know.PartByID[p.PartID].Name, Origin: p.Origin, Unit: p.UnitID, Model: b.ModelID,
		Lot: p.Lot}
	switch q.Origin {
	case "unit":
		q.Origin = ""
	case store.Foreign: // a genuine piece of another model, known by the mark on it
		q.Origin, q.Model, q.Unit = "", p.Model, cmp.Or(p.Lot, "a "+p.Model)
	}
	return q
}

func (b *Record) pieces(list []store.Piece) []ledger.Piece {
	var out []ledger.Piece
	for _, p := range list {
		if _, known := b.Know.PartByID[p.PartID]; known { // a stored value never breaks the room
			out = append(out, b.Piece(p))
		}
	}
	return ledger.Expand(out, b.Leaves())
}

// noticeMark is the check that a notice is.
func noticeMark(text string) string { return "notice: " + strings.ToLower(strings.TrimSpace(text)) }

// IsNotice says whether a check is a notice that was shown.
func IsNotice(check string) bool { return strings.HasPrefix(check, "notice: ") }

// SwapChecks are the checks of the model and, after them, every notice that was ever shown: a notice is a check of its
// own.
func (b *Record) SwapChecks() []store.Check {
	checks := slices.Clone(b.Checks)
	seen := map[string]bool{}
	for _, t := range b.Trials {
		for _, n := range t.Notices {
			if mark := noticeMark(n.Text); !seen[mark] {
				seen[mark] = true
				id := uuid.NewSHA1(uuid.NameSpaceURL, []byte(b.ID+mark)).String()
				checks = append(checks, store.Check{Row: store.Row{ID: id, Version: 1}, Mark: mark, Name: "Notice “" +
					n.Text + "”", Group: "notices", Position: 1000 + len(seen)})
			}
		}
	}
	return checks
}

// Ledger is what the core reads, for one build: every trial in its order, with the acts before it.
func (b *Record) Ledger(build string) ledger.Study {
	builds := b.Builds()
	s := ledger.Study{Build: build, Families: map[string]string{}, Kinds: map[string]string{}, Concerns: map[string]string{},
		Groups: map[string]string{}, Prior: b.Priors}
	if len(builds) > 0 {
		s.Newest = builds[len(builds)-1]
	}
	for _, c := range b.SwapChecks() {
		s.Checks = append(s.Checks, c.Mark)
		s.Concerns[c.Mark], s.Groups[c.Mark] = c.Family, c.Group
	}
	for _, p := range b.Slots() {
		s.Slots = append(s.Slots, p.Name)
	}
	for _, p := range b.Know.Parts {
		s.Families[p.Name], s.Kinds[p.Name] = p.Family, b.Know.Kind(p.ID)
		if m := b.Know.PartNamed(p.Mate); p.Mate != "" && m != nil && p.Slot && m.Slot && p.Name < m.Name {
			s.Mates = append(s.Mates, [2]string{p.Name, m.Name})
		}
	}
	for _, p := range b.Pairs {
		if len(p) != 2 || p[0] == p[1] || !slices.Contains(s.Slots, p[0]) || !slices.Contains(s.Slots, p[1]) {
			continue // a stored value never breaks the room
		}
		if pair := [2]string{p[0], p[1]}; !slices.Contains(s.Mates, pair) &&
			!slices.Contains(s.Mates, [2]string{p[1], p[0]}) {
			s.Both = append(s.Both, pair)
		}
	}
	acts := b.Acts
	for _, t := range b.Trials {
		var before []ledger.Act
		for len(acts) > 0 && acts[0].Place < t.Place {
			before = append(before, b.LedgerAct(acts[0]))
			acts = acts[1:]
		}
		s.Trials = append(s.Trials, b.ledgerTrial(t, before))
	}
	for _, a := range acts {
		s.After = append(s.After, b.LedgerAct(a))
	}
	for _, u := range b.Units {
		results := map[string]string{}
		for _, l := range b.Baselines {
			if l.UnitID == u.ID && !l.Assumed {
				results[l.CheckMark] = l.Result
			}
		}
		if results["notices"] == "pass" {
			for _, c := range s.Checks {
				if IsNotice(c) {
					results[c] = "pass"
				}
			}
		}
		s.Baselines = append(s.Baselines, ledger.Baseline{Board: b.LedgerBoard(u.ID), Build: u.Build, Results: results})
	}
	return s
}

// LedgerAct is an act in the terms of the ledger.
func (b *Record) LedgerAct(a store.SwapAct) ledger.Act {
	x := ledger.Act{Kind: a.Kind, Board: a.BoardUnitID, Pieces: b.pieces(a.Pieces), Accepted: a.Accepted,
		Build: a.Build, What: a.What}
	if len(a.Spoils) > 0 {
		x.Checks = a.Spoils
	}
	return x
}

// ledgerTrial is a trial in the terms of the core: the last reading of each check counts, what was filled in does not.
func (b *Record) ledgerTrial(t store.Trial, before []ledger.Act) ledger.Trial {
	lt := ledger.Trial{ID: TrialMark(t), Board: b.LedgerBoard(t.BoardUnitID), Housing: t.HousingUnitID, Build: b.BuildOf(t),
		Pieces: b.pieces(t.Pieces), Before: before,
		Results: map[string]string{}, First: map[string]string{}, Settled: map[string][]string{}, DeadGate: t.DeadGate,
		Dark: t.DarkScreen}
	for c, r := range t.Results {
		if !slices.Contains(t.Assumed, c) {
			lt.First[c] = r
		}
	}
	if t.NoticesRead || len(t.Notices) > 0 {
		for _, c := range b.SwapChecks() {
			if IsNotice(c.Mark) {
				lt.First[c.Mark] = "pass"
			}
		}
		for _, n := range t.Notices {
			lt.First[noticeMark(n.Text)] = "lost"
		}
	}
	maps.Copy(lt.Results, lt.First)
	gone, readings := []string{}, []map[string]string{lt.First}
	for _, l := range t.Later {
		gone, readings = append(gone, l.After...), append(readings, l.Results)
		for c, r := range l.Results {
			lt.Results[c] = r
			lt.Settled[c] = slices.Clone(gone)
		}
	}
	lt.Waver = ledger.Wavers(readings...)
	return lt
}

// TrialMark is the short name of a trial.
func TrialMark(t store.Trial) string { return fmt.Sprintf("t%d", t.Seq) }

// BuildOf is the build of a trial: the one entered, else what the board carried by then.
func (b *Record) BuildOf(t store.Trial) string {
	if t.Build != "" {
		return t.Build
	}
	build := b.UnitByID[t.BoardUnitID].Build
	for _, a := range b.Acts {
		if a.Place < t.Place && a.BoardUnitID == t.BoardUnitID && a.Build != "" {
			build = a.Build
		}
	}
	return build
}

// Builds lists the builds on record in the order in which they came up, the newest last.
func (b *Record) Builds() []string {
	all := []string{}
	add := func(s string) {
		if s != "" {
			all = append(slices.DeleteFunc(all, func(o string) bool { return o == s }), s)
		}
	}
	for _, u := range b.Units {
		add(u.Build)
	}
	acts := b.Acts
	for _, t := range b.Trials {
		for len(acts) > 0 && acts[0].Place < t.Place {
			add(acts[0].Build)
			acts = acts[1:]
		}
		add(b.BuildOf(t))
	}
	for _, a := range acts {
		add(a.Build)
	}
	return all
}

// Reading is one pass of the engines over a study and build.
type Reading struct {
	Study   ledger.Study
	History ledger.History
	In      diagnose.Input
	Out     diagnose.Output
	Skips   []ledger.Skip

	Culprit *culprit.Question // what explains the losses, pairs of parts and hurt pieces with them

	ctx    context.Context
	known  map[[3]string]ledger.Verdict
	memory *diagnose.Memory // of one question after the other: nearly the same each time
}

// Begin replays the study for a build; nothing is asked yet.
func (b *Record) Begin(build string) Reading {
	r := Reading{Study: b.Ledger(build), ctx: b.Know.Context(), memory: &diagnose.Memory{}, known: map[[3]string]ledger.Verdict{}}
	r.History = r.Study.Walk()
	for _, u := range b.Units {
		for _, p := range b.Slots() {
			r.Study.Movable = append(r.Study.Movable, ledger.Piece{Slot: p.Name, Unit: u.ID, Model: b.ModelID})
		}
	}
	r.Culprit = culprit.Ask(r.Study, r.History)
	return r
}

// Read asks for the posterior of a build, without candidates. Whoever asks this record again is given the same reading.
func (b *Record) Read(build string) (Reading, error) {
	if r, known := b.read[build]; known {
		return r, nil
	}
	r := b.Begin(build)
	if err := r.Ask(nil, nil, 0); err != nil {
		return r, err
	}
	if b.read == nil {
		b.read = map[string]Reading{}
	}
	b.read[build] = r
	return r, nil
}

// Ask computes the posterior, weighs the candidates, and plans for the minutes that are left (0: no plan). Without
// noise the house figures count.
func (r *Reading) Ask(list []diagnose.Candidate, noise *diagnose.Noise, budget float64) error {
	r.In, r.Skips = r.Study.Question(r.History, list)
	if noise != nil {
		r.In.Noise = *noise
		r.Culprit.Suppose(noise.FalseLoss, noise.FalsePass)
	}
	r.In.BudgetMinutes = budget
	if len(r.In.Checks) == 0 {
		return nil
	}
	var err error
	r.Out, err = r.Ponder(r.In)
	r.Culprit.Weigh(r.Study.Checks)
	return err
}

// Ponder answers a question about this study that is nearly the one asked before.
func (r *Reading) Ponder(in diagnose.Input) (diagnose.Output, error) {
	return r.memory.RunContext(r.ctx, in)
}

// Grade is the verdict of one cell.
func (r Reading) Grade(slot, state, check string) ledger.Verdict {
	k := [3]string{slot, state, check}
	v, known := r.known[k]
	if !known {
		v = r.Culprit.Grade(slot, state, check)
		r.known[k] = v
	}
	return v
}
