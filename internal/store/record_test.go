package store

import (
	"context"
	"database/sql"
	"testing"
	"time"

	"waryowl/internal/mariadb/mariadbtest"
)

// TestAReplacedRecordIsKeptForAWhile: the record from before stays until the new one was served for a week, and goes
// then, whether it was the database of the name itself, which keeps the word which one is open, or one beside it.
func TestAReplacedRecordIsKeptForAWhile(t *testing.T) {
	ctx := context.Background()
	base := mariadbtest.Database(t)
	fresh := func(at time.Time) string {
		t.Helper()
		dsn, err := Beside(ctx, base, at)
		if err != nil {
			t.Fatal(err)
		}
		g, err := Open(ctx, dsn)
		if err != nil {
			t.Fatal(err)
		}
		if err := Migrate(ctx, g); err != nil {
			t.Fatal(err)
		}
		closeDB(g)
		if err := Whole(ctx, dsn); err != nil {
			t.Fatal(err)
		}
		if err := Switch(ctx, base, dsn, at); err != nil {
			t.Fatal(err)
		}
		return dsn
	}
	tables := func(dsn string) int {
		t.Helper()
		db, err := sql.Open("mysql", dsn)
		if err != nil {
			t.Fatal(err)
		}
		defer db.Close()
		list, err := Tables(ctx, db)
		if err != nil {
			return 0 // the database is gone
		}
		return len(list)
	}
	now := time.Date(2026, 12, 1, 8, 0, 0, 0, time.UTC)
	swept := func(at time.Time) {
		t.Helper()
		if err := sweep(ctx, base, at); err != nil {
			t.Fatal(err)
		}
	}
	swept(now) // nothing was ever replaced
	g, open, err := OpenRecord(ctx, base, "")
	if err != nil || open != base {
		t.Fatal(open, err)
	}
	closeDB(g)
	old := tables(base)
	first := fresh(now)
	if open, err := Resolve(ctx, base); err != nil || open != first {
		t.Fatalf("open is %s, %v", open, err)
	}
	swept(now.Add(30 * 24 * time.Hour)) // nobody has served the new one yet: now it is noted
	swept(now.Add(36 * 24 * time.Hour))
	if n := tables(base); n != old+1 {
		t.Errorf("%d of %d tables of the old record are there before its time is over", n, old+1)
	}
	swept(now.Add(37*24*time.Hour + time.Minute))
	if n := tables(base); n != 1 {
		t.Errorf("%d tables are left beside the word which record is open", n)
	}
	second := fresh(now.Add(40 * 24 * time.Hour))
	swept(now.Add(41 * 24 * time.Hour))
	if tables(first) == 0 {
		t.Error("the second record from before is gone at once")
	}
	swept(now.Add(49 * 24 * time.Hour))
	if tables(first) != 0 || tables(second) == 0 {
		t.Errorf("a week later: %d tables of the one before, %d of the open one", tables(first), tables(second))
	}
	if g, open, err := OpenRecord(ctx, base, base); err != nil || open != second {
		t.Errorf("opened %s, %v", open, err)
	} else {
		closeDB(g)
	}
	for what, dsn := range map[string]string{"Resolve": "nonsense", "Beside": "nonsense"} {
		if _, err := Resolve(ctx, dsn); err == nil {
			t.Errorf("%s takes nonsense", what)
		}
	}
	if n := Newest(); n < 82 {
		t.Errorf("the newest schema is %d", n)
	}
}
