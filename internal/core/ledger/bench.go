package ledger

import "slices"

// Bench says which piece sits where: At per housing and slot, Mat what sits nowhere. P is how a piece is told.
type Bench[P comparable] struct {
	At  map[string]map[string]P
	Mat []P
}

// NewBench is an empty bench.
func NewBench[P comparable]() *Bench[P] { return &Bench[P]{At: map[string]map[string]P{}, Mat: []P{}} }

// Build puts a piece where a phone was built with it.
func (b *Bench[P]) Build(housing, slot string, piece P) {
	if b.At[housing] == nil {
		b.At[housing] = map[string]P{}
	}
	b.At[housing][slot] = piece
}

// Move takes a piece from wherever it is and puts it into a slot of a housing ("": on the mat). What lay there goes to
// the mat, so that nothing is in two places. A housing that the bench does not know takes nothing.
func (b *Bench[P]) Move(slot string, piece P, to string) {
	for _, slots := range b.At {
		if p, here := slots[slot]; here && p == piece {
			delete(slots, slot)
		}
	}
	b.Mat = slices.DeleteFunc(b.Mat, func(q P) bool { return q == piece })
	if to == "" {
		b.Mat = append(b.Mat, piece)
		return
	}
	slots, known := b.At[to]
	if !known {
		return
	}
	if old, taken := slots[slot]; taken {
		b.Mat = append(b.Mat, old)
	}
	slots[slot] = piece
}

// Expanded lists the slots that moving a slot moves: those inside an assembly, else the slot itself.
func Expanded(slot string, leaves map[string][]string) []string {
	if inner := leaves[slot]; len(inner) > 0 {
		return inner
	}
	return []string{slot}
}
