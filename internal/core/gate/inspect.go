package gate

import (
	"math"

	"gonum.org/v1/gonum/mathext"

	"waryowl/internal/core/fault"
)

// Delivery asks how to inspect a lot, and whether to go on buying from its seller.
type Delivery struct {
	Size         int       `json:"size,omitempty" minimum:"0" doc:"pieces; 0: a stream without end"`
	AQL          float64   `json:"aql" doc:"share of bad ones that is acceptable"`
	LTPD         float64   `json:"ltpd" doc:"share that is not"`
	ProducerRisk *float64  `json:"producer_risk,omitempty"`
	ConsumerRisk *float64  `json:"consumer_risk,omitempty"`
	Sample       *int      `json:"sample,omitempty" minimum:"1"`
	Accept       *int      `json:"accept,omitempty" minimum:"0"`
	K            int       `json:"k,omitempty" minimum:"0" doc:"bad ones so far"`
	N            int       `json:"n,omitempty" minimum:"0" doc:"pieces so far"`
	PriorRate    *float64  `json:"prior_rate,omitempty"`
	PriorWeight  *float64  `json:"prior_weight,omitempty" minimum:"0"`
	Price        float64   `json:"price,omitempty" minimum:"0"`
	Refund       float64   `json:"refund,omitempty" minimum:"0" maximum:"1" doc:"share of the price that comes back for a bad one"`
	RebuyCost    float64   `json:"rebuy_cost,omitempty" minimum:"0"`
	NextBest     float64   `json:"next_best,omitempty" minimum:"0" doc:"price of the next best offer with its extra"`
	Rates        []float64 `json:"rates,omitempty" nullable:"false"`
}

// Inspection is the plan, its curve, and what is known of the seller.
type Inspection struct {
	Sample     int          `json:"sample"`
	Accept     int          `json:"accept"`
	WholeLot   bool         `json:"whole_lot"`
	PassAQL    float64      `json:"pass_aql"`
	PassLTPD   float64      `json:"pass_ltpd"`
	Curve      [][2]float64 `json:"curve" nullable:"false"`
	Rate       float64      `json:"rate"`
	Interval   [2]float64   `json:"interval"`
	Limit      float64      `json:"limit"`
	POverLimit float64      `json:"p_over_limit"`
	StopBuying bool         `json:"stop_buying"`
}

const (
	mostSample = 5000
	stopAt     = 0.9 // house
)

// passes is the chance that a lot with this share of bad ones passes a sample of n with at most c bad ones: binomial
// without a size, else hypergeometric with floor(p·size + ½) bad ones.
func passes(size, n, c int, p float64) float64 {
	sum := 0.0
	if size == 0 {
		for x := 0; x <= min(c, n); x++ {
			sum += math.Exp(lchoose(n, x) + xlog(float64(x), p) + xlog(float64(n-x), 1-p))
		}
		return math.Min(1, sum)
	}
	bad := int(math.Floor(p*float64(size) + 0.5))
	for x := max(0, n-(size-bad)); x <= min(c, min(n, bad)); x++ {
		sum += math.Exp(lchoose(bad, x) + lchoose(size-bad, n-x) - lchoose(size, n))
	}
	return math.Min(1, sum)
}

func xlog(n, p float64) float64 {
	if n == 0 {
		return 0
	}
	return n * math.Log(p)
}

func lchoose(n, k int) float64 {
	a, _ := math.Lgamma(float64(n + 1))
	b, _ := math.Lgamma(float64(k + 1))
	c, _ := math.Lgamma(float64(n - k + 1))
	return a - b - c
}

// Inspect plans the inspection of a delivery.
func Inspect(in Delivery) (Inspection, error) {
	out := Inspection{Curve: [][2]float64{}}
	risk := func(name string, x *float64, usual float64) (float64, error) {
		if x == nil {
			return usual, nil
		}
		if !(*x > 0 && *x < 1) {
			return 0, fault.New(name, *x, "a chance between 0 and 1")
		}
		return *x, nil
	}
	producer, err := risk("producer_risk", in.ProducerRisk, 0.05)
	if err != nil {
		return out, err
	}
	consumer, err := risk("consumer_risk", in.ConsumerRisk, 0.10)
	if err != nil {
		return out, err
	}
	if err := in.check(); err != nil {
		return out, err
	}
	switch {
	case in.Sample != nil:
		out.Sample, out.Accept = *in.Sample, *in.Accept
	default:
		out.Sample, out.Accept, out.WholeLot = in.plan(producer, consumer)
	}
	if !out.WholeLot {
		out.PassAQL = passes(in.Size, out.Sample, out.Accept, in.AQL)
		out.PassLTPD = passes(in.Size, out.Sample, out.Accept, in.LTPD)
		for _, r := range in.Rates {
			out.Curve = append(out.Curve, [2]float64{r, passes(in.Size, out.Sample, out.Accept, r)})
		}
	}
	in.seller(&out)
	return out, nil
}

func (in Delivery) check() error {
	for name, x := range map[string]float64{"aql": in.AQL, "ltpd": in.LTPD} {
		if !(x >= 0 && x < 1) {
			return fault.New(name, x, "a share from 0 to below 1")
		}
	}
	for i, r := range in.Rates {
		if !(r >= 0 && r < 1) {
			return fault.New("rates["+itoa(i)+"]", r, "a share from 0 to below 1")
		}
	}
	switch {
	case in.Size < 0 || in.Size > 1_000_000:
		return fault.New("size", in.Size, "0 to 1000000")
	case in.AQL >= in.LTPD:
		return fault.New("aql", in.AQL, "less than ltpd")
	case (in.Sample == nil) != (in.Accept == nil):
		return fault.New("sample", "one of the two", "sample and accept together")
	case in.Sample != nil && (*in.Sample < 1 || in.Size > 0 && *in.Sample > in.Size):
		return fault.New("sample", *in.Sample, "1 to the size of the lot")
	case in.Sample != nil && (*in.Accept < 0 || *in.Accept >= *in.Sample):
		return fault.New("accept", *in.Accept, "0 or more, less than the sample")
	case in.K < 0 || in.N < 0 || in.K > in.N:
		return fault.New("k", in.K, "0 to n")
	case in.PriorRate != nil && !(*in.PriorRate > 0 && *in.PriorRate < 1):
		return fault.New("prior_rate", *in.PriorRate, "a share between 0 and 1")
	case in.PriorWeight != nil && !(*in.PriorWeight > 0):
		return fault.New("prior_weight", *in.PriorWeight, "above 0")
	case !(in.Refund >= 0 && in.Refund <= 1):
		return fault.New("refund", in.Refund, "0 to 1")
	case !(in.Price >= 0):
		return fault.New("price", in.Price, "0 or more")
	case !(in.RebuyCost >= 0):
		return fault.New("rebuy_cost", in.RebuyCost, "0 or more")
	case !(in.NextBest >= 0):
		return fault.New("next_best", in.NextBest, "0 or more")
	}
	return nil
}

func itoa(i int) string {
	if i < 10 {
		return string(rune('0' + i))
	}
	return itoa(i/10) + string(rune('0'+i%10))
}

// plan is the least sample, with the least number of bad ones allowed, that keeps both risks. With a larger sample that
// number never falls: both are walked up together.
func (in Delivery) plan(producer, consumer float64) (n, c int, whole bool) {
	most := mostSample
	if in.Size > 0 {
		most = in.Size
	}
	for n = 1; n <= most; n++ {
		for c < n && passes(in.Size, n, c, in.AQL) < 1-producer-1e-12 {
			c++
		}
		if c < n && passes(in.Size, n, c, in.LTPD) <= consumer+1e-12 {
			return n, c, false
		}
	}
	return 0, 0, true
}

// seller is the beta posterior of the rate of bad ones, and the rate from which the next best offer is cheaper.
func (in Delivery) seller(out *Inspection) {
	rate, weight := 0.5, 0.0
	if in.PriorRate != nil {
		rate = *in.PriorRate
		weight = 20
	}
	if in.PriorWeight != nil {
		weight = *in.PriorWeight
	}
	a, b := weight*rate+float64(in.K), weight*(1-rate)+float64(in.N-in.K)
	out.Interval = [2]float64{0, 1}
	if a > 0 && b > 0 {
		out.Rate = a / (a + b)
		out.Interval = [2]float64{mathext.InvRegIncBeta(a, b, 0.025), mathext.InvRegIncBeta(a, b, 0.975)}
	} else if a+b > 0 {
		out.Rate = a / (a + b)
	}
	if in.NextBest > in.Price {
		loss := (1-in.Refund)*in.Price + in.RebuyCost
		out.Limit = 1
		if loss > 0 {
			odds := (in.NextBest - in.Price) / loss
			out.Limit = odds / (1 + odds)
		}
	}
	if a > 0 && b > 0 {
		out.POverLimit = 1 - mathext.RegIncBeta(a, b, out.Limit)
	}
	out.StopBuying = out.POverLimit >= stopAt
}
