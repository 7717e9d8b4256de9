// Package closeup puts a phone back together: the closing list from the steps that were really done, the gates before a
// layer is covered, the reconciliation of everything that came out, and which screw may go into which hole.
package closeup

import (
	"fmt"
	"slices"
	"strings"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/trade"
)

// LayerGate is what must be seen before a line covers it. Kind is connector, coax, cable, lens or dust.
type LayerGate struct {
	Key  string `json:"key"`
	Kind string `json:"kind"`
	Text string `json:"text"`
	N    int    `json:"n"`
}

// Line is one line of the closing list.
type Line struct {
	StepID     string      `json:"step_id"`
	Text       string      `json:"text"`
	Gates      []LayerGate `json:"gates" nullable:"false" doc:"to be ticked before this line"`
	Consumable string      `json:"consumable,omitempty"`
	Frees      []string    `json:"frees" nullable:"false"`
	Screws     int         `json:"screws" doc:"that are asked for: without those that were lost"`

	covers bool     // it lies over others
	under  []string // steps that were opened because of it
}

// about is the kind of the part that a step is about.
func about(s plan.Done, kind func(part string) string) string {
	if s.Part != "" {
		return kind(s.Part)
	}
	return trade.About(s.What)
}

// List turns the done steps, in their real order, into the closing list: reverse order, the battery's connector after
// every other connector that may go before it, waits and heat left out. Conflict names a connector that the order
// forces after it. kind tells the kind of a part.
func List(done []plan.Done, kind func(part string) string) (lines []Line, conflict string) {
	at := map[string]int{}
	for i, s := range done {
		at[s.ID] = i
	}
	follows, wished := make([][]int, len(done)), make([][]int, len(done)) // closing: i before each of these
	waits, wishes := make([]int, len(done)), make([]int, len(done))
	below := make([]map[int]bool, len(done)) // everything that was opened because of i, i itself left out
	for i := range done {
		below[i] = map[int]bool{}
	}
	for i, s := range done {
		for _, id := range s.Before {
			if k, ok := at[id]; ok && k < i {
				follows[i] = append(follows[i], k)
				waits[k]++
			}
		}
	}
	for i := len(done) - 1; i >= 0; i-- {
		for _, k := range follows[i] {
			below[k][i] = true
			for d := range below[i] {
				below[k][d] = true
			}
		}
	}
	battery := func(s plan.Done) bool { return s.Lead() && about(s, kind) == "battery" }
	for b, s := range done {
		if !battery(s) {
			continue
		}
		for c, other := range done {
			if !other.Lead() || battery(other) {
				continue
			}
			if below[c][b] { // the other one lies above the battery's connector
				conflict = other.What
				continue
			}
			if !below[b][c] {
				wished[c] = append(wished[c], b)
				wishes[b]++
			}
		}
	}
	var order []int
	for range done {
		pick := -1
		// two batteries may wish each other last: then the first that can go, goes
		for i := len(done) - 1; i >= 0; i-- {
			if waits[i] == 0 && (pick < 0 || wishes[pick] > 0 && wishes[i] == 0) {
				pick = i
			}
		}
		waits[pick] = -1
		for _, f := range follows[pick] {
			waits[f]--
		}
		for _, f := range wished[pick] {
			wishes[f]--
		}
		order = append(order, pick)
	}
	gated := map[int]bool{}
	order, fresh := glueFirst(done, order, kind)
	for _, pick := range order {
		s := done[pick]
		if trade.Waits(s.Verb) {
			continue
		}
		verb, _ := trade.VerbOf(s.Verb)
		how := verb.Closing
		if s.Verb == "lift" && len(s.Frees) == 0 {
			how = "take back:"
		}
		l := Line{StepID: s.ID, Text: strings.TrimSpace(how + " " + s.What), Gates: []LayerGate{},
			Consumable: s.Consumable,
			Frees:      append([]string{}, s.Frees...)}
		l.Screws = s.Screws()
		own, _ := trade.KindByID(about(s, kind))
		covers := s.Verb == "bracket" || s.Verb == "lift" || s.Verb == "cut" && !fresh[pick] ||
			s.Verb == "unfasten" && own.Covers
		var under []int
		for i := range below[pick] {
			under = append(under, i)
		}
		slices.Sort(under)
		l.covers = covers
		for _, i := range under {
			l.under = append(l.under, done[i].ID)
		}
		lens, board := false, false
		for _, i := range under {
			o := done[i]
			for _, p := range o.Frees {
				k, _ := trade.KindByID(kind(p))
				lens, board = lens || k.Family == "OP", board || k.ID == "main-board"
			}
			if k, _ := trade.KindByID(about(o, kind)); k.Family == "OP" {
				lens = true
			}
			if !covers || gated[i] || !o.Lead() {
				continue
			}
			gated[i] = true
			kind := "connector"
			if o.Joint == "coax" {
				kind = "coax"
			}
			l.Gates = append(l.Gates, LayerGate{"seat " + o.ID, kind, "seated: " + o.What, max(1, o.Count)})
		}
		if covers && board && !gated[-1] {
			gated[-1] = true
			l.Gates = append(l.Gates, LayerGate{"cable", "cable", "no cable caught under the board", 1})
		}
		if covers && s.Verb != "unfasten" && lens && !gated[-2] &&
			slices.ContainsFunc(s.Frees, func(p string) bool {
				k := kind(p)
				return k == "display" ||
					k == "rear-glass"
			}) {
			gated[-2] = true
			l.Gates = append(l.Gates, LayerGate{"film", "lens", "films off the lenses", 1},
				LayerGate{"dust", "dust", "lenses free of dust", 1})
		}
		lines = append(lines, l)
	}
	return lines, conflict
}

// glueFirst moves the fresh adhesive of a part before the line that puts the part in: it cannot be laid under it later.
// fresh are the lines that were moved; they cover nothing, the part does.
func glueFirst(done []plan.Done, order []int, kind func(part string) string) (out []int, fresh map[int]bool) {
	fresh = map[int]bool{}
	holds := func(g, i int) bool {
		glue, s := done[g], done[i]
		k := about(glue, kind)
		if k == "" && glue.Joint == "pull tab" {
			k = "battery"
		}
		if k == "" && glue.Part == "" { // a seal all round: what was opened next
			return i == opened(done, g)
		}
		return slices.ContainsFunc(s.Frees, func(p string) bool { return p == glue.Part || k != "" && k == kind(p) })
	}
	out = slices.Clone(order)
	for _, g := range order {
		s := done[g]
		if s.Joint != "adhesive" && s.Joint != "pull tab" || s.Verb != "cut" && s.Verb != "release" || len(s.Frees) > 0 {
			continue
		}
		at := slices.Index(out, g)
		to := slices.IndexFunc(out[:at], func(i int) bool { return i > g && holds(g, i) })
		if to < 0 {
			continue
		}
		out = slices.Insert(slices.Delete(out, at, at+1), to, g)
		fresh[g] = true
	}
	return out, fresh
}

// opened is the step right after that of a seal, waits left out, where it opens or takes off something; else −1.
func opened(done []plan.Done, g int) int {
	for i := g + 1; i < len(done); i++ {
		if !trade.Waits(done[i].Verb) {
			if slices.Contains([]string{"pry", "peel", "slide", "lift"}, done[i].Verb) {
				return i
			}
			break
		}
	}
	return -1
}

// Item is something that came out, by kind (screw, bracket, part) with where it belongs.
type Item struct {
	Key   string `json:"key"`
	Kind  string `json:"kind" enum:"screw,bracket,part,stray"`
	Name  string `json:"name"`
	Place string `json:"place"`
	Out   int    `json:"out"`
	In    int    `json:"in"`
	Lost  int    `json:"lost"`
	Swap  int    `json:"replaced"`
	Off   int    `json:"left_off"`
}

// Open is how many of an item are unaccounted for.
func (i Item) Open() int { return i.Out - i.In - i.Lost - i.Swap - i.Off }

// Reconcile lists what is unaccounted for; the phone may close when nothing is. A lost item must have been replaced or
// left off on purpose as well: losing it alone leaves its hole empty, which is named apart.
func Reconcile(items []Item) (open []Item, empty []Item) {
	open, empty = []Item{}, []Item{}
	for _, i := range items {
		if i.Open() != 0 {
			open = append(open, i)
		}
		if i.Lost > 0 {
			empty = append(empty, i)
		}
	}
	return open, empty
}

// Water is the phone's resistance to water after sealing.
func Water(seal string) string {
	switch seal {
	case "new adhesive":
		return "considered lost; new adhesive, not tested"
	case "glue over old":
		return "lost: glue over old adhesive"
	case "reused":
		return "lost: old adhesive used again"
	case "none":
		return "none: not sealed"
	}
	return "unknown: say how it was sealed"
}

// Hole is where a screw goes. SafeMM is the length from which something soft lies beneath (0: not measured), GripMM
// what the head holds down (0: not measured); Beneath says what lies there.
type Hole struct {
	ID         string  `json:"id"`
	Name       string  `json:"name"`
	Drive      string  `json:"drive"`
	DiameterMM float64 `json:"diameter_mm"`
	LengthMM   float64 `json:"length_mm"`
	SafeMM     float64 `json:"safe_mm,omitempty"`
	GripMM     float64 `json:"grip_mm,omitempty"`
	Beneath    string  `json:"beneath,omitempty"`
	Count      int     `json:"count"`
	Order      int     `json:"order"`
}

// Mix is what happens when the screw of one hole goes into another.
type Mix struct {
	From    string `json:"from"`
	Into    string `json:"into"`
	Effect  string `json:"effect" enum:"pierces,may pierce,will not hold"`
	Text    string `json:"text"`
	Certain bool   `json:"certain" doc:"false where a depth was not measured"`
}

const sameMM = 0.05 // threads nearer than this are not told apart by hand (house)

// Fits says what a screw of this diameter and length does in a hole: "" when it is safe. Better no screw than a longer
// one.
func Fits(diameter, length float64, into Hole) (effect string, certain bool) {
	switch {
	case diameter > into.DiameterMM+sameMM || diameter < into.DiameterMM-sameMM:
		return "thread", true
	case into.SafeMM > 0 && length > into.SafeMM:
		return "pierces", true
	case into.SafeMM == 0 && length > into.LengthMM+1e-9:
		return "may pierce", false
	case into.GripMM > 0 && length-into.GripMM < into.DiameterMM:
		return "will not hold", true
	}
	return "", into.SafeMM > 0
}

// LookAlikes lists every ordered pair of holes with the same drive and thread whose screws must not be mixed up.
func LookAlikes(holes []Hole) []Mix {
	found := []Mix{}
	for _, a := range holes {
		for _, b := range holes {
			if a.ID == b.ID || a.Drive != b.Drive || a.LengthMM == 0 || a.LengthMM == b.LengthMM {
				continue
			}
			effect, certain := Fits(a.DiameterMM, a.LengthMM, b)
			if effect == "" || effect == "thread" {
				continue
			}
			text := fmt.Sprintf("a %g mm screw of %s in %s (%g mm)", a.LengthMM, a.Name, b.Name, b.LengthMM)
			switch {
			case effect == "pierces":
				text += " pierces " + or(b.Beneath, "what lies beneath")
			case effect == "may pierce":
				text += " is longer than its own, and the depth was not measured"
			default:
				text += " holds by less than one thread diameter"
			}
			found = append(found, Mix{a.ID, b.ID, effect, text, certain})
		}
	}
	return found
}

func or(a, b string) string {
	if a != "" {
		return a
	}
	return b
}

// Substitute is a screw that may take a lost one's place.
type Substitute struct {
	From string `json:"from"`
	Text string `json:"text"`
}

// Substitutes lists the screws that are safe in a hole: same thread, short enough, long enough to hold. Those of the
// same length come first; the drive may differ.
func Substitutes(into Hole, spares []Hole) []Substitute {
	exact, others := []Substitute{}, []Substitute{}
	for _, s := range spares {
		if s.ID == into.ID || s.LengthMM == 0 {
			continue
		}
		if effect, _ := Fits(s.DiameterMM, s.LengthMM, into); effect != "" {
			continue
		}
		sub := Substitute{s.ID, fmt.Sprintf("%s, %s %g × %g mm", s.Name, s.Drive, s.DiameterMM, s.LengthMM)}
		if s.LengthMM == into.LengthMM {
			exact = append(exact, sub)
		} else {
			others = append(others, sub)
		}
	}
	return append(exact, others...)
}
