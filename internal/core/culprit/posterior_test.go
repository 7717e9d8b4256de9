package culprit

import (
	"math"
	"math/rand/v2"
	"testing"
)

// random is a posterior over so many explanations and kinds of reading, some of them with the same explanations at work.
func random(r *rand.Rand, explanations, halves, kinds int) *posterior {
	p := &posterior{of: map[int][2]int{}, noise: noise{falseLoss, falsePass}}
	for k := range kinds {
		lost := r.IntN(2) == 0
		p.kinds = append(p.kinds, kind{lost: lost, vague: lost && r.IntN(6) == 0, n: 1 + r.IntN(3)})
		if lost {
			p.lost.add(k)
		}
	}
	for i := 0; i < explanations; {
		x := class{half: len(p.halves) < halves}
		for k := range kinds {
			if r.IntN(3) == 0 {
				x.at.add(k)
				x.list = append(x.list, k)
			}
		}
		for n := 1 + r.IntN(2); n > 0 && i < explanations && !(x.half && len(x.members) > 0); n-- { // alike
			x.members, x.each = append(x.members, i), append(x.each, .002+.3*r.Float64())
			i++
		}
		x.odds = joint(x.each)
		if x.half {
			p.halves = append(p.halves, x)
		} else {
			p.sure = append(p.sure, x)
		}
	}
	p.gains()
	p.order()
	return p
}

// enumerate weighs every set of explanations by itself: the noisy-or of J. Pearl, "Probabilistic Reasoning in Intelligent
// Systems", 1988, read off its definition. It gives the chance of each explanation, and that something strikes a kind.
func enumerate(p *posterior, explanations int) (chance, struck []float64) {
	chance, struck = make([]float64, explanations), make([]float64, len(p.kinds))
	total := 0.0
	for set := range 1 << explanations {
		weight := 1.0
		sure, soft := make([]bool, len(p.kinds)), make([]int, len(p.kinds))
		for _, list := range [][]class{p.sure, p.halves} {
			for _, x := range list {
				for j, i := range x.members {
					if set>>i&1 == 0 {
						continue
					}
					weight *= x.each[j]
					for k := range p.kinds {
						if x.at.has(k) && x.half {
							soft[k]++
						} else if x.at.has(k) {
							sure[k] = true
						}
					}
				}
			}
		}
		for k, kd := range p.kinds {
			spared := math.Pow(.5, float64(soft[k]))
			if sure[k] {
				spared = 0
			}
			base := .02
			if kd.vague && spared > 0 {
				base = .5
			}
			lost := (1-spared)*.98 + spared*base
			if !kd.lost {
				lost = 1 - lost
			}
			weight *= math.Pow(lost, float64(kd.n))
		}
		total += weight
		for i := range chance {
			if set>>i&1 == 1 {
				chance[i] += weight
			}
		}
		for k := range struck {
			if sure[k] {
				struck[k] += weight
			}
		}
	}
	for i := range chance {
		chance[i] /= total
	}
	for k := range struck {
		struck[k] /= total
	}
	return chance, struck
}

func TestThePosteriorIsThatOfFullEnumeration(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	for range 60 {
		n := 4 + r.IntN(9)
		p := random(r, n, r.IntN(3), 2+r.IntN(5))
		p.solve(1 << 13)
		want, struck := enumerate(p, n)
		for i := range n {
			if got := p.marginal(i); math.Abs(got-want[i]) > 1e-9 {
				t.Errorf("%d explanations, %d: %.10f, by enumeration %.10f", n, i, got, want[i])
			}
		}
		for k := range p.kinds {
			got := p.any(func(i int) bool { return p.of[i][0] == 0 && p.sure[p.of[i][1]].at.has(k) })
			if math.Abs(got-struck[k]) > 1e-9 {
				t.Errorf("%d explanations, kind %d struck: %.10f, by enumeration %.10f", n, k, got, struck[k])
			}
		}
	}
}

func TestWhatIsLeftOutIsBounded(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 6))
	cut := 0
	for range 12 {
		p := random(r, 17, 0, 9)
		p.solve(1 << 13)
		var exact []float64
		whole := *p
		whole.shared = nil
		whole.run(whole.ahead(fewAhead), 0, math.MaxInt)
		for i := range 17 {
			exact = append(exact, whole.marginal(i))
		}
		for _, floor := range []float64{1e-2, 1e-3, 1e-5} {
			p.shared = nil
			p.run(p.ahead(fewAhead), floor, math.MaxInt)
			if p.left > 0 {
				cut++
			}
			for i, want := range exact {
				if got := p.marginal(i); math.Abs(got-want) > p.left+1e-9 {
					t.Errorf("floor %g: %.6f and %.6f differ by more than the %.6f left out", floor, got, want, p.left)
				}
			}
		}
	}
	if cut == 0 {
		t.Error("nothing was ever left out: the check says nothing")
	}
}
