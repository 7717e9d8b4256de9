package compare

import (
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/core/fault"
	"waryowl/internal/core/fit"
	"waryowl/internal/core/quantity"
)

// Direction is what fit says of a piece of one model in the other.
type Direction struct {
	Serves float64  `json:"serves" minimum:"0" maximum:"1"`
	Level  string   `json:"level"`
	Grade  string   `json:"grade" enum:"shut,half,open"`
	Lost   []string `json:"lost,omitempty" nullable:"false"`
}

// FitLine is a pair: forward is a's piece in b's model, back the other way; null: nobody tried it.
type FitLine struct {
	A       string     `json:"a"`
	B       string     `json:"b"`
	Forward *Direction `json:"forward"`
	Back    *Direction `json:"back"`
}

// FitSaid is a pair's interchange in words.
type FitSaid struct {
	A       string `json:"a"`
	B       string `json:"b"`
	Forward string `json:"forward" enum:"yes,loses,no,not known"`
	Back    string `json:"back" enum:"yes,loses,no,not known"`
	Verdict string `json:"verdict" enum:"both ways,one way,half known,loses,no,not known"`
	Words   string `json:"words"`
	Against bool   `json:"contradiction" doc:"what geometry rules out serves all the same"`
}

// levels in words.
var levels = map[string]string{"no-seat": "does not go in", "no-mate": "plug differs", "dark": "does not start",
	"lost":   "loses functions",
	"notice": "works, the phone tells of it", "calibrated": "works once calibrated", "looks-wrong": "works, looks wrong",
	"full": "works"}

func (d *Direction) says() string {
	switch {
	case d == nil || d.Grade == "shut":
		return "not known"
	case d.Serves >= 0.5:
		return "yes"
	case d.Level == "lost":
		return "loses"
	}
	return "no"
}

func (d *Direction) words() string {
	if d.says() == "not known" {
		return "not tried"
	}
	w := levels[d.Level]
	if len(d.Lost) > 0 {
		w += ": " + strings.Join(d.Lost, ", ")
	}
	return w
}

func (out *Output) fit(in Input) {
	out.Fit = []FitSaid{}
	for _, l := range in.Fit {
		s := FitSaid{A: l.A, B: l.B, Forward: l.Forward.says(), Back: l.Back.says()}
		said := []string{s.Forward, s.Back}
		count := func(w string) (n int) {
			for _, x := range said {
				if x == w {
					n++
				}
			}
			return n
		}
		switch {
		case count("yes") == 2:
			s.Verdict = "both ways"
		case count("not known") == 2:
			s.Verdict = "not known"
		case count("not known") == 1:
			s.Verdict = "half known"
		case count("yes") == 1:
			s.Verdict = "one way"
		case count("loses") > 0:
			s.Verdict = "loses"
		default:
			s.Verdict = "no"
		}
		s.Words = fmt.Sprintf("%s's in %s: %s; %s's in %s: %s", in.A.name(), in.B.name(), l.Forward.words(), in.B.name(),
			in.A.name(),
			l.Back.words())
		s.Against = count("yes") > 0 && slices.ContainsFunc(out.Matched, func(m Match) bool {
			return m.A == l.A && m.B == l.B && m.Interchange != "open"
		})
		out.Fit = append(out.Fit, s)
	}
}

// checkSaid refuses fit lines and claims that cannot be.
func (in Input) checkSaid(known [2]map[string]bool, jobs map[string]bool) error {
	for i, l := range in.Fit {
		at := fmt.Sprintf("fit[%d]", i)
		for side, id := range []string{l.A, l.B} {
			if !known[side][id] {
				return fault.New(at+"."+[]string{"a", "b"}[side], id, "a part of "+[]string{"a", "b"}[side])
			}
		}
		for name, d := range map[string]*Direction{"forward": l.Forward, "back": l.Back} {
			switch {
			case d == nil:
			case !(d.Serves >= 0 && d.Serves <= 1):
				return fault.New(at+"."+name+".serves", d.Serves, "a chance from 0 to 1")
			case !slices.Contains(fit.Ladder, d.Level) && !(d.Level == "" && d.Grade == "shut"):
				return fault.New(at+"."+name+".level", d.Level, strings.Join(fit.Ladder, ", "))
			case !slices.Contains([]string{"shut", "half", "open"}, d.Grade):
				return fault.New(at+"."+name+".grade", d.Grade, "shut, half or open")
			}
		}
	}
	seen := map[string]bool{}
	for i, c := range in.Claims {
		at := fmt.Sprintf("claims[%d]", i)
		if c.ID == "" || seen[c.ID] {
			return fault.New(at+".id", c.ID, "an id that no other claim has")
		}
		seen[c.ID] = true
		job, is := strings.CutPrefix(c.Of, "job:")
		if is && !jobs[job] || !is && c.Of != "" && !known[1][c.Of] {
			return fault.New(at+".of", c.Of, "a part of b, nothing for the phone, or job: and a job")
		}
	}
	return nil
}

// Doubt is a figure that can hardly be. The row is kept; the question stays open until somebody answers it.
type Doubt struct {
	Side string `json:"side" enum:"a,b,both"`
	Part string `json:"part"`
	Code string `json:"code" enum:"voltage,turned,heavier than the phone,thicker than the phone,parts heavier than the phone"`
	Text string `json:"text"`
}

// heavierBy is by how much the parts together may outweigh the phone (house: their masses are rounded).
const heavierBy = 1.02

func (out *Output) doubts(in Input) {
	out.Doubts = []Doubt{}
	pack := func(p *Part) quantity.Pack {
		c, e := p.Quantities["capacity"], p.Quantities["energy"]
		if c.Unit != "mAh" || e.Unit != "Wh" {
			return quantity.Pack{}
		}
		v := quantity.Pack{MAh: c.Value, Wh: e.Value}
		v.Cells = max(1, int(v.Volts()/((quantity.LeastVolts+quantity.MostVolts)/2)+.5))
		return v
	}
	for side, m := range []Model{in.A, in.B} {
		name := []string{"a", "b"}[side]
		weighed, sum := 0, 0.0
		mass, heavy := m.Whole["mass"]
		thick, flat := m.Whole["thickness"]
		for i := range m.Parts {
			p := &m.Parts[i]
			if d := quantity.Battery(pack(p), nil); d != nil {
				out.Doubts = append(out.Doubts, Doubt{name, p.ID, "voltage", d.Text})
			}
			if q, has := p.Quantities["mass"]; has && heavy && q.Unit == mass.Unit {
				weighed, sum = weighed+1, sum+q.Value
				if q.Value > mass.Value {
					out.Doubts = append(out.Doubts, Doubt{name, p.ID, "heavier than the phone", fmt.Sprintf(
						"the %s weighs %g %s, the phone %g", p.Names[0], q.Value, q.Unit, mass.Value)})
				}
			}
			if q, has := p.Quantities["thickness"]; has && flat && q.Unit == thick.Unit && q.Value > thick.Value {
				out.Doubts = append(out.Doubts, Doubt{name, p.ID, "thicker than the phone", fmt.Sprintf(
					"the %s is %g %s thick, the phone %g", p.Names[0], q.Value, q.Unit, thick.Value)})
			}
		}
		if weighed >= 2 && sum > heavierBy*mass.Value {
			out.Doubts = append(out.Doubts, Doubt{name, "", "parts heavier than the phone", fmt.Sprintf(
				"%d parts weigh %g %s together, the phone %g", weighed, sum, mass.Unit, mass.Value)})
		}
	}
	for _, m := range out.Matched {
		if a, b := pack(in.A.part(m.A)), pack(in.B.part(m.B)); quantity.Turned(a, b) {
			out.Doubts = append(out.Doubts, Doubt{"both", m.B, "turned", fmt.Sprintf(
				"%g to %g mAh, but %g to %g Wh: one ranks the packs the other way", a.MAh, b.MAh, a.Wh, b.Wh)})
		}
	}
}

// doubted says whether a doubt is open on the figure of a claim.
func (out *Output) doubted(c Claim, partner string) bool {
	of := map[string][]string{"voltage": {"capacity", "energy"}, "turned": {"capacity", "energy"},
		"heavier than the phone": {"mass"},
		"thicker than the phone": {"thickness"}, "parts heavier than the phone": {"mass"}}
	return slices.ContainsFunc(out.Doubts, func(d Doubt) bool {
		if !slices.Contains(of[d.Code], c.Quantity) {
			return false
		}
		if c.Of == "" {
			return d.Code != "voltage" && d.Code != "turned"
		}
		return d.Part == c.Of && d.Side != "a" || d.Part == partner && partner != "" && d.Side == "a" || d.Part == ""
	})
}
