package intake

import (
	"context"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// byLook is where a copied fact is known from: each is confirmed or changed as it is met.
const byLook = "inferred by look"

// StartFrom copies parts, places and the plan of an earlier model into one that has none yet, as inferred by look.
// Measures, codes and what a piece is worth are the earlier model's own and stay there.
func StartFrom(ctx context.Context, s *act.Service, c act.Command, id, from string) (store.Model, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.Model, error) {
		k, err := model.Lock(tx, id)
		if err != nil {
			return store.Model{}, err
		}
		old, err := model.Load(tx.DB, from)
		if err != nil {
			return k.Model, fault.New("from", from, "the id of the model to start from")
		}
		switch {
		case from == id:
			return k.Model, fault.New("from", from, "another model")
		case len(k.Parts)+len(k.Steps) > 0:
			return k.Model, fault.New("from", old.Name, "a model to start a record that is empty; this one has "+
				"parts already")
		case len(old.Parts) == 0:
			return k.Model, fault.New("from", old.Name, "a model with parts on record")
		}
		ids := map[string]string{}
		renamed := func(list []string) []string {
			out := []string{}
			for _, x := range list {
				if ids[x] != "" {
					out = append(out, ids[x])
				}
			}
			return out
		}
		for _, p := range old.Parts {
			f := p.PartFacts
			f.Source, f.Measures, f.WorthMinor, f.Currency, f.Supply, f.Shape = byLook, nil, 0, "", "", ""
			f.Label, f.ChipMark, f.ConnectorCode = "", "", ""
			f.MassG, f.CapacityMAh, f.EnergyWh, f.ThicknessMM = 0, 0, 0, 0
			row := store.Part{Row: store.Row{ID: store.NewID()}, ModelID: id, PartFacts: f}
			ids[p.ID] = row.ID
			if err := store.Create(tx, &row); err != nil {
				return k.Model, err
			}
		}
		for _, st := range old.Steps {
			ids[st.ID] = store.NewID()
		}
		for _, st := range old.Steps {
			f := st.StepFacts
			f.PartID, f.Frees = ids[f.PartID], renamed(f.Frees)
			f.Seconds = old.Estimate(st).Seconds
			after, risk := [][]string{}, map[string]float64{}
			for _, alt := range f.After {
				after = append(after, renamed(alt))
			}
			for part, r := range f.Risk {
				risk[ids[part]] = r
			}
			f.After, f.Risk = after, risk
			row := store.PlanStep{Row: store.Row{ID: ids[st.ID]}, ModelID: id, Mark: st.Mark, StepFacts: f}
			if err := store.Create(tx, &row); err != nil {
				return k.Model, err
			}
		}
		m, err := store.Update(tx, id, k.Version, func(m *store.Model) error {
			if m.Predecessor == "" && m.Maker == old.Maker {
				m.Predecessor = old.Name
			}
			return nil
		})
		if err != nil {
			return k.Model, err
		}
		return *m, nil
	})
}
