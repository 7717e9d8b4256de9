package trace

import (
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/mat"
)

// seen is a pinhole camera: the plane z = 0 turned by tilt and looked at from far off (the definition of perspective,
// worked independently of the four-point solution).
func seen(x, y, tilt, turn, far float64) Point {
	x, y = x*math.Cos(turn)-y*math.Sin(turn), x*math.Sin(turn)+y*math.Cos(turn)
	z := far + y*math.Sin(tilt)
	return Point{500 + 900*x/z, 400 + 900*y*math.Cos(tilt)/z}
}

func TestPlace(t *testing.T) {
	const w, h = 72.0, 148.0
	for _, camera := range [][3]float64{{0, 0, 300}, {0.4, 0.2, 320}, {-0.6, 1.1, 400}, {0.2, -2.5, 250}} {
		at := func(x, y float64) Point { return seen(x-w/2, y-h/2, camera[0], camera[1], camera[2]) }
		v, err := New([4]Point{at(0, 0), at(w, 0), at(w, h), at(0, h)}, w, h)
		if err != nil {
			t.Fatalf("%v: %v", camera, err)
		}
		for _, p := range [][2]float64{{0, 0}, {36, 74}, {10.5, 120}, {71, 3}} {
			if x, y := v.Place(at(p[0], p[1])); math.Hypot(x-p[0], y-p[1]) > 1e-6 {
				t.Errorf("camera %v: %v comes back as %.3f, %.3f", camera, p, x, y)
			}
		}
	}
	v, _ := New([4]Point{{0, 0}, {1, 0}, {1, 1}, {0, 1}}, w, h)
	if got := v.Trace(Point{0.75, 0.5}, Point{0.25, 0.25}); got != (Box{18, 37, 36, 37}) {
		t.Errorf("a box drawn backwards: %+v", got)
	}
}

func TestNewRefuses(t *testing.T) {
	square := [4]Point{{0, 0}, {1, 0}, {1, 1}, {0, 1}}
	for name, c := range map[string][4]Point{
		"crossed": {{0, 0}, {1, 1}, {1, 0}, {0, 1}}, "on a line": {{0, 0}, {1, 0}, {2, 0},
			{0, 1}}, "one point": {{1, 1}, {1, 1}, {1, 1}, {1, 1}},
	} {
		if _, err := New(c, 72, 148); err == nil {
			t.Errorf("%s corners were taken", name)
		}
	}
	if _, err := New(square, 0, 148); err == nil {
		t.Error("a phone without a width was taken")
	}
}

// The elimination gives what gonum's solver gives.
func TestSolveAgainstGonum(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 5))
	for range 200 {
		var rows [8][9]float64
		a, b := mat.NewDense(8, 8, nil), mat.NewVecDense(8, nil)
		for i := range 8 {
			for k := range 9 {
				rows[i][k] = r.NormFloat64()
				if k < 8 {
					a.Set(i, k, rows[i][k])
				} else {
					b.SetVec(i, rows[i][k])
				}
			}
		}
		v, ok := solve(rows)
		var want mat.VecDense
		if err := want.SolveVec(a, b); err != nil || !ok {
			continue
		}
		for i := range 8 {
			if math.Abs(v[i]-want.AtVec(i)) > 1e-6*(1+math.Abs(v[i])) {
				t.Fatalf("row %d: %g, gonum %g", i, v[i], want.AtVec(i))
			}
		}
	}
}
