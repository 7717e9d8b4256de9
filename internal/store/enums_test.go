package store

import (
	"reflect"
	"slices"
	"strings"
	"testing"

	"waryowl/internal/core/trade"
)

// TestEnumsAreTheTradesLists: a tag cannot be computed, so it is compared with the list that it repeats.
func TestEnumsAreTheTradesLists(t *testing.T) {
	for _, c := range []struct {
		of    any
		field string
		want  []string
	}{
		{StepFacts{}, "Verb", trade.StepVerbs()},
		{StepFacts{}, "Joint", trade.JointIDs()},
		{StepFacts{}, "Drive", trade.DriveIDs()},
		{PartFacts{}, "Family", trade.FamilyCodes()},
	} {
		f, ok := reflect.TypeOf(c.of).FieldByName(c.field)
		if got := strings.Split(f.Tag.Get("enum"), ","); !ok || !slices.Equal(got, c.want) {
			t.Errorf("%T.%s: %q, want %q", c.of, c.field, got, c.want)
		}
	}
	for f := range trade.Families {
		if !slices.Contains(trade.FamilyCodes(), f) {
			t.Errorf("family %s has no place in the order of the families", f)
		}
	}
}
