/** Readings of one measure as a mean with its standard uncertainty: last digit ÷ 2√3, and s/√n of repeats (JCGM 100:2008). */
export function quantity(readings: number[], digit: number, unit: string) {
  const n = readings.length
  const value = readings.reduce((a, b) => a + b, 0) / Math.max(1, n)
  const s2 = n > 1 ? readings.reduce((a, x) => a + (x - value) ** 2, 0) / (n - 1) / n : 0
  return { value, u: Math.sqrt((digit / (2 * Math.sqrt(3))) ** 2 + s2), unit }
}
