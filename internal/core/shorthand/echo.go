package shorthand

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"
)

// echo says the fact back in plain words: counts, units, negations and polarity as they were understood.
func (r *reader) echo() string {
	f := r.Fact
	var b strings.Builder
	if r.v.Unit != "" {
		b.WriteString(r.v.Unit + ": ")
	}
	if f.Back {
		b.WriteString("put back, ")
	}
	switch f.Verb {
	case "note":
		return b.String() + "note “" + f.Note + "”"
	case "tool":
		if f.Tool == "" {
			return b.String() + "tool down, by hand"
		}
		return b.String() + "take the " + f.Tool
	case "incident":
		b.WriteString("incident, " + strings.ReplaceAll(f.Incident, "-", " "))
	default:
		b.WriteString(f.Verb)
	}
	say := func(ok bool, format string, args ...any) {
		if ok {
			fmt.Fprintf(&b, " "+format, args...)
		}
	}
	// Words that the readings hold are not said twice.
	size := f.DiameterMM > 0 && f.LengthMM > 0
	thing := strings.Replace(f.Joint, "coax", "coax lead", 1)
	if thing != "" && f.Count != 1 && f.Count != 0 {
		thing += map[bool]string{true: "es", false: "s"}[strings.HasSuffix(thing, "h")]
	}
	say(f.Count > 0, "%d", f.Count)
	say(f.Drive != "" && f.Drive != "post", "%s", f.Drive)
	say(f.Joint != "" && (f.Count > 0 || f.Drive != "" || f.What == ""), "%s", thing)
	say(size, "%s × %s mm", figure(f.DiameterMM), figure(f.LengthMM))
	say(!size && f.LengthMM > 0, "%s mm long", figure(f.LengthMM))
	if f.What != "" && f.What != f.Place {
		say(true, "%s", map[bool]string{true: "of the " + f.What, false: f.What}[f.Count > 0 && f.Joint != ""])
	}
	say(f.Place != "", "at %s", f.Place)
	say(f.Of > 0, "%d of %d whole", f.Whole, f.Of)
	say(f.Magnetic == "no", "not magnetic")
	say(f.Magnetic == "yes", "magnetic")
	say(f.Captive, "captive")
	say(f.Hidden, "hidden")
	say(f.Method != "", "by %s", f.Method)
	say(f.SetC > 0, "%s °C", figure(f.SetC))
	say(f.MeasuredC > 0, "(%s °C read)", figure(f.MeasuredC))
	say(f.Seconds > 0, "for %s s", figure(f.Seconds))
	say(f.Side != "", "from the %s", f.Side)
	say(f.Polarity != "", "with %s", f.Polarity)
	say(f.Tool != "", "with the %s", f.Tool)
	for _, m := range f.Measures {
		say(true, "%s", figure(m.Value))
		say(m.U > 0, "± %s", figure(m.U))
		say(true, "%s", strings.Replace(m.Unit, "C", "°C", 1))
	}
	say(f.Result != "", "→ %s", f.Result)
	say(f.Outcome != "" && f.Outcome != "done", "→ %s", f.Outcome)
	say(f.Detour, "(for nothing)")
	say(f.Note != "", "note “%s”", f.Note)
	return b.String()
}

func figure(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }

func sortedWords(words map[string]bool) []string {
	var list []string
	for w := range words {
		list = append(list, w)
	}
	slices.Sort(list)
	return list
}

// closest lists at most three known words within two changes, or that begin like the word.
func closest(word string, known []string) []string {
	type near struct {
		word string
		far  int
	}
	var found []near
	word = strings.ToLower(word)
	if r := []rune(word); len(r) > 40 {
		return nil
	}
	for _, k := range known {
		far := distance(word, k)
		if len(word) >= 2 && strings.HasPrefix(k, word) {
			far = 1
		}
		if far > 0 && far <= 2 && far < max(2, len([]rune(word))) {
			found = append(found, near{k, far})
		}
	}
	slices.SortStableFunc(found, func(a, b near) int { return cmp.Compare(a.far, b.far) })
	var list []string
	for _, n := range found[:min(3, len(found))] {
		list = append(list, n.word)
	}
	return list
}

// distance counts insertions, deletions, substitutions and swaps of neighbours between two words (optimal string
// alignment).
func distance(a, b string) int {
	x, y := []rune(a), []rune(b)
	if d := len(x) - len(y); d > 2 || d < -2 {
		return 3
	}
	rows := [3][]int{make([]int, len(y)+1), make([]int, len(y)+1), make([]int, len(y)+1)}
	for k := range rows[1] {
		rows[1][k] = k
	}
	for i := 1; i <= len(x); i++ {
		rows[2][0] = i
		for k := 1; k <= len(y); k++ {
			cost := 1
			if x[i-1] == y[k-1] {
				cost = 0
			}
			rows[2][k] = min(rows[1][k]+1, rows[2][k-1]+1, rows[1][k-1]+cost)
			if i > 1 && k > 1 && x[i-1] == y[k-2] && x[i-2] == y[k-1] {
				rows[2][k] = min(rows[2][k], rows[0][k-2]+1)
			}
		}
		rows[0], rows[1], rows[2] = rows[1], rows[2], rows[0]
	}
	return rows[1][len(y)]
}

// Suggest lists at most six completions of the last word of a line: verbs at its start, then parts, drives, methods and
// kinds of incident that fit the verb.
func Suggest(line string, v Vocabulary) []string {
	list := []string{}
	words := strings.Fields(line)
	last := ""
	if len(words) > 0 && !strings.HasSuffix(line, " ") {
		last = strings.ToLower(words[len(words)-1])
		words = words[:len(words)-1]
	}
	head := strings.Join(words, " ")
	if head != "" {
		head += " "
	}
	add := func(word string) {
		word = strings.ReplaceAll(word, " ", "-")
		if len(list) < 6 && strings.HasPrefix(strings.ToLower(word), last) && strings.ToLower(word) != last &&
			!slices.Contains(list, head+word) {
			list = append(list, head+word)
		}
	}
	verb := ""
	for _, w := range words {
		if w == "+" {
			continue
		}
		for _, known := range Verbs {
			if strings.EqualFold(w, known.Letter) || strings.EqualFold(w, known.Word) {
				verb = known.Word
			}
		}
		break
	}
	switch {
	case verb == "":
		for _, known := range Verbs {
			add(known.Letter)
			if len(last) > 1 {
				add(known.Word)
			}
		}
		return list
	case verb == "incident":
		for _, k := range Incidents {
			add(k)
		}
	case verb == "heat" || verb == "solvent":
		for _, k := range Methods {
			add(k)
		}
	case verb == "unfasten" && last != "":
		for _, k := range drives {
			add(k)
		}
	case verb == "tool":
		for _, k := range v.Tools {
			add(k)
		}
		return list
	}
	for _, p := range v.Parts {
		add(p.Name)
	}
	for _, p := range v.Parts {
		for _, a := range p.Aliases {
			if last != "" {
				add(a)
			}
		}
	}
	return list
}
