package faultfind

import (
	"fmt"
	"maps"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"
)

func solve(t *testing.T, in Input) Output {
	t.Helper()
	out, err := Solve(in)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

func no(acts ...string) []Tried {
	var out []Tried
	for _, a := range acts {
		out = append(out, Tried{a, false})
	}
	return out
}

// TestTheWorkedCase follows a face unlock that is lost, with a working front camera, to its end; its figures were worked out by
// another program.
func TestTheWorkedCase(t *testing.T) {
	limit := 9000.
	in := Input{Symptom: "face unlock lost", Works: []string{"front-preview"}, Service: &Service{12000}, Limit: &limit}
	for _, c := range []struct {
		tried    string
		hit      bool
		status   string
		next     string // act, expected
		expected float64
		within   float64
		likely   string
		p        float64
		spent    float64
	}{
		{"", false, "open", "history asked: parts exchanged", 3555.72, .9960, "projector", .2656, 0},
		{"history asked: parts exchanged", false, "open", "dot projector seen in a night camera", 4345.27, .9931, "projector", .4619, 120},
		{"dot projector seen in a night camera", false, "open", "reseat array and strip leads", 7802.63, .9859, "projector", .9390, 300},
		{"reseat array and strip leads", false, "found", "replace and calibrate the array", 6910.15, .9852, "projector", .9852, 1500},
		{"replace and calibrate the array", true, "repaired", closing, 360, 1, "projector", 1, 7900},
	} {
		if c.tried != "" {
			in.Tries = append(in.Tries, Tried{c.tried, c.hit})
		}
		out := solve(t, in)
		if out.Status != c.status || out.Next[0].Act != c.next || math.Abs(out.Next[0].Expected-c.expected) > .005 ||
			out.Causes[0].Cause != c.likely || math.Abs(out.Causes[0].P-c.p) > 5e-5 || out.Spent != c.spent ||
			math.Abs(out.Expected.PWithin-c.within) > 5e-5 {
			t.Errorf("after %q: %+v", c.tried, out)
		}
	}
	in.Tries = append(in.Tries, Tried{closing, true})
	if out := solve(t, in); out.Control != "passed" || len(out.Next) > 0 || !slices.Equal(out.Between, []string{"projector"}) {
		t.Errorf("closed: %+v", out)
	}
	in.Tries[len(in.Tries)-1].Hit = false
	if out := solve(t, in); !slices.Contains(out.Warnings, "came back") || out.Status != "found" ||
		!slices.Equal(out.Between, []string{"board front camera"}) {
		t.Errorf("came back: %+v", out)
	}
	in.Tries, in.Works = nil, nil
	if out := solve(t, in); math.Abs(out.Expected.Cost-4080.80) > .005 {
		t.Errorf("without the reading: %+v", out.Expected)
	}
}

// TestNoBoardIsDeadBeforeTheGate: a phone that does not start is not given up before the last step of the gate.
func TestNoBoardIsDeadBeforeTheGate(t *testing.T) {
	in := Input{Symptom: "no start", Service: &Service{9000}}
	for _, want := range []struct {
		act      string
		expected float64
	}{{"forced restart", 4023.30}, {"charger 15 min", 4039.80}} {
		out := solve(t, in)
		k := slices.IndexFunc(out.Next, func(n Next) bool { return n.Act == want.act })
		if k < 0 || math.Abs(out.Next[k].Expected-want.expected) > .005 {
			t.Errorf("%s: %+v", want.act, out.Next)
		}
	}
	in.Tries = no("charger 15 min", "forced restart", "sound or vibration when switched on", "reseat battery lead",
		"known-good battery", "charge port lead off")
	out := solve(t, in)
	if out.Status != "gate" || out.Dead || len(out.Next) != 1 || out.Next[0].Act != "reseat battery lead again" {
		t.Errorf("before the gate: %+v", out)
	}
	in.Tries = append(in.Tries, Tried{"reseat battery lead again", false})
	if out := solve(t, in); out.Status != "stop" || out.Why != "price" || !out.Dead || len(out.Gate) > 0 {
		t.Errorf("behind it: %+v", out)
	}
}

// TestEveryCauseIsRepaired plays each cause of the shipped table by its own advice.
func TestEveryCauseIsRepaired(t *testing.T) {
	played, acts, alone := 0, 0, 0
	for _, name := range SymptomOrder() {
		sym := Shipped().Symptoms[name]
		for cause := range maps.Keys(sym.Causes) {
			in := Input{Symptom: name, Service: &Service{1e6}}
			ended := false
			for range 14 {
				out := solve(t, in)
				if out.Dead && len(out.Gate) > 0 {
					t.Errorf("%s, %s: dead before the gate", name, cause)
				}
				if out.Control == "passed" {
					if !slices.Contains(out.Between, cause) {
						t.Errorf("%s, %s: named %v", name, cause, out.Between)
					}
					if len(out.Between) == 1 {
						alone++
					}
					ended = true
					break
				}
				if len(out.Next) == 0 {
					break
				}
				n := out.Next[0].Act
				hit := n == closing
				if k := slices.IndexFunc(sym.Acts, func(a Act) bool { return a.Act == n }); k >= 0 {
					hit = slices.Contains(sym.Acts[k].Of, cause)
					acts++
				}
				in.Tries = append(in.Tries, Tried{n, hit})
			}
			if !ended {
				t.Errorf("%s, %s: not repaired after %v", name, cause, in.Tries)
			}
			played++
		}
	}
	t.Logf("%d causes, %.1f acts each, %d named alone", played, float64(acts)/float64(played), alone)
	if float64(acts) > 4.5*float64(played) || played != 102 {
		t.Errorf("%d acts for %d causes", acts, played)
	}
}

// small is a random table of one symptom.
func small(r *rand.Rand, causes, acts int) *Table {
	s := Symptom{Check: "boot", Causes: map[string]Cause{}}
	var names []string
	for i := range causes {
		name := fmt.Sprint("c", i)
		names = append(names, name)
		s.Causes[name] = Cause{P: .05 + r.Float64(), Component: name}
	}
	for i := range acts {
		a := Act{Act: fmt.Sprint("a", i), Kind: []string{"cure", "cure", "try", "look"}[r.IntN(4)], Minutes: float64(1 + r.IntN(20)),
			Price: float64(r.IntN(3) * 700), Opens: []string{"", "lid", "inner"}[r.IntN(3)]}
		for _, c := range names {
			if r.IntN(3) == 0 {
				a.Of = append(a.Of, c)
			}
		}
		if i > 0 && r.IntN(4) == 0 {
			a.Needs = []string{fmt.Sprint("a", r.IntN(i))}
		}
		s.Acts = append(s.Acts, a)
	}
	return &Table{Openings: map[string]Opening{"lid": {Minutes: 9, Close: 7}, "inner": {Inside: "lid", Minutes: 5, Close: 4}},
		Symptoms: map[string]Symptom{"s": s}}
}

// byHand is the least expected cost over all strategies, written down from the definition: no memory, nothing left out.
func byHand(s Symptom, openings map[string]Opening, left map[string]float64, done []string, open []string, service float64) float64 {
	best, total := service, 0.0
	for _, p := range left {
		total += p
	}
	for _, a := range s.Acts {
		if slices.Contains(done, a.Act) || slices.ContainsFunc(a.Needs, func(n string) bool { return !slices.Contains(done, n) }) {
			continue
		}
		cost, now := a.Minutes*60+a.Wait*5+a.Price, slices.Clone(open)
		for at := a.Opens; at != ""; at = openings[at].Inside {
			if !slices.Contains(now, at) {
				now = append(now, at)
				cost += 60 * (openings[at].Minutes + openings[at].Close)
			}
		}
		yes, not, hit := map[string]float64{}, map[string]float64{}, 0.0
		for c, p := range left {
			if slices.Contains(a.Of, c) {
				yes[c], hit = p, hit+p
			} else {
				not[c] = p
			}
		}
		hit /= total
		if len(not) > 0 {
			cost += (1 - hit) * byHand(s, openings, not, append(slices.Clone(done), a.Act), now, service)
		}
		if hit > 0 && a.Kind == "cure" {
			cost += hit * 360
		} else if hit > 0 {
			cost += hit * byHand(s, openings, yes, append(slices.Clone(done), a.Act), now, service)
		}
		best = math.Min(best, cost)
	}
	return best
}

func TestTheSearchIsExact(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 8))
	for range 40 {
		table := small(r, 2+r.IntN(4), 3+r.IntN(4))
		s := table.Symptoms["s"]
		left, total := map[string]float64{}, 0.0
		for name, c := range s.Causes {
			left[name] = c.P
			total += c.P
		}
		out := solve(t, Input{Symptom: "s", Table: table, Service: &Service{6000}})
		if want := byHand(s, table.Openings, left, nil, nil, 6000); math.Abs(out.Expected.Cost-want) > .01 || !out.Exact {
			t.Errorf("%.2f, by hand %.2f: %+v", out.Expected.Cost, want, s)
		}
	}
}

// TestChanceOverCost: where every act cures one cause and nothing is shared, the best order is that of chance over cost
// (J. B. Kadane and H. A. Simon, "Optimal strategies for a class of constrained sequential problems", Annals of Statistics 5, 1977).
func TestChanceOverCost(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 10))
	zero := 0.
	for range 20 {
		s := Symptom{Check: "boot", Causes: map[string]Cause{}}
		for i := range 7 {
			c := fmt.Sprint("c", i)
			s.Causes[c] = Cause{P: .02 + r.Float64()}
			s.Acts = append(s.Acts, Act{Act: "a" + c, Kind: "cure", Of: []string{c}, Minutes: 1 + 20*r.Float64()})
		}
		order := slices.SortedFunc(slices.Values(s.Acts), func(a, b Act) int {
			if s.Causes[a.Of[0]].P/a.Minutes > s.Causes[b.Of[0]].P/b.Minutes {
				return -1
			}
			return 1
		})
		in := Input{Symptom: "s", Table: &Table{Symptoms: map[string]Symptom{"s": s}}, Service: &Service{1e6}, Control: &zero}
		for _, want := range order[:5] {
			out := solve(t, in)
			if out.Next[0].Act != want.Act {
				t.Fatalf("%s before %s", out.Next[0].Act, want.Act)
			}
			in.Tries = append(in.Tries, Tried{want.Act, false})
		}
	}
}

// TestTheOddsAreThoseOfDrawnPhones draws causes with gonum and plays them: the mean cost is the expected one.
func TestTheOddsAreThoseOfDrawnPhones(t *testing.T) {
	for _, name := range []string{"no charge", "face unlock lost"} {
		sym := Shipped().Symptoms[name]
		first := solve(t, Input{Symptom: name, Service: &Service{9000}})
		names := slices.Sorted(maps.Keys(sym.Causes))
		var p []float64
		for _, c := range names {
			p = append(p, sym.Causes[c].P)
		}
		draw := distuv.NewCategorical(p, rand.NewPCG(1, 2))
		known := map[string]float64{}
		var cost []float64
		for range 3000 {
			cause := names[int(draw.Rand())]
			if c, played := known[cause]; played {
				cost = append(cost, c)
				continue
			}
			in := Input{Symptom: name, Service: &Service{9000}}
			for {
				out := solve(t, in)
				if out.Status == "stop" {
					known[cause] = out.Spent + 9000
					break
				}
				n := out.Next[0].Act
				hit := n == closing || slices.Contains(sym.Acts[slices.IndexFunc(sym.Acts, func(a Act) bool { return a.Act == n })].Of, cause)
				in.Tries = append(in.Tries, Tried{n, hit})
				if n == closing {
					known[cause] = solve(t, in).Spent
					break
				}
			}
			cost = append(cost, known[cause])
		}
		mean, sd := stat.MeanStdDev(cost, nil)
		if se := stat.StdErr(sd, float64(len(cost))); math.Abs(mean-first.Expected.Cost) > 4*se {
			t.Errorf("%s: drawn %.0f ± %.0f, expected %.0f", name, mean, se, first.Expected.Cost)
		}
	}
}

func TestWhatIsLearnedAndWhatThisModelHas(t *testing.T) {
	in := Input{Symptom: "no charge", Learned: map[string]float64{"charge port": 20}}
	p := solve(t, in).Causes[0]
	if p.Cause != "charge port" || math.Abs(p.P-(20*.22+20)/40) > 1e-4 {
		t.Errorf("as many cases as the table weighs: %+v", p)
	}
	in = Input{Symptom: "no charge", Add: Addition{Drop: []string{"lint in the port"}, Causes: map[string]Cause{"dust plug": {P: .4}},
		Acts: []Act{{Act: "plug out", Kind: "cure", Of: []string{"dust plug"}, Minutes: 1}}}}
	if out := solve(t, in); out.Next[0].Act != "plug out" || math.Abs(out.Causes[0].P-.4/1.2) > 1e-4 {
		t.Errorf("what is added: %+v", out)
	}
	out := solve(t, Input{Symptom: "no charge", Tries: []Tried{{"restart", true}, {"clean the port", true}}})
	if !slices.Contains(out.Warnings, "contradiction: clean the port") || out.Status != "repaired" {
		t.Errorf("a contradiction: %+v", out)
	}
	out = solve(t, Input{Symptom: "water", Tries: []Tried{{"replace battery", false}}})
	if !slices.Contains(out.Warnings, "out of order: replace battery") || out.Next[0].Act != "off, no charger" || len(out.Next) != 1 {
		t.Errorf("what protects comes first: %+v", out)
	}
}

func TestRefusals(t *testing.T) {
	minus := -1.
	sym := func(change func(*Symptom)) *Table {
		s := Symptom{Check: "boot", Causes: map[string]Cause{"x": {P: 1}}, Acts: []Act{{Act: "a", Kind: "cure", Of: []string{"x"}},
			{Act: "b", Kind: "look", Of: []string{"x"}, Needs: []string{"a"}}}}
		change(&s)
		return &Table{Symptoms: map[string]Symptom{"s": s}, Openings: map[string]Opening{"lid": {Minutes: 1}}}
	}
	for name, c := range map[string]struct {
		in    Input
		field string
	}{
		"a symptom":   {Input{Symptom: "haunted"}, "symptom"},
		"a check":     {Input{Symptom: "no start", Works: []string{"sixth sense"}}, "works[0]"},
		"an act":      {Input{Symptom: "no start", Tries: no("a spell")}, "tries[0].act"},
		"a cause":     {Input{Symptom: "no start", Learned: map[string]float64{"a curse": 1}}, "learned.a curse"},
		"a count":     {Input{Symptom: "no start", Learned: map[string]float64{"board": -1}}, "learned.board"},
		"minutes":     {Input{Symptom: "no start", Minutes: map[string]float64{"forced restart": -1}}, "minutes.forced restart"},
		"a price":     {Input{Symptom: "no start", Prices: map[string]float64{"replace battery": -1}}, "prices.replace battery"},
		"labour":      {Input{Symptom: "no start", Labour: &minus}, "labour_per_hour"},
		"an opening":  {Input{Symptom: "no start", Open: []string{"roof"}}, "open[0]"},
		"all dropped": {Input{Symptom: "no vibration", Add: Addition{Drop: slices.Sorted(maps.Keys(Shipped().Symptoms["no vibration"].Causes))}}, "add.drop"},
		"openings in each other": {Input{Symptom: "no start", Openings: map[string]Opening{"lid": {Inside: "board out"}}},
			"openings.board out.inside"},
		"a circle":  {Input{Symptom: "s", Table: sym(func(s *Symptom) { s.Acts[0].Needs = []string{"b"} })}, "acts[0].needs"},
		"no prior":  {Input{Symptom: "s", Table: sym(func(s *Symptom) { s.Causes["x"] = Cause{} })}, "causes"},
		"not there": {Input{Symptom: "s", Table: sym(func(s *Symptom) { s.Acts[1].Of = []string{"y"} })}, "acts[1].of[0]"},
	} {
		if _, err := Solve(c.in); err == nil || !strings.HasPrefix(err.Error(), c.field+":") {
			t.Errorf("%s: %v, want the field %s", name, err, c.field)
		}
	}
}

// What an experienced technician does first (common practice, no source): the cheap and harmless before what opens the phone, the
// lead before the part, what protects people before all.
func TestWhatIsDoneFirst(t *testing.T) {
	agreed, all := 0, 0
	for _, c := range []struct {
		told, symptom string
		works, lost   []string
		tries         []Tried
		first         []string // any of them
	}{
		{"does not start, nothing tried", "no start", nil, nil, nil, []string{"forced restart", "charger 15 min"}},
		{"does not start, charged all night", "no start", nil, nil, no("charger 15 min"), []string{"forced restart", "sound or vibration when switched on"}},
		{"does not start, but it buzzed", "no start", nil, nil, []Tried{{"sound or vibration when switched on", true}}, []string{"known-good display"}},
		{"does not start after a fall, from outside all was tried", "no start", nil, nil, no("charger 15 min", "forced restart",
			"sound or vibration when switched on"), []string{"reseat battery lead"}},
		{"does not charge", "no charge", nil, nil, nil, []string{"other cable and charger", "clean the port"}},
		{"does not charge, other cable tried", "no charge", nil, nil, no("other cable and charger"), []string{"clean the port"}},
		{"does not charge by cable, port is clean", "no charge", nil, nil, no("other cable and charger", "clean the port"),
			[]string{"reseat port lead", "restart"}},
		{"does not charge, the microphones work", "no charge", []string{"microphones"}, nil, no("other cable and charger", "clean the port", "restart"),
			[]string{"known-good port, laid on", "reseat battery lead"}},
		{"dark, it rings", "dark screen", nil, nil, []Tried{{"sound or vibration when switched on", true}}, []string{"reseat display lead", "forced restart"}},
		{"dark after a fall", "dark screen", nil, nil, nil, []string{"forced restart", "sound or vibration when switched on"}},
		{"dark, restarted, it rings", "dark screen", nil, nil, []Tried{{"sound or vibration when switched on", true}, {"forced restart", false}},
			[]string{"reseat display lead"}},
		{"no touch, with a film on", "touch dead", nil, nil, nil, []string{"restart", "film off, glass cleaned"}},
		{"no touch, restarted, no film", "touch dead", nil, nil, no("restart", "film off, glass cleaned"), []string{"reseat display leads"}},
		{"rear camera black", "rear camera dead", nil, nil, nil, []string{"other camera app", "restart", "lens cleaned"}},
		{"rear camera black, from outside all was tried", "rear camera dead", nil, nil, no("other camera app", "restart", "lens cleaned"),
			[]string{"reseat camera lead"}},
		{"front camera black", "front camera dead", nil, nil, nil, []string{"other camera app", "restart", "lens cleaned"}},
		{"all cameras black", "all cameras dead", nil, nil, nil, []string{"restart", "other camera app"}},
		{"ear is quiet", "no sound at the ear", nil, nil, nil, []string{"clean the mesh", "settings, headset mode off", "sound over a headset"}},
		{"ear is quiet, mesh is clean, settings seen", "no sound at the ear", nil, nil, no("clean the mesh", "settings, headset mode off", "restart"),
			[]string{"reseat its contact", "sound over a headset"}},
		{"loudspeaker is quiet", "no sound from the loudspeaker", nil, nil, nil, []string{"clean the mesh", "settings, headset mode off", "sound over a headset"}},
		{"does not buzz", "no vibration", nil, nil, nil, []string{"settings"}},
		{"does not buzz, settings seen", "no vibration", nil, nil, no("settings"), []string{"reseat the motor contact"}},
		{"no signal", "no signal", nil, nil, nil, []string{"other card", "flight mode off, restart"}},
		{"no signal, another card works", "no signal", nil, nil, []Tried{{"other card", true}}, []string{"network settings, account asked", "new card"}},
		{"does not charge on the pad", "wireless charging dead", nil, nil, nil, []string{"other pad, case off"}},
		{"does not charge on any pad", "wireless charging dead", nil, nil, no("other pad, case off", "restart"), []string{"reseat coil lead"}},
		{"face unlock lost after a screen", "face unlock lost", []string{"front-preview"}, nil, nil, []string{"history asked: parts exchanged"}},
		{"finger unlock lost", "finger unlock lost", nil, nil, nil, []string{"history asked: parts exchanged", "film off, glass cleaned", "enrol anew"}},
		{"restarts by itself", "restarts", nil, nil, nil, []string{"log read: a sensor is named"}},
		{"bulges", "swollen or hot", nil, nil, nil, []string{"off, no charger"}},
		{"fell in the water", "water", nil, nil, nil, []string{"off, no charger"}},
	} {
		out := solve(t, Input{Symptom: c.symptom, Works: c.works, Lost: c.lost, Tries: c.tries})
		all++
		if slices.Contains(c.first, out.Next[0].Act) {
			agreed++
		} else {
			t.Logf("%s: %s, a technician %v", c.told, out.Next[0].Act, c.first)
		}
	}
	t.Logf("agreed in %d of %d", agreed, all)
	if agreed*100 < 80*all {
		t.Errorf("agreed in %d of %d", agreed, all)
	}
}
