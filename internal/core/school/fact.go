package school

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"waryowl/internal/core/fault"
)

// fact is a question in the terms of the engine: a choice is the place of its value.
type fact struct {
	id     string
	choice bool
	values []string
	min    float64
	max    float64
	step   float64
	all    []float64
	Fact
}

// known is what may be true of a fact.
type known struct {
	x, sure []float64
	value   *Value
	u       float64
	judged  *Judged
}

func (k known) open() bool    { return len(k.x) > 1 }
func (k known) missing() bool { return len(k.sure) > 1 }

// state is what is known of one model, by fact.
type state map[string]known

func number(v any) (float64, bool) {
	x, ok := v.(float64)
	return x, ok && !math.IsNaN(x) && !math.IsInf(x, 0)
}

func readFacts(in map[string]Fact) (map[string]*fact, error) {
	out := map[string]*fact{}
	for id, f := range in {
		at := "facts." + id
		if err := fault.ID(at, id); err != nil {
			return nil, err
		}
		g := &fact{id: id, choice: f.Kind == "choice", Fact: f}
		switch f.Kind {
		case "choice":
			if len(f.Values) < 1 || f.Min != nil || f.Max != nil || f.Step != nil {
				return nil, fault.New(at+".values", len(f.Values), "one value or more, and no min, max or step")
			}
			for i, v := range f.Values {
				if v == "" || slices.Contains(f.Values[:i], v) {
					return nil, fault.New(fmt.Sprintf("%s.values[%d]", at, i), v, "a value, once")
				}
				g.all = append(g.all, float64(i))
			}
			g.values = f.Values
		case "number":
			if f.Min == nil || f.Max == nil || !(*f.Min <= *f.Max) {
				return nil, fault.New(at+".min", "no range", "min and max, the smaller first")
			}
			if f.Step == nil || !(*f.Step > 0) {
				return nil, fault.New(at+".step", "nothing", "a step above 0")
			}
			if len(f.Values) > 0 {
				return nil, fault.New(at+".values", len(f.Values), "values only of a choice")
			}
			g.min, g.max, g.step = *f.Min, *f.Max, *f.Step
			all, err := grid(at, g.min, g.max, g.step)
			if err != nil {
				return nil, err
			}
			g.all = all
		default:
			return nil, fault.New(at+".kind", f.Kind, "number or choice")
		}
		if f.Minutes != nil && !(*f.Minutes >= 0) {
			return nil, fault.New(at+".minutes", *f.Minutes, "0 or more")
		}
		if f.Aim != nil {
			if _, err := g.read(at+".aim", f.Aim); err != nil {
				return nil, err
			}
		}
		out[id] = g
	}
	return out, nil
}

// grid is low, low + step … below high, and high.
func grid(at string, low, high, step float64) ([]float64, error) {
	if (high-low)/step > mostValues+1 {
		return nil, fault.New(at, fmt.Sprintf("%g values", math.Ceil((high-low)/step)), "at most 1001 values")
	}
	var list []float64
	for k := 0; ; k++ {
		x := low + float64(k)*step
		if x >= high-1e-12*math.Max(1, math.Abs(high)) {
			break
		}
		list = append(list, x)
	}
	list = append(list, high)
	if len(list) > mostValues {
		return nil, fault.New(at, fmt.Sprintf("%d values", len(list)), "at most 1001 values")
	}
	return list, nil
}

// read is a value in the terms of the engine.
func (f *fact) read(at string, v any) (float64, error) {
	if f.choice {
		s, text := v.(string)
		if i := slices.Index(f.values, s); text && i >= 0 {
			return float64(i), nil
		}
		return 0, fault.New(at, v, strings.Join(f.values, ", "))
	}
	x, ok := number(v)
	if !ok || x < f.min-whisker || x > f.max+whisker {
		return 0, fault.New(at, v, fmt.Sprintf("a number from %g to %g", f.min, f.max))
	}
	return x, nil
}

// say turns it back.
func (f *fact) say(x float64) any {
	if f.choice {
		return f.values[int(x)]
	}
	return x
}

func (f *fact) clip(x float64) float64 { return math.Max(f.min, math.Min(f.max, x)) }

// know reads a value: what may be true, and what would be if it were certain.
func (f *fact) know(at string, v Value) (known, error) {
	k := known{value: &v}
	if v.Minutes != nil && !(*v.Minutes >= 0) {
		return k, fault.New(at+".minutes", *v.Minutes, "0 or more")
	}
	ranged := v.Low != nil || v.High != nil
	kinds := 0
	for _, has := range []bool{v.Value != nil, v.Among != nil, ranged && v.Value == nil, v.Judgements != nil} {
		if has {
			kinds++
		}
	}
	switch {
	case kinds != 1:
		return k, fault.New(at, "no or several values", "one of value, among, low and high, judgements")
	case v.U != nil && (v.Value == nil || ranged || f.choice):
		return k, fault.New(at+".u", *v.U, "an uncertainty only beside the value of a number")
	case f.choice && ranged:
		return k, fault.New(at+".low", f.id, "low and high only of a number")
	case !f.choice && v.Among != nil:
		return k, fault.New(at+".among", strings.Join(v.Among, ", "), "among only of a choice")
	}
	switch {
	case v.Judgements != nil:
		return f.judge(at, k, v.Judgements)
	case v.Among != nil:
		if len(v.Among) == 0 {
			return k, fault.New(at+".among", "none", "one value or more")
		}
		for i, s := range v.Among {
			x, err := f.read(fmt.Sprintf("%s.among[%d]", at, i), s)
			if err != nil {
				return k, err
			}
			if !slices.Contains(k.x, x) {
				k.x = append(k.x, x)
			}
		}
		slices.Sort(k.x)
		k.sure = k.x
		return k, nil
	}
	var value float64
	if v.Value != nil {
		x, err := f.read(at+".value", v.Value)
		if err != nil {
			return k, err
		}
		value, k.sure = x, []float64{x}
	}
	switch {
	case ranged:
		low, high := f.min, f.max
		for _, end := range []struct {
			name string
			in   *float64
			to   *float64
		}{{"low", v.Low, &low}, {"high", v.High, &high}} {
			if end.in == nil {
				continue
			}
			if _, err := f.read(at+"."+end.name, *end.in); err != nil {
				return k, err
			}
			*end.to = *end.in
		}
		if low > high {
			return k, fault.New(at+".low", low, "no more than high")
		}
		list, err := grid(at, low, high, f.step)
		if err != nil {
			return k, err
		}
		k.x = list
		if v.Value != nil {
			if value < low-whisker || value > high+whisker {
				return k, fault.New(at+".value", value, "a value from low to high")
			}
			k.add(value)
		} else {
			k.sure = k.x
		}
	case v.U != nil:
		if !(*v.U >= 0) {
			return k, fault.New(at+".u", *v.U, "0 or more")
		}
		k.u = *v.U
		for i := -10; i <= 10; i++ {
			k.add(f.clip(value + float64(i)*k.u/5))
		}
	default:
		k.x = k.sure
	}
	return k, nil
}

// add puts a value in its place among those that may be true.
func (k *known) add(x float64) {
	for _, y := range k.x {
		if math.Abs(x-y) <= 1e-12*math.Max(1, math.Abs(y)) {
			return
		}
	}
	k.x = append(k.x, x)
	slices.Sort(k.x)
}

// Judged is what several people said of a fact.
type Judged struct {
	Persons int    `json:"persons"`
	Units   int    `json:"units"`
	Middle  any    `json:"middle"`
	Low     any    `json:"low"`
	High    any    `json:"high"`
	Eye     string `json:"eye" enum:"half,open"`
}

// judge widens what persons said by how few they are: four persons' least to greatest covers the median of all such
// persons with 1 − 2·0.5⁴ = 87.5 %, one person's covers it with 0 % (the steps are house).
func (f *fact) judge(at string, k known, list []Judgement) (known, error) {
	if f.choice && !f.Ordered {
		return k, fault.New(at+".judgements", f.id, "judgements only of a number or an ordered choice")
	}
	if len(list) == 0 {
		return k, fault.New(at+".judgements", "none", "one judgement or more")
	}
	said := map[string][]float64{}
	units := map[string]bool{}
	for i, j := range list {
		here := fmt.Sprintf("%s.judgements[%d]", at, i)
		if j.By == "" || j.Unit == "" {
			return k, fault.New(here+".by", j.By, "who judged, and which unit")
		}
		x, err := f.read(here+".value", j.Value)
		if err != nil {
			return k, err
		}
		said[j.By] = append(said[j.By], x)
		units[j.Unit] = true
	}
	var persons []float64
	for _, xs := range said {
		persons = append(persons, lowerMedian(xs))
	}
	slices.Sort(persons)
	wide := 0
	switch n := len(persons); {
	case n == 1:
		wide = 2
	case n < 4:
		wide = 1
	}
	if len(units) == 1 {
		wide++
	}
	step := f.step
	low, high := persons[0], persons[len(persons)-1]
	if f.choice {
		step = 1
		low, high = math.Max(0, low-float64(wide)), math.Min(float64(len(f.values)-1), high+float64(wide))
	} else {
		low, high = f.clip(low-float64(wide)*step), f.clip(high+float64(wide)*step)
	}
	list2, err := grid(at, low, high, step)
	if err != nil {
		return k, err
	}
	middle := lowerMedian(persons)
	k.x, k.sure = list2, []float64{middle}
	k.add(middle)
	eye := "half"
	if len(persons) >= 4 && len(units) >= 2 {
		eye = "open"
	}
	k.judged = &Judged{len(persons), len(units), f.say(middle), f.say(low), f.say(high), eye}
	return k, nil
}

func lowerMedian(xs []float64) float64 {
	s := slices.Sorted(slices.Values(xs))
	return s[(len(s)-1)/2]
}
