package day

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"os"
	"testing"

	"waryowl/internal/core/fault"
)

func read(t *testing.T, name string) (in Input) {
	t.Helper()
	raw, err := os.ReadFile("testdata/" + name)
	if err != nil {
		t.Fatal(err)
	}
	if err := json.Unmarshal(raw, &in); err != nil {
		t.Fatal(err)
	}
	return in
}

// The worked example of the contract. Simulated chances agree within their sampling error.
func TestExample(t *testing.T) {
	out, err := Solve(read(t, "example.json"))
	if err != nil {
		t.Fatal(err)
	}
	raw, err := os.ReadFile("testdata/example.out.json")
	if err != nil {
		t.Fatal(err)
	}
	var want Output
	if err := json.Unmarshal(raw, &want); err != nil {
		t.Fatal(err)
	}
	text := func(v any) string { return fmt.Sprintf("%+v", v) }
	for name, pair := range map[string][2]any{"value": {out.Value, want.Value}, "bound": {out.Bound, want.Bound},
		"proven": {out.Proven, want.Proven}, "first": {out.First, want.First}, "collisions": {out.Collisions, want.Collisions},
		"plan": {out.Plan, want.Plan}, "first come": {*out.FirstCome, *want.FirstCome},
		"one by one": {*out.OneByOne, *want.OneByOne}} {
		if text(pair[0]) != text(pair[1]) {
			t.Errorf("%s:\n%s, want\n%s", name, text(pair[0]), text(pair[1]))
		}
	}
	for job, p := range want.POnTime {
		if math.Abs(out.POnTime[job]-p) > 0.02 {
			t.Errorf("%s on time %v, want %v", job, out.POnTime[job], p)
		}
	}
	if math.Abs(out.Reheats-want.Reheats) > 0.03 || out.PDoneByClose < 0.99 {
		t.Errorf("reheats %v, want %v; done %v", out.Reheats, want.Reheats, out.PDoneByClose)
	}
}

// Two machines in a row: lengths (4,5), (4,1), (30,4), (6,30), (2,3) end at 47 (S. M. Johnson 1954, from memory and
// recomputed by his rule).
func TestTwoMachines(t *testing.T) {
	in := Input{Close: 100, Runs: 1, Machines: []Machine{{ID: "first"}, {ID: "second"}}}
	for k, l := range [][2]int{{4, 5}, {4, 1}, {30, 4}, {6, 30}, {2, 3}} {
		in.Jobs = append(in.Jobs, Job{ID: fmt.Sprint("j", k), Ops: []Op{{ID: "a", P50: l[0], Machine: "first"},
			{ID: "b", P50: l[1], Machine: "second", After: []After{{Op: "a"}}}}})
	}
	out, err := Solve(in)
	if err != nil || out.Makespan != 47 || !out.Proven {
		t.Errorf("%+v, proven %v, %v", out.Value, out.Proven, err)
	}
}

// One operation: done by close with Φ(ln(close/p50)/σ), σ = ln(p90/p50)/1.2816.
func TestOneLength(t *testing.T) {
	p90 := 1500
	for _, closes := range []int{700, 1000, 1500, 2500} {
		in := Input{Close: closes, Runs: 20_000, Jobs: []Job{{ID: "j", Ops: []Op{{ID: "o", P50: 1000, P90: &p90}}}}}
		out, err := Solve(in)
		if err != nil {
			t.Fatal(err)
		}
		z := math.Log(float64(closes)/1000) / (math.Log(1.5) / 1.2816)
		if want := 0.5 * math.Erfc(-z/math.Sqrt2); math.Abs(out.PDoneByClose-want) > 0.015 {
			t.Errorf("close %d: %v, want %v", closes, out.PDoneByClose, want)
		}
	}
}

// The day as it stands: what is running and over stays, a heat that has cooled loses its link.
func TestReplan(t *testing.T) {
	in := read(t, "example.json")
	start, end := 0, 300
	in.Now = 500
	in.Jobs[0].Ops[0].Started, in.Jobs[0].Ops[0].Ended = &start, &end
	in.Jobs[1].Ops[0].Started = &end
	out, err := Solve(in)
	if err != nil {
		t.Fatal(err)
	}
	if fmt.Sprint(out.Cooled) != "[amber/heat]" || out.Plan[0].End != 300 || out.Plan[1].Start != 300 || out.Plan[1].End != 600 {
		t.Errorf("cooled %v, plan %+v", out.Cooled, out.Plan[:2])
	}
	for _, s := range out.Plan[2:] {
		if s.Start < 500 {
			t.Errorf("%+v starts before now", s)
		}
	}
}

func TestBadInput(t *testing.T) {
	zero, two, late := 0, 2, 99999
	for field, change := range map[string]func(*Input){
		"heat":                            func(in *Input) { in.Heat = "cold" },
		"people[0].breaks[0]":             func(in *Input) { in.People[0].Breaks = []Break{{5, 4}} },
		"machines[1].id":                  func(in *Input) { in.Machines[1].ID = "plate" },
		"machines[0].tray":                func(in *Input) { in.Machines[0].Units, in.Machines[0].Tray = &two, "a" },
		"jobs[1].id":                      func(in *Input) { in.Jobs[1].ID = "amber" },
		"jobs[0].ops[0].p50":              func(in *Input) { in.Jobs[0].Ops[0].P50 = late },
		"jobs[0].ops[0].p90":              func(in *Input) { in.Jobs[0].Ops[0].P90 = &zero },
		"jobs[0].ops[0].machine":          func(in *Input) { in.Jobs[0].Ops[0].Machine = "kiln" },
		"jobs[0].ops[1].skill":            func(in *Input) { in.Jobs[0].Ops[1].Skill = "glass" },
		"jobs[0].ops[0].started":          func(in *Input) { in.Jobs[0].Ops[0].Started = &two },
		"jobs[0].ops":                     func(in *Input) { in.Jobs[0].Ops[0].After = []After{{Op: "test"}} },
		"jobs[0].ops[1].after[0].op":      func(in *Input) { in.Jobs[0].Ops[1].After[0].Op = "dance" },
		"jobs[0].ops[1].after[0].max_lag": func(in *Input) { in.Jobs[0].Ops[1].After[0].MinLag = 61 },
		// it must wait for two, one of which is over too early
		"jobs": func(in *Input) {
			in.Jobs[0].Ops[3].After = []After{{Op: "heat", MaxLag: &zero}, {Op: "swap"}}
		},
	} {
		in := read(t, "example.json")
		change(&in)
		_, err := Solve(in)
		var f *fault.Fault
		if !errors.As(err, &f) || f.Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}

func BenchmarkSizes(b *testing.B) {
	for _, jobs := range []int{4, 8, 15, 30} {
		b.Run(fmt.Sprint(jobs), func(b *testing.B) {
			raw, _ := os.ReadFile("testdata/example.json")
			var in Input
			json.Unmarshal(raw, &in)
			list := in.Jobs
			in.Jobs = nil
			for k := range jobs {
				j, due := list[k%2], 3600+900*k
				j.ID, j.Due = fmt.Sprint("j", k), &due
				in.Jobs = append(in.Jobs, j)
			}
			for b.Loop() {
				out, err := Solve(in)
				if err != nil {
					b.Fatal(err)
				}
				b.ReportMetric(out.WeightedTardiness, "late")
				b.ReportMetric(out.Bound.WeightedTardiness, "bound")
			}
		})
	}
}
