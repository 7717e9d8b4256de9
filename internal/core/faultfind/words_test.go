package faultfind

import (
	"slices"
	"testing"
)

// TestFind: a symptom is among the first two that its words find, as people say it who never saw the list (common
// practice, no source).
func TestFind(t *testing.T) {
	first := 0
	told := map[string]string{"it's dead": "no start", "won't turn on": "no start", "no charge": "no charge",
		"doesn't charge anymore": "no charge",
		"black screen":           "dark screen", "screen is black but I can hear it ring": "dark screen",
		"touch doesn't work":   "touch dead",
		"back camera is black": "rear camera dead", "selfie cam": "front camera dead",
		"cameras won't open":    "all cameras dead",
		"can't hear the caller": "no sound at the ear", "speaker crackling": "no sound from the loudspeaker",
		"no vibration": "no vibration",
		"no service":   "no signal", "won't charge on a wireless pad": "wireless charging dead",
		"face unlock gone":   "face unlock lost",
		"fingerprint broken": "finger unlock lost", "keeps rebooting": "restarts", "swollen battery": "swollen or hot",
		"fell in the sea":  "water",
		"it gets very hot": "swollen or hot", "display dark": "dark screen", "does not vibrate": "no vibration",
		"no bars":       "no signal",
		"plug is loose": "no charge", "shuts down at random": "restarts"}
	for words, want := range told {
		found := Find(words)
		if k := slices.Index(found, want); k < 0 || k > 1 {
			t.Errorf("%q: %v, want %q", words, found[:min(3, len(found))], want)
		} else if k == 0 {
			first++
		}
	}
	if first*10 < len(told)*9 {
		t.Errorf("%d of %d first", first, len(told))
	}
	if all := Find("  "); len(all) != len(SymptomOrder()) {
		t.Errorf("no words: %v", all)
	}
	if none := Find("zzz qqq"); len(none) != 0 {
		t.Errorf("nonsense: %v", none)
	}
}

// TestQuick: what is read first tells of the causes of a symptom and is not the symptom itself.
func TestQuick(t *testing.T) {
	for _, s := range SymptomOrder() {
		for _, c := range Quick(s) {
			if c == Shipped().Symptoms[s].Check {
				t.Errorf("%s: asks its own check", s)
			}
			if _, err := Solve(Input{Symptom: s, Works: []string{c}}); err != nil {
				t.Errorf("%s, %s works: %v", s, c, err)
			}
		}
	}
	if got := Quick("no charge"); !slices.Contains(got, "boot") || !slices.Contains(got, "microphones") {
		t.Errorf("no charge: %v", got)
	}
	causes, components := Causes("no charge", "replace charge port")
	if len(causes) == 0 || len(causes) != len(components) {
		t.Errorf("%v, %v", causes, components)
	}
}
