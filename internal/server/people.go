package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"waryowl/internal/app/account"
	"waryowl/internal/app/act"
	"waryowl/internal/app/trail"
	"waryowl/internal/exchange"
	"waryowl/internal/store"
)

type (
	// NewPerson is an account without a password: whoever gets the one-time link of the token sets one.
	NewPerson struct {
		ID    string `json:"id" format:"uuid"`
		Name  string `json:"name" minLength:"1" maxLength:"64" doc:"to sign in with"`
		Token string `json:"token" minLength:"32" maxLength:"64" pattern:"^[0-9a-f]+$" doc:"made up by the browser; only its sum is kept"`
		account.PersonFacts
	}
	// PersonChange sets what an administrator sets.
	PersonChange struct {
		Version int `json:"version" minimum:"1"`
		account.PersonFacts
	}
	// NewLink opens a one-time link.
	NewLink struct {
		Token string `json:"token" minLength:"32" maxLength:"64" pattern:"^[0-9a-f]+$"`
	}
	// LinkUse sets a password by a one-time link; name and display only for the first administrator.
	LinkUse struct {
		Name     string `json:"name,omitempty" maxLength:"64"`
		Display  string `json:"display,omitempty" maxLength:"120"`
		Password string `json:"password" minLength:"1" maxLength:"200"`
	}
	// NewPassword changes one's own.
	NewPassword struct {
		Old      string `json:"old" minLength:"1" maxLength:"200"`
		Password string `json:"password" minLength:"1" maxLength:"200"`
	}
	// SeenLine says up to which line of the trail somebody has seen what others changed.
	SeenLine struct {
		Line uint64 `json:"line" minimum:"1"`
	}
	ByToken struct {
		Token string `path:"token" minLength:"32" maxLength:"64" pattern:"^[0-9a-f]+$"`
	}
	// linkTry is a link with where it is used from.
	linkTry struct {
		ByToken
		Body LinkUse
		Attempt
	}
	askTrail struct {
		Row     string `query:"row" maxLength:"36"`
		Study   string `query:"study" maxLength:"36"`
		Account string `query:"account" maxLength:"36"`
		Entity  string `query:"entity" maxLength:"40"`
		Before  uint64 `query:"before"`
	}
)

func (q *askTrail) ask() trail.Ask {
	return trail.Ask{Row: q.Row, Study: q.Study, Account: q.Account, Entity: q.Entity, Before: q.Before}
}

// done says that something was carried out that has no answer of its own.
type done struct {
	Done bool `json:"done"`
}

func (s *server) peopleRoutes() {
	signIn := func(ctx context.Context) string { return s.sessions.GetString(ctx, "sign-in") }
	own := act.Right{Resource: act.Session, Verb: act.Write}
	get(s, "/api/accounts", "list-accounts", "Who has an account", act.People,
		func(ctx context.Context, _ *struct{}) ([]account.Person, error) { return account.People(ctx, s.App) })
	write(s, "POST", "/api/accounts", "add-account", "Make an account with a one-time link", act.People,
		func(ctx context.Context, c act.Command, in *firstRow[NewPerson]) (account.Person, error) {
			return account.Invite(ctx, s.App, c, in.Body.ID, in.Body.Name, in.Body.PersonFacts, in.Body.Token)
		})
	write(s, "PUT", "/api/accounts/{id}", "change-account", "Change role or name, or disable", act.People,
		func(ctx context.Context, c act.Command, in *newRow[PersonChange]) (account.Person, error) {
			return account.Change(ctx, s.App, c, in.ID, in.Body.Version, in.Body.PersonFacts)
		})
	write(s, "POST", "/api/accounts/{id}/link", "open-link", "Open a one-time link for a new password", act.People,
		func(ctx context.Context, c act.Command, in *newRow[NewLink]) (account.Person, error) {
			return account.Link(ctx, s.App, c, in.ID, in.Body.Token)
		})
	get(s, "/api/accounts/{id}/sign-ins", "list-sign-ins", "Somebody's open sign-ins", act.People,
		func(ctx context.Context, in *ByID) ([]account.SignedIn, error) {
			return account.SignIns(ctx, s.App, in.ID, signIn(ctx))
		})
	answer(s, "DELETE", "/api/accounts/{id}/sign-ins/{of}", "end-sign-in", "End somebody's sign-in",
		act.Right{Resource: act.People, Verb: act.Write}, http.StatusOK, func(ctx context.Context, in *struct {
			ByID
			Of string `path:"of" format:"uuid"`
		}) (done, error) {
			return done{true}, account.End(ctx, s.App, in.ID, in.Of)
		})
	get(s, "/api/session/sign-ins", "list-own-sign-ins", "One's own open sign-ins", act.Session,
		func(ctx context.Context, _ *struct{}) ([]account.SignedIn, error) {
			return account.SignIns(ctx, s.App, actor(ctx).ID, signIn(ctx))
		})
	answer(
		s,
		"DELETE",
		"/api/session/sign-ins/{id}",
		"end-own-sign-in",
		"End one of one's own sign-ins",
		own,
		http.StatusOK,
		func(ctx context.Context, in *ByID) (done, error) {
			return done{true}, account.End(ctx, s.App, actor(ctx).ID, in.ID)
		},
	)
	answer(s, "GET", "/api/session/told", "get-told", "What others changed in one's own work",
		act.Right{Resource: act.Session, Verb: act.Read}, http.StatusOK,
		func(ctx context.Context, _ *struct{}) (trail.Told, error) {
			return trail.ToldOf(ctx, s.App, actor(ctx).ID)
		})
	small(s, "PUT", "/api/session/told", "see-told", "What others changed was seen, up to a line", own, http.StatusOK,
		func(ctx context.Context, in *body[SeenLine]) (done, error) {
			return done{true}, store.Saw(ctx, s.App.DB, actor(ctx).ID, in.Body.Line)
		})
	small(s, "PUT", "/api/session/password", "change-password", "Change one's own password", own, http.StatusOK,
		func(ctx context.Context, in *body[NewPassword]) (done, error) {
			who := actor(ctx)
			if !s.attempts.allow(ctx, who.Name, who.ID, "") { // whoever found an open page may not guess here either
				return done{}, tooMany
			}
			return done{true}, account.Password(ctx, s.App, who, signIn(ctx), in.Body.Old, in.Body.Password)
		})
	small(s, "GET", "/api/links/{token}", "get-link", "What a one-time link opens", act.Public, http.StatusOK,
		func(ctx context.Context, in *ByToken) (account.Opened, error) {
			return account.Open(ctx, s.App, in.Token)
		})
	small(s, "POST", "/api/links/{token}", "use-link", "Set the password of a one-time link", act.Public, http.StatusOK,
		func(ctx context.Context, in *linkTry) (Me, error) {
			if !s.attempts.allow(ctx, "link "+in.Token, in.address(s.attempts), "") {
				return Me{}, tooMany
			}
			who, err := account.Use(ctx, s.App, in.Token, in.Body.Name, in.Body.Display, in.Body.Password)
			if err != nil {
				return Me{}, err
			}
			return s.me(&who), s.begin(ctx, who, in.from.Header("User-Agent"))
		})
	get(s, "/api/trail", "get-trail", "Who did what", act.Trail,
		func(ctx context.Context, in *askTrail) (trail.Room, error) { return trail.Show(ctx, s.App, in.ask()) })
	sends(s, "/api/trail/table", "get-trail-table", "Who did what, as CSV", act.Trail,
		func(ctx context.Context, in *askTrail) (*file, error) {
			rows, err := trail.Table(ctx, s.App, in.ask())
			if err != nil {
				return nil, err
			}
			t := exchange.Table{Name: "trail", Rows: rows[1:]}
			for _, head := range rows[0] {
				t.Columns = append(t.Columns, exchange.Column{Name: head, Type: "text"})
			}
			text, err := t.CSV()
			return sent("text/csv; charset=utf-8", "trail.csv", false, text), err
		})
}

var tooMany = &Problem{Title: "Too many attempts", Status: http.StatusTooManyRequests,
	Detail: "Too many attempts for this name or from this address. Wait a minute."}

var _ huma.StatusError = tooMany
