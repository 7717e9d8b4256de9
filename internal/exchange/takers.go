package exchange

import (
	"bytes"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"waryowl/internal/app/model"
	"waryowl/internal/app/rating"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// taker takes the rows of one table: key is what makes a row the same as one before, end puts them in.
type taker struct {
	key  func(line) string
	read func(line, *Preview)
	end  func(v *Preview, put bool) error
}

var takers = map[string]func(*store.Tx, *model.Record) taker{
	"parts":      takeParts,
	"steps":      takeSteps,
	"measures":   takeMeasures,
	"facts":      takeFacts,
	"trials":     func(*store.Tx, *model.Record) taker { return taker{} },
	"offers":     deskTaker("offers"),
	"deliveries": deskTaker("deliveries"),
	"stock":      deskTaker("stock"),
}

// told counts a row as new, changed or as it was.
func (v *Preview) told(isNew bool, before, after any) {
	switch {
	case isNew:
		v.New++
	case bytes.Equal(mustJSON(before), mustJSON(after)):
		v.Same++
	default:
		v.Changed++
	}
}

func takeParts(tx *store.Tx, k *model.Record) taker {
	var list []store.Part
	return taker{key: func(l line) string { return strings.ToLower(l.cells["name"]) },
		read: func(l line, v *Preview) {
			p := store.Part{ModelID: k.ID}
			old := k.PartNamed(l.cells["name"])
			if old != nil {
				p = *old
			}
			f := &p.PartFacts
			set := func(column string, to *string) {
				if _, mapped := l.where[column]; mapped {
					*to = l.cells[column]
				}
			}
			set("name", &f.Name)
			set("family", &f.Family)
			set("kind", &f.Kind)
			set("pane", &f.Pane)
			set("label", &f.Label)
			set("chip mark", &f.ChipMark)
			set("connector code", &f.ConnectorCode)
			set("mate", &f.Mate)
			if _, mapped := l.where["layer"]; mapped {
				f.Layer = l.whole("layer")
			}
			for column, to := range map[string]*float64{"x": &f.XMM, "y": &f.YMM, "width": &f.WMM, "height": &f.HMM} {
				if _, mapped := l.where[column]; mapped {
					*to = l.number(column)
				}
			}
			if _, mapped := l.where["aliases"]; mapped {
				f.Aliases = l.list("aliases")
			}
			valid(
				l,
				*f,
				map[string]string{"x_mm": "x", "y_mm": "y", "w_mm": "width", "h_mm": "height", "chip_mark": "chip mark",
					"connector_code": "connector code"},
			)
			if old == nil {
				v.told(true, nil, nil)
			} else {
				v.told(false, old.PartFacts, *f)
			}
			list = append(list, p)
		},
		end: func(_ *Preview, put bool) error {
			for _, p := range list {
				if !put {
					break
				}
				if err := keep(tx, p.ID, p.Version, &p, func(row *store.Part) { row.PartFacts = p.PartFacts }); err != nil {
					return err
				}
			}
			return nil
		}}
}

// keep adds a row, or changes the one that it was read from.
func keep[T any, E store.Entity[T]](tx *store.Tx, id string, version int, row E, change func(E)) error {
	if id == "" {
		return store.Create(tx, row)
	}
	_, err := store.Update(tx, id, version, func(e E) error {
		change(e)
		return nil
	})
	return err
}

func takeSteps(tx *store.Tx, k *model.Record) taker {
	type pending struct {
		row  store.PlanStep
		line line
	}
	var list []pending
	ids := map[string]string{}
	for _, s := range k.Steps {
		ids[s.Mark] = s.ID
	}
	fresh := map[string]bool{}
	return taker{key: func(l line) string { return l.cells["mark"] },
		read: func(l line, v *Preview) {
			row := store.PlanStep{ModelID: k.ID, Mark: l.cells["mark"]}
			if old, known := k.StepByID[ids[row.Mark]]; known {
				row = old
			} else {
				row.ID = store.NewID()
				ids[row.Mark], fresh[row.ID] = row.ID, true
			}
			before := row.StepFacts
			f := &row.StepFacts
			for column, to := range map[string]*string{"verb": &f.Verb, "what": &f.What, "side": &f.Side, "tool": &f.Tool,
				"joint": &f.Joint, "drive": &f.Drive, "method": &f.Method, "consumable": &f.Consumable} {
				if _, mapped := l.where[column]; mapped {
					*to = l.cells[column]
				}
			}
			if f.Side == "" {
				f.Side = "any"
			}
			for column, to := range map[string]*float64{"diameter": &f.DiameterMM, "length": &f.LengthMM, "planned": &f.Seconds,
				"wait": &f.WaitSeconds} {
				if _, mapped := l.where[column]; mapped {
					*to = l.number(column)
				}
			}
			if _, mapped := l.where["count"]; mapped {
				f.Count = l.whole("count")
			}
			if _, mapped := l.where["frees"]; mapped {
				f.Frees = nil
				for _, name := range l.list("frees") {
					if p := k.PartNamed(name); p != nil {
						f.Frees = append(f.Frees, p.ID)
					} else {
						l.refuse("frees", "no part is called “"+name+"”; read the parts first")
					}
				}
			}
			plain := *f
			plain.After = nil
			valid(l, plain, map[string]string{"diameter_mm": "diameter", "length_mm": "length", "seconds": "planned",
				"wait_seconds": "wait"})
			v.told(fresh[row.ID], before, *f)
			list = append(list, pending{row, l})
		},
		end: func(v *Preview, put bool) error {
			for i := range list { // a step may come after one that stands later in the file
				p := &list[i]
				if _, mapped := p.line.where["after"]; !mapped {
					continue
				}
				p.row.After = nil
				for _, alt := range p.line.list("after") {
					var marks []string
					for _, m := range strings.Fields(alt) {
						if ids[m] == "" {
							p.line.refuse("after", "no step is called “"+m+"”")
							continue
						}
						marks = append(marks, ids[m])
					}
					p.row.After = append(p.row.After, marks)
				}
			}
			if !put || len(v.Errors) > 0 {
				return nil
			}
			for _, p := range list {
				id := p.row.ID
				if fresh[id] {
					if err := store.Create(tx, &p.row); err != nil {
						return err
					}
					continue
				}
				if err := keep(tx, id, p.row.Version, &p.row,
					func(row *store.PlanStep) { row.StepFacts = p.row.StepFacts }); err != nil {
					return err
				}
			}
			after, err := model.Load(tx.DB, k.ID)
			if err != nil {
				return err
			}
			return after.CheckPlan()
		}}
}

func takeMeasures(tx *store.Tx, k *model.Record) taker {
	parts := map[string]*store.Part{}
	var order []string
	return taker{key: func(l line) string { return strings.ToLower(l.cells["part"] + "\x00" + l.cells["quantity"]) },
		read: func(l line, v *Preview) {
			p := k.PartNamed(l.cells["part"])
			if p == nil {
				l.refuse("part", "no part is called “"+l.cells["part"]+"”")
				return
			}
			if parts[p.ID] == nil {
				row := *p
				row.Measures = slices.Clone(p.Measures)
				parts[p.ID] = &row
				order = append(order, p.ID)
			}
			m := store.Measured{Kind: l.cells["quantity"], Unit: l.cells["unit"], Resolution: l.number("resolution"),
				Instrument: l.cells["instrument"], Readings: []float64{}}
			for _, text := range l.list("readings") {
				x, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64)
				if err != nil {
					l.refuse("readings", fmt.Sprintf("%q is no number", text))
				}
				m.Readings = append(m.Readings, x)
			}
			valid(l, m, map[string]string{"kind": "quantity"})
			row := parts[p.ID]
			at := slices.IndexFunc(
				row.Measures,
				func(o store.Measured) bool { return strings.EqualFold(o.Kind, m.Kind) },
			)
			if at < 0 {
				v.told(true, nil, nil)
				row.Measures = append(row.Measures, m)
				return
			}
			v.told(false, row.Measures[at], m)
			row.Measures[at] = m
		},
		end: func(_ *Preview, put bool) error {
			for _, id := range order {
				if !put {
					break
				}
				p := parts[id]
				if err := keep(tx, p.ID, p.Version, p, func(row *store.Part) { row.Measures = p.Measures }); err != nil {
					return err
				}
			}
			return nil
		}}
}

func takeFacts(tx *store.Tx, k *model.Record) taker {
	var list []store.FactSaying
	known := map[string]bool{}
	have, err := store.List[store.FactSaying](tx.DB, "id", "model_id = ?", k.ID)
	same := func(f store.SayingFacts) string {
		day := ""
		if f.SaidOn != nil {
			day = f.SaidOn.Format(time.DateOnly)
			f.SaidOn = nil
		}
		return day + string(mustJSON(f))
	}
	for _, f := range have {
		known[same(f.SayingFacts)] = true
	}
	return taker{key: func(line) string { return "" },
		read: func(l line, v *Preview) {
			f := store.SayingFacts{
				Fact:     l.cells["fact"],
				Choice:   l.cells["choice"],
				Number:   l.maybe("number"),
				Low:      l.maybe("low"),
				High:     l.maybe("high"),
				Currency: l.cells["currency"],
				By:       l.cells["by"],
				Unit:     l.cells["phone"],
				Build:    l.cells["build"],
				Evidence: l.cells["evidence"],
			}
			if at := l.date("date"); !at.IsZero() {
				f.SaidOn = &at
			}
			valid(l, f, map[string]string{"said_on": "date", "unit": "phone"})
			var wrong *fault.Fault
			if err := rating.CheckSaying(f); errors.As(err, &wrong) {
				l.refuse(wrong.Field, wrong.Error())
			}
			if known[same(f)] {
				v.Same++
				return
			}
			v.told(true, nil, nil)
			list = append(list, store.FactSaying{ModelID: k.ID, SayingFacts: f})
		},
		end: func(_ *Preview, put bool) error {
			for _, f := range list {
				if err == nil && put {
					err = store.Create(tx, &f)
				}
			}
			return err
		}}
}
