package swap

import (
	"context"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/study"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
)

// FactorTable is the table of two or three slots for a check.
type FactorTable struct {
	Slots []string      `json:"slots" nullable:"false"`
	Check string        `json:"check"`
	Build string        `json:"build"`
	Cells []ledger.Cell `json:"cells" nullable:"false"`
}

// Factors fills the table of two or three slots for a check on a build.
func Factors(ctx context.Context, s *act.Service, studyID, build, check string, parts []string) (FactorTable, error) {
	b, err := study.Load(s.DB.WithContext(ctx), studyID)
	if err != nil {
		return FactorTable{}, err
	}
	if builds := b.Builds(); build == "" && len(builds) > 0 {
		build = builds[len(builds)-1]
	}
	t := FactorTable{Slots: []string{}, Check: check, Build: build}
	if len(parts) < 2 || len(parts) > 3 {
		return t, fault.New("parts", strings.Join(parts, ","), "two or three ids of parts")
	}
	for i, id := range parts {
		p, ok := b.Know.PartByID[id]
		if !ok || !p.Slot || slices.Contains(parts[:i], id) {
			return t, fault.New("parts", id, "ids of parts of this model, each once")
		}
		t.Slots = append(t.Slots, p.Name)
	}
	st := b.Ledger(build)
	if !slices.Contains(st.Checks, check) {
		return t, fault.New("check", check, "the short name of a check")
	}
	t.Cells = st.Factors(st.Walk(), t.Slots, check, true)
	return t, nil
}
