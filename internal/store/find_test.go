package store

import (
	"io/fs"
	"slices"
	"strings"
	"testing"
)

// TestFindTexts: what parts are found by follows every change of a part and of its model, the rebuild gives the same, and
// so does the migration that filled the table at first.
func TestFindTexts(t *testing.T) {
	db := open(t)
	m := Model{ModelFacts: ModelFacts{Maker: "Pellow", Name: "Drift 4/b", Aliases: []string{"D-4", "Ébène"}}}
	battery := Part{PartFacts: PartFacts{Name: "battery", Family: "PW", Label: "PB-4417 / 3.8", Aliases: []string{"cell"}}}
	cover := Part{PartFacts: PartFacts{Name: "battery cover", Family: "FR", ConnectorCode: "J_100%"}}
	step := func(what string, work func(tx *Tx) error) {
		t.Helper()
		if err := inTx(db, work); err != nil {
			t.Fatal(what, err)
		}
	}
	step("create", func(tx *Tx) error {
		if err := Create(tx, &m); err != nil {
			return err
		}
		battery.ModelID, cover.ModelID = m.ID, m.ID
		if err := Create(tx, &battery); err != nil {
			return err
		}
		return Create(tx, &cover)
	})
	find := func(query string) []string {
		t.Helper()
		ids, err := Find(db, strings.Fields(Words(query)), 10)
		if err != nil {
			t.Fatal(query, err)
		}
		return ids
	}
	texts := func() []FindText {
		rows, err := List[FindText](db, "part_id", "1 = 1")
		if err != nil {
			t.Fatal(err)
		}
		return rows
	}
	for query, want := range map[string][]string{
		"battery":   {battery.ID, cover.ID}, // both by the word; the shorter text is first by its letters
		"4417":      {battery.ID},
		"drift b":   {battery.ID, cover.ID},
		"atter cov": {cover.ID},
		"ébène":     {battery.ID, cover.ID},
		"j_100%":    {cover.ID},
		"_":         {},
		"%":         {},
		"jx100":     {},
	} {
		if got := find(query); !slices.Equal(slices.Sorted(slices.Values(got)), slices.Sorted(slices.Values(want))) {
			t.Errorf("%s: %d found, want %d", query, len(got), len(want))
		}
	}
	if got := find("cover"); len(got) != 1 || got[0] != cover.ID {
		t.Errorf("cover: %v", got)
	}
	kept := texts()
	if err := FindableAgain(db, ""); err != nil {
		t.Fatal(err)
	}
	if again := texts(); !slices.Equal(again, kept) {
		t.Errorf("rebuilt: %v, kept %v", again, kept)
	}
	sql, err := fs.ReadFile(migrations, "migrations/0043_find_texts_fill.sql")
	if err != nil {
		t.Fatal(err)
	}
	if err := db.Exec("DELETE FROM find_texts").Error; err != nil {
		t.Fatal(err)
	}
	if err := db.Exec(string(sql)).Error; err != nil {
		t.Fatal(err)
	}
	for i, f := range texts() { // in another order of words
		words := func(s string) []string { return slices.Sorted(slices.Values(strings.Fields(s))) }
		if f.PartID != kept[i].PartID || !slices.Equal(words(f.Words), words(kept[i].Words)) {
			t.Errorf("filled: %q, kept %q", f.Words, kept[i].Words)
		}
	}
	step("rename", func(tx *Tx) error {
		_, err := Update(tx, m.ID, 1, func(m *Model) error { m.Name = "Atoll 9"; return nil })
		return err
	})
	if len(find("drift")) != 0 || len(find("atoll battery")) != 2 {
		t.Error("the model's new name was not followed")
	}
	step("delete", func(tx *Tx) error { _, err := Delete[Part](tx, battery.ID, 1); return err })
	if got := find("battery"); len(got) != 1 || got[0] != cover.ID {
		t.Errorf("a deleted part: %v", got)
	}
	step("restore", func(tx *Tx) error { _, err := Restore[Part](tx, battery.ID, 2); return err })
	if len(find("battery")) != 2 {
		t.Error("a restored part is not found")
	}
}
