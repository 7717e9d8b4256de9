package fit

import (
	"math"
	"math/bits"
	"slices"
)

// set is a set of models, by bit.
type set = uint16

// level is the belief in one class in one host: the chance of each rung, and of reaching the level asked for.
type level struct {
	at    [rungs]float64
	serve float64
}

// world is what the models, the measures and some tests leave possible. Everything factors over the classes: G(B) is the
// weight of a class times, for every host, Σ_t prior·likelihood; Z(S) = Σ_{B ⊆ S, min S ∈ B} G(B)·Z(S∖B), in
// logarithms.
type world struct {
	in     Input
	prior  prior
	asked  int
	number map[string]int // models, then copies
	class  [][]level      // by class and host
	copies [][]level      // by copy and host
	logG   []float64
	logZ   []float64
	p      []float64 // that the set is a class
}

func newWorld(in Input, tests []Test) (*world, error) {
	p, err := in.Prior.read()
	if err != nil {
		return nil, err
	}
	w := &world{in: in, prior: p, asked: rung(in.Level), number: map[string]int{}}
	for i, m := range in.Models {
		w.number[m.ID] = i
	}
	for i, c := range in.Copies {
		w.number[c.ID] = len(in.Models) + i
	}
	n := len(in.Models)
	// likelihoods of the tests of a line in a host, in logarithms
	seen := make([][][rungs]float64, n+len(in.Copies))
	for d := range seen {
		seen[d] = make([][rungs]float64, n)
	}
	for _, t := range tests {
		d, h := w.number[t.Donor], w.number[t.Host]
		g := w.defective(d, t.Conditions)
		for k := range rungs {
			seen[d][h][k] += math.Log(chance(rung(t.Outcome), k, t.fittings(), g, t.Conditions))
		}
	}
	w.class = make([][]level, 1<<n)
	w.logG = make([]float64, 1<<n)
	for b := set(1); int(b) < 1<<n; b++ {
		w.logG[b] = w.weight(b)
		w.class[b] = make([]level, n)
		for h := range n {
			var sum [rungs]float64
			for d := range n {
				if b>>d&1 == 1 {
					for k := range sum {
						sum[k] += seen[d][h][k]
					}
				}
			}
			var z float64
			w.class[b][h], z = w.believe(w.before(b, h), sum)
			w.logG[b] += z
		}
	}
	for c := range in.Copies {
		row := make([]level, n)
		for h := range n {
			row[h], _ = w.believe(w.beforeCopy(c, h), seen[n+c][h])
		}
		w.copies = append(w.copies, row)
	}
	w.logZ = partitions(w.logG)
	all := len(w.logG) - 1
	w.p = make([]float64, 1<<n)
	for b := 1; b <= all; b++ {
		w.p[b] = math.Exp(w.logG[b] + w.logZ[all&^b] - w.logZ[all])
	}
	return w, nil
}

// partitions sums over all partitions of every set, in logarithms.
func partitions(logG []float64) []float64 {
	z := make([]float64, len(logG))
	var terms []float64
	for s := 1; s < len(logG); s++ {
		first := s & -s
		rest := s &^ first
		terms = terms[:0]
		top := math.Inf(-1)
		for sub := rest; ; sub = (sub - 1) & rest {
			x := logG[first|sub] + z[rest&^sub]
			terms = append(terms, x)
			top = max(top, x)
			if sub == 0 {
				break
			}
		}
		if math.IsInf(top, -1) {
			z[s] = top
			continue
		}
		sum := 0.0
		for _, x := range terms {
			sum += math.Exp(x - top)
		}
		z[s] = top + math.Log(sum)
	}
	return z
}

// believe turns a prior and the logarithms of likelihoods into a belief, and returns the logarithm of their product's sum.
func (w *world) believe(before, seen [rungs]float64) (level, float64) {
	top := math.Inf(-1)
	for k, p := range before {
		if p > 0 {
			top = max(top, seen[k])
		}
	}
	var l level
	sum := 0.0
	for k, p := range before {
		if p > 0 {
			l.at[k] = p * math.Exp(seen[k]-top)
			sum += l.at[k]
		}
	}
	for k := range l.at {
		l.at[k] /= sum
		if k >= w.asked {
			l.serve += l.at[k]
		}
	}
	return l, top + math.Log(sum)
}

// weight is the logarithm of the weight of a class: θ·(k−1)! (W. J. Ewens 1972), times what measures, codes and hints say.
func (w *world) weight(b set) float64 {
	k := bits.OnesCount16(b)
	sum := math.Log(w.prior.theta)
	for i := 2; i < k; i++ {
		sum += math.Log(float64(i))
	}
	for _, name := range sortedKeys(w.in.Features) {
		c, mean, _ := w.mean(b, name)
		if c == 0 {
			continue
		}
		off := 0.0
		for i, m := range w.in.Models {
			if x, measured := m.Features[name]; measured && b>>i&1 == 1 {
				off += w.precision(name, x) * (x.Value - mean) * (x.Value - mean)
			}
		}
		sum += max(float64(c-1)*math.Log(w.prior.equal)-off/2, float64(c-1)*math.Log(w.prior.floor))
	}
	codes := map[string]bool{}
	c := 0
	for i, m := range w.in.Models {
		if b>>i&1 == 1 && m.Code != "" {
			c++
			codes[m.Code] = true
		}
	}
	if e := len(codes); e > 0 {
		sum += float64(c-e)*math.Log(w.prior.codeEqual) + float64(e-1)*math.Log(w.prior.codeDiffers)
	}
	for _, h := range w.in.Hints {
		inside := true
		for _, m := range h.Models {
			inside = inside && b>>w.number[m]&1 == 1
		}
		if inside {
			sum += math.Log(h.Odds)
		}
	}
	return sum
}

func (w *world) precision(feature string, m Measure) float64 {
	spread := w.in.Features[feature].Spread
	return 1 / (m.U*m.U + spread*spread)
}

// mean is the mean of a feature over the measured members of a class by their precision, how many there are, and the sum
// of the precisions.
func (w *world) mean(b set, feature string) (c int, mean, total float64) {
	for i, m := range w.in.Models {
		if x, measured := m.Features[feature]; measured && b>>i&1 == 1 {
			a := w.precision(feature, x)
			c++
			total += a
			mean += a * x.Value
		}
	}
	return c, mean / total, total
}

// before is the prior of a class in a host.
func (w *world) before(b set, h int) [rungs]float64 {
	if b>>h&1 == 1 {
		return [rungs]float64(w.prior.levels["own"])
	}
	earliest := math.Inf(1)
	for i, m := range w.in.Models {
		if b>>i&1 == 1 {
			earliest = min(earliest, m.Generation)
		}
	}
	return w.geometry(h, earliest, func(feature string) (mean, variance float64, measured bool) {
		c, mean, total := w.mean(b, feature)
		return mean, 1 / total, c > 0
	})
}

// beforeCopy is the prior of a copy in a host.
func (w *world) beforeCopy(c, h int) [rungs]float64 {
	lot := w.in.Copies[c]
	own := w.number[lot.For]
	if own == h {
		return [rungs]float64(w.prior.levels["copy"])
	}
	return w.geometry(h, w.in.Models[own].Generation, func(feature string) (mean, variance float64, measured bool) {
		x, measured := lot.Features[feature]
		return x.Value, 1 / w.precision(feature, x), measured
	})
}

// geometry is the prior of a piece that is not the host's own: whether it seats and mates by what was measured on both
// sides, and how far it gets then by its age.
func (w *world) geometry(h int, generation float64, piece func(string) (mean, variance float64, measured bool)) [rungs]float64 {
	host := w.in.Models[h]
	seat, mate := 1.0, 1.0
	seats, mates := false, false
	for _, name := range sortedKeys(w.in.Features) {
		f := w.in.Features[name]
		mean, variance, measured := piece(name)
		there, too := host.Features[name]
		if !measured || !too {
			continue
		}
		delta := mean - there.Value
		sigma := math.Sqrt(variance + 1/w.precision(name, there))
		switch f.Governs {
		case "seat":
			seats = true
			seat *= normal((f.Slack - delta) / sigma)
		case "mate":
			mates = true
			mate *= between((-f.Slack-delta)/sigma, (f.Slack-delta)/sigma)
		}
	}
	if !seats {
		seat = w.prior.seat
	}
	if !mates {
		mate = w.prior.mate
	}
	row := w.prior.levels["equal"]
	switch {
	case generation < host.Generation:
		row = w.prior.levels["older"]
	case generation > host.Generation:
		row = w.prior.levels["newer"]
	}
	out := [rungs]float64{0: 1 - seat, noMate: seat * (1 - mate)}
	for k := dark; k < rungs; k++ {
		out[k] = seat * mate * row[k]
	}
	return out
}

// normal is the distribution function of the standard normal.
func normal(x float64) float64 { return math.Erfc(-x/math.Sqrt2) / 2 }

// between is the chance of a standard normal between two limits, without losing the tails to rounding.
func between(a, b float64) float64 {
	if a > 0 {
		return normal(-a) - normal(-b)
	}
	return normal(b) - normal(a)
}

// defective is the chance that the piece of a test is broken: none where it works in its own phone.
func (w *world) defective(line int, conditions []string) float64 {
	switch {
	case slices.Contains(conditions, "home"):
		return 0
	case line >= len(w.in.Models):
		return 0.10
	}
	return 0.05
}

// chance is that of n fittings with the outcome o when the level is t and the piece is defective with chance g. The
// figures are house.
func chance(o, t, n int, g float64, conditions []string) float64 {
	ticked := func(c string) float64 {
		if slices.Contains(conditions, c) {
			return 0
		}
		return 1
	}
	base := 0.0
	broken := 0.0
	switch {
	case t < lost:
		if o == t {
			base, broken = 1, 1
		}
	default:
		if o == dark || o == lost {
			broken = 0.5
		}
		rest := 1.0
		for _, k := range []struct {
			at int
			p  float64
		}{{dark, 0.02 + 0.10*(ticked("charger")+ticked("waited")+ticked("reseated")+ticked("known-good"))},
			{lost, 0.02 + 0.05*ticked("reseated")},
			{full, 0.02 + 0.05*ticked("waited") + 0.10*ticked("deep")}} {
			if k.at == t {
				continue
			}
			rest -= k.p
			if k.at == o {
				base = k.p
			}
		}
		if o == t {
			base = rest
		}
	}
	return (1-g)*math.Pow(0.99*base+0.01/rungs, float64(n)) + g*broken
}
