package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"waryowl/internal/app/account"
	"waryowl/internal/app/act"
	"waryowl/internal/app/parts"
)

// Credentials are what somebody signs in with.
type Credentials struct {
	Name     string `json:"name" minLength:"1" maxLength:"64"`
	Password string `json:"password" minLength:"1" maxLength:"200"`
}

// attempt is somebody's try to sign in, with where it comes from.
type attempt struct {
	Device string `cookie:"waryowl-device"`
	Body   Credentials

	from huma.Context
}

// Resolve keeps the request that the try came with.
func (a *attempt) Resolve(ctx huma.Context) []error {
	a.from = ctx
	return nil
}

func (a *attempt) address(limits *attempts) string {
	r := &http.Request{RemoteAddr: a.from.RemoteAddr(), Header: http.Header{}}
	a.from.EachHeader(func(name, value string) {
		if name == "X-Forwarded-For" {
			r.Header.Add(name, value)
		}
	})
	return limits.address(r)
}

func (a *attempt) keep(c *http.Cookie) { a.from.AppendHeader("Set-Cookie", c.String()) }

// Me says who is signed in; Demo lists the demo sign-ins of a demo server for somebody who is not.
type Me struct {
	Who    *act.Actor `json:"who,omitempty"`
	Rights []string   `json:"rights" nullable:"false" doc:"resources that may be written"`
	Demo   []SignIn   `json:"demo" nullable:"false"`
	Locale string     `json:"locale,omitempty" doc:"of numbers and dates, as the office set it"`
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
			} else if err != nil {
				return Me{}, err
			}
			m := s.me(&who)
			m.Locale, err = parts.Locale(ctx, s.App)
			return m, err
		})
	small(s, "POST", "/api/session", "sign-in", "Sign in", act.Public, http.StatusOK,
		func(ctx context.Context, in *attempt) (Me, error) {
			if !s.attempts.allow(in.Body.Name, in.address(s.attempts), in.Device) {
				return Me{}, &Problem{Title: "Too many attempts", Status: http.StatusTooManyRequests,
					Detail: "Too many attempts for this name or from this address. Wait a minute."}
			}
			who, err := account.SignIn(ctx, s.App, in.Body.Name, in.Body.Password)
			if err != nil {
				return Me{}, err
			}
			if err := s.sessions.RenewToken(ctx); err != nil {
				return Me{}, err
			}
			s.sessions.Put(ctx, "account", who.ID)
			in.keep(&http.Cookie{Name: deviceCookie, Value: s.attempts.device(in.Body.Name), Path: "/api/session",
				MaxAge: 180 * 24 * 3600, HttpOnly: true, SameSite: http.SameSiteStrictMode, Secure: s.Secure})
			return s.me(&who), nil
		})
	answer(s, "DELETE", "/api/session", "sign-out", "Sign out", act.Right{Resource: act.Session, Verb: act.Write},
		http.StatusOK, func(ctx context.Context, _ *struct{}) (Me, error) {
			return s.me(nil), s.sessions.Destroy(ctx)
		})
}
