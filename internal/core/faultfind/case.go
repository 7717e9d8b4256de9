package faultfind

import (
	"fmt"
	"maps"
	"math/bits"
	"slices"
	"strings"

	"waryowl/internal/core/fault"
)

// Input is one case: a symptom, what was read and what was tried. Money is minor units.
type Input struct {
	Symptom string   `json:"symptom"`
	Works   []string `json:"works,omitempty" nullable:"false" doc:"checks that work"`
	Lost    []string `json:"lost,omitempty" nullable:"false" doc:"checks that are lost beside the symptom"`
	Tries   []Tried  `json:"tries,omitempty" nullable:"false" doc:"what was done, in order"`
	Open    []string `json:"open,omitempty" nullable:"false" doc:"openings that are open already"`

	Labour  *float64 `json:"labour_per_hour,omitempty" minimum:"0" doc:"3600 when left out"`
	Wait    *float64 `json:"wait_per_hour,omitempty" minimum:"0" doc:"300 when left out"`
	Control *float64 `json:"control_minutes,omitempty" minimum:"0" doc:"of the closing control; 6 when left out"`
	Service *Service `json:"service,omitempty"`
	Limit   *float64 `json:"limit,omitempty" minimum:"0" doc:"what the whole repair may cost"`

	Minutes  map[string]float64 `json:"minutes,omitempty" doc:"per act, out of the plan"`
	Prices   map[string]float64 `json:"prices,omitempty" doc:"per act, from the parts desk"`
	Openings map[string]Opening `json:"openings,omitempty" doc:"out of the plan"`
	Learned  map[string]float64 `json:"learned,omitempty" doc:"closed cases of this symptom, per cause"`
	Add      Addition           `json:"add,omitempty"`
	Table    *Table             `json:"table,omitempty" doc:"instead of the table that ships with the program"`
}

// Tried is an act that was done, and whether it hit. The closing control is the act "closing control".
type Tried struct {
	Act string `json:"act"`
	Hit bool   `json:"hit"`
}

// Service is the way out: an exchange, a refund, another workshop.
type Service struct {
	Price float64 `json:"price" minimum:"0"`
}

// Addition is what this model has besides, or has not at all.
type Addition struct {
	Drop   []string         `json:"drop,omitempty" nullable:"false"`
	Causes map[string]Cause `json:"causes,omitempty"`
	Acts   []Act            `json:"acts,omitempty" nullable:"false"`
}

// closing is the act that ends a case: closed, restarted, charged, and the check and its group read again.
const closing = "closing control"

// Bounds of a case: causes and acts are sets of 64.
const (
	mostCauses = 60
	mostActs   = 60
)

// sick is a case that was checked: causes and acts by number.
type sick struct {
	causes   []string
	cause    []Cause
	prior    []float64
	acts     []act
	openings []opening
	first    []int
	gate     []int
	dead     uint64
	open     uint64 // openings that are open already
	labour   float64
	wait     float64
	control  float64 // attended minutes of the closing control
	service  float64
	limit    *float64
	acquit   float64
	table    *Table
	symptom  Symptom
}

// act is an act of the case. Needs holds all that must come before it, protective acts and the gate with it.
type act struct {
	Act
	of    uint64
	needs uint64
	opens uint64 // the openings on the way to it
	all   bool   // it has no causes of its own: done for its own sake
}

type opening struct {
	name    string
	minutes float64
}

func (in Input) read() (*sick, error) {
	s := &sick{labour: 3600. / 60, wait: 300. / 60, control: 6, service: 25000, limit: in.Limit, acquit: .05, table: Shipped()}
	if in.Table != nil {
		s.table = in.Table
	}
	for _, v := range []struct {
		field string
		from  *float64
		to    *float64
		by    float64
	}{{"labour_per_hour", in.Labour, &s.labour, 60}, {"wait_per_hour", in.Wait, &s.wait, 60}, {"control_minutes", in.Control,
		&s.control, 1}, {"limit", in.Limit, nil, 1}, {"table.acquit", s.table.Acquit, &s.acquit, 1}, {"table.weight", s.table.Weight,
		nil, 1}} {
		if v.from == nil {
			continue
		}
		if *v.from < 0 {
			return nil, fault.New(v.field, *v.from, "a number, 0 or more")
		}
		if v.to != nil {
			*v.to = *v.from / v.by
		}
	}
	if in.Service != nil {
		if in.Service.Price < 0 {
			return nil, fault.New("service.price", in.Service.Price, "a price, 0 or more")
		}
		s.service = in.Service.Price
	}
	sym, known := s.table.Symptoms[in.Symptom]
	if !known {
		return nil, fault.New("symptom", in.Symptom, "one of "+strings.Join(slices.Sorted(maps.Keys(s.table.Symptoms)), ", "))
	}
	s.symptom = sym
	for _, read := range []func(Input) error{s.readCauses, s.readOpenings, s.readActs, s.readLearned} {
		if err := read(in); err != nil {
			return nil, err
		}
	}
	return s, nil
}

func (s *sick) readCauses(in Input) error {
	order := causeOrder()[in.Symptom]
	if in.Table != nil {
		order = slices.Sorted(maps.Keys(s.symptom.Causes))
	}
	add := slices.Sorted(maps.Keys(in.Add.Causes))
	for i, d := range in.Add.Drop {
		if _, known := s.symptom.Causes[d]; !known && in.Add.Causes[d].P == 0 {
			return fault.New(fmt.Sprintf("add.drop[%d]", i), d, "a cause of the symptom: "+strings.Join(order, ", "))
		}
	}
	total := 0.0
	for _, name := range append(slices.Clone(order), add...) {
		c, field := s.symptom.Causes[name], "table.causes."+name
		if own, added := in.Add.Causes[name]; added {
			c, field = own, "add.causes."+name
		}
		if c.P < 0 {
			return fault.New(field+".p", c.P, "a share, 0 or more")
		}
		if slices.Contains(in.Add.Drop, name) || slices.Contains(s.causes, name) {
			continue
		}
		s.causes, s.cause = append(s.causes, name), append(s.cause, c)
		total += c.P
	}
	if len(s.causes) == 0 {
		return fault.New("add.drop", strings.Join(in.Add.Drop, ", "), "to leave at least one cause")
	}
	if len(s.causes) > mostCauses {
		return fault.New("add.causes", len(s.causes), fmt.Sprintf("%d causes at most", mostCauses))
	}
	if total <= 0 {
		return fault.New("causes", total, "shares of which one is more than 0")
	}
	for i, c := range s.cause {
		s.prior = append(s.prior, c.P/total)
		if c.Dead {
			s.dead |= 1 << i
		}
	}
	return nil
}

func (s *sick) readLearned(in Input) error {
	weight, n := 20., 0.
	if s.table.Weight != nil {
		weight = *s.table.Weight
	}
	for _, name := range slices.Sorted(maps.Keys(in.Learned)) {
		v := in.Learned[name]
		if !slices.Contains(s.causes, name) {
			return fault.New("learned."+name, name, "a cause of the symptom: "+strings.Join(s.causes, ", "))
		}
		if v < 0 {
			return fault.New("learned."+name, v, "a number of cases, 0 or more")
		}
		n += v
	}
	if weight+n <= 0 {
		return fault.New("table.weight", weight, "more than 0 while no case is closed")
	}
	for i, name := range s.causes { // counts of a Dirichlet prior
		s.prior[i] = (weight*s.prior[i] + in.Learned[name]) / (weight + n)
	}
	return nil
}

func (s *sick) readOpenings(in Input) error {
	way := maps.Clone(s.table.Openings)
	if way == nil {
		way = map[string]Opening{}
	}
	for name, o := range in.Openings {
		if o.Inside == "" {
			o.Inside = way[name].Inside
		}
		way[name] = o
	}
	for _, name := range slices.Sorted(maps.Keys(way)) {
		o := way[name]
		if o.Minutes < 0 || o.Close < 0 {
			return fault.New("openings."+name, min(o.Minutes, o.Close), "minutes, 0 or more")
		}
		at := name
		for range way {
			if at = way[at].Inside; at == "" {
				break
			}
			if _, known := way[at]; !known {
				return fault.New("openings."+name+".inside", at, "an opening")
			}
		}
		if at != "" {
			return fault.New("openings."+name+".inside", o.Inside, "an opening that does not lie inside this one")
		}
		s.openings = append(s.openings, opening{name, o.Minutes + o.Close})
	}
	for i, name := range in.Open {
		k := s.opening(name)
		if k < 0 {
			return fault.New(fmt.Sprintf("open[%d]", i), name, "an opening: "+strings.Join(slices.Sorted(maps.Keys(way)), ", "))
		}
		s.open |= s.chain(way, name)
	}
	s.table = &Table{Openings: way, Needs: s.table.Needs, Weight: s.table.Weight}
	return nil
}

func (s *sick) opening(name string) int {
	return slices.IndexFunc(s.openings, func(o opening) bool { return o.name == name })
}

// chain are the openings on the way to one, itself with them.
func (s *sick) chain(way map[string]Opening, name string) uint64 {
	var set uint64
	for at := name; at != ""; at = way[at].Inside {
		if k := s.opening(at); k >= 0 {
			set |= 1 << k
		}
	}
	return set
}

func (s *sick) act(name string) int {
	return slices.IndexFunc(s.acts, func(a act) bool { return a.Act.Act == name })
}

func (s *sick) actNames() string {
	var names []string
	for _, a := range s.acts {
		names = append(names, a.Act.Act)
	}
	return strings.Join(names, ", ")
}

func (s *sick) readActs(in Input) error {
	list := slices.Concat(s.symptom.Acts, in.Add.Acts)
	if len(list) > mostActs {
		return fault.New("add.acts", len(list), fmt.Sprintf("%d acts at most", mostActs))
	}
	for _, given := range []struct {
		field string
		of    map[string]float64
	}{{"minutes", in.Minutes}, {"prices", in.Prices}} {
		for _, name := range slices.Sorted(maps.Keys(given.of)) {
			if !slices.ContainsFunc(list, func(a Act) bool { return a.Act == name }) {
				return fault.New(given.field+"."+name, name, "an act of the symptom")
			}
			if v := given.of[name]; v < 0 {
				return fault.New(given.field+"."+name, v, "a number, 0 or more")
			}
		}
	}
	for i, a := range list {
		field := fmt.Sprintf("acts[%d]", i)
		if n := i - len(s.symptom.Acts); n >= 0 {
			field = fmt.Sprintf("add.acts[%d]", n)
		}
		if a.Act == "" || s.act(a.Act) >= 0 || a.Act == closing {
			return fault.New(field+".act", a.Act, "a name of its own")
		}
		if a.Kind != "cure" && a.Kind != "try" && a.Kind != "look" {
			return fault.New(field+".kind", a.Kind, "cure, try, look")
		}
		if m, set := in.Minutes[a.Act]; set {
			a.Minutes = m
		}
		if p, set := in.Prices[a.Act]; set {
			a.Price = p
		}
		for what, v := range map[string]float64{"minutes": a.Minutes, "wait": a.Wait, "price": a.Price} {
			if v < 0 {
				return fault.New(field+"."+what, v, "a number, 0 or more")
			}
		}
		x := act{Act: a, all: len(a.Of) == 0}
		for j, c := range a.Of {
			k := slices.Index(s.causes, c)
			if k < 0 && !slices.Contains(in.Add.Drop, c) {
				return fault.New(fmt.Sprintf("%s.of[%d]", field, j), c, "a cause of the symptom: "+strings.Join(s.causes, ", "))
			}
			if k >= 0 {
				x.of |= 1 << k
			}
		}
		if a.Opens != "" {
			if s.opening(a.Opens) < 0 {
				return fault.New(field+".opens", a.Opens, "an opening: "+strings.Join(slices.Sorted(maps.Keys(s.table.Openings)), ", "))
			}
			x.opens = s.chain(s.table.Openings, a.Opens)
		}
		s.acts = append(s.acts, x)
	}
	return s.readNeeds()
}

// readNeeds adds to what an act needs: the protective acts before all others, in their order, and the gate before the cure of
// what gives the board up.
func (s *sick) readNeeds() error {
	number := func(field string, names []string) ([]int, error) {
		var out []int
		for i, name := range names {
			k := s.act(name)
			if k < 0 {
				return nil, fault.New(fmt.Sprintf("%s[%d]", field, i), name, "an act of the symptom: "+s.actNames())
			}
			out = append(out, k)
		}
		return out, nil
	}
	var err error
	if s.first, err = number("first", s.symptom.First); err != nil {
		return err
	}
	if s.gate, err = number("gate", s.symptom.Gate); err != nil {
		return err
	}
	var first, gate uint64
	for _, k := range s.gate {
		gate |= 1 << k
	}
	for _, k := range s.first {
		s.acts[k].needs |= first
		first |= 1 << k
	}
	for i := range s.acts {
		a := &s.acts[i]
		needs, err := number(fmt.Sprintf("acts[%d].needs", i), a.Needs)
		if err != nil {
			return err
		}
		for _, k := range needs {
			a.needs |= 1 << k
		}
		if first>>i&1 == 0 {
			a.needs |= first
		}
		if a.Kind == "cure" && a.of&s.dead != 0 {
			a.needs |= gate &^ (1 << i)
		}
	}
	for i := range s.acts { // what an act needs may not need it
		before := s.before(s.acts[i].needs)
		if before>>i&1 == 1 {
			return fault.New(fmt.Sprintf("acts[%d].needs", i), s.acts[i].Act.Act, "acts that do not themselves need this one")
		}
	}
	return nil
}

// before adds to some acts all that they need.
func (s *sick) before(set uint64) uint64 {
	for {
		more := set
		for rest := set; rest != 0; rest &= rest - 1 {
			more |= s.acts[bits.TrailingZeros64(rest)].needs
		}
		if more == set {
			return set
		}
		set = more
	}
}
