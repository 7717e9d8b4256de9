package server

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

// insider marks a request that the program makes to itself.
type insider struct{}

// page is an answer that the program reads itself.
type page struct {
	header http.Header
	status int
	body   bytes.Buffer
}

func (p *page) Header() http.Header         { return p.header }
func (p *page) WriteHeader(status int)      { p.status = status }
func (p *page) Write(b []byte) (int, error) { return p.body.Write(b) }

// mostRead is how many models and studies are read whole: the newest.
const mostRead = 12

// ReadEveryRoom reads each room of a record once, as an analyst who is signed in: those of everything, and those of the
// newest models and studies. The error names the room that cannot be read.
func ReadEveryRoom(ctx context.Context, s *act.Service) error {
	_, engine := build(Config{App: s, Log: slog.New(slog.NewTextHandler(io.Discard, nil))})
	db := s.DB.WithContext(ctx)
	models, err := store.List[store.Model](db.Limit(mostRead), "id DESC", "1 = 1")
	if err != nil {
		return err
	}
	studies, err := store.List[store.Study](db.Limit(mostRead), "id DESC", "1 = 1")
	if err != nil {
		return err
	}
	rooms := []string{"/api/models", "/api/studies", "/api/find?q=battery", "/api/parts", "/api/parts/stock",
		"/api/parts/incoming", "/api/trade", "/api/words", "/api/faults", "/api/trail",
		"/api/days/" + s.Now().Format("2006-01-02")}
	for _, m := range models {
		for _, room := range []string{"", "/ways", "/score", "/scorecard", "/harvest", "/generations", "/map", "/document"} {
			rooms = append(rooms, "/api/models/"+m.ID+room)
		}
	}
	for _, b := range studies {
		for _, room := range []string{"", "/intake", "/strip", "/log", "/swap", "/trials", "/closeup", "/handover",
			"/sheet/html"} {
			rooms = append(rooms, "/api/studies/"+b.ID+room)
		}
	}
	ctx = context.WithValue(ctx, insider{}, act.Actor{Role: act.Analyst})
	for _, room := range rooms {
		r, err := http.NewRequestWithContext(ctx, http.MethodGet, room, nil)
		if err != nil {
			return err
		}
		p := &page{header: http.Header{}, status: http.StatusOK}
		engine.ServeHTTP(p, r)
		if p.status >= http.StatusInternalServerError || p.status == http.StatusNotFound {
			return fmt.Errorf("%s answers %d: %s", room, p.status, cut(strings.TrimSpace(p.body.String()), 200))
		}
	}
	return ctx.Err()
}
