// Package fit is the room of what stands in for what: tests across models, charts per slot, and the lines to stock.
package fit

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/fit"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// AddLot records a lot of copies for a model.
func AddLot(ctx context.Context, s *act.Service, c act.Command, id, modelID string, f store.LotFacts) (store.Lot,
	error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.Lot, error) {
		row := store.Lot{Row: store.Row{ID: id}, ModelID: modelID, LotFacts: f}
		if _, err := store.Get[store.Model](tx.DB, modelID); err != nil {
			return row, fault.New("model_id", modelID, "the id of a model")
		}
		return row, firstError(checkLot(f), func() error { return store.Create(tx, &row) })
	})
}

// ChangeLot replaces the facts of a lot.
func ChangeLot(ctx context.Context, s *act.Service, c act.Command, id string, saw int, f store.LotFacts) (store.Lot,
	error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, row *store.Lot) error {
		row.LotFacts = f
		return checkLot(f)
	})
}

// DeleteLot takes a lot away, RestoreLot brings it back.
func DeleteLot(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.Lot, error) {
	return act.Delete[store.Lot](ctx, s, c, id, saw, nil)
}

// RestoreLot brings a lot back.
func RestoreLot(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.Lot, error) {
	return act.Restore[store.Lot](ctx, s, c, id, saw, nil)
}

func firstError(err error, then func() error) error {
	if err != nil {
		return err
	}
	return then()
}

func checkKind(kind string) error {
	if _, known := trade.KindByID(kind); !known {
		return fault.New("kind", kind, "a kind of part of the catalogue")
	}
	return nil
}

func checkLot(f store.LotFacts) error {
	if strings.TrimSpace(f.Name) == "" {
		return fault.New("name", f.Name, "the name of the lot, as on the delivery")
	}
	return checkKind(f.Kind)
}

// AddTest records a piece of another model, of the same one as a control, or of a lot of copies fitted in a phone.
func AddTest(ctx context.Context, s *act.Service, c act.Command, id, host string,
	f store.FitTestFacts) (store.FitTest, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.FitTest, error) {
		row := store.FitTest{Row: store.Row{ID: id}, ModelID: host, FitTestFacts: f}
		if err := checkTest(tx, host, &row.FitTestFacts); err != nil {
			return row, err
		}
		if f.DonorModel != "" && f.DonorModel != host { // what rests on the donor is new as well
			if err := store.Touch(tx.DB, f.DonorModel); err != nil {
				return row, err
			}
		}
		return row, store.Create(tx, &row)
	})
}

// ChangeTest replaces the facts of a test.
func ChangeTest(ctx context.Context, s *act.Service, c act.Command, id string, saw int,
	f store.FitTestFacts) (store.FitTest,
	error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, row *store.FitTest) error {
		row.FitTestFacts = f
		return checkTest(tx, row.ModelID, &row.FitTestFacts)
	})
}

// DeleteTest takes a test back.
func DeleteTest(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.FitTest, error) {
	return act.Delete[store.FitTest](ctx, s, c, id, saw, nil)
}

// RestoreTest brings it back.
func RestoreTest(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.FitTest, error) {
	return act.Restore[store.FitTest](ctx, s, c, id, saw, nil)
}

// Apart says that two widths are shown to differ, in words; "" when they are not.
func Apart(w store.Width) string { return fit.WidthsApart(w.PieceMM, w.HostMM, w.UMM) }

func checkTest(tx *store.Tx, host string, f *store.FitTestFacts) error {
	if err := checkKind(f.Kind); err != nil {
		return err
	}
	h, err := store.Get[store.Model](tx.DB, host)
	if err != nil {
		return fault.New("model_id", host, "the id of the host's model")
	}
	if (f.DonorModel == "") == (f.LotID == "") {
		return fault.New("donor_model_id", f.DonorModel, "either the model that the piece was built for, or a lot of copies")
	}
	if f.DonorModel != "" {
		if _, err := store.Get[store.Model](tx.DB, f.DonorModel); err != nil {
			return fault.New("donor_model_id", f.DonorModel, "the id of a model")
		}
	}
	if f.LotID != "" {
		l, err := store.Get[store.Lot](tx.DB, f.LotID)
		if err != nil || l.Kind != f.Kind {
			return fault.New("lot_id", f.LotID, "a lot of copies of this kind")
		}
	}
	if f.HostUnit != "" {
		var n int64
		if err := tx.DB.Raw("SELECT COUNT(*) FROM units u JOIN studies s ON s.id = u.study_id WHERE u.id = ? AND s.model_id = ? "+
			"AND u.deleted_at IS NULL", f.HostUnit, h.ID).Scan(&n).Error; err != nil {
			return err
		}
		if n == 0 {
			return fault.New("host_unit_id", f.HostUnit, "a phone of a study of the "+h.Name)
		}
	}
	if len(f.Lost) > 0 && f.Outcome != "lost" {
		return fault.New("lost", strings.Join(f.Lost, ", "), "checks only where functions were lost")
	}
	for i, c := range f.Lost {
		if _, known := trade.CheckOf(c); !known {
			return fault.New(fmt.Sprintf("lost[%d]", i), c, "the mark of a check of the catalogue")
		}
	}
	if apart := Apart(f.Width); apart != "" && slices.Index(fit.Ladder, f.Outcome) > 1 &&
		strings.TrimSpace(f.Reason) == "" {
		return fault.New("reason", "nothing", "why it was mated all the same; "+apart)
	}
	return nil
}

// seen is a test as the engine reads it, with where it comes from.
type seen struct {
	fit.Test
	row   *store.FitTest
	trial *store.Trial
	study string
	piece string
}

// testsOf gathers the tests of a kind in some models: those recorded as such, and the trials of the swap lab in which
// one foreign piece or copy of this kind was the only thing that was not the board's own.
func testsOf(db *gorm.DB, kind string, models map[string]store.Model, parts map[string]string,
	lots []store.Lot) ([]seen, error) {
	ids := []string{}
	byName := map[string]string{}
	for id, m := range models {
		ids = append(ids, id)
		byName[strings.ToLower(m.Name)] = id
	}
	slices.Sort(ids)
	rows, err := store.List[store.FitTest](db.Limit(mostTests), "id DESC", "kind = ? AND model_id IN ?", kind, ids)
	if err != nil {
		return nil, err
	}
	slices.Reverse(rows)
	list := []seen{}
	for i, r := range rows {
		donor := r.DonorModel
		if r.LotID != "" {
			donor = r.LotID
		}
		n := max(1, r.Fittings)
		list = append(list, seen{Test: fit.Test{ID: r.ID, Donor: donor, Host: r.ModelID, Outcome: r.Outcome, Build: r.Build,
			Conditions: r.Conditions, Fittings: &n, Lost: r.Lost, Damaged: r.Damaged}, row: &rows[i], piece: r.Piece})
	}
	var trials []store.Trial
	var of []struct{ ID, ModelID, Title string }
	err = db.Raw("SELECT id, model_id, title FROM studies WHERE model_id IN ? AND deleted_at IS NULL", ids).Scan(&of).Error
	if err != nil {
		return nil, err
	}
	study := map[string]int{}
	var studies []string
	for i, s := range of {
		study[s.ID] = i
		studies = append(studies, s.ID)
	}
	if trials, err = store.List[store.Trial](db.Limit(mostTests), "id",
		"study_id IN ? AND (pieces LIKE ? OR pieces LIKE ?)", studies, `%"origin":"foreign"%`,
		`%"origin":"copy"%`); err != nil {
		return nil, err
	}
	var lostBefore []store.Baseline
	if len(trials) > 0 {
		var boards []string
		for _, t := range trials {
			boards = append(boards, t.BoardUnitID)
		}
		if lostBefore, err = store.List[store.Baseline](db, "id", "unit_id IN ? AND result IN ('lost', 'weak')",
			boards); err != nil {
			return nil, err
		}
	}
	for i, t := range trials {
		if len(t.Pieces) != 1 || parts[t.Pieces[0].PartID] != kind {
			continue
		}
		p := t.Pieces[0]
		x := seen{Test: fit.Test{ID: t.ID, Host: of[study[t.StudyID]].ModelID, Build: t.Build}, trial: &trials[i],
			study: of[study[t.StudyID]].Title, piece: p.Lot}
		switch p.Origin {
		case store.Foreign:
			x.Donor = byName[strings.ToLower(strings.TrimSpace(p.Model))]
		default:
			name, _, _ := strings.Cut(p.Lot, "#")
			if k := slices.IndexFunc(lots, func(l store.Lot) bool { return strings.EqualFold(l.Name, name) }); k >= 0 {
				x.Donor = lots[k].ID
			}
		}
		if x.Donor != "" {
			x.read(t, lostBefore)
			list = append(list, x)
		}
	}
	return list, nil
}

// read takes the outcome and the conditions of a test out of a trial of the swap lab.
func (x *seen) read(t store.Trial, before []store.Baseline) {
	last := map[string]string{}
	for c, r := range t.Results {
		last[c] = r
	}
	settled := false
	for _, l := range t.Later {
		for c, r := range l.Results {
			last[c] = r
		}
		settled = settled || l.Minutes >= 5 || len(l.After) > 0
	}
	own := func(check string) bool { // lost before anything was exchanged
		return slices.ContainsFunc(before, func(b store.Baseline) bool {
			return b.UnitID == t.BoardUnitID && b.CheckMark == check
		})
	}
	passed := 0
	for c, r := range last {
		switch {
		case (r == "lost" || r == "weak") && !own(c):
			x.Lost = append(x.Lost, c)
		case r == "pass":
			passed++
		}
	}
	slices.Sort(x.Lost)
	x.Outcome = "full"
	switch {
	case last["boot"] == "lost" || last["boot"] == "dark":
		x.Outcome, x.Lost = "dark", nil
	case len(x.Lost) > 0:
		x.Outcome = "lost"
	case len(t.Notices) > 0:
		x.Outcome = "notice"
	}
	for said, c := range map[string]string{"charger": "charger", "some minutes waited": "waited",
		"reseated twice": "reseated", "known-good part": "known-good"} {
		if slices.Contains(t.DeadGate, said) {
			x.Conditions = append(x.Conditions, c)
		}
	}
	if settled && !slices.Contains(x.Conditions, "waited") {
		x.Conditions = append(x.Conditions, "waited")
	}
	if passed+len(x.Lost) >= len(trade.Checks)*4/5 {
		x.Conditions = append(x.Conditions, "deep")
	}
	slices.Sort(x.Conditions)
}
