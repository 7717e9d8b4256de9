package server

import (
	"bytes"
	"container/list"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"io"
	"net/http"
	"strconv"
	"strings"
	"sync"

	"github.com/danielgtaylor/huma/v2"

	"waryowl/internal/store"
)

// scope says on what a room rests: on one model and its studies, found by the study or the model in the address, or on
// everything that is on record.
type scope int

const (
	ofStudy scope = iota + 1
	ofModel
	ofAll
)

// kept are the rooms whose answers are kept while nothing that they rest on changes.
var kept = map[string]scope{"get-swap": ofStudy, "get-swap-account": ofStudy, "get-swap-factors": ofStudy,
	"get-notices": ofStudy, "get-intake": ofStudy, "get-strip": ofStudy, "get-closeup": ofStudy,
	"get-handover": ofStudy, "get-study": ofStudy, "get-ways": ofModel, "get-harvest": ofModel, "get-score": ofModel,
	"get-scorecard": ofModel,
	"get-model":     ofModel, "get-job": ofModel, "compare-way": ofAll, "find": ofAll, "list-models": ofAll,
	"list-studies": ofAll, "get-first": ofAll,
	"get-score-against": ofAll, "get-desk": ofAll, "get-levels": ofAll, "get-incoming": ofAll,
	"get-compare": ofAll, "get-generations": ofAll, "get-fit": ofAll}

// mostBytes is how much the kept answers may take together.
const mostBytes = 64 << 20

// answers are the kept answers, the least used out first, and those that are being worked out: who asks for one of them
// waits for it instead of working it out again.
type answers struct {
	mu    sync.Mutex
	by    map[string]*list.Element
	line  *list.List
	size  int
	doing map[string]*flight
}

type keeping struct {
	key  string
	body []byte
}

type flight struct {
	done chan struct{}
	body []byte // nil: it came to nothing
}

func newAnswers() *answers {
	return &answers{by: map[string]*list.Element{}, line: list.New(), doing: map[string]*flight{}}
}

// take is the kept answer of a key, or the flight that works it out; lead says that it is the caller who has to.
func (a *answers) take(key string) (body []byte, f *flight, lead bool) {
	a.mu.Lock()
	defer a.mu.Unlock()
	if e, ok := a.by[key]; ok {
		a.line.MoveToFront(e)
		return e.Value.(*keeping).body, nil, false
	}
	if f, ok := a.doing[key]; ok {
		return nil, f, false
	}
	f = &flight{done: make(chan struct{})}
	a.doing[key] = f
	return nil, f, true
}

// land ends a flight; an answer of nil is not kept.
func (a *answers) land(key string, f *flight, body []byte) {
	a.mu.Lock()
	defer a.mu.Unlock()
	delete(a.doing, key)
	f.body = body
	close(f.done)
	if body == nil || len(body) > mostBytes/8 {
		return
	}
	a.by[key] = a.line.PushFront(&keeping{key, body})
	for a.size += len(body); a.size > mostBytes; {
		last := a.line.Back()
		old := a.line.Remove(last).(*keeping)
		delete(a.by, old.key)
		a.size -= len(old.body)
	}
}

// revision is how often what a room rests on was changed.
func (s *server) revision(ctx context.Context, of scope, id string) (int64, error) {
	switch of {
	case ofStudy:
		return store.StudyRevision(ctx, s.App.DB, id)
	case ofModel:
		return store.ModelRevision(ctx, s.App.DB, id)
	}
	return store.Revision(ctx, s.App.DB)
}

// remember is the middleware that keeps answers by revision: the same question of the same person on the same state of
// the record is answered from memory, or with 304 to a browser that still has it.
func (s *server) remember(ctx huma.Context, next func(huma.Context)) {
	of := kept[ctx.Operation().OperationID]
	if of == 0 {
		next(ctx)
		return
	}
	u := ctx.URL()
	if of == ofStudy && u.Query().Get("learned") == "true" { // other models' verdicts pull its priors
		of = ofAll
	}
	n, err := s.revision(ctx.Context(), of, ctx.Param("id"))
	if err != nil { // the room itself says what is wrong
		next(ctx)
		return
	}
	day := ""
	if op := ctx.Operation().OperationID; op == "get-handover" || op == "get-first" { // they bear their date
		day = s.App.Now().Format("2006-01-02")
	}
	sum := sha256.Sum256([]byte(s.build + "\x00" + strconv.FormatInt(n, 10) + "\x00" + actor(ctx.Context()).ID + "\x00" +
		u.RequestURI() + "\x00" + day))
	key := hex.EncodeToString(sum[:16])
	tag := `W/"` + key + `"`
	if unchanged(ctx.Header("If-None-Match"), tag) {
		ctx.SetHeader("ETag", tag)
		ctx.SetHeader("Cache-Control", "private, no-cache")
		ctx.SetStatus(http.StatusNotModified)
		return
	}
	send := func(body []byte) {
		ctx.SetHeader("ETag", tag)
		ctx.SetHeader("Cache-Control", "private, no-cache")
		ctx.SetHeader("Content-Type", "application/json")
		ctx.SetStatus(http.StatusOK)
		_, _ = ctx.BodyWriter().Write(body)
	}
	for {
		body, f, lead := s.answers.take(key)
		if body != nil {
			send(body)
			return
		}
		if lead {
			c := &captured{inner: ctx}
			defer func() { s.answers.land(key, f, c.ok()) }()
			next(c)
			if body := c.ok(); body != nil {
				send(body)
			} else {
				c.replay()
			}
			return
		}
		select {
		case <-f.done:
			if f.body != nil {
				send(f.body)
				return
			} // who worked it out went away or failed: it is one's own turn
		case <-ctx.Context().Done():
			s.refuse(ctx, http.StatusServiceUnavailable, "The answer took too long.")
			return
		}
	}
}

// unchanged says that a browser still has the answer of a tag: one of the list that it names, or any (RFC 9110,
// 13.1.2).
func unchanged(named, tag string) bool {
	for one := range strings.SplitSeq(named, ",") {
		one = strings.TrimSpace(one)
		if one == "*" || one != "" && strings.TrimPrefix(one, "W/") == strings.TrimPrefix(tag, "W/") {
			return true
		}
	}
	return false
}

// inner keeps the name of the embedded context from hiding its method.
type inner interface{ huma.Context }

// captured holds an answer back until it is whole.
type captured struct {
	inner
	status  int
	headers [][2]string
	buffer  bytes.Buffer
}

func (c *captured) SetStatus(code int) { c.status = code }

func (c *captured) Status() int { return c.status }

func (c *captured) SetHeader(name, value string) {
	c.headers = append(c.headers, [2]string{name, value})
}

func (c *captured) AppendHeader(name, value string) { c.SetHeader(name, value) }

func (c *captured) BodyWriter() io.Writer { return &c.buffer }

// ok is the body of a good answer, nil for every other.
func (c *captured) ok() []byte {
	if c.status != http.StatusOK || c.Context().Err() != nil {
		return nil
	}
	return c.buffer.Bytes()
}

// replay sends what was held back.
func (c *captured) replay() {
	for _, h := range c.headers {
		c.inner.SetHeader(h[0], h[1])
	}
	if c.status > 0 {
		c.inner.SetStatus(c.status)
	}
	_, _ = c.inner.BodyWriter().Write(c.buffer.Bytes())
}
