// Package needs is what has to be bought, and why: jobs that wait for a piece, stock below its level, what next month
// takes, and what somebody put on the list; and the cheapest basket for what is chosen of it.
package needs

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/app/model"
	"waryowl/internal/app/parts"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// Need is a part that has to be bought. Models are those whose piece serves: tests between models carry it.
type Need struct {
	ID       string       `json:"id"`
	Item     string       `json:"item"`
	Name     string       `json:"name"`
	Models   []desk.Named `json:"models" nullable:"false"`
	Quantity int          `json:"quantity"`
	From     []string     `json:"from" enum:"jobs,stock,month,hand" nullable:"false"`
	Why      string       `json:"why"`
	Jobs     []string     `json:"jobs" nullable:"false"`
	Offers   int          `json:"offers" doc:"that could fill it"`
	Row      string       `json:"row,omitempty" doc:"of the list that is kept by hand"`
	Version  int          `json:"version,omitempty"`
	OnHand   int          `json:"on_hand"`
	OnOrder  int          `json:"on_order"`
	Month    [2]int       `json:"month" doc:"pieces that the weeks ahead take: in one of ten, in nine of ten at most"`
}

// Ask is how far ahead is looked: Weeks of use (0: none), and the share of jobs to be served from the shelf (0: the
// office's).
type Ask struct{ Weeks, Goal float64 }

// Room is what has to be bought.
type Room struct {
	Answer   answer.Sentence `json:"answer" nullable:"false"`
	Needs    []Need          `json:"needs" nullable:"false"`
	Models   []desk.Named    `json:"models" nullable:"false"`
	Items    []string        `json:"items" nullable:"false" doc:"names that a part may have"`
	Currency string          `json:"currency"`
	Goal     float64         `json:"goal"`
	Weeks    float64         `json:"weeks"`
}

// List is what has to be bought.
func List(ctx context.Context, s *act.Service, q Ask) (Room, error) {
	d, err := desk.Load(s.DB.WithContext(ctx), nil, false)
	if err != nil {
		return Room{}, err
	}
	return list(ctx, s, &d, q)
}

func list(ctx context.Context, s *act.Service, d *desk.Desk, q Ask) (Room, error) {
	v := Room{Needs: []Need{}, Models: d.Models, Items: d.Slots, Currency: d.Workshop.Currency, Weeks: q.Weeks}
	levels, err := parts.LevelsOf(ctx, s, d, parts.AskLevels{Goal: q.Goal, Weeks: q.Weeks})
	if err != nil {
		return v, err
	}
	v.Goal = levels.Goal
	for _, g := range levels.Groups {
		if n := ofGroup(g, q.Weeks > 0); n.Quantity > 0 {
			v.Needs = append(v.Needs, n)
		}
	}
	db := s.DB.WithContext(ctx)
	used, err := consumables(db.WithContext(ctx), s, d)
	if err != nil {
		return v, err
	}
	v.Needs = append(v.Needs, used...)
	picked, err := store.List[store.Need](db, "id", "1 = 1")
	if err != nil {
		return v, err
	}
	names := map[string]string{}
	models, err := store.List[store.Model](db, "maker, name, id", "1 = 1")
	if err != nil {
		return v, err
	}
	v.Models = []desk.Named{}
	for _, m := range models {
		names[m.ID] = m.Maker + " " + m.Name
		v.Models = append(v.Models, desk.Named{ID: m.ID, Name: names[m.ID]})
	}
	for _, p := range picked {
		if names[p.ModelID] == "" {
			continue // of a model that is gone
		}
		n := Need{ID: "hand-" + p.ID, Item: p.Item, Name: desk.Said(p.Item), Models: []desk.Named{{ID: p.ModelID,
			Name: names[p.ModelID]}}, Quantity: p.Quantity, From: []string{"hand"}, Why: p.Note, Jobs: []string{}, Row: p.ID,
			Version: p.Version, OnHand: d.Usable(p.ModelID, p.Item, s.Now())}
		for _, c := range d.Coming(p.ModelID, p.Item) {
			n.OnOrder += c.Pieces
		}
		if n.Why == "" {
			n.Why = "put on the list by hand"
		}
		if n.OnHand > 0 {
			n.Why += fmt.Sprintf(", %d here", n.OnHand)
		}
		for _, g := range levels.Groups { // what stands in for it
			if g.Slot == p.Item && slices.ContainsFunc(g.Models, func(m parts.GroupModel) bool { return m.ID == p.ModelID }) {
				for _, m := range g.Models {
					if m.ID != p.ModelID {
						n.Models = append(n.Models, desk.Named{ID: m.ID, Name: m.Name})
					}
				}
			}
		}
		v.Needs = append(v.Needs, n)
	}
	for i := range v.Needs {
		n := &v.Needs[i]
		for _, o := range d.Offers {
			if serves(o, *n) && o.Stock > 0 {
				n.Offers++
			}
		}
	}
	slices.SortStableFunc(v.Needs, func(a, b Need) int { return urgency(a) - urgency(b) })
	v.say()
	return v, nil
}

// serves says whether an offer fills a need.
func serves(o store.Offer, n Need) bool {
	return o.Covers[n.Item] > 0 && slices.ContainsFunc(n.Models, func(m desk.Named) bool { return m.ID == o.ModelID })
}

// urgency puts what jobs wait for first, then stock, then what next month takes, then what was picked by hand.
func urgency(n Need) int {
	for k, from := range []string{"jobs", "hand", "stock", "month"} {
		if slices.Contains(n.From, from) {
			return k
		}
	}
	return 9
}

// ofGroup is what a group of models needs: what lifts its position to its level, and, where a month ahead is looked at,
// to what that takes in nine of ten.
func ofGroup(g parts.GroupView, ahead bool) Need {
	n := Need{ID: "stock-" + g.ID, Item: g.Slot, Name: desk.Said(g.Slot), Quantity: g.Short, From: []string{}, Jobs: g.Jobs,
		OnHand: g.OnHand, OnOrder: g.OnOrder, Models: []desk.Named{}}
	for _, m := range g.Models {
		n.Models = append(n.Models, desk.Named{ID: m.ID, Name: m.Name})
	}
	var why []string
	if waits := g.Owed - g.OnHand - g.OnOrder; waits > 0 {
		n.From = append(n.From, "jobs")
		why = append(why, waiting(waits, g.Jobs))
	}
	if g.Short > 0 {
		n.From = append(n.From, "stock")
		why = append(why, fmt.Sprintf("keep %d", g.BaseStock))
	}
	if ahead && len(g.Months) > 0 {
		m := g.Months[0]
		n.Month = [2]int{m.P10, m.P90}
		if m.P90 > 0 && m.P90-g.Position > n.Quantity {
			n.Quantity = m.P90 - g.Position
			n.From = append(n.From, "month")
		}
		if slices.Contains(n.From, "month") || n.Quantity > 0 {
			why = append(why, fmt.Sprintf("next %d to %d", m.P10, m.P90))
		}
	}
	why = append(why, fmt.Sprintf("%d here", g.OnHand))
	if g.OnOrder > 0 {
		why = append(why, fmt.Sprintf("%d coming", g.OnOrder))
	}
	n.Why = strings.Join(why, ", ")
	return n
}

func waiting(n int, jobs []string) string {
	text := answer.Counted(n, "job") + " without a piece"
	if len(jobs) > 0 && len(jobs) <= 3 {
		text += " (" + strings.Join(jobs, ", ") + ")"
	}
	return text
}

func (v *Room) say() {
	if len(v.Needs) == 0 {
		v.Answer = answer.Sentence{answer.Text("Nothing is short: every level holds, and no job waits for a piece.")}
		return
	}
	none := 0
	for _, n := range v.Needs {
		if n.Offers == 0 {
			none++
		}
	}
	v.Answer = answer.Sentence{answer.Count(len(v.Needs), "part", "#needs"), answer.Text(" to buy")}
	if none > 0 {
		v.Answer = append(v.Answer, answer.Text("; "), answer.Number(float64(none), "", "#needs"), answer.Text(" have no offer"))
	}
	v.Answer = append(v.Answer, answer.Text("."))
}

// Build puts what a job or a whole build of a model takes on the list, as far as it is not there yet.
func Build(ctx context.Context, s *act.Service, c act.Command, modelID, job string) ([]store.Need, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) ([]store.Need, error) {
		k, err := model.Load(tx.DB, modelID)
		if err != nil {
			return nil, err
		}
		slots, _, err := parts.SlotsOf(k, job)
		if err != nil {
			return nil, err
		}
		had, err := store.List[store.Need](tx.DB, "id", "for_model_id = ?", modelID)
		if err != nil {
			return nil, err
		}
		rows := []store.Need{}
		for _, x := range slots {
			if slices.ContainsFunc(had, func(n store.Need) bool { return n.Item == x.ID }) {
				continue
			}
			note := "for a whole build"
			if job != parts.Build {
				note = "for a " + strings.ReplaceAll(job, "-", " ") + " job"
			}
			rows = append(rows, store.Need{Row: store.Row{ID: store.NewID()},
				NeedFacts: store.NeedFacts{ModelID: modelID, Item: x.ID, Quantity: x.Quantity, Note: note}})
		}
		if len(rows) == 0 {
			return nil, fault.New("job", job, "one whose parts are not all on the list yet")
		}
		return rows, store.CreateAll(tx, rows)
	})
}
