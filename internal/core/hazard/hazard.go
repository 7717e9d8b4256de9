// Package hazard holds the cautions that stand at a step. They advise; local law, workshop rules, the maker's
// instructions and licensed practice decide, see [Notice].
package hazard

import "strings"

// Notice stands on every printed sheet and wherever cautions are listed.
const Notice = "Advice only. Local law, workshop rules, the maker's instructions and licensed practice decide."

// Caution is one warning with what to do. Certainty says where it comes from.
type Caution struct {
	ID        string `json:"id"`
	Text      string `json:"text"`
	Do        string `json:"do"`
	Certainty string `json:"certainty"`
}

// Step is what a caution looks at.
type Step struct {
	Verb, Tool, Joint, What string
	Frees                   []string
}

const practice = "common practice, no source"

var rules = []struct {
	applies func(Step) bool
	Caution
}{
	{func(s Step) bool { return s.Verb == "disconnect" && strings.Contains(s.What, "battery") },
		Caution{"short", "A metal tool at the battery connector can short the cell.",
			"Plastic tool only; this connector comes off first and goes on last.", practice}},
	{func(s Step) bool {
		return contains(s.Frees, "battery") || s.Verb != "disconnect" && strings.Contains(s.What, "battery")
	},
		Caution{"cell", "A lithium cell burns when pierced, bent, shorted or heated above 60 °C.",
			"Discharge below the workshop's limit, no sharp tool, fire-safe box in reach. Swollen cell: stop.",
			practice}},
	{func(s Step) bool { return s.Verb == "heat" },
		Caution{"hot", "Hot surface; heat marks panels and harms cells.",
			"Gloves, watch the ceiling temperature, let it cool when ripples show.", practice}},
	{func(s Step) bool { return s.Verb == "solvent" },
		Caution{"vapour", "Solvent vapour burns and harms.", "Extraction on, no heat or flame until it has dried.",
			practice}},
	{func(s Step) bool { return s.Verb == "cut" || s.Verb == "pry" },
		Caution{"shards", "Glass can break under a pick or lever.",
			"Eye protection on, plastic pick, stay within the pick depth.", practice}},
	{func(s Step) bool { return s.Joint == "solder" },
		Caution{"fumes", "Hot air and solder fumes.", "Only trained people, with extraction.", practice}},
	{func(s Step) bool { return contains(s.Frees, "main board") },
		Caution{"static", "Static discharge kills boards unseen.", "Wrist strap and mat; hold the board by its edges.",
			practice}},
}

// For lists the cautions of one step.
func For(s Step) []Caution {
	found := []Caution{}
	for _, r := range rules {
		if r.applies(s) {
			found = append(found, r.Caution)
		}
	}
	return found
}

func contains(list []string, word string) bool {
	for _, s := range list {
		if strings.Contains(s, word) {
			return true
		}
	}
	return false
}
