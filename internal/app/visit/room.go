package visit

import (
	"cmp"
	"context"
	"slices"
	"time"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/app/job"
	"waryowl/internal/app/model"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/benchline"
	"waryowl/internal/core/hazard"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/repair"
	"waryowl/internal/store"
)

// Asked is a quick check with what was read when the phone arrived.
type Asked struct {
	Mark   string `json:"mark"`
	Name   string `json:"name"`
	Result string `json:"result" enum:",pass,lost"`
}

// Fault is a search for a fault of this phone.
type Fault struct {
	ID      string `json:"id"`
	Symptom string `json:"symptom,omitempty"`
	State   string `json:"state"`
}

// Clock is a wait that runs: what the phone does, since when, and how long.
type Clock struct {
	Key     string    `json:"key"`
	Text    string    `json:"text"`
	Started time.Time `json:"started"`
	Seconds float64   `json:"seconds"`
}

// Room is a visit from arrival to hand-back, and the repair as it stands.
type Room struct {
	Visit    store.Visit         `json:"visit"`
	Model    store.Model         `json:"model"`
	Part     string              `json:"part,omitempty" doc:"name of the part that is exchanged"`
	Parts    []store.Part        `json:"parts" nullable:"false"`
	Answer   answer.Sentence     `json:"answer" nullable:"false"`
	Quick    []Asked             `json:"quick" nullable:"false"`
	Way      *model.Way          `json:"way,omitempty"`
	Acts     []repair.Act        `json:"acts" nullable:"false"`
	Conflict string              `json:"conflict,omitempty" doc:"a lead that can only go on after the battery's"`
	Entries  []store.VisitEntry  `json:"entries" nullable:"false"`
	State    repair.State        `json:"state"`
	Clocks   []Clock             `json:"clocks" nullable:"false"`
	Alike    map[string][]string `json:"alike" doc:"by step: screws that must not go into its holes"`
	Photos   []store.VisitPhoto  `json:"photos" nullable:"false"`
	Faults   []Fault             `json:"faults" nullable:"false"`
	Tell     []string            `json:"tell" nullable:"false" doc:"what the customer is told is lost"`
	Pace     model.Pace          `json:"pace"`
	Usual    []float64           `json:"usual" nullable:"false" doc:"minutes of earlier repairs, the least and the most; none: there were not enough"`
	KeptDays int                 `json:"kept_days" doc:"days after hand-back until ticket, words and pictures are deleted"`
	Signs    []string            `json:"signs" nullable:"false" doc:"kinds of gate at which another person looks at this person's work"`
	People   []string            `json:"people" nullable:"false" doc:"who may look, by their names to sign in"`
	Notice   string              `json:"notice"`

	Bench benchline.Context `json:"bench" doc:"what the stops need to know"`
}

// DaysKept is how long what an owner said is kept after hand-back where the office says nothing else (house).
const DaysKept = 90

// Show reads a visit.
func Show(ctx context.Context, s *act.Service, who act.Actor, id string) (Room, error) {
	db := s.DB.WithContext(ctx)
	v, err := store.Get[store.Visit](db, id)
	if err != nil {
		return Room{}, err
	}
	k, err := model.Load(db, v.ModelID)
	if err != nil {
		return Room{}, err
	}
	if err := k.LoadPhotos(db); err != nil {
		return Room{}, err
	}
	r := Room{Visit: *v, Model: k.Model, Parts: k.Parts, Quick: quick(k, *v), Acts: []repair.Act{}, Entries: []store.VisitEntry{},
		Clocks: []Clock{}, Alike: map[string][]string{}, Faults: []Fault{}, Tell: []string{}, Usual: []float64{},
		Signs: []string{}, People: []string{}, Notice: hazard.Notice, KeptDays: DaysKept, Bench: k.Bench(v.Sticker)}
	if len(k.Office) > 0 && k.Office[0].VisitDays > 0 {
		r.KeptDays = k.Office[0].VisitDays
	}
	if r.Pace, err = model.PaceOf(db, who.ID); err != nil {
		return r, err
	}
	if r.Photos, err = store.List[store.VisitPhoto](db.Omit("image", "thumb"), "id", "visit_id = ?", id); err != nil {
		return r, err
	}
	cases, err := store.List[store.FaultCase](db, "id DESC", "visit_id = ?", id)
	if err != nil {
		return r, err
	}
	for _, x := range cases {
		r.Faults = append(r.Faults, Fault{x.ID, x.Symptom, x.State})
	}
	if err := r.repair(ctx, s, k); err != nil {
		return r, err
	}
	if err := r.watch(db, k, who); err != nil {
		return r, err
	}
	r.Answer = r.sentence()
	return r, nil
}

// repair lays the repair out and reads how far it is.
func (r *Room) repair(ctx context.Context, s *act.Service, k *model.Record) (err error) {
	db := s.DB.WithContext(ctx)
	if r.Entries, err = store.List[store.VisitEntry](db, "happened_at, id", "visit_id = ?", r.Visit.ID); err != nil {
		return err
	}
	if r.Visit.PartID == "" || k.PartByID[r.Visit.PartID].ID == "" {
		return nil
	}
	r.Part = k.PartByID[r.Visit.PartID].Name
	card, err := job.Show(ctx, s, k.ID, r.Visit.PartID)
	if err != nil {
		return err
	}
	r.Tell = card.Tell
	var acts []repair.Act
	if r.Way, acts, r.Conflict = sheet(k, r.Visit.PartID, lost(card)); acts != nil {
		r.Acts = acts
		r.Alike = alike(k, r.Way.Steps)
	}
	r.State = repair.Progress(r.Acts, plain(r.Entries))
	r.Clocks = clocks(r.Acts, r.Entries, r.State)
	var took []float64
	for _, o := range card.Outcomes {
		if o.Went == "fine" && !o.Doubt {
			took = append(took, o.Minutes)
		}
	}
	if len(took) >= model.FewTries {
		r.Usual = []float64{slices.Min(took), slices.Max(took)}
	}
	return nil
}

// lost are the checks that are proven to be lost with another part on the newest build.
func lost(card job.Card) []string {
	var marks []string
	if len(card.Builds) > 0 {
		for _, l := range card.Builds[len(card.Builds)-1].Losses {
			if l.Verdict.Mark == ledger.Loses {
				marks = append(marks, l.Verdict.Check)
			}
		}
	}
	return marks
}

// clocks are the waits that run: since the act before them was done, or since their last round.
func clocks(acts []repair.Act, entries []store.VisitEntry, state repair.State) []Clock {
	list := []Clock{}
	for _, a := range acts {
		if !slices.Contains(state.Clocks, a.Key) {
			continue
		}
		c := Clock{Key: a.Key, Text: a.Text, Seconds: a.Seconds}
		for _, e := range entries {
			if e.Key == a.Begins || a.StepID != "" && e.StepID == a.StepID && repair.Part(e.Key) == "round" {
				c.Started = e.HappenedAt
			}
		}
		list = append(list, c)
	}
	return list
}

func quick(k *model.Record, v store.Visit) []Asked {
	list := []Asked{}
	for _, mark := range Quick {
		if i := slices.IndexFunc(k.Checks, func(c store.Check) bool { return c.Mark == mark }); i >= 0 {
			list = append(list, Asked{mark, k.Checks[i].Name, v.Arrival[mark]})
		}
	}
	return list
}

// watch says at which gates somebody else looks at the work of whoever asks, and who may.
func (r *Room) watch(db *gorm.DB, k *model.Record, who act.Actor) error {
	if len(k.Office) == 0 || len(k.Office[0].SignOff) == 0 || who.ID == "" {
		return nil
	}
	people, err := store.List[store.Account](db, "display, id", "NOT disabled AND role IN ?", []string{string(act.Technician),
		string(act.Analyst)})
	if err != nil {
		return err
	}
	for _, a := range people {
		switch {
		case a.ID == who.ID && a.Apprentice:
			r.Signs = k.Office[0].SignOff
		case a.ID != who.ID && !a.Apprentice:
			r.People = append(r.People, a.Name)
		}
	}
	return nil
}

// sentence says where the phone is and what is next.
func (r *Room) sentence() answer.Sentence {
	v := r.Visit
	s := answer.Sentence{answer.Name(v.Sticker, ""), answer.Text(", " + r.Model.Name + cmp.Or(text(", ", r.Part), "") + ": ")}
	at := slices.IndexFunc(r.Acts, func(a repair.Act) bool { return a.Key == r.State.Now })
	switch {
	case v.State == "handed back":
		return append(s, answer.Text("handed back."))
	case v.State == "closed" && v.Doubt == "asked":
		return append(s, answer.Text("closed after "), answer.Number(v.Minutes, "min", "#outcome"),
			answer.Text(": is that right? It teaches nothing until you say so."))
	case v.State == "closed":
		return append(s, answer.Text("closed after "), answer.Number(v.Minutes, "min", "#outcome"),
			answer.Text(". Print the slip and hand it back."))
	case v.PartID == "":
		return append(s, answer.Text("what is to be done is not said yet. Find the fault, or choose the part."))
	case len(r.Acts) == 0:
		return append(s, answer.Text("no way to the "+r.Part+" is on record: it cannot be followed."))
	case at < 0:
		return append(s, answer.Text("all is done. Say how it went."))
	case v.State == "waiting for a part":
		s = append(s, answer.Text("waits for a part. "))
	}
	a := r.Acts[at]
	if r.State.Done == 0 {
		return append(s, answer.Text("whole repair "), answer.Number(r.Way.ClosedMinutes, "min", "#repair"),
			answer.Text(" ("), answer.Number(r.Way.HandsOnMinutes, "min", "#repair"), answer.Text(" hands-on, "),
			answer.Number(r.Way.WaitMinutes, "min", "#repair"), answer.Text(" waiting). First: "+a.Text+"."))
	}
	return append(s, answer.Count(r.State.Done, "act", "#repair"), answer.Text(" of "),
		answer.Number(float64(r.State.Of), "", "#repair"), answer.Text(" done. Next: "+a.Text+"."))
}

func text(before, s string) string {
	if s == "" {
		return ""
	}
	return before + s
}
