package route

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"gonum.org/v1/gonum/graph/network"
	"gonum.org/v1/gonum/graph/simple"
)

// bruteHarvest tries every set of steps that can be carried out, in the plain reading: no changes, survival over the
// set.
func bruteHarvest(in HarvestInput) float64 {
	best := 0.0
	index := map[string]int{}
	for i, s := range in.Steps {
		index[s.ID] = i
	}
	for set := range 1 << len(in.Steps) {
		done, again := 0, true
		for again {
			again = false
			for i, s := range in.Steps {
				if set>>i&1 == 0 || done>>i&1 == 1 {
					continue
				}
				if len(s.After) == 0 || slices.ContainsFunc(s.After, func(alt []string) bool {
					return !slices.ContainsFunc(alt, func(u string) bool { return done>>index[u]&1 == 0 })
				}) {
					done |= 1 << i
					again = true
				}
			}
		}
		if done != set {
			continue
		}
		net, freed := 0.0, map[string]bool{}
		for i, s := range in.Steps {
			if set>>i&1 == 1 {
				net -= in.Rate * s.Seconds
				for _, p := range s.Frees {
					if !freed[p] {
						freed[p] = true
						net += in.Value[p]
					}
				}
			}
		}
		best = math.Max(best, net)
	}
	return best
}

// TestHarvestEqualsBruteForce on random AND/OR graphs, cycles between alternatives included.
func TestHarvestEqualsBruteForce(t *testing.T) {
	taken, left := 0, 0
	for seed := range uint64(400) {
		r := rand.New(rand.NewPCG(seed, 3))
		n := 4 + r.IntN(8)
		in := HarvestInput{Value: map[string]float64{}, Rate: 1}
		for i := range n {
			s := Step{ID: fmt.Sprintf("s%02d", i), Seconds: float64(1 + r.IntN(30))}
			for range r.IntN(3) {
				alt := []string{fmt.Sprintf("s%02d", r.IntN(n))}
				if i > 0 && r.IntN(3) > 0 {
					alt = []string{fmt.Sprintf("s%02d", r.IntN(i))}
				}
				if alt[0] != s.ID {
					s.After = append(s.After, alt)
				}
			}
			if r.IntN(2) == 0 {
				part := fmt.Sprintf("p%d", i)
				s.Frees = []string{part}
				in.Value[part] = float64(r.IntN(60))
			}
			in.Steps = append(in.Steps, s)
		}
		if len(in.Value) == 0 {
			continue
		}
		out, err := Harvest(in)
		if err != nil {
			t.Fatalf("seed %d: %v", seed, err)
		}
		if want := bruteHarvest(in); math.Abs(out.Net-want) > 1e-6 || !out.Proven {
			t.Fatalf("seed %d: nets %g (bound %g), brute force %g", seed, out.Net, out.Bound, want)
		}
		taken, left = taken+len(out.Take), left+len(out.Leave)
	}
	if taken < 100 || left < 100 {
		t.Errorf("%d parts taken and %d left: the instances are too easy", taken, left)
	}
}

// TestMaxFlow checks the minimum cut against gonum's Dinic.
func TestMaxFlow(t *testing.T) {
	for seed := range uint64(100) {
		r := rand.New(rand.NewPCG(seed, 5))
		n := 4 + r.IntN(8)
		c, g := newCut(n), simple.NewWeightedDirectedGraph(0, 0)
		for i := range n {
			g.AddNode(simple.Node(i))
		}
		for i := range n {
			for k := range n {
				if i != k && r.IntN(3) == 0 {
					w := float64(1 + r.IntN(20))
					c.edge(i, k, w)
					g.SetWeightedEdge(simple.WeightedEdge{F: simple.Node(i), T: simple.Node(k), W: w})
				}
			}
		}
		if got, want := c.maxFlow(0, n-1), network.MaxFlowDinic(g, simple.Node(0), simple.Node(n-1),
			-1); math.Abs(got-want) > 1e-9 {
			t.Fatalf("seed %d: %g, gonum %g", seed, got, want)
		}
	}
}

func TestHarvestCountsChangesAndRisk(t *testing.T) {
	in := HarvestInput{Rate: 1, ToolChangeSeconds: 6, Value: map[string]float64{"camera": 40, "clip": 3},
		Steps: []Step{{ID: "a", Tool: "blade", Seconds: 10, Frees: []string{"camera"},
			Risk: map[string]float64{"camera": 0.25}}, {ID: "b", Tool: "driver", Seconds: 2, Frees: []string{"clip"}}}}
	out, err := Harvest(in)
	if err != nil || !slices.Equal(out.Take, []string{"camera"}) || out.Net != 40*0.75-16 {
		t.Errorf("%+v, %v: the clip's 3 do not pay for 2 s and a change of 6 s", out, err)
	}
	for _, bad := range []HarvestInput{{Steps: in.Steps}, {Steps: in.Steps, Value: map[string]float64{"ghost": 1}},
		{Steps: in.Steps, Value: map[string]float64{"clip": -1}},
		{Steps: in.Steps, Value: in.Value, Rate: math.NaN()}} {
		if _, err := Harvest(bad); err == nil {
			t.Errorf("%+v was not refused", bad.Value)
		}
	}
}
