package app

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"github.com/google/uuid"

	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

func (b *bench) board(unit string) ledger.Board { return ledger.Board{Unit: unit, Model: b.ModelID} }

func (b *bench) piece(p store.Piece) ledger.Piece {
	q := ledger.Piece{Slot: b.know.part[p.PartID].Name, Origin: p.Origin, Unit: p.UnitID, Model: b.ModelID, Lot: p.Lot}
	if q.Origin == "unit" {
		q.Origin = ""
	}
	return q
}

func (b *bench) pieces(list []store.Piece) []ledger.Piece {
	var out []ledger.Piece
	for _, p := range list {
		out = append(out, b.piece(p))
	}
	return ledger.Expand(out, b.leaves())
}

// noticeMark is the check that a notice is.
func noticeMark(text string) string { return "notice: " + strings.ToLower(strings.TrimSpace(text)) }

func isNotice(check string) bool { return strings.HasPrefix(check, "notice: ") }

// swapChecks are the checks of the model and, after them, every notice that was ever shown: a notice is a check of its own.
func (b *bench) swapChecks() []store.Check {
	checks := slices.Clone(b.checks)
	seen := map[string]bool{}
	for _, t := range b.trials {
		for _, n := range t.Notices {
			if mark := noticeMark(n.Text); !seen[mark] {
				seen[mark] = true
				id := uuid.NewSHA1(uuid.NameSpaceURL, []byte(b.ID+mark)).String()
				checks = append(checks, store.Check{Row: store.Row{ID: id, Version: 1}, Mark: mark, Name: "Notice “" + n.Text + "”", Group: "notices", Position: 1000 + len(seen)})
			}
		}
	}
	return checks
}

// study is what the core reads, for one build: every trial in its order, with the acts before it.
func (b *bench) study(build string) ledger.Study {
	builds := b.builds()
	s := ledger.Study{Build: build, Families: map[string]string{}, Concerns: map[string]string{}, Groups: map[string]string{}, Prior: b.learned}
	if len(builds) > 0 {
		s.Newest = builds[len(builds)-1]
	}
	for _, c := range b.swapChecks() {
		s.Checks = append(s.Checks, c.Mark)
		s.Concerns[c.Mark], s.Groups[c.Mark] = c.Family, c.Group
	}
	for _, p := range b.slots() {
		s.Slots = append(s.Slots, p.Name)
	}
	for _, p := range b.know.parts {
		s.Families[p.Name] = p.Family
		if m := b.know.partNamed(p.Mate); p.Mate != "" && m != nil && p.Slot && m.Slot && p.Name < m.Name {
			s.Mates = append(s.Mates, [2]string{p.Name, m.Name})
		}
	}
	for _, p := range b.Pairs {
		if pair := [2]string{p[0], p[1]}; !slices.Contains(s.Mates, pair) && !slices.Contains(s.Mates, [2]string{p[1], p[0]}) {
			s.Both = append(s.Both, pair)
		}
	}
	acts := b.acts
	for _, t := range b.trials {
		var before []ledger.Act
		for len(acts) > 0 && acts[0].AfterTrial < t.Seq {
			before = append(before, b.act(acts[0]))
			acts = acts[1:]
		}
		s.Trials = append(s.Trials, b.ledgerTrial(t, before))
	}
	for _, a := range acts {
		s.After = append(s.After, b.act(a))
	}
	for _, u := range b.units {
		results := map[string]string{}
		for _, l := range b.baselines {
			if l.UnitID == u.ID && !l.Assumed {
				results[l.CheckMark] = l.Result
			}
		}
		if results["notices"] == "pass" {
			for _, c := range s.Checks {
				if isNotice(c) {
					results[c] = "pass"
				}
			}
		}
		s.Baselines = append(s.Baselines, ledger.Baseline{Board: b.board(u.ID), Build: u.Build, Results: results})
	}
	return s
}

func (b *bench) act(a store.SwapAct) ledger.Act {
	return ledger.Act{Kind: a.Kind, Board: a.BoardUnitID, Pieces: b.pieces(a.Pieces), Accepted: a.Accepted, Build: a.Build, What: a.What}
}

// ledgerTrial is a trial in the terms of the core: the last reading of each check counts, what was filled in does not.
func (b *bench) ledgerTrial(t store.Trial, before []ledger.Act) ledger.Trial {
	lt := ledger.Trial{ID: trialMark(t), Board: b.board(t.BoardUnitID), Build: b.buildOf(t), Pieces: b.pieces(t.Pieces), Before: before,
		Results: map[string]string{}, First: map[string]string{}, Settled: map[string][]string{}, DeadGate: t.DeadGate}
	for c, r := range t.Results {
		if !slices.Contains(t.Assumed, c) {
			lt.First[c] = r
		}
	}
	if t.NoticesRead || len(t.Notices) > 0 {
		for _, c := range b.swapChecks() {
			if isNotice(c.Mark) {
				lt.First[c.Mark] = "pass"
			}
		}
		for _, n := range t.Notices {
			lt.First[noticeMark(n.Text)] = "lost"
		}
	}
	maps.Copy(lt.Results, lt.First)
	gone := []string{}
	for _, l := range t.Later {
		gone = append(gone, l.After...)
		for c, r := range l.Results {
			lt.Results[c] = r
			lt.Settled[c] = slices.Clone(gone)
		}
	}
	return lt
}

func trialMark(t store.Trial) string { return fmt.Sprintf("t%d", t.Seq) }

// buildOf is the build of a trial: the one entered, else what the board carried by then.
func (b *bench) buildOf(t store.Trial) string {
	if t.Build != "" {
		return t.Build
	}
	build := b.unit[t.BoardUnitID].Build
	for _, a := range b.acts {
		if a.AfterTrial < t.Seq && a.BoardUnitID == t.BoardUnitID && a.Build != "" {
			build = a.Build
		}
	}
	return build
}

// builds lists the builds on record in the order in which they came up, the newest last.
func (b *bench) builds() []string {
	all := []string{}
	add := func(s string) {
		if s != "" {
			all = append(slices.DeleteFunc(all, func(o string) bool { return o == s }), s)
		}
	}
	for _, u := range b.units {
		add(u.Build)
	}
	acts := b.acts
	for _, t := range b.trials {
		for len(acts) > 0 && acts[0].AfterTrial < t.Seq {
			add(acts[0].Build)
			acts = acts[1:]
		}
		add(b.buildOf(t))
	}
	for _, a := range acts {
		add(a.Build)
	}
	return all
}

// words says an explanation in plain language.
func (b *bench) words(atom string) string {
	for _, u := range b.units {
		atom = strings.ReplaceAll(atom, u.ID+"-", u.Name+"'s ")
		atom = strings.ReplaceAll(atom, "stuck:"+u.ID+":", "a loss that stayed on "+u.Name+" since ")
	}
	switch {
	case strings.HasPrefix(atom, "a loss that stayed"):
		return atom[:strings.Index(atom, "since ")+6] + atom[strings.LastIndex(atom, "#")+1:]
	case strings.HasPrefix(atom, "fit:"):
		return "loosely seated: " + strings.TrimPrefix(atom[:strings.LastIndex(atom, "#")], "fit:")
	case strings.HasSuffix(atom, ":bad"):
		return "defective piece: " + strings.TrimSuffix(strings.TrimPrefix(atom, "piece:"), ":bad")
	case strings.HasSuffix(atom, ":split"):
		return strings.Replace(strings.TrimSuffix(atom, ":split"), "/", " parted from its mate ", 1)
	case strings.HasSuffix(atom, ":both"):
		return strings.Replace(strings.TrimSuffix(atom, ":both"), "&", " and ", 1) + ", only together"
	}
	slot, state, _ := strings.Cut(atom, ":")
	return slot + ", " + state
}

// reading is one pass of the engines over a study and build.
type reading struct {
	study   ledger.Study
	history ledger.History
	in      diagnose.Input
	out     diagnose.Output
	skips   []ledger.Skip
	next    map[string]NextSwap
}

// asked is how a study is to be read.
type asked struct {
	build      string
	candidates bool
	noise      *diagnose.Noise
	budget     float64
}

func (b *bench) read(build string, candidates bool) (reading, error) {
	return b.readAs(asked{build: build, candidates: candidates})
}

func (b *bench) readAs(a asked) (reading, error) {
	r := reading{study: b.study(a.build), next: map[string]NextSwap{}}
	r.history = r.study.Walk()
	var list []diagnose.Candidate
	if a.candidates {
		var err error
		if list, err = b.candidates(a, &r); err != nil {
			return r, err
		}
	}
	r.in, r.skips = r.study.Question(r.history, list)
	if a.noise != nil {
		r.in.Noise = *a.noise
	}
	r.in.BudgetMinutes = a.budget
	if len(r.in.Checks) == 0 {
		return r, nil
	}
	var err error
	r.out, err = diagnose.Run(r.in)
	return r, err
}

// grade is the verdict of one cell.
func (r reading) grade(slot, state, check string) ledger.Verdict {
	return r.study.Grade(r.history, r.in, r.out, slot, state, check)
}
