package server

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"unicode/utf8"

	"github.com/danielgtaylor/huma/v2"

	"waryowl/internal/app/account"
	"waryowl/internal/app/act"
	"waryowl/internal/calibration"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/route"
	"waryowl/internal/store"
)

// Problem is the answer to what cannot be done (RFC 9457), with the paths of the fields that are wrong. Current is the
// row as it is now when somebody else changed it first.
type Problem struct {
	Title   string          `json:"title"`
	Status  int             `json:"status"`
	Detail  string          `json:"detail"`
	Errors  []ProblemField  `json:"errors,omitempty" nullable:"false"`
	Current json.RawMessage `json:"current,omitempty"`
}

// ProblemField is one field that is wrong: where, what is allowed, and what was found.
type ProblemField struct {
	Location string `json:"location"`
	Message  string `json:"message"`
	Value    any    `json:"value,omitempty"`
}

func (p *Problem) Error() string { return p.Detail }

func (p *Problem) GetStatus() int { return p.Status }

func (p *Problem) ContentType(string) string { return "application/problem+json" }

// newProblem is what huma calls for everything that it refuses itself.
func newProblem(status int, message string, errs ...error) huma.StatusError {
	if status == http.StatusInternalServerError && message == "cannot read request body" { // the sender's, not ours
		status, message = http.StatusBadRequest, brokenBody
	}
	p := &Problem{Title: http.StatusText(status), Status: status, Detail: message}
	for _, err := range errs[:min(mostErrors, len(errs))] {
		var d *huma.ErrorDetail
		if errors.As(err, &d) {
			p.Errors = append(p.Errors, ProblemField{cut(d.Location, 200), cut(d.Message, 400), shorten(d.Value)})
		}
	}
	switch {
	case len(p.Errors) > 0:
		p.Detail = fmt.Sprintf("%s: %s", p.Errors[0].Location, p.Errors[0].Message)
	case status == http.StatusRequestEntityTooLarge:
		var limit int64 = maxBody
		_, _ = fmt.Sscanf(message, "request body is too large limit=%d bytes", &limit)
		p.Detail = tooLarge(limit)
	}
	return p
}

const (
	brokenBody = "The body breaks off or is sent in malformed pieces; send it again whole."
	slowBody   = "The body of the request did not arrive in time; nothing was changed. Send it again."
)

// mostErrors is how many fields of a refused body are named.
const mostErrors = 20

// shorten keeps a refused value from filling the answer: texts are cut, what holds others is named by its kind.
func shorten(v any) any {
	switch v := v.(type) {
	case nil, bool, float64, int, int64:
		return v
	case string:
		return cut(v, 100)
	case map[string]any:
		return fmt.Sprintf("an object of %d fields", len(v))
	case []any:
		return fmt.Sprintf("a list of %d", len(v))
	}
	return cut(fmt.Sprint(v), 100)
}

// cut keeps the beginning of a text, at most n bytes of whole characters.
func cut(s string, n int) string {
	if len(s) <= n {
		return s
	}
	for n > 0 && !utf8.RuneStart(s[n]) {
		n--
	}
	return s[:n] + "…"
}

// problem turns an error of a use case into its answer. What it does not know is logged and answered without details.
func (s *server) problem(ctx context.Context, err error) error {
	var f *fault.Fault
	var u *route.Unreachable
	var stale *store.Stale
	var taken *store.Taken
	var ready *Problem
	var another *store.Another
	switch {
	case errors.As(err, &ready):
		return ready
	case errors.As(err, &f):
		return &Problem{Title: "Not accepted", Status: http.StatusUnprocessableEntity,
			Detail: fmt.Sprintf("%s: found %s; allowed: %s.", f.Field, f.Found, f.Allowed),
			Errors: []ProblemField{{"body." + f.Field, "allowed: " + f.Allowed, f.Found}}}
	case errors.As(err, &u):
		return &Problem{Title: "Not accepted", Status: http.StatusUnprocessableEntity, Detail: u.Error(),
			Errors: []ProblemField{{"body.after", u.Error(), nil}}}
	case errors.Is(err, act.ErrNotFound):
		return &Problem{Title: "Not found", Status: http.StatusNotFound,
			Detail: "There is nothing with this id; it may have been deleted."}
	case errors.As(err, &stale):
		current, _ := json.Marshal(stale.Current)
		return &Problem{Title: "Changed meanwhile", Status: http.StatusConflict,
			Detail: "Somebody changed this in the meantime. Compare both sides and choose.", Current: current}
	case errors.As(err, &taken):
		return &Problem{Title: "In use", Status: http.StatusConflict, Detail: taken.Error() + "; take another.",
			Errors: []ProblemField{{"body." + taken.Key, "allowed: one that is not in use", taken.Value}}}
	case errors.As(err, &another):
		return &Problem{Title: "Another's work", Status: http.StatusForbidden,
			Detail: "This is the work of " + another.Author + ": they or an analyst can change it. Nothing was changed."}
	case errors.Is(err, act.ErrKeyReused):
		return &Problem{Title: "Key reused", Status: http.StatusConflict, Detail: err.Error()}
	case errors.Is(err, account.ErrLink):
		return &Problem{
			Title:  "Closed link",
			Status: http.StatusNotFound,
			Detail: "This link was used, is too old, or never was one. Ask an administrator for another.",
		}
	case errors.Is(err, account.ErrSignIn):
		return &Problem{Title: "Not signed in", Status: http.StatusUnauthorized, Detail: "Name or password is wrong."}
	case errors.Is(err, calibration.ErrSlow), errors.Is(err, calibration.ErrDown), errors.Is(err, calibration.ErrNone):
		return &Problem{Title: "No calibration", Status: http.StatusFailedDependency, Detail: "Not calibrated: " +
			err.Error() + "."}
	case errors.Is(err, account.ErrBusy):
		return &Problem{Title: "Busy", Status: http.StatusServiceUnavailable,
			Detail: "Many people sign in at this moment. Try again in a few seconds."}
	case errors.Is(err, act.ErrFull):
		return &Problem{Title: "No room", Status: http.StatusInsufficientStorage, Detail: "The disk of the database is " +
			"full: nothing was changed, and reading goes on. Keep this page open; it is sent again when there is room."}
	case errors.Is(err, context.DeadlineExceeded), errors.Is(err, context.Canceled):
		return &Problem{Title: "Too slow", Status: http.StatusServiceUnavailable,
			Detail: "The answer took too long; nothing was changed. Try again in a moment."}
	case store.Replaced(err):
		return &Problem{Title: "Replaced", Status: http.StatusServiceUnavailable,
			Detail: "A backup was put in the place of " +
				"this record; nothing was changed. The program opens the new one in a moment."}
	case store.Apart(err):
		store.Leave(s.App.DB)
		return &Problem{Title: "Unavailable", Status: http.StatusServiceUnavailable,
			Detail: "The database server has lost the others; another one is asked. Try again in a moment."}
	case store.Retriable(err):
		return &Problem{Title: "Busy", Status: http.StatusServiceUnavailable,
			Detail: "Two changes met; nothing was changed. Send it again."}
	}
	s.App.Failed()
	s.Log.ErrorContext(ctx, "use case", "err", err)
	return &Problem{Title: "Unavailable", Status: http.StatusServiceUnavailable,
		Detail: "The server could not finish this; nothing was changed. Try again in a moment."}
}

func writeProblem(w http.ResponseWriter, status int, detail string) {
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(status)
	json.NewEncoder(w).Encode(Problem{Title: http.StatusText(status), Status: status, Detail: detail})
}
