package exchange

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/app/study"
	"waryowl/internal/app/swap"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// trialRead is a trial that a table holds, gathered from its lines.
type trialRead struct {
	study *study.Record
	facts store.TrialFacts
	first line
}

// takeTrials takes trials: a line a check, the lines of one trial with the same study and name. A trial that is on
// record under its name is as it was, when it says the same; trials are never changed by a table.
func takeTrials(ctx context.Context, s *act.Service, c act.Command, k *model.Record) (taker, error) {
	rows, err := store.List[store.Study](s.DB, "id", "model_id = ?", k.ID)
	if err != nil {
		return taker{}, err
	}
	list, err := study.LoadAll(s.DB, rows, study.Want{Swaps: true, Read: []*model.Record{k}})
	if err != nil {
		return taker{}, err
	}
	studies := map[string]*study.Record{}
	for _, b := range list {
		studies[strings.ToLower(b.Title)] = b
	}
	read := map[string]*trialRead{}
	var order []string
	return taker{key: func(line) string { return "" },
		read: func(l line, v *Preview) {
			b := studies[strings.ToLower(l.cells["study"])]
			if b == nil {
				l.refuse("study", "no study of this model is called “"+l.cells["study"]+"”")
				return
			}
			board := unitNamed(b, l.cells["board"])
			if board == "" {
				l.refuse("board", "no phone of this study is called “"+l.cells["board"]+"”")
			}
			housing := unitNamed(b, l.cells["housing"])
			if housing == "" && l.cells["housing"] != "" {
				l.refuse("housing", "no phone of this study is called “"+l.cells["housing"]+"”")
			}
			check, result := l.cells["check"], l.cells["result"]
			if !slices.ContainsFunc(b.SwapChecks(), func(c store.Check) bool { return c.Mark == check }) {
				l.refuse("check", "no check is called “"+check+"”")
			}
			if !slices.Contains([]string{"pass", "weak", "lost", "skipped", "dark"}, result) {
				l.refuse("result", fmt.Sprintf("%q is none of pass, weak, lost, skipped, or dark: could not be tested", result))
			}
			old := slices.IndexFunc(
				b.Trials,
				func(t store.Trial) bool { return study.TrialMark(t) == l.cells["trial"] },
			)
			if old >= 0 {
				if b.Trials[old].Results[check] != result || b.Trials[old].BoardUnitID != board {
					l.refuse("trial", "is on record and says otherwise; give a new trial another name")
				}
				v.Same++
				return
			}
			key := b.ID + "\x00" + l.cells["trial"]
			t := read[key]
			if t == nil {
				t = &trialRead{study: b, first: l, facts: store.TrialFacts{BoardUnitID: board, HousingUnitID: housing,
					Build: l.cells["build"], Results: map[string]string{}, Minutes: l.number("minutes")}}
				t.facts.Pieces = fittedOf(l, b, k)
				if at := l.date("date"); !at.IsZero() && at.Format(time.DateOnly) != s.Now().UTC().Format(time.DateOnly) {
					t.facts.DoneAt = &at
				}
				read[key] = t
				order = append(order, key)
			} else if t.facts.BoardUnitID != board {
				l.refuse("board", "is another than in the first line of this trial")
			}
			if _, twice := t.facts.Results[check]; twice {
				l.refuse("check", "comes twice in this trial")
			}
			t.facts.Results[check] = result
			if strings.EqualFold(l.cells["seen"], "no") {
				t.facts.Assumed = append(t.facts.Assumed, check)
			}
			v.told(true, nil, nil)
		},
		end: func(v *Preview, put bool) error {
			for i, key := range order {
				if !put {
					break
				}
				t := read[key]
				if t.facts.HousingUnitID == t.facts.BoardUnitID {
					t.facts.HousingUnitID = ""
				}
				inner := act.Command{Actor: c.Actor, Key: store.NewID(), Hash: fmt.Sprintf("%s line %d", c.Key, i)}
				_, err := swap.AddTrial(ctx, s, inner, t.study.ID, store.NewID(), t.facts, swap.Placing{}, "")
				var f *fault.Fault
				if errors.As(err, &f) {
					t.first.refuse("trial", f.Error())
					return nil
				} else if err != nil {
					return err
				}
			}
			return nil
		}}, nil
}

func unitNamed(b *study.Record, name string) string {
	for _, u := range b.Units {
		if name != "" && strings.EqualFold(u.Name, name) {
			return u.ID
		}
	}
	return ""
}

// fittedOf reads the pieces that are not the board's own: "battery: AMBER | display assembly: copy acme-7".
func fittedOf(l line, b *study.Record, k *model.Record) []store.Piece {
	var list []store.Piece
	for _, item := range l.list("fitted") {
		name, from, _ := strings.Cut(item, ":")
		from = strings.TrimSpace(from)
		p := k.PartNamed(strings.TrimSpace(name))
		if p == nil {
			l.refuse("fitted", "no part is called “"+name+"”")
			continue
		}
		piece := store.Piece{PartID: p.ID}
		word, rest, _ := strings.Cut(from, " ")
		switch {
		case unitNamed(b, from) != "":
			piece.Origin, piece.UnitID = "unit", unitNamed(b, from)
		case word == "off":
			piece.Origin = word
		case word == "copy" || word == "unknown":
			piece.Origin, piece.Lot = word, rest
		case word == store.Foreign:
			model, mark, _ := strings.Cut(rest, ";")
			piece.Origin, piece.Model, piece.Lot = word, strings.TrimSpace(model), strings.TrimSpace(mark)
		default:
			l.refuse("fitted", "“"+from+"” is neither a phone of this study, nor off, copy …, unknown … or “foreign …” for another model")
		}
		list = append(list, piece)
	}
	return list
}
