// Package compare is the room in which two models lie over each other.
package compare

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/compare"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/quantity"
	"waryowl/internal/store"
)

// Place is a rectangle as it lies in the newer model, mm.
type Place struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
	W float64 `json:"w"`
	H float64 `json:"h"`
}

// Thing is a part of one of the two, with its place in the newer one.
type Thing struct {
	ID     string `json:"id"`
	Name   string `json:"name"`
	Family string `json:"family"`
	Kind   string `json:"kind"`
	Place  *Place `json:"place,omitempty"`
	Source string `json:"source,omitempty"`
}

// Side is one of the two models.
type Side struct {
	Model store.Model `json:"model"`
	Parts []Thing     `json:"parts" nullable:"false"`
}

// Change is a ranked change with what it means.
type Change struct {
	compare.Ranked
	Name      string `json:"name"`
	Judgement string `json:"judgement" enum:"easier,harder,dearer,no matter"`
	For       string `json:"for" doc:"for whom: technicians, parts buyers, analysts"`
	Why       string `json:"why"`
}

// JobDifference is the difference of the ways of a job.
type JobDifference struct {
	compare.JobChange
	StepsA   int     `json:"steps_a"`
	StepsB   int     `json:"steps_b"`
	MinutesA float64 `json:"minutes_a"`
	MinutesB float64 `json:"minutes_b"`
	RunsA    int     `json:"runs_a" doc:"steps of the way with a measured time"`
	RunsB    int     `json:"runs_b"`
}

// Claim is a statement of a study about a size, checked against the measures.
type Claim struct {
	Text    string `json:"text"`
	Part    string `json:"part"`
	Finding string `json:"finding" enum:"confirmed,refuted,not resolved,not measured"`
	Found   string `json:"found"`
}

// Room is what changed from one model to the other.
type Room struct {
	A        Side             `json:"a"`
	B        Side             `json:"b"`
	Answer   answer.Sentence  `json:"answer" nullable:"false"`
	Found    compare.Output   `json:"found"`
	Changes  []Change         `json:"changes" nullable:"false"`
	Jobs     []JobDifference  `json:"jobs" nullable:"false"`
	NoWay    []string         `json:"no_way" nullable:"false" doc:"jobs without a way in one of the two"`
	Claims   []Claim          `json:"claims" nullable:"false"`
	Doubts   []string         `json:"doubts" nullable:"false" doc:"figures that do not go together"`
	Mirrored bool             `json:"mirrored" doc:"the earlier model is laid over turned left to right"`
	Said     []store.PartPair `json:"said" nullable:"false"`
}

// must are the quantities that have to be equal for a part to interchange.
var must = []string{"thickness", "connector width", "connector pitch", "connector pins", "connector height"}

// Show compares model b with a: what stands in the answer is b against a.
// Variants are region variants of the two, where the question is about those; one model's two variants may lie beside
// each other.
func Show(ctx context.Context, s *act.Service, aID, bID, aVariant, bVariant string) (Room, error) {
	db := s.DB.WithContext(ctx)
	if aID == bID && aVariant == bVariant {
		return Room{}, fault.New("other", bID, "another model than the first, or another variant of it")
	}
	both, err := model.LoadAll(db, []string{aID, bID}, true)
	if err != nil {
		return Room{}, err
	}
	a, b := both[aID], both[bID]
	if a == nil || b == nil {
		return Room{}, act.ErrNotFound
	}
	if a, err = ofVariant(a, "other_variant", aVariant); err != nil {
		return Room{}, err
	}
	if b, err = ofVariant(b, "variant", bVariant); err != nil {
		return Room{}, err
	}
	r := Room{A: Side{Model: a.Model, Parts: []Thing{}}, B: Side{Model: b.Model, Parts: []Thing{}}, Changes: []Change{},
		Jobs: []JobDifference{}, NoWay: []string{}, Claims: []Claim{}, Doubts: []string{}, Said: []store.PartPair{}}
	if len(a.Parts) == 0 || len(b.Parts) == 0 {
		empty := a
		if len(a.Parts) > 0 {
			empty = b
		}
		r.Found = compare.Output{Matched: []compare.Match{}, Gone: []compare.Alone{}, Added: []compare.Alone{},
			Jobs: []compare.JobChange{}, Ranked: []compare.Ranked{}}
		r.Answer = answer.Sentence{answer.Text("Nothing to compare yet: record the parts of "), answer.Name(empty.Name, ""),
			answer.Text(" in its strip-down.")}
		return r, nil
	}
	if r.Said, err = said(db, aID, bID); err != nil {
		return Room{}, err
	}
	checks, err := model.Catalogue(db)
	if err != nil {
		return Room{}, err
	}
	in := compare.Input{A: outline(a), B: outline(b), Must: must}
	for _, p := range r.Said {
		pair := []string{p.PartID, p.OtherPartID}
		if p.ModelID != aID {
			pair = []string{p.OtherPartID, p.PartID}
		}
		if _, known := a.PartByID[pair[0]]; !known {
			continue
		}
		if _, known := b.PartByID[pair[1]]; !known {
			continue
		}
		if p.Verdict == "confirmed" {
			in.Confirmed = append(in.Confirmed, pair)
		} else {
			in.Refused = append(in.Refused, pair)
		}
	}
	ways := map[string][2]*model.Way{}
	for _, j := range model.JobKinds {
		wa, wb := wayOf(a, j.Kind, checks), wayOf(b, j.Kind, checks)
		if wa == nil || wb == nil {
			r.NoWay = append(r.NoWay, j.Job)
			continue
		}
		ways[j.Job] = [2]*model.Way{wa, wb}
		in.Jobs = append(in.Jobs, compare.Job{Job: j.Job, Weight: j.Share, A: asWay(wa, a), B: asWay(wb, b)})
	}
	if r.Found, err = compare.Solve(in); err != nil {
		return Room{}, err
	}
	if (a.Entry == "back") != (b.Entry == "back") {
		// One was recorded from its front, the other from its back, unless somebody turned it: what fits better holds.
		turned := in
		turned.A.Face = "back"
		other, err := compare.Solve(turned)
		if err != nil {
			return Room{}, err
		}
		if other.Total > r.Found.Total {
			r.Found, in, r.Mirrored = other, turned, true
		}
	}
	r.A.Parts, r.B.Parts = things(a, in.A, in.B), things(b, in.B, in.B)
	for _, j := range r.Found.Jobs {
		w := ways[j.Job]
		r.Jobs = append(r.Jobs, JobDifference{j, len(w[0].Steps), len(w[1].Steps), w[0].AttendedMinutes,
			w[1].AttendedMinutes, w[0].Measured, w[1].Measured})
	}
	for _, c := range r.Found.Ranked {
		r.Changes = append(r.Changes, r.judge(c, a, b))
	}
	r.Doubts = doubts(r.Found, a, b)
	var bare []string
	if r.Claims, bare, err = claims(db, r.Found, a, b); err != nil {
		return Room{}, err
	}
	r.Doubts = append(r.Doubts, bare...)
	r.Answer = r.say()
	return r, nil
}

// ofVariant is a model as one of its region variants: without the parts that it lacks, with a part for what it adds.
func ofVariant(k *model.Record, field, variant string) (*model.Record, error) {
	if variant == "" {
		return k, nil
	}
	if !slices.Contains(k.Variants, variant) {
		return nil, fault.New(field, variant, "a variant of the "+k.Name+": "+cmp.Or(strings.Join(k.Variants, ", "), "none is on record"))
	}
	v := *k
	v.Name = k.Name + " (" + variant + ")"
	v.Parts = slices.Clone(k.Parts)
	for _, n := range k.VariantNotes {
		if n.Variant != variant {
			continue
		}
		v.Parts = slices.DeleteFunc(v.Parts, func(p store.Part) bool {
			return slices.ContainsFunc(n.Lacks, func(l string) bool {
				return strings.EqualFold(l, p.Name) || slices.ContainsFunc(p.Aliases, func(a string) bool { return strings.EqualFold(l, a) })
			})
		})
		for i, name := range n.Adds {
			v.Parts = append(v.Parts, store.Part{Row: store.Row{ID: fmt.Sprintf("added-%d", i)}, ModelID: k.ID,
				PartFacts: store.PartFacts{Name: name, Family: "FR"}})
		}
	}
	v.PartByID = map[string]store.Part{}
	for _, p := range v.Parts {
		v.PartByID[p.ID] = p
	}
	return &v, nil
}

func said(db *gorm.DB, a, b string) ([]store.PartPair, error) {
	return store.List[store.PartPair](db, "id",
		"model_id = ? AND other_model_id = ? OR model_id = ? AND other_model_id = ?", a, b, b, a)
}

// outline is a model in the terms of the engine.
func outline(k *model.Record) compare.Model {
	m := compare.Model{ID: k.ID, Width: cmp.Or(k.WidthMM, 70), Height: cmp.Or(k.HeightMM, 145), Face: "front", Away: "top"}
	joints := k.Joints()
	layered := slices.ContainsFunc(k.Parts, func(p store.Part) bool { return p.Layer > 0 })
	for _, p := range k.Parts {
		q := compare.Part{ID: p.ID, Kind: cmp.Or(k.Kind(p.ID), "part of "+p.Family), Names: append([]string{p.Name}, p.Aliases...),
			Family: p.Family, Carries: k.Carries(p.ID), Quantities: map[string]compare.Quantity{}}
		if p.WMM > 0 && p.HMM > 0 {
			q.Rect = &compare.Rect{X: p.XMM, Y: p.YMM, W: p.WMM, H: p.HMM}
		}
		if layered {
			q.Layer = &p.Layer
		}
		for name, x := range model.Quantities(p) {
			q.Quantities[name] = compare.Quantity{Value: x.Value, U: x.U, Unit: x.Unit}
		}
		for _, h := range joints[p.ID] {
			q.Joints = append(q.Joints, compare.Joint{Type: h.Type, What: h.What, Length: h.Length, Count: &h.Count})
		}
		m.Parts = append(m.Parts, q)
	}
	return m
}

func wayOf(k *model.Record, kind string, checks []store.Check) *model.Way {
	p := k.OfKind(kind)
	if p == nil {
		return nil
	}
	if w := k.WayTo(p.ID, checks); w != nil && w.Blocked == "" {
		return w
	}
	return nil
}

// asWay gives the engine attended seconds, the figure that all steps add up to. A step about a part that this variant
// lacks falls away.
func asWay(w *model.Way, k *model.Record) compare.Way {
	out := compare.Way{Depth: w.Depth, Seconds: w.AttendedMinutes * 60, Tools: w.Tools, Risk: map[string]float64{}}
	for _, s := range w.Steps {
		part := s.Part
		if part == "" && len(s.Frees) > 0 {
			part = s.Frees[0]
		}
		if _, has := k.PartByID[part]; part != "" && !has {
			out.Seconds -= s.Seconds
			continue
		}
		out.Steps = append(out.Steps, compare.Step{Part: part, Seconds: s.Seconds})
	}
	for _, v := range w.Survival {
		out.Risk[v.Part] = min(0.999, max(0, 1-v.P))
	}
	return out
}

// things are the parts of a model with their places in the newer one.
func things(k *model.Record, mine, b compare.Model) []Thing {
	list := []Thing{}
	for i, p := range k.Parts {
		t := Thing{ID: p.ID, Name: p.Name, Family: p.Family, Kind: k.Kind(p.ID), Source: p.Source}
		if r := mine.Parts[i].Rect; r != nil {
			x, y := compare.Centre(mine, b, *r)
			w, h := r.W/mine.Width*b.Width, r.H/mine.Height*b.Height
			t.Place = &Place{X: x - w/2, Y: y - h/2, W: w, H: h}
		}
		list = append(list, t)
	}
	return list
}

// judge says what a change means, and for whom.
func (r Room) judge(c compare.Ranked, a, b *model.Record) Change {
	name := cmp.Or(b.PartByID[c.B].Name, a.PartByID[c.A].Name)
	if old := a.PartByID[c.A].Name; old != "" && c.B != "" && !strings.EqualFold(old, name) {
		name = old + " → " + name
	}
	out := Change{Ranked: c, Name: name, Judgement: "no matter", For: "technicians"}
	minutes := 0.0 // in the job that it changes most
	job := ""
	add := func(m map[string]float64) {
		for _, j := range model.JobKinds {
			if x := m[j.Job]; max(x, -x) > max(minutes, -minutes) {
				minutes, job = x, j.Job
			}
		}
	}
	var match *compare.Match
	for i, m := range r.Found.Matched {
		if m.A == c.A && m.B == c.B {
			match = &r.Found.Matched[i]
			add(m.Minutes)
		}
	}
	for _, g := range append(slices.Clone(r.Found.Gone), r.Found.Added...) {
		if match == nil && (g.Part == c.A || g.Part == c.B) {
			add(g.Minutes)
		}
	}
	reasons := []string{}
	if match != nil {
		for _, j := range match.JointsGained {
			reasons = append(reasons, j+" more")
		}
		for _, j := range match.JointsLost {
			reasons = append(reasons, j+" fewer")
		}
	}
	if max(minutes, -minutes) >= 0.05 {
		reasons = append([]string{signed(minutes) + " min in the " + job + " job"}, reasons...)
	}
	switch {
	case minutes > 0.05:
		out.Judgement = "harder"
	case minutes < -0.05:
		out.Judgement = "easier"
	case match != nil && match.Interchange == "ruled out" || match == nil:
		out.Judgement, out.For = "dearer", "parts buyers"
	}
	if match != nil && match.Interchange == "ruled out" && out.For == "technicians" {
		out.For = "technicians, dearer for parts buyers"
	}
	if match != nil && match.Interchange == "ruled out" {
		reasons = append(reasons, "no longer interchanges: to be stocked for each model")
	}
	if match == nil {
		reasons = append(reasons, map[string]string{"gone": "this part is not there any more", "added": "a part that was not there before",
			"merged": "its functions went into another part, which is replaced as a whole",
			"split":  "took over functions of another part", "replaced": "another part does its work now"}[c.Changes[0]])
	}
	out.Why = strings.Join(reasons, "; ")
	return out
}

// signed is a difference to a tenth, with a minus sign as it is set in print.
func signed(x float64) string { return strings.Replace(fmt.Sprintf("%+.1f", x), "-", "−", 1) }

// say is the sentence that the visitor came for.
func (r Room) say() answer.Sentence {
	s := answer.Sentence{answer.Name(r.B.Model.Name, ""), answer.Text(" against "), answer.Name(r.A.Model.Name, ""), answer.Text(": ")}
	said := 0
	for _, j := range r.Jobs {
		steps := j.StepsB - j.StepsA
		if steps == 0 || said == 2 {
			continue
		}
		if said > 0 {
			s = append(s, answer.Text(", "))
		}
		word := " longer"
		if steps < 0 {
			word, steps = " shorter", -steps
		}
		s = append(s, answer.Text(j.Job+" "), answer.Count(steps, "step", "#jobs"), answer.Text(word))
		said++
	}
	if said == 0 {
		s = append(s, answer.Text("the common jobs take as many steps"))
	}
	f := r.Found.Facts
	if f.RuledOut > 0 {
		s = append(s, answer.Text("; "), answer.Count(f.RuledOut, "part", "#changes"), answer.Text(" no longer interchange"))
		if f.RuledOut == 1 {
			s[len(s)-1] = answer.Text(" no longer interchanges")
		}
	}
	if f.ToConfirm > 0 {
		s = append(s, answer.Text("; "), answer.Count(f.ToConfirm, "pair", "#confirm"), answer.Text(" to confirm"))
	}
	return append(s, answer.Text("."))
}

// doubts are figures that do not go together across the two models.
func doubts(out compare.Output, a, b *model.Record) []string {
	list := []string{}
	for _, m := range out.Matched {
		p, q := a.PartByID[m.A], b.PartByID[m.B]
		if quantity.Turned(quantity.Pack{MAh: p.CapacityMAh, Wh: p.EnergyWh}, quantity.Pack{MAh: q.CapacityMAh, Wh: q.EnergyWh}) {
			list = append(list, fmt.Sprintf("%s: %g mAh and %g Wh against %g mAh and %g Wh turn the order over: one figure was misread?",
				q.Name, q.CapacityMAh, q.EnergyWh, p.CapacityMAh, p.EnergyWh))
		}
		x, y := model.Quantities(p), model.Quantities(q)
		for name, v := range x {
			if w, both := y[name]; both && v.Unit != w.Unit {
				list = append(list, fmt.Sprintf("%s: %s is in %s here and in %s there: not compared", q.Name, name, w.Unit, v.Unit))
			}
		}
	}
	slices.Sort(list)
	return list
}

// Say keeps what a person said about a pair; a later word replaces an earlier one.
func Say(ctx context.Context, s *act.Service, c act.Command, id string, f store.PartPairFacts) (store.PartPair, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.PartPair, error) {
		row := store.PartPair{Row: store.Row{ID: id}, PartPairFacts: f}
		p, err := store.Get[store.Part](tx.DB, f.PartID)
		if err != nil {
			return row, fault.New("part_id", f.PartID, "the id of a part")
		}
		q, err := store.Get[store.Part](tx.DB, f.OtherPartID)
		if err != nil || q.ModelID == p.ModelID {
			return row, fault.New("other_part_id", f.OtherPartID, "the id of a part of another model")
		}
		row.ModelID, row.OtherModelID = p.ModelID, q.ModelID
		earlier, err := said(tx.DB, p.ModelID, q.ModelID)
		if err != nil {
			return row, err
		}
		for _, e := range earlier {
			same := e.PartID == f.PartID && e.OtherPartID == f.OtherPartID || e.PartID == f.OtherPartID && e.OtherPartID == f.PartID
			shares := slices.Contains([]string{e.PartID, e.OtherPartID}, f.PartID) ||
				slices.Contains([]string{e.PartID, e.OtherPartID}, f.OtherPartID)
			if same || shares && e.Verdict == "confirmed" && f.Verdict == "confirmed" {
				if _, err := store.Delete[store.PartPair](tx, e.ID, e.Version); err != nil {
					return row, err
				}
			}
		}
		if err := store.Touch(tx.DB, q.ModelID); err != nil {
			return row, err
		}
		return row, store.Create(tx, &row)
	})
}

// Unsay takes a word about a pair back.
func Unsay(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.PartPair, error) {
	return act.Delete[store.PartPair](ctx, s, c, id, saw, nil)
}

// SayAgain brings it back.
func SayAgain(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.PartPair, error) {
	return act.Restore[store.PartPair](ctx, s, c, id, saw, nil)
}
