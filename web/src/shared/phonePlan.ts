import type { Schemas } from '../api/client'

/** What a plan of a phone is drawn with: hatches of the families, marks of the drives, edges and zones in millimetres. */
export const families = ['PW', 'OP', 'SC', 'SO', 'BD', 'RF', 'BT', 'FR', 'SE'] as const
export const hatch: Record<string, string> = {
  PW: 'M0 4h8',
  OP: 'M0 8 8 0',
  SC: '',
  SO: 'M4 0v8',
  BD: 'M0 4h8M4 0v8',
  RF: 'M0 0l8 8',
  BT: 'M2 2h2M6 6h2',
  FR: '',
  SE: 'M0 8 8 0M0 0l8 8',
}
/** Millimetres between the body and the opened lid. */
export const gap = 14

/** What stands in the head of a screw; a drive without a mark is an empty circle. */
export const driveMarks: Record<string, string> = {
  cross: 'M-0.8 0h1.6M0 -0.8v1.6',
  'tri-wing': 'M0 0v-0.9M0 0l0.8 0.5M0 0l-0.8 0.5',
  'five-lobe': 'M0 -0.8l0.5 1.4-1.2-0.9h1.4l-1.2 0.9z',
}

/** A line along an edge of the body, whose left side is at x. */
export function edgePath(side: string | undefined, x: number, width: number, height: number) {
  return {
    top: `M${x + 8} -1.4h${width - 16}`,
    bottom: `M${x + 8} ${height + 1.4}h${width - 16}`,
    left: `M${x - 1.4} 8v${height - 16}`,
    right: `M${x + width + 1.4} 8v${height - 16}`,
  }[side ?? '']
}

/** The rectangle of a keep-out zone of a body whose left side is at x. */
export function zoneOf(k: Schemas['KeepOut'], x: number, width: number, height: number) {
  const long = k.to_mm - k.from_mm
  if (k.edge === 'top') return { x: x + k.from_mm, y: 0, w: long, h: k.depth_mm }
  if (k.edge === 'bottom') return { x: x + k.from_mm, y: height - k.depth_mm, w: long, h: k.depth_mm }
  if (k.edge === 'left') return { x, y: k.from_mm, w: k.depth_mm, h: long }
  return { x: x + width - k.depth_mm, y: k.from_mm, w: k.depth_mm, h: long }
}

/** A step of a way, as far as the plan draws it. */
export interface Walked {
  id: string
  what: string
  part?: string
  frees?: string[]
  drive?: string
  diameter_mm?: number
  length_mm?: number
  fastener?: Schemas['Fastener']
}
/** A place on the plan, in its millimetres. */
export interface Place {
  x: number
  y: number
  w: number
  h: number
}

/** Where a step is done: round its fasteners, else the part that it is about; undefined where neither has a place. */
export function placeOf(s: Walked, parts: Map<string, Place>, offset: number): Place | undefined {
  const at = s.fastener?.at ?? []
  if (at.length) {
    const xs = at.map((p) => p.x)
    const ys = at.map((p) => p.y)
    const x = Math.min(...xs)
    const y = Math.min(...ys)
    return { x: x + offset, y, w: Math.max(...xs) - x, h: Math.max(...ys) - y }
  }
  return parts.get(s.part ?? '') ?? parts.get(s.frees?.[0] ?? '')
}

/** Numbers as people write them: 1, 3–5. */
export function ranges(numbers: number[]): string {
  const runs: [number, number][] = []
  for (const n of numbers) {
    const last = runs.at(-1)
    if (last && n === last[1] + 1) last[1] = n
    else runs.push([n, n])
  }
  return runs.map(([a, b]) => (a === b ? `${a}` : b === a + 1 ? `${a},${b}` : `${a}–${b}`)).join(',')
}

/** The numbers of the steps at their places; those without a place stand at the right edge. */
export function numbered(steps: Walked[], place: (s: Walked) => Place | undefined, right: number, height: number) {
  const marks: { x: number; y: number; n: number[] }[] = []
  const loose: number[] = []
  for (const [i, s] of steps.entries()) {
    const p = place(s)
    if (!p) {
      loose.push(i + 1)
      continue
    }
    // Marks that would lie on each other are one.
    const near = marks.find((m) => Math.abs(m.x - p.x) < 6 && Math.abs(m.y - p.y) < 6)
    if (near) near.n.push(i + 1)
    else marks.push({ x: p.x + 0.6, y: p.y + 0.6, n: [i + 1] })
  }
  const apart = Math.min(8, height / Math.max(1, loose.length))
  return [
    ...marks.map((m) => ({ ...m, text: ranges(m.n), edge: false })),
    ...loose.map((n, i) => ({ x: right + 5, y: 5 + i * apart, n: [n], text: String(n), edge: true })),
  ]
}
