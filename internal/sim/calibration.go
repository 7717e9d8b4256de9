package sim

import (
	"encoding/json"
	"net/http"
	"sync"
	"time"

	"waryowl/internal/calibration"
)

// Service is a stand-in for a maker's calibration service over HTTP on loopback. It accepts when the build is the
// newest it has seen, the mates have one origin and the clock is sane; it can be slow, down, or refuse everything.
//
// POST /calibrate asks; POST /mode {"mode":"ok|slow|down|refuse"} changes how it behaves.
type Service struct {
	Delay time.Duration // of a slow answer

	mu     sync.Mutex
	mode   string
	newest string
	given  map[string]calibration.Answer // by the key of the question: a repeat gets the same answer
}

// Decided counts the questions that the service has answered, repeats apart.
func (s *Service) Decided() int {
	s.mu.Lock()
	defer s.mu.Unlock()
	return len(s.given)
}

// ServeHTTP answers.
func (s *Service) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	s.mu.Lock()
	mode := s.mode
	s.mu.Unlock()
	switch r.Method + " " + r.URL.Path {
	case "POST /mode":
		var m struct {
			Mode string `json:"mode"`
		}
		if err := json.NewDecoder(r.Body).Decode(&m); err != nil {
			http.Error(w, "mode: ok, slow, down or refuse", http.StatusBadRequest)
			return
		}
		s.mu.Lock()
		s.mode = m.Mode
		s.mu.Unlock()
		w.WriteHeader(http.StatusNoContent)
	case "POST /calibrate":
		if mode == "down" {
			http.Error(w, "down for maintenance", http.StatusServiceUnavailable)
			return
		}
		var q calibration.Request
		if err := json.NewDecoder(http.MaxBytesReader(w, r.Body, 1<<16)).Decode(&q); err != nil {
			http.Error(w, "cannot read the request", http.StatusBadRequest)
			return
		}
		answer := s.once(r.Header.Get("Idempotency-Key"), q, mode)
		if mode == "slow" { // it has decided, and its word is late
			select {
			case <-time.After(s.Delay):
			case <-r.Context().Done():
				return
			}
		}
		w.Header().Set("Content-Type", "application/json")
		json.NewEncoder(w).Encode(answer)
	default:
		http.NotFound(w, r)
	}
}

func (s *Service) once(key string, q calibration.Request, mode string) calibration.Answer {
	s.mu.Lock()
	defer s.mu.Unlock()
	if a, known := s.given[key]; known {
		return a
	}
	a := s.answer(q, mode, time.Now())
	if s.given == nil {
		s.given = map[string]calibration.Answer{}
	}
	if key != "" {
		s.given[key] = a
	}
	return a
}

func (s *Service) answer(q calibration.Request, mode string, now time.Time) calibration.Answer {
	s.newest = max(s.newest, q.Build)
	switch {
	case mode == "refuse":
		return calibration.Answer{Reason: "the service refuses this model"}
	case len(q.Pieces) == 0:
		return calibration.Answer{Reason: "no piece was named"}
	case q.Build < s.newest:
		return calibration.Answer{Reason: "the software is not the newest: " + s.newest + " is known"}
	case q.Clock.Sub(now).Abs() > 24*time.Hour:
		return calibration.Answer{Reason: "the clock of the phone is odd"}
	}
	for slot, origin := range q.Mates {
		if piece, asked := q.Pieces[slot]; asked && origin != "" && len(piece) >= len(origin) &&
			piece[:len(origin)] != origin {
			return calibration.Answer{Reason: "the partner of the " + slot + " does not match"}
		}
	}
	return calibration.Answer{Accepted: true}
}
