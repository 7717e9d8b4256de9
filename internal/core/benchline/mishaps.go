package benchline

import (
	"slices"
	"strconv"
	"strings"

	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/phrase"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
)

// longer reads "1 longer", "all same": it qualifies the screws before it.
func (c *clause) longer() bool {
	n, word := 0, ""
	for i, it := range c.items {
		switch {
		case it.Fig != nil && it.Fig.Count() > 0 && n == 0:
			n = it.Fig.Count()
		case c.role[i] == length:
			word = it.Low
		case c.role[i] == quiet || c.role[i] == prep_ || c.role[i] == joins:
		default:
			return false
		}
	}
	if word == "" || len(c.drafts) == 0 {
		return false
	}
	d := &c.drafts[len(c.drafts)-1]
	if d.f.Verb != "unfasten" {
		return false
	}
	if n > 0 && n < d.f.Count {
		d.f.Lengths = []shorthand.Screws{{Count: d.f.Count - n, Drive: d.f.Drive}, {Count: n, Drive: d.f.Drive, Word: lengthOf(word)}}
	}
	d.to = c.items[len(c.items)-1].To()
	for i := range c.used {
		c.used[i] = true
	}
	c.qualified = append(c.qualified, c.clause)
	return true
}

// lengthOf is the plain form of a word of length.
func lengthOf(w string) string {
	switch w {
	case "longer":
		return "long"
	case "shorter":
		return "short"
	}
	return w
}

// mishap reads what went wrong: something torn, bent, cracked, lost; not beside what came out.
func (c *clause) mishap() bool {
	kind, at := "", -1
	for i, it := range c.items {
		if c.role[i] == incident && kind == "" {
			kind, at = it.Canon(lexicon.Incident), i
		}
		if c.role[i] == particle && (it.Canon(lexicon.Particle) == "out" || it.Canon(lexicon.Particle) == "off") {
			return false
		}
		if c.role[i] == act && it.Canon(lexicon.Verb) == "bend" && kind == "" {
			kind, at = "part-broke", i
		}
	}
	if kind == "" {
		return false
	}
	if c.tabsSaid > 0 && len(c.nouns) == 0 && (kind == "tab-broke" || kind == "part-broke" || kind == "flex-torn") {
		return c.someTabs(at)
	}
	screw := slices.ContainsFunc(c.nouns, func(n nounPhrase) bool { return n.m.thing == "screw" || n.m.thing == "post" })
	n, width, long := -1, 0.0, 0.0
	for i, it := range c.items {
		if it.Fig != nil && it.Fig.Count() > 0 {
			n, c.used[i] = it.Fig.Count(), true
		}
		if it.Fig != nil && it.Fig.Width > 0 {
			width, long, c.used[i] = it.Fig.Width, it.Fig.Length, true
		}
	}
	driveID := ""
	for i := range c.items {
		if c.role[i] == drive {
			driveID, c.used[i] = c.items[i].Canon(lexicon.Drive), true
		}
	}
	if c.thingNamed("pull tab") >= 0 {
		return c.tab(true)
	}
	if kind == "screw-lost" && !screw && driveID == "" {
		if c.checkable() {
			return false
		}
		kind = "part-forgotten"
	}
	if kind == "tab-broke" && !screw { // "snapped", without a tab
		kind = "part-broke"
	}
	d := draft{f: shorthand.Fact{Verb: "incident", Incident: kind}, from: c.items[0].From(), to: c.items[len(c.items)-1].To()}
	if kind == "screw-lost" {
		d.f.Count, d.f.Drive, d.f.DiameterMM, d.f.LengthMM = max(0, n), driveID, width, long
		if n < 0 && (c.has("a") || c.role0Count()) {
			d.f.Count = 1
		}
	}
	c.used[at] = true
	slices.SortStableFunc(c.nouns, func(a, b nounPhrase) int { // what is one part on record is meant before what is not
		switch {
		case (a.m.one() != nil) == (b.m.one() != nil):
			return 0
		case a.m.one() != nil:
			return -1
		}
		return 1
	})
	for k := range c.nouns {
		x := &c.nouns[k]
		switch {
		case x.m.thing == "screw" && x.m.none(), x.m.thing == "cable" && x.m.none():
			x.used = true
		case d.m.none() && !x.m.none():
			d.m, x.used = x.m, true
			if x.m.lead() && (kind == "part-broke" || kind == "flex-torn") {
				d.f.Incident = "flex-torn"
			}
		case x.m.thing != "" && x.m.none():
			x.used = true
		case d.m.one() != nil && x.m.none():
		}
	}
	if d.m.kind() == "rear-glass" && d.f.Incident == "part-broke" {
		d.f.Incident = "glass-cracked"
	}
	if d.m.none() && kind != "screw-lost" {
		if !c.takeSubject(&d) {
			return false
		}
	}
	c.add(d)
	return true
}

// someTabs reads "3 tabs, 1 broke".
func (c *clause) someTabs(at int) bool {
	broke := 1
	for i, it := range c.items {
		if it.Fig != nil && it.Fig.Count() > 0 {
			broke, c.used[i] = it.Fig.Count(), true
		}
	}
	left := c.tabsSaid - broke
	if left < 0 {
		return false
	}
	c.used[at] = true
	d := draft{f: shorthand.Fact{Verb: "release", Joint: "pull tab", What: "pull tabs", Whole: &left, Of: c.tabsSaid,
		Incident: "tab-broke"}, from: c.items[0].From(), to: c.items[len(c.items)-1].To(), m: c.subject}
	if d.m.none() {
		c.tabPart(&d, &nounPhrase{})
	}
	c.add(d)
	return true
}

// takeSubject gives a fact without a part that of the clause before, or of the last act.
func (c *clause) takeSubject(d *draft) bool {
	if !c.subject.none() {
		d.m = c.subject
		return true
	}
	if len(c.drafts) > 0 {
		for i := len(c.drafts) - 1; i >= 0; i-- {
			if !c.drafts[i].m.none() {
				d.m = c.drafts[i].m
				return true
			}
		}
		return false
	}
	return false
}

// checkable says whether the clause speaks of something that a check looks at.
func (c *clause) checkable() bool { return c.checkOf() != nil }

// tooMuch reads what lies on the bench too much: "1 screw over, no idea where from".
func (c *clause) tooMuch() bool {
	k := slices.IndexFunc(c.role, func(x role) bool { return x == surplus })
	if k < 0 {
		return false
	}
	s := shorthand.Surplus{Count: 1, Origin: "unknown", What: "bit"}
	for i, it := range c.items {
		if it.Fig != nil && it.Fig.Count() > 0 {
			s.Count, c.used[i] = it.Fig.Count(), true
		}
	}
	var what []string
	for i := range c.items {
		if c.role[i] == drive {
			what = append(what, c.items[i].Canon(lexicon.Drive))
			c.used[i] = true
		}
	}
	for i := range c.nouns {
		n := &c.nouns[i]
		n.used = true
		what = append(what, strings.Join(lows(n.tokens), " "))
	}
	if len(what) == 0 {
		what = []string{"bit"}
	}
	s.What = strings.Join(what, " ")
	c.used[k] = true
	c.add(draft{f: shorthand.Fact{Verb: "note", Surplus: &s, Note: "surplus " + strconv.Itoa(s.Count) + " " + s.What + ", unknown origin"},
		from: c.items[0].From(), to: c.items[len(c.items)-1].To()})
	c.surplusSaid = true
	return true
}

// tabs reads pull tabs: which one, how many, how many came out whole.
func (c *clause) tabs() bool {
	if c.thingNamed("pull tab") < 0 {
		return false
	}
	for i, it := range c.items { // "adhesive strip peeled" is no tab of a battery
		if c.role[i] == act && (it.Canon(lexicon.Verb) == "measure" || it.Canon(lexicon.Verb) == "cut") {
			return false
		}
	}
	return c.tab(false)
}

var whichWords = set("hidden left right upper lower middle outer inner first second third last top bottom long short")

func (c *clause) tab(broke bool) bool {
	k := c.thingNamed("pull tab")
	n := &c.nouns[k]
	d := draft{f: shorthand.Fact{Verb: "release", Joint: "pull tab", What: "pull tabs"}, from: c.items[0].From(),
		to: c.items[len(c.items)-1].To()}
	pulled := broke
	for i, it := range c.items {
		switch {
		case c.role[i] == particle, c.role[i] == act && slices.Contains([]string{"lift", "pull", "peel", "release"}, it.Canon(lexicon.Verb)),
			c.role[i] == result && it.Canon(lexicon.Result) == "pass", it.Low == "ok", it.Low == "whole", it.Low == "came":
			pulled, c.used[i] = true, true
		case c.role[i] == incident, it.Low == "gone", it.Low == "torn", it.Low == "tore":
			pulled, broke, c.used[i] = true, true, true
		}
	}
	last := c.lastTab()
	if !pulled && !last {
		for _, it := range c.items {
			if it.Fig != nil && it.Fig.Count() > 0 {
				c.tabsSaid = it.Fig.Count()
				c.pendingSubject = append(c.pendingSubject, c.clause)
			}
		}
		return false
	}
	count, share := -1, false
	for i, it := range c.items {
		f := it.Fig
		if f == nil {
			continue
		}
		c.used[i] = true
		switch {
		case f.Share > 0:
			whole := int(f.Value)
			if broke {
				whole = f.Share - whole
			}
			d.f.Whole, d.f.Of, share = &whole, f.Share, true
		case f.Ordinal:
			d.f.Which = ordinal(int(f.Value))
		case f.Count() >= 0 && i == n.to: // "tab 2" names the second
			d.f.Which = ordinal(f.Count())
		case f.Count() >= 0:
			count = f.Count()
		default:
			c.used[i] = false
		}
	}
	for i, it := range c.items {
		if o := ordinalWord(it.Low); o != "" && i < n.at && i >= n.at-1 {
			d.f.Which, c.used[i] = o, true
		}
	}
	if c.has("both") && count < 0 {
		count = 2
	}
	for _, t := range n.tokens {
		if whichWords[t.Low] {
			d.f.Which = t.Low
		} else if o := ordinalWord(t.Low); o != "" {
			d.f.Which = o
		}
	}
	whole := c.has("whole") || c.has("intact") || c.has("clean")
	switch {
	case share:
	case broke:
		of := max(1, count)
		zero := 0
		d.f.Whole, d.f.Of = &zero, of
	case count > 0 && whole:
		d.f.Whole, d.f.Of = &count, count
	case count > 0:
		d.f.Count = count
	}
	if broke {
		d.f.Incident = "tab-broke"
	}
	c.tabPart(&d, n)
	n.used = true
	c.add(d)
	return true
}

// tabPart finds whose tabs they are: said, or those of what was spoken of last.
func (c *clause) tabPart(d *draft, n *nounPhrase) {
	if one := n.m.one(); one != nil {
		d.m = meant{parts: n.m.parts}
		return
	}
	for k := range c.nouns {
		if o := &c.nouns[k]; o != n && o.m.one() != nil && o.m.thing == "" {
			d.m, o.used = o.m, true
			return
		}
	}
	for i := len(c.past) - 1; i >= 0 && i >= len(c.past)-2; i-- {
		if f := c.past[i].Fact; f.Part != "" && (f.Verb == "release" || c.known(f).kind() == "battery") {
			d.m = c.known(f)
			return
		}
	}
}

func (c *clause) lastTab() bool {
	return len(c.past) > 0 && c.past[len(c.past)-1].Fact.Verb == "release"
}

var ordinalNames = []string{"", "first", "second", "third", "fourth", "fifth", "sixth"}

func ordinal(n int) string {
	if n > 0 && n < len(ordinalNames) {
		return ordinalNames[n]
	}
	return strconv.Itoa(n)
}

func ordinalWord(w string) string {
	switch w {
	case "1st":
		return "first"
	case "2nd":
		return "second"
	case "3rd":
		return "third"
	}
	if slices.Contains(ordinalNames[1:], w) {
		return w
	}
	return ""
}

// functionMarks are the checks of the catalogue that look at a function of the lexicon, the plainest first.
var functionMarks = map[string][]string{"face unlock": {"face-unlock"}, "auto brightness": {"auto-brightness"},
	"colour adaptation": {"ambient-colour"}, "wireless charging": {"charging-coil"}, "vibration": {"vibration"},
	"touch": {"touch"}, "photo": {"rear-photo"}, "video": {"rear-camera"}, "battery health": {"battery-health"},
	"fingerprint": {"fingerprint"}, "proximity": {"proximity"}, "sound": {"loudspeaker"}, "call": {"call-ear"}, "boot": {"boot"}}

// CheckName is a check that the line may speak of.
type CheckName struct {
	Mark string `json:"mark"`
	Name string `json:"name"`
}

// checkOf is the check that the things of the clause are about.
func (c *clause) checkOf() *CheckName {
	var said []string
	canon := ""
	for i, it := range c.items {
		switch c.role[i] {
		case function:
			canon = it.Canon(lexicon.Function)
			said = append(said, strings.Fields(it.Low)...)
		case thing:
			said = append(said, strings.Fields(it.Low)...)
		}
	}
	if len(said) == 0 {
		return nil
	}
	p := strings.Join(said, " ")
	for k := range c.c.Checks {
		x := &c.c.Checks[k]
		if lexicon.Norm(x.Mark) == p || lexicon.Norm(x.Name) == p {
			return x
		}
	}
	marks := functionMarks[canon]
	if n, ok := lexicon.Noun(p); ok && canon == "" {
		if k, known := trade.KindOf(n); known {
			marks = []string{k}
		}
		if n == "haptic motor" {
			marks = []string{"vibration"}
		}
	}
	for _, m := range marks {
		for k := range c.c.Checks {
			if c.c.Checks[k].Mark == m {
				return &c.c.Checks[k]
			}
		}
	}
	return nil
}

// check reads how a function is: "touch ok", "flash does not work". Without such a check it is a note.
func (c *clause) check() bool {
	verdict := ""
	for i, it := range c.items {
		switch c.role[i] {
		case result:
			verdict = it.Canon(lexicon.Result)
		case figure, act, backAct, drive, why, outcome:
			return false
		case particle:
			return false
		case incident:
			if it.Is(lexicon.Result) {
				verdict = it.Canon(lexicon.Result)
			}
		case quiet:
			if it.Is(lexicon.Result) && i > 0 {
				verdict = it.Canon(lexicon.Result)
			}
		}
	}
	if verdict == "" {
		return false
	}
	if k := slices.Index(c.role, not); k >= 0 && verdict == "pass" {
		verdict = "lost"
		c.used[k] = true
	}
	x := c.checkOf()
	if x == nil {
		return false
	}
	for i := range c.items {
		if c.role[i] == thing || c.role[i] == function || c.items[i].Is(lexicon.Result) {
			c.used[i] = true
		}
	}
	c.add(draft{f: shorthand.Fact{Verb: verdict, What: x.Mark, Name: x.Name}, from: c.items[0].From(),
		to: c.items[len(c.items)-1].To()})
	return true
}

func figures(items []phrase.Item) []phrase.Figure {
	var out []phrase.Figure
	for _, it := range items {
		if it.Fig != nil {
			out = append(out, *it.Fig)
		}
	}
	return out
}
