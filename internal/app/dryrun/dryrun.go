// Package dryrun is the room of practice on simulated phones.
package dryrun

import (
	"context"
	"fmt"
	"slices"

	"waryowl/internal/app/act"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/drill"
	"waryowl/internal/core/fault"
	"waryowl/internal/sim"
	"waryowl/internal/store"
)

// Level is a level of the dry run.
type Level struct {
	Level int    `json:"level"`
	Name  string `json:"name"`
}

// Room are the practices of one person.
type Room struct {
	Answer answer.Sentence `json:"answer" nullable:"false"`
	Levels []Level         `json:"levels" nullable:"false"`
	Runs   []store.DryRun  `json:"runs" nullable:"false" doc:"newest first"`
	More   string          `json:"more,omitempty" doc:"older ones lie before this id"`
}

// Reading is one reading as it is shown.
type Reading struct {
	Mark    string            `json:"mark"`
	Title   string            `json:"title"`
	Board   string            `json:"board"`
	Late    bool              `json:"late,omitempty"`
	Results map[string]string `json:"results"`
	Minute  float64           `json:"minute" doc:"on the clock when it ended"`
}

// Round is one round of the advised sequence.
type Round struct {
	Words   string   `json:"words"`
	Minutes float64  `json:"minutes"`
	Lost    []string `json:"lost" nullable:"false"`
}

// Truth is one hidden cause, what kind it is, and after which reading it could have been known.
type Truth struct {
	Check  string  `json:"check"`
	Words  string  `json:"words"`
	After  string  `json:"after,omitempty" doc:"the reading after which it was nearly sure; left out: never"`
	Minute float64 `json:"minute,omitempty"`
	Sure   float64 `json:"sure" doc:"how sure it was in the end, 0 to 1"`
}

// Report is the end of a dry run.
type Report struct {
	Verdicts []drill.Judgement `json:"verdicts" nullable:"false"`
	Slips    []string          `json:"slips" nullable:"false"`
	Advised  []Round           `json:"advised" nullable:"false"`
	Truths   []Truth           `json:"truths" nullable:"false" doc:"what was hidden, and from when on the readings told it"`
	Minutes  float64           `json:"advised_minutes"`
}

// DrySlot and DryCheck are a slot and a check of simulated phones.
type (
	DrySlot  sim.Slot
	DryCheck sim.Check
)

// View is a dry run as it stands.
type View struct {
	store.DryRun
	Answer    answer.Sentence     `json:"answer" nullable:"false"`
	Name      string              `json:"name"`
	Slots     []DrySlot           `json:"slots" nullable:"false"`
	Checks    []DryCheck          `json:"checks" nullable:"false"`
	Mates     [][2]string         `json:"mates" nullable:"false"`
	BoardSet  []string            `json:"board_set" nullable:"false" doc:"slots that an exchange of the boards makes strangers"`
	BoardMin  float64             `json:"board_minutes"`
	Exchanged []string            `json:"exchanged" nullable:"false"`
	Off       map[string][]string `json:"off"`
	Builds    map[string]string   `json:"builds"`
	Clock     float64             `json:"clock"`
	Readings  []Reading           `json:"readings" nullable:"false"`
	Log       []string            `json:"log" nullable:"false"`
	Commits   map[string]string   `json:"commits"`
	Choices   []Choice            `json:"choices" nullable:"false" doc:"what can be committed to"`
	Report    *Report             `json:"report,omitempty"`
}

// mostRuns is how many practices are listed at a time, the latest.
const mostRuns = 50

// List lists practices of the actor, the latest, or those before the one of an id.
func List(ctx context.Context, s *act.Service, who act.Actor, before string) (Room, error) {
	where, args := "account_id = ?", []any{who.ID}
	if before != "" {
		where, args = where+" AND id < ?", append(args, before)
	}
	rows, err := store.List[store.DryRun](s.DB.WithContext(ctx).Limit(mostRuns+1), "id DESC", where, args...)
	v := Room{Levels: []Level{}}
	if len(rows) > mostRuns {
		rows = rows[:mostRuns]
		v.More = rows[mostRuns-1].ID
	}
	v.Runs = rows
	for i, l := range sim.Levels {
		v.Levels = append(v.Levels, Level{i, l.Name})
	}
	ended := slices.DeleteFunc(slices.Clone(rows), func(r store.DryRun) bool { return !r.Done })
	if len(ended) == 0 {
		v.Answer = answer.Sentence{answer.Text("Practise on phones whose locks nobody tells you: exchange, read, " +
			"commit. Start with one lock.")}
	} else {
		r := ended[0]
		v.Answer = answer.Sentence{answer.Text("Last time: "), answer.Number(float64(r.RightCount), "", "#runs"),
			answer.Text(" right, "), answer.Number(float64(r.WrongCount), "", "#runs"), answer.Text(" wrong, "),
			answer.Number(float64(r.UnprovenCount), "",
				"#runs"), answer.Text(" unproven, in "), answer.Number(r.Minutes, "min",
				"#runs"), answer.Text("; the advised sequence took "), answer.Number(r.AdvisedMinutes, "min",
				"#runs"), answer.Text(".")}
	}
	return v, err
}

// Start starts a practice. The same level and seed make the same phones, so that a case can be shared.
func Start(ctx context.Context, s *act.Service, c act.Command, id string, level int, seed uint64) (store.DryRun,
	error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.DryRun, error) {
		row := store.DryRun{Row: store.Row{ID: id}, AccountID: c.Actor.ID, Level: level, Seed: seed,
			Acts: []store.DryAct{}}
		if level < 0 || level >= len(sim.Levels) {
			return row, fault.New("level", level, fmt.Sprintf("0 to %d", len(sim.Levels)-1))
		}
		return row, store.Create(tx, &row)
	})
}

// Show shows a practice of the actor; once it has ended, with its report.
func Show(ctx context.Context, s *act.Service, who act.Actor, id string) (View, error) {
	row, err := store.Get[store.DryRun](s.DB.WithContext(ctx), id)
	if err != nil {
		return View{}, err
	}
	if row.AccountID != who.ID {
		return View{}, act.ErrNotFound
	}
	d, err := replay(*row)
	if err != nil {
		return View{}, err
	}
	v := d.view()
	if row.Done {
		r, err := d.report()
		if err != nil {
			return View{}, err
		}
		v.Report = &r
	}
	return v, nil
}

// longestRun is how many acts a practice may have.
const longestRun = 400

// Step carries out one act of the actor's practice.
func Step(ctx context.Context, s *act.Service, c act.Command, id string, saw int, a store.DryAct) (store.DryRun,
	error) {
	return act.Change(ctx, s, c, id, saw, func(_ *store.Tx, row *store.DryRun) error {
		switch {
		case row.AccountID != c.Actor.ID:
			return act.ErrNotFound
		case row.Done:
			return fault.New("kind", a.Kind, "nothing more: this practice has ended")
		case len(row.Acts) >= longestRun:
			return fault.New("kind", a.Kind, fmt.Sprintf("at most %d acts; end the practice", longestRun))
		}
		d, err := replay(*row)
		if err != nil {
			return err
		}
		if err := d.do(a); err != nil {
			return err
		}
		row.Acts = append(row.Acts, a)
		row.Minutes = d.bench.Minutes
		return nil
	})
}

// End ends the actor's practice and keeps its score.
func End(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.DryRun, error) {
	return act.Change(ctx, s, c, id, saw, func(_ *store.Tx, row *store.DryRun) error {
		if row.AccountID != c.Actor.ID {
			return act.ErrNotFound
		}
		d, err := replay(*row)
		if err != nil {
			return err
		}
		r, err := d.report()
		if err != nil {
			return err
		}
		row.Done, row.Minutes, row.AdvisedMinutes = true, d.bench.Minutes, r.Minutes
		row.RightCount, row.WrongCount, row.UnprovenCount = 0, 0, 0
		for _, v := range r.Verdicts {
			switch v.Judged {
			case drill.Right:
				row.RightCount++
			case drill.Wrong:
				row.WrongCount++
			default:
				row.UnprovenCount++
			}
		}
		return nil
	})
}
