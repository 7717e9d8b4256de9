package rating

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"waryowl/internal/app/desk"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/school"
	"waryowl/internal/store"
)

// TestEveryFactComesFromSomewhere: each fact of the rubrics is computed by an engine or asked, and what a plan or trials
// give is never typed in.
func TestEveryFactComesFromSomewhere(t *testing.T) {
	computed := map[string]bool{
		"depth":    true,
		"minutes":  true,
		"tools":    true,
		"adhesive": true,
		"odds":     true,
		"genuine":  true,
	}
	n := 0
	for id, def := range school.Facts() {
		n++
		o, known := OriginOf(id)
		if !known {
			t.Errorf("%s comes from nowhere", id)
			continue
		}
		job, what, _ := cutLast(id)
		if computed[what] && (o.Engine == "" || o.Field == "") {
			t.Errorf("%s of %s is typed in", what, job)
		}
		if o.Engine == "" && def.Ask == "" {
			t.Errorf("%s is asked, but how is not said", id)
		}
		number := 1.0
		f := store.SayingFacts{Fact: id, By: "somebody", Number: &number, Currency: "EUR"}
		if def.Kind == "choice" {
			f = store.SayingFacts{Fact: id, By: "somebody", Choice: def.Values[0]}
		} else if def.Min != nil {
			f.Number = def.Min
		}
		if err := CheckSaying(f); (err == nil) != (o.Engine == "" || o.Beside) {
			t.Errorf("%s (%s): said, %v", id, o.Engine, err)
		}
	}
	if n != 88 {
		t.Errorf("%d facts", n)
	}
	for _, b := range school.Shipped() {
		if err := school.Check(b); err != nil {
			t.Errorf("%s: %v", b.ID, err)
		}
	}
	if err := school.Check(school.Own()); err != nil {
		t.Errorf("template: %v", err)
	}
}

func cutLast(id string) (job, what string, dotted bool) {
	for i := len(id) - 1; i >= 0; i-- {
		if id[i] == '.' {
			return id[:i], id[i+1:], true
		}
	}
	return "", id, false
}

// TestOutcomeOfAPiece: the worst check decides; what is half shown may still be a loss, what it serves and nobody tried too.
func TestOutcomeOfAPiece(t *testing.T) {
	p := func(x float64) *float64 { return &x }
	v := func(mark, eye string, x *float64) ledger.Verdict {
		return ledger.Verdict{Check: "touch", Mark: mark, Eye: eye, P: x}
	}
	none := func(string) bool { return false }
	for name, c := range map[string]struct {
		verdicts []ledger.Verdict
		served   func(string) bool
		may      string
		eye      string
	}{
		"proven to work": {[]ledger.Verdict{v(ledger.Works, "open", p(0)), v(ledger.Works, "open", p(0))}, none, "[works]", "open"},
		"one check is lost": {[]ledger.Verdict{v(ledger.Works, "open", p(0)), v(ledger.Loses, "open", p(1))}, none,
			"[loses]", "open"},
		"a notice": {[]ledger.Verdict{v(ledger.WithNotice, "open", p(0)), v(ledger.Works, "open", p(0))}, none,
			"[notice]", "open"},
		"dead beats a loss":  {[]ledger.Verdict{v(ledger.Dead, "open", p(1)), v(ledger.Loses, "open", p(1))}, none, "[dead]", "open"},
		"half, not excluded": {[]ledger.Verdict{v(ledger.Works, "half", p(0.2))}, none, "[loses works]", "half"},
		"half, excluded":     {[]ledger.Verdict{v(ledger.Works, "half", p(0.01))}, none, "[works]", "half"},
		"not settled": {[]ledger.Verdict{v(ledger.Unsettled, "half", p(0.5)), v(ledger.WithNotice, "open", p(0))},
			none, "[loses notice]", "half"},
		"what it serves was not tried": {[]ledger.Verdict{v(ledger.Works, "open", p(0)), v(ledger.Untested, "shut", nil)},
			func(string) bool { return true }, "[loses works]", "half"},
		"comes and goes":    {[]ledger.Verdict{v(ledger.Sporadic, "open", p(1))}, none, "[loses]", "open"},
		"nothing was tried": {[]ledger.Verdict{v(ledger.Untested, "shut", nil)}, none, "[]", "shut"},
	} {
		may, eye, _ := outcome(c.verdicts, c.served)
		if fmt.Sprint(may) != c.may || eye != c.eye {
			t.Errorf("%s: %v %s, want %s %s", name, may, eye, c.may, c.eye)
		}
		if !slices.IsSortedFunc(
			may,
			func(a, b string) int { return slices.Index(ladder, a) - slices.Index(ladder, b) },
		) {
			t.Errorf("%s: %v is not the worst first", name, may)
		}
	}
}

// TestWordsOfValues: what is known is said with its range and its unit, money in the digits of its currency (ISO 4217).
func TestWordsOfValues(t *testing.T) {
	f := school.Facts()
	x := func(v float64) *float64 { return &v }
	for want, got := range map[string]string{
		"9 steps":          Words(f["battery.depth"], school.Value{Value: 9.0}, true, "", false),
		"12 min, 10 to 17": Words(f["battery.minutes"], school.Value{Value: 12.0, Low: x(10), High: x(17)}, true, "", false),
		"loses or works":   Words(f["screen.genuine"], school.Value{Among: []string{"loses", "works"}}, true, "", false),
		"19.00 EUR":        Words(f["battery.part-price"], school.Value{Value: 1900.0}, true, "EUR", true),
		"1900 JPY":         desk.Money(1900, "JPY"),
		"1.900 KWD":        desk.Money(1900, "KWD"),
		"from 3 days":      Words(f["parts.days"], school.Value{Low: x(3)}, true, "", false),
		"not known":        Words(f["parts.days"], school.Value{}, false, "", false),
	} {
		if got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
}

// TestOutcomeAgainstEnumeration: what a piece may come to is exactly what some choice of each check's outcomes comes to.
func TestOutcomeAgainstEnumeration(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 5))
	marks := []string{
		ledger.Works,
		ledger.WithNotice,
		ledger.Calibrated,
		ledger.Loses,
		ledger.Dead,
		ledger.Unsettled,
		ledger.Sporadic,
	}
	at := func(s string) int { return slices.Index(ladder, s) }
	for range 3000 {
		var verdicts []ledger.Verdict
		var sets [][]string
		for range 1 + r.IntN(5) {
			p := []float64{0, 0.02, 0.5, 0.99}[r.IntN(4)]
			v := ledger.Verdict{
				Check: "touch",
				Mark:  marks[r.IntN(len(marks))],
				Eye:   []string{"half", "open"}[r.IntN(2)],
				P:     &p,
			}
			if v.Mark == ledger.Unsettled {
				v.Eye = "half"
			}
			verdicts = append(verdicts, v)
			// The rule once more, in words: proven is what it is; half may also be a loss that is not excluded; not settled is
			// a loss or none, unless one of both is excluded.
			o := map[string]string{ledger.Works: "works", ledger.WithNotice: "notice", ledger.Calibrated: "calibrated",
				ledger.Loses: "loses", ledger.Dead: "dead", ledger.Sporadic: "loses"}[v.Mark]
			switch {
			case v.Mark == ledger.Unsettled && p < 0.05:
				sets = append(sets, []string{"works"})
			case v.Mark == ledger.Unsettled && p > 0.95:
				sets = append(sets, []string{"loses"})
			case v.Mark == ledger.Unsettled:
				sets = append(sets, []string{"loses", "works"})
			case v.Eye == "half" && p >= 0.05:
				sets = append(sets, []string{o, "loses"})
			default:
				sets = append(sets, []string{o})
			}
		}
		want := map[string]bool{}
		var choose func(i, worst int)
		choose = func(i, worst int) {
			if i == len(sets) {
				want[ladder[worst]] = true
				return
			}
			for _, o := range sets[i] {
				choose(i+1, min(worst, at(o)))
			}
		}
		choose(0, len(ladder)-1)
		may, _, _ := outcome(verdicts, func(string) bool { return false })
		got := map[string]bool{}
		for _, o := range may {
			got[o] = true
		}
		if fmt.Sprint(got) != fmt.Sprint(want) {
			t.Fatalf("%+v: %v, by enumeration %v", verdicts, got, want)
		}
	}
}
