package app_test

import (
	"context"
	"fmt"
	"strings"
	"testing"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/find"
	"waryowl/internal/app/first"
	"waryowl/internal/app/intake"
	"waryowl/internal/app/model"
	"waryowl/internal/app/parts"
	"waryowl/internal/app/strip"
	"waryowl/internal/core/answer"
	"waryowl/internal/store"
)

func sentence(s answer.Sentence) string {
	text := ""
	for _, f := range s {
		if text += f.Text; f.Fact != nil {
			text += f.Fact.Name
			if f.Fact.Value != nil {
				text += fmt.Sprintf("%.0f %s", *f.Fact.Value, f.Fact.Unit)
			}
		}
	}
	return text
}

// TestTheFirstPage walks a study from nothing: each time the page says the one thing that its study waits for.
func TestTheFirstPage(t *testing.T) {
	ctx, s := context.Background(), service(t)
	analyst := act.Actor{ID: store.NewID(), Role: act.Analyst}
	show := func(who act.Actor) first.Room {
		t.Helper()
		v, err := first.Show(ctx, s, who)
		if err != nil {
			t.Fatal(err)
		}
		return v
	}
	if err := model.EnsureCatalogue(ctx, s); err != nil {
		t.Fatal(err)
	}
	v := show(act.Actor{Role: act.Administrator})
	if !v.Empty || len(v.Begin) != 3 || !v.Begin[2].Mine || v.Begin[0].Done {
		t.Errorf("an empty store: %+v", v.Begin)
	}
	if said := sentence(v.Answer); !strings.HasPrefix(said,
		"Nothing is on record yet. Begin here: Say who works here") {
		t.Error(said)
	}
	m, err := intake.AddModel(ctx, s, command(), "", store.ModelFacts{Maker: "Pellow", Name: "Drift 9", Entry: "front"})
	if err != nil {
		t.Fatal(err)
	}
	st, err := intake.AddStudy(ctx, s, command(), "", m.ID, store.StudyFacts{Title: "first pair"})
	if err != nil {
		t.Fatal(err)
	}
	waits := func(title, path string) {
		t.Helper()
		v := show(analyst)
		if len(v.Next) != 1 || v.Next[0].Title != title || v.Next[0].Path != "/studies/"+st.ID+path ||
			!strings.Contains(sentence(v.Answer), "Drift 9 waits for ") {
			t.Errorf("want %q at %s: %+v, %s", title, path, v.Next, sentence(v.Answer))
		}
	}
	waits("Drift 9: record the first phone", "/intake")
	unit, err := intake.AddUnit(ctx, s, command(), st.ID, "", store.UnitFacts{Name: "PINE", Colour: "green",
		Shape: "circle"})
	if err != nil {
		t.Fatal(err)
	}
	checks, err := model.ChecksFor(s.DB, m)
	if err != nil {
		t.Fatal(err)
	}
	waits(fmt.Sprintf("Drift 9: check PINE before it is opened, %d left", len(checks)), "/intake")
	for _, c := range checks {
		if _, err := intake.SetBaseline(ctx, s, command(), unit.ID, c.Mark, 0, "pass", false); err != nil {
			t.Fatal(err)
		}
	}
	waits("Drift 9: record a second phone", "/intake")
	p, err := strip.AddPart(ctx, s, command(), m.ID, "", store.PartFacts{Name: "battery", Family: "PW",
		Kind: "battery"})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := strip.AddLog(ctx, s, command(), st.ID, "", strip.LogFacts{UnitID: unit.ID, Seconds: 40,
		Step: &store.StepFacts{Verb: "lift", What: "battery", Side: "front", Frees: []string{p.ID}}}); err != nil {
		t.Fatal(err)
	}
	waits("Drift 9: close PINE", "/closeup")
	v = show(analyst)
	line := v.Models[0]
	if line.Jobs[0].Minutes == 0 || line.Jobs[0].Estimate || line.Jobs[1].Minutes != 0 || line.Parts != 1 ||
		line.Missing != "way in of 4 of 5 jobs" || len(line.Scores) != 3 {
		t.Errorf("the model: %+v", line)
	}
	if again := show(analyst); fmt.Sprint(again.Models) != fmt.Sprint(v.Models) {
		t.Errorf("what is kept reads otherwise: %+v", again.Models)
	}
	// What a part is called is found by kind: the model before its part where only the model is named.
	for query, kinds := range map[string]string{"drift 9": "model part study phone", "drift 9 battery": "part",
		"pine": "phone", "first pair": "study", "nothing of it": ""} {
		f, err := find.Search(ctx, s, query)
		if err != nil {
			t.Fatal(err)
		}
		var got []string
		for _, g := range f.Groups {
			got = append(got, g.Kind)
		}
		if query == "drift 9" { // phones and studies name their model too
			got = got[:2]
			kinds = "model part"
		}
		if strings.Join(got, " ") != kinds || f.Query != query {
			t.Errorf("%q: %v", query, got)
		}
	}
}

// TestTheFirstPageOfOthers: late jobs for who repairs, what runs out and what is old for who buys.
func TestTheFirstPageOfOthers(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	w.must(model.EnsureCatalogue(ctx, w.Service))
	now := w.Now()
	day := func(n int) *time.Time { d := now.AddDate(0, 0, n).Truncate(24 * time.Hour); return &d }
	_, err := parts.Add(ctx, w.Service, command(), &store.Work{}, store.WorkFacts{ModelID: w.model, Job: "battery",
		Status: "promised", AskedOn: *day(-9), PromisedOn: day(-1)})
	w.must(err)
	v, err := first.Show(ctx, w.Service, act.Actor{Role: act.Technician})
	w.must(err)
	if len(v.Next) != 1 || !v.Next[0].Look || !strings.Contains(v.Next[0].Title, "Battery job") {
		t.Errorf("a job that is late: %+v", v.Next)
	}
	seller, err := parts.Add(ctx, w.Service, command(), &store.Seller{}, store.SellerFacts{Name: "North Quay",
		Currency: "EUR"})
	w.must(err)
	_, err = parts.Add(ctx, w.Service, command(), &store.Offer{}, store.OfferFacts{SellerID: seller.ID,
		ModelID: w.model, Title: "battery", Covers: map[string]int{"battery": 1}, Grade: "original", Price: 1500,
		Currency: "EUR", PricedOn: *day(-40), Stock: 3})
	w.must(err)
	v, err = first.Show(ctx, w.Service, act.Actor{Role: act.Buyer})
	w.must(err)
	if len(v.Old) != 1 || v.Old[0].Offers != 1 || len(v.Stock) != 1 || v.Stock[0].Owed != 1 ||
		!strings.Contains(v.Stock[0].Why, "1 job without a piece") || !v.Next[0].Look {
		t.Errorf("a buyer: %+v %+v %+v", v.Stock, v.Old, v.Next)
	}
	v, err = first.Show(ctx, w.Service, act.Actor{Role: act.Administrator})
	w.must(err)
	if v.Office == nil || v.Office.FreeGB != -1 || v.Office.Failures != 0 {
		t.Errorf("the office: %+v", v.Office)
	}
	w.Service.Failed()
	w.Service.House = func() act.House { return act.House{Backups: true, FreeGB: 1} }
	v, err = first.Show(ctx, w.Service, act.Actor{Role: act.Administrator})
	w.must(err)
	if v.Office.Failures != 1 || len(v.Next) != 3 {
		t.Errorf("an unlucky office: %+v %+v", v.Office, v.Next)
	}
}

func TestSharesOfFewTriesAreNotSaid(t *testing.T) {
	for tries, want := range map[int]string{2: "the display got damaged in 1 of 2 by heat, too few to say",
		5: "the display got damaged in 1 of 5 by heat"} {
		if got := model.Damaged(model.Odds{Part: "display", K: 1, N: tries, Method: "heat"}); got != want {
			t.Errorf("%d tries: %s", tries, got)
		}
	}
}
