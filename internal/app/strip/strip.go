// Package strip is the room of the teardown: the log of each phone, its lines, its heat, and what the plan learns
// from them.
package strip

import (
	"context"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/study"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/benchline"
	"waryowl/internal/core/dose"
	"waryowl/internal/core/hazard"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/trade"
	"waryowl/internal/core/worktime"
	"waryowl/internal/store"
)

// Room is the room of the teardown.
type Room struct {
	study.Card
	Answer answer.Sentence  `json:"answer" nullable:"false"`
	Parts  []store.Part     `json:"parts" nullable:"false"`
	Steps  []store.PlanStep `json:"steps" nullable:"false"`
	Log    []store.LogEntry `json:"log" nullable:"false" doc:"the latest of each phone"`
	Older  map[string]int   `json:"older" doc:"by phone: entries before those, which come by page"`
	Films  []store.LogEntry `json:"films" nullable:"false" doc:"notes among the older ones that start a film"`
	State  []UnitState      `json:"state" nullable:"false"`
	Hints  []PlanHint       `json:"hints" nullable:"false" doc:"what the plan might learn"`
	Photos []store.Photo    `json:"photos" nullable:"false"`

	By map[string]string `json:"by" doc:"who wrote the entries"`

	Lines []string `json:"lines" nullable:"false" doc:"lines that people of this workshop wrote last: examples for who asks"`

	Schools []dose.School `json:"schools" nullable:"false"`
	Notice  string        `json:"notice"`

	CureSeconds    float64 `json:"cure_seconds" doc:"how long clamps stay on a new seal"`
	SilenceSeconds float64 `json:"silence_seconds" doc:"after so long without an entry the next one asks for its phone"`
}

// UnitState is how far a unit is taken apart: parts that are out, screws on the mat, and the likeliest next steps.
type UnitState struct {
	UnitID string          `json:"unit_id"`
	Answer answer.Sentence `json:"answer" nullable:"false"`
	Out    []string        `json:"out" nullable:"false" doc:"ids of parts"`
	Screws int             `json:"screws"`
	Next   []NextStep      `json:"next" nullable:"false"`
	Heat   []FaceHeat      `json:"heat" nullable:"false"`
	Doubts []PartDoubt     `json:"doubts" nullable:"false"`
	Lost   []string        `json:"lost" nullable:"false" doc:"lost and not found again"`
	Long   []string        `json:"long" nullable:"false" doc:"entries whose time is far above what is usual: a break?"`
	Retest []string        `json:"retest" nullable:"false" doc:"checks that a power-on event or an incident calls for"`

	Bench benchline.Context `json:"bench" doc:"what the bench line needs to read without a network"`
}

// FaceHeat is the heat that one face of a phone had, and what comes next.
type FaceHeat struct {
	Face   string       `json:"face"`
	Rounds int          `json:"rounds"`
	Limit  dose.Ceiling `json:"limit"`
	dose.Advice
}

// NextStep is a step of the plan whose prerequisites are met; Facts instead are a guess from the predecessor's plan.
type NextStep struct {
	StepID   string           `json:"step_id,omitempty"`
	Facts    *store.StepFacts `json:"facts,omitempty"`
	From     string           `json:"from,omitempty" doc:"model that the guess comes from"`
	Cautions []hazard.Caution `json:"cautions" nullable:"false"`
}

func state(b *study.Record, u store.Unit, bench benchline.Context) UnitState {
	out, _ := plan.Replay(b.Entries(u.ID))
	st := UnitState{UnitID: u.ID, Out: append([]string{}, out...), Next: []NextStep{}, Heat: heat(b, u),
		Doubts: Doubts(b), Lost: b.Lost(u.ID), Retest: b.Retest(u.ID), Long: long(b, u.ID), Bench: bench}
	done := b.Done(u.ID)
	lost := b.LostScrews(u.ID)
	for _, id := range done {
		st.Screws += max(0, b.Know.Step(b.Know.StepByID[id]).Screws()-lost[id])
	}
	for _, id := range benchline.Next(st.Bench, nil) {
		st.Next = append(st.Next, NextStep{StepID: id, Cautions: b.Know.Cautions(b.Know.StepByID[id])})
	}
	st.Next = st.Next[:min(8, len(st.Next))]
	if len(st.Next) == 0 {
		st.Next = guesses(b, len(done))
	}
	st.Answer = answer.Sentence{answer.Name(u.Name, ""), answer.Text(": ")}
	switch {
	case len(out) > 0:
		st.Answer = append(st.Answer, answer.Name(b.Know.PartByID[out[len(out)-1]].Name, ""),
			answer.Text(" out last, "), answer.Count(len(out), "part", "#parts"), answer.Text(" out, "),
			answer.Count(st.Screws, "screw", "#mat"), answer.Text(" in the tray."))
	case len(done) > 0:
		st.Answer = append(st.Answer, answer.Count(len(done), "step", "#log"), answer.Text(" done, nothing out yet, "),
			answer.Count(st.Screws, "screw", "#mat"), answer.Text(" in the tray."))
	case len(b.EverDone(u.ID)) == 0:
		st.Answer = append(st.Answer, answer.Text("closed; nothing logged yet."))
	case b.Closing(u.ID).Closed:
		st.Answer = append(st.Answer, answer.Text("closed again; "), answer.Count(entries(b, u), "entry", "#log"),
			answer.Text(" in its log."))
	default:
		st.Answer = append(st.Answer, answer.Text("everything that came out is back, not yet said to be closed; "),
			answer.Count(entries(b, u), "entry", "#log"), answer.Text(" in its log."))
	}
	if b.Closing(u.ID).Closed && len(done) == 0 {
		return st
	}
	if len(st.Next) > 0 && st.Next[0].StepID != "" {
		n := b.Know.StepByID[st.Next[0].StepID]
		st.Answer = append(st.Answer, answer.Text(strings.TrimRight(" Next: "+trade.Act(n.Verb, n.What), " ")+" "),
			answer.Name(n.What, "#next"))
		if n.Tool != "" {
			st.Answer = append(st.Answer, answer.Text(", "+n.Tool))
		}
		st.Answer = append(st.Answer, answer.Text("."))
	}
	return st
}

// entries counts what was logged on a unit.
func entries(b *study.Record, u store.Unit) int {
	n := 0
	for _, e := range b.Log {
		if e.UnitID == u.ID {
			n++
		}
	}
	return n
}

// Show shows what is out of each unit and what comes next.
func Show(ctx context.Context, s *act.Service, id string) (Room, error) {
	b, err := study.Load(s.DB.WithContext(ctx), id)
	if err != nil {
		return Room{}, err
	}
	v := Room{Card: b.Card(), Parts: b.Know.Parts, Steps: b.Know.Steps, State: []UnitState{},
		Notice: hazard.Notice, Hints: Hints(b.Know), Schools: dose.Schools(),
		CureSeconds: worktime.Cure, SilenceSeconds: worktime.Silence,
		Answer: answer.Sentence{answer.Text("Record the first phone: every entry belongs to one.")}}
	if v.Photos, err = photos(s.DB.WithContext(ctx), id); err != nil {
		return Room{}, err
	}
	v.latest(b)
	ids := make([]string, len(v.Log))
	for i, e := range v.Log {
		ids[i] = e.ID
	}
	if v.By, err = store.Authors(s.DB.WithContext(ctx), ids); err != nil {
		return Room{}, err
	}
	if b.Ahead, err = b.Know.Earlier(s.DB.WithContext(ctx)); err != nil {
		return Room{}, err
	}
	if v.Lines, err = lastLines(s.DB.WithContext(ctx)); err != nil {
		return Room{}, err
	}
	words, err := ownWords(s.DB.WithContext(ctx))
	if err != nil {
		return Room{}, err
	}
	for _, u := range b.Units {
		v.State = append(v.State, state(b, u, contextOf(b, u, words)))
	}
	if len(v.State) > 0 {
		v.Answer = v.State[0].Answer
	}
	return v, nil
}
