<script setup lang="ts">
import { ElButton, ElFormItem, ElInput, ElInputNumber, ElOption, ElSelect, ElCheckbox } from 'element-plus'
import { reactive, ref, watch } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import { measured } from '../../shared/format'
import FormDialog from '../../shared/FormDialog.vue'
import { quantity } from '../../shared/measure'
import MergeField from '../../shared/MergeField.vue'
import MeasureField from '../../shared/MeasureField.vue'
import { fieldError, useChange } from '../../shared/useChange'
import { useTrade } from '../../shared/useTrade'

const props = defineProps<{
  model: string
  part?: Schemas['Part']
  names?: string[]
  others?: { id: string; name: string }[]
}>()
const emit = defineEmits<{ close: [id?: string] }>()
const { trade } = useTrade()
const fresh = { id: '', version: 0, model_id: '', kind_guess: undefined }
// eslint-disable-next-line @typescript-eslint/no-unused-vars
const { id: _id, version: _version, model_id: _model, kind_guess: guess, ...known } = props.part ?? fresh
const facts = reactive<Schemas['NewPart']>({
  name: '',
  family: 'FR',
  pane: 'body',
  ...(props.part ? { slot: false } : { slot: true, layer: 5 }), // what is on record is shown as it is stored
  ...known,
  id: props.part?.id ?? newId(),
})
const measureKinds: Record<string, NonNullable<Schemas['NewPart']['measures']>[number]['unit']> = {
  thickness: 'mm',
  width: 'mm',
  height: 'mm',
  mass: 'g',
  'connector width': 'mm',
  'connector pitch': 'mm',
  'connector height': 'mm',
  'connector pins': 'pins',
}
const measuring = ref('')
const readings = ref<number[]>([])
const digit = ref(0.01)
const instrument = ref('')
watch(measuring, (_, before) => {
  keep(before)
  readings.value = []
  instrument.value = ''
})
/** What was read goes to the measure of its kind; repeats add up. */
function keep(kind: string) {
  if (!kind || !readings.value.length) return
  const unit = measureKinds[kind]!
  facts.measures ??= []
  const have = facts.measures.find((m) => m.kind === kind && m.unit === unit)
  if (have) {
    have.readings = [...have.readings, ...readings.value].slice(-30)
    have.resolution = Math.max(have.resolution, digit.value)
  } else
    facts.measures.push({
      kind,
      unit,
      readings: readings.value,
      resolution: digit.value,
      ...(instrument.value ? { instrument: instrument.value } : {}),
    })
  readings.value = []
}
const aliases = reactive({ text: (props.part?.aliases ?? []).join(', ') })
const { problem, busy, mine, theirs, send } = useChange(() => emit('close'))
const lengths = [
  ['x_mm', 'from the left'],
  ['y_mm', 'from the top'],
  ['w_mm', 'width'],
  ['h_mm', 'height'],
] as const
const figures = [
  ['thickness_mm', 'thickness, mm'],
  ['capacity_mah', 'mAh'],
  ['energy_wh', 'Wh'],
  ['cells', 'cells in series'],
  ['resolution_mp', 'MP'],
  ['worth_minor', 'worth, minor units'],
] as const
const words = [
  ['currency', 'Currency, ISO 4217'],
  ['chip_mark', 'Mark on the chip'],
  ['mate', 'Belongs by serial to'],
  ['rides_on', 'Rides on the cable of'],
  ['inside', 'Sits inside'],
  ['covered_by', 'Covered by'],
  ['condition', 'Condition'],
] as const
const sources = ['measured', 'observed once', 'inferred by look', 'rumour', 'third party', 'interested party'] as const
/** A kind brings its family. */
function kinded() {
  const k = trade.value.kinds.find((x) => x.id === facts.kind)
  if (k) facts.family = k.family as typeof facts.family
}
async function submit() {
  keep(measuring.value)
  const part = props.part
  const { id, ...rest } = facts
  const body = {
    ...rest,
    aliases: aliases.text
      .split(',')
      .map((a) => a.trim())
      .filter(Boolean),
  }
  await send((v, header) =>
    part
      ? take(
          api.PUT('/api/parts/{id}', {
            params: { path: { id: part.id }, header },
            body: { version: v ?? part.version, ...body },
          }),
        )
      : take(
          api.POST('/api/models/{id}/parts', { params: { path: { id: props.model }, header }, body: { id, ...body } }),
        ),
  )
}
</script>

<template>
  <FormDialog
    :title="part ? `Change ${part.name}` : 'Add a part'"
    :width="560"
    :save="part ? 'Save' : 'Add'"
    :ready="Boolean(facts.name)"
    :busy="busy"
    :problem="problem"
    :mine="mine"
    @close="emit('close')"
    @theirs="theirs"
    @submit="submit"
  >
    <div class="two">
      <ElFormItem label="Name" :error="fieldError(problem, 'name')">
        <ElInput v-model="facts.name" name="part" maxlength="80" />
      </ElFormItem>
      <ElFormItem label="Other names, with commas" :error="fieldError(problem, 'aliases')">
        <ElInput v-model="aliases.text" />
      </ElFormItem>
      <ElFormItem label="Family" :error="fieldError(problem, 'family')">
        <ElSelect v-model="facts.family" :teleported="false" aria-label="Family">
          <ElOption v-for="f in trade.families" :key="f.id" :value="f.id" :label="`${f.id} ${f.name}`" />
        </ElSelect>
      </ElFormItem>
      <ElFormItem
        :label="guess ? `Kind; its name suggests ${guess.replaceAll('-', ' ')}` : 'Kind'"
        :error="fieldError(problem, 'kind')"
      >
        <ElSelect
          v-model="facts.kind"
          :teleported="false"
          clearable
          filterable
          aria-label="Kind"
          :placeholder="guess ? `${guess.replaceAll('-', ' ')}, guessed` : 'Select'"
          @change="kinded"
        >
          <ElOption v-for="k in trade.kinds" :key="k.id" :value="k.id" :label="k.name" />
        </ElSelect>
        <ElButton v-if="guess && !facts.kind" class="below" @click="((facts.kind = guess), kinded())">
          Yes, it is
        </ElButton>
      </ElFormItem>
      <ElFormItem label="Lies in the" :error="fieldError(problem, 'pane')">
        <ElSelect v-model="facts.pane" :teleported="false" aria-label="Lies in the">
          <ElOption value="body" label="body" />
          <ElOption value="lid" label="lid that opens first" />
        </ElSelect>
      </ElFormItem>
    </div>
    <p class="quiet">Place and size in mm, top edge away from you:</p>
    <div class="row">
      <ElFormItem v-for="[k, l] in lengths" :key="k" :label="l" :error="fieldError(problem, k)">
        <ElInputNumber v-model="facts[k]" :controls="false" :aria-label="`${l}, mm`" style="width: 84px" />
      </ElFormItem>
      <ElFormItem label="layer, 0 deepest" :error="fieldError(problem, 'layer')">
        <ElInputNumber v-model="facts.layer" :controls="false" aria-label="layer" style="width: 84px" />
      </ElFormItem>
      <ElFormItem label="mass, g" :error="fieldError(problem, 'mass_g')">
        <ElInputNumber v-model="facts.mass_g" :controls="false" aria-label="mass, g" style="width: 84px" />
      </ElFormItem>
    </div>
    <div class="two">
      <ElFormItem label="Text on the label" :error="fieldError(problem, 'label')">
        <ElInput v-model="facts.label" maxlength="200" />
      </ElFormItem>
      <ElFormItem label="Code on the connector" :error="fieldError(problem, 'connector_code')">
        <ElInput v-model="facts.connector_code" maxlength="200" />
      </ElFormItem>
    </div>
    <details>
      <summary>More: figures, neighbours, worth, where it is known from</summary>
      <div class="row">
        <ElFormItem v-for="[k, l] in figures" :key="k" :label="l" :error="fieldError(problem, k)">
          <ElInputNumber v-model="facts[k]" :controls="false" :aria-label="l" style="width: 92px" />
        </ElFormItem>
      </div>
      <div class="two">
        <ElFormItem v-for="[k, l] in words" :key="k" :label="l" :error="fieldError(problem, k)">
          <ElInput
            v-model="facts[k]"
            maxlength="160"
            :list="k === 'rides_on' || k === 'inside' ? 'part-names' : undefined"
          />
        </ElFormItem>
        <ElFormItem label="How it is held" :error="fieldError(problem, 'mount')">
          <ElSelect v-model="facts.mount" :teleported="false" clearable aria-label="How it is held">
            <ElOption
              v-for="m in ['plugged', 'soldered', 'glued', 'screwed', 'riveted']"
              :key="m"
              :value="m"
              :label="m"
            />
          </ElSelect>
        </ElFormItem>
        <ElFormItem label="Known from" :error="fieldError(problem, 'source')">
          <ElSelect v-model="facts.source" :teleported="false" clearable aria-label="Known from">
            <ElOption v-for="m in sources" :key="m" :value="m" :label="m" />
          </ElSelect>
        </ElFormItem>
      </div>
      <MergeField v-if="part && others?.length" :id="part.id" kind="part" :choices="others" @merged="emit('close')" />
      <datalist id="part-names">
        <option v-for="n in names" :key="n" :value="n" />
      </datalist>
    </details>
    <fieldset class="measures">
      <legend>Measures</legend>
      <p v-for="(m, i) in facts.measures ?? []" :key="i">
        {{ m.kind }}
        <span class="fig">{{ measured(quantity(m.readings, m.resolution, m.unit)) }}</span>
        <span class="quiet">n {{ m.readings.length }}{{ m.instrument ? `, ${m.instrument}` : '' }}</span>
        <button
          type="button"
          class="bare quiet"
          :aria-label="`Delete the ${m.kind}`"
          @click="facts.measures!.splice(i, 1)"
        >
          ×
        </button>
      </p>
      <div class="two">
        <ElFormItem label="Measure" :error="fieldError(problem, 'measures')">
          <ElSelect v-model="measuring" :teleported="false" clearable aria-label="Measure" placeholder="which one?">
            <ElOption v-for="(unit, k) in measureKinds" :key="k" :value="k" :label="`${k}, ${unit}`" />
          </ElSelect>
        </ElFormItem>
        <MeasureField
          v-if="measuring"
          :key="measuring"
          :model-value="readings"
          :label="measuring"
          :unit="measureKinds[measuring]!"
          @update:model-value="readings = $event"
          @resolution="digit = $event"
          @instrument="instrument = $event"
        />
      </div>
      <p class="quiet">At the bench line: m battery 47.5g, m rear-glass 0.61mm ±0.02; repeats add up.</p>
    </fieldset>
    <p v-if="part?.source === 'inferred by look' && facts.source === 'inferred by look'" class="look">
      Copied from another model, not seen here yet.
      <ElButton @click="facts.source = 'observed once'">Seen here, it is so</ElButton>
    </p>
    <ElCheckbox v-model="facts.slot" label="Takes part in swap tests" />
  </FormDialog>
</template>

<style scoped>
.measures {
  border: 1px solid var(--line);
  margin: 0 0 12px;
  padding: 8px 12px;
}
.below {
  margin-top: 8px;
}
summary {
  cursor: pointer;
  margin-bottom: 8px;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  column-gap: 14px;
}
</style>
