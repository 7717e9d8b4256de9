package server

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
)

const (
	maxBody = 1 << 20 // bytes of a body, where its route says nothing else

	// A request is given up after patience, an upload after uploadPatience; at the latest a second later it is answered.
	patience       = 12 * time.Second
	uploadPatience = 100 * time.Second

	// bodyPatience is how long the body of a request that is no upload may take to arrive.
	bodyPatience = 5 * time.Second
)

// sized is a route as the place where the limit of its bodies stands.
type sized int64

func (sized) ServeHTTP(http.ResponseWriter, *http.Request) {}

// keepSize notes the limit of a route's bodies, and tells it in the OpenAPI document.
func (s *server) keepSize(op *huma.Operation) {
	if op.MaxBodyBytes == 0 {
		op.MaxBodyBytes = maxBody
	}
	if op.Method == http.MethodGet || op.Method == http.MethodDelete {
		return
	}
	op.Description = "The body may hold " + size(op.MaxBodyBytes) + "; a larger one is refused whole, with 413."
	op.Extensions = map[string]any{"x-max-body-bytes": op.MaxBodyBytes}
	if op.MaxBodyBytes > maxBody {
		s.sizes.Handle(op.Method+" "+op.Path, sized(op.MaxBodyBytes))
	}
}

// upload is the limit of a request that may carry a picture, a table or a whole document; 0 for every other.
func (s *server) upload(r *http.Request) int64 {
	h, _ := s.sizes.Handler(r)
	n, _ := h.(sized)
	return int64(n)
}

// within answers every request in time: what is asked of the database and the engines ends with its context, and what
// does not listen to it is answered for.
func (s *server) within(next http.Handler) http.Handler {
	limited := func(limit time.Duration) http.Handler {
		ending := http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			ctx, cancel := context.WithTimeout(r.Context(), limit)
			defer cancel()
			next.ServeHTTP(w, r.WithContext(ctx))
		})
		return http.TimeoutHandler(ending, limit+time.Second, `{"title":"Too slow","status":503,`+
			`"detail":"The answer took too long; nothing was changed, or it is on record. Try again in a moment."}`+"\n")
	}
	short, long := limited(patience), limited(uploadPatience)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Content-Type", "application/problem+json") // of an answer in time: its own
		if s.upload(r) > 0 {
			long.ServeHTTP(w, r)
			return
		}
		short.ServeHTTP(w, r)
	})
}

// inTime cuts bodies that do not come, and refuses what is larger than its route takes: never a part of it. All but
// uploads are read before anything else is done. It must stand outside of everything that wraps the connection; the
// server itself sets the limit of the next request.
func (s *server) inTime(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		connection := http.NewResponseController(w)
		limit := s.upload(r)
		large := max(limit, maxBody)
		if r.ContentLength > large {
			writeProblem(w, http.StatusRequestEntityTooLarge, tooLarge(large))
			return
		}
		if limit > 0 {
			connection.SetReadDeadline(time.Now().Add(uploadPatience - 5*time.Second))
		} else if r.Body != http.NoBody {
			connection.SetReadDeadline(time.Now().Add(bodyPatience))
			whole, err := io.ReadAll(http.MaxBytesReader(w, r.Body, maxBody))
			var over *http.MaxBytesError
			var late net.Error
			switch {
			case err == nil:
			case errors.As(err, &over):
				writeProblem(w, http.StatusRequestEntityTooLarge, tooLarge(maxBody))
				return
			case errors.As(err, &late) && late.Timeout():
				writeProblem(w, http.StatusRequestTimeout, slowBody)
				return
			default:
				writeProblem(w, http.StatusBadRequest, brokenBody)
				return
			}
			connection.SetReadDeadline(time.Time{}) // else its end would take the request for gone
			r.Body = io.NopCloser(bytes.NewReader(whole))
		}
		next.ServeHTTP(w, r)
	})
}

// size says a number of bytes.
func size(n int64) string {
	if n >= 1<<20 {
		return fmt.Sprintf("%d MB", n>>20)
	}
	return fmt.Sprintf("%d kB", n>>10)
}

func tooLarge(limit int64) string {
	return "This is too large: at most " + size(limit) + " may be sent here. Nothing was changed."
}

// headToo answers HEAD wherever GET is answered: the same headers, and no body, which the server itself leaves out.
func headToo(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method == http.MethodHead {
			r = r.Clone(r.Context())
			r.Method = http.MethodGet
		}
		next.ServeHTTP(w, r)
	})
}
