// Package compare is the room in which two models lie over each other.
package compare

import (
	"context"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/compare"
	"waryowl/internal/core/fault"
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
	For       string `json:"for"                                             doc:"for whom: technicians, parts buyers, analysts"`
	Why       string `json:"why"`
}

// JobDifference is the difference of the ways of a job.
type JobDifference struct {
	compare.JobChange
	StepsA   int     `json:"steps_a"`
	StepsB   int     `json:"steps_b"`
	MinutesA float64 `json:"minutes_a"`
	MinutesB float64 `json:"minutes_b"`
	RunsA    int     `json:"runs_a"    doc:"steps of the way with a measured time"`
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
	Answer   answer.Sentence  `json:"answer"   nullable:"false"`
	Found    compare.Output   `json:"found"`
	Changes  []Change         `json:"changes"  nullable:"false"`
	Jobs     []JobDifference  `json:"jobs"     nullable:"false"`
	Causes   []string         `json:"causes"   nullable:"false" doc:"what changes at the bench and by what, the largest first"`
	NoWay    []string         `json:"no_way"   nullable:"false" doc:"jobs without a way in one of the two"`
	Claims   []Claim          `json:"claims"   nullable:"false"`
	Doubts   []string         `json:"doubts"   nullable:"false" doc:"figures that do not go together"`
	Mirrored bool             `json:"mirrored"                  doc:"the earlier model is laid over turned left to right"`
	Said     []store.PartPair `json:"said"     nullable:"false"`
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
	r := Room{
		A:       Side{Model: a.Model, Parts: []Thing{}},
		B:       Side{Model: b.Model, Parts: []Thing{}},
		Changes: []Change{},
		Jobs:    []JobDifference{},
		NoWay:   []string{},
		Causes:  []string{},
		Claims:  []Claim{},
		Doubts:  []string{},
		Said:    []store.PartPair{},
	}
	if len(a.Parts) == 0 || len(b.Parts) == 0 {
		empty := a
		if len(a.Parts) > 0 {
			empty = b
		}
		r.Found = compare.Output{Matched: []compare.Match{}, Gone: []compare.Alone{}, Added: []compare.Alone{},
			Jobs: []compare.JobChange{}, Ranked: []compare.Ranked{}}
		r.Answer = answer.Sentence{
			answer.Text("Nothing to compare yet: record the parts of "),
			answer.Name(empty.Name, ""),
			answer.Text(" in its teardown."),
		}
		return r, nil
	}
	if r.Said, err = said(db, aID, bID); err != nil {
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
		wa, wb := wayOf(a, j.Kind), wayOf(b, j.Kind)
		job := compare.Job{
			Job:    j.Job,
			Weight: j.Share,
		} // a job without a way in one of the two is not known, and said so
		if p := a.OfKind(j.Kind); p != nil {
			job.Target.A = p.ID
		}
		if p := b.OfKind(j.Kind); p != nil {
			job.Target.B = p.ID
		}
		if wa != nil {
			job.A = asWay(wa, a)
		}
		if wb != nil {
			job.B = asWay(wb, b)
		}
		if wa == nil || wb == nil {
			r.NoWay = append(r.NoWay, j.Job)
		}
		if wa != nil || wb != nil {
			ways[j.Job] = [2]*model.Way{wa, wb}
			in.Jobs = append(in.Jobs, job)
		}
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
		if w[0] == nil || w[1] == nil {
			continue
		}
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
	for _, c := range r.Found.Causes {
		r.Causes = append(r.Causes, c.Say(in))
	}
	r.Answer = r.say()
	for _, k := range []*model.Record{a, b} {
		if onlyInferred(k) {
			r.Answer = append(r.Answer, answer.Text(" Nothing of the "+k.Name+" was seen yet: its record was begun from another model's."))
		}
	}
	return r, nil
}
