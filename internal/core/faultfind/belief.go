package faultfind

import (
	"fmt"
	"math/bits"
	"slices"
)

// Cleared says which causes a reading made unlikely.
type Cleared struct {
	Check   string   `json:"check"`
	Reading string   `json:"reading" enum:"works,lost"`
	Causes  []string `json:"causes" nullable:"false"`
}

// belief is what is known after some tries: weights of the causes, those still possible, and what was done.
type belief struct {
	weight   []float64
	left     uint64
	made     uint64 // acts that were done
	open     uint64
	spent    float64
	warnings []string
	cured    bool // the last act was a cure that hit, and no control followed
	passed   bool // the closing control passed
	redo     uint64
}

// software is the component that no lost check clears.
const software = "software"

// observe weighs the causes by what was read.
func (s *sick) observe(in Input) ([]float64, []Cleared, error) {
	w := slices.Clone(s.prior)
	cleared := []Cleared{}
	for _, list := range []struct {
		field, reading string
		checks         []string
	}{{"works", "works", in.Works}, {"lost", "lost", in.Lost}} {
		for i, check := range list.checks {
			needs, known := s.table.Needs[check]
			if !known && check != s.symptom.Check && !slices.Contains(s.symptom.Also, check) {
				return nil, nil, unknownCheck(fmt.Sprintf("%s[%d]", list.field, i), check, s.table.Needs)
			}
			if check == s.symptom.Check || slices.Contains(s.symptom.Also, check) {
				continue
			}
			c := Cleared{check, list.reading, []string{}}
			for k, cause := range s.cause {
				needed := slices.Contains(needs, cause.Component)
				if list.reading == "works" && needed || list.reading == "lost" && !needed && cause.Component != software {
					w[k] *= s.acquit
					c.Causes = append(c.Causes, s.causes[k])
				}
			}
			if len(c.Causes) > 0 {
				cleared = append(cleared, c)
			}
		}
	}
	return w, cleared, nil
}

// against are the causes that a try speaks against.
func (s *sick) against(k int, hit bool) uint64 {
	a := s.acts[k]
	all := uint64(1)<<len(s.causes) - 1
	switch {
	case a.all:
		return 0
	case hit:
		return all &^ a.of
	default:
		return a.of
	}
}

// follow goes through what was tried.
func (s *sick) follow(in Input, w []float64) (*belief, error) {
	b := &belief{weight: slices.Clone(w), left: uint64(1)<<len(s.causes) - 1, open: s.open, warnings: []string{}}
	for k, v := range w {
		if v == 0 {
			b.left &^= 1 << k
		}
	}
	type spoken struct {
		act     int
		against uint64
	}
	var tries []spoken
	before := b.left // the causes before the last act
	say := func(k int, against uint64) {
		tries = append(tries, spoken{k, against})
		before = b.left
		if b.left &^= against; b.left != 0 {
			return
		}
		// No cause is left: every one comes back, at a tenth for each try that spoke against it.
		b.warnings = append(b.warnings, "contradiction: "+s.acts[k].Act.Act)
		best, most := 0, -1.0
		for c := range s.causes {
			b.weight[c] = w[c]
			for _, t := range tries {
				if t.against>>c&1 == 1 {
					b.weight[c] /= 10
				}
			}
			if b.weight[c] > 0 {
				b.left |= 1 << c
			}
			if b.weight[c] > most {
				best, most = c, b.weight[c]
			}
		}
		b.redo = 0
		for _, t := range tries {
			if t.against>>best&1 == 1 {
				b.redo |= 1 << t.act
			}
		}
	}
	last := -1
	for i, t := range in.Tries {
		if t.Act == closing {
			b.spent += s.control * s.labour
			if !b.cured {
				b.warnings = append(b.warnings, "out of order: "+closing)
				continue
			}
			b.cured = false
			if t.Hit {
				b.passed = true
				continue
			}
			b.warnings = append(b.warnings, "came back")
			tries = tries[:len(tries)-1]
			b.left = before
			say(last, s.against(last, false))
			continue
		}
		k := s.act(t.Act)
		if k < 0 {
			return nil, unknownAct(fmt.Sprintf("tries[%d].act", i), t.Act, s)
		}
		a := s.acts[k]
		if a.needs&^b.made != 0 {
			b.warnings = append(b.warnings, "out of order: "+t.Act)
		}
		b.spent += s.cost(k, b.open)
		b.open |= a.opens
		b.made |= 1 << k
		b.redo &^= 1 << k
		b.cured, b.passed, last = a.Kind == "cure" && t.Hit, false, k
		say(k, s.against(k, t.Hit))
		if own := b.left & a.of; b.cured && own != 0 { // what was cured is what the cure was for, whatever spoke against it
			b.left = own
		}
	}
	return b, nil
}

// attended are the minutes of an act, the ways in and back with it that are not open yet.
func (s *sick) attended(k int, open uint64) float64 {
	m := s.acts[k].Minutes
	for rest := s.acts[k].opens &^ open; rest != 0; rest &= rest - 1 {
		m += s.openings[bits.TrailingZeros64(rest)].minutes
	}
	return m
}

// cost of an act in money.
func (s *sick) cost(k int, open uint64) float64 {
	a := s.acts[k]
	return s.attended(k, open)*s.labour + a.Wait*s.wait + a.Price
}
