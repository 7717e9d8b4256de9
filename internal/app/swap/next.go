package swap

import (
	"cmp"
	"slices"

	"waryowl/internal/app/study"
	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// NextSwap is a candidate with what it would tell, and why.
type NextSwap struct {
	Kind            string       `json:"kind" enum:"single,pair,set,board,control,repeat,reseat,restore,off,donor,calibrate"`
	Words           string       `json:"words"`
	Reason          string       `json:"reason"`
	BoardUnitID     string       `json:"board_unit_id"`
	FromUnitID      string       `json:"from_unit_id"`
	PartIDs         []string     `json:"part_ids" nullable:"false"`
	Moves           []store.Move `json:"moves" nullable:"false" doc:"what to move on the bench for it"`
	Minutes         float64      `json:"minutes" doc:"the whole round: in from the present state, fitted, started, checked, and the way back to the original"`
	Assumed         bool         `json:"assumed" doc:"the minutes are assumed: no way is on record"`
	Bits            float64      `json:"bits"`
	BitsPerMinute   float64      `json:"bits_per_minute"`
	Grades          float64      `json:"grades" doc:"verdicts that it brings nearer to a full eye"`
	GradesPerMinute float64      `json:"grades_per_minute"`
}

// Asked is how a study is to be read for the room: with candidates, perhaps other noise, perhaps minutes that are left.
type Asked struct {
	Build  string
	noise  *diagnose.Noise
	budget float64

	explore bool
}

// Advised is a reading with what may be exchanged next, by the candidate's id.
type Advised struct {
	study.Reading
	Next      map[string]NextSwap
	Calibrate []NextSwap // what is fitted and may be matched, once nothing else is left
	Focus     []string   // checks over which they are weighed; nil: all
}

func readAs(b *study.Record, a Asked) (Advised, error) {
	r := Advised{Reading: b.Begin(a.Build), Next: map[string]NextSwap{}}
	list, err := Candidates(b, a, &r)
	if err != nil {
		return r, err
	}
	if err := r.Ask(r.focused(list), a.noise, a.budget); err != nil || r.Focus == nil ||
		slices.ContainsFunc(r.Out.Next, func(n diagnose.Next) bool { return n.Bits >= 0.01 }) {
		return r, err
	}
	r.Focus = nil // nothing that could be done tells more of what was lost
	return r, r.Ask(list, a.noise, a.budget)
}

// focused leaves out of sight what is no question: checks that nobody has read must not drown those that were lost.
func (r *Advised) focused(list []diagnose.Candidate) []diagnose.Candidate {
	if r.Focus == nil {
		return list
	}
	out := slices.Clone(list)
	for i := range out {
		for _, c := range r.Study.Checks {
			if !slices.Contains(r.Focus, c) && !slices.Contains(out[i].Blind, c) {
				out[i].Blind = append(slices.Clip(out[i].Blind), c)
			}
		}
	}
	return out
}

// Candidates are generated in two readings: the first tells what is open, the second weighs what is proposed for it:
// every part alone, mates together, sets that split what is open, the whole board, and the originals put back.
func Candidates(b *study.Record, a Asked, r *Advised) ([]diagnose.Candidate, error) {
	if len(b.Units) == 0 {
		return nil, nil
	}
	var slots []store.Part
	main := b.BoardPart()
	for _, p := range b.Slots() {
		if main == nil || main.ID != p.ID {
			slots = append(slots, p)
		}
	}
	for _, u := range b.Units {
		for _, p := range slots {
			r.Study.Movable = append(r.Study.Movable, ledger.Piece{Slot: p.Name, Unit: u.ID, Model: b.ModelID})
		}
	}
	moved := r.Study.Moved(r.History)
	g := &gather{b: b, r: r, rounds: newPricer(b), moved: moved, slots: slots, waits: true}
	for i, u := range b.Units {
		if cmp.Or(r.History.Builds[u.ID], u.Build) != a.Build {
			continue
		}
		if len(b.Units) == 1 {
			g.leaveOff(u)
		} else {
			g.onBoard(i, u)
			g.donors(i, u)
		}
	}
	g.again()
	r.Calibrate = g.calibrations()
	first, _ := r.Study.Question(r.History, g.list)
	if a.noise != nil {
		first.Noise = *a.noise
	}
	first.Brief, first.Unweighed = true, true
	if len(first.Checks) == 0 {
		return nil, nil
	}
	var out diagnose.Output
	var err error
	asked := make(chan struct{})
	go func() { // what is open is found out while the candidates are priced
		defer close(asked)
		out, err = r.Ponder(first)
	}()
	g.priceAll()
	<-asked
	if err != nil {
		return nil, err
	}
	if !a.explore {
		asked := r.Asked(b)
		for _, c := range first.Checks {
			if !out.Checks[c].Settled && (slices.Contains(asked, c) || slices.ContainsFunc(first.Trials,
				func(t diagnose.Trial) bool { return t.Results[c] == "lost" || t.Results[c] == "weak" })) {
				r.Focus = append(r.Focus, c)
			}
		}
	}
	if len(b.Units) > 1 {
		g.sets(first, out)
	}
	g.explain(first, out)
	return g.list, nil
}
