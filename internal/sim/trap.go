package sim

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
)

// Hurt is what happens to a piece on the way: from the Fits-th time that it is put in it loses the check, wherever it
// sits.
type Hurt struct {
	Check string `json:"check"`
	Fits  int    `json:"fits"`
}

// trap makes the locks of a pair treacherous as its world says. Worlds without traps draw nothing here, so that the
// phones of a seed stay what they were.
func (p *Phones) trap(r *rand.Rand) {
	w := p.World
	p.Hurt = map[string]Hurt{}
	if w.Sometimes+w.Until+w.Undeclared+w.OneBoard > 0 {
		for i := range p.Locks {
			l := &p.Locks[i]
			switch x := r.Float64(); {
			case l.Kind != "single":
			case x < w.Sometimes:
				l.Sometimes = true
			case x < w.Sometimes+w.Until:
				l.Until = true
			case x < w.Sometimes+w.Until+w.OneBoard:
				l.Board = Units[r.IntN(2)]
			case x < w.Sometimes+w.Until+w.OneBoard+w.Undeclared:
				k := slices.IndexFunc(p.Slots, func(s Slot) bool { return s.Name == l.Slots[0] })
				l.Kind, l.Slots = "both", []string{l.Slots[0], p.Slots[(k+1+r.IntN(len(p.Slots)-1))%len(p.Slots)].Name}
			}
		}
	}
	if w.Damage > 0 && r.Float64() < w.Damage {
		s := p.Slots[r.IntN(len(p.Slots))]
		check := p.Checks[r.IntN(len(p.Checks))].Name
		for _, c := range p.Checks {
			if c.Family == s.Family && r.IntN(2) == 0 {
				check = c.Name
			}
		}
		p.Hurt[Units[r.IntN(2)]+"-"+s.Name] = Hurt{check, 1 + r.IntN(3)}
	}
}

// in is the piece that sits in a slot of a board now.
func (b *Bench) in(unit, slot string) string {
	if b.other[slot] {
		unit = Units[1-slices.Index(Units, unit)]
	}
	return unit + "-" + slot
}

func (b *Bench) hurts(unit, slot, check string) bool {
	piece := b.in(unit, slot)
	h, known := b.Hurt[piece]
	return known && h.Check == check && b.fits[piece] >= h.Fits
}

// freed takes from a board what stuck on it, and ends what a reset ends with the pieces that are in.
func (b *Bench) freed(unit string) {
	b.sticky[unit] = map[string]bool{}
	for _, s := range b.Slots {
		b.ended[unit][s.Name] = true
	}
}

// strikes says whether a lock that holds shows in this reading.
func (b *Bench) strikes(l Lock, unit string) bool {
	if l.Until && b.ended[unit][l.Slots[0]] {
		return false
	}
	return !l.Sometimes || b.r.IntN(2) == 0
}

// Trapped says that something comes and goes here, ends by an act, needs two undeclared parts or is hurt on the way.
func (w World) Trapped() bool { return w.Sometimes+w.Until+w.Undeclared+w.OneBoard+w.Damage > 0 }

// Costs says whether a part of the other phone alone costs the check on a build: always, now and then, or until a
// reset.
func (p *Phones) Costs(slot, check, build string) bool {
	return slices.ContainsFunc(p.Locks, func(l Lock) bool {
		return l.Check == check && l.Kind == "single" && l.Board == "" && l.Slots[0] == slot && (l.Build == "" ||
			l.Build == build)
	})
}

// Truth says whether an explanation is true on the build that the phones came with: slot:stranger, with ~ where it
// comes and goes and <act where that ends it, a/b:split, a&b:both, board:unit:slot:stranger, piece:unit-slot:bad, and
// bad@trial from where on.
func (p *Phones) Truth(explanation, check, build string) bool {
	if piece, ok := strings.CutPrefix(explanation, "piece:"); ok {
		piece, _, since := strings.Cut(piece, ":bad@")
		if since {
			return p.Hurt[piece].Check == check
		}
		piece = strings.TrimSuffix(piece, ":bad")
		return p.Bad[piece] == check || p.Hurt[piece].Check == check
	}
	for _, l := range p.Locks {
		if l.Check != check || l.Build != "" && l.Build != build {
			continue
		}
		name := l.Slots[0] + ":stranger"
		switch {
		case l.Sometimes:
			name += "~"
		case l.Until && strings.HasPrefix(explanation, name+"<"):
			return true
		}
		if l.Board != "" {
			name = "board:" + l.Board + ":" + name
		}
		switch l.Kind {
		case "mates":
			name = fmt.Sprintf("%s/%s:split", min(l.Slots[0], l.Slots[1]), max(l.Slots[0], l.Slots[1]))
		case "both":
			name = fmt.Sprintf("%s&%s:both", min(l.Slots[0], l.Slots[1]), max(l.Slots[0], l.Slots[1]))
		}
		if name == explanation {
			return true
		}
	}
	return false
}
