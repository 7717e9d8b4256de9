// Package dose keeps count of heat: rounds on a phone's face, the ceiling that what must survive sets, and what the
// next round or the next phone should get.
//
//	a := dose.Advise(rounds, before, 120, dose.Limit(true, false))
package dose

import (
	"fmt"
	"math"
	"waryowl/internal/core/trade"
)

// The results of a round.
const (
	NoGap = "no gap"
	Gap   = "gap"
	Mark  = "mark"
)

// Round is one round of heat. Temperatures are °C (0: not read), Seconds the time under heat; Kind names a mark.
type Round struct {
	Source    string  `json:"source"`
	Face      string  `json:"face,omitempty"`
	SetC      float64 `json:"set_c,omitempty"`
	MeasuredC float64 `json:"measured_c,omitempty"`
	Seconds   float64 `json:"seconds"`
	Result    string  `json:"result,omitempty" enum:"no gap,gap,mark"`
	Kind      string  `json:"kind,omitempty" doc:"of a mark"`
	Unit      string  `json:"unit,omitempty"`
}

// Ceiling is the highest rim temperature, with how long, that what must survive allows.
type Ceiling struct {
	C         float64 `json:"c"`
	Seconds   float64 `json:"seconds" doc:"longest single round; 0: no limit known"`
	Why       string  `json:"why"`
	Certainty string  `json:"certainty"`
}

const practice = "common practice, no source"

// Limit is the ceiling for a rim: a healthy panel that must survive stands 90 °C for 60 to 90 s; a broken one is
// softened at 80 to 100 °C; the cell itself must stay below 60 °C.
func Limit(panelMustSurvive, batteryUnder bool) Ceiling {
	switch {
	case batteryUnder:
		return Ceiling{60, 0, "a battery lies under this face: heat above 60 °C harms it", practice}
	case panelMustSurvive:
		return Ceiling{90, 90, "a healthy panel must survive", practice}
	}
	return Ceiling{100, 0, "the panel is not kept", practice}
}

// After alarmFirst seconds under heat without a gap the surface itself is to be measured, and again after every
// alarmThen more (house: 12 min, then every 8).
const (
	alarmFirst = 12 * 60
	alarmThen  = 8 * 60
)

// alarms is how many of them are due after so many seconds.
func alarms(total float64) int {
	if total < alarmFirst {
		return 0
	}
	return 1 + int((total-alarmFirst)/alarmThen)
}

// Advice is what the rounds say.
type Advice struct {
	Minutes float64  `json:"minutes" doc:"under heat so far"`
	Next    float64  `json:"next_seconds" doc:"length of the next round; 0: none"`
	Halt    bool     `json:"halt" doc:"no further round until the method changes"`
	Text    string   `json:"text"`
	Warn    []string `json:"warn" nullable:"false"`
}

// Advise reads the rounds of one phone and those of earlier phones of the study. nominal is the source's usual round in
// seconds. Next phone: half of the earlier one's time where that one was marked (staircase); a second mark of the same
// kind halts; long heat without a gap asks for the surface to be measured.
func Advise(mine, earlier []Round, nominal float64, limit Ceiling) Advice {
	a := Advice{Warn: []string{}, Next: nominal}
	marks := map[string]int{}
	for _, r := range append(append([]Round{}, earlier...), mine...) {
		if r.Result == Mark {
			marks[r.Kind]++
		}
	}
	for kind, n := range marks {
		if n >= 2 {
			a.Halt, a.Next = true, 0
			a.Text = fmt.Sprintf("Stop: the second mark of the same kind (%s). Change the method before the next "+
				"round.", either(kind, "mark"))
		}
	}
	last, hottest, gap := "", 0.0, false
	total, looked := 0.0, 0.0 // under heat so far, and when the surface was last measured
	for _, r := range mine {
		total += r.Seconds
		if r.MeasuredC > 0 {
			looked = total
		}
		last = r.Result
		hottest = math.Max(hottest, math.Max(r.MeasuredC, r.SetC))
		gap = gap || r.Result == Gap
		if limit.Seconds > 0 && r.Seconds > limit.Seconds && math.Max(r.MeasuredC, r.SetC) >= limit.C {
			a.Warn = append(a.Warn, fmt.Sprintf("%.0f s at %.0f °C: %s, %.0f s at most.", r.Seconds,
				math.Max(r.MeasuredC, r.SetC), limit.Why, limit.Seconds))
		}
	}
	a.Minutes = total / 60
	if hottest > limit.C {
		a.Warn = append(a.Warn, fmt.Sprintf("%.0f °C is above %.0f °C: %s.", hottest, limit.C, limit.Why))
	}
	if a.Halt {
		return a
	}
	atMost := func(s float64) float64 { // one value for the figure and for its words
		if limit.Seconds > 0 {
			return math.Min(s, limit.Seconds)
		}
		return s
	}
	switch {
	case gap:
		a.Next, a.Text = 0, "The gap is open: no more heat. Keep a second pick in it."
	case last == Mark:
		a.Next = atMost(round5(mine[len(mine)-1].Seconds / 2))
		a.Text = fmt.Sprintf("A mark: let it cool and look again, then at most %.0f s.", a.Next)
	case len(mine) == 0 && startTime(earlier) > 0:
		a.Next = atMost(round5(startTime(earlier)))
		a.Text = fmt.Sprintf("An earlier phone was marked: start with %.0f s, half of its time, and step up only if "+
			"the gap stays shut.", a.Next)
	case len(mine) == 0:
		a.Next = atMost(a.Next)
		a.Text = fmt.Sprintf("First round: %.0f s.", a.Next)
	case alarms(total) > alarms(looked):
		a.Next = 0
		a.Text = fmt.Sprintf("%.0f min of heat without a gap: measure the surface before another round.", total/60)
	case hottest >= limit.C:
		a.Next = atMost(round5(math.Max(mine[len(mine)-1].Seconds, 30) * 1.25))
		a.Text = fmt.Sprintf("No gap, and it was at its %.0f °C: no hotter. Another round of %.0f s, or another method.",
			limit.C, a.Next)
	default:
		a.Next = atMost(round5(math.Max(mine[len(mine)-1].Seconds, 30) * 1.25))
		a.Text = fmt.Sprintf("No gap: if suction does not lift it, it is not hot enough. Do not pull harder; next "+
			"round %.0f s, at most %.0f °C.", a.Next, limit.C)
	}
	return a
}

// startTime is half of the time of the earliest marked round of an earlier phone, 0 when none was marked.
func startTime(earlier []Round) float64 {
	least := 0.0
	for _, r := range earlier {
		if r.Result == Mark && (least == 0 || r.Seconds < least) {
			least = r.Seconds
		}
	}
	return least / 2
}

func round5(s float64) float64 { return 5 * math.Round(s/5) }

func either(a, b string) string {
	if a != "" {
		return a
	}
	return b
}

// Entry is what was seen at the rim of a phone that is being opened; percent freed is 0 to 100, GapMM 0 when there is
// none.
type Entry struct {
	GapMM         float64
	SuctionLifts  bool
	FreedPercent  float64
	SecondsAtHeat float64
}

// PryOrReheat is the advice at the rim (common practice, no source): pry on while suction alone holds the gap open,
// otherwise reheat; never pull harder.
func PryOrReheat(e Entry) string {
	switch {
	case e.FreedPercent >= 100:
		return "lift: the edge is free. Mind the cables, and open toward their side"
	case e.SuctionLifts && e.GapMM >= 0.3:
		return fmt.Sprintf("pry on: suction alone holds %.1f mm open, %.0f %% of the edge is still fast. Second pick "+
			"in the gap", e.GapMM, 100-e.FreedPercent)
	case e.GapMM > 0 && !e.SuctionLifts:
		return "reheat: the gap closes without the pick. It is not hot enough, do not pull harder"
	case e.SecondsAtHeat == 0:
		return "heat first: no gap and no heat yet"
	}
	return "reheat: suction does not lift it yet. It is not hot enough, do not pull harder"
}

// School is one way of softening or of battery release, with what speaks for and against it.
type School struct {
	ID        string  `json:"id"`
	For       string  `json:"for" enum:"opening,battery"`
	Name      string  `json:"name"`
	Method    string  `json:"method" doc:"for counting: never pooled with another"`
	Seconds   float64 `json:"seconds" doc:"nominal; what was needed is learned"`
	SetC      float64 `json:"set_c,omitempty"`
	Pros      string  `json:"pros"`
	Cons      string  `json:"cons"`
	Caution   string  `json:"caution"`
	Certainty string  `json:"certainty"`
	Hot       bool    `json:"hot" doc:"it comes in rounds of heat"`
}

// Schools lists the templates (common practice, no source; none is preferred).
func Schools() []School {
	list := []School{
		{"plate", "opening", "Heat plate", "plate", 420, 90, "even, hands free", "slow; the battery under it warms too",
			"Hot surface. Watch the battery: below 60 °C.", practice, false},
		{"air", "opening", "Hot air or hair dryer", "air", 330, 0, "cheap, reaches a corner",
			"uneven, marks panels when too hot", "Hot air and glass: gloves and eye protection.", practice, false},
		{"press", "opening", "Heated press with the model's tray", "press", 120, 85, "repeatable",
			"loud, dear, a tray per model", "Moving and hot parts: guard closed; wrong tray breaks glass.", practice, false},
		{"pad", "opening", "Heating pad", "pad", 120, 80, "quick and gentle",
			"cools fast; ripples seen after 60 s on some", "Hot surface; ripples: stop and let it cool.", practice, false},
		{"solvent", "opening", "Alcohol wicked into the opening edge", "solvent", 300, 0, "no heat at all",
			"slow, may creep under the panel", "Vapour burns: extraction on, no heat or flame until dry.", practice, false},
		{"tabs", "battery", "Stretch tabs, slow and flat", "tabs", 60, 0, "clean, no tool",
			"tabs tear; a hidden one under the speaker or motor", "Eye protection: a tab snaps back. Count them.",
			practice, false},
		{"tabs-solvent", "battery", "Tabs, then alcohol with dwell", "tabs+solvent", 45, 0, "saves a torn tab",
			"wait until dry", "No heat or flame until it has dried.", practice, false},
		{"heat-below", "battery", "Heat from below", "heat", 120, 60, "loosens old glue",
			"harms the battery and the panel", "Never above 60 °C at the battery; swollen battery: stop.", practice, false},
		{"flap", "battery", "Wrap-around pull flap", "flap", 20, 0, "quick", "flap tears when pulled steeply",
			"Pull flat. Never lever under a battery with a sharp tool.", practice, false},
		{"voltage", "battery", "Adhesive that lets go under 9 V", "voltage", 120, 0, "can be used again",
			"polarity differs by model; a second round may be needed",
			"Declare the polarity first; never short the battery's own tabs.", practice, false},
		{"pry", "battery", "Prying", "pry", 90, 0, "always there", "bends and pierces batteries",
			"Last resort: never on a charged battery, never with a sharp tool.", practice, false},
	}
	for i, s := range list {
		list[i].Hot = trade.Hot(s.Method)
	}
	return list
}
