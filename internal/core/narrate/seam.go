package narrate

// seam is a place between two items of run-on speech: may a new clause begin with the item?
type seam struct {
	it, next, last item   // the item, the one after it, and the one before it in the same clause
	done           []item // of the clause so far
	rest           []item
	toks           []tok
}

// acts says whether a stretch has a verb.
func acts(list []item) bool {
	for _, it := range list {
		if it.k == act || it.k == back || it.k == result || it.k == plain && bes[it.c] {
			return true
		}
	}
	return false
}

func (i item) is(words ...string) bool {
	for _, w := range words {
		if i.k == plain && i.c == w {
			return true
		}
	}
	return false
}

// newCue says whether a caption ends before the item.
func (s seam) newCue() bool { return s.it.a > 0 && s.toks[s.it.a-1].cue != s.toks[s.it.a].cue }

// lead says whether the item is a word that leads a clause ("then", "because"), and not part of another phrase.
func (s seam) lead() bool {
	next, last := s.next, s.last
	if s.it.k != plain || !leads[s.it.c] || last.k == plain && bes[last.c] {
		return false
	}
	switch s.it.c {
	case "right": // "the right side"
		return next.k != noun && !next.is("side") && !determiners[last.c]
	case "as": // "as usual"
		return subjects[next.c]
	case "well": // "as well"
		return len(s.done) == 0
	case "next":
		return next.c != "to"
	case "once":
		return next.c != "more" && next.c != "again"
	case "after", "before": // "after lunch", "before anything else"
		switch next.c {
		case "lunch", "that", "dinner", "anything":
			return false
		}
		return next.k != noun || later(s.rest)
	case "plus": // "plus two leads"
		return next.k != number && next.k != noun && !determiners[next.c]
	}
	return true
}

// okay says whether "ok" is a word by itself and no result of a check.
func (s seam) okay() bool {
	if s.it.k != result || s.it.s != "okay" && s.it.s != "ok" {
		return false
	}
	return len(s.done) == 0 || s.last.k != noun && s.last.k != check && !(s.last.k == plain && bes[s.last.c])
}

// andPerson: "… and I call it done".
func (s seam) andPerson() bool {
	return s.it.is("and") && len(s.done) > 1 && s.next.is("i", "we", "they")
}

// otherPhone: "red finished, green goes on the plate".
func (s seam) otherPhone() bool {
	goes := s.next.k == back && s.next.s == "goes on" || s.next.is("goes")
	return s.it.k == phone && goes && settled(s.done)
}

// afterNot: "the speaker doesn't | vibration is fine".
func (s seam) afterNot() bool {
	n := len(s.done)
	return n > 2 && s.last.s == "not" && (s.done[n-2].s == "does" || s.done[n-2].s == "is") && s.done[n-3].k != plain &&
		(s.it.k == noun || s.it.k == check)
}

// afterLater: "I leave that for later | two more screws".
func (s seam) afterLater() bool {
	starts := s.it.k == noun || s.it.k == number || s.it.k == act && s.next.k == plain && determiners[s.next.c]
	return s.last.is("later") && starts
}

// actAtCue: a caption that begins with an act and its thing, after one that said something whole.
func (s seam) actAtCue() bool {
	last := s.last
	goesOn := last.k == plain && (subjects[last.c] || bes[last.c] || joins[last.c] || preps[last.c] || last.c == "to" ||
		last.c == "not")
	return (s.it.k == act || s.it.k == back) && s.newCue() && s.next.k == plain && determiners[s.next.c] && settled(s.done) &&
		!goesOn
}

// countAtCue: a caption that begins with a count, after one that ended with its own verb's words.
func (s seam) countAtCue() bool {
	last := s.last
	ended := last.k == plain && last.c != "to" && !preps[last.c] && !bes[last.c] && !joins[last.c] && !determiners[last.c] &&
		!subjects[last.c]
	return s.it.k == number && s.newCue() && s.next.k == noun && acts(s.done) && ended
}

// person says whether a subject begins here: "the flex is off | you can see".
func (s seam) person() bool {
	it, next, last := s.it, s.next, s.last
	switch {
	case it.k != plain || !subjects[it.c] || len(s.done) == 0 || onlyChecks(s.done):
		return false
	case last.k == plain && (joins[last.c] || bes[last.c]):
		return false
	case last.k == act && !(last.done && it.is("they", "i", "you", "we")):
		return false
	case it.c == "there" && (last.k != noun && last.k != value || next.k != plain || !bes[next.c]):
		return false
	}
	return it.c != "you" || last.k != plain
}

// pronoun says whether "it is …" begins here.
func (s seam) pronoun() bool {
	if !s.it.is("it", "that", "this") || s.last.k == act || s.last.k == back {
		return false
	}
	verb := s.next.k == plain && bes[s.next.c] || s.next.k == act && s.next.done || s.next.s == "weighs"
	return verb && (acts(s.done) || s.it.c == "it" && s.last.k == noun)
}

// afterState: "bracket off | battery disconnected".
func (s seam) afterState() bool {
	it := s.it
	return s.last.state && (it.k == noun || it.k == number || it.k == plain && determiners[it.c] && it.c != "of")
}
