<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import EvidenceEye from '../../shared/EvidenceEye.vue'
import { minutes, percent } from '../../shared/format'
import OddsBar from '../../shared/OddsBar.vue'
import TermWord from '../../shared/TermWord.vue'
import { say } from '../../words'

/** What is suspected check by check, what does not count, and what the reading assumes. */
const props = defineProps<{ room: Schemas['SwapRoom']; house: boolean }>()
const lost = computed(() => props.room.reports.filter((r) => r.lost > 0))
const quietChecks = computed(() => props.room.reports.filter((r) => r.tested > 0 && !r.lost))
const untried = computed(() => props.room.reports.filter((r) => !r.tested))
</script>

<template>
  <section>
    <h2>
      <TermWord word="Suspected" of="suspicion" />
      {{ ' check by check' }}
    </h2>
    <p v-if="room.refused" class="danger">{{ room.refused }}</p>
    <ul class="plain">
      <li v-for="r in lost" :key="r.check.id">
        <div class="row">
          <EvidenceEye :state="r.settled ? 'open' : 'half'" :label="r.settled ? 'settled' : 'needs a test'" />
          <b>{{ r.check.name }}</b>
          <span class="quiet">lost {{ r.lost }} of {{ r.tested }}</span>
        </div>
        <ul class="sus">
          <li v-for="s in r.suspects.slice(0, 3)" :key="s.words">
            <OddsBar :p="s.p" />
            {{ s.words }}
          </li>
        </ul>
        <p v-if="r.unexplained > 0.05" class="look">
          A loss of it has no cause yet but a misreading ({{ percent(r.unexplained) }}): nothing is called harmless for
          it.
        </p>
        <ul v-if="r.arrangements.length" class="plain pairs">
          <li v-for="a in r.arrangements" :key="a.words">
            {{ a.words }}: lost {{ a.lost }} of {{ a.of }}
            <b v-if="a.verdict !== 'not settled'">{{ say('verdict', a.verdict) }}</b>
          </li>
        </ul>
        <p v-for="d in r.disputes.filter((x) => !x.words.length || x.against.length)" :key="d.trial" class="look">
          {{ d.trial }} and {{ d.against.join(', ') || 'the others' }} disagree: a bad seat or an interaction; repeating
          tells.
        </p>
      </li>
    </ul>
    <p v-if="quietChecks.length" class="quiet">No loss seen: {{ quietChecks.map((r) => r.check.name).join('; ') }}.</p>
    <details v-if="untried.length" class="quiet">
      <summary>{{ untried.length }} checks were never tested in a trial: no all-clear</summary>
      {{ untried.map((r) => r.check.name).join('; ') }}.
    </details>
  </section>
  <section v-if="room.skips.length || room.doubts.length || room.remedies.length">
    <h2>What does not count, what is doubted</h2>
    <ul class="plain">
      <li v-for="(s, i) in room.skips" :key="i">
        <b>{{ s.trial }}</b>
        {{ s.check }}: {{ s.why }}
      </li>
      <li v-for="d in room.doubts" :key="d.trial + d.check">
        <b>{{ d.trial }}</b>
        {{ d.check }}: noise with {{ percent(d.p) }}; repeating it takes {{ minutes(d.minutes) }}
      </li>
      <li v-for="m in room.remedies" :key="m">{{ m }}</li>
    </ul>
  </section>
  <p class="quiet">
    A reading is taken to be wrong in {{ percent(room.noise.false_loss) }} of passes and
    {{ percent(room.noise.false_pass) }} of losses{{ house ? ' (house)' : '' }}. {{ room.limit }}
  </p>
</template>

<style scoped>
.pairs {
  padding: 4px 0 0 32px;
  font-size: 15px;
}
.sus {
  list-style: none;
  padding: 4px 0 0 32px;
  margin: 0;
}
.sus li {
  display: grid;
  grid-template-columns: 64px 48px 1fr;
  gap: 8px;
  align-items: center;
  font-size: 15px;
}
</style>
