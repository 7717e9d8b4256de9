package server

import (
	"context"
	"errors"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"sync"

	"github.com/danielgtaylor/huma/v2"
	"golang.org/x/time/rate"

	"waryowl/internal/app/account"
	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

const (
	tokenPrefix = "wo_"
	noToken     = "This token is malformed, unknown, expired or revoked. Send one in the header Authorization, as Bearer."

	// What one token may ask for (house): so many a second, so many at once.
	tokenRate  = 20
	tokenBurst = 200
)

// programs limits those that use tokens: each by itself, and all together by a queue of their own.
type programs struct {
	mu     sync.Mutex
	limits map[string]*rate.Limiter
	queue  *queue
}

func newPrograms() *programs {
	return &programs{limits: map[string]*rate.Limiter{}, queue: &queue{make(chan struct{}, 8), make(chan struct{}, 256)}}
}

// mostLimits is how many tokens are counted at once; beyond it all begin anew.
const mostLimits = 10_000

func (p *programs) allow(token string) bool {
	p.mu.Lock()
	defer p.mu.Unlock()
	l := p.limits[token]
	if l == nil {
		if len(p.limits) >= mostLimits {
			clear(p.limits)
		}
		l = rate.NewLimiter(tokenRate, tokenBurst)
		p.limits[token] = l
	}
	return l.Allow()
}

// inAddress says that a token stands where everybody on the way reads and keeps it.
func inAddress(u url.URL) bool {
	for _, values := range u.Query() {
		if slices.ContainsFunc(values, func(v string) bool { return strings.HasPrefix(v, tokenPrefix) && len(v) > 20 }) {
			return true
		}
	}
	return false
}

// covers says whether a token may do what its person may.
func covers(t store.Token, right act.Right) bool {
	switch {
	case right.Verb != act.Read && (t.ReadsOnly || right.Resource == act.Session || right.Resource == act.People):
		return false // signing in, passwords, accounts and tokens are of people alone
	case len(t.Rooms) > 0:
		return slices.Contains(t.Rooms, string(right.Resource))
	}
	return true
}

// bearer is what a program shows; what is no Bearer is looked for all the same, so that it takes as long.
func (s *server) bearer(ctx context.Context, shown, from string) (store.Token, act.Actor, error) {
	return account.ByToken(ctx, s.App, strings.TrimSpace(strings.TrimPrefix(shown, "Bearer ")), from)
}

// byToken lets another program in, as the person whose token it shows, with no more rights than the token has.
func (s *server) byToken(ctx huma.Context, right act.Right, shown string, next func(huma.Context)) {
	try := Attempt{from: ctx}
	t, who, err := s.bearer(ctx.Context(), shown, try.address(s.attempts))
	switch {
	case errors.Is(err, act.ErrNotFound):
		s.refuse(ctx, http.StatusUnauthorized, noToken)
		return
	case err != nil:
		s.refuse(ctx, http.StatusServiceUnavailable, noDatabase)
		return
	case !s.programs.allow(t.ID):
		ctx.SetHeader("Retry-After", "1")
		s.refuse(ctx, http.StatusTooManyRequests, "This token asks too often: 20 a second, 200 at once. Wait a second.")
		return
	case !act.Allowed(who.Role, right) || !covers(t, right):
		s.refuse(ctx, http.StatusForbidden,
			"The token “"+t.Name+"” of a "+string(who.Role)+" may not "+string(right.Verb)+" "+
				string(right.Resource)+".")
		return
	}
	leave, ok := s.programs.queue.enter(ctx.Context())
	if !ok {
		ctx.SetHeader("Retry-After", "2")
		s.refuse(ctx, http.StatusServiceUnavailable, "Many programs ask at this moment; nothing was changed. Send it again.")
		return
	}
	defer leave()
	next(huma.WithValue(ctx, actorKey{}, who))
}

// NewToken is a token that somebody makes.
type NewToken struct {
	ID string `json:"id" format:"uuid"`
	account.NewTokenFacts
}

func (s *server) tokenRoutes() {
	get(s, "/api/session/tokens", "list-own-tokens", "One's own tokens for other programs", act.Session,
		func(ctx context.Context, _ *struct{}) ([]store.Token, error) {
			return account.Tokens(ctx, s.App, actor(ctx).ID)
		})
	write(s, "POST", "/api/session/tokens", "add-own-token", "Make a token for another program", act.Session,
		func(ctx context.Context, c act.Command, in *firstRow[NewToken]) (store.Token, error) {
			return account.AddToken(ctx, s.App, c, in.Body.ID, actor(ctx).ID, in.Body.NewTokenFacts)
		})
	type ended struct {
		Change
		ByID
	}
	writeAs(s, "DELETE", "/api/session/tokens/{id}", "end-own-token", "Revoke one of one's own tokens", act.Session,
		http.StatusOK,
		func(ctx context.Context, c act.Command, in *ended) (store.Token, error) {
			return account.RevokeToken(ctx, s.App, c, actor(ctx).ID, in.ID)
		})
	get(s, "/api/accounts/{id}/tokens", "list-tokens", "Somebody's tokens", act.People,
		func(ctx context.Context, in *ByID) ([]store.Token, error) { return account.Tokens(ctx, s.App, in.ID) })
	write(s, "POST", "/api/accounts/{id}/tokens", "add-token", "Make a token of somebody for another program", act.People,
		func(ctx context.Context, c act.Command, in *newRow[NewToken]) (store.Token, error) {
			return account.AddToken(ctx, s.App, c, in.Body.ID, in.ByID.ID, in.Body.NewTokenFacts)
		})
	writeAs(s, "DELETE", "/api/accounts/{id}/tokens/{of}", "end-token", "Revoke somebody's token", act.People,
		http.StatusOK,
		func(ctx context.Context, c act.Command, in *struct {
			Change
			ByID
			Of string `path:"of" format:"uuid"`
		}) (store.Token, error) {
			return account.RevokeToken(ctx, s.App, c, in.ID, in.Of)
		})
}
