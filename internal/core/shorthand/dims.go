package shorthand

import (
	"slices"
	"strings"
)

var dimensionWords = map[string]string{"wide": "width", "width": "width", "thick": "thickness",
	"thickness": "thickness", "high": "height",
	"height": "height", "tall": "height", "long": "length", "length": "length", "pitch": "pitch", "deep": "depth",
	"depth":    "depth",
	"diameter": "diameter", "main": "main", "wide-angle": "ultra wide", "ultrawide": "ultra wide",
	"ultra": "ultra wide", "tele": "telephoto",
	"telephoto": "telephoto", "macro": "macro", "front": "front", "rear": "rear", "left": "left", "right": "right",
	"upper": "upper", "lower": "lower",
	"top": "top", "bottom": "bottom", "connector": "connector", "rim": "rim", "lens": "lens", "middle": "middle",
	"end": "end", "edge": "edge",
	"first": "first", "second": "second", "third": "third", "corner": "corner", "centre": "centre",
	"periscope": "telephoto"}

var sides = []string{"front", "rear", "upper", "lower", "left", "right", "top", "bottom", "main"}

// onRecord says whether a part on record has a name of two words or more that begins here.
func (r *reader) onRecord(i int) bool {
	for n := 2; n <= 4 && i+n <= len(r.list); n++ {
		if r.exact(spoken(r.list[i:i+n])) != nil {
			return true
		}
	}
	return false
}

// dimensions reads, before the names are resolved, the words beside measured values that say of what they are: they
// stand after each value where one follows the last value, else before each.
func (r *reader) dimensions() {
	ms := r.Fact.Measures
	if len(ms) == 0 {
		return
	}
	// Several values of one unit are of something each; a single value keeps its words in the name of the part.
	same := map[string]int{}
	for _, m := range ms {
		same[m.Unit]++
	}
	follows := false
	last := r.spans[len(r.spans)-1]
	for i := last + 1; i < len(r.list); i++ {
		follows = follows || !r.list[i].used && dimensionWords[r.list[i].plain] != ""
	}
	for k := range ms {
		from, to := r.spans[k], len(r.list)
		if k+1 < len(ms) {
			to = r.spans[k+1]
		}
		if !follows {
			from, to = 0, r.spans[k]
			if k > 0 {
				from = r.spans[k-1]
			}
		}
		var said []string
		for i := from; i < to; i++ {
			t := r.list[i]
			d := dimensionWords[t.plain]
			// the rear of "rear glass" belongs to the name
			if t.used || d == "" || slices.Contains(sides, t.plain) && r.inName(i, 1) || r.onRecord(i) {
				continue
			}
			plainDimension := slices.Contains([]string{"width", "thickness", "height", "length", "pitch", "depth",
				"diameter"}, d)
			if !plainDimension && same[ms[k].Unit] < 2 && !follows {
				continue
			}
			if !slices.Contains(said, d) {
				said = append(said, d)
			}
			r.list[i].used = true
			if t.plain == "ultra" && i+1 < to && r.list[i+1].plain == "wide" {
				r.list[i+1].used = true
			}
		}
		if len(said) > 0 {
			ms[k].Of = strings.Join(said, " ")
		}
	}
}
