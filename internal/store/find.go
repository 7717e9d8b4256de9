package store

import (
	"strings"

	"gorm.io/gorm"
)

// FindText is what a part is found by.
type FindText struct {
	PartID  string `gorm:"primaryKey"`
	ModelID string
	Words   string
}

// Words are the words of texts in lower case between single spaces, with one before and after: what the find field is
// compared with.
func Words(texts ...string) string {
	words := strings.FieldsFunc(strings.ToLower(strings.Join(texts, " ")), func(r rune) bool {
		return strings.ContainsRune(" -/,:·\t\n\r[]\"", r)
	})
	return " " + strings.Join(words, " ") + " "
}

// findable keeps what parts are found by beside the parts: after a change of one, or of their model.
func (tx *Tx) findable(entity any) error {
	switch e := entity.(type) {
	case *Part:
		if e.DeletedAt.Valid {
			return tx.DB.Delete(&FindText{}, "part_id = ?", e.ID).Error
		}
		var m Model
		if err := tx.DB.Unscoped().First(&m, "id = ?", e.ModelID).Error; err != nil {
			return err
		}
		if m.DeletedAt.Valid {
			return nil
		}
		return tx.DB.Save(&FindText{e.ID, m.ID, m.words() + e.words()}).Error
	case *Model:
		return FindableAgain(tx.DB, e.ID)
	}
	return nil
}

func (m Model) words() string {
	return strings.TrimSuffix(Words(append([]string{m.Maker, m.Name}, m.Aliases...)...), " ")
}

func (p Part) words() string {
	return Words(append([]string{p.Name, p.Label, p.ChipMark, p.ConnectorCode}, p.Aliases...)...)
}

// FindableAgain works out anew what the parts of a model are found by; of all models with "".
func FindableAgain(db *gorm.DB, model string) error {
	where, args := "1 = 1", []any{}
	if model != "" {
		where, args = "model_id = ?", []any{model}
	}
	if err := db.Delete(&FindText{}, append([]any{where}, args...)...).Error; err != nil {
		return err
	}
	parts, err := List[Part](db, "id", where, args...)
	if err != nil || len(parts) == 0 {
		return err
	}
	models := map[string]Model{}
	list, err := List[Model](db, "id", "id IN (SELECT model_id FROM parts)")
	if err != nil {
		return err
	}
	for _, m := range list {
		models[m.ID] = m
	}
	var rows []FindText
	for _, p := range parts {
		if m, ok := models[p.ModelID]; ok {
			rows = append(rows, FindText{p.ID, m.ID, m.words() + p.words()})
		}
	}
	if len(rows) == 0 {
		return nil
	}
	return db.CreateInBatches(rows, 500).Error
}

// Find lists the parts whose words meet every word of a query, whole words before beginnings before places inside, at
// most so many.
func Find(db *gorm.DB, query []string, most int) (ids []string, err error) {
	like := func(word, before, after string) string {
		return before + strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(word) + after
	}
	patterns := func(before, after string) (string, []any) {
		var parts []string
		var args []any
		for _, w := range query {
			parts = append(parts, "words LIKE ?")
			if args = append(args, like(w, before, after)); len(w) < 2 { // one letter is met at the start of a word only
				args[len(args)-1] = like(w, "% ", after)
			}
		}
		return strings.Join(parts, " AND "), args
	}
	whole, wholes := patterns("% ", " %")
	start, starts := patterns("% ", "%")
	inside, insides := patterns("%", "%")
	args := append(append(append(insides, wholes...), starts...), most)
	err = db.Raw("SELECT part_id FROM find_texts WHERE "+inside+" ORDER BY ("+whole+") DESC, ("+start+
		") DESC, words, part_id LIMIT ?", args...).Scan(&ids).Error
	return ids, err
}
