package parts

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/app/study"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// Tried is a trial in which a piece took part.
type Tried struct {
	Seq   int      `json:"seq"`
	Board string   `json:"board" doc:"the phone whose main board it was on"`
	Lost  []string `json:"lost" nullable:"false"`
	Weak  []string `json:"weak" nullable:"false"`
	Pass  int      `json:"pass"`
}

// Wrote is an entry of the log about a piece.
type Wrote struct {
	When time.Time `json:"when"`
	Text string    `json:"text"`
}

// PieceRoom is one piece: the part that was built into one phone.
type PieceRoom struct {
	Answer answer.Sentence `json:"answer" nullable:"false"`
	Study  desk.Named      `json:"study"`
	Unit   desk.Named      `json:"unit"`
	Part   desk.Named      `json:"part"`
	Where  string          `json:"where"`
	Tried  []Tried         `json:"tried" nullable:"false"`
	Log    []Wrote         `json:"log" nullable:"false"`
}

// OnePiece says where a piece is and what it did: the part that was built into one phone, so that the display out of one
// phone and the one out of another are told apart.
func OnePiece(ctx context.Context, s *act.Service, unitID, partID string) (PieceRoom, error) {
	db := s.DB.WithContext(ctx)
	u, err := store.Get[store.Unit](db, unitID)
	if err != nil {
		return PieceRoom{}, err
	}
	b, err := study.Load(db, u.StudyID)
	if err != nil {
		return PieceRoom{}, err
	}
	p, known := b.Know.PartByID[partID]
	if !known {
		return PieceRoom{}, fault.New("part", partID, "a part of this phone's model")
	}
	v := PieceRoom{Study: desk.Named{ID: b.ID, Name: b.Title}, Unit: desk.Named{ID: u.ID, Name: u.Name},
		Part: desk.Named{ID: p.ID, Name: p.Name}, Tried: []Tried{}, Log: []Wrote{}, Where: "in " + u.Name + ", where it was built in"}
	mine := func(x store.Piece) bool {
		return x.PartID == partID && x.UnitID == unitID && (x.Origin == "" || x.Origin == "unit")
	}
	entries, err := store.List[store.LogEntry](db, "seq, id", "unit_id = ? AND part_id = ?", unitID, partID)
	if err != nil {
		return v, err
	}
	for _, e := range entries {
		text := strings.TrimSpace(e.Line)
		if text == "" {
			text = strings.TrimSpace(e.Note)
		}
		v.Log = append(v.Log, Wrote{When: e.CreatedAt, Text: text})
	}
	if n := len(entries); n > 0 {
		v.Where = "out of " + u.Name
		if entries[n-1].Back {
			v.Where = "back in " + u.Name
		}
	}
	acts, err := store.List[store.SwapAct](db, "place, seq, id", "study_id = ? AND kind = 'move'", b.ID)
	if err != nil {
		return v, err
	}
	for _, a := range acts {
		for _, m := range a.Moves {
			if mine(m.Piece) {
				v.Where = "on the parts tray"
				if m.ToUnitID != "" {
					v.Where = "in " + b.Sticker(m.ToUnitID)
				}
			}
		}
	}
	trials, err := store.List[store.Trial](db, "seq", "study_id = ?", b.ID)
	if err != nil {
		return v, err
	}
	names := map[string]string{}
	for _, c := range b.Checks {
		names[c.Mark] = c.Name
	}
	for _, t := range trials {
		if !slices.ContainsFunc(t.Pieces, mine) {
			continue
		}
		x := Tried{Seq: t.Seq, Board: b.Sticker(t.BoardUnitID), Lost: []string{}, Weak: []string{}}
		for _, mark := range slices.Sorted(maps.Keys(t.Results)) {
			switch t.Results[mark] {
			case "lost":
				x.Lost = append(x.Lost, names[mark])
			case "weak":
				x.Weak = append(x.Weak, names[mark])
			case "pass":
				x.Pass++
			}
		}
		v.Tried = append(v.Tried, x)
	}
	v.Answer = answer.Sentence{answer.Text(fmt.Sprintf("The %s of %s: %s", p.Name, u.Name, v.Where))}
	if n := len(v.Tried); n > 0 {
		v.Answer = append(v.Answer, answer.Text("; "), answer.Count(n, "trial", "#tried"), answer.Text(" with it"))
	}
	v.Answer = append(v.Answer, answer.Text("."))
	return v, nil
}
