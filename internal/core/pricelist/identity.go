package pricelist

import (
	"cmp"
	"slices"
	"strings"
)

// identify says of each row which known offer it is, and what changed.
func (r *reader) identify(list []*said) {
	byCode, byKind := map[string][]int{}, map[string][]int{}
	for i, k := range r.in.Known {
		if k.Code != "" {
			byCode[codeKey(k)] = append(byCode[codeKey(k)], i)
		}
		byKind[kindKey(k)] = append(byKind[kindKey(k)], i)
	}
	for _, ids := range byKind { // the newest first, then the greatest id
		slices.SortFunc(ids, func(a, b int) int {
			x, y := r.in.Known[a], r.in.Known[b]
			return cmp.Or(strings.Compare(y.Date, x.Date), strings.Compare(y.ID, x.ID))
		})
	}
	used := make([]bool, len(r.in.Known))
	sellers := map[string]bool{}
	seenCode, seenKind := map[string]*said{}, map[string][]*said{}
	for _, s := range list {
		if s.offer.Seller != "" {
			sellers[plain(s.offer.Seller)] = true
		}
		if s.wrong || s.asked {
			continue
		}
		code := codeKey(s.offer)
		kind := kindKey(s.offer)
		var twin *said
		if s.offer.Code != "" {
			twin = seenCode[code]
		}
		known := -1
		if twin == nil {
			known = r.match(s.offer, code, kind, byCode, byKind, used)
			for _, t := range seenKind[kind] {
				both := t.offer.Code != "" && s.offer.Code != ""
				if !both && (known < 0 || t.alike(s)) {
					twin = t
					break
				}
			}
		}
		if twin != nil {
			if twin.alike(s) {
				r.put(Row{Line: s.line, Decision: "duplicate"})
				r.out.Counts.Duplicate++
				s.row = -1
				continue
			}
			field, c := "code", s.offer.Code
			if c == "" {
				field = "covers"
				x, _ := r.cell(s, "covers")
				c = x.text
			}
			r.fail(s, field, c, "line "+itoa(twin.line)+" is the same offer and says otherwise")
			continue
		}
		if s.offer.Code != "" {
			seenCode[code] = s
		}
		seenKind[kind] = append(seenKind[kind], s)
		if known >= 0 {
			used[known] = true
			r.update(s, r.in.Known[known])
			continue
		}
		o := s.offer
		if o.Stock == nil {
			one := 1.
			o.Stock = &one
		}
		if o.Date == "" {
			o.Date = r.in.Today
		}
		r.put(Row{Line: s.line, Decision: "new", Offer: &o})
		r.out.Counts.New++
	}
	for _, s := range list {
		switch {
		case s.wrong:
			r.put(Row{Line: s.line, Decision: "wrong"})
			r.out.Counts.Wrong++
		case s.asked:
			r.put(Row{Line: s.line, Decision: "asked"})
			r.out.Counts.Asked++
		}
	}
	slices.SortStableFunc(r.out.Rows, func(a, b Row) int { return cmp.Compare(a.Line, b.Line) })
	for i, k := range r.in.Known {
		if !used[i] && sellers[plain(k.Seller)] {
			r.out.Gone = append(r.out.Gone, k.ID)
		}
	}
	slices.Sort(r.out.Gone)
	r.out.Counts.Gone = len(r.out.Gone)
}

func (r *reader) put(row Row) { r.out.Rows = append(r.out.Rows, row) }

// kindKey is what an offer without a code is known by.
func kindKey(o Offer) string {
	return strings.Join([]string{plain(o.Seller), plain(o.Model), coversKey(o.Covers), o.Grade, plain(o.Lot)}, "\x00")
}

// codeKey is what an offer with a code is known by; one code may stand for a piece of several models.
func codeKey(o Offer) string {
	return strings.Join([]string{plain(o.Seller), plain(o.Model), plain(o.Code)}, "\x00")
}

// match is the known offer that a row is, −1 when it is none: by its code, else by what it covers unless both have a
// code.
func (r *reader) match(o Offer, code, kind string, byCode, byKind map[string][]int, used []bool) int {
	if o.Code != "" {
		for _, i := range byCode[code] {
			if !used[i] {
				return i
			}
		}
	}
	for _, i := range byKind[kind] {
		if !used[i] && !(o.Code != "" && r.in.Known[i].Code != "") {
			return i
		}
	}
	return -1
}

// alike says whether two rows say the same word for word.
func (s *said) alike(t *said) bool {
	a, b := s.offer, t.offer
	same := func(x, y *float64) bool { return x == nil && y == nil || x != nil && y != nil && *x == *y }
	return plain(a.Code) == plain(b.Code) && plain(a.Title) == plain(b.Title) && kindKey(a) == kindKey(b) &&
		a.PriceMinor == b.PriceMinor && a.Currency == b.Currency && a.Date == b.Date && same(a.Stock, b.Stock) &&
		same(a.Lead, b.Lead)
}

// update says what of a known offer changed; what the row leaves out stays.
func (r *reader) update(s *said, k Offer) {
	o, n := k, s.offer
	o.ID = ""
	var changed []string
	note := func(field string, is bool) bool {
		if is {
			changed = append(changed, field)
		}
		return is
	}
	if note("code", s.has["code"] && plain(n.Code) != plain(k.Code)) {
		o.Code = n.Code
	}
	if note("title", plain(n.Title) != plain(k.Title)) {
		o.Title = n.Title
	}
	if note("covers", coversKey(n.Covers) != coversKey(k.Covers)) {
		o.Covers = n.Covers
	}
	if note("grade", n.Grade != k.Grade) {
		o.Grade = n.Grade
	}
	if note("price", n.PriceMinor != k.PriceMinor) {
		o.PriceMinor = n.PriceMinor
	}
	if note("currency", n.Currency != k.Currency) {
		o.Currency = n.Currency
	}
	if note("date", s.has["date"] && n.Date != k.Date) {
		o.Date = n.Date
	}
	if note("stock", s.has["stock"] && (k.Stock == nil || *k.Stock != *n.Stock)) {
		o.Stock = n.Stock
	}
	if note("lot", s.has["lot"] && plain(n.Lot) != plain(k.Lot)) {
		o.Lot = n.Lot
	}
	if note("lead", s.has["lead"] && (k.Lead == nil || *k.Lead != *n.Lead)) {
		o.Lead = n.Lead
	}
	if len(changed) == 0 {
		r.put(Row{Line: s.line, Decision: "same", ID: k.ID, Offer: &o})
		r.out.Counts.Same++
		return
	}
	r.put(Row{Line: s.line, Decision: "changed", ID: k.ID, Changed: changed, Offer: &o})
	r.out.Counts.Changed++
}
