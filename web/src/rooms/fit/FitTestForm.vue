<script setup lang="ts">
import { ElCheckbox, ElCheckboxGroup, ElFormItem, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, reactive } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import FormDialog from '../../shared/FormDialog.vue'
import { quantity } from '../../shared/measure'
import MeasureField from '../../shared/MeasureField.vue'
import { fieldError, useChange } from '../../shared/useChange'
import { say } from '../../words'

/** A piece of another model, of a lot, or a phone's own as a control, fitted in a phone: how far did it get? */
const props = defineProps<{ room: Schemas['FitRoom']; donor?: string; host?: string }>()
const emit = defineEmits<{ close: [] }>()
const { problem, busy, mine, theirs, send } = useChange(() => emit('close'))
const hosts = computed(() => props.room.lines.filter((l) => !l.copy))
const facts = reactive({
  donor: props.donor ?? '',
  host: props.host ?? '',
  outcome: '' as Schemas['NewFitTest']['outcome'] | '',
  conditions: [] as NonNullable<Schemas['NewFitTest']['conditions']>,
  fittings: 1,
  lost: [] as string[],
  piece: '',
  unit: '',
  build: '',
  minutes: undefined as number | undefined,
  damaged: false,
  reason: '',
  note: '',
})
const widths = reactive({ piece: [] as number[], host: [] as number[], resolution: 0.01 })
const id = newId()
const phones = computed(() => props.room.phones.filter((p) => p.model_id === facts.host))
function chosen() {
  const p = phones.value.find((x) => x.id === facts.unit)
  if (p?.build) facts.build = p.build
}
const width = (list: number[]) => quantity(list, widths.resolution, 'mm')
/** What the measures say before anything is mated. */
const apart = computed(() => {
  if (!widths.piece.length || !widths.host.length) return ''
  const [p, h] = [width(widths.piece), width(widths.host)]
  const d = p.value - h.value
  const both = Math.hypot(p.u, h.u)
  if (Math.abs(d) <= 2 * both) return ''
  return `The connector is ${Math.abs(d).toFixed(2)} ± ${both.toFixed(2)} mm too ${d > 0 ? 'wide' : 'narrow'}: do not force it. Record “plug differs”.`
})
const known = computed(
  () => props.room.next.find((n) => n.donor === facts.donor && n.host === facts.host && n.stop)?.stop,
)
const mated = computed(() => !['', 'no-seat', 'no-mate'].includes(facts.outcome))
const ticks = {
  charger: 'charger plugged in',
  waited: 'some minutes waited',
  reseated: 'reseated twice',
  'known-good': 'known-good piece tried',
  home: 'works in its own phone',
  deep: 'every check made',
}
async function submit() {
  const line = props.room.lines.find((l) => l.id === facts.donor)
  if (!line || !facts.outcome) return
  const outcome = facts.outcome
  await send((_, header) =>
    take(
      api.POST('/api/models/{id}/fit-tests', {
        params: { path: { id: facts.host }, header },
        body: {
          id,
          kind: props.room.kind,
          ...(line.copy ? { lot_id: line.id } : { donor_model_id: line.id }),
          outcome,
          conditions: facts.conditions,
          fittings: facts.fittings,
          lost: outcome === 'lost' ? facts.lost : [],
          piece: facts.piece,
          host_unit_id: facts.unit || undefined,
          build: facts.build,
          minutes: facts.minutes,
          damaged: facts.damaged,
          reason: facts.reason,
          note: facts.note,
          width: {
            ...(widths.piece.length ? { piece_mm: width(widths.piece).value } : {}),
            ...(widths.host.length ? { host_mm: width(widths.host).value } : {}),
            ...(widths.piece.length ? { u_mm: width(widths.piece).u } : {}),
          },
        },
      }),
    ),
  )
}
</script>

<template>
  <FormDialog
    title="A piece fitted"
    :width="620"
    save="Record"
    :ready="Boolean(facts.donor && facts.host && facts.outcome)"
    :busy="busy"
    :problem="problem"
    :mine="mine"
    @close="emit('close')"
    @theirs="theirs"
    @submit="submit"
  >
    <div class="two">
      <ElFormItem
        :label="`${room.name} of`"
        :error="fieldError(problem, 'donor_model_id') ?? fieldError(problem, 'lot_id')"
      >
        <ElSelect
          v-model="facts.donor"
          :teleported="false"
          filterable
          default-first-option
          :aria-label="`${room.name} of`"
        >
          <ElOption v-for="l in room.lines" :key="l.id" :value="l.id" :label="l.copy ? `${l.name}, a copy` : l.name" />
        </ElSelect>
      </ElFormItem>
      <ElFormItem label="fitted in" :error="fieldError(problem, 'model_id')">
        <ElSelect
          v-model="facts.host"
          :teleported="false"
          filterable
          default-first-option
          aria-label="fitted in"
          @change="facts.unit = ''"
        >
          <ElOption v-for="l in hosts" :key="l.id" :value="l.id" :label="l.name" />
        </ElSelect>
      </ElFormItem>
      <ElFormItem label="Phone" :error="fieldError(problem, 'host_unit_id')">
        <ElSelect v-model="facts.unit" :teleported="false" clearable aria-label="Phone" @change="chosen">
          <ElOption v-for="p in phones" :key="p.id" :value="p.id" :label="p.name" />
        </ElSelect>
      </ElFormItem>
      <ElFormItem label="Mark on the piece" :error="fieldError(problem, 'piece')">
        <ElInput v-model="facts.piece" maxlength="60" placeholder="D3-B1" />
      </ElFormItem>
    </div>
    <fieldset>
      <legend>Connectors, before anything is mated</legend>
      <div class="two">
        <MeasureField
          v-model="widths.piece"
          label="Width on the piece"
          unit="mm"
          @resolution="widths.resolution = $event"
        />
        <MeasureField
          v-model="widths.host"
          label="Width in the phone"
          unit="mm"
          @resolution="widths.resolution = $event"
        />
      </div>
      <p v-if="apart || known" class="stop" role="alert">
        <b>Stop.</b>
        {{ apart || `The record says: ${known}.` }}
      </p>
    </fieldset>
    <ElFormItem label="How far did it get?" :error="fieldError(problem, 'outcome')">
      <ElSelect v-model="facts.outcome" :teleported="false" aria-label="How far did it get?">
        <ElOption v-for="o in room.ladder" :key="o" :value="o" :label="say('level', o)" />
      </ElSelect>
    </ElFormItem>
    <ElFormItem v-if="apart && mated" label="Why it was mated all the same" :error="fieldError(problem, 'reason')">
      <ElInput v-model="facts.reason" maxlength="300" />
    </ElFormItem>
    <ElFormItem v-if="facts.outcome === 'lost'" label="What was lost" :error="fieldError(problem, 'lost')">
      <ElSelect
        v-model="facts.lost"
        :teleported="false"
        multiple
        filterable
        default-first-option
        aria-label="What was lost"
      >
        <ElOption v-for="c in room.checks" :key="c.mark" :value="c.mark" :label="c.name" />
      </ElSelect>
    </ElFormItem>
    <ElFormItem label="What was done" :error="fieldError(problem, 'conditions')">
      <ElCheckboxGroup v-model="facts.conditions" class="ticks">
        <ElCheckbox v-for="(label, c) in ticks" :key="c" :value="c" :label="label" />
      </ElCheckboxGroup>
    </ElFormItem>
    <div class="row">
      <ElFormItem label="Fittings, all alike" :error="fieldError(problem, 'fittings')">
        <ElInputNumber v-model="facts.fittings" :min="1" :max="20" aria-label="Fittings, all alike" />
      </ElFormItem>
      <ElFormItem label="Build on the phone" :error="fieldError(problem, 'build')">
        <ElInput v-model="facts.build" maxlength="40" style="width: 130px" />
      </ElFormItem>
      <ElFormItem label="Minutes" :error="fieldError(problem, 'minutes')">
        <ElInputNumber
          v-model="facts.minutes"
          :controls="false"
          :min="0"
          :max="1440"
          aria-label="Minutes"
          style="width: 84px"
        />
      </ElFormItem>
    </div>
    <ElCheckbox v-model="facts.damaged" label="The piece is damaged: no evidence of fit" />
    <ElFormItem label="Note" :error="fieldError(problem, 'note')">
      <ElInput v-model="facts.note" maxlength="1000" />
    </ElFormItem>
  </FormDialog>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  column-gap: 14px;
}
fieldset {
  border: 1px solid var(--line);
  margin: 0 0 12px;
  padding: 8px 12px;
}
legend {
  color: var(--quiet);
  font-size: 14px;
}
.stop {
  background: var(--amber-wash);
  padding: 8px 12px;
}
.ticks {
  display: grid;
  grid-template-columns: 1fr 1fr;
}
@media (max-width: 600px) {
  .two,
  .ticks {
    grid-template-columns: 1fr;
  }
}
</style>
