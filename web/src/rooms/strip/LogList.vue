<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'

import type { Schemas } from '../../api/client'
import DriveMark from '../../shared/DriveMark.vue'
import { clock } from '../../shared/format'
import { useSession } from '../../shared/session'
import { offset } from './offset'
import { act } from '../../words'

const props = defineProps<{
  log: Schemas['LogEntry'][]
  steps: Map<string, Schemas['PlanStep']>
  parts: Schemas['Part'][]
  long: string[]
  /** Who wrote the entries, by entry. */
  by: Record<string, string>
  /** How many entries lie before these, and those of them that start a film. */
  older: number
  films: Schemas['LogEntry'][]
  /** Why older ones did not come. */
  trouble: string
  writes: boolean
}>()
const emit = defineEmits<{
  further: []
  edit: [entry: Schemas['LogEntry']]
  step: [step: Schemas['PlanStep']]
  back: [step: string]
  pause: [entry: Schemas['LogEntry']]
}>()
/** A long log is drawn from its latest entries on, further back as far as is asked for. */
const drawn = ref(60)
const rows = computed(() =>
  props.log
    .map((entry, i) => ({ entry, n: props.older + i + 1, step: props.steps.get(entry.step_id) }))
    .slice(-drawn.value)
    .reverse(),
)
const undrawn = computed(() => props.older + Math.max(0, props.log.length - drawn.value))
function onward() {
  if (drawn.value < props.log.length) drawn.value += 200
  if (drawn.value >= props.log.length && props.older) emit('further')
}
const names = (ids: string[] = []) =>
  ids.map((p) => props.parts.find((x) => x.id === p)?.name ?? 'a part that is gone').join(', ')
const kinds: Record<string, string> = {
  incident: 'mishap',
  measure: 'measured',
  tool: 'tool in hand',
  check: 'checked',
}
/** What a step takes out beyond what its name says. */
const freed = (s: Schemas['PlanStep']) =>
  names(s.frees?.filter((id) => props.parts.find((p) => p.id === id)?.name !== s.what))
const moved = (e: Schemas['LogEntry']) => e.kind === 'step' && e.outcome !== 'gave up' && e.outcome !== 'not tried'
/** The entry that moved a step last. */
const latest = computed(() => new Map(props.log.filter(moved).map((x) => [x.step_id, x.id])))
const { me } = useSession()
/** Somebody else's entry says whose it is. */
const author = (e: Schemas['LogEntry']) => {
  const name = props.by[e.id]
  return name && name !== me.value?.who?.display ? `by ${name}` : ''
}
const isOut = (e: Schemas['LogEntry']) => moved(e) && !e.back && latest.value.get(e.step_id) === e.id
/** What an entry says beyond its step. */
function more(e: Schemas['LogEntry']): string[] {
  const d = e.detail
  const h = d.heat
  return [
    h &&
      [
        h.source,
        h.set_c && `${h.set_c} °C`,
        h.measured_c && `(${h.measured_c} °C read)`,
        h.seconds && `${h.seconds} s`,
        h.face,
        h.result && `→ ${h.result}`,
        h.mark,
      ]
        .filter(Boolean)
        .join(' '),
    d.of ? `${d.whole ?? 0} of ${d.of} whole` : '',
    d.wait && !h ? `waited ${d.wait} s` : '',
    d.polarity ?? '',
    d.leaves === 'loose' ? 'loose, still in the phone' : d.leaves === 'off' ? 'off the phone' : '',
    e.kind === 'step' && !e.back ? (props.steps.get(e.step_id)?.tool ?? '') : '',
    author(e),
    d.said ? (d.said.second ? `said at ${clock(d.said.second)}` : 'said') : '',
    d.detour ? 'for nothing' : '',
    e.outcome && e.outcome !== 'done' ? `${e.outcome}: ${e.reason}` : '',
    d.incident?.cause ? `cause: ${d.incident.cause}` : '',
    ...(d.stops ?? []).map((s) => `stop “${s.rule}”: ${s.answer}`),
    d.lesson ? `the plan learned: ${d.lesson}` : '',
  ].filter((t): t is string => Boolean(t))
}
</script>

<template>
  <p v-if="!log.length" class="quiet">
    Nothing logged on this phone. Tap a tile when the plan knows the step, or describe a new one.
  </p>
  <div v-else class="scroll" tabindex="0" role="region" aria-label="Log">
    <table>
      <thead>
        <tr>
          <th class="num">No.</th>
          <th>What</th>
          <th class="num">Time</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.entry.id" :class="{ back: r.entry.back }">
          <td class="num">{{ r.n }}</td>
          <td>
            <template v-if="r.entry.kind !== 'step'">
              <b :class="{ danger: r.entry.kind === 'incident' }">{{ kinds[r.entry.kind] ?? r.entry.kind }}</b>
              {{
                r.entry.detail.incident?.kind.replace('-', ' ') ??
                r.entry.detail.tool ??
                (r.entry.kind === 'measure' ? r.entry.line : '')
              }}
              {{ r.entry.detail.count ? `×${r.entry.detail.count}` : '' }}
              {{ names(r.entry.part_id ? [r.entry.part_id] : []) }}
              <small v-if="r.entry.note" class="note">{{ r.entry.note }}</small>
            </template>
            <template v-else-if="r.step">
              <b v-if="r.entry.back || act(r.step.verb, r.step.what)">
                {{ r.entry.back ? 'put back:' : act(r.step.verb, r.step.what) }}
              </b>
              {{ r.step.what }}
              <DriveMark :drive="r.step.drive" :length="r.step.length_mm" />
              <span v-if="(r.step.count ?? 0) > 1" class="fig">×{{ r.step.count }}</span>
              <small v-if="freed(r.step) && !r.entry.back">comes out: {{ freed(r.step) }}</small>
              <small v-if="r.entry.note" class="note">{{ r.entry.note }}</small>
            </template>
            <small v-if="offset([...films, ...log], r.entry)">film {{ offset([...films, ...log], r.entry) }}</small>
            <small v-if="more(r.entry).length" class="more">· {{ more(r.entry).join(' · ') }}</small>
            <span v-if="writes" class="acts">
              <ElButton size="small" :aria-label="`Note and time of entry ${r.n}`" @click="$emit('edit', r.entry)">
                note
              </ElButton>
              <ElButton
                v-if="r.step && r.entry.kind === 'step'"
                size="small"
                :aria-label="`Change the step of entry ${r.n}`"
                @click="$emit('step', r.step)"
              >
                step
              </ElButton>
              <ElButton
                v-if="isOut(r.entry)"
                size="small"
                :aria-label="`Put back what entry ${r.n} took out`"
                @click="$emit('back', r.entry.step_id)"
              >
                put back
              </ElButton>
            </span>
          </td>
          <td class="num">
            {{ r.entry.seconds ? clock(r.entry.seconds) : '—' }}
            <button v-if="writes && long.includes(r.entry.id)" class="bare link" @click="$emit('pause', r.entry)">
              break?
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <ElButton v-if="undrawn" class="on" @click="onward">{{ undrawn }} older entries</ElButton>
    <p v-if="trouble" class="danger" role="alert">{{ trouble }}</p>
  </div>
</template>

<style scoped>
.on {
  margin-top: 8px;
}
small {
  display: block;
  color: var(--quiet);
}
.note {
  overflow-wrap: anywhere;
  max-width: 40ch;
}
.back td {
  background: var(--pine-wash);
}
.more {
  display: inline;
  margin-left: 4px;
  overflow-wrap: anywhere;
}
td b:first-child {
  display: inline-block;
}
td b:first-child::first-letter {
  text-transform: uppercase;
}
tr {
  position: relative;
}
td {
  padding-top: 5px;
  padding-bottom: 5px;
}
/* The acts of a row stand over it while it is pointed at or has the focus; fingers find them under its text. */
.acts {
  position: absolute;
  right: 64px;
  top: 1px;
  opacity: 0;
  background: var(--ground);
  padding-left: 6px;
}
tr:is(:hover, :focus-within) .acts {
  opacity: 1;
}
@media (hover: none) {
  .acts {
    position: static;
    opacity: 1;
    display: block;
    padding: 4px 0 0;
  }
}
.acts .el-button {
  min-height: 26px;
  font-size: 13px;
  padding: 2px 6px;
  margin: 0 3px 0 0;
}
@media (hover: none) {
  .acts .el-button {
    min-height: 44px;
    padding: 2px 12px;
  }
}
</style>
