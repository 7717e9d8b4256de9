package swap

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/app/study"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// TrialView is a trial with its name, board first, and the derived state of every slot that is not own.
type TrialView struct {
	store.Trial
	Mark   string            `json:"mark"`
	Title  string            `json:"title"`
	States map[string]string `json:"states" doc:"id of the part: state"`
	Older  string            `json:"on_build" doc:"build it was made on"`
	By     string            `json:"by,omitempty" doc:"who recorded it"`
	Spoilt string            `json:"spoilt,omitempty" doc:"why it proves nothing at all"`
}

func trialView(b *study.Record, t store.Trial, d ledger.Derived) TrialView {
	v := TrialView{Trial: t, Mark: study.TrialMark(t), States: map[string]string{}, Older: d.Build}
	for slot, st := range d.States {
		if p := b.Know.PartNamed(slot); p != nil {
			v.States[p.ID] = st
		}
	}
	v.Title = b.Named(t.BoardUnitID, t.HousingUnitID, d.States, len(b.Slots()))
	for _, id := range t.Dangling {
		v.Title += ", " + b.Know.PartByID[id].Name + " dangling"
	}
	for _, why := range d.Skips {
		if why.Why == ledger.Spoiled {
			v.Spoilt = why.Text()
		}
	}
	return v
}

// actWords says an act in plain language.
func actWords(b *study.Record, a store.SwapAct) string {
	names := func(list []store.Piece) string {
		var out []string
		for _, p := range list {
			out = append(out, pieceWords(b, p))
		}
		return strings.Join(out, ", ")
	}
	board := b.Sticker(a.BoardUnitID)
	switch a.Kind {
	case "move":
		var out []string
		for _, m := range a.Moves {
			to := "to the parts tray"
			if m.ToUnitID != "" {
				to = "into " + b.Sticker(m.ToUnitID)
			}
			out = append(out, pieceWords(b, m.Piece)+" "+to)
		}
		if len(out) > 4 {
			return fmt.Sprintf("%d pieces moved: %s …", len(out), strings.Join(out[:3], ", "))
		}
		return strings.Join(out, ", ")
	case ledger.Calibrate:
		if a.Accepted {
			return board + " board: calibrated with " + names(a.Pieces) + ", accepted"
		}
		return board + " board: calibration with " + names(a.Pieces) + " refused, " + a.Reason
	case ledger.Update, ledger.Flash:
		return board + " board: " + a.Kind + " to build " + a.Build
	case ledger.Damage:
		text := names(a.Pieces) + " damaged: " + a.What
		switch {
		case slices.Contains(a.Spoils, ledger.Cosmetic):
			text += "; it spoils no check"
		case len(a.Spoils) > 0:
			text += "; it spoils " + strings.Join(a.Spoils, ", ")
		}
		return text
	case ledger.Method:
		return "The way of working was changed: " + cmp.Or(a.What, a.Note, "not said how")
	}
	if len(a.Pieces) > 0 {
		return board + ": " + a.Kind + ", " + names(a.Pieces)
	}
	return board + ": " + a.Kind
}

func pieceWords(b *study.Record, p store.Piece) string {
	name := b.Know.PartByID[p.PartID].Name
	switch p.Origin {
	case ledger.Copy, ledger.Unknown:
		return name + " (" + p.Origin + " " + p.Lot + ")"
	case store.Foreign:
		return p.Model + "'s " + name + " (" + p.Lot + ")"
	}
	return b.Sticker(p.UnitID) + "'s " + name
}
