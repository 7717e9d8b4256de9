package diagnose

import (
	"encoding/json"
	"math"
	"testing"
)

// FuzzRun: whatever comes in, it is refused or answered with probabilities; it never falls over.
func FuzzRun(f *testing.F) {
	for _, seed := range []string{
		`{"checks":["c"],"noise":{"false_loss":0.03,"false_pass":0.02},"prior":{"default":0.1},"trials":[
		{"id":"t1","state":{"a":"stranger","b":"off"},"split":[["a","b"]],"results":{"c":"lost"}}],"candidates":[{"id":"k","state":{"a":"stranger"},"minutes":3}],"budget_minutes":9}`,
		`{"checks":["c","d"],"noise":{},"prior":{"default":0.5,"atoms":{"x":{"c":0}}},"trials":[
		{"id":"t1","atoms":["x","y"],"results":{"c":"lost","d":"weak"}},
		{"id":"t2","atoms":["y"],"results":{"c":"pass","d":"dark"}},{"id":"t3","atoms":["x"],"results":{"c":"lost"}}],"weak":"pass"}`,
		`{"checks":["c"],"noise":{"false_loss":0.5,"false_pass":0.6},"prior":{"default":1},"trials":[]}`,
	} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, text string) {
		var in Input
		if json.Unmarshal([]byte(text), &in) != nil || len(in.Trials) > 30 || len(in.Candidates) > 30 ||
			len(in.Checks) > 5 {
			return
		}
		out, err := Run(in)
		if err != nil {
			return
		}
		for name, c := range out.Checks {
			for a, p := range c.Marginal {
				if !(p >= 0 && p <= 1+1e-9) {
					t.Errorf("%s: %s has %g", name, a, p)
				}
			}
			if c.Consistent && !(*c.Bits >= 0) {
				t.Errorf("%s: %g bits", name, *c.Bits)
			}
		}
		for _, n := range out.Next {
			if math.IsNaN(n.Bits) || n.Bits < 0 {
				t.Errorf("%s tells %g bits", n.ID, n.Bits)
			}
		}
	})
}
