package shorthand

import (
	"math"
	"slices"
	"strings"

	"waryowl/internal/core/trade"
)

// read takes the words after the verb: clauses and phrases first, then figures, tools and incidents, and what is left
// are names.
func (r *reader) read() {
	r.clauses()
	r.grammar()
	if r.Fact.Verb == "incident" {
		r.incident()
	}
	r.figures()
	r.tools()
	r.surplus()
	if r.Fact.Verb == "measure" {
		r.dimensions()
	}
	r.names()
	r.rest()
	r.settle()
}

// group is the group of screws that is being told.
func (r *reader) group() *Screws {
	if len(r.groups) == 0 {
		r.groups = append(r.groups, Screws{})
	}
	return &r.groups[len(r.groups)-1]
}

// lacking is the first group that lacks something, or a new one.
func (r *reader) lacking(lacks func(Screws) bool) *Screws {
	for i := range r.groups {
		if lacks(r.groups[i]) {
			return &r.groups[i]
		}
	}
	r.groups = append(r.groups, Screws{})
	return &r.groups[len(r.groups)-1]
}

func (r *reader) count(n int) {
	if len(r.groups) > 0 && r.group().Count == 0 {
		r.group().Count = n
		return
	}
	r.groups = append(r.groups, Screws{Count: n})
}

func (r *reader) size(d, l float64) {
	g := r.lacking(func(s Screws) bool { return s.LengthMM == 0 })
	g.DiameterMM, g.LengthMM = d, l
}

func screwy(verb string) bool {
	return verb == "unfasten" || verb == "incident" || verb == "note" || verb == "bracket"
}

func (r *reader) word(i int) string {
	if i < 0 || i >= len(r.list) || r.list[i].used {
		return ""
	}
	return r.list[i].plain
}

var (
	brokeWords = words("broke broken snapped tore torn ripped lost")
	wholeWords = words("whole intact complete clean out")
	laterWords = words("missed overlooked forgotten")
	lengthWord = words("short long medium longer shorter longest shortest")
	readWords  = words("read measured reads shows showing actual")
)

// figures reads all number groups with what stands beside them.
func (r *reader) figures() {
	for i := 0; i < len(r.list); i++ {
		t := r.list[i]
		if t.used {
			continue
		}
		if m := shareForm.FindStringSubmatch(t.plain); m != nil {
			r.share(i, 1, int(number(m[1])), int(number(m[2])))
			continue
		}
		if n := r.smallNumber(i); n >= 0 && r.word(i+1) == "of" && r.smallNumber(i+2) > 0 {
			r.share(i, 3, n, r.smallNumber(i+2))
			continue
		}
		if t.plain == "all" && r.smallNumber(i+1) > 0 &&
			(wholeWords[r.word(i+2)] || wholeWords[r.word(i+3)] || wholeWords[r.word(i+4)]) {
			n := r.smallNumber(i + 1)
			r.share(i, 2, n, n)
			continue
		}
		if m := sizeForm.FindStringSubmatch(t.plain); m != nil {
			r.sized(i, 1, m[1], m[2])
			continue
		}
		if x := r.word(i + 1); (x == "×" || x == "x" || x == "*" || x == "by") && valueForm.MatchString(t.plain) {
			a, b := valueForm.FindStringSubmatch(strings.TrimPrefix(t.plain,
				"m")), valueForm.FindStringSubmatch(r.word(i+2))
			if a != nil && b != nil && (a[5] == "" || a[5] == "mm") && (b[5] == "" || b[5] == "mm") {
				n := 3
				if b[5] == "" && r.word(i+3) == "mm" {
					n = 4
				}
				r.sized(i, n, a[3], b[3])
				continue
			}
		}
		if screwy(r.Fact.Verb) {
			if d := driveAt(r.list, i); d.n > 0 && !r.inName(i, d.n) && !r.anyUsed(i, d.n) &&
				!(d.id == "post" && r.Fact.Verb != "unfasten") {
				r.drive(d)
				r.use(i, d.n)
				i += d.n - 1
				continue
			}
			if lengthWord[t.plain] && (i == 0 || !r.inName(i, 1)) && (len(r.groups) > 0 && r.group().Word == "") {
				r.group().Word = t.plain
				r.use(i, 1)
				continue
			}
		}
		if m := minSec.FindStringSubmatch(t.plain); m != nil {
			r.Fact.Seconds += 60*number(m[1]) + number(m[2])
			r.use(i, 1)
			continue
		}
		if m := timesForm.FindStringSubmatch(t.plain); m != nil {
			r.count(int(number(or(m[1], m[2]))))
			r.use(i, 1)
			continue
		}
		if v, ok := r.valueAt(i); ok {
			r.value(i, v)
			continue
		}
		if n := wordNumbers[t.plain]; n > 0 && r.Fact.Verb != "measure" {
			last := i+1 >= len(r.list)
			if !(t.plain == "one" || t.plain == "single") || !last && !stops[r.word(i+1)] && r.word(i+1) != "" {
				r.counted(i, 1, n)
			}
		}
	}
}

// smallNumber is a count at token i, in figures or in words; −1 when there is none.
func (r *reader) smallNumber(i int) int {
	w := r.word(i)
	switch {
	case w == "none" || w == "zero":
		return 0
	case isDigits(w) && len(w) <= 3:
		return int(number(w))
	case wordNumbers[w] > 0:
		return wordNumbers[w]
	}
	return -1
}

// share reads how many of all came out whole, or broke.
func (r *reader) share(i, n, k, of int) {
	broke, whole := false, false
	for j := i + n; j < len(r.list) && j < i+n+4; j++ {
		w := r.word(j)
		if brokeWords[w] {
			broke = true
			r.use(j, 1)
			break
		}
		if wholeWords[w] {
			whole = true
			r.use(j, 1)
			break
		}
	}
	if !broke && !whole && r.Fact.Incident == "tab-broke" {
		broke = true
	}
	if k > of || of == 0 {
		r.unread(r.list[i], "more than there are", nil)
		r.notes = append(r.notes, typed(r.list[i:i+n]))
		r.use(i, n)
		return
	}
	if broke {
		k = of - k
	}
	if r.Fact.Verb == "unfasten" || r.Fact.Verb == "disconnect" { // 3 of 4 screws: three came out
		r.counted(i, n, k)
		return
	}
	r.Fact.Whole, r.Fact.Of = &k, of
	r.use(i, n)
}

// sized takes a diameter and a length, or two dimensions of a measured part.
func (r *reader) sized(i, n int, a, b string) {
	r.use(i, n)
	if r.Fact.Verb == "measure" {
		for _, s := range []string{a, b} {
			x, digit := decimal(s, "mm")
			r.measure(i, x, digit, "mm")
		}
		return
	}
	r.size(number(a), number(b))
}

func (r *reader) drive(d driveWord) {
	g := r.group()
	if g.Drive == d.id && g.DriveSize == "" && d.size != "" { // "hexalobular T4"
		g.DriveSize = d.size
		return
	}
	// "3 cross 1 tri-wing": the count comes next or came just before
	if g.Drive != "" && g.Count > 0 && g.Drive != d.id {
		g = r.lacking(func(s Screws) bool { return s.Drive == "" })
	}
	g.Drive, g.DriveSize = d.id, or(d.size, g.DriveSize)
	if d.id == "post" {
		r.Fact.Joint = "post"
	}
}

// value takes a figure with or without a unit.
func (r *reader) value(i int, v value) {
	f := &r.Fact
	x, digit := decimal(v.from, v.unit.Base)
	to, _ := decimal(v.to, v.unit.Base)
	if v.to == "" {
		to = 0
	}
	if !v.bare {
		x, to, digit = x*v.unit.Factor, to*v.unit.Factor, digit*v.unit.Factor
	}
	keep := func(text string) {
		r.unread(r.list[i], text, nil)
		r.notes = append(r.notes, typed(r.list[i:i+v.used]))
		r.use(i, v.used)
	}
	base := v.unit.Base
	if most := trade.Most[base]; !v.bare && most > 0 && (x > most || to > most) {
		keep("more than can be; kept as a note")
		return
	}
	switch {
	case v.pm:
		if len(f.Measures) == 0 {
			keep("an uncertainty follows the value that it belongs to")
			return
		}
		f.Measures[len(f.Measures)-1].U = x
	case v.bare:
		r.bare(i, v, x)
		return
	case base == "s" && f.Verb != "measure":
		f.Seconds += x
		if to > 0 {
			f.SecondsTo += f.Seconds - x + to
		}
	case base == "C" && f.Verb != "measure":
		near := readWords[r.word(i+v.used)] || i > 0 && readWords[r.list[i-1].plain]
		switch {
		case near || f.SetC > 0:
			f.MeasuredC = x
			if readWords[r.word(i+v.used)] {
				r.use(i+v.used, 1)
			}
			if i > 0 && readWords[r.word(i-1)] {
				r.use(i-1, 1)
			}
		default:
			f.SetC, f.SetCTo = x, to
		}
	case base == "V" && f.Verb != "measure":
		f.Volts = x
	case base == "mm" && screwy(f.Verb):
		r.lacking(func(s Screws) bool { return s.LengthMM == 0 }).LengthMM = x
		if w := r.word(i + v.used); w == "long" {
			r.use(i+v.used, 1)
		}
	case f.Verb == "measure" && base != "s":
		r.measure(i, x, digit, base)
	default:
		keep("no figure of this act; kept as a note")
		return
	}
	r.use(i, v.used)
}

func (r *reader) measure(i int, x, digit float64, unit string) {
	// The last digit of what was printed, not of what a float makes of it.
	x, digit = math.Round(x*1e9)/1e9, math.Round(digit*1e12)/1e12
	r.Fact.Measures = append(r.Fact.Measures, Measure{Value: x, Unit: unit, Digit: digit})
	r.spans = append(r.spans, i)
}

// bare takes a figure without a unit: a count, the size of a driver, a sum "7 + 7".
func (r *reader) bare(i int, v value, x float64) {
	if isDigits(v.from) && v.to == "" && x <= 200 && x == math.Trunc(x) && !(len(v.from) > 1 && v.from[0] == '0') &&
		r.Fact.Verb != "measure" {
		n, used := int(x), 1
		for (r.word(i+used) == "+" || r.word(i+used) == "plus" && r.Fact.Verb == "unfasten") &&
			r.smallNumber(i+used+1) > 0 {
			n += r.smallNumber(i + used + 1)
			used += 2
		}
		if len(r.groups) > 0 && r.group().Drive != "" && r.group().Count > 0 && r.group().DriveSize == "" &&
			driveBefore(r.list, i) &&
			!r.startsScrews(i+1) {
			r.group().DriveSize = v.from
			r.use(i, 1)
			return
		}
		r.counted(i, used, n)
		return
	}
	if len(r.groups) > 0 && r.group().Drive != "" && r.group().DriveSize == "" && v.to == "" && driveBefore(r.list, i) {
		r.group().DriveSize = strings.ReplaceAll(v.from, ",", ".")
		r.use(i, 1)
		return
	}
	r.unread(r.list[i], "no unit of this line; kept as a note", nil)
	r.notes = append(r.notes, r.list[i].text)
	r.use(i, v.used)
}

// startsScrews says whether a drive, a size or a length comes next: then the figure before it is a count.
func (r *reader) startsScrews(i int) bool {
	return i < len(r.list) && (driveAt(r.list, i).n > 0 || sizeForm.MatchString(r.list[i].plain) ||
		lengthWord[r.list[i].plain])
}

func driveBefore(list []token, i int) bool {
	for n := 1; n <= 2 && i-n >= 0; n++ {
		if d := driveAt(list[:i], i-n); d.n == n {
			return true
		}
	}
	return false
}

// counted takes a count, or those that were missed.
func (r *reader) counted(i, used, n int) {
	next := r.word(i + used)
	before := ""
	if i > 0 {
		before = r.word(i - 1)
	}
	switch {
	case laterWords[next]:
		r.Fact.Missed = n
		r.use(i, used+1)
		return
	case laterWords[before]:
		r.Fact.Missed = n
		r.use(i-1, used+1)
		return
	}
	if next == "out" || next == "off" || next == "back" {
		r.use(i+used, 1)
	}
	r.count(n)
	r.use(i, used)
}

// incident finds the kind of incident; a tab that tore is no torn flex.
func (r *reader) incident() {
	best, at, n := "", 0, 0
	for i := range r.list {
		for _, k := range trade.Incidents {
			for _, p := range append([]string{trade.Plain(k.ID)}, k.Words...) {
				if size := len(strings.Fields(p)); size > n && r.is(i, p, size) {
					best, at, n = k.ID, i, size
				}
			}
		}
	}
	if best == "" {
		return
	}
	r.use(at, n)
	tab := slices.ContainsFunc(r.list, func(t token) bool {
		id, _ := trade.Thing(t.plain)
		return id == "pull tab"
	})
	shared := slices.ContainsFunc(r.list, func(t token) bool {
		return shareForm.MatchString(t.plain) ||
			t.plain == "of" && !t.used
	})
	switch {
	case (best == "tab-broke" || best == "flex-torn" || best == "part-broke") && n == 1:
		best = map[bool]string{true: "tab-broke", false: "part-broke"}[tab || shared]
		switch w := r.list[at].plain; {
		case best == "part-broke" && slices.Contains([]string{"torn", "tore", "ripped", "nicked", "nick"}, w):
			best = "flex-torn"
		case best == "part-broke" && slices.ContainsFunc(r.list, func(t token) bool { return t.plain == "glass" }):
			best = "glass-cracked"
		}
	case best == "connector-loose" && slices.ContainsFunc(r.list,
		func(t token) bool { return t.plain == "screw" || t.plain == "screws" }):
		best = "part-broke"
	}
	r.Fact.Incident = best
}

func surplusWord(w string) bool {
	return w == "surplus" || w == "stray" || w == "leftover" || w == "extra" || w == "spare"
}

// surplus reads a bit on the bench that no step accounts for: how many, what, from where.
func (r *reader) surplus() {
	k := -1
	if r.Fact.Verb == "note" && len(r.list) < 3 { // a note in quotes
		r.list, _ = tokens(r.Fact.Note)
	}
	for i, t := range r.list {
		if surplusWord(t.plain) || t.plain == "left" && i+1 < len(r.list) && r.list[i+1].plain == "over" {
			k = i
			break
		}
	}
	if k < 0 || r.Fact.Verb != "note" && r.Fact.Verb != "incident" && !(r.Fact.Verb == "lift" && r.Fact.Part == "") {
		return
	}
	s := Surplus{Count: 1, Origin: "unknown"}
	var what []string
	skip := words("origin unknown known from another other this the phone not on bench mat lying found bit over left a an one of no idea whose belongs to")
	text := ""
	for i, t := range r.list {
		if i > 0 || t.plain != "!" && t.plain != "?" {
			text += " " + t.plain
		}
		n := 0
		switch {
		case isDigits(t.plain) && len(t.plain) <= 3:
			n = int(number(t.plain))
		case t.plain != "one" && wordNumbers[t.plain] > 0:
			n = wordNumbers[t.plain]
		}
		if n > 0 {
			s.Count = n
		} else if !skip[t.plain] && !surplusWord(t.plain) && !stops[t.plain] && t.plain != "!" && t.plain != "?" && t.plain != "note" &&
			t.plain != "incident" && i != k {
			what = append(what, t.plain)
		}
	}
	switch {
	case strings.Contains(text, "another phone") || strings.Contains(text, "other phone") ||
		strings.Contains(text, "not this phone"):
		s.Origin = "another phone"
	case strings.Contains(text, "this phone"):
		s.Origin = "this phone"
	}
	s.What = strings.Join(what, " ")
	if s.What == "" {
		s.What = "bit"
	}
	r.Fact.Surplus = &s
	r.use(0, len(r.list))
	r.groups = nil
}

// settle puts the groups of screws into the fact.
func (r *reader) settle() {
	f := &r.Fact
	f.Note = strings.TrimSpace(strings.Join(r.notes, " "))
	r.groups = slices.DeleteFunc(r.groups, func(s Screws) bool { return s == Screws{} })
	switch {
	case len(r.groups) == 1:
		g := r.groups[0]
		f.Count, f.Drive, f.DriveSize, f.DiameterMM, f.LengthMM = g.Count, g.Drive, g.DriveSize, g.DiameterMM, g.LengthMM
		if g.Word != "" {
			f.Lengths = []Screws{g}
		}
	case len(r.groups) > 1:
		f.Lengths = r.groups
		f.Drive, f.DriveSize = r.groups[0].Drive, r.groups[0].DriveSize
		for i, g := range r.groups {
			f.Count += g.Count
			if g.Drive != "" && f.Drive != "" && g.Drive != f.Drive {
				f.Drive, f.DriveSize = "", ""
				break
			}
			if g.Drive == "" && i > 0 && f.Drive != "" {
				r.groups[i].Drive, r.groups[i].DriveSize = f.Drive, f.DriveSize
			}
		}
		if f.Drive == "" {
			f.Count = 0
			for _, g := range r.groups {
				f.Count += g.Count
			}
		}
	}
	if f.Verb == "incident" && f.Incident == "screw-lost" && f.Joint == "" && f.Drive == "" && f.LengthMM == 0 &&
		f.Part != "" && f.Count == 0 {
		f.Incident = "part-forgotten"
	}
	if f.Verb == "unfasten" && f.Joint == "" && len(r.groups) > 0 {
		f.Joint = "screw"
	}
	if f.Verb == "incident" && f.Incident == "" && f.Surplus == nil && f.Of > 0 {
		f.Incident = "tab-broke"
	}
}
