package exchange_test

import (
	"strings"
	"testing"
	"time"

	"waryowl/internal/app/orders"
	"waryowl/internal/exchange"
	"waryowl/internal/store"
)

// TestAnOrderOnPaper: what a seller has to know stands on the page and in the table; letters that the fonts lack are
// told before it is printed, and no cell runs in a spreadsheet.
func TestAnOrderOnPaper(t *testing.T) {
	sent := time.Date(2026, 11, 20, 9, 0, 0, 0, time.UTC)
	v := orders.View{PurchaseOrder: store.PurchaseOrder{Number: "2026-0007", Currency: "CAD", SentOn: &sent},
		Seller: "Tidewrack", Total: "1839.80 CAD", Subtotal: "1924.00 CAD", Shipping: "12.00 CAD", Coupon: "-96.20 CAD",
		From: "Ferry workshop\nOuter quay 3", Rows: []orders.Line{{OrderLine: store.OrderLine{No: 1, Code: "tw-1",
			Title: "Battery, boxed", Quantity: 4, Price: 2100}, Model: "Pellow Drift 4", Each: "21.00 CAD", Sum: "84.00 CAD"},
			{OrderLine: store.OrderLine{No: 2, Title: "=1+1 \u4e3b board", Quantity: 1, Price: 184000}, Model: "Pellow Drift 4",
				Each: "1840.00 CAD", Sum: "1840.00 CAD"}}}
	pdf, err := exchange.OrderPaper(v).PDF()
	if err != nil {
		t.Fatal(err)
	}
	text := strings.Join(strings.Fields(run(t, pdf, "order.pdf", "pdftotext", "-layout", "FILE", "-")), " ")
	for _, want := range []string{"Order 2026-0007", "Ferry workshop", "Outer quay 3", "To Tidewrack, 2026-11-20",
		"tw-1 Battery, boxed", "21.00 CAD", "84.00 CAD", "Coupon", "-96.20 CAD", "Total", "1839.80 CAD"} {
		if !strings.Contains(text, want) {
			t.Errorf("the page lacks %q: %s", want, text)
		}
	}
	if got := exchange.Unprintable(v); got != "\u4e3b" {
		t.Errorf("letters that are missing: %q", got)
	}
	table, err := exchange.OrderTable(v).CSV()
	if err != nil || !strings.Contains(string(table), "1,tw-1,\"Battery, boxed\",4,21.00,CAD,84.00\r\n") ||
		!strings.Contains(string(table), "2,,'=1+1") {
		t.Errorf("%s, %v", table, err)
	}
}
