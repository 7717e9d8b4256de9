// Package basket finds which offers of which sellers fill the slots of a build at the least expected cost: prices,
// shipping, coupons, and what defective packs cost until a good one is there.
//
//	out, err := basket.Solve(in)
//	out.Expected // minor units of the currency; proven when out.Proven
//
// Money is whole minor units of the input's currency; other currencies are converted at the rates given. A defective
// pack is bought again from the same offer until it is good (geometric), which makes the objective separable by
// seller.
package basket

import (
	"context"
	"math"
	"slices"

	"waryowl/internal/core/fault"
)

// Slot is a place to fill. Forgotten ones are those that builds forget: screws, seals.
type Slot struct {
	ID        string   `json:"id"`
	Quantity  *int     `json:"quantity,omitempty" minimum:"1"`
	Grades    []string `json:"grades,omitempty" enum:"original,used,copy" nullable:"false"`
	Forgotten bool     `json:"forgotten,omitempty"`
}

// Rate converts money: one unit of From is Rate units of To (the input's currency).
type Rate struct {
	From string  `json:"from"`
	To   string  `json:"to,omitempty"`
	Rate float64 `json:"rate"`
	Date string  `json:"date,omitempty"`
}

// Coupon takes a percentage or a fixed sum off an invoice from a subtotal on.
type Coupon struct {
	Percent float64 `json:"percent,omitempty" minimum:"0" maximum:"50"`
	Fixed   int64   `json:"fixed,omitempty" minimum:"0"`
	Above   int64   `json:"above,omitempty" minimum:"0"`
}

// Seller sends one invoice; shipping is free from FreeAbove on (0: never).
type Seller struct {
	ID        string   `json:"id"`
	Currency  string   `json:"currency,omitempty"`
	Shipping  int64    `json:"shipping,omitempty" minimum:"0"`
	FreeAbove int64    `json:"free_above,omitempty" minimum:"0"`
	Coupons   []Coupon `json:"coupons,omitempty" nullable:"false"`
}

// Defects are the bad packs among those of a lot so far.
type Defects struct {
	K   int    `json:"k" minimum:"0"`
	N   int    `json:"n" minimum:"0"`
	Lot string `json:"lot,omitempty"`
}

// Returns say what comes back for a bad pack, as a share of its price, and what sending it back costs.
type Returns struct {
	Refund float64 `json:"refund,omitempty" minimum:"0" maximum:"1"`
	Cost   int64   `json:"cost,omitempty" minimum:"0"`
}

// Offer is a pack: what it covers, and how many of each.
type Offer struct {
	ID       string         `json:"id"`
	Seller   string         `json:"seller"`
	Price    int64          `json:"price" minimum:"0"`
	Currency string         `json:"currency,omitempty"`
	Covers   map[string]int `json:"covers"`
	Grade    string         `json:"grade" enum:"original,used,copy"`
	Stock    int            `json:"stock,omitempty" minimum:"0"`
	Defects  Defects        `json:"defects,omitzero"`
	Returns  Returns        `json:"returns,omitzero"`
	LeadDays float64        `json:"lead_days,omitempty" minimum:"0"`

	Code      string     `json:"code,omitempty" doc:"the seller's own"`
	Date      string     `json:"date,omitempty" doc:"of the price"`
	LotFailed *LotFailed `json:"lot_failed,omitempty" doc:"inspection said no to a lot of this seller, slots and grade"`
	Fit       *Fitness   `json:"fit,omitempty" doc:"of the piece for its own slot in this model"`
}

// LotFailed are the bad pieces of an inspected lot that said no.
type LotFailed struct {
	K int `json:"k" minimum:"0"`
	N int `json:"n" minimum:"0"`
}

// Fitness is what is known of a piece in this model: the chance that it serves, how far it gets, and the functions
// that it loses.
type Fitness struct {
	Serves float64  `json:"serves" minimum:"0" maximum:"1"`
	Grade  string   `json:"grade" enum:"shut,half,open"`
	Level  string   `json:"level,omitempty"`
	Lost   []string `json:"lost,omitempty" nullable:"false"`
}

// Override brings an offer back that was left out; who and why are kept.
type Override struct {
	Offer string `json:"offer"`
	Why   string `json:"why"`
	Who   string `json:"who"`
}

// Excluded is an offer that was left out, and why.
type Excluded struct {
	Offer string `json:"offer"`
	Why   string `json:"why" enum:"lot_failed,does_not_fit,loses,no_value"`
	Fact  string `json:"fact"`
}

// Total is a basket in a currency, minor units, at the rate of a day; the day is empty for the home currency.
type Total struct {
	Expected int64  `json:"expected"`
	Invoice  int64  `json:"invoice"`
	At       string `json:"at"`
}

// Compare holds what the build is compared with: a refurbished phone, what a failed build is still worth, the chance
// that the build survives, and the work.
type Compare struct {
	Refurbished   float64  `json:"refurbished"`
	Salvage       float64  `json:"salvage,omitempty" minimum:"0"`
	Survival      *float64 `json:"survival,omitempty"`
	LabourSeconds float64  `json:"labour_seconds,omitempty" minimum:"0"`
	LabourPerHour float64  `json:"labour_per_hour,omitempty" minimum:"0"`
}

// Input is the slots of a build and the offers for them.
type Input struct {
	Currency     string             `json:"currency"`
	DeadlineDays *float64           `json:"deadline_days,omitempty" minimum:"0"`
	Today        string             `json:"today,omitempty"`
	Rates        []Rate             `json:"rates,omitempty" nullable:"false"`
	Slots        []Slot             `json:"slots" nullable:"false"`
	Bound        [][]string         `json:"bound,omitempty" nullable:"false"`
	Sellers      []Seller           `json:"sellers" nullable:"false"`
	Offers       []Offer            `json:"offers" nullable:"false"`
	StatedTotal  *float64           `json:"stated_total,omitempty"`
	StatedIn     string             `json:"stated_currency,omitempty" doc:"of the stated total; the basket's when left out"`
	Show         []string           `json:"show,omitempty" nullable:"false" doc:"currencies of the totals"`
	Missing      string             `json:"missing_functions,omitempty" enum:"exclude,price,warn" doc:"what becomes of a piece that loses functions; exclude when left out"`
	Values       map[string]float64 `json:"function_values,omitempty" doc:"what a lost function is worth, minor units"`
	Overrides    []Override         `json:"overrides,omitempty" nullable:"false"`
	Compare      *Compare           `json:"compare,omitempty"`
	Alternatives bool               `json:"alternatives,omitempty"`
	MaxSellers   int                `json:"max_sellers,omitempty" minimum:"0" doc:"from how many sellers at most; 0: any number"`
	DefectPrior  map[string]float64 `json:"defect_prior,omitempty"`
	DefectWeight *float64           `json:"defect_weight,omitempty" minimum:"0"`
	Effort       int                `json:"effort,omitempty" minimum:"0"`

	admitted []admitted // by offer
}

// Line is a bought offer; Price is that of one pack in the input's currency.
type Line struct {
	Offer string  `json:"offer"`
	Packs int     `json:"packs"`
	Price float64 `json:"price"`

	Loss     float64   `json:"loss" doc:"of one pack: what its lost functions are worth"`
	Warned   []string  `json:"warned,omitempty" nullable:"false" doc:"functions that it loses"`
	Note     string    `json:"note,omitempty"`
	Override *Override `json:"override,omitempty"`
}

// Invoice is what one seller asks for; Coupon is its index, -1 for none.
type Invoice struct {
	Seller   string  `json:"seller"`
	Subtotal float64 `json:"subtotal"`
	Discount float64 `json:"discount"`
	Shipping float64 `json:"shipping"`
	Coupon   int     `json:"coupon"`
}

// Spare is what is left over of a slot.
type Spare struct {
	Slot     string `json:"slot"`
	Quantity int    `json:"quantity"`
}

// Without is what a bought offer saves against the best basket without it; -1: a slot cannot be filled without it.
type Without struct {
	Offer string  `json:"offer"`
	Extra float64 `json:"extra"`
}

// Question is something that does not go together in what was given.
type Question struct {
	Code string `json:"code" enum:"total,rates,old_rate,coupon"`
	Fact string `json:"fact"`
}

// Output is the basket. Expected is without the slots that are Unpriced; Bound is proven: no basket costs less. Lead
// time and stock of re-buys are not counted: AllGoodFirstTime is the chance that none is needed.
type Output struct {
	Expected          float64     `json:"expected"`
	Invoice           float64     `json:"invoice"`
	Rebuy             float64     `json:"rebuy"`
	Loss              float64     `json:"loss" doc:"what the functions are worth that bought pieces lose"`
	Lines             []Line      `json:"lines" nullable:"false"`
	Sellers           []Invoice   `json:"sellers" nullable:"false"`
	Spare             []Spare     `json:"spare" nullable:"false"`
	Unpriced          []string    `json:"unpriced" nullable:"false"`
	ForgottenUnpriced []string    `json:"forgotten_unpriced" nullable:"false"`
	AllGoodFirstTime  float64     `json:"all_good_first_time"`
	Bound             float64     `json:"bound"`
	Proven            bool        `json:"proven"`
	Questions         []Question  `json:"questions" nullable:"false"`
	StatedGap         *float64    `json:"stated_gap,omitempty" doc:"stated total less the invoices"`
	Without           []Without   `json:"without,omitempty" nullable:"false"`
	SecondBest        *float64    `json:"second_best,omitempty" doc:"cheapest basket that lacks a bought offer"`
	PriceRatio        *float64    `json:"price_ratio,omitempty"`
	BreakEven         *float64    `json:"break_even,omitempty" doc:"chance of success from which the build pays"`
	Profit            *float64    `json:"profit,omitempty"`
	PerHour           *float64    `json:"per_hour,omitempty"`
	DearerChance      *[2]float64 `json:"dearer_chance,omitempty" doc:"bounds; that it costs more than refurbished"`

	Excluded []Excluded       `json:"excluded" nullable:"false"`
	Totals   map[string]Total `json:"totals"`
}

const usualEffort = 400_000

// Solve finds the cheapest basket.
func Solve(in Input) (Output, error) { return SolveContext(context.Background(), in) }

// SolveContext is [Solve] for as long as the answer is wanted; after that its error is that of the context.
func SolveContext(ctx context.Context, in Input) (Output, error) {
	if in.MaxSellers < 0 {
		return Output{}, bad("max_sellers", in.MaxSellers, "0 (any number) or more")
	}
	out, err := solve(ctx, in)
	if err != nil || in.MaxSellers == 0 || len(out.Sellers) <= in.MaxSellers {
		return out, err
	}
	return in.fewer(ctx, out)
}

func solve(ctx context.Context, in Input) (Output, error) {
	out := Output{Lines: []Line{}, Sellers: []Invoice{}, Spare: []Spare{}, Unpriced: []string{},
		ForgottenUnpriced: []string{}, Questions: []Question{}, AllGoodFirstTime: 1, Excluded: []Excluded{},
		Totals: map[string]Total{}}
	p, err := in.problem(&out)
	if err != nil {
		return out, err
	}
	effort := in.Effort
	if effort == 0 {
		effort = usualEffort
	}
	s := newSearch(ctx, p, effort)
	s.run(nil, nil)
	var without []float64
	if in.Alternatives {
		for range 3 { // a basket without a bought offer that costs less is the better basket
			better := s.upper
			if without = p.alternatives(ctx, s, effort); s.upper > better-penny {
				break
			}
		}
	}
	if err := ctx.Err(); err != nil {
		return out, err
	}
	p.show(&out, s.best)
	out.Bound, out.Proven = s.bound(), s.proven()
	if out.Proven {
		out.Bound = out.Expected
	}
	if in.Alternatives {
		out.Without = []Without{}
		for k, l := range out.Lines {
			out.Without = append(out.Without, Without{l.Offer, without[k]})
			if best := out.Expected + without[k]; without[k] >= 0 && (out.SecondBest == nil || best < *out.SecondBest) {
				out.SecondBest = &best
			}
		}
	}
	in.total(&out)
	in.ask(p, &out)
	in.weigh(p, &out, s.best)
	return out, nil
}

// show writes a basket out.
func (p *problem) show(out *Output, x []int) {
	total, extra, lost := 0.0, 0.0, 0.0
	sums := make([]float64, len(p.sellers))
	bought := make([]bool, len(p.sellers))
	for i, n := range x {
		if n == 0 {
			continue
		}
		o := &p.offers[i]
		out.Lines = append(out.Lines, Line{Offer: o.id, Packs: n, Price: o.price, Loss: o.admitted.loss,
			Warned: o.admitted.warned,
			Note:   o.admitted.note, Override: o.admitted.override})
		lost += float64(n) * o.admitted.loss
		sums[o.seller] += float64(n) * o.price
		bought[o.seller] = true
		extra += float64(n) * o.extra
		out.AllGoodFirstTime *= math.Pow(1-o.bad, float64(n))
	}
	for j := range p.sellers {
		if !bought[j] {
			continue
		}
		m := p.sellers[j].best(sums[j])
		out.Sellers = append(
			out.Sellers,
			Invoice{p.sellers[j].id, sums[j], sums[j]*m.percent + m.fixed, m.ship, m.coupon},
		)
		total += m.cost(sums[j])
	}
	for s, q := range p.need {
		have := 0
		for _, c := range p.by[s] {
			have += x[c.i] * c.whole
		}
		if have > q {
			out.Spare = append(out.Spare, Spare{p.slots[s], have - q})
		}
	}
	out.Invoice, out.Rebuy, out.Loss = total, extra-lost, lost
	out.Expected = total + extra
}

// alternatives tells what the best basket without each bought offer costs more, -1 for none, from the basket and the
// multipliers of the first solution; a better basket found on the way takes its place.
func (p *problem) alternatives(ctx context.Context, first *search, effort int) []float64 {
	var bought []int
	for i, n := range first.best {
		if n > 0 {
			bought = append(bought, i)
		}
	}
	if len(bought) == 0 {
		return nil
	}
	share := min(effort/4, effort/len(bought))
	tries := make([]*search, len(bought))
	each(len(bought), func(k int) {
		if q := p.without(bought[k]); q != nil {
			tries[k] = newSearch(ctx, q, share)
			tries[k].run(first.best, first.lambda)
		}
	})
	extra := make([]float64, len(bought))
	for k, s := range tries {
		if extra[k] = -1; s != nil {
			extra[k] = max(0, s.upper-first.upper)
		}
	}
	for _, s := range tries {
		if s != nil && s.upper < first.upper-penny {
			first.upper, first.best = s.upper, s.best
		}
	}
	return extra
}

// without is the problem with an offer sold out; nil when a slot then cannot be filled.
func (p *problem) without(i int) *problem {
	q := *p
	q.offers = slices.Clone(p.offers)
	q.offers[i].most = 0
	for s, need := range q.need {
		have := 0
		for _, c := range q.by[s] {
			have += c.n * q.offers[c.i].most
		}
		if have < need {
			return nil
		}
	}
	return &q
}

func bad(field string, got any, allowed string) error { return fault.New(field, got, allowed) }
