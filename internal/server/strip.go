package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"waryowl/internal/app"
	"waryowl/internal/picture"
	"waryowl/internal/store"
)

// photo is a picture as it is sent; its address never shows another one, so that a browser may keep it.
type photo struct {
	ContentType  string `header:"Content-Type"`
	CacheControl string `header:"Cache-Control"`
	Body         []byte
}

func (s *server) stripRoutes() {
	handle(s, "GET", "/api/studies/{id}/strip", "get-strip", "The room of the strip-down", read(app.Studies), 200, func(ctx context.Context, in *ByID) (app.Strip, error) {
		return s.App.Strip(ctx, in.ID)
	})
	handle(s, "POST", "/api/studies/{id}/log", "add-log", "Log one act on a phone", write(app.Studies), 201, func(ctx context.Context, in *newRow[NewLog]) (store.LogEntry, error) {
		return s.App.AddLog(ctx, in.command(ctx, "log of "+in.ByID.ID, in.Body), in.ByID.ID, in.Body.ID, in.Body.LogFacts)
	})
	handle(s, "PUT", "/api/log/{id}", "change-log", "Correct an entry", write(app.Studies), 200, func(ctx context.Context, in *newRow[LogChange]) (store.LogEntry, error) {
		return s.App.ChangeLog(ctx, in.command(ctx, "entry "+in.ID, in.Body), in.ID, in.Body.Version, in.Body.LogCorrection)
	})
	handle(s, "DELETE", "/api/log/{id}", "delete-log", "Take an entry back", write(app.Studies), 200, func(ctx context.Context, in *versioned) (store.LogEntry, error) {
		return s.App.DeleteLog(ctx, in.command(ctx, "delete entry "+in.ID, in.Version), in.ID, in.Version)
	})
	handle(s, "POST", "/api/log/{id}/restore", "restore-log", "Bring an entry back", write(app.Studies), 200, func(ctx context.Context, in *versioned) (store.LogEntry, error) {
		return s.App.RestoreLog(ctx, in.command(ctx, "restore entry "+in.ID, in.Version), in.ID, in.Version)
	})
	handle(s, "GET", "/api/studies/{id}/closeup", "get-closeup", "The room of closing", read(app.Studies), 200, func(ctx context.Context, in *struct {
		ByID
		Plan bool `query:"plan" doc:"from the plan, for a phone built of loose parts"`
	}) (app.Closeup, error) {
		return s.App.Closeup(ctx, in.ID, in.Plan)
	})
	handle(s, "PUT", "/api/units/{id}/closing", "set-closing", "The state of a phone's closing", write(app.Studies), 200, func(ctx context.Context, in *newRow[ClosingChange]) (store.Closing, error) {
		return s.App.SetClosing(ctx, in.command(ctx, "closing "+in.ID, in.Body), in.ID, in.Body.Version, in.Body.FromPlan, in.Body.ClosingFacts)
	})
	s.photoRoutes()
}

func (s *server) photoRoutes() {
	s.rights["add-photo"] = write(app.Studies)
	huma.Register(s.api, huma.Operation{OperationID: "add-photo", Method: "POST", Path: "/api/studies/{id}/photos", Summary: "Add a picture", DefaultStatus: 201,
		MaxBodyBytes: picture.MaxBytes + 1024, Errors: []int{400, 401, 403, 404, 409, 413, 422, 503}},
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
			p, err := s.App.AddPhoto(ctx, in.command(ctx, "photo of "+in.ID+in.PhotoID+in.UnitID+in.PartID+in.EntryID+in.Caption, in.RawBody), in.ID, in.PhotoID, in.UnitID, f, in.RawBody)
			if err != nil {
				return nil, s.problem(ctx, err)
			}
			return &body[store.Photo]{p}, nil
		})
	s.rights["get-photo"] = read(app.Studies)
	huma.Register(s.api, huma.Operation{OperationID: "get-photo", Method: "GET", Path: "/api/photos/{id}/{size}", Summary: "A picture as JPEG", Errors: []int{401, 403, 404, 422, 503}},
		func(ctx context.Context, in *struct {
			ByID
			Size string `path:"size" enum:"full,thumb"`
		}) (*photo, error) {
			file, err := s.App.PhotoBytes(ctx, in.ID, in.Size == "thumb")
			if err != nil {
				return nil, s.problem(ctx, err)
			}
			return &photo{"image/jpeg", "private, max-age=31536000, immutable", file}, nil
		})
	handle(s, "PUT", "/api/photos/{id}", "change-photo", "Caption, subject and pins of a picture", write(app.Studies), http.StatusOK, func(ctx context.Context, in *newRow[PhotoChange]) (store.Photo, error) {
		return s.App.ChangePhoto(ctx, in.command(ctx, "photo "+in.ID, in.Body), in.ID, in.Body.Version, in.Body.PhotoFacts)
	})
	handle(s, "DELETE", "/api/photos/{id}", "delete-photo", "Take a picture away, with a way back", write(app.Studies), 200, func(ctx context.Context, in *versioned) (store.Photo, error) {
		return s.App.DeletePhoto(ctx, in.command(ctx, "delete photo "+in.ID, in.Version), in.ID, in.Version)
	})
	handle(s, "POST", "/api/photos/{id}/restore", "restore-photo", "Bring a picture back", write(app.Studies), 200, func(ctx context.Context, in *versioned) (store.Photo, error) {
		return s.App.RestorePhoto(ctx, in.command(ctx, "restore photo "+in.ID, in.Version), in.ID, in.Version)
	})
}
