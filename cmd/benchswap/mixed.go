package main

import (
	"fmt"
	"os"
	"runtime"
	"sync"
	"sync/atomic"

	"waryowl/internal/core/mixed"
)

// mostTrials is how many trials a study of a mixed world may take.
const mostTrials = 24

// mixedTally is what the studies of one noise came to.
type mixedTally struct {
	said, works, loss, pairs, found int
	minutes                         float64
}

// mixedWorlds prints the head table: worlds of which half have lone culprits and a tenth each pairs that nobody
// declared, hurt pieces, one board that refuses, losses that stay and losses that come and go; by how often a reading
// is wrong.
func mixedWorlds(worlds uint64) {
	fmt.Printf("### Mixed worlds (%d studies of 4 to 6 slots at each noise, by what is advised and one part at a time)\n\n"+
		"| wrong readings | policy | false “works” | false culprits | of verdicts | pairs found | minutes | of one at a time |\n"+
		"|---|---|---|---|---|---|---|---|\n", worlds)
	for _, noise := range []float64{0, 0.01, 0.02} {
		plain := playMixed(worlds, noise, mixed.OneAtATime)
		ours := playMixed(worlds, noise, mixed.Advised)
		for _, p := range []struct {
			name string
			t    mixedTally
		}{{"one at a time", plain}, {"ours", ours}} {
			fmt.Printf("| %g %% | %s | %d | %d | %d | %d of %d | %.0f | %.0f %% |\n", 100*noise, p.name, p.t.works, p.t.loss,
				p.t.said,
				p.t.found, p.t.pairs, p.t.minutes/float64(worlds), 100*p.t.minutes/plain.minutes)
		}
	}
	fmt.Println()
}

func playMixed(worlds uint64, noise float64, choose mixed.Choose) (sum mixedTally) {
	var mu sync.Mutex
	var wait sync.WaitGroup
	var next atomic.Uint64
	for range runtime.GOMAXPROCS(0) {
		wait.Go(func() {
			for k := next.Add(1); k <= worlds; k = next.Add(1) {
				kind := mixed.Kinds[int(k)%len(mixed.Kinds)]
				w, in := mixed.New(kind, k+500_000, noise)
				out, minutes, err := w.Play(in, mostTrials, choose)
				if err != nil {
					fmt.Fprintln(os.Stderr, "mixed world", k, err)
					os.Exit(1)
				}
				one := w.Judge(out)
				mu.Lock()
				sum.said, sum.works, sum.loss = sum.said+one.Said, sum.works+one.FalseWorks, sum.loss+one.FalseLoss
				sum.minutes += minutes
				if kind == "both" {
					sum.pairs++
					if one.Found {
						sum.found++
					}
				}
				mu.Unlock()
			}
		})
	}
	wait.Wait()
	return sum
}
