// Package trace reads millimetres off a photo: from the four corners of the phone in the picture it finds the
// projection of the phone's plane, and maps what is drawn on the picture to places on the plan.
//
//	view, err := trace.New(corners, 72, 148)
//	x, y := view.Place(p) // mm from the upper left corner
package trace

import (
	"math"

	"waryowl/internal/core/fault"
)

// Point is a place on the picture, in shares of its width and height or in pixels.
type Point struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
}

// View is the projection of a plane, up to scale: the plane homography of R. Hartley and A. Zisserman, Multiple View
// Geometry in Computer Vision, chapter 4 (four correspondences, from memory).
type View [9]float64

// New takes the phone's corners as they are seen (upper left, upper right, lower right, lower left) and its size in mm.
func New(corners [4]Point, width, height float64) (View, error) {
	if !(width > 0 && height > 0) {
		return View{}, fault.New("model.width_mm", width, "the phone's width and height, above 0")
	}
	to := [4]Point{{0, 0}, {width, 0}, {width, height}, {0, height}}
	var rows [8][9]float64
	for i, p := range corners {
		q := to[i]
		rows[2*i] = [9]float64{p.X, p.Y, 1, 0, 0, 0, -p.X * q.X, -p.Y * q.X, q.X}
		rows[2*i+1] = [9]float64{0, 0, 0, p.X, p.Y, 1, -p.X * q.Y, -p.Y * q.Y, q.Y}
	}
	// Corners must go round: a folded or flat square has no plane behind it.
	turn := 0.0
	for i := range corners {
		p, q, r := corners[i], corners[(i+1)%4], corners[(i+2)%4]
		c := (q.X-p.X)*(r.Y-q.Y) - (q.Y-p.Y)*(r.X-q.X)
		if c == 0 || turn != 0 && math.Signbit(c) != math.Signbit(turn) {
			return View{}, fault.New("corners", corners,
				"the four corners in turn: upper left, upper right, lower right, lower left")
		}
		turn = c
	}
	v, ok := solve(rows)
	if !ok {
		return View{}, fault.New("corners", corners, "four corners of which no three lie on a line")
	}
	return v, nil
}

// solve eliminates with the largest pivot of each column (Gauss). By hand, since the reader of the bench line in the page
// holds this too and a matrix library would be a tenth of it; the test compares it with gonum.
func solve(rows [8][9]float64) (v View, ok bool) {
	for c := range 8 {
		p := c
		for i := c + 1; i < 8; i++ {
			if math.Abs(rows[i][c]) > math.Abs(rows[p][c]) {
				p = i
			}
		}
		if math.Abs(rows[p][c]) < 1e-12 {
			return View{}, false
		}
		rows[c], rows[p] = rows[p], rows[c]
		for i := range 8 {
			if i == c {
				continue
			}
			f := rows[i][c] / rows[c][c]
			for k := c; k < 9; k++ {
				rows[i][k] -= f * rows[c][k]
			}
		}
	}
	v[8] = 1
	for i := range 8 {
		v[i] = rows[i][8] / rows[i][i]
	}
	return v, true
}

// Place maps a point of the picture to mm on the phone.
func (v View) Place(p Point) (x, y float64) {
	w := v[6]*p.X + v[7]*p.Y + v[8]
	return (v[0]*p.X + v[1]*p.Y + v[2]) / w, (v[3]*p.X + v[4]*p.Y + v[5]) / w
}

// Box is a rectangle on the plan, mm.
type Box struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
	W float64 `json:"w"`
	H float64 `json:"h"`
}

// Trace maps a rectangle drawn on the picture (two opposite corners) to the box on the plan that holds it, to half a
// millimetre.
func (v View) Trace(a, b Point) Box {
	least, most := [2]float64{math.Inf(1), math.Inf(1)}, [2]float64{math.Inf(-1), math.Inf(-1)}
	for _, p := range []Point{a, b, {a.X, b.Y}, {b.X, a.Y}} {
		x, y := v.Place(p)
		least = [2]float64{math.Min(least[0], x), math.Min(least[1], y)}
		most = [2]float64{math.Max(most[0], x), math.Max(most[1], y)}
	}
	half := func(x float64) float64 { return math.Round(2*x) / 2 }
	return Box{half(least[0]), half(least[1]), half(most[0] - least[0]), half(most[1] - least[1])}
}
