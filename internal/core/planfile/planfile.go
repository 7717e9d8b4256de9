// Package planfile reads the plan of a model from a file: parts by name and steps by mark, as the demo world has them
// and as the export writes them. An import is all or nothing.
package planfile

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"

	"waryowl/internal/core/fault"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/route"
	"waryowl/internal/core/trade"
)

// MaxBytes is the largest file that is read, Most the most steps and parts.
const (
	MaxBytes = 1 << 20
	Most     = 2000
)

// Part is a part by its name.
type Part struct {
	Name    string   `json:"name"`
	Family  string   `json:"family"`
	Kind    string   `json:"kind,omitempty"`
	Aliases []string `json:"aliases,omitempty"`
}

// File is a whole file. After holds marks, Frees and the keys of Risk names of parts.
type File struct {
	Parts []Part    `json:"parts"`
	Steps plan.Plan `json:"steps"`
}

// Read takes a file. Everything in it is checked: unknown fields, marks, names, prerequisites that can never be met.
func Read(file []byte) (File, error) {
	var p File
	if len(file) > MaxBytes {
		return p, fault.New("plan", fmt.Sprintf("%d bytes", len(file)), "at most 1 MB")
	}
	d := json.NewDecoder(bytes.NewReader(file))
	d.DisallowUnknownFields()
	if err := d.Decode(&p); err != nil {
		var u *json.UnmarshalTypeError
		if errors.As(err, &u) {
			return p, fault.New("plan."+u.Field, u.Value, "a "+u.Type.String())
		}
		return p, fault.New("plan", strings.TrimPrefix(err.Error(), "json: "), "a plan as JSON with parts and steps")
	}
	if _, err := d.Token(); err != io.EOF {
		return p, fault.New("plan", "something after its end", "one plan")
	}
	if len(p.Steps) == 0 || len(p.Steps) > Most || len(p.Parts) > Most {
		return p, fault.New("plan.steps", len(p.Steps), fmt.Sprintf("1 to %d steps", Most))
	}
	names := map[string]bool{}
	for i, part := range p.Parts {
		at := fmt.Sprintf("plan.parts[%d]", i)
		if name := strings.TrimSpace(part.Name); name == "" || len([]rune(name)) > 80 || names[strings.ToLower(name)] {
			return p, fault.New(at+".name", part.Name, "a name of up to 80 characters that no other part has")
		}
		if _, known := trade.KindByID(part.Kind); part.Kind != "" && !known {
			return p, fault.New(at+".kind", part.Kind, "a kind of the catalogue, or none")
		}
		if trade.Families[part.Family] == "" {
			return p, fault.New(at+".family", part.Family, "PW, OP, SC, SO, BD, RF, BT, FR or SE")
		}
		names[strings.ToLower(strings.TrimSpace(part.Name))] = true
	}
	marks := map[string]bool{}
	for i := range p.Steps {
		s := &p.Steps[i]
		at := fmt.Sprintf("plan.steps[%d]", i)
		if err := fault.ID(at+".mark", s.Mark); err != nil {
			return p, err
		}
		if marks[s.Mark] || len(s.Mark) > 20 {
			return p, fault.New(at+".mark", s.Mark, "a mark of up to 20 characters that no other step has")
		}
		marks[s.Mark] = true
		if s.Side == "" {
			s.Side = "any"
		}
		if what := strings.TrimSpace(s.What); what == "" || len([]rune(what)) > 160 {
			return p, fault.New(at+".what", s.What, "1 to 160 characters")
		}
		err := s.Check()
		var f *fault.Fault
		if errors.As(err, &f) {
			return p, &fault.Fault{Field: at + "." + f.Field, Found: f.Found, Allowed: f.Allowed}
		}
		if len(s.Tool) > 80 || len(s.Method) > 40 || len(s.Consumable) > 80 || len(s.DriveSize) > 20 {
			return p, fault.New(at+".tool", s.Tool, "up to 80 characters (method: 40)")
		}
	}
	var steps []route.Step
	for i, s := range p.Steps {
		for a, alt := range s.After {
			for k, u := range alt {
				if !marks[u] || u == s.Mark {
					return p, fault.New(fmt.Sprintf("plan.steps[%d].after[%d][%d]", i, a, k), u,
						"the mark of another step")
				}
			}
		}
		steps = append(steps, route.Step{ID: s.Mark, Side: s.Side, After: s.After})
	}
	if err := route.Startable(steps); err != nil {
		var u *route.Unreachable
		if errors.As(err, &u) {
			return p, fault.New("plan.steps", strings.Join(u.Cycle, " waits for "), "prerequisites without a circle")
		}
		return p, err
	}
	return p, nil
}

// Names lists the parts that the steps speak of and that the file does not list itself.
func (p File) Names() []string {
	var names []string
	add := func(name string) {
		listed := slices.ContainsFunc(p.Parts, func(o Part) bool { return strings.EqualFold(o.Name, name) })
		if !listed && !slices.Contains(names, name) {
			names = append(names, name)
		}
	}
	for _, s := range p.Steps {
		for _, f := range s.Frees {
			add(f)
		}
		for part := range s.Risk {
			add(part)
		}
	}
	slices.Sort(names)
	return names
}
