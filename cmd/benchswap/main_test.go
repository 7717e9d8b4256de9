package main

import (
	"testing"

	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/mixed"
	"waryowl/internal/core/policy"
	"waryowl/internal/sim"
)

// TestJudge: a named culprit that the hidden truth does not know is false, a true one that was cleared is wrong too,
// and a defective piece is a true culprit of its check.
func TestJudge(t *testing.T) {
	p := sim.NewPhones(1, sim.World{SlotsMin: 6, Slots: 6, Checks: 4, LockShare: 0.1})
	p.Locks = []sim.Lock{{Check: p.Checks[0].Name, Kind: "single", Slots: []string{"battery"}}}
	p.Bad = map[string]string{"pine-display": p.Checks[1].Name}
	for name, c := range map[string]struct {
		check    int
		marginal map[string]float64
		named    int
		wrong    int
		bad      int
	}{
		"right":                {0, map[string]float64{"battery:stranger": 0.999, "display:stranger": 0.0001}, 1, 0, 0},
		"a false culprit":      {0, map[string]float64{"display:stranger": 0.995, "battery:stranger": 0.5}, 1, 1, 1},
		"the true one cleared": {0, map[string]float64{"battery:stranger": 0.0002}, 0, 0, 1},
		"the defective piece":  {1, map[string]float64{"piece:pine-display:bad": 0.995}, 1, 0, 0},
		"open":                 {0, map[string]float64{"battery:stranger": 0.4}, 0, 0, 0},
	} {
		g := policy.NewGame(caseOf(p, diagnose.Noise{}), map[string]map[string]string{})
		g.Out = diagnose.Output{Checks: map[string]*diagnose.Check{}}
		for _, k := range p.Checks {
			g.Out.Checks[k.Name] = &diagnose.Check{}
		}
		g.Out.Checks[p.Checks[c.check].Name].Marginal = c.marginal
		if got := judge(p, g); got.named != c.named || got.wrong != c.wrong || got.bad != c.bad {
			t.Errorf("%s: %+v", name, got)
		}
	}
}

// TestPlay: the tallies are sums over the seeds, the same whoever runs them, and no policy beats the information bound.
func TestPlay(t *testing.T) {
	w := sim.World{SlotsMin: 8, Slots: 8, Checks: 8, LockShare: 0.25}
	one, bound := play(w, diagnose.Noise{}, policy.Ours, 6)
	again, _ := play(w, diagnose.Noise{}, policy.Ours, 6)
	if one.rounds != again.rounds || one.wrong+one.bad+one.unready != 0 || one.named == 0 {
		t.Errorf("%+v, again %+v", one, again)
	}
	if one.minutes < bound {
		t.Errorf("%.0f min, less than the bound of %.0f", one.minutes, bound)
	}
	board, _ := play(w, diagnose.Noise{}, policy.BoardFirst, 6)
	if one.minutes >= board.minutes {
		t.Errorf("ours %.0f min, board first %.0f", one.minutes, board.minutes)
	}
}

// TestPlayMixed: the sums are the same whoever runs them, one at a time takes longer, and nothing false is said where
// no reading is.
func TestPlayMixed(t *testing.T) {
	ours, again := playMixed(20, 0, mixed.Advised), playMixed(20, 0, mixed.Advised)
	if ours.said != again.said || ours.found != again.found || ours.works+ours.loss > 0 || ours.pairs != 2 {
		t.Errorf("%+v, again %+v", ours, again)
	}
	if plain := playMixed(20, 0, mixed.OneAtATime); plain.minutes <= ours.minutes*0.5 || plain.found > 0 {
		t.Errorf("one at a time %+v, ours %+v", plain, ours)
	}
}
