package benchline

import (
	_ "embed"
	"fmt"
	"os"
	"strconv"
	"strings"
	"testing"

	"waryowl/internal/core/interlock"
	"waryowl/internal/core/phrase"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
)

//go:embed testdata/cold.txt
var coldLines string

//go:embed testdata/fresh.txt
var freshLines string

//go:embed testdata/third.txt
var thirdLines string

// coldPhone is the phone of the cold lines: nothing is known of it but its parts.
func coldPhone() Context {
	return phoneOf("battery=pack;display;rear glass=back;main board;usb board;front camera;rear camera;tele camera;" +
		"upper shield;lower shield;hinge plate;loudspeaker;earpiece;vibration motor;charge port;charging coil;flash lead;" +
		"volume key;power key;card tray;sensor strip;mid frame;face module;fingerprint sensor")
}

// freshPhone is another one, with the parts of the contract's examples.
func freshPhone() Context {
	c := phoneOf("hinge plate;rear cover=back;buzzer;earpiece;battery=cell;tele camera;upper shield;lower shield;jack;display;" +
		"main board;front camera;wide camera;charge board;top speaker;bottom speaker;side key;home key;antenna board")
	c.Words = []phrase.Own{{Say: "pn", Means: "five-lobe", Kind: "drive"}}
	return c
}

// thirdPhone is a third one, with names of a workshop's own.
func thirdPhone() Context {
	return phoneOf("screen;battery=accu;back lid=lid;main board=mobo;daughter board;selfie camera;macro camera;big shield;small shield;" +
		"speaker box;vibra motor;usb port;side keys;finger sensor;antenna strip;nfc coil;card tray")
}

func phoneOf(parts string) Context {
	c := Context{Vocabulary: shorthand.Vocabulary{Unit: "PINE"}, State: interlock.State{Charge: 10, Limit: 25}}
	for _, p := range strings.Split(parts, ";") {
		name, alias, _ := strings.Cut(p, "=")
		n := shorthand.Named{ID: strings.ReplaceAll(name, " ", "-"), Name: name}
		if alias != "" {
			n.Aliases = []string{alias}
		}
		c.Parts = append(c.Parts, n)
	}
	for _, k := range append(trade.Checks, trade.Optional...) {
		c.Checks = append(c.Checks, CheckName{k.Mark, k.Name})
	}
	return c
}

// signature says a fact in the few words in which the corpus says it.
func signature(a FactAnswer) string {
	f := a.Fact
	var w []string
	add := func(ok bool, s string) {
		if ok {
			w = append(w, s)
		}
	}
	if f.Surplus != nil {
		return "surplus " + strconv.Itoa(f.Surplus.Count)
	}
	verb := f.Verb
	if f.Kind == "check" {
		return "check " + f.What + " " + f.Verb
	}
	if f.Back {
		verb = "+" + verb
	}
	if f.Verb == "note" {
		return "note"
	}
	add(true, verb)
	add(f.Count > 0, strconv.Itoa(f.Count))
	add(f.Drive != "", f.Drive)
	add(f.Joint == "post" && f.Drive == "", "post")
	add(f.Method != "", f.Method)
	name := f.Name
	if a.NewPart != nil {
		name = a.NewPart.Name
	}
	add(name != "", name)
	add(f.Place != "" && name == "", "@"+f.Place)
	add(f.What == "all leads", f.What)
	add(f.Side != "", f.Side)
	add(f.Seconds > 0, fmt.Sprintf("%gs", f.Seconds))
	add(f.SetC > 0, fmt.Sprintf("%gC", f.SetC))
	add(f.Volts > 0, fmt.Sprintf("%gV", f.Volts))
	for _, m := range f.Measures {
		w = append(w, fmt.Sprintf("%g%s", m.Value, m.Unit))
	}
	add(f.Which != "", f.Which)
	add(f.Of > 0 && f.Whole != nil && !(f.Of == 1), fmt.Sprintf("%d/%d", whole(f.Whole), f.Of))
	add(f.Incident != "", f.Incident)
	add(f.Result != "", f.Result)
	add(f.Outcome != "", f.Outcome)
	add(f.Connector != "", f.Connector)
	add(len(f.Lengths) > 0, "lengths")
	add(f.Tool != "", f.Tool)
	add(f.Corrects != nil, map[bool]string{true: "corrects", false: "withdrawn"}[f.Corrects != nil && f.Corrects.How == "replaced"])
	return strings.Join(w, " ")
}

type coldLine struct{ half, before, line, want string }

func cold(text string) (out []coldLine) {
	for _, l := range strings.Split(text, "\n") {
		f := strings.Split(l, "|")
		if strings.HasPrefix(l, "#") || len(f) != 4 {
			continue
		}
		out = append(out, coldLine{f[0], f[1], f[2], f[3]})
	}
	return out
}

func (l coldLine) read() Answer {
	var before []string
	for _, p := range strings.Split(l.before, ";") {
		if p != "" {
			before = append(before, p)
		}
	}
	if l.half == "c" || l.half == "k" {
		return Read(freshPhone(), before, l.line)
	}
	if l.half == "d" {
		return Read(thirdPhone(), before, l.line)
	}
	return Read(coldPhone(), before, l.line)
}

func got(a Answer) string {
	var s []string
	for _, f := range a.Facts {
		s = append(s, signature(f))
	}
	return strings.Join(s, "; ")
}

// words compares two signatures without regard to the order of their words.
func sameWords(a, b string) bool {
	x, y := strings.Split(a, "; "), strings.Split(b, "; ")
	if len(x) != len(y) {
		return false
	}
	for i := range x {
		m := map[string]int{}
		for _, w := range strings.Fields(x[i]) {
			m[w]++
		}
		for _, w := range strings.Fields(y[i]) {
			m[w]--
		}
		for _, n := range m {
			if n != 0 {
				return false
			}
		}
	}
	return true
}

// grade says how a line was read: right, asked (with a question that the line does not need), unread (amber or a note) or
// silent: wrong without a sign of it.
func (l coldLine) grade() (string, Answer) {
	a := l.read()
	ok := sameWords(got(a), l.want)
	asks := a.Asks != "" && a.Asks != "side" || len(a.Facts[0].Candidates) > 0
	if ask, rest, _ := strings.Cut(l.want, "-"); ask == "ask" {
		if asks || rest == "or-note" && got(a) == "note" {
			return "right", a
		}
	}
	if l.want == "note-or-any" && (asks || len(a.Unread) > 0 || got(a) == "note" || len(a.Facts) > 1) {
		return "right", a
	}
	if strings.HasSuffix(l.want, "note-or") && len(a.Facts) == 2 {
		ok = sameWords(signature(a.Facts[0]), strings.TrimSuffix(l.want, "; note-or"))
	}
	note := len(a.Facts) == 1 && a.Fact.Verb == "note"
	switch {
	case ok && len(a.Unread) == 0:
		return "right", a
	case asks && ok:
		return "right", a
	case asks:
		return "asked", a
	case ok:
		return "right but unread", a
	case len(a.Unread) > 0 || note:
		return "unread", a
	}
	return "silent", a
}

func TestColdLines(t *testing.T) {
	total, by := map[string]int{}, map[string]map[string]int{"a": {}, "b": {}, "c": {}, "k": {}, "d": {}}
	for _, l := range cold(coldLines + "\n" + freshLines + "\n" + thirdLines) {
		g, a := l.grade()
		total[l.half]++
		by[l.half][g]++
		if g != "right" && os.Getenv("COLD") == l.half {
			fmt.Printf("%-16s %-44s got %s   want %s  unread %v asks %q\n", g, l.line, got(a), l.want, unreadWords(a), a.Asks)
		}
	}
	for half, n := range total {
		right := 100 * float64(by[half]["right"]+by[half]["right but unread"]) / float64(n)
		silent := 100 * float64(by[half]["silent"]) / float64(n)
		t.Logf("half %s: %d lines, right %.1f %%, silently wrong %.1f %%, %v", half, n, right, silent, by[half])
		if right < 90 || silent > 2 {
			t.Errorf("half %s: right %.1f %% and silently wrong %.1f %%, at least 90 and at most 2", half, right, silent)
		}
	}
}

func unreadWords(a Answer) (w []string) {
	for _, u := range a.Unread {
		w = append(w, u.Word)
	}
	return w
}
