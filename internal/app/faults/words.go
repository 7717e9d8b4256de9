package faults

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"waryowl/internal/app/desk"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/faultfind"
)

func (v *Room) money(minor float64) string { return desk.Money(math.Round(minor), v.Currency) }

// spent are the minutes at the phone so far.
func (r *record) spent() float64 {
	sum := 0.0
	for _, a := range r.Acts {
		sum += a.Minutes
	}
	return sum
}

// choices puts money beside the decision: stop and quote the likeliest cure now, or one act more and then the best of
// what is left.
func (v *Room) choices(r *record, out faultfind.Output) {
	if out.Status != "open" && out.Status != "found" || len(out.Next) == 0 || len(out.Causes) == 0 {
		return
	}
	k := slices.IndexFunc(out.Next, func(n faultfind.Next) bool {
		causes, _ := faultfind.Causes(r.Symptom, n.Act)
		return n.Kind == "cure" && slices.Contains(causes, out.Causes[0].Cause)
	})
	best := out.Next[0]
	if k >= 0 {
		cure := out.Next[k]
		words := fmt.Sprintf("%s, %.0f min", cure.Act, math.Ceil(cure.Minutes))
		if cure.PHit < 0.995 {
			words += fmt.Sprintf("; wrong in %.0f of 100, then %s are lost", 100*(1-cure.PHit), v.money(cure.Cost))
		}
		v.Choices = append(v.Choices, Choice{"Stop and quote now", v.money(out.Spent + cure.Cost), words})
	} else {
		v.Choices = append(v.Choices, Choice{"Stop and quote now", "", "no single repair cures the likeliest cause"})
	}
	words := fmt.Sprintf("repaired in %.0f of 100, in %.0f min on average", 100*out.Expected.PRepaired,
		math.Ceil(out.Expected.Minutes))
	if k > 0 {
		if saves := out.Next[k].Expected - best.Expected; saves >= 1 {
			words += fmt.Sprintf("; saves %s on average", v.money(saves))
		}
	}
	if r.Limit > 0 {
		words += fmt.Sprintf("; within %s in %.0f of 100", v.money(float64(r.Limit)), 100*out.Expected.PWithin)
	}
	v.Choices = append(v.Choices, Choice{fmt.Sprintf("One step more, %.0f min", math.Ceil(best.Minutes)),
		v.money(out.Spent+best.Cost) + " to " + v.money(out.Spent+out.Expected.Cost), words})
}

// sentence answers what to do, or how it ended.
func (v *Room) sentence(r *record, out faultfind.Output) {
	add := func(f ...answer.Fragment) { v.Answer = append(v.Answer, f...) }
	likely := func() {
		if len(out.Causes) > 0 {
			add(answer.Text("Most likely the "), answer.Name(said(out.Causes[0].Cause), "#causes"), answer.Text(", "),
				answer.Number(100*out.Causes[0].P, "%", "#causes"), answer.Text(". "))
		}
	}
	first := func(lead string) {
		if len(v.Next) == 0 {
			return
		}
		n := v.Next[0]
		add(answer.Text(lead), answer.Name(lower(n.Words), "#next"))
		if n.Minutes >= .5 {
			add(answer.Text(", "), answer.Number(math.Ceil(n.Minutes), "min", "#next"))
		}
		if n.Wait > 0 {
			add(answer.Text(fmt.Sprintf(" and %.0f min wait", n.Wait)))
		}
		add(answer.Text("."))
	}
	switch {
	case r.State == "repaired":
		add(answer.Text("Repaired in "), answer.Number(math.Max(1, math.Round(r.spent())), "min", "#done"),
			answer.Text(": "+between(r.Ended)))
		v.Owner = owner(r)
	case r.State == "given up":
		add(answer.Text("Given up after "), answer.Number(math.Round(r.spent()), "min", "#done"),
			answer.Text(": "+strings.TrimSuffix(r.Why, ".")+"."))
		v.Owner = "We looked for the fault and did not repair it. " + v.tested(r)
	case r.State == "not told apart":
		add(answer.Text("Closed without telling apart: " + between(r.Ended)))
	case out.Status == "repaired" && out.Control == "required":
		add(answer.Text("Gone: " + between(out.Between)))
		first(" Now the closing control before it is handed back: ")
	case out.Dead && out.Status == "stop":
		add(answer.Text("The board is dead: every step that could have brought it back was tried. Giving up costs " +
			v.money(v.service(r)) + "."))
	case out.Status == "gate":
		add(answer.Text("The board looks dead, but it is not called so yet: "),
			answer.Count(len(out.Gate), "step", "#gate"), answer.Text(" first."))
		first(" Next: ")
	case out.Status == "stop" && out.Why == "price":
		likely()
		add(answer.Text("Stop: every next step is dearer than giving up, " + v.money(v.service(r)) + "."))
	case out.Status == "stop":
		likely()
		add(answer.Text("Nothing is left to do for it here."))
	case out.Status == "cannot be told apart":
		add(answer.Text("It cannot be told apart here: " + between(out.Between)))
	case out.Status == "found":
		add(answer.Text("It is the "), answer.Name(said(out.Causes[0].Cause), "#causes"), answer.Text("."))
		first(" Next: ")
	case len(v.Next) > 0 && v.Next[0].Asks == "Done?":
		add(answer.Text("Safety first. "))
		first("Now: ")
	default:
		likely()
		first("First: ")
	}
}

func (v *Room) service(r *record) float64 {
	if r.Service > 0 {
		return float64(r.Service)
	}
	return 25000 // the house figure of the engine
}

func lower(s string) string {
	if s == "" {
		return s
	}
	return strings.ToLower(s[:1]) + s[1:]
}

// causeWords say causes so that "the" can stand before them.
var causeWords = map[string]string{"software hangs": "hanging software", "battery empty": "empty battery",
	"display only":       "display alone",
	"charge port shorts": "short in the charge port", "board shorts": "short on the board", "damp only": "damp inside",
	"board corroded": "corrosion on the board", "sensor strip parted": "parted sensor strip",
	"one camera pulls the others down": "camera that pulls the others down",
	"board camera rail":                "camera supply on the board",
	"entry":                            "stored entry", "a sensor in a lead": "sensor in a lead"}

func said(cause string) string {
	if w, known := causeWords[cause]; known {
		return w
	}
	if what, is := strings.CutPrefix(cause, "board "); is {
		return what + " circuit on the board"
	}
	return cause
}

// the names causes in a row with their articles: the port lead or the charge port.
func the(causes []string, last string) string {
	var list []string
	for _, c := range causes {
		list = append(list, "the "+said(c))
	}
	if len(list) < 2 {
		return strings.Join(list, "")
	}
	return strings.Join(list[:len(list)-1], ", ") + last + list[len(list)-1]
}

// between names the causes that an end leaves.
func between(causes []string) string {
	switch len(causes) {
	case 0:
		return "the cause was not named."
	case 1:
		return "it was " + the(causes, "") + "."
	}
	return "the cause lies between " + the(causes, " and ") + "."
}

// owner are words for whoever gets the phone back: what was done, and that it was tested.
func owner(r *record) string {
	var fitted, other string
	for _, a := range r.Acts {
		if a.Answer != "yes" || a.Act == closing {
			continue
		}
		if slot := slotOf(r.Symptom, a.Act); slot != "" {
			fitted = "The " + desk.Said(slot) + " was replaced. "
		} else if x, known := faultfind.ActOf(r.Symptom, a.Act); known && x.Kind == "cure" {
			other = "What helped: " + lower(a.Act) + ". "
		}
	}
	text := fitted
	if text == "" {
		text = other
	}
	return text + "We closed the phone, started it anew and tested what was wrong: it works."
}

func (v *Room) tested(r *record) string {
	if len(r.Acts) == 0 {
		return "Nothing was done to the phone."
	}
	return fmt.Sprintf("We tried %s.", answer.Counted(len(r.Acts), "thing"))
}
