package app

import (
	"context"
	"slices"

	"waryowl/internal/core/answer"
	"waryowl/internal/core/benchline"
	"waryowl/internal/core/dose"
	"waryowl/internal/core/hazard"
	"waryowl/internal/core/teardown"
	"waryowl/internal/store"
)

// Strip is the room of the strip-down.
type Strip struct {
	StudyCard
	Answer answer.Sentence  `json:"answer" nullable:"false"`
	Parts  []store.Part     `json:"parts" nullable:"false"`
	Steps  []store.PlanStep `json:"steps" nullable:"false"`
	Log    []store.LogEntry `json:"log" nullable:"false"`
	State  []UnitState      `json:"state" nullable:"false"`
	Hints  []PlanHint       `json:"hints" nullable:"false" doc:"what the plan might learn"`
	Photos []store.Photo    `json:"photos" nullable:"false"`

	Schools []dose.School `json:"schools" nullable:"false"`
	Notice  string        `json:"notice"`
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

// act says that an entry moved the phone along: a step that was done, if only by destroying something.
func act(e store.LogEntry) bool {
	return e.Kind == "step" && e.Outcome != "gave up" && e.Outcome != "not tried"
}

// entries is the log of one unit in the terms of the core. Heat and solvent come in rounds and free nothing.
func (b *bench) entries(unit string) []teardown.Entry {
	var log []teardown.Entry
	for _, e := range b.log {
		if e.UnitID == unit && act(e) {
			log = append(log, teardown.Entry{Frees: b.know.step[e.StepID].Frees, Back: e.Back})
		}
	}
	return log
}

// done lists the steps of a unit that are carried out and not put back.
func (b *bench) done(unit string) []string {
	var done []string
	for _, e := range b.log {
		if e.UnitID != unit || !act(e) {
			continue
		}
		if e.Back {
			done = slices.DeleteFunc(done, func(id string) bool { return id == e.StepID })
			if benchline.Cooled(done, func(id string) string { return b.know.step[id].Verb }) {
				done = nil
			}
		} else if !slices.Contains(done, e.StepID) {
			done = append(done, e.StepID)
		}
	}
	return done
}

func (b *bench) state(u store.Unit) UnitState {
	out, _ := teardown.Replay(b.entries(u.ID))
	st := UnitState{UnitID: u.ID, Out: append([]string{}, out...), Next: []NextStep{}, Heat: b.heat(u), Doubts: b.doubts(), Lost: b.lost(u.ID), Retest: b.retest(u.ID), Long: b.long(u.ID), Bench: b.context(u)}
	done := b.done(u.ID)
	for _, id := range done {
		if s := b.know.step[id]; s.Joint == "screw" || s.Joint == "post" {
			st.Screws += max(1, s.Count)
		}
	}
	for _, id := range benchline.Next(st.Bench, nil) {
		st.Next = append(st.Next, NextStep{StepID: id, Cautions: b.know.cautions(b.know.step[id])})
	}
	st.Next = st.Next[:min(8, len(st.Next))]
	if len(st.Next) == 0 {
		st.Next = b.guesses(len(done))
	}
	st.Answer = answer.Sentence{answer.Name(u.Name, ""), answer.Text(": ")}
	switch {
	case len(out) > 0:
		st.Answer = append(st.Answer, answer.Name(b.know.part[out[len(out)-1]].Name, ""), answer.Text(" out last, "), answer.Count(len(out), "part", "#parts"), answer.Text(" out, "),
			answer.Count(st.Screws, "screw", "#mat"), answer.Text(" on the mat."))
	case len(done) > 0:
		st.Answer = append(st.Answer, answer.Count(len(done), "step", "#log"), answer.Text(" done, nothing out yet, "), answer.Count(st.Screws, "screw", "#mat"), answer.Text(" on the mat."))
	default:
		st.Answer = append(st.Answer, answer.Text("closed; nothing logged yet."))
	}
	if len(st.Next) > 0 && st.Next[0].StepID != "" {
		n := b.know.step[st.Next[0].StepID]
		st.Answer = append(st.Answer, answer.Text(" Next: "+n.Verb+" "), answer.Name(n.What, "#next"))
		if n.Tool != "" {
			st.Answer = append(st.Answer, answer.Text(", "+n.Tool))
		}
		st.Answer = append(st.Answer, answer.Text("."))
	}
	return st
}

// Strip shows what is out of each unit and what comes next.
func (s *Service) Strip(ctx context.Context, id string) (Strip, error) {
	b, err := loadStudy(s.DB.WithContext(ctx), id)
	if err != nil {
		return Strip{}, err
	}
	v := Strip{StudyCard: b.card(), Parts: b.know.parts, Steps: b.know.steps, Log: b.log, State: []UnitState{}, Notice: hazard.Notice, Hints: b.know.hints(), Schools: dose.Schools(),
		Answer: answer.Sentence{answer.Text("Record a unit at intake first: every entry belongs to one phone.")}}
	if v.Photos, err = photos(s.DB.WithContext(ctx), id); err != nil {
		return Strip{}, err
	}
	if b.ahead, err = b.know.predecessor(s.DB.WithContext(ctx)); err != nil {
		return Strip{}, err
	}
	for _, u := range b.units {
		v.State = append(v.State, b.state(u))
	}
	if len(v.State) > 0 {
		v.Answer = v.State[0].Answer
	}
	return v, nil
}
