<script setup lang="ts">
import { ElButton, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { reactive, ref } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useSession } from '../../shared/session'
import { useChange } from '../../shared/useChange'
import { order } from '../../words'

/** How a job on a part went, in one tap: it counts toward the times and odds of its way. */
const props = defineProps<{
  model: string
  way: Schemas['ModelWay']
  parts: Schemas['Part'][]
  /** Ids of the steps that were done. */
  done: string[]
  /** How its stops were answered. */
  told: string[]
  begun: number
}>()
const { may } = useSession()
const tells = may('outcomes')
const { problem, mine, theirs, busy, save } = useChange()
const sent = ref(false)
const outcome = reactive({ minutes: 0, tabs: undefined as number | undefined, step: '', hurt: '' })
const spent = () => Math.max(0.5, Math.round((Date.now() - props.begun) / 6000) / 10)
const outcomeId = newId()
async function tell(went: 'fine' | 'tab broke' | 'incident' | 'gave up') {
  const w = props.way
  const tabs = w.steps.find((s) => s.joint === 'pull tab')?.count ?? 0
  const made = await save((_, header) =>
    take(
      api.POST('/api/models/{id}/parts/{part}/outcomes', {
        params: { path: { id: props.model, part: props.way.part_id }, header },
        body: {
          id: outcomeId,
          minutes: outcome.minutes || spent(),
          went,
          note: props.told.join('; ').slice(0, 1000) || undefined,
          predicted: w.closed_minutes,
          steps: went === 'gave up' ? props.done : w.steps.map((s) => s.id),
          hurt_part: outcome.hurt || undefined,
          hurt_step: outcome.hurt ? outcome.step || w.steps.at(-1)!.id : undefined,
          whole: outcome.tabs,
          of: outcome.tabs === undefined ? undefined : tabs,
        },
      }),
    ),
  )
  if (made) sent.value = true
}
</script>

<template>
  <section v-if="sent" role="status">
    <p>Told. It counts toward the times and odds of this way.</p>
    <RouterLink :to="{ name: 'job', params: { id: model, part: way.part_id } }">To the job card</RouterLink>
  </section>
  <section v-else class="tell">
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
    <p v-if="!tells" class="quiet">Technicians and analysts tell how it went.</p>
    <template v-else>
      <label>
        Minutes, closed to closed and tested
        <ElInputNumber
          v-model="outcome.minutes"
          :min="0"
          :max="1440"
          :placeholder="String(spent())"
          aria-label="Minutes"
        />
        <span class="quiet">0: by the clock, {{ spent() }}</span>
      </label>
      <label v-if="way.steps.some((s) => s.joint === 'pull tab')">
        Tabs that came out whole
        <ElInputNumber
          v-model="outcome.tabs"
          :min="0"
          :max="way.steps.find((s) => s.joint === 'pull tab')?.count"
          aria-label="Tabs that came out whole"
        />
      </label>
      <div class="row">
        <ElSelect
          v-model="outcome.hurt"
          :teleported="false"
          clearable
          filterable
          placeholder="Something damaged?"
          aria-label="What was damaged"
          style="width: 220px"
        >
          <ElOption v-for="p in parts" :key="p.id" :value="p.id" :label="p.name" />
        </ElSelect>
        <ElSelect
          v-if="outcome.hurt"
          v-model="outcome.step"
          :teleported="false"
          placeholder="at which step"
          aria-label="At which step"
          style="width: 260px"
        >
          <ElOption v-for="s in way.steps" :key="s.id" :value="s.id" :label="order(s.verb, s.what)" />
        </ElSelect>
      </div>
      <div class="row">
        <ElButton type="primary" size="large" :loading="busy" @click="tell(outcome.hurt ? 'incident' : 'fine')">
          {{ outcome.hurt ? 'With an incident' : 'Went fine' }}
        </ElButton>
        <ElButton size="large" :disabled="busy" @click="tell('tab broke')">A tab broke</ElButton>
        <ElButton size="large" :disabled="busy" @click="tell('gave up')">Gave up</ElButton>
      </div>
    </template>
  </section>
</template>

<style scoped>
.tell {
  max-width: 760px;
}
.tell label {
  display: block;
  margin-bottom: 12px;
}
</style>
