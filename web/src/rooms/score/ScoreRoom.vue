<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, newId, take } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import FaceBar from '../../shared/FaceBar.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useSession } from '../../shared/session'
import { useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'
import AgainstFace from './AgainstFace.vue'
import FactList from './FactList.vue'
import NarrowShelf from './NarrowShelf.vue'
import RuleFace from './RuleFace.vue'
import SayForm from './SayForm.vue'
import SchoolTable from './SchoolTable.vue'
import SchoolWhy from './SchoolWhy.vue'
import { day } from '../../shared/locale'

const route = useRoute()
const router = useRouter()
const id = String(route.params.id)
const faces = [
  ['schools', 'By scoring method'],
  ['facts', 'Facts'],
  ['models', 'Other models'],
  ['rule', 'My own method'],
] as const
const face = computed(() => String(route.query.face ?? 'schools'))
const ask = (q: Record<string, string | undefined>) => router.replace({ query: { ...route.query, ...q } })
const show = (f: string) => ask({ face: f === 'schools' ? undefined : f })
const mark = computed(() => String(route.query.mark ?? ''))
const { room, error } = useRoom(
  () => ['score', id, mark.value],
  () =>
    api.GET('/api/models/{id}/score', {
      params: { path: { id }, query: mark.value ? { mark: mark.value } : {} },
    }),
)
const { may } = useSession()
const says = may('facts')
const keeps = may('studies')
const school = computed(
  () => room.value?.schools.find((s) => s.score.rubric === route.query.school) ?? room.value?.schools[0],
)
const saying = ref('')
const fact = computed(() => room.value?.facts.find((f) => f.id === saying.value))
const { problem, busy, mine, theirs, save } = useChange()
const note = ref('')
async function keep() {
  const kept = await save((_, header) =>
    take(
      api.POST('/api/models/{id}/score-marks', {
        params: { path: { id }, header },
        body: { id: newId(), note: note.value },
      }),
    ),
  )
  if (kept) note.value = ''
}
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <AnswerLine v-else class="answer" :sentence="room?.answer" />
    <template v-if="room && school">
      <div class="stage">
        <FaceBar :faces="faces" :face="face" @show="show" />
        <template v-if="face === 'schools'">
          <p class="quiet">
            {{ room.model.maker }} {{ room.model.name }}, as of {{ day(room.date)
            }}{{ room.build ? `, software ${room.build}` : '' }}. The band is what may be, the full bar what is left if
            all that is only uncertain is as it most likely is.
          </p>
          <SchoolTable :room="room" :chosen="school.score.rubric" @choose="(s) => ask({ school: s })" />
          <SchoolWhy :room="room" :school="school" @say="(f) => (saying = f)" />
        </template>
        <FactList v-else-if="face === 'facts'" :room="room" :writes="says" @say="(f) => (saying = f)" />
        <AgainstFace v-else-if="face === 'models'" :room="room" />
        <RuleFace v-else :room="room" />
      </div>
      <div class="shelf">
        <NarrowShelf :room="room" :school="school" @say="(f) => (saying = f)" @mark="(m) => ask({ mark: m })" />
        <section v-if="keeps" class="no-print">
          <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
          <form class="row" @submit.prevent="keep">
            <ElInput
              v-model="note"
              maxlength="200"
              aria-label="Why this state is kept"
              placeholder="before the spring software"
              class="why"
            />
            <ElButton native-type="submit" :loading="busy" :disabled="!note.trim()">Keep this state</ElButton>
          </form>
        </section>
        <p class="quiet">
          A score from facts that are not all known is a range. Whose weights they are, and how certain, stands at each
          line.
        </p>
      </div>
      <SayForm v-if="fact" :key="fact.id" :room="room" :fact="fact" @close="saying = ''" />
    </template>
  </div>
</template>

<style scoped>
.why {
  flex: 1 1 180px;
}
</style>
