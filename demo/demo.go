// Package demo holds the demo world, the workshop of a ferry line on an archipelago, as JSON, and loads it through the
// same use cases as a user's work. Everything in it is invented.
package demo

import (
	"context"
	"crypto/sha256"
	"embed"
	"encoding/json"
	"fmt"
	"io/fs"
	"sync"

	"github.com/google/uuid"

	"waryowl/internal/app/account"
	"waryowl/internal/app/act"
	"waryowl/internal/app/fit"
	"waryowl/internal/app/intake"
	"waryowl/internal/app/job"
	"waryowl/internal/app/score"
	"waryowl/internal/app/strip"
	"waryowl/internal/app/swap"
	"waryowl/internal/store"
)

//go:embed *.json models/*.json
var files embed.FS

// Account is a demo sign-in; its password is no secret.
type Account struct {
	Name     string `json:"name"`
	Display  string `json:"display"`
	Role     string `json:"role"`
	Password string `json:"password"`
}

// Accounts lists the demo sign-ins.
func Accounts() ([]Account, error) {
	var list []Account
	return list, read("accounts.json", &list)
}

type step struct {
	Mark string `json:"mark"`
	store.StepFacts
}

type sheet struct {
	store.ModelFacts
	Parts []store.PartFacts `json:"parts"`
	Steps []step            `json:"steps"`
}

type study struct {
	Model string `json:"model"`
	store.StudyFacts
	Units     []store.UnitFacts            `json:"units"`
	Baselines map[string]map[string]string `json:"baselines"`
	Log       []struct {
		Unit, Step, Line, Note string
		Seconds                float64
	} `json:"log"`
	Trials []struct {
		Board   string
		Housing string
		Before  []struct {
			Kind, Board string
			Pieces      []piece
		}
		Pieces  []piece
		Results map[string]string
		Minutes float64
		Note    string
	} `json:"trials"`
}

type piece struct{ Part, Unit string }

// between is what was tried across models: lots of copies, and pieces fitted in other models' phones.
type between struct {
	Lots []struct {
		Model string
		store.LotFacts
	} `json:"lots"`
	Tests []struct {
		Host, Donor, Lot, Unit string
		store.FitTestFacts
	} `json:"tests"`
}

// saying is what somebody said of a model, or a state that was kept.
type saying struct {
	Model, Mark string
	store.SayingFacts
}

type outcome struct {
	Model, Part string
	store.OutcomeFacts
}

func read(name string, into any) error {
	text, err := files.ReadFile(name)
	if err != nil {
		return err
	}
	if err := json.Unmarshal(text, into); err != nil {
		return fmt.Errorf("demo: %s: %w", name, err)
	}
	return nil
}

// ID is the id of a demo thing: shaped like a UUIDv7 and the same on every load, so that a load that was cut off goes
// on where it stopped.
func ID(name string) string {
	sum := sha256.Sum256([]byte("waryowl demo " + name))
	id := uuid.UUID(sum[:16])
	copy(id[:6], []byte{0x01, 0x98, 0, 0, 0, 0})
	id[6] = 0x70 | id[6]&0x0f
	id[8] = 0x80 | id[8]&0x3f
	return id.String()
}

// loader carries on through the demo world and stops at the first error.
type loader struct {
	*act.Service
	ctx   context.Context
	actor act.Actor
	count int
	err   error
}

// idsOfModel is more than a model of the demo has rows.
const idsOfModel = 2000

// command gives every change the same key on every load; the number keeps the order of ids.
func (l *loader) command(name string) act.Command {
	return act.Command{Actor: l.actor, Key: ID("command " + name), Hash: "demo"}
}

// id is in the order of loading, since lists are in the order of ids.
func (l *loader) id(name string) string {
	l.count++
	id := uuid.MustParse(ID(name))
	id[4], id[5] = byte(l.count>>8), byte(l.count)
	return id.String()
}

func (l *loader) try(err error, what string) {
	if l.err == nil && err != nil {
		l.err = fmt.Errorf("demo: %s: %w", what, err)
	}
}

// Load puts the demo world into the database, once: what is already there is left as people have changed it.
func Load(ctx context.Context, s *act.Service) error {
	l := &loader{Service: s, ctx: ctx, actor: act.Actor{ID: ID("loader"), Role: act.Analyst}}
	done := l.command("complete")
	if carried, err := s.Carried(ctx, done.Key); carried || err != nil {
		return err
	}
	accounts, err := Accounts()
	l.try(err, "accounts")
	people := map[string]act.Actor{}
	var mu sync.Mutex
	var all sync.WaitGroup
	for _, a := range accounts { // hashing passwords and writing models takes two processors
		all.Go(func() {
			who, err := account.Add(ctx, s, l.command("account "+a.Name), a.Name, a.Display, a.Role, a.Password)
			mu.Lock()
			defer mu.Unlock()
			people[a.Role] = who
			l.try(err, a.Name)
		})
	}
	all.Wait()
	l.actor = people["analyst"]
	known := map[string]*loaded{}
	names, err := fs.Glob(files, "models/*.json")
	l.try(err, "models")
	for i, name := range names {
		all.Go(func() {
			// No model hangs on another; each has a range of numbers for its ids.
			one := &loader{Service: s, ctx: ctx, actor: l.actor, count: i * idsOfModel}
			var m sheet
			one.try(read(name, &m), name)
			var k *loaded
			if one.err == nil {
				k = one.model(m)
			}
			mu.Lock()
			defer mu.Unlock()
			known[m.Name] = k
			l.try(one.err, name)
		})
	}
	all.Wait()
	l.count = len(names) * idsOfModel
	var studies []study
	l.try(read("studies.json", &studies), "studies")
	for _, st := range studies {
		if l.err == nil {
			l.study(st, known[st.Model])
		}
	}
	l.between(known)
	l.facts(known)
	l.desk(known, people["buyer"])
	var outcomes []outcome
	l.try(read("outcomes.json", &outcomes), "outcomes")
	l.actor = people["technician"]
	for i, o := range outcomes {
		if l.err == nil {
			m := known[o.Model]
			what := fmt.Sprintf("outcome %d", i)
			_, err := job.AddOutcome(ctx, s, l.command(what), m.id, m.parts[o.Part], l.id(what), o.OutcomeFacts)
			l.try(err, what)
		}
	}
	if l.err == nil {
		l.actor = people["analyst"]
		_, l.err = act.Do(ctx, s, done, 200, func(*store.Tx) (string, error) { return "loaded", nil })
	}
	return l.err
}

type loaded struct {
	id    string
	parts map[string]string
	steps map[string]string
	units map[string]string
}

func (l *loader) model(m sheet) *loaded {
	k := &loaded{id: l.id("model " + m.Name), parts: map[string]string{}, steps: map[string]string{}, units: map[string]string{}}
	_, err := intake.AddModel(l.ctx, l.Service, l.command("model "+m.Name), k.id, m.ModelFacts)
	l.try(err, m.Name)
	for _, p := range m.Parts {
		what := m.Name + " " + p.Name
		k.parts[p.Name] = l.id("part " + what)
		if l.err == nil {
			_, err := strip.AddPart(l.ctx, l.Service, l.command("part "+what), k.id, k.parts[p.Name], p)
			l.try(err, what)
		}
	}
	for _, st := range m.Steps {
		k.steps[st.Mark] = l.id("step " + m.Name + " " + st.Mark)
	}
	// A step may come after one that stands later in the file, so the prerequisites follow in a second round.
	for _, st := range m.Steps {
		what := m.Name + " " + st.Mark
		if l.err == nil {
			_, err := strip.AddStep(l.ctx, l.Service, l.command("step "+what), k.id, k.steps[st.Mark], st.Mark,
				k.facts(st, false))
			l.try(err, what)
		}
	}
	for _, st := range m.Steps {
		what := m.Name + " " + st.Mark
		if l.err == nil && st.After != nil {
			_, err := strip.ChangeStep(l.ctx, l.Service, l.command("after "+what), k.steps[st.Mark], 1,
				k.facts(st, true))
			l.try(err, what)
		}
	}
	return k
}

// facts turns the names of a step into ids.
func (k *loaded) facts(st step, after bool) store.StepFacts {
	f := st.StepFacts
	f.After, f.Frees, f.Risk = nil, nil, map[string]float64{}
	for _, name := range st.Frees {
		f.Frees = append(f.Frees, k.parts[name])
	}
	for name, r := range st.Risk {
		f.Risk[k.parts[name]] = r
	}
	for _, alt := range st.After {
		ids := []string{}
		for _, mark := range alt {
			ids = append(ids, k.steps[mark])
		}
		if after {
			f.After = append(f.After, ids)
		}
	}
	return f
}

func (l *loader) study(st study, k *loaded) {
	id := l.id("study " + st.Title)
	_, err := intake.AddStudy(l.ctx, l.Service, l.command("study "+st.Title), id, k.id, st.StudyFacts)
	l.try(err, st.Title)
	units := map[string]string{}
	for _, u := range st.Units {
		what := st.Title + " " + u.Name
		units[u.Name] = l.id("unit " + what)
		k.units[u.Name] = units[u.Name]
		_, err := intake.AddUnit(l.ctx, l.Service, l.command("unit "+what), id, units[u.Name], u)
		l.try(err, what)
	}
	for unit, cells := range st.Baselines {
		for check, result := range cells {
			what := st.Title + " " + unit + " " + check
			_, err := intake.SetBaseline(l.ctx, l.Service, l.command("baseline "+what), units[unit], check, 0, result,
				false)
			l.try(err, what)
		}
	}
	for i, e := range st.Log {
		what := fmt.Sprintf("%s log %d", st.Title, i)
		_, err := strip.AddLog(l.ctx, l.Service, l.command(what), id, l.id(what),
			strip.LogFacts{UnitID: units[e.Unit], StepID: k.steps[e.Step], Line: e.Line, Seconds: e.Seconds,
				Note: e.Note})
		l.try(err, what)
	}
	for i, t := range st.Trials {
		what := fmt.Sprintf("%s trial %d", st.Title, i)
		for j, a := range t.Before {
			act := fmt.Sprintf("%s, before it %d", what, j)
			f := store.SwapActFacts{Kind: a.Kind, BoardUnitID: units[a.Board], Pieces: k.pieces(a.Pieces, units)}
			_, err := swap.AddAct(l.ctx, l.Service, l.command(act), id, l.id(act), f, true, swap.Placing{})
			l.try(err, act)
		}
		f := store.TrialFacts{BoardUnitID: units[t.Board], HousingUnitID: units[t.Housing],
			Pieces: k.pieces(t.Pieces, units), Results: t.Results, Minutes: t.Minutes, Note: t.Note}
		_, err := swap.AddTrial(l.ctx, l.Service, l.command(what), id, l.id(what), f, swap.Placing{}, "")
		l.try(err, what)
	}
}

// facts are what people said for the scores, and the states that were kept on the way.
func (l *loader) facts(known map[string]*loaded) {
	var list []saying
	l.try(read("facts.json", &list), "facts")
	for i, f := range list {
		if l.err != nil {
			return
		}
		model := ""
		if f.Model != "" {
			model = known[f.Model].id
		}
		what := fmt.Sprintf("fact %d", i)
		var err error
		if f.Mark != "" {
			_, err = score.Mark(l.ctx, l.Service, l.command(what), l.id(what), model, store.ScoreMarkFacts{Note: f.Mark})
		} else {
			_, err = score.Say(l.ctx, l.Service, l.command(what), l.id(what), model, f.SayingFacts)
		}
		l.try(err, what+" "+f.Fact)
	}
}

func (l *loader) between(known map[string]*loaded) {
	var b between
	l.try(read("fit.json", &b), "fit")
	lots := map[string]string{}
	for _, x := range b.Lots {
		if l.err != nil {
			return
		}
		what := "lot " + x.Name
		lots[x.Name] = l.id(what)
		_, err := fit.AddLot(l.ctx, l.Service, l.command(what), lots[x.Name], known[x.Model].id, x.LotFacts)
		l.try(err, what)
	}
	for i, t := range b.Tests {
		if l.err != nil {
			return
		}
		what := fmt.Sprintf("fit test %d", i)
		f := t.FitTestFacts
		f.LotID = lots[t.Lot]
		if t.Donor != "" {
			f.DonorModel = known[t.Donor].id
		}
		f.HostUnit = known[t.Host].units[t.Unit]
		_, err := fit.AddTest(l.ctx, l.Service, l.command(what), l.id(what), known[t.Host].id, f)
		l.try(err, what)
	}
}

func (k *loaded) pieces(list []piece, units map[string]string) []store.Piece {
	var out []store.Piece
	for _, p := range list {
		out = append(out, store.Piece{PartID: k.parts[p.Part], Origin: "unit", UnitID: units[p.Unit]})
	}
	return out
}
