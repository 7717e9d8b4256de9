package swap

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/study"
	"waryowl/internal/calibration"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// CalibrateFacts ask the maker's service to match what sits in slots now to the board. Clock is what the phone shows,
// now by default; Understood that it cannot be undone.
type CalibrateFacts struct {
	HousingUnitID string    `json:"housing_unit_id" format:"uuid" doc:"phone in which the pieces sit"`
	PartIDs       []string  `json:"part_ids" nullable:"false" minItems:"1" maxItems:"40"`
	Clock         time.Time `json:"clock,omitzero"`
	Minutes       float64   `json:"minutes,omitempty" minimum:"0" maximum:"1440"`
	Understood    bool      `json:"understood,omitempty"`
}

// Calibrate asks the service, and records its answer as an act. The question is on record before it is sent: a repeat
// under the same key takes the answer that came, or asks for it again; it never asks for a second calibration.
func Calibrate(ctx context.Context, s *act.Service, client *calibration.Client, c act.Command, studyID, id string,
	f CalibrateFacts) (store.SwapAct, error) {
	var none store.SwapAct
	// A repeat must not ask the service again.
	if rows, err := store.List[store.Command](s.DB.WithContext(ctx), "id", "id = ?", c.Key); err != nil {
		return none, err
	} else if len(rows) == 1 && rows[0].BodyHash == c.Hash && rows[0].AccountID == c.Actor.ID {
		return none, json.Unmarshal([]byte(rows[0].Answer), &none)
	}
	b, err := study.Load(s.DB.WithContext(ctx), studyID)
	if err != nil {
		return none, err
	}
	if err := act.Belongs("housing_unit_id", f.HousingUnitID, b.UnitByID, "a unit of this study"); err != nil {
		return none, err
	}
	a := b.Arrange()
	board := b.BoardIn(a, f.HousingUnitID)
	if board == "" {
		return none, fault.New("housing_unit_id", b.Sticker(f.HousingUnitID), "a phone with a board in it")
	}
	st := b.Ledger("")
	h := st.Walk()
	req := calibration.Request{Board: board, Build: cmp.Or(h.Builds[board], b.UnitByID[board].Build), Clock: f.Clock,
		Pieces: map[string]string{}, Mates: map[string]string{}}
	if req.Clock.IsZero() {
		req.Clock = s.Now()
	}
	done := store.SwapActFacts{Kind: ledger.Calibrate, BoardUnitID: board, Minutes: f.Minutes}
	for i, part := range f.PartIDs {
		p, here := a.At[f.HousingUnitID][part]
		if !here || !slices.ContainsFunc(b.Slots(), func(q store.Part) bool { return q.ID == part }) {
			return none, fault.New(fmt.Sprintf("part_ids[%d]", i), b.Know.PartByID[part].Name,
				"a part of this phone that is fitted")
		}
		done.Pieces = append(done.Pieces, p)
		piece := b.Piece(p)
		req.Pieces[piece.Slot] = piece.ID()
		if mate := b.Know.PartNamed(b.Know.PartByID[part].Mate); mate != nil {
			if m, here := a.At[f.HousingUnitID][mate.ID]; here && m.Origin == "unit" {
				req.Mates[piece.Slot] = m.UnitID + "-"
			}
		}
	}
	if !f.Understood {
		lost := unlearnable(b, ledger.Calibrate, board)
		return none, fault.New("understood", false, "true, once you have read what cannot be undone: "+lost[0])
	}
	if client == nil {
		return none, calibration.ErrNone
	}
	answer, err := act.Outside(ctx, s, c, "calibration", studyID, req, calibration.ErrSlow,
		func(ctx context.Context) (calibration.Answer, error) {
			return client.Ask(ctx, c.Key, req)
		})
	if err != nil {
		return none, err
	}
	done.Accepted, done.Reason = answer.Accepted, answer.Reason
	made, err := AddAct(ctx, s, c, studyID, id, done, true, Placing{})
	return made.SwapAct, err
}
