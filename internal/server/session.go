package server

import (
	"context"
	"net/http"

	"waryowl/internal/app/account"
	"waryowl/internal/app/act"
)

// Credentials are what somebody signs in with.
type Credentials struct {
	Name     string `json:"name" minLength:"1" maxLength:"64"`
	Password string `json:"password" minLength:"1" maxLength:"200"`
}

// Me says who is signed in; Demo lists the demo sign-ins of a demo server for somebody who is not.
type Me struct {
	Who    *act.Actor `json:"who,omitempty"`
	Rights []string   `json:"rights" nullable:"false" doc:"resources that may be written"`
	Demo   []SignIn   `json:"demo" nullable:"false"`
}

func (s *server) me(who *act.Actor) Me {
	m := Me{Who: who, Rights: []string{}, Demo: append([]SignIn{}, s.Demo...)}
	if who != nil {
		m.Rights = act.Writable(who.Role)
	}
	return m
}

func (s *server) sessionRoutes() {
	answer(s, "GET", "/api/session", "get-session", "Who is signed in", act.Public, http.StatusOK,
		func(ctx context.Context, _ *struct{}) (Me, error) {
			id := s.sessions.GetString(ctx, "account")
			if id == "" {
				return s.me(nil), nil
			}
			who, err := act.Who(ctx, s.App, id)
			if err == act.ErrNotFound {
				return s.me(nil), nil
			}
			return s.me(&who), err
		})
	answer(s, "POST", "/api/session", "sign-in", "Sign in", act.Public, http.StatusOK,
		func(ctx context.Context, in *struct {
			Body Credentials
		}) (Me, error) {
			if !s.attempts.allow(in.Body.Name) {
				return Me{}, &Problem{Title: "Too many attempts", Status: http.StatusTooManyRequests,
					Detail: "Too many attempts for this name. Wait a minute."}
			}
			who, err := account.SignIn(ctx, s.App, in.Body.Name, in.Body.Password)
			if err != nil {
				return Me{}, err
			}
			if err := s.sessions.RenewToken(ctx); err != nil {
				return Me{}, err
			}
			s.sessions.Put(ctx, "account", who.ID)
			return s.me(&who), nil
		})
	answer(s, "DELETE", "/api/session", "sign-out", "Sign out", act.Right{Resource: act.Session, Verb: act.Write},
		http.StatusOK, func(ctx context.Context, _ *struct{}) (Me, error) {
			return s.me(nil), s.sessions.Destroy(ctx)
		})
}
