package swap

import (
	"cmp"
	"slices"

	"gorm.io/gorm"

	"waryowl/internal/app/study"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// misfits adds the pieces of elsewhere that were tried in a phone of this model and did not go in, or whose connector did
// not mate: no trial can be made with them, so that their verdict comes from the tests between models.
func (v *Room) misfits(db *gorm.DB, b *study.Record) error {
	tests, err := store.List[store.FitTest](
		db,
		"id",
		"model_id = ? AND outcome IN ('no-seat', 'no-mate') AND NOT damaged",
		b.ModelID,
	)
	if err != nil || len(tests) == 0 {
		return err
	}
	var models, lots []string
	for _, t := range tests {
		models, lots = append(models, t.DonorModel), append(lots, t.LotID)
	}
	names := map[string]string{}
	donors, err := store.List[store.Model](db, "id", "id IN ?", models)
	if err != nil {
		return err
	}
	for _, m := range donors {
		names[m.ID] = "foreign@" + m.Name
	}
	copies, err := store.List[store.Lot](db, "id", "id IN ?", lots)
	if err != nil {
		return err
	}
	for _, l := range copies {
		names[l.ID] = "copy@" + l.Name
	}
	seen := map[string]int{} // fittings that ended so
	for _, t := range tests {
		p, state := b.Know.OfKind(t.Kind), names[cmp.Or(t.LotID, t.DonorModel)]
		if p == nil || state == "" {
			continue
		}
		at := slices.IndexFunc(v.Rows, func(r SuspectRow) bool { return r.Part == p.Name && r.State == state })
		if at >= 0 && v.Rows[at].Mark != ledger.NoSeat {
			continue // it was fitted in a trial after all: the trials say more
		}
		if at < 0 {
			v.Rows = append(
				v.Rows,
				SuspectRow{PartID: p.ID, Part: p.Name, State: state, Mark: ledger.NoSeat, Others: []BuildVerdicts{}},
			)
			at = len(v.Rows) - 1
		}
		seen[p.Name+"\x00"+state] += max(1, t.Fittings)
		r := &v.Rows[at]
		r.Eye = ledger.Half
		if seen[p.Name+"\x00"+state] > 1 { // seen twice, as any verdict must be
			r.Eye = ledger.Open
		}
		r.Verdicts = []ledger.Verdict{}
		for _, c := range v.Checks {
			r.Verdicts = append(
				r.Verdicts,
				ledger.Verdict{Slot: p.Name, State: state, Check: c.Mark, Mark: ledger.NoSeat, Eye: r.Eye,
					For: []string{}, Against: []string{}, Missing: []ledger.Missing{},
					Note: "from the tests between models: " + map[string]string{"no-seat": "it does not go in",
						"no-mate": "its plug differs"}[t.Outcome]},
			)
		}
	}
	return nil
}
