// Package trail is the room of who did what: the lines of every change, by row, study and person.
package trail

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"

	"gorm.io/gorm"
)

// Ask narrows the trail. Before is the number of a line: those before it are listed.
type Ask struct {
	Row, Study, Account, Entity string
	Lines                       []uint64 // only these
	Before                      uint64
	Most                        int
}

// Field is what a change did to one field, as JSON.
type Field struct {
	Name   string `json:"name"`
	Before string `json:"before,omitempty"`
	After  string `json:"after,omitempty"`
}

// Line is one change.
type Line struct {
	ID        uint64    `json:"id"`
	Who       string    `json:"who"`
	AccountID string    `json:"account_id,omitempty"`
	Verb      string    `json:"verb"`
	Entity    string    `json:"entity"`
	RowID     string    `json:"row_id"`
	Names     string    `json:"names,omitempty" doc:"what the row is called"`
	Happened  time.Time `json:"happened"`
	Arrived   time.Time `json:"arrived"`
	Fields    []Field   `json:"fields" nullable:"false"`
	Version   int       `json:"version" doc:"of the row after it"`
	Token     string    `json:"token,omitempty" doc:"name of the token by which another program did it"`
	Gone      bool      `json:"gone" doc:"it deleted the row, and nothing came after it"`
}

// Room is a page of the trail, the newest first.
type Room struct {
	Lines    []Line   `json:"lines" nullable:"false"`
	More     uint64   `json:"more,omitempty" doc:"ask with it as before for the lines that follow"`
	People   []Who    `json:"people" nullable:"false"`
	Entities []string `json:"entities" nullable:"false"`
}

// Who is somebody who may have changed something.
type Who struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// entities are the kinds of row that can be asked for.
var entities = []string{
	"Account", "Baseline", "BenchJob", "Check", "Closing", "Delivery", "DryRun", "Exchange",
	"FactSaying", "FaultCase", "FitTest", "LogEntry", "Lot", "Merge", "Model", "Need", "Offer", "OfferImport", "Outcome", "OwnWord",
	"Part", "PartPair", "Photo", "PlanStep", "Price", "Proposal", "PurchaseOrder", "Rubric", "ScoreMark", "Seller", "Shelf", "Study",
	"SwapAct", "Token", "Trial", "Unit", "Visit", "VisitEntry", "VisitPhoto", "Work", "Workshop",
}

// ofStudy are the tables whose rows belong to a study.
var ofStudy = []string{"units", "log_entries", "trials", "swap_acts", "photos"}

// quiet are fields that say nothing of what somebody did.
var quiet = map[string]bool{
	"id":         true,
	"version":    true,
	"created_at": true,
	"updated_at": true,
	"deleted_at": true,
	"Version":    true,
	"ID":         true,
	"CreatedAt":  true,
	"UpdatedAt":  true,
	"DeletedAt":  true,
}

// Show lists a page of the trail.
func Show(ctx context.Context, s *act.Service, q Ask) (Room, error) {
	v := Room{Lines: []Line{}, People: []Who{}, Entities: entities}
	if q.Entity != "" && !slices.Contains(entities, q.Entity) {
		return v, fault.New("entity", q.Entity, strings.Join(entities, ", "))
	}
	if q.Most <= 0 || q.Most > 1000 {
		q.Most = 50
	}
	db := s.DB.WithContext(ctx)
	accounts, err := store.List[store.Account](db, "display, id", "1 = 1")
	if err != nil {
		return v, err
	}
	names := map[string]string{"": "the program"}
	for _, a := range accounts {
		names[a.ID] = a.Display
		v.People = append(v.People, Who{ID: a.ID, Name: a.Display})
	}
	where, args := "1 = 1", []any{}
	add := func(condition string, arg ...any) {
		where += " AND " + condition
		args = append(args, arg...)
	}
	if q.Before > 0 {
		add("id < ?", q.Before)
	}
	if q.Lines != nil {
		add("id IN ?", q.Lines)
	}
	if q.Row != "" {
		add("row_id = ?", q.Row)
	}
	if q.Account != "" {
		add("account_id = ?", q.Account)
	}
	if q.Entity != "" {
		add("entity = ?", q.Entity)
	}
	if q.Study != "" {
		text, ids := "row_id IN (SELECT ?", []any{q.Study}
		for _, t := range ofStudy {
			text += " UNION SELECT id FROM " + t + " WHERE study_id = ?"
			ids = append(ids, q.Study)
		}
		add(text+")", ids...)
	}
	lines, err := store.List[store.AuditLine](db.Limit(q.Most+1), "id DESC", where, args...)
	if err != nil {
		return v, err
	}
	if len(lines) > q.Most {
		lines = lines[:q.Most]
		v.More = lines[len(lines)-1].ID
	}
	last, err := newest(db, lines)
	if err != nil {
		return v, err
	}
	for _, l := range lines {
		x := Line{
			ID:        l.ID,
			Who:       names[l.AccountID],
			Token:     l.Token,
			AccountID: l.AccountID,
			Verb:      l.Verb,
			Entity:    l.Entity,
			RowID:     l.RowID,
			Happened:  l.HappenedAt,
			Arrived:   l.ArrivedAt,
		}
		if x.Who == "" {
			x.Who = "somebody whose account is gone"
		}
		x.Fields, x.Names, x.Version = compare(l.BeforeState, l.AfterState)
		x.Gone = l.Verb == "delete" && last[l.RowID] == l.ID
		v.Lines = append(v.Lines, x)
	}
	return v, nil
}

// Told is what others changed in somebody's own work: the newest hundred lines, and how many of all are new.
type Told struct {
	Lines []Line `json:"lines" nullable:"false"`
	New   int64  `json:"new"`
}

// ToldOf lists what somebody is told.
func ToldOf(ctx context.Context, s *act.Service, account string) (Told, error) {
	v := Told{Lines: []Line{}}
	lines, unseen, err := store.Told(ctx, s.DB, account, 100)
	v.New = unseen
	if err != nil || len(lines) == 0 {
		return v, err
	}
	r, err := Show(ctx, s, Ask{Lines: lines, Most: 100})
	v.Lines = r.Lines
	return v, err
}

// newest are the numbers of the last lines of the rows that some lines deleted.
func newest(db *gorm.DB, lines []store.AuditLine) (map[string]uint64, error) {
	var ids []string
	for _, l := range lines {
		if l.Verb == "delete" {
			ids = append(ids, l.RowID)
		}
	}
	out := map[string]uint64{}
	if len(ids) == 0 {
		return out, nil
	}
	var rows []struct {
		RowID string
		ID    uint64
	}
	err := db.Raw("SELECT row_id, MAX(id) AS id FROM audit_lines WHERE row_id IN ? GROUP BY row_id", ids).Scan(&rows).Error
	for _, r := range rows {
		out[r.RowID] = r.ID
	}
	return out, err
}

// compare says which fields a change touched, what the row is called, and its version after it.
func compare(before, after *string) ([]Field, string, int) {
	read := func(text *string) map[string]json.RawMessage {
		m := map[string]json.RawMessage{}
		if text != nil {
			_ = json.Unmarshal([]byte(*text), &m)
		}
		return m
	}
	a, b := read(before), read(after)
	name := ""
	for _, k := range []string{"name", "Name", "title", "what", "line", "mark", "fact", "item", "went"} {
		var s string
		if json.Unmarshal(b[k], &s) == nil && s != "" && name == "" {
			name = s
		}
	}
	keys := map[string]bool{}
	for _, m := range []map[string]json.RawMessage{a, b} {
		for k := range m {
			keys[k] = !quiet[k]
		}
	}
	list := []Field{}
	for k, shown := range keys {
		x, y := string(a[k]), string(b[k])
		if shown && x != y &&
			!(before == nil && (y == `""` || y == "0" || y == "null" || y == "false" || y == "[]" || y == "{}")) {
			list = append(list, Field{Name: k, Before: short(x), After: short(y)})
		}
	}
	slices.SortFunc(list, func(a, b Field) int { return strings.Compare(a.Name, b.Name) })
	version := 0
	_ = json.Unmarshal(b["version"], &version)
	return list, short(name), version
}

func short(text string) string {
	if r := []rune(text); len(r) > 200 {
		return string(r[:200]) + "…"
	}
	return text
}

// Table is the trail as a table, for people who take it elsewhere: at most ten thousand lines.
func Table(ctx context.Context, s *act.Service, q Ask) ([][]string, error) {
	out := [][]string{{"line", "happened", "arrived", "who", "token", "verb", "entity", "row", "called", "fields"}}
	q.Most = 1000
	for range 10 {
		v, err := Show(ctx, s, q)
		if err != nil {
			return nil, err
		}
		for _, l := range v.Lines {
			var fields []string
			for _, f := range l.Fields {
				fields = append(fields, fmt.Sprintf("%s: %s -> %s", f.Name, f.Before, f.After))
			}
			out = append(
				out,
				[]string{strconv.FormatUint(l.ID, 10), l.Happened.Format(time.RFC3339), l.Arrived.Format(time.RFC3339),
					l.Who, l.Token, l.Verb, l.Entity, l.RowID, l.Names, strings.Join(fields, "; ")},
			)
		}
		if v.More == 0 {
			break
		}
		q.Before = v.More
	}
	return out, nil
}
