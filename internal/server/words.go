package server

import (
	"context"

	"waryowl/internal/app/act"
	"waryowl/internal/app/strip"
	"waryowl/internal/store"
)

type (
	// NewWord teaches the workshop a word.
	NewWord struct {
		ID string `json:"id" format:"uuid"`
		store.WordFacts
	}
	// WordChange replaces what a word means.
	WordChange struct {
		Version int `json:"version" minimum:"1"`
		store.WordFacts
	}
)

func (s *server) wordRoutes() {
	get(s, "/api/words", "list-words", "The workshop's own words", act.Words,
		func(ctx context.Context, _ *struct{}) (strip.Words, error) { return strip.ListWords(ctx, s.App) })
	write(s, "POST", "/api/words", "add-word", "Teach a word of the workshop", act.Words,
		func(ctx context.Context, c act.Command, in *firstRow[NewWord]) (store.OwnWord, error) {
			return strip.TeachWord(ctx, s.App, c, in.Body.ID, in.Body.WordFacts)
		})
	write(s, "PUT", "/api/words/{id}", "change-word", "Change a word of the workshop", act.Office,
		func(ctx context.Context, c act.Command, in *newRow[WordChange]) (store.OwnWord, error) {
			return strip.ChangeWord(ctx, s.App, c, in.ID, in.Body.Version, in.Body.WordFacts)
		})
	remove(s, "/api/words", "word", "a word of the workshop", act.Office, strip.DeleteWord, strip.RestoreWord)
}
