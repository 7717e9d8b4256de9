package store

import (
	"context"
	"errors"
	"os"
	"strings"
	"sync"
	"testing"
	"time"

	"gorm.io/gorm"

	"waryowl/internal/mariadb/mariadbtest"
)

func TestMain(m *testing.M) { os.Exit(mariadbtest.Main(m)) }

func open(t *testing.T) *gorm.DB {
	t.Helper()
	db, err := Open(context.Background(), mariadbtest.Database(t))
	if err != nil {
		t.Fatal(err)
	}
	if err := Migrate(context.Background(), db); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() {
		pool, _ := db.DB()
		pool.Close()
	})
	return db
}

func inTx(db *gorm.DB, work func(*Tx) error) error {
	return db.Transaction(func(g *gorm.DB) error {
		return work(&Tx{DB: g, Account: "a", Happened: time.Now(), Arrived: time.Now()})
	})
}

func TestARowLivesInVersions(t *testing.T) {
	db := open(t)
	unit := Unit{StudyID: NewID(), UnitFacts: UnitFacts{Name: "PINE", Colour: "green", Shape: "circle", Build: "4.1"}}
	steps := []struct {
		name string
		work func(*Tx) error
	}{
		{"create", func(tx *Tx) error { return Create(tx, &unit) }},
		{"update", func(tx *Tx) error {
			// a zero value is stored too
			_, err := Update(tx, unit.ID, 1, func(u *Unit) error { u.Build = ""; return nil })
			return err
		}},
		{"delete", func(tx *Tx) error { _, err := Delete[Unit](tx, unit.ID, 2); return err }},
		{"restore", func(tx *Tx) error { _, err := Restore[Unit](tx, unit.ID, 3); return err }},
	}
	for i, s := range steps {
		if err := inTx(db, s.work); err != nil {
			t.Fatalf("%s: %v", s.name, err)
		}
		got, err := Get[Unit](db, unit.ID)
		if s.name == "delete" {
			if !errors.Is(err, ErrNotFound) {
				t.Errorf("a deleted row is still there: %+v, %v", got, err)
			}
			continue
		}
		if err != nil || got.Version != i+1 || (i > 0 && got.Build != "") || got.CreatedAt.IsZero() {
			t.Errorf("after %s: %+v, %v", s.name, got, err)
		}
		var stale *Stale
		if err := inTx(db, func(tx *Tx) error { _, err := Delete[Unit](tx, unit.ID, i); return err }); !errors.As(err,
			&stale) || stale.Current.(*Unit).Version != i+1 {
			t.Errorf("after %s an older version was taken: %v", s.name, err)
		}
	}
	var taken *Taken
	if err := inTx(db, func(tx *Tx) error { return Create(tx, &Unit{Row: Row{ID: unit.ID}}) }); !errors.As(err,
		&taken) || taken.Key != "id" || taken.Value != unit.ID {
		t.Errorf("an id was given twice: %v", err)
	}
	lines, err := List[AuditLine](db, "id", "row_id = ?", unit.ID)
	var verbs []string
	for _, l := range lines {
		verbs = append(verbs, l.Verb+" "+l.Entity)
	}
	if err != nil || strings.Join(verbs, ", ") != "create Unit, update Unit, delete Unit, restore Unit" ||
		!strings.Contains(*lines[1].BeforeState, `"4.1"`) {
		t.Errorf("audit trail: %v, %v", verbs, err)
	}
	for _, statement := range []string{"UPDATE audit_lines SET verb = 'x'", "DELETE FROM audit_lines"} {
		if err := db.Exec(statement).Error; err == nil {
			t.Errorf("the trail allowed %s", statement)
		}
	}
}

func TestTwoWritersOfOneVersion(t *testing.T) {
	db := open(t)
	model := Model{ModelFacts: ModelFacts{Maker: "Pellow", Name: "Drift 4", Entry: "dual"}}
	if err := inTx(db, func(tx *Tx) error { return Create(tx, &model) }); err != nil {
		t.Fatal(err)
	}
	var wg sync.WaitGroup
	errs := make([]error, 8)
	for i := range errs {
		wg.Go(func() {
			errs[i] = inTx(db, func(tx *Tx) error {
				_, err := Update(tx, model.ID, 1, func(m *Model) error { m.MassG++; return nil })
				return err
			})
		})
	}
	wg.Wait()
	won := 0
	for _, err := range errs {
		var stale *Stale
		if err == nil {
			won++
		} else if !errors.As(err, &stale) {
			t.Errorf("want a stale answer, got %v", err)
		}
	}
	if won != 1 {
		t.Errorf("%d writers won", won)
	}
}

func TestMigrateRefusesNewerData(t *testing.T) {
	db := open(t)
	if err := Migrate(context.Background(), db); err != nil {
		t.Fatalf("migrating twice: %v", err)
	}
	if err := db.Exec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, 1)").Error; err != nil {
		t.Fatal(err)
	}
	if err := Migrate(context.Background(), db); err == nil ||
		!strings.Contains(err.Error(), "start the newer program") {
		t.Errorf("data of a newer schema was taken: %v", err)
	}
}

// TestClaim: the first to come has the key; a second transaction waits for its end and then sees its answer, or the key
// free again when the first was given up.
func TestClaim(t *testing.T) {
	db := open(t)
	for name, giveUp := range map[string]bool{"settled": false, "given up": true} {
		key := Command{ID: NewID(), AccountID: "a", BodyHash: "h"}
		holding, release := make(chan struct{}), make(chan struct{})
		done := make(chan error)
		go func() {
			done <- inTx(db, func(tx *Tx) error {
				if earlier, err := tx.Claim(key); err != nil || earlier != nil {
					t.Errorf("%s: the first claim: %+v, %v", name, earlier, err)
				}
				close(holding)
				<-release
				if giveUp {
					return errors.New("given up")
				}
				return tx.Settle(key.ID, 201, []byte(`{"n":1}`))
			})
		}()
		<-holding
		second := make(chan *Command)
		go inTx(db, func(tx *Tx) error {
			earlier, err := tx.Claim(key)
			if err != nil {
				t.Errorf("%s: the second claim: %v", name, err)
			}
			second <- earlier
			return nil
		})
		select {
		case <-second:
			t.Errorf("%s: the second claim did not wait", name)
		case <-time.After(80 * time.Millisecond):
		}
		close(release)
		<-done
		if earlier := <-second; (earlier == nil) != giveUp || earlier != nil &&
			(earlier.Answer != `{"n":1}` || earlier.Status != 201) {
			t.Errorf("%s: the second claim got %+v", name, earlier)
		}
	}
}

func TestLockAndListSeeOnlyWhatIsThere(t *testing.T) {
	db := open(t)
	if err := inTx(db, func(tx *Tx) error { _, err := Lock[Model](tx, NewID()); return err }); !errors.Is(err,
		ErrNotFound) {
		t.Errorf("locked nothing: %v", err)
	}
	for _, name := range []string{"b", "a", "c"} {
		if err := inTx(db, func(tx *Tx) error { return Create(tx, &Check{Mark: name, Name: name}) }); err != nil {
			t.Fatal(err)
		}
	}
	checks, err := List[Check](db, "mark", "mark <> ?", "c")
	if err != nil || len(checks) != 2 || checks[0].Mark != "a" || checks[0].Version != 1 {
		t.Errorf("list: %+v, %v", checks, err)
	}
	var taken *Taken
	if err := inTx(db, func(tx *Tx) error { return Create(tx, &Check{Mark: "a"}) }); !errors.As(err, &taken) ||
		taken.Key != "mark" || taken.Value != "a" {
		t.Errorf("a mark was given twice: %v", err)
	}
	for _, dsn := range []string{"", "nonsense", "u:p@tcp(127.0.0.1:1)/"} {
		if _, err := Open(context.Background(), dsn); err == nil || strings.Contains(err.Error(), "\n") {
			t.Errorf("%q: want one clear line, got %v", dsn, err)
		}
	}
}
