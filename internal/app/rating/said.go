package rating

import (
	"cmp"
	"fmt"
	"slices"
	"time"

	"waryowl/internal/core/fault"
	"waryowl/internal/core/school"
	"waryowl/internal/store"
)

// CheckSaying refuses what is no value of its fact.
func CheckSaying(f store.SayingFacts) error {
	def, known := school.Facts()[f.Fact]
	o, asked := OriginOf(f.Fact)
	switch {
	case !known || !asked:
		return fault.New("fact", f.Fact, "the id of a fact of the rubrics")
	case o.Engine != "" && !o.Beside:
		return fault.New("fact", f.Fact, "a fact that nobody computes: this one comes from the "+o.Engine+" engine")
	case def.Kind == "choice":
		if !slices.Contains(def.Values, f.Choice) {
			return fault.New("choice", f.Choice, fmt.Sprint("one of ", def.Values))
		}
		if f.Number != nil || f.Low != nil || f.High != nil {
			return fault.New("number", "a number", "nothing beside the choice")
		}
	default:
		if f.Choice != "" {
			return fault.New("choice", f.Choice, "nothing: this fact is a number")
		}
		if (f.Number == nil) == (f.Low == nil && f.High == nil) {
			return fault.New("number", "both or neither", "a number, or from and to")
		}
		for name, x := range map[string]*float64{"number": f.Number, "low": f.Low, "high": f.High} {
			if x != nil && (*x < *def.Min || *x > *def.Max) {
				return fault.New(name, *x, fmt.Sprintf("%g to %g %s", *def.Min, *def.Max, def.Unit))
			}
		}
		if f.Low != nil && f.High != nil && *f.Low > *f.High {
			return fault.New("low", *f.Low, "not above the other end")
		}
	}
	if o.Money && f.Currency == "" {
		return fault.New("currency", "none", "the currency of the amount, three letters")
	}
	return nil
}

// said turns what people said of a fact into a value: judgements are weighed, of all else the newest holds.
func (r *Record) said(id string, list []store.FactSaying) {
	def, o := school.Facts()[id], origin(id)
	slices.SortStableFunc(list, func(a, b store.FactSaying) int { return when(b).Compare(when(a)) })
	k := r.Facts[id]
	if k == nil {
		k = &Known{ID: id}
		r.Facts[id] = k
	}
	k.Sayings = list
	if k.Engine != "" && len(k.Value.Among) == 0 {
		return // worked out for certain
	}
	newest := list[0]
	if o.Money && r.Currency != "" && newest.Currency != r.Currency {
		k.Why = "said in " + newest.Currency + ", the workshop counts in " + r.Currency
		return
	}
	v := school.Value{Build: newest.Build, Date: when(newest).Format("2006-01-02")}
	switch {
	case o.Judged:
		for _, s := range list {
			j := school.Judgement{By: s.By, Unit: cmp.Or(s.Unit, "a phone"), Value: s.Choice}
			if def.Kind != "choice" && s.Number != nil {
				j.Value = *s.Number
			}
			v.Judgements = append(v.Judgements, j)
		}
	case def.Kind == "choice":
		if len(k.Value.Among) > 0 && !slices.Contains(k.Value.Among, newest.Choice) && newest.Choice != "supplied" {
			k.Why = fmt.Sprintf("%s was said, the plan allows %v", newest.Choice, k.Value.Among)
			return
		}
		v.Value = newest.Choice
	case newest.Number != nil:
		v.Value = *newest.Number
	default:
		v.Low, v.High = newest.Low, newest.High
	}
	k.Value, k.Known, k.Date, k.Build = v, true, v.Date, newest.Build
	k.Eye = "half"
	people := map[string]bool{}
	for _, s := range list {
		people[s.By] = true
	}
	if len(people) >= 4 || !o.Judged && newest.Evidence != "" {
		k.Eye = "open"
	}
	if k.Engine == "" {
		k.Source = "asked"
	}
	k.Words = newest.Evidence
}

func origin(id string) Origin { o, _ := OriginOf(id); return o }

func when(s store.FactSaying) time.Time {
	if s.SaidOn != nil {
		return *s.SaidOn
	}
	return s.CreatedAt
}
