package swap

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/study"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// Account says in plain language what the swaps did, showed and did not show.
type Account struct {
	Build    string   `json:"build"`
	Done     []string `json:"done" nullable:"false"`
	Shown    []string `json:"shown" nullable:"false"`
	NotShown []string `json:"not_shown" nullable:"false"`
	Modules  []Module `json:"modules" nullable:"false" doc:"repair or replace, module by module"`
}

// Module weighs repairing a module against replacing it.
type Module struct {
	Part       string  `json:"part"`
	Whose      string  `json:"whose,omitempty" doc:"of a piece that is not this model's: the model or the lot that it comes from"`
	Advice     string  `json:"advice"`
	Why        string  `json:"why"`
	Mark       string  `json:"mark" doc:"over all checks, as a stranger"`
	Eye        string  `json:"eye" enum:"shut,half,open"`
	Minutes    float64 `json:"minutes,omitempty" doc:"to closed and tested; left out: no way on record"`
	Odds       string  `json:"odds,omitempty" doc:"what may be hurt on the way"`
	WorthMinor int     `json:"worth_minor,omitempty"`
	Currency   string  `json:"currency,omitempty"`
	PaysMin    float64 `json:"pays_below_minutes,omitempty" doc:"a repair at the bench pays while it takes less than this at the rate given"`
}

// Tell gives the account of a study's swaps on its newest build. rate is money a bench hour, in minor units.
func Tell(ctx context.Context, s *act.Service, id string, rate float64) (Account, error) {
	b, err := study.Load(s.DB.WithContext(ctx), id)
	if err != nil {
		return Account{}, err
	}
	return TellOf(b, rate)
}

// TellOf is the account of a study that is loaded already.
func TellOf(b *study.Record, rate float64) (Account, error) {
	a := Account{Done: []string{}, Shown: []string{}, NotShown: []string{}, Modules: []Module{}}
	if builds := b.Builds(); len(builds) > 0 {
		a.Build = builds[len(builds)-1]
	}
	r, err := b.Read(a.Build)
	if err != nil {
		return a, err
	}
	name := map[string]string{}
	for _, c := range b.SwapChecks() {
		name[c.Mark] = c.Name
	}
	for i, t := range b.Trials {
		d := r.History.Trials[i]
		line := study.TrialMark(t) + ", " + b.Named(t.BoardUnitID, t.HousingUnitID, d.States, len(b.Slots()))
		if n := len(d.States); n > 0 && n <= 3 {
			var slots []string
			for _, s := range r.Study.Slots {
				if st := d.States[s]; st != "" {
					slots = append(slots, "the "+s+" ("+trade.Say("state", st)+")")
				}
			}
			line += " — " + strings.Join(slots, ", ")
		}
		a.Done = append(a.Done, line+fmt.Sprintf("; %s run on build %s.", answer.Counted(len(d.Results), "check"),
			cmp.Or(d.Build, "not recorded")))
	}
	for _, st := range ledger.States(r.In) {
		var losses, works, half []string
		for _, c := range r.Study.Checks {
			v := r.Grade(st[0], st[1], c)
			switch {
			case (v.Mark == ledger.Loses || v.Mark == ledger.Dead) && v.Eye == ledger.Open:
				losses = append(losses, "“"+name[c]+"” (proven)")
			case v.Mark == ledger.Loses || v.Mark == ledger.Dead:
				losses = append(losses, "“"+name[c]+"” (inferred)")
			case v.Mark == ledger.Sporadic:
				losses = append(losses, "“"+name[c]+"” now and then")
			case v.Mark == ledger.Together && v.How == "parted":
				losses = append(losses, "“"+name[c]+"” when it is parted from the "+v.With)
			case v.Mark == ledger.Together:
				losses = append(losses, "“"+name[c]+"” only together with the "+v.With)
			case (v.Mark == ledger.Works || v.Mark == ledger.Calibrated) && len(v.For) == 0:
				works = append(works, c)
			case until(r, v) != "":
				half = append(half, "“"+name[c]+"”, which came back after a "+until(r, v)+",")
			case v.Mark == ledger.Unsettled && len(v.For) > 0:
				half = append(half, "“"+name[c]+"”")
			}
		}
		what := "The " + st[0] + ", " + trade.Say("state", st[1]) + ","
		if st[1] == ledger.Off { // nothing was exchanged
			what = "Leaving off the " + st[0]
		}
		if len(losses) > 0 {
			a.Shown = append(a.Shown, what+" loses "+strings.Join(losses, ", ")+".")
		}
		if len(works) > 0 && len(losses) == 0 {
			a.Shown = append(a.Shown, what+" loses none of "+answer.Counted(len(works),
				"check")+" that were read with it.")
		}
		if len(half) > 0 {
			a.NotShown = append(a.NotShown, "Whether "+strings.ToLower(what[:1])+what[1:]+" loses "+strings.Join(half,
				", ")+" needs a test.")
		}
	}
	var never []string
	for _, c := range b.Checks {
		if !slices.ContainsFunc(r.In.Trials, func(t diagnose.Trial) bool {
			return !ledger.IsBaseline(t.ID) && t.Results[c.Mark] != ""
		}) {
			never = append(never, c.Name)
		}
	}
	if len(never) > 0 {
		a.NotShown = append(a.NotShown, fmt.Sprintf("%s never read in any swap: %s.",
			plural(len(never), "check was", "checks were"), strings.Join(never, "; ")))
	}
	for _, k := range r.Skips {
		a.NotShown = append(a.NotShown, fmt.Sprintf("%s says nothing about “%s”: %s.", k.Trial, name[k.Check], k.Why))
	}
	for _, s := range b.Slots() {
		tried := slices.ContainsFunc(ledger.States(r.In), func(st [2]string) bool { return st[0] == s.Name })
		if main := b.BoardPart(); !tried && (main == nil || main.ID != s.ID) {
			a.NotShown = append(a.NotShown, "The "+s.Name+" was never exchanged.")
		}
	}
	if len(b.Trials) > 0 {
		a.NotShown = append(a.NotShown,
			"Three parts that only fail together are not looked for, and two boards cannot tell a board "+
				"from a lot of parts.")
	}
	for _, f := range b.Sick {
		a.NotShown = append(a.NotShown, f+".")
	}
	for _, p := range b.Slots() {
		a.Modules = append(a.Modules, module(b, r, p, rate))
		for _, st := range ledger.States(r.In) {
			if kind, whose, is := strings.Cut(st[1], "@"); is && st[0] == p.Name {
				a.Modules = append(a.Modules, elsewhere(r, p, st[1], map[string]string{"foreign": "a piece of the " + whose,
					"copy": "a copy of lot " + whose}[kind]))
			}
		}
	}
	return a, nil
}

func plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

// elsewhere is the advice on a piece of another model or a copy, which says whose it is.
func elsewhere(r study.Reading, p store.Part, state, whose string) Module {
	m := Module{Part: p.Name, Whose: cmp.Or(whose, "a piece from elsewhere ("+strings.ReplaceAll(state, "@", " ")+")")}
	var verdicts []ledger.Verdict
	open := false
	for _, c := range r.Study.Checks {
		v := r.Grade(p.Name, state, c)
		verdicts = append(verdicts, v)
		open = open || len(v.For) > 0 && v.Mark == ledger.Unsettled
	}
	m.Mark, m.Eye = ledger.Summary(verdicts, study.IsNotice)
	switch {
	case m.Mark == ledger.Untested || m.Mark == ledger.Unsettled || open:
		m.Advice, m.Why = "test on", "whether "+m.Whose+" loses a function needs a test"
	case m.Mark == ledger.Works:
		m.Advice, m.Why = "may stand in", m.Whose+" loses nothing that was read with it"
	case m.Mark == ledger.Calibrated:
		m.Advice, m.Why = "may stand in once calibrated", m.Whose+" works once it is matched to the board"
	case m.Mark == ledger.WithNotice:
		m.Advice, m.Why = "may stand in, with a notice", m.Whose+" is told of by the phone"
	case together(verdicts) != "":
		m.Advice, m.Why = together(verdicts), m.Whose+" loses a function only with the pair"
	default:
		m.Advice, m.Why = "do not use", m.Whose+" "+trade.Say("verdict", m.Mark)
	}
	return m
}

// module weighs one part: the lock evidence first, then the way, its odds and the price.
func module(b *study.Record, r study.Reading, p store.Part, rate float64) Module {
	m := Module{Part: p.Name, WorthMinor: p.WorthMinor, Currency: p.Currency}
	var verdicts []ledger.Verdict
	for _, c := range r.Study.Checks {
		verdicts = append(verdicts, r.Grade(p.Name, "stranger", c))
	}
	m.Mark, m.Eye = ledger.Summary(verdicts, study.IsNotice)
	var adopted []ledger.Verdict
	for _, c := range r.Study.Checks {
		adopted = append(adopted, r.Grade(p.Name, "adopted", c))
	}
	once, _ := ledger.Summary(adopted, study.IsNotice)
	w := b.Know.WayTo(p.ID)
	if w != nil && w.Blocked == "" {
		m.Minutes = w.ClosedMinutes
		for _, o := range w.Odds {
			if o.N > 0 {
				m.Odds = fmt.Sprintf("%s got damaged in %d of %d", o.Part, o.K, o.N)
				break
			}
		}
	}
	if rate > 0 && p.WorthMinor > 0 {
		// Replacing costs the part; a repair of the old one costs bench time beyond the same way in and out.
		m.PaysMin = float64(p.WorthMinor) / rate * 60
	}
	price := "its price is not on record"
	if m.PaysMin > 0 {
		price = fmt.Sprintf("a repair of the old one pays while it takes less than %.0f min", m.PaysMin)
	}
	switch {
	case p.Mount == "soldered" || p.Mount == "riveted":
		m.Advice, m.Why = "leave to trained people", "it is "+p.Mount
	case m.Mark == ledger.Untested:
		m.Advice, m.Why = "test first", "no swap shows what another one loses"
	case m.Mark == ledger.Unsettled:
		m.Advice, m.Why = "test on", "which part causes the losses needs a test"
	case once == ledger.Calibrated && (m.Mark == ledger.Loses || m.Mark == ledger.WithNotice):
		m.Advice, m.Why = "replace and calibrate", "it works once it is calibrated; "+price
	case together(verdicts) != "":
		m.Advice, m.Why = together(verdicts), "by itself another one loses nothing that was seen; with the pair it does"
	case open(r, p.Name):
		m.Advice, m.Why = "test on", "a loss that was seen with it has no cause yet"
	case m.Mark == ledger.Sporadic || m.Mark == ledger.Together:
		m.Advice, m.Why = "test on", "another one loses functions now and then"
	case m.Mark == ledger.Loses || m.Mark == ledger.Dead:
		m.Advice, m.Why = "repair, keep the original", "another phone's "+trade.Say("verdict", m.Mark)+"; "+price
	case m.Minutes == 0:
		m.Advice, m.Why = "replace", "another phone's "+trade.Say("verdict", m.Mark)+"; no way in to it is on record; "+price
	default:
		m.Advice, m.Why = "replace", "another phone's "+trade.Say("verdict", m.Mark)+"; "+price
	}
	return m
}

// until is the act after which a check came back with the same piece fitted, where that is the likeliest account of it.
func until(r study.Reading, v ledger.Verdict) string {
	if v.Until != "" || v.Mark != ledger.Unsettled {
		return v.Until
	}
	likely := r.Culprit.Likely(v.Check)
	if len(likely) == 0 || likely[0].P < 0.5 || likely[0].Atom.Kind != ledger.UntilAct ||
		likely[0].Atom.Slots[0] != v.Slot {
		return ""
	}
	return likely[0].Atom.Act
}

// together is the advice on a part of a pair: the two are moved together where parting them costs a function, and
// never both exchanged where only both together do.
func together(verdicts []ledger.Verdict) string {
	for _, v := range verdicts {
		switch {
		case v.Mark == ledger.Together && v.How == "parted":
			return "move it together with the " + v.With
		case v.Mark == ledger.Together:
			return "exchange it or the " + v.With + ", not both"
		}
	}
	return ""
}

// open says whether a loss that was seen with a stranger in a slot has no cause yet.
func open(r study.Reading, slot string) bool {
	for _, c := range r.Study.Checks {
		if v := r.Grade(slot, "stranger", c); len(v.For) > 0 && v.Mark == ledger.Unsettled {
			return true
		}
		if r.Culprit.Check(c).Unexplained > unexplained && len(r.Grade(slot, "stranger", c).For) > 0 {
			return true
		}
	}
	return false
}
