<script setup lang="ts">
import { ElFormItem, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { reactive } from 'vue'

import { api, newId, type Schemas } from '../../api/client'
import FormDialog from '../../shared/FormDialog.vue'
import ModelSelect from '../../shared/ModelSelect.vue'
import { fromMinor, toMinor } from '../../shared/money'
import { fieldError, useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'
import { kinds, type Facts, type Field, type Kept, type KindName, type RowKind } from './rows'

/** The form of one row of the desk. */
const props = defineProps<{ kind: KindName; desk: Schemas['DeskDesk']; row?: Kept; start?: Facts }>()
const emit = defineEmits<{ close: []; done: [] }>()
const kind: RowKind = kinds[props.kind]
const fields: Field[] = kind.fields
const { problem, busy, mine, theirs, send } = useChange(() => {
  emit('done')
  emit('close')
})
const id = newId()
const today = new Date().toISOString().slice(0, 10)
const from: Facts = { currency: props.desk.workshop.currency, ...props.start, ...props.row }
const shown = reactive<Record<string, string | number | undefined>>({})
const coverText = (c: unknown) =>
  Object.entries((c ?? {}) as Record<string, number>)
    .map(([slot, n]) => (n > 1 ? `${slot} ${n}` : slot))
    .join('; ')
for (const f of fields) {
  const v = from[f.key]
  const currency = String(from[f.of ?? ''] ?? '')
  if (f.kind === 'money') shown[f.key] = v === undefined ? undefined : fromMinor(Number(v), currency)
  else if (f.kind === 'date') shown[f.key] = v ? String(v).slice(0, 10) : optional(f) ? '' : today
  else if (f.kind === 'covers') shown[f.key] = coverText(v)
  else if (f.kind === 'list') shown[f.key] = ((v ?? []) as string[]).join('\n')
  else shown[f.key] = v as string | number | undefined
}
/** The parts of the row's model, where one of them is asked for. */
const { room: know } = useRoom(
  () => ['model', String(shown.for_model_id ?? '')],
  () => api.GET('/api/models/{id}', { params: { path: { id: String(shown.for_model_id ?? '') } } }),
  { enabled: () => fields.some((f) => f.kind === 'part') && Boolean(shown.for_model_id) },
)
function optional(f: Field) {
  return ['promised_on', 'best_before'].includes(f.key)
}
function covers(text: string) {
  const out: Record<string, number> = {}
  for (const item of text.split(/[;\n]/)) {
    const m = /^(.*?)(?:\s+(\d+))?$/.exec(item.trim())
    if (m?.[1])
      out[
        m[1]
          .trim()
          .toLowerCase()
          .replace(/[\s_]+/g, '-')
      ] = Number(m[2] ?? 1)
  }
  return out
}
function body(): Facts {
  const out: Facts = {}
  for (const f of fields) {
    const v = shown[f.key]
    const empty = v === undefined || v === null || v === ''
    if (f.kind === 'covers') out[f.key] = covers(String(v ?? ''))
    else if (f.kind === 'list')
      out[f.key] = String(v ?? '')
        .split('\n')
        .map((x) => x.trim())
        .filter(Boolean)
    else if (empty) {
      if (f.kind === 'number' || f.kind === 'money' || f.kind === 'share') out[f.key] = 0
      else if (f.kind === 'text' || f.kind === 'part' || f.choices?.includes('')) out[f.key] = ''
    } else if (f.kind === 'money') out[f.key] = toMinor(Number(v), String(shown[f.of ?? ''] ?? ''))
    else if (f.kind === 'date') out[f.key] = `${v}T00:00:00Z`
    else out[f.key] = typeof v === 'string' ? v.trim() : v
  }
  if (typeof out.currency === 'string') out.currency = out.currency.toUpperCase()
  return out
}
const submit = () =>
  send((v, header) =>
    props.row
      ? kind.change(header, props.row.id, { ...keeps(), version: v ?? props.row.version, ...body() })
      : kind.add(header, { id, ...body() }),
  )
/** What the form does not show stays as it was. */
function keeps(): Facts {
  const out: Facts = {}
  for (const [k, v] of Object.entries(props.row ?? {}))
    if (!['id', 'version', 'steps', 'hurt_step', 'shelf_id', 'order_id', 'order_line', 'stocked'].includes(k))
      out[k] = v
  return out
}
</script>

<template>
  <FormDialog
    :title="kind.name"
    :width="600"
    :busy="busy"
    :problem="problem"
    :mine="mine"
    @close="emit('close')"
    @theirs="theirs"
    @submit="submit"
  >
    <div class="two">
      <ElFormItem
        v-for="f in fields"
        :key="f.key"
        :label="f.label"
        :error="fieldError(problem, f.key)"
        :class="{ wide: f.wide }"
      >
        <ElSelect v-if="f.kind === 'choice'" v-model="shown[f.key]" :teleported="false" :aria-label="f.label">
          <ElOption v-for="c in f.choices" :key="c" :value="c" :label="c.replace('-', ' ') || 'not told yet'" />
        </ElSelect>
        <ElSelect
          v-else-if="f.kind === 'seller'"
          v-model="shown[f.key]"
          :teleported="false"
          filterable
          default-first-option
          :aria-label="f.label"
        >
          <ElOption v-for="s in desk.sellers" :key="s.id" :value="s.id" :label="s.name" />
        </ElSelect>
        <ElSelect
          v-else-if="f.kind === 'part'"
          v-model="shown[f.key]"
          :teleported="false"
          filterable
          clearable
          default-first-option
          :aria-label="f.label"
        >
          <ElOption v-for="p in know?.parts ?? []" :key="p.id" :value="p.id" :label="p.name" />
        </ElSelect>
        <ModelSelect
          v-else-if="f.kind === 'model'"
          :model-value="String(shown[f.key] ?? '')"
          :label="f.label"
          @update:model-value="shown[f.key] = $event"
        />
        <ElInputNumber
          v-else-if="f.kind === 'number' || f.kind === 'money' || f.kind === 'share'"
          v-model="shown[f.key] as number | undefined"
          :controls="false"
          :min="0"
          :aria-label="f.label"
          style="width: 100%"
        />
        <ElInput
          v-else
          v-model="shown[f.key]"
          :type="f.kind === 'list' ? 'textarea' : 'text'"
          :placeholder="f.kind === 'date' ? '2026-11-26' : ''"
          :aria-label="f.label"
          maxlength="400"
        />
      </ElFormItem>
    </div>
  </FormDialog>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  column-gap: 14px;
}
.wide {
  grid-column: 1 / -1;
}
@media (max-width: 600px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
