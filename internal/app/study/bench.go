package study

import (
	"fmt"

	"waryowl/internal/core/closeup"
	"waryowl/internal/store"
)

// Leads is what was last seen of the leads of a unit, by the step that takes them off: "off on purpose", "loose" or
// "seated"; nothing where nobody said so.
func (b *Record) Leads(unit string) map[string]string {
	seen := map[string]string{}
	for _, e := range b.Log {
		switch {
		case e.UnitID != unit || e.StepID == "":
		case e.Detail.Lead != "":
			seen[e.StepID] = e.Detail.Lead
		case Advances(e): // off or on again, and nothing said
			delete(seen, e.StepID)
		}
	}
	return seen
}

// PutBack counts what was put back of the screws of a step since they last came out; ok says that somebody counted.
func (b *Record) PutBack(unit, step string) (n int, ok bool) {
	for _, e := range b.Log {
		switch {
		case e.UnitID != unit || e.StepID != step || !Advances(e):
		case !e.Back:
			n, ok = 0, false
		case e.Detail.Count > 0:
			n, ok = n+e.Detail.Count, true
		}
	}
	return n, ok
}

// Strays are the bits beside a unit that no step of it accounts for, as items of its closing: they stay open until they
// are placed or declared.
func (b *Record) Strays(unit string) []closeup.Item {
	var list []closeup.Item
	for _, e := range b.Log {
		if s := e.Detail.Surplus; s != nil && e.UnitID == unit && s.Origin != "another phone" {
			name := fmt.Sprintf("surplus %s, origin %s", s.What, s.Origin)
			list = append(list, closeup.Item{Key: "bit " + e.ID, Kind: "stray", Name: name, Place: name, Out: s.Count})
		}
	}
	return list
}

// Declared puts into a stray what was said of it at closing: placed in the phone, or set aside with a reason. Without a
// reason nothing is declared.
func Declared(i closeup.Item, c store.Closing) closeup.Item {
	d := c.Declared[i.Key]
	i.In = c.Back[i.Key]
	if d.Why != "" {
		i.Lost, i.Swap, i.Off = d.Lost, d.Replaced, d.LeftOff
	}
	return i
}

// Closing is what was stored of the closing of a unit.
func (b *Record) Closing(unit string) store.Closing {
	for _, c := range b.Closings {
		if c.UnitID == unit {
			return c
		}
	}
	return store.Closing{UnitID: unit}
}

// Beside says of a unit what its next reader must know: bits that belonged to no step, leads that were left off.
func (b *Record) Beside(u store.Unit) []string {
	var list []string
	c := b.Closing(u.ID)
	for _, i := range b.Strays(u.ID) {
		what := fmt.Sprintf("%s: %d × %s, ", u.Name, i.Out, i.Name)
		switch i = Declared(i, c); {
		case i.Open() > 0:
			list = append(list, what+"not accounted for")
		case c.Declared[i.Key].Why != "":
			list = append(list, what+"set aside: "+c.Declared[i.Key].Why)
		default:
			list = append(list, what+"placed")
		}
	}
	for _, what := range b.Lost(u.ID) {
		list = append(list, u.Name+": lost and not found: "+what)
	}
	leads := b.Leads(u.ID)
	for _, s := range b.Know.Steps {
		if leads[s.ID] == "off on purpose" {
			list = append(list, u.Name+": "+s.What+" was left off on purpose; what it serves is expected to be lost")
		}
	}
	return list
}
