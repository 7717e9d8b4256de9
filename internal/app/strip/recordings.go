package strip

import (
	"fmt"
	"strings"
	"time"

	"waryowl/internal/core/benchline"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/narrate"
	"waryowl/internal/core/narrate/cues"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/store"
)

// timed reads captions, of several recordings one after the other; text without any times is dictation, one thought a
// line, read as if five seconds lay between two.
func timed(text string) (list []cues.Cue, known bool, err error) {
	for _, one := range recordings(text) {
		if one = strings.TrimSpace(one); one == "" {
			continue
		}
		more, e := cues.Read(one)
		if e != nil && !strings.Contains(one, "-->") {
			more = dictated(one)
		} else if e != nil {
			return nil, true, e
		} else {
			known = true
		}
		list = cues.Follow(list, more)
	}
	if len(list) == 0 {
		return nil, false, fault.New("text", text, "some words")
	}
	return list, known, nil
}

// recordings are the parts of a text between lines of three hyphens or more.
func recordings(text string) []string {
	list := []string{""}
	for line := range strings.Lines(text) {
		if t := strings.TrimSpace(line); len(t) >= 3 && strings.Trim(t, "-") == "" {
			list = append(list, "")
			continue
		}
		list[len(list)-1] += line
	}
	return list
}

func dictated(text string) (list []cues.Cue) {
	for line := range strings.Lines(text) {
		if line = strings.TrimSpace(line); line != "" {
			list = append(list, cues.Cue{Start: float64(5 * len(list)), Text: strings.TrimRight(line, ".") + "."})
		}
	}
	return list
}

// typed is what stands in the log, by phone; proposals are read as on a phone with an empty one, so that what is done
// already is read as the same act.
type typed struct {
	empty  benchline.Context
	facts  map[string][]known
	checks map[string]time.Time        // by unit, mark and result
	said   map[string][]store.LogEntry // notes that a recording brought, by its words
}

// known is a fact of the log, and when it happened.
type known struct {
	shorthand.Fact
	at time.Time
}

// holds says whether a proposal was typed already while working, when, and with which other figure.
func (t typed) holds(o Offer, check, words string) (string, *time.Time) {
	if at, seen := t.checks[o.UnitID+check+o.Verb]; seen && o.Kind == "check" {
		return "in the log already", &at
	}
	if o.Enter == "" {
		for _, e := range t.said[head(words)] {
			if e.UnitID == o.UnitID && (e.Detail.Said.Trial != "") == (o.Kind == "trial") &&
				(e.Detail.Said.Part != "") == (o.Kind == "part") {
				return "in the log already", &e.HappenedAt
			}
		}
		return "", nil
	}
	for _, a := range benchline.Read(t.empty, nil, o.Enter).Facts {
		for _, x := range t.facts[o.UnitID] {
			if x.Verb != a.Fact.Verb || x.Back != a.Fact.Back || !sameThing(x.Fact, a.Fact) {
				continue
			}
			if x.Count != a.Fact.Count && a.Fact.Count > 0 {
				return fmt.Sprintf("you typed %d, said %d", x.Count, a.Fact.Count), &x.at
			}
			return "in the log already", &x.at
		}
	}
	return "", nil
}

// head is the beginning of what was said, as an entry keeps it.
func head(words string) string {
	if r := []rune(words); len(r) > 400 {
		return string(r[:400])
	}
	return words
}

// done is how a line of the bench says each act, and how it says that it is undone.
var done = map[string][2]string{"lift": {"off", "back on"}, "disconnect": {"unplugged", "plugged in"},
	"peel": {"peeled off", "back on"}}

// which lists the parts that a proposal may mean where the bench cannot tell: only those whose line is then read
// without a doubt.
func (t typed) which(p narrate.Proposal) []Which {
	list := []Which{}
	words, known := done[p.Verb]
	if p.Line != "?" || !known || p.Kind != "step" && p.Kind != "put_back" {
		return list
	}
	said := words[0]
	if p.Kind == "put_back" {
		said = words[1]
	}
	for _, c := range benchline.Read(t.empty, nil, p.Object+" "+said).Candidates {
		line := c.Name + " " + said
		a := benchline.Read(t.empty, nil, line)
		if len(a.Candidates) == 0 && len(a.Facts) == 1 && a.Facts[0].Fact.Part == c.ID {
			list = append(list, Which{c.Name, line})
		}
	}
	return list
}

func sameThing(x, y shorthand.Fact) bool {
	if x.Part != "" || y.Part != "" {
		return x.Part == y.Part
	}
	return x.Drive == y.Drive && x.What == y.What
}
