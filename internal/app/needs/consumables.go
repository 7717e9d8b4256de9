package needs

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/app/model"
	"waryowl/internal/app/parts"
	"waryowl/internal/store"
)

// consumables are what jobs that were taken use up besides their piece: tabs, adhesive, screws, as far as the shelf and
// what is coming do not cover it.
func consumables(db *gorm.DB, s *act.Service, d *desk.Desk) ([]Need, error) {
	jobs := map[string]map[string][]store.Work{} // model, job
	var ids []string
	for _, w := range d.Work {
		if !desk.Waits(w) {
			continue
		}
		if jobs[w.ModelID] == nil {
			jobs[w.ModelID] = map[string][]store.Work{}
			ids = append(ids, w.ModelID)
		}
		jobs[w.ModelID][w.Job] = append(jobs[w.ModelID][w.Job], w)
	}
	slices.Sort(ids)
	records, err := model.LoadAll(db, ids, false)
	if err != nil {
		return nil, err
	}
	var list []Need
	for _, id := range ids {
		k := records[id]
		if k == nil {
			continue
		}
		uses, refs := map[string]int{}, map[string][]string{}
		for job, taken := range jobs[id] {
			slots, _, err := parts.SlotsOf(k, job)
			if err != nil {
				continue // a job whose part is not on record
			}
			for _, x := range slots {
				if x.From == "consumable" {
					uses[x.ID] += x.Quantity * len(taken)
					for _, w := range taken {
						if w.Ref != "" {
							refs[x.ID] = append(refs[x.ID], w.Ref)
						}
					}
				}
			}
		}
		for _, item := range slices.Sorted(maps.Keys(uses)) {
			here, coming := d.Usable(id, item, s.Now()), 0
			for _, c := range d.Coming(id, item) {
				coming += c.Pieces
			}
			if lack := uses[item] - here - coming; lack > 0 {
				why := fmt.Sprintf("%d for jobs that were taken, %d here", uses[item], here)
				if r := refs[item]; len(r) > 0 && len(r) <= 3 {
					why = fmt.Sprintf("jobs %s, %d here", strings.Join(r, ", "), here)
				}
				if coming > 0 {
					why += fmt.Sprintf(", %d coming", coming)
				}
				list = append(list, Need{ID: "use-" + item + "-" + id, Item: item, Name: desk.Said(item), Quantity: lack,
					From: []string{"jobs"}, Why: why, Jobs: append([]string{}, refs[item]...), OnHand: here, OnOrder: coming,
					Models: []desk.Named{{ID: id, Name: k.Maker + " " + k.Name}}})
			}
		}
	}
	return list, nil
}
