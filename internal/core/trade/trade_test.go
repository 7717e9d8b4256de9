package trade

import (
	"os"
	"slices"
	"strings"
	"testing"
)

// words reads the lists of words of one class: canon and its forms.
func words(t *testing.T, class string) map[string][]string {
	t.Helper()
	text, err := os.ReadFile("testdata/words.txt")
	if err != nil {
		t.Fatal(err)
	}
	out := map[string][]string{}
	for line := range strings.Lines(string(text)) {
		if f := strings.Split(strings.TrimSpace(line), "|"); f[0] == class {
			for _, part := range f[2:] {
				out[f[1]] = append(out[f[1]], strings.Split(part, ",")...)
			}
		}
	}
	if len(out) == 0 {
		t.Fatalf("no words of class %s", class)
	}
	return out
}

// TestEveryNounHasOneMeaning: each noun of the starting list is one kind of part or one thing that is no part, never
// both, and all forms of one canon agree.
func TestEveryNounHasOneMeaning(t *testing.T) {
	for canon, forms := range words(t, "N") {
		want := ""
		for i, form := range append([]string{canon}, forms...) {
			kind, isKind := KindOf(form)
			thing, isThing := Thing(form)
			if isKind == isThing {
				t.Errorf("%q: kind %q, thing %q", form, kind, thing)
				continue
			}
			if i == 0 {
				want = kind + thing
			}
			// Buttons have narrower kinds: "power button".
			if got := kind + thing; got != want && canon != "button" {
				t.Errorf("%q of %q is %q, want %q", form, canon, got, want)
			}
		}
	}
	for w := range synonyms {
		if _, also := things[w]; also {
			t.Errorf("%q is a kind and a thing", w)
		}
	}
}

// TestKinds: every kind has a family, serves checks that exist with chances, mates that exist, and no synonym twice.
func TestKinds(t *testing.T) {
	seen := map[string]string{}
	for _, k := range Kinds {
		if Families[k.Family] == "" {
			t.Errorf("%s: family %q", k.ID, k.Family)
		}
		for _, w := range append([]string{strings.ReplaceAll(k.ID, "-", " ")}, k.Words...) {
			if p := Plain(w); seen[p] != "" && seen[p] != k.ID {
				t.Errorf("%q names %s and %s", w, seen[p], k.ID)
			} else {
				seen[p] = k.ID
			}
		}
		for mark, p := range k.Serves {
			if _, known := CheckOf(mark); !known || !(p > 0 && p < 1) {
				t.Errorf("%s serves %s with %g", k.ID, mark, p)
			}
		}
		for _, other := range []string{k.Mate, k.Inside} {
			if _, known := KindByID(other); other != "" && !known {
				t.Errorf("%s goes with %q", k.ID, other)
			}
		}
	}
	if n := len(Kinds); n < 55 || n > 70 {
		t.Errorf("%d kinds", n)
	}
	if Prior("battery", "battery-health") <= Prior("battery", "touch") || Prior("", "touch") <= 0 {
		t.Error("a kind costs what it serves no likelier than anything else")
	}
}

// TestKindOf: the head of a name decides, and words that only stand beside it do not.
func TestKindOf(t *testing.T) {
	for name, want := range map[string]string{"Front-facing cameras": "front-camera",
		"rear camera block": "rear-camera",
		"battery cover":     "bracket", "cellular antenna": "antenna", "battery connector bracket": "bracket",
		"upper shield":      "bracket",
		"back of the phone": "rear-glass", "blue back glass": "rear-glass", "sensor strip": "sensor-strip",
		"display flex":     "",
		"lower microphone": "microphone", "wireless coil": "charging-coil", "gizmo": "", "batery": "battery",
		"flex of the charge port": "", "main board": "main-board", "microphone lead": "microphone",
		"charge flex": "charge-flex"} {
		if got, _ := KindOf(name); got != want {
			t.Errorf("%q is %q, want %q", name, got, want)
		}
	}
	for pair, clash := range map[[2]string]bool{{"front camera", "rear camera"}: true,
		{"upper shield", "lower shield"}: true,
		{"back glass", "rear glass"}:     false, {"left speaker", "speaker"}: false, {"top bracket",
			"upper bracket"}: false,
		{"power button", "volume button"}: true} {
		if Clash(pair[0], pair[1]) != clash {
			t.Errorf("%v clash: %v", pair, !clash)
		}
	}
}

// TestWordsOfTheLine: drives, tools and methods of the starting list are known under every form; metal and edges are
// told.
func TestWordsOfTheLine(t *testing.T) {
	for canon, forms := range words(t, "D") {
		for _, form := range forms {
			if !slices.ContainsFunc(Drives, func(d Drive) bool {
				return d.ID == canon && (d.ID == form || slices.Contains(d.Words, Plain(form)))
			}) {
				t.Errorf("drive %q is not %s", form, canon)
			}
		}
	}
	for _, forms := range words(t, "T") {
		for _, form := range forms {
			if _, known := ToolOf(form); !known {
				t.Errorf("tool %q", form)
			}
		}
	}
	for canon, forms := range words(t, "M") {
		for _, form := range forms {
			if !slices.Contains(methodOf(canon).Words, Plain(form)) && form != canon {
				t.Errorf("method %q is not %s", form, canon)
			}
		}
	}
	for tool, want := range map[string][2]bool{"plastic spudger": {false, false}, "metal spudger": {true, true},
		"":         {false, false},
		"tweezers": {true, true}, "plastic tweezers": {false, false}, "wood stick": {false, false}, "blade": {true,
			true},
		"unheard-of thing": {true, false}, "heat plate": {false, false}, "steel card": {true, true}, "hand": {false,
			false}} {
		if Conducts(tool) != want[0] || Sharp(tool) != want[1] {
			t.Errorf("%q conducts %v, sharp %v", tool, Conducts(tool), Sharp(tool))
		}
	}
	if Hurts("tab-broke") || !Hurts("flex-torn") || !Hot("plate") || Hot("alcohol") || !Wets("alcohol") {
		t.Error("incidents or methods")
	}
}
