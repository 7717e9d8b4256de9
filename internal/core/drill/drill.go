// Package drill judges a dry run: what a trainee committed to against the hidden truth of the simulated phones, and
// where the reasoning slipped.
package drill

import (
	"fmt"
	"slices"
	"strings"
)

// Reading is one reading of a board: which slots held the other phone's pieces, which were left off, and what the
// checks showed.
type Reading struct {
	Trial     string
	Board     string
	Exchanged []string
	Off       []string
	Results   map[string]string
}

// Judgements of a check.
const (
	Right    = "right"
	Wrong    = "wrong"
	Unproven = "unproven"
)

// Judgement is one check: what was committed to, what was true, and how it is judged.
type Judgement struct {
	Check     string   `json:"check"`
	Committed string   `json:"committed,omitempty" doc:"explanation; empty: nothing costs it"`
	Done      bool     `json:"done" doc:"something was committed"`
	Truth     []string `json:"truth" nullable:"false"`
	Judged    string   `json:"judged" enum:"right,wrong,unproven"`
	Slips     []string `json:"slips" nullable:"false" doc:"where the reasoning slipped"`
}

// Case is a dry run as it ended. Truth lists for each check the explanations that cost it; BoardOwn the slots whose
// pieces travel with the board; Proven says whether the readings carry what was committed.
type Case struct {
	Checks   []string
	Readings []Reading
	Commits  map[string]string
	Truth    map[string][]string
	BoardOwn []string
	Proven   func(check, explanation string) bool
}

// Judge goes through the checks. What is right but not carried by the readings is unproven: a lucky guess; what was not
// committed is unproven too.
func Judge(c Case) []Judgement {
	list := []Judgement{}
	for _, check := range c.Checks {
		said, done := c.Commits[check]
		v := Judgement{Check: check, Committed: said, Done: done, Truth: append([]string{}, c.Truth[check]...),
			Slips: []string{}}
		right := said == "" && len(v.Truth) == 0 || slices.Contains(v.Truth, said)
		switch {
		case !done:
			v.Judged = Unproven
		case !right:
			v.Judged = Wrong
		case !c.Proven(check, said):
			v.Judged = Unproven
		default:
			v.Judged = Right
		}
		if done {
			v.Slips = c.slips(check, said, right)
		}
		list = append(list, v)
	}
	return list
}

// slots of an explanation: slot:stranger, a/b:split or a&b:both.
func slots(explanation string) []string {
	what, _, _ := strings.Cut(explanation, ":")
	return strings.FieldsFunc(what, func(r rune) bool { return r == '/' || r == '&' })
}

func (c Case) slips(check, said string, right bool) []string {
	slips := []string{}
	if strings.HasPrefix(said, "piece:") { // a piece is bad wherever it sits: no control of the exchange applies
		return slips
	}
	if said == "" {
		for _, own := range c.BoardOwn {
			moved := slices.ContainsFunc(c.Readings, func(r Reading) bool {
				return r.Results[check] != "" &&
					slices.Contains(r.Exchanged, own)
			})
			if !right && !moved {
				slips = append(slips, fmt.Sprintf("the board's own part: the %s went with its board, so that an "+
					"exchange of the boards never tested it", own))
			}
		}
		return slips
	}
	lost, off, control := 0, 0, false
	for i, r := range c.Readings {
		here := slices.ContainsFunc(slots(said), func(s string) bool {
			return slices.Contains(r.Exchanged, s) &&
				!slices.Contains(r.Off, s)
		})
		empty := slices.ContainsFunc(slots(said), func(s string) bool { return slices.Contains(r.Off, s) })
		if r.Results[check] != "lost" {
			continue
		}
		if empty {
			off++
		}
		if !here {
			continue
		}
		lost++
		for _, later := range c.Readings[i+1:] {
			back := !slices.ContainsFunc(slots(said), func(s string) bool {
				return slices.Contains(later.Exchanged,
					s) || slices.Contains(later.Off, s)
			})
			control = control || back && later.Board == r.Board && later.Results[check] == "pass"
		}
	}
	switch {
	case lost == 0 && off > 0:
		return append(slips, "left off taken for exchanged: it was lost with the part left off, which says nothing "+
			"about another one")
	case lost == 0:
		return append(slips, "never seen lost with it")
	}
	if !control {
		slips = append(slips, "no control: the original was not put back to see the check return")
	}
	if lost < 2 {
		slips = append(slips, "no repeat: one reading alone, which a bad seat looks just like")
	}
	return slips
}
