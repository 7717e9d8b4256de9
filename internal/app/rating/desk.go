package rating

import (
	"fmt"

	"waryowl/internal/app/desk"
	"waryowl/internal/app/model"
	"waryowl/internal/core/school"
)

// fromDesk takes prices, days and the rate from the parts desk, where it has them; what people say fills the rest.
func (r *Record) fromDesk(all desk.Desk) {
	d := all.Of(r.Know.ID)
	put := func(id string, x float64, found bool, words string) {
		if !found {
			return
		}
		if def := school.Facts()[id]; x < *def.Min || x > *def.Max { // never bent to what the rules can weigh
			r.Facts[id] = &Known{
				ID:     id,
				Engine: "parts desk",
				Words:  words,
				Why: fmt.Sprintf("%s is outside of what the rules weigh, %s to %s",
					desk.Money(x, r.Currency), desk.Money(*def.Min, r.Currency), desk.Money(*def.Max, r.Currency)),
			}
			return
		}
		r.compute(id, school.Value{Value: x}, "open", words, "parts", "")
		if f := r.Facts[id]; f != nil {
			f.Engine = "parts desk"
		}
	}
	for _, j := range model.JobKinds {
		job := desk.Slot(j.Job)
		price, ok := d.Price(r.Know.ID, job)
		put(job+".job-price", price, ok, "price list of the parts desk")
		part, ok := d.Cheapest(j.Kind)
		put(job+".part-price", part, ok, "cheapest offer of the parts desk")
	}
	if d.Workshop.ID != "" && d.Workshop.LabourMinor > 0 {
		put("shop.rate", float64(d.Workshop.LabourMinor), true, "the workshop's settings")
	}
	var low, high float64
	for i, j := range model.CommonJobs { // days until a common part is there
		lead := d.Lead(j)
		if lead == nil {
			return
		}
		if i == 0 || lead[0] < low {
			low = lead[0]
		}
		high = max(high, lead[1])
	}
	if high > low && low >= 1 {
		r.compute(
			"parts.days",
			school.Value{Low: &low, High: &high},
			"half",
			fmt.Sprintf("%g to %g days by the offers", low, high),
			"parts",
			"",
		)
	}
}
