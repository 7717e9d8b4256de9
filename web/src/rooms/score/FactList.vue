<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'

import { api, take, type Schemas } from '../../api/client'
import { day } from '../../shared/locale'
import EvidenceEye from '../../shared/EvidenceEye.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import { useUndo } from '../../shared/useUndo'
import { agreement, plainly, roomWords, source } from './words'

/** Every fact that some school asks for: what is known of it, who said so, and where it comes from. */
const props = defineProps<{ room: Schemas['ScoreRoom']; writes: boolean }>()
const emit = defineEmits<{ say: [fact: string] }>()
const only = ref<'missing' | 'said' | 'all'>('missing')
const kinds = { missing: 'not known', said: 'said by people', all: 'all' } as const
const list = computed(() =>
  props.room.facts.filter((f) =>
    only.value === 'missing' ? !f.known : only.value === 'said' ? f.sayings.length : true,
  ),
)
const count = (k: keyof typeof kinds) =>
  props.room.facts.filter((f) => (k === 'missing' ? !f.known : k === 'said' ? f.sayings.length : true)).length
const { problem, mine, theirs, save } = useChange()
const { gone, offer, undo } = useUndo((s: Schemas['FactSaying']) =>
  save((v, header) =>
    take(
      api.POST('/api/facts/{id}/restore', {
        params: { path: { id: s.id }, query: { version: v ?? s.version }, header },
      }),
    ),
  ),
)
async function drop(s: Schemas['FactSaying']) {
  offer(
    await save((v, header) =>
      take(
        api.DELETE('/api/facts/{id}', { params: { path: { id: s.id }, query: { version: v ?? s.version }, header } }),
      ),
    ),
  )
}
const said = (s: Schemas['FactSaying']) => day(s.said_on)
const value = (s: Schemas['FactSaying']) =>
  s.choice
    ? plainly(s.choice)
    : s.number !== undefined
      ? `${s.number} ${s.currency ?? ''}`
      : `${s.low ?? ''}–${s.high ?? ''} ${s.currency ?? ''}`
</script>

<template>
  <section>
    <div class="row">
      <ElButton
        v-for="(words, k) in kinds"
        :key="k"
        :type="only === k ? 'primary' : ''"
        :aria-pressed="only === k"
        @click="only = k"
      >
        {{ words }} ({{ count(k) }})
      </ElButton>
    </div>
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
    <p v-if="gone" class="undo" role="status">
      Taken back.
      <ElButton @click="undo">Undo</ElButton>
    </p>
    <ul class="plain">
      <li v-for="f in list" :key="f.id" class="fact">
        <EvidenceEye :state="f.eye" :size="20" />
        <div>
          <b>{{ `${f.def.title ?? f.id}:` }}</b>
          {{ f.said }}
          <span v-if="f.behind && f.source === 'computed'" class="quiet">({{ f.behind }})</span>
          <span v-if="f.why" class="look">{{ f.why }}</span>
          <div class="quiet">
            <template v-if="f.source === 'computed'">worked out by {{ f.engine }}</template>
            <template v-else-if="f.source === 'asked'">said</template>
            <template v-else-if="f.asked">{{ f.def.ask }}</template>
            <template v-else>comes by itself: {{ f.def.ask }}</template>
            · asked by {{ f.used.length }} {{ f.used.length === 1 ? 'school' : 'schools' }}
            <template v-if="f.alpha != null">· agreement {{ f.alpha.toFixed(2) }}, {{ agreement(f.alpha) }}</template>
          </div>
          <ul v-if="f.sayings.length" class="plain said">
            <li v-for="s in f.sayings" :key="s.id">
              {{ s.by }}
              <template v-if="s.unit">, on {{ s.unit }}</template>
              : {{ value(s) }}
              <span class="quiet">{{ [said(s), s.build, s.evidence].filter(Boolean).join(', ') }}</span>
              <button
                v-if="writes"
                class="bare link"
                :aria-label="`Take back what ${s.by} said of ${f.def.title}`"
                @click="drop(s)"
              >
                take back
              </button>
            </li>
          </ul>
        </div>
        <RouterLink v-if="source(f, room.model.id)" :to="source(f, room.model.id)!">
          {{ roomWords(f) }}
        </RouterLink>
        <ElButton v-if="f.asked && writes" :aria-label="`Say: ${f.def.title}`" @click="emit('say', f.id)">
          {{ f.sayings.length ? 'Say too' : 'Say' }}
        </ElButton>
      </li>
    </ul>
    <p v-if="!list.length" class="quiet">None.</p>
  </section>
</template>

<style scoped>
.fact {
  display: grid;
  grid-template-columns: 26px minmax(0, 1fr) auto auto;
  gap: 8px;
  align-items: start;
}
.said li {
  border: 0;
  padding: 2px 0;
  font-size: 15px;
}
.link {
  color: var(--slate);
  text-decoration: underline;
  cursor: pointer;
  min-height: 24px;
  text-align: left;
}
.undo {
  background: var(--amber-wash);
  padding: 8px 12px;
}
</style>
