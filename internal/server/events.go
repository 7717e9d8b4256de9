package server

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

// News is what is told of a change: which row, and how often it was changed; what it says is asked for.
type News struct {
	Kind     string `json:"kind" doc:"of row, as the trail names it; instruments: what they show has changed"`
	ID       string `json:"id,omitempty"`
	Revision int    `json:"revision,omitempty" doc:"version of the row after the change"`
}

// told is a change with the number of its line in the trail, by which a listener goes on where it stopped.
type told struct {
	line uint64
	News
}

const (
	lookEvery   = 700 * time.Millisecond // for changes, of this program and of others on the same database
	lookQuick   = 200 * time.Millisecond // for what instruments show
	stillHere   = 20 * time.Second       // so often a silent stream is given a sign
	checkEvery  = time.Minute            // so often who listens is asked for again
	writeWithin = 10 * time.Second
	late        = 15 * time.Second // a line may be committed after later ones
	mostMissed  = 5000             // changes that are told one by one to somebody who comes back
	mostWaiting = 256              // changes that a slow listener may be behind
)

// listener is one open stream; full says that it missed something and has to read all anew.
type listener struct {
	next chan told
	full bool
}

// news looks for changes while somebody listens, and tells all listeners.
type news struct {
	s         *server
	mu        sync.Mutex
	listeners map[*listener]bool
	stop      context.CancelFunc
}

// join adds a listener. The last line of the trail is asked for before the stream says that it is there, so that
// nothing after that is missed, and outside of the lock: a database that hangs holds up nobody else.
func (n *news) join(ctx context.Context) *listener {
	l := &listener{next: make(chan told, mostWaiting)}
	ctx, cancel := context.WithTimeout(ctx, signInPatience)
	defer cancel()
	var floor uint64
	err := n.s.App.DB.WithContext(ctx).Raw("SELECT COALESCE(MAX(id), 0) FROM audit_lines").Scan(&floor).Error
	n.mu.Lock()
	defer n.mu.Unlock()
	n.listeners[l] = true
	if len(n.listeners) == 1 {
		looking, stop := context.WithCancel(context.Background())
		n.stop = stop
		go n.look(looking, floor, err == nil)
	}
	return l
}

func (n *news) leave(l *listener) {
	n.mu.Lock()
	defer n.mu.Unlock()
	if delete(n.listeners, l); len(n.listeners) == 0 && n.stop != nil {
		n.stop()
		n.stop = nil
	}
}

func (n *news) tell(list []told) {
	n.mu.Lock()
	defer n.mu.Unlock()
	for l := range n.listeners {
		for _, t := range list {
			select {
			case l.next <- t:
			default:
				l.full = true
			}
		}
	}
}

// look reads the trail for new lines. A line with a lower number may be committed after one with a higher: the lines
// of the last seconds are looked at again, and told once.
func (n *news) look(ctx context.Context, floor uint64, begun bool) {
	turn, quick := time.NewTicker(lookEvery), time.NewTicker(lookQuick)
	defer turn.Stop()
	defer quick.Stop()
	db := n.s.App.DB
	seen := map[uint64]time.Time{}
	shown := ""
	for {
		select {
		case <-ctx.Done():
			return
		case <-quick.C:
			if n.s.Instruments == nil {
				continue
			}
			states := n.s.Instruments.States()
			for i := range states {
				states[i].Seconds = 0 // how old a reading is changes by itself
			}
			text, _ := json.Marshal(states)
			if shown != "" && string(text) != shown {
				n.tell([]told{{0, News{Kind: "instruments"}}})
			}
			shown = string(text)
		case now := <-turn.C:
			if !begun {
				if err := db.WithContext(ctx).Raw("SELECT COALESCE(MAX(id), 0) FROM audit_lines").Scan(&floor).Error; err == nil {
					begun = true
				}
				continue
			}
			lines, err := changesAfter(ctx, n.s.App, floor, 2000)
			if err != nil {
				continue // the database is away: the next turn asks again
			}
			var fresh []told
			for _, t := range lines {
				if _, known := seen[t.line]; !known {
					seen[t.line] = now
					fresh = append(fresh, t)
				}
			}
			n.tell(fresh)
			for line, at := range seen {
				if now.Sub(at) > late {
					floor = max(floor, line)
				}
			}
			for line := range seen {
				if line <= floor {
					delete(seen, line)
				}
			}
		}
	}
}

// changesAfter are the changes after a line of the trail, the oldest first.
func changesAfter(ctx context.Context, s *act.Service, line uint64, most int) ([]told, error) {
	var rows []struct {
		ID            uint64
		Entity, RowID string
		Version       *int
	}
	err := s.DB.WithContext(ctx).Raw("SELECT id, entity, row_id, JSON_VALUE(after_state, '$.version') AS version FROM audit_lines "+
		"WHERE id > ? ORDER BY id LIMIT ?", line, most).Scan(&rows).Error
	var list []told
	for _, r := range rows {
		t := told{r.ID, News{Kind: r.Entity, ID: r.RowID}}
		if r.Version != nil {
			t.Revision = *r.Version
		}
		list = append(list, t)
	}
	return list, err
}

// listens is who asks for a stream: by token, or signed in; what tells whether they still may.
func (s *server) listens(r *http.Request) (who act.Actor, may func(kind string) bool, err error) {
	right := act.Right{Resource: act.Models, Verb: act.Read}
	token := store.Token{}
	if shown := r.Header.Get("Authorization"); shown != "" {
		if token, who, err = s.bearer(r.Context(), shown, s.attempts.address(r)); err == nil && !covers(token, right) {
			err = errForbidden
		}
	} else if id := s.sessions.GetString(r.Context(), "account"); id != "" {
		who, err = act.Who(r.Context(), s.App, id, s.sessions.GetString(r.Context(), "sign-in"))
	} else {
		err = act.ErrNotFound
	}
	return who, func(kind string) bool {
		if kind == "Account" || kind == "Token" {
			office := act.Right{Resource: act.People, Verb: act.Read}
			return act.Allowed(who.Role, office) && covers(token, office)
		}
		return true
	}, err
}

var errForbidden = errors.New("a token that may not read models")

// events is the stream of what changed (W3C, server-sent events). It begins now, or after the line of the trail that
// the listener had last.
func (s *server) events(w http.ResponseWriter, r *http.Request) {
	if inAddress(*r.URL) {
		writeProblem(w, http.StatusUnauthorized, noToken)
		return
	}
	_, may, err := s.listens(r)
	switch {
	case errors.Is(err, act.ErrNotFound):
		w.Header().Set("WWW-Authenticate", `Bearer realm="Wary Owl"`)
		writeProblem(w, http.StatusUnauthorized, "Sign in first, or send a token as Bearer.")
		return
	case errors.Is(err, errForbidden):
		writeProblem(w, http.StatusForbidden, "This token may not read models.")
		return
	case err != nil:
		w.Header().Set("Retry-After", "2")
		writeProblem(w, http.StatusServiceUnavailable, noDatabase)
		return
	}
	last, resumes := uint64(0), false
	if text := r.Header.Get("Last-Event-ID"); text != "" {
		if last, err = strconv.ParseUint(text, 10, 64); err != nil {
			writeProblem(w, http.StatusUnprocessableEntity, "Last-Event-ID: found "+cut(text,
				40)+"; allowed: a number that the stream gave.")
			return
		}
		resumes = true
	}
	h := w.Header()
	h.Set("Content-Type", "text/event-stream")
	h.Set("Cache-Control", "no-store")
	h.Set("X-Accel-Buffering", "no") // of a proxy before us
	stream := http.NewResponseController(w)
	_ = stream.SetReadDeadline(time.Time{}) // else its end would take the listener for gone
	w.WriteHeader(http.StatusOK)
	if r.Method == http.MethodHead {
		return
	}
	send := func(text string) error {
		_ = stream.SetWriteDeadline(time.Now().Add(writeWithin))
		if _, err := w.Write([]byte(text)); err != nil {
			return err
		}
		return stream.Flush()
	}
	tell := func(t told) error {
		if !may(t.Kind) {
			return nil
		}
		text, _ := json.Marshal(t.News)
		id := ""
		if t.line > 0 {
			id = fmt.Sprintf("id: %d\n", t.line)
		}
		return send(fmt.Sprintf("%sevent: change\ndata: %s\n\n", id, text))
	}
	l := s.news.join(r.Context())
	defer s.news.leave(l)
	if send("retry: 2000\n: this stream tells what changed\n\n") != nil {
		return
	}
	again := func() bool { return send("event: all\ndata: {}\n\n") == nil } // read everything anew
	if resumes {
		missed, err := changesAfter(r.Context(), s.App, last, mostMissed+1)
		if err != nil || len(missed) > mostMissed {
			if !again() {
				return
			}
			missed = nil
		}
		for _, t := range missed {
			if tell(t) != nil {
				return
			}
		}
	}
	sign, check := time.NewTicker(stillHere), time.NewTicker(checkEvery)
	defer sign.Stop()
	defer check.Stop()
	for {
		select {
		case <-r.Context().Done():
			return
		case t := <-l.next:
			if tell(t) != nil {
				return
			}
		case <-sign.C:
			s.news.mu.Lock()
			full := l.full
			l.full = false
			s.news.mu.Unlock()
			if full && !again() || send(": still here\n\n") != nil {
				return
			}
		case <-check.C:
			_, now, err := s.listens(r)
			if errors.Is(err, act.ErrNotFound) || errors.Is(err, errForbidden) {
				return
			}
			if err == nil { // the role may have changed
				may = now
			}
		}
	}
}

// eventRoutes tells of the stream in the OpenAPI document; it is served beside the other routes, since it never ends.
func (s *server) eventRoutes() {
	s.api.OpenAPI().AddOperation(&huma.Operation{OperationID: "get-events", Method: http.MethodGet, Path: "/api/events",
		Summary: "What changes, as server-sent events",
		Description: "Each event \"change\" names a kind of row, its id and its " +
			"revision; \"all\" says that more was missed than can be told. Last-Event-ID goes on after the event of that id.",
		Parameters: []*huma.Param{{Name: "Last-Event-ID", In: "header", Schema: &huma.Schema{Type: "string"}}},
		Responses: map[string]*huma.Response{"200": {Description: "The stream.", Content: map[string]*huma.MediaType{
			"text/event-stream": {Schema: &huma.Schema{Type: "string"}}}}}})
}
