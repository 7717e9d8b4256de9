package ledger

import "fmt"

// Kind is the kind of an explanation.
type Kind string

// The kinds of explanation.
const (
	Foreignness Kind = "state" // what is in a slot is not the board's own
	Split       Kind = "split" // two mates of different origin
	Both        Kind = "both"  // two slots, neither alone, only together
	BadPiece    Kind = "bad"   // a piece that is simply defective, on whichever board
	LooseSeat   Kind = "fit"   // a fitting that was not seated, kept over trials
	StuckLoss   Kind = "stuck" // a loss that stays though its cause is gone
)

// Atom is one explanation of a loss. Slots are the one or two slots that it speaks of, State what is in the slot, Piece
// the piece, Board the board that a fitting or a stuck loss is on, Check and Since the loss and the trial of a stuck
// one, N which fitting of that slot.
type Atom struct {
	Kind  Kind
	Slots []string
	State string
	Piece Piece
	Board string
	Check string
	Since string
	N     int
}

// Name is the explanation as the engines and their contracts write it. It is written once here and never taken apart
// again: the names of parts are free text.
func (a Atom) Name() string {
	switch a.Kind {
	case Split:
		return min(a.Slots[0], a.Slots[1]) + "/" + max(a.Slots[0], a.Slots[1]) + ":split"
	case Both:
		return min(a.Slots[0], a.Slots[1]) + "&" + max(a.Slots[0], a.Slots[1]) + ":both"
	case BadPiece:
		return "piece:" + a.Piece.ID() + ":bad"
	case LooseSeat:
		return fmt.Sprintf("fit:%s-%s#%d", a.Board, a.Slots[0], a.N)
	case StuckLoss:
		return "stuck:" + a.Board + ":" + a.Check + "#" + a.Since
	}
	return a.Slots[0] + ":" + a.State
}

// Accident says that an explanation is an accident of the bench, no property of the parts.
func (a Atom) Accident() bool { return a.Kind == LooseSeat || a.Kind == StuckLoss }

// atoms are the explanations that were named, by their names.
type atoms map[string]Atom

func (m atoms) name(a Atom) string {
	n := a.Name()
	if m != nil {
		m[n] = a
	}
	return n
}

// Atom is the explanation of a name that this history gave, or one that says nothing.
func (h History) Atom(name string) Atom { return h.atoms[name] }
