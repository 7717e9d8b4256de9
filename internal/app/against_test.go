package app_test

import (
	"context"
	"fmt"
	"math"
	"strings"
	"testing"

	"waryowl/internal/app/intake"
	"waryowl/internal/app/parts"
	"waryowl/internal/app/score"
	"waryowl/internal/app/strip"
	"waryowl/internal/store"
)

// twins is a workshop with two models whose batteries come out by a way of so many steps.
func twins(t *testing.T, first, second int) (w *shop, a, b string) {
	w = newShop(t)
	ctx := context.Background()
	make := func(name string, steps int) string {
		id := store.NewID()
		_, err := intake.AddModel(
			ctx,
			w.Service,
			command(),
			id,
			store.ModelFacts{Maker: "Pellow", Name: name, Entry: "back"},
		)
		w.must(err)
		p, err := strip.AddPart(
			ctx,
			w.Service,
			command(),
			id,
			"",
			store.PartFacts{Name: "battery", Family: "PW", Kind: "battery"},
		)
		w.must(err)
		before := ""
		for i := range steps {
			f := store.StepFacts{
				Verb:    "lift",
				What:    fmt.Sprint("layer ", i),
				Side:    "back",
				Tool:    []string{"tweezers", "hand"}[i%2],
				Seconds: 30,
			}
			if before != "" {
				f.After = [][]string{{before}}
			}
			if i == steps-1 {
				f.Frees = []string{p.ID}
			}
			row, err := strip.AddStep(ctx, w.Service, command(), id, "", "x"+strings.Repeat("i", i+1), f)
			w.must(err)
			before = row.ID
		}
		return id
	}
	return w, make("Drift 11", first), make("Drift 12", second)
}

// say records a saying and fails the test where it is refused.
func (w *shop) say(model string, f store.SayingFacts) {
	w.t.Helper()
	if f.By == "" {
		f.By = "Bench analyst"
	}
	_, err := score.Say(context.Background(), w.Service, command(), store.NewID(), model, f)
	w.must(err)
}

// TestModelsBesideEachOther: the shorter way is above the longer one where nothing else can turn it, and open where it can;
// places say the same, and weights that are a little off leave more settled than any weights.
func TestModelsBesideEachOther(t *testing.T) {
	w, short, long := twins(t, 2, 14)
	ctx := context.Background()
	schoolOf := func(v score.Against, rubric string) score.Field {
		for _, f := range v.Fields {
			if f.Rubric == rubric {
				return f
			}
		}
		t.Fatalf("no school %s", rubric)
		return score.Field{}
	}
	look := func(within float64) score.Against {
		v, err := score.Compare(ctx, w.Service, short, []string{long}, within)
		w.must(err)
		return v
	}
	v := look(0)
	if len(v.Models) != 2 || v.Models[0].ID != short || len(v.Fields) < 6 {
		t.Fatalf("%d models, %d schools", len(v.Models), len(v.Fields))
	}
	open := schoolOf(v, "physical")
	if open.Pairs[0].Order != "open" || !strings.Contains(strings.Join(open.Says, " "), "open") {
		t.Errorf("most of both is unknown: %+v %v", open.Pairs, open.Says)
	}
	for _, st := range open.Standings {
		if st.Rank[0] > st.Rank[1] || st.RankAny[0] > st.Rank[0] || st.RankAny[1] < st.Rank[1] ||
			!strings.Contains(st.Stamped, "Physical ease (version 1)") {
			t.Errorf("standing %+v", st)
		}
	}
	// The same of everything else is said of both; what differs is the way alone.
	for _, id := range []string{short, long} {
		w.say(id, store.SayingFacts{Fact: "manual", Choice: "none"})
		years := 5.0
		w.say(id, store.SayingFacts{Fact: "updates.years", Number: &years})
	}
	depth := func(r score.Room) float64 { return fact(t, r, "battery.depth").Known.Value.Value.(float64) }
	one, err := score.Show(ctx, w.Service, short, "")
	w.must(err)
	two, err := score.Show(ctx, w.Service, long, "")
	w.must(err)
	if depth(one) >= depth(two) {
		t.Errorf("depth %g and %g", depth(one), depth(two))
	}
	job := func(r score.Room) [2]float64 {
		for _, s := range r.Schools {
			if s.Score.Rubric == "physical" {
				return s.Score.Jobs["battery"]
			}
		}
		return [2]float64{math.NaN(), math.NaN()}
	}
	if a, b := job(one), job(two); a[1] < b[1] || a[0] < b[0] {
		t.Errorf("the battery of the shorter way %v, of the longer %v", a, b)
	}
	if near := look(0.1); len(near.Fields) != len(v.Fields) {
		t.Errorf("%d schools with weights a tenth off", len(near.Fields))
	}
	many := []string{}
	for range 9 {
		many = append(many, store.NewID())
	}
	if _, err := score.Compare(ctx, w.Service, short, many, 0); field(t, err) != "with" {
		t.Errorf("nine others: %v", err)
	}
}

// TestJudgesAndMoney: judges who agree have an alpha of one, judges who do not have less; what an hour leaves follows price,
// part and minutes by hand.
func TestJudgesAndMoney(t *testing.T) {
	w, id, _ := twins(t, 3, 3)
	ctx := context.Background()
	for _, by := range []string{"a", "b", "c"} {
		for unit, v := range map[string]string{"PINE": "expert", "AMBER": "generalist", "ELM": "layman"} {
			w.say(id, store.SayingFacts{Fact: "battery.skill", Choice: v, By: by, Unit: unit})
		}
	}
	r, err := score.Show(ctx, w.Service, id, "")
	w.must(err)
	if a := fact(t, r, "battery.skill").Alpha; a == nil || math.Abs(*a-1) > 1e-9 {
		t.Errorf("three judges of one mind: %v", a)
	}
	w.say(id, store.SayingFacts{Fact: "battery.skill", Choice: "not-feasible", By: "c", Unit: "ELM"})
	r, err = score.Show(ctx, w.Service, id, "")
	w.must(err)
	if a := fact(t, r, "battery.skill").Alpha; a == nil || *a > 0.9 {
		t.Errorf("one of them changed a mind: %v", a)
	}
	if len(r.Hourly) != 0 {
		t.Errorf("an hour without a price: %+v", r.Hourly)
	}
	_, err = parts.Set(
		ctx,
		w.Service,
		command(),
		0,
		store.WorkshopFacts{Currency: "EUR", LabourMinor: 6000, ChargeLimit: 25},
	)
	w.must(err)
	price, part := 7000.0, 2000.0
	w.say(id, store.SayingFacts{Fact: "battery.job-price", Number: &price, Currency: "EUR"})
	w.say(id, store.SayingFacts{Fact: "battery.part-price", Number: &part, Currency: "EUR"})
	r, err = score.Show(ctx, w.Service, id, "")
	w.must(err)
	if len(r.Hourly) != 1 || r.Hourly[0].Job != "battery" || r.Hourly[0].Usual != nil {
		t.Fatalf("odds and damage are not known, so no likeliest figure: %+v", r.Hourly)
	}
	m := fact(t, r, "battery.minutes").Known.Value
	low := m.Value.(float64)
	if m.Low != nil {
		low = *m.Low
	}
	if want := 60 * (price - part) / low; math.Abs(r.Hourly[0].High-want) > 1 {
		t.Errorf("at best %.0f an hour, by hand %.0f", r.Hourly[0].High, want)
	}
	if r.Hourly[0].Low >= r.Hourly[0].High {
		t.Errorf("from %.0f to %.0f", r.Hourly[0].Low, r.Hourly[0].High)
	}
}
