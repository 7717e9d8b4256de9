// Package ledger derives what a swap trial really was. A piece is a physical part with an origin; the board carries the
// identity, so that trials are named board first. The user records which piece sits where and what was done in between;
// states are derived:
//
//	ledger.State(board, nil, ledger.Piece{Slot: "display", Unit: "amber", Model: "drift-4"}) // "stranger" on the PINE board
//
// From trials, acts and baselines it builds the question for package diagnose, with the guards that keep a reading from
// counting, and grades the verdicts.
package ledger

import (
	"slices"
	"strings"

	"waryowl/internal/core/trade"
)

// Origins of a piece that do not come from a unit of the study.
const (
	Off     = "off"
	Copy    = "copy"
	Unknown = "unknown"
)

// Kinds of acts between trials.
const (
	Restart   = "restart"
	Reset     = "reset"
	Update    = "update"
	Flash     = "flash"
	Calibrate = "calibrate"
	Charger   = "charger"
	Wait      = "wait"
	Reseat    = "reseat"
	KnownGood = "known-good part"
	Clock     = "clock changed"
	Damage    = "damage"
	Method    = "method changed" // the way of working; it ends the stop for a kind of damage that came again
)

// Irreversible says whether an act takes something away for good: the earlier build, or the entry of the ledger.
func Irreversible(kind string) bool { return kind == Update || kind == Flash || kind == Calibrate }

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

// is says whether this is the id of the piece, without writing it.
func (p Piece) is(id string) bool {
	if p.Origin != "" {
		return p.ID() == id
	}
	n := len(p.Unit)
	return len(id) == n+1+len(p.Slot) && id[:n] == p.Unit && id[n] == '-' && id[n+1:] == p.Slot
}

// same says that two pieces are one and the same, which their ids say too.
func (p Piece) same(q Piece) bool {
	loose := func(x Piece) bool { return x.Origin == Copy || x.Origin == Unknown }
	switch {
	case p.Origin == Off || q.Origin == Off:
		return p.Origin == q.Origin
	case p.Slot != q.Slot || loose(p) != loose(q):
		return false
	case loose(p):
		return p.Lot == q.Lot
	}
	return p.Unit == q.Unit
}

// Act is what was done to a board between trials. Pieces are those calibrated, reseated or damaged; Build is the one
// after an update or flash; Accepted the answer of a calibration; What the kind of damage, Checks those that it spoils
// (nil: all; empty, or "cosmetic": none).
type Act struct {
	Kind     string
	Board    string
	Housing  string // in which the board sits; empty: its own
	Pieces   []Piece
	Accepted bool
	Build    string
	What     string
	Checks   []string
}

// Cosmetic is damage that spoils no check.
const Cosmetic = "cosmetic"

// spoils says whether a damage spoils a check.
func (a Act) spoils(check string) bool {
	return !strings.Contains(strings.ToLower(a.What), Cosmetic) && (a.Checks == nil || slices.Contains(a.Checks, check))
}

// Entries are the slots of one board whose entry was replaced by a calibration: slot: id of the piece it is matched to
// now.
type Entries map[string]string

// State is the state of a slot on a board, the first that applies: off, own (matched, entry never replaced), adopted
// (matched through calibration), copy, foreign, stranger (genuine, same model, not matched), unknown. The states copy
// and foreign carry their origin.
func State(b Board, replaced Entries, p Piece) string {
	entry, changed := replaced[p.Slot]
	switch {
	case p.Origin == Off:
		return "off"
	case changed && entry == p.ID():
		return "adopted"
	case !changed && p.Origin == "" && p.Unit == b.Unit:
		return "own"
	case p.Origin == Copy:
		lot, _, _ := strings.Cut(p.Lot, "#") // a second piece of a lot is another piece in the same state
		return "copy@" + lot
	case p.Origin == "" && p.Model != b.Model:
		return "foreign@" + p.Model
	case p.Origin == "":
		return "stranger"
	}
	return "unknown"
}

// Trial is one tested configuration: the pieces that are not what the board was built with, what was done since the
// trial before, and a result per check. Results are the last readings; First those at once; Settled says what had gone
// by before the last one (restart, charge, settling). DeadGate lists what was tried before a board was called dead.
type Trial struct {
	ID       string
	Board    Board
	Housing  string // in which the board sits; empty: its own
	Build    string
	Pieces   []Piece
	Before   []Act
	Results  map[string]string
	First    map[string]string
	Settled  map[string][]string
	DeadGate []string
	Dark     bool            // nothing showed on the screen: what was lost waits for the gate
	Waver    map[string]bool // checks that were lost and back, or back and lost, more than once within it: see [Wavers]
}

// Wavers are the checks that turned more than once over the readings of one trial, the first of them first; turning
// once is a reading that settled. Each reading names only the checks that were read again.
func Wavers(readings ...map[string]string) map[string]bool {
	last, turns := map[string]string{}, map[string]int{}
	var out map[string]bool
	for _, results := range readings {
		for c, r := range results {
			if before := last[c]; before == "pass" && isLost(r) || isLost(before) && r == "pass" {
				if turns[c]++; turns[c] > 1 {
					if out == nil {
						out = map[string]bool{}
					}
					out[c] = true
				}
			}
			last[c] = r
		}
	}
	return out
}

// IsNotice says whether a check is that a notice is shown; its mark is the text behind a word.
func IsNotice(mark string) bool {
	return strings.HasPrefix(mark, "notice: ") || strings.HasPrefix(mark, "notice:")
}

// Baseline holds a unit's results before it was opened.
type Baseline struct {
	Board   Board
	Build   string
	Results map[string]string
}

// Study is everything that one question rests on: all trials in the order in which they were made, with the acts before
// each, and those After the last. Build is the one asked about, Newest the newest seen. Slots are the leaves; Both the
// pairs that are also tried as "only together", besides the mates. Prior, when given, overrides a prior: atom kind
// (slot:state) and check.
type Study struct {
	Build, Newest string
	Checks        []string
	Groups        map[string]string // of the checks: a group is tested at full depth when all of it is
	Slots         []string
	Families      map[string]string // of the slots; may be empty
	Kinds         map[string]string // of the slots, as the trade names them; may be empty
	Concerns      map[string]string // the family that a check concerns; may be empty
	Mates         [][2]string
	Both          [][2]string
	Trials        []Trial
	After         []Act
	Baselines     []Baseline
	Movable       []Piece // pieces that candidates would move, besides those that were
	Plain         bool    // nothing comes and goes, is hurt on the way or ends by an act: such is not asked about
	Certain       bool    // no seat is ever loose and no loss stays: fittings and stuck losses are not asked about
	Prior         func(a Atom, check string) (float64, bool)
}

// Expand turns pieces of assemblies into pieces of their leaves: moving an assembly moves its leaves, unless a leaf was
// moved by itself. leaves lists those of an assembly; a slot without leaves is one.
func Expand(pieces []Piece, leaves map[string][]string) []Piece {
	var out []Piece
	own := map[string]bool{}
	for _, p := range pieces {
		if len(leaves[p.Slot]) == 0 {
			own[p.Slot] = true
			out = append(out, p)
		}
	}
	for _, p := range pieces {
		for _, leaf := range leaves[p.Slot] {
			if !own[leaf] {
				own[leaf] = true
				q := p
				q.Slot = leaf
				out = append(out, q)
			}
		}
	}
	return out
}

// Derived is a trial with what follows from the history: the state of every slot that is not own, why checks do not
// count, the fittings that were made on the bench (a bad seat takes a loss along from trial to trial until the piece is
// fitted again), and the losses that may have stuck from an earlier trial on the board, each with its check.
type Derived struct {
	Trial
	States map[string]string
	Skips  map[string]Reason
	Fits   []string
	Stuck  map[string]string

	seats map[string]string // the fitting of a slot
}

// fitting is the piece in a slot of a board, and how often one was put in there.
type fitting struct {
	piece string
	n     int
}

// Remedy is what brought a check back that had stayed lost with every piece its own.
type Remedy struct {
	Board, Check, Since, Back string
	By                        []string
}

// History is the study read in order.
type History struct {
	Trials   []Derived
	Entries  map[string]Entries           // per board, as they are now
	Sticky   map[string]map[string]string // per board: check: trial since which it is not back at its baseline
	Remedies []Remedy
	Damaged  map[string]string // id of the piece: kind of damage
	Damages  map[string]int    // kind: how often
	Builds   map[string]string // per board, the newest
	Marked   []string          // boards with an irreversible act

	at     map[string]int                // number of a trial, by its id
	fits   map[string]map[string]fitting // per board and slot
	pieces map[string]Piece              // damaged pieces by id
	hurts  map[string][]Act              // the damages of a piece, by its id
	facts  map[string][]fact             // what the question of a build speaks of, once it was asked for
	atoms  *atoms                        // every explanation that was named
	done   map[string]bool               // kinds of acts that were done
	stuck  map[string]map[string]string  // per board and check: the explanation, while a loss has not passed again
}

// Did says whether an act of a kind was done on any board.
func (h History) Did(kind string) bool { return h.done[kind] }

// Walk reads the history once: states from the ledger of each moment, and the guards.
func (s Study) Walk() History {
	h := History{at: map[string]int{}, Entries: map[string]Entries{}, Sticky: map[string]map[string]string{},
		Damaged: map[string]string{},
		Damages: map[string]int{}, Builds: map[string]string{},
		pieces: map[string]Piece{}, hurts: map[string][]Act{}, facts: map[string][]fact{}, atoms: newAtoms(),
		fits:  map[string]map[string]fitting{},
		stuck: map[string]map[string]string{}, done: map[string]bool{}}
	before := map[string]map[string]string{}
	for _, b := range s.Baselines {
		before[b.Board.Unit] = b.Results
		h.Builds[b.Board.Unit] = b.Build
	}
	tried := map[string][]string{} // per board: acts since it was found not to be back
	for _, t := range s.Trials {
		for _, a := range t.Before {
			h.do(a)
			if len(h.Sticky[a.Board]) > 0 && a.Kind != Damage {
				tried[a.Board] = append(tried[a.Board], a.Kind)
			}
		}
		if t.Build != "" {
			h.Builds[t.Board.Unit] = t.Build
		}
		d := Derived{Trial: t, States: map[string]string{}, Skips: map[string]Reason{}, Stuck: map[string]string{}}
		placed := map[string]bool{}
		var damaged []Piece
		for _, p := range t.Pieces {
			placed[p.Slot] = true
			if st := State(t.Board, h.Entries[t.Board.Unit], p); st != "own" {
				d.States[p.Slot] = st
			}
			damaged = append(damaged, p)
		}
		// A slot that is not named holds what the phone was built with: after a calibration that piece is a stranger.
		for slot := range h.Entries[t.Board.Unit] {
			if p := (Piece{Slot: slot, Unit: t.Board.Unit, Model: t.Board.Model}); !placed[slot] {
				d.States[slot] = State(t.Board, h.Entries[t.Board.Unit], p)
			}
		}
		for _, slot := range s.Slots {
			if !placed[slot] && len(h.hurts) > 0 {
				damaged = append(damaged, Piece{Slot: slot, Unit: t.Board.Unit})
			}
		}
		damaged = slices.DeleteFunc(damaged, func(p Piece) bool { return len(h.hurts[p.ID()]) == 0 })
		s.guard(&h, &d, before[t.Board.Unit], damaged, tried)
		h.seat(s.Slots, &d)
		h.stick(&d)
		if _, twice := h.at[d.ID]; !twice {
			h.at[d.ID] = len(h.Trials)
		}
		h.Trials = append(h.Trials, d)
	}
	for _, a := range s.After {
		h.do(a)
	}
	return h
}

// seat notes which fittings of the bench a trial was made with.
func (h *History) seat(slots []string, d *Derived) {
	unit := d.Board.Unit
	if d.Housing != "" {
		unit = d.Housing
	}
	if h.fits[unit] == nil {
		h.fits[unit] = map[string]fitting{}
	}
	d.seats = map[string]string{}
	for _, slot := range slots {
		own := Piece{Slot: slot, Unit: unit}
		here := Piece{Slot: slot, Unit: d.Board.Unit}
		if k := slices.IndexFunc(d.Pieces, func(p Piece) bool { return p.Slot == slot }); k >= 0 {
			here = d.Pieces[k]
		}
		f, known := h.fits[unit][slot]
		if !known {
			f.piece = own.ID()
		}
		if !here.is(f.piece) {
			f, known = fitting{here.ID(), f.n + 1}, false
		}
		if !known {
			h.fits[unit][slot] = f
		}
		if f.n > 0 && f.piece != "" {
			a := h.fitAtom(unit, slot, f.n)
			d.Fits = append(d.Fits, a)
			d.seats[slot] = a
		}
	}
}

func (h History) fitAtom(unit, slot string, n int) string {
	return h.atoms.looseSeat(unit, slot, n)
}

// stick notes the losses that may have stayed from an earlier trial on the board: from the trial after a loss to the
// next pass.
func (h *History) stick(d *Derived) {
	unit := d.Board.Unit
	if h.stuck[unit] == nil {
		h.stuck[unit] = map[string]string{}
	}
	for c, r := range d.Results {
		if d.Skips[c].Why != Counts || r != "lost" && r != "weak" && r != "pass" {
			continue
		}
		if atom := h.stuck[unit][c]; atom != "" {
			d.Stuck[c] = atom
		}
		if r == "pass" {
			delete(h.stuck[unit], c)
		} else if h.stuck[unit][c] == "" {
			h.stuck[unit][c] = h.atoms.name(Atom{Kind: StuckLoss, Board: unit, Check: c, Since: d.ID})
		}
	}
}

func (h *History) do(a Act) {
	h.done[a.Kind] = true
	switch a.Kind {
	case Reseat:
		for _, p := range a.Pieces {
			at := a.Board
			if a.Housing != "" {
				at = a.Housing
			}
			if f, known := h.fits[at][p.Slot]; known {
				h.fits[at][p.Slot] = fitting{f.piece, f.n + 1}
			}
		}
	case Reset:
		delete(h.stuck, a.Board)
	case Calibrate:
		if !a.Accepted {
			return
		}
		if h.Entries[a.Board] == nil {
			h.Entries[a.Board] = Entries{}
		}
		for _, p := range a.Pieces {
			if p.ID() != "" {
				h.Entries[a.Board][p.Slot] = p.ID()
			}
		}
	case Update, Flash:
		if a.Build != "" {
			h.Builds[a.Board] = a.Build
		}
		delete(h.stuck, a.Board)
	case Damage:
		h.Damages[trade.IncidentKind(a.What)]++
		for _, p := range a.Pieces {
			h.Damaged[p.ID()], h.pieces[p.ID()] = a.What, p
			h.hurts[p.ID()] = append(h.hurts[p.ID()], a)
		}
	case Method:
		clear(h.Damages)
	}
	if Irreversible(a.Kind) && !slices.Contains(h.Marked, a.Board) {
		h.Marked = append(h.Marked, a.Board)
	}
}
