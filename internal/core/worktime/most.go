package worktime

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"waryowl/internal/core/fault"
)

// TMU is one time measurement unit in seconds: 1/100,000 of an hour.
const TMU = 0.036

// indices are the values that a parameter of basic MOST may take (K. B. Zandin, MOST Work Measurement Systems; from
// memory).
var indices = []int{0, 1, 3, 6, 10, 16, 24, 32, 42, 54, 67, 81, 96}

// parameters are the letters of its sequences: action distance, body motion, gain control, placement; move controlled,
// process time, alignment; fasten, loosen, cut, surface treat, measure, record, think (from memory).
const parameters = "ABGPMXIFLCSRTK"

// MOST is the time of a sequence of basic MOST, in seconds: the sum of its index values times 10 TMU. "A6 B6 G1 A1 B0
// P3 A0" is 170 TMU, 6.12 s.
func MOST(sequence string) (float64, error) {
	words := strings.Fields(sequence)
	if len(words) == 0 {
		return 0, fault.New("sequence", sequence, "parameters like A6 B6 G1 A1 B0 P3 A0")
	}
	sum := 0
	for k, w := range words {
		n, err := strconv.Atoi(w[1:])
		if !strings.Contains(parameters, w[:1]) || err != nil || !slices.Contains(indices, n) {
			return 0, fault.New(fmt.Sprintf("sequence[%d]", k), w,
				"a letter of "+parameters+" with an index of 0, 1, 3, 6, 10, 16, 24, 32, 42, 54, 67, 81 or 96")
		}
		sum += n
	}
	return float64(sum) * 10 * TMU, nil
}
