package strip

import (
	"context"
	"slices"
	"strings"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// Words are the workshop's own words.
type Words struct {
	Words []store.OwnWord `json:"words" nullable:"false"`
}

// ListWords lists them by what is said.
func ListWords(ctx context.Context, s *act.Service) (Words, error) {
	list, err := store.List[store.OwnWord](s.DB.WithContext(ctx), "say, id", "1 = 1")
	return Words{append([]store.OwnWord{}, list...)}, err
}

// TeachWord adds a word: who may log may teach what is said at the bench.
func TeachWord(ctx context.Context, s *act.Service, c act.Command, id string, f store.WordFacts) (store.OwnWord, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.OwnWord, error) {
		row := store.OwnWord{Row: store.Row{ID: id}, WordFacts: f}
		if err := checkWord(tx.DB, &row); err != nil {
			return row, err
		}
		return row, store.Create(tx, &row)
	})
}

// ChangeWord replaces what a word means.
func ChangeWord(ctx context.Context, s *act.Service, c act.Command, id string, saw int, f store.WordFacts) (store.OwnWord, error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, row *store.OwnWord) error {
		row.WordFacts = f
		return checkWord(tx.DB, row)
	})
}

// DeleteWord takes a word away, RestoreWord brings it back.
func DeleteWord(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.OwnWord, error) {
	return act.Delete[store.OwnWord](ctx, s, c, id, saw, nil)
}

// RestoreWord brings a word back.
func RestoreWord(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.OwnWord, error) {
	return act.Restore[store.OwnWord](ctx, s, c, id, saw, func(tx *store.Tx, row *store.OwnWord) error { return checkWord(tx.DB, row) })
}

// checkWord refuses a word that is there already, and one that means nothing of its kind.
func checkWord(db *gorm.DB, w *store.OwnWord) error {
	w.Say, w.Means = strings.Join(strings.Fields(w.Say), " "), strings.Join(strings.Fields(w.Means), " ")
	if lexicon.Norm(w.Say) == "" || w.Means == "" {
		return fault.New("say", w.Say, "a word, and what it means")
	}
	same, err := store.List[store.OwnWord](db, "id", "LOWER(say) = LOWER(?) AND id <> ?", w.Say, w.ID)
	if err != nil {
		return err
	}
	if len(same) > 0 {
		return fault.New("say", w.Say, "a word that is not there already: it means "+same[0].Means)
	}
	if w.Kind == "drive" {
		for _, d := range trade.DriveIDs() {
			if trade.Plain(d) == trade.Plain(w.Means) {
				w.Means = d
				return nil
			}
		}
		return fault.New("means", w.Means, "a drive: "+strings.Join(trade.DriveIDs(), ", "))
	}
	return nil
}

// mostLines are the lines of the workshop that are shown as examples.
const mostLines = 10

// lastLines are the lines that were written last in the workshop, each once, the latest first.
func lastLines(db *gorm.DB) ([]string, error) {
	var all []string
	err := db.Model(&store.LogEntry{}).Where("line <> ''").Order("id DESC").Limit(6*mostLines).Pluck("line", &all).Error
	out := []string{}
	for _, l := range all {
		if len(out) < mostLines && !slices.Contains(out, l) {
			out = append(out, l)
		}
	}
	return out, err
}
