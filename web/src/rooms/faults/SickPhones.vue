<script setup lang="ts">
import { ElButton } from 'element-plus'
import { useRouter } from 'vue-router'

import { api, newId, take, type Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useSession } from '../../shared/session'
import { useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'

/** The searches for a fault on phones of a study, and a new one on each of them. */
const props = defineProps<{ units: Schemas['Unit'][]; model: string }>()
const router = useRouter()
const { may } = useSession()
const writes = may('visits')
const { room: open } = useRoom(
  () => ['faults', props.model],
  () => api.GET('/api/faults', { params: { query: { model: props.model } } }),
)
const { problem, busy, save } = useChange()
async function begin(u: Schemas['Unit']) {
  const made = await save((_, header) =>
    take(
      api.POST('/api/faults', {
        params: { header },
        body: { id: newId(), visit_id: newId(), unit_id: u.id, sticker: u.name, state: 'in' },
      }),
    ),
  )
  if (made) await router.push({ name: 'fault', params: { id: made.id } })
}
</script>

<template>
  <section v-if="units.length && (writes || open?.length)">
    <h2>Phones with a fault</h2>
    <ProblemNote :problem="problem" />
    <p v-for="f in open" :key="f.id">
      <RouterLink :to="{ name: 'fault', params: { id: f.id } }">
        {{ f.sticker }}: {{ f.symptom || f.said || 'symptom not chosen' }}
      </RouterLink>
    </p>
    <p v-if="writes" class="row">
      <ElButton v-for="u in units" :key="u.id" size="small" :disabled="busy" @click="begin(u)">
        Find a fault of {{ u.name }}
      </ElButton>
    </p>
  </section>
</template>
