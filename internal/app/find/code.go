package find

import (
	"context"
	"encoding/base32"
	"strings"

	"github.com/google/uuid"

	"waryowl/internal/app/act"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// Coded is what a printed code stands for.
type Coded struct {
	Kind    string `json:"kind" enum:"part,unit,piece"`
	ModelID string `json:"model_id"`
	PartID  string `json:"part_id,omitempty"`
	StudyID string `json:"study_id,omitempty"`
	UnitID  string `json:"unit_id,omitempty"`
}

var letters = base32.StdEncoding.WithPadding(base32.NoPadding) // RFC 4648: letters and digits that a QR packs small

// Code is what a label says of a part ("p") or a unit ("u"): WO, the kind and the id, in letters that any scanner types.
func Code(kind, id string) string {
	raw, err := uuid.Parse(id)
	if err != nil {
		return ""
	}
	return "WO" + strings.ToUpper(kind) + letters.EncodeToString(raw[:])
}

// PieceCode is what a label says of a piece: the part that was built into one phone.
func PieceCode(unit, part string) string {
	u, err := uuid.Parse(unit)
	p, err2 := uuid.Parse(part)
	if err != nil || err2 != nil {
		return ""
	}
	return "WOC" + letters.EncodeToString(append(u[:], p[:]...))
}

// piece reads the code of a piece.
func piece(ctx context.Context, s *act.Service, text string, bad error) (Coded, error) {
	raw, err := letters.DecodeString(text[3:])
	if err != nil || len(raw) != 32 {
		return Coded{}, bad
	}
	c, err := Lookup(ctx, s, Code("u", uuid.UUID(raw[:16]).String()))
	if err != nil {
		return c, err
	}
	p, err := store.Get[store.Part](s.DB.WithContext(ctx), uuid.UUID(raw[16:]).String())
	if err != nil {
		return c, err
	}
	if p.ModelID != c.ModelID { // its study was merged into another model
		return c, bad
	}
	c.Kind, c.PartID = "piece", p.ID
	return c, nil
}

// Lookup says what a printed code stands for.
func Lookup(ctx context.Context, s *act.Service, code string) (Coded, error) {
	text := strings.ToUpper(strings.TrimSpace(code))
	bad := fault.New("code", code, "a code as printed on a label of this program")
	if strings.HasPrefix(text, "WOC") {
		return piece(ctx, s, text, bad)
	}
	if len(text) != 29 || !strings.HasPrefix(text, "WO") {
		return Coded{}, bad
	}
	raw, err := letters.DecodeString(text[3:])
	if err != nil || len(raw) != 16 {
		return Coded{}, bad
	}
	db, id := s.DB.WithContext(ctx), uuid.UUID(raw).String()
	switch text[2] {
	case 'P':
		p, err := store.Get[store.Part](db, id)
		if err != nil {
			return Coded{}, err
		}
		return Coded{Kind: "part", ModelID: p.ModelID, PartID: p.ID}, nil
	case 'U':
		u, err := store.Get[store.Unit](db, id)
		if err != nil {
			return Coded{}, err
		}
		st, err := store.Get[store.Study](db, u.StudyID)
		if err != nil {
			return Coded{}, err
		}
		return Coded{Kind: "unit", ModelID: st.ModelID, StudyID: st.ID, UnitID: u.ID}, nil
	}
	return Coded{}, bad
}
