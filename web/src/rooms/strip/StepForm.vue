<script setup lang="ts">
import { ElCheckbox, ElFormItem, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref, watch } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import type { Stop } from '../../shared/bench/reader'
import FormDialog from '../../shared/FormDialog.vue'
import { fieldError, useChange } from '../../shared/useChange'
import { useTrade } from '../../shared/useTrade'
import { order } from '../../words'

/** A new act on a unit, which the plan learns; or a step of the plan that is changed. */
const props = defineProps<{
  study: string
  room: Schemas['StripRoom']
  unit: Schemas['Unit']
  step?: Schemas['PlanStep']
  done?: string
  seconds?: number
  /** The stops that a new step raises on this phone as it is now. */
  stops?: (facts: Schemas['StepFacts']) => Promise<Stop[]>
}>()
const emit = defineEmits<{ close: [] }>()
const { trade, threaded } = useTrade()
type Facts = Schemas['StepFacts']
const old = props.step
const facts = reactive<Facts>({
  verb: old?.verb ?? 'unfasten',
  what: old?.what ?? '',
  tool: old?.tool ?? '',
  side: old?.side ?? 'front',
  joint: old?.joint,
  drive: old?.drive,
  count: old?.count ?? 1,
  diameter_mm: old?.diameter_mm,
  length_mm: old?.length_mm,
  seconds: old?.seconds,
  wait_seconds: old?.wait_seconds,
  frees: old?.frees ?? [],
  method: old?.method,
  consumable: old?.consumable,
})
const fastener = reactive<NonNullable<Facts['fastener']>>({ ...old?.fastener })
const depths = [
  ['safe_mm', 'Safe length, mm'],
  ['grip_mm', 'Held under the head, mm'],
] as const
const sayings = [
  ['head', 'Head'],
  ['beneath', 'Lies beneath'],
  ['hidden_under', 'Hidden under'],
  ['shared_by', 'Shared by'],
  ['carries', 'Carries'],
] as const
const after = ref<string[][]>(old?.after?.map((a) => [...a]) ?? (props.done ? [[props.done]] : [[]]))
if (!after.value.length) after.value.push([])
const measured = ref(Math.round(props.seconds ?? 0))
const note = ref('')
const screwed = computed(() => threaded(facts.joint))
const tools = computed(() => [...new Set(props.room.steps.map((s) => s.tool).filter(Boolean))] as string[])
const others = computed(() => props.room.steps.filter((s) => s.id !== old?.id))
const id = newId()
const { problem, busy, mine, theirs, send } = useChange(() => emit('close'))
const at = (field: string) => fieldError(problem.value, old ? field : `step.${field}`)

const raised = ref<Stop[]>([])
const asking = ref(false)
const told = reactive<Record<string, string>>({})
const notYet = 'not yet'
watch([facts, () => props.unit.id], () => (raised.value = []))

async function submit() {
  const body: Facts = { ...facts, fastener: { ...fastener }, after: after.value.filter((a) => a.length) }
  if (!screwed.value) body.drive = body.length_mm = body.diameter_mm = undefined
  if (old) body.risk = old.risk
  else if (!raised.value.length) {
    if (asking.value) return
    asking.value = true
    raised.value = (await props.stops?.(body)) ?? []
    asking.value = false
    if (raised.value.length) return // answered first
  }
  if (raised.value.some((s) => !told[s.rule])) return
  const stops = raised.value.map((s) => ({ rule: s.rule, answer: told[s.rule]! }))
  const stopped = stops.some((s) => s.answer === notYet)
  const entry = stopped
    ? { kind: 'stop' as const, note: note.value || order(body.verb, body.what) }
    : { step: body, seconds: measured.value, note: note.value }
  await send<unknown>((v, header) =>
    old
      ? take(
          api.PUT('/api/steps/{id}', {
            params: { path: { id: old.id }, header },
            body: { version: v ?? old.version, ...body },
          }),
        )
      : take(
          api.POST('/api/studies/{id}/log', {
            params: { path: { id: props.study }, header },
            body: { id, unit_id: props.unit.id, ...entry, ...(stops.length ? { detail: { stops } } : {}) },
          }),
        ),
  )
}
</script>

<template>
  <FormDialog
    :title="old ? `Change step ${old.mark} of the plan` : `${unit.name}: a new step`"
    :width="640"
    :save="old ? 'Save' : 'Log it'"
    :ready="Boolean(facts.what)"
    :busy="busy || asking"
    :problem="problem"
    :mine="mine"
    @close="emit('close')"
    @theirs="theirs"
    @submit="submit"
  >
    <div class="two">
      <ElFormItem label="What you do" :error="at('verb')">
        <ElSelect v-model="facts.verb" :teleported="false" aria-label="What you do">
          <ElOption v-for="v in trade.verbs" :key="v" :value="v" :label="v" />
        </ElSelect>
      </ElFormItem>
      <ElFormItem label="To what" :error="at('what')">
        <ElInput v-model="facts.what" name="what" maxlength="160" />
      </ElFormItem>
      <ElFormItem label="Tool; empty: by hand" :error="at('tool')">
        <ElInput v-model="facts.tool" name="tool" list="tools" maxlength="80" />
        <datalist id="tools">
          <option v-for="t in tools" :key="t" :value="t" />
        </datalist>
      </ElFormItem>
      <ElFormItem label="Side up" :error="at('side')">
        <ElSelect v-model="facts.side" :teleported="false" aria-label="Side up">
          <ElOption v-for="s in ['front', 'back', 'any']" :key="s" :value="s" :label="s" />
        </ElSelect>
      </ElFormItem>
      <ElFormItem label="Fastening that it opens" :error="at('joint')">
        <ElSelect v-model="facts.joint" :teleported="false" aria-label="Fastening that it opens" clearable>
          <ElOption v-for="j in trade.joints" :key="j.id" :value="j.id" :label="j.id" />
        </ElSelect>
      </ElFormItem>
      <ElFormItem label="How many" :error="at('count')">
        <ElInputNumber v-model="facts.count" aria-label="How many" />
      </ElFormItem>
      <template v-if="screwed">
        <ElFormItem label="Drive" :error="at('drive')">
          <ElSelect v-model="facts.drive" :teleported="false" aria-label="Drive" clearable>
            <ElOption v-for="d in trade.drives" :key="d" :value="d" :label="d" />
          </ElSelect>
        </ElFormItem>
        <div class="row">
          <ElFormItem label="Diameter, mm" :error="at('diameter_mm')">
            <ElInputNumber
              v-model="facts.diameter_mm"
              :controls="false"
              aria-label="Diameter, mm"
              style="width: 100px"
            />
          </ElFormItem>
          <ElFormItem label="Length, mm" :error="at('length_mm')">
            <ElInputNumber v-model="facts.length_mm" :controls="false" aria-label="Length, mm" style="width: 100px" />
          </ElFormItem>
        </div>
      </template>
    </div>
    <details>
      <summary>More about the fastening: what hides, what lies beneath, method, consumable</summary>
      <div class="two">
        <ElFormItem label="Method, for counting odds" :error="at('method')">
          <ElInput v-model="facts.method" maxlength="40" />
        </ElFormItem>
        <ElFormItem label="Closing needs anew" :error="at('consumable')">
          <ElInput v-model="facts.consumable" maxlength="80" />
        </ElFormItem>
        <template v-if="screwed">
          <ElFormItem v-for="[k, l] in depths" :key="k" :label="l" :error="at('fastener')">
            <ElInputNumber
              v-model="fastener[k]"
              :controls="false"
              :min="0"
              :max="50"
              :aria-label="l"
              style="width: 100px"
            />
          </ElFormItem>
          <ElFormItem label="Magnetic">
            <ElSelect v-model="fastener.magnetic" :teleported="false" clearable aria-label="Magnetic">
              <ElOption value="yes" label="yes" />
              <ElOption value="no" label="no, on purpose" />
            </ElSelect>
          </ElFormItem>
          <ElFormItem label="Captive">
            <ElCheckbox v-model="fastener.captive" label="stays in its bracket" />
          </ElFormItem>
        </template>
        <ElFormItem v-for="[k, l] in sayings" :key="k" :label="l">
          <ElInput v-model="fastener[k]" maxlength="80" />
        </ElFormItem>
      </div>
    </details>
    <ElFormItem label="Parts that come out" :error="at('frees')">
      <ElSelect
        v-model="facts.frees"
        :teleported="false"
        aria-label="Parts that come out"
        multiple
        filterable
        default-first-option
      >
        <ElOption v-for="p in room.parts" :key="p.id" :value="p.id" :label="p.name" />
      </ElSelect>
    </ElFormItem>
    <ElFormItem
      v-for="(_group, i) in after"
      :key="i"
      :label="i ? 'or all of' : 'What it needed first: all of'"
      :error="i ? undefined : at('after')"
    >
      <ElSelect
        v-model="after[i]"
        :teleported="false"
        :aria-label="`Needed first, alternative ${i + 1}`"
        multiple
        filterable
        default-first-option
      >
        <ElOption v-for="s in others" :key="s.id" :value="s.id" :label="`${s.mark} ${order(s.verb, s.what)}`" />
      </ElSelect>
    </ElFormItem>
    <button type="button" class="bare link" @click="after.push([])">Another way to get here</button>
    <div class="two times">
      <ElFormItem v-if="!old" label="Measured seconds; 0: not timed" :error="fieldError(problem, 'seconds')">
        <ElInputNumber v-model="measured" aria-label="Measured seconds" />
      </ElFormItem>
      <ElFormItem v-else label="Planned seconds; 0: from the table" :error="at('seconds')">
        <ElInputNumber v-model="facts.seconds" aria-label="Planned seconds" />
      </ElFormItem>
      <ElFormItem label="Then wait, seconds" :error="at('wait_seconds')">
        <ElInputNumber v-model="facts.wait_seconds" aria-label="Wait, seconds" />
      </ElFormItem>
    </div>
    <section v-for="s in raised" :key="s.rule" class="stop" role="alert">
      <p>
        <b>Stop, {{ unit.name }}: {{ s.text }}</b>
        {{ s.do }}
      </p>
      <div class="row">
        <button
          v-for="a in [notYet, 'already done', ...s.reasons]"
          :key="a"
          type="button"
          class="bare answer-key"
          :aria-pressed="told[s.rule] === a"
          @click="told[s.rule] = a"
        >
          {{ a }}
        </button>
      </div>
    </section>
    <ElFormItem v-if="!old" label="Note" :error="fieldError(problem, 'note')">
      <ElInput v-model="note" name="note" />
    </ElFormItem>
  </FormDialog>
</template>

<style scoped>
.stop {
  border-left: 4px solid var(--brick);
  padding: 8px 12px;
  margin-bottom: 12px;
}
.answer-key {
  min-height: 40px;
  padding: 0 12px;
  border: 1px solid var(--strong-line);
}
.answer-key[aria-pressed='true'] {
  background: var(--pine);
  color: var(--on-pine);
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  column-gap: 14px;
}
summary {
  cursor: pointer;
  margin-bottom: 10px;
}
.times {
  margin-top: 12px;
}
</style>
