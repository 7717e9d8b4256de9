package benchline

import (
	"slices"
	"strings"

	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
)

// checkable says whether the clause speaks of something that a check looks at.
func (c *clause) checkable() bool { return c.checkOf() != nil }

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
