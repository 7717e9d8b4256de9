package narrate

import (
	"fmt"
	"strings"
)

var sayVerb = map[string]string{"unfasten": "unscrew", "lift": "take out", "disconnect": "unplug", "peel": "peel off",
	"pry": "pry off", "unclip": "unclip", "cut": "cut around",
	"pull": "pull", "open": "open", "slide": "slide", "insert": "insert a tool at", "clean": "clean", "bend": "bent",
	"switch-off": "switch off",
	"switch-on":  "switch on"}

var sayKind = map[string]string{"release": "pull the tabs of", "count": "counted", "measure": "measured",
	"incident": "went wrong", "part": "on record", "covers": "covers",
	"hidden": "hidden", "left_over": "left over", "caution": "keep clear of", "note": "note", "check": "check",
	"unit": "about the phone", "trial": "swap test",
	"verdict": "judgement", "score": "score", "price": "price", "heat": "heat the", "solvent": "solvent at",
	"wait": "wait", "put_back": "put back"}

// Say is a proposal in the words of the page: "unscrew 2 five-lobe screws", "put back: battery".
func (p Proposal) Say() string {
	what := p.Object
	if p.Count > 0 && p.Kind != "incident" {
		what = fmt.Sprint(p.Count, " ", what)
	}
	if p.Count > 1 && !strings.HasSuffix(what, "s") {
		what += "s"
	}
	lead := sayKind[p.Kind]
	switch p.Kind {
	case "step":
		lead = sayVerb[p.Verb]
	case "put_back":
		lead = map[string]string{"unfasten": "screw in", "disconnect": "plug in", "peel": "lay"}[p.Verb]
		if lead == "" {
			lead = sayKind[p.Kind]
		}
	case "incident":
		lead = strings.ReplaceAll(p.Verb, "-", " ") + ":"
	case "check":
		what += ": " + map[string]string{"pass": "works", "weak": "weak", "lost": "does not work", "untested": "not tested",
			"try": "to try"}[p.Verb]
	case "trial", "verdict":
		lead += ": " + p.Verb
	case "part":
		lead = map[string]string{"has": "there is a", "lacks": "there is no", "changed": "changed:",
			"differs": "not all alike:", "same": "all alike:"}[p.Verb]
	}
	say := strings.TrimSpace(lead + " " + what)
	if p.Value != nil {
		say += ", " + p.Value.String()
	}
	for _, v := range p.More {
		say += ", " + v.String()
	}
	return say
}

// String writes a figure with its unit.
func (v Value) String() string {
	if strings.HasPrefix(v.Unit, "/") {
		return fmt.Sprintf("%g of %s", v.N, v.Unit[1:])
	}
	return fmt.Sprintf("%g %s", v.N, strings.Replace(v.Unit, "C", "°C", 1))
}
