// Package first is the first page: by role what to do next with its price and reason, then what the role looks after.
package first

import (
	"context"
	"fmt"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/core/answer"
)

// Next is something that may be done next. Path is the address of its room.
type Next struct {
	Title   string  `json:"title"`
	Why     string  `json:"why,omitempty"`
	Minutes float64 `json:"minutes,omitempty" doc:"0: not known"`
	Path    string  `json:"path"`
	Look    bool    `json:"look,omitempty" doc:"something is late or wrong"`
	Study   string  `json:"study_id,omitempty" doc:"the study that it belongs to"`
	Waits   string  `json:"waits,omitempty" doc:"what its study waits for, for the sentence on top"`

	first int // the higher, the sooner
}

// Room is the first page of a role. What the role has nothing to do with is empty.
type Room struct {
	Answer  answer.Sentence `json:"answer" nullable:"false"`
	Empty   bool            `json:"empty" doc:"nothing is on record yet: begin with the three steps"`
	Begin   []Step          `json:"begin" nullable:"false" doc:"of an empty store"`
	Next    []Next          `json:"next" nullable:"false"`
	Studies []StudyLine     `json:"studies" nullable:"false"`
	Models  []ModelLine     `json:"models" nullable:"false"`
	Jobs    []JobLine       `json:"jobs" nullable:"false" doc:"phones on the bench today, in order"`
	Arrived []Arrival       `json:"arrived" nullable:"false" doc:"parts that came in"`
	Stock   []StockLine     `json:"stock" nullable:"false" doc:"parts that run out, the soonest first"`
	Lots    []Arrival       `json:"lots" nullable:"false" doc:"lots that nobody has inspected"`
	Late    []Late          `json:"late" nullable:"false" doc:"orders that are late"`
	Old     []OldPrice      `json:"old" nullable:"false" doc:"sellers whose prices are older than 30 days"`
	Office  *Office         `json:"office,omitempty"`
}

// Step is one of the steps of an empty store.
type Step struct {
	Title string `json:"title"`
	Why   string `json:"why"`
	Path  string `json:"path"`
	Done  bool   `json:"done"`
	Mine  bool   `json:"mine" doc:"this role may do it"`
}

// Show is the first page of whoever asks.
func Show(ctx context.Context, s *act.Service, who act.Actor) (Room, error) {
	v := Room{Begin: []Step{}, Next: []Next{}, Studies: []StudyLine{}, Models: []ModelLine{}, Jobs: []JobLine{},
		Arrived: []Arrival{}, Stock: []StockLine{}, Lots: []Arrival{}, Late: []Late{}, Old: []OldPrice{}}
	if err := v.begin(ctx, s, who); err != nil {
		return v, err
	}
	var err error
	switch who.Role {
	case act.Technician:
		err = v.technician(ctx, s)
	case act.Buyer:
		err = v.buyer(ctx, s)
	case act.Administrator:
		err = v.office(ctx, s)
	default:
		err = v.analyst(ctx, s)
	}
	v.say(who)
	return v, err
}

// mostNext is how many acts stand on top.
const mostNext = 5

// say is the sentence on top: the first thing to do, and what it takes.
func (v *Room) say(who act.Actor) {
	if len(v.Next) > mostNext {
		v.Next = v.Next[:mostNext]
	}
	switch {
	case v.Empty:
		for _, s := range v.Begin {
			if !s.Done && s.Mine {
				v.Answer = answer.Sentence{answer.Text("Nothing is on record yet. Begin here: " + s.Title + ".")}
				return
			}
		}
		v.Answer = answer.Sentence{answer.Text("Nothing is on record yet. Others begin: what is to be done then stands here.")}
		return
	case len(v.Next) == 0:
		v.Answer = answer.Sentence{answer.Text("Nothing waits for you. " + map[act.Role]string{
			act.Analyst:       "Open a study with the phone that lies before you.",
			act.Technician:    "Find a phone, or a part of one.",
			act.Buyer:         "Stock, prices and lots are as they should be.",
			act.Administrator: "People, backup and disk are as they should be.",
		}[who.Role])}
		return
	}
	n := v.Next[0]
	if v.Answer = (answer.Sentence{answer.Text("Next: "), answer.Name(n.Title, "#next")}); n.Waits != "" {
		name, _, _ := strings.Cut(n.Title, ": ")
		v.Answer = answer.Sentence{answer.Name(name, "#next"), answer.Text(" waits for " + n.Waits)}
	}
	if n.Minutes >= 1 {
		v.Answer = append(v.Answer, answer.Text(", "), answer.Number(n.Minutes, "min", "#next"))
	}
	rest := "."
	if more := len(v.Next) - 1; more > 0 {
		rest = fmt.Sprintf("; %s.", answer.Counted(more, "more thing to do after it"))
		if more > 1 {
			rest = fmt.Sprintf("; %d more after it.", more)
		}
	}
	v.Answer = append(v.Answer, answer.Text(rest))
}
