package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"waryowl/internal/app/account"
	"waryowl/internal/app/act"
	"waryowl/internal/app/propose"
	"waryowl/internal/app/visit"
	"waryowl/internal/picture"
	"waryowl/internal/store"
)

type (
	// NewVisit is a phone that comes in.
	NewVisit struct {
		ID string `json:"id" format:"uuid"`
		visit.Arriving
	}
	// VisitChange replaces what is known of a visit.
	VisitChange struct {
		Version int `json:"version" minimum:"1"`
		store.VisitFacts
	}
	// SignedEntry is an act of an apprentice that another person has looked at, who proves it by their password.
	SignedEntry struct {
		visit.NewEntry
		Name     string `json:"name" minLength:"1" maxLength:"64" doc:"of whoever looked"`
		Password string `json:"password" minLength:"1" maxLength:"200"`
	}
	// NewProposal is a proposal about a model.
	NewProposal struct {
		ID string `json:"id" format:"uuid"`
		store.ProposalFacts
	}
)

func (s *server) visitRoutes() {
	get(s, "/api/visits", "list-visits", "Phones that are here for a repair", act.Visits,
		func(ctx context.Context, in *struct {
			All bool `query:"all" doc:"also those that were handed back"`
		}) ([]visit.Line, error) {
			return visit.List(ctx, s.App, in.All)
		})
	get(s, "/api/visits/{id}", "get-visit", "A phone from arrival to hand-back", act.Visits,
		func(ctx context.Context, in *ByID) (visit.Room, error) {
			return visit.Show(ctx, s.App, actor(ctx), in.ID)
		})
	write(s, "POST", "/api/visits", "add-visit", "A phone comes in for a repair", act.Visits,
		func(ctx context.Context, c act.Command, in *firstRow[NewVisit]) (store.Visit, error) {
			return visit.Take(ctx, s.App, c, in.Body.ID, in.Body.Arriving)
		})
	write(s, "PUT", "/api/visits/{id}", "change-visit", "What is known of a visit", act.Visits,
		func(ctx context.Context, c act.Command, in *newRow[VisitChange]) (store.Visit, error) {
			return visit.Change(ctx, s.App, c, in.ID, in.Body.Version, in.Body.VisitFacts)
		})
	write(s, "PUT", "/api/visits/{id}/state", "move-visit", "A phone waits for a part, is taken up again or handed back", act.Visits,
		func(ctx context.Context, c act.Command, in *newRow[visit.Moved]) (store.Visit, error) {
			return visit.Move(ctx, s.App, c, in.ID, in.Body)
		})
	write(s, "PUT", "/api/visits/{id}/end", "end-visit", "How a repair went", act.Visits,
		func(ctx context.Context, c act.Command, in *newRow[visit.Ended]) (store.Visit, error) {
			return visit.End(ctx, s.App, c, in.ID, in.Body)
		})
	write(s, "PUT", "/api/visits/{id}/confirm", "confirm-visit", "Whether doubtful minutes count", act.Visits,
		func(ctx context.Context, c act.Command, in *newRow[visit.Confirmed]) (store.Visit, error) {
			return visit.Confirm(ctx, s.App, c, in.ID, in.Body)
		})
	remove(s, "/api/visits", "visit", "a visit", act.Visits, visit.Delete, visit.RestoreVisit)
	write(s, "POST", "/api/visits/{id}/entries", "add-visit-entry", "Log an act of a repair", act.Visits,
		func(ctx context.Context, c act.Command, in *newRow[visit.NewEntry]) (store.VisitEntry, error) {
			return visit.Log(ctx, s.App, c, in.ByID.ID, in.Body, "")
		})
	write(s, "POST", "/api/visits/{id}/signed-entries", "sign-visit-entry", "Log an act that another person has looked at", act.Visits,
		func(ctx context.Context, _ act.Command, in *newRow[SignedEntry]) (store.VisitEntry, error) {
			if !s.attempts.allow(ctx, in.Body.Name, actor(ctx).ID, "") {
				return store.VisitEntry{}, tooMany
			}
			who, err := account.SignIn(ctx, s.App, in.Body.Name, in.Body.Password)
			if err != nil {
				return store.VisitEntry{}, err
			}
			// What is kept of a change is a sum of its body: none of a password, which it would make easy to guess.
			kept := *in
			kept.Body.Password = ""
			c := command(ctx, "sign-visit-entry", &kept)
			if err := visit.MaySign(ctx, s.App, who, actor(ctx).ID); err != nil {
				return store.VisitEntry{}, err
			}
			return visit.Log(ctx, s.App, c, in.ByID.ID, in.Body.NewEntry, who.Display)
		})
	remove(s, "/api/visit-entries", "visit-entry", "an act of a repair", act.Visits, visit.Undo, visit.Restore)
	s.visitPhotoRoutes()
	s.proposalRoutes()
}

func (s *server) visitPhotoRoutes() {
	operation(s, huma.Operation{OperationID: "add-visit-photo", Method: "POST", Path: "/api/visits/{id}/photos",
		Summary: "Add a picture of a visit", DefaultStatus: http.StatusCreated,
		MaxBodyBytes: picture.MaxBytes + 1024}, act.Right{Resource: act.Visits, Verb: act.Write},
		func(ctx context.Context, in *struct {
			Change
			ByID
			PhotoID string `query:"photo_id" format:"uuid" required:"true" doc:"id of the new row"`
			RawBody []byte `contentType:"application/octet-stream"`
		}) (*body[store.VisitPhoto], error) {
			p, err := visit.AddPhoto(ctx, s.App, command(ctx, "add-visit-photo", in), in.ID, in.PhotoID, in.RawBody)
			return &body[store.VisitPhoto]{p}, err
		})
	operation(s, huma.Operation{OperationID: "get-visit-photo", Method: "GET", Path: "/api/visit-photos/{id}/{size}",
		Summary: "A picture of a visit as JPEG"}, act.Right{Resource: act.Visits, Verb: act.Read},
		func(ctx context.Context, in *struct {
			ByID
			Size string `path:"size" enum:"full,thumb"`
		}) (*photo, error) {
			file, err := visit.PhotoBytes(ctx, s.App, in.ID, in.Size == "thumb")
			return &photo{"image/jpeg", "private, no-store", file}, err // it is to be gone when it was deleted
		})
	remove(s, "/api/visit-photos", "visit-photo", "a picture of a visit", act.Visits, visit.DeletePhoto, visit.RestorePhoto)
}

func (s *server) proposalRoutes() {
	get(s, "/api/proposals", "list-proposals", "What technicians propose about models", act.Visits,
		func(ctx context.Context, in *struct {
			Model string `query:"model" format:"uuid" doc:"only about this model"`
		}) ([]propose.Line, error) {
			return propose.List(ctx, s.App, in.Model)
		})
	write(s, "POST", "/api/models/{id}/proposals", "add-proposal", "Propose a fact about a model", act.Visits,
		func(ctx context.Context, c act.Command, in *newRow[NewProposal]) (store.Proposal, error) {
			return propose.Add(ctx, s.App, c, in.ByID.ID, in.Body.ID, in.Body.ProposalFacts)
		})
	write(s, "PUT", "/api/proposals/{id}", "answer-proposal", "Take a proposal into the record, or decline it", act.Models,
		func(ctx context.Context, c act.Command, in *newRow[propose.Answered]) (store.Proposal, error) {
			return propose.Answer(ctx, s.App, c, in.ID, in.Body)
		})
}
