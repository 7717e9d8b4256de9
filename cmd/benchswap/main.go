// Command benchswap plays whole swap studies on simulated phones by several policies and prints how many bench minutes
// they take and what they get wrong, as a Markdown table.
package main

import (
	"flag"
	"fmt"
	"math"
	"os"
	"runtime"
	"runtime/debug"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/policy"
	"waryowl/internal/sim"
)

var policies = []struct {
	name string
	next policy.Policy
}{{"one at a time", policy.OneAtATime}, {"board first, then one at a time", policy.BoardFirst}, {"halving",
	policy.Halving}, {"ours", policy.Ours}}

// worlds: what is assumed of the noise stands beside what the phones really do.
var worlds = []struct {
	name  string
	noise diagnose.Noise
	world sim.World
}{
	{"noise 0 %", diagnose.Noise{}, sim.World{}},
	{"noise 3 %", diagnose.Noise{FalseLoss: 0.03, FalsePass: 0.03}, sim.World{Noise: 0.03}},
	{"bad seats, 2 % a fitting", ledger.Noise, sim.World{Seat: 0.02}},
	{"a third of the losses stick", ledger.Noise, sim.World{Sticky: 0.33}},
	{"a defective piece in every pair", ledger.Noise, sim.World{Bad: 1}},
	{"a third of the culprits comes and goes, a fifth ends by a reset", ledger.Noise,
		sim.World{Sometimes: 0.33, Until: 0.2}},
	{"a piece is hurt on the way in every pair", ledger.Noise, sim.World{Damage: 1}},
	{"one culprit in twenty needs two parts that nobody named", ledger.Noise, sim.World{Undeclared: 0.05}},
	{"a third of the culprits needs two parts that nobody named", ledger.Noise, sim.World{Undeclared: 0.33}},
	{"wrong priors: any part costs any check", ledger.Noise, sim.World{Noise: 0.03, Scattered: true}},
}

type tally struct {
	minutes, rounds            float64
	named, wrong, bad, unready int
	verdicts, works, proven    int // signed, and false: works where it costs the check, proven where it is not so
}

func main() {
	phones := flag.Int("phones", 1000, "simulated pairs in the world without noise")
	noisy := flag.Int("noisy", 150, "simulated pairs in the world with wrong readings")
	others := flag.Int("others", 40, "simulated pairs in the worlds that the reading does not assume")
	small := flag.Int("mixed", 500, "small worlds with causes that combine, at each noise; 0: none")
	only := flag.String("world", "", "only the world of this name")
	alone := flag.String("policy", "", "only the policy of this name")
	flag.Parse()
	debug.SetGCPercent(1600) // a study takes a few megabytes: collecting less often saves a quarter of the time
	start := time.Now()
	if *small > 0 && *only == "" {
		mixedWorlds(uint64(*small))
	}
	fmt.Print("Simulated pairs of 12–18 slots and 25 checks, a quarter of them locked. Minutes are means until " +
		"nothing is open that an exchange could settle;\n" +
		"the baselines, the same for all, are not counted. The information bound is what the priors leave open over " +
		"one bit a check and start, without any exchange.\n\n")
	for _, w := range worlds {
		if *only != "" && w.name != *only {
			continue
		}
		w.world.SlotsMin, w.world.Slots, w.world.Checks, w.world.LockShare, w.world.Mates = 12, 18, 25, 0.25, true
		n := *phones
		if w.world.Noise > 0 {
			n = *noisy
		}
		if w.world.Seat+w.world.Sticky+w.world.Bad > 0 || w.world.Trapped() || w.world.Scattered {
			n = *others
		}
		fmt.Printf("### %s (%d pairs)\n\n| policy | minutes | of one at a time | rounds | false among named "+
			"culprits | phones with a wrong verdict | not settled | false works, per 1,000 verdicts | false proven |\n"+
			"|---|---|---|---|---|---|---|---|---|\n", w.name, n)
		base := 0.0
		bound := 0.0
		for _, p := range policies {
			if *alone != "" && p.name != *alone {
				continue
			}
			sum, bits := play(w.world, w.noise, p.next, uint64(n))
			n := float64(n)
			if base == 0 {
				base = sum.minutes
				bound = bits
			}
			fmt.Printf("| %s | %.0f | %.1f %% | %.1f | %.2f %% (%d of %d) | %.1f %% | %d | %.2f (%d of %d) | %.2f (%d) |\n",
				p.name, sum.minutes/n,
				100*sum.minutes/base, sum.rounds/n,
				100*float64(sum.wrong)/math.Max(1,
					float64(sum.named)), sum.wrong, sum.named, 100*float64(sum.bad)/n, sum.unready,
				1000*float64(sum.works)/math.Max(1, float64(sum.verdicts)), sum.works, sum.verdicts,
				1000*float64(sum.proven)/math.Max(1, float64(sum.verdicts)), sum.proven)
		}
		fmt.Printf("\nInformation bound: %.0f min.\n\n", bound/float64(n))
	}
	fmt.Fprintf(os.Stderr, "%.0f s on %d processors\n", time.Since(start).Seconds(), runtime.GOMAXPROCS(0))
}

// play lets a policy study every pair; bound is the sum of the least minutes that information allows.
func play(w sim.World, noise diagnose.Noise, next policy.Policy, phones uint64) (sum tally, bound float64) {
	var mu sync.Mutex
	var wait sync.WaitGroup
	var seed atomic.Uint64
	for range runtime.GOMAXPROCS(0) {
		wait.Go(func() {
			for s := seed.Add(1); s <= phones; s = seed.Add(1) {
				p := sim.NewPhones(s, w)
				g, err := policy.Play(caseOf(p, noise), p.Bench(1), next)
				if err != nil {
					fmt.Fprintln(os.Stderr, "seed", s, err)
					os.Exit(1)
				}
				verdicts, err := g.Verdicts()
				if err != nil {
					fmt.Fprintln(os.Stderr, "seed", s, err)
					os.Exit(1)
				}
				one := judge(p, g)
				one.sign(p, verdicts)
				b := least(p)
				mu.Lock()
				sum.minutes, sum.rounds = sum.minutes+one.minutes, sum.rounds+one.rounds
				sum.named, sum.wrong = sum.named+one.named, sum.wrong+one.wrong
				sum.verdicts, sum.works, sum.proven = sum.verdicts+one.verdicts, sum.works+one.works,
					sum.proven+one.proven
				sum.bad, sum.unready = sum.bad+one.bad, sum.unready+one.unready
				bound += b
				mu.Unlock()
			}
		})
	}
	wait.Wait()
	return sum, bound
}

func caseOf(p *sim.Phones, noise diagnose.Noise) policy.Case {
	c := policy.Case{Boards: [2]string{sim.Units[0], sim.Units[1]}, Mates: p.Mates, BoardOwn: p.BoardOwn, Noise: noise,
		Cost: p.Cost, Reseat: p.ReseatCost, Trapped: p.World.Trapped()}
	for _, s := range p.Slots {
		c.Slots = append(c.Slots, policy.Slot{Name: s.Name, Family: s.Family})
	}
	for _, k := range p.Checks {
		c.Checks = append(c.Checks, policy.Check{Name: k.Name, Family: k.Family, Seconds: k.Seconds})
	}
	return c
}

// judge compares what was named and cleared with the hidden truth. A defective piece is a culprit of its check where it
// sits.
func judge(p *sim.Phones, g *policy.Game) tally {
	t := tally{minutes: g.Minutes, rounds: float64(len(g.Rounds))}
	true_ := func(c [2]string) bool { return p.Truth(c[1], c[0], sim.Builds[0]) }
	named, cleared := g.Named()
	wrong := false
	for _, c := range named {
		t.named++
		if !true_(c) {
			t.wrong++
			wrong = true
		}
	}
	wrong = wrong || slices.ContainsFunc(cleared, func(c [2]string) bool {
		piece := strings.TrimSuffix(strings.TrimPrefix(c[1], "piece:"), ":bad")
		return true_(c) && p.Hurt[piece].Check != c[0] // what was hurt on the way was not bad from the start
	})
	if wrong {
		t.bad++
	}
	if !g.Done() {
		t.unready = 1
	}
	return t
}

// sign counts the verdicts that a study signs, and the false ones among them.
func (t *tally) sign(p *sim.Phones, verdicts []ledger.Verdict) {
	for _, v := range verdicts {
		costs := p.Costs(v.Slot, v.Check, sim.Builds[0])
		works := v.Mark == ledger.Works
		loses := slices.Contains([]string{ledger.Loses, ledger.Dead, ledger.Sporadic}, v.Mark)
		t.verdicts++
		if works && costs {
			t.works++
		}
		if v.Eye == ledger.Open && (works && costs || loses && !costs) {
			t.proven++
		}
	}
}

// least is the bound that information sets: the entropy of the priors of the slots over all checks, with at most one
// bit a check and round, and the cheapest way to fit half of the slots once.
func least(p *sim.Phones) float64 {
	h := func(x float64) float64 { return -x*math.Log2(x) - (1-x)*math.Log2(1-x) }
	most, seconds := 0.0, 0.0
	for _, c := range p.Checks {
		bits := 0.0
		for _, s := range p.Slots {
			if s.Family == c.Family {
				bits += h(ledger.PriorRelated)
			} else {
				bits += h(ledger.PriorUnrelated)
			}
		}
		most = math.Max(most, bits)
		seconds += c.Seconds
	}
	// Every round starts the phone; the checks are open for as long as their own uncertainty needs, at least once.
	return math.Ceil(most)*2 + seconds/60
}
