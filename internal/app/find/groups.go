package find

import (
	"strings"

	"gorm.io/gorm"
)

// Hit is one thing that a search found, with the address of the room that shows it.
type Hit struct {
	Title string `json:"title"`
	Note  string `json:"note,omitempty"`
	Path  string `json:"path"`
}

// Group is what was found of one kind.
type Group struct {
	Kind string `json:"kind" enum:"model,part,phone,study,fault,visit,job,piece,lot,offer"`
	Hits []Hit  `json:"hits" nullable:"false"`
}

// most of a kind beside parts are listed.
const mostOfKind = 6

// others are the kinds beside parts: what is read of each, the text that a query is compared with, and the address, in
// which the id stands. Models come before parts where the query names nothing else.
var others = []struct{ kind, title, note, text, from, path string }{
	{"model", "CONCAT(m.maker, ' ', m.name)", "IF(m.predecessor = '', '', CONCAT('after ', m.predecessor))",
		"CONCAT_WS(' ', m.maker, m.name, m.aliases)",
		"models m WHERE m.deleted_at IS NULL", "CONCAT('/models/', m.id, '/ways')"},
	{"phone", "u.name", "CONCAT(m.maker, ' ', m.name, ', ', s.title)", "CONCAT_WS(' ', u.name, m.name)",
		"units u JOIN studies s ON s.id = u.study_id AND s.deleted_at IS NULL JOIN models m ON m.id = s.model_id " +
			"WHERE u.deleted_at IS NULL", "CONCAT('/studies/', s.id, '/strip?phone=', u.id)"},
	{"study", "s.title", "CONCAT(m.maker, ' ', m.name)", "CONCAT_WS(' ', s.title, m.maker, m.name, s.variant)",
		"studies s JOIN models m ON m.id = s.model_id WHERE s.deleted_at IS NULL",
		"CONCAT('/studies/', s.id, '/intake')"},
	{"fault", "v.sticker", "CONCAT_WS(', ', CONCAT(m.maker, ' ', m.name), NULLIF(f.symptom, ''))",
		"CONCAT_WS(' ', v.sticker, v.ticket, m.maker, m.name, f.symptom)",
		"fault_searches f JOIN visits v ON v.id = f.visit_id JOIN models m ON m.id = f.model_id WHERE f.deleted_at IS NULL",
		"CONCAT('/faults/', f.id)"},
	{"visit", "v.sticker", "CONCAT(m.maker, ' ', m.name, ', ', v.state)", "CONCAT_WS(' ', v.sticker, v.ticket, m.maker, m.name)",
		"visits v JOIN models m ON m.id = v.model_id WHERE v.deleted_at IS NULL AND v.state <> 'handed back' AND v.unit_id = '' AND " +
			"NOT EXISTS (SELECT 1 FROM fault_searches f WHERE f.visit_id = v.id AND v.part_id = '')", "CONCAT('/visits/', v.id)"},
	{"job", "CONCAT(w.job, ' job', IF(w.ref = '', '', ', '), w.ref)", "CONCAT(m.maker, ' ', m.name, ', ', w.status)",
		"CONCAT_WS(' ', w.job, w.ref, m.maker, m.name)",
		"work_orders w JOIN models m ON m.id = w.for_model_id WHERE w.deleted_at IS NULL AND w.status NOT IN ('closed', 'refused')",
		"'/parts?face=jobs'"},
	{"piece", "CONCAT(x.quantity, ' ', REPLACE(x.item, '-', ' '), ', ', x.place)",
		"CONCAT_WS(', ', CONCAT(m.maker, ' ', m.name), NULLIF(x.origin, ''))",
		"CONCAT_WS(' ', REPLACE(x.item, '-', ' '), x.place, x.origin, m.maker, m.name)",
		"shelves x JOIN models m ON m.id = x.for_model_id WHERE x.deleted_at IS NULL AND x.quantity > 0",
		"'/parts?face=stock'"},
	{"lot", "CONCAT('lot ', d.lot)", "CONCAT(d.size, ' ', REPLACE(d.item, '-', ' '), ', ', m.maker, ' ', m.name)",
		"CONCAT_WS(' ', d.lot, REPLACE(d.item, '-', ' '), m.maker, m.name)",
		"deliveries d JOIN models m ON m.id = d.for_model_id WHERE d.deleted_at IS NULL", "'/parts?face=incoming'"},
	{"offer", "o.title", "CONCAT(s.name, ', ', m.maker, ' ', m.name)",
		"CONCAT_WS(' ', o.title, s.name, m.maker, m.name, o.lot)",
		"offers o JOIN sellers s ON s.id = o.seller_id JOIN models m ON m.id = o.for_model_id WHERE o.deleted_at IS NULL",
		"'/parts?face=record'"},
	{"order", "CONCAT('order ', p.number)", "CONCAT(s.name, ', ', p.state)", "CONCAT_WS(' ', p.number, s.name, p.for_jobs, 'order')",
		"purchase_orders p JOIN sellers s ON s.id = p.seller_id WHERE p.deleted_at IS NULL",
		"CONCAT('/parts?face=order&order=', p.id)"},
}

// groups looks for the words of a query in every kind; parts are those that were ranked already.
func groups(db *gorm.DB, words []string, parts []Match) ([]Group, error) {
	list := []Group{}
	if len(words) == 0 {
		return list, nil
	}
	found := Group{Kind: "part", Hits: []Hit{}}
	for _, m := range parts {
		note := m.Model
		if m.Why != "" {
			note += ", by “" + m.Why + "”"
		}
		found.Hits = append(found.Hits, Hit{m.Part, note, "/models/" + m.ModelID + "/parts/" + m.PartID})
	}
	for _, k := range others {
		var args []any
		where := ""
		for _, w := range words[:min(mostWords, len(words))] {
			pattern := "%" + strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(w) + "%"
			where += " AND " + k.text + " LIKE ?"
			args = append(args, pattern)
		}
		g := Group{Kind: k.kind, Hits: []Hit{}}
		err := db.Raw("SELECT "+k.title+" AS title, COALESCE("+k.note+", '') AS note, "+k.path+" AS path FROM "+k.from+where+
			" ORDER BY title LIMIT ?", append(args, mostOfKind)...).Scan(&g.Hits).Error
		if err != nil {
			return nil, err
		}
		if len(g.Hits) > 0 {
			list = append(list, g)
		}
	}
	if len(found.Hits) == 0 {
		return list, nil
	}
	if len(list) > 0 && (list[0].Kind == "model" ||
		list[0].Kind == "phone") { // nothing but a model or a phone was named
		return append(append([]Group{list[0]}, found), list[1:]...), nil
	}
	return append([]Group{found}, list...), nil
}
