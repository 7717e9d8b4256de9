package benchline

import (
	"fmt"
	"strconv"
	"strings"

	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
)

// Say says a fact in the words of the page, as an order or a report of a few words: "Unscrew 4 hexalobular screws of the
// hinge plate".
func Say(f shorthand.Fact, fresh *shorthand.NewPart) string {
	name := f.Name
	if fresh != nil {
		name = fresh.Name + " (new part)"
	}
	s := head(f, name)
	if c := f.Corrects; c != nil && c.How == "withdrawn" {
		return "Take back: " + lower(s)
	}
	s += tail(f)
	if f.Corrects != nil {
		s = "Instead: " + lower(s)
	}
	return s
}

func lower(s string) string {
	if s == "" {
		return s
	}
	return strings.ToLower(s[:1]) + s[1:]
}

// the puts an article before a name.
func the(name string) string {
	if name == "" {
		return ""
	}
	return " the " + name
}

var orders = map[string][2]string{
	"bracket": {"Remove", "Put back"}, "lift": {"Take out", "Put back"}, "peel": {"Peel off", "Lay down"},
	"cut": {"Cut", "Glue"}, "slide": {"Slide", "Slide back"}, "pry": {"Pry up", "Press in"}, "release": {"Release", "Glue"},
}

func head(f shorthand.Fact, name string) string {
	switch f.Verb {
	case "note":
		if f.Surplus != nil {
			return fmt.Sprintf("Left over: %d %s, %s", f.Surplus.Count, f.Surplus.What, origin(f.Surplus.Origin))
		}
		return "Note “" + f.Note + "”"
	case "tool":
		if f.Tool == "" {
			return "Tool down"
		}
		return "Tool in hand: " + f.Tool
	case "pass", "weak", "lost":
		return f.Name + ": " + map[string]string{"pass": "works", "weak": "weak", "lost": "lost"}[f.Verb]
	case "measure":
		return "Measured" + the(name) + ":" + values(f.Measures)
	case "incident":
		n := ""
		if f.Count > 0 {
			n = strconv.Itoa(f.Count) + " "
		}
		what := strings.ReplaceAll(f.Incident, "-", " ")
		return "Mishap: " + n + strings.TrimSpace(strings.TrimSpace(f.Drive+" ")+" "+what) + of(name)
	case "heat":
		side := f.Side
		if side == "" && name == "" {
			return "Heat"
		}
		return "Heat" + the(strings.TrimSpace(side+" "+name))
	case "solvent":
		return "Alcohol" + on(name, f.Side)
	case "unfasten":
		return screwing(f, name)
	case "disconnect":
		verb := map[bool]string{false: "Disconnect", true: "Connect"}[f.Back]
		if f.What != "" && name == "" {
			return verb + " " + f.What
		}
		return verb + the(name)
	}
	o := orders[f.Verb]
	verb := o[0]
	if f.Back {
		verb = o[1]
	}
	switch {
	case f.What != "" && name != "":
		return verb + the(f.What) + of(name)
	case f.What != "":
		return verb + the(f.What)
	case f.Joint != "" && name != "" && (f.Verb != "pry" || trade.Lead(f.Joint)):
		return verb + the(trade.JointOf(f.Joint).Plural) + of(name)
	}
	return verb + the(name)
}

func of(name string) string {
	if name == "" {
		return ""
	}
	return " of the " + name
}

func on(name, side string) string {
	if s := strings.TrimSpace(side + " " + name); s != "" {
		return " on the " + s
	}
	return ""
}

func origin(o string) string {
	if o == "" || o == "unknown" {
		return "nobody knows from where"
	}
	return "from " + o
}

func screwing(f shorthand.Fact, name string) string {
	verb := map[bool]string{false: "Unscrew", true: "Screw in"}[f.Back]
	what := "screws"
	if f.Joint == "post" || f.Drive == "post" {
		what = "posts"
	}
	if f.Count == 1 {
		what = strings.TrimSuffix(what, "s")
	}
	n := ""
	if f.Count > 0 {
		n = " " + strconv.Itoa(f.Count)
	}
	d := ""
	if f.Drive != "" && f.Drive != "post" {
		d = " " + f.Drive
	}
	size := ""
	if f.LengthMM > 0 {
		size = fmt.Sprintf(" (%s mm)", number(f.LengthMM))
	}
	s := verb + n + d + " " + what + size
	if name != "" {
		return s + of(name)
	}
	if f.Place != "" {
		return s + ", " + f.Place
	}
	return s
}

func number(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }

func values(list []shorthand.Measure) string {
	s := ""
	for _, m := range list {
		s += " " + number(m.Value) + " " + strings.Replace(m.Unit, "C", "°C", 1)
		if m.Of != "" {
			s += " " + m.Of
		}
	}
	return s
}

// duration says seconds as people do.
func duration(s float64) string {
	if s >= 120 && float64(int(s/60))*60 == s {
		return number(s/60) + " min"
	}
	return number(s) + " s"
}

// tail says how: method, figures, outcome, tool.
func tail(f shorthand.Fact) string {
	var parts []string
	add := func(ok bool, s string) {
		if ok {
			parts = append(parts, s)
		}
	}
	for _, g := range f.Lengths {
		add(g.Word != "", strings.TrimSpace(fmt.Sprintf("%d %s", g.Count, g.Word)))
	}
	add(f.Which != "", "the "+f.Which+" one")
	add(f.Of > 0 && f.Whole != nil, fmt.Sprintf("%d of %d whole", whole(f.Whole), f.Of))
	add(f.Count > 0 && f.Verb != "unfasten" && f.Verb != "incident", strconv.Itoa(f.Count))
	add(f.Incident != "" && f.Verb != "incident", strings.ReplaceAll(f.Incident, "-", " "))
	add(f.Method != "" && f.Method != "alcohol", "by "+f.Method)
	add(f.SetC > 0, number(f.SetC)+" °C")
	add(f.MeasuredC > 0, number(f.MeasuredC)+" °C read")
	add(f.Volts > 0, number(f.Volts)+" V")
	add(f.Seconds > 0, duration(f.Seconds))
	add(f.Result != "", f.Result)
	add(f.Connector != "", f.Connector)
	add(f.Outcome != "" && f.Outcome != "done", f.Outcome)
	add(f.Tool != "" && f.Verb != "tool", "with the "+f.Tool)
	add(f.Note != "" && f.Verb != "note" && f.Verb != "incident", "“"+f.Note+"”")
	if len(parts) == 0 {
		return ""
	}
	return ", " + strings.Join(parts, ", ")
}

func whole(p *int) int {
	if p == nil {
		return 0
	}
	return *p
}
