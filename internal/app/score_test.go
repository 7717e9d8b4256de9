package app_test

import (
	"context"
	"encoding/json"
	"math"
	"strings"
	"testing"

	"waryowl/internal/app/handover"
	"waryowl/internal/app/score"
	"waryowl/internal/core/school"
	"waryowl/internal/store"
)

// TestScoreAndHandover: both rooms say what they do not know.
func TestScoreAndHandover(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	r, err := score.Show(ctx, w.Service, w.model, "")
	w.must(err)
	if x := r.Schools[0].Score; x.Range[1]-x.Range[0] < 0.1 || !x.Provisional ||
		!strings.Contains(words(r.Answer), "One test") {
		t.Errorf("nothing is measured, so the score is a range: %v, %s", x.Range, words(r.Answer))
	}
	h, err := handover.Show(ctx, w.Service, w.study)
	w.must(err)
	if len(h.Answer) == 0 {
		t.Error("the handover says nothing")
	}
}

// fact finds one fact of the room.
func fact(t *testing.T, r score.Room, id string) score.Fact {
	t.Helper()
	for _, f := range r.Facts {
		if f.ID == id {
			return f
		}
	}
	t.Fatalf("no fact %s", id)
	return score.Fact{}
}

// TestWhatPeopleSay: a choice narrows, one judge is shown weaker than four, money waits for the workshop's currency, and
// what a plan gives is not typed in.
func TestWhatPeopleSay(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	look := func() score.Room {
		r, err := score.Show(ctx, w.Service, w.model, "")
		w.must(err)
		return r
	}
	say := func(model string, f store.SayingFacts) (store.FactSaying, error) {
		if f.By == "" {
			f.By = "Bench analyst"
		}
		return score.Say(ctx, w.Service, command(), store.NewID(), model, f)
	}
	width := func(r score.Room, rubric string) float64 {
		for _, s := range r.Schools {
			if s.Score.Rubric == rubric {
				return s.Score.Range[1] - s.Score.Range[0]
			}
		}
		return math.NaN()
	}
	before := width(look(), "french-2021")
	years := 6.0
	said, err := say(
		w.model,
		store.SayingFacts{Fact: "documents.years", Number: &years, Evidence: "promise on the box"},
	)
	w.must(err)
	r := look()
	if f := fact(t, r, "documents.years"); f.Words != "6 years" || f.Eye != "open" ||
		width(r, "french-2021") >= before {
		t.Errorf("six years said: %s, %s, width %.2f before, %.2f now", f.Words, f.Eye, before, width(r, "french-2021"))
	}
	_, err = score.Unsay(ctx, w.Service, command(), said.ID, 1)
	w.must(err)
	if f := fact(t, look(), "documents.years"); f.Known.Known {
		t.Error("what was taken back still counts")
	}
	for i, by := range []string{"a", "b", "c", "d"} {
		_, err := say(w.model, store.SayingFacts{Fact: "battery.skill", Choice: "generalist", By: by,
			Unit: []string{"PINE", "AMBER"}[i%2]})
		w.must(err)
		f := fact(t, look(), "battery.skill")
		if want := map[bool]string{true: "open", false: "half"}[i == 3]; f.Eye != want {
			t.Errorf("%d judges: eye %s", i+1, f.Eye)
		}
	}
	part := 1900.0
	_, err = say(w.model, store.SayingFacts{Fact: "battery.part-price", Number: &part, Currency: "SEK"})
	w.must(err)
	rate := 4800.0
	_, err = say("", store.SayingFacts{Fact: "shop.rate", Number: &rate, Currency: "EUR"})
	w.must(err)
	if f := fact(t, look(), "battery.part-price"); f.Known.Known || !strings.Contains(f.Why, "SEK") {
		t.Errorf("a price in another currency counts: %+v", f.Known)
	}
	for name, c := range map[string]struct {
		model string
		f     store.SayingFacts
		field string
	}{
		"a fact that a plan gives": {w.model, store.SayingFacts{Fact: "battery.depth", Number: &years}, "fact"},
		"no such fact":             {w.model, store.SayingFacts{Fact: "battery.colour", Choice: "red"}, "fact"},
		"no such choice":           {w.model, store.SayingFacts{Fact: "manual", Choice: "somewhere"}, "choice"},
		"a number for a choice":    {w.model, store.SayingFacts{Fact: "manual", Choice: "none", Number: &years}, "number"},
		"out of its bounds":        {w.model, store.SayingFacts{Fact: "parts.price-share", Number: &years}, "number"},
		"both ends turned round":   {w.model, store.SayingFacts{Fact: "updates.years", Low: &years, High: new(float64)}, "low"},
		"money of no currency":     {w.model, store.SayingFacts{Fact: "battery.job-price", Number: &rate}, "currency"},
		"the shop's, of a model":   {w.model, store.SayingFacts{Fact: "shop.rate", Number: &rate, Currency: "EUR"}, "fact"},
		"a model's, of the shop":   {"", store.SayingFacts{Fact: "updates.years", Number: &years}, "fact"},
	} {
		if _, err := say(c.model, c.f); field(t, err) != c.field {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// TestWhatMovedAScore: since a kept state the moves of the facts add up to the change of both ends.
func TestWhatMovedAScore(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	_, err := score.Mark(
		ctx,
		w.Service,
		command(),
		store.NewID(),
		w.model,
		store.ScoreMarkFacts{Note: "before the box was read"},
	)
	w.must(err)
	years := 7.0
	for _, f := range []store.SayingFacts{{Fact: "updates.years", Number: &years, By: "a"}, {Fact: "reset", Choice: "no", By: "a"},
		{Fact: "manual", Choice: "public-free", By: "a"}} {
		_, err := score.Say(ctx, w.Service, command(), store.NewID(), w.model, f)
		w.must(err)
	}
	r, err := score.Show(ctx, w.Service, w.model, "")
	w.must(err)
	moved := 0
	for _, m := range r.Moved {
		sum := [2]float64{}
		for _, x := range m.Moves {
			sum[0] += x.Low
			sum[1] += x.High
		}
		for e := range sum {
			if math.Abs(sum[e]-(m.To[e]-m.From[e])) > 1e-9 {
				t.Errorf("%s: the moves add up to %v, the change is %v to %v", m.Rubric, sum, m.From, m.To)
			}
		}
		moved += len(m.Moves)
	}
	if moved == 0 {
		t.Error("nothing moved")
	}
	if _, err := score.Show(ctx, w.Service, w.model, store.NewID()); field(t, err) != "mark" {
		t.Errorf("a state that is not kept: %v", err)
	}
}

// TestRulesOfOnesOwn: a rule is drafted, refused by path, versioned, and published.
func TestRulesOfOnesOwn(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	mine := school.Own()
	mine.ID, mine.Title = "ours", "Our rule"
	text := func(b school.Rubric) store.RubricFacts {
		doc, err := json.Marshal(b)
		w.must(err)
		return store.RubricFacts{Document: string(doc)}
	}
	row, err := score.Draft(ctx, w.Service, command(), store.NewID(), text(mine))
	w.must(err)
	bad := mine
	bad.Criteria = append([]school.Criterion{}, mine.Criteria...)
	bad.ID = "another"
	bad.Criteria[1].Weight = 0
	taken := mine
	taken.ID = "physical"
	for name, c := range map[string]struct{ doc, field string }{
		"no weight":           {text(bad).Document, "document: criteria[1].weight"},
		"a shipped name":      {text(taken).Document, "document: id"},
		"the same name":       {text(mine).Document, "document: id"},
		"no JSON":             {"{", "document"},
		"a word for a number": {`{"id":"x","scale":"ten"}`, "document: scale"},
		"an unknown field":    {`{"id":"x","colour":1}`, "document"},
	} {
		if _, err := score.Draft(ctx, w.Service, command(), store.NewID(), store.RubricFacts{Document: c.doc}); field(
			t,
			err,
		) != c.field {
			t.Errorf("%s: %v", name, err)
		}
	}
	find := func() *score.School {
		r, err := score.Show(ctx, w.Service, w.model, "")
		w.must(err)
		for i, s := range r.Schools {
			if s.Score.Rubric == "ours" {
				return &r.Schools[i]
			}
		}
		return nil
	}
	if s := find(); s == nil || !s.Draft || s.Own != row.ID {
		t.Fatalf("the draft is not shown as one: %+v", s)
	}
	mine.Criteria[0].Weight = 9
	if _, err := score.Redraft(ctx, w.Service, command(), row.ID, 1, text(mine)); field(t, err) != "document: version" {
		t.Errorf("the same version with other weights: %v", err)
	}
	mine.Version = "2"
	_, err = score.Redraft(ctx, w.Service, command(), row.ID, 1, text(mine))
	w.must(err)
	_, err = score.Publish(ctx, w.Service, command(), row.ID, 2, true)
	w.must(err)
	if s := find(); s == nil || s.Draft || s.Score.Stamp.Version != "2" {
		t.Errorf("published: %+v", s)
	}
	sheet, err := handover.Scores(ctx, w.Service, w.model)
	w.must(err)
	if last := sheet[len(sheet)-1]; !strings.Contains(last.Words, "Our rule (version 2): ") ||
		!strings.Contains(last.Words, "as of 20") {
		t.Errorf("on the sheet: %q", last.Words)
	}
	tried, err := score.Try(ctx, w.Service, w.model, text(mine).Document)
	w.must(err)
	if s := find(); tried.Score.Range != s.Score.Range {
		t.Errorf("tried %v, kept %v", tried.Score.Range, s.Score.Range)
	}
	a, err := score.Compare(ctx, w.Service, w.model, nil, 0)
	w.must(err)
	if len(a.Models) != 1 || !strings.Contains(words(a.Answer), "no other model") {
		t.Errorf("alone: %s", words(a.Answer))
	}
	if _, err := score.Compare(ctx, w.Service, w.model, []string{store.NewID()}, 0.3); field(t, err) != "with" {
		t.Errorf("a model that is not: %v", err)
	}
}
