package swap

import (
	"fmt"
	"slices"

	"gorm.io/gorm"

	"waryowl/internal/app/model"
	"waryowl/internal/app/study"
	"waryowl/internal/core/fit"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// How often a board connector may be mated, and from how many on it is looked at first (common practice, no source).
const (
	matingsLast = 30
	matingsLook = 15
)

// connectorWarnings says which pieces on the bench have a connector of another width than the slot that they lie in,
// and which connectors were mated so often that they may be the fault themselves.
func connectorWarnings(db *gorm.DB, b *study.Record) ([]ledger.Warning, error) {
	list := []ledger.Warning{}
	a := b.Arrange()
	for _, u := range b.Units {
		for _, p := range b.Fitted(a, u.ID, b.BoardIn(a, u.ID)) {
			part := b.Know.PartByID[p.PartID]
			width, of, err := connectorWidth(db, b, part, p)
			if err != nil {
				return nil, err
			}
			own := model.Quantities(part)["connector width"]
			if apart := fit.WidthsApart(width.MM, own.Value, max(width.U, own.U)); apart != "" {
				list = append(list, ledger.Warning{Kind: "connector differs",
					Text: fmt.Sprintf("The %s of %s in %s: %s.", part.Name, of, u.Name, apart)})
			}
		}
	}
	for key, n := range matings(b) {
		if n >= matingsLook {
			list = append(list, ledger.Warning{Kind: "connector worn",
				Text: fmt.Sprintf("The %s connector on the %s board was mated "+
					"%d times in this study. Such connectors last about %d: look at it under the loupe before each trial.",
					key[1], b.Sticker(key[0]), n, matingsLast)})
		}
	}
	slices.SortFunc(list, func(x, y ledger.Warning) int {
		if x.Kind+x.Text < y.Kind+y.Text {
			return -1
		}
		return 1
	})
	return list, nil
}

type measured struct{ MM, U float64 }

// connectorWidth is the width of the connector of a piece from elsewhere, where it was measured, and what the piece
// is called.
func connectorWidth(db *gorm.DB, b *study.Record, part store.Part, p store.Piece) (measured, string, error) {
	switch p.Origin {
	case store.Foreign:
		models, err := store.List[store.Model](db, "id", "name = ?", p.Model)
		if err != nil || len(models) == 0 {
			return measured{}, p.Model, err
		}
		parts, err := store.List[store.Part](db, "id", "model_id = ?", models[0].ID)
		for _, q := range parts {
			kind := q.Kind
			if kind == "" {
				kind, _ = trade.KindOf(q.Name)
			}
			if kind != "" && kind == b.Know.Kind(part.ID) {
				w := model.Quantities(q)["connector width"]
				return measured{w.Value, w.U}, "the " + p.Model, err
			}
		}
		return measured{}, p.Model, err
	case ledger.Copy:
		lots, err := store.List[store.Lot](db, "id", "name = ?", p.Lot)
		if err != nil || len(lots) == 0 {
			return measured{}, p.Lot, err
		}
		w := model.Measured(lots[0].Measures)["connector width"]
		return measured{w.Value, w.U}, "lot " + p.Lot, nil
	}
	return measured{}, "", nil
}

// matings counts how often the connector of each slot was plugged in on each board: moves into its housing, reseats,
// and every slot when the board itself moved.
func matings(b *study.Record) map[[2]string]int {
	count, a, main := map[[2]string]int{}, ledger.NewBench[store.Piece](), b.BoardPart()
	for _, u := range b.Units {
		if main != nil {
			a.Build(u.ID, main.ID, store.Piece{PartID: main.ID, Origin: "unit", UnitID: u.ID})
		}
	}
	board := func(housing string) string {
		if main == nil {
			return housing
		}
		return a.At[housing][main.ID].UnitID
	}
	for _, x := range b.Acts {
		for _, m := range x.Moves {
			switch {
			case main != nil && m.PartID == main.ID:
				a.Move(main.ID, m.Piece, m.ToUnitID)
				for _, p := range b.Slots() {
					if in := board(m.ToUnitID); in != "" && p.ID != main.ID {
						count[[2]string{in, p.Name}]++
					}
				}
			case m.ToUnitID != "" && board(m.ToUnitID) != "":
				count[[2]string{board(m.ToUnitID), b.Know.PartByID[m.PartID].Name}]++
			}
		}
		if x.Kind == ledger.Reseat {
			for _, p := range x.Pieces {
				count[[2]string{x.BoardUnitID, b.Know.PartByID[p.PartID].Name}]++
			}
		}
	}
	return count
}
