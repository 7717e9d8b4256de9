package ledger

import (
	"cmp"
	"maps"
	"slices"
	"strings"

	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/trade"
)

// Priors of the explanations (house). A part is likelier to cost a function of its own family than another; for parted
// mates the same, at a lower level. A piece that is simply bad and mates that fail only together always stand beside
// them.
const (
	PriorDefault   = 0.1 // no family known
	PriorRelated   = 0.2
	PriorUnrelated = 0.05
	PriorSplit     = 0.1
	PriorSplitFar  = 0.01
	PriorBadPiece  = 0.05
	PriorBadFar    = 0.01 // a bad piece and a check of another family
	PriorBoth      = 0.02
	PriorSeat      = 0.009 // a fitting that is loose, and a check of its family; it costs no other
	PriorStuck     = 0.05  // a loss that stays when its cause is gone
)

// Noise is the default chance of a wrong reading (house).
var Noise = diagnose.Noise{FalseLoss: 0.03, FalsePass: 0.02}

// Skip is a reading that does not count, and why.
type Skip struct {
	Trial, Check string
	Reason
}

// Question turns what was seen on the study's build into the question for diagnose. Baselines enter as trials of own
// pieces, which is what exonerates a piece on its own board.
func (s Study) Question(h History, candidates []diagnose.Candidate) (diagnose.Input, []Skip) {
	in := diagnose.Input{Checks: s.Checks, Noise: Noise, Candidates: slices.Clone(candidates),
		Prior: diagnose.Prior{Default: PriorDefault, Atoms: map[string]map[string]float64{}}}
	moved := s.Moved(h)
	skips := []Skip{}
	for _, b := range s.Baselines {
		if b.Build == s.Build {
			in.Trials = append(in.Trials, diagnose.Trial{ID: BaselineID(b.Board.Unit),
				Results: counting(b.Results, s.Checks, nil),
				Setup:   diagnose.Setup{Atoms: h.bad(b.Board, nil, moved, true)}})
		}
	}
	for _, d := range h.Trials {
		if d.Build != s.Build {
			continue
		}
		for _, c := range s.Checks {
			if why := d.Skips[c]; why.Why != Counts {
				skips = append(skips, Skip{d.ID, c, why})
			}
		}
		setup := s.Setup(h, d.Board, d.States, d.Pieces, moved)
		if !s.Certain {
			setup.Atoms = append(setup.Atoms, d.Fits...)
			for _, c := range s.Checks {
				if d.Stuck[c] != "" {
					setup.Atoms = append(setup.Atoms, d.Stuck[c])
				}
			}
		}
		in.Trials = append(in.Trials, diagnose.Trial{ID: d.ID, Setup: setup,
			Results: counting(d.Results, s.Checks, d.Skips)})
	}
	accidents := s.accidents(h, candidates)
	idle := func(a string) bool { return len(accidents[a]) == 0 && h.Atom(a).Accident() }
	for i := range in.Trials {
		in.Trials[i].Atoms = slices.DeleteFunc(in.Trials[i].Atoms, idle)
	}
	for i := range in.Candidates {
		if c := &in.Candidates[i]; slices.ContainsFunc(c.Atoms, idle) { // theirs are the caller's
			c.Atoms = slices.DeleteFunc(slices.Clone(c.Atoms), idle)
		}
	}
	suspects := !s.Certain && !s.Plain
	name := func(at *diagnose.Setup) {
		names := at.AtomNames
		if !suspects { // nothing is added to it
			names = at.Settle
		}
		for _, a := range names() {
			if in.Prior.Atoms[a] == nil {
				in.Prior.Atoms[a] = make(map[string]float64, len(s.Checks))
			}
		}
	}
	for i := range in.Trials {
		name(&in.Trials[i].Setup)
	}
	for i := range in.Candidates {
		name(&in.Candidates[i].Setup)
	}
	for a, by := range in.Prior.Atoms {
		x, open := h.Atom(a), accidents[a]
		for _, c := range s.Checks {
			switch {
			case !x.Accident():
				by[c] = s.Guess(x, c)
			case !open[c]:
				by[c] = 0
			case x.Kind == StuckLoss:
				by[c] = PriorStuck
			default:
				by[c] = PriorSeat
			}
		}
	}
	if suspects {
		s.suspect(h, &in)
	}
	s.trim(h, &in)
	for i := range in.Trials {
		in.Trials[i].Settle()
	}
	for i := range in.Candidates {
		in.Candidates[i].Settle()
	}
	return in, skips
}

// mostExplanations is how many explanations of one check are asked about at most: a question may hold a few more.
const mostExplanations = 240

// trim leaves out of a check what explains least of it, where there is more than can be asked about: first accidents and
// pieces that were in no lost reading, the unlikely ones first. What is in a slot always stays.
func (s Study) trim(h History, in *diagnose.Input) {
	if len(in.Prior.Atoms) <= mostExplanations {
		return
	}
	held := make([][]string, len(in.Trials))
	for i := range in.Trials {
		held[i] = in.Trials[i].Settle()
	}
	for _, c := range s.Checks {
		lost := map[string]bool{}
		for i, t := range in.Trials {
			if isLost(t.Results[c]) {
				for _, a := range held[i] {
					lost[a] = true
				}
			}
		}
		type ranked struct {
			name  string
			rank  int
			prior float64
		}
		var names []ranked
		for a, by := range in.Prior.Atoms {
			if p := by[c]; p > 0 {
				x := ranked{a, 2, p}
				switch {
				case h.Atom(a).Kind == Foreignness:
					x.rank = 0
				case lost[a]:
					x.rank = 1
				}
				names = append(names, x)
			}
		}
		if len(names) <= mostExplanations {
			continue
		}
		slices.SortFunc(names, func(a, b ranked) int {
			return cmp.Or(cmp.Compare(a.rank, b.rank), cmp.Compare(b.prior, a.prior), strings.Compare(a.name, b.name))
		})
		for _, a := range names[mostExplanations:] {
			in.Prior.Atoms[a.name][c] = 0
		}
	}
}

// accidents lists the fittings and stuck losses that may explain something, and for which checks: those that were lost
// with them and never passed with them, since a loose seat and a loss that stays show at every reading. A fitting needs
// two trials, or a candidate that would keep it: in one trial alone a bad seat is what the noise of a reading stands
// for.
func (s Study) accidents(h History, candidates []diagnose.Candidate) map[string]map[string]bool {
	lost, passed := map[string]map[string]int{}, map[string]map[string]bool{}
	note := func(atom, check, result string) {
		if lost[atom] == nil {
			lost[atom], passed[atom] = map[string]int{}, map[string]bool{}
		}
		if result == "pass" {
			passed[atom][check] = true
		} else {
			lost[atom][check]++
		}
	}
	concerned := map[string][]string{} // checks of a family
	for _, c := range s.Checks {
		if f := s.Concerns[c]; f != "" {
			concerned[f] = append(concerned[f], c)
		}
	}
	for i := range h.Trials {
		d := &h.Trials[i]
		if d.Build != s.Build {
			continue
		}
		counts := func(c string) (string, bool) {
			r := d.Results[c]
			return r, (r == "lost" || r == "weak" || r == "pass") && (len(d.Skips) == 0 || d.Skips[c].Why == Counts)
		}
		for _, a := range d.Fits {
			for _, c := range concerned[s.Families[h.atoms.by[a].Slots[0]]] { // a loose seat costs its own family
				if r, ok := counts(c); ok {
					note(a, c, r)
				}
			}
		}
		for c, a := range d.Stuck {
			if r, ok := counts(c); ok && a != "" {
				note(a, c, r)
			}
		}
	}
	ahead := map[string]bool{}
	for _, c := range candidates {
		for _, a := range c.Atoms {
			ahead[a] = true
			if x := h.Atom(a); x.Kind == StuckLoss && lost[a] == nil {
				note(a, x.Check, "lost") // it has just begun, and the candidate would be its first trial
			}
		}
	}
	open := map[string]map[string]bool{}
	for a, by := range lost {
		for c, n := range by {
			if !passed[a][c] && (n >= 2 || h.Atom(a).Kind == StuckLoss || ahead[a]) {
				if open[a] == nil {
					open[a] = map[string]bool{}
				}
				open[a][c] = true
			}
		}
	}
	return open
}

// Guess is the prior of an explanation: the chance that it is a culprit of a check before any trial. What a kind of part
// costs of a check is the trade's; where kind or check are not known to it, the families say it.
func (s Study) Guess(a Atom, check string) float64 {
	if s.Prior != nil {
		if p, ok := s.Prior(a, check); ok {
			return p
		}
	}
	if a.Kind == Foreignness && s.Kinds[a.Slots[0]] != "" {
		if _, known := trade.CheckOf(check); known {
			return trade.Prior(s.Kinds[a.Slots[0]], check)
		}
	}
	family := s.Concerns[check]
	near := slices.ContainsFunc(a.Slots, func(slot string) bool { return s.Families[slot] == family })
	switch {
	case a.Kind == Both:
		return PriorBoth
	case a.Kind == BadPiece && s.Families[a.Piece.Slot] != "" && s.Families[a.Piece.Slot] != family:
		return PriorBadFar
	case a.Kind == BadPiece:
		return PriorBadPiece
	case a.Kind == Split && near:
		return PriorSplit
	case a.Kind == Split:
		return PriorSplitFar
	case family == "":
		return PriorDefault
	case near:
		return PriorRelated
	}
	return PriorUnrelated
}

// Setup lists the explanations that a configuration brings into play: states, split mates, and as further atoms every
// moved piece that may simply be bad and every pair of which neither is the board's own.
func (s Study) Setup(h History, b Board, states map[string]string, pieces []Piece, moved []Piece) diagnose.Setup {
	setup := diagnose.Setup{State: maps.Clone(states)}
	if !s.Plain && !s.Certain { // only what the readings bring up rests on it
		setup.Fitted = s.fitted(b, pieces)
	}
	if setup.State == nil {
		setup.State = map[string]string{}
	}
	for slot, st := range setup.State {
		h.atoms.foreignness(slot, st)
	}
	origin := func(slot string) string {
		k := slices.IndexFunc(pieces, func(p Piece) bool { return p.Slot == slot })
		if k < 0 || pieces[k].Origin == "" && pieces[k].Unit == b.Unit {
			return ""
		}
		return strings.TrimSuffix(pieces[k].ID(), slot)
	}
	for _, m := range s.Mates {
		if origin(m[0]) != origin(m[1]) && states[m[0]] != "off" && states[m[1]] != "off" {
			setup.Split = append(setup.Split, []string{m[0], m[1]})
			h.atoms.pair(Split, m[0], m[1])
		}
	}
	for _, m := range slices.Concat(s.Mates, s.Both) {
		if states[m[0]] != "" && states[m[1]] != "" {
			setup.Atoms = append(setup.Atoms, h.atoms.pair(Both, m[0], m[1]))
		}
	}
	setup.Atoms = append(setup.Atoms, h.bad(b, pieces, moved, len(states) == 0)...)
	return setup
}

// Moved lists the pieces that ever sat in another phone, on the build that is asked about, and those that may, by their
// ids.
func (s Study) Moved(h History) []Piece {
	var list []Piece
	at := map[string]int{}
	add := func(p Piece) {
		id := p.ID()
		if _, known := at[id]; !known {
			at[id] = len(list)
			list = append(list, p)
		}
	}
	for _, p := range s.Movable {
		add(p)
	}
	for i := range h.Trials {
		d := &h.Trials[i]
		if d.Build != s.Build {
			continue
		}
		for _, p := range d.Pieces {
			if p.Origin != Off && !(p.Origin == "" && p.Unit == d.Board.Unit) {
				add(p)
			}
		}
	}
	ids := slices.Sorted(maps.Keys(at))
	sorted := make([]Piece, len(ids))
	for k, id := range ids {
		sorted[k] = list[at[id]]
	}
	return sorted
}

// bad lists the explanations that a moved piece in this configuration is simply defective. The pieces of the board
// itself are in play while nothing else is (baselines and controls): what passes there makes them so unlikely that
// elsewhere they would only cost time.
func (h History) bad(b Board, pieces []Piece, moved []Piece, control bool) []string {
	var names []string
	at := make(map[string]bool, len(pieces))
	for _, p := range pieces {
		at[p.Slot] = true
	}
	for _, m := range moved {
		own := m.Origin == "" && m.Unit == b.Unit
		if own && !control {
			continue
		}
		here := at[m.Slot] && slices.ContainsFunc(pieces, m.same)
		if here && !own || control && own {
			names = append(names, h.atoms.badPiece(m))
		}
	}
	return names
}

func counting(results map[string]string, checks []string, skipped map[string]Reason) map[string]string {
	out := make(map[string]string, len(results))
	for _, c := range checks {
		if r := results[c]; r != "" && r != "assumed" {
			out[c] = r
			if skipped[c].Why != Counts {
				out[c] = "skipped"
			}
		}
	}
	return out
}

const baselineMark = "baseline-"

// BaselineID names the reading of a unit before any part was moved, as a trial of the question.
func BaselineID(unit string) string { return baselineMark + unit }

// IsBaseline tells whether a trial of the question is a unit's baseline.
func IsBaseline(trial string) bool { return strings.HasPrefix(trial, baselineMark) }
