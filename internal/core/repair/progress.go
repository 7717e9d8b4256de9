package repair

import (
	"math"
	"slices"
	"strings"

	"waryowl/internal/core/worktime"
)

// Entry is an act that was done: Seconds since the one before it, Break that somebody was away, Skipped that it was left
// out.
type Entry struct {
	Key     string  `json:"key"`
	Seconds float64 `json:"seconds,omitempty" minimum:"0"`
	Break   bool    `json:"break,omitempty"`
	Skipped bool    `json:"skipped,omitempty"`
}

// State is where a repair stands. Now is the first act that is not done, "" when all are; the rest of the checks does not
// count. HandsOn and Waited are seconds so far without breaks, Left those of hands and waits that usually follow. Clocks are
// the waits that run, Long the acts that look like a break and were not called one.
type State struct {
	Now      string   `json:"now,omitempty"`
	Done     int      `json:"done"`
	Of       int      `json:"of"`
	HandsOn  float64  `json:"hands_on"`
	Waited   float64  `json:"waited"`
	Left     float64  `json:"left"`
	LeftWait float64  `json:"left_wait"`
	Fastest  float64  `json:"fastest" doc:"sum of the fastest tenths of the acts that were done"`
	Usual    float64  `json:"usual" doc:"of the whole repair, waits with it"`
	Clocks   []string `json:"clocks" nullable:"false"`
	Long     []string `json:"long" nullable:"false"`
}

// Progress reads the entries of a repair, in any order.
func Progress(acts []Act, entries []Entry) State {
	s := State{Clocks: []string{}, Long: []string{}}
	by := map[string]Entry{}
	for _, e := range entries {
		by[e.Key] = e
	}
	for _, e := range entries { // a round of heat that gave no gap is waited for as well
		if Part(e.Key) == "round" && !e.Break {
			s.Waited += math.Max(0, e.Seconds)
		}
	}
	for _, a := range acts {
		e, done := by[a.Key]
		if done && !e.Break {
			took := math.Max(0, e.Seconds)
			if a.Kind == Wait {
				s.Waited += took
			} else {
				s.HandsOn += took
			}
		}
		if done && !e.Skipped && a.Kind != Wait {
			s.Fastest += a.Early
		}
		if done && !e.Break && !e.Skipped && a.Kind != Wait && worktime.Pause(e.Seconds, a.Late) {
			s.Long = append(s.Long, a.Key)
		}
		if a.Rest {
			continue
		}
		s.Of++
		s.Usual += a.Seconds
		switch {
		case done:
			s.Done++
			continue
		case s.Now == "":
			s.Now = a.Key
		}
		if a.Kind != Wait {
			s.Left += a.Seconds
			continue
		}
		s.LeftWait += a.Seconds
		if _, runs := by[a.Begins]; runs {
			s.Clocks = append(s.Clocks, a.Key)
		}
	}
	return s
}

// Open names what a cover would hide if this act were done now: the acts that it needs and that are not done.
func Open(a Act, done []string) []string {
	open := []string{}
	for _, key := range a.Needs {
		if !slices.Contains(done, key) {
			open = append(open, key)
		}
	}
	return open
}

// Part is the first word of a key: in, wait, see, back, check and the like.
func Part(key string) string {
	first, _, _ := strings.Cut(key, " ")
	return first
}
