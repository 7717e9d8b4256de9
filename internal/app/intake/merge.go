package intake

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// MergeParts makes two records of one part one: names become aliases, measures add up, and everything that spoke of the
// one speaks of the other.
func MergeParts(ctx context.Context, s *act.Service, c act.Command, id, fromID, intoID string) (store.Merge, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.Merge, error) {
		m := store.Merge{Row: store.Row{ID: id}, Kind: "part", FromID: fromID, IntoID: intoID}
		from, err := store.Get[store.Part](tx.DB, fromID)
		if err != nil {
			return m, err
		}
		k, err := model.Lock(tx, from.ModelID)
		if err != nil {
			return m, err
		}
		if _, known := k.PartByID[intoID]; !known || fromID == intoID {
			return m, fault.New("into", intoID, "another part of the same model")
		}
		m.ModelID = from.ModelID
		if err := mergeParts(tx, &m, *from, intoID); err != nil {
			return m, err
		}
		return m, store.Create(tx, &m)
	})
}

func mergeParts(tx *store.Tx, m *store.Merge, from store.Part, into string) error {
	swap := func(id *string) bool {
		if *id != from.ID {
			return false
		}
		*id = into
		return true
	}
	pieces := func(list []store.Piece) (changed bool) {
		for i := range list {
			changed = swap(&list[i].PartID) || changed
		}
		return changed
	}
	ids := func(list []string) (changed bool) {
		for i := range list {
			changed = swap(&list[i]) || changed
		}
		return changed
	}
	studies := "study_id IN (SELECT id FROM studies WHERE model_id = ? AND deleted_at IS NULL)"
	var clash error
	steps := []error{
		store.Rewrite(tx, m, func(st *store.PlanStep) bool {
			changed := swap(&st.PartID)
			st.Frees = slices.Clone(st.Frees)
			changed = ids(st.Frees) || changed
			if r, at := st.Risk[from.ID]; at {
				risk := map[string]float64{into: max(r, st.Risk[into])}
				for p, x := range st.Risk {
					if p != from.ID && p != into {
						risk[p] = x
					}
				}
				st.Risk, changed = risk, true
			}
			return changed
		}, "model_id = ?", from.ModelID),
		store.Rewrite(tx, m, func(t *store.Trial) bool {
			has := func(id string) bool {
				return slices.ContainsFunc(t.Pieces, func(p store.Piece) bool { return p.PartID == id })
			}
			if has(from.ID) && has(into) {
				clash = fault.New("into", fmt.Sprintf("t%d", t.Seq), "two records that were never in one trial together")
				return false
			}
			t.Pieces, t.Dangling = slices.Clone(t.Pieces), slices.Clone(t.Dangling)
			return either(pieces(t.Pieces), ids(t.Dangling))
		}, studies, from.ModelID),
		store.Rewrite(tx, m, func(a *store.SwapAct) bool {
			a.Pieces, a.Moves = slices.Clone(a.Pieces), slices.Clone(a.Moves)
			changed := pieces(a.Pieces)
			for i := range a.Moves {
				changed = swap(&a.Moves[i].PartID) || changed
			}
			return changed
		}, studies, from.ModelID),
		store.Rewrite(tx, m, func(e *store.LogEntry) bool { return swap(&e.PartID) }, studies+" AND part_id = ?",
			from.ModelID,
			from.ID),
		store.Rewrite(tx, m, func(p *store.Photo) bool { return swap(&p.PartID) }, studies+" AND part_id = ?", from.ModelID,
			from.ID),
		store.Rewrite(tx, m, func(o *store.Outcome) bool { return either(swap(&o.PartID), swap(&o.HurtPart)) },
			"model_id = ? AND (part_id = ? OR hurt_part = ?)", from.ModelID, from.ID, from.ID),
		store.Rewrite(tx, m, func(st *store.Study) (changed bool) {
			st.Hypotheses = slices.Clone(st.Hypotheses)
			for i := range st.Hypotheses {
				changed = swap(&st.Hypotheses[i].PartID) || changed
			}
			return changed
		}, "model_id = ?", from.ModelID),
		store.Rewrite(tx, m, func(p *store.PartPair) bool { return either(swap(&p.PartID), swap(&p.OtherPartID)) },
			"part_id = ? OR other_part_id = ?", from.ID, from.ID),
		store.Rewrite(tx, m, func(p *store.Part) bool { // mates and neighbours are known by name
			if p.ID == from.ID {
				return false
			}
			changed := false
			for _, f := range []*string{&p.Mate, &p.RidesOn, &p.Inside} {
				if *f != "" && strings.EqualFold(*f, from.Name) {
					*f, changed = nameOf(tx, into), true
				}
			}
			if p.ID == into {
				absorb(&p.PartFacts, from.PartFacts)
				changed = true
			}
			return changed
		}, "model_id = ? OR id = ?", from.ModelID, into),
		store.Drop[store.Part](tx, m, from.ID, from.Version),
	}
	for _, err := range append([]error{clash}, steps...) {
		if err != nil {
			return err
		}
	}
	return nil
}

// either says that one of two changes was made; both are tried.
func either(a, b bool) bool { return a || b }

func nameOf(tx *store.Tx, part string) string {
	var name string
	tx.DB.Raw("SELECT name FROM parts WHERE id = ?", part).Scan(&name)
	return name
}

// absorb takes the names, the measures and what is missing from another record of the same part.
func absorb(into *store.PartFacts, from store.PartFacts) {
	into.Aliases = slices.Clone(into.Aliases)
	for _, n := range append([]string{from.Name}, from.Aliases...) {
		if !strings.EqualFold(n, into.Name) && !slices.ContainsFunc(into.Aliases,
			func(a string) bool { return strings.EqualFold(a, n) }) && len(into.Aliases) < 20 {
			into.Aliases = append(into.Aliases, n)
		}
	}
	into.Measures = slices.Clone(into.Measures)
	for _, x := range from.Measures {
		k := slices.IndexFunc(into.Measures, func(o store.Measured) bool { return o.Kind == x.Kind && o.Unit == x.Unit })
		if k < 0 {
			into.Measures = append(into.Measures, x)
			continue
		}
		have := &into.Measures[k]
		have.Readings = append(slices.Clone(have.Readings), x.Readings...)
		have.Readings = have.Readings[:min(30, len(have.Readings))]
		have.Resolution = max(have.Resolution, x.Resolution)
	}
	for _, f := range []struct{ to, from *string }{{&into.Kind, &from.Kind}, {&into.Label, &from.Label},
		{&into.ChipMark, &from.ChipMark}, {&into.ConnectorCode, &from.ConnectorCode}, {&into.Mount, &from.Mount},
		{&into.Mate, &from.Mate}, {&into.CoveredBy, &from.CoveredBy}} {
		if *f.to == "" {
			*f.to = *f.from
		}
	}
	for _, f := range []struct{ to, from *float64 }{{&into.MassG, &from.MassG}, {&into.ThicknessMM, &from.ThicknessMM},
		{&into.CapacityMAh, &from.CapacityMAh}, {&into.EnergyWh, &from.EnergyWh}} {
		if *f.to == 0 {
			*f.to = *f.from
		}
	}
	if into.WMM == 0 && from.WMM > 0 {
		into.XMM, into.YMM, into.WMM, into.HMM, into.Pane = from.XMM, from.YMM, from.WMM, from.HMM, from.Pane
	}
	into.Slot = into.Slot || from.Slot
}

// MergeModels makes two records of one model one: its name becomes an alias; parts of the same name become one;
// studies, outcomes, lots and tests go over. Two plans cannot become one: only one of the two may have one.
func MergeModels(ctx context.Context, s *act.Service, c act.Command, id, fromID, intoID string) (store.Merge, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.Merge, error) {
		m := store.Merge{Row: store.Row{ID: id}, ModelID: intoID, Kind: "model", FromID: fromID, IntoID: intoID}
		if fromID == intoID {
			return m, fault.New("into", intoID, "another model")
		}
		first, second := min(fromID, intoID), max(fromID, intoID) // one order for all: no deadlock
		if _, err := store.Lock[store.Model](tx, first); err != nil {
			return m, err
		}
		if _, err := store.Lock[store.Model](tx, second); err != nil {
			return m, err
		}
		from, err := model.Load(tx.DB, fromID)
		if err != nil {
			return m, err
		}
		into, err := model.Load(tx.DB, intoID)
		if err != nil {
			return m, fault.New("into", intoID, "the id of a model")
		}
		if len(from.Steps) > 0 && len(into.Steps) > 0 {
			return m, fault.New("into", into.Name, "two records of which one has no plan yet: two plans do not become one")
		}
		for _, p := range from.Parts { // parts of one name are one part
			if twin := into.PartNamed(p.Name); twin != nil {
				if err := mergeParts(tx, &m, p, twin.ID); err != nil {
					return m, err
				}
			}
		}
		to := func(id *string) bool {
			if *id != fromID {
				return false
			}
			*id = intoID
			return true
		}
		for _, err := range []error{
			store.Rewrite(tx, &m, func(p *store.Part) bool { return to(&p.ModelID) }, "model_id = ?", fromID),
			store.Rewrite(tx, &m, func(p *store.PlanStep) bool { return to(&p.ModelID) }, "model_id = ?", fromID),
			store.Rewrite(tx, &m, func(p *store.Study) bool { return to(&p.ModelID) }, "model_id = ?", fromID),
			store.Rewrite(tx, &m, func(p *store.Outcome) bool { return to(&p.ModelID) }, "model_id = ?", fromID),
			store.Rewrite(tx, &m, func(p *store.Lot) bool { return to(&p.ModelID) }, "model_id = ?", fromID),
			store.Rewrite(tx, &m, func(p *store.FitTest) bool {
				return either(to(&p.ModelID), to(&p.DonorModel))
			}, "model_id = ? OR donor_model_id = ?", fromID, fromID),
			store.Rewrite(tx, &m, func(p *store.PartPair) bool {
				return either(to(&p.ModelID), to(&p.OtherModelID))
			}, "model_id = ? OR other_model_id = ?", fromID, fromID),
			store.Rewrite(tx, &m, func(x *store.Model) bool {
				if x.ID == intoID {
					x.Aliases = slices.Clone(x.Aliases)
					for _, n := range append([]string{from.Name}, from.Aliases...) {
						if !strings.EqualFold(n, x.Name) && !slices.Contains(x.Aliases, n) && len(x.Aliases) < 20 {
							x.Aliases = append(x.Aliases, n)
						}
					}
					if x.Predecessor == "" && !strings.EqualFold(from.Predecessor, x.Name) {
						x.Predecessor = from.Predecessor
					}
					return true
				}
				if strings.EqualFold(strings.TrimSpace(x.Predecessor), from.Name) && x.Maker == from.Maker {
					x.Predecessor = into.Name
					return true
				}
				return false
			}, "id = ? OR predecessor = ?", intoID, from.Name),
		} {
			if err != nil {
				return m, err
			}
		}
		// its own row was touched by the moves above; it goes as it is now
		gone, err := store.Get[store.Model](tx.DB, fromID)
		if err != nil {
			return m, err
		}
		if err := store.Drop[store.Model](tx, &m, fromID, gone.Version); err != nil {
			return m, err
		}
		return m, store.Create(tx, &m)
	})
}

// UndoMerge brings everything back as it was, unless somebody changed it since.
func UndoMerge(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.Merge, error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, m *store.Merge) error {
		if m.Undone {
			return fault.New("id", id, "a merge that was not undone yet")
		}
		m.Undone = true
		for _, err := range []error{store.Revert[store.Model](tx, m), store.Revert[store.PartPair](tx, m),
			store.Revert[store.FitTest](tx, m), store.Revert[store.Lot](tx, m), store.Revert[store.Outcome](tx, m),
			store.Revert[store.Study](tx, m), store.Revert[store.PlanStep](tx, m), store.Revert[store.Part](tx, m),
			store.Revert[store.Photo](tx, m), store.Revert[store.LogEntry](tx, m),
			store.Revert[store.SwapAct](tx, m), store.Revert[store.Trial](tx, m)} {
			if err != nil {
				return err
			}
		}
		return nil
	})
}
