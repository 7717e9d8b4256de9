// Package trade is the vocabulary of the trade as data: verbs, joints, drives, tools, methods, part kinds, checks,
// incidents, units and cautions, each with the certainty with which it is known. Whatever must be told apart is an id
// from here; words are made of it at the very end. Matching, priors, scores and prices go by kind, never by a part's
// name.
//
//	k, _ := trade.KindOf("screen protector flex") // "" and false: a flex is no part of its own
//	k, _ = trade.KindOf("Front-facing cameras")   // "front-camera"
package trade

import "strings"

// Certainty says where a constant of the trade comes from.
type Certainty string

// The certainties.
const (
	Published  Certainty = "published"
	FromMemory Certainty = "from memory"
	Practice   Certainty = "common practice, no source"
	House      Certainty = "house"
)

// Plain makes two spellings of a name comparable: lower case, spaces for hyphens and slashes, no other marks, British
// spelling.
func Plain(s string) string {
	s = strings.Map(func(r rune) rune {
		switch {
		case r == '-' || r == '/' || r == '_' || r == '\u2010' || r == '\u2011' || r == '\u2013':
			return ' '
		case r == '.' || r == ',' || r == '“' || r == '”' || r == '"' || r == '\'' || r == '’':
			return -1
		}
		return r
	}, strings.ToLower(s))
	words := strings.Fields(s)
	for i, w := range words {
		if british := spelling[w]; british != "" {
			words[i] = british
		}
	}
	return strings.Join(words, " ")
}

// spelling turns other spellings of single words into ours: American ones, and what hands in gloves make of them.
var spelling = map[string]string{"color": "colour", "stabilization": "stabilisation", "stabilizer": "stabiliser",
	"mic":  "microphone",
	"mics": "microphones", "batery": "battery", "battry": "battery", "batt": "battery", "baterry": "battery",
	"dispaly": "display",
	"disply":  "display", "camra": "camera", "cam": "camera", "cams": "cameras", "speeker": "speaker",
	"conector": "connector",
	"conn":     "connector", "braket": "bracket", "brkt": "bracket", "sheild": "shield", "vibrator": "vibration motor",
	"mainboard": "main board", "motherboard": "main board", "midplate": "mid plate", "midframe": "mid frame",
	"ultrawide": "ultra wide", "flashlight": "flash", "hairdryer": "hair dryer", "heatgun": "heat gun",
	"hotplate":  "hot plate",
	"crosshead": "cross head", "loudspeeker": "loudspeaker", "antena": "antenna", "adhesiv": "adhesive",
	"scew":  "screw",
	"scews": "screws", "scr": "screws"}

// Singular is a word without the ending of its plural.
func Singular(w string) string {
	switch {
	case strings.HasSuffix(w, "ies") && len(w) > 4:
		return w[:len(w)-3] + "y"
	case strings.HasSuffix(w, "sses"), strings.HasSuffix(w, "ches"), strings.HasSuffix(w, "shes"), strings.HasSuffix(w,
		"xes"):
		return w[:len(w)-2]
	case strings.HasSuffix(w, "ss"), strings.HasSuffix(w, "us"), strings.HasSuffix(w, "is"), w == "lens":
		return w
	case strings.HasSuffix(w, "s") && len(w) > 2:
		return w[:len(w)-1]
	}
	return w
}

// singular is a phrase with its last word in the singular.
func singular(plain string) string {
	i := strings.LastIndexByte(plain, ' ') + 1
	return plain[:i] + Singular(plain[i:])
}
