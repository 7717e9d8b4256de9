package visit

import (
	"context"
	"slices"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/core/repair"
	"waryowl/internal/store"
)

// Line is a phone that is here.
type Line struct {
	ID      string     `json:"id"`
	Sticker string     `json:"sticker"`
	Ticket  string     `json:"ticket,omitempty"`
	Model   string     `json:"model"`
	Part    string     `json:"part,omitempty"`
	State   string     `json:"state"`
	Next    string     `json:"next,omitempty"`
	Done    float64    `json:"done" doc:"share of its acts"`
	HandsOn float64    `json:"hands_on" doc:"minutes of hands that are left, usually"`
	Waits   float64    `json:"waits" doc:"minutes of waiting that are left"`
	Clocks  []Clock    `json:"clocks" nullable:"false"`
	Since   time.Time  `json:"since"`
	Closed  *time.Time `json:"closed,omitempty"`
	Minutes float64    `json:"minutes,omitempty"`
}

// mostListed is how many phones are listed.
const mostListed = 40

// List lists the phones that are here, those on the bench first; all: also those that were handed back.
func List(ctx context.Context, s *act.Service, all bool) ([]Line, error) {
	db := s.DB.WithContext(ctx)
	where := "state <> 'handed back'"
	if all {
		where = "1 = 1"
	}
	rows, err := store.List[store.Visit](db.Limit(mostListed),
		"FIELD(state, 'on the bench', 'in', 'waiting for a part', 'closed', 'handed back'), id DESC", where)
	if err != nil || len(rows) == 0 {
		return []Line{}, err
	}
	var models, visits []string
	for _, v := range rows {
		visits = append(visits, v.ID)
		if !slices.Contains(models, v.ModelID) {
			models = append(models, v.ModelID)
		}
	}
	know, err := model.LoadAll(db, models, true)
	if err != nil {
		return nil, err
	}
	entries, err := store.List[store.VisitEntry](db, "happened_at, id", "visit_id IN ?", visits)
	if err != nil {
		return nil, err
	}
	sheets, whole := map[string][]repair.Act{}, map[string]*model.Way{}
	list := []Line{}
	for _, v := range rows {
		k := know[v.ModelID]
		if k == nil {
			continue
		}
		l := Line{ID: v.ID, Sticker: v.Sticker, Ticket: v.Ticket, Model: k.Maker + " " + k.Name, State: v.State, Clocks: []Clock{},
			Part: k.PartByID[v.PartID].Name, Since: v.CreatedAt, Closed: v.ClosedAt, Minutes: v.Minutes}
		if v.Open() && l.Part != "" {
			acts, known := sheets[v.PartID]
			if !known {
				whole[v.PartID], acts, _ = sheet(k, v.PartID, nil)
				sheets[v.PartID] = acts
			}
			var mine []store.VisitEntry
			for _, e := range entries {
				if e.VisitID == v.ID {
					mine = append(mine, e)
				}
			}
			state := repair.Progress(acts, plain(mine))
			l.Clocks = clocks(acts, mine, state)
			l.HandsOn, l.Waits = left(acts, state, whole[v.PartID])
			if state.Of > 0 {
				l.Done = float64(state.Done) / float64(state.Of)
			}
			if i := slices.IndexFunc(acts, func(a repair.Act) bool { return a.Key == state.Now }); i >= 0 {
				l.Next = acts[i].Text
			}
		}
		list = append(list, l)
	}
	return list, nil
}

// left are the minutes of hands and waits that usually follow. Changing tools and starting up belong to no act: they count
// with the share of the acts that is left, so that at the beginning it is what the job card says.
func left(acts []repair.Act, state repair.State, way *model.Way) (hands, waits float64) {
	if way == nil || way.Blocked != "" {
		return 0, 0
	}
	all := repair.Progress(acts, nil)
	if all.Left > 0 {
		hands = way.HandsOnMinutes * state.Left / all.Left
	}
	if all.LeftWait > 0 {
		waits = way.WaitMinutes * state.LeftWait / all.LeftWait
	}
	return hands, waits
}
