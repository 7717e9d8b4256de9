package rating

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"waryowl/internal/app/model"
	"waryowl/internal/core/school"
	"waryowl/internal/core/trade"
)

// spread widens the minutes of a way by this factor each way where no step was timed (house).
const spread = 1.4

// fromPlan works out what the plan of a model says: the ways to the jobs, drives and tools.
func (r *Record) fromPlan() {
	k := r.Know
	for job, kind := range jobs {
		p := k.OfKind(kind)
		if p == nil {
			continue
		}
		w := k.WayTo(p.ID)
		if w == nil || w.Blocked != "" {
			continue
		}
		r.way(job, *w)
	}
	if len(k.Steps) == 0 {
		return
	}
	drives, security, unknown, tools := []string{}, 0, 0, []string{}
	for _, s := range k.Steps {
		if s.Tool != "" && !slices.Contains(tools, s.Tool) {
			tools = append(tools, s.Tool)
		}
		switch {
		case !trade.Threaded(s.Joint) || slices.Contains(drives, s.Drive):
		case s.Drive == "":
			unknown++
		default:
			drives = append(drives, s.Drive)
			if trade.Security(s.Drive) {
				security++
			}
		}
	}
	counted := func(id string, n int, of []string) {
		v := school.Value{}
		if unknown > 0 && id != "tools-all" { // a screw whose drive nobody named may be of one more kind
			low, high := float64(n), float64(n+1)
			v.Low, v.High = &low, &high
		} else {
			v.Value = float64(n)
		}
		words := strings.Join(of, ", ")
		if unknown > 0 && id != "tools-all" {
			words += fmt.Sprintf("; %d screw steps without a drive", unknown)
		}
		r.compute(id, v, "open", strings.TrimPrefix(words, "; "), "ways", "")
	}
	if len(drives)+unknown > 0 {
		counted("drives", max(1, len(drives)), drives)
		counted("security-drives", security, nil)
	}
	if len(tools) > 0 {
		counted("tools-all", len(tools), tools)
	}
}

// way turns the way to a part into facts of a job.
func (r *Record) way(job string, w model.Way) {
	eye := "half" // learned from one phone, or partly predicted
	if !w.Once && w.Measured == len(w.Steps) {
		eye = "open"
	}
	depthEye := "open"
	if w.Once {
		depthEye = "half"
	}
	r.compute(job+".depth", school.Value{Value: float64(w.Depth)}, depthEye,
		fmt.Sprintf("%d steps in", len(w.Steps)), "ways", w.PartID)

	hands := w.HandsOnMinutes
	share := 0.0
	if len(w.Steps) > 0 {
		share = 1 - float64(w.Measured)/float64(len(w.Steps))
	}
	low, high := math.Floor(hands*(1-share+share/spread)), math.Ceil(hands*(1-share+share*spread))
	v := school.Value{Value: math.Round(hands)}
	if high > low+1 {
		v.Low, v.High = &low, &high
	}
	r.compute(job+".minutes", v, eye, fmt.Sprintf("%d of %d steps timed", w.Measured, len(w.Steps)), "ways", w.PartID)

	r.compute(job+".tools", among(toolsOf(w)), depthEye, strings.Join(w.Tools, ", "), "ways", w.PartID)
	r.compute(job+".fasteners", among(fastenersOf(w)), depthEye, jointsOf(w), "ways", w.PartID)
	r.compute(job+".adhesive", among(adhesivesOf(w)), depthEye, jointsOf(w), "ways", w.PartID)

	if len(w.Odds) == 0 {
		return // nothing on the way is known to be at risk: not the same as no risk
	}
	none, least, most, counts := 1.0, 1.0, 1.0, []string{}
	for _, o := range w.Odds {
		none *= 1 - o.Used
		least *= 1 - o.Low
		most *= 1 - o.High
		counts = append(counts, model.Damaged(o))
	}
	lo, hi, p := hundredths(1-least), hundredths(1-most), hundredths(1-none)
	p = math.Max(lo, math.Min(hi, p))
	v = school.Value{Low: &lo, High: &hi}
	counted := slices.ContainsFunc(w.Odds, func(o model.Odds) bool { return o.N > 0 })
	if counted {
		v.Value = p
	}
	if lo == hi {
		v = school.Value{Value: p}
	}
	r.compute(job+".odds", v, map[bool]string{true: "half", false: "shut"}[counted], strings.Join(counts, "; "), "ways",
		w.PartID)
}

func hundredths(p float64) float64 { return math.Round(100*math.Max(0, math.Min(1, p))) / 100 }

// among is one value, or several that it may be.
func among(values []string) school.Value {
	if len(values) == 1 {
		return school.Value{Value: values[0]}
	}
	return school.Value{Among: values}
}

// toolsOf are the classes that the tools of a way may have: the hardest of them decides.
func toolsOf(w model.Way) []string {
	worst, unknown := "none", false
	for _, name := range w.Tools {
		t, known := trade.ToolOf(name)
		class := "basic"
		switch {
		case known && t.ID == "hand":
			class = "none"
		case known && slices.Contains(available, t.ID):
			class = "available"
		case !known && driver(name): // the drives of the steps say which
		case !known || !slices.Contains(basic, t.ID):
			unknown = true
			continue
		}
		worst = worse(toolClass, worst, class)
	}
	for _, s := range w.Steps {
		if trade.Threaded(s.Joint) && s.Drive != "" && !slices.Contains(basicDrives, s.Drive) {
			worst = worse(toolClass, worst, "available")
		}
	}
	if !unknown {
		return []string{worst}
	}
	list := []string{}
	for _, c := range []string{"proprietary", "available", "group", "supplied", "basic"} {
		if worse(toolClass, worst, c) == c {
			list = append(list, c)
		}
	}
	return list
}

// driver says whether a tool is named by its drive: "cross 000", "post key 2.5".
func driver(name string) bool {
	first, _, _ := strings.Cut(name, " ")
	return slices.Contains(trade.DriveIDs(), first)
}

// fastenersOf says of each joint on a way how it can be used again: what sticks is new each time, and whether the new one comes
// with the part is to be asked (EN 45554, table 1, from memory).
func fastenersOf(w model.Way) []string {
	glued, cut, unknown := false, false, false
	for _, s := range w.Steps {
		switch {
		case s.Joint == "solder":
			cut = true
		case trade.JointOf(s.Joint).Adhesive:
			glued = true
		case s.Joint == "" && trade.Opens(s.Verb):
			unknown = true
		}
	}
	switch {
	case cut:
		return []string{"neither"}
	case unknown:
		return []string{"neither", "removable", "resupplied"}
	case glued:
		return []string{"removable", "resupplied"}
	}
	return []string{"reusable"}
}

// adhesivesOf is the worst joint on a way.
func adhesivesOf(w model.Way) []string {
	order := []string{"solder", "glue", "tape", "stretch-tab", "electric-release", "none"}
	of := map[string]string{"solder": "solder", "adhesive": "glue", "tape": "tape", "pull tab": "stretch-tab"}
	worst, unknown := "none", false
	for _, s := range w.Steps {
		if a, sticks := of[s.Joint]; sticks {
			worst = worse(order, worst, a)
		}
		unknown = unknown || s.Joint == "" && (s.Verb == "cut" || s.Verb == "peel")
	}
	if !unknown || worst == "solder" || worst == "glue" {
		return []string{worst}
	}
	return order[1 : slices.Index(order, worst)+1]
}

func jointsOf(w model.Way) string {
	list := []string{}
	for _, s := range w.Steps {
		if s.Joint != "" && !slices.Contains(list, s.Joint) {
			list = append(list, s.Joint)
		}
	}
	slices.Sort(list)
	return strings.Join(list, ", ")
}
