<script setup lang="ts">
import { computed } from 'vue'

import { clock as time } from '../../shared/format'
import { locale } from '../../shared/locale'
import type { Act } from './useRepair'

/** A wait: the time that is left from a metre away, what comes then, and what may be done meanwhile. */
const props = defineProps<{
  clock: { act: Act; from: number; whole: number; left: number; round: number }
  hot: boolean
  then?: string
  never?: string
  meanwhile?: Act
  others: { id: string; title: string; now: string; path: string }[]
}>()
const emit = defineEmits<{ more: []; go: [key: string] }>()
const over = computed(() => props.clock.left <= 0)
const share = computed(() =>
  Math.min(100, (100 * (props.clock.whole - props.clock.left)) / Math.max(1, props.clock.whole)),
)
const ends = computed(() =>
  new Date(props.clock.from + props.clock.whole * 1000).toLocaleTimeString(locale.value, {
    hour: '2-digit',
    minute: '2-digit',
    second: '2-digit',
  }),
)
</script>

<template>
  <section class="wait" :class="{ over }">
    <p class="left fig" role="timer" :aria-label="over ? 'over' : 'left'">
      {{ over ? `+${time(-clock.left)}` : time(clock.left) }}
    </p>
    <div class="ruler"><i :style="{ width: `${share}%` }" /></div>
    <p class="quiet of">
      of {{ time(clock.whole) }}, ends {{ ends }}{{ clock.round > 1 ? `; round ${clock.round}` : '' }}
      <button type="button" class="bare link" @click="emit('more')">
        +0:30
        <span class="keys">+</span>
      </button>
    </p>
    <dl>
      <div v-if="then">
        <dt>Then</dt>
        <dd>
          <b>{{ then }}</b>
        </dd>
      </div>
      <div v-if="never">
        <dt>Never</dt>
        <dd>{{ never }}</dd>
      </div>
      <div v-if="meanwhile || others.length">
        <dt>Meanwhile</dt>
        <dd>
          <button v-if="meanwhile" type="button" class="bare link" @click="emit('go', meanwhile.key)">
            {{ meanwhile.text }}
            <span class="keys">m</span>
          </button>
          <RouterLink v-else :to="others[0]!.path">
            <b>{{ others[0]!.title }}</b>
            : {{ others[0]!.now }}
          </RouterLink>
          ; this clock stays on top
        </dd>
      </div>
    </dl>
    <p v-if="over && hot" class="look asks" role="status">Is there a gap now?</p>
  </section>
</template>

<style scoped>
.left {
  font-size: 132px;
  line-height: 1;
  margin: 6px 0 10px;
  font-weight: 600;
}
.over .left {
  color: var(--amber);
}
.ruler {
  height: 10px;
  border: 1px solid var(--strong-line);
}
.ruler i {
  display: block;
  height: 100%;
  background: var(--amber-fill);
}
.of {
  display: flex;
  justify-content: space-between;
  font-size: 18px;
  margin-top: 8px;
}
.of button {
  min-height: 44px;
}
dl > div {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 10px;
  margin-bottom: 10px;
  font-size: 19px;
}
dt {
  color: var(--quiet);
}
dd {
  margin: 0;
}
.asks {
  font-size: 24px;
}
@media (max-width: 600px) {
  .left {
    font-size: 84px;
  }
  dl > div {
    grid-template-columns: 1fr;
    gap: 0;
  }
}
</style>
