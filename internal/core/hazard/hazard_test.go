package hazard

import (
	"slices"
	"strings"
	"testing"
)

// TestForShowsTheUsualCautions: the usual cautions of the trade at the steps where they apply (common practice, no
// source).
func TestForShowsTheUsualCautions(t *testing.T) {
	for name, c := range map[string]struct {
		step Step
		want []string
	}{
		"a plain screw":         {Step{Verb: "unfasten", Joint: "screw", What: "two rim screws"}, nil},
		"the battery connector": {Step{Verb: "disconnect", What: "battery connector"}, []string{"short"}},
		"another connector":     {Step{Verb: "disconnect", What: "display lead"}, nil},
		"pull tabs": {Step{Verb: "cut", Joint: "pull tab", What: "battery pull tabs"},
			[]string{"cell", "shards"}},
		"the cell comes out": {Step{Verb: "lift", What: "it", Frees: []string{"battery"}},
			[]string{"cell"}},
		"heat at the rim":  {Step{Verb: "heat", What: "front rim at 80 °C"}, []string{"hot"}},
		"heat at the cell": {Step{Verb: "heat", What: "battery from below"}, []string{"cell", "hot"}},
		"solvent":          {Step{Verb: "solvent", What: "seam"}, []string{"vapour"}},
		"a pick in the gap": {Step{Verb: "cut", Tool: "plastic pick", What: "rear rim adhesive"},
			[]string{"shards"}},
		"prying a part": {Step{Verb: "pry", What: "charge port"}, []string{"shards"}},
		"desoldering": {Step{Verb: "lift", Joint: "solder", What: "driver chip"},
			[]string{"fumes"}},
		"the board, whatever it is called": {Step{Verb: "lift", What: "it", Frees: []string{"main board"}},
			[]string{"static"}},
	} {
		var got []string
		for _, k := range For(c.step) {
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
