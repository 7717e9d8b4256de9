package dryrun

import (
	"slices"
	"strings"

	"waryowl/internal/core/drill"
	"waryowl/internal/core/swapstudy"
	"waryowl/internal/sim"
)

// studyOf is the pair as a swap study before anything was exchanged.
func studyOf(p *sim.Phones, baseline map[string]map[string]string) swapstudy.Input {
	in := swapstudy.Input{Baselines: baseline, Events: []swapstudy.Event{}, Ask: swapstudy.Ask{Build: sim.Builds[0]}}
	mate := map[string]string{}
	for _, m := range p.Mates {
		mate[m[0]] = m[1]
	}
	for _, s := range p.Slots {
		in.Model.Slots = append(in.Model.Slots, swapstudy.Slot{Name: s.Name, Kind: s.Family, Mate: mate[s.Name]})
	}
	for _, u := range sim.Units {
		in.Units = append(in.Units, swapstudy.Unit{Name: u, Build: sim.Builds[0]})
	}
	for _, c := range p.Checks {
		in.Checks = append(in.Checks, swapstudy.Check{Mark: c.Name, Group: c.Family})
	}
	return in
}

// tellMoves writes down the moves from one arrangement to another: both pieces of every slot that changes.
func (d *drying) tellMoves(have, want []string) {
	for _, s := range d.phones.Slots {
		is, will := slices.Contains(have, s.Name), slices.Contains(want, s.Name)
		if is == will {
			continue
		}
		for i, u := range sim.Units {
			from := u
			if will {
				from = sim.Units[1-i]
			}
			d.told.Events = append(d.told.Events, swapstudy.Event{Move: &swapstudy.Move{Slot: s.Name, From: from, To: u}})
		}
	}
}

func (d *drying) tellAct(a swapstudy.Act) {
	d.told.Events = append(d.told.Events, swapstudy.Event{Act: &a})
}

func orAll(slots, all []string) []string {
	if len(slots) > 0 {
		return slots
	}
	return all
}

func (d *drying) tellReading(r drill.Reading, late bool) {
	t := swapstudy.Trial{ID: r.Trial, Board: r.Board, Results: r.Results, Off: r.Off}
	if late {
		t.Later = []swapstudy.Later{{Minutes: 60, After: []string{"restart", "charge", "settling"}, Results: r.Results}}
	}
	d.told.Events = append(d.told.Events, swapstudy.Event{Trial: &t})
}

// knowing is what the readings told after each of them.
type knowing struct {
	trials []string
	after  []swapstudy.Output
}

// mostReplayed is after how many readings, the last ones, it is worked out what was known.
const mostReplayed = 40

// known reads the run again as a study, reading by reading.
func (d *drying) known() (knowing, error) {
	var k knowing
	in := d.told
	for i, e := range d.told.Events {
		if e.Trial == nil {
			continue
		}
		k.trials = append(k.trials, e.Trial.ID)
		if len(d.readings)-len(k.trials) >= mostReplayed {
			k.after = append(k.after, swapstudy.Output{})
			continue
		}
		in.Events = d.told.Events[:i+1]
		out, err := swapstudy.Solve(in)
		if err != nil {
			return k, err
		}
		k.after = append(k.after, out)
	}
	return k, nil
}

// chance is how likely an explanation was after a reading. A piece that is hurt on the way is so from some reading on.
func (k knowing) chance(at int, check, explanation string) float64 {
	p := 0.0
	for name, m := range k.after[at].Checks[check].Marginal {
		if name == explanation || strings.HasPrefix(explanation, "piece:") && strings.HasPrefix(name, explanation+"@") {
			p += m
		}
	}
	return min(1, p)
}

func (k knowing) likely(check, explanation string) float64 {
	if len(k.after) == 0 {
		return 0
	}
	return k.chance(len(k.after)-1, check, explanation)
}

// truths says what was hidden, and from which reading on it stayed nearly sure.
func (d *drying) truths(k knowing) []Truth {
	list := []Truth{}
	for _, check := range d.phones.Checks {
		for _, c := range d.choices() {
			if !d.phones.Truth(c.ID, check.Name, sim.Builds[0]) {
				continue
			}
			t := Truth{Check: check.Name, Words: c.Words, Sure: k.likely(check.Name, c.ID)}
			for _, l := range d.phones.Locks {
				if l.Check == check.Name && l.Sticky {
					t.Words += "; once lost it stays lost until a reset"
				}
			}
			for at := len(k.after) - 1; at >= 0 && k.chance(at, check.Name, c.ID) >= 0.9; at-- {
				t.After, t.Minute = k.trials[at], d.shown[len(sim.Units)+at].Minute
			}
			list = append(list, t)
		}
	}
	return list
}
