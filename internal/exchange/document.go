// Package exchange carries models and studies in and out in open formats: one JSON document of a whole model, tables as
// CSV and XLSX, the plan as DOT, the map as SVG, and the hand-over as one HTML file or as PDF.
package exchange

import (
	"encoding/json"
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"gorm.io/gorm"

	"waryowl/internal/app/model"
	"waryowl/internal/app/study"
	"waryowl/internal/store"
)

// Format names the document and its version; a newer one is refused.
const (
	Format  = "waryowl-document"
	Version = 1
)

// Study is a study with everything that was recorded in it.
type Study struct {
	store.Study
	Units     []store.Unit     `json:"units" nullable:"false"`
	Baselines []store.Baseline `json:"baselines" nullable:"false"`
	Log       []store.LogEntry `json:"log" nullable:"false"`
	Acts      []store.SwapAct  `json:"acts" nullable:"false"`
	Trials    []store.Trial    `json:"trials" nullable:"false"`
	Closings  []store.Closing  `json:"closings" nullable:"false"`
	Faults    []any            `json:"faults,omitempty" nullable:"false" doc:"searches of earlier versions; they are not read"`
}

// Document is a model with its studies. Ids in it are names ("part battery", "step s3", "unit PINE"), which a reader
// gives ids of its own; pictures and accounts are left out.
type Document struct {
	Format   string             `json:"format" enum:"waryowl-document"`
	Version  int                `json:"version" minimum:"1" maximum:"1"`
	Exported string             `json:"exported" doc:"ISO date"`
	Model    store.Model        `json:"model"`
	Parts    []store.Part       `json:"parts" nullable:"false"`
	Steps    []store.PlanStep   `json:"steps" nullable:"false"`
	Facts    []store.FactSaying `json:"facts" nullable:"false" doc:"what people said for the scores"`
	Lots     []store.Lot        `json:"lots" nullable:"false"`
	Outcomes []store.Outcome    `json:"outcomes" nullable:"false"`
	Cases    []store.FaultCase  `json:"cases,omitempty" nullable:"false" doc:"closed searches for a fault, without anything about the owner"`
	Studies  []Study            `json:"studies" nullable:"false"`
}

// Gather reads a model with all its studies, or with the one named.
func Gather(db *gorm.DB, modelID, studyID, date string) (Document, error) {
	d := Document{Format: Format, Version: Version, Exported: date, Studies: []Study{}}
	k, err := model.Load(db, modelID)
	if err != nil {
		return d, err
	}
	d.Model, d.Parts, d.Steps = k.Model, slices.Clone(k.Parts), slices.Clone(k.Steps)
	for i := range d.Parts {
		d.Parts[i].Guess = ""
	}
	byID := func(a, b store.Part) int { return strings.Compare(a.ID, b.ID) }
	slices.SortFunc(d.Parts, byID)
	if d.Facts, err = store.List[store.FactSaying](db, "id", "model_id = ?", modelID); err != nil {
		return d, err
	}
	if d.Lots, err = store.List[store.Lot](db, "id", "model_id = ?", modelID); err != nil {
		return d, err
	}
	if d.Outcomes, err = store.List[store.Outcome](db, "id", "model_id = ?", modelID); err != nil {
		return d, err
	}
	for i := range d.Outcomes {
		d.Outcomes[i].AccountID = ""
	}
	if d.Cases, err = store.List[store.FaultCase](db, "id", "model_id = ? AND state = 'repaired'", modelID); err != nil {
		return d, err
	}
	for i, c := range d.Cases { // what was done and what it was; whose phone and who did it stay here
		acts := []store.FaultAct{}
		for _, a := range c.Acts {
			acts = append(acts, store.FaultAct{Act: a.Act, Answer: a.Answer, Minutes: a.Minutes})
		}
		d.Cases[i].Acts, d.Cases[i].VisitID, d.Cases[i].Why = acts, "", ""
	}
	where, args := "model_id = ?", []any{modelID}
	if studyID != "" {
		where, args = where+" AND id = ?", append(args, studyID)
	}
	rows, err := store.List[store.Study](db, "id", where, args...)
	if err != nil {
		return d, err
	}
	if studyID != "" && len(rows) == 0 {
		return d, store.ErrNotFound
	}
	list, err := study.LoadAll(db, rows, study.Want{Read: []*model.Record{k}})
	if err != nil {
		return d, err
	}
	for _, b := range list {
		d.Studies = append(
			d.Studies,
			Study{Study: b.Study, Units: b.Units, Baselines: b.Baselines, Log: b.Log, Acts: b.Acts,
				Trials: b.Trials, Closings: b.Closings},
		)
	}
	return d, nil
}

var uuids = regexp.MustCompile(`"[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}"`)

// names gives every row of a document a name that a person can read, by its id.
func (d Document) names() map[string]string {
	by, taken := map[string]string{}, map[string]bool{}
	name := func(id, text string) {
		for n := 2; taken[text] || text == ""; n++ {
			base, _, _ := strings.Cut(text, " #")
			text = fmt.Sprintf("%s #%d", base, n)
		}
		taken[text] = true
		by[id] = text
	}
	name(d.Model.ID, "model "+d.Model.Maker+" "+d.Model.Name)
	for _, p := range d.Parts {
		name(p.ID, "part "+p.Name)
	}
	for _, s := range d.Steps {
		name(s.ID, "step "+s.Mark)
	}
	for i, f := range d.Facts {
		name(f.ID, fmt.Sprintf("saying %d", i+1))
	}
	for _, l := range d.Lots {
		name(l.ID, "lot "+l.Name)
	}
	for i, o := range d.Outcomes {
		name(o.ID, fmt.Sprintf("outcome %d", i+1))
	}
	for i, c := range d.Cases {
		name(c.ID, "case "+strconv.Itoa(i+1))
	}
	for _, s := range d.Studies {
		name(s.ID, "study "+s.Title)
		for _, u := range s.Units {
			name(u.ID, "unit "+u.Name)
		}
		for _, r := range s.Baselines {
			name(r.ID, "baseline "+r.CheckMark)
		}
		for _, r := range s.Log {
			name(r.ID, "entry "+strconv.Itoa(r.Seq))
		}
		for _, r := range s.Acts {
			name(r.ID, "act "+strconv.Itoa(r.Seq))
		}
		for _, r := range s.Trials {
			name(r.ID, "trial "+strconv.Itoa(r.Seq))
		}
		for i, r := range s.Closings {
			name(r.ID, "closing "+strconv.Itoa(i+1))
		}
	}
	return by
}

// Write is the document as text, ids replaced by names.
func (d Document) Write() ([]byte, error) {
	text, err := json.MarshalIndent(d, "", " ")
	if err != nil {
		return nil, err
	}
	names := d.names()
	return uuids.ReplaceAllFunc(text, func(id []byte) []byte {
		if name, known := names[string(id[1:len(id)-1])]; known {
			quoted, _ := json.Marshal(name)
			return quoted
		}
		return id
	}), nil
}
