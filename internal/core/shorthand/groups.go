package shorthand

import (
	"strings"

	"waryowl/internal/core/phrase"
)

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

// size takes the size at token i: of the screws just counted, else of the first ones that lack theirs ("3 and 2, 1.2x1.6
// and 1.2x2.4").
func (r *reader) size(i int, d, l float64) {
	g := r.lacking(func(s Screws) bool { return s.LengthMM == 0 })
	if r.fresh == i && i > 0 && r.group().LengthMM == 0 {
		g = r.group()
	}
	g.DiameterMM, g.LengthMM = d, l
}

// screwy says whether a line of this verb may tell of screws.
func screwy(verb string) bool {
	return verb == "unfasten" || verb == "incident" || verb == "note" || verb == "bracket" || verb == "lift" ||
		verb == "disconnect"
}

// ofSize reads "3 of 1.2x1.6", a group of screws with its own size.
func (r *reader) ofSize(i int) bool {
	n := r.smallNumber(i)
	size := phrase.SizeForm.FindStringSubmatch(r.word(i + 2))
	if n < 1 || size == nil || r.word(i+1) != "of" || r.Fact.Verb == "measure" {
		return false
	}
	r.groups = append(r.groups, Screws{Count: n, DiameterMM: phrase.Number(size[1]), LengthMM: phrase.Number(size[2])})
	r.use(i, 3)
	return true
}

// total drops a first count that only sums up the groups after it: "5 cross: 3 of 1.2x1.6, 2 of 1.2x2.4".
func (r *reader) total() {
	if len(r.groups) < 3 || r.groups[0].LengthMM != 0 || r.groups[0].Word != "" {
		return
	}
	sum := 0
	for _, g := range r.groups[1:] {
		if g.Count == 0 || g.LengthMM == 0 && g.Word == "" {
			return
		}
		sum += g.Count
	}
	if sum != r.groups[0].Count {
		return
	}
	for i := range r.groups[1:] {
		if g := &r.groups[i+1]; g.Drive == "" {
			g.Drive, g.DriveSize = r.groups[0].Drive, r.groups[0].DriveSize
		}
	}
	r.groups = r.groups[1:]
}

// someBroke reads "3 tabs, 1 broke": of the tabs counted before, so many did not come out whole.
func (r *reader) someBroke(i int) bool {
	n := r.smallNumber(i)
	if n < 0 || !brokeWords[r.word(i+1)] || r.Fact.Verb != "cut" && r.Fact.Verb != "release" || len(r.groups) == 0 ||
		r.group().Count < n {
		return false
	}
	whole := r.group().Count - n
	r.Fact.Whole, r.Fact.Of = &whole, r.group().Count
	r.groups = r.groups[:len(r.groups)-1]
	r.use(i, 2)
	return true
}

var tellsOf = words("hidden captive shared magnetic stripped stuck loose missing under behind rusty different sealed " +
	"left on lost broken broke snapped damaged bent remaining")

// loose reads a size whose × was left out, "1.2 1.6", and keeps a figure that tells of some of the screws ("2 hidden",
// "1 stripped") in the note: it is no further group.
func (r *reader) loose(i int) bool {
	if !screwy(r.Fact.Verb) {
		return false
	}
	a, b := phrase.ValueForm.FindStringSubmatch(r.word(i)), phrase.ValueForm.FindStringSubmatch(r.word(i+1))
	small := func(m []string) bool {
		return m != nil && m[1]+m[4] == "" && (m[5] == "" || m[5] == "mm") && phrase.Number(m[3]) < 30
	}
	if small(a) && small(b) && a[5] == "" && strings.ContainsAny(a[3], ".,") && strings.ContainsAny(b[3], ".,") &&
		!driveBefore(r.list, i) {
		r.sized(i, 2, a[3], b[3])
		return true
	}
	if n := r.smallNumber(i); n > 0 && len(r.groups) > 0 && r.group().Count > n && i+1 < len(r.list) &&
		(tellsOf[r.list[i+1].plain] || i+2 < len(r.list) && r.list[i+1].plain == "of" && tellsOf[r.list[i+2].plain]) {
		r.notes = append(r.notes, typed(r.list[i:i+2]))
		r.use(i, 2)
		return true
	}
	return false
}
