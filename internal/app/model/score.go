package model

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"waryowl/internal/core/answer"
	"waryowl/internal/core/score"
	"waryowl/internal/core/trade"
)

// known says whether a range is one figure to the tenth of a point that is shown.
func known(low, high float64) bool { return math.Round(10*low) == math.Round(10*high) }

// Points is a range of points as a figure, or as one when both ends show the same tenth.
func Points(low, high float64) answer.Fragment {
	if known(low, high) {
		return answer.Number(low, "points", "#lines")
	}
	return answer.Range(low, high, "points", "#lines")
}

// Card rates the model by the physical school.
func (k *Record) Card() score.Card {
	f := score.Facts{Battery: k.jobFacts("battery"), Display: k.jobFacts("display"),
		Port: k.jobFacts("charge-port"), Steps: len(k.Steps)}
	for _, s := range k.Steps {
		if s.Tool != "" && !slices.Contains(f.Tools, s.Tool) {
			f.Tools = append(f.Tools, s.Tool)
		}
		if !trade.Threaded(s.Joint) {
			continue
		}
		switch {
		case s.Drive == "":
			f.UnknownDrives++
		case !slices.Contains(f.Drives, s.Drive):
			f.Drives = append(f.Drives, s.Drive)
			if trade.Security(s.Drive) {
				f.Security = append(f.Security, s.Drive)
			}
		}
	}
	return score.Physical(f)
}

func (k *Record) jobFacts(kind string) score.Job {
	j := score.Job{Part: strings.ReplaceAll(kind, "-", " ")}
	p := k.OfKind(kind)
	if p == nil {
		return j
	}
	w := k.WayTo(p.ID, nil)
	if w == nil || w.Blocked != "" {
		return j
	}
	j.Known, j.Depth, j.Tools, j.Predicted = true, w.Depth, w.Tools, w.Measured == 0
	j.Low, j.High = score.Spread(w.ElapsedMinutes, w.Measured, len(w.Steps))
	for _, s := range w.Steps {
		switch s.Joint {
		case "adhesive", "pull tab", "tape", "solder":
			j.Adhesives = append(j.Adhesives, s.Joint)
		case "":
			if s.Verb == "cut" || s.Verb == "peel" {
				j.Adhesives = append(j.Adhesives, "")
			}
		}
	}
	return j
}

// Describe says a range of points in words, for lists.
func Describe(c score.Card) string {
	if known(c.Low, c.High) {
		return fmt.Sprintf("%.1f", c.Low)
	}
	return fmt.Sprintf("%.1f to %.1f", c.Low, c.High)
}
