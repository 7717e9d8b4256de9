package app

import (
	"context"
	"encoding/json"
	"slices"
	"time"

	"waryowl/internal/calibration"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// CalibrateFacts ask the maker's service to match what sits in slots now to the board. Clock is what the phone shows, now by
// default; Understood that it cannot be undone.
type CalibrateFacts struct {
	HousingUnitID string    `json:"housing_unit_id" format:"uuid" doc:"phone in which the pieces sit"`
	PartIDs       []string  `json:"part_ids" nullable:"false" minItems:"1" maxItems:"40"`
	Clock         time.Time `json:"clock,omitzero"`
	Minutes       float64   `json:"minutes,omitempty" minimum:"0" maximum:"1440"`
	Understood    bool      `json:"understood,omitempty"`
}

// Calibrate asks the service, and records its answer as an act. Without an answer nothing is recorded and the error says why.
func (s *Service) Calibrate(ctx context.Context, c Command, study, id string, f CalibrateFacts) (store.SwapAct, error) {
	var none store.SwapAct
	// A repeat must not ask the service again.
	if rows, err := store.List[store.Command](s.DB.WithContext(ctx), "id", "id = ?", c.Key); err != nil {
		return none, err
	} else if len(rows) == 1 && rows[0].BodyHash == c.Hash && rows[0].AccountID == c.Actor.ID {
		return none, json.Unmarshal([]byte(rows[0].Answer), &none)
	}
	b, err := loadStudy(s.DB.WithContext(ctx), study)
	if err != nil {
		return none, err
	}
	if err := belongs("housing_unit_id", f.HousingUnitID, b.unit, "a unit of this study"); err != nil {
		return none, err
	}
	a := b.arrange()
	board := b.boardIn(a, f.HousingUnitID)
	if board == "" {
		return none, fault.New("housing_unit_id", b.sticker(f.HousingUnitID), "a phone with a board in it")
	}
	st := b.study("")
	h := st.Walk()
	req := calibration.Request{Board: board, Build: first(h.Builds[board], b.unit[board].Build), Clock: f.Clock, Pieces: map[string]string{}, Mates: map[string]string{}}
	if req.Clock.IsZero() {
		req.Clock = s.Now()
	}
	act := store.SwapActFacts{Kind: ledger.Calibrate, BoardUnitID: board, Minutes: f.Minutes}
	for i, part := range f.PartIDs {
		p, here := a.at[f.HousingUnitID][part]
		if !here || !slices.ContainsFunc(b.slots(), func(q store.Part) bool { return q.ID == part }) {
			return none, fault.New(field("part_ids[%d]", i), b.know.part[part].Name, "a slot of this phone with a piece in it")
		}
		act.Pieces = append(act.Pieces, p)
		piece := b.piece(p)
		req.Pieces[piece.Slot] = piece.ID()
		if mate := b.know.partNamed(b.know.part[part].Mate); mate != nil {
			if m, here := a.at[f.HousingUnitID][mate.ID]; here && m.Origin == "unit" {
				req.Mates[piece.Slot] = m.UnitID + "-"
			}
		}
	}
	if !f.Understood {
		lost := b.unlearnable(ledger.Calibrate, board)
		return none, fault.New("understood", false, "true, once you have read what cannot be undone: "+lost[0])
	}
	answer, err := s.Calibration.Ask(ctx, req)
	if err != nil {
		return none, err
	}
	act.Accepted, act.Reason = answer.Accepted, answer.Reason
	return s.AddSwapAct(ctx, c, study, id, act, true)
}
