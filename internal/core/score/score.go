// Package score rates how easy a model is to repair. A score from incomplete facts is a range: every line says which
// points it earns at worst and at best, why, and which facts stand behind it.
//
//	card := score.Physical(facts)
//	card.Low, card.High // 0 to 10
//
// The rubric (weights and thresholds) is a house one; its lines are data.
package score

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

// Job is one of the repairs that the physical rubric looks at.
type Job struct {
	Part  string // name of the part
	Known bool   // a way is on record
	// Minutes in, at the least and the most that the facts allow; a way without measured runs is wide.
	Low, High float64
	Depth     int
	Tools     []string
	Adhesives []string // joints of adhesive kind on the way; "" is an adhesive of unknown kind
	Predicted bool     // no step of the way was ever timed
}

// Facts are what is on record about a model.
type Facts struct {
	Battery, Display, Port Job
	Drives                 []string // distinct drives of all screws on record
	Security               []string // those of them that are security drives
	UnknownDrives          int      // screw steps without a drive
	Tools                  []string // distinct tools of all steps
	Steps                  int      // steps on record
}

// Line is one criterion: points from Low to High, of 10, with its weight, reason and facts.
type Line struct {
	ID     string   `json:"id"`
	Title  string   `json:"title"`
	Weight float64  `json:"weight"`
	Low    float64  `json:"low"`
	High   float64  `json:"high"`
	Reason string   `json:"reason"`
	Facts  []string `json:"facts" nullable:"false"`
	Narrow string   `json:"narrow,omitempty" doc:"what would narrow the range"`
}

// Card is the scorecard: the weighted mean of its lines, 0 to 10.
type Card struct {
	School    string  `json:"school"`
	Low       float64 `json:"low"`
	High      float64 `json:"high"`
	Lines     []Line  `json:"lines" nullable:"false"`
	Certainty string  `json:"certainty" doc:"where the rubric comes from"`
}

// Weights of the physical rubric (house). About 90 % of jobs are screens and batteries (common practice, no source).
var weights = map[string]float64{"battery": 3, "display": 3, "port": 1.5, "tools": 1, "drives": 1, "adhesives": 1.5}

// Easy and hard ends of the scales (house): minutes in and depth of a way, tools of a whole strip-down.
const (
	easyMinutes, hardMinutes = 3.0, 45.0
	easyDepth, hardDepth     = 2.0, 25.0
	easyTools, hardTools     = 3.0, 12.0
)

// adhesive gives the points of the worst adhesive that must be opened (house).
var adhesive = map[string]float64{"pull tab": 7, "tape": 6, "adhesive": 3, "solder": 0}

// Physical is the school of physical ease: ways to battery, display and port, tools, drive types and adhesives.
func Physical(f Facts) Card {
	card := Card{School: "physical ease", Certainty: "house", Lines: []Line{
		way("battery", "Way to the battery", f.Battery), way("display", "Way to the display", f.Display), way("port",
			"Way to the charge port", f.Port),
		tools(f), drives(f), adhesives(f),
	}}
	sum := 0.0
	for i := range card.Lines {
		l := &card.Lines[i]
		l.Weight = weights[l.ID]
		card.Low += l.Weight * l.Low
		card.High += l.Weight * l.High
		sum += l.Weight
	}
	card.Low, card.High = card.Low/sum, card.High/sum
	return card
}

func way(id, title string, j Job) Line {
	l := Line{ID: id, Title: title, High: 10, Facts: []string{}}
	if !j.Known {
		l.Reason, l.Narrow = "No way is on record.", "log the way to this part"
		return l
	}
	depth := scale(float64(j.Depth), easyDepth, hardDepth)
	l.Low = (logScale(j.High, easyMinutes, hardMinutes) + depth) / 2
	l.High = (logScale(j.Low, easyMinutes, hardMinutes) + depth) / 2
	l.Reason = fmt.Sprintf("%d disassembly steps and about %.0f minutes with %d tools.", j.Depth,
		math.Round((j.Low+j.High)/2), len(j.Tools))
	l.Facts = append(l.Facts, fmt.Sprintf("depth %d", j.Depth), span(j.Low, j.High)+" min in")
	l.Facts = append(l.Facts, j.Tools...)
	if j.Predicted {
		l.Narrow = "time a run: all minutes are predicted"
	}
	return l
}

func tools(f Facts) Line {
	l := Line{ID: "tools", Title: "Tools for everything", High: 10, Facts: slices.Clone(f.Tools)}
	if f.Steps == 0 {
		l.Facts = []string{}
		l.Reason, l.Narrow = "No step is on record.", "log the strip-down"
		return l
	}
	l.Low = scale(float64(len(f.Tools)), easyTools, hardTools)
	l.High = l.Low
	l.Reason = fmt.Sprintf("%d different tools over all ways.", len(f.Tools))
	return l
}

func drives(f Facts) Line {
	l := Line{ID: "drives", Title: "Drive types", High: 10, Facts: slices.Clone(f.Drives)}
	if f.Steps == 0 {
		l.Facts = []string{}
		l.Reason, l.Narrow = "No step is on record.", "log the strip-down"
		return l
	}
	points := func(kinds, security int) float64 {
		return math.Max(0, 10-2*math.Max(0, float64(kinds-1))-1.5*float64(security))
	}
	l.High = points(len(f.Drives), len(f.Security))
	l.Low = l.High
	l.Reason = fmt.Sprintf("%d drive types, %d of them made to keep people out.", len(f.Drives), len(f.Security))
	if f.UnknownDrives > 0 {
		l.Low = points(len(f.Drives)+1, len(f.Security)+1)
		l.Narrow = fmt.Sprintf("name the drive of %d screw steps", f.UnknownDrives)
	}
	return l
}

func adhesives(f Facts) Line {
	l := Line{ID: "adhesives", Title: "Adhesives on the common ways", Low: 10, High: 10, Facts: []string{}}
	missing := []string{}
	var kinds []string
	for _, j := range []Job{f.Battery, f.Display, f.Port} {
		if !j.Known {
			missing = append(missing, j.Part)
		}
		kinds = append(kinds, j.Adhesives...)
	}
	slices.Sort(kinds)
	for _, k := range slices.Compact(kinds) {
		if k == "" {
			missing = append(missing, "the kind of an adhesive")
			continue
		}
		l.Facts = append(l.Facts, k)
		l.High = math.Min(l.High, adhesive[k])
	}
	l.Low = l.High
	l.Reason = "No adhesive on the ways on record."
	if len(l.Facts) > 0 {
		l.Reason = "The ways open " + strings.Join(l.Facts, ", ") + "."
	}
	if len(missing) > 0 {
		l.Low, l.Narrow = 0, "find out about "+strings.Join(missing, ", ")
	}
	return l
}

// span is a range to the tenth, one figure where both ends show the same.
func span(low, high float64) string {
	a, b := fmt.Sprintf("%.1f", low), fmt.Sprintf("%.1f", high)
	if a == b {
		return a
	}
	return a + " to " + b
}

// scale runs from 10 at easy to 0 at hard.
func scale(v, easy, hard float64) float64 {
	return 10 * math.Min(1, math.Max(0, (hard-v)/(hard-easy)))
}

func logScale(v, easy, hard float64) float64 {
	return scale(math.Log(math.Max(v, 0.01)), math.Log(easy), math.Log(hard))
}

// spread widens the minutes of a way by this factor each way where no step was timed (house).
const spread = 1.4

// Spread is the range of the minutes of a way of which so many of all steps were timed.
func Spread(minutes float64, measured, steps int) (low, high float64) {
	share := 0.0
	if steps > 0 {
		share = 1 - float64(measured)/float64(steps)
	}
	return minutes * (1 - share + share/spread), minutes * (1 - share + share*spread)
}
