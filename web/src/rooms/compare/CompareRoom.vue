<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ElButton } from 'element-plus'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, newId, take, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { digitsOf, figure, minutes } from '../../shared/format'
import { numbers as written } from '../../shared/locale'
import { first as yes, typing } from '../../shared/keys'
import ModelSelect from '../../shared/ModelSelect.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useSession } from '../../shared/session'
import { useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'
import { useUndo } from '../../shared/useUndo'
import GhostMap from './GhostMap.vue'
import VariantSelect from './VariantSelect.vue'
import DataTable from '../../shared/DataTable.vue'
import type { Column } from '../../shared/table'

const GenerationChart = defineAsyncComponent(() => import('./GenerationChart.vue'))

const route = useRoute()
const router = useRouter()
const { may } = useSession()
const writes = may('models')
const side = (name: 'model' | 'other' | 'variant' | 'other_variant') =>
  computed({
    get: () => String(route.query[name] ?? ''),
    set: (id: string) => void router.replace({ query: { ...route.query, [name]: id } }),
  })
const model = side('model')
const other = side('other')
const variant = side('variant')
const otherVariant = side('other_variant')
const { room, error } = useRoom(
  () => ['compare', model.value, other.value, variant.value, otherVariant.value],
  () =>
    api.GET('/api/models/{id}/compare/{other}', {
      params: {
        path: { id: model.value, other: other.value },
        query: {
          ...(variant.value ? { variant: variant.value } : {}),
          ...(otherVariant.value ? { other_variant: otherVariant.value } : {}),
        },
      },
    }),
  {
    enabled: () =>
      Boolean(model.value && other.value && (model.value !== other.value || variant.value !== otherVariant.value)),
  },
)
const { room: generations } = useRoom(
  () => ['generations', model.value],
  () => api.GET('/api/models/{id}/generations', { params: { path: { id: model.value } } }),
  { enabled: () => Boolean(model.value) },
)
/** Only a model is known: its predecessor is what one asks about first. */
watch(generations, (list) => {
  const at = list?.findIndex((g) => g.model_id === model.value) ?? -1
  if (!other.value && list && at > 0) other.value = list[at - 1]!.model_id
})
const { room: models } = useRoom(['models'], () => api.GET('/api/models'))
/** Generations on record, to begin with. */
const chains = computed(() =>
  (models.value ?? []).flatMap((m) => {
    const before = models.value!.find((x) => x.maker === m.maker && x.name === m.predecessor)
    return before ? [{ id: m.id, before: before.id, text: `${m.name} against ${before.name}` }] : []
  }),
)
const old = ref(false)
const chosen = ref('')
const keyOf = (c: Schemas['CompareChange']) =>
  room.value?.found.matched.some((m) => m.a === c.a && m.b === c.b)
    ? `${c.a}|${c.b}`
    : c.changes.some((x) => ['added', 'split'].includes(x))
      ? c.b
      : c.a
const told = computed(() => room.value?.changes.filter((c) => c.changes.length || Math.abs(c.minutes) > 0.005) ?? [])
const numbers = computed(() => new Map(told.value.map((c, i) => [keyOf(c), i + 1])))
const match = (c: Schemas['CompareChange']) => room.value?.found.matched.find((m) => m.a === c.a && m.b === c.b)
const name = (side: 'a' | 'b', id: string) => room.value?.[side].parts.find((p) => p.id === id)?.name ?? id

/** What a person should look at: pairs that might be others, and parts that went although one like them came. */
const doubtful = computed(() => [
  ...(room.value?.found.matched.filter((m) => !m.sure).map((m) => ({ a: m.a, b: m.b, margin: m.margin })) ?? []),
  ...(room.value?.found.gone.filter((g) => g.maybe).map((g) => ({ a: g.part, b: g.maybe, margin: undefined })) ?? []),
])
const { problem, mine, theirs, save } = useChange()
const { gone, offer, undo } = useUndo((pair: Schemas['PartPair']) =>
  save((v, header) =>
    take(
      api.DELETE('/api/part-pairs/{id}', {
        params: { path: { id: pair.id }, query: { version: v ?? pair.version }, header },
      }),
    ),
  ),
)
async function say(pair: { a: string; b: string }, verdict: 'confirmed' | 'refused') {
  const id = newId()
  offer(
    await save((_, header) =>
      take(
        api.POST('/api/part-pairs', {
          params: { header },
          body: { id, part_id: pair.a, other_part_id: pair.b, verdict },
        }),
      ),
    ),
  )
}
useEventListener('keydown', (e: KeyboardEvent) => {
  if (typing(e) || e.ctrlKey || e.metaKey || e.altKey) return
  if (e.key === 'f') old.value = !old.value
  const first = doubtful.value[0]
  if (first && writes.value && yes(e)) void say(first, 'confirmed')
  if (first && writes.value && e.key === 'x') void say(first, 'refused')
})
const signed = (m: number, digits = 1) =>
  `${m > 0 ? '+' : m < 0 ? '−' : '±'}${written({ minimumFractionDigits: digits, maximumFractionDigits: digits }).format(Math.abs(m))}`
const spread = (u: number) => written({ maximumFractionDigits: digitsOf(u) }).format(u)
function size(s: Schemas['CompareSize']) {
  if (!s.shown) return `${s.quantity}: not resolved, within ± ${spread(2 * s.u)} ${s.unit}`
  const percent = s.percent == null ? '' : `, ${signed(s.percent)} ± ${Math.max(0.1, s.percent_u ?? 0).toFixed(1)} %`
  return `${s.quantity} ${signed(s.delta, digitsOf(s.u))} ± ${spread(s.u)} ${s.unit}${percent}`
}
const judged = { easier: 'easier', harder: 'harder', dearer: 'dearer', 'no matter': '' } as const
type Job = Schemas['CompareRoom']['jobs'][number]
const jobColumns: Column<Job>[] = [
  { id: 'job', title: 'Job', value: (j) => j.job },
  { id: 'steps', title: 'Steps', kind: 'number', value: (j) => j.steps_b, text: (j) => `${j.steps_a} → ${j.steps_b}` },
  {
    id: 'minutes',
    title: 'Minutes to the part',
    kind: 'number',
    value: (j) => j.minutes_b - j.minutes_a,
    text: (j) => `${figure(j.minutes_a)} → ${figure(j.minutes_b)}`,
  },
  {
    id: 'depth',
    title: 'Steps deep',
    kind: 'number',
    value: (j) => j.depth,
    text: (j) => (j.depth ? signed(j.depth, 0) : 'same'),
  },
  { id: 'rest', title: 'Of no part', kind: 'number', value: (j) => j.rest, text: (j) => signed(j.rest) },
  {
    id: 'tools',
    title: 'Tools',
    value: (j) =>
      [...j.tools_gained.map((t) => `+ ${t}`), ...j.tools_lost.map((t) => `− ${t}`)].join(', ') || 'the same',
  },
]
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <h1 v-else-if="!model || !other" class="answer ask">
      Which two models? The newer first, then the one it is measured against.
    </h1>
    <AnswerLine v-else class="answer" :sentence="room?.answer" />
    <div class="stage">
      <div class="row pick no-print">
        <ModelSelect v-model="model" label="The newer model" />
        <VariantSelect v-if="model" v-model="variant" :model="model" label="Variant of the newer" />
        <span>against</span>
        <ModelSelect v-model="other" label="The earlier model" />
        <VariantSelect v-if="other" v-model="otherVariant" :model="other" label="Variant of the earlier" />
      </div>
      <ul v-if="(!model || !other) && chains.length" class="plain">
        <li v-for="c in chains" :key="c.id">
          <RouterLink :to="{ query: { model: c.id, other: c.before } }">{{ c.text }}</RouterLink>
        </li>
      </ul>
      <template v-if="room">
        <section v-if="room.a.parts.length && room.b.parts.length" class="over">
          <GhostMap :room="room" :old="old" :selected="chosen" :numbers="numbers" @select="chosen = $event" />
          <div>
            <ElButton @click="old = !old">
              {{ old ? `Show the ${room.b.model.name}` : `Show the ${room.a.model.name}` }}
              <span class="keys">f</span>
            </ElButton>
            <p class="quiet">
              {{ room.found.facts.parts_a }} parts there, {{ room.found.facts.parts_b }} here;
              {{ room.found.facts.same }} as they were, {{ room.found.facts.moved }} moved,
              {{ room.found.facts.resized }} of another size, {{ room.found.facts.joints }} held otherwise,
              {{ room.found.facts.gone }} gone, {{ room.found.facts.added }} added.
            </p>
            <p v-if="room.mirrored" class="look">
              The {{ room.a.model.name }} is laid over turned left to right: its places were recorded from the other
              side.
            </p>
            <p v-if="room.found.facts.unresolved" class="quiet">
              {{ room.found.facts.unresolved }} differ by less than the measures resolve.
            </p>
          </div>
        </section>
        <section v-if="room.causes.length" id="causes">
          <h2>What changes at the bench, and by what</h2>
          <ol class="causes">
            <li v-for="c in room.causes.slice(0, 6)" :key="c">{{ c }}</li>
          </ol>
        </section>
        <section v-if="room.jobs.length || room.no_way.length" id="jobs">
          <h2>The common jobs</h2>
          <DataTable
            name="jobs"
            caption="The common jobs"
            :rows="room.jobs"
            :columns="jobColumns"
            :row-key="(j) => j.job"
          >
            <template #tools="{ row: j }">
              <span v-for="t in j.tools_gained" :key="t" class="tool">+ {{ t }}</span>
              <span v-for="t in j.tools_lost" :key="t" class="tool quiet">− {{ t }}</span>
              <span v-if="!j.tools_gained.length && !j.tools_lost.length" class="quiet">the same</span>
            </template>
          </DataTable>
          <p v-if="room.no_way.length" class="quiet">
            Not known, because one of the two has no way in on record: {{ room.no_way.join(', ') }}.
          </p>
          <p class="quiet">
            “Of no part” is what is left of the difference: tool changes, turns, steps that belong to no part. Minutes
            of the parts and this add up to the whole.
          </p>
        </section>
        <section v-if="generations && generations.length > 1">
          <h2>Minutes of the whole repair, over the generations</h2>
          <GenerationChart :generations="generations" />
        </section>
      </template>
    </div>
    <div v-if="room" class="shelf">
      <section v-if="doubtful.length || gone" id="confirm">
        <h2>The same part?</h2>
        <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
        <p v-if="gone" class="undo" role="status">
          {{ gone.verdict === 'confirmed' ? 'Confirmed.' : 'Refused.' }}
          <ElButton @click="undo">Undo</ElButton>
        </p>
        <ul class="plain">
          <li v-for="(p, i) in doubtful" :key="`${p.a} ${p.b}`">
            <b>{{ name('a', p.a) }}</b>
            there, {{ name('b', p.b) }} here{{ ' ' }}
            <span class="quiet">
              {{ p.margin === undefined ? 'now told as gone and added' : `lead ${figure(p.margin)}` }}
            </span>
            <div v-if="writes" class="row">
              <ElButton @click="say(p, 'confirmed')">
                Yes
                <span v-if="i === 0" class="keys">↵</span>
              </ElButton>
              <ElButton @click="say(p, 'refused')">
                No
                <span v-if="i === 0" class="keys">x</span>
              </ElButton>
            </div>
          </li>
        </ul>
      </section>
      <section v-if="room.found.facts.parts_b" id="changes">
        <h2>What changed, by minutes at the bench</h2>
        <ol class="plain changes">
          <li
            v-for="(c, i) in told"
            :key="`${c.a} ${c.b}`"
            :class="{ chosen: chosen === keyOf(c) }"
            tabindex="-1"
            @click="chosen = keyOf(c)"
          >
            <span class="fig n">{{ i + 1 }}</span>
            <div>
              <b>{{ c.name }}</b>
              {{ ' ' }}
              <span v-if="judged[c.judgement]" :class="c.judgement === 'easier' ? 'pine' : 'look'">
                {{ judged[c.judgement] }} for {{ c.for }}
              </span>
              <p v-if="c.why">{{ c.why }}</p>
              <p v-if="match(c)?.moved?.shown" class="fig">
                moved {{ figure(match(c)!.moved!.mm) }} ± {{ figure(match(c)!.moved!.u) }} mm
              </p>
              <p v-for="s in match(c)?.sizes.filter((x) => x.delta)" :key="s.quantity" class="fig size">
                {{ size(s) }}
              </p>
              <p v-if="match(c)?.merged.length">
                took over
                {{
                  match(c)!
                    .merged.map((x) => name('a', x))
                    .join(', ')
                }}
              </p>
              <p v-if="match(c)?.split.length">
                gave functions to
                {{
                  match(c)!
                    .split.map((x) => name('b', x))
                    .join(', ')
                }}
              </p>
            </div>
          </li>
        </ol>
        <p v-if="!told.length" class="quiet">No part changed in a way that the record shows.</p>
      </section>
      <section v-if="room.claims.length">
        <h2>What was said of it</h2>
        <ul class="plain">
          <li v-for="c in room.claims" :key="c.text">
            {{ c.text }}
            <br />
            <b>{{ c.finding }}</b>
            {{ ': ' }}
            <span class="fig">{{ c.found }}</span>
          </li>
        </ul>
      </section>
      <section v-if="room.doubts.length">
        <h2>Figures that do not go together</h2>
        <ul class="plain">
          <li v-for="d in room.doubts" :key="d">{{ d }}</li>
        </ul>
      </section>
      <p class="quiet">
        Shares of the jobs: battery and screen 45 % each, back glass and port 4 %, camera 2 % (house). What
        interchanges:
        <RouterLink :to="{ name: 'fit', query: { model } }">What fits</RouterLink>
      </p>
      <p v-if="room.jobs.length" class="quiet">
        {{ minutes(Math.abs(room.found.facts.minutes)) }} {{ room.found.facts.minutes < 0 ? 'less' : 'more' }} for the
        usual mix of jobs.
      </p>
    </div>
  </div>
</template>

<style scoped>
.causes {
  margin: 0;
  padding-left: 22px;
}
.causes li {
  padding: 3px 0;
}
.pick {
  margin-bottom: 14px;
}
.pick > :deep(.el-select) {
  width: 220px;
}
.over {
  display: grid;
  grid-template-columns: minmax(0, 300px) minmax(0, 1fr);
  gap: 22px;
}
.changes li {
  display: grid;
  grid-template-columns: 28px minmax(0, 1fr);
  cursor: pointer;
}
.changes li.chosen {
  background: var(--wash);
}
.changes p {
  margin: 2px 0;
  font-size: 15px;
}
.changes .size {
  font-size: 14px;
}
.n {
  color: var(--quiet);
}
.pine {
  color: var(--pine);
}
.tool {
  display: block;
}
.undo {
  background: var(--amber-wash);
  padding: 8px 12px;
}
@media (max-width: 600px) {
  .over {
    grid-template-columns: minmax(0, 1fr);
  }
  .pick > :deep(.el-select) {
    width: 100%;
  }
}
</style>
