package shorthand

import (
	"slices"
	"strings"

	"waryowl/internal/core/phrase"
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
		if m := phrase.ShareForm.FindStringSubmatch(t.plain); m != nil {
			r.share(i, 1, int(phrase.Number(m[1])), int(phrase.Number(m[2])))
			continue
		}
		if r.ofSize(i) {
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
		if m := phrase.PackForm.FindStringSubmatch(t.plain); m != nil && screwy(r.Fact.Verb) {
			r.count(int(phrase.Number(m[1])))
			r.fresh = i
			r.sized(i, 1, m[2], m[3])
			continue
		}
		if m := phrase.SizeForm.FindStringSubmatch(t.plain); m != nil {
			r.sized(i, 1, m[1], m[2])
			continue
		}
		if r.loose(i) || r.someBroke(i) {
			continue
		}
		if r.word(i+1) == "mm" && (r.word(i+2) == "x" || r.word(i+2) == "×" || r.word(i+2) == "by") &&
			phrase.FigureForm.MatchString(t.plain) && phrase.FigureForm.MatchString(strings.TrimSuffix(r.word(i+3), "mm")) {
			n := 4
			if r.word(i+4) == "mm" {
				n = 5
			}
			r.sized(i, n, t.plain, strings.TrimSuffix(r.word(i+3), "mm"))
			continue
		}
		if x := r.word(i + 1); (x == "×" || x == "x" || x == "*" || x == "by") && phrase.ValueForm.MatchString(t.plain) {
			a, b := phrase.ValueForm.FindStringSubmatch(strings.TrimPrefix(t.plain,
				"m")), phrase.ValueForm.FindStringSubmatch(r.word(i+2))
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
				if r.fresh == i {
					r.fresh += d.n
				}
				i += d.n - 1
				continue
			}
			if lengthWord[t.plain] && r.Fact.Verb != "lift" && (i == 0 || !r.inName(i, 1)) && len(r.groups) > 0 &&
				r.group().Word == "" {
				r.group().Word = t.plain
				r.use(i, 1)
				continue
			}
		}
		if m := phrase.MinSec.FindStringSubmatch(t.plain); m != nil {
			r.Fact.Seconds += 60*phrase.Number(m[1]) + phrase.Number(m[2])
			r.use(i, 1)
			continue
		}
		if m := phrase.ClockForm.FindStringSubmatch(t.plain); m != nil && r.Fact.Verb != "measure" {
			r.Fact.Seconds += 60*phrase.Number(m[1]) + phrase.Number(m[2])
			r.use(i, 1)
			continue
		}
		if m := phrase.TimesForm.FindStringSubmatch(t.plain); m != nil {
			r.count(int(phrase.Number(or(m[1], m[2]))))
			r.use(i, 1)
			r.fresh = i + 1
			continue
		}
		if v, ok := r.valueAt(i); ok {
			r.value(i, v)
			continue
		}
		if n := phrase.InWords[t.plain]; n > 0 && r.Fact.Verb != "measure" {
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
	case phrase.Digits(w) && len(w) <= 3:
		return int(phrase.Number(w))
	case phrase.InWords[w] > 0:
		return phrase.InWords[w]
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
	if r.Fact.Verb == "unfasten" || r.Fact.Verb == "disconnect" ||
		r.Fact.Verb == "incident" && r.Fact.Incident != "tab-broke" && r.Fact.Incident != "part-broke" {
		r.notes = append(r.notes, typed(r.list[i:i+n])) // 3 of 4 screws: three came out
		r.counted(i, n, k)
		return
	}
	r.Fact.Whole, r.Fact.Of = &k, of
	r.use(i, n)
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
		return phrase.ShareForm.MatchString(t.plain) ||
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

// listWord is the word at token i, used or not.
func (r *reader) listWord(i int) string {
	if i < len(r.list) {
		return r.list[i].plain
	}
	return ""
}

var bitWords = words("bit bits screw screws bracket piece part")

// surplus reads a bit on the bench that no step accounts for: how many, what, from where.
func (r *reader) surplus() {
	k := -1
	if r.Fact.Verb == "note" && len(r.list) < 3 { // a note in quotes
		r.list, _ = tokens(r.Fact.Note)
	}
	for i, t := range r.list {
		next := r.listWord(i + 1)
		if surplusWord(t.plain) || t.plain == "left" && next == "over" || bitWords[t.plain] && next == "over" {
			k = i
			break
		}
	}
	if k < 0 || r.Fact.Verb != "note" && r.Fact.Verb != "incident" && !(r.Fact.Verb == "lift" && r.Fact.Part == "") {
		return
	}
	s := Surplus{Count: 1, Origin: "unknown"}
	var what []string
	skip := words("origin unknown known from another other this the phone not on bench mat lying found bit over " +
		"left a an one of no idea whose belongs to")
	text := ""
	for i, t := range r.list {
		if i > 0 || t.plain != "!" && t.plain != "?" {
			text += " " + t.plain
		}
		n := 0
		switch {
		case phrase.Digits(t.plain) && len(t.plain) <= 3:
			n = int(phrase.Number(t.plain))
		case t.plain != "one" && phrase.InWords[t.plain] > 0:
			n = phrase.InWords[t.plain]
		}
		if n > 0 {
			s.Count = n
		} else if !skip[t.plain] && !surplusWord(t.plain) && !stops[t.plain] && t.plain != "!" && t.plain != "?" &&
			t.plain != "note" &&
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
	if slices.Contains(Leavers, f.Verb) {
		r.notes = slices.DeleteFunc(r.notes, leaveWord)
		r.Unread = slices.DeleteFunc(r.Unread, func(u Unread) bool { return leaveWord(u.Word) })
	}
	f.Note = strings.TrimSpace(strings.Join(r.notes, " "))
	r.groups = slices.DeleteFunc(r.groups, func(s Screws) bool { return s == Screws{} })
	r.total()
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
