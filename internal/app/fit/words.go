package fit

import (
	"fmt"

	"waryowl/internal/core/answer"
	"waryowl/internal/core/fit"
	"waryowl/internal/core/trade"
)

func (r Room) say(g *gathered) answer.Sentence {
	name := func(id string) string {
		for _, l := range r.Lines {
			if l.ID == id {
				return l.Name
			}
		}
		return id
	}
	title := answer.Title(r.Name)
	if len(g.hosts) == 1 {
		return answer.Sentence{answer.Text(title + ": only the "), answer.Name(g.hosts[0].Name, ""),
			answer.Text(" is on record; a second model is needed to ask what is compatible.")}
	}
	s := answer.Sentence{answer.Text(title + ": ")}
	if best := r.telling(g); best != nil {
		s = append(s, answer.Name(name(best.Donor), "#chart"), answer.Text(" into "), answer.Name(name(best.Host), "#chart"),
			answer.Text(" "+trade.Say("level", best.Level)))
		for _, p := range r.Found.Pairs {
			if p.Donor == best.Host && p.Host == best.Donor {
				s = append(s, answer.Text(", the reverse "+reverse(p)))
			}
		}
		s = append(s, answer.Text("; "))
	}
	s = append(s, answer.Text(fmt.Sprintf("%d of ", r.Tried)), answer.Count(r.Of, "ordered pair", "#chart"), answer.Text(" tried"))
	if n, m := len(r.Found.Fewest.Lines), len(r.Found.Naive.Lines); m > 0 && n < m && len(r.Found.Fewest.Unserved) == 0 {
		s = append(s, answer.Text("; "), answer.Count(n, "line", "#lines"), answer.Text(fmt.Sprintf(" to stock instead of %d", m)))
	}
	return append(s, answer.Text("."))
}

func reverse(p fit.Pair) string {
	switch {
	case p.Reached.N == 0 && max(p.Levels[0]+p.Levels[1], p.Serves) < 0.95:
		return "is untested"
	default:
		return trade.Say("level", p.Level)
	}
}

// telling is the tested pair of models that says most: one that works before one that does not, the surer first.
func (r Room) telling(g *gathered) *fit.Pair {
	var best *fit.Pair
	for i, p := range r.Found.Pairs {
		if p.Donor == p.Host || p.Reached.N == 0 || !g.isModel(p.Donor) {
			continue
		}
		if best == nil || p.Serves > best.Serves {
			best = &r.Found.Pairs[i]
		}
	}
	return best
}
