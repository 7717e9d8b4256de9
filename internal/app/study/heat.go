package study

import (
	"cmp"

	"waryowl/internal/core/dose"
	"waryowl/internal/store"
)

// Rounds are the heat rounds of a unit on a face ("" for all), in their order.
func (b *Record) Rounds(unit, face string) []dose.Round {
	var list []dose.Round
	for _, e := range b.Log {
		if h := e.Detail.Heat; h != nil && e.UnitID == unit && (face == "" || b.face(e) == face) {
			list = append(list, dose.Round{Source: h.Source, Face: b.face(e), SetC: h.SetC, MeasuredC: h.MeasuredC,
				Seconds: h.Seconds, Result: h.Result, Kind: h.Mark})
		}
	}
	return list
}

// face is the side that a round of heat went to: as said, else as the plan says, else the side in work then, which is
// that of the last sided act before it.
func (b *Record) face(e store.LogEntry) string {
	return cmp.Or(e.Detail.Heat.Face, sided(b.Know.StepByID[e.StepID].Side), b.SideInWork(e.UnitID, e.ID), "front")
}

// SideInWork is the side of the last sided act on a unit before an entry ("": all its entries), "" when none was.
func (b *Record) SideInWork(unit, before string) string {
	side := ""
	for _, e := range b.Log {
		if e.ID == before && before != "" {
			break
		}
		if e.UnitID != unit {
			continue
		}
		if h := e.Detail.Heat; h != nil && h.Face != "" {
			side = h.Face
		} else {
			side = cmp.Or(sided(b.Know.StepByID[e.StepID].Side), side)
		}
	}
	return side
}

func sided(side string) string {
	if side == "any" {
		return ""
	}
	return side
}

// Heated is the sum of the seconds of heat rounds.
func Heated(rounds []dose.Round) float64 {
	sum := 0.0
	for _, r := range rounds {
		sum += r.Seconds
	}
	return sum
}
