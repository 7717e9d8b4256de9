/** Seconds since opening as the time of the day. */
export function clockOf(open: number, seconds: number): string {
  const s = open + seconds
  return `${String(Math.floor(s / 3600)).padStart(2, '0')}:${String(Math.floor(s / 60) % 60).padStart(2, '0')}`
}

/** A time of the day as seconds since opening; undefined when it is none, or before opening. */
export function secondsOf(open: number, text: string): number | undefined {
  const m = /^\s*(\d{1,2})[:.](\d\d)\s*$/.exec(text)
  if (!m || Number(m[1]) > 23 || Number(m[2]) > 59) return undefined
  const s = Number(m[1]) * 3600 + Number(m[2]) * 60 - open
  return s < 0 ? undefined : s
}

/** The day that a clock on the wall shows, and how far it runs east of Greenwich. */
export const today = () => new Date().toLocaleDateString('sv')
export const offsetOf = (date: string) => -new Date(`${date}T12:00:00`).getTimezoneOffset()
