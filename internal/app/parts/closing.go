package parts

import (
	"slices"
	"strings"

	"waryowl/internal/app/desk"
	"waryowl/internal/app/model"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"

	"gorm.io/gorm"
)

// told works out what a closed job says for the odds: the steps of the way that it took, and the one that hurt a part.
func told(db *gorm.DB, w *store.Work) error {
	w.Steps, w.HurtStep = nil, ""
	switch {
	case w.Went == "" && w.HurtPart != "":
		return fault.New("went", w.Went, "incident, where a part was damaged")
	case w.Went == "":
		return nil
	case w.Status != "closed":
		return fault.New("went", w.Went, "nothing until the job is closed")
	case (w.Went == "incident") != (w.HurtPart != ""):
		return fault.New("hurt_part", w.HurtPart, "the part that was damaged, after an incident and only then")
	}
	k, err := model.Load(db, w.ModelID)
	if err != nil {
		return err
	}
	kind, _ := kindOf(w.Job)
	p := k.OfKind(kind)
	if p == nil {
		return nothing(w)
	}
	way := k.WayTo(p.ID)
	if way == nil || way.Blocked != "" {
		return nothing(w)
	}
	most, at := 0.0, []string{}
	for _, s := range way.Steps {
		w.Steps = append(w.Steps, s.ID)
		for part, odds := range k.StepByID[s.ID].Risk {
			if name := k.PartByID[part].Name; name != "" && !slices.Contains(at, name) {
				at = append(at, name)
			}
			if part == w.HurtPart && odds >= most {
				most, w.HurtStep = odds, s.ID
			}
		}
	}
	if w.HurtPart != "" && w.HurtStep == "" {
		return fault.New("hurt_part", w.HurtPart, "a part that the plan calls at risk on this way: "+
			strings.Join(at, ", "))
	}
	return nil
}

// nothing is for a job whose way is not on record: an incident cannot be counted there.
func nothing(w *store.Work) error {
	if w.HurtPart != "" {
		return fault.New("hurt_part", w.HurtPart, "nothing while there is no way on record for this job")
	}
	return nil
}

// Settle takes the piece of a job off its shelf, or lays it back, after somebody else closed the job or opened it again.
func Settle(tx *store.Tx, w *store.Work) error { return moves(tx, w) }

// moves takes a piece off the shelf for a job that was closed with a new part in, and puts it back where the job is
// opened again.
func moves(tx *store.Tx, w *store.Work) error {
	fitted := w.Status == "closed" && (w.Went == "fine" || w.Went == "incident")
	switch {
	case fitted == (w.ShelfID != ""):
		return nil
	case !fitted:
		err := laidBack(tx, w, 1)
		w.ShelfID = ""
		return err
	}
	taken, err := desk.TakePiece(tx, w.ModelID, desk.Needs(w.Job))
	w.ShelfID = taken.ID
	return err
}

// laidBack puts the piece of a job that is deleted back on its shelf, and takes it again where the job is brought
// back; a shelf that was cleared meanwhile stays so.
func laidBack(tx *store.Tx, row any, pieces int) error {
	if w, is := row.(*store.Work); is {
		return desk.LayBack(tx, w.ShelfID, pieces)
	}
	return nil
}
