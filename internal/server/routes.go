package server

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"net/http"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"golang.org/x/time/rate"

	"waryowl/internal/app"
)

type actorKey struct{}

// guard is the one place where rights are checked: a route without a right is public, every other asks for a session and
// for a role that has the right.
func (s *server) guard(ctx huma.Context, next func(huma.Context)) {
	right, needs := s.rights[ctx.Operation().OperationID]
	if !needs {
		next(ctx)
		return
	}
	id := s.sessions.GetString(ctx.Context(), "account")
	var who app.Actor
	err := error(app.ErrNotFound)
	if id != "" {
		who, err = s.App.Who(ctx.Context(), id)
	}
	switch {
	case id != "" && err != nil && err != app.ErrNotFound:
		s.refuse(ctx, http.StatusServiceUnavailable, "The database does not answer; nothing was changed. Try again in a moment.")
	case err != nil:
		s.refuse(ctx, http.StatusUnauthorized, "Sign in first.")
	case !app.Allowed(who.Role, right):
		s.refuse(ctx, http.StatusForbidden, "As "+string(who.Role)+" you may read this, but not "+string(right.Verb)+" "+string(right.Resource)+".")
	default:
		next(huma.WithValue(ctx, actorKey{}, who))
	}
}

func (s *server) refuse(ctx huma.Context, status int, detail string) {
	huma.WriteErr(s.api, ctx, status, detail)
}

// Change is what every mutation carries besides its body.
type Change struct {
	Key      string    `header:"Idempotency-Key" format:"uuid" required:"true" doc:"UUIDv7; a repeat with the same key and body gets the same answer"`
	Happened time.Time `header:"Happened-At" timeFormat:"2006-01-02T15:04:05Z07:00" doc:"when it happened at the bench; now by default"`
}

// command ties the change to who sends it, to its address and to the hash of its canonical body.
func (c Change) command(ctx context.Context, address string, body any) app.Command {
	text, _ := json.Marshal(body)
	sum := sha256.Sum256(append([]byte(address+"\n"), text...))
	return app.Command{Actor: actor(ctx), Key: c.Key, Hash: hex.EncodeToString(sum[:]), Happened: c.Happened}
}

// actor is who is signed in.
func actor(ctx context.Context) app.Actor {
	who, _ := ctx.Value(actorKey{}).(app.Actor)
	return who
}

type body[T any] struct{ Body T }

// ByID is the address of one row.
type ByID struct {
	ID string `path:"id" format:"uuid"`
}

// versioned is the body of a delete or restore.
type versioned struct {
	Change
	ByID
	Version int `query:"version" required:"true" minimum:"1" doc:"version that the page shows"`
}

// route registers a typed handler with the right it asks for; a right without resource makes it public.
func handle[I, O any](s *server, method, path, id, summary string, right app.Right, status int, h func(context.Context, *I) (O, error)) {
	if right != (app.Right{}) {
		s.rights[id] = right
	}
	huma.Register(s.api, huma.Operation{OperationID: id, Method: method, Path: path, Summary: summary, DefaultStatus: status, MaxBodyBytes: maxBody,
		Errors: []int{400, 401, 403, 404, 409, 413, 422, 503}},
		func(ctx context.Context, in *I) (*body[O], error) {
			out, err := h(ctx, in)
			if err != nil {
				return nil, s.problem(ctx, err)
			}
			return &body[O]{out}, nil
		})
}

func read(r app.Resource) app.Right  { return app.Right{Resource: r, Verb: app.Read} }
func write(r app.Resource) app.Right { return app.Right{Resource: r, Verb: app.Write} }

// attempts limits sign-ins per name: ten at once, then one every six seconds.
type attempts struct {
	mu sync.Mutex
	by map[string]*rate.Limiter
}

func newAttempts() *attempts { return &attempts{by: map[string]*rate.Limiter{}} }

func (a *attempts) allow(name string) bool {
	a.mu.Lock()
	defer a.mu.Unlock()
	if len(a.by) > 10_000 { // somebody tries many names; forgetting them costs an attacker nothing but us no memory
		clear(a.by)
	}
	l, ok := a.by[name]
	if !ok {
		l = rate.NewLimiter(rate.Every(6*time.Second), 10)
		a.by[name] = l
	}
	return l.Allow()
}
