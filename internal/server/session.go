package server

import (
	"context"
	"net/http"

	"waryowl/internal/app"
)

// Me says who is signed in; Demo lists the demo sign-ins of a demo server for somebody who is not.
type Me struct {
	Who    *app.Actor `json:"who,omitempty"`
	Rights []string   `json:"rights" nullable:"false" doc:"resources that may be written"`
	Demo   []SignIn   `json:"demo" nullable:"false"`
}

func (s *server) me(who *app.Actor) Me {
	m := Me{Who: who, Rights: []string{}, Demo: append([]SignIn{}, s.Demo...)}
	if who != nil {
		for _, r := range []app.Resource{app.Models, app.Studies, app.Outcomes} {
			if app.Allowed(who.Role, write(r)) {
				m.Rights = append(m.Rights, string(r))
			}
		}
	}
	return m
}

func (s *server) sessionRoutes() {
	public := app.Right{}
	handle(s, "GET", "/api/session", "get-session", "Who is signed in", public, 200, func(ctx context.Context, _ *struct{}) (Me, error) {
		id := s.sessions.GetString(ctx, "account")
		if id == "" {
			return s.me(nil), nil
		}
		who, err := s.App.Who(ctx, id)
		if err == app.ErrNotFound {
			return s.me(nil), nil
		}
		return s.me(&who), err
	})
	handle(s, "POST", "/api/session", "sign-in", "Sign in", public, 200, func(ctx context.Context, in *struct {
		Body Credentials
	}) (Me, error) {
		if !s.attempts.allow(in.Body.Name) {
			return Me{}, &Problem{Title: "Too many attempts", Status: http.StatusTooManyRequests, Detail: "Too many attempts for this name. Wait a minute."}
		}
		who, err := s.App.SignIn(ctx, in.Body.Name, in.Body.Password)
		if err != nil {
			return Me{}, err
		}
		if err := s.sessions.RenewToken(ctx); err != nil {
			return Me{}, err
		}
		s.sessions.Put(ctx, "account", who.ID)
		return s.me(&who), nil
	})
	handle(s, "DELETE", "/api/session", "sign-out", "Sign out", write(app.Session), 200, func(ctx context.Context, _ *struct{}) (Me, error) {
		return s.me(nil), s.sessions.Destroy(ctx)
	})
}
