package exchange_test

import (
	"context"
	"fmt"
	"strings"
	"sync"
	"sync/atomic"
	"testing"

	"waryowl/internal/app/act"
	"waryowl/internal/app/intake"
	"waryowl/internal/exchange"
	"waryowl/internal/store"
)

// TestWhatIsRefusedLeavesNoRow: imports of one model and of different ones, tables and merges, two at a time and all at
// once. What was refused has no row in any table and no line in the trail; what was taken is there whole, once.
func TestWhatIsRefusedLeavesNoRow(t *testing.T) {
	ctx := context.Background()
	s, models := world(t)
	text := document(t, s, models["Atoll 2"])
	const pairs = 200
	host := models["Drift 4"]
	var taken, refused, odd atomic.Int64
	var wait sync.WaitGroup
	var odds sync.Map
	note := func(err error, may ...string) {
		if err == nil {
			taken.Add(1)
			return
		}
		refused.Add(1)
		for _, m := range may {
			if strings.Contains(err.Error(), m) {
				return
			}
		}
		odd.Add(1)
		odds.Store(err.Error(), true)
	}
	slots := make(chan struct{}, 6)
	both := func(a, b func()) {
		for _, f := range []func(){a, b} {
			wait.Go(func() {
				slots <- struct{}{}
				defer func() { <-slots }()
				f()
			})
		}
	}
	for k := range pairs {
		put := func(name string) func() {
			return func() {
				_, err := exchange.Import(ctx, s, command(), []byte(text), name)
				note(err, "a name that is not on record")
			}
		}
		table := func(lines string) func() {
			return func() {
				_, err := exchange.Put(ctx, s, command(), host, "parts", []byte("name,family,layer\n"+lines), nil)
				note(err, "somebody changed this", "a file without errors")
			}
		}
		switch k % 4 {
		case 0: // one model, twice
			both(put(fmt.Sprintf("Twice %d", k)), put(fmt.Sprintf("Twice %d", k)))
		case 1:
			both(put(fmt.Sprintf("Left %d", k)), put(fmt.Sprintf("Right %d", k)))
		case 2: // the same parts changed by two, one of them with a line that cannot be taken
			both(table(fmt.Sprintf("crowd a,FR,%d\ncrowd b,FR,%d\n", k%9, k%7)),
				table(fmt.Sprintf("crowd b,FR,%d\ncrowd a,FR,99999\n", k%5)))
		default:
			merge := func() {
				p := store.Part{ModelID: host, PartFacts: store.PartFacts{Name: fmt.Sprintf("spare %d", k), Family: "FR"}}
				q := store.Part{ModelID: host, PartFacts: store.PartFacts{Name: fmt.Sprintf("double %d", k), Family: "FR"}}
				_, err := act.Do(ctx, s, command(), 201, func(tx *store.Tx) (bool, error) {
					if err := store.Create(tx, &p); err != nil {
						return false, err
					}
					return true, store.Create(tx, &q)
				})
				note(err)
				if err == nil {
					_, err = intake.MergeParts(ctx, s, command(), store.NewID(), p.ID, q.ID)
					note(err, "somebody changed this")
				}
			}
			both(merge, put(fmt.Sprintf("Beside %d", k)))
		}
	}
	wait.Wait()
	odds.Range(func(err, _ any) bool {
		t.Errorf("refused for another reason: %v", err)
		return true
	})
	t.Logf("%d pairs: %d taken, %d refused", pairs, taken.Load(), refused.Load())
	if taken.Load() == 0 || refused.Load() == 0 {
		t.Error("all went one way: nothing met")
	}
	whole(t, s)
	var twice, names int64
	s.DB.Raw("SELECT COUNT(*) FROM (SELECT name FROM models WHERE name LIKE 'Twice %' GROUP BY name HAVING COUNT(*) <> 1) x").Scan(&twice)
	s.DB.Raw("SELECT COUNT(DISTINCT name) FROM models WHERE name LIKE 'Twice %'").Scan(&names)
	if twice != 0 || names != int64(pairs/4) {
		t.Errorf("%d names stand more than once, %d of %d are there", twice, names, pairs/4)
	}
}

// whole says that every row of a model has its model and every line of the trail its row, and the other way round.
func whole(t *testing.T, s *act.Service) {
	t.Helper()
	var tables []struct{ Name, Entity, Owner, Of string }
	for _, e := range []struct{ name, entity, owner, of string }{
		{"parts", "Part", "model_id", "models"}, {"plan_steps", "PlanStep", "model_id", "models"},
		{"studies", "Study", "model_id", "models"}, {"outcomes", "Outcome", "model_id", "models"},
		{"lots", "Lot", "model_id", "models"}, {"fact_sayings", "FactSaying", "model_id", "models"},
		{"units", "Unit", "study_id", "studies"}, {"log_entries", "LogEntry", "study_id", "studies"},
		{"trials", "Trial", "study_id", "studies"}, {"swap_acts", "SwapAct", "study_id", "studies"},
		{"closings", "Closing", "unit_id", "units"}, {"baselines", "Baseline", "unit_id", "units"},
		{"models", "Model", "", ""}, {"merges", "Merge", "model_id", "models"},
	} {
		tables = append(tables, struct{ Name, Entity, Owner, Of string }{e.name, e.entity, e.owner, e.of})
	}
	for _, e := range tables {
		var n, orphans, unseen, unmade int64
		s.DB.Raw("SELECT COUNT(*) FROM " + e.Name).Scan(&n)
		if e.Owner != "" {
			q := "SELECT COUNT(*) FROM " + e.Name + " c WHERE c." + e.Owner + " <> '' AND NOT EXISTS (SELECT 1 FROM " + e.Of +
				" p WHERE p.id = c." + e.Owner + ")"
			if err := s.DB.Raw(q).Scan(&orphans).Error; err != nil {
				t.Fatal(e.Name, err)
			}
		}
		if err := s.DB.Raw("SELECT COUNT(*) FROM audit_lines a WHERE a.entity = ? AND NOT EXISTS (SELECT 1 FROM "+e.Name+
			" r WHERE r.id = a.row_id)", e.Entity).Scan(&unmade).Error; err != nil {
			t.Fatal(e.Name, err)
		}
		if err := s.DB.Raw("SELECT COUNT(*) FROM "+e.Name+" r WHERE NOT EXISTS (SELECT 1 FROM audit_lines a WHERE a.row_id "+
			"= r.id AND a.entity = ? AND a.verb = 'create')", e.Entity).Scan(&unseen).Error; err != nil {
			t.Fatal(e.Name, err)
		}
		if orphans+unseen+unmade > 0 {
			t.Errorf("%s, %d rows: %d of nothing that is there, %d without a line, %d lines without a row", e.Name, n, orphans,
				unseen, unmade)
		}
	}
}
