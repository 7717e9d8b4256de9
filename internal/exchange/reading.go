package exchange

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/app/rating"
	"waryowl/internal/app/study"
	"waryowl/internal/clean"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/faultfind"
	"waryowl/internal/store"
)

// mostText is the largest document that is read.
const mostText = 64 << 20

// Schema is the JSON Schema of the document.
func Schema() ([]byte, error) {
	r := huma.NewMapRegistry("#/$defs/", huma.DefaultSchemaNamer)
	root := r.Schema(reflect.TypeFor[Document](), true, "Document")
	return json.MarshalIndent(
		map[string]any{"$schema": "https://json-schema.org/draft/2020-12/schema", "$ref": root.Ref,
			"$defs": r.Map()},
		"",
		"  ",
	)
}

// Read turns a document into rows with fresh ids; errors name the path in it.
func Read(text []byte) (Document, error) {
	var d Document
	if len(text) > mostText {
		return d, fault.New("document", fmt.Sprintf("%d MB", len(text)>>20), "at most 64 MB")
	}
	var any map[string]any
	if err := json.Unmarshal(text, &any); err != nil {
		return d, fault.New("document", err.Error(), "JSON")
	}
	if any["format"] != Format {
		return d, fault.New("format", fmt.Sprint(any["format"]), Format)
	}
	if v, ok := any["version"].(float64); !ok || v != Version {
		return d, fault.New("version", fmt.Sprint(any["version"]), "1: a newer program wrote this document")
	}
	ids := map[string]string{}
	if err := collect(any, "", ids); err != nil {
		return d, err
	}
	if err := json.Unmarshal(mustJSON(rename(any, ids)), &any); err != nil {
		return d, fault.New("document", err.Error(), "JSON")
	}
	if found := against(reflect.TypeFor[Document](), any); len(found) > 0 {
		var e *huma.ErrorDetail
		if errors.As(found[0], &e) {
			return d, fault.New(e.Location, short(fmt.Sprint(e.Value)), e.Message)
		}
		return d, fault.New("document", found[0].Error(), "the form of the schema")
	}
	err := json.Unmarshal(mustJSON(any), &d)
	var typed *json.UnmarshalTypeError
	if errors.As(err, &typed) {
		return d, fault.New(typed.Field, typed.Value, "a "+typed.Type.String())
	} else if err != nil {
		return d, fault.New("document", err.Error(), "the form of the schema")
	}
	if err := clean.Check(d); err != nil {
		return d, err
	}
	return d, d.check()
}

func short(s string) string {
	if r := []rune(s); len(r) > 80 {
		return string(r[:80]) + "…"
	}
	return s
}

func mustJSON(v any) []byte {
	text, err := json.Marshal(v)
	if err != nil { // it was read from JSON
		panic(err)
	}
	return text
}

// collect gives every row of the document, which is an object with an id, an id of its own.
func collect(v any, path string, ids map[string]string) error {
	switch x := v.(type) {
	case map[string]any:
		if id, ok := x["id"].(string); ok {
			if strings.TrimSpace(id) == "" {
				return fault.New(path+".id", id, "a name, the same wherever the row is meant")
			}
			if ids[id] != "" {
				return fault.New(path+".id", id, "a name that no other row has")
			}
			ids[id] = store.NewID()
		}
		for k, y := range x {
			if err := collect(y, strings.TrimPrefix(path+"."+k, "."), ids); err != nil {
				return err
			}
		}
	case []any:
		for i, y := range x {
			if err := collect(y, fmt.Sprintf("%s[%d]", path, i), ids); err != nil {
				return err
			}
		}
	}
	return nil
}

// refs are the fields whose texts are ids of rows, beside lists and keys of them.
var refs = map[string]bool{
	"id":              true,
	"model_id":        true,
	"study_id":        true,
	"unit_id":         true,
	"step_id":         true,
	"part_id":         true,
	"part":            true,
	"after":           true,
	"frees":           true,
	"risk":            true,
	"steps":           true,
	"hurt_part":       true,
	"hurt_step":       true,
	"board_unit_id":   true,
	"housing_unit_id": true,
	"to_unit_id":      true,
	"dangling":        true,
	"donor_unit_id":   true,
	"heirs":           true,
	"before":          true,
}

// rename puts the ids in where names stand for rows.
func rename(v any, ids map[string]string) any { return renamed(v, ids, false) }

func renamed(v any, ids map[string]string, ref bool) any {
	switch x := v.(type) {
	case string:
		if id := ids[x]; ref && id != "" {
			return id
		}
	case []any:
		for i := range x {
			x[i] = renamed(x[i], ids, ref)
		}
	case map[string]any:
		out := map[string]any{}
		for k, y := range x {
			key := k
			if id := ids[k]; id != "" && strings.Contains(k, " ") { // a key that is a row: "part display"
				key = id
			}
			out[key] = renamed(y, ids, refs[k] || strings.HasSuffix(k, "_id") || ref && isList(y))
		}
		return out
	}
	return v
}

func isList(v any) bool { _, ok := v.([]any); return ok }

// check refuses what the parts of a document say against each other.
func (d Document) check() error {
	parts, steps := map[string]bool{}, map[string]bool{}
	for i, p := range d.Parts {
		if strings.TrimSpace(p.Name) == "" {
			return fault.New(fmt.Sprintf("parts[%d].name", i), p.Name, "a name")
		}
		parts[p.ID] = true
	}
	for _, s := range d.Steps {
		steps[s.ID] = true
	}
	for i, s := range d.Steps {
		for _, f := range s.Frees {
			if !parts[f] {
				return fault.New(fmt.Sprintf("steps[%d].frees", i), f, "the name of a part of the document")
			}
		}
		for p := range s.Risk {
			if !parts[p] {
				return fault.New(fmt.Sprintf("steps[%d].risk", i), p, "the name of a part of the document")
			}
		}
		for _, a := range s.After {
			for _, id := range a {
				if !steps[id] {
					return fault.New(fmt.Sprintf("steps[%d].after", i), id, "the name of a step of the document")
				}
			}
		}
	}
	for i, f := range d.Facts {
		if err := rating.CheckSaying(f.SayingFacts); err != nil {
			return at(fmt.Sprintf("facts[%d]", i), err)
		}
	}
	for i, c := range d.Cases {
		s, known := faultfind.Shipped().Symptoms[c.Symptom]
		if !known || c.State != "repaired" {
			return fault.New(fmt.Sprintf("cases[%d].symptom", i), c.Symptom,
				"a symptom of the list, of a case that ended repaired")
		}
		for j, cause := range c.Ended {
			if _, known := s.Causes[cause]; !known {
				return fault.New(fmt.Sprintf("cases[%d].ended[%d]", i, j), cause, "a cause of "+c.Symptom)
			}
		}
	}
	for i, s := range d.Studies {
		units := map[string]bool{}
		for _, u := range s.Units {
			units[u.ID] = true
		}
		need := func(what, id string, known map[string]bool, of string) error {
			if id == "" || known[id] {
				return nil
			}
			return fault.New(fmt.Sprintf("studies[%d].%s", i, what), id, "the name of "+of+" of the document")
		}
		for j, e := range s.Log {
			if err := need(fmt.Sprintf("log[%d].unit_id", j), e.UnitID, units, "a unit of this study"); err != nil {
				return err
			}
			if err := need(fmt.Sprintf("log[%d].step_id", j), e.StepID, steps, "a step"); err != nil {
				return err
			}
		}
		for j, b := range s.Baselines {
			if err := need(fmt.Sprintf("baselines[%d].unit_id", j), b.UnitID, units, "a unit of this study"); err != nil {
				return err
			}
		}
		for j, t := range s.Trials {
			for _, u := range [][2]string{{"board", t.BoardUnitID}, {"housing", t.HousingUnitID}} {
				if err := need(fmt.Sprintf("trials[%d].%s_unit_id", j, u[0]), u[1], units, "a unit of this study"); err != nil {
					return err
				}
			}
			for k, p := range t.Pieces {
				if err := need(fmt.Sprintf("trials[%d].pieces[%d].part_id", j, k), p.PartID, parts, "a part"); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// at puts a path before the field of a fault.
func at(path string, err error) error {
	var f *fault.Fault
	if errors.As(err, &f) {
		return fault.New(path+"."+f.Field, f.Found, f.Allowed)
	}
	return err
}

// Taken says what an import made.
type Taken struct {
	ModelID string   `json:"model_id"`
	Studies []string `json:"studies" nullable:"false" doc:"ids"`
	Rows    int      `json:"rows"`
}

// Import puts a document in as a new model, all of it or nothing; name takes the place of the model's own name where
// that is on record already.
func Import(ctx context.Context, s *act.Service, c act.Command, text []byte, name string) (Taken, error) {
	read := func() (Document, error) {
		d, err := Read(text)
		if own := strings.TrimSpace(name); own != "" {
			d.Model.Name = own
		}
		return d, err
	}
	first, err := read()
	if err != nil {
		return Taken{}, err
	}
	tries := 0
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (Taken, error) {
		d := first
		if tries++; tries > 1 { // given up for another transaction: a new beginning has new ids
			if d, err = read(); err != nil {
				return Taken{}, err
			}
		}
		n := Taken{ModelID: d.Model.ID, Studies: []string{}}
		if err := tx.Alone("imports"); err != nil { // of two of one name at once the second sees the first
			return n, err
		}
		same, err := store.List[store.Model](tx.DB, "id", "maker = ? AND name = ?", d.Model.Maker, d.Model.Name)
		if err != nil {
			return n, err
		}
		if len(same) > 0 {
			return n, fault.New(
				"name",
				d.Model.Name,
				"a name that is not on record for "+d.Model.Maker+"; give it another",
			)
		}
		for i := range d.Outcomes {
			d.Outcomes[i].AccountID = c.Actor.ID
		}
		if err := inOrder(
			func() error { return create(tx, &n, []store.Model{d.Model}) },
			func() error { return create(tx, &n, d.Parts) },
			func() error { return create(tx, &n, d.Steps) },
			func() error { return create(tx, &n, d.Facts) },
			func() error { return create(tx, &n, d.Lots) },
			func() error { return create(tx, &n, d.Outcomes) },
			func() error { return create(tx, &n, d.Cases) },
		); err != nil {
			return n, err
		}
		for _, c := range d.Cases {
			for _, cause := range c.Ended {
				if err := store.CountFault(tx, c.ModelID, c.Symptom, cause, 1/float64(len(c.Ended))); err != nil {
					return n, err
				}
			}
		}
		for _, st := range d.Studies {
			if err := inOrder(
				func() error { return create(tx, &n, []store.Study{st.Study}) },
				func() error { return create(tx, &n, st.Units) },
				func() error { return create(tx, &n, st.Baselines) },
				func() error { return create(tx, &n, st.Log) },
				func() error { return create(tx, &n, st.Acts) },
				func() error { return create(tx, &n, st.Trials) },
				func() error { return create(tx, &n, st.Closings) },
			); err != nil {
				return n, err
			}
			n.Studies = append(n.Studies, st.ID)
		}
		return n, readable(tx.DB, d)
	})
}

// readable refuses what the engines cannot read: a plan in a circle, swaps that contradict their board.
func readable(db *gorm.DB, d Document) error {
	k, err := model.Load(db, d.Model.ID)
	if err != nil {
		return err
	}
	if err := k.CheckPlan(); err != nil {
		return fault.New("steps", "a plan that cannot be walked", err.Error())
	}
	for i, st := range d.Studies {
		b, err := study.Load(db, st.ID)
		if err != nil {
			return err
		}
		if _, err := b.Read(""); err != nil {
			return fault.New(fmt.Sprintf("studies[%d].trials", i), "swaps that cannot be read", err.Error())
		}
	}
	return nil
}

// inOrder runs the steps of a transaction one after the other and stops at the first that fails: after a deadlock the
// database has rolled back already, and whatever ran on would be committed by itself.
func inOrder(steps ...func() error) error {
	for _, step := range steps {
		if err := step(); err != nil {
			return err
		}
	}
	return nil
}

func create[T any, E store.Entity[T]](tx *store.Tx, n *Taken, rows []T) error {
	n.Rows += len(rows)
	return store.CreateAll[T, E](tx, rows)
}
