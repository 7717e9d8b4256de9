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
