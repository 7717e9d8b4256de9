package app

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"gorm.io/gorm"

	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// bench is a study with everything that was recorded in it.
type bench struct {
	store.Study
	know      *knowledge
	units     []store.Unit
	unit      map[string]store.Unit
	checks    []store.Check
	baselines []store.Baseline
	log       []store.LogEntry
	trials    []store.Trial
	acts      []store.SwapAct
	faults    []store.FaultCase
	learned   func(atom, check string) (float64, bool) // priors from earlier studies, where they are wanted
	closings  []store.Closing
	ahead     *knowledge // the predecessor, where guesses are wanted
}

// lockStudy loads a study for a change; others who change it, or its model's plan, wait for the end of this transaction.
func lockStudy(tx *store.Tx, id string) (*bench, error) {
	study, err := store.Lock[store.Study](tx, id)
	if err != nil {
		return nil, err
	}
	if _, err := store.Lock[store.Model](tx, study.ModelID); err != nil {
		return nil, err
	}
	return loadStudy(tx.DB, id)
}

func loadStudy(db *gorm.DB, id string) (*bench, error) {
	study, err := store.Get[store.Study](db, id)
	if err != nil {
		return nil, err
	}
	b := &bench{Study: *study, unit: map[string]store.Unit{}}
	if b.know, err = loadModel(db, study.ModelID); err != nil {
		return nil, err
	}
	if b.units, err = store.List[store.Unit](db, "id", "study_id = ?", id); err != nil {
		return nil, err
	}
	ids := []string{}
	for _, u := range b.units {
		b.unit[u.ID] = u
		ids = append(ids, u.ID)
	}
	if b.checks, err = checksFor(db, b.know.Model); err != nil {
		return nil, err
	}
	if b.baselines, err = store.List[store.Baseline](db, "id", "unit_id IN ?", ids); err != nil {
		return nil, err
	}
	if b.closings, err = store.List[store.Closing](db, "id", "unit_id IN ?", ids); err != nil {
		return nil, err
	}
	if b.log, err = store.List[store.LogEntry](db, "seq", "study_id = ?", id); err != nil {
		return nil, err
	}
	if b.acts, err = store.List[store.SwapAct](db, "seq", "study_id = ?", id); err != nil {
		return nil, err
	}
	if b.faults, err = store.List[store.FaultCase](db, "id", "study_id = ?", id); err != nil {
		return nil, err
	}
	b.trials, err = store.List[store.Trial](db, "seq", "study_id = ?", id)
	return b, err
}

// untested counts the baseline cells of a unit that hold no real result; an assumed one is not a result.
func (b *bench) untested(unit string) int {
	n := len(b.checks)
	for _, l := range b.baselines {
		known := slices.ContainsFunc(b.checks, func(c store.Check) bool { return c.Mark == l.CheckMark })
		if known && l.UnitID == unit && !l.Assumed && l.Result != "skipped" {
			n--
		}
	}
	return n
}

// Stage is one stage of the trail: its eye opens as it fills, Missing says what is not there yet.
type Stage struct {
	ID      string `json:"id"`
	Title   string `json:"title"`
	Eye     string `json:"eye" enum:"shut,half,open"`
	Missing string `json:"missing,omitempty"`
}

// StudyCard is a study in a list, with its trail.
type StudyCard struct {
	Study  store.Study  `json:"study"`
	Model  store.Model  `json:"model"`
	Units  []store.Unit `json:"units" nullable:"false"`
	Stages []Stage      `json:"stages" nullable:"false"`
}

func (b *bench) card() StudyCard {
	return StudyCard{b.Study, b.know.Model, b.units, b.stages()}
}

func eye(begun, complete bool) string {
	switch {
	case complete:
		return ledger.Open
	case begun:
		return ledger.Half
	}
	return ledger.Shut
}

// stages tells for each stage how full it is and the first thing that is missing.
func (b *bench) stages() []Stage {
	untested := 0
	for _, u := range b.units {
		untested += b.untested(u.ID)
	}
	intake := first(need(len(b.units) < 2, "two units"), need(untested > 0, fmt.Sprintf("%d baseline cells", untested)))
	freed := map[string]bool{}
	for _, s := range b.know.steps {
		for _, id := range s.Frees {
			freed[id] = true
		}
	}
	noWay := len(b.know.parts) - len(freed)
	strip := first(need(len(b.log) == 0, "the first entry"), need(len(b.know.parts) == 0, "parts"))
	ways := first(need(len(freed) == 0, "a logged way"), need(noWay > 0, fmt.Sprintf("%d parts without a way", noWay)))
	empty := 0
	for _, t := range b.trials {
		empty += len(b.checks) - len(t.Results)
	}
	swap := first(need(len(b.trials) == 0, "the first trial"), need(empty > 0, fmt.Sprintf("%d untested cells", empty)))
	closed, apart := 0, 0
	for _, c := range b.closings {
		if c.Closed {
			closed++
		}
	}
	for _, u := range b.units {
		if len(b.done(u.ID)) > 0 {
			apart++
		}
	}
	closing := first(need(apart > closed, fmt.Sprintf("%d of %d phones not closed", apart-closed, apart)))
	card := b.know.score()
	score := first(need(len(freed) == 0, "ways"), need(card.High-card.Low > 0.5, fmt.Sprintf("facts worth %.1f points", card.High-card.Low)))
	hand := first(need(intake != "", "intake"), need(len(b.log) == 0, "the strip-down"), need(swap != "", "swap tests"), need(score != "", "the score"))
	return []Stage{
		{"intake", "Intake", eye(len(b.units) > 0, intake == ""), intake},
		{"strip", "Strip-down", eye(len(b.log) > 0, strip == ""), strip},
		{"ways", "Ways", eye(len(freed) > 0, ways == ""), ways},
		{"swap", "Swap tests", eye(len(b.trials) > 0, swap == ""), swap},
		{"closeup", "Close-up", eye(closed > 0, len(b.units) > 0 && closed == len(b.units)), closing},
		{"score", "Score", eye(len(freed) > 0, score == ""), score},
		{"handover", "Hand-over", eye(len(b.log) > 0 || len(b.trials) > 0, hand == ""), hand},
	}
}

func need(missing bool, what string) string {
	if missing {
		return what
	}
	return ""
}

func first(texts ...string) string {
	for _, t := range texts {
		if t != "" {
			return t
		}
	}
	return ""
}

// Studies lists all studies, the newest first.
func (s *Service) Studies(ctx context.Context) ([]StudyCard, error) {
	db := s.DB.WithContext(ctx)
	rows, err := store.List[store.Study](db, "id DESC", "1 = 1")
	cards := []StudyCard{}
	for _, r := range rows {
		b, err := loadStudy(db, r.ID)
		if err != nil {
			return nil, err
		}
		cards = append(cards, b.card())
	}
	return cards, err
}

// StudyCard returns one study with its trail.
func (s *Service) StudyCard(ctx context.Context, id string) (StudyCard, error) {
	b, err := loadStudy(s.DB.WithContext(ctx), id)
	if err != nil {
		return StudyCard{}, err
	}
	return b.card(), nil
}

// AddStudy opens a study of a model.
func (s *Service) AddStudy(ctx context.Context, c Command, id, model string, f store.StudyFacts) (store.Study, error) {
	return Do(ctx, s, c, 201, func(tx *store.Tx) (store.Study, error) {
		row := store.Study{Row: store.Row{ID: id}, ModelID: model, StudyFacts: f}
		if _, err := store.Get[store.Model](tx.DB, model); err != nil {
			return row, fault.New("model_id", model, "the id of a model")
		}
		return row, store.Create(tx, &row)
	})
}

// ChangeStudy replaces the facts of a study.
func (s *Service) ChangeStudy(ctx context.Context, c Command, id string, saw int, f store.StudyFacts) (store.Study, error) {
	return change(ctx, s, c, id, saw, func(_ *store.Tx, row *store.Study) error { row.StudyFacts = f; return nil })
}

// DeleteStudy takes a study out of the lists; RestoreStudy brings it back.
func (s *Service) DeleteStudy(ctx context.Context, c Command, id string, saw int) (store.Study, error) {
	return deleteRow[store.Study](ctx, s, c, id, saw, nil)
}

// RestoreStudy brings a deleted study back.
func (s *Service) RestoreStudy(ctx context.Context, c Command, id string, saw int) (store.Study, error) {
	return restoreRow[store.Study](ctx, s, c, id, saw, nil)
}

func deleteRow[T any, E store.Entity[T]](ctx context.Context, s *Service, c Command, id string, saw int, then func(*store.Tx, E) error) (T, error) {
	return oneRow(ctx, s, c, func(tx *store.Tx) (E, error) { return store.Delete[T, E](tx, id, saw) }, then)
}

func restoreRow[T any, E store.Entity[T]](ctx context.Context, s *Service, c Command, id string, saw int, then func(*store.Tx, E) error) (T, error) {
	return oneRow(ctx, s, c, func(tx *store.Tx) (E, error) { return store.Restore[T, E](tx, id, saw) }, then)
}

func oneRow[T any, E store.Entity[T]](ctx context.Context, s *Service, c Command, work func(*store.Tx) (E, error), then func(*store.Tx, E) error) (T, error) {
	return Do(ctx, s, c, 200, func(tx *store.Tx) (T, error) {
		var none T
		row, err := work(tx)
		if err != nil {
			return none, err
		}
		if then != nil {
			if err := then(tx, row); err != nil {
				return none, err
			}
		}
		return *row, nil
	})
}

// UnitIntake is a unit with its baseline, and how many cells of it are empty.
type UnitIntake struct {
	Unit     store.Unit       `json:"unit"`
	Baseline []store.Baseline `json:"baseline" nullable:"false"`
	Untested int              `json:"untested"`
	Gate     []GateTick       `json:"gate" nullable:"false"`
	Advice   string           `json:"advice" doc:"pry on or reheat"`
}

// Intake shows units, builds and baselines, and says whether the phones may be opened.
func (s *Service) Intake(ctx context.Context, id string) (Intake, error) {
	b, err := loadStudy(s.DB.WithContext(ctx), id)
	if err != nil {
		return Intake{}, err
	}
	return b.intake(), nil
}

// AddUnit records a phone of the study. Sticker names are unique within it.
func (s *Service) AddUnit(ctx context.Context, c Command, study, id string, f store.UnitFacts) (store.Unit, error) {
	return Do(ctx, s, c, 201, func(tx *store.Tx) (store.Unit, error) {
		u := store.Unit{Row: store.Row{ID: id}, StudyID: study, UnitFacts: f}
		if err := freeSticker(tx, study, "", f); err != nil {
			return u, err
		}
		return u, store.Create(tx, &u)
	})
}

// ChangeUnit replaces the facts of a unit.
func (s *Service) ChangeUnit(ctx context.Context, c Command, id string, saw int, f store.UnitFacts) (store.Unit, error) {
	return change(ctx, s, c, id, saw, func(tx *store.Tx, u *store.Unit) error {
		u.UnitFacts = f
		return freeSticker(tx, u.StudyID, u.ID, f)
	})
}

func freeSticker(tx *store.Tx, study, self string, f store.UnitFacts) error {
	if _, err := store.Lock[store.Study](tx, study); err != nil {
		return err
	}
	units, err := store.List[store.Unit](tx.DB, "id", "study_id = ?", study)
	for _, u := range units {
		if u.ID != self && strings.EqualFold(u.Name, f.Name) {
			return fault.New("name", f.Name, "a sticker name that no other unit of this study has")
		}
	}
	if self == "" && len(units) >= 12 {
		return fault.New("name", f.Name, "at most 12 units in a study")
	}
	return err
}

// SetBaseline stores a unit's result for a check. saw is the version on the page, 0 when the cell was empty.
func (s *Service) SetBaseline(ctx context.Context, c Command, unit, check string, saw int, result string, assumed bool) (store.Baseline, error) {
	return Do(ctx, s, c, 200, func(tx *store.Tx) (store.Baseline, error) {
		u, err := store.Get[store.Unit](tx.DB, unit)
		if err != nil {
			return store.Baseline{}, err
		}
		b, err := loadStudy(tx.DB, u.StudyID)
		if err != nil {
			return store.Baseline{}, err
		}
		if !slices.ContainsFunc(b.checks, func(c store.Check) bool { return c.Mark == check }) {
			return store.Baseline{}, fault.New("check", check, "the short name of a check of this model")
		}
		have, err := store.List[store.Baseline](tx.DB, "id", "unit_id = ? AND check_mark = ?", unit, check)
		if err != nil {
			return store.Baseline{}, err
		}
		if len(have) == 0 {
			row := store.Baseline{UnitID: unit, CheckMark: check, Result: result, Assumed: assumed}
			return row, store.Create(tx, &row)
		}
		row, err := store.Update(tx, have[0].ID, saw, func(l *store.Baseline) error { l.Result, l.Assumed = result, assumed; return nil })
		if err != nil {
			return store.Baseline{}, err
		}
		return *row, nil
	})
}
