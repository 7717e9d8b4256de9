package fit

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"waryowl/internal/app/model"
	"waryowl/internal/core/fit"
)

// minutes of one test by itself: the host opened, the piece fitted, started, checked and everything put back; the donor
// opened for its piece. Putting back takes 0.8 of taking out (house).
func (g *gathered) minutes(donor, host string) (minutes float64, assumed bool) {
	open := func(id string) float64 {
		if w := g.ways[id]; w != nil {
			return 1.8 * w.AttendedMinutes
		}
		assumed = true
		return usualMinutes
	}
	minutes = open(host) + g.once()
	if donor != host && g.isModel(donor) {
		minutes += open(donor)
	}
	return minutes, assumed
}

// once is what every fitting takes while the host lies open.
func (g *gathered) once() float64 { return fitMinutes + (model.BootSeconds+g.check)/60 }

// candidates are the tests that could tell something: what is neither proven nor settled by geometry, untested pairs
// first, and own controls where a "no" lacks one.
func (g *gathered) candidates(r *Room) {
	type pair struct {
		donor, host string
		rank        int
	}
	var list []pair
	controls := map[string]bool{}
	settled := map[[2]string]bool{}
	for _, u := range r.Found.Unneeded {
		settled[[2]string{u.Donor, u.Host}] = true
	}
	for _, p := range r.Found.Pairs {
		if slices.Contains(p.Missing, "own control") && p.Reached.N > 0 {
			controls[p.Host] = true
		}
		if p.Donor == p.Host || p.Grade == "open" || settled[[2]string{p.Donor, p.Host}] {
			continue
		}
		list = append(list, pair{p.Donor, p.Host, min(1, p.Reached.N)})
	}
	for h := range controls {
		list = append(list, pair{h, h, 0})
	}
	slices.SortStableFunc(list, func(a, b pair) int {
		return cmp.Or(cmp.Compare(a.rank, b.rank), cmp.Compare(a.host, b.host), cmp.Compare(a.donor, b.donor))
	})
	for i, p := range list[:min(len(list), mostCandidates)] {
		minutes, _ := g.minutes(p.donor, p.host)
		g.in.Candidates = append(
			g.in.Candidates,
			fit.Candidate{ID: fmt.Sprintf("c%d", i+1), Donor: p.donor, Host: p.host, Minutes: minutes},
		)
	}
}

// stop is what the measures of two connectors say before anything is mated.
func (g *gathered) stop(donor, host string) string {
	find := func(id string) map[string]fit.Measure {
		for _, m := range g.in.Models {
			if m.ID == id {
				return m.Features
			}
		}
		for _, c := range g.in.Copies {
			if c.ID == id {
				return c.Features
			}
		}
		return nil
	}
	a, b := find(donor), find(host)
	for _, name := range []string{"connector-width", "connector-pitch", "connector-height", "connector-pins"} {
		x, y := a[name], b[name]
		u := math.Hypot(x.U, y.U)
		if d := x.Value - y.Value; x.Value > 0 && y.Value > 0 && math.Abs(d) > 2*u {
			return fmt.Sprintf("%s differs by %+.2f ± %.2f: measure, do not force", key(name), d, u)
		}
	}
	return ""
}

// visits put the tests of one host together, so that every phone is opened once.
func (g *gathered) visits(next []Advice) []Visit {
	by := map[string]*Visit{}
	var hosts []string
	for _, a := range next {
		if a.Bits < 0.01 {
			continue
		}
		v := by[a.Host]
		if v == nil {
			open, _ := g.minutes(a.Host, a.Host)
			v = &Visit{Host: a.Host, Minutes: open - g.once()}
			by[a.Host] = v
			hosts = append(hosts, a.Host)
		}
		v.Donors = append(v.Donors, a.Donor)
		v.Bits += a.Bits
		v.Minutes += g.once()
		if a.Donor != a.Host && g.isModel(a.Donor) {
			if w := g.ways[a.Donor]; w != nil {
				v.Minutes += 1.8 * w.AttendedMinutes
			} else {
				v.Minutes += usualMinutes
			}
		}
	}
	list := []Visit{}
	for _, h := range hosts {
		list = append(list, *by[h])
	}
	slices.SortStableFunc(list, func(a, b Visit) int { return cmp.Compare(b.Bits/b.Minutes, a.Bits/a.Minutes) })
	return list
}
