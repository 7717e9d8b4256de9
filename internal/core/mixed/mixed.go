// Package mixed plays whole swap studies on small made-up worlds with a hidden truth, of which some have causes that
// combine: two parts that are lost only together, a piece that is hurt on the way, one board that refuses, a loss
// that stays, one that comes and goes. It knows nothing of how the engine reads: it only makes readings, follows what
// is advised and compares what is said.
//
//	w, in := mixed.New("both", 7, 0)
//	out, minutes, err := w.Play(in, 12, mixed.Advised)
package mixed

import (
	"fmt"
	"math/rand/v2"
	"slices"

	"waryowl/internal/core/swapstudy"
)

// Kinds are the kinds of truth in the proportions of the benchmark: half of them lone culprits, a tenth each pairs,
// hurt pieces, one board that refuses, losses that stay, losses that come and go.
var Kinds = []string{"lone", "lone", "lone", "lone", "lone", "both", "hurt", "board", "stuck", "fickle"}

// World is a small truth: what costs a check on two phones.
// Study is what was recorded last.
type World struct {
	Study   swapstudy.Input
	kind    string
	slots   []string
	check   string
	a, b    int
	board   string // board-specific: the one that refuses
	noise   float64
	r       *rand.Rand
	hurt    string // piece that is hurt at its first move
	damaged bool
	rule    func(board string, from map[string]string) bool // in place of the kind
	fitted  func(slot, from, to string)                     // told of every move
	stuckOn map[string]bool
}

// strikes says whether the check is lost on a board with these pieces, by slot: from which phone.
func (w *World) strikes(board string, from map[string]string) bool {
	if w.rule != nil {
		return w.rule(board, from)
	}
	foreign := func(k int) bool { return from[w.slots[k]] != board }
	hit := false
	switch w.kind {
	case "lone":
		hit = foreign(w.a)
	case "fickle":
		hit = foreign(w.a) && w.r.Float64() < .5
	case "both":
		hit = foreign(w.a) && foreign(w.b)
	case "parted":
		hit = from[w.slots[w.a]] != from[w.slots[w.b]]
	case "board":
		hit = foreign(w.a) && board == w.board
	case "hurt":
		for slot, f := range from {
			hit = hit || w.damaged && f+"-"+slot == w.hurt
		}
	case "stuck":
		hit = foreign(w.a)
		if hit {
			w.stuckOn[board] = true
		}
		hit = hit || w.stuckOn[board]
	}
	return hit
}

// reading is what a person writes down: with the chance of a slip.
func (w *World) reading(hit bool) string {
	if w.r.Float64() < w.noise {
		hit = !hit
	}
	if hit {
		return "lost"
	}
	return "pass"
}

// New makes the world of a kind (also "parted", "clean") and its study with baselines and no trial; noise is the
// chance of a wrong reading.
func New(kind string, seed uint64, noise float64) (*World, swapstudy.Input) {
	r := rand.New(rand.NewPCG(seed, 99))
	n := 4 + r.IntN(3)
	families := []string{"SC", "OP", "PW", "SO", "SE", "BT", "RF"}
	r.Shuffle(len(families), func(i, j int) { families[i], families[j] = families[j], families[i] })
	w := &World{kind: kind, check: "x", noise: noise, r: r, stuckOn: map[string]bool{}, board: []string{"ONE",
		"TWO"}[r.IntN(2)]}
	in := swapstudy.Input{Units: []swapstudy.Unit{{Name: "ONE", Build: "1"}, {Name: "TWO", Build: "1"}},
		Baselines: map[string]map[string]string{}}
	for k := range n {
		name := fmt.Sprintf("%c%d", 'k'+r.IntN(10), k)
		w.slots = append(w.slots, name)
		in.Model.Slots = append(in.Model.Slots, swapstudy.Slot{Name: name, Kind: families[k]})
	}
	p := r.Perm(n)
	w.a, w.b = p[0], p[1]
	if kind == "parted" {
		in.Model.Slots[w.a].Mate = w.slots[w.b]
	}
	w.hurt = []string{"ONE", "TWO"}[r.IntN(2)] + "-" + w.slots[w.a]
	group := families[w.a]
	if r.IntN(3) == 0 {
		group = families[(w.a+1)%n]
	}
	in.Checks = []swapstudy.Check{{Mark: "x", Group: group}, {Mark: "y", Group: families[p[2]]},
		{Mark: "boot", Group: "BD"}}
	for _, u := range in.Units {
		in.Baselines[u.Name] = map[string]string{"x": "pass", "y": "pass", "boot": "pass"}
	}
	return w, in
}

// Choose names the act that comes next; ok is false when there is none. tested is how many trials were made.
type Choose func(in swapstudy.Input, out swapstudy.Output, tested int) (n swapstudy.Next, ok bool)

// Advised takes the first act of the list, as a person does who trusts it.
func Advised(_ swapstudy.Input, out swapstudy.Output, _ int) (swapstudy.Next, bool) {
	if len(out.Next) == 0 {
		return swapstudy.Next{}, false
	}
	return out.Next[0], true
}

// OneAtATime exchanges one part after the other on both boards, and puts all home in the end.
func OneAtATime(in swapstudy.Input, _ swapstudy.Output, tested int) (swapstudy.Next, bool) {
	board, from := "ONE", "TWO"
	if tested%2 == 1 {
		board, from = from, board
	}
	k := tested / 2
	switch {
	case k < len(in.Model.Slots):
		return swapstudy.Next{Act: "swap", Board: board, From: from, Slots: []string{in.Model.Slots[k].Name}}, true
	case k == len(in.Model.Slots):
		return swapstudy.Next{Act: "control", Board: board, From: board}, true
	}
	return swapstudy.Next{}, false
}

// bench is where the pieces lie: housing, slot, phone.
type bench map[string]map[string]string

var other = map[string]string{"ONE": "TWO", "TWO": "ONE"}

// put exchanges what two phones hold in a slot, where that is not so yet.
func (w *World) put(at bench, in *swapstudy.Input, slot, from, to string) {
	if at[to][slot] == from {
		return
	}
	at[other[to]][slot], at[to][slot] = at[to][slot], from
	for _, m := range []swapstudy.Move{{Slot: slot, From: from, To: to}, {Slot: slot, From: other[from], To: other[to]}} {
		in.Events = append(in.Events, swapstudy.Event{Move: &m})
	}
	if w.fitted != nil {
		w.fitted(slot, from, to)
		w.fitted(slot, other[from], other[to])
	}
	if from+"-"+slot == w.hurt || other[from]+"-"+slot == w.hurt {
		w.damaged = true
	}
}

// Play carries a study on for so many trials, or until nothing is proposed. minutes is what the acts take.
func (w *World) Play(in swapstudy.Input, most int, choose Choose) (out swapstudy.Output, minutes float64, err error) {
	at := bench{"ONE": {}, "TWO": {}}
	for _, s := range w.slots {
		at["ONE"][s], at["TWO"][s] = "ONE", "TWO"
	}
	defer func() { w.Study = in }()
	out, err = swapstudy.Solve(in)
	for tested := 0; tested < most && err == nil; tested++ {
		n, ok := choose(in, out, tested)
		if !ok {
			break
		}
		if n.Minutes == 0 {
			if n.Minutes, err = swapstudy.Minutes(in, n); err != nil {
				return out, minutes, err
			}
		}
		minutes += n.Minutes
		act := swapstudy.Act{Board: n.Board, Slots: n.Slots}
		switch n.Act {
		case "swap", "factor cell", "control", "restore":
			for _, s := range w.slots {
				from := n.Board
				if (n.Act == "swap" || n.Act == "factor cell") && slices.Contains(n.Slots, s) {
					from = n.From
				}
				w.put(at, &in, s, from, n.Board)
			}
			if n.Act == "restore" {
				w.stuckOn[n.Board] = false
				act.Kind, act.Slots = "reset", nil
			}
		case "reseat":
			act.Kind = "reseat"
		case "repeat":
		default:
			return out, minutes, fmt.Errorf("an act that nobody can do here: %+v", n)
		}
		if act.Kind != "" {
			in.Events = append(in.Events, swapstudy.Event{Act: &act})
		}
		hit := w.strikes(n.Board, at[n.Board])
		r := map[string]string{"x": w.reading(hit), "y": w.reading(false), "boot": "pass"}
		in.Events = append(in.Events, swapstudy.Event{Trial: &swapstudy.Trial{ID: fmt.Sprint("t", len(in.Events)),
			Board:   n.Board,
			Results: r, Later: []swapstudy.Later{{Minutes: 60, After: []string{"restart", "charge", "settling"}, Results: r}}}})
		out, err = swapstudy.Solve(in)
	}
	return out, minutes, err
}

// Tally are verdicts of studies: how many said something, how many of those were false, and whether the pair was
// named, or whatever else the truth was.
type Tally struct {
	Said, FalseWorks, FalseLoss int
	Found                       bool
}

// Judge counts what was said against the truth.
func (w *World) Judge(out swapstudy.Output) (t Tally) {
	for _, v := range out.Verdicts {
		if v.State != "stranger" || v.Check == "boot" {
			continue
		}
		guilty := false // does the part itself cost the check, always or now and then
		k := slices.Index(w.slots, v.Slot)
		paired := (w.kind == "both" || w.kind == "parted") && (k == w.a || k == w.b) && v.Check == "x"
		switch w.kind {
		case "lone", "fickle", "board", "stuck":
			guilty = k == w.a && v.Check == "x"
		}
		switch v.Verdict {
		case "works":
			t.Said++
			if guilty || paired {
				t.FalseWorks++
			}
		case "loses", "dead", "intermittent":
			t.Said++
			if !guilty {
				t.FalseLoss++
			}
		case "interaction":
			t.Said++
			partner := slices.Index(w.slots, v.With)
			if !paired || partner != w.a && partner != w.b {
				t.FalseLoss++
			} else {
				t.Found = true
			}
		}
	}
	return t
}
