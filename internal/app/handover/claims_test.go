package handover

import (
	"strings"
	"testing"

	"waryowl/internal/app/model"
	"waryowl/internal/app/study"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// TestClaimsThatTheEvidenceCarries: what was timed throughout and confirmed may be said; all else is struck out, with why.
func TestClaimsThatTheEvidenceCarries(t *testing.T) {
	steps := []model.WayStep{{Verb: "lift"}, {Verb: "lift"}}
	h := Sheet{Build: "4.1", Ways: []model.Way{
		{Part: "battery", ClosedMinutes: 37, Steps: steps, Measured: 2},
		{Part: "port", ClosedMinutes: 40, Steps: steps, Measured: 1},
		{Part: "screen", ClosedMinutes: 35, Steps: steps, Measured: 2, Once: true}},
		Questions: []study.Question{
			{Hypothesis: store.Hypothesis{Text: "A measured thing", Source: "measured", State: "confirmed"}},
			{Hypothesis: store.Hypothesis{Text: "A rumour", Source: "rumour", State: "confirmed"}},
			{
				Hypothesis: store.Hypothesis{Text: "A rumour that was settled", Source: "rumour", State: "confirmed"},
				Settled:    true,
			},
			{Hypothesis: store.Hypothesis{Text: "An open thing", Source: "interested party", State: "open"}},
			{Hypothesis: store.Hypothesis{Text: "A refuted thing", Source: "measured", State: "refuted"}}}}
	h.claims(&study.Record{}, study.Reading{})
	for text, want := range map[string]struct {
		may bool
		why string
	}{
		"The battery takes 37 min: opened, exchanged, closed and checked.": {true, "every step was timed"},
		"The port takes 40 min: opened, exchanged, closed and checked.":    {false, "1 of 2 steps were never timed"},
		"The screen takes 35 min: opened, exchanged, closed and checked.":  {false, "one phone alone"},
		"A measured thing":          {true, "confirmed"},
		"A rumour":                  {false, "confirmed"},
		"A rumour that was settled": {true, "confirmed"},
		"An open thing":             {false, "not tested: interested party"},
		"A refuted thing":           {false, "refuted"},
	} {
		found := false
		for _, c := range h.Claims {
			if c.Text == text {
				found = true
				if c.May != want.may || !strings.Contains(c.Why, want.why) {
					t.Errorf("%s: may %v, %s", text, c.May, c.Why)
				}
			}
		}
		if !found {
			t.Errorf("%s is not among the claims", text)
		}
	}
	for i := 1; i < len(h.Claims); i++ {
		if h.Claims[i].May && !h.Claims[i-1].May {
			t.Error("a claim that holds stands behind one that does not")
		}
	}
}

// TestWhoseAPieceIs: a piece is named by where it comes from; a verdict names what it lacks, three things at most.
func TestWhoseAPieceIs(t *testing.T) {
	for state, want := range map[string]string{"stranger": "Another phone's battery",
		"copy@acme-7":     "The copy acme-7 of the battery",
		"foreign@Drift 3": "The battery of a Drift 3", "adopted": "Another phone's battery, paired,",
		"unknown": "A piece of unknown origin for the battery"} {
		if got := whose("battery", state); got != want {
			t.Errorf("%s: %q", state, got)
		}
	}
	for in, want := range map[string]string{"Touch": "touch", "LTE signal": "LTE signal", "": "", "a": "a"} {
		if got := lower(in); got != want {
			t.Errorf("%q: %q", in, got)
		}
	}
	v := ledger.Verdict{Eye: ledger.Half, Missing: []ledger.Missing{{Text: "a"}, {Text: "b"}, {Text: "c"}, {Text: "d"}}}
	if got := why(v); got != "lacks a; b; c" {
		t.Errorf("%q", got)
	}
	if got := why(ledger.Verdict{Eye: ledger.Half}); got != "not proven" {
		t.Errorf("%q", got)
	}
}

// TestInterestsAreSaid: what was not declared is said not to be.
func TestInterestsAreSaid(t *testing.T) {
	for name, c := range map[string]struct {
		i    store.Interests
		want []string
	}{
		"nothing said": {store.Interests{}, []string{"was not declared", "was not declared"}},
		"both":         {store.Interests{SellsParts: "yes", GivenPhone: "yes"}, []string{"sells parts or repairs", "given or lent"}},
		"neither": {store.Interests{SellsParts: "no", GivenPhone: "no", Note: "more"}, []string{"neither parts",
			"neither given", "more"}},
	} {
		got := interests(&study.Record{Study: store.Study{StudyFacts: store.StudyFacts{Interests: c.i}}})
		if len(got) != len(c.want) {
			t.Errorf("%s: %q", name, got)
			continue
		}
		for i, w := range c.want {
			if !strings.Contains(got[i], w) {
				t.Errorf("%s: %q lacks %q", name, got[i], w)
			}
		}
	}
}
