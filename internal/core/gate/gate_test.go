package gate

import (
	"encoding/json"
	"errors"
	"math"
	"slices"
	"strings"
	"testing"

	"waryowl/internal/core/fault"
)

func read[T any](t *testing.T, text string) (v T) {
	t.Helper()
	d := json.NewDecoder(strings.NewReader(text))
	d.DisallowUnknownFields()
	if err := d.Decode(&v); err != nil {
		t.Fatal(err)
	}
	return v
}

const job = `{"today":"2026-11-26","bench_day":"2026-11-27","needs":[{"item":"adhesive strip","kind":"consumable","quantity":1,"free":0,"lead_days":[2,4]}],
	"verdict":"works","eye":"open","build":"4.1.2","losses":[],"price":8900,"parts_cost":2600,"attended_seconds":2280,"labour_per_hour":3600,
	"hurts":[{"part":"display","p":0.0714,"cost":11500}],"min_margin":1500,"max_days":21}`

// TestAccept: the example of the contract, and what every fact makes of it.
func TestAccept(t *testing.T) {
	out, err := Accept(read[Job](t, job))
	codes := func(list []Reason) (c []string) {
		for _, r := range list {
			c = append(c, r.Code)
		}
		return c
	}
	if err != nil || out.Answer != "take_later" || out.Promise != "2026-11-30" || out.Likely != "2026-11-28" || out.PromiseP != 0.9 ||
		math.Abs(out.Margin-3198.9) > 1e-6 ||
		math.Abs(out.MarginIfHurt+7480) > 1e-6 ||
		math.Abs(out.PHurt-0.0714) > 1e-9 ||
		!slices.Equal(codes(out.Reasons), []string{"missing_consumable", "bench_full"}) {
		t.Errorf("%+v, %v", out, err)
	}
	for name, c := range map[string]struct {
		change func(*Job)
		answer string
		code   string
	}{
		"all there":         {func(j *Job) { j.Needs[0].Free, j.BenchDay = 1, "" }, "take", ""},
		"a month away":      {func(j *Job) { j.Needs[0].LeadDays = []float64{20, 30} }, "refuse", "missing_consumable"},
		"not to be had":     {func(j *Job) { j.Needs[0].LeadDays = nil }, "refuse", "not_to_be_had"},
		"half proven":       {func(j *Job) { j.Eye = "half" }, "ask", "evidence"},
		"two losses":        {func(j *Job) { j.Verdict, j.Losses = "loses", []string{"touch", "flash"} }, "ask", "loses"},
		"untested":          {func(j *Job) { j.Verdict = "untested" }, "ask", "untested"},
		"does not seat":     {func(j *Job) { j.Verdict = "does_not_seat" }, "refuse", "does_not_seat"},
		"it does not pay":   {func(j *Job) { j.Price = 5000 }, "refuse", "margin"},
		"a notice is shown": {func(j *Job) { j.Verdict, j.BenchDay, j.Needs[0].Free = "notice", "", 1 }, "take", "notice"},
	} {
		j := read[Job](t, job)
		c.change(&j)
		out, err := Accept(j)
		if err != nil || out.Answer != c.answer || c.code != "" && out.Reasons[0].Code != c.code ||
			(c.answer == "refuse") != (out.Promise == "") {
			t.Errorf("%s: %+v, %v", name, out, err)
		}
	}
}

// TestInspect: the example of the contract, and the curve of a quality-control textbook's plan of 89 pieces with 2 bad ones
// allowed (from memory, reproduced to four places).
func TestInspect(t *testing.T) {
	out, err := Inspect(
		read[Delivery](
			t,
			`{"size":200,"aql":0.02,"ltpd":0.1,"producer_risk":0.05,"consumer_risk":0.1,"k":4,"n":30,"prior_rate":0.12,
		"prior_weight":20,"price":9000,"refund":0,"rebuy_cost":300,"next_best":10200,"rates":[0.01,0.05]}`,
		),
	)
	near := func(a, b, by float64) bool { return math.Abs(a-b) < by }
	if err != nil || out.Sample != 48 || out.Accept != 2 || !near(out.PassAQL, 0.9563, 1e-4) || !near(out.PassLTPD, 0.0964, 1e-4) ||
		!near(out.Rate, 0.128, 1e-9) || !near(out.Interval[0], 0.0515, 1e-4) || !near(out.Interval[1], 0.2325, 1e-4) ||
		!near(out.Limit, 0.1143, 1e-4) || !near(out.POverLimit, 0.576, 1e-3) ||
		out.StopBuying ||
		len(out.Curve) != 2 {
		t.Errorf("%+v, %v", out, err)
	}
	for p, want := range map[float64]float64{0.005: 0.9897, 0.01: 0.9397, 0.02: 0.7366, 0.03: 0.4985, 0.04: 0.3042,
		0.05: 0.1721, 0.06: 0.0919} {
		if got := passes(0, 89, 2, p); !near(got, want, 5e-5) {
			t.Errorf("89, 2 at %v: %v, want %v", p, got, want)
		}
	}
	if n, c, whole := (Delivery{AQL: 0.01, LTPD: 0.06}).plan(0.05, 0.10); n != 110 || c != 3 || whole {
		t.Errorf("AQL 1 %%, LTPD 6 %%: %d, %d", n, c)
	}
	if out, _ := Inspect(Delivery{Size: 10, AQL: 0.01, LTPD: 0.04}); !out.WholeLot {
		t.Errorf("ten pieces: %+v, want every one tested", out)
	}
	// a lot by counting: 3 bad of 12, 4 drawn, at most 1 bad: (C(9,4) + 3·C(9,3)) / C(12,4)
	if got := passes(12, 4, 1, 0.25); !near(got, (126.+3*84)/495, 1e-12) {
		t.Errorf("by counting: %v", got)
	}
	out, _ = Inspect(Delivery{AQL: 0.01, LTPD: 0.1, Refund: 1, Price: 100, NextBest: 120})
	if out.Limit != 1 {
		t.Errorf("all comes back: limit %v", out.Limit)
	}
}

// TestForDonor: the example of the contract, and one with a shared way, which is paid once.
func TestForDonor(t *testing.T) {
	text := `{"parts":[{"part":"board","value":14000,"good":0.7,"survival":0.97,"seconds":1500,"needs_unlocked":true},
		{"part":"battery","value":1800,"good":0.6,"survival":0.95,"seconds":420},{"part":"camera","value":5200,"good":0.9,"survival":0.98,"seconds":300},
		{"part":"port","value":900,"good":0.85,"survival":0.97,"seconds":900}],"lock":"unknown","p_unlocked":0.6,"rate":0.9,"fixed":900,"margin":0.2}`
	out, err := ForDonor(read[Donor](t, text))
	if err != nil || out.Bid != 6734 || math.Abs(out.Worth["board"]-5703.6) > 1e-6 ||
		!slices.Equal(out.Leave, []string{"port"}) ||
		out.Seconds != 2220 {
		t.Errorf("%+v, %v", out, err)
	}
	in := read[Donor](t, text)
	in.Lock = "locked"
	if out, _ := ForDonor(in); out.Worth["board"] != 0 || out.Worth["camera"] == 0 {
		t.Errorf("a locked donor: %+v", out)
	}
	shared, err := ForDonor(read[Donor](t, `{"parts":[{"part":"a","value":100},{"part":"b","value":100}],"lock":"free","rate":1,
		"steps":[{"id":"open","seconds":90},{"id":"a","seconds":20,"after":[["open"]],"frees":["a"]},{"id":"b","seconds":20,"after":[["open"]],"frees":["b"]}]}`))
	if err != nil || shared.Net != 70 || len(shared.Take) != 2 || shared.Bid != 56 {
		t.Errorf("a shared way: %+v, %v", shared, err)
	}
}

func TestBadInput(t *testing.T) {
	one := 1
	for want, run := range map[string]func() error{
		"today":   func() error { j := read[Job](t, job); j.Today = "26.11.2026"; _, err := Accept(j); return err },
		"verdict": func() error { j := read[Job](t, job); j.Verdict = "fine"; _, err := Accept(j); return err },
		"eye":     func() error { j := read[Job](t, job); j.Eye = "wide"; _, err := Accept(j); return err },
		"needs[0].lead_days": func() error {
			j := read[Job](t, job)
			j.Needs[0].LeadDays = []float64{5, 4}
			_, err := Accept(j)
			return err
		},
		"needs[0].quantity": func() error {
			j := read[Job](t, job)
			q := 0
			j.Needs[0].Quantity = &q
			_, err := Accept(j)
			return err
		},
		"hurts[0].p": func() error { j := read[Job](t, job); j.Hurts[0].P = 1; _, err := Accept(j); return err },
		"aql":        func() error { _, err := Inspect(Delivery{AQL: 0.2, LTPD: 0.1}); return err },
		"k":          func() error { _, err := Inspect(Delivery{AQL: 0.01, LTPD: 0.1, K: 3, N: 2}); return err },
		"accept": func() error {
			_, err := Inspect(Delivery{AQL: 0.01, LTPD: 0.1, Sample: &one, Accept: &one})
			return err
		},
		"refund": func() error { _, err := Inspect(Delivery{AQL: 0.01, LTPD: 0.1, Refund: 2}); return err },
		"size":   func() error { _, err := Inspect(Delivery{AQL: 0.01, LTPD: 0.1, Size: 2_000_000}); return err },
		"lock":   func() error { _, err := ForDonor(Donor{Parts: []Salvage{{Part: "a"}}, Lock: "x"}); return err },
		"parts":  func() error { _, err := ForDonor(Donor{Lock: "free"}); return err },
	} {
		var f *fault.Fault
		if err := run(); !errors.As(err, &f) || f.Field != want {
			t.Errorf("%s: %v", want, err)
		}
	}
}
