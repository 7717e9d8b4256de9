<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import PhoneMap from '../../shared/PhoneMap.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import StickerTag from '../../shared/StickerTag.vue'
import { exchange, goHome, type Housing } from './arrange'
import { say } from '../../words'

/**
 * The phones side by side with the mat between them. A piece is dragged from map to map, or moved by keys in the table below,
 * which carries the same facts slot by slot; it wears its origin's sticker.
 */
const props = defineProps<{ room: Schemas['SwapRoom']; writes: boolean }>()
const emit = defineEmits<{ damage: [piece: Schemas['Piece'], board: string] }>()
type Move = Schemas['Move']
const { problem, mine, theirs, save } = useChange()
const unit = (id?: string) => props.room.units.find((u) => u.id === id)
const shown = ref([0, 1])
const pair = computed(() => shown.value.map((i) => props.room.board.housings[i]).filter((h) => h !== undefined))
const parts = computed(() => [
  ...props.room.slots,
  ...(props.room.slots.some((s) => s.id === props.room.board.board_part_id)
    ? []
    : [{ id: props.room.board.board_part_id ?? '', name: 'main board' } as Schemas['Part']].filter((p) => p.id)),
])
const at = (h: Housing, part: string) => h.slots.find((s) => s.piece.part_id === part)
const name = (part: string) => parts.value.find((p) => p.id === part)?.name ?? ''
function worn(h: Housing) {
  const marks: Record<string, { colour: string; label: string }> = {}
  for (const s of h.slots) {
    if (s.piece.origin === 'off') continue
    const from = unit(s.piece.unit_id)
    if (!['own', 'board'].includes(s.state) || s.spoil)
      marks[s.piece.part_id] = {
        colour: from?.colour ?? 'grey',
        label: `${from ? `from ${from.name}` : s.piece.lot}, ${say('state', s.state)}`,
      }
  }
  return marks
}
const off = (h: Housing) => h.slots.filter((s) => s.piece.origin === 'off').map((s) => s.piece.part_id)
const chosen = ref<{ housing: string; part: string }>()
async function move(moves: Move[]) {
  if (!moves.length) return
  await save((_, header) =>
    take(
      api.POST('/api/studies/{id}/swap-acts', {
        params: { path: { id: props.room.study.id }, header },
        body: { id: newId(), kind: 'move', moves },
      }),
    ),
  )
}
const other = (housing: string) => pair.value.find((h) => h.unit_id !== housing)?.unit_id
/** A key that comes while a move is being written waits for it and reads the bench as it is then. */
let written: Promise<unknown> = Promise.resolve()
const inLine = (work: () => unknown) => (written = written.then(work))
const act = (key: string, housing: string, part: string) => inLine(() => carry(key, housing, part))
function carry(key: string, housing: string, part: string) {
  const here = props.room.board.housings.find((h) => h.unit_id === housing)
  const piece = here && at(here, part)?.piece
  if (!props.writes || !piece) return
  if (key === 'm' && other(housing)) return move(exchange(props.room, part, housing, other(housing)!))
  if (key === 'o' && piece.origin !== 'off') return move([{ ...piece, to_unit_id: '' }])
  if (key === 'h') return move(goHome(part, housing))
  if (key === 'k' && piece.origin !== 'off') emit('damage', piece, here.board_unit_id ?? housing)
}
function key(e: KeyboardEvent, i: number, col: number) {
  if (e.ctrlKey || e.metaKey || e.altKey) return
  const part = parts.value[i]!
  const to = { ArrowDown: [i + 1, col], ArrowUp: [i - 1, col], ArrowRight: [i, col + 1], ArrowLeft: [i, col - 1] }[
    e.key
  ]
  if (to) document.querySelector<HTMLElement>(`[data-slot="${to[0]}-${to[1]}"]`)?.focus()
  else if ('mohk'.includes(e.key)) void act(e.key, pair.value[col]!.unit_id, part.id)
  else return
  e.preventDefault()
  e.stopPropagation()
}
// Dragging: the part under the pointer follows it as its name, and lands where the pointer is let go.
const drag = ref<{ part: string; from: string; x: number; y: number; moved: boolean }>()
function grab(e: PointerEvent, housing: string) {
  const part = (e.target as Element).closest('[data-part]')?.getAttribute('data-part')
  if (props.writes && part && e.button === 0)
    drag.value = { part, from: housing, x: e.clientX, y: e.clientY, moved: false }
}
function pull(e: PointerEvent) {
  const d = drag.value
  if (d)
    drag.value = {
      ...d,
      x: e.clientX,
      y: e.clientY,
      moved: d.moved || Math.hypot(e.clientX - d.x, e.clientY - d.y) > 3,
    }
}
function drop(e: PointerEvent) {
  const d = drag.value
  drag.value = undefined
  if (!d?.moved) return
  const to = document.elementFromPoint(e.clientX, e.clientY)?.closest('[data-drop]')?.getAttribute('data-drop')
  const piece = props.room.board.housings
    .find((h) => h.unit_id === d.from)
    ?.slots.find((s) => s.piece.part_id === d.part)?.piece
  if (!piece || piece.origin === 'off' || to === undefined || to === null || to === d.from) return
  void inLine(() => move(to === 'mat' ? [{ ...piece, to_unit_id: '' }] : exchange(props.room, d.part, d.from, to)))
}
const lot = ref('')
const pieceName = (p: Schemas['Piece']) => `${unit(p.unit_id)?.name ?? p.lot ?? p.origin}: ${name(p.part_id)}`
</script>

<template>
  <div
    class="bench"
    :class="{ dragging: drag?.moved }"
    @pointermove="pull"
    @pointerup="drop"
    @pointercancel="drag = undefined"
  >
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
    <div v-if="room.board.housings.length > 2" class="row pick">
      <label v-for="(_, side) in shown" :key="side">
        {{ side ? 'Right' : 'Left' }}
        <select v-model="shown[side]">
          <option v-for="(h, i) in room.board.housings" :key="h.unit_id" :value="i" :disabled="shown.includes(i)">
            {{ unit(h.unit_id)?.name }}
          </option>
        </select>
      </label>
    </div>
    <div class="phones">
      <template v-for="(h, side) in pair" :key="h.unit_id">
        <div v-if="side" class="mat" data-drop="mat">
          <h2>Parts tray</h2>
          <p v-if="!room.board.mat.length" class="quiet">empty</p>
          <ul class="plain">
            <li v-for="p in room.board.mat" :key="pieceName(p)">{{ pieceName(p) }}</li>
          </ul>
        </div>
        <div class="phone" :data-drop="h.unit_id" @pointerdown="grab($event, h.unit_id)">
          <div class="head">
            <StickerTag v-if="unit(h.unit_id)" :unit="unit(h.unit_id)!" />
            <small class="quiet">{{ h.title }}</small>
          </div>
          <PhoneMap
            :model="room.model"
            :parts="room.slots"
            :worn="worn(h)"
            :out="off(h)"
            :selected="chosen?.housing === h.unit_id ? chosen.part : undefined"
            :label="`${unit(h.unit_id)?.name}, parts`"
            compact
            codes
            @select="(part) => (chosen = { housing: h.unit_id, part })"
          />
          <small class="quiet">
            build {{ h.build || 'not recorded' }}{{ h.storage_gb ? `, ${h.storage_gb} GB` : '' }}, with the
            {{ unit(h.board_unit_id)?.name ?? 'missing' }} board
          </small>
        </div>
      </template>
    </div>
    <p v-if="chosen && writes" class="row acts" role="group" aria-label="The chosen piece">
      <b>{{ unit(chosen.housing)?.name }}, {{ name(chosen.part) }}</b>
      <ElButton size="small" @click="act('m', chosen.housing, chosen.part)">Exchange</ElButton>
      <ElButton size="small" @click="act('o', chosen.housing, chosen.part)">To the parts tray</ElButton>
      <ElButton size="small" @click="act('h', chosen.housing, chosen.part)">Original back</ElButton>
      <ElButton
        size="small"
        :disabled="!lot.trim()"
        @click="move([{ part_id: chosen.part, origin: 'copy', lot: lot.trim(), to_unit_id: chosen.housing }])"
      >
        Fit a copy of
      </ElButton>
      <input v-model="lot" class="fig lot" maxlength="40" placeholder="acme-7" aria-label="Delivery of the copy" />
      <ElButton size="small" @click="act('k', chosen.housing, chosen.part)">Damaged</ElButton>
    </p>
    <details open>
      <summary>
        Part by part
        <span class="quiet">arrows, then m move over, o leave off, h original home, k damaged</span>
      </summary>
      <table class="slots">
        <thead>
          <tr>
            <th>Part</th>
            <th v-for="h in pair" :key="h.unit_id">{{ unit(h.unit_id)?.name }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(p, i) in parts" :key="p.id">
            <th scope="row">{{ p.name }}</th>
            <td v-for="(h, col) in pair" :key="h.unit_id">
              <button
                class="bare cell"
                :data-slot="`${i}-${col}`"
                :class="at(h, p.id)?.state.split('@')[0]"
                @click="chosen = { housing: h.unit_id, part: p.id }"
                @keydown="key($event, i, col)"
              >
                <span class="hidden">{{ `${p.name} in ${unit(h.unit_id)?.name}: ` }}</span>
                <svg
                  v-if="unit(at(h, p.id)?.piece.unit_id)"
                  width="12"
                  height="12"
                  :class="unit(at(h, p.id)?.piece.unit_id)!.colour"
                  aria-hidden="true"
                >
                  <rect class="band" x="1" y="1" width="10" height="10" />
                </svg>
                <span class="who">{{ unit(at(h, p.id)?.piece.unit_id)?.name ?? at(h, p.id)?.piece.lot }}</span>
                {{ ' ' }}
                <span class="state">{{ say('state', at(h, p.id)?.state) }}</span>
                {{ ' ' }}
                <span v-if="at(h, p.id)?.spoil" class="danger">damaged</span>
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </details>
    <span v-if="drag?.moved" class="ghost" :style="{ left: `${drag.x + 10}px`, top: `${drag.y + 10}px` }">
      {{ name(drag.part) }}
    </span>
  </div>
</template>

<style scoped>
.phones {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 92px minmax(0, 1fr);
  gap: 10px;
  align-items: start;
}
.phone {
  touch-action: pan-y;
}
.dragging {
  user-select: none;
  cursor: grabbing;
}
.head {
  min-height: 58px;
}
.head small {
  display: block;
}
.mat {
  align-self: stretch;
  border: 1px dashed var(--strong-line);
  padding: 8px;
  font-size: 13px;
}
.mat h2 {
  font-size: 14px;
}
.acts {
  background: var(--wash);
  padding: 8px 10px;
  margin-top: 10px;
}
.lot,
select {
  width: 90px;
  font-size: 14px;
  padding: 4px;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--strong-line);
}
.slots {
  table-layout: fixed;
}
.slots th {
  overflow-wrap: anywhere;
}
.slots th[scope] {
  color: var(--ink);
  font-weight: 400;
  font-size: 14px;
  border-bottom: 1px solid var(--line);
  padding: 1px 8px 1px 0;
}
.slots td {
  padding: 1px 8px 1px 0;
}
.cell {
  position: relative;
  display: flex;
  gap: 7px;
  align-items: center;
  width: 100%;
  min-width: 0;
  flex-wrap: wrap;
  overflow-wrap: anywhere;
  min-height: 26px;
  padding: 1px 6px;
  font-size: 14px;
}
.who {
  min-width: 0;
}
.cell:hover {
  background: var(--wash);
}
.state {
  color: var(--quiet);
}
.stranger .state,
.copy .state,
.foreign .state,
.adopted .state {
  color: var(--amber);
}
.ghost {
  position: fixed;
  z-index: 60;
  pointer-events: none;
  background: var(--sheet);
  border: 1px solid var(--ink);
  padding: 2px 8px;
  font-size: 14px;
}
details {
  margin-top: 14px;
}
summary {
  font-weight: 600;
  font-size: 15px;
}
summary .quiet {
  font-weight: 400;
  font-size: 14px;
}
@media (max-width: 600px) {
  .phones {
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  }
  .mat {
    grid-column: 1 / -1;
    grid-row: 2;
  }
}
</style>
