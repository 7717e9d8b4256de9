package closeup

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/trade"
)

// act is a step in short; dones turns them into what was carried out.
type act struct {
	ID, Verb, What, Joint string
	Count                 int
	Frees, Before         []string
	Tape                  string
}

func dones(acts []act) []plan.Done {
	var out []plan.Done
	for _, a := range acts {
		out = append(out, plan.Done{Before: a.Before, Step: plan.Step{ID: a.ID, Verb: a.Verb, What: a.What,
			Joint: a.Joint, Count: a.Count,
			Frees: a.Frees, Consumable: a.Tape}})
	}
	return out
}

func kind(part string) string { k, _ := trade.KindOf(part); return k }

var run = []act{
	{ID: "rim", Verb: "unfasten", What: "rim screws", Joint: "screw", Count: 2},
	{ID: "soften", Verb: "heat", What: "rim", Before: []string{"rim"}},
	{ID: "cut", Verb: "cut", What: "rim adhesive", Joint: "adhesive", Before: []string{"soften"}, Tape: "rim adhesive"},
	{ID: "ub", Verb: "bracket", What: "upper bracket", Before: []string{"cut"}, Frees: []string{"upper bracket"}},
	{ID: "bat", Verb: "disconnect", What: "battery connector", Joint: "connector", Before: []string{"ub"}},
	{ID: "dl", Verb: "disconnect", What: "display lead", Joint: "connector", Before: []string{"bat"}},
	{ID: "disp", Verb: "lift", What: "display assembly", Before: []string{"dl"}, Frees: []string{"display assembly"}},
	{ID: "cam", Verb: "disconnect", What: "camera leads", Joint: "connector", Count: 3,
		Before: []string{"bat", "disp"}},
	{ID: "rc", Verb: "lift", What: "rear camera", Before: []string{"cam"}, Frees: []string{"rear camera block"}},
	{ID: "coax", Verb: "disconnect", What: "antenna coax", Joint: "coax", Count: 2, Before: []string{"disp"}},
	{ID: "mb", Verb: "lift", What: "main board", Before: []string{"cam", "coax"}, Frees: []string{"main board"}},
}

// TestList: reverse order is common practice, no source, and so are the battery's place and the gates.
func TestList(t *testing.T) {
	lines, conflict := List(dones(run), kind)
	var ids []string
	place := map[string]int{}
	gates := map[string]string{}
	for i, l := range lines {
		ids = append(ids, l.StepID)
		place[l.StepID] = i
		for _, g := range l.Gates {
			gates[g.Key] = l.StepID
		}
	}
	if conflict != "" || strings.Join(ids, " ") != "mb coax rc cam disp dl bat ub cut rim" {
		t.Errorf("closing list %v, conflict %q", ids, conflict)
	}
	for key, before := range map[string]string{"seat cam": "disp", "seat coax": "disp", "seat dl": "ub",
		"seat bat": "ub", "cable": "disp", "film": "disp", "dust": "disp"} {
		if gates[key] != before {
			t.Errorf("gate %q stands before %q, want %q", key, gates[key], before)
		}
	}
	if lines[place["cut"]].Consumable != "rim adhesive" || lines[place["rim"]].Screws != 2 {
		t.Error("consumable or screws are missing")
	}
	// A battery taken off in mid-run still goes back after every other connector.
	late := []act{{ID: "a", Verb: "disconnect", What: "flash lead"},
		{ID: "b", Verb: "disconnect", What: "battery connector"}, {ID: "c", Verb: "disconnect", What: "port lead"}}
	if lines, _ := List(dones(late), kind); lines[2].StepID != "b" {
		t.Errorf("the battery's connector is not last: %v", lines)
	}
	late[1].Before = []string{"a"} // unless the flash lead lies over it
	if lines, conflict := List(dones(late), kind); conflict != "flash lead" || lines[2].StepID != "a" {
		t.Errorf("conflict %q, %v", conflict, lines)
	}
}

// TestListKeepsTheOrder: on random runs nothing is put in before what lies below it, and every line comes once.
func TestListKeepsTheOrder(t *testing.T) {
	for seed := range uint64(200) {
		r := rand.New(rand.NewPCG(seed, 1))
		var done []act
		for i := range 3 + r.IntN(20) {
			s := act{ID: fmt.Sprint(i), Verb: []string{"disconnect", "lift", "bracket", "unfasten"}[r.IntN(4)],
				What: []string{"battery connector", "lead"}[r.IntN(2)]}
			for range r.IntN(3) {
				if i > 0 {
					s.Before = append(s.Before, fmt.Sprint(r.IntN(i)))
				}
			}
			done = append(done, s)
		}
		lines, _ := List(dones(done), kind)
		if len(lines) != len(done) {
			t.Fatalf("seed %d: %d lines of %d steps", seed, len(lines), len(done))
		}
		at := map[string]int{}
		for i, l := range lines {
			at[l.StepID] = i
		}
		for _, s := range done {
			for _, b := range s.Before {
				if at[b] < at[s.ID] {
					t.Fatalf("seed %d: %s is closed before %s, which lies below it", seed, b, s.ID)
				}
			}
		}
	}
}

func TestReconcile(t *testing.T) {
	open, empty := Reconcile([]Item{
		{Key: "a", Name: "bracket screws", Out: 5, In: 4, Lost: 1}, {Key: "b", Name: "upper bracket",
			Out: 1}, {Key: "c", Name: "nub", Out: 1, Off: 1}, {Key: "d", Name: "tape", Out: 1, Swap: 1}, {Key: "e",
			Name: "extra", Out: 2, In: 3}})
	if len(open) != 2 || open[0].Key != "b" || open[1].Open() != -1 || len(empty) != 1 || empty[0].Key != "a" {
		t.Errorf("open %v, empty %v", open, empty)
	}
	for seal, says := range map[string]string{"new adhesive": "considered lost", "reused": "lost",
		"none": "not sealed", "": "unknown"} {
		if !strings.Contains(Water(seal), says) {
			t.Errorf("%q: %s", seal, Water(seal))
		}
	}
}

// TestLookAlikes: that a longer screw pierces is common practice; engagement of at least one thread diameter is a rule
// of thumb of fastening (from memory).
func TestLookAlikes(t *testing.T) {
	holes := []Hole{
		{ID: "a", Name: "upper bracket", Drive: "tri-wing", DiameterMM: 1.2, LengthMM: 1.6, SafeMM: 1.9, GripMM: 0.3,
			Beneath: "the panel"},
		{ID: "b", Name: "lower bracket", Drive: "tri-wing", DiameterMM: 1.2, LengthMM: 2.4, SafeMM: 3, GripMM: 1.0},
		{ID: "c", Name: "speaker", Drive: "cross", DiameterMM: 1.2, LengthMM: 1.3},
		{ID: "d", Name: "port", Drive: "tri-wing", DiameterMM: 1.4, LengthMM: 4},
		{ID: "e", Name: "cover", Drive: "cross", DiameterMM: 1.2, LengthMM: 2.6},
	}
	got := map[string]string{}
	for _, m := range LookAlikes(holes) {
		got[m.From+m.Into] = m.Effect
	}
	want := map[string]string{"ba": "pierces", "ab": "will not hold", "ec": "may pierce"}
	if len(got) != len(want) {
		t.Errorf("%v", got)
	}
	for k, effect := range want {
		if got[k] != effect {
			t.Errorf("%s into %s: %q, want %q", k[:1], k[1:], got[k], effect)
		}
	}
	subs := Substitutes(holes[0], []Hole{{ID: "x", Name: "spare", Drive: "cross", DiameterMM: 1.2, LengthMM: 1.5},
		{ID: "y", Name: "spare", DiameterMM: 1.2, LengthMM: 1.6}, holes[1], {ID: "z", DiameterMM: 1.0, LengthMM: 1.6}})
	if len(subs) != 2 || subs[0].From != "y" || subs[1].From != "x" {
		t.Errorf("substitutes %v", subs)
	}
}

// TestArrange compares the spacers with a brute force over all places of them, and checks every neighbour.
func TestArrange(t *testing.T) {
	needed := 0
	for seed := range uint64(120) {
		r := rand.New(rand.NewPCG(seed, 2))
		n, columns := 3+r.IntN(6), 2+r.IntN(3)
		bad := map[[2]int]bool{}
		for i := range n {
			for k := range i {
				if r.IntN(4) == 0 {
					bad[[2]int{k, i}] = true
				}
			}
		}
		apart := func(i, j int) bool { return bad[[2]int{min(i, j), max(i, j)}] }
		m := Arrange(n, columns, apart)
		if !legal(m.Cells, columns, apart) || !m.Fewest {
			t.Fatalf("seed %d: %v with %d columns", seed, m.Cells, columns)
		}
		var order []int
		for _, c := range m.Cells {
			if c >= 0 {
				order = append(order, c)
			}
		}
		if !slices.IsSorted(order) || len(order) != n {
			t.Fatalf("seed %d: order %v", seed, order)
		}
		for fewer := range m.Spacers {
			if possible(n, fewer, nil, columns, apart) {
				t.Fatalf("seed %d: %d spacers do, not %d", seed, fewer, m.Spacers)
			}
		}
		needed += m.Spacers
		if g := greedy(n, columns, apart); !legal(g.Cells, columns, apart) || g.Spacers < m.Spacers {
			t.Fatalf("seed %d: greedy %v", seed, g)
		}
	}
	if needed < 50 {
		t.Errorf("only %d spacers in all: the instances are too easy", needed)
	}
}

func legal(cells []int, columns int, apart func(i, j int) bool) bool {
	for a, x := range cells {
		for b, y := range cells[:a] {
			dr, dc := a/columns-b/columns, a%columns-b%columns
			if x >= 0 && y >= 0 && dr <= 1 && dc >= -1 && dc <= 1 && apart(x, y) {
				return false
			}
		}
	}
	return true
}

func possible(n, spacers int, cells []int, columns int, apart func(i, j int) bool) bool {
	if !legal(cells, columns, apart) {
		return false
	}
	next := 0
	for _, c := range cells {
		if c >= 0 {
			next++
		}
	}
	if next == n {
		return true
	}
	if possible(n, spacers, append(slices.Clone(cells), next), columns, apart) {
		return true
	}
	return spacers > 0 && possible(n, spacers-1, append(slices.Clone(cells), -1), columns, apart)
}
