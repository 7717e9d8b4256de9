package study

import (
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
	others, err := LoadAll(db, studies, Want{Swaps: true})
	if err != nil {
		return nil, err
	}
	type cell struct{ part, check string }
	counts := map[cell]*Learned{}
	order := []*Learned{}
	for _, other := range others {
		for _, build := range other.Builds() {
			r, err := other.Read(build)
			if err != nil {
				continue
			}
			for _, st := range ledger.States(r.In) {
				for _, c := range other.Checks {
					v := r.Grade(st[0], st[1], c.Mark)
					if st[1] != "stranger" || v.Eye == ledger.Shut || v.Mark != ledger.Loses && v.Mark != ledger.Works {
						continue
					}
					at := cell{strings.ToLower(st[0]), c.Mark}
					if counts[at] == nil {
						counts[at] = &Learned{Part: st[0], Check: c.Mark}
						order = append(order, counts[at])
					}
					counts[at].N++
					if v.Mark == ledger.Loses {
						counts[at].K++
					}
				}
			}
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
