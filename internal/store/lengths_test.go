package store

import (
	"reflect"
	"strconv"
	"testing"

	"sync"

	"gorm.io/gorm/schema"
)

// TestWhatIsAllowedFits: what the interface allows for a text has room in its column; nothing is cut or refused below.
func TestWhatIsAllowedFits(t *testing.T) {
	db := open(t)
	seen := 0
	for _, row := range []any{Model{}, Part{}, PlanStep{}, Study{}, Unit{}, LogEntry{}, Photo{}, Check{},
		Closing{}, Trial{}, SwapAct{}, Visit{}, FaultCase{}, Outcome{}, Account{},
		PartPair{}, Lot{}, FitTest{}, FactSaying{}, Rubric{}, ScoreMark{},
		Workshop{}, Seller{}, Offer{}, Exchange{}, Price{}, Delivery{}, Shelf{}, Work{}, Need{}} {
		s, err := schema.Parse(row, &sync.Map{}, db.NamingStrategy)
		if err != nil {
			t.Fatal(err)
		}
		columns, err := db.Migrator().ColumnTypes(row)
		if err != nil || len(columns) == 0 {
			t.Fatalf("%s: %d columns, %v", s.Table, len(columns), err)
		}
		room := map[string]int64{}
		for _, c := range columns {
			if n, ok := c.Length(); ok && n > 0 {
				room[c.Name()] = n
			}
		}
		for _, f := range s.Fields {
			allowed, err := strconv.ParseInt(f.Tag.Get("maxLength"), 10, 64)
			if err != nil || f.FieldType.Kind() != reflect.String {
				continue
			}
			seen++
			if n, known := room[f.DBName]; known && n < allowed {
				t.Errorf("%s.%s: %d characters are allowed, the column holds %d", s.Table, f.DBName, allowed, n)
			}
		}
	}
	if seen < 40 {
		t.Errorf("only %d texts have a length", seen)
	}
}
