package hazard

import (
	"slices"
	"strings"
	"testing"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/trade"
)

// TestForShowsTheUsualCautions: the usual cautions of the trade at the steps where they apply (common practice, no
// source).
func TestForShowsTheUsualCautions(t *testing.T) {
	for name, c := range map[string]struct {
		step plan.Step
		want []string
	}{
		"a plain screw":         {plan.Step{Verb: "unfasten", Joint: "screw", What: "two rim screws"}, nil},
		"the battery connector": {plan.Step{Verb: "disconnect", What: "battery connector"}, []string{"short"}},
		"another connector":     {plan.Step{Verb: "disconnect", What: "display lead"}, nil},
		"pull tabs": {plan.Step{Verb: "cut", Joint: "pull tab", What: "battery pull tabs"},
			[]string{"cell", "shards"}},
		"the cell comes out": {plan.Step{Verb: "lift", What: "it", Frees: []string{"battery"}},
			[]string{"cell"}},
		"heat at the rim":  {plan.Step{Verb: "heat", What: "front rim at 80 °C"}, []string{"hot"}},
		"heat at the cell": {plan.Step{Verb: "heat", What: "battery from below"}, []string{"cell", "hot"}},
		"solvent":          {plan.Step{Verb: "solvent", What: "seam"}, []string{"vapour"}},
		"a pick in the gap": {plan.Step{Verb: "cut", Tool: "plastic pick", What: "rear rim adhesive"},
			[]string{"shards"}},
		"prying a part": {plan.Step{Verb: "pry", What: "charge port"}, []string{"shards"}},
		"desoldering": {plan.Step{Verb: "lift", Joint: "solder", What: "driver chip"},
			[]string{"fumes"}},
		"the board, whatever it is called": {plan.Step{Verb: "lift", What: "it", Frees: []string{"main board"}},
			[]string{"static"}},
	} {
		var got []string
		for _, k := range For(c.step, func(part string) string { k, _ := trade.KindOf(part); return k }) {
			got = append(got, k.ID)
			if k.Text == "" || k.Do == "" || k.Certainty == "" {
				t.Errorf("%s: %s does not say what to do, or where it comes from", name, k.ID)
			}
		}
		if slices.Sort(got); !slices.Equal(got, c.want) {
			t.Errorf("%s: got %v, want %v", name, got, c.want)
		}
	}
	if !strings.Contains(Notice, "local") && !strings.Contains(Notice, "Local law") {
		t.Error("the notice does not defer to local law")
	}
}
