package swap

import (
	"fmt"
	"slices"
	"time"

	"waryowl/internal/app/study"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// Placing says where in the history of a study something belongs: After the trial or act of this id, before all others
// with "start"; empty: by the time at which it was done, else at the end.
type Placing struct {
	After string `json:"after,omitempty" maxLength:"36" doc:"id of the trial or act that it came after; start: before all; empty: by its time, else now"`
}

// PlacedTrial and PlacedAct are what was recorded, and what it changed when it was placed between earlier ones.
type (
	PlacedTrial struct {
		store.Trial
		Told []string `json:"told" nullable:"false" doc:"what reads otherwise now that it stands there"`
	}
	PlacedAct struct {
		store.SwapAct
		Told []string `json:"told" nullable:"false" doc:"what reads otherwise now that it stands there"`
	}
)

// dated refuses a time that cannot be.
func dated(at *time.Time, now time.Time) error {
	if at != nil && (at.After(now.Add(5*time.Minute)) || at.Year() < 2000) {
		return fault.New("done_at", at.Format(time.RFC3339), "a time from the year 2000 on, and not in the future")
	}
	return nil
}

type moment struct {
	id    string
	place int
	at    time.Time
}

// moments are the trials and acts of a study in their order.
func moments(b *study.Record) []moment {
	var list []moment
	add := func(r store.Row, place int, done *time.Time) {
		m := moment{r.ID, place, r.CreatedAt}
		if done != nil {
			m.at = *done
		}
		list = append(list, m)
	}
	for _, t := range b.Trials {
		add(t.Row, t.Place, t.DoneAt)
	}
	for _, a := range b.Acts {
		add(a.Row, a.Place, a.DoneAt)
	}
	slices.SortFunc(list, func(a, b moment) int { return a.place - b.place })
	return list
}

// in finds the place, and whether something stands behind it already.
func (p Placing) in(b *study.Record, done *time.Time, now time.Time) (place int, back bool, err error) {
	if err := dated(done, now); err != nil {
		return 0, false, err
	}
	list := moments(b)
	k := len(list)
	switch {
	case p.After == "start":
		k = 0
	case p.After != "":
		if k = 1 + slices.IndexFunc(list, func(m moment) bool { return m.id == p.After }); k == 0 {
			return 0, false, fault.New("after", p.After, "the id of a trial or act of this study, or start")
		}
	case done != nil:
		k = 1 + lastIndex(list, func(m moment) bool { return !m.at.After(*done) })
	}
	if k > 0 {
		place = list[k-1].place
	}
	return place + 1, k < len(list), nil
}

func lastIndex(list []moment, is func(moment) bool) int {
	for i := len(list) - 1; i >= 0; i-- {
		if is(list[i]) {
			return i
		}
	}
	return -1
}

// placed carries out work; where it goes back in time, everything after it is derived again and what changed is told.
func placed(tx *store.Tx, b *study.Record, back bool, work func() error) ([]string, error) {
	if !back {
		return []string{}, work()
	}
	before, err := told(b)
	if err != nil {
		return nil, err
	}
	if err := work(); err != nil {
		return nil, err
	}
	again, err := study.Load(tx.DB, b.ID)
	if err != nil {
		return nil, err
	}
	after, err := told(again)
	if err != nil {
		return nil, err
	}
	list, said := []string{}, map[string]string{}
	for _, c := range before {
		said[c.key] = c.says
	}
	for _, c := range after {
		if was, known := said[c.key]; known && was != c.says {
			list = append(list, fmt.Sprintf("%s: %s, was %s", c.key, c.says, was))
		}
	}
	if len(list) > 30 {
		list = append(list[:30], fmt.Sprintf("%d more", len(list)-30))
	}
	return list, nil
}

// claim is something that a study says of a thing named by its key.
type claim struct{ key, says string }

// told are the derived states of all trials, what does not count, and the verdicts on the newest build.
func told(b *study.Record) ([]claim, error) {
	build := ""
	if builds := b.Builds(); len(builds) > 0 {
		build = builds[len(builds)-1]
	}
	r, err := b.Read(build)
	if err != nil {
		return nil, err
	}
	var list []claim
	name := map[string]string{}
	for _, c := range b.SwapChecks() {
		name[c.Mark] = c.Name
	}
	for _, d := range r.History.Trials {
		for _, slot := range r.Study.Slots {
			st := d.States[slot]
			if st == "" {
				st = "own"
			}
			list = append(list, claim{d.ID + ", " + slot, st})
		}
		for _, c := range r.Study.Checks {
			says := "counts"
			if why := d.Skips[c]; why.Why != ledger.Counts {
				says = "does not count (" + why.Text() + ")"
			}
			if d.Results[c] != "" {
				list = append(list, claim{d.ID + ", “" + name[c] + "”", says})
			}
		}
	}
	for _, st := range ledger.States(r.In) {
		for _, c := range r.Study.Checks {
			if v := r.Grade(st[0], st[1], c); v.Mark != ledger.Untested {
				list = append(list, claim{st[0] + " as " + st[1] + ", “" + name[c] + "”", v.Mark})
			}
		}
	}
	return list, nil
}
