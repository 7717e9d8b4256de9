package app

import (
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/worktime"
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

// study is what the core reads for one build.
func (b *bench) study(build string) ledger.Study {
	s := ledger.Study{Families: map[string]string{}, Concerns: map[string]string{}}
	for _, c := range b.checks {
		s.Checks = append(s.Checks, c.Mark)
		s.Concerns[c.Mark] = c.Family
	}
	for _, p := range b.know.parts {
		s.Families[p.Name] = p.Family
		if m := b.know.partNamed(p.Mate); p.Mate != "" && m != nil && p.Slot && m.Slot && p.Name < m.Name {
			s.Mates = append(s.Mates, [2]string{p.Name, m.Name})
		}
	}
	for _, t := range b.trials {
		if b.buildOf(t) != build {
			continue
		}
		lt := ledger.Trial{ID: trialMark(t), Board: b.board(t.BoardUnitID), Build: build, Results: t.Results}
		for _, p := range t.Pieces {
			lt.Pieces = append(lt.Pieces, b.piece(p))
		}
		s.Trials = append(s.Trials, lt)
	}
	for _, u := range b.units {
		if u.Build != build {
			continue
		}
		results := map[string]string{}
		for _, l := range b.baselines {
			if l.UnitID == u.ID && !l.Assumed {
				results[l.CheckMark] = l.Result
			}
		}
		s.Baselines = append(s.Baselines, ledger.Baseline{Board: b.board(u.ID), Build: build, Results: results})
	}
	return s
}

func trialMark(t store.Trial) string { return fmt.Sprintf("t%d", t.Seq) }

// buildOf is the build of a trial, by default that of the unit whose board it is.
func (b *bench) buildOf(t store.Trial) string {
	if t.Build != "" {
		return t.Build
	}
	return b.unit[t.BoardUnitID].Build
}

// builds lists the builds on record in the order in which they came up, the newest last.
func (b *bench) builds() []string {
	var all []string
	add := func(s string) {
		if s != "" {
			all = append(slices.DeleteFunc(all, func(o string) bool { return o == s }), s)
		}
	}
	for _, u := range b.units {
		add(u.Build)
	}
	for _, t := range b.trials {
		add(b.buildOf(t))
	}
	return append([]string{}, all...)
}

// words says an explanation in plain language.
func (b *bench) words(atom string) string {
	for _, u := range b.units {
		atom = strings.ReplaceAll(atom, u.ID+"-", u.Name+"'s ")
	}
	switch {
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
	study ledger.Study
	in    diagnose.Input
	out   diagnose.Output
	skips []ledger.Skip
	next  map[string]NextSwap
}

func (b *bench) read(build string, candidates bool) (reading, error) {
	r := reading{study: b.study(build), next: map[string]NextSwap{}}
	var asked []diagnose.Candidate
	if candidates {
		asked = b.candidates(build, &r)
	}
	r.in, r.skips = r.study.Question(asked)
	if len(r.in.Checks) == 0 {
		return r, nil
	}
	var err error
	r.out, err = diagnose.Run(r.in)
	return r, err
}

// candidates are every slot alone, and the half of the slots that is likelier to hold what is open, on each board.
func (b *bench) candidates(build string, r *reading) []diagnose.Candidate {
	var list []diagnose.Candidate
	var slots []store.Part
	in := map[string]float64{} // seconds until the parts are out
	for _, p := range b.know.parts {
		if p.Slot {
			slots = append(slots, p)
		}
	}
	for i, u := range b.units {
		if len(b.units) < 2 || u.Build != build {
			continue
		}
		from := b.units[(i+1)%len(b.units)]
		add := func(id string, parts []store.Part, words string) {
			t := ledger.Trial{Board: b.board(u.ID)}
			n := NextSwap{Words: words, BoardUnitID: u.ID, FromUnitID: from.ID, PartIDs: []string{}}
			for _, p := range parts {
				t.Pieces = append(t.Pieces, ledger.Piece{Slot: p.Name, Unit: from.ID, Model: b.ModelID})
				n.PartIDs = append(n.PartIDs, p.ID)
			}
			key := strings.Join(n.PartIDs, " ")
			seconds, known := in[key]
			if !known {
				seconds = b.know.secondsIn(n.PartIDs)
				in[key] = seconds
			}
			// Both phones are opened and closed again.
			n.Minutes = (2*(1+worktime.RefitShare)*seconds + bootSeconds + checkTime(b.checks)) / 60
			if seconds == 0 {
				n.Minutes, n.Assumed = assumedRound, true
			}
			list = append(list, diagnose.Candidate{ID: id, Minutes: n.Minutes, Unit: u.ID, Setup: r.study.Setup(t, r.study.Moved())})
			r.next[id] = n
		}
		for k, p := range slots {
			add(fmt.Sprintf("c%d.%d", i, k), []store.Part{p}, fmt.Sprintf("Exchange only the %s: %s board with %s's piece", p.Name, u.Name, from.Name))
		}
		if len(slots) > 3 {
			half := slots[:len(slots)/2]
			add(fmt.Sprintf("h%d", i), half, fmt.Sprintf("Exchange %d pieces together on the %s board, %s to %s", len(half), u.Name, half[0].Name, half[len(half)-1].Name))
		}
	}
	return list
}
