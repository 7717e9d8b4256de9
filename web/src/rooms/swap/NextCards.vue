<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import { minutes } from '../../shared/format'
import WallClock from '../../shared/WallClock.vue'

/** The swaps that tell most per minute, each with its reason; with a budget, the sequence that settles most within it. */
const props = defineProps<{ room: Schemas['SwapRoom']; writes: boolean; budget: number }>()
defineEmits<{
  start: [next: Schemas['SwapNextSwap']]
  gate: [next: Schemas['SwapNextSwap'], started: boolean]
  'update:budget': [minutes: number]
}>()
const explore = defineModel<boolean>('explore', { required: true })
const list = computed(() => (props.budget && props.room.plan.length ? props.room.plan : props.room.next))
/** All home: the first act that puts a phone's own pieces back. */
const home = computed(() => props.room.next.find((n) => n.kind === 'control' && n.moves.length))
const total = computed(() => list.value.reduce((sum, n) => sum + n.minutes, 0))
</script>

<template>
  <section id="next">
    <h2>{{ budget && room.plan.length ? `What settles most in ${budget} min` : 'Next' }}</h2>
    <ol class="plain">
      <li
        v-for="(n, i) in list.filter((n, k) => k < (budget ? 6 : 4) || n.kind === 'control')"
        :key="n.words"
        class="next"
      >
        <span>
          {{ n.words }}
          <small class="quiet">
            <span class="fig">{{ minutes(n.minutes) }}</span>
            {{ n.assumed ? 'or so: no way is on record' : 'with refit, checks and the way back' }}
          </small>
          <small>{{ n.reason }}{{ /[…?]$/.test(n.reason) ? '' : '.' }}</small>
        </span>
        <span v-if="writes && n.kind === 'gate'" class="gate">
          <WallClock v-if="n.wait" :id="`${n.trial}:${n.step}`" :minutes="n.wait" :label="n.words" />
          <ElButton :type="i ? undefined : 'primary'" @click="$emit('gate', n, false)">
            Still nothing
            <span v-if="!i" class="keys">↵</span>
          </ElButton>
          <ElButton @click="$emit('gate', n, true)">It started</ElButton>
        </span>
        <ElButton
          v-else-if="writes"
          :type="i ? undefined : 'primary'"
          :aria-label="`Start: ${n.words}`"
          @click="$emit('start', n)"
        >
          Start
          <span v-if="!i" class="keys">↵</span>
          <span v-else-if="n === home" class="keys">h</span>
        </ElButton>
      </li>
    </ol>
    <p v-if="budget && room.plan.length" class="quiet">
      Together {{ minutes(total) }}; chosen one after the other, not proven best.
    </p>
    <p v-if="!list.length && room.trials.length" class="quiet">
      Nothing that could be exchanged next is worth its minutes.
      <template v-if="room.open.length">It stays open which part loses: {{ room.open.join('; ') }}.</template>
    </p>
    <p v-if="!list.length && !room.trials.length" class="quiet">
      With two phones on record, what tells most a minute stands here.
    </p>
    <label v-if="room.open.length" class="quiet">
      <input v-model="explore" type="checkbox" />
      weigh unread checks too
    </label>
    <label v-if="room.units.length > 1" class="budget quiet">
      Minutes left at the bench
      <input
        type="number"
        min="0"
        max="1440"
        class="fig"
        :value="budget || ''"
        placeholder="any"
        @change="$emit('update:budget', Number(($event.target as HTMLInputElement).value) || 0)"
      />
    </label>
  </section>
</template>

<style scoped>
.next {
  display: flex;
  gap: 10px;
  justify-content: space-between;
  align-items: flex-start;
}
small {
  display: block;
}
.gate {
  display: flex;
  flex-direction: column;
  gap: 6px;
  align-items: stretch;
}
.gate :deep(.el-button) {
  margin: 0;
}
.budget {
  display: flex;
  gap: 8px;
  align-items: center;
  font-size: 14px;
  padding-top: 8px;
}
.budget input {
  width: 84px;
  padding: 4px 6px;
  font-size: 15px;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--strong-line);
}
</style>
