package exchange

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"waryowl/internal/app/orders"
)

// OrderPaper is an order as it is printed and sent.
func OrderPaper(v orders.View) Paper {
	day := "draft, not sent"
	if v.SentOn != nil {
		day = v.SentOn.Format(time.DateOnly)
	}
	p := Paper{Title: "Order " + v.Number, Stamp: "Order " + v.Number + ", " + day,
		Notice: "What is bad or not what was ordered goes back by your terms."}
	for line := range strings.SplitSeq(strings.TrimSpace(v.From), "\n") {
		p.add(Block{Quiet: line})
	}
	p.add(Block{Text: "To " + v.Seller + ", " + day})
	if v.WantedBy != nil {
		p.add(Block{Text: "Please deliver by " + v.WantedBy.Format(time.DateOnly) + "."})
	}
	g := &Grid{Heads: []string{"No", "Code", "What", "For", "Packs", "Each", "Sum"}, Wide: []float64{0.05, 0.12, 0.27, 0.19, 0.09, 0.14, 0.14}}
	for _, l := range v.Rows {
		g.Rows = append(g.Rows, []string{fmt.Sprint(l.No), l.Code, l.Title, l.Model, fmt.Sprint(l.Quantity),
			l.Each, l.Sum})
	}
	p.add(Block{Table: g})
	sums := &Grid{Heads: []string{"", ""}, Wide: []float64{0.8, 0.2}, Rows: [][]string{{"Parts", v.Subtotal}}}
	if v.Coupon != "" {
		sums.Rows = append(sums.Rows, []string{"Coupon", v.Coupon})
	}
	sums.Rows = append(sums.Rows, []string{"Shipping", v.Shipping}, []string{"Total", v.Total})
	p.add(Block{Table: sums})
	for _, c := range v.Claims {
		p.add(Block{Quiet: fmt.Sprintf("Claim: %d bad, %s, told by %s", c.Pieces, c.Amount, c.By.Format(time.DateOnly))})
	}
	return p
}

// OrderTable is an order as a table.
func OrderTable(v orders.View) Table {
	t := Table{Name: "order " + v.Number, Columns: []Column{{Name: "no", Type: "whole"}, {Name: "code", Type: "text"},
		{Name: "title", Type: "text"}, {Name: "quantity", Type: "whole"}, {Name: "unit price", Type: "number"},
		{Name: "currency", Type: "text"}, {Name: "sum", Type: "number"}}}
	for _, l := range v.Rows {
		t.Rows = append(t.Rows, []string{fmt.Sprint(l.No), l.Code, l.Title, fmt.Sprint(l.Quantity),
			amount(l.Price, v.Currency), v.Currency, amount(int64(l.Quantity)*l.Price, v.Currency)})
	}
	return t
}

// Unprintable are the letters of an order that the fonts of a PDF do not hold: they are printed as question marks.
func Unprintable(v orders.View) string {
	var list []rune
	text := v.Seller + v.Number
	for _, l := range v.Rows {
		text += l.Title + l.Code + l.Model
	}
	for _, r := range text {
		if inFont(string(r)) == "?" && r != '?' && !slices.Contains(list, r) {
			list = append(list, r)
		}
	}
	return string(list)
}
