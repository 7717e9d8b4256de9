package ledger

// LearnedWeight is how many verdicts the house prior weighs against those that were counted (house).
const LearnedWeight = 4.0

// Learned is a prior that counted verdicts pull away from the house's: (k + K·m)/(n + K) with k losses among n settled
// verdicts and K = [LearnedWeight].
func Learned(k, n int, house float64) float64 {
	return (float64(k) + LearnedWeight*house) / (float64(n) + LearnedWeight)
}
