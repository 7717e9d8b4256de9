<script setup lang="ts">
import { ElFormItem, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, reactive } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import FormDialog from '../../shared/FormDialog.vue'
import { useSession } from '../../shared/session'
import { fieldError, useChange } from '../../shared/useChange'
import { plainly } from './words'

/** What somebody says of a fact that no engine works out. Money is typed in the currency and kept in minor units. */
const props = defineProps<{ room: Schemas['ScoreRoom']; fact: Schemas['ScoreFact'] }>()
const emit = defineEmits<{ close: [] }>()
const { me } = useSession()
const { problem, busy, mine, theirs, send } = useChange(() => emit('close'))
const id = newId()
const facts = reactive({
  choice: '',
  number: undefined as number | undefined,
  low: undefined as number | undefined,
  high: undefined as number | undefined,
  by: me.value?.who?.display ?? '',
  unit: '',
  evidence: '',
  currency: props.room.currency || 'EUR',
  day: props.room.date,
})
const def = computed(() => props.fact.def)
const digits = computed(() => {
  if (!props.fact.money) return 0
  try {
    return (
      new Intl.NumberFormat('en', { style: 'currency', currency: facts.currency }).resolvedOptions()
        .maximumFractionDigits ?? 2
    )
  } catch {
    return 2
  }
})
const minor = (x: number | undefined) => (x === undefined ? undefined : Math.round(x * 10 ** digits.value * 100) / 100)
const unit = computed(() => (props.fact.money ? facts.currency : (def.value.unit ?? '')))
const ready = computed(() =>
  def.value.kind === 'choice'
    ? Boolean(facts.choice)
    : [facts.number, facts.low, facts.high].some((x) => x !== undefined),
)
async function submit() {
  const body: Schemas['NewSaying'] = {
    id,
    fact: props.fact.id,
    by: facts.by,
    unit: facts.unit,
    evidence: facts.evidence,
    build: def.value.build_bound ? props.room.build : '',
    said_on: facts.day ? `${facts.day}T00:00:00Z` : undefined,
    currency: props.fact.money ? facts.currency : '',
    ...(def.value.kind === 'choice'
      ? { choice: facts.choice }
      : facts.number !== undefined
        ? { number: minor(facts.number) }
        : { low: minor(facts.low), high: minor(facts.high) }),
  }
  await send((_, header) =>
    take(
      props.fact.shop
        ? api.POST('/api/facts', { params: { header }, body })
        : api.POST('/api/models/{id}/facts', { params: { path: { id: props.room.model.id }, header }, body }),
    ),
  )
}
</script>

<template>
  <FormDialog
    :title="def.title ?? fact.id"
    save="Say it"
    :ready="ready"
    :busy="busy"
    :problem="problem"
    :mine="mine"
    @close="emit('close')"
    @theirs="theirs"
    @submit="submit"
  >
    <p v-if="def.ask" class="quiet">How to find it out: {{ def.ask }}.</p>
    <p v-if="fact.value.among?.length" class="quiet">
      The plan leaves: {{ fact.value.among.map(plainly).join(' or ') }}.
    </p>
    <ElFormItem v-if="def.kind === 'choice'" label="It is" :error="fieldError(problem, 'choice')">
      <ElSelect v-model="facts.choice" :teleported="false" aria-label="It is">
        <ElOption v-for="c in def.values" :key="c" :value="c" :label="plainly(c)" />
      </ElSelect>
    </ElFormItem>
    <div v-else class="row">
      <ElFormItem :label="unit ? `It is (${unit})` : 'It is'" :error="fieldError(problem, 'number')">
        <ElInputNumber v-model="facts.number" :controls="false" aria-label="It is" />
      </ElFormItem>
      <ElFormItem label="or from" :error="fieldError(problem, 'low')">
        <ElInputNumber v-model="facts.low" :controls="false" aria-label="or from" />
      </ElFormItem>
      <ElFormItem label="to" :error="fieldError(problem, 'high')">
        <ElInputNumber v-model="facts.high" :controls="false" aria-label="to" />
      </ElFormItem>
      <ElFormItem v-if="fact.money" label="Currency" :error="fieldError(problem, 'currency')">
        <ElInput v-model="facts.currency" maxlength="3" style="width: 76px" />
      </ElFormItem>
    </div>
    <div class="row">
      <ElFormItem label="Whose word" :error="fieldError(problem, 'by')">
        <ElInput v-model="facts.by" maxlength="60" />
      </ElFormItem>
      <ElFormItem v-if="fact.judged" label="Judged on phone" :error="fieldError(problem, 'unit')">
        <ElInput v-model="facts.unit" maxlength="60" placeholder="PINE" />
      </ElFormItem>
      <ElFormItem label="On the day" :error="fieldError(problem, 'said_on')">
        <ElInput v-model="facts.day" maxlength="10" placeholder="2026-11-26" style="width: 130px" />
      </ElFormItem>
    </div>
    <ElFormItem label="Where it was seen or read" :error="fieldError(problem, 'evidence')">
      <ElInput v-model="facts.evidence" maxlength="400" />
    </ElFormItem>
  </FormDialog>
</template>
