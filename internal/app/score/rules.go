package score

import (
	"context"
	"encoding/json"
	"errors"

	"maps"
	"slices"
	"strings"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/app/rating"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/school"
	"waryowl/internal/store"
)

func marks(db *gorm.DB, model string) ([]store.ScoreMark, error) {
	return store.List[store.ScoreMark](db.Limit(mostMarks), "taken_at DESC, id DESC", "model_id = ?", model)
}

// Say records what somebody says of a fact of a model; modelID is empty for what holds for the workshop.
func Say(ctx context.Context, s *act.Service, c act.Command, id, modelID string, f store.SayingFacts) (store.FactSaying,
	error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.FactSaying, error) {
		row := store.FactSaying{Row: store.Row{ID: id}, ModelID: modelID, SayingFacts: f}
		if err := check(tx, modelID, f); err != nil {
			return row, err
		}
		return row, store.Create(tx, &row)
	})
}

func check(tx *store.Tx, modelID string, f store.SayingFacts) error {
	if strings.TrimSpace(f.By) == "" {
		return fault.New("by", f.By, "whose word it is")
	}
	if rating.Shop(f.Fact) != (modelID == "") {
		return fault.New("fact", f.Fact, "a fact of the workshop without a model, any other with one")
	}
	if modelID != "" {
		if _, err := store.Get[store.Model](tx.DB, modelID); err != nil {
			return err
		}
	}
	return rating.CheckSaying(f)
}

// ChangeSaying replaces what was said.
func ChangeSaying(ctx context.Context, s *act.Service, c act.Command, id string, saw int, f store.SayingFacts) (
	store.FactSaying, error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, row *store.FactSaying) error {
		row.SayingFacts = f
		return check(tx, row.ModelID, f)
	})
}

// Unsay takes a saying back, SayAgain brings it back.
func Unsay(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.FactSaying, error) {
	return act.Delete[store.FactSaying](ctx, s, c, id, saw, nil)
}

// SayAgain brings a saying back.
func SayAgain(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.FactSaying, error) {
	return act.Restore[store.FactSaying](ctx, s, c, id, saw, nil)
}

// read reads a rule from its document; errors name the path in it.
func read(db *gorm.DB, self, document string) (school.Rubric, error) {
	b, err := rating.ReadRubric(document)
	var f *fault.Fault
	var typed *json.UnmarshalTypeError
	switch {
	case errors.As(err, &f):
		return b, fault.New("document: "+strings.TrimPrefix(f.Field, "rubric."), f.Found, f.Allowed)
	case errors.As(err, &typed):
		return b, fault.New("document: "+typed.Field, typed.Value, "a "+typed.Type.String())
	case err != nil:
		return b, fault.New("document", err.Error(), "a rubric as JSON, in the form that the export has")
	case b.ID == school.Template:
		return b, fault.New("document: id", b.ID, "an id of its own")
	case len(b.ID) > 60 || len(b.Version) > 40:
		return b, fault.New("document: id", b.ID, "at most 60 characters, its version at most 40")
	}
	taken := slices.ContainsFunc(school.Shipped(), func(o school.Rubric) bool { return o.ID == b.ID })
	if !taken {
		rows, err := store.List[store.Rubric](db, "id", "name = ? AND id <> ?", b.ID, self)
		if err != nil {
			return b, err
		}
		taken = len(rows) > 0
	}
	if taken {
		return b, fault.New("document: id", b.ID, "an id that no other rule has")
	}
	return b, nil
}

// Draft keeps a rule of one's own.
func Draft(ctx context.Context, s *act.Service, c act.Command, id string, f store.RubricFacts) (store.Rubric, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.Rubric, error) {
		row := store.Rubric{Row: store.Row{ID: id}, Author: c.Actor.Display, RubricFacts: f}
		b, err := read(tx.DB, id, f.Document)
		if err != nil {
			return row, err
		}
		row.Name, row.Edition = b.ID, b.Version
		return row, store.Create(tx, &row)
	})
}

// Redraft replaces a rule's document by a new version of it; a published one is a draft again until it is published.
func Redraft(ctx context.Context, s *act.Service, c act.Command, id string, saw int, f store.RubricFacts) (store.Rubric,
	error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, row *store.Rubric) error {
		b, err := read(tx.DB, id, f.Document)
		if err != nil {
			return err
		}
		if b.Version == row.Edition && f.Document != row.Document {
			return fault.New("document: version", b.Version, "another version than the one that it replaces")
		}
		row.Name, row.Edition, row.Document, row.Published = b.ID, b.Version, f.Document, false
		return nil
	})
}

// Publish shows a rule to everybody beside the schools, or takes it back to a draft.
func Publish(
	ctx context.Context,
	s *act.Service,
	c act.Command,
	id string,
	saw int,
	published bool,
) (store.Rubric, error) {
	return act.Change(ctx, s, c, id, saw, func(_ *store.Tx, row *store.Rubric) error {
		row.Published = published
		return nil
	})
}

// DropRule takes a rule away, BringRule brings it back.
func DropRule(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.Rubric, error) {
	return act.Delete[store.Rubric](ctx, s, c, id, saw, nil)
}

// BringRule brings a rule back.
func BringRule(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.Rubric, error) {
	return act.Restore[store.Rubric](ctx, s, c, id, saw, nil)
}

// Document is a rule as JSON: one that ships, the template, or one that was drafted.
func Document(ctx context.Context, s *act.Service, name string) (school.Rubric, error) {
	if name == school.Template {
		return school.Own(), nil
	}
	rules, _, err := rating.Rules(s.DB.WithContext(ctx))
	if err != nil {
		return school.Rubric{}, err
	}
	if k := slices.IndexFunc(rules, func(b school.Rubric) bool { return b.ID == name }); k >= 0 {
		return rules[k], nil
	}
	return school.Rubric{}, store.ErrNotFound
}

// Try rates a model by a rule that is not kept.
func Try(ctx context.Context, s *act.Service, modelID, document string) (School, error) {
	db := s.DB.WithContext(ctx)
	b, err := rating.ReadRubric(document)
	var f *fault.Fault
	if errors.As(err, &f) {
		return School{}, fault.New("document: "+strings.TrimPrefix(f.Field, "rubric."), f.Found, f.Allowed)
	} else if err != nil {
		return School{}, fault.New("document", err.Error(), "a rubric as JSON")
	}
	known, err := rating.Load(db, []string{modelID}, s.Now().Format("2006-01-02"))
	if err != nil {
		return School{}, err
	}
	r := known[modelID]
	if r == nil {
		return School{}, store.ErrNotFound
	}
	no := false
	out, err := school.Solve(school.Input{Facts: school.Facts(), Rubrics: []school.Rubric{b}, Shop: r.ShopFacts(),
		Models: []school.Model{r.Model()}, Compare: &no})
	if err != nil {
		return School{}, err
	}
	return dress(out.Scores[0], b, nil), nil
}

// Mark keeps what is known of a model now.
func Mark(ctx context.Context, s *act.Service, c act.Command, id, modelID string, f store.ScoreMarkFacts) (
	store.ScoreMark, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.ScoreMark, error) {
		row := store.ScoreMark{Row: store.Row{ID: id}, ModelID: modelID, TakenAt: tx.Happened, ScoreMarkFacts: f}
		if strings.TrimSpace(f.Note) == "" {
			return row, fault.New("note", f.Note, "why this state is kept")
		}
		known, err := rating.Load(tx.DB, []string{modelID}, tx.Happened.Format("2006-01-02"))
		if err != nil {
			return row, err
		}
		r := known[modelID]
		if r == nil {
			return row, store.ErrNotFound
		}
		all := r.Model().Facts
		maps.Copy(all, r.ShopFacts())
		text, err := json.Marshal(all)
		if err != nil {
			return row, err
		}
		row.Build, row.Facts = r.Build, string(text)
		return row, store.Create(tx, &row)
	})
}

// Unmark drops a kept state, Remark brings it back.
func Unmark(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.ScoreMark, error) {
	return act.Delete[store.ScoreMark](ctx, s, c, id, saw, nil)
}

// Remark brings a kept state back.
func Remark(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.ScoreMark, error) {
	return act.Restore[store.ScoreMark](ctx, s, c, id, saw, nil)
}
