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
	if a.Board != "" {
		return "board:" + a.Board + ":" + a.Slots[0] + ":" + a.State
	}
	return a.Slots[0] + ":" + a.State
}

// Accident says that an explanation is an accident of the bench, no property of the parts.
func (a Atom) Accident() bool { return a.Kind == LooseSeat || a.Kind == StuckLoss }

// BroughtUp says that only the readings bring an explanation up.
func (a Atom) BroughtUp() bool {
	return a.Kind == Sometimes || a.Kind == BadSince || a.Kind == UntilAct
}

// atoms are the explanations that were named, by their names. Those that are asked for again and again are found without
// writing their names anew.
type atoms struct {
	by     map[string]Atom
	bad    map[Piece]string
	seats  map[seat]string
	states map[[2]string]string
	pairs  map[[3]string]string
}

type seat struct {
	board, slot string
	n           int
}

func newAtoms() *atoms {
	return &atoms{map[string]Atom{}, map[Piece]string{}, map[seat]string{}, map[[2]string]string{}, map[[3]string]string{}}
}

func (m *atoms) name(a Atom) string {
	n := a.Name()
	if m != nil {
		m.by[n] = a
	}
	return n
}

func known[K comparable](m *atoms, in func(*atoms) map[K]string, k K, a func() Atom) string {
	if m == nil {
		return a().Name()
	}
	n, ok := in(m)[k]
	if !ok {
		n = m.name(a())
		in(m)[k] = n
	}
	return n
}

func (m *atoms) badPiece(p Piece) string {
	return known(m, func(m *atoms) map[Piece]string { return m.bad }, p,
		func() Atom { return Atom{Kind: BadPiece, Slots: []string{p.Slot}, Piece: p} })
}

func (m *atoms) looseSeat(board, slot string, n int) string {
	return known(m, func(m *atoms) map[seat]string { return m.seats }, seat{board, slot, n},
		func() Atom { return Atom{Kind: LooseSeat, Slots: []string{slot}, Board: board, N: n} })
}

func (m *atoms) foreignness(slot, state string) string {
	return known(m, func(m *atoms) map[[2]string]string { return m.states }, [2]string{slot, state},
		func() Atom { return Atom{Kind: Foreignness, Slots: []string{slot}, State: state} })
}

func (m *atoms) pair(kind Kind, a, b string) string {
	return known(m, func(m *atoms) map[[3]string]string { return m.pairs }, [3]string{string(kind), a, b},
		func() Atom { return Atom{Kind: kind, Slots: []string{a, b}} })
}

// Atom is the explanation of a name that this history gave, or one that says nothing.
func (h History) Atom(name string) Atom {
	if h.atoms == nil {
		return Atom{}
	}
	return h.atoms.by[name]
}
