<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ElButton } from 'element-plus'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, take, type Schemas } from '../../api/client'
import ActList from '../../shared/ActList.vue'
import AnswerLine from '../../shared/AnswerLine.vue'
import { typing } from '../../shared/keys'
import { codePath } from '../../shared/labels'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'
import { useSession } from '../../shared/session'
import { useUndo } from '../../shared/useUndo'
import BeginSteps from './BeginSteps.vue'
import BenchToday from './BenchToday.vue'
import ClockBoard from './ClockBoard.vue'
import BuyerTables from './BuyerTables.vue'
import ModelTable from './ModelTable.vue'
import OfficeState from './OfficeState.vue'
import OthersChanged from './OthersChanged.vue'
import ProposalList from './ProposalList.vue'
import StudyTable from './StudyTable.vue'

const NewStudy = defineAsyncComponent(() => import('./NewStudy.vue'))
const NewFault = defineAsyncComponent(() => import('../faults/NewFault.vue'))
const VisitForm = defineAsyncComponent(() => import('../visit/VisitForm.vue'))
const CodeCamera = defineAsyncComponent(() => import('./CodeCamera.vue'))

/** The first page: what to do now with its price and reason, then what the role looks after, then what others changed. */
const { may, me } = useSession()
const writes = may('studies')
const visits = may('visits')
const { room } = useRoom(['first'], () => api.GET('/api/first'))
const role = computed(() => me.value?.who?.role)

const route = useRoute()
const router = useRouter()
const opening = ref(false)
const looking = ref(false)
const taking = ref(false)
watch(
  () => route.query.new,
  (what) => {
    if (what === 'study' && writes.value) opening.value = true
    if (what === 'fault' && visits.value) looking.value = true
    if (what === 'phone' && visits.value) taking.value = true
  },
  { immediate: true },
)
const settled = () => route.query.new && router.replace({ query: { ...route.query, new: undefined } })
watch([opening, looking, taking], (open) => !open.some(Boolean) && settled())
useEventListener('keydown', (e: KeyboardEvent) => {
  if (e.key !== 'n' || typing(e) || !(writes.value || visits.value)) return
  e.preventDefault()
  if (writes.value) opening.value = true
  else looking.value = true
})

const seeing = ref(false)
const sees = 'mediaDevices' in navigator
async function seen(text: string) {
  seeing.value = false
  const path = await codePath(text)
  if (path) await router.push(path)
  else await router.replace({ query: { ...route.query, q: text.trim() } })
}

const { problem, mine, theirs, save } = useChange()
const { gone, offer, undo } = useUndo((study: Schemas['Study']) =>
  save((_, header) =>
    take(
      api.POST('/api/studies/{id}/restore', {
        params: { path: { id: study.id }, query: { version: study.version }, header },
      }),
    ),
  ),
)
async function remove(id: string) {
  const card = await take(api.GET('/api/studies/{id}', { params: { path: { id } } }))
  offer(
    await save((v, header) =>
      take(
        api.DELETE('/api/studies/{id}', {
          params: { path: { id }, query: { version: v ?? card.study.version }, header },
        }),
      ),
    ),
  )
}
</script>

<template>
  <div class="room home">
    <AnswerLine class="answer" :sentence="room?.answer" />
    <template v-if="room">
      <BeginSteps v-if="room.empty" class="wide" :steps="room.begin" @study="opening = true" />
      <ClockBoard v-if="role === 'technician'" class="wide" :room="room" />
      <div v-if="!room.empty || room.next.length" class="wide cols">
        <section id="next">
          <h2 class="row">
            {{ role === 'analyst' ? 'Do next in the studies' : 'Do next' }}
            <span class="doing">
              <button v-if="writes" class="bare link" @click="opening = true">
                New study
                <span class="keys">n</span>
              </button>
              <button v-if="visits" class="bare link" @click="taking = true">A phone comes in</button>
              <button v-if="visits" class="bare link" @click="looking = true">
                Find a fault
                <span v-if="!writes" class="keys">n</span>
              </button>
              <button v-if="sees" class="bare link" @click="seeing = true">Read a label</button>
            </span>
          </h2>
          <ActList v-if="room.next.length" :acts="room.next" :studies="room.studies" />
          <p v-else class="quiet">Nothing waits for you.</p>
        </section>
        <OthersChanged />
      </div>
      <ProposalList v-if="writes" class="wide" />
      <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
      <p v-if="gone" class="undo wide" role="status">
        “{{ gone.title }}” is deleted.
        <ElButton @click="undo">Undo</ElButton>
      </p>
      <CodeCamera v-if="seeing" class="wide" @read="seen" @close="seeing = false" />
      <BenchToday v-if="role === 'technician'" class="wide" :room="room" />
      <BuyerTables v-if="role === 'buyer'" class="wide" :room="room" />
      <OfficeState v-if="room.office" class="wide" :office="room.office" />
      <template v-if="role === 'analyst' || (role === 'administrator' && writes)">
        <ModelTable v-if="room.models.length" class="wide" :models="room.models" />
        <StudyTable v-if="room.studies.length" class="wide" :studies="room.studies" :writes="writes" @remove="remove" />
      </template>
    </template>
    <NewStudy v-if="opening" v-model="opening" />
    <NewFault v-if="looking" @close="looking = false" />
    <VisitForm v-if="taking" @close="taking = false" />
  </div>
</template>

<style scoped>
.wide {
  grid-column: 1 / -1;
  margin-bottom: 22px;
}
.cols h2.row {
  min-height: 31px;
  flex-wrap: wrap;
  row-gap: 0;
}
.cols {
  display: grid;
  grid-template-columns: minmax(0, 784fr) minmax(0, 420fr);
  gap: 28px;
}
.doing {
  margin-left: auto;
  display: flex;
  gap: 16px;
  font-weight: 400;
}
.doing button {
  min-height: 24px;
}
@media (max-width: 1023px) {
  .cols {
    grid-template-columns: minmax(0, 1fr);
  }
}
.undo {
  background: var(--amber-wash);
  padding: 8px 12px;
}
</style>
