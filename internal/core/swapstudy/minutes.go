package swapstudy

import "waryowl/internal/core/ledger"

// Minutes of an act where no way is on record (house): starting and running the checks; opening and closing when
// anything moves; out and in again by family, the dearest whole and the others at a share; a reseat by part; the rest
// by themselves.
const (
	checkMinutes   = 6.0
	openMinutes    = 8.0
	furtherShare   = 0.6
	reseatMinutes  = 4.0
	reseatPart     = 2.0
	restoreMinutes = 15.0
	gateMinutes    = 5.0
	// settleMinutes is what every reading waits for beside its own work: restart, charge and settling
	// (common practice, no source). It keeps a cheap but useless check from outranking a telling one.
	settleMinutes = 10.0
)

var familyMinutes = map[string]float64{"SC": 3, "OP": 3, "PW": 3, "SO": 2, "SE": 2, "BT": 2, "FR": 8, "RF": 4, "BD": 12}

const usualMinutes = 3.0

// ByKind are the minutes of an act by the kinds of what moves, where no way is on record: these pieces in the board's
// housing, all else its own.
func (b Bench) ByKind(s *ledger.Study, n Next, pieces []ledger.Piece) float64 {
	switch n.Act {
	case "gate":
		return gateMinutes
	case "repeat":
		return checkMinutes
	case "reseat":
		return reseatMinutes + reseatPart*float64(len(n.Slots)) + checkMinutes
	case "restore":
		return restoreMinutes + b.moving(s, n.Board, nil) - checkMinutes
	}
	return b.moving(s, n.Board, pieces)
}

func (b Bench) moving(s *ledger.Study, board string, pieces []ledger.Piece) float64 {
	have := b.Fitted(b.Sits(board), board)
	in := func(list []ledger.Piece, slot string) string {
		for _, p := range list {
			if p.Slot == slot {
				return p.ID() + p.Origin
			}
		}
		return ledger.Piece{Slot: slot, Unit: board, Model: b.Model(board)}.ID()
	}
	total, most := 0.0, 0.0
	for _, slot := range b.Slots {
		if in(have, slot) == in(pieces, slot) {
			continue
		}
		m, known := familyMinutes[s.Families[slot]]
		if !known {
			m = usualMinutes
		}
		total, most = total+m, max(most, m)
	}
	if total == 0 {
		return checkMinutes
	}
	return checkMinutes + openMinutes + most + furtherShare*(total-most)
}

// Minutes of an act in a study from where its pieces lie at the end, by kind.
func Minutes(in Input, n Next) (float64, error) {
	r := &reader{in: in}
	if err := r.read(); err != nil {
		return 0, err
	}
	var pieces []ledger.Piece
	for _, slot := range n.Slots {
		pieces = append(pieces, ledger.Piece{Slot: slot, Unit: n.From, Model: r.model(n.From)})
	}
	return r.atBench().ByKind(&r.study, n, pieces), nil
}
