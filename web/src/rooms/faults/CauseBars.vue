<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import { percent } from '../../shared/format'

/** What may be wrong: bars that add up to the whole, with a mark where each stood before anything was read or tried. */
const props = defineProps<{ causes: Schemas['FaultsCause'][]; learned: number }>()
const shown = computed(() => props.causes.filter((c) => c.p >= 0.005 || c.before >= 0.05))
const rest = computed(() => props.causes.filter((c) => !shown.value.includes(c)))
const most = computed(() => Math.max(0.4, ...props.causes.map((c) => Math.max(c.p, c.before))))
const at = (p: number) => `${(100 * p) / most.value}%`
</script>

<template>
  <section id="causes">
    <h2>
      Likely causes
      <span class="quiet">the mark: before testing</span>
    </h2>
    <ul class="plain">
      <li v-for="c in shown" :key="c.name" class="cause" :class="{ out: c.out }">
        <span class="name">{{ c.words }}</span>
        <span class="bar" aria-hidden="true">
          <i :style="{ width: at(c.p) }"></i>
          <u :style="{ left: at(c.before) }"></u>
        </span>
        <span class="share" :class="{ fig: !c.out }">{{ c.out ? 'ruled out' : percent(c.p) }}</span>
        <small v-if="c.cleared.length && !c.out" class="quiet why">
          {{ c.cleared.slice(0, 2).join(' and ') }} {{ c.cleared.length > 1 ? 'work' : 'works' }}
        </small>
      </li>
    </ul>
    <p class="quiet">
      {{ rest.length ? `${rest.length} others below 1 %. ` : ''
      }}{{
        learned
          ? `With ${learned} closed ${learned === 1 ? 'case' : 'cases'} of this model.`
          : 'House figures: no case of this model is closed yet.'
      }}
    </p>
  </section>
</template>

<style scoped>
.cause {
  display: grid;
  grid-template-columns: minmax(0, 10.5em) minmax(60px, 1fr) 5em;
  gap: 4px 12px;
  align-items: center;
  padding: 5px 0;
}
.name {
  font-weight: 600;
}
.out .name,
.out .share {
  font-weight: 400;
  color: var(--quiet);
}
.share {
  text-align: right;
  white-space: nowrap;
}
.bar {
  position: relative;
  height: 18px;
  background: var(--wash);
}
.bar i {
  position: absolute;
  inset: 0 auto 0 0;
  background: var(--amber-fill);
}
.bar u {
  position: absolute;
  top: 0;
  width: 2px;
  height: 100%;
  background: var(--ink);
}
.why {
  grid-column: 1 / -1;
  margin-top: -4px;
}
</style>
