package benchline

import (
	"slices"
	"strings"

	"waryowl/internal/core/closeup"
	"waryowl/internal/core/interlock"
	"waryowl/internal/core/phrase"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
)

// What becomes of a part that was pried, cut, pulled, peeled or slid.
const (
	leftOff   = "off"   // it left the phone, like a part that was lifted out
	leftLoose = "loose" // it hangs, stands open, or sits where it was
)

// leavesBy is what the words of a line say of it, "" where they do not.
func leavesBy(words string) string {
	said := ""
	for _, t := range phrase.Tokens(words) {
		switch {
		case slices.Contains(shorthand.LooseWords, t.Low):
			said = leftLoose
		case slices.Contains(shorthand.OffWords, t.Low):
			said = leftOff
		}
	}
	return said
}

// leaving says what becomes of the part that a fact is about, "" where the act leaves no doubt or is about something else:
// its adhesive, its lead. Where the line does not say it, a part counts as off when nothing of it is known to hold: no
// lead and no screw of the plan that is not out, and, for what always has a lead, a lead that is off.
func (c Context) leaving(a FactAnswer) string {
	f := a.Fact
	if f.Back || f.Outcome == "gave up" || f.Outcome == "not tried" || !slices.Contains(shorthand.Leavers, f.Verb) ||
		trade.Lead(f.Joint) || f.Joint == "pull tab" {
		return ""
	}
	if f.Part == "" && a.NewPart == nil {
		switch {
		case f.What == "" || trade.JointOf(f.What).ID != "" || f.Joint != "":
			return ""
		case a.Leaves != "" || f.Verb == "cut":
			return a.Leaves
		}
		return leftOff
	}
	if f.What != "" || f.Joint == "tape" {
		return ""
	}
	if c.out(f.Part) { // it is beside the phone already
		return ""
	}
	if a.Leaves != "" || f.Verb == "cut" { // what is cut is mostly the adhesive
		return a.Leaves
	}
	kind := c.partKind(f.Part)
	if a.NewPart != nil {
		kind = a.NewPart.Kind
	}
	if c.held(f.Part, kind) {
		return leftLoose
	}
	return leftOff
}

// out says whether a part left the phone by a step that is done.
func (c Context) out(part string) bool {
	return part != "" && slices.ContainsFunc(c.Steps, func(s plan.Step) bool {
		return slices.Contains(s.Frees, part) && c.Done.Has(s.ID)
	})
}

// held says whether a part is still held by something that the plan or its kind knows of.
func (c Context) held(part, kind string) bool {
	loose := false // a lead of it is off
	for _, s := range c.Steps {
		if part == "" || c.part(s) != part || !s.Lead() && s.Verb != "unfasten" {
			continue
		}
		if !c.Done.Has(s.ID) {
			return true
		}
		loose = loose || s.Lead()
	}
	if kind == "battery" && c.State.BatteryOff {
		return false
	}
	return led[kind] && !loose
}

// SayLeaving puts into the words of a fact whether its part left the phone.
func SayLeaving(say, leaves string) string {
	for _, v := range []struct{ as, off, verb string }{{"Pry up ", "Pry off ", "Pry"}, {"Peel off ", "Peel off ", "Peel"},
		{"Slide ", "Slide out ", "Slide"}, {"Cut ", "Cut off ", "Cut"}} {
		rest, ok := strings.CutPrefix(say, v.as)
		if !ok || leaves == "" {
			continue
		}
		if leaves == leftOff {
			return v.off + rest
		}
		what, more, _ := strings.Cut(rest, ",")
		if more != "" {
			more = "," + more
		}
		return v.verb + " " + what + " loose" + more
	}
	return say
}

// between is what a draft's own stretch of the line says of its part.
func between(text string, d draft) string {
	rs := []rune(text)
	if d.from > d.to || d.to > len(rs) {
		return ""
	}
	return leavesBy(string(rs[d.from:d.to]))
}

// echoLeaving adds to the echo the word that said what becomes of the part, so that it is read the same way again.
func (a *FactAnswer) echoLeaving(said string) {
	if said != "" && a.Leaves == said && a.Fact.Part+a.Fact.What != "" && !strings.HasSuffix(a.Echo, " "+said) {
		a.Echo += " " + said
	}
}

// covered is the stop of a cover that goes back on over what nobody has seen yet.
func (c Context) covered(step string, back bool) []interlock.Stop {
	var hidden []string
	for _, h := range c.Covers[step] {
		hidden = append(hidden, h.Text)
	}
	if !back || len(hidden) == 0 {
		return nil
	}
	return []interlock.Stop{interlock.Covered(hidden)}
}

// shown takes out of the covers what a line has put back on or seen seated.
func (c Context) shown(step string, a FactAnswer) Context {
	if !a.Fact.Back && a.Fact.Connector == "" {
		return c
	}
	covers := map[string][]closeup.Hidden{}
	for id, list := range c.Covers {
		covers[id] = slices.DeleteFunc(slices.Clone(list), func(h closeup.Hidden) bool {
			return h.Step == step && (h.Off || a.Fact.Connector == "seated" || a.Fact.Connector == "off on purpose")
		})
	}
	c.Covers = covers
	return c
}
