<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Schemas } from '../../api/client'
import EvidenceEye from '../../shared/EvidenceEye.vue'
import ScoreRuler from './ScoreRuler.vue'
import { points, roomWords, source } from './words'
import { day } from '../../shared/locale'

/** Why: the lines of a school by what they cost, each with its facts and where they come from. */
const props = defineProps<{ room: Schemas['ScoreRoom']; school: Schemas['ScoreSchool'] }>()
const emit = defineEmits<{ say: [fact: string] }>()
const all = ref(false)
const shown = computed(() => (all.value ? props.school.lines : props.school.lines.slice(0, 6)))
const facts = computed(() => new Map(props.room.facts.map((f) => [f.id, f])))
const aside = (f: Schemas['ScoreFact']) =>
  ` ${[f.behind && `(${f.behind})`, [day(f.date), f.build].filter(Boolean).join(', ')].filter(Boolean).join(' · ')}`
const cost = (l: Schemas['ScoreLine']) => points([Math.min(...l.costs), Math.max(...l.costs)], 2)
</script>

<template>
  <section id="why">
    <h2>{{ school.title }}: what loses points</h2>
    <p v-if="school.about" class="quiet">{{ school.about }}</p>
    <ol class="plain">
      <li v-for="l in shown" :key="l.id" class="line">
        <div class="head">
          <b>{{ l.title }}</b>
          <span class="fig">loses {{ cost(l) }}</span>
        </div>
        <div class="head">
          <span class="quiet">
            {{ Math.round(1000 * l.weight) / 10 }} % of the rule, {{ points(l.points, 1) }} points · {{ l.certainty }}:
            {{ l.source }}
          </span>
          <ScoreRuler :range="l.points" :scale="school.scale" :wide="110" />
        </div>
        <ul class="plain facts">
          <li v-for="id in l.facts" :key="id">
            <template v-if="facts.get(id)">
              <EvidenceEye :state="facts.get(id)!.eye" :size="18" />
              <span>
                {{ facts.get(id)!.def.title ?? id }}:
                <b>{{ facts.get(id)!.said }}</b>
                <span class="quiet">{{ aside(facts.get(id)!) }}</span>
                <span v-if="facts.get(id)!.why" class="look">{{ ` ${facts.get(id)!.why}` }}</span>
              </span>
              <RouterLink v-if="source(facts.get(id)!, room.model.id)" :to="source(facts.get(id)!, room.model.id)!">
                {{ roomWords(facts.get(id)!) }}
              </RouterLink>
              <button v-else-if="facts.get(id)!.asked" class="bare link" @click="emit('say', id)">
                {{ facts.get(id)!.known ? 'said' : 'say it' }}
              </button>
            </template>
          </li>
        </ul>
      </li>
    </ol>
    <button v-if="school.lines.length > 6" class="bare link" @click="all = !all">
      {{ all ? 'Only the dearest six' : `All ${school.lines.length} lines` }}
    </button>
    <p v-if="school.score.because.length" class="quiet">
      Provisional: {{ school.score.because.join(', ') }}.
      <template v-if="school.unofficial">Unofficial: only the maker's declaration on the label is official.</template>
    </p>
    <p class="quiet">{{ school.range }}.</p>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  gap: 14px;
  align-items: baseline;
}
.facts li {
  display: grid;
  grid-template-columns: 22px minmax(0, 1fr) auto;
  gap: 8px;
  padding: 3px 0;
  border: 0;
  font-size: 15px;
}
.link {
  color: var(--slate);
  text-decoration: underline;
  cursor: pointer;
  min-height: 24px;
  text-align: left;
}
</style>
