package school

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"
)

// depths are the nine priority parts of the regulated index with their weights (Delegated Regulation (EU) 2023/1669, Annex
// IV point 5, from memory): battery and screen 30 % each, back cover 10 %, the others 5 % each.
var depths = map[string]float64{"battery": 0.3, "screen": 0.3, "back-glass": 0.1, "front-camera": 0.05, "camera": 0.05,
	"port": 0.05, "buttons": 0.05, "microphone": 0.05, "speaker": 0.05}

func shippedNamed(t *testing.T, id string) Rubric {
	t.Helper()
	k := slices.IndexFunc(Shipped(), func(r Rubric) bool { return r.ID == id })
	if k < 0 {
		t.Fatalf("no school %s", id)
	}
	return Shipped()[k]
}

func solveOne(t *testing.T, r Rubric, facts map[string]Value) Score {
	t.Helper()
	no := false
	out, err := Solve(
		Input{Facts: Facts(), Rubrics: []Rubric{r}, Models: []Model{{ID: "m", Facts: facts}}, Compare: &no},
	)
	if err != nil {
		t.Fatal(err)
	}
	return out.Scores[0]
}

// TestRegulatedByHand: the index of one phone worked out by hand from the tables of the rubric, and its class at every edge.
func TestRegulatedByHand(t *testing.T) {
	r := shippedNamed(t, "regulated-2023-1669")
	steps := map[string]float64{"battery": 9, "screen": 2, "back-glass": 5, "front-camera": 6, "camera": 11, "port": 16,
		"buttons": 15, "microphone": 10, "speaker": 3}
	points := map[string]float64{"battery": 3, "screen": 5, "back-glass": 4, "front-camera": 3, "camera": 2, "port": 1,
		"buttons": 2, "microphone": 3, "speaker": 4} // up to 2 steps 5, 5 4, 10 3, 15 2, else 1
	facts := map[string]Value{
		"parts.reach":   {Value: "all-some"},
		"updates.years": {Value: 6.0},
		"manual":        {Value: "trade-free"},
	}
	depth, fasteners, tools := 0.0, 0.0, 0.0
	for part, w := range depths {
		facts[part+".depth"] = Value{Value: steps[part]}
		facts[part+".fasteners"] = Value{Value: "resupplied"} // 3
		facts[part+".tools"] = Value{Value: "basic"}          // 4
		depth += w * points[part]
		fasteners += w * 3
		tools += w * 4
	}
	// 25 % depth, 15 % each for fasteners, tools, parts (3), updates (6 years: 3), information (3).
	want := 0.25*depth + 0.15*(fasteners+tools+3+3+3)
	got := solveOne(t, r, facts)
	if math.Abs(got.Range[0]-want) > 1e-9 || got.Range[0] != got.Range[1] || got.Point == nil {
		t.Errorf("%v, by hand %.4f", got.Range, want)
	}
	if want := []string{"C"}; !slices.Equal(got.Classes, want) { // 3.2875, B from 3.35
		t.Errorf("class %v of %.4f", got.Classes, got.Range[0])
	}
	if !got.Provisional || len(got.Confirm) == 0 || !Unofficial(r) {
		t.Error("an index from memory must be provisional and unofficial")
	}
}

// TestEndsOfEverySchool: everything at its best comes to the top of a scale that the rule can reach, everything at its worst
// to the bottom; what is open lies between.
func TestEndsOfEverySchool(t *testing.T) {
	for _, r := range append(Shipped(), Own()) {
		open := solveOne(t, r, nil)
		if open.Range[0] < r.Scale[0]-1e-9 || open.Range[1] > r.Scale[1]+1e-9 || open.Range[1]-open.Range[0] < 1 {
			t.Errorf("%s: nothing known comes to %v of %v", r.ID, open.Range, r.Scale)
		}
		for end, at := range map[int]map[string]any{0: open.LowAt, 1: open.HighAt} {
			facts := map[string]Value{}
			for id, v := range at {
				if x, ok := v.(int); ok {
					v = float64(x)
				}
				facts[id] = Value{Value: v}
			}
			got := solveOne(t, r, facts)
			if got.Range[0] > open.Range[end]+1e-6 && end == 0 || got.Range[1] < open.Range[end]-1e-6 && end == 1 {
				t.Errorf(
					"%s: the end %d is said to be reached by facts that come to %v, not %v",
					r.ID,
					end,
					got.Range,
					open.Range,
				)
			}
		}
		uses, err := Uses(r)
		if err != nil || len(uses) < 4 {
			t.Errorf("%s uses %d facts, %v", r.ID, len(uses), err)
		}
	}
}

// TestRubricsAreRefusedByPath: a rule that is not one names where it goes wrong.
func TestRubricsAreRefusedByPath(t *testing.T) {
	fresh := func() Rubric {
		r := Own()
		r.Criteria = slices.Clone(r.Criteria)
		return r
	}
	for name, c := range map[string]struct {
		change func(*Rubric)
		path   string
	}{
		"no version":           {func(r *Rubric) { r.Version = "" }, "rubric.version"},
		"a scale turned round": {func(r *Rubric) { r.Scale = []float64{10, 0} }, "rubric.scale"},
		"no criteria":          {func(r *Rubric) { r.Criteria = nil }, "rubric.criteria"},
		"a weight of nothing":  {func(r *Rubric) { r.Criteria[2].Weight = 0 }, "rubric.criteria[2].weight"},
		"twice the same":       {func(r *Rubric) { r.Criteria[1].ID = r.Criteria[0].ID }, "rubric.criteria[1].id"},
		"a fact of nobody": {func(r *Rubric) {
			r.Criteria[0].Points = map[string]any{"linear": "battery.colour", "through": []any{[]any{1.0, 10.0}, []any{2.0, 0.0}},
				"note": map[string]any{"certainty": "house", "source": "x"}}
		}, "rubric.criteria[0].points"},
		"points off the scale": {func(r *Rubric) {
			r.Criteria[0].Points = map[string]any{"constant": 11.0, "note": map[string]any{"certainty": "house", "source": "x"}}
		}, "rubric.criteria[0].points"},
		"no source": {func(r *Rubric) { r.Criteria[0].Note = nil }, "rubric.criteria[0]"},
	} {
		r := fresh()
		c.change(&r)
		err := Check(r)
		if err == nil || !strings.Contains(fmt.Sprint(err), c.path) {
			t.Errorf("%s: %v, want %s", name, err, c.path)
		}
	}
}
