<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { ref } from 'vue'

import { api, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { percent } from '../../shared/format'
import { money } from '../../shared/money'
import { useRoom } from '../../shared/useRoom'

/** What a wreck is worth before it is opened, and what to take out of it. */
const props = defineProps<{ model: string }>()
const lock = ref<'free' | 'locked' | 'unknown'>('unknown')
const damage = ref<'glass' | 'drop' | 'liquid' | 'none'>('glass')
const { room, error } = useRoom(
  () => ['donor', props.model, lock.value, damage.value],
  () =>
    api.GET('/api/models/{id}/donor', {
      params: { path: { id: props.model }, query: { lock: lock.value, damage: damage.value } },
    }),
  { enabled: () => Boolean(props.model) },
)
const heat = (d: Schemas['PartsBuyBack']) =>
  `It is worth ${money(d.worth, room.value?.currency ?? '')}. A minute saved by more heat pays only while it marks fewer than ` +
  `${(1000 * d.per_minute).toFixed(1)} of 1,000 panels` +
  (d.n
    ? `; counted are ${d.k} of ${d.n} by ${d.method}, at most ${percent(d.high)}.`
    : '; nobody has counted yet how many heat marks.')
const locks = { unknown: 'lock not known', free: 'no lock', locked: 'locked' } as const
const damages = { glass: 'broken glass', drop: 'dropped, dead', liquid: 'liquid', none: 'whole' } as const
</script>

<template>
  <h1 v-if="!model" class="answer ask">For which model is a donor offered?</h1>
  <div v-else-if="error" class="answer" role="alert">{{ error.message }}</div>
  <AnswerLine v-else class="answer" :sentence="room?.answer" />
  <div class="stage">
    <div v-if="model" class="row no-print">
      <ElSelect v-model="lock" :teleported="false" aria-label="Lock" class="choice">
        <ElOption v-for="(w, k) in locks" :key="k" :value="k" :label="w" />
      </ElSelect>
      <ElSelect v-model="damage" :teleported="false" aria-label="What happened to it" class="choice">
        <ElOption v-for="(w, k) in damages" :key="k" :value="k" :label="w" />
      </ElSelect>
    </div>
    <section v-if="room?.parts.length" id="donor">
      <h2>What to take out, in this order</h2>
      <div class="scroll">
        <table>
          <thead>
            <tr>
              <th>Part</th>
              <th class="num">Worth if good</th>
              <th class="num">Good in</th>
              <th class="num">So counts</th>
              <th>Do</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="p in room.parts" :key="p.part_id">
              <td>{{ p.part }}</td>
              <td class="num">{{ money(p.value, room.currency) }}</td>
              <td class="num">{{ percent(p.good) }}</td>
              <td class="num">{{ money(Math.round(p.worth), room.currency) }}</td>
              <td>{{ p.take ? 'take' : 'leave' }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </section>
  </div>
  <div v-if="room" class="shelf">
    <section v-if="room.display" id="buy-back">
      <h2>A healthy old display</h2>
      <p>{{ heat(room.display) }}</p>
      <p class="quiet">Keep it whole: lower heat and more time are cheaper than a mark on the panel.</p>
    </section>
    <section>
      <h2>Before you pay</h2>
      <p>{{ room.note }}</p>
      <p class="quiet">Chances that a part of a wreck works are house figures; the shared way is paid once.</p>
      <p v-if="room.unpriced.length" class="quiet">Without a price, and not counted: {{ room.unpriced.join(', ') }}.</p>
    </section>
  </div>
</template>

<style scoped>
.choice {
  width: 180px;
}
</style>
