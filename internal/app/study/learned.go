package study

import (
	"slices"
	"strings"

	"gorm.io/gorm"

	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// Learned is a prior counted in earlier studies of other models: K of N settled verdicts on a part and check were
// losses.
type Learned struct {
	Part  string  `json:"part"`
	Check string  `json:"check"`
	K     int     `json:"k"`
	N     int     `json:"n"`
	Prior float64 `json:"prior"`
}

// mostLearned is from how many of the latest studies is learned.
const mostLearned = 40

// Learn counts the verdicts that other models' studies came to, part by part and check by check, and lets them pull the
// house priors of strangers: (k + K·m)/(n + K) with K = 4.
func (b *Record) Learn(db *gorm.DB) ([]Learned, error) {
	studies, err := store.List[store.Study](db.Limit(mostLearned), "id DESC", "model_id <> ?", b.ModelID)
	if err != nil {
		return nil, err
	}
	var ids []string
	for _, r := range studies {
		ids = append(ids, r.ID)
	}
	told, err := store.Derived(db, "verdicts", ids, func(stale []string) (map[string][]Learned, error) {
		others, err := LoadAll(db, slices.DeleteFunc(slices.Clone(studies),
			func(r store.Study) bool { return !slices.Contains(stale, r.ID) }), Want{Swaps: true, Verdicts: true})
		made := map[string][]Learned{}
		for _, o := range others {
			made[o.ID] = o.verdicts()
		}
		return made, err
	})
	if err != nil {
		return nil, err
	}
	type cell struct{ part, check string }
	counts := map[cell]*Learned{}
	order := []*Learned{}
	for _, id := range ids {
		for _, l := range told[id] {
			at := cell{strings.ToLower(l.Part), l.Check}
			if counts[at] == nil {
				counts[at] = &Learned{Part: l.Part, Check: l.Check}
				order = append(order, counts[at])
			}
			counts[at].N += l.N
			counts[at].K += l.K
		}
	}
	s := b.Ledger("")
	list := []Learned{}
	for _, l := range order {
		if p := b.Know.PartNamed(l.Part); p == nil || !p.Slot {
			continue
		}
		house := s.Guess(ledger.Atom{Kind: ledger.Foreignness, Slots: []string{b.Know.PartNamed(l.Part).Name},
			State: "stranger"}, l.Check)
		l.Prior = ledger.Learned(l.K, l.N, house)
		list = append(list, *l)
	}
	b.Priors = func(a ledger.Atom, check string) (float64, bool) {
		if a.Kind != ledger.Foreignness || a.State != "stranger" {
			return 0, false
		}
		l := counts[cell{strings.ToLower(a.Slots[0]), check}]
		if l == nil || l.Prior == 0 {
			return 0, false
		}
		return l.Prior, true
	}
	return list, nil
}

// verdicts counts what this study came to, part by part and check by check, over all its builds.
func (b *Record) verdicts() []Learned {
	list := []Learned{}
	for _, build := range b.Builds() {
		r, err := b.Read(build)
		if err != nil {
			continue
		}
		for _, st := range ledger.States(r.In) {
			for _, c := range b.Checks {
				v := r.Grade(st[0], st[1], c.Mark)
				if st[1] != "stranger" || v.Eye == ledger.Shut || v.Mark != ledger.Loses && v.Mark != ledger.Works {
					continue
				}
				k := slices.IndexFunc(list, func(l Learned) bool { return l.Part == st[0] && l.Check == c.Mark })
				if k < 0 {
					k = len(list)
					list = append(list, Learned{Part: st[0], Check: c.Mark})
				}
				list[k].N++
				if v.Mark == ledger.Loses {
					list[k].K++
				}
			}
		}
	}
	return list
}
