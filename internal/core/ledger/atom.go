package ledger

import "fmt"

// Kind is the kind of an explanation.
type Kind string

// The kinds of explanation.
const (
	Foreignness Kind = "state"     // what is in a slot is not the board's own
	Split       Kind = "split"     // two mates of different origin
	Both        Kind = "both"      // two slots, neither alone, only together
	BadPiece    Kind = "bad"       // a piece that is simply defective, on whichever board
	LooseSeat   Kind = "fit"       // a fitting that was not seated, kept over trials
	StuckLoss   Kind = "stuck"     // a loss that stays though its cause is gone
	Sometimes   Kind = "sometimes" // what is in a slot costs it in some trials and not in others
	BadSince    Kind = "bad since" // a piece that is defective from a trial on
	UntilAct    Kind = "until"     // what is in a slot costs it until an act
)

// Atom is one explanation of a loss. Slots are the one or two slots that it speaks of, State what is in the slot, Piece
// the piece, Board the board that a fitting or a stuck loss is on, Check and Since the loss and the trial of a stuck
// one (Since also the trial from which a piece is bad), N which fitting of that slot, Act what ends it.
type Atom struct {
	Kind  Kind
	Slots []string
	State string
	Piece Piece
	Board string
	Check string
	Since string
	N     int
	Act   string
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
	case BadSince:
		return "piece:" + a.Piece.ID() + ":bad@" + a.Since
	case Sometimes:
		return a.Slots[0] + ":" + a.State + "~"
	case UntilAct:
		return a.Slots[0] + ":" + a.State + "<" + a.Act
	case LooseSeat:
		return fmt.Sprintf("fit:%s-%s#%d", a.Board, a.Slots[0], a.N)
	case StuckLoss:
		return "stuck:" + a.Board + ":" + a.Check + "#" + a.Since
	}
	return a.Slots[0] + ":" + a.State
}

// Accident says that an explanation is an accident of the bench, no property of the parts.
func (a Atom) Accident() bool { return a.Kind == LooseSeat || a.Kind == StuckLoss }

// BroughtUp says that only the readings bring an explanation up.
func (a Atom) BroughtUp() bool {
	return a.Kind == Sometimes || a.Kind == BadSince || a.Kind == UntilAct
}

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
