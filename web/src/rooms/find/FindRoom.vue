<script setup lang="ts">
import { refDebounced, useEventListener } from '@vueuse/core'
import { ElButton, ElInput } from 'element-plus'
import { computed, defineAsyncComponent, nextTick, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, take, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import EvidenceEye from '../../shared/EvidenceEye.vue'
import { endSeek, typing } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import { useSession } from '../../shared/session'
import NewStudy from './NewStudy.vue'
import { useRoom } from '../../shared/useRoom'
import { useUndo } from '../../shared/useUndo'

const NewFault = defineAsyncComponent(() => import('../faults/NewFault.vue'))
const CodeCamera = defineAsyncComponent(() => import('./CodeCamera.vue'))

const { may, me } = useSession()
const writes = may('studies')
const visits = may('visits')
const looking = ref(false)
const { room: sick } = useRoom(['faults'], () => api.GET('/api/faults'))
const office = may('people')
const trail = computed(() => ['analyst', 'administrator'].includes(me.value?.who?.role ?? ''))
const query = ref('')
const asked = refDebounced(query, 150)
const { room: found } = useRoom(
  () => ['find', asked.value],
  () => api.GET('/api/find', { params: { query: { q: asked.value.slice(0, 200) } } }),
)
const { room: models } = useRoom(['models'], () => api.GET('/api/models'))
const entries = { front: 'opens from the front', back: 'opens from the back', dual: 'opens from either side' }
const { room: newest } = useRoom(['studies'], () => api.GET('/api/studies'))
/** Pages of older studies, as far as they were asked for. */
const older = ref<Schemas['StudyCard'][]>([])
const studies = computed(() => newest.value && [...newest.value, ...older.value])
const fifty = 50
const twenty = 20
const more = computed(() => !!studies.value?.length && studies.value.length % twenty === 0 && !ended.value)
const ended = ref(false)
async function further() {
  const before = studies.value?.at(-1)?.study.id
  const page = await take(api.GET('/api/studies', { params: { query: { before } } }))
  ended.value = page.length < twenty
  older.value = [...older.value, ...page]
}

const route = useRoute()
const router = useRouter()
const focus = () =>
  nextTick(() => {
    document.querySelector<HTMLInputElement>('#find')?.focus()
    query.value += endSeek()
  })
onMounted(focus)
watch(() => route.fullPath, focus)

/** A code as printed on our labels leads to its thing at once: a hand scanner types it. */
const code = /^WO[PU][A-Z2-7]{26}$/i
watch(query, async (text) => {
  if (!code.test(text.trim())) return
  const { data } = await api.GET('/api/codes/{code}', { params: { path: { code: text.trim() } } })
  if (data?.kind === 'part') await router.push({ name: 'job', params: { id: data.model_id, part: data.part_id } })
  if (data?.kind === 'unit')
    await router.push({ name: 'strip', params: { id: data.study_id }, query: { phone: data.unit_id } })
})

const seeing = ref(false)
const sees = 'mediaDevices' in navigator
function seen(text: string) {
  seeing.value = false
  query.value = text
}

const opening = ref(false)
useEventListener('keydown', (e: KeyboardEvent) => {
  if (e.key === 'n' && !typing(e) && writes.value) {
    e.preventDefault()
    opening.value = true
  }
})

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
async function remove(study: Schemas['Study']) {
  offer(
    await save((v, header) =>
      take(
        api.DELETE('/api/studies/{id}', {
          params: { path: { id: study.id }, query: { version: v ?? study.version }, header },
        }),
      ),
    ),
  )
}
function first(e: Event) {
  e.preventDefault()
  document.querySelector<HTMLAnchorElement>('.matches a')?.focus()
}
</script>

<template>
  <div class="room home">
    <AnswerLine class="answer" :sentence="found?.answer" />
    <div class="stage">
      <label class="hidden" for="find">Model, part, alias, label or connector code</label>
      <ElInput
        id="find"
        v-model="query"
        size="large"
        maxlength="200"
        placeholder="Drift 4 battery, screen, D4-07 …"
        clearable
        @keydown.down="first"
      />
      <ElButton v-if="sees" class="no-print camera" @click="seeing = true">Read a label with the camera</ElButton>
      <CodeCamera v-if="seeing" @read="seen" @close="seeing = false" />
      <section id="matches" class="matches">
        <ul class="plain">
          <li v-for="m in found?.matches" :key="m.part_id">
            <RouterLink :to="{ name: 'job', params: { id: m.model_id, part: m.part_id } }">
              <span class="code fig">{{ m.family }}</span>
              <b>{{ m.part }}</b>
              <span>{{ m.model }}</span>
              <span v-if="m.why" class="quiet why">by “{{ m.why }}”</span>
            </RouterLink>
          </li>
        </ul>
        <p v-if="!query" class="quiet hint">
          Type any of: the model, the part, another name for it, the text on its label, the mark on a chip, the code
          printed on a connector.
        </p>
        <template v-if="!query && models?.length">
          <h2>Models on record</h2>
          <table>
            <tbody>
              <tr v-for="m in models" :key="m.id">
                <td>
                  <b>{{ m.name }}</b>
                  <span class="quiet">&nbsp;{{ m.maker }}</span>
                </td>
                <td class="quiet">{{ entries[m.entry] }}</td>
                <td>
                  <RouterLink :to="{ name: 'ways', params: { id: m.id } }" :aria-label="`Ways of ${m.name}`">
                    ways
                  </RouterLink>
                </td>
                <td>
                  <RouterLink :to="{ name: 'score', params: { id: m.id } }" :aria-label="`Score of ${m.name}`">
                    score
                  </RouterLink>
                </td>
                <td>
                  <RouterLink
                    :to="{ name: 'compare', query: { model: m.id } }"
                    :aria-label="`Compare ${m.name} with another model`"
                  >
                    compare
                  </RouterLink>
                </td>
              </tr>
            </tbody>
          </table>
          <p v-if="models.length === fifty" class="quiet">The first {{ fifty }}; type a name for the others.</p>
        </template>
      </section>
    </div>
    <div class="shelf">
      <section>
        <h2>Studies</h2>
        <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
        <p v-if="gone" class="undo" role="status">
          “{{ gone.title }}” is deleted.
          <ElButton @click="undo">Undo</ElButton>
        </p>
        <ul class="plain studies">
          <li v-for="s in studies" :key="s.study.id">
            <RouterLink :to="{ name: 'intake', params: { id: s.study.id } }">
              <b>{{ s.study.title }}</b>
              <span class="quiet">
                {{ s.model.maker }} {{ s.model.name }}{{ s.study.variant ? `, ${s.study.variant}` : '' }}
              </span>
            </RouterLink>
            <span class="eyes">
              <EvidenceEye
                v-for="st in s.stages"
                :key="st.id"
                :state="st.eye"
                :label="`${st.title}: ${st.missing ? `missing ${st.missing}` : 'complete'}`"
              />
              <button v-if="writes" class="bare quiet" :aria-label="`Delete ${s.study.title}`" @click="remove(s.study)">
                ×
              </button>
            </span>
          </li>
        </ul>
        <ElButton v-if="more" @click="further">Older studies</ElButton>
        <p v-if="studies && !studies.length" class="quiet">
          No study yet. Open one with the phone that lies before you.
        </p>
        <ElButton v-if="writes" type="primary" class="new" @click="opening = true">New study</ElButton>
      </section>
      <section v-if="visits || sick?.length">
        <h2>Sick phones</h2>
        <p v-for="f in sick" :key="f.id">
          <RouterLink :to="{ name: 'fault', params: { id: f.id } }">
            <b>{{ f.sticker }}</b>
            {{ f.symptom || f.said || 'symptom not chosen' }}
          </RouterLink>
          <span class="quiet">&nbsp;{{ f.model }}{{ f.acts ? `, ${f.acts} done` : '' }}</span>
        </p>
        <ElButton v-if="visits" @click="looking = true">Find a fault</ElButton>
        <NewFault v-if="looking" @close="looking = false" />
      </section>
      <section>
        <h2>Between models</h2>
        <RouterLink :to="{ name: 'fit' }">What fits</RouterLink>
        <span class="quiet">: which piece stands in for which, and how few lines are enough.</span>
      </section>
      <section>
        <h2>Parts desk</h2>
        <RouterLink :to="{ name: 'parts' }">Basket, stock, incoming, jobs, donors</RouterLink>
        <span class="quiet">: what to buy, what to keep, which job to take.</span>
      </section>
      <section>
        <h2>Bench day</h2>
        <RouterLink :to="{ name: 'day' }">Hands and machines on one plan</RouterLink>
        <span class="quiet">: will it all be done today, and what comes next.</span>
      </section>
      <section v-if="office || trail">
        <h2>Office</h2>
        <RouterLink v-if="office" :to="{ name: 'accounts' }">Accounts</RouterLink>
        <span v-if="office" class="quiet">: who may do what.</span>
        <RouterLink :to="{ name: 'trail' }">Who did what</RouterLink>
      </section>
      <section>
        <h2>Practice</h2>
        <RouterLink :to="{ name: 'dry-runs' }">Dry run</RouterLink>
        <span class="quiet">: find the culprit on simulated phones, without opening one.</span>
      </section>
    </div>
    <NewStudy v-model="opening" />
  </div>
</template>

<style scoped>
.camera {
  margin-top: 10px;
}
.matches {
  margin-top: 12px;
}
.matches a {
  display: flex;
  gap: 12px;
  align-items: baseline;
  color: var(--ink);
  text-decoration: none;
  padding: 3px 0;
  flex-wrap: wrap;
}
.matches a:hover b {
  text-decoration: underline;
}
.code {
  color: var(--quiet);
  border: 1px solid var(--strong-line);
  padding: 0 4px;
  font-size: 13px;
}
.why {
  font-size: 14px;
}
.hint {
  max-width: 46ch;
}
.studies li {
  display: flex;
  flex-direction: column;
  gap: 4px;
}
.studies a {
  display: flex;
  flex-direction: column;
  color: var(--ink);
  text-decoration: none;
  overflow-wrap: anywhere;
}
.studies a:hover b {
  text-decoration: underline;
}
.eyes {
  display: flex;
  gap: 8px;
  align-items: center;
}
.eyes button {
  margin-left: auto;
  padding: 0 10px;
  font-size: 20px;
}
.new {
  margin-top: 14px;
}
.undo {
  background: var(--amber-wash);
  padding: 8px 12px;
}
</style>
