// Package ledger derives what a swap trial really was. A piece is a physical part with an origin; the board carries the
// identity, so that trials are named board first. The user records which piece sits where; states are derived:
//
//	ledger.State(board, ledger.Piece{Slot: "display", Unit: "amber", Model: "drift-4"}) // "stranger" on the PINE board
//
// From trials and baselines it builds the question for package diagnose, with the guards that keep a reading from
// counting, and grades the verdicts.
package ledger

import (
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/core/diagnose"
)

// Origins of a piece that do not come from a unit of the study.
const (
	Off     = "off"
	Copy    = "copy"
	Unknown = "unknown"
)

// Priors of the explanations (house). A part is likelier to cost a function of its own family than another; for parted
// mates the same, at a lower level. A piece that is simply bad and mates that fail only together always stand beside them.
const (
	PriorDefault   = 0.1 // no family known
	PriorRelated   = 0.2
	PriorUnrelated = 0.05
	PriorSplit     = 0.1
	PriorSplitFar  = 0.01
	PriorBadPiece  = 0.05
	PriorBadFar    = 0.01 // a bad piece and a check of another family
	PriorBoth      = 0.02
)

// Noise is the default chance of a wrong reading (house).
var Noise = diagnose.Noise{FalseLoss: 0.03, FalsePass: 0.02}

// Board is the main board of a unit, which keeps the identity of the phone.
type Board struct{ Unit, Model string }

// Piece is what sits in a slot. Origin is empty for a piece of a unit, else Off, Copy or Unknown; Unit and Model say
// where a unit's piece comes from, Lot which delivery a copy.
type Piece struct {
	Slot, Origin, Unit, Model, Lot string
}

// ID names the physical piece, the same in whichever phone it sits; empty when nothing is there.
func (p Piece) ID() string {
	switch p.Origin {
	case Off:
		return ""
	case Copy, Unknown:
		return p.Slot + "@" + p.Lot
	}
	return p.Unit + "-" + p.Slot
}

// State is the state of a slot on a board, the first that applies: off, own, copy, foreign, stranger, unknown. The states
// copy and foreign carry their origin. Adoption through calibration is not yet kept.
func State(b Board, p Piece) string {
	switch {
	case p.Origin == Off:
		return "off"
	case p.Origin == "" && p.Unit == b.Unit:
		return "own"
	case p.Origin == Copy:
		return "copy@" + p.Lot
	case p.Origin == "" && p.Model != b.Model:
		return "foreign@" + p.Model
	case p.Origin == "":
		return "stranger"
	}
	return "unknown"
}

// Trial is one tested configuration: the pieces that are not the board's own, and a result per check.
type Trial struct {
	ID      string
	Board   Board
	Build   string
	Pieces  []Piece
	Results map[string]string
}

// Baseline holds a unit's results before it was opened.
type Baseline struct {
	Board   Board
	Build   string
	Results map[string]string
}

// Study is everything that one question rests on: trials in the order in which they were made, one build.
type Study struct {
	Checks    []string
	Families  map[string]string // of the slots; may be empty
	Concerns  map[string]string // the family that a check concerns; may be empty
	Mates     [][2]string
	Trials    []Trial
	Baselines []Baseline
}

// Skip is a reading that does not count, and why.
type Skip struct {
	Trial, Check, Why string
}

// Question turns the study into the question for diagnose. Baselines enter as trials of own pieces, which is what
// exonerates a piece on its own board.
func (s Study) Question(candidates []diagnose.Candidate) (diagnose.Input, []Skip) {
	in := diagnose.Input{Checks: s.Checks, Noise: Noise, Candidates: candidates,
		Prior: diagnose.Prior{Default: PriorDefault, Atoms: map[string]map[string]float64{}}}
	moved := s.Moved()
	skips := s.Guard()
	for _, b := range s.Baselines {
		in.Trials = append(in.Trials, diagnose.Trial{ID: "baseline-" + b.Board.Unit, Results: counting(b.Results, s.Checks, nil),
			Setup: diagnose.Setup{Atoms: bad(b.Board, nil, moved)}})
	}
	for _, t := range s.Trials {
		var skipped []string
		for _, k := range skips {
			if k.Trial == t.ID {
				skipped = append(skipped, k.Check)
			}
		}
		in.Trials = append(in.Trials, diagnose.Trial{ID: t.ID, Setup: s.Setup(t, moved), Results: counting(t.Results, s.Checks, skipped)})
	}
	names := map[string]bool{}
	for _, t := range in.Trials {
		for _, a := range t.AtomNames() {
			names[a] = true
		}
	}
	for _, c := range candidates {
		for _, a := range c.AtomNames() {
			names[a] = true
		}
	}
	for a := range names {
		in.Prior.Atoms[a] = map[string]float64{}
		for _, c := range s.Checks {
			in.Prior.Atoms[a][c] = s.prior(a, c)
		}
	}
	return in, skips
}

// prior is the chance that an explanation is a culprit of a check before any trial.
func (s Study) prior(atom, check string) float64 {
	what, kind, _ := strings.Cut(atom, ":")
	if kind == "both" {
		return PriorBoth
	}
	family := s.Concerns[check]
	if strings.HasPrefix(atom, "piece:") {
		for slot, f := range s.Families {
			if f != family && strings.HasSuffix(atom, "-"+slot+":bad") {
				return PriorBadFar
			}
		}
		return PriorBadPiece
	}
	near := slices.ContainsFunc(strings.Split(what, "/"), func(slot string) bool { return s.Families[slot] == family })
	switch {
	case kind == "split" && near:
		return PriorSplit
	case kind == "split":
		return PriorSplitFar
	case family == "":
		return PriorDefault
	case near:
		return PriorRelated
	}
	return PriorUnrelated
}

// Setup lists the explanations that a trial brings into play: states, split mates, and as further atoms every moved
// piece that may simply be bad and every pair of mates of which neither is the board's own.
func (s Study) Setup(t Trial, moved []string) diagnose.Setup {
	setup := diagnose.Setup{State: map[string]string{}}
	origin := map[string]string{}
	for _, p := range t.Pieces {
		if state := State(t.Board, p); state != "own" {
			setup.State[p.Slot] = state
			origin[p.Slot] = strings.TrimSuffix(p.ID(), p.Slot)
		}
	}
	for _, m := range s.Mates {
		a, b := origin[m[0]], origin[m[1]]
		if a != b && setup.State[m[0]] != "off" && setup.State[m[1]] != "off" {
			setup.Split = append(setup.Split, []string{m[0], m[1]})
		}
		if setup.State[m[0]] != "" && setup.State[m[1]] != "" {
			setup.Atoms = append(setup.Atoms, min(m[0], m[1])+"&"+max(m[0], m[1])+":both")
		}
	}
	setup.Atoms = append(setup.Atoms, bad(t.Board, t.Pieces, moved)...)
	return setup
}

// Moved lists the ids of the pieces that ever sat in another phone.
func (s Study) Moved() []string {
	var ids []string
	for _, t := range s.Trials {
		for _, p := range t.Pieces {
			if state := State(t.Board, p); state != "own" && state != "off" {
				ids = append(ids, p.ID())
			}
		}
	}
	slices.Sort(ids)
	return slices.Compact(ids)
}

// bad lists the atoms of the moved pieces that sit in this configuration.
func bad(b Board, pieces []Piece, moved []string) []string {
	var atoms []string
	for _, id := range moved {
		here := strings.HasPrefix(id, b.Unit+"-")
		for _, p := range pieces {
			if own := b.Unit + "-" + p.Slot; own == id {
				here = p.ID() == id
			} else if p.ID() == id {
				here = true
			}
		}
		if here {
			atoms = append(atoms, "piece:"+id+":bad")
		}
	}
	return atoms
}

func counting(results map[string]string, checks, skipped []string) map[string]string {
	out := map[string]string{}
	for _, c := range checks {
		if r := results[c]; r != "" && r != "assumed" {
			out[c] = r
			if slices.Contains(skipped, c) {
				out[c] = "skipped"
			}
		}
	}
	return out
}

// Guard finds the readings that prove nothing: a loss that the board had already shown before it was opened, and a
// board that is not back at its baseline (every slot its own and the check lost), until a control passes again.
func (s Study) Guard() []Skip {
	skips := []Skip{}
	baseline := map[string]map[string]string{}
	for _, b := range s.Baselines {
		baseline[b.Board.Unit] = b.Results
	}
	for _, c := range s.Checks {
		sticky := map[string]string{}
		for _, t := range s.Trials {
			r := t.Results[c]
			if r != "pass" && r != "weak" && r != "lost" {
				continue
			}
			lost := r != "pass"
			own := !slices.ContainsFunc(t.Pieces, func(p Piece) bool { return State(t.Board, p) != "own" })
			before := baseline[t.Board.Unit][c]
			switch {
			case lost && (before == "lost" || before == "weak"):
				skips = append(skips, Skip{t.ID, c, "the board had lost this before it was opened"})
			case own && lost:
				sticky[t.Board.Unit] = t.ID
				skips = append(skips, Skip{t.ID, c, "lost with every piece its own: not back at baseline"})
			case own:
				delete(sticky, t.Board.Unit)
			case sticky[t.Board.Unit] != "":
				skips = append(skips, Skip{t.ID, c, fmt.Sprintf("not back at baseline since %s", sticky[t.Board.Unit])})
			}
		}
	}
	return skips
}
