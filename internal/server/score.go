package server

import (
	"context"
	"net/http"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/score"
	"waryowl/internal/core/school"
	"waryowl/internal/store"
)

type (
	// NewSaying records what somebody says of a fact.
	NewSaying struct {
		ID string `json:"id" format:"uuid"`
		store.SayingFacts
	}
	// SayingChange replaces it.
	SayingChange struct {
		Version int `json:"version" minimum:"1"`
		store.SayingFacts
	}
	// NewRubric drafts a rule.
	NewRubric struct {
		ID string `json:"id" format:"uuid"`
		store.RubricFacts
	}
	// RubricChange replaces its document by a new version of it.
	RubricChange struct {
		Version int `json:"version" minimum:"1"`
		store.RubricFacts
	}
	// Publishing shows a rule to everybody, or no more.
	Publishing struct {
		Version   int  `json:"version" minimum:"1"`
		Published bool `json:"published"`
	}
	// NewMark keeps what is known now.
	NewMark struct {
		ID string `json:"id" format:"uuid"`
		store.ScoreMarkFacts
	}
)

func (s *server) scoreRoutes() {
	get(s, "/api/models/{id}/score", "get-score", "A model by every school", act.Models,
		func(ctx context.Context, in *struct {
			ByID
			Mark string `query:"mark" format:"uuid" doc:"kept state to compare with; the newest when left out"`
		}) (score.Room, error) {
			return score.Show(ctx, s.App, in.ID, in.Mark)
		})
	get(
		s,
		"/api/models/{id}/score/against",
		"get-score-against",
		"Models beside each other under each school",
		act.Models,
		func(ctx context.Context, in *struct {
			ByID
			With   string  `query:"with" maxLength:"400" doc:"ids of other models, with commas; those of its maker when left out"`
			Within float64 `query:"within" minimum:"0" maximum:"0.9" doc:"how far weights may be off; 0: any weights"`
		}) (score.Against, error) {
			return score.Compare(
				ctx,
				s.App,
				in.ID,
				strings.FieldsFunc(in.With, func(r rune) bool { return r == ',' }),
				in.Within,
			)
		},
	)
	answer(s, "POST", "/api/models/{id}/score/try", "try-score", "A model by a rule that is not kept",
		act.Right{Resource: act.Models, Verb: act.Read}, http.StatusOK,
		func(ctx context.Context, in *struct {
			ByID
			Body store.RubricFacts
		}) (score.School, error) {
			return score.Try(ctx, s.App, in.ID, in.Body.Document)
		})
	write(s, "POST", "/api/models/{id}/facts", "say-fact", "Say a fact of a model", act.Facts,
		func(ctx context.Context, c act.Command, in *newRow[NewSaying]) (store.FactSaying, error) {
			return score.Say(ctx, s.App, c, in.Body.ID, in.ByID.ID, in.Body.SayingFacts)
		})
	write(s, "POST", "/api/facts", "say-shop-fact", "Say a fact of the workshop", act.Facts,
		func(ctx context.Context, c act.Command, in *firstRow[NewSaying]) (store.FactSaying, error) {
			return score.Say(ctx, s.App, c, in.Body.ID, "", in.Body.SayingFacts)
		})
	write(s, "PUT", "/api/facts/{id}", "change-fact", "Change what was said", act.Facts,
		func(ctx context.Context, c act.Command, in *newRow[SayingChange]) (store.FactSaying, error) {
			return score.ChangeSaying(ctx, s.App, c, in.ID, in.Body.Version, in.Body.SayingFacts)
		})
	remove(s, "/api/facts", "fact", "what was said of a fact", act.Facts, score.Unsay, score.SayAgain)
	get(s, "/api/rubrics/{name}", "get-rubric", "A rule as a document", act.Rules,
		func(ctx context.Context, in *struct {
			Name string `path:"name" maxLength:"60"`
		}) (school.Rubric, error) {
			return score.Document(ctx, s.App, in.Name)
		})
	write(s, "POST", "/api/rubrics", "draft-rubric", "Draft a rule of one's own", act.Rules,
		func(ctx context.Context, c act.Command, in *firstRow[NewRubric]) (store.Rubric, error) {
			return score.Draft(ctx, s.App, c, in.Body.ID, in.Body.RubricFacts)
		})
	write(s, "PUT", "/api/rubrics/{id}", "change-rubric", "A new version of a rule", act.Rules,
		func(ctx context.Context, c act.Command, in *newRow[RubricChange]) (store.Rubric, error) {
			return score.Redraft(ctx, s.App, c, in.ID, in.Body.Version, in.Body.RubricFacts)
		})
	write(s, "PUT", "/api/rubrics/{id}/published", "publish-rubric", "Show a rule to everybody", act.Schools,
		func(ctx context.Context, c act.Command, in *newRow[Publishing]) (store.Rubric, error) {
			return score.Publish(ctx, s.App, c, in.ID, in.Body.Version, in.Body.Published)
		})
	remove(s, "/api/rubrics", "rubric", "a rule", act.Rules, score.DropRule, score.BringRule)
	write(s, "POST", "/api/models/{id}/score-marks", "keep-score", "Keep what is known now", act.Studies,
		func(ctx context.Context, c act.Command, in *newRow[NewMark]) (store.ScoreMark, error) {
			return score.Mark(ctx, s.App, c, in.Body.ID, in.ByID.ID, in.Body.ScoreMarkFacts)
		})
	remove(s, "/api/score-marks", "score-mark", "a kept state", act.Studies, score.Unmark, score.Remark)
}
