<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed, ref, watch } from 'vue'

import type { Schemas } from '../../api/client'
import { percent } from '../../shared/format'
import FactorTable from './FactorTable.vue'
import PairList from './PairList.vue'
import SuspectGrid from './SuspectGrid.vue'

/** What is known: the suspects, the noise that the reading assumes, priors from earlier studies, and the table of mates. */
const props = defineProps<{ room: Schemas['SwapRoom']; writes: boolean; chosen?: Schemas['LedgerVerdict'] }>()
const emit = defineEmits<{ choose: [verdict: Schemas['LedgerVerdict']] }>()
const build = defineModel<string>('build', { required: true })
const learned = defineModel<boolean>('learned', { required: true })
const noise = defineModel<{ false_loss: number; false_pass: number } | undefined>('noise', { required: true })
const whole = (p: number) => Math.round(p * 100)
const loss = ref(whole(props.room.noise.false_loss))
const pass = ref(whole(props.room.noise.false_pass))
/** The house figures are those that came when nothing was asked for. */
const house = ref({ ...props.room.noise })
watch(
  () => props.room.noise,
  (n) => {
    if (!noise.value) house.value = { ...n }
  },
)
watch([loss, pass], () => {
  const same = loss.value === whole(house.value.false_loss) && pass.value === whole(house.value.false_pass)
  noise.value = same ? undefined : { false_loss: loss.value / 100, false_pass: pass.value / 100 }
})
function back() {
  loss.value = whole(house.value.false_loss)
  pass.value = whole(house.value.false_pass)
}
const rows = computed(() => props.room.rows.filter((r) => r.mark !== 'untested'))
</script>

<template>
  <section class="row">
    <template v-if="room.builds.length > 1">
      <span class="quiet">Read for build</span>
      <ElSelect v-model="build" :teleported="false" aria-label="Build" style="width: 140px" :placeholder="room.build">
        <ElOption v-for="b in room.builds" :key="b" :value="b" :label="b" />
      </ElSelect>
    </template>
    <label class="noise">
      wrong losses
      <input v-model.number="loss" type="range" min="0" max="20" aria-label="Chance of a wrong loss" />
      <span class="fig">{{ percent(room.noise.false_loss) }}</span>
    </label>
    <label class="noise">
      wrong passes
      <input v-model.number="pass" type="range" min="0" max="20" aria-label="Chance of a wrong pass" />
      <span class="fig">{{ percent(room.noise.false_pass) }}</span>
    </label>
    <ElButton v-if="noise" size="small" @click="back">House figures</ElButton>
    <label class="noise">
      <input v-model="learned" type="checkbox" />
      with earlier studies
    </label>
  </section>
  <p v-if="learned" class="quiet">
    <template v-if="room.learned.length">
      Priors pulled by verdicts on other models:
      <span v-for="(l, i) in room.learned.slice(0, 6)" :key="l.part + l.check">
        {{ i ? '; ' : '' }}{{ l.part }}, {{ l.check }}: {{ l.k }} of {{ l.n }} ({{ percent(l.prior) }})
      </span>
      {{ room.learned.length > 6 ? `; and ${room.learned.length - 6} more.` : '.' }}
    </template>
    <template v-else>No study of another model came to a verdict yet.</template>
  </p>
  <p v-if="room.inexact" class="look">
    So much stands open that the reading was cut short: no probability is further off than {{ percent(room.inexact) }}.
  </p>
  <section id="known">
    <h2>Results on build {{ room.build || 'not recorded' }}</h2>
    <SuspectGrid :room="room" :chosen="chosen" @choose="(v) => emit('choose', v)" />
  </section>
  <FactorTable v-if="rows.length" :room="room" />
  <PairList :room="room" :writes="writes" />
  <section v-if="room.retests.length">
    <h2>To test again on {{ room.builds.at(-1) }}, most valuable first</h2>
    <ul class="plain">
      <li v-for="t in room.retests" :key="t.trial">
        <b>{{ t.trial }}</b>
        {{ t.title }}, seen on build {{ t.build }}
        <span class="quiet">{{ t.cells }} verdicts would be up to date again, {{ t.minutes }} min</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.noise {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  font-size: 14px;
}
.noise input[type='range'] {
  width: 90px;
  accent-color: var(--pine);
}
</style>
