package swapstudy

import (
	"fmt"
	"math/rand/v2"
	"os"
	"slices"
	"strconv"
	"testing"
)

// world is a small truth: what costs a check on two phones. It knows nothing of the engine.
type world struct {
	kind     string
	slots    []string
	check    string
	a, b     int
	board    string // board-specific: the one that refuses
	noise    float64
	r        *rand.Rand
	hurt     string // piece that is hurt at its first move
	damaged  bool
	stuckOn  map[string]bool
	openings int
}

// strikes says whether the check is lost on a board with these pieces, by slot: from which phone.
func (w *world) strikes(board string, from map[string]string) bool {
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
func (w *world) reading(hit bool) string {
	if w.r.Float64() < w.noise {
		hit = !hit
	}
	if hit {
		return "lost"
	}
	return "pass"
}

func newWorld(kind string, seed uint64, noise float64) (*world, Input) {
	r := rand.New(rand.NewPCG(seed, 99))
	n := 4 + r.IntN(3)
	families := []string{"SC", "OP", "PW", "SO", "SE", "BT", "RF"}
	r.Shuffle(len(families), func(i, j int) { families[i], families[j] = families[j], families[i] })
	w := &world{kind: kind, check: "x", noise: noise, r: r, stuckOn: map[string]bool{}, board: []string{"ONE", "TWO"}[r.IntN(2)]}
	in := Input{Units: []Unit{{Name: "ONE", Build: "1"}, {Name: "TWO", Build: "1"}}, Baselines: map[string]map[string]string{}}
	for k := range n {
		name := fmt.Sprintf("%c%d", 'k'+r.IntN(10), k)
		w.slots = append(w.slots, name)
		in.Model.Slots = append(in.Model.Slots, Slot{Name: name, Kind: families[k]})
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
	in.Checks = []Check{{"x", group}, {"y", families[p[2]]}, {"boot", "BD"}}
	for _, u := range in.Units {
		in.Baselines[u.Name] = map[string]string{"x": "pass", "y": "pass", "boot": "pass"}
	}
	return w, in
}

// play follows the first card of the list for so many trials, as a person would who trusts it.
// mats says that pieces which come out are not put into the other phone.
var mats = os.Getenv("MATS") != ""

func play(w *world, in Input, most int) (Output, error) {
	at := map[string]map[string]string{"ONE": {}, "TWO": {}} // housing: slot: phone
	for _, s := range w.slots {
		at["ONE"][s], at["TWO"][s] = "ONE", "TWO"
	}
	other := map[string]string{"ONE": "TWO", "TWO": "ONE"}
	put := func(slot, from, to string) {
		if at[to][slot] == from {
			return
		}
		if mats { // what comes out lies on the mat until it is wanted
			for h := range at {
				if at[h][slot] == from {
					at[h][slot] = ""
				}
			}
			at[to][slot] = from
			in.Events = append(in.Events, move(slot, from, to))
		} else {
			at[other[to]][slot], at[to][slot] = at[to][slot], from
			in.Events = append(in.Events, move(slot, from, to), move(slot, other[from], other[to]))
		}
		if from+"-"+slot == w.hurt || other[from]+"-"+slot == w.hurt {
			w.damaged = w.damaged || w.openings == 0
			w.openings++
		}
	}
	tests := 0
	read := func(board string) {
		tests++
		hit := w.strikes(board, at[board])
		r := map[string]string{"x": w.reading(hit), "y": w.reading(false), "boot": "pass"}
		in.Events = append(in.Events, Event{Trial: &Trial{ID: fmt.Sprint("t", len(in.Events)), Board: board, Results: r,
			Later: []Later{{Minutes: 60, After: []string{"restart", "charge", "settling"}, Results: r}}}})
	}
	out, err := Solve(in)
	for tests < most && err == nil && len(out.Next) > 0 {
		n := out.Next[0]
		switch n.Act {
		case "swap", "factor cell":
			for _, s := range w.slots {
				from := n.Board
				if slices.Contains(n.Slots, s) {
					from = n.From
				}
				put(s, from, n.Board)
			}
		case "control":
			for _, s := range w.slots {
				put(s, n.Board, n.Board)
			}
		case "restore":
			for _, s := range w.slots {
				put(s, n.Board, n.Board)
			}
			w.stuckOn[n.Board] = false
			in.Events = append(in.Events, act("reset", n.Board))
		case "reseat":
			in.Events = append(in.Events, act("reseat", n.Board, n.Slots...))
		case "repeat":
		default:
			return out, fmt.Errorf("an act that nobody can do here: %+v", n)
		}
		read(n.Board)
		out, err = Solve(in)
	}
	return out, err
}

// judge counts what was said against the truth: verdicts, false ones, and whether the pair was named.
func (w *world) judge(out Output) (said, falseWorks, falseLoss int, found bool) {
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
			said++
			if guilty || paired {
				falseWorks++
			}
		case "loses", "dead", "intermittent":
			said++
			if !guilty {
				falseLoss++
			}
		case "interaction":
			said++
			partner := slices.Index(w.slots, v.With)
			if !paired || partner != w.a && partner != w.b {
				falseLoss++
			} else {
				found = true
			}
		}
	}
	return said, falseWorks, falseLoss, found
}

var worldKinds = []string{"lone", "lone", "lone", "lone", "lone", "both", "parted", "hurt", "board", "stuck", "fickle", "clean"}

// TestWorlds plays small worlds with a hidden truth by the advice itself: what is called harmless is, who is convicted did it, and
// pairs that nobody declared are found in twelve trials.
func TestWorlds(t *testing.T) {
	n := 24
	if more, err := strconv.Atoi(os.Getenv("WORLDS")); err == nil {
		n = more
	}
	for _, noise := range []float64{0, 0.01} {
		said, works, loss, pairs, found := 0, 0, 0, 0, 0
		by := map[string][4]int{}
		for i := range n {
			kind := worldKinds[i%len(worldKinds)]
			w, in := newWorld(kind, uint64(i)+1000*uint64(noise*1000), noise)
			out, err := play(w, in, 12)
			if err != nil {
				t.Fatalf("%s %d: %v", kind, i, err)
			}
			s, fw, fl, f := w.judge(out)
			said, works, loss = said+s, works+fw, loss+fl
			if kind == "both" {
				pairs++
				if f {
					found++
				}
			}
			b := by[kind]
			b[0], b[1], b[2] = b[0]+s, b[1]+fw, b[2]+fl
			if f {
				b[3]++
			}
			by[kind] = b
		}
		t.Logf("noise %g: %d verdicts, %d false “works”, %d false culprits, %d of %d pairs; by kind (said, works, loss, found) %v", noise,
			said, works, loss, found, pairs, by)
		bar := 0.002
		if noise > 0 {
			bar = 0.01
		}
		if float64(works+loss) > bar*float64(said)+0.5 || float64(found) < 0.8*float64(pairs) {
			t.Errorf("noise %g: more than %g of %d are false: %d and %d; %d of %d pairs", noise, bar, said, works, loss, found, pairs)
		}
	}
}
