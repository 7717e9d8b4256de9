package benchday

import (
	"cmp"
	"slices"

	"gorm.io/gorm"

	"waryowl/internal/core/day"
	"waryowl/internal/store"
)

// document is the day as the engine takes it.
func document(w store.Workshop, h hours, rows []store.BenchJob, now int) day.Input {
	in := day.Input{
		Now:     now,
		Close:   h.close - h.open,
		Benches: w.Benches,
		Seed:    1,
		Service: new(enough),
		People:  []day.Person{},
		Jobs:    []day.Job{},
	}
	for _, p := range w.People {
		x := day.Person{ID: p.Name, Skills: p.Skills}
		for _, b := range p.Breaks {
			if from, to, ok := span(b); ok && to > h.open {
				x.Breaks = append(x.Breaks, day.Break{From: max(0, from-h.open), To: to - h.open})
			}
		}
		in.People = append(in.People, x)
	}
	if len(in.People) == 0 {
		in.People = append(in.People, day.Person{ID: "hands"})
	}
	machines := map[string]store.BenchMachine{}
	for _, m := range w.Machines {
		units, change := m.Units, m.TrayChange
		if units > 1 { // only a single machine is told by its tray
			change = 0
		}
		machines[m.Name] = m
		in.Machines = append(
			in.Machines,
			day.Machine{ID: m.Name, Units: &units, WarmUp: m.WarmUp, TrayChange: change},
		)
	}
	skills := map[string]bool{}
	for _, p := range in.People {
		for _, x := range p.Skills {
			skills[x] = true
		}
	}
	for _, r := range rows {
		j := day.Job{ID: r.ID, Release: r.Release}
		if r.Due > 0 {
			due := r.Due
			j.Due = &due
		} else {
			due := in.Close
			j.Due = &due
		}
		if r.Weight > 0 {
			x := r.Weight
			j.Weight = &x
		}
		for _, o := range r.Ops {
			p90 := max(o.P50, o.P90)
			x := day.Op{ID: o.ID, P50: o.P50, P90: &p90, Tray: o.Tray, Started: o.Started, Ended: o.Ended}
			if o.Hands {
				x.Hands = 1
				if skills[o.Skill] {
					x.Skill = o.Skill
				}
				if slices.ContainsFunc(in.People, func(p day.Person) bool { return p.ID == o.Person }) {
					x.Person = o.Person
				}
			}
			x.Tray = ""
			if m, known := machines[o.Machine]; known {
				x.Machine = o.Machine
				if m.TrayChange > 0 && m.Units <= 1 { // a tray fits a model
					x.Tray = cmp.Or(o.Tray, r.ModelID)
				}
			}
			for _, a := range o.After {
				x.After = append(x.After, day.After{Op: a.Op, MinLag: a.Wait, MaxLag: a.Within})
			}
			j.Ops = append(j.Ops, x)
		}
		in.Jobs = append(in.Jobs, j)
	}
	return in
}

// studiesOf are the studies of the phones on a day, by phone.
func studiesOf(db *gorm.DB, rows []store.BenchJob) (map[string]string, error) {
	var ids []string
	for _, r := range rows {
		if r.UnitID != "" {
			ids = append(ids, r.UnitID)
		}
	}
	out := map[string]string{}
	if len(ids) == 0 {
		return out, nil
	}
	units, err := store.List[store.Unit](db, "id", "id IN ?", ids)
	for _, u := range units {
		out[u.ID] = u.StudyID
	}
	return out, err
}
