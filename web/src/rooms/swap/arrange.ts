import type { Schemas } from '../../api/client'

type Swap = Schemas['SwapRoom']
type Piece = Schemas['Piece']
type Move = Schemas['Move']
export type Housing = Schemas['SwapHousing']
/** What a trial starts from: the board, the housing that it sits in, and what is not its own there. */
export type Start = { board: string; housing: string; pieces: Piece[] }

const own = (part: string, unit: string): Piece => ({ part_id: part, origin: 'unit', unit_id: unit })
const same = (a: Piece, b: Piece) =>
  a.part_id === b.part_id &&
  (a.origin ?? 'unit') === (b.origin ?? 'unit') &&
  (a.unit_id ?? '') === (b.unit_id ?? '') &&
  (a.lot ?? '') === (b.lot ?? '')

/** The trial that the bench shows in a housing now. */
export function startOf(room: Swap, housing: Housing): Start {
  const main = room.board.board_part_id
  const board = housing.board_unit_id ?? housing.unit_id
  const pieces = housing.slots
    .filter((s) => s.piece.part_id !== main && !same(s.piece, own(s.piece.part_id, board)))
    .map((s) => s.piece)
  return { board, housing: housing.unit_id, pieces }
}

/** The moves from the present arrangement to a wanted one, which names the piece of every slot of some housings. */
export function movesTo(room: Swap, wanted: (housing: Housing, part: string) => Piece): Move[] {
  const moves: Move[] = []
  for (const h of room.board.housings)
    for (const s of h.slots) {
      const want = wanted(h, s.piece.part_id)
      if (!same(s.piece, want) && want.origin !== 'off') moves.push({ ...want, to_unit_id: h.unit_id })
      else if (want.origin === 'off' && s.piece.origin !== 'off') moves.push({ ...s.piece, to_unit_id: '' })
    }
  return moves
}

/** The moves that bring the bench to a proposed swap: its parts exchanged between the two phones, or the boards, all else home. */
export function movesFor(room: Swap, n: Schemas['SwapNextSwap']): Move[] {
  const main = room.board.board_part_id
  const pair = [n.board_unit_id, n.from_unit_id]
  const other = (unit: string) => (unit === pair[0] ? pair[1]! : pair[0]!)
  return movesTo(room, (h, part) => {
    const here = pair.includes(h.unit_id)
    const crossed = n.kind === 'board' ? part === main : n.part_ids.includes(part)
    return own(part, here && crossed && pair[0] !== pair[1] ? other(h.unit_id) : h.unit_id)
  })
}

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
