package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"waryowl/internal/app/act"
	"waryowl/internal/app/strip"
	"waryowl/internal/picture"
	"waryowl/internal/store"
)

type (
	// NewLog logs one act.
	NewLog struct {
		ID string `json:"id" format:"uuid"`
		strip.LogFacts
	}
	// LogChange corrects an entry.
	LogChange struct {
		Version int `json:"version" minimum:"1"`
		strip.LogCorrection
	}
	// NewPart records a part.
	NewPart struct {
		ID string `json:"id" format:"uuid"`
		store.PartFacts
	}
	// PartChange replaces the facts.
	PartChange struct {
		Version int `json:"version" minimum:"1"`
		store.PartFacts
	}
	// StepChange replaces the facts.
	StepChange struct {
		Version int `json:"version" minimum:"1"`
		store.StepFacts
	}
	// PhotoChange replaces the facts.
	PhotoChange struct {
		Version int `json:"version" minimum:"1"`
		store.PhotoFacts
	}
)

func (s *server) stripRoutes() {
	get(s, "/api/studies/{id}/strip", "get-strip", "The room of the teardown", act.Studies,
		func(ctx context.Context, in *ByID) (strip.Room, error) {
			return strip.Show(ctx, s.App, in.ID)
		})
	get(s, "/api/studies/{id}/log", "get-log", "Entries of a phone before those that the room shows", act.Studies,
		func(ctx context.Context, in *struct {
			ByID
			Unit   string `query:"unit" required:"true" format:"uuid"`
			Before int    `query:"before" required:"true" minimum:"0" doc:"number (seq) of the first entry that was shown"`
		}) (strip.LogPage, error) {
			return strip.Older(ctx, s.App, in.ID, in.Unit, in.Before)
		})
	write(s, "POST", "/api/studies/{id}/log", "add-log", "Log one act on a phone", act.Studies,
		func(ctx context.Context, c act.Command, in *newRow[NewLog]) (store.LogEntry, error) {
			return strip.AddLog(ctx, s.App, c, in.ByID.ID, in.Body.ID, in.Body.LogFacts)
		})
	write(s, "PUT", "/api/log/{id}", "change-log", "Correct an entry", act.Studies,
		func(ctx context.Context, c act.Command, in *newRow[LogChange]) (store.LogEntry, error) {
			return strip.ChangeLog(ctx, s.App, c, in.ID, in.Body.Version, in.Body.LogCorrection)
		})
	answer(s, "POST", "/api/studies/{id}/narration/look", "look-at-narration", "What a recording would put into the log",
		act.Right{Resource: act.Studies, Verb: act.Read}, http.StatusOK,
		func(ctx context.Context, in *struct {
			ByID
			Body strip.Recording
		}) (strip.Heard, error) {
			return strip.Hear(ctx, s.App, in.ID, in.Body)
		})
	write(s, "POST", "/api/studies/{id}/narration", "add-narration", "Log what was accepted of a recording", act.Studies,
		func(ctx context.Context, c act.Command, in *newRow[strip.Accepted]) (strip.Entered, error) {
			return strip.Accept(ctx, s.App, c, in.ID, in.Body)
		})
	writeAs(s, "POST", "/api/studies/{id}/narration/undo", "undo-narration", "Take a recording's entries out of the log",
		act.Studies,
		http.StatusOK, func(ctx context.Context, c act.Command, in *newRow[strip.Unsay]) (strip.Entered, error) {
			return strip.TakeBack(ctx, s.App, c, in.ID, in.Body)
		})
	sends(s, "/api/studies/{id}/narration/{recording}/{kind}", "get-film",
		"Chapters or captions of an accepted recording, as WebVTT", act.Studies,
		func(ctx context.Context, in *struct {
			ByID
			Recording string `path:"recording" format:"uuid"`
			Kind      string `path:"kind" enum:"chapters,captions"`
		}) (*file, error) {
			text, err := strip.Film(ctx, s.App, in.ID, in.Recording, in.Kind == "chapters")
			return sent("text/vtt; charset=utf-8", in.Kind+".vtt", false, []byte(text)), err
		})
	remove(s, "/api/log", "log", "an entry", act.Studies, strip.DeleteLog, strip.RestoreLog)
	write(s, "POST", "/api/models/{id}/parts", "add-part", "Record a part", act.Models,
		func(ctx context.Context, c act.Command, in *newRow[NewPart]) (store.Part, error) {
			return strip.AddPart(ctx, s.App, c, in.ByID.ID, in.Body.ID, in.Body.PartFacts)
		})
	write(s, "PUT", "/api/parts/{id}", "change-part", "Change a part", act.Models,
		func(ctx context.Context, c act.Command, in *newRow[PartChange]) (store.Part, error) {
			return strip.ChangePart(ctx, s.App, c, in.ID, in.Body.Version, in.Body.PartFacts)
		})
	write(s, "PUT", "/api/steps/{id}", "change-step", "Change a step of the plan", act.Models,
		func(ctx context.Context, c act.Command, in *newRow[StepChange]) (store.PlanStep, error) {
			return strip.ChangeStep(ctx, s.App, c, in.ID, in.Body.Version, in.Body.StepFacts)
		})
	s.photoRoutes()
}

// photo is a picture as it is sent; its address never shows another one, so that a browser may keep it.
type photo struct {
	ContentType  string `header:"Content-Type"`
	CacheControl string `header:"Cache-Control"`
	Body         []byte
}

func (s *server) photoRoutes() {
	operation(s, huma.Operation{OperationID: "add-photo", Method: "POST", Path: "/api/studies/{id}/photos",
		Summary: "Add a picture", DefaultStatus: http.StatusCreated,
		MaxBodyBytes: picture.MaxBytes + 1024}, act.Right{Resource: act.Studies, Verb: act.Write},
		func(ctx context.Context, in *struct {
			Change
			ByID
			PhotoID string `query:"photo_id" format:"uuid" required:"true" doc:"id of the new row"`
			UnitID  string `query:"unit_id" format:"uuid" required:"true"`
			PartID  string `query:"part_id" maxLength:"36"`
			EntryID string `query:"entry_id" maxLength:"36"`
			Caption string `query:"caption" maxLength:"200"`
			RawBody []byte `contentType:"application/octet-stream"`
		}) (*body[store.Photo], error) {
			f := store.PhotoFacts{Caption: in.Caption, PartID: in.PartID, EntryID: in.EntryID}
			p, err := strip.AddPhoto(ctx, s.App, command(ctx, "add-photo", in), in.ID, in.PhotoID, in.UnitID, f,
				in.RawBody)
			return &body[store.Photo]{p}, err
		})
	operation(s, huma.Operation{OperationID: "get-photo", Method: "GET", Path: "/api/photos/{id}/{size}",
		Summary: "A picture as JPEG"}, act.Right{Resource: act.Studies, Verb: act.Read},
		func(ctx context.Context, in *struct {
			ByID
			Size string `path:"size" enum:"full,thumb"`
		}) (*photo, error) {
			file, err := strip.PhotoBytes(ctx, s.App, in.ID, in.Size == "thumb")
			return &photo{"image/jpeg", "private, max-age=31536000, immutable", file}, err
		})
	write(s, "PUT", "/api/photos/{id}", "change-photo", "Caption, subject and pins of a picture", act.Studies,
		func(ctx context.Context, c act.Command, in *newRow[PhotoChange]) (store.Photo, error) {
			return strip.ChangePhoto(ctx, s.App, c, in.ID, in.Body.Version, in.Body.PhotoFacts)
		})
	remove(s, "/api/photos", "photo", "a picture", act.Studies, strip.DeletePhoto, strip.RestorePhoto)
}
