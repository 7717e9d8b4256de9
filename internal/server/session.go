package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"waryowl/internal/app/account"
	"waryowl/internal/app/act"
	"waryowl/internal/app/parts"
	"waryowl/internal/store"
)

// Credentials are what somebody signs in with.
type Credentials struct {
	Name     string `json:"name" minLength:"1" maxLength:"64"`
	Password string `json:"password" minLength:"1" maxLength:"200"`
}

// Attempt is where somebody's try to sign in comes from.
type Attempt struct {
	Device string `cookie:"waryowl-device"`

	from huma.Context
}

// signTry is a try to sign in by name and password.
type signTry struct {
	Attempt
	Body Credentials
}

// Resolve keeps the request that the try came with.
func (a *Attempt) Resolve(ctx huma.Context) []error {
	a.from = ctx
	return nil
}

func (a *Attempt) address(limits *attempts) string {
	r := &http.Request{RemoteAddr: a.from.RemoteAddr(), Header: http.Header{}}
	a.from.EachHeader(func(name, value string) {
		if name == "X-Forwarded-For" {
			r.Header.Add(name, value)
		}
	})
	return limits.address(r)
}

func (a *Attempt) keep(c *http.Cookie) { a.from.AppendHeader("Set-Cookie", c.String()) }

// Me says who is signed in; Demo lists the demo sign-ins of a demo server for somebody who is not.
type Me struct {
	Who    *act.Actor `json:"who,omitempty"`
	Rights []string   `json:"rights" nullable:"false" doc:"resources that may be written"`
	Demo   []SignIn   `json:"demo" nullable:"false"`
	Locale string     `json:"locale,omitempty" doc:"of numbers and dates, as the office set it"`
	Told   int64      `json:"told,omitempty" doc:"changes that others made in one's own work and that are new"`
	Fresh  bool       `json:"fresh,omitempty" doc:"nobody has an account yet: begin with the link that the program printed"`
}

func (s *server) me(who *act.Actor) Me {
	m := Me{Who: who, Rights: []string{}, Demo: append([]SignIn{}, s.Demo...)}
	if who != nil {
		m.Rights = act.Writable(*who)
	}
	return m
}

// stranger is what somebody sees who is not signed in: also whether anybody could be.
func (s *server) stranger(ctx context.Context) Me {
	m := s.me(nil)
	if s.peopled.Load() {
		return m
	}
	n := int64(0)
	if s.App.DB.WithContext(ctx).Model(&store.Account{}).Limit(1).Count(&n).Error == nil {
		m.Fresh = n == 0
		s.peopled.Store(n > 0)
	}
	return m
}

// begin signs somebody in.
func (s *server) begin(ctx context.Context, who act.Actor, agent string) error {
	if err := s.sessions.RenewToken(ctx); err != nil {
		return err
	}
	id, err := account.Begin(ctx, s.App, who.ID, agent)
	if err != nil {
		return err
	}
	s.sessions.Put(ctx, "account", who.ID)
	s.sessions.Put(ctx, "sign-in", id)
	return nil
}

func (s *server) sessionRoutes() {
	answer(s, "GET", "/api/session", "get-session", "Who is signed in", act.Public, http.StatusOK,
		func(ctx context.Context, _ *struct{}) (Me, error) {
			id := s.sessions.GetString(ctx, "account")
			if id == "" {
				return s.stranger(ctx), nil
			}
			signIn := s.sessions.GetString(ctx, "sign-in")
			who, err := act.Who(ctx, s.App, id, signIn)
			if err == act.ErrNotFound {
				return s.me(nil), nil
			} else if err != nil {
				return Me{}, err
			}
			_ = account.Seen(ctx, s.App, signIn) // where nothing can be written, reading goes on
			m := s.me(&who)
			if m.Locale, err = parts.Locale(ctx, s.App); err != nil {
				return m, err
			}
			_, m.Told, err = store.Told(ctx, s.App.DB, who.ID, 0)
			return m, err
		})
	small(s, "POST", "/api/session", "sign-in", "Sign in", act.Public, http.StatusOK,
		func(ctx context.Context, in *signTry) (Me, error) {
			if !s.attempts.allow(ctx, in.Body.Name, in.address(s.attempts), in.Device) {
				return Me{}, tooMany
			}
			who, err := account.SignIn(ctx, s.App, in.Body.Name, in.Body.Password)
			if err != nil {
				return Me{}, err
			}
			if err := s.begin(ctx, who, in.from.Header("User-Agent")); err != nil {
				return Me{}, err
			}
			in.keep(&http.Cookie{Name: deviceCookie, Value: s.attempts.device(in.Body.Name), Path: "/api/session",
				MaxAge: 180 * 24 * 3600, HttpOnly: true, SameSite: http.SameSiteStrictMode, Secure: s.Secure})
			return s.me(&who), nil
		})
	answer(s, "DELETE", "/api/session", "sign-out", "Sign out", act.Right{Resource: act.Session, Verb: act.Write},
		http.StatusOK, func(ctx context.Context, _ *struct{}) (Me, error) {
			if err := account.End(ctx, s.App, actor(ctx).ID, s.sessions.GetString(ctx, "sign-in")); err != nil {
				return Me{}, err
			}
			return s.me(nil), s.sessions.Destroy(ctx)
		})
}
