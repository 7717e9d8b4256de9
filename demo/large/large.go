// Package large fills a database with as much as a workshop gathers in years, all of it invented, to see that reads stay
// fast: models, studies, teardowns, baselines, trials and the trail of changes.
package large

import (
	"context"
	"fmt"
	"math/rand/v2"
	"strings"
	"time"

	"gorm.io/gorm"

	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// World is what was made: the study and model that are looked at, and the model with a long history.
type World struct {
	Study, Model         string
	OldStudy, OldModel   string // a model of which a fiftieth of all entries is
	Models, Studies      int
	Entries, Trials, All int
}

const (
	stepsOf   = 24 // steps of a model's plan
	partsOf   = 20
	runsOf    = 100 // entries of a phone
	trialsOf  = 10
	perInsert = 1000
)

// Fill makes a world of about so many log entries, with as many audit lines, and baselines and trials in proportion.
func Fill(ctx context.Context, db *gorm.DB, entries int) (w World, err error) {
	err = db.WithContext(ctx).Connection(func(one *gorm.DB) error {
		// Columns that are not named take the empty value of their type.
		if err := one.Exec("SET SESSION sql_mode = '', unique_checks = 0, foreign_key_checks = 0").Error; err != nil {
			return err
		}
		defer one.Exec("SET SESSION sql_mode = DEFAULT, unique_checks = DEFAULT, foreign_key_checks = DEFAULT")
		w, err = fill(one, entries)
		return err
	})
	return w, err
}

func fill(db *gorm.DB, entries int) (World, error) {
	r := rand.New(rand.NewPCG(1, uint64(entries)))
	f := &filler{db: db, r: r, now: time.Date(2026, 1, 5, 8, 0, 0, 0, time.UTC)}
	w := World{Studies: max(2, entries/(2*runsOf)), Entries: entries}
	w.Models = max(2, w.Studies*2/5)
	var models []string
	var steps, parts [][]string
	for i := range w.Models {
		id := store.NewID()
		models = append(models, id)
		f.row("models", "id,version,created_at,updated_at,maker,name,entry,width_mm,height_mm", id, 1, f.now, f.now,
			[]string{"Pellow", "Corvane"}[i%2], fmt.Sprintf("%s %d", []string{"Drift", "Atoll"}[i%2], 100+i), "back", 70, 150)
		var ps, ss []string
		for k := range partsOf {
			p := store.NewID()
			ps = append(ps, p)
			kind := trade.Kinds[k%len(trade.Kinds)]
			name := strings.ReplaceAll(kind.ID, "-", " ")
			f.row("parts", "id,version,created_at,updated_at,model_id,name,family,kind,slot,x_mm,y_mm,w_mm,h_mm,layer", p, 1,
				f.now, f.now, id, name, kind.Family, kind.ID, k < 12, 5, 7*k, 30, 6, k%4)
			f.row("find_texts", "part_id,model_id,words", p, id, store.Words([]string{"Pellow", "Corvane"}[i%2],
				fmt.Sprintf("%s %d", []string{"Drift", "Atoll"}[i%2], 100+i), name))
		}
		for k := range stepsOf {
			s := store.NewID()
			after := "[]"
			if k > 0 {
				after = fmt.Sprintf(`[["%s"]]`, ss[r.IntN(k)])
			}
			frees := "[]"
			if k >= stepsOf-partsOf {
				frees = fmt.Sprintf(`["%s"]`, ps[k-(stepsOf-partsOf)])
			}
			ss = append(ss, s)
			f.row("plan_steps", "id,version,created_at,updated_at,model_id,mark,verb,what,side,tool,seconds,frees,"+
				"after_steps,part_id",
				s, 1, f.now, f.now, id, fmt.Sprintf("s%d", k+1), "lift", "part", "back", fmt.Sprintf("tool %d", k%4),
				20+r.IntN(60), frees, after, ps[k%partsOf])
		}
		parts, steps = append(parts, ps), append(steps, ss)
	}
	for i := range w.Studies {
		m := i % w.Models
		if i%50 == 0 { // one model has a long history
			m = 1
		}
		study := store.NewID()
		f.row("studies", "id,version,created_at,updated_at,model_id,title", study, 1, f.now, f.now, models[m],
			fmt.Sprintf("study %d", i))
		var units []string
		for _, name := range []string{"PINE", "AMBER"} {
			u := store.NewID()
			units = append(units, u)
			f.row("units", "id,version,created_at,updated_at,study_id,name,colour,shape,build", u, 1, f.now, f.now, study,
				name, "green", "circle", "1.0")
			for _, c := range trade.Checks {
				f.row("baselines", "id,version,created_at,updated_at,unit_id,check_mark,result,assumed", store.NewID(), 1,
					f.now, f.now, u, c.Mark, "pass", false)
			}
			for k := range runsOf {
				e := store.NewID()
				f.row("log_entries", "id,version,created_at,updated_at,study_id,unit_id,step_id,seq,back,new_step,seconds,"+
					"note,kind,detail", e, 1, f.now, f.now, study, u, steps[m][k%stepsOf], 2*k+1, k >= stepsOf && k%2 == 1, false,
					10+r.IntN(90), "", "step", "{}")
				f.row("audit_lines", "account_id,happened_at,arrived_at,verb,entity,row_id,after_state", store.NewID(), f.now,
					f.now, "create", "LogEntry", e, "{}")
			}
		}
		for k := range trialsOf {
			part := parts[m][k%12]
			lost := map[bool]string{true: "lost", false: "pass"}[k%4 == 0]
			f.row("trials", "id,version,created_at,updated_at,study_id,seq,place,board_unit_id,build,pieces,results",
				store.NewID(), 1, f.now, f.now, study, k+1, k+1, units[k%2], "1.0",
				fmt.Sprintf(`[{"part_id":"%s","origin":"unit","unit_id":"%s"}]`, part, units[1-k%2]),
				fmt.Sprintf(`{"boot":"pass","touch":"%s","charging":"pass"}`, lost))
			w.Trials++
		}
		if i == 1 || m == 2%w.Models && m != 1 {
			w.Study, w.Model = study, models[m]
		}
		if m == 1 {
			w.OldStudy, w.OldModel = study, models[1]
		}
	}
	f.flush()
	return w, f.err
}

// filler inserts rows by the thousand.
type filler struct {
	db    *gorm.DB
	r     *rand.Rand
	now   time.Time
	wait  map[string][]any
	count map[string]int
	err   error
}

func (f *filler) row(table, columns string, values ...any) {
	if f.wait == nil {
		f.wait, f.count = map[string][]any{}, map[string]int{}
	}
	key := table + " (" + columns + ")"
	f.wait[key] = append(f.wait[key], values...)
	if f.count[key]++; f.count[key] == perInsert {
		f.send(key)
	}
}

func (f *filler) send(key string) {
	n := f.count[key]
	if n == 0 || f.err != nil {
		return
	}
	one := "(" + strings.TrimSuffix(strings.Repeat("?,", len(f.wait[key])/n), ",") + ")"
	f.err = f.db.Exec("INSERT INTO "+key+" VALUES "+strings.TrimSuffix(strings.Repeat(one+",", n), ","),
		f.wait[key]...).Error
	f.wait[key], f.count[key] = nil, 0
}

func (f *filler) flush() {
	for key := range f.wait {
		f.send(key)
	}
}

// Big makes one study that is as large as they come: 300 steps, 120 parts of which 60 take part in swap tests, four
// phones, and 60 trials that read all checks with a wrong reading now and then. It returns the study and its model.
func Big(ctx context.Context, db *gorm.DB) (study, model string, err error) {
	err = db.WithContext(ctx).Connection(func(one *gorm.DB) error {
		if err := one.Exec("SET SESSION sql_mode = ''").Error; err != nil {
			return err
		}
		defer one.Exec("SET SESSION sql_mode = DEFAULT")
		study, model, err = big(one)
		return err
	})
	return study, model, err
}

func big(db *gorm.DB) (study, model string, err error) {
	const steps, parts, slots, trials = 300, 120, 60, 60
	r := rand.New(rand.NewPCG(2, 2))
	f := &filler{db: db, r: r, now: time.Date(2026, 1, 5, 8, 0, 0, 0, time.UTC)}
	study, model = store.NewID(), store.NewID()
	f.row("models", "id,version,created_at,updated_at,maker,name,entry,width_mm,height_mm", model, 1, f.now, f.now,
		"Pellow", "Drift 99", "dual", 160, 240)
	var partIDs, stepIDs []string
	for k := range parts {
		p := store.NewID()
		partIDs = append(partIDs, p)
		kind := trade.Kinds[k%len(trade.Kinds)]
		name := fmt.Sprintf("%s %d", strings.ReplaceAll(kind.ID, "-", " "), k)
		f.row("parts", "id,version,created_at,updated_at,model_id,name,family,kind,slot,x_mm,y_mm,w_mm,h_mm,layer", p, 1,
			f.now, f.now, model, name, kind.Family, kind.ID, k < slots, k%10*15, k/10*18, 12, 10, k%5)
	}
	for k := range steps {
		s := store.NewID()
		after := "[]"
		if k > 2 {
			after = fmt.Sprintf(`[["%s","%s"],["%s"]]`, stepIDs[r.IntN(k)], stepIDs[r.IntN(k)], stepIDs[k-1-r.IntN(min(k, 9))])
		}
		frees := "[]"
		if k*parts/steps != (k-1)*parts/steps || k == 0 {
			frees = fmt.Sprintf(`["%s"]`, partIDs[k*parts/steps])
		}
		stepIDs = append(stepIDs, s)
		f.row("plan_steps", "id,version,created_at,updated_at,model_id,mark,verb,what,side,tool,seconds,frees,after_steps,"+
			"part_id", s, 1, f.now, f.now, model, fmt.Sprintf("s%d", k+1), "lift", "part",
			[]string{"front", "back", "any"}[r.IntN(3)], fmt.Sprintf("tool %d", r.IntN(9)), 20+r.IntN(60), frees, after,
			partIDs[k*parts/steps])
	}
	f.row("studies", "id,version,created_at,updated_at,model_id,title", study, 1, f.now, f.now, model,
		"as large as they come")
	var units []string
	for _, name := range []string{"PINE", "AMBER", "SLATE", "CORAL"} {
		u := store.NewID()
		units = append(units, u)
		f.row("units", "id,version,created_at,updated_at,study_id,name,colour,shape,build", u, 1, f.now, f.now, study, name,
			"green", "circle", "1.0")
		for _, c := range trade.Checks {
			f.row("baselines", "id,version,created_at,updated_at,unit_id,check_mark,result,assumed", store.NewID(), 1, f.now,
				f.now, u, c.Mark, "pass", false)
		}
	}
	lock := map[string]int{}
	for _, c := range trade.Checks {
		if r.IntN(3) == 0 {
			lock[c.Mark] = r.IntN(slots)
		}
	}
	for k := range trials {
		board := r.IntN(len(units))
		fitted := map[int]bool{}
		for range []int{slots, slots / 2, 3, 2, 1, 1}[r.IntN(6)] {
			fitted[r.IntN(slots)] = true
		}
		var pieces, results []string
		for p := range slots {
			if fitted[p] {
				pieces = append(pieces, fmt.Sprintf(`{"part_id":"%s","origin":"unit","unit_id":"%s"}`, partIDs[p],
					units[(board+1)%len(units)]))
			}
		}
		for _, c := range trade.Checks {
			p, locked := lock[c.Mark]
			lost := locked && fitted[p]
			if r.IntN(50) == 0 {
				lost = !lost
			}
			results = append(results, fmt.Sprintf("%q:%q", c.Mark, map[bool]string{true: "lost", false: "pass"}[lost]))
		}
		f.row("trials", "id,version,created_at,updated_at,study_id,seq,place,board_unit_id,build,pieces,results",
			store.NewID(), 1, f.now, f.now, study, k+1, k+1, units[board], "1.0", "["+strings.Join(pieces, ",")+"]",
			"{"+strings.Join(results, ",")+"}")
	}
	f.flush()
	return study, model, f.err
}
