package pricelist

import (
	"cmp"
	"slices"
	"strings"
)

// said is what a row says; the fields that it leaves out stay as they were.
type said struct {
	line    int
	rec     record
	offer   Offer
	wrong   bool
	asked   bool
	has     map[string]bool
	figures map[string][]reading // ways to read price, stock and lead
	price   priced
	day     day
	hasDay  bool
	row     int // in the output
}

// figureFields are the columns of figures.
var figureFields = []string{"price", "stock", "lead"}

func (r *reader) fail(s *said, field, found, message string) {
	s.wrong = true
	k, here := r.at[field]
	w := Wrong{Line: s.line, Field: field, Found: found, Message: message}
	if here {
		w.Column = Letter(k)
		if k < len(r.heads) {
			w.Head = r.heads[k]
		}
	}
	r.out.Errors = append(r.out.Errors, w)
}

func (r *reader) cell(s *said, field string) (cell, bool) {
	k, here := r.at[field]
	if !here {
		return cell{}, false
	}
	c := s.rec.at(k)
	return c, c.kind != empty
}

// rows reads the records behind the head: first what each says by itself, then what its column decides, then which
// offer it is.
func (r *reader) rows() {
	var list []*said
	for _, rec := range r.records[r.first:] {
		if rec.blank() {
			continue
		}
		s := &said{line: rec.line, rec: rec, has: map[string]bool{}, figures: map[string][]reading{}}
		r.words(s)
		for _, f := range figureFields {
			r.figure(s, f)
		}
		r.dated(s)
		list = append(list, s)
	}
	for _, f := range figureFields {
		r.decideFigures(list, f)
	}
	r.decideDays(list)
	for _, s := range list {
		r.money(s)
	}
	r.identify(list)
	r.finish()
}

// words reads the fields of text.
func (r *reader) words(s *said) {
	get := func(field string) string {
		c, there := r.cell(s, field)
		if !there {
			return ""
		}
		if c.kind == broken {
			r.fail(s, field, c.text, "an error of the sheet, or a formula that was never computed")
			return ""
		}
		return strings.TrimSpace(c.text)
	}
	need := func(field, value string) {
		if c, there := r.cell(s, field); value == "" && !(there && c.kind == broken) {
			r.fail(s, field, "", "needed")
		}
	}
	seller := cmp.Or(get("seller"), r.in.Defaults.Seller)
	need("seller", seller)
	if known, ok := r.sellers[plain(seller)]; ok {
		seller = known.Name
	} else if len(r.in.Sellers) > 0 && seller != "" {
		r.fail(s, "seller", seller, "no seller on record")
		seller = ""
	}
	s.offer.Seller = seller
	if len(r.in.Models) > 0 {
		m := cmp.Or(get(modelField), r.in.Defaults.Model)
		need(modelField, m)
		if name, ok := r.models[plain(m)]; ok {
			s.offer.Model = name
		} else if m != "" {
			r.fail(s, modelField, m, "no model on record")
		}
	}
	if s.offer.Code = get("code"); s.offer.Code != "" {
		s.has["code"] = true
	}
	s.offer.Title = get("title")
	need("title", s.offer.Title)
	if g := cmp.Or(get("grade"), r.in.Defaults.Grade); g == "" {
		need("grade", "")
	} else if v, ok := gradeOf(g); ok {
		s.offer.Grade = v
	} else {
		r.fail(s, "grade", g, "original, used or copy")
	}
	if c := get("covers"); c == "" {
		need("covers", "")
	} else if v, message := r.covers(c); message != "" {
		r.fail(s, "covers", c, message)
	} else {
		s.offer.Covers = v
	}
	if s.offer.Lot = get("lot"); s.offer.Lot != "" {
		s.has["lot"] = true
	}
}

// figure reads a cell of figures in every way that it can be read.
func (r *reader) figure(s *said, field string) {
	c, there := r.cell(s, field)
	if !there {
		if field == "price" {
			r.fail(s, field, "", "needed")
		}
		return
	}
	t := strings.TrimSpace(c.text)
	switch {
	case c.kind == broken:
		r.fail(s, field, c.text, "an error of the sheet, or a formula that was never computed")
		return
	case c.kind == truth || c.kind == date || c.formula():
		r.fail(s, field, c.text, "no number")
		return
	case c.kind == number:
		if c.value < 0 {
			r.fail(s, field, c.text, "at least 0")
			return
		}
		whole, part, _ := strings.Cut(c.text, ".")
		if field == "stock" && strings.Trim(part, "0") != "" {
			r.fail(s, field, c.text, "no number of pieces")
			return
		}
		s.figures[field] = []reading{{whole: whole, part: part}}
		return
	}
	if field == "price" {
		s.price = unprice(t)
		if s.price.clash {
			r.fail(s, field, c.text, "two currencies that contradict each other")
			return
		}
		t = s.price.figure
	}
	ways := readings(t, field == "stock")
	switch {
	case len(ways) == 0 && negative(t):
		r.fail(s, field, c.text, "at least 0")
	case len(ways) == 0:
		r.fail(s, field, c.text, "no number")
	default:
		s.figures[field] = ways
	}
}

// open says whether the ways to read a figure differ.
func open(ways []reading) bool { return len(ways) == 2 && !ways[0].same(ways[1]) }

// decideFigures settles the decimal mark of a column: cells with one reading decide, the others follow or are asked.
func (r *reader) decideFigures(list []*said, field string) {
	if _, here := r.at[field]; !here {
		return
	}
	marks, asked := "", []*said{}
	for _, s := range list {
		ways := s.figures[field]
		if len(ways) == 1 && ways[0].mark != 0 && !strings.Contains(marks, string(ways[0].mark)) {
			marks += string(ways[0].mark)
		}
		if open(ways) {
			asked = append(asked, s)
		}
	}
	id := field + ".decimal"
	mark := marks
	if len(marks) != 1 {
		mark = ""
		if a := r.in.Answers[id]; a == "." || a == "," {
			mark = a
		}
	}
	r.out.Columns[field] = Column{Decimal: &mark}
	for _, s := range asked {
		if mark != "" {
			ways := s.figures[field]
			k := slices.IndexFunc(ways, func(w reading) bool { return w.mark == mark[0] })
			s.figures[field] = ways[k : k+1]
			continue
		}
		s.asked = true
		q := r.ask(id, "Is the "+field+" written with a point or a comma as its decimal mark?", []string{".", ","}, "")
		q.Lines = append(q.Lines, s.line)
		for _, w := range s.figures[field] {
			if o := string(w.mark); len(q.Reads[o]) < 2 {
				q.Reads[o] = append(q.Reads[o], w.String())
			}
		}
	}
	for _, s := range list { // ways that agree are one
		if ways := s.figures[field]; len(ways) == 2 && !open(ways) {
			s.figures[field] = ways[:1]
		}
	}
}

// dated reads the date of a row.
func (r *reader) dated(s *said) {
	c, there := r.cell(s, "date")
	if !there {
		return
	}
	if c.kind == broken {
		r.fail(s, "date", c.text, "an error of the sheet, or a formula that was never computed")
		return
	}
	d, message := dayOf(c)
	if message == "" && d.either && len(d.orders()) == 0 {
		message = "no such day"
	}
	if message != "" {
		r.fail(s, "date", c.text, message)
		return
	}
	s.day, s.hasDay = d, true
}

// decideDays settles which of two figures is the month.
func (r *reader) decideDays(list []*said) {
	if _, here := r.at["date"]; !here {
		return
	}
	found := map[string]bool{}
	for _, s := range list {
		if o := s.day.orders(); s.hasDay && s.day.either && len(o) == 1 {
			found[o[0]] = true
		}
	}
	order := ""
	if len(found) == 1 {
		for o := range found {
			order = o
		}
	} else if a := r.in.Answers["date.order"]; a == "dmy" || a == "mdy" {
		order = a
	}
	r.out.Columns["date"] = Column{Order: &order}
	for _, s := range list {
		if !s.hasDay || !s.day.either {
			continue
		}
		o := s.day.orders()
		switch {
		case len(o) == 1:
			s.day.iso, _ = s.day.in(o[0])
		case s.day.a == s.day.b:
			s.day.iso, _ = s.day.in("dmy")
		case order != "":
			s.day.iso, _ = s.day.in(order)
		default:
			s.asked = true
			q := r.ask("date.order", "Does the date begin with the day or with the month?", []string{"dmy", "mdy"}, "")
			q.Lines = append(q.Lines, s.line)
			for _, x := range o {
				if v, _ := s.day.in(x); len(q.Reads[x]) < 2 {
					q.Reads[x] = append(q.Reads[x], v)
				}
			}
		}
	}
}

// money settles the currency of a row, and its price, stock and lead with it.
func (r *reader) money(s *said) {
	currency := r.currency(s)
	if ways := s.figures["price"]; len(ways) == 1 && currency != "" {
		v, ok := minor(ways[0], currency)
		if !ok {
			c, _ := r.cell(s, "price")
			r.fail(s, "price", c.text, "finer than the "+currency+" is divided, or too large")
		}
		s.offer.PriceMinor, s.offer.Currency = v, currency
	}
	for _, f := range []string{"stock", "lead"} {
		if ways := s.figures[f]; len(ways) == 1 {
			v := ways[0].float()
			s.has[f] = true
			if f == "stock" {
				s.offer.Stock = &v
			} else {
				s.offer.Lead = &v
			}
		}
	}
	if s.hasDay && s.day.iso != "" {
		s.offer.Date, s.has["date"] = s.day.iso, true
	}
}

// currency of a row: its column, its cell, the seller's, the default's; a sign of several that none of them settles
// is asked.
func (r *reader) currency(s *said) string {
	usual := []string{}
	if c := r.sellers[plain(s.offer.Seller)].Currency; c != "" {
		usual = append(usual, strings.ToUpper(c))
	}
	if c := r.in.Defaults.Currency; c != "" {
		usual = append(usual, strings.ToUpper(c))
	}
	c, there := r.cell(s, "currency")
	column := ""
	if there {
		v, ok := named(c.text)
		if !ok {
			r.fail(s, "currency", c.text, "a currency code of three letters")
			return ""
		}
		column = v
	}
	may := s.price.may
	switch {
	case column != "" && may != nil && !slices.Contains(may, column):
		p, _ := r.cell(s, "price")
		r.fail(s, "price", p.text, "a currency that contradicts its column, "+column)
		return ""
	case column != "":
		return column
	case len(may) == 1:
		return may[0]
	case len(may) > 1:
		for _, u := range usual {
			if slices.Contains(may, u) {
				return u
			}
		}
		id := "price.sign " + s.price.sign
		if a := strings.ToUpper(r.in.Answers[id]); slices.Contains(may, a) {
			return a
		}
		r.askMoney(s, id, "Which currency is "+s.price.sign+"?", may)
		return ""
	case len(usual) > 0:
		return usual[0]
	}
	if a, ok := code(r.in.Answers["currency"]); ok {
		return a
	}
	if len(s.figures["price"]) > 0 {
		r.askMoney(s, "currency", "In which currency are the prices?", []string{})
	}
	return ""
}

// askMoney asks for a currency once, with the lines that wait for it.
func (r *reader) askMoney(s *said, id, text string, options []string) {
	s.asked = true
	q := r.ask(id, text, options, "")
	q.Lines = append(q.Lines, s.line)
	if ways := s.figures["price"]; len(ways) == 1 {
		for _, o := range options {
			if len(q.Reads[o]) < 2 {
				q.Reads[o] = append(q.Reads[o], ways[0].String()+" "+o)
			}
		}
	}
}
