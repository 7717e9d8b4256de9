<script setup lang="ts" generic="R extends object">
import { useClipboard, useEventListener, useRafFn, useWindowSize } from '@vueuse/core'
import { computed, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue'
import type { RouteLocationRaw } from 'vue-router'

import { count } from './format'
import { asCSV, asText, met, read, sorted, type Column } from './table'
import { useAddress } from './useAddress'

/**
 * The one table: it sorts, filters, selects, copies and goes into a file, keeps its head while the page scrolls, and becomes
 * a list of cards where the page is narrow. Order and filters live in the address. A column's cell is drawn by the slot
 * of its id, else as text; `acts` is what can be done with the chosen rows.
 */
const props = withDefaults(
  defineProps<{
    name: string
    caption: string
    rows: readonly R[]
    columns: readonly Column<R>[]
    rowKey: (row: R) => string
    /** Where a row leads: its first column is a link. */
    to?: (row: R) => RouteLocationRaw | undefined
    select?: boolean
    /** The row in work, and rows to look at. */
    here?: (row: R) => boolean
    look?: (row: R) => boolean
    empty?: string
    /** Column that the table is in the order of, a minus before it for down; empty: as it comes. */
    order?: string
    /** A table of a few lines shows no tools. */
    plain?: boolean
  }>(),
  { to: undefined, here: undefined, look: undefined, empty: 'Nothing here yet.', order: '' },
)
const chosen = defineModel<string[]>('chosen', { default: () => [] })
const order = useAddress(`${props.name}.sort`, props.order)
const filter = useAddress(`${props.name}.find`)
const only = useAddress(`${props.name}.only`)
const typed = ref(filter.value)
watch(typed, (t) => (filter.value = t))
watch(filter, (f) => (typed.value = f))

const shown = computed(() => props.columns.filter((c) => !c.file))
const few = computed(() => {
  const out: { column: Column<R>; values: string[] }[] = []
  for (const c of props.columns) {
    if (!c.few) continue
    const values = [...new Set(props.rows.map((r) => read(c, r)).filter(Boolean))].sort()
    if (values.length > 1 && values.length <= 12) out.push({ column: c, values })
  }
  return out
})
const onlyOf = computed(
  () => new Map(only.value.split('~').flatMap((p) => (p ? [p.split(':') as [string, string]] : []))),
)
function choose(id: string, value: string) {
  const next = new Map(onlyOf.value)
  if (value) next.set(id, value)
  else next.delete(id)
  only.value = [...next].map(([k, v]) => `${k}:${v}`).join('~')
}
const list = computed(() => {
  let rows = met(props.rows, props.columns, filter.value)
  for (const [id, value] of onlyOf.value) {
    const c = props.columns.find((x) => x.id === id)
    if (c) rows = rows.filter((r) => read(c, r) === value)
  }
  const down = order.value.startsWith('-')
  return sorted(
    rows,
    props.columns.find((c) => c.id === order.value.replace(/^-/, '')),
    down,
  )
})
const wayOf = (c: Column<R>) =>
  order.value === c.id ? 'ascending' : order.value === `-${c.id}` ? 'descending' : undefined
function turn(c: Column<R>) {
  const first = c.kind && c.kind !== 'text' ? `-${c.id}` : c.id
  const second = first === c.id ? `-${c.id}` : c.id
  order.value = order.value === first ? second : order.value === second ? '' : first
}

let last = -1
const isChosen = computed(() => new Set(chosen.value))
function pick(row: R, i: number, e: MouseEvent) {
  const key = props.rowKey(row)
  const on = !isChosen.value.has(key)
  const span = e.shiftKey && last >= 0 ? list.value.slice(Math.min(last, i), Math.max(last, i) + 1) : [row]
  const keys = span.map(props.rowKey)
  chosen.value = on ? [...new Set([...chosen.value, ...keys])] : chosen.value.filter((k) => !keys.includes(k))
  last = i
}
const all = computed(() => list.value.length > 0 && list.value.every((r) => isChosen.value.has(props.rowKey(r))))
const pickAll = () => (chosen.value = all.value ? [] : list.value.map(props.rowKey))
const picked = computed(() => list.value.filter((r) => isChosen.value.has(props.rowKey(r))))

const { copy, copied } = useClipboard({ legacy: true })
const out = () => (picked.value.length ? picked.value : list.value)
function save() {
  const a = document.createElement('a')
  a.href = URL.createObjectURL(new Blob([asCSV(out(), props.columns)], { type: 'text/csv;charset=utf-8' }))
  a.download = `${props.caption.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '-')}.csv`
  a.click()
  setTimeout(() => URL.revokeObjectURL(a.href), 1000)
}

// From two hundred rows on only those near the window are drawn.
const many = 200
const high = 41
const body = useTemplateRef<HTMLElement>('body')
const { height } = useWindowSize()
const top = shallowRef(0)
const place = () => {
  if (body.value) top.value = Math.max(0, -body.value.getBoundingClientRect().top)
}
const { resume, pause } = useRafFn(
  () => {
    place()
    pause()
  },
  { immediate: false },
)
useEventListener('scroll', () => list.value.length > many && resume(), { passive: true, capture: true })
onMounted(place)
const from = computed(() => (list.value.length > many ? Math.max(0, Math.floor(top.value / high) - 20) : 0))
const until = computed(() =>
  list.value.length > many
    ? Math.min(list.value.length, from.value + Math.ceil(height.value / high) + 40)
    : list.value.length,
)
const drawn = computed(() => list.value.slice(from.value, until.value))
const tools = computed(() => !props.plain && (props.rows.length > 5 || few.value.length > 0))
</script>

<template>
  <div class="data-table">
    <p v-if="!rows.length" class="quiet none">
      <slot name="empty">{{ empty }}</slot>
    </p>
    <template v-else>
      <div v-if="tools || select" class="row tools no-print">
        <input
          v-if="tools"
          v-model="typed"
          type="search"
          maxlength="80"
          class="filter"
          placeholder="filter"
          :aria-label="`Filter ${caption.toLowerCase()}`"
        />
        <span v-for="f in few" :key="f.column.id" class="quiet few">
          <span aria-hidden="true">{{ f.column.title }}</span>
          <select
            :value="onlyOf.get(f.column.id) ?? ''"
            :aria-label="`Only: ${f.column.title.toLowerCase()} in ${caption.toLowerCase()}`"
            @change="choose(f.column.id, ($event.target as HTMLSelectElement).value)"
          >
            <option value="">all</option>
            <option v-for="v in f.values" :key="v" :value="v">{{ v }}</option>
          </select>
        </span>
        <span class="quiet" role="status">
          {{
            picked.length
              ? `${picked.length} of ${count(list.length, 'row')} chosen`
              : list.length < rows.length
                ? `${list.length} of ${count(rows.length, 'row')}`
                : ''
          }}
        </span>
        <slot v-if="picked.length" name="acts" :rows="picked" :clear="() => (chosen = [])" />
        <span class="out">
          <button class="bare link" @click="copy(asText(out(), columns))">{{ copied ? 'copied' : 'copy' }}</button>
          <button class="bare link" @click="save">CSV</button>
        </span>
      </div>
      <table>
        <caption class="hidden">{{ caption }}</caption>
        <thead>
          <tr>
            <th v-if="select" scope="col" class="pick">
              <input
                type="checkbox"
                :checked="all"
                :aria-label="`Choose all of ${caption.toLowerCase()}`"
                @click="pickAll"
              />
            </th>
            <th
              v-for="c in shown"
              :key="c.id"
              scope="col"
              :class="[c.kind ?? 'text', { bare: c.bare }]"
              :aria-sort="c.bare ? undefined : (wayOf(c) ?? 'none')"
            >
              <button v-if="!c.bare" class="bare" @click="turn(c)">
                {{ c.title }}
                <span aria-hidden="true">
                  {{ { ascending: ' ↑', descending: ' ↓', none: '' }[wayOf(c) ?? 'none'] }}
                </span>
              </button>
              <span v-else class="hidden">{{ c.title }}</span>
            </th>
          </tr>
        </thead>
        <tbody ref="body">
          <tr v-if="from" aria-hidden="true" class="gap" :style="{ height: `${from * high}px` }"></tr>
          <tr
            v-for="(r, i) in drawn"
            :key="rowKey(r)"
            :class="{ here: here?.(r), look: props.look?.(r), chosen: isChosen.has(rowKey(r)) }"
          >
            <td v-if="select" class="pick">
              <input
                type="checkbox"
                :checked="isChosen.has(rowKey(r))"
                :aria-label="`Choose ${read(columns[0]!, r)}`"
                @click="pick(r, from + i, $event)"
              />
            </td>
            <component
              :is="k ? 'td' : 'th'"
              v-for="(c, k) in shown"
              :key="c.id"
              :scope="k ? undefined : 'row'"
              :class="[c.kind ?? 'text', { bare: c.bare }]"
              :data-title="c.bare ? '' : c.title"
            >
              <slot :name="c.id" :row="r">
                <RouterLink v-if="!k && to?.(r)" :to="to(r)!">{{ read(c, r) }}</RouterLink>
                <template v-else>{{ read(c, r) }}</template>
              </slot>
            </component>
          </tr>
          <tr
            v-if="until < list.length"
            aria-hidden="true"
            class="gap"
            :style="{ height: `${(list.length - until) * high}px` }"
          ></tr>
        </tbody>
      </table>
      <p v-if="!list.length" class="quiet none">
        No row is met by this filter.
        <button class="bare link" @click="((typed = ''), (only = ''))">Show all {{ rows.length }}</button>
      </p>
    </template>
  </div>
</template>

<style scoped>
.tools {
  margin-bottom: 6px;
  min-height: 32px;
}
.out {
  margin-left: auto;
  display: flex;
  gap: 14px;
}
.out button,
.none button {
  min-height: 24px;
}
.filter {
  font: inherit;
  width: 180px;
  height: 32px;
  padding: 0 10px;
}
.filter,
select {
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--strong-line);
  border-radius: 2px;
}
select {
  font: inherit;
  height: 32px;
  max-width: 180px;
}
thead th {
  position: sticky;
  top: 48px;
  z-index: 2;
  background: var(--ground);
  font-size: 14px;
  box-shadow: inset 0 -1px var(--ink);
  border-bottom: 0;
  vertical-align: bottom;
}
thead button {
  font-weight: 600;
  min-height: 24px;
}
tbody th {
  font: inherit;
  color: inherit;
  font-weight: 600;
  padding: 8px 8px 8px 0;
  border-bottom: 1px solid var(--line);
  vertical-align: top;
}
td,
tbody th {
  height: 40px;
  overflow-wrap: anywhere;
}
th.number,
td.number,
th.minutes,
td.minutes,
th.money,
td.money {
  text-align: right;
  white-space: nowrap;
}
td.number,
td.minutes,
td.money {
  font-family: var(--mono);
  font-variant-numeric: tabular-nums;
}
td.date,
th.date {
  white-space: nowrap;
}
.pick {
  width: 34px;
}
.pick input {
  margin: 0;
}
tr.here > * {
  box-shadow: inset 0 -2px var(--pine);
  background: var(--pine-wash);
}
tr.look > * {
  background: var(--amber-wash);
}
tr.chosen > * {
  background: var(--wash);
}
.gap {
  border: 0;
}
.none {
  padding: 6px 0;
}
@media (max-width: 600px) {
  table,
  tbody,
  tr,
  td,
  tbody th {
    display: block;
  }
  thead {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
  }
  tr:not(.gap) {
    border-bottom: 1px solid var(--ink);
    padding: 8px 0;
  }
  td,
  tbody th {
    border: 0;
    padding: 2px 0;
    height: auto;
    min-height: 0;
  }
  tbody th {
    font-size: 17px;
  }
  td:not(:empty) {
    display: flex;
    gap: 10px;
    justify-content: space-between;
    text-align: right;
    white-space: normal;
  }
  td[data-title]:not([data-title=''])::before {
    content: attr(data-title);
    color: var(--quiet);
    font-family: var(--text);
    text-align: left;
    flex: 0 1 auto;
    min-width: 60px;
  }
  .pick {
    width: auto;
    float: left;
    margin-right: 10px;
  }
  .filter {
    width: 100%;
  }
}
</style>
