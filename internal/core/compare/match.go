package compare

import (
	"math"
	"strings"
	"unicode"
)

// Centre is the centre of a part of m as it lies in b, in mm: edges lie on edges.
func Centre(m, b Model, r Rect) (x, y float64) {
	x, y = (r.X+r.W/2)/m.Width, (r.Y+r.H/2)/m.Height
	if m.Away == "bottom" {
		x, y = 1-x, 1-y
	}
	if m.Face == "back" {
		x = 1 - x
	}
	return x * b.Width, y * b.Height
}

// words are the runs of letters and digits of a name.
func words(name string) map[string]bool {
	set := map[string]bool{}
	for _, w := range strings.FieldsFunc(strings.ToLower(name), func(r rune) bool {
		return !unicode.IsLetter(r) && !unicode.IsDigit(r)
	}) {
		set[w] = true
	}
	return set
}

func asSet(list []string) map[string]bool {
	set := map[string]bool{}
	for _, x := range list {
		set[x] = true
	}
	return set
}

func common(a, b map[string]bool) (n int) {
	for x := range a {
		if b[x] {
			n++
		}
	}
	return n
}

// traits are what of a part is compared, read once.
type traits struct {
	Part
	names   []map[string]bool
	carries map[string]bool
	x, y    float64
}

func read(m, b Model) []traits {
	list := make([]traits, len(m.Parts))
	for i, p := range m.Parts {
		t := traits{Part: p, carries: asSet(p.Carries)}
		for _, n := range p.Names {
			t.names = append(t.names, words(n))
		}
		if p.Rect != nil {
			t.x, t.y = Centre(m, b, *p.Rect)
		}
		list[i] = t
	}
	return list
}

// likeness is how alike the names of two parts are, the best of all pairs: 0 to 1.
func likeness(a, b traits) float64 {
	best := 0.0
	for _, p := range a.names {
		for _, q := range b.names {
			if n := len(p) + len(q); n > 0 {
				best = max(best, 2*float64(common(p, q))/float64(n))
			}
		}
	}
	return best
}

// score is how much speaks for two parts being the same, in spirit natural-log odds. All weights are house, chosen on
// invented pairs of models.
func score(a, b traits) float64 {
	sum := -2.0
	if strings.EqualFold(a.Kind, b.Kind) {
		sum = 2
	}
	if a.Family != "" && b.Family != "" {
		if a.Family == b.Family {
			sum += 0.5
		} else {
			sum -= 0.5
		}
	}
	sum += 4 * likeness(a, b)
	if n := min(len(a.carries), len(b.carries)); n > 0 {
		sum += 7*float64(common(a.carries, b.carries))/float64(n) - 3
	}
	if a.Layer != nil && b.Layer != nil {
		sum += 1 - math.Min(2, math.Abs(float64(*a.Layer-*b.Layer)))
	}
	if a.Rect != nil && b.Rect != nil {
		area := math.Log(b.Rect.W * b.Rect.H / (a.Rect.W * a.Rect.H))
		shape := math.Log(b.Rect.W / b.Rect.H / (a.Rect.W / a.Rect.H))
		sum -= math.Min(6, (area*area+shape*shape)/0.125)
		dx, dy := b.x-a.x, b.y-a.y
		sum -= math.Min(8, (dx*dx+dy*dy)/288)
	}
	p, q := a.Quantities["mass"], b.Quantities["mass"]
	if p.Value > 0 && q.Value > 0 && p.Unit == q.Unit {
		r := math.Log(q.Value / p.Value)
		sum -= math.Min(2, r*r/0.32)
	}
	return sum
}

// never is the cost of what may not be: far above all that a sum of scores reaches.
const never = 1e6

// assignment is a cheapest assignment of rows to columns with its dual prices (H. W. Kuhn 1955; shortest augmenting
// paths). cost is square; of, by row, and to, by column, are each other's inverse.
type assignment struct {
	cost [][]float64
	u, v []float64
	to   []int // row of a column
	of   []int // column of a row
}

func assign(cost [][]float64) *assignment {
	n := len(cost)
	s := &assignment{cost: cost, u: make([]float64, n), v: make([]float64, n), to: make([]int, n), of: make([]int, n)}
	for i := range n {
		s.to[i], s.of[i] = -1, -1
	}
	for i := range n {
		end, way, dist, done := s.path(i)
		// prices move so that the tree stays tight
		for j := range n {
			if done[j] {
				s.v[j] -= dist[end] - dist[j]
				if r := s.to[j]; r >= 0 {
					s.u[r] += dist[end] - dist[j]
				}
			}
		}
		s.u[i] += dist[end]
		for j := end; ; {
			r := way[j]
			s.to[j] = r
			j, s.of[r] = s.of[r], j
			if r == i {
				break
			}
		}
	}
	return s
}

// path is the shortest path in reduced costs from a free row to a free column: its end, the row before each column, the
// distances, and the columns that were settled.
func (s *assignment) path(row int) (end int, way []int, dist []float64, done []bool) {
	n := len(s.cost)
	way, dist, done = make([]int, n), make([]float64, n), make([]bool, n)
	for j := range dist {
		dist[j] = math.Inf(1)
	}
	r, far := row, 0.0
	for {
		next := -1
		for j := range n {
			if done[j] {
				continue
			}
			if d := far + s.cost[r][j] - s.u[r] - s.v[j]; d < dist[j] {
				dist[j], way[j] = d, r
			}
			if next < 0 || dist[j] < dist[next] {
				next = j
			}
		}
		if s.to[next] < 0 {
			return next, way, dist, done
		}
		done[next] = true
		r, far = s.to[next], dist[next]
	}
}

// without is what the sum loses when the pair of a row is forbidden: the shortest way to seat the row and its column anew.
func (s *assignment) without(row int) float64 {
	col := s.of[row]
	kept := s.cost[row][col]
	s.cost[row][col] = never
	s.to[col], s.of[row] = -1, -1
	end, _, dist, _ := s.path(row)
	s.cost[row][col], s.to[col], s.of[row] = kept, row, col
	return math.Max(0, dist[end])
}

// match pairs the parts of a and b: the pairs with their scores and margins; everything else stays alone.
func match(a, b []traits, in Input) (pairs []pair, scores [][]float64) {
	na, nb := len(a), len(b)
	scores = make([][]float64, na)
	for i := range a {
		scores[i] = make([]float64, nb)
		for j := range b {
			scores[i][j] = score(a[i], b[j])
		}
	}
	number := func(list []traits, id string) int {
		for i, p := range list {
			if p.ID == id {
				return i
			}
		}
		return -1
	}
	fixedA, fixedB := make([]bool, na), make([]bool, nb)
	for _, c := range in.Confirmed {
		i, j := number(a, c[0]), number(b, c[1])
		fixedA[i], fixedB[j] = true, true
		pairs = append(pairs, pair{a: i, b: j, score: scores[i][j], confirmed: true})
	}
	refused := map[[2]int]bool{}
	for _, r := range in.Refused {
		refused[[2]int{number(a, r[0]), number(b, r[1])}] = true
	}
	var rows, cols []int
	for i := range a {
		if !fixedA[i] {
			rows = append(rows, i)
		}
	}
	for j := range b {
		if !fixedB[j] {
			cols = append(cols, j)
		}
	}
	n := len(rows) + len(cols)
	cost := make([][]float64, n)
	for r := range cost {
		cost[r] = make([]float64, n) // alone: 0
		if r >= len(rows) {
			continue
		}
		for c, j := range cols {
			cost[r][c] = -scores[rows[r]][j]
			if refused[[2]int{rows[r], j}] {
				cost[r][c] = never
			}
		}
	}
	s := assign(cost)
	for r, i := range rows {
		if c := s.of[r]; c < len(cols) {
			pairs = append(pairs, pair{a: i, b: cols[c], score: scores[i][cols[c]], margin: s.without(r)})
		}
	}
	for at := range refused {
		scores[at[0]][at[1]] = math.Inf(-1)
	}
	return pairs, scores
}

type pair struct {
	a, b          int
	score, margin float64
	confirmed     bool
}
