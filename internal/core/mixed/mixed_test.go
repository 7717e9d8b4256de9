package mixed

import (
	"fmt"
	"maps"
	"math"
	"os"
	"slices"
	"strconv"
	"strings"
	"testing"

	"waryowl/internal/core/swapstudy"
)

// TestWorlds plays small worlds with a hidden truth by the advice itself: what is called harmless is, who is
// convicted did it, and pairs that nobody declared are found in twelve trials. WORLDS in the environment: how many.
func TestWorlds(t *testing.T) {
	n := 24
	if more, err := strconv.Atoi(os.Getenv("WORLDS")); err == nil {
		n = more
	}
	kinds := append([]string{"parted", "clean"}, Kinds...)
	for _, noise := range []float64{0, 0.01} {
		var sum Tally
		pairs, found := 0, 0
		by := map[string][3]int{}
		for i := range n {
			kind := kinds[i%len(kinds)]
			w, in := New(kind, uint64(i)+1000*uint64(noise*1000), noise)
			out, _, err := w.Play(in, 12, Advised)
			if err != nil {
				t.Fatalf("%s %d: %v", kind, i, err)
			}
			one := w.Judge(out)
			sum.Said, sum.FalseWorks, sum.FalseLoss = sum.Said+one.Said, sum.FalseWorks+one.FalseWorks,
				sum.FalseLoss+one.FalseLoss
			if kind == "both" {
				pairs++
				if one.Found {
					found++
				}
			}
			b := by[kind]
			by[kind] = [3]int{b[0] + one.Said, b[1] + one.FalseWorks, b[2] + one.FalseLoss}
		}
		t.Logf("noise %g: %+v, %d of %d pairs; by kind (said, false works, false loss) %v", noise, sum, found, pairs, by)
		bar := 0.002
		if noise > 0 {
			bar = 0.01
		}
		if float64(sum.FalseWorks+sum.FalseLoss) > bar*float64(sum.Said)+0.5 || float64(found) < 0.8*float64(pairs) {
			t.Errorf("noise %g: more than %g of them are false: %+v; %d of %d pairs", noise, bar, sum, found, pairs)
		}
	}
}

// drawn makes a world whose causes are drawn one by one from the chances that the contract publishes, so that what is
// said must be so as often as it is said. It returns the names of the causes that hold. Worlds in which a phone fails
// its baseline are drawn anew.
func drawn(seed uint64) (*World, swapstudy.Input, map[string]bool) {
	w, in := New("clean", seed, 0.02)
	group, family := in.Checks[0].Group, map[string]string{}
	for _, s := range in.Model.Slots {
		family[s.Name] = s.Kind
	}
	holds := map[string]bool{}
	is := func(name string, p float64) {
		if w.r.Float64() < p {
			holds[name] = true
		}
	}
	related := func(slot string, yes, no float64) float64 {
		if family[slot] == group {
			return yes
		}
		return no
	}
	for i, x := range w.slots {
		p := related(x, .2, .05)
		is(x+":stranger", p)
		is(x+":stranger~", related(x, .04, .015))
		for u := range other {
			is("board:"+u+":"+x+":stranger", p/10)
			is("hurt:"+u+"-"+x, related(x, .02, .002))
		}
		for _, y := range w.slots[i+1:] {
			f := max(related(x, 3, 1), related(y, 3, 1))
			a, b := min(x, y), max(x, y)
			is(a+"&"+b+":both", .003*f)
			is(a+"/"+b+":split", .0007*f)
		}
	}
	loose, hurt := map[string]bool{}, map[string]bool{}
	w.fitted = func(slot, from, to string) {
		loose[to+slot] = from != to && w.r.Float64() < related(slot, .01, 0)
		hurt[from+"-"+slot] = hurt[from+"-"+slot] || holds["hurt:"+from+"-"+slot] && w.r.IntN(2) == 0
	}
	w.rule = func(board string, from map[string]string) bool {
		hit := w.stuckOn[board]
		for i, x := range w.slots {
			foreign := from[x] != board
			hit = hit || foreign && (holds[x+":stranger"] || holds["board:"+board+":"+x+":stranger"] || loose[board+x] ||
				holds[x+":stranger~"] && w.r.IntN(2) == 0) || hurt[from[x]+"-"+x]
			for _, y := range w.slots[i+1:] {
				a, b := min(x, y), max(x, y)
				hit = hit || foreign && from[y] != board && holds[a+"&"+b+":both"] || from[x] != from[y] && holds[a+"/"+b+":split"]
			}
		}
		if hit && w.r.Float64() < .05 {
			w.stuckOn[board] = true
		}
		return hit
	}
	return w, in, holds
}

// TestCalibration: of what the engine says with a chance of p, about p is so, over worlds drawn from the published
// chances, early and late in a study: within three points and two standard errors in every tenth of the scale that
// holds 50 cases. WORLDS: how many.
func TestCalibration(t *testing.T) {
	n := 100
	if more, err := strconv.Atoi(os.Getenv("WORLDS")); err == nil {
		n = more
	}
	var said, so [10]float64
	var count [10]int
	for i := range n {
		for _, trials := range []int{3, 7} {
			w, in, holds := drawn(uint64(i) + 50_000)
			out, _, err := w.Play(in, trials, Advised)
			if err != nil {
				t.Fatal(err)
			}
			for name, p := range out.Checks["x"].Marginal {
				if strings.HasPrefix(name, "piece:") || strings.HasPrefix(name, "fit:") || strings.HasPrefix(name, "stuck:") ||
					strings.Contains(name, "<") {
					continue // drawn otherwise than they are named
				}
				k := min(9, int(10*p))
				said[k], count[k] = said[k]+p, count[k]+1
				if holds[name] {
					so[k]++
				}
			}
		}
	}
	for k, c := range count {
		if c < 50 {
			continue
		}
		p, is := said[k]/float64(c), so[k]/float64(c)
		t.Logf("said %.3f, so in %.3f of %d", p, is, c)
		if slack := 0.03 + 2*math.Sqrt(p*(1-p)/float64(c)); math.Abs(p-is) > slack {
			t.Errorf("said %.3f, but it was so in %.3f of %d (slack %.3f)", p, is, c, slack)
		}
	}
}

// TestOneAtATime: the plain policy goes through every part on both boards, puts all home, and ends.
func TestOneAtATime(t *testing.T) {
	w, in := New("lone", 3, 0)
	out, minutes, err := w.Play(in, 100, OneAtATime)
	if err != nil || minutes < 20*float64(len(w.slots)) {
		t.Fatalf("%.0f min, %v", minutes, err)
	}
	guilty := ""
	for _, v := range out.Verdicts {
		if v.Check == "x" && v.Verdict == "loses" {
			guilty += fmt.Sprint(v.Slot)
		}
	}
	if guilty != w.slots[w.a] {
		t.Errorf("named %q, it was %q", guilty, w.slots[w.a])
	}
}

// TestNamesAndOrderChangeNothing: renamed and reordered slots give the same figures and verdicts, over random
// studies. WORLDS: how many.
func TestNamesAndOrderChangeNothing(t *testing.T) {
	n := 200
	if more, err := strconv.Atoi(os.Getenv("WORLDS")); err == nil {
		n = more
	}
	for i := range n {
		w, in, _ := drawn(uint64(i) + 90_000)
		out, _, err := w.Play(in, 6, Advised)
		if err != nil {
			t.Fatal(err)
		}
		name := map[string]string{}
		for k, j := range w.r.Perm(len(w.slots)) {
			name[w.slots[k]] = fmt.Sprintf("%c-%d", 'a'+j, k)
		}
		again := w.Study
		again.Model.Slots = slices.Clone(again.Model.Slots)
		w.r.Shuffle(len(again.Model.Slots), func(a, b int) {
			m := again.Model.Slots
			m[a], m[b] = m[b], m[a]
		})
		for k := range again.Model.Slots {
			again.Model.Slots[k].Name = name[again.Model.Slots[k].Name]
		}
		again.Events = slices.Clone(again.Events)
		for k, e := range again.Events {
			if e.Move != nil {
				again.Events[k].Move = &swapstudy.Move{Slot: name[e.Move.Slot], From: e.Move.From, To: e.Move.To}
			}
			if e.Act != nil {
				a := *e.Act
				a.Slots = nil
				for _, s := range e.Act.Slots {
					a.Slots = append(a.Slots, name[s])
				}
				again.Events[k].Act = &a
			}
		}
		other, err := swapstudy.Solve(again)
		if err != nil {
			t.Fatal(err)
		}
		said := map[string]swapstudy.Verdict{}
		for _, v := range other.Verdicts {
			said[v.Slot+v.State+v.Check] = v
		}
		for _, v := range out.Verdicts {
			o := said[name[v.Slot]+v.State+v.Check]
			if v.Verdict != o.Verdict || v.Eye != o.Eye || (v.P == nil) != (o.P == nil) || v.P != nil &&
				math.Abs(*v.P-*o.P) > 1e-9 {
				t.Fatalf("world %d: %+v, renamed %+v", i, v, o)
			}
		}
		for c, k := range out.Checks {
			a, b := slices.Sorted(maps.Values(k.Marginal)), slices.Sorted(maps.Values(other.Checks[c].Marginal))
			for j := range a {
				if len(a) != len(b) || math.Abs(a[j]-b[j]) > 1e-9 {
					t.Fatalf("world %d, %s: other figures under other names", i, c)
				}
			}
		}
	}
}
