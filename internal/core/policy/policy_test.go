package policy_test

import (
	"slices"
	"testing"

	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/policy"
)

// pair is two phones written for this test alone: one lock, no chance.
type pair struct {
	slots   []string
	culprit string
	have    []string
	stuck   map[string]bool // a loss stays on the board until it is reset
	sticky  bool
	reads   int
}

func (p *pair) Exchange(slots []string) { p.have = slots }
func (p *pair) Reseat(string, []string) {}
func (p *pair) Reset(board string)      { delete(p.stuck, board) }
func (p *pair) cost(a, b []string) float64 {
	n := 0.0
	for _, s := range p.slots {
		if slices.Contains(a, s) != slices.Contains(b, s) {
			n += 5
		}
	}
	return n
}

func (p *pair) Run(board string, checks []string, _ bool) map[string]string {
	p.reads++
	out := map[string]string{}
	for _, c := range checks {
		out[c] = "pass"
		if c == "face" && (slices.Contains(p.have, p.culprit) || p.stuck[board]) {
			out[c] = "lost"
			if p.sticky {
				p.stuck[board] = true
			}
		}
	}
	return out
}

func phones(culprit string, sticky bool, noise diagnose.Noise) (*pair, policy.Case) {
	p := &pair{slots: []string{"display", "strip", "battery", "camera", "coil", "port", "speaker", "motor"},
		culprit: culprit, sticky: sticky, stuck: map[string]bool{}}
	c := policy.Case{Boards: [2]string{"pine", "amber"}, Mates: [][2]string{{"display", "strip"}}, Noise: noise,
		Cost:   p.cost,
		Checks: []policy.Check{{Name: "face", Family: "SE", Seconds: 20}, {Name: "sound", Family: "SO", Seconds: 20}},
		Reseat: func(s []string) float64 { return 2 * float64(len(s)) }}
	for i, s := range p.slots {
		c.Slots = append(c.Slots, policy.Slot{Name: s, Family: []string{"SC", "SE", "PW", "OP"}[i%4]})
	}
	return p, c
}

// TestEveryPolicyFindsTheCulprit, without naming anything else, and ours in the fewest minutes.
func TestEveryPolicyFindsTheCulprit(t *testing.T) {
	for _, noise := range []diagnose.Noise{{}, {FalseLoss: 0.03, FalsePass: 0.02}} {
		for _, culprit := range []string{"strip", "camera", "none"} {
			minutes := map[string]float64{}
			for name, next := range map[string]policy.Policy{"single": policy.OneAtATime, "board": policy.BoardFirst,
				"half": policy.Halving, "ours": policy.Ours} {
				p, c := phones(culprit, false, noise)
				g, err := policy.Play(c, p, next)
				if err != nil {
					t.Fatal(err)
				}
				named, _ := g.Named()
				if culprit == "none" && len(named) > 0 || culprit != "none" &&
					(len(named) != 1 || named[0] != [2]string{"face", culprit + ":stranger"}) || !g.Done() {
					t.Errorf("%s, %s, noise %v: named %v, done %v", name, culprit, noise, named, g.Done())
				}
				minutes[name] = g.Minutes
			}
			if minutes["ours"] > minutes["single"] || minutes["ours"] > minutes["board"] {
				t.Errorf("%s, noise %v: ours is not the shortest: %v", culprit, noise, minutes)
			}
		}
	}
}

// TestALossThatStaysIsFoundOut: the policy puts the originals back, sees that the loss stayed, resets the board, and
// still names the right part alone.
func TestALossThatStaysIsFoundOut(t *testing.T) {
	p, c := phones("camera", true, diagnose.Noise{FalseLoss: 0.03, FalsePass: 0.02})
	g, err := policy.Play(c, p, policy.Ours)
	if err != nil {
		t.Fatal(err)
	}
	named, cleared := g.Named()
	if len(named) != 1 || named[0][1] != "camera:stranger" ||
		slices.Contains(cleared, [2]string{"face", "camera:stranger"}) {
		t.Errorf("named %v after %d rounds", named, len(g.Rounds))
	}
	if !slices.ContainsFunc(g.Rounds, func(r policy.Round) bool { return len(r.Slots) == 0 }) {
		t.Error("the originals were never put back")
	}
}

// dorfman is the expected tests a member when groups of n are pooled and lost ones tested singly: 1/n + 1 − (1 − p)^n
// (R. Dorfman, "The detection of defective members of large populations", Annals of Mathematical Statistics 14, 1943).
func dorfman(p float64, n int) float64 {
	q := 1.0
	for range n {
		q *= 1 - p
	}
	return 1/float64(n) + 1 - q
}

// TestGroupSizesAfterDorfman: his table says groups of 11 at 1 %, 8 at 2 %, 5 at 5 % and 4 at 10 %, with about 20, 27,
// 43 and 59 % of the tests. The size that information proposes for a group of equal suspects is larger or the same, as
// one reading may be followed by halves.
func TestGroupSizesAfterDorfman(t *testing.T) {
	for _, c := range []struct {
		p     float64
		n     int
		share float64
	}{{0.01, 11, 0.20}, {0.02, 8, 0.27}, {0.05, 5, 0.43}, {0.10, 4, 0.59}} {
		best := 2
		for n := 2; n < 40; n++ {
			if dorfman(c.p, n) < dorfman(c.p, best) {
				best = n
			}
		}
		if best != c.n || dorfman(c.p, best) < c.share-0.006 || dorfman(c.p, best) > c.share+0.006 {
			t.Errorf("prevalence %g: groups of %d at %.3f, his table says %d at %g", c.p, best, dorfman(c.p, best),
				c.n, c.share)
		}
		in := diagnose.Input{Checks: []string{"c"}, Prior: diagnose.Prior{Default: c.p}, Brief: true}
		for n := 1; n <= 40; n++ {
			s := diagnose.Setup{State: map[string]string{}}
			for i := range n {
				s.State[string(rune('A'+i))] = "stranger"
			}
			in.Candidates = append(in.Candidates, diagnose.Candidate{ID: "g" + string(rune('a'+n/10)) +
				string(rune('a'+n%10)), Minutes: 1, Setup: s})
		}
		out, err := diagnose.Run(in)
		if err != nil {
			t.Fatal(err)
		}
		group := int(out.Next[0].ID[1]-'a')*10 + int(out.Next[0].ID[2]-'a')
		if c.p >= 0.02 && group < c.n { // at 1 % the group that tells most is larger than the forty on offer
			t.Errorf("prevalence %g: the group that tells most holds %d", c.p, group)
		}
	}
}

// TestWhatIsProposed: always the whole board, the present arrangement, the originals, and every suspect alone; nothing
// twice; a board that was read in this arrangement is fitted anew first.
func TestWhatIsProposed(t *testing.T) {
	p, c := phones("camera", false, diagnose.Noise{FalseLoss: 0.03, FalsePass: 0.02})
	g := policy.NewGame(c, policy.Baseline(c, p))
	if _, err := g.Read(); err != nil {
		t.Fatal(err)
	}
	key := func(r policy.Round) string {
		k := r.Board
		for _, s := range r.Slots {
			k += " " + s
		}
		return k
	}
	look := func() map[string]policy.Round {
		seen := map[string]policy.Round{}
		for _, r := range g.Propose() {
			if _, twice := seen[key(r)]; twice {
				t.Errorf("proposed twice: %s", key(r))
			}
			if r.Minutes < 2 || len(r.Checks) == 0 {
				t.Errorf("%+v", r)
			}
			seen[key(r)] = r
		}
		return seen
	}
	seen := look()
	for _, want := range []string{"pine", "amber", "pine camera", "amber strip",
		"pine battery camera coil display motor port speaker strip", "pine display strip"} {
		if _, ok := seen[want]; !ok {
			t.Errorf("%q is not proposed", want)
		}
	}
	first := seen["pine camera"]
	g.Do(p, first)
	if _, err := g.Read(); err != nil {
		t.Fatal(err)
	}
	again, other := look()["pine camera"], look()["amber camera"]
	if !again.Refit || other.Refit || again.Minutes <= other.Minutes {
		t.Errorf("on the board that was just read: %+v, on the other %+v", again, other)
	}
	if g.Minutes != first.Minutes || len(g.Rounds) != 1 || g.Rounds[0].Results["face"] != "lost" {
		t.Errorf("the round that was made: %+v", g.Rounds)
	}
}
