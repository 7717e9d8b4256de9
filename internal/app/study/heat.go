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

func (b *Record) face(e store.LogEntry) string {
	return cmp.Or(e.Detail.Heat.Face, b.Know.StepByID[e.StepID].Side, "front")
}

// Heated is the sum of the seconds of heat rounds.
func Heated(rounds []dose.Round) float64 {
	sum := 0.0
	for _, r := range rounds {
		sum += r.Seconds
	}
	return sum
}
