package app_test

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/png"
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/benchday"
	"waryowl/internal/app/desk"
	"waryowl/internal/app/job"
	"waryowl/internal/app/model"
	"waryowl/internal/app/parts"
	"waryowl/internal/app/propose"
	"waryowl/internal/app/visit"
	"waryowl/internal/core/repair"
	"waryowl/internal/store"
)

// guest is a customer's phone in a workshop with batteries on the shelf.
type guest struct {
	counter
	id string
}

func newGuest(t *testing.T) guest {
	g := guest{newCounter(t), store.NewID()}
	ctx := context.Background()
	_, err := parts.Add(ctx, g.Service, command(), &store.Shelf{}, store.ShelfFacts{ModelID: g.model, Item: "battery",
		Grade: "original", Quantity: 2, Place: "B1"})
	g.must(err)
	_, err = visit.Take(ctx, g.Service, command(), g.id, visit.Arriving{ModelID: g.model, VisitFacts: store.VisitFacts{
		Sticker: "TEAL", Ticket: "t-217", Said: "flat by noon", PartID: g.part["battery"],
		Arrival: map[string]string{"touch": "pass", "charging": "lost"}}})
	g.must(err)
	return g
}

func (g guest) show() visit.Room {
	g.t.Helper()
	r, err := visit.Show(context.Background(), g.Service, act.Actor{}, g.id)
	g.must(err)
	return r
}

// follow does every act of the repair, each as long as take says.
func (g guest) follow(take func(repair.Act) float64) {
	g.t.Helper()
	for range 200 {
		r := g.show()
		if r.State.Now == "" {
			return
		}
		a := r.Acts[slices.IndexFunc(r.Acts, func(a repair.Act) bool { return a.Key == r.State.Now })]
		f := store.VisitEntryFacts{Key: a.Key, Seconds: take(a), Screws: a.Screws}
		if a.Kind == repair.Wait {
			f.Wait = f.Seconds
		}
		_, err := visit.Log(context.Background(), g.Service, command(), g.id, visit.NewEntry{ID: store.NewID(), VisitEntryFacts: f}, "")
		g.must(err)
	}
	g.t.Fatal("the repair has no end")
}

func (g guest) free() int {
	d, err := desk.Load(g.DB, []string{g.model}, false)
	g.must(err)
	return d.Free(g.model, "battery", time.Now())
}

func (g guest) work() store.Work {
	w, err := store.Get[store.Work](g.DB, g.show().Visit.WorkID)
	g.must(err)
	return *w
}

func (g guest) end(f visit.Ended) store.Visit {
	g.t.Helper()
	f.Version = g.show().Visit.Version
	v, err := visit.End(context.Background(), g.Service, command(), g.id, f)
	g.must(err)
	return v
}

// TestAWholeRepair: from the counter to the next promise. What was kept for the job is used by it; its minutes are the sum of
// its log, and move the times of its steps; taken up again, all is as before.
func TestAWholeRepair(t *testing.T) {
	g := newGuest(t)
	ctx := context.Background()
	if n := g.free(); n != 1 {
		t.Errorf("%d of 2 batteries are free while one is promised", n)
	}
	r := g.show()
	if w := g.work(); w.Status != "promised" || w.Job != "battery" || r.Visit.State != "in" || len(r.Acts) < 6 || r.State.Done != 0 ||
		len(r.Quick) < 5 || r.KeptDays != visit.DaysKept {
		t.Fatalf("%+v, %+v", w, r)
	}
	step := ""
	for _, a := range r.Acts {
		if a.Kind == repair.Step {
			step = a.StepID
		}
	}
	know := func() *model.Record { k, err := model.Load(g.DB, g.model); g.must(err); return k }
	before := know()
	estimate := before.Estimate(before.StepByID[step])

	sum := 0.0
	g.follow(func(a repair.Act) float64 {
		took := math.Round(1.5*a.Seconds) + 1
		sum += took
		return took
	})
	if w := g.work(); w.Status != "on the bench" || g.show().Visit.State != "on the bench" {
		t.Errorf("while it lies open: %+v", w)
	}
	v := g.end(visit.Ended{Went: "fine"})
	if math.Abs(v.Minutes-sum/60) > 0.1 || v.Doubt != "" || v.State != "closed" {
		t.Errorf("%.1f min, the log says %.1f: %+v", v.Minutes, sum/60, v)
	}
	w := g.work()
	shelf, err := store.Get[store.Shelf](g.DB, w.ShelfID)
	g.must(err)
	if w.Status != "closed" || w.Minutes != v.Minutes || shelf.Quantity != 1 || g.free() != 1 || len(w.Steps) == 0 {
		t.Errorf("the job after it: %+v, %d on the shelf", w, shelf.Quantity)
	}
	after := know()
	if e := after.Estimate(after.StepByID[step]); e.N != estimate.N+1 || e.Seconds <= estimate.Seconds {
		t.Errorf("the last step took %v, then %v: a slower run counts", estimate, e)
	}
	card, err := job.Show(ctx, g.Service, g.model, g.part["battery"])
	g.must(err)
	if len(card.Outcomes) != 1 || card.Outcomes[0].Minutes != v.Minutes || card.Outcomes[0].Doubt {
		t.Errorf("on the job card: %+v", card.Outcomes)
	}
	if _, err := visit.Log(ctx, g.Service, command(), g.id, visit.NewEntry{ID: store.NewID(),
		VisitEntryFacts: store.VisitEntryFacts{Key: "film"}}, ""); field(t, err) != "state" {
		t.Errorf("an act after the end: %v", err)
	}
	_, err = visit.Move(ctx, g.Service, command(), g.id, visit.Moved{Version: g.show().Visit.Version, State: "in"})
	g.must(err)
	if w := g.work(); w.Status != "on the bench" || w.ShelfID != "" || g.free() != 1 || know().Estimate(after.StepByID[step]).N != estimate.N {
		t.Errorf("taken up again: %+v, %d free", w, g.free())
	}
}

// TestSaidLater: what is to be exchanged may be said after the phone came in; it is promised and planned then, and no other
// part takes its place.
func TestSaidLater(t *testing.T) {
	g := newGuest(t)
	ctx := context.Background()
	id := store.NewID()
	_, err := visit.Take(ctx, g.Service, command(), id, visit.Arriving{ModelID: g.model, VisitFacts: store.VisitFacts{Sticker: "TEAL"}})
	if field(t, err) != "sticker" {
		t.Errorf("two phones of a name: %v", err)
	}
	v, err := visit.Take(ctx, g.Service, command(), id, visit.Arriving{ModelID: g.model, VisitFacts: store.VisitFacts{Sticker: "PLUM"}})
	g.must(err)
	v, err = visit.Change(ctx, g.Service, command(), id, v.Version, store.VisitFacts{Sticker: "PLUM", PartID: g.part["battery"]})
	g.must(err)
	jobs, err := store.List[store.BenchJob](g.DB, "id", "visit_id = ?", id)
	g.must(err)
	if v.WorkID == "" || len(jobs) != 1 || jobs[0].WorkID != v.WorkID || g.free() != 0 {
		t.Errorf("%+v, %d jobs of the day, %d free", v, len(jobs), g.free())
	}
	if _, err = visit.Change(ctx, g.Service, command(), id, v.Version, store.VisitFacts{Sticker: "PLUM",
		PartID: g.part["lens"]}); field(t, err) != "part_id" {
		t.Errorf("another part: %v", err)
	}
}

// TestClickedThrough: a repair of a minute is asked about, and teaches nothing until somebody says that it was one; an
// incident is counted at the step before it.
func TestClickedThrough(t *testing.T) {
	g := newGuest(t)
	ctx := context.Background()
	first := g.show().Acts[0]
	know := func() *model.Record { k, err := model.Load(g.DB, g.model); g.must(err); return k }
	n := know().Estimate(know().StepByID[first.StepID]).N
	g.follow(func(repair.Act) float64 { return 1 })
	v := g.end(visit.Ended{Went: "fine"})
	if v.Doubt != "asked" || know().Estimate(know().StepByID[first.StepID]).N != n || g.work().Minutes != 0 || g.work().Status != "closed" {
		t.Errorf("%+v, %+v", v, g.work())
	}
	if s := g.show().Answer; !strings.Contains(fmt.Sprint(s), "is that right") {
		t.Errorf("it is not asked: %v", s)
	}
	v, err := visit.Confirm(ctx, g.Service, command(), g.id, visit.Confirmed{Version: v.Version, Counts: true})
	g.must(err)
	if v.Doubt != "" || know().Estimate(know().StepByID[first.StepID]).N != n+1 || g.work().Minutes != v.Minutes {
		t.Errorf("confirmed: %+v, %+v", v, g.work())
	}
	if _, err := visit.Confirm(ctx, g.Service, command(), g.id, visit.Confirmed{Version: v.Version}); field(t, err) != "counts" {
		t.Errorf("asked twice: %v", err)
	}
}

func TestPausesAndIncidents(t *testing.T) {
	g := newGuest(t)
	ctx := context.Background()
	r := g.show()
	one, two := r.Acts[0], r.Acts[1]
	log := func(f store.VisitEntryFacts) store.VisitEntry {
		e, err := visit.Log(ctx, g.Service, command(), g.id, visit.NewEntry{ID: store.NewID(), VisitEntryFacts: f}, "")
		g.must(err)
		return e
	}
	log(store.VisitEntryFacts{Key: one.Key, Seconds: 20 * one.Late})
	again := log(store.VisitEntryFacts{Key: one.Key, Seconds: 7})
	e := log(store.VisitEntryFacts{Key: two.Key, Seconds: 20})
	log(store.VisitEntryFacts{Key: "incident " + store.NewID(), HurtPart: g.part["battery"], Note: "bent"})
	if r = g.show(); !slices.Contains(r.State.Long, one.Key) || r.State.Done != 2 || again.Seconds != 20*one.Late {
		t.Fatalf("%+v, %+v", r.State, again)
	}
	for key, f := range map[string]store.VisitEntryFacts{"key": {Key: "in " + store.NewID()}, "hurt_part": {Key: "old", HurtPart: "no"}} {
		if _, err := visit.Log(ctx, g.Service, command(), g.id, visit.NewEntry{ID: store.NewID(), VisitEntryFacts: f}, ""); field(t, err) != key {
			t.Errorf("%+v: %v", f, err)
		}
	}
	_, err := visit.Undo(ctx, g.Service, command(), e.ID, e.Version)
	g.must(err)
	if r = g.show(); r.State.Done != 1 {
		t.Errorf("taken back: %+v", r.State)
	}
	_, err = visit.Restore(ctx, g.Service, command(), e.ID, e.Version+1)
	g.must(err)
	if _, err := visit.End(ctx, g.Service, command(), g.id, visit.Ended{Version: g.show().Visit.Version, Went: "incident"}); field(t, err) != "hurt_part" {
		t.Errorf("an incident without a part: %v", err)
	}
	v := g.end(visit.Ended{Went: "incident", HurtPart: g.part["battery"], Away: []string{one.Key}})
	if v.HurtStep != two.StepID || v.Minutes > 1 {
		t.Errorf("%+v: at %s, the pause aside", v, two.StepID)
	}
	if w := g.work(); w.Went != "incident" || w.HurtPart == "" || w.ShelfID == "" {
		t.Errorf("%+v", w)
	}
}

// TestWhatOwnersSaidIsForgotten: ninety days after hand-back ticket, words and pictures are gone, also from the answers that
// are kept for repeated changes; the trail never had them.
func TestWhatOwnersSaidIsForgotten(t *testing.T) {
	g := newGuest(t)
	ctx := context.Background()
	var file bytes.Buffer
	g.must(png.Encode(&file, image.NewGray(image.Rect(0, 0, 40, 30))))
	_, err := visit.AddPhoto(ctx, g.Service, command(), g.id, store.NewID(), file.Bytes())
	g.must(err)
	_, err = visit.Move(ctx, g.Service, command(), g.id, visit.Moved{Version: g.show().Visit.Version, State: "handed back"})
	g.must(err)
	if w := g.work(); w.Status != "refused" {
		t.Errorf("its job: %+v", w)
	}
	holds := func(table, column string) (n int64) {
		g.must(g.DB.Raw("SELECT COUNT(*) FROM " + table + " WHERE " + column + " LIKE '%flat by noon%' OR " + column + " LIKE '%t-217%'").Scan(&n).Error)
		return n
	}
	if holds("commands", "answer") == 0 || holds("audit_lines", "after_state")+holds("audit_lines", "before_state") > 0 {
		t.Error("the answers do not hold what was said, or the trail does")
	}
	now := g.Service.Now
	defer func() { g.Service.Now = now }()
	for days, gone := range map[int]bool{89: false, 91: true} {
		if gone == (g.show().Visit.ForgottenAt != nil) {
			continue
		}
		g.Service.Now = func() time.Time { return now().Add(time.Duration(days) * 24 * time.Hour) }
		if _, err := visit.Forget(ctx, g.Service); err != nil {
			t.Fatal(err)
		}
		r := g.show()
		if (r.Visit.ForgottenAt != nil) != gone || (r.Visit.Said == "") != gone || (len(r.Photos) == 0) != gone {
			t.Errorf("after %d days: %+v, %d pictures", days, r.Visit, len(r.Photos))
		}
	}
	if holds("commands", "answer")+holds("visits", "said") > 0 {
		t.Error("what was said is still there")
	}
	if _, err := visit.Change(ctx, g.Service, command(), g.id, g.show().Visit.Version, store.VisitFacts{Sticker: "TEAL", Said: "again",
		State: "in"}); field(t, err) != "ticket" {
		t.Errorf("said again: %v", err)
	}
}

// TestABenchDayKnowsTheVisit: the operations of the job of the day start and end by the log of its repair.
func TestABenchDayKnowsTheVisit(t *testing.T) {
	g := newGuest(t)
	jobs, err := store.List[store.BenchJob](g.DB, "id", "visit_id = ?", g.id)
	g.must(err)
	if len(jobs) != 1 || jobs[0].Title != "TEAL" {
		t.Fatalf("on the bench day: %+v", jobs)
	}
	g.follow(func(a repair.Act) float64 { return a.Seconds + 1 })
	g.end(visit.Ended{Went: "fine"})
	r, err := benchday.Show(context.Background(), g.Service, benchday.Ask{Date: jobs[0].Day.Format(time.DateOnly)})
	g.must(err)
	for _, o := range r.Jobs[0].Ops {
		if o.Started == nil || o.Ended == nil {
			t.Errorf("%s is not over: %+v", o.ID, o)
		}
	}
}

// TestSignOff: an apprentice's lead is seen by another person where the office wants it.
func TestSignOff(t *testing.T) {
	g := newGuest(t)
	ctx := context.Background()
	young := store.Account{Name: "young", Display: "Young", Role: "technician", PasswordHash: "-", Apprentice: true}
	old := store.Account{Name: "old", Display: "Old", Role: "technician", PasswordHash: "-"}
	for _, a := range []*store.Account{&young, &old} {
		a.ID = store.NewID()
		g.must(store.Create(&store.Tx{DB: g.DB, Arrived: time.Now(), Happened: time.Now()}, a))
	}
	row, err := store.List[store.Workshop](g.DB, "id", "1 = 1")
	g.must(err)
	f := row[0].WorkshopFacts
	f.SignOff = []string{"leads"}
	_, err = parts.Set(ctx, g.Service, command(), row[0].Version, f)
	g.must(err)
	c := command()
	c.Actor = act.Of(young)
	e := visit.NewEntry{ID: store.NewID(), VisitEntryFacts: store.VisitEntryFacts{Key: "see dust"}}
	if _, err := visit.Log(ctx, g.Service, c, g.id, e, ""); err != nil {
		t.Errorf("a gate that the office did not choose: %v", err)
	}
	e.Key, e.ID, c.Key = "see seat "+store.NewID(), store.NewID(), store.NewID()
	if _, err := visit.Log(ctx, g.Service, c, g.id, e, ""); field(t, err) != "signed_by" {
		t.Errorf("an apprentice alone: %v", err)
	}
	if err := visit.MaySign(ctx, g.Service, act.Of(young), young.ID); field(t, err) != "name" {
		t.Errorf("one's own look: %v", err)
	}
	g.must(visit.MaySign(ctx, g.Service, act.Of(old), young.ID))
}

// TestProposals: what a technician saw goes into the record by one act of an analyst, once.
func TestProposals(t *testing.T) {
	g := newGuest(t)
	ctx := context.Background()
	step := g.show().Acts[0].StepID
	for _, f := range []store.ProposalFacts{{Kind: "hazard", StepID: step, PartID: g.part["battery"]},
		{Kind: "hidden screw", StepID: step, Words: "the label"},
		{Kind: "measure", PartID: g.part["battery"], Measure: &store.Measured{Kind: "thickness", Unit: "mm", Readings: []float64{4.2},
			Resolution: 0.1}}} {
		p, err := propose.Add(ctx, g.Service, command(), g.model, store.NewID(), f)
		g.must(err)
		list, err := propose.List(ctx, g.Service, g.model)
		g.must(err)
		if len(list) != 1 || list[0].Says == "" {
			t.Fatalf("%+v", list)
		}
		p, err = propose.Answer(ctx, g.Service, command(), p.ID, propose.Answered{Version: p.Version, Accept: true})
		g.must(err)
		if _, err := propose.Answer(ctx, g.Service, command(), p.ID, propose.Answered{Version: p.Version}); field(t, err) != "accept" {
			t.Errorf("answered twice: %v", err)
		}
	}
	k, err := model.Load(g.DB, g.model)
	g.must(err)
	s, b := k.StepByID[step], k.PartByID[g.part["battery"]]
	if s.Fastener.HiddenUnder != "the label" || s.Risk[b.ID] <= 0 || len(b.Measures) == 0 {
		t.Errorf("%+v, %+v", s, b.Measures)
	}
	for want, f := range map[string]store.ProposalFacts{"step_id": {Kind: "hazard"}, "words": {Kind: "hidden screw", StepID: step},
		"measure": {Kind: "measure", PartID: b.ID}} {
		if _, err := propose.Add(ctx, g.Service, command(), g.model, store.NewID(), f); field(t, err) != want {
			t.Errorf("%+v: %v", f, err)
		}
	}
}
