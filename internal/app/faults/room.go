package faults

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/faultfind"
	"waryowl/internal/core/hazard"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// Cause is what may be wrong, with its chance now and before anything was read or tried.
type Cause struct {
	Name    string   `json:"name"`
	Words   string   `json:"words"`
	P       float64  `json:"p"`
	Before  float64  `json:"before"`
	Out     bool     `json:"out" doc:"ruled out by what was tried"`
	Cleared []string `json:"cleared" nullable:"false" doc:"checks that speak against it, by name"`
	PartIDs []string `json:"part_ids" nullable:"false" doc:"where it lies"`
}

// Act is one thing to do next, with what either answer would mean.
type Act struct {
	Act      string           `json:"act"`
	Kind     string           `json:"kind" enum:"cure,try,look,control"`
	Words    string           `json:"words"`
	Asks     string           `json:"asks"`
	Yes      string           `json:"yes,omitempty"`
	No       string           `json:"no,omitempty"`
	Minutes  float64          `json:"minutes" doc:"at the phone, ways in and back with it"`
	Wait     float64          `json:"wait,omitempty" doc:"minutes that nobody stands by"`
	Price    string           `json:"price,omitempty"`
	Shelf    string           `json:"shelf,omitempty" doc:"where the piece lies"`
	PartIDs  []string         `json:"part_ids" nullable:"false"`
	Cautions []hazard.Caution `json:"cautions" nullable:"false"`
}

// Check is a quick reading of what works.
type Check struct {
	Mark   string   `json:"mark"`
	Name   string   `json:"name"`
	Result string   `json:"result" enum:",pass,lost"`
	Clears []string `json:"clears" nullable:"false" doc:"causes that it speaks against where it works"`
}

// Symptom is one of the list, and how people say it.
type Symptom struct {
	ID   string   `json:"id"`
	Said []string `json:"said" nullable:"false"`
}

// Choice is money beside a decision: now, or after one act more.
type Choice struct {
	Title string `json:"title"`
	Money string `json:"money"`
	Words string `json:"words"`
}

// Room is a search for a fault as it stands.
type Room struct {
	store.FaultCase
	Visit    store.Visit     `json:"visit"`
	Model    store.Model     `json:"model"`
	Parts    []store.Part    `json:"parts" nullable:"false"`
	Answer   answer.Sentence `json:"answer" nullable:"false"`
	Symptoms []Symptom       `json:"symptoms" nullable:"false"`
	Checks   []Check         `json:"checks" nullable:"false"`
	Status   string          `json:"status,omitempty" enum:"open,found,repaired,gate,cannot be told apart,stop"`
	Causes   []Cause         `json:"causes" nullable:"false"`
	Next     []Act           `json:"next" nullable:"false"`
	Gate     []string        `json:"gate" nullable:"false" doc:"steps that are missing before the board may be called dead"`
	Dead     bool            `json:"dead"`
	Warnings []string        `json:"warnings" nullable:"false"`
	Choices  []Choice        `json:"choices" nullable:"false" doc:"stop and quote now, beside one act more"`
	Control  string          `json:"control,omitempty" enum:",required,passed"`
	Owner    string          `json:"owner,omitempty" doc:"words for the owner"`
	Learned  float64         `json:"learned" doc:"closed cases of this model and symptom that the chances rest on"`
	Limits   string          `json:"limits"`
	Currency string          `json:"currency"`
}

const limits = "One fault at a time: a second symptom is a case of its own. Chances are house figures until cases are closed; " +
	"twenty cases weigh as much as the table."

// Show reads a search.
func Show(ctx context.Context, s *act.Service, id string) (Room, error) {
	r, err := load(s.DB.WithContext(ctx), id)
	if err != nil {
		return Room{}, err
	}
	v := Room{FaultCase: r.FaultCase, Visit: r.visit, Model: r.know.Model, Parts: r.know.Parts, Symptoms: []Symptom{},
		Checks: []Check{}, Causes: []Cause{}, Next: []Act{}, Gate: []string{}, Warnings: []string{}, Choices: []Choice{},
		Learned: r.cases, Limits: limits, Currency: r.desk.Workshop.Currency}
	if v.Acts == nil {
		v.Acts = []store.FaultAct{}
	}
	for _, name := range faultfind.SymptomOrder() {
		v.Symptoms = append(v.Symptoms, Symptom{name, faultfind.Said(name)})
	}
	if r.Symptom == "" {
		v.Answer = answer.Sentence{answer.Text("What is wrong with " + r.visit.Sticker + "? Say it as the owner does.")}
		return v, nil
	}
	out, err := r.solve(ctx)
	if err != nil {
		return v, err
	}
	before, err := faultfind.Solve(faultfind.Input{Symptom: r.Symptom, Learned: r.learned})
	if err != nil {
		return v, err
	}
	v.Status, v.Dead, v.Control = out.Status, out.Dead, out.Control
	v.Gate = append(v.Gate, out.Gate...)
	v.Warnings = append(v.Warnings, out.Warnings...)
	v.checks(r)
	v.causes(r, before, out)
	for i, n := range out.Next[:min(4, len(out.Next))] {
		a, err := r.act(ctx, n, i == 0)
		if err != nil {
			return v, err
		}
		v.Next = append(v.Next, a)
	}
	v.choices(r, out)
	v.sentence(r, out)
	return v, nil
}

// Search lists the symptoms that words may mean.
func Search(words string) []Symptom {
	list := []Symptom{}
	for _, name := range faultfind.Find(words) {
		list = append(list, Symptom{name, faultfind.Said(name)})
	}
	return list
}

func checkName(mark string) string {
	if c, known := trade.CheckOf(mark); known {
		return c.Name
	}
	return answer.Title(strings.ReplaceAll(mark, "-", " "))
}

// mostChecks is how many quick checks are listed; those that were read stay.
const mostChecks = 7

func (v *Room) checks(r *record) {
	t := faultfind.Shipped()
	add := func(mark, result string) {
		c := Check{Mark: mark, Name: checkName(mark), Result: result, Clears: []string{}}
		for name, x := range t.Symptoms[r.Symptom].Causes {
			if slices.Contains(t.Needs[mark], x.Component) {
				c.Clears = append(c.Clears, said(name))
			}
		}
		slices.Sort(c.Clears)
		v.Checks = append(v.Checks, c)
	}
	for i, mark := range faultfind.Quick(r.Symptom) {
		switch {
		case slices.Contains(r.Works, mark):
			add(mark, "pass")
		case slices.Contains(r.Lost, mark):
			add(mark, "lost")
		case i < mostChecks && r.State == "open":
			add(mark, "")
		}
	}
}

func (v *Room) causes(r *record, before, now faultfind.Output) {
	cleared := map[string][]string{}
	for _, c := range now.Acquitted {
		for _, name := range c.Causes {
			cleared[name] = append(cleared[name], checkName(c.Check))
		}
	}
	left := map[string]float64{}
	for _, c := range now.Causes {
		left[c.Cause] = c.P
	}
	for _, c := range before.Causes {
		p, open := left[c.Cause]
		x := Cause{Name: c.Cause, Words: said(c.Cause), P: p, Before: c.P, Out: !open, Cleared: append([]string{},
			cleared[c.Cause]...), PartIDs: []string{}}
		component := faultfind.Shipped().Symptoms[r.Symptom].Causes[c.Cause].Component
		if k := kind(component); k != "" {
			if part := r.know.OfKind(k); part != nil {
				x.PartIDs = append(x.PartIDs, part.ID)
			}
		}
		v.Causes = append(v.Causes, x)
	}
	slices.SortStableFunc(v.Causes, func(a, b Cause) int {
		return cmp.Or(cmp.Compare(b.P, a.P), cmp.Compare(b.Before,
			a.Before))
	})
}

// act says one act in words; for the first one also what either answer would mean.
func (r *record) act(ctx context.Context, n faultfind.Next, first bool) (Act, error) {
	a := Act{Act: n.Act, Kind: n.Kind, Words: answer.Title(n.Act), Minutes: n.Minutes, Wait: n.Wait,
		PartIDs:  r.parts(n.Act),
		Cautions: r.cautions(n.Act)}
	if n.Price > 0 {
		a.Price = desk.Money(n.Price, r.desk.Workshop.Currency)
	}
	if slot := slotOf(r.Symptom, n.Act); slot != "" {
		for _, x := range r.desk.Shelves {
			if x.ModelID == r.ModelID && x.Item == slot && x.Quantity > 0 && x.Quarantine == "" && a.Shelf == "" {
				a.Shelf = x.Place
			}
		}
	}
	switch n.Kind {
	case "cure":
		a.Asks = "Is it gone?"
	case "try":
		a.Asks = "Is it gone while this holds?"
	case "look":
		a.Asks = "Is it so?"
	default:
		a.Words, a.Asks = "Closing control: closed, restarted, charged, then read the check and its group again",
			"Does everything hold?"
	}
	if !first {
		return a, nil
	}
	if n.Kind == "control" {
		a.Yes, a.No = "repaired; the case is closed", "it came back: the search goes on"
		return a, nil
	}
	yes, err := r.solve(ctx, faultfind.Tried{Act: n.Act, Hit: true})
	if err != nil {
		return a, err
	}
	no, err := r.solve(ctx, faultfind.Tried{Act: n.Act, Hit: false})
	if err != nil {
		return a, err
	}
	a.Yes, a.No = means(yes, "it was"), means(no, "it is")
	if n.Kind == "look" && n.PHit == 0 { // done for safety, not for an answer
		a.Yes, a.No = "on with it", "do it first"
		a.Asks = "Done?"
	}
	return a, nil
}

// means says in words where an answer would lead.
func means(out faultfind.Output, was string) string {
	if len(out.Causes) == 0 {
		return "nothing on the list is left"
	}
	switch {
	case out.Status == "repaired":
		return was + " " + the(out.Between, " or ") + "; then the closing control"
	case out.Status == "gate":
		return "nearly surely the board, which is not called dead before the rest was tried"
	case out.Status == "found":
		return "it is the " + said(out.Causes[0].Cause)
	case out.Status == "stop" && out.Why == "price":
		return "every next step is dearer than giving up"
	}
	return fmt.Sprintf("then the %s, %.0f %%", said(out.Causes[0].Cause), 100*out.Causes[0].P)
}

// cautions are those of the steps that an act takes: opening the phone, the cell (reached when a cause of the act is
// the battery or its lead, or in danger by the symptom itself), the board.
func (r *record) cautions(name string) []hazard.Caution {
	a, known := faultfind.ActOf(r.Symptom, name)
	if !known {
		return []hazard.Caution{}
	}
	cell := r.Symptom == "swollen or hot" || r.Symptom == "water"
	_, components := faultfind.Causes(r.Symptom, name)
	for _, c := range components {
		cell = cell || a.Opens != "" && kind(c) == "battery"
	}
	return append([]hazard.Caution{}, hazard.Acting(a.Opens != "", cell, a.Opens == "board out")...)
}
