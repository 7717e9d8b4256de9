<script setup lang="ts">
import { ElButton } from 'element-plus'

import { api, take, type Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'

/** What the plan might learn from positions and runs; cycles and dead ends where they are. */
const props = defineProps<{
  hints: Schemas['StripPlanHint'][]
  steps: Map<string, Schemas['PlanStep']>
  writes: boolean
}>()
const { problem, mine, theirs, busy, save } = useChange()
async function accept(h: Schemas['StripPlanHint']) {
  // eslint-disable-next-line @typescript-eslint/no-unused-vars
  const { id, version, model_id: _model, mark: _mark, ...facts } = props.steps.get(h.step_id!)!
  await save((v, header) =>
    take(
      api.PUT('/api/steps/{id}', {
        params: { path: { id }, header },
        body: { version: v ?? version, ...facts, after: h.after },
      }),
    ),
  )
}
</script>

<template>
  <section v-if="hints.length" id="hints">
    <h2>The plan might learn</h2>
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
    <ul class="plain">
      <li v-for="h in hints" :key="h.text" :class="{ danger: h.kind === 'cycle' }">
        <b>{{ h.kind }}:</b>
        {{ h.text }}.
        <ElButton v-if="h.step_id && writes" size="small" :disabled="busy" @click="accept(h)">
          {{ steps.get(h.step_id)?.mark }} comes after it
        </ElButton>
      </li>
    </ul>
  </section>
</template>
