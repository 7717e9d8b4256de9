package handover

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"waryowl/internal/app/study"
	"waryowl/internal/core/ledger"
)

// Claim is a sentence that somebody might publish. One that the evidence does not carry is struck out, with the reason.
type Claim struct {
	Text string `json:"text"`
	May  bool   `json:"may"`
	Why  string `json:"why"`
}

// mostMissing are the conditions that a struck claim names.
const mostMissing = 3

// stated are the verdicts in the words of a reader.
var stated = map[string]string{ledger.Loses: "loses", ledger.Sporadic: "loses, now and then,",
	ledger.Together: "loses, together with another part,", ledger.Dead: "leaves no picture for",
	ledger.WithNotice: "brings a notice at",
	ledger.Works:      "leaves", ledger.Calibrated: "once paired leaves"}

// claims are what the swaps, the ways and the statements would let somebody say.
func (h *Sheet) claims(b *study.Record, r study.Reading) {
	build := h.Build
	if build == "" {
		build = "a software that was not written down"
	}
	works := map[string][]string{}
	open, costly := map[string]bool{}, map[string]bool{}
	for _, st := range ledger.States(r.In) {
		if st[1] == "off" {
			continue
		}
		who := whose(st[0], st[1])
		for _, c := range b.Checks {
			v := r.Grade(st[0], st[1], c.Mark)
			word, told := stated[v.Mark]
			if !told {
				continue
			}
			if v.Mark == ledger.Works || v.Mark == ledger.Calibrated {
				if v.Eye == ledger.Open {
					works[who+" "+word] = append(works[who+" "+word], c.Name)
				} else {
					open[who] = true
				}
				continue
			}
			costly[who] = true
			text := fmt.Sprintf("%s %s %s, on %s.", who, word, lower(c.Name), build)
			h.Claims = append(h.Claims, Claim{text, v.Eye == ledger.Open, why(v)})
		}
	}
	for _, who := range slices.Sorted(maps.Keys(works)) {
		h.Claims = append(
			h.Claims,
			Claim{fmt.Sprintf("%s %s as it was, on %s.", who, lower(strings.Join(works[who], ", ")), build),
				true, "proven check by check; nothing is said of other checks"},
		)
	}
	for who := range costly { // what costs something makes a difference, whatever else passed with it
		delete(open, who)
	}
	if len(open) > 0 {
		h.Claims = append(
			h.Claims,
			Claim{strings.Join(slices.Sorted(maps.Keys(open)), "; ") + ": no difference.", false,
				"some checks passed with each, but not under every condition"},
		)
	}
	for _, w := range h.Ways {
		c := Claim{Text: fmt.Sprintf("The %s takes %.0f min: opened, exchanged, closed and checked.", w.Part, w.ClosedMinutes),
			May: w.Measured == len(w.Steps) && !w.Once}
		switch {
		case w.Measured < len(w.Steps):
			c.Why = fmt.Sprintf("%d of %d steps were never timed", len(w.Steps)-w.Measured, len(w.Steps))
		case w.Once:
			c.Why = "timed on one phone alone"
		default:
			c.Why = "every step was timed"
		}
		h.Claims = append(h.Claims, c)
	}
	for _, q := range h.Questions {
		h.Claims = append(
			h.Claims,
			Claim{q.Text, q.State == "confirmed" && q.Source != "rumour" || q.Settled && q.State == "confirmed",
				map[string]string{"open": "not tested: " + q.Source, "confirmed": "confirmed", "refuted": "refuted"}[q.State]},
		)
	}
	slices.SortStableFunc(h.Claims, func(a, b Claim) int {
		switch {
		case a.May == b.May:
			return 0
		case a.May:
			return -1
		}
		return 1
	})
}

func why(v ledger.Verdict) string {
	if v.Eye == ledger.Open {
		return "lost with it, back without it, seen twice, at work at home"
	}
	var list []string
	for _, m := range v.Missing[:min(mostMissing, len(v.Missing))] {
		list = append(list, m.Text)
	}
	if len(list) == 0 {
		return "not proven"
	}
	return "lacks " + strings.Join(list, "; ")
}

// whose names a piece by where it comes from.
func whose(part, state string) string {
	switch kind, of, _ := strings.Cut(state, "@"); kind {
	case "stranger":
		return "Another phone's " + part
	case "copy":
		return "The copy " + of + " of the " + part
	case "foreign":
		return "The " + part + " of a " + of
	case "adopted":
		return "Another phone's " + part + ", paired,"
	}
	return "A piece of unknown origin for the " + part
}

func lower(s string) string {
	if s != "" && s[0] >= 'A' && s[0] <= 'Z' && (len(s) < 2 || s[1] < 'A' || s[1] > 'Z') {
		return strings.ToLower(s[:1]) + s[1:]
	}
	return s
}

// interests are what was declared of those who made the study; what was not said is said to be so.
func interests(b *study.Record) []string {
	i := b.Interests
	say := func(answer, yes, no, open string) string {
		switch answer {
		case "yes":
			return yes
		case "no":
			return no
		}
		return open
	}
	list := []string{
		say(i.SellsParts, "Who made this sells parts or repairs.", "Who made this sells neither parts nor repairs.",
			"Whether who made this sells parts was not declared."),
		say(
			i.GivenPhone,
			"A phone was given or lent by somebody who sells it.",
			"The phones were neither given nor lent by who sells them.",
			"Whether a phone was given was not declared.",
		),
	}
	if i.Note != "" {
		list = append(list, i.Note)
	}
	return list
}
