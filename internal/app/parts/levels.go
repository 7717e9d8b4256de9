package parts

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"sync"
	"time"

	"golang.org/x/sync/errgroup"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/app/fit"
	"waryowl/internal/app/model"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/stock"
	"waryowl/internal/store"
)

// Weeks over which jobs are counted, and the lead time where no seller says one (house).
const (
	countWeeks = 26
	usualLead  = 2.0
)

// Pools from when on a group of models is taken to interchange (house: as likely as a verdict that is half proven at
// least).
const pools = 0.9

// GroupView is a group with its names and its level.
type GroupView struct {
	stock.Level
	Slot    string        `json:"slot"`
	Models  []GroupModel  `json:"models" nullable:"false"`
	Cost    float64       `json:"cost"`
	OnHand  int           `json:"on_hand"`
	OnOrder int           `json:"on_order"`
	Owed    int           `json:"owed"`
	Lead    float64       `json:"lead_weeks"`
	Assumed bool          `json:"lead_assumed" doc:"no seller says how long it takes"`
	Held    []string      `json:"held" nullable:"false" doc:"pieces that may not be used yet, and why"`
	Expires []string      `json:"expires" nullable:"false" doc:"pieces that pass their day soon"`
	Test    string        `json:"test,omitempty" doc:"what would let it pool with others"`
	Order   *stock.Order  `json:"order,omitempty"`
	Coming  []desk.Coming `json:"coming" nullable:"false" doc:"orders that were sent"`
	Jobs    []string      `json:"jobs" nullable:"false" doc:"taken, and waiting for a piece: their references"`
	Priced  bool          `json:"priced"`
}

// GroupModel is a model of a group with the jobs that were counted.
type GroupModel struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Jobs int    `json:"jobs"`
}

// StockRoom is how much to keep of what, and what to order first.
type StockRoom struct {
	Answer   answer.Sentence `json:"answer" nullable:"false"`
	Currency string          `json:"currency"`
	Weeks    int             `json:"weeks"`
	Goal     float64         `json:"goal"`
	Groups   []GroupView     `json:"groups" nullable:"false"`
	Found    stock.Output    `json:"found"`
	Left     []string        `json:"left" nullable:"false" doc:"what was not counted, and why"`
	Document stock.Input     `json:"document" doc:"the question as waryowl compute stock takes it"`
}

// AskLevels is what levels are asked for: Budget is money for orders now, minor units; Goal the share of jobs served
// from the shelf, 0 for the office's; Weeks how far ahead a month is, 0 for a month.
type AskLevels struct{ Budget, Goal, Weeks float64 }

// Levels works out the stock of the common jobs' parts.
func Levels(ctx context.Context, s *act.Service, ask AskLevels) (StockRoom, error) {
	d, err := desk.Load(s.DB.WithContext(ctx), nil, false)
	if err != nil {
		return StockRoom{}, err
	}
	return LevelsOf(ctx, s, &d, ask)
}

// LevelsOf is [Levels] of a desk that was read already.
func LevelsOf(ctx context.Context, s *act.Service, d *desk.Desk, ask AskLevels) (StockRoom, error) {
	v := StockRoom{
		Currency: d.Workshop.Currency,
		Weeks:    countWeeks,
		Goal:     0.95,
		Groups:   []GroupView{},
		Left:     []string{},
	}
	switch {
	case ask.Goal > 0:
		v.Goal = ask.Goal
	case d.Workshop.FillGoal > 0:
		v.Goal = d.Workshop.FillGoal
	}
	names := map[string]string{}
	for _, m := range d.Models {
		names[m.ID] = m.Name
	}
	since := s.Now().AddDate(0, 0, -7*countWeeks)
	jobs := map[string]map[string]int{}
	for _, w := range d.Work {
		if w.AskedOn.After(since) {
			if jobs[w.Job] == nil {
				jobs[w.Job] = map[string]int{}
			}
			jobs[w.Job][w.ModelID]++
		}
	}
	in := stock.Input{Weeks: countWeeks, FillGoal: &v.Goal, Budget: ask.Budget}
	if ask.Weeks > 0 {
		in.Horizon = &ask.Weeks
	}
	type kind struct {
		job, slot string
		together  [][]string
		test      map[string]string
	}
	var kinds []kind
	var shared sync.Mutex
	look, at := errgroup.WithContext(ctx)
	for _, j := range model.JobKinds {
		ids := map[string]bool{}
		job := desk.Slot(j.Job)
		for id := range jobs[job] {
			ids[id] = true
		}
		for _, x := range d.Shelves {
			if x.Item == j.Kind {
				ids[x.ModelID] = true
			}
		}
		for _, o := range d.Offers {
			if o.Covers[j.Kind] > 0 {
				ids[o.ModelID] = true
			}
		}
		if len(ids) == 0 {
			continue
		}
		k := len(kinds)
		shared.Lock()
		kinds = append(kinds, kind{job: job, slot: j.Kind})
		shared.Unlock()
		look.Go(func() (err error) { // each kind asks for itself which models share its pieces
			together, test, err := interchange(at, s, j.Kind, ids)
			shared.Lock()
			defer shared.Unlock()
			kinds[k].together, kinds[k].test = together, test
			return err
		})
	}
	err := look.Wait()
	if err != nil {
		return v, err
	}
	apart := d.ByModel()
	for _, k := range kinds {
		for _, group := range k.together {
			v.group(&in, d, apart, k.slot, k.job, group, jobs[k.job], names, s.Now(), k.test)
		}
	}
	v.Document = in
	if len(in.Groups) == 0 {
		v.Found = stock.Output{Groups: []stock.Level{}, Orders: []stock.Order{}}
		v.Answer = answer.Sentence{
			answer.Text("Nothing to keep yet: count jobs, also refused ones, and enter offers with their prices."),
		}
		return v, nil
	}
	if v.Found, err = stock.Solve(in); err != nil {
		return v, err
	}
	short, saves := 0, 0.0
	for i := range v.Groups {
		g := &v.Groups[i]
		g.Level = v.Found.Groups[i]
		for k, o := range v.Found.Orders {
			if o.ID == g.ID {
				g.Order = &v.Found.Orders[k]
			}
		}
		if g.Short > 0 {
			short++
		}
		saves += float64(g.PoolingSaves) * g.Cost
	}
	v.Answer = answer.Sentence{answer.Number(float64(short), "", "#groups"), answer.Text(" of "),
		answer.Count(
			len(v.Groups),
			"group",
			"#groups",
		), answer.Text(fmt.Sprintf(" stand below what serves %.0f of 100 jobs from the shelf", 100*v.Goal))}
	if len(v.Found.Orders) > 0 {
		v.Answer = append(
			v.Answer,
			answer.Text("; "),
			answer.Count(len(v.Found.Orders), "order", "#orders"),
			answer.Text(" within the budget"),
		)
	}
	v.Answer = append(v.Answer, answer.Text("."))
	return v, nil
}

// interchange sorts models into groups whose pieces stand in for each other, by the tests between models; test names,
// for a model that stands alone, what would have to be shown.
func interchange(
	ctx context.Context,
	s *act.Service,
	kind string,
	ids map[string]bool,
) (groups [][]string, test map[string]string, err error) {
	test = map[string]string{}
	if len(ids) < 2 { // nothing to stand in for
		for id := range ids {
			groups = append(groups, []string{id})
		}
		return groups, test, nil
	}
	room, err := fit.Standing(ctx, s, fit.Ask{Kind: kind, Level: "notice", Confidence: 0.9})
	if err != nil {
		return nil, nil, err
	}
	name := map[string]string{}
	for _, l := range room.Lines {
		name[l.ID] = l.Name
	}
	placed := map[string]bool{}
	for _, g := range room.Found.Groups {
		var members []string
		for _, m := range g.Models {
			if ids[m] && !placed[m] {
				members = append(members, m)
			}
		}
		if len(members) < 2 {
			continue
		}
		if g.Interchange < pools { // not carried by what was tested
			for _, m := range members {
				var others []string
				for _, o := range members {
					if o != m {
						others = append(others, name[o])
					}
				}
				test[m] = fmt.Sprintf(
					"test it both ways with %s to pool (now %.0f %%)",
					strings.Join(others, ", "),
					100*g.Interchange,
				)
			}
			continue
		}
		for _, m := range members {
			placed[m] = true
		}
		groups = append(groups, members)
	}
	var alone []string
	for m := range ids {
		if !placed[m] {
			alone = append(alone, m)
		}
	}
	slices.Sort(alone)
	for _, m := range alone {
		groups = append(groups, []string{m})
	}
	return groups, test, nil
}

func (v *StockRoom) group(in *stock.Input, d *desk.Desk, apart map[string]desk.Desk, kind, job string, members []string, jobs map[string]int,
	names map[string]string, now time.Time, test map[string]string) {
	g := GroupView{Slot: kind, Held: []string{}, Expires: []string{}, Models: []GroupModel{}, Coming: []desk.Coming{},
		Jobs: []string{}}
	g.ID = kind + "-" + members[0]
	x := stock.Group{ID: g.ID}
	cost := math.Inf(1)
	var coming []any
	for _, m := range members {
		one, known := apart[m]
		if !known {
			one = d.Of(m)
		}
		x.Models = append(x.Models, stock.Member{ID: m, Jobs: jobs[m]})
		g.Models = append(g.Models, GroupModel{m, names[m], jobs[m]})
		if c, ok := one.Cheapest(kind); ok && c >= 1 {
			cost, g.Priced = math.Min(cost, c), true
		}
		if l := one.Lead(kind); l != nil && (x.LeadWeeks == 0 || l[1]/7 < x.LeadWeeks) {
			x.LeadWeeks = l[1] / 7
		}
		g.OnHand += one.Usable(m, kind, now)
		reserved := 0
		for _, p := range one.Shelves {
			if p.Item != kind {
				continue
			}
			g.OnOrder += p.OnOrder
			reserved += p.Reserved
			g.shelf(p, now)
		}
		for _, c := range d.Coming(m, kind) {
			g.Coming = append(g.Coming, c)
			g.OnOrder += c.Pieces
			coming = append(coming, map[string]any{"pieces": c.Pieces,
				"due_weeks": math.Max(0, c.Due.Sub(now).Hours()/24/7)})
		}
		taken := 0
		for _, w := range d.Work {
			if w.ModelID == m && w.Job == job && desk.Waits(w) {
				taken++
				g.Jobs = append(g.Jobs, cmp.Or(w.Ref, "one of "+w.AskedOn.Format(time.DateOnly)))
			}
		}
		g.Owed += max(reserved, taken) // what lies reserved is for one of the jobs that were taken
		g.Test = test[m]
	}
	if !g.Priced {
		v.Left = append(v.Left, fmt.Sprintf("%s of %s: no price in %s", desk.Said(kind), names[members[0]], v.Currency))
		cost = 0
	} else {
		x.Cost = &cost
	}
	if x.LeadWeeks == 0 {
		x.LeadWeeks, g.Assumed = usualLead, true
	}
	for _, p := range d.Shelves { // typed by hand: it comes after the lead time
		if p.Item == kind && slices.Contains(members, p.ModelID) && p.OnOrder > 0 {
			coming = append(coming, map[string]any{"pieces": p.OnOrder, "due_weeks": x.LeadWeeks})
		}
	}
	x.OnHand, x.Reserved = g.OnHand, &g.Owed
	if len(coming) > 0 {
		x.OnOrder = coming
	}
	g.Cost, g.Lead = cost, x.LeadWeeks
	in.Groups = append(in.Groups, x)
	v.Groups = append(v.Groups, g)
}

// shelf notes what may not be used yet, and what passes its day soon.
func (g *GroupView) shelf(p store.Shelf, now time.Time) {
	if p.Quantity == 0 {
		return
	}
	if p.Quarantine != "" {
		g.Held = append(g.Held, fmt.Sprintf("%d at %s: %s", p.Quantity, p.Place, p.Quarantine))
	}
	if p.BestBefore != nil && p.BestBefore.Before(now.AddDate(0, 0, 60)) {
		g.Expires = append(g.Expires, fmt.Sprintf("%d at %s by %s", p.Quantity, p.Place,
			p.BestBefore.Format(time.DateOnly)))
	}
}
