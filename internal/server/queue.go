package server

import (
	"context"
	"net/http"
	"runtime"
	"time"

	"github.com/danielgtaylor/huma/v2"
)

// heavyOnes are the operations that may work for seconds: rooms over everything on record, plans that are searched, and
// files that are put together. They wait for each other, so that they never starve the rest.
var heavyOnes = map[string]bool{"get-levels": true, "get-basket": true, "get-incoming": true, "get-donor": true,
	"get-fit": true, "get-day": true, "get-day-lab": true, "get-day-calendar": true, "tell-day-job": true,
	"get-harvest": true, "get-gate": true, "get-sheet": true, "get-labels": true, "get-trail-table": true,
	"get-model-document": true, "get-study-document": true, "get-score-against": true, "get-generations": true,
	"get-compare": true, "get-desk": true, "import-document": true, "put-table": true, "put-desk-table": true,
	"look-at-table": true, "look-at-desk-table": true, "import-plan": true}

// queueWait is how long a heavy request waits for its turn before it is asked to come again.
const queueWait = 8 * time.Second

// queue lets few work at once, and few wait.
type queue struct{ working, waiting chan struct{} }

func newQueue() *queue {
	return &queue{make(chan struct{}, max(2, runtime.NumCPU()/2)), make(chan struct{}, 64)}
}

// enter waits for a turn; leave gives it back. ok is false when it did not come in time.
func (q *queue) enter(ctx context.Context) (leave func(), ok bool) {
	select {
	case q.waiting <- struct{}{}:
		defer func() { <-q.waiting }()
	default:
		return nil, false
	}
	end := time.NewTimer(queueWait)
	defer end.Stop()
	select {
	case q.working <- struct{}{}:
		return func() { <-q.working }, true
	case <-end.C:
	case <-ctx.Done():
	}
	return nil, false
}

// inTurn is the middleware that lets heavy operations wait for each other.
func (s *server) inTurn(ctx huma.Context, next func(huma.Context)) {
	if !heavyOnes[ctx.Operation().OperationID] {
		next(ctx)
		return
	}
	leave, ok := s.heavy.enter(ctx.Context())
	if !ok {
		ctx.SetHeader("Retry-After", "2")
		s.refuse(ctx, http.StatusServiceUnavailable, "Many long questions are being worked out; nothing was changed. "+
			"It is asked again by itself in a moment.")
		return
	}
	defer leave()
	next(ctx)
}
