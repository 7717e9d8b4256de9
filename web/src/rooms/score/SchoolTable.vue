<script setup lang="ts">
import type { Schemas } from '../../api/client'
import TermWord from '../../shared/TermWord.vue'
import ScoreRuler from './ScoreRuler.vue'
import { points } from './words'

/** Schools × jobs: the whole on the school's own rule, the five jobs as figures with a small rule. */
defineProps<{ room: Schemas['ScoreRoom']; chosen: string }>()
const emit = defineEmits<{ choose: [rubric: string] }>()
const job = (s: Schemas['ScoreSchool'], j: string) => s.score.jobs[j]
</script>

<template>
  <div class="scroll">
    <table class="schools">
      <thead>
        <tr>
          <th scope="col">Whose rule</th>
          <th scope="col">The whole phone</th>
          <th v-for="j in room.jobs" :key="j" scope="col" class="job">{{ j.replace('-', ' ') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="s in room.schools"
          :id="s.score.rubric"
          :key="s.score.rubric"
          :class="{ chosen: s.score.rubric === chosen }"
        >
          <th scope="row">
            <button class="bare name" :aria-pressed="s.score.rubric === chosen" @click="emit('choose', s.score.rubric)">
              {{ s.title }}
            </button>
            <span class="tags">
              <TermWord v-if="s.score.provisional" word="provisional" />
              <TermWord v-if="s.unofficial" word="unofficial" />
              <b v-if="s.draft" class="look">draft</b>
            </span>
          </th>
          <td class="whole-cell">
            <span class="fig whole">{{ points(s.score.range, s.digits) }}</span>
            <span v-if="s.score.classes.length" class="class">{{ s.score.classes.join(' or ') }}</span>
            <span class="quiet of">of {{ s.scale[1] }}</span>
            <ScoreRuler :range="s.score.range" :sure="s.score.if_sure" :scale="s.scale" />
          </td>
          <td v-for="j in room.jobs" :key="j" class="job">
            <template v-if="job(s, j)">
              <span class="fig">{{ points(job(s, j)!, 1) }}</span>
              <ScoreRuler :range="job(s, j)!" :scale="s.scale" :wide="62" />
            </template>
            <span v-else class="quiet" :aria-label="`${s.title} has no score of the ${j} alone`">–</span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.schools tbody th {
  font-size: 15px;
  color: var(--ink);
  padding: 8px 8px 8px 8px;
  border-bottom: 1px solid var(--line);
  border-left: 4px solid transparent;
  width: 150px;
  vertical-align: top;
}
.chosen {
  background: var(--wash);
}
.chosen th {
  border-left-color: var(--pine) !important;
}
.name {
  text-align: left;
  font-weight: 600;
  cursor: pointer;
  min-height: 24px;
}
.tags {
  display: flex;
  flex-wrap: wrap;
  gap: 0 10px;
  font-weight: 400;
  font-size: 14px;
  color: var(--quiet);
}
.whole {
  font-size: 17px;
  font-weight: 600;
}
.whole-cell {
  min-width: 150px;
  white-space: nowrap;
}
.class {
  border: 1px solid var(--ink);
  padding: 0 5px;
  margin-left: 6px;
  font-weight: 600;
}
.of {
  font-size: 14px;
  margin-left: 6px;
}
td.job .fig {
  font-size: 14px;
  white-space: nowrap;
}
th.job {
  text-transform: none;
}
</style>
