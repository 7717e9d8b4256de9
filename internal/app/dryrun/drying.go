package dryrun

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"waryowl/internal/core/answer"
	"waryowl/internal/core/drill"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/policy"
	"waryowl/internal/core/swapstudy"
	"waryowl/internal/sim"
	"waryowl/internal/store"
)

// drying is a run replayed to where it stands.
type drying struct {
	run      store.DryRun
	phones   *sim.Phones
	bench    *sim.Bench
	game     *policy.Game
	readings []drill.Reading
	shown    []Reading
	log      []string
	commits  map[string]string
	before   []ledger.Act
	told     swapstudy.Input // the same as a study, for what could have been known
}

func caseOf(p *sim.Phones) policy.Case {
	c := policy.Case{Boards: [2]string{sim.Units[0], sim.Units[1]}, Mates: p.Mates, BoardOwn: p.BoardOwn,
		Noise: ledger.Noise, Cost: p.Cost, Reseat: p.ReseatCost, Trapped: p.World.Trapped()}
	for _, s := range p.Slots {
		c.Slots = append(c.Slots, policy.Slot{Name: s.Name, Family: s.Family})
	}
	for _, k := range p.Checks {
		c.Checks = append(c.Checks, policy.Check{Name: k.Name, Family: k.Family, Seconds: k.Seconds})
	}
	return c
}

func replay(run store.DryRun) (*drying, error) {
	d := &drying{run: run, phones: sim.NewPhones(run.Seed, sim.Levels[run.Level]), commits: map[string]string{},
		log: []string{}, shown: []Reading{}}
	d.bench = d.phones.Bench(1)
	baseline := policy.Baseline(caseOf(d.phones), d.bench)
	d.bench.Minutes = 0 // the clock starts when the phones are open
	d.game = policy.NewGame(caseOf(d.phones), baseline)
	d.told = studyOf(d.phones, baseline)
	for _, u := range sim.Units {
		d.shown = append(d.shown, Reading{Mark: "before", Title: strings.ToUpper(u) + ", before it was opened",
			Board: u, Results: baseline[u]})
	}
	for i, a := range run.Acts {
		if err := d.do(a); err != nil {
			return nil, fmt.Errorf("act %d: %w", i, err)
		}
	}
	return d, nil
}

// do carries out one act on the simulated bench, or refuses it.
func (d *drying) do(a store.DryAct) error {
	for i, s := range a.Slots {
		if !slices.ContainsFunc(d.phones.Slots, func(x sim.Slot) bool { return x.Name == s }) ||
			slices.Contains(a.Slots[:i], s) {
			return fault.New(fmt.Sprintf("slots[%d]", i), s, "a part of these phones, once")
		}
	}
	for i, c := range a.Checks {
		if !slices.ContainsFunc(d.phones.Checks, func(x sim.Check) bool { return x.Name == c }) {
			return fault.New(fmt.Sprintf("checks[%d]", i), c, "a check of these phones")
		}
	}
	if a.Board == "" && a.Kind != "arrange" && a.Kind != "commit" {
		return fault.New("board", "nothing", "pine or amber")
	}
	at := d.bench.Minutes
	note := func(format string, args ...any) {
		d.log = append(d.log, fmt.Sprintf("minute %.0f: ", at)+fmt.Sprintf(format, args...)+fmt.Sprintf(" (%.0f min)",
			d.bench.Minutes-at))
	}
	board := strings.ToUpper(a.Board)
	switch a.Kind {
	case "arrange":
		d.tellMoves(d.bench.Exchanged(), a.Slots)
		d.bench.Exchange(a.Slots)
		note("%s", arranged(a.Slots))
	case "read":
		if len(a.Checks) == 0 {
			return fault.New("checks", "nothing", "the checks to run")
		}
		results := d.bench.Run(a.Board, a.Checks, a.Late)
		r := drill.Reading{Trial: fmt.Sprintf("t%d", len(d.readings)+1), Board: a.Board,
			Exchanged: d.bench.Exchanged(), Results: results}
		for _, s := range d.phones.Slots {
			if d.bench.Off(a.Board, s.Name) {
				r.Off = append(r.Off, s.Name)
			}
		}
		d.readings = append(d.readings, r)
		d.tellReading(r, a.Late)
		if d.bench.Build(a.Board) == sim.Builds[0] {
			d.game.Add(a.Board, r.Exchanged, r.Off, d.before, results)
			d.before = nil
		}
		title := board + " board: " + arranged(r.Exchanged)
		if len(r.Off) > 0 {
			title += "; left off: " + strings.Join(r.Off, ", ")
		}
		d.shown = append(d.shown, Reading{r.Trial, title, a.Board, a.Late, results, d.bench.Minutes})
	case "reseat":
		d.bench.Reseat(a.Board, a.Slots)
		d.before = append(d.before, d.game.Reseated(a.Board, d.bench.Exchanged()))
		d.tellAct(swapstudy.Act{Kind: ledger.Reseat, Board: a.Board, Slots: orAll(a.Slots, d.bench.Exchanged())})
		note("%s reseated", board)
	case "leave off":
		if len(a.Slots) != 1 {
			return fault.New("slots", strings.Join(a.Slots, ", "), "one part")
		}
		d.bench.Leave(a.Board, a.Slots[0])
		note("%s: %s left off", board, a.Slots[0])
	case "reset":
		d.bench.Reset(a.Board)
		d.before = append(d.before, ledger.Act{Kind: ledger.Reset, Board: a.Board})
		d.tellAct(swapstudy.Act{Kind: ledger.Reset, Board: a.Board})
		note("%s reset", board)
	case "flash":
		d.bench.Flash(a.Board)
		d.tellAct(swapstudy.Act{Kind: ledger.Flash, Board: a.Board, Build: sim.Builds[1]})
		note("%s flashed to build %s: it cannot go back", board, sim.Builds[1])
	case "calibrate":
		if len(a.Slots) != 1 {
			return fault.New("slots", strings.Join(a.Slots, ", "), "one part")
		}
		if ok, why := d.bench.Calibrate(a.Board, a.Slots[0]); ok {
			note("%s: %s calibrated, accepted", board, a.Slots[0])
		} else {
			note("%s: %s refused, %s", board, a.Slots[0], why)
		}
	case "commit":
		if len(a.Checks) != 1 {
			return fault.New("checks", strings.Join(a.Checks, ", "), "the check that is committed to")
		}
		if a.Explanation != "" && !d.explains(a.Explanation) {
			return fault.New("explanation", a.Explanation,
				"one of the explanations of these phones, or nothing")
		}
		d.commits[a.Checks[0]] = a.Explanation
	}
	return nil
}

func arranged(slots []string) string {
	switch {
	case len(slots) == 0:
		return "every piece its own"
	case len(slots) > 4:
		return fmt.Sprintf("%d pieces exchanged", len(slots))
	}
	return "exchanged: " + strings.Join(slots, ", ")
}

// Choice is an explanation that can be committed to.
type Choice struct {
	ID    string `json:"id"`
	Words string `json:"words"`
}

// choices are all explanations of these phones: parts, and mates; with traps in the level, what comes and goes, ends by
// a reset, needs any two parts together, or is hurt on the way.
func (d *drying) choices() []Choice {
	var list []Choice
	trapped := d.phones.World.Trapped()
	for _, s := range d.phones.Slots {
		list = append(list, Choice{s.Name + ":stranger", s.Name})
		if trapped {
			list = append(list, Choice{s.Name + ":stranger~", s.Name + ", now and then"},
				Choice{s.Name + ":stranger<reset", s.Name + ", until a reset"})
			for _, u := range sim.Units {
				list = append(list, Choice{"board:" + u + ":" + s.Name + ":stranger",
					s.Name + ", on the " + strings.ToUpper(u) + " board only"})
			}
		}
	}
	pair := func(a, b string) Choice {
		a, b = min(a, b), max(a, b)
		return Choice{a + "&" + b + ":both", a + " and " + b + ", only together"}
	}
	for _, m := range d.phones.Mates {
		a, b := min(m[0], m[1]), max(m[0], m[1])
		list = append(list, Choice{a + "/" + b + ":split", a + " parted from " + b}, pair(a, b))
	}
	if !trapped {
		return list
	}
	for i, s := range d.phones.Slots {
		for _, u := range sim.Units {
			list = append(list, Choice{"piece:" + u + "-" + s.Name + ":bad",
				strings.ToUpper(u) + "'s " + s.Name + " itself, damaged on the way"})
		}
		for _, o := range d.phones.Slots[i+1:] {
			if p := pair(s.Name, o.Name); !slices.Contains(list, p) {
				list = append(list, p)
			}
		}
	}
	return list
}

func (d *drying) explains(e string) bool {
	return slices.ContainsFunc(d.choices(), func(c Choice) bool { return c.ID == e })
}

func (d *drying) view() View {
	v := View{DryRun: d.run, Name: sim.Levels[d.run.Level].Name, Slots: []DrySlot{}, Checks: []DryCheck{},
		Mates: d.phones.Mates, BoardSet: []string{}, BoardMin: d.phones.BoardMinutes,
		Exchanged: append([]string{}, d.bench.Exchanged()...), Off: map[string][]string{},
		Builds: map[string]string{}, Clock: d.bench.Minutes, Readings: d.shown, Log: d.log, Commits: d.commits,
		Choices: d.choices()}
	if v.Mates == nil {
		v.Mates = [][2]string{}
	}
	for _, c := range d.phones.Checks {
		v.Checks = append(v.Checks, DryCheck(c))
	}
	for _, s := range d.phones.Slots {
		v.Slots = append(v.Slots, DrySlot(s))
		if !slices.Contains(d.phones.BoardOwn, s.Name) {
			v.BoardSet = append(v.BoardSet, s.Name)
		}
	}
	for _, u := range sim.Units {
		v.Builds[u], v.Off[u] = d.bench.Build(u), []string{}
		for _, s := range d.phones.Slots {
			if d.bench.Off(u, s.Name) {
				v.Off[u] = append(v.Off[u], s.Name)
			}
		}
	}
	v.Answer = answer.Sentence{answer.Number(v.Clock, "min", "#clock"), answer.Text(" used, "),
		answer.Number(float64(len(v.Commits)), "", "#commit"),
		answer.Text(fmt.Sprintf(" of %s committed", answer.Counted(len(v.Checks), "verdict")))}
	switch {
	case d.run.Done:
		v.Answer = answer.Sentence{answer.Number(float64(d.run.RightCount), "", "#report"), answer.Text(" right, "),
			answer.Number(float64(d.run.WrongCount), "", "#report"), answer.Text(" wrong, "),
			answer.Number(float64(d.run.UnprovenCount), "", "#report"),
			answer.Text(" unproven, in "), answer.Number(d.run.Minutes, "min",
				"#report"), answer.Text("; the advised sequence takes "), answer.Number(d.run.AdvisedMinutes, "min",
				"#report"), answer.Text(".")}
	case len(d.readings) == 0:
		v.Answer = append(v.Answer, answer.Text("; nothing was read yet."))
	default:
		last := -1.0
		for i, r := range d.readings {
			if len(r.Exchanged)+len(r.Off) == 0 {
				last = d.shown[len(sim.Units)+i].Minute
			}
		}
		if last < 0 {
			v.Answer = append(v.Answer, answer.Text(", no original was put back and read yet."))
		} else {
			v.Answer = append(v.Answer, answer.Text(", the originals were last read at minute "),
				answer.Number(last, "", "#clock"), answer.Text("."))
		}
	}
	return v
}

// report judges the run and plays the advised sequence on the same phones.
func (d *drying) report() (Report, error) {
	r := Report{Slips: []string{}, Advised: []Round{}}
	out, err := d.game.Read()
	if err != nil {
		return r, err
	}
	known, err := d.known()
	if err != nil {
		return r, err
	}
	c := drill.Case{Readings: d.readings, Commits: d.commits, Truth: map[string][]string{}, BoardOwn: d.phones.BoardOwn}
	for _, k := range d.phones.Checks {
		c.Checks = append(c.Checks, k.Name)
		for _, e := range d.choices() {
			if d.phones.Truth(e.ID, k.Name, sim.Builds[0]) {
				c.Truth[k.Name] = append(c.Truth[k.Name], e.ID)
			}
		}
	}
	c.Proven = func(check, said string) bool {
		k := out.Checks[check]
		if said != "" {
			if known.likely(check, said) >= 0.9 {
				return true
			}
			p := k.Marginal[said]
			for a, m := range k.Marginal { // a piece that is bad from some trial on
				if strings.HasPrefix(said, "piece:") && strings.HasPrefix(a, said+"@") {
					p += m
				}
			}
			return p >= 0.9
		}
		for a, p := range k.Marginal {
			if !d.game.History().Atom(a).Accident() && p > 0.1 {
				return false
			}
		}
		return true
	}
	r.Verdicts = drill.Judge(c)
	r.Truths = d.truths(known)
	for _, v := range r.Verdicts {
		for _, s := range v.Slips {
			r.Slips = append(r.Slips, v.Check+": "+s)
		}
	}
	g, err := policy.Play(caseOf(d.phones), d.phones.Bench(1), policy.Ours)
	if err != nil {
		return r, err
	}
	r.Minutes = math.Round(g.Minutes)
	for _, x := range g.Rounds {
		lost := []string{}
		for _, k := range d.phones.Checks {
			if x.Results[k.Name] == "lost" {
				lost = append(lost, k.Name)
			}
		}
		words := strings.ToUpper(x.Board) + " board: " + arranged(x.Slots)
		if x.Refit {
			words += ", fitted anew"
		}
		if x.Reset {
			words += ", after a reset"
		}
		r.Advised = append(r.Advised, Round{words, x.Minutes, lost})
	}
	return r, nil
}
