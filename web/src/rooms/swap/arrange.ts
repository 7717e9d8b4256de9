import type { Schemas } from '../../api/client'

type Swap = Schemas['SwapRoom']
type Piece = Schemas['Piece']
type Move = Schemas['Move']
export type Housing = Schemas['SwapHousing']
/** What a trial starts from: the board, the housing that it sits in, and what is not its own there. */
export type Start = { board: string; housing: string; pieces: Piece[] }

const own = (part: string, unit: string): Piece => ({ part_id: part, origin: 'unit', unit_id: unit })

/** The trial that the bench shows in a housing now. */
export const startOf = (housing: Housing): Start => ({
  board: housing.board_unit_id ?? housing.unit_id,
  housing: housing.unit_id,
  pieces: housing.fitted,
})

/** The moves that exchange what two phones hold in a slot. */
export function exchange(room: Swap, part: string, a: string, b: string): Move[] {
  const at = (unit: string) =>
    room.board.housings.find((h) => h.unit_id === unit)?.slots.find((s) => s.piece.part_id === part)?.piece
  return [
    { piece: at(a), to: b },
    { piece: at(b), to: a },
  ].flatMap(({ piece, to }) => (piece && piece.origin !== 'off' ? [{ ...piece, to_unit_id: to }] : []))
}

/** Brings the original of a slot back home. */
export const goHome = (part: string, unit: string): Move[] => [{ ...own(part, unit), to_unit_id: unit }]

/** Trials and acts in the order in which they happened. */
export const history = (room: Swap) => [...room.trials, ...room.acts].sort((a, b) => a.place - b.place)

/** What a form sends about the place of what it records. */
export const placing = (p: { after: string; done: string }) => ({
  ...(p.after && p.after !== 'now' ? { after: p.after } : {}),
  ...(p.done ? { done_at: new Date(p.done).toISOString() } : {}),
})
