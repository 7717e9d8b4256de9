// Package hazard holds the cautions that stand at a step. They advise; local law, workshop rules, the maker's
// instructions and licensed practice decide, see [Notice].
package hazard

import (
	"slices"

	"waryowl/internal/core/plan"
	"waryowl/internal/core/trade"
)

// Notice stands on every printed sheet and wherever cautions are listed.
const Notice = "Advice only. Local law, workshop rules, the maker's instructions and licensed practice decide."

// Caution is one warning with what to do. Certainty says where it comes from.
type Caution struct {
	ID        string `json:"id"`
	Text      string `json:"text"`
	Do        string `json:"do"`
	Certainty string `json:"certainty"`
}

const practice = "common practice, no source"

// rules say at which steps a caution stands: by the step, and by the kinds of the parts that it is about or frees.
var rules = []struct {
	applies func(s plan.Step, about, freed func(kind string) bool) bool
	Caution
}{
	{func(s plan.Step, about, _ func(string) bool) bool { return s.Verb == "disconnect" && about("battery") },
		Caution{"short", "A metal tool at the battery connector can short the battery.",
			"Plastic tool only; this connector comes off first and goes on last.", practice}},
	{func(s plan.Step, about, freed func(string) bool) bool {
		return freed("battery") || s.Verb != "disconnect" && about("battery")
	},
		Caution{"cell", "A lithium battery burns when pierced, bent, shorted or heated above 60 °C.",
			"Discharge below the workshop's limit, no sharp tool, fire-safe box in reach. Swollen battery: stop.",
			practice}},
	{func(s plan.Step, _, _ func(string) bool) bool { return s.Verb == "heat" },
		Caution{"hot", "Hot surface; heat marks panels and harms cells.",
			"Gloves, watch the ceiling temperature, let it cool when ripples show.", practice}},
	{func(s plan.Step, _, _ func(string) bool) bool { return s.Verb == "solvent" },
		Caution{"vapour", "Solvent vapour burns and harms.", "Extraction on, no heat or flame until it has dried.",
			practice}},
	{func(s plan.Step, _, _ func(string) bool) bool { return s.Verb == "cut" || s.Verb == "pry" },
		Caution{"shards", "Glass can break under a pick or lever.",
			"Eye protection on, plastic pick, stay within the pick depth.", practice}},
	{func(s plan.Step, about, _ func(string) bool) bool { return s.Verb == "release" && about("battery") },
		Caution{"voltage", "A direct voltage on the wrong tabs heats the battery or does nothing.",
			"Check the polarity of this model, current-limited supply, stop when it grows warm.", practice}},
	{func(s plan.Step, _, _ func(string) bool) bool { return s.Joint == "solder" },
		Caution{"fumes", "Hot air and solder fumes.", "Only trained people, with extraction.", practice}},
	{func(s plan.Step, _, freed func(string) bool) bool { return freed("main-board") },
		Caution{"static", "Static discharge kills boards unseen.", "Wrist strap and grounded surface; hold the board by its edges.",
			practice}},
}

// For lists the cautions of one step. kind tells the kind of a part by its id; a step without a part is about what its
// words speak of.
func For(s plan.Step, kind func(part string) string) []Caution {
	var spoken []string
	if s.Part == "" {
		spoken = trade.Mentions(s.What)
	}
	about := func(k string) bool { return s.Part != "" && kind(s.Part) == k || slices.Contains(spoken, k) }
	freed := func(k string) bool {
		return slices.ContainsFunc(s.Frees, func(p string) bool { return kind(p) == k })
	}
	found := []Caution{}
	for _, r := range rules {
		if r.applies(s, about, freed) {
			found = append(found, r.Caution)
		}
	}
	return found
}

// Acting lists the cautions of work that no plan describes: a phone is opened, its cell is handled, its board is bare.
func Acting(opens, cell, board bool) []Caution {
	want := map[string]bool{"short": opens || cell, "cell": cell, "shards": opens, "static": board}
	found := []Caution{}
	for _, r := range rules {
		if want[r.ID] {
			found = append(found, r.Caution)
		}
	}
	return found
}
