package model

import (
	"math"
	"strconv"
	"strings"

	"waryowl/internal/core/quantity"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// Measured reads figures with their readings as quantities by their kind; what cannot be read is left out.
func Measured(list []store.Measured) map[string]quantity.Quantity {
	out := map[string]quantity.Quantity{}
	for _, m := range list {
		if q, err := quantity.Read(m.Readings, m.Resolution, m.Unit); err == nil {
			out[strings.ToLower(strings.TrimSpace(m.Kind))] = q
		}
	}
	return out
}

// Quantities are the figures of a part: what was measured with its readings, and for what was only written down the
// uncertainty that its last digit stands for.
func Quantities(p store.Part) map[string]quantity.Quantity {
	out := Measured(p.Measures)
	for _, f := range []struct {
		kind, unit string
		value      float64
	}{{"mass", "g", p.MassG}, {"thickness", "mm", p.ThicknessMM}, {"capacity", "mAh", p.CapacityMAh},
		{"energy", "Wh", p.EnergyWh}, {"resolution", "MP", p.ResolutionMP}} {
		if _, measured := out[f.kind]; measured || f.value <= 0 {
			continue
		}
		if q, err := quantity.Read([]float64{f.value}, quantity.Digit(strconv.FormatFloat(f.value, 'f', -1, 64)),
			f.unit); err == nil {
			out[f.kind] = q
		}
	}
	return out
}

// leastCarried is the chance from which a kind of part is said to carry a function: it is its work, not its neighbour's.
const leastCarried = 0.1

// Carries are the functions of a part by its kind.
func (k *Record) Carries(part string) []string {
	kind, _ := trade.KindByID(k.Kind(part))
	list := []string{}
	for _, c := range trade.Checks {
		if kind.Serves[c.Mark] >= leastCarried {
			list = append(list, c.Mark)
		}
	}
	return list
}

// Held is a joint that holds a part, by the steps that open it.
type Held struct {
	Type, What string
	Length     float64
	Count      int
}

// Joints are what holds each part, by its id: the fasteners, adhesives and connectors of the steps that are about it.
func (k *Record) Joints() map[string][]Held {
	out := map[string][]Held{}
	about := k.about()
	for _, s := range k.Steps {
		part := about[s.ID]
		if part == "" && len(s.Frees) > 0 {
			part = s.Frees[0]
		}
		h := Held{What: s.Joint, Count: max(1, s.Count)}
		switch {
		case part == "":
			continue
		case trade.Threaded(s.Joint):
			h.Type, h.Length = "screw", math.Round(s.LengthMM*100)/100
			h.What = strings.TrimSpace(s.Drive + " " + s.DriveSize)
		case s.Joint == "adhesive" || s.Joint == "pull tab" || s.Joint == "tape":
			h.Type = "adhesive"
		case s.Joint == "connector" || s.Joint == "coax":
			h.Type = "connector"
		default:
			continue
		}
		out[part] = append(out[part], h)
	}
	return out
}

// JobKinds are the kinds of part that are the five common jobs, with their share of all jobs (house; that battery and
// screen are about 90 % is common practice, no source).
var JobKinds = []struct {
	Job, Kind string
	Share     float64
}{{"battery", "battery", 0.45}, {"screen", "display", 0.45}, {"back glass", "rear-glass", 0.04},
	{"port", "charge-port", 0.04}, {"camera", "rear-camera", 0.02}}

// Jobs counts the jobs on a part that somebody told of.
func (k *Record) Jobs(part string) int { return k.jobs[part] }
