// Package calibration talks to a maker's calibration service: it asks to match pieces to a board and says in plain
// states what came back: accepted, refused with a reason, or no answer.
package calibration

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"time"
)

// Request names the board, the build it carries, the clock of the phone, and the pieces in the slots that are to be
// matched.
type Request struct {
	Board  string            `json:"board"`
	Build  string            `json:"build"`
	Clock  time.Time         `json:"clock"`
	Pieces map[string]string `json:"pieces"` // slot: id of the piece
	Mates  map[string]string `json:"mates"`  // slot: origin of its mate, where it has one
}

// Answer is what the service says.
type Answer struct {
	Accepted bool   `json:"accepted"`
	Reason   string `json:"reason,omitempty"`
}

// ErrNone says that no service is set up; ErrSlow that it did not answer in time; ErrDown that it cannot be reached.
var (
	ErrNone = errors.New("no calibration service is set up: set WARYOWL_CALIBRATION to its address")
	ErrSlow = errors.New("the calibration service did not answer in time, and may have decided all the same; send " +
		"it again and its answer is asked for, not a second calibration")
	ErrDown = errors.New("the calibration service cannot be reached; nothing was changed, try again when it is back")
)

// Client asks the service at URL; Patience is how long it waits for an answer.
type Client struct {
	URL      string
	Patience time.Duration
}

// Ask sends one request under a key by which the service knows a repeat. Its error is one of ErrNone, ErrSlow and
// ErrDown, with what happened.
func (c Client) Ask(ctx context.Context, key string, r Request) (Answer, error) {
	if c.URL == "" {
		return Answer{}, ErrNone
	}
	ctx, cancel := context.WithTimeout(ctx, c.Patience)
	defer cancel()
	body, err := json.Marshal(r)
	if err != nil {
		return Answer{}, err
	}
	req, err := http.NewRequestWithContext(ctx, http.MethodPost, c.URL+"/calibrate", bytes.NewReader(body))
	if err != nil {
		return Answer{}, fmt.Errorf("%w (%v)", ErrDown, err)
	}
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("Idempotency-Key", key)
	resp, err := http.DefaultClient.Do(req)
	switch {
	case errors.Is(err, context.DeadlineExceeded):
		return Answer{}, ErrSlow
	case err != nil:
		return Answer{}, ErrDown
	}
	defer resp.Body.Close()
	if resp.StatusCode != http.StatusOK {
		return Answer{}, fmt.Errorf("%w (it answered %s)", ErrDown, resp.Status)
	}
	var a Answer
	if err := json.NewDecoder(io.LimitReader(resp.Body, 1<<16)).Decode(&a); err != nil {
		if errors.Is(err, context.DeadlineExceeded) {
			return Answer{}, ErrSlow
		}
		return Answer{}, fmt.Errorf("%w (its answer cannot be read)", ErrDown)
	}
	return a, nil
}
