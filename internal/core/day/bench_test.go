package day

import (
	"fmt"
	"math/rand/v2"
	"testing"
)

// shift is a random day of a workshop: heat, opening within its time, hands, cure, checks; two people with breaks, one
// plate, one press, two clamps; due times spread over the day.
func shift(r *rand.Rand, jobs, people int) Input {
	two := 2
	in := Input{
		Close:    9 * 3600,
		Machines: []Machine{{ID: "plate", WarmUp: 300}, {ID: "press"}, {ID: "clamp", Units: &two}},
		Seed:     1,
	}
	for k := range people {
		in.People = append(
			in.People,
			Person{ID: fmt.Sprint("p", k), Breaks: []Break{{From: 14400 + 1800*k, To: 16200 + 1800*k}}},
		)
	}
	for k := range jobs {
		length := func(least, more int) (int, *int) {
			p50 := least + r.IntN(more)
			p90 := p50 * 8 / 5
			return p50, &p90
		}
		due := 3600 + r.IntN(7*3600)
		w := float64(1 + r.IntN(3))
		j := Job{ID: fmt.Sprint("j", k), Due: &due, Weight: &w}
		soft := 60
		add := func(id string, hands int, machine string, least, more int, within *int) {
			p50, p90 := length(least, more)
			o := Op{ID: id, P50: p50, P90: p90, Hands: hands, Machine: machine}
			if n := len(j.Ops); n > 0 {
				o.After = []After{{Op: j.Ops[n-1].ID, MaxLag: within}}
			}
			j.Ops = append(j.Ops, o)
		}
		add("prepare", 1, "", 60, 180, nil)
		add("heat", 0, "plate", 200, 200, nil)
		add("open", 1, "", 180, 300, &soft)
		add("wait", 0, "", 120, 300, nil)
		add("work", 1, "", 300, 1500, nil)
		add("cure", 0, "clamp", 600, 600, nil)
		add("check", 1, "", 120, 240, nil)
		in.Jobs = append(in.Jobs, j)
	}
	return in
}

// BenchmarkShift plans days of 4 to 29 phones, seven operations each, and simulates first come and one by one beside.
func BenchmarkShift(b *testing.B) {
	for _, jobs := range []int{4, 8, 15, 29} {
		b.Run(fmt.Sprint(jobs), func(b *testing.B) {
			ours, first, single, proven, n := 0.0, 0.0, 0.0, 0.0, 0
			for b.Loop() {
				out, err := Solve(shift(rand.New(rand.NewPCG(uint64(n), 5)), jobs, 2))
				if err != nil {
					b.Fatal(err)
				}
				n++
				ours += out.WeightedTardiness
				if out.FirstCome != nil && out.OneByOne != nil {
					first += out.FirstCome.WeightedTardiness
					single += out.OneByOne.WeightedTardiness
				}
				if out.Proven {
					proven++
				}
			}
			b.ReportMetric(ours/60/float64(n), "min-late")
			b.ReportMetric(first/60/float64(n), "min-late-first-come")
			b.ReportMetric(single/60/float64(n), "min-late-one-by-one")
			b.ReportMetric(proven/float64(n), "proven")
		})
	}
}
