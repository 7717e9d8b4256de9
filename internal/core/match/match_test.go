package match

import "testing"

func TestRank(t *testing.T) {
	battery := []string{"Pellow Drift 4", "battery", "cell", "PB-4417"}
	for _, c := range []struct {
		query string
		want  float64
	}{
		{"battery", 4}, {"BATT", 2}, {"atter", 1}, {"drift 4 battery", 3}, {"battery, drift", 3}, {"drift 3 battery",
			0},
		{"pb-4417", 4}, {"", 0}, {" - ", 0}, {"drift batt", 2.5}, {"'; drop table parts", 0}, {"\x00", 0},
	} {
		if got := Rank(c.query, battery...); got != c.want {
			t.Errorf("%q: got %g, want %g", c.query, got, c.want)
		}
	}
}
