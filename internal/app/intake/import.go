package intake

import (
	"cmp"
	"context"
	"fmt"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/planfile"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// Imported says what an import added.
type Imported struct {
	Parts int `json:"parts"`
	Steps int `json:"steps"`
}

// ImportPlan adds the parts and steps of a plan file to a model that has no plan yet: all or nothing.
func ImportPlan(ctx context.Context, s *act.Service, c act.Command, modelID string, file []byte) (Imported, error) {
	plan, err := planfile.Read(file)
	if err != nil {
		return Imported{}, err
	}
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (Imported, error) {
		var n Imported
		k, err := model.Lock(tx, modelID)
		if err != nil {
			return n, err
		}
		if len(k.Steps) > 0 {
			return n, fault.New("plan", fmt.Sprintf("%d steps on record", len(k.Steps)), "a model without a plan")
		}
		part := func(name, family, kind string, aliases []string) (string, error) {
			if p := k.PartNamed(name); p != nil {
				return p.ID, nil
			}
			p := store.Part{ModelID: modelID, PartFacts: store.PartFacts{Name: name, Family: family, Kind: kind,
				Aliases: aliases}}
			if err := store.Create(tx, &p); err != nil {
				return "", err
			}
			n.Parts++
			k.Parts = append(k.Parts, p)
			k.PartByID[p.ID] = p
			return p.ID, nil
		}
		for _, p := range plan.Parts {
			if _, err := part(p.Name, p.Family, p.Kind, p.Aliases); err != nil {
				return n, err
			}
		}
		for _, name := range plan.Names() {
			if _, err := part(name, familyOf(name), "", nil); err != nil {
				return n, err
			}
		}
		ids := map[string]string{}
		for _, st := range plan.Steps {
			ids[st.Mark] = store.NewID()
		}
		for _, st := range plan.Steps {
			f := store.StepFacts{Verb: st.Verb, What: st.What, Tool: st.Tool, Side: st.Side, Joint: st.Joint,
				Drive: st.Drive, Count: st.Count, DriveSize: st.DriveSize, DiameterMM: st.DiameterMM,
				LengthMM: st.LengthMM, Seconds: st.Seconds, WaitSeconds: st.WaitSeconds, Method: st.Method,
				Consumable: st.Consumable, Risk: map[string]float64{}}
			for _, alt := range st.After {
				var after []string
				for _, mark := range alt {
					after = append(after, ids[mark])
				}
				f.After = append(f.After, after)
			}
			for _, name := range st.Frees {
				f.Frees = append(f.Frees, k.PartNamed(name).ID)
			}
			for name, r := range st.Risk {
				f.Risk[k.PartNamed(name).ID] = r
			}
			row := store.PlanStep{Row: store.Row{ID: ids[st.Mark]}, ModelID: modelID, Mark: st.Mark, StepFacts: f}
			if err := store.Create(tx, &row); err != nil {
				return n, err
			}
			n.Steps++
		}
		k, err = model.Load(tx.DB, modelID)
		if err != nil {
			return n, err
		}
		return n, k.CheckPlan()
	})
}

// familyOf is the family that a name suggests, the frame's where it suggests none.
func familyOf(name string) string {
	kind, _ := trade.KindOf(name)
	k, _ := trade.KindByID(kind)
	return cmp.Or(k.Family, "FR")
}
