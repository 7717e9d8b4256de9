package compare

import (
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
)

// Claim is what somebody says of b against a: Of is a part of b, "" the phone, or "job:NAME".
type Claim struct {
	ID       string `json:"id"`
	Text     string `json:"text"`
	Of       string `json:"of"`
	Quantity string `json:"quantity"`
}

// Wants is the interval that the words of a claim mean, in their own sense; High null: no end.
type Wants struct {
	Low   float64  `json:"low"`
	High  *float64 `json:"high"`
	Unit  string   `json:"unit"`
	Sense string   `json:"sense" enum:"+,-,="`

	openLow, openHigh bool
}

// Told is what was measured, in the sense of the claim.
type Told struct {
	Value float64 `json:"value"`
	U     float64 `json:"u"`
	Unit  string  `json:"unit"`
}

// Finding is a claim held against what was measured.
type Finding struct {
	ID       string `json:"id"`
	Finding  string `json:"finding" enum:"confirmed,fits,refuted,not resolved,not measured,unread"`
	Wants    *Wants `json:"wants"`
	Measured *Told  `json:"measured"`
	Doubted  bool   `json:"doubted"`
	Question string `json:"question"`
}

// hedges are the words before a number that widen it or take an end away, the longest first; low and high come from
// the number and the place of its last digit.
var hedges = func() []hedge {
	list := []hedge{}
	add := func(words string, read func(x, r float64) Wants) {
		for w := range strings.SplitSeq(words, "|") {
			list = append(list, hedge{strings.Fields(w), read})
		}
	}
	to := func(x float64) *float64 { return &x }
	add("almost|nearly|close to|not quite|just under", func(x, r float64) Wants {
		return Wants{Low: math.Min(.9*x, x-r/2), High: to(x)}
	})
	add("about|around|roughly|approximately|some|circa|~|≈", func(x, r float64) Wants {
		return Wants{Low: math.Min(.9*x, x-r/2), High: to(math.Max(1.1*x, x+r/2))}
	})
	add("up to|at most|no more than|not more than", func(x, _ float64) Wants { return Wants{Low: 0, High: to(x)} })
	add("at least|no less than|not less than", func(x, _ float64) Wants { return Wants{Low: x} })
	add("less than|under|below", func(x, _ float64) Wants {
		return Wants{Low: 0, High: to(x), openLow: true,
			openHigh: true}
	})
	add("more than|over|above", func(x, _ float64) Wants { return Wants{Low: x, openLow: true} })
	add("just over|slightly more than|a little over", func(x, _ float64) Wants {
		return Wants{Low: x, High: to(1.1 * x), openLow: true}
	})
	slices.SortStableFunc(list, func(a, b hedge) int { return len(b.words) - len(a.words) })
	return list
}()

type hedge struct {
	words []string
	read  func(x, r float64) Wants
}

// senses are the comparatives: more of the quantity, or less.
var senses = map[string]string{"thicker": "+", "heavier": "+", "bigger": "+", "larger": "+", "wider": "+",
	"taller": "+", "longer": "+",
	"more": "+", "higher": "+", "greater": "+", "slower": "+", "thinner": "-", "slimmer": "-", "lighter": "-",
	"smaller":  "-",
	"narrower": "-", "shorter": "-", "fewer": "-", "less": "-", "lower": "-", "faster": "-", "quicker": "-"}

// shares are number words: a share or a multiple in percent, and what it may be off (house).
var shares = map[string][2]float64{"half": {50, 1}, "third": {100. / 3, 1}, "quarter": {25, 1}, "fifth": {20, 1},
	"tenth": {10, 1},
	"twice": {100, 5}, "double": {100, 5}, "doubled": {100, 5}, "thrice": {200, 5}}

var alike = []string{"same", "equal", "unchanged", "identical"}

// sameWithin is what "the same" may be off, percent (house).
const sameWithin = 2.0

// unitWords say units as people write them.
var unitWords = map[string]string{"%": "%", "percent": "%", "pct": "%", "gram": "g", "grams": "g", "grammes": "g",
	"millimetre":  "mm",
	"millimetres": "mm", "millimeter": "mm", "millimeters": "mm", "minute": "min", "minutes": "min", "mins": "min",
	"step":  "steps",
	"steps": "steps", "megapixels": "MP", "megapixel": "MP", "pin": "pins"}

var (
	claimToken = regexp.MustCompile(`\d+(?:[.,]\d+)*|[\p{L}][\p{L}'’]*|%|~|≈|[–—-]`)
	either     = regexp.MustCompile(`^[1-9]\d{0,2}[.,]\d{3}$`)
)

// number reads a figure and the place of its last digit; ambiguous says that its mark may part thousands or decimals.
func number(text string) (x, r float64, ambiguous, ok bool) {
	marks := strings.Count(text, ".") + strings.Count(text, ",")
	if either.MatchString(text) {
		return 0, 0, true, false
	}
	if marks > 1 { // the last mark parts the decimals where it is another than the first
		k := strings.LastIndexAny(text, ".,")
		if strings.Count(text, text[k:k+1]) > 1 {
			text = strings.NewReplacer(".", "", ",", "").Replace(text)
		} else {
			text = strings.NewReplacer(".", "", ",", "").Replace(text[:k]) + "." + text[k+1:]
		}
	}
	text = strings.ReplaceAll(text, ",", ".")
	x, err := strconv.ParseFloat(text, 64)
	r = 1
	if k := strings.Index(text, "."); k >= 0 {
		r = math.Pow(10, -float64(len(text)-k-1))
	}
	return x, r, false, err == nil
}

// reading is a claim taken apart.
type reading struct {
	wants    *Wants
	question string
}

func ask(q string) reading { return reading{question: q} }

// readClaim reads the interval, the sense and the unit of a claim; units are those of its quantity.
func readClaim(text string, units []string) reading {
	words := claimToken.FindAllString(strings.ToLower(strings.NewReplacer("per cent", "percent", "’",
		"'").Replace(text)), -1)
	used := make([]bool, len(words))
	is := func(i int, w string) bool { return i >= 0 && i < len(words) && words[i] == w }
	var at []int // figures and number words
	for i, w := range words {
		_, share := shares[w]
		if w[0] >= '0' && w[0] <= '9' || share {
			at = append(at, i)
		}
	}
	unitAt := func(i int) (string, bool) {
		if i >= len(words) {
			return "", false
		}
		w := words[i]
		if u, known := unitWords[w]; known {
			return u, true
		}
		for _, u := range units {
			if strings.EqualFold(u, w) {
				return u, true
			}
		}
		return w, false
	}
	// Two figures are a range; of more the one with a unit counts.
	if len(at) == 2 && at[1] == at[0]+2 && (is(at[0]+1, "to") || is(at[0]+1, "–") || is(at[0]+1, "—") ||
		is(at[0]+1, "-") ||
		is(at[0]+1, "and") && is(at[0]-1, "between")) {
		a, ra, odd, _ := number(words[at[0]])
		b, rb, odd2, ok := number(words[at[1]])
		if odd || odd2 || !ok {
			return ask("which number is meant: is the mark one of thousands or of decimals?")
		}
		for k := at[0] - 1; k <= at[1]; k++ {
			if k >= 0 && (k >= at[0] || is(k, "between")) {
				used[k] = true
			}
		}
		high := b + rb/2
		return finish(words, used, units, at[1], Wants{Low: a - ra/2, High: &high}, unitAt)
	}
	if len(at) > 1 {
		with := slices.DeleteFunc(slices.Clone(at), func(i int) bool { _, known := unitAt(i + 1); return !known })
		if len(with) != 1 {
			return ask("which of the numbers is meant?")
		}
		for _, i := range at {
			used[i] = i != with[0]
		}
		at = with
	}
	if len(at) == 0 {
		if k := slices.IndexFunc(words, func(w string) bool { return slices.Contains(alike, w) }); k >= 0 {
			used[k] = true
			if negated(words, used) {
				return ask("is it meant that they differ? Say by how much, or in which sense")
			}
			high := sameWithin
			return reading{wants: &Wants{Low: -sameWithin, High: &high, Unit: "%", Sense: "="}}
		}
		w := Wants{openLow: true}
		return finish(words, used, units, -1, w, unitAt)
	}
	i := at[0]
	used[i] = true
	if share, is := shares[words[i]]; is {
		return finish(words, used, units, i, widened(words, used, i, share[0], 2*share[1]), unitAt)
	}
	x, r, odd, ok := number(words[i])
	if odd {
		return ask("is " + words[i] + " " + strings.NewReplacer(".", "", ",", "").Replace(words[i]) + ", or " +
			strings.ReplaceAll(words[i], ",", ".") + "?")
	}
	if !ok {
		return ask("which number is meant?")
	}
	return finish(words, used, units, i, widened(words, used, i, x, r), unitAt)
}

// widened is the interval of a number with the hedge that stands directly before it; by, of, a may stand between.
func widened(words []string, used []bool, i int, x, r float64) Wants {
	end := i
	for end > 0 && slices.Contains([]string{"by", "of", "a", "an", "one", "the"}, words[end-1]) {
		end--
	}
	for _, stop := range []int{end, i} {
		for _, h := range hedges {
			from := stop - len(h.words)
			if from < 0 || !slices.Equal(words[from:stop], h.words) {
				continue
			}
			for k := from; k < i; k++ {
				used[k] = true
			}
			return h.read(x, r)
		}
	}
	high := x + r/2
	return Wants{Low: x - r/2, High: &high}
}

func negated(words []string, used []bool) bool {
	for i, w := range words {
		if !used[i] && (slices.Contains([]string{"not", "no", "never", "neither", "nor", "cannot"}, w) ||
			strings.HasSuffix(w, "n't")) {
			return true
		}
	}
	return false
}

// finish finds the unit after the number and the one sense of the words that are left.
func finish(words []string, used []bool, units []string, number int, w Wants, unitAt func(int) (string, bool)) reading {
	share := number >= 0 && shares[words[number]] != [2]float64{}
	switch {
	case number < 0:
		w.Unit = "%"
		if len(units) > 0 {
			w.Unit = units[0]
		}
	case share:
		w.Unit = "%"
	default:
		u, known := unitAt(number + 1)
		if !known {
			return ask("in which unit: % or " + strings.Join(units, ", ") + "?")
		}
		used[number+1] = true
		if u != "%" && !slices.Contains(units, u) {
			return ask("in which unit: % or " + strings.Join(units, ", ") + "?")
		}
		w.Unit = u
	}
	if negated(words, used) {
		return ask("what is denied? Say what it is instead")
	}
	sense := ""
	for i, word := range words {
		s := senses[word]
		if used[i] || s == "" {
			continue
		}
		if sense != "" && sense != s {
			return ask("more or less: both are said")
		}
		sense = s
	}
	if sense == "" && number >= 0 && shares[words[number]][0] >= 100 {
		sense = "+" // twice is more by itself
	}
	if sense == "" {
		return ask("more or less of it?")
	}
	w.Sense = sense
	return reading{wants: &w}
}

// claims holds each claim against what was measured.
func (out *Output) claims(in Input) {
	out.Claims = []Finding{}
	for _, c := range in.Claims {
		f := Finding{ID: c.ID}
		value, percent, unit, partner := out.figure(in, c)
		units := []string{}
		if unit != "" {
			units = append(units, unit)
		} else if u := in.unitOf(c); u != "" {
			units = append(units, u)
		}
		r := readClaim(c.Text, units)
		f.Wants, f.Question, f.Doubted = r.wants, r.question, out.doubted(c, partner)
		switch {
		case r.wants == nil:
			f.Finding = "unread"
		default:
			m := value
			if r.wants.Unit == "%" {
				m = percent
			}
			if m == nil {
				f.Finding = "not measured"
				break
			}
			told := *m
			if r.wants.Sense == "-" {
				told.Value = -told.Value
			}
			f.Measured, f.Finding = &told, r.wants.find(told)
		}
		out.Claims = append(out.Claims, f)
	}
}

// find compares an interval with a measurement: the two with twice its uncertainty.
func (w Wants) find(m Told) string {
	low, high := m.Value-2*m.U, m.Value+2*m.U
	above := func(x float64) bool { return x > w.Low+1e-9 || !w.openLow && x >= w.Low-1e-9 }
	below := func(x float64) bool {
		return w.High == nil || x < *w.High-1e-9 || !w.openHigh && x <= *w.High+1e-9
	}
	switch {
	case !above(high) || !below(low):
		return "refuted"
	case w.Sense != "=" && low <= 0 && high >= 0:
		return "not resolved"
	case above(low) && below(high):
		return "confirmed"
	case above(m.Value) && below(m.Value):
		return "fits"
	}
	return "not resolved"
}

// unitOf is the unit that one side gives for the quantity of a claim, where the two cannot be compared.
func (in Input) unitOf(c Claim) string {
	if strings.HasPrefix(c.Of, "job:") {
		return map[string]string{"minutes": "min", "steps": "steps"}[c.Quantity]
	}
	q := in.B.Whole[c.Quantity]
	if c.Of == "" {
		if q.Unit == "" {
			q = in.A.Whole[c.Quantity]
		}
		return q.Unit
	}
	if p := in.B.part(c.Of); p != nil {
		return p.Quantities[c.Quantity].Unit
	}
	return ""
}

// figure is what was measured of a claim's quantity: the difference and the difference in percent; partner is the
// part of a.
func (out *Output) figure(in Input, c Claim) (value, percent *Told, unit, partner string) {
	pick := func(delta, u float64, unit string, p, pu *float64) {
		value = &Told{delta, u, unit}
		if p != nil {
			percent = &Told{*p, *pu, "%"}
		}
	}
	if name, is := strings.CutPrefix(c.Of, "job:"); is {
		for _, j := range in.Jobs {
			if j.Job != name || !j.both() {
				continue
			}
			a, b, unit := j.A.Seconds/60, j.B.Seconds/60, "min"
			switch c.Quantity {
			case "minutes":
			case "steps":
				a, b, unit = float64(len(j.A.Steps)), float64(len(j.B.Steps)), "steps"
			default:
				return nil, nil, "", ""
			}
			value = &Told{b - a, 0, unit}
			if a != 0 {
				percent = &Told{100 * (b - a) / a, 0, "%"}
			}
			return value, percent, unit, ""
		}
		return nil, nil, in.unitOf(c), ""
	}
	if c.Of == "" {
		for _, w := range out.Whole {
			if w.Quantity == c.Quantity && w.Delta != nil {
				pick(*w.Delta, *w.U, w.Unit, w.Percent, w.PercentU)
				return value, percent, w.Unit, ""
			}
		}
		return nil, nil, "", ""
	}
	for _, m := range out.Matched {
		if m.B != c.Of {
			continue
		}
		for _, s := range m.Sizes {
			if s.Quantity == c.Quantity {
				pick(s.Delta, s.U, s.Unit, s.Percent, s.PercentU)
				return value, percent, s.Unit, m.A
			}
		}
		return nil, nil, "", m.A
	}
	return nil, nil, "", ""
}
