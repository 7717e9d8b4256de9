package job

import (
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/app/model"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/ledger"
)

// tries says how often a check was lost with a part from another phone.
func tries(v ledger.Verdict) string {
	switch {
	case v.Rate == nil || v.Rate.Of == 0:
		return "nobody tried it"
	case v.Rate.Of == 1:
		return fmt.Sprintf("1 try, %s: too few to say", map[bool]string{true: "lost", false: "it works"}[v.Rate.Lost == 1])
	case v.Rate.Of < model.FewTries:
		return fmt.Sprintf("lost in %d of %d tries: too few to say", v.Rate.Lost, v.Rate.Of)
	}
	return fmt.Sprintf("lost in %d of %d tries, %.0f to %.0f of 100", v.Rate.Lost, v.Rate.Of, 100*v.Rate.Low, 100*v.Rate.High)
}

// decide says what the card knows by itself: minutes, and what is lost. Whether to take a common job says the gate, which
// knows money and stock; of any other part nobody set a price.
func (j *Card) decide() {
	way := j.Way != nil && j.Way.Blocked == ""
	switch {
	case j.Job != "":
	case j.Part.Supply == "none":
		j.Grade, j.Verdict, j.Why = "refuse", "Do not take it", []string{"the part cannot be had"}
	default:
		j.Grade, j.Verdict = "ask", "Ask first"
		j.Why = []string{"it is none of the five common jobs: nobody set its price, and no stock is counted for it"}
	}
	j.tell()
	j.Answer = answer.Sentence{answer.Name(j.Model.Name, ""), answer.Text(", " + j.Part.Name + ": ")}
	if way {
		j.Answer = append(j.Answer, answer.Text("whole repair "), answer.Number(j.Way.ClosedMinutes, "min", "#minutes"))
	} else {
		j.Answer = append(j.Answer, answer.Text("no way to it is on record, its minutes are not known"))
	}
	j.Answer = append(j.Answer, answer.Text("."))
	if n := len(j.Builds); n == 0 || len(j.Builds[n-1].Losses)+len(j.Builds[n-1].Works) == 0 {
		j.Answer = append(j.Answer, answer.Text(" What is lost with another one is untested."))
	}
	if len(j.Tell) > 0 {
		j.Answer = append(j.Answer, answer.Text(" Tell the customer: "),
			answer.Name(strings.Join(j.Tell[:min(2, len(j.Tell))], ", ")+more(len(j.Tell)-2), "#losses"), answer.Text("."))
	}
}

func more(n int) string {
	if n <= 0 {
		return ""
	}
	return fmt.Sprintf(" and %d more", n)
}

// tell are the functions that were seen lost on the newest build: proven ones, or, where none is, those that may be.
func (j *Card) tell() {
	if len(j.Builds) == 0 {
		return
	}
	last := j.Builds[len(j.Builds)-1]
	for _, l := range last.Losses {
		if l.Verdict.Mark == ledger.Loses {
			j.Tell = append(j.Tell, "lost: "+l.Check)
		}
	}
	for _, l := range last.Losses {
		if l.Verdict.Mark != ledger.Loses && !slices.Contains(j.Tell, l.Check) {
			j.Tell = append(j.Tell, "may be lost: "+l.Check)
		}
	}
}
