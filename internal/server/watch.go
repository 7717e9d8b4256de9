package server

import (
	"context"
	"database/sql"
	"net/http"
	"regexp"
	"strconv"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"
)

// slow is from when on a request is told of in the log.
const slow = time.Second

type requestKey struct{}

// requestID is the number of a request in the log and in the header of its answer.
func requestID(ctx context.Context) string {
	id, _ := ctx.Value(requestKey{}).(string)
	return id
}

// counted remembers what became of an answer.
type counted struct {
	http.ResponseWriter
	status, size int
}

func (c *counted) WriteHeader(status int) {
	if c.status == 0 {
		c.status = status
	}
	switch {
	case status == http.StatusUnauthorized:
		c.Header().Set("WWW-Authenticate", `Bearer realm="Wary Owl"`)
	case status == http.StatusServiceUnavailable && c.Header().Get("Retry-After") == "":
		c.Header().Set("Retry-After", "2")
	}
	c.ResponseWriter.WriteHeader(status)
}

func (c *counted) Write(b []byte) (int, error) {
	if c.status == 0 {
		c.status = http.StatusOK
	}
	n, err := c.ResponseWriter.Write(b)
	c.size += n
	return n, err
}

func (c *counted) Unwrap() http.ResponseWriter { return c.ResponseWriter }

var idInPath = regexp.MustCompile(`[0-9a-f]{8}-[0-9a-f-]{27}|[0-9a-f]{32,64}|[0-9]{4}-[0-9]{2}-[0-9]{2}`)

// place is the address of a request without what tells rows, days and tokens apart; pages are one place.
func place(path string) string {
	if !strings.HasPrefix(path, "/api/") {
		if path == "/healthz" || path == "/readyz" {
			return path
		}
		return "/"
	}
	return idInPath.ReplaceAllString(path, "{id}")
}

// watch gives each request an id, counts it, and logs what was slow or failed: the place, never what was asked or
// sent. told is the handler of /metrics.
func (s *server) watch(next http.Handler, pool *sql.DB) (watched, told http.Handler) {
	r := prometheus.NewRegistry()
	requests := prometheus.NewCounterVec(prometheus.CounterOpts{Name: "waryowl_requests_total",
		Help: "Answers by method and status."}, []string{"method", "status"})
	seconds := prometheus.NewHistogram(prometheus.HistogramOpts{Name: "waryowl_request_seconds",
		Help: "Time to answer.", Buckets: []float64{.005, .01, .025, .05, .1, .25, .5, 1, 2.5, 5, 10}})
	open := prometheus.NewGauge(
		prometheus.GaugeOpts{Name: "waryowl_requests_open", Help: "Requests that are being answered."},
	)
	keptAnswers := prometheus.NewGaugeFunc(
		prometheus.GaugeOpts{Name: "waryowl_kept_bytes", Help: "Bytes of kept answers."},
		func() float64 {
			s.answers.mu.Lock()
			defer s.answers.mu.Unlock()
			return float64(s.answers.size)
		},
	)
	r.MustRegister(
		requests,
		seconds,
		open,
		keptAnswers,
		collectors.NewGoCollector(),
		collectors.NewProcessCollector(
			collectors.ProcessCollectorOpts{},
		),
		collectors.NewDBStatsCollector(pool, "waryowl"),
	)
	mux := http.NewServeMux()
	mux.Handle("GET /metrics", promhttp.HandlerFor(r, promhttp.HandlerOpts{}))
	return http.HandlerFunc(func(w http.ResponseWriter, q *http.Request) {
		id := uuid.NewString()
		w.Header().Set("X-Request-Id", id)
		q = q.WithContext(context.WithValue(q.Context(), requestKey{}, id))
		c := &counted{ResponseWriter: w}
		begun := time.Now()
		open.Inc()
		defer func() {
			open.Dec()
			took := time.Since(begun)
			status := c.status
			if status == 0 {
				status = http.StatusOK
			}
			requests.WithLabelValues(method(q.Method), strconv.Itoa(status)).Inc()
			seconds.Observe(took.Seconds())
			if took >= slow || status >= 500 {
				s.Log.Warn(
					"request",
					"id",
					id,
					"method",
					method(q.Method),
					"place",
					place(q.URL.Path),
					"status",
					status,
					"ms",
					took.Milliseconds(),
					"bytes",
					c.size,
					"asked",
					len(q.URL.RawQuery),
					"sent",
					q.ContentLength,
				)
			}
		}()
		next.ServeHTTP(c, q)
	}), mux
}

// method is one of those that are counted: strangers may send any word.
func method(m string) string {
	switch m {
	case "GET", "POST", "PUT", "DELETE", "HEAD", "OPTIONS", "PATCH":
		return m
	}
	return "other"
}

// secure says that the request came over TLS: to us, or to a declared proxy that says so.
func (s *server) secure(r *http.Request) bool {
	if r.TLS != nil || s.Secure {
		return true
	}
	return s.attempts.declared(r) && strings.EqualFold(r.Header.Get("X-Forwarded-Proto"), "https")
}

// secured marks the cookies of an answer for TLS only.
type secured struct {
	http.ResponseWriter
	done bool
}

func (w *secured) mark() {
	if w.done {
		return
	}
	w.done = true
	for i, c := range w.Header()["Set-Cookie"] {
		if !strings.Contains(c, "; Secure") {
			c += "; Secure"
		}
		if strings.HasPrefix(c, sessionCookie+"=") {
			c = hostPrefix + c
		}
		w.Header()["Set-Cookie"][i] = c
	}
}

func (w *secured) WriteHeader(status int) {
	w.mark()
	w.ResponseWriter.WriteHeader(status)
}

func (w *secured) Write(b []byte) (int, error) {
	w.mark()
	return w.ResponseWriter.Write(b)
}

func (w *secured) Unwrap() http.ResponseWriter { return w.ResponseWriter }
