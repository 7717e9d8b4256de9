package faultfind

import (
	"cmp"
	"math"
	"slices"
	"strings"
)

// said is how people say a symptom, besides its name (common practice, no source).
var said = map[string][]string{
	"no start": {"dead", "does not turn on", "will not switch on", "no power", "does not power up", "bricked", "stays off",
		"nothing happens", "no boot", "does not start", "will not boot"},
	"no charge": {"does not charge", "not charging", "charging dead", "charges only at an angle", "charging slow",
		"plug loose",
		"cable falls out", "charge port loose", "no charge by cable", "battery does not fill"},
	"dark screen": {"black screen", "no picture", "display dead", "no image", "screen black but it rings", "backlight out",
		"screen stays black", "panel dark", "display broken", "screen cracked and black"},
	"touch dead": {"touch not working", "does not react to touch", "screen does not respond", "ghost touch",
		"screen frozen",
		"cannot swipe", "digitizer dead"},
	"rear camera dead":  {"back camera black", "main camera not working", "rear camera blurry", "camera does not focus"},
	"front camera dead": {"selfie camera black", "front camera not working", "no video call picture"},
	"all cameras dead":  {"cameras do not open", "no camera works", "camera app crashes", "both cameras black"},
	"no sound at the ear": {"cannot hear callers", "earpiece quiet", "no sound in calls", "call volume low",
		"cannot hear anybody",
		"ear speaker dead"},
	"no sound from the loudspeaker": {"speaker crackles", "no ringtone", "no sound", "speaker quiet", "music muffled",
		"loudspeaker dead", "rattles"},
	"no vibration": {"does not vibrate", "vibrator dead", "no buzz", "silent mode does not shake"},
	"no signal": {"no service", "no network", "no bars", "emergency calls only", "card not read", "cannot call",
		"no reception",
		"no sim"},
	"wireless charging dead": {"does not charge on the pad", "pad charging dead", "no charge without cable", "coil dead",
		"no wireless charge"},
	"face unlock lost":   {"face not recognised", "face unlock not available", "does not know my face"},
	"finger unlock lost": {"fingerprint not working", "finger not recognised", "finger sensor dead"},
	"restarts": {"restarts by itself", "reboots", "boot loop", "turns off at thirty percent", "crashes",
		"shuts down by itself",
		"switches itself off"},
	"swollen or hot": {"battery swollen", "screen lifts", "gets hot", "bulging", "back pops off", "swelling",
		"burning smell",
		"overheats"},
	"water": {"fell into water", "wet", "was in the sea", "water damage", "rain", "liquid inside", "dropped in the sink",
		"soaked"},
}

// Said lists how people say a symptom.
func Said(symptom string) []string { return slices.Clone(said[symptom]) }

// fillers are words that tell nothing of a symptom.
var fillers = map[string]bool{"the": true, "a": true, "my": true, "it": true, "is": true, "at": true, "to": true,
	"of": true, "and": true,
	"any": true, "on": true, "in": true, "by": true, "since": true, "phone": true, "but": true, "when": true,
	"with": true, "i": true,
	"was": true, "has": true, "after": true, "from": true, "anymore": true, "more": true, "just": true, "will": true,
	"s": true}

// same are words that stand for another one.
var same = map[string]string{"wont": "not", "doesnt": "not", "does": "not", "cannot": "not", "cant": "not",
	"no": "not", "none": "not",
	"never": "not", "isnt": "not", "do": "not", "broken": "dead", "kaputt": "dead", "gone": "dead", "screen": "display",
	"panel":   "display",
	"picture": "image", "switch": "turn", "black": "dark", "reboot": "restart", "fingerprint": "finger", "selfie": "front",
	"back": "rear", "speaker": "loudspeaker", "wifi": "network", "reception": "signal", "service": "signal",
	"bar": "signal", "hear": "sound",
	"swelling": "swollen", "bulging": "swollen", "bulge": "swollen", "overheat": "hot", "heat": "hot", "port": "charge",
	"plug": "charge", "boot": "start",
	"power": "start", "respond": "react", "moisture": "water", "liquid": "water", "sea": "water"}

func stems(text string) []string {
	var out []string
	for _, w := range strings.FieldsFunc(strings.ToLower(strings.NewReplacer("’", "", "'", "").Replace(text)),
		func(r rune) bool {
			return (r < 'a' || r > 'z') && (r < '0' || r > '9')
		}) {
		for _, end := range []string{"ing", "es", "ed", "s"} {
			if cut := strings.TrimSuffix(w, end); len(cut) >= 4 && cut != w {
				w = cut
				break
			}
		}
		if x, known := same[w]; known {
			w = x
		}
		w = strings.TrimSuffix(w, "e")
		if !fillers[w] && w != "" && !slices.Contains(out, w) {
			out = append(out, w)
		}
	}
	return out
}

// Find lists the symptoms of the shipped table that words like these may mean, the likeliest first; all of them for
// no words.
func Find(words string) []string {
	order := SymptomOrder()
	asked := stems(words)
	if len(asked) == 0 {
		return slices.Clone(order)
	}
	phrases := map[string][][]string{}
	often := map[string]float64{}
	for _, s := range order {
		seen := map[string]bool{}
		for _, text := range append([]string{s}, said[s]...) {
			list := stems(text)
			phrases[s] = append(phrases[s], list)
			for _, w := range list {
				if !seen[w] {
					often[w]++
				}
				seen[w] = true
			}
		}
	}
	weight := func(w string) float64 { return math.Log(1 + float64(len(order))/max(.5, often[w])) }
	meets := func(w string, list []string) bool {
		return slices.ContainsFunc(list, func(x string) bool {
			return x == w || len(w) >= 3 && strings.HasPrefix(x, w) || len(x) >= 4 && strings.HasPrefix(w, x)
		})
	}
	score := map[string]float64{}
	for s, list := range phrases {
		for _, p := range list {
			hit, all := 0.0, 0.0
			for _, w := range asked {
				if meets(w, p) {
					hit += weight(w)
				}
			}
			for _, w := range p {
				all += weight(w)
			}
			score[s] = max(score[s], hit*hit/all+hit)
		}
	}
	found := slices.DeleteFunc(slices.Clone(order), func(s string) bool { return score[s] == 0 })
	slices.SortStableFunc(found, func(a, b string) int { return cmp.Compare(score[b], score[a]) })
	return found
}

// Quick are the checks whose reading tells most of a symptom, the most first: those that need a component of a cause,
// without the checks that show the symptom itself.
func Quick(symptom string) []string {
	t := Shipped()
	s, known := t.Symptoms[symptom]
	if !known {
		return nil
	}
	mass := map[string]float64{}
	var list []string
	for check, needs := range t.Needs {
		if check == s.Check || slices.Contains(s.Also, check) {
			continue
		}
		for _, c := range s.Causes {
			if slices.Contains(needs, c.Component) {
				mass[check] += c.P
			}
		}
		if mass[check] > 0 {
			list = append(list, check)
		}
	}
	slices.SortFunc(list, func(a, b string) int { return cmp.Or(cmp.Compare(mass[b], mass[a]), strings.Compare(a, b)) })
	return list
}

// Causes names the causes of an act of a symptom and their components, in its order.
func Causes(symptom, act string) (causes, components []string) {
	s := Shipped().Symptoms[symptom]
	for _, a := range s.Acts {
		if a.Act == act {
			for _, c := range a.Of {
				causes, components = append(causes, c), append(components, s.Causes[c].Component)
			}
		}
	}
	return causes, components
}

// ActOf is an act of a symptom of the shipped table.
func ActOf(symptom, act string) (Act, bool) {
	for _, a := range Shipped().Symptoms[symptom].Acts {
		if a.Act == act {
			return a, true
		}
	}
	return Act{}, false
}
