package server

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"waryowl/internal/app/act"
	"waryowl/internal/clean"
)

type actorKey struct{}

// guard is the one place where rights are checked: every route names its right, and one that names none is refused.
// Only [act.Public] asks for no session.
func (s *server) guard(ctx huma.Context, next func(huma.Context)) {
	right := s.rights[ctx.Operation().OperationID]
	if right == act.Public {
		next(ctx)
		return
	}
	if who, inside := ctx.Context().Value(insider{}).(act.Actor); inside {
		next(huma.WithValue(ctx, actorKey{}, who))
		return
	}
	if inAddress(ctx.URL()) {
		s.refuse(ctx, http.StatusUnauthorized,
			"A token stands in the address, where it is written into logs: revoke it, and send "+
				"another in the header Authorization, as Bearer.")
		return
	}
	if shown := ctx.Header("Authorization"); shown != "" {
		s.byToken(ctx, right, shown, next)
		return
	}
	id := s.sessions.GetString(ctx.Context(), "account")
	var who act.Actor
	err := error(act.ErrNotFound)
	if id != "" {
		who, err = act.Who(ctx.Context(), s.App, id, s.sessions.GetString(ctx.Context(), "sign-in"))
	}
	switch {
	case id != "" && err != nil && err != act.ErrNotFound:
		s.refuse(ctx, http.StatusServiceUnavailable, noDatabase)
	case err != nil:
		s.refuse(ctx, http.StatusUnauthorized, "Sign in first.")
	case !who.May(right):
		s.refuse(ctx, http.StatusForbidden,
			"As "+string(who.Role)+" you may read this, but not "+string(right.Verb)+" "+string(right.Resource)+".")
	default:
		next(huma.WithValue(ctx, actorKey{}, who))
	}
}

func (s *server) refuse(ctx huma.Context, status int, detail string) {
	huma.WriteErr(s.api, ctx, status, detail)
}

// actor is who is signed in.
func actor(ctx context.Context) act.Actor {
	who, _ := ctx.Value(actorKey{}).(act.Actor)
	return who
}

// Change is what every mutation carries besides its body.
type Change struct {
	Key      string    `json:"-" header:"Idempotency-Key" format:"uuid" required:"true" doc:"UUIDv7; a repeat with the same key and body gets the same answer"`
	Happened time.Time `json:"-" header:"Happened-At" timeFormat:"2006-01-02T15:04:05Z07:00" doc:"when it happened at the bench; now by default"`
}

func (c Change) change() Change { return c }

// ByID is the address of one row.
type ByID struct {
	ID string `path:"id" format:"uuid"`
}

type (
	body[T any]   struct{ Body T }
	newRow[F any] struct { // a change of the row in the address, or a new row under it
		Change
		ByID
		Body F
	}
	firstRow[F any] struct { // a new row under no other
		Change
		Body F
	}
	versioned struct { // a delete or restore
		Change
		ByID
		Version int `query:"version" required:"true" minimum:"1" doc:"version that the page shows"`
	}
)

// operation registers a typed handler with the right it asks for.
func operation[I, O any](s *server, op huma.Operation, right act.Right, h func(context.Context, *I) (*O, error)) {
	s.rights[op.OperationID] = right
	s.keepSize(&op)
	huma.Register(s.api, op, func(ctx context.Context, in *I) (*O, error) {
		if err := clean.Check(in); err != nil {
			return nil, s.problem(ctx, err)
		}
		out, err := h(ctx, in)
		if err != nil {
			return nil, s.problem(ctx, err)
		}
		return out, nil
	})
}

// answer registers a handler whose answer is JSON.
func answer[I, O any](s *server, method, path, id, summary string, right act.Right, status int,
	h func(context.Context, *I) (O, error)) {
	operation(s, huma.Operation{OperationID: id, Method: method, Path: path, Summary: summary, DefaultStatus: status},
		right,
		func(ctx context.Context, in *I) (*body[O], error) {
			out, err := h(ctx, in)
			return &body[O]{out}, err
		})
}

// small registers a handler like answer, for bodies of a few hundred bytes: it is open to everybody.
func small[I, O any](s *server, method, path, id, summary string, right act.Right, status int,
	h func(context.Context, *I) (O, error)) {
	operation(s, huma.Operation{OperationID: id, Method: method, Path: path, Summary: summary, DefaultStatus: status,
		MaxBodyBytes: 4 << 10}, right, func(ctx context.Context, in *I) (*body[O], error) {
		out, err := h(ctx, in)
		return &body[O]{out}, err
	})
}

// get registers a read.
func get[I, O any](s *server, path, id, summary string, of act.Resource, h func(context.Context, *I) (O, error)) {
	answer(s, "GET", path, id, summary, act.Right{Resource: of, Verb: act.Read}, http.StatusOK, h)
}

// write registers a change: POST makes a row (201), PUT changes one (200). I embeds [Change].
func write[I, O any](s *server, method, path, id, summary string, of act.Resource,
	h func(context.Context, act.Command, *I) (O, error)) {
	status := http.StatusOK
	if method == http.MethodPost {
		status = http.StatusCreated
	}
	writeAs(s, method, path, id, summary, of, status, h)
}

func writeAs[I, O any](s *server, method, path, id, summary string, of act.Resource, status int,
	h func(context.Context, act.Command, *I) (O, error)) {
	answer(s, method, path, id, summary, act.Right{Resource: of, Verb: act.Write}, status,
		func(ctx context.Context, in *I) (O, error) {
			return h(ctx, command(ctx, id, in), in)
		})
}

// remove registers the delete of a row and its way back.
func remove[O, R any](s *server, path, name, what string, of act.Resource,
	del func(context.Context, *act.Service, act.Command, string, int) (O, error),
	restore func(context.Context, *act.Service, act.Command, string, int) (R, error)) {
	writeAs(s, "DELETE", path+"/{id}", "delete-"+name, "Delete "+what+", with a way back", of, http.StatusOK,
		func(ctx context.Context, c act.Command, in *versioned) (O, error) {
			return del(ctx, s.App, c, in.ID, in.Version)
		})
	writeAs(s, "POST", path+"/{id}/restore", "restore-"+name, "Bring "+what+" back", of, http.StatusOK,
		func(ctx context.Context, c act.Command, in *versioned) (R, error) {
			return restore(ctx, s.App, c, in.ID, in.Version)
		})
}

// command ties a change to who sends it, to its operation and to the hash of its canonical address and body.
func command(ctx context.Context, operation string, in any) act.Command {
	c := in.(interface{ change() Change }).change()
	text, _ := json.Marshal(in)
	sum := sha256.Sum256(append([]byte(operation+"\n"), text...))
	return act.Command{Actor: actor(ctx), Key: c.Key, Hash: hex.EncodeToString(sum[:]), Happened: c.Happened}
}
