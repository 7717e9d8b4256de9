<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'

import { api, ApiError, take, type Problem, type Schemas } from '../api/client'
import ProblemNote from './ProblemNote.vue'
import { useChange } from './useChange'

/** A table that is read: columns mapped, looked at, and put in, all of it or nothing. */
const props = defineProps<{ model: string; desk?: boolean }>()
const ofModel = ['parts', 'steps', 'measures', 'trials', 'facts'] as const
const ofDesk = ['offers', 'deliveries', 'stock'] as const
type Kind = (typeof ofModel)[number] | (typeof ofDesk)[number]
const kinds: readonly Kind[] = props.desk ? ofDesk : ofModel
const table = ref<Kind>(kinds[0]!)
const pasted = ref('')
const file = ref('')
const name = ref('')
const mapping = ref<Record<string, number>>({})
const look = ref<Schemas['ExchangePreview']>()
const refused = ref<Problem>()
const { problem, busy, mine, theirs, save } = useChange()

async function choose(e: Event) {
  const chosen = (e.target as HTMLInputElement).files?.[0]
  ;(e.target as HTMLInputElement).value = ''
  if (!chosen) return
  await give(new Uint8Array(await chosen.arrayBuffer()), chosen.name)
}
/** What was copied out of a spreadsheet is a table with tabs. */
async function paste() {
  if (pasted.value.trim()) await give(new TextEncoder().encode(pasted.value), 'what was pasted')
}
async function give(bytes: Uint8Array, from: string) {
  let text = ''
  for (let i = 0; i < bytes.length; i += 0x8000) text += String.fromCharCode(...bytes.subarray(i, i + 0x8000))
  file.value = btoa(text)
  name.value = from
  mapping.value = {}
  await preview()
}
async function preview() {
  if (!file.value) return
  refused.value = undefined
  try {
    const body = { file: file.value, mapping: mapping.value }
    look.value = await take(
      props.desk
        ? api.POST('/api/models/{id}/desk/{table}/look', {
            params: { path: { id: props.model, table: table.value as (typeof ofDesk)[number] } },
            body,
          })
        : api.POST('/api/models/{id}/tables/{table}/look', {
            params: { path: { id: props.model, table: table.value as (typeof ofModel)[number] } },
            body,
          }),
    )
    if (!Object.keys(mapping.value).length) mapping.value = { ...look.value.mapping }
  } catch (e) {
    if (!(e instanceof ApiError)) throw e
    look.value = undefined
    refused.value = e.problem
  }
}
async function map(column: string, at: number | undefined) {
  mapping.value = { ...mapping.value, [column]: at ?? -1 }
  await preview()
}
async function put() {
  const body = { file: file.value, mapping: mapping.value }
  const done = await save((_, header) =>
    take(
      props.desk
        ? api.POST('/api/models/{id}/desk/{table}', {
            params: { path: { id: props.model, table: table.value as (typeof ofDesk)[number] }, header },
            body,
          })
        : api.POST('/api/models/{id}/tables/{table}', {
            params: { path: { id: props.model, table: table.value as (typeof ofModel)[number] }, header },
            body,
          }),
    ),
  )
  if (done) {
    look.value = done
    file.value = pasted.value = ''
  }
}
const head = (c: Schemas['ExchangeColumn']) => (c.unit ? `${c.name} (${c.unit})` : c.name)
const told = (e: Schemas['ExchangeCellError']) =>
  `line ${e.line}${e.column ? `, column ${e.column}` : ''}${e.head ? ` “${e.head}”` : ''}: ${e.message}`
const shown = computed(() => look.value?.columns.filter((c) => c.name in (look.value?.mapping ?? {})) ?? [])
const place = (c: string) => look.value?.columns.findIndex((x) => x.name === c) ?? 0
</script>

<template>
  <div class="row">
    <ElSelect
      v-model="table"
      :teleported="false"
      aria-label="Which table"
      class="kind"
      @change="((mapping = {}), preview())"
    >
      <ElOption v-for="k in kinds" :key="k" :value="k" :label="k" />
    </ElSelect>
    <label class="file">
      A table, CSV or XLSX
      <input type="file" accept=".csv,.tsv,.txt,.xlsx" class="hidden" @change="choose" />
    </label>
    <span class="quiet">{{ name }}</span>
  </div>
  <ElInput
    v-if="desk"
    v-model="pasted"
    type="textarea"
    :rows="3"
    placeholder="or paste rows with their heads out of a spreadsheet"
    aria-label="Rows out of a spreadsheet"
    @change="paste"
  />
  <ProblemNote :problem="refused ?? problem" :mine="mine" @theirs="theirs" />
  <template v-if="look">
    <p role="status">
      <template v-if="look.taken">
        Put in: {{ look.new }} new, {{ look.changed }} changed, {{ look.same }} as they were.
      </template>
      <template v-else>
        {{ look.total }} rows: {{ look.new }} new, {{ look.changed }} changed, {{ look.same }} as they were,
        {{ look.errors.length }} wrong.
      </template>
    </p>
    <ul v-if="look.errors.length" class="plain wrong">
      <li v-for="(e, i) in look.errors.slice(0, 12)" :key="i" class="danger">{{ told(e) }}</li>
      <li v-if="look.errors.length > 12" class="quiet">and {{ look.errors.length - 12 }} more</li>
    </ul>
    <details v-if="!look.taken" :open="look.errors.length > 0">
      <summary>Columns</summary>
      <div v-for="c in look.columns" :key="c.name" class="column">
        <span>
          {{ head(c) }}
          <b v-if="c.needed" class="look">needed</b>
        </span>
        <ElSelect
          :model-value="look.mapping[c.name]"
          :teleported="false"
          clearable
          placeholder="left out"
          :aria-label="`Column for ${c.name}`"
          @update:model-value="(at: number | undefined) => map(c.name, at)"
        >
          <ElOption v-for="(h, i) in look.heads" :key="i" :value="i" :label="h || `column ${i + 1}`" />
        </ElSelect>
      </div>
    </details>
    <div v-if="!look.taken && look.rows.length" class="scroll">
      <table>
        <thead>
          <tr>
            <th v-for="c in shown" :key="c.name">{{ head(c) }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(r, i) in look.rows.slice(0, 5)" :key="i">
            <td v-for="c in shown" :key="c.name">{{ r[place(c.name)] }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <ElButton
      v-if="!look.taken"
      type="primary"
      :loading="busy"
      :disabled="look.errors.length > 0 || look.new + look.changed === 0"
      @click="put"
    >
      Put in {{ look.new + look.changed }} rows
    </ElButton>
  </template>
</template>

<style scoped>
.row {
  margin-bottom: 8px;
}
.kind {
  width: 130px;
}
.file {
  border: 1px solid var(--strong-line);
  padding: 6px 14px;
  cursor: pointer;
  font-size: 15px;
}
.file:focus-within {
  outline: 3px solid var(--amber-fill);
}
.column {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 190px;
  gap: 10px;
  align-items: center;
  padding: 3px 0;
}
.wrong li {
  padding: 3px 0;
}
td {
  font-size: 14px;
}
</style>
