// Package faults is the room where the fault of one phone with a fault is found: what works, what was tried, what comes next,
// and when to stop.
package faults

import (
	"context"
	"slices"
	"strings"

	"gorm.io/gorm"

	"waryowl/internal/app/desk"
	"waryowl/internal/app/model"
	"waryowl/internal/core/faultfind"
	"waryowl/internal/core/worktime"
	"waryowl/internal/store"
)

// closing is the act that ends a case: closed, restarted, charged, and the check and its group read again.
const closing = "closing control"

// kindOf is the catalogue kind of a component of the table (house); leads are looked up by what they lead to.
var kindOf = map[string]string{"battery": "battery", "display": "display", "touch": "display",
	"charge port": "charge-port",
	"coil":        "charging-coil", "front array": "front-camera", "projector": "dot-projector", "rear cameras": "rear-camera",
	"rear camera": "rear-camera", "second rear camera": "ultra-wide-camera", "second rear": "ultra-wide-camera",
	"sensor strip": "sensor-strip", "earpiece": "earpiece", "loudspeaker": "loudspeaker", "motor": "vibration-motor",
	"microphone": "microphone", "antenna": "antenna", "finger sensor": "fingerprint-sensor",
	"finger":   "fingerprint-sensor",
	"ear mesh": "mesh", "speaker mesh": "mesh", "entry": "", "port": "charge-port"}

func kind(component string) string {
	if strings.HasPrefix(component, "board ") || component == "board" {
		return "main-board"
	}
	for _, end := range []string{" lead", " contact", ""} {
		if k, known := kindOf[strings.TrimSuffix(component, end)]; known {
			return k
		}
	}
	return ""
}

// slotOf is the kind of the piece that an act fits new; empty: none.
func slotOf(symptom, act string) string {
	a, known := faultfind.ActOf(symptom, act)
	if !known || a.Kind != "cure" || a.Price <= 0 || !strings.HasPrefix(act, "replace") {
		return ""
	}
	_, components := faultfind.Causes(symptom, act)
	for _, c := range components {
		if k := kind(c); k != "" && !strings.HasSuffix(c, " lead") && !strings.HasSuffix(c, " contact") {
			return k
		}
	}
	return ""
}

// record is a case with what it rests on.
type record struct {
	store.FaultCase
	visit   store.Visit
	know    *model.Record
	desk    desk.Desk
	learned map[string]float64
	cases   float64
}

func load(db *gorm.DB, id string) (*record, error) {
	row, err := store.Get[store.FaultCase](db, id)
	if err != nil {
		return nil, err
	}
	visit, err := store.Get[store.Visit](db, row.VisitID)
	if err != nil {
		return nil, err
	}
	return loadOf(db, *row, *visit)
}

func loadOf(db *gorm.DB, row store.FaultCase, visit store.Visit) (*record, error) {
	r := &record{FaultCase: row, visit: visit, learned: map[string]float64{}}
	var err error
	if r.know, err = model.Load(db, row.ModelID); err != nil {
		return nil, err
	}
	if r.desk, err = desk.Load(db, []string{row.ModelID}, true); err != nil {
		return nil, err
	}
	var counts []store.FaultCount
	if err := db.Where("model_id = ? AND symptom = ? AND n > 0", row.ModelID,
		row.Symptom).Find(&counts).Error; err != nil {
		return nil, err
	}
	for _, c := range counts {
		if _, known := faultfind.Shipped().Symptoms[row.Symptom].Causes[c.Cause]; known {
			r.learned[c.Cause] += c.N
			r.cases += c.N
		}
	}
	return r, nil
}

// question is the case as the engine reads it, with minutes out of the plan and prices from the desk.
func (r *record) question() faultfind.Input {
	in := faultfind.Input{Symptom: r.Symptom, Works: r.Works, Lost: r.Lost, Learned: r.learned,
		Prices:   map[string]float64{},
		Openings: r.openings()}
	for _, a := range r.Acts {
		if a.Answer != "at times" { // says too little to rule anything out
			in.Tries = append(in.Tries, faultfind.Tried{Act: a.Act, Hit: a.Answer == "yes"})
		}
	}
	if labour := float64(r.desk.Workshop.LabourMinor); labour > 0 {
		in.Labour = &labour
	}
	if r.Service > 0 {
		in.Service = &faultfind.Service{Price: float64(r.Service)}
	}
	if r.Limit > 0 {
		limit := float64(r.Limit)
		in.Limit = &limit
	}
	of := r.desk.Of(r.ModelID)
	for _, a := range faultfind.Shipped().Symptoms[r.Symptom].Acts {
		if slot := slotOf(r.Symptom, a.Act); slot != "" {
			if price, known := of.Cheapest(slot); known {
				in.Prices[a.Act] = price
			}
		}
	}
	return in
}

// openings are the ways into the phone by its plan: the lid to whatever it opens by, and the board out.
func (r *record) openings() map[string]faultfind.Opening {
	entry := map[string]string{"front": "display", "back": "rear-glass"}[r.know.Entry]
	way := func(kind string) *model.Way {
		if p := r.know.OfKind(kind); p != nil {
			if w := r.know.WayTo(p.ID); w != nil && w.Blocked == "" {
				return w
			}
		}
		return nil
	}
	out := map[string]faultfind.Opening{}
	lid := way(entry)
	if lid == nil {
		return nil
	}
	out["lid"] = faultfind.Opening{Minutes: lid.AttendedMinutes, Close: back(lid.AttendedMinutes)}
	if board := way("main-board"); board != nil {
		out["board out"] = faultfind.Opening{Inside: "lid", Minutes: max(1, board.AttendedMinutes-lid.AttendedMinutes),
			Close: max(1, back(board.AttendedMinutes)-out["lid"].Close)}
	}
	return out
}

// back are the minutes of the way back after so many hands-on ones, and of the start: nothing is sealed while a fault is
// sought.
func back(in float64) float64 { return worktime.RefitShare*in + model.BootSeconds/60 }

// parts are the parts of this model that an act is about.
func (r *record) parts(act string) []string {
	ids := []string{}
	_, components := faultfind.Causes(r.Symptom, act)
	for _, c := range components {
		if p := r.know.OfKind(kind(c)); kind(c) != "" && p != nil && !slices.Contains(ids, p.ID) {
			ids = append(ids, p.ID)
		}
	}
	return ids
}

func (r *record) solve(ctx context.Context, more ...faultfind.Tried) (faultfind.Output, error) {
	if err := ctx.Err(); err != nil {
		return faultfind.Output{}, err
	}
	in := r.question()
	in.Tries = append(in.Tries, more...)
	return faultfind.Solve(in)
}
