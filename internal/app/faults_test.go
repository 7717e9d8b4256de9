package app_test

import (
	"context"
	"errors"
	"math"
	"slices"
	"strings"
	"testing"

	"gorm.io/gorm"

	"waryowl/internal/app/faults"
	"waryowl/internal/app/swap"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/faultfind"
	"waryowl/internal/store"
)

// sick opens a search on a phone of the lab, or of a customer where unit is empty.
type sick struct {
	*lab
	id string
}

func (w *lab) sick(symptom, unit string) *sick {
	w.t.Helper()
	p := &sick{w, store.NewID()}
	_, err := faults.Start(context.Background(), w.shop.Service, command(), p.id, faults.Begin{VisitID: store.NewID(),
		ModelID:    w.model,
		VisitFacts: store.VisitFacts{Sticker: "STONE", Said: "since the ferry", UnitID: unit}, Symptom: symptom})
	w.must(err)
	return p
}

func (p *sick) show() faults.Room {
	p.t.Helper()
	v, err := faults.Show(context.Background(), p.shop.Service, p.id)
	p.must(err)
	return v
}

func (p *sick) do(act, said string) error {
	_, err := faults.Do(context.Background(), p.shop.Service, command(), p.id, faults.NewAct{ID: store.NewID(), Act: act,
		Answer: said})
	return err
}

// play follows the first act until the case ends, with one true cause; it returns the acts.
func (p *sick) play(cause string) []string {
	p.t.Helper()
	var acts []string
	for range 20 {
		v := p.show()
		if v.State != "open" || len(v.Next) == 0 {
			break
		}
		n := v.Next[0]
		causes, _ := faultfind.Causes(v.Symptom, n.Act)
		said := "no"
		if slices.Contains(causes, cause) || n.Kind == "control" {
			said = "yes"
		}
		p.must(p.do(n.Act, said))
		acts = append(acts, n.Act)
	}
	return acts
}

// TestASearchFromComingInToClosed: reseat before replace, what works clears causes, the closing control closes and
// teaches, and the last act can be taken back with all that it taught.
func TestASearchFromComingInToClosed(t *testing.T) {
	w := newLab(t, "Atoll 30")
	p := w.sick("no charge", "")
	v := p.show()
	if v.Visit.State != "in" || len(v.Symptoms) != 17 || len(v.Checks) < 4 || len(v.Choices) != 2 ||
		v.Next[0].Yes == "" || v.Next[0].No == "" {
		t.Fatalf("%+v", v)
	}
	sum := 0.0
	for _, c := range v.Causes {
		sum += c.P
	}
	if math.Abs(sum-1) > 0.001 {
		t.Errorf("the chances add up to %g", sum)
	}
	_, err := faults.Change(context.Background(), w.shop.Service, command(), p.id, 1,
		store.FaultFacts{Symptom: "no charge",
			Works: []string{"boot", "battery-health"}})
	w.must(err)
	if v = p.show(); len(v.Causes[0].Cleared) > 0 || !slices.ContainsFunc(v.Causes, func(c faults.Cause) bool {
		return c.Name == "battery" && slices.Contains(c.Cleared, "Battery health shown") || c.Name == "battery" &&
			len(c.Cleared) > 0 && c.P < c.Before
	}) {
		t.Errorf("what works: %+v", v.Causes)
	}
	acts := p.play("port lead")
	reseat, replace := slices.Index(acts, "reseat port lead"), slices.Index(acts, "replace charge port")
	if reseat < 0 || replace >= 0 || acts[len(acts)-1] != "closing control" {
		t.Fatalf("%v", acts)
	}
	v = p.show()
	if v.State != "repaired" || !slices.Equal(v.Ended, []string{"port lead"}) || v.Visit.State != "closed" ||
		v.Owner == "" ||
		!strings.Contains(words(v.Answer), "it was the port lead") {
		t.Errorf("the end: %+v, %s", v.FaultCase, words(v.Answer))
	}
	before := w.sick("no charge", "").show()
	if before.Learned != 1 {
		t.Errorf("learned from %g cases", before.Learned)
	}
	_, err = faults.UndoAct(context.Background(), w.shop.Service, command(), p.id, v.Version)
	w.must(err)
	if v = p.show(); v.State != "open" || v.Control != "required" || v.Visit.State != "on the bench" {
		t.Errorf("taken back: %+v", v.FaultCase)
	}
	if again := w.sick("no charge", "").show(); again.Learned != 0 {
		t.Errorf("still learned from %g", again.Learned)
	}
	w.must(p.do("closing control", "no")) // it came back: the search goes on
	if v = p.show(); v.State != "open" || v.Status == "repaired" || !slices.Contains(v.Warnings, "came back") {
		t.Errorf("came back: %s, %v", v.Status, v.Warnings)
	}
}

// TestADeadBoardWaitsForItsGate: no start, and nothing helps: the board is never called dead before every step of the
// gate.
func TestADeadBoardWaitsForItsGate(t *testing.T) {
	w := newLab(t, "Atoll 31")
	p := w.sick("no start", "")
	gate := []string{"charger 15 min", "forced restart", "reseat battery lead", "reseat battery lead again",
		"known-good battery"}
	done := map[string]bool{}
	for range 16 {
		v := p.show()
		if v.Dead {
			break
		}
		if v.Status == "gate" && (len(v.Gate) == 0 || len(v.Next) == 0) {
			t.Fatalf("a gate without a step: %+v", v)
		}
		if len(v.Next) == 0 {
			t.Fatalf("nothing to do: %s", words(v.Answer))
		}
		if strings.HasPrefix(v.Next[0].Act, "charger") && v.Next[0].Wait != 15 {
			t.Errorf("the charger's wait: %+v", v.Next[0])
		}
		done[v.Next[0].Act] = true
		w.must(p.do(v.Next[0].Act, "no"))
	}
	v := p.show()
	if !v.Dead {
		t.Fatalf("not dead after all: %s", words(v.Answer))
	}
	for _, g := range gate {
		if !done[g] {
			t.Errorf("called dead without %q", g)
		}
	}
	_, err := faults.Stop(context.Background(), w.shop.Service, command(), p.id, faults.End{Version: v.Version,
		State: "given up"})
	var bad *fault.Fault
	if !errors.As(err, &bad) || bad.Field != "why" {
		t.Errorf("given up without a reason: %v", err)
	}
	_, err = faults.Stop(context.Background(), w.shop.Service, command(), p.id,
		faults.End{Version: v.Version, State: "given up", Why: "the board is dead"})
	w.must(err)
	if v = p.show(); v.State != "given up" || v.Visit.State == "closed" ||
		!strings.Contains(words(v.Answer), "the board is dead") {
		t.Errorf("%+v", v.FaultCase)
	}
	if err := p.do("forced restart", "yes"); !errors.As(err, &bad) || bad.Field != "state" {
		t.Errorf("an act after the end: %v", err)
	}
}

// TestWhatASearchWrites: a study's phone gets its lines in the log and its move on the bench, the shelf loses a piece
// and the job is counted; taking the acts back takes all of it back.
func TestWhatASearchWrites(t *testing.T) {
	w := newLab(t, "Atoll 32")
	db := w.shop.Service.DB
	shelf := store.Shelf{ShelfFacts: store.ShelfFacts{ModelID: w.model, Item: "battery", Grade: "original", Quantity: 2,
		Place: "shelf 1"}}
	w.must(db.Transaction(func(g *gorm.DB) error {
		return store.Create(&store.Tx{DB: g, Arrived: w.shop.Service.Now()},
			&shelf)
	}))
	quantity := func() int {
		x, err := store.Get[store.Shelf](db, shelf.ID)
		w.must(err)
		return x.Quantity
	}
	rows := func(table string) (n int64) {
		w.must(db.Raw("SELECT COUNT(*) FROM " + table + " WHERE deleted_at IS NULL").Scan(&n).Error)
		return n
	}
	p := w.sick("no start", w.pine)
	if v := p.show(); v.Visit.Sticker != "PINE" || v.Visit.StudyID != w.study || !slices.Contains(v.Works, "charging") {
		t.Errorf("the readings of the phone: %+v", v.FaultFacts)
	}
	account, err := swap.Tell(context.Background(), w.shop.Service, w.study, 0)
	if err != nil || !strings.Contains(strings.Join(account.NotShown, " "),
		"PINE, “since the ferry”: the cause was not found") {
		t.Errorf("an open search is an open question: %v, %v", account.NotShown, err)
	}
	w.must(p.do("known-good battery", "yes"))
	w.must(p.do("replace battery", "yes"))
	w.must(p.do("closing control", "yes"))
	if quantity() != 1 || rows("log_entries") != 3 || rows("swap_acts") != 1 || rows("work_orders") != 1 {
		t.Errorf("shelf %d, log %d, moves %d, jobs %d", quantity(), rows("log_entries"), rows("swap_acts"),
			rows("work_orders"))
	}
	for range 3 {
		v := p.show()
		_, err := faults.UndoAct(context.Background(), w.shop.Service, command(), p.id, v.Version)
		w.must(err)
	}
	if quantity() != 2 || rows("log_entries") != 0 || rows("swap_acts") != 0 || rows("work_orders") != 0 ||
		len(p.show().Acts) != 0 {
		t.Errorf("taken back: shelf %d, log %d, moves %d, jobs %d", quantity(), rows("log_entries"), rows("swap_acts"),
			rows("work_orders"))
	}
}

// TestASearchRefusesWhatCannotBe names the field of each.
func TestASearchRefusesWhatCannotBe(t *testing.T) {
	w := newLab(t, "Atoll 33")
	ctx, s := context.Background(), w.shop.Service
	for want, change := range map[string]func(*faults.Begin){
		"symptom":      func(f *faults.Begin) { f.Symptom = "sulks" },
		"for_model_id": func(f *faults.Begin) { f.ModelID = store.NewID() },
		"unit_id":      func(f *faults.Begin) { f.UnitID = store.NewID() },
		"work_id":      func(f *faults.Begin) { f.WorkID = store.NewID() },
		"sticker":      func(f *faults.Begin) { f.Sticker = "  " },
		"arrival.boot": func(f *faults.Begin) { f.Arrival = map[string]string{"boot": "perhaps"} },
	} {
		f := faults.Begin{VisitID: store.NewID(), ModelID: w.model, VisitFacts: store.VisitFacts{Sticker: "STONE"}}
		change(&f)
		_, err := faults.Start(ctx, s, command(), store.NewID(), f)
		var bad *fault.Fault
		if !errors.As(err, &bad) || bad.Field != want {
			t.Errorf("want a fault at %s, got %v", want, err)
		}
	}
	p := w.sick("", "")
	var bad *fault.Fault
	if err := p.do("restart", "no"); !errors.As(err, &bad) || bad.Field != "act" {
		t.Errorf("an act before the symptom: %v", err)
	}
	q := w.sick("no charge", "")
	if err := q.do("shaking", "no"); !errors.As(err, &bad) || bad.Field != "act" {
		t.Errorf("an act that nobody knows: %v", err)
	}
	w.must(q.do("restart", "no"))
	v := q.show()
	if _, err := faults.Change(ctx, s, command(), q.id, v.Version,
		store.FaultFacts{Symptom: "no start"}); !errors.As(err, &bad) ||
		bad.Field != "symptom" {
		t.Errorf("another symptom after an act: %v", err)
	}
	if _, err := faults.Change(ctx, s, command(), q.id, v.Version, store.FaultFacts{Symptom: "no charge",
		Works: []string{"dancing"}}); !errors.As(err,
		&bad) || bad.Field != "works[0]" {
		t.Errorf("a check that nobody knows: %v", err)
	}
}
