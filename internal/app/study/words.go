package study

import (
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/trade"
)

// Words says an explanation in plain language.
func (b *Record) Words(a ledger.Atom) string {
	switch a.Kind {
	case ledger.StuckLoss:
		return "a loss that stayed on " + b.Sticker(a.Board) + " since " + a.Since
	case ledger.LooseSeat:
		return "loosely seated: " + b.Sticker(a.Board) + "'s " + a.Slots[0]
	case ledger.BadPiece:
		return "defective piece: " + b.pieceName(a.Piece)
	case ledger.Split:
		return min(a.Slots[0], a.Slots[1]) + " parted from the " + max(a.Slots[0], a.Slots[1])
	case ledger.Both:
		return min(a.Slots[0], a.Slots[1]) + " and " + max(a.Slots[0], a.Slots[1]) + ", only together"
	case ledger.Sometimes:
		return a.Slots[0] + ", " + trade.Say("state", a.State) + ", now and then"
	case ledger.UntilAct:
		return a.Slots[0] + ", " + trade.Say("state", a.State) + ", until a " + a.Act
	case ledger.BadSince:
		return b.pieceName(a.Piece) + ", damaged on the way since " + a.Since
	case ledger.Foreignness:
		if a.Board != "" {
			return a.Slots[0] + ", " + trade.Say("state", a.State) + ", on the " + b.Sticker(a.Board) + " board only"
		}
		return a.Slots[0] + ", " + trade.Say("state", a.State)
	}
	return "an explanation without words"
}

func (b *Record) pieceName(p ledger.Piece) string {
	if p.Origin == "" {
		return b.Sticker(p.Unit) + "'s " + p.Slot
	}
	return p.ID()
}
