package swap

import (
	"cmp"
	"slices"
	"strings"

	"waryowl/internal/app/study"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/round"
)

// Retest is a configuration whose verdicts were seen on an older build only.
type Retest struct {
	Trial   string   `json:"trial"`
	Title   string   `json:"title"`
	Build   string   `json:"build"`
	Cells   int      `json:"cells" doc:"verdicts that a repeat would bring up to date"`
	Minutes float64  `json:"minutes"`
	PartIDs []string `json:"part_ids" nullable:"false"`
	BoardID string   `json:"board_unit_id"`
}

// retests lists the trials of older builds whose verdicts were not seen on the newest one, most verdicts a minute
// first.
func retests(b *study.Record, build string) []Retest {
	builds := b.Builds()
	list := []Retest{}
	if len(builds) < 2 || build != builds[len(builds)-1] {
		return list
	}
	now, err := b.Read(build)
	if err != nil {
		return list
	}
	seen := map[string]bool{}
	for _, old := range builds[:len(builds)-1] {
		r, err := b.Read(old)
		if err != nil {
			continue
		}
		for i, t := range b.Trials {
			d := r.History.Trials[i]
			if d.Build != old || len(d.States) == 0 {
				continue
			}
			x := Retest{Trial: study.TrialMark(t), Build: old, Minutes: t.Minutes, PartIDs: []string{},
				BoardID: t.BoardUnitID}
			for slot, st := range d.States {
				if p := b.Know.PartNamed(slot); p != nil {
					x.PartIDs = append(x.PartIDs, p.ID)
				}
				for _, c := range r.Study.Checks {
					if d.Results[c] == "" {
						continue
					}
					if v := r.Grade(slot, st, c); (v.Mark == ledger.Loses || v.Mark == ledger.Works) &&
						now.Grade(slot, st, c).Mark == ledger.Untested {
						x.Cells++
					}
				}
			}
			slices.Sort(x.PartIDs)
			if key := x.BoardID + strings.Join(x.PartIDs, " "); x.Cells > 0 && !seen[key] {
				seen[key] = true
				x.Title = b.Named(t.BoardUnitID, t.HousingUnitID, d.States, len(b.Slots()))
				if x.Minutes == 0 {
					x.Minutes = round.Assumed
				}
				list = append(list, x)
			}
		}
	}
	slices.SortStableFunc(list, func(a, c Retest) int {
		return cmp.Compare(float64(c.Cells)/c.Minutes,
			float64(a.Cells)/a.Minutes)
	})
	return list[:min(5, len(list))]
}
