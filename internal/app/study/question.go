package study

import (
	"slices"
	"strings"

	"waryowl/internal/core/ledger"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// Link finds in the words of a statement the part, the check and what it claims of a stranger, where nothing was linked
// by hand: "does the screen cost face unlock?" claims that the display loses the face unlock.
func (b *Record) Link(h store.Hypothesis) store.Hypothesis {
	if h.PartID != "" || h.Check != "" {
		if h.Claim == "" {
			h.Claim = "loses"
		}
		return h
	}
	text := " " + trade.Plain(strings.Trim(h.Text, " ?!.")) + " "
	part, longest := "", 0
	for _, p := range b.Slots() {
		for _, name := range append([]string{p.Name}, p.Aliases...) {
			if n := trade.Plain(name); len(n) > longest && strings.Contains(text, " "+n+" ") {
				part, longest = p.ID, len(n)
			}
		}
	}
	kinds := trade.Mentions(h.Text)
	for _, p := range b.Slots() {
		if part == "" && slices.Contains(kinds, b.Know.Kind(p.ID)) {
			part = p.ID
		}
	}
	check, longest := "", 0
	for _, c := range b.Checks {
		for _, name := range []string{c.Name, c.Mark} {
			if n := trade.Plain(name); len(n) > longest && strings.Contains(text, " "+n+" ") {
				check, longest = c.Mark, len(n)
			}
		}
	}
	if part == "" || check == "" {
		return h
	}
	h.PartID, h.Check, h.Claim = part, check, "loses"
	for _, w := range strings.Fields(text) {
		if slices.Contains([]string{"keeps", "keep", "works", "work", "survives", "harmless"}, w) {
			h.Claim = "works"
		}
	}
	return h
}

// Question is a statement to settle, and how the swaps settle it.
type Question struct {
	store.Hypothesis
	Part    string   `json:"part,omitempty"`
	Verdict string   `json:"verdict,omitempty" doc:"what the swaps say of a stranger there"`
	Eye     string   `json:"eye" enum:"shut,half,open"`
	Trials  []string `json:"trials" nullable:"false" doc:"those that it rests on"`
	Settled bool     `json:"settled" doc:"closed by the verdict, not by hand"`
}

// Questions are the statements of the study as this reading answers them. A proven verdict closes the statement that it
// is linked to, whatever was set by hand.
func (r Reading) Questions(b *Record) []Question {
	list := []Question{}
	for _, h := range b.Hypotheses {
		h = b.Link(h)
		q := Question{Hypothesis: h, Eye: ledger.Shut, Trials: []string{}}
		if p, ok := b.Know.PartByID[h.PartID]; ok && slices.Contains(r.Study.Checks, h.Check) {
			q.Part = p.Name
			v := r.Grade(p.Name, "stranger", h.Check)
			q.Verdict, q.Eye, q.Trials = v.Mark, v.Eye, slices.Concat(v.For, v.Against)
			loses := slices.Contains([]string{ledger.Loses, ledger.Dead, ledger.Sporadic}, v.Mark)
			if q.Settled = v.Eye == ledger.Open && (loses || v.Mark == ledger.Works); q.Settled {
				q.State = "refuted"
				if loses == (h.Claim != "works") {
					q.State = "confirmed"
				}
			}
		}
		list = append(list, q)
	}
	return list
}

// Asked are the checks that open statements are about: what is next is weighed over them too.
func (r Reading) Asked(b *Record) []string {
	var list []string
	for _, h := range b.Hypotheses {
		if h = b.Link(h); h.State == "open" && slices.Contains(r.Study.Checks, h.Check) && !slices.Contains(list, h.Check) {
			list = append(list, h.Check)
		}
	}
	return list
}
