package app_test

import (
	"context"
	"errors"
	"os"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"waryowl/internal/app/account"
	"waryowl/internal/app/act"
	"waryowl/internal/app/find"
	"waryowl/internal/app/intake"
	"waryowl/internal/app/job"
	"waryowl/internal/app/model"
	"waryowl/internal/app/strip"
	"waryowl/internal/core/fault"
	"waryowl/internal/mariadb/mariadbtest"
	"waryowl/internal/store"
)

func TestMain(m *testing.M) { os.Exit(mariadbtest.Main(m)) }

func service(t *testing.T) *act.Service {
	t.Helper()
	ctx := context.Background()
	db, err := store.Open(ctx, mariadbtest.Database(t))
	if err != nil {
		t.Fatal(err)
	}
	if err := store.Migrate(ctx, db); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() {
		pool, _ := db.DB()
		pool.Close()
	})
	return &act.Service{DB: db, Now: func() time.Time { return time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC) }}
}

func command() act.Command {
	return act.Command{Actor: act.Actor{ID: store.NewID()}, Key: store.NewID(), Hash: "h"}
}

func TestPasswords(t *testing.T) {
	one, err := account.HashPassword("correct horse")
	two, err2 := account.HashPassword("correct horse")
	if err != nil || err2 != nil || one == two || !strings.HasPrefix(one, "$argon2id$v=19$m=65536,t=3,p=2$") {
		t.Errorf("hashes: %s, %s", one, two)
	}
	if !account.SamePassword(one, "correct horse") || account.SamePassword(one, "correct horsE") ||
		account.SamePassword(one, "") {
		t.Error("the password does not decide")
	}
	for _, broken := range []string{"", "correct horse", "$argon2id$v=19$m=65536,t=3,p=2$$",
		strings.Replace(one, "m=", "n=", 1), one + "$x"} {
		if account.SamePassword(broken, "correct horse") {
			t.Errorf("a broken hash lets in: %q", broken)
		}
	}
}

func TestAccounts(t *testing.T) {
	s, ctx := service(t), context.Background()
	for field, c := range map[string][4]string{
		"role": {"a", "A", "captain", "long enough"}, "name": {"", "A", "analyst", "long enough"}, "password": {"a",
			"A", "analyst", "short"},
	} {
		_, err := account.Add(ctx, s, command(), c[0], c[1], c[2], c[3])
		var f *fault.Fault
		if !errors.As(err, &f) || f.Field != field {
			t.Errorf("want a fault at %s, got %v", field, err)
		}
	}
	for _, guessed := range []string{"password1", "12345678", "qwertyuiop", "aaaaaaaaaaaa", "waryowl123", "Passw0rd!",
		"harbourmaster1", "letmein2024"} {
		_, err := account.Add(ctx, s, command(), "harbourmaster", "Harbour master", "buyer", guessed)
		if err == nil || !strings.Contains(err.Error(), "tries") {
			t.Errorf("%s was taken: %v", guessed, err)
		}
	}
	made, err := account.Add(ctx, s, command(), "mate", "First mate", "technician", "long enough")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := account.Add(ctx, s, command(), "mate", "Second mate", "buyer", "long enough"); err == nil ||
		!strings.Contains(err.Error(), "a name that nobody has") {
		t.Errorf("a name was given twice: %v", err)
	}
	if who, err := account.SignIn(ctx, s, "mate", "long enough"); err != nil || who != made {
		t.Errorf("sign-in: %+v, %v", who, err)
	}
	for _, c := range [][2]string{{"mate", "long enougH"}, {"nobody", "long enough"}, {"' OR 1=1 -- ", "x"}} {
		if _, err := account.SignIn(ctx, s, c[0], c[1]); !errors.Is(err, account.ErrSignIn) {
			t.Errorf("%v: %v", c, err)
		}
	}
}

// TestDoIsAllOrNothing: a change that fails half-way leaves no row, no audit line and no used key; the same key then
// works.
func TestDoIsAllOrNothing(t *testing.T) {
	s, ctx := service(t), context.Background()
	c, id := command(), store.NewID()
	count := func(table string) (n int64) {
		if err := s.DB.Table(table).Count(&n).Error; err != nil {
			t.Fatal(err)
		}
		return n
	}
	broken := errors.New("broken")
	work := func(fail bool) func(*store.Tx) (store.Model, error) {
		return func(tx *store.Tx) (store.Model, error) {
			m := store.Model{Row: store.Row{ID: id}, ModelFacts: store.ModelFacts{Maker: "Pellow", Name: "Drift 9",
				Entry: "front"}}
			if err := store.Create(tx, &m); err != nil {
				return m, err
			}
			if fail {
				return m, broken
			}
			return m, nil
		}
	}
	if _, err := act.Do(ctx, s, c, 201, work(true)); !errors.Is(err, broken) ||
		count("models")+count("audit_lines")+count("commands") != 0 {
		t.Fatalf("something stayed behind: %v, %d models, %d lines, %d keys", err, count("models"),
			count("audit_lines"), count("commands"))
	}
	one, err := act.Do(ctx, s, c, 201, work(false))
	if err != nil || count("models") != 1 || count("audit_lines") != 1 {
		t.Fatalf("%+v, %v", one, err)
	}
	two, err := act.Do(ctx, s, c, 201, work(true)) // a repeat does not run the work at all
	if err != nil || two.ID != one.ID || two.Version != 1 {
		t.Errorf("the repeat: %+v, %v", two, err)
	}
	if carried, err := s.Carried(ctx, c.Key); err != nil || !carried {
		t.Errorf("carried: %v, %v", carried, err)
	}
	c.Hash = "other"
	if _, err := act.Do(ctx, s, c, 201, work(false)); !errors.Is(err, act.ErrKeyReused) {
		t.Errorf("another body under the key: %v", err)
	}
}

// TestTwoAnalystsOnOneStudy log at the same time on two phones: no entry is lost, and the numbers stay in order.
func TestTwoAnalystsOnOneStudy(t *testing.T) {
	s, ctx := service(t), context.Background()
	model, err := intake.AddModel(ctx, s, command(), "",
		store.ModelFacts{Maker: "Pellow", Name: "Drift 9", Entry: "front"})
	if err != nil {
		t.Fatal(err)
	}
	study, err := intake.AddStudy(ctx, s, command(), "", model.ID, store.StudyFacts{Title: "Two hands"})
	if err != nil {
		t.Fatal(err)
	}
	const each = 15
	var wg sync.WaitGroup
	errs := make(chan error, 2*each)
	for _, name := range []string{"PINE", "AMBER"} {
		unit, err := intake.AddUnit(ctx, s, command(), study.ID, "",
			store.UnitFacts{Name: name, Colour: "green", Shape: "circle"})
		if err != nil {
			t.Fatal(err)
		}
		wg.Go(func() {
			for range each {
				_, err := strip.AddLog(ctx, s, command(), study.ID, "",
					strip.LogFacts{UnitID: unit.ID, Seconds: 3,
						Step: &store.StepFacts{Verb: "peel", What: "tape", Side: "any"}})
				errs <- err
			}
		})
	}
	wg.Wait()
	close(errs)
	for err := range errs {
		if err != nil {
			t.Error(err)
		}
	}
	room, err := strip.Show(ctx, s, study.ID)
	if err != nil || len(room.Log) != 2*each || len(room.Steps) != 2*each {
		t.Fatalf("%d entries, %d steps, %v", len(room.Log), len(room.Steps), err)
	}
	marks := map[string]bool{}
	for _, st := range room.Steps {
		marks[st.Mark] = true
	}
	if len(marks) != 2*each {
		t.Errorf("only %d different marks: %v", len(marks), marks)
	}
	if !slices.IsSortedFunc(room.Log, func(a, b store.LogEntry) int { return a.Seq - b.Seq }) {
		t.Error("the log is out of order")
	}
}

func TestTrailSaysWhatIsMissing(t *testing.T) {
	s, ctx := service(t), context.Background()
	if err := model.EnsureCatalogue(ctx, s); err != nil {
		t.Fatal(err)
	}
	if err := model.EnsureCatalogue(ctx, s); err != nil { // a second start adds nothing
		t.Fatal(err)
	}
	theModel, _ := intake.AddModel(ctx, s, command(), "",
		store.ModelFacts{Maker: "Pellow", Name: "Drift 9", Entry: "front"})
	study, err := intake.AddStudy(ctx, s, command(), "", theModel.ID, store.StudyFacts{Title: "Empty"})
	if err != nil {
		t.Fatal(err)
	}
	trail := func() string {
		card, err := find.StudyCard(ctx, s, study.ID)
		if err != nil {
			t.Fatal(err)
		}
		var text []string
		for _, st := range card.Stages {
			text = append(text, st.ID+" "+st.Eye+" "+st.Missing)
		}
		return strings.Join(text, "; ")
	}
	if got := trail(); got != "intake shut two phones; strip shut the first entry; ways shut a way in; swap shut "+
		"the first trial; closeup shut ; score shut a way in; handover shut intake" {
		t.Errorf("an empty study: %s", got)
	}
	unit, err := intake.AddUnit(ctx, s, command(), study.ID, "",
		store.UnitFacts{Name: "PINE", Colour: "green", Shape: "circle"})
	if err != nil {
		t.Fatal(err)
	}
	part, err := strip.AddPart(ctx, s, command(), theModel.ID, "", store.PartFacts{Name: "battery", Family: "PW"})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := strip.AddLog(ctx, s, command(), study.ID, "",
		strip.LogFacts{UnitID: unit.ID, Seconds: 9, Step: &store.StepFacts{Verb: "lift", What: "cell", Side: "any",
			Frees: []string{part.ID}}}); err != nil {
		t.Fatal(err)
	}
	if got := trail(); got != "intake half two phones; strip open ; ways open ; swap shut the first trial; closeup "+
		"shut 1 of 1 phones not closed; score half the way in of 4 of 5 common jobs; handover half intake" {
		t.Errorf("a study begun: %s", got)
	}
	for i, verb := range []string{"lift", "pry"} {
		if _, err := job.AddOutcome(ctx, s, command(), theModel.ID, part.ID, "",
			store.OutcomeFacts{Minutes: float64(10 + i), Went: "fine", Note: verb}); err != nil {
			t.Fatal(err)
		}
	}
	theJob, err := job.Show(ctx, s, theModel.ID, part.ID)
	if err != nil || len(theJob.Outcomes) != 2 || theJob.Outcomes[0].Who != "somebody who left" ||
		theJob.Outcomes[0].Note != "pry" {
		t.Errorf("job card: %+v, %v", theJob.Outcomes, err)
	}
}
