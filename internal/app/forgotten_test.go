package app_test

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"waryowl/internal/app/closeup"
)

// TestNothingTakenOffIsForgottenInTheLog: over random lines of every act that takes something off, with every way in which
// it can end, the closing room keeps open exactly what left the phone and did not come back.
func TestNothingTakenOffIsForgottenInTheLog(t *testing.T) {
	acts := []struct{ line, back string }{{"l %s", "+ l %s"}, {"pried the %s", "+ p %s"}, {"x %s", "+ x %s"},
		{"s %s", "+ s %s"}}
	ends := []struct {
		words string
		off   bool
	}{{"", true}, {" off", true}, {" loose", false}, {" gave up", false}, {" not tried", false}}
	names := []string{"earpiece mesh", "light pipe", "gasket ring", "rubber bung", "dust grille"}
	r := rand.New(rand.NewPCG(7, 32))
	for run := range 6 {
		w := newShop(t)
		var out, said []string
		for range 12 {
			name := names[r.IntN(len(names))]
			act := acts[r.IntN(len(acts))]
			if slices.Contains(out, name) {
				continue
			}
			end := ends[r.IntN(len(ends))]
			if act.line == "l %s" && end.words == " loose" { // what is lifted out is out
				end = ends[0]
			}
			line := strings.TrimSpace(fmt.Sprintf(act.line, name) + end.words)
			said = append(said, line)
			w.typed(w.pine, line)
			if !end.off {
				continue
			}
			out = append(out, name)
			if r.IntN(2) == 0 {
				said = append(said, fmt.Sprintf(act.back, name))
				w.typed(w.pine, said[len(said)-1])
				out = out[:len(out)-1]
			}
		}
		room, err := closeup.Show(context.Background(), w.Service, w.study, false)
		w.must(err)
		var open []string
		for _, v := range room.Closings {
			for _, i := range v.Open {
				open = append(open, i.Name)
			}
			if v.May && len(v.Open) > 0 {
				t.Errorf("run %d: it may be closed with something open", run)
			}
		}
		slices.Sort(open)
		slices.Sort(out)
		if !slices.Equal(open, out) {
			t.Fatalf("run %d, after %s:\n  open %v\n  left %v", run, strings.Join(said, "; "), open, out)
		}
	}
}
