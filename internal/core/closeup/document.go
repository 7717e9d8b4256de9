package closeup

import (
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/core/fault"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/trade"
)

// Out is a step that was carried out, with the tape that closing needs.
type Out struct {
	plan.Done
	Tape string `json:"tape,omitempty"`
	Off  bool   `json:"off,omitempty" doc:"what was pried, cut, pulled, peeled or slid left the phone: it is an item; false: it only loosened"`
}

// Back is what of a step is back; no count is all of it.
type Back struct {
	Step  string `json:"step"`
	Count *int   `json:"count,omitempty" minimum:"0"`
}

// Declared says what became of some of an item: lost, replaced by another, left off on purpose.
type Declared struct {
	Lost     int `json:"lost,omitempty" minimum:"0"`
	Replaced int `json:"replaced,omitempty" minimum:"0"`
	LeftOff  int `json:"left_off,omitempty" minimum:"0"`
}

// LeftOff is a lead that stays off on purpose.
type LeftOff struct {
	Step string `json:"step"`
	Why  string `json:"why,omitempty"`
}

// Found is a bit on the bench that no step accounts for.
type Found struct {
	Name   string `json:"name"`
	Count  int    `json:"count,omitempty" minimum:"0"`
	Origin string `json:"origin,omitempty" enum:"unknown,this phone,another phone,no phone"`
}

// Check is a function check with the parts that it needs.
type Check struct {
	Mark  string   `json:"mark"`
	Parts []string `json:"parts,omitempty" nullable:"false"`
}

// Overridden is a stop that was answered "already done" or with a reason.
type Overridden struct {
	Rule string `json:"rule"`
	What string `json:"what,omitempty"`
}

// Input is one phone: what was done in its real order, and what was said at the bench.
type Input struct {
	Done      []Out               `json:"done" nullable:"false"`
	Back      []Back              `json:"back,omitempty" nullable:"false"`
	Declared  map[string]Declared `json:"declared,omitempty"`
	LeftOff   []LeftOff           `json:"left_off,omitempty" nullable:"false"`
	Found     []Found             `json:"found,omitempty" nullable:"false"`
	Ticks     []string            `json:"ticks,omitempty" nullable:"false"`
	Checks    []Check             `json:"checks,omitempty" nullable:"false"`
	Holes     []Hole              `json:"holes,omitempty" nullable:"false"`
	Spares    []Hole              `json:"spares,omitempty" nullable:"false"`
	Seal      string              `json:"seal,omitempty"`
	Overrides []Overridden        `json:"overrides,omitempty" nullable:"false"`
}

// Stray is a bit that keeps the phone open.
type Stray struct {
	Name  string `json:"name"`
	Count int    `json:"count"`
}

// Retest is what to test before closing, and why.
type Retest struct {
	What   string   `json:"what"`
	Why    string   `json:"why"`
	Checks []string `json:"checks" nullable:"false"`
}

// Output says whether the phone may be closed, why not, and what goes where.
type Output struct {
	May         bool                    `json:"may"`
	Why         []string                `json:"why" nullable:"false" doc:"unaccounted, stray, connector, gate, covered"`
	Lines       []Line                  `json:"lines" nullable:"false"`
	Conflict    string                  `json:"conflict"`
	Items       []Item                  `json:"items" nullable:"false"`
	Open        []Item                  `json:"open" nullable:"false"`
	Empty       []Item                  `json:"empty" nullable:"false"`
	Strays      []Stray                 `json:"strays" nullable:"false"`
	Seated      [2]int                  `json:"seated"`
	Retest      []Retest                `json:"retest" nullable:"false"`
	Mixes       []Mix                   `json:"mixes" nullable:"false"`
	Substitutes map[string][]Substitute `json:"substitutes"`
	Water       string                  `json:"water"`
}

// guessed is the kind of a part by its name.
func guessed(part string) string { k, _ := trade.KindOf(part); return k }

// Solve puts one phone back: the list, what is unaccounted for, and whether it may be closed.
func Solve(in Input) (Output, error) {
	if err := in.check(); err != nil {
		return Output{}, err
	}
	var done []plan.Done
	for _, d := range in.Done {
		if d.Tape != "" {
			d.Consumable = d.Tape
		}
		if d.Off && !slices.ContainsFunc(d.Frees, func(p string) bool { return trade.Plain(p) == trade.Plain(d.What) }) {
			d.Frees = append(slices.Clone(d.Frees), d.What)
		}
		done = append(done, d.Done)
	}
	out := Output{Why: []string{}, Strays: []Stray{}, Retest: []Retest{}, Substitutes: map[string][]Substitute{},
		Water: Water(in.Seal)}
	out.Lines, out.Conflict = List(done, guessed)
	if out.Lines == nil {
		out.Lines = []Line{}
	}
	out.Items = in.items(done)
	out.Open, out.Empty = Reconcile(out.Items)
	for i, l := range out.Lines {
		out.Lines[i].Screws = max(0, l.Screws-in.Declared["screws "+l.StepID].Lost)
	}
	back := map[string]bool{}
	for _, d := range done {
		back[d.ID] = in.isBack(d)
	}
	ticked := func(key string) bool { // a tick on a lead that is still off is not a seat
		step, seat := strings.CutPrefix(key, "seat ")
		return slices.Contains(in.Ticks, key) && (!seat || back[step])
	}
	leads := Seat(done, out.Lines, func(step string) bool { return in.off(step) != nil },
		func(step string) bool { return ticked("seat " + step) })
	out.Seated = leads.Seated
	for _, d := range leads.Off {
		why := in.off(d.ID).Why
		if why == "" || why == "on purpose" {
			why = "left off on purpose"
		}
		out.Retest = append(out.Retest, Retest{d.What, why, in.needing(d)})
	}
	gates := true
	for _, l := range out.Lines {
		for _, g := range l.Gates {
			gates = gates && (strings.HasPrefix(g.Key, "seat ") || ticked(g.Key))
		}
	}
	hidden := Covered(out.Lines, in.started, func(step string) bool {
		k := slices.IndexFunc(done, func(d plan.Done) bool { return d.ID == step })
		return done[k].Lead() && in.off(step) == nil && !back[step]
	}, ticked)
	for _, f := range in.Found {
		if f.Origin != "another phone" && f.Origin != "no phone" {
			out.Strays = append(out.Strays, Stray{f.Name, max(1, f.Count)})
		}
	}
	for _, o := range in.Overrides {
		out.Retest = append(out.Retest, Retest{o.Rule, "stop overridden", []string{}})
	}
	for _, c := range []struct {
		holds bool
		why   string
	}{{len(out.Open) == 0, "unaccounted"}, {len(out.Strays) == 0, "stray"}, {leads.Open == "", "connector"}, {gates,
		"gate"},
		{!hidden, "covered"}} {
		if !c.holds {
			out.Why = append(out.Why, c.why)
		}
	}
	out.May = len(out.Why) == 0
	out.Mixes = LookAlikes(in.Holes)
	for _, h := range in.Holes {
		out.Substitutes[h.ID] = Substitutes(h, in.Spares)
	}
	return out, nil
}

// isBack says whether all of a step is back.
func (in Input) isBack(d plan.Done) bool {
	n := 0
	for _, b := range in.Back {
		if b.Step == d.ID {
			if b.Count == nil {
				return true
			}
			n += *b.Count
		}
	}
	return n >= max(1, d.Count)
}

// started says whether some of a step is back.
func (in Input) started(step string) bool {
	return slices.ContainsFunc(in.Back, func(b Back) bool { return b.Step == step && (b.Count == nil || *b.Count > 0) })
}

func (in Input) check() error {
	seen := map[string]bool{}
	for i, d := range in.Done {
		at := fmt.Sprintf("done[%d]", i)
		if err := fault.ID(at+".id", d.ID); err != nil {
			return err
		}
		if seen[d.ID] {
			return fault.New(at+".id", d.ID, "each step once")
		}
		if v, ok := trade.VerbOf(d.Verb); !ok || !v.Step {
			return fault.New(at+".verb", d.Verb, strings.Join(trade.StepVerbs(), ", "))
		}
		if d.Count < 0 {
			return fault.New(at+".count", d.Count, "0 or more")
		}
		seen[d.ID] = true
	}
	for i, b := range in.Back {
		if !seen[b.Step] {
			return fault.New(fmt.Sprintf("back[%d].step", i), b.Step,
				"a step that was done: what never came out cannot go back")
		}
		if b.Count != nil && *b.Count < 0 {
			return fault.New(fmt.Sprintf("back[%d].count", i), *b.Count, "0 or more")
		}
	}
	for i, l := range in.LeftOff {
		if !seen[l.Step] {
			return fault.New(fmt.Sprintf("left_off[%d].step", i), l.Step, "a step that was done")
		}
	}
	for i, f := range in.Found {
		if f.Count < 0 || !slices.Contains([]string{"", "unknown", "this phone", "another phone", "no phone"},
			f.Origin) {
			return fault.New(fmt.Sprintf("found[%d].origin", i), f.Origin,
				"unknown, this phone, another phone or no phone, and a count of 0 or more")
		}
	}
	return nil
}

func (in Input) off(step string) *LeftOff {
	k := slices.IndexFunc(in.LeftOff, func(l LeftOff) bool { return l.Step == step })
	if k < 0 {
		return nil
	}
	return &in.LeftOff[k]
}

// items derives what came out, and counts what is back.
func (in Input) items(done []plan.Done) []Item {
	items := []Item{}
	for _, d := range done {
		back, all := 0, false
		for _, b := range in.Back {
			switch {
			case b.Step != d.ID:
			case b.Count == nil:
				all = true
			default:
				back += *b.Count
			}
		}
		add := func(key, kind, name, place string, n int, in0 int) {
			decl := in.Declared[key]
			items = append(items, Item{Key: key, Kind: kind, Name: name, Place: place, Out: n, In: in0,
				Lost: decl.Lost, Swap: decl.Replaced,
				Off: decl.LeftOff})
		}
		if n := d.Screws(); n > 0 {
			decl := in.Declared["screws "+d.ID]
			if all {
				back = n - decl.Lost - decl.Replaced - decl.LeftOff
			}
			add("screws "+d.ID, "screw", ScrewName(d.Step), d.What, n, back)
			all = all || back >= n
		} else {
			all = all || back > 0
		}
		for _, p := range d.Frees {
			decl := in.Declared["part "+p]
			n := 0
			if all && decl == (Declared{}) {
				n = 1
			}
			kind := "part"
			if k, _ := trade.KindByID(guessed(p)); k.Covers {
				kind = "bracket"
			}
			add("part "+p, kind, p, d.What, 1, n)
		}
	}
	return items
}

// ScrewName says what screws of a step look like.
func ScrewName(s plan.Step) string {
	name := strings.TrimSpace(fmt.Sprintf("%s %s", s.Drive, s.Joint))
	if s.Drive == s.Joint {
		name = s.Joint
	}
	if s.LengthMM > 0 {
		name += fmt.Sprintf(" %g × %g mm", s.DiameterMM, s.LengthMM)
	}
	return name
}

// needing lists the checks that need what a lead belongs to: by name, or by kind where the names differ.
func (in Input) needing(d plan.Done) []string {
	marks := []string{}
	for _, c := range in.Checks {
		if slices.ContainsFunc(c.Parts, func(p string) bool {
			q, w := trade.Plain(p), trade.Plain(d.What)
			if q == w || strings.HasPrefix(w, q+" ") ||
				slices.ContainsFunc(d.Frees, func(f string) bool { return trade.Plain(f) == q }) {
				return true
			}
			k := trade.About(d.What)
			return k != "" && k == trade.About(p) && !trade.Clash(p, d.What) && k != "bracket"
		}) {
			marks = append(marks, c.Mark)
		}
	}
	return marks
}
