package shorthand

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"waryowl/internal/core/trade"
)

// Echo says a reading back as a line of the grammar, in front of the phone's name.
func Echo(x Reading, v Vocabulary) string { return (&reader{Reading: x, v: v}).echo() }

// echo says the fact back in plain words that read as the same fact again: counts, units, negations and polarity as
// they were understood.
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
		return b.String() + "note “" + strings.NewReplacer("“", "'", "”", "'").Replace(f.Note) + "”"
	case "tool":
		if f.Tool == "" {
			return b.String() + "tool down, by hand"
		}
		return b.String() + "tool " + f.Tool
	case "incident":
		b.WriteString(strings.TrimSuffix("incident, "+strings.ReplaceAll(f.Incident, "-", " "), ", "))
	case "pass", "weak", "lost":
		return b.String() + "check " + strings.ReplaceAll(f.What, "-", " ") + ": " + f.Verb
	default:
		b.WriteString(f.Verb)
	}
	say := func(ok bool, format string, args ...any) {
		if ok {
			fmt.Fprintf(&b, " "+format, args...)
		}
	}
	if f.Surplus != nil {
		say(true, "surplus %d %s, %s origin", f.Surplus.Count, f.Surplus.What, f.Surplus.Origin)
		return b.String()
	}
	if len(f.Lengths) > 0 {
		for _, g := range f.Lengths {
			say(true, "%s", g.words())
		}
	} else if g := (Screws{f.Count, f.DiameterMM, f.LengthMM, f.Drive, f.DriveSize, ""}); g != (Screws{}) {
		say(true, "%s", g.words())
	}
	say(f.Missed > 0, "%d missed", f.Missed)
	spoken, _ := things(plainTokens(f.What))
	said := spoken == f.Joint && f.Joint != ""
	if joints := plural(f.Joint, f.Count); f.Joint != "" && !said && f.Joint != f.Drive {
		if f.Joint == "post" { // in the singular it is a drive as well
			joints = plural(f.Joint, 2)
		}
		say(true, "%s", joints)
	}
	say(f.What != "", "%s", f.What)
	name := f.Name
	if r.NewPart != nil {
		name = r.NewPart.Name
	}
	switch {
	case f.Place != "" && (name == "" || trade.Plain(name) == f.Place):
		say(true, "@%s", strings.ReplaceAll(f.Place, " ", "-"))
	default:
		of := ""
		if f.Joint != "" || f.What != "" || f.Count > 0 {
			of = "of the "
		}
		say(name != "", "%s%s", of, name)
		say(f.Place != "", "@%s", strings.ReplaceAll(f.Place, " ", "-"))
	}
	say(r.NewPart != nil, "(new part)")
	say(f.Of > 0 && f.Whole != nil, "%d of %d whole", value0(f.Whole), f.Of)
	say(f.Which != "", "the %s one", f.Which)
	say(f.Incident != "" && f.Verb == "release", "tab broke")
	say(f.Magnetic == "no", "not magnetic")
	say(f.Magnetic == "yes", "magnetic")
	say(f.Captive, "captive")
	say(f.Hidden && f.HiddenUnder == "", "hidden")
	say(f.HiddenUnder != "", "hidden under %s", f.HiddenUnder)
	say(f.SharedBy != "", "shared by %s", f.SharedBy)
	say(f.Carries != "", "carries %s", f.Carries)
	say(f.Method != "", "by %s", f.Method)
	say(f.SetC > 0 && f.SetCTo == 0, "%s °C", short(f.SetC))
	say(f.SetCTo > 0, "%s–%s °C", short(f.SetC), short(f.SetCTo))
	say(f.MeasuredC > 0, "%s °C read", short(f.MeasuredC))
	say(f.Volts > 0, "%s V", short(f.Volts))
	say(f.Seconds > 0 && f.SecondsTo == 0, "%s s", short(f.Seconds))
	say(f.SecondsTo > 0, "%s–%s s", short(f.Seconds), short(f.SecondsTo))
	say(f.Side != "", "from the %s", f.Side)
	if p := f.Polarity; p != nil {
		say(p.Plus != "", "plus %s", p.Plus)
		say(p.Minus != "", "minus %s", p.Minus)
	}
	for _, m := range f.Measures {
		say(true, "%s %s", strconv.FormatFloat(m.Value, 'f', decimals(m.Digit), 64),
			strings.Replace(m.Unit, "C", "°C", 1))
		say(m.U > 0, "±%s", short(m.U))
		say(m.Of != "", "%s", m.Of)
	}
	say(f.Result != "", "%s", f.Result)
	say(f.Outcome != "" && f.Outcome != "done", "%s", f.Outcome)
	say(f.Connector != "", "%s", f.Connector)
	say(f.Detour, "for nothing")
	say(f.Tool != "", "with the %s", f.Tool)
	say(f.Note != "", "note “%s”", strings.NewReplacer("“", "'", "”", "'").Replace(f.Note))
	if len(r.Candidates) > 0 {
		var names []string
		for _, c := range r.Candidates {
			names = append(names, c.Name)
		}
		say(true, "– which one: %s?", strings.Join(names, " or "))
	}
	return b.String()
}

func plainTokens(s string) []token {
	list, _ := tokens(s)
	return list
}

func value0(p *int) int {
	if p == nil {
		return 0
	}
	return *p
}

func (g Screws) words() string {
	var parts []string
	add := func(ok bool, s string) {
		if ok {
			parts = append(parts, s)
		}
	}
	add(g.Count > 0, strconv.Itoa(g.Count))
	add(g.Word != "", g.Word)
	add(g.Drive != "", g.Drive)
	add(g.DriveSize != "", driver(g.Drive, g.DriveSize))
	add(g.DiameterMM > 0 && g.LengthMM > 0, short(g.DiameterMM)+" × "+short(g.LengthMM)+" mm")
	add(g.DiameterMM == 0 && g.LengthMM > 0, short(g.LengthMM)+" mm")
	return strings.Join(parts, " ")
}

// driver is the code that is printed on a driver.
func driver(drive, size string) string {
	for _, d := range trade.Drives {
		if d.ID == drive && len(d.Letters) > 0 {
			return strings.ToUpper(d.Letters[0]) + size
		}
	}
	return size
}

func plural(joint string, n int) string {
	if n == 1 {
		return joint
	}
	for _, j := range trade.Joints {
		if j.ID == joint && n > 1 {
			return j.Plural
		}
	}
	return joint
}

func short(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }

func decimals(digit float64) int {
	if digit <= 0 || digit >= 1 {
		return 0
	}
	return int(math.Round(-math.Log10(digit)))
}
