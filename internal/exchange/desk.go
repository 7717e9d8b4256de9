package exchange

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"gorm.io/gorm"

	"waryowl/internal/app/desk"
	"waryowl/internal/app/model"
	"waryowl/internal/app/parts"
	"waryowl/internal/clean"
	"waryowl/internal/store"
)

// deskTables are the tables of the parts desk, for one model; amounts are in the currency, not in its minor units.
var deskTables = []Table{
	{
		Name: "offers",
		Columns: []Column{{Name: "seller", Type: "text", Needed: true}, {Name: "title", Type: "text", Needed: true},
			{
				Name:   "covers",
				Type:   "list",
				Needed: true,
				Doc:    "parts needed, with a number where a pack holds more: battery | screws 2",
			},
			{
				Name:   "grade",
				Type:   "text",
				Needed: true,
				Doc:    "original, used or copy",
			}, {Name: "price", Type: "number", Needed: true},
			{
				Name:   "currency",
				Type:   "text",
				Needed: true,
			}, {Name: "date", Type: "date"}, {Name: "stock", Type: "whole"},
			{Name: "lot", Type: "text"}, {Name: "lead", Unit: "d", Type: "number"}},
	},
	{
		Name: "deliveries",
		Columns: []Column{{Name: "seller", Type: "text", Needed: true}, {Name: "item", Type: "text", Needed: true},
			{
				Name:   "grade",
				Type:   "text",
				Needed: true,
			}, {Name: "lot", Type: "text", Needed: true}, {Name: "size", Type: "whole", Needed: true},
			{Name: "price", Type: "number"}, {Name: "currency", Type: "text"}, {Name: "date", Type: "date"},
			{Name: "inspected", Type: "whole"}, {Name: "bad", Type: "whole"}, {Name: "reasons", Type: "list"}},
	},
	{
		Name: "stock",
		Columns: []Column{{Name: "item", Type: "text", Needed: true}, {Name: "grade", Type: "text", Needed: true},
			{
				Name:   "quantity",
				Type:   "whole",
				Needed: true,
			}, {Name: "reserved", Type: "whole"}, {Name: "on order", Type: "whole"},
			{
				Name:   "place",
				Type:   "text",
				Needed: true,
			}, {Name: "quarantine", Type: "text"}, {Name: "origin", Type: "text"},
			{Name: "best before", Type: "date"}},
	},
}

func init() { Tables = append(Tables, deskTables...) }

func day(t *time.Time) string {
	if t == nil || t.IsZero() {
		return ""
	}
	return t.Format(time.DateOnly)
}

// amount is money as a table says it, in the digits of its currency.
func amount(minor int64, currency string) string {
	text, _, _ := strings.Cut(desk.Money(float64(minor), currency), " ")
	return text
}

func (t *Table) desk(db *gorm.DB, modelID string) error {
	d, err := desk.Load(db, []string{modelID}, false)
	if err != nil {
		return err
	}
	seller := func(id string) string {
		k := slices.IndexFunc(d.Sellers, func(s store.Seller) bool { return s.ID == id })
		if k < 0 {
			return ""
		}
		return d.Sellers[k].Name
	}
	add := func(cells ...string) { t.Rows = append(t.Rows, cells) }
	switch t.Name {
	case "offers":
		for _, o := range d.Offers {
			var covers []string
			for slot, n := range o.Covers {
				if n > 1 {
					slot += " " + strconv.Itoa(n)
				}
				covers = append(covers, slot)
			}
			slices.Sort(covers)
			add(
				seller(o.SellerID),
				o.Title,
				listed(covers),
				o.Grade,
				amount(o.Price, o.Currency),
				o.Currency,
				day(&o.PricedOn),
				strconv.Itoa(o.Stock),
				o.Lot,
				number(o.LeadDays),
			)
		}
	case "deliveries":
		for _, x := range d.Deliveries {
			price := ""
			if x.Price > 0 {
				price = amount(x.Price, x.Currency)
			}
			add(
				seller(x.SellerID),
				x.Item,
				x.Grade,
				x.Lot,
				whole(x.Size),
				price,
				x.Currency,
				day(&x.ReceivedOn),
				whole(x.Inspected),
				whole(x.Bad),
				listed(x.Reasons),
			)
		}
	default:
		for _, x := range d.Shelves {
			add(
				x.Item,
				x.Grade,
				strconv.Itoa(x.Quantity),
				whole(x.Reserved),
				whole(x.OnOrder),
				x.Place,
				x.Quarantine,
				x.Origin,
				day(x.BestBefore),
			)
		}
	}
	return nil
}

// money reads an amount in minor units.
func (l line) money(column, currency string) int64 {
	x := l.number(column)
	digits := 2
	if _, cents, ok := strings.Cut(amount(0, currency), "."); ok {
		digits = len(cents)
	} else {
		digits = 0
	}
	for range digits {
		x *= 10
	}
	minor := int64(x + 0.5)
	if d := x - float64(minor); d > 1e-6 || d < -1e-6 {
		l.refuse(column, fmt.Sprintf("%q is finer than %s has digits", l.cells[column], currency))
	}
	return minor
}

func (l line) date(column string) time.Time {
	text := l.cells[column]
	if text == "" {
		return time.Time{}
	}
	if err := clean.Date(column, text); err != nil {
		l.refuse(column, fmt.Sprintf("%q is no date like 2026-11-26", text))
	}
	at, _ := time.Parse(time.DateOnly, text)
	return at
}

// deskTaker takes rows of the desk: rows are added; one that is there word for word is as it was.
func deskTaker(table string) func(*store.Tx, *model.Record) taker {
	return func(tx *store.Tx, k *model.Record) taker {
		d, err := desk.Load(tx.DB, []string{k.ID}, false)
		have := Table{Name: table}
		if err == nil {
			err = have.desk(tx.DB, k.ID)
		}
		known := map[string]bool{}
		t, _ := TableNamed(table)
		word := func(cells []string) string { // 19.00 is 19, as a workbook has it
			cells = slices.Clone(cells)
			for i, c := range cells {
				if x, err := strconv.ParseFloat(c, 64); err == nil && t.Columns[i].Type != "text" {
					cells[i] = strconv.FormatFloat(x, 'f', -1, 64)
				}
			}
			return strings.ToLower(strings.Join(cells, "\x00"))
		}
		for _, r := range have.Rows {
			known[word(r)] = true
		}
		seller := func(l line) string {
			for _, s := range d.Sellers {
				if strings.EqualFold(s.Name, l.cells["seller"]) {
					return s.ID
				}
			}
			l.refuse("seller", "no seller is called “"+l.cells["seller"]+"”")
			return ""
		}
		var rows []func() error
		return taker{key: func(line) string { return "" },
			read: func(l line, v *Preview) {
				var cells []string
				for _, c := range t.Columns {
					cells = append(cells, l.cells[c.Name])
				}
				if known[word(cells)] {
					v.Same++
					return
				}
				v.told(true, nil, nil)
				switch table {
				case "offers":
					f := store.OfferFacts{
						SellerID: seller(l),
						ModelID:  k.ID,
						Title:    l.cells["title"],
						Covers:   map[string]int{},
						Grade:    l.cells["grade"],
						Currency: l.cells["currency"],
						PricedOn: l.date("date"),
						Stock:    1,
						Lot:      l.cells["lot"],
						LeadDays: l.number("lead"),
					}
					f.Price = l.money("price", f.Currency)
					if l.cells["stock"] != "" {
						f.Stock = l.whole("stock")
					}
					if f.PricedOn.IsZero() {
						f.PricedOn = tx.Arrived
					}
					for _, item := range l.list("covers") {
						n := 1
						if k := strings.LastIndexByte(item, ' '); k > 0 {
							if x, err := strconv.Atoi(item[k+1:]); err == nil {
								item, n = item[:k], x
							}
						}
						f.Covers[desk.Slot(item)] += n
					}
					valid(l, f, map[string]string{"price_minor": "price", "lead_days": "lead", "priced_on": "date"})
					rows = append(rows, func() error { return addRow(tx, &store.Offer{OfferFacts: f}) })
				case "deliveries":
					f := store.DeliveryFacts{
						SellerID: seller(l),
						ModelID:  k.ID,
						Item:     l.cells["item"],
						Grade:    l.cells["grade"],
						Lot:      l.cells["lot"],
						Size: l.whole(
							"size",
						),
						Currency:   l.cells["currency"],
						ReceivedOn: l.date("date"),
						Inspected:  l.whole("inspected"),
						Bad:        l.whole("bad"),
						Reasons:    l.list("reasons"),
					}
					f.Price = l.money("price", f.Currency)
					if f.ReceivedOn.IsZero() {
						f.ReceivedOn = tx.Arrived
					}
					valid(l, f, map[string]string{"price_minor": "price", "received_on": "date"})
					rows = append(rows, func() error { return addRow(tx, &store.Delivery{DeliveryFacts: f}) })
				default:
					f := store.ShelfFacts{
						ModelID:  k.ID,
						Item:     l.cells["item"],
						Grade:    l.cells["grade"],
						Quantity: l.whole("quantity"),
						Reserved: l.whole(
							"reserved",
						),
						OnOrder:    l.whole("on order"),
						Place:      l.cells["place"],
						Quarantine: l.cells["quarantine"],
						Origin:     l.cells["origin"],
					}
					if at := l.date("best before"); !at.IsZero() {
						f.BestBefore = &at
					}
					valid(l, f, map[string]string{"on_order": "on order", "best_before": "best before"})
					rows = append(rows, func() error { return addRow(tx, &store.Shelf{ShelfFacts: f}) })
				}
			},
			end: func(v *Preview, put bool) error {
				if err != nil {
					return err
				}
				for _, add := range rows {
					if !put {
						break
					}
					if err := add(); err != nil {
						return err
					}
				}
				return nil
			}}
	}
}

// addRow adds a row of the desk as its form would.
func addRow[T any, E store.Entity[T]](tx *store.Tx, row E) error {
	if err := parts.Check(tx.DB, row); err != nil {
		return err
	}
	return store.Create(tx, row)
}
