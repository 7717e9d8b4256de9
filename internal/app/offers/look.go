// Package offers reads a seller's list into the offers on record: what is new, what changed, what is asked; put in as one,
// and undone as one.
package offers

import (
	"context"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/pricelist"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// List is a seller's list as it comes in, with what was said about it.
type List struct {
	Name     string             `json:"name" maxLength:"120" doc:"of the file, or of what was pasted"`
	File     []byte             `json:"file" doc:"CSV or XLSX, or what was copied out of a spreadsheet"`
	Model    string             `json:"model,omitempty" doc:"id of the model that all rows are for, where no column says it"`
	Seller   string             `json:"seller,omitempty" maxLength:"80" doc:"of all rows, where no column says it"`
	Grade    string             `json:"grade,omitempty" enum:"original,used,copy,"`
	Currency string             `json:"currency,omitempty" pattern:"^([A-Z]{3})?$"`
	Mapping  map[string]int     `json:"mapping,omitempty" doc:"field: place of its column, from 0"`
	Answers  map[string]string  `json:"answers,omitempty" doc:"question: option"`
	Cells    []pricelist.Mended `json:"cells,omitempty" nullable:"false" maxItems:"500" doc:"what cells say instead"`
	Sellers  []NewSeller        `json:"new_sellers,omitempty" nullable:"false" maxItems:"20" doc:"to be added"`
	Slots    []string           `json:"new_slots,omitempty" nullable:"false" maxItems:"40" doc:"names of parts that are new"`
}

// NewSeller is a seller who is not on record yet.
type NewSeller struct {
	Name     string `json:"name" minLength:"1" maxLength:"80"`
	Currency string `json:"currency" pattern:"^[A-Z]{3}$"`
}

// Row is a row of the list as it was understood.
type Row struct {
	Line     int      `json:"line"`
	Decision string   `json:"decision" enum:"new,changed,same,duplicate,asked,wrong"`
	Cells    []string `json:"cells" nullable:"false" doc:"as they stand in the list"`
	Says     string   `json:"says,omitempty" doc:"what it is taken to be"`
	Changed  []string `json:"changed,omitempty" nullable:"false" doc:"what changes, with what was before"`
}

// Column is a column with how it was read.
type Column struct {
	Letter string `json:"letter"`
	Head   string `json:"head"`
	Field  string `json:"field,omitempty" doc:"empty: left out"`
	Reads  string `json:"reads,omitempty" doc:"how its figures or days were read"`
}

// Look is a list as it was understood.
type Look struct {
	Kind       string               `json:"kind" doc:"what the file is"`
	Columns    []Column             `json:"columns" nullable:"false"`
	Fields     []string             `json:"fields" nullable:"false" doc:"that a column may be"`
	Missing    []string             `json:"missing" nullable:"false" doc:"without which no row can be read"`
	Questions  []pricelist.Question `json:"questions" nullable:"false"`
	Errors     []Wrong              `json:"errors" nullable:"false"`
	Rows       []Row                `json:"rows" nullable:"false" doc:"at most two hundred of each decision"`
	Counts     pricelist.Counts     `json:"counts"`
	Gone       []string             `json:"gone" nullable:"false" doc:"offers of these sellers that the list does not have"`
	Sellers    []string             `json:"sellers" nullable:"false" doc:"on record, and new"`
	Answers    map[string]string    `json:"answers" doc:"given now, or for this seller's last list"`
	Remembered []string             `json:"remembered" nullable:"false" doc:"questions that an earlier list answered"`
	Known      string               `json:"known" doc:"what was on record; put the list in with it"`
}

// Wrong is a cell that cannot be taken, with the nearest names where it names something.
type Wrong struct {
	pricelist.Wrong
	Near []string `json:"near" nullable:"false"`
}

// book is what is on record, as a list is compared with it.
type book struct {
	sellers map[string]store.Seller // by name
	models  map[string]store.Model  // by name
	byID    map[string]string       // names of models
	offers  map[string]store.Offer
	known   string
	in      pricelist.Input
}

// load reads what a list is compared with.
func load(db *gorm.DB, l List, today time.Time) (*book, error) {
	b := &book{sellers: map[string]store.Seller{}, models: map[string]store.Model{}, byID: map[string]string{},
		offers: map[string]store.Offer{}}
	b.in = pricelist.Input{Today: today.Format(time.DateOnly), File: base64.StdEncoding.EncodeToString(l.File),
		Mapping: l.Mapping, Answers: maps.Clone(l.Answers), Cells: l.Cells,
		Defaults: pricelist.Defaults{Seller: l.Seller, Grade: l.Grade, Currency: l.Currency}}
	sellers, err := store.List[store.Seller](db, "name, id", "1 = 1")
	if err != nil {
		return nil, err
	}
	names := map[string]string{}
	for _, s := range sellers {
		b.sellers[s.Name], names[s.ID] = s, s.Name
		b.in.Sellers = append(b.in.Sellers, pricelist.Seller{Name: s.Name, Currency: s.Currency})
	}
	for _, s := range l.Sellers {
		if _, known := b.sellers[strings.TrimSpace(s.Name)]; !known {
			b.in.Sellers = append(b.in.Sellers, pricelist.Seller{Name: strings.TrimSpace(s.Name), Currency: s.Currency})
		}
	}
	if len(b.in.Sellers) == 0 { // none on record: a name of none, so that rows say which one is wanted
		b.in.Sellers = []pricelist.Seller{{}}
	}
	models, err := store.List[store.Model](db, "maker, name, id", "1 = 1")
	if err != nil {
		return nil, err
	}
	short := map[string]int{}
	for _, m := range models {
		short[m.Name]++
	}
	for _, m := range models {
		name := m.Maker + " " + m.Name
		b.models[name], b.byID[m.ID] = m, name
		x := pricelist.Model{Name: name, Also: slices.Clone(m.Aliases)}
		if short[m.Name] == 1 {
			x.Also = append(x.Also, m.Name)
		}
		b.in.Models = append(b.in.Models, x)
	}
	if l.Model != "" {
		name, known := b.byID[l.Model]
		if !known {
			return nil, fault.New("model", l.Model, "the id of a model")
		}
		b.in.Defaults.Model = name
	}
	offers, err := store.List[store.Offer](db, "id", "1 = 1")
	if err != nil {
		return nil, err
	}
	slots := map[string]bool{"screws": true}
	for _, k := range trade.Kinds {
		slots[k.ID] = true
	}
	for _, s := range l.Slots {
		slots[desk.Slot(s)] = true
	}
	sum := sha256.New()
	for _, o := range offers {
		fmt.Fprintln(sum, o.ID, o.Version)
		b.offers[o.ID] = o
		for s := range o.Covers {
			slots[s] = true
		}
		if names[o.SellerID] == "" || b.byID[o.ModelID] == "" {
			continue // of a seller or a model that is gone
		}
		stock, lead := float64(o.Stock), o.LeadDays
		b.in.Known = append(b.in.Known, pricelist.Offer{ID: o.ID, Model: b.byID[o.ModelID], Seller: names[o.SellerID],
			Code: o.Code, Title: o.Title, Covers: o.Covers, Grade: o.Grade, PriceMinor: o.Price, Currency: o.Currency,
			Date: o.PricedOn.Format(time.DateOnly), Stock: &stock, Lot: o.Lot, Lead: &lead})
	}
	b.known = hex.EncodeToString(sum.Sum(nil))[:16]
	var used []struct{ Name string }
	if err := db.Raw(`SELECT DISTINCT consumable AS name FROM plan_steps WHERE deleted_at IS NULL AND consumable <> ''
		UNION SELECT DISTINCT item FROM shelves WHERE deleted_at IS NULL
		UNION SELECT DISTINCT name FROM parts WHERE deleted_at IS NULL AND kind = ''`).Scan(&used).Error; err != nil {
		return nil, err
	}
	for _, u := range used {
		slots[desk.Slot(u.Name)] = true
	}
	delete(slots, "")
	b.in.Slots = slices.Sorted(maps.Keys(slots))
	return b, nil
}

// read reads the list; where it asks what an earlier list of the same sellers answered, it is answered so.
func (b *book) read(db *gorm.DB) (pricelist.Output, []string, error) {
	remembered := []string{}
	out, err := pricelist.Read(b.in)
	if err != nil || len(out.Questions) == 0 {
		return out, remembered, err
	}
	sellers := sellersOf(out, b.in)
	earlier, err := store.List[store.OfferImport](db.Limit(20), "id DESC", "NOT undone")
	if err != nil {
		return out, remembered, err
	}
	for _, e := range earlier {
		if !slices.Equal(e.Sellers, sellers) {
			continue
		}
		for _, q := range out.Questions {
			if a := e.Answers[q.ID]; b.in.Answers[q.ID] == "" && slices.Contains(q.Options, a) {
				if b.in.Answers == nil {
					b.in.Answers = map[string]string{}
				}
				b.in.Answers[q.ID] = a
				remembered = append(remembered, q.ID)
			}
		}
		break
	}
	if len(remembered) > 0 {
		out, err = pricelist.Read(b.in)
	}
	return out, remembered, err
}

// sellersOf are the sellers of a list, by name; of rows that wait for an answer too.
func sellersOf(out pricelist.Output, in pricelist.Input) []string {
	list := map[string]bool{}
	for _, r := range out.Rows {
		if r.Offer != nil {
			list[r.Offer.Seller] = true
		}
	}
	if k, here := out.Mapping["seller"]; here {
		texts, _ := pricelist.Texts(in)
		for line, cells := range texts {
			for _, s := range in.Sellers {
				if line > out.HeadLine && k < len(cells) && s.Name != "" && strings.EqualFold(strings.TrimSpace(cells[k]), s.Name) {
					list[s.Name] = true
				}
			}
		}
	} else if in.Defaults.Seller != "" {
		list[in.Defaults.Seller] = true
	}
	return slices.Sorted(maps.Keys(list))
}

// fieldNames are the fields that a column may be.
var fieldNames = []string{"seller", "code", "title", "covers", "grade", "price", "currency", "date", "stock", "lot",
	"lead", "model"}

// mostShown is how many rows of a decision are shown.
const mostShown = 200

// See reads a list and says what would be put in.
func See(ctx context.Context, s *act.Service, l List) (Look, error) {
	db := s.DB.WithContext(ctx)
	b, err := load(db, l, s.Now())
	if err != nil {
		return Look{}, err
	}
	out, remembered, err := b.read(db)
	if err != nil {
		return Look{}, err
	}
	return b.show(out, remembered)
}

func (b *book) show(out pricelist.Output, remembered []string) (Look, error) {
	v := Look{Kind: kindOf(out), Columns: []Column{}, Fields: fieldNames, Missing: out.Missing, Questions: out.Questions,
		Errors: []Wrong{}, Rows: []Row{}, Counts: out.Counts, Gone: []string{}, Sellers: []string{}, Answers: b.in.Answers,
		Remembered: remembered, Known: b.known}
	if v.Answers == nil {
		v.Answers = map[string]string{}
	}
	for _, s := range b.in.Sellers {
		if s.Name != "" {
			v.Sellers = append(v.Sellers, s.Name)
		}
	}
	texts, err := pricelist.Texts(b.in)
	if err != nil {
		return v, err
	}
	at := map[int]string{}
	for f, k := range out.Mapping {
		at[k] = f
	}
	for k, head := range texts[out.HeadLine] {
		c := Column{Letter: pricelist.Letter(k), Head: head, Field: at[k]}
		if how := out.Columns[c.Field]; how.Decimal != nil && *how.Decimal != "" {
			c.Reads = map[string]string{".": "a point before the decimals", ",": "a comma before the decimals"}[*how.Decimal]
		} else if how.Order != nil && *how.Order != "" {
			c.Reads = map[string]string{"dmy": "the day first", "mdy": "the month first"}[*how.Order]
		}
		v.Columns = append(v.Columns, c)
	}
	for _, e := range out.Errors[:min(mostShown, len(out.Errors))] {
		v.Errors = append(v.Errors, Wrong{e, b.near(e)})
	}
	shown := map[string]int{}
	for _, r := range out.Rows {
		if shown[r.Decision]++; shown[r.Decision] > mostShown {
			continue
		}
		x := Row{Line: r.Line, Decision: r.Decision, Cells: append([]string{}, texts[r.Line]...), Changed: []string{}}
		if r.Offer != nil {
			x.Says = said(*r.Offer)
			for _, f := range r.Changed {
				x.Changed = append(x.Changed, b.was(f, r))
			}
		}
		v.Rows = append(v.Rows, x)
	}
	for _, id := range out.Gone[:min(mostShown, len(out.Gone))] {
		o := b.offers[id]
		v.Gone = append(v.Gone, o.Title+", "+b.byID[o.ModelID])
	}
	return v, nil
}

func kindOf(out pricelist.Output) string {
	switch {
	case out.Encoding == "xlsx":
		return "a workbook, its first sheet"
	case out.Delimiter == "\t":
		return "rows out of a spreadsheet"
	case out.Delimiter == "":
		return "a text of one column"
	}
	return fmt.Sprintf("a text with %q between its fields, %s", out.Delimiter, strings.ToUpper(out.Encoding))
}

// said says an offer in a line.
func said(o pricelist.Offer) string {
	var covers []string
	for _, s := range slices.Sorted(maps.Keys(o.Covers)) {
		text := desk.Said(s)
		if o.Covers[s] > 1 {
			text = fmt.Sprintf("%d × %s", o.Covers[s], text)
		}
		covers = append(covers, text)
	}
	return fmt.Sprintf("%s, %s, for the %s: %s, %s", o.Title, o.Grade, o.Model, strings.Join(covers, " and "),
		desk.Money(float64(o.PriceMinor), o.Currency))
}

// was says a changed field with what it was.
func (b *book) was(field string, r pricelist.Row) string {
	k := b.offers[r.ID]
	before, now := "", ""
	switch field {
	case "price", "currency":
		before, now = desk.Money(float64(k.Price), k.Currency), desk.Money(float64(r.Offer.PriceMinor), r.Offer.Currency)
	case "date":
		before, now = k.PricedOn.Format(time.DateOnly), r.Offer.Date
	case "stock":
		before, now = fmt.Sprint(k.Stock), fmt.Sprint(*r.Offer.Stock)
	case "code":
		before, now = k.Code, r.Offer.Code
	case "title":
		before, now = k.Title, r.Offer.Title
	case "lot":
		before, now = k.Lot, r.Offer.Lot
	case "lead":
		before, now = fmt.Sprint(k.LeadDays), fmt.Sprint(*r.Offer.Lead)
	case "grade":
		before, now = k.Grade, r.Offer.Grade
	default:
		return field + " changed"
	}
	if before == "" {
		return field + " " + now
	}
	return fmt.Sprintf("%s %s, was %s", field, now, before)
}

// near are the names on record that are nearest to what stands in a wrong cell.
func (b *book) near(e pricelist.Wrong) []string {
	var from []string
	switch e.Field {
	case "covers":
		from = b.in.Slots
	case "seller":
		for _, s := range b.in.Sellers {
			from = append(from, s.Name)
		}
	case "model":
		for _, m := range b.in.Models {
			from = append(from, m.Name)
		}
	}
	return append([]string{}, shorthand.Closest(e.Found, from)...)
}
