<script setup lang="ts">
import { useRunning } from './bench/clocks'
import { clock as time } from './format'

/** Running waits of all phones on this device, the loudest first; each leads to its phone. */
const { running } = useRunning()
</script>

<template>
  <section v-if="running.length" aria-label="Running clocks">
    <h2>Clocks</h2>
    <ul class="plain">
      <li v-for="c in running" :key="c.id">
        <RouterLink
          :to="c.path ?? { name: 'strip', params: { id: c.study }, query: { phone: c.unit } }"
          :class="{ over: c.left <= 0 }"
        >
          <b>{{ c.name }}</b>
          <span>{{ [c.task, c.face].filter(Boolean).join(', ') }}</span>
          <span class="fig">{{ c.left > 0 ? time(c.left) : `over by ${time(-c.left)}` }}</span>
        </RouterLink>
      </li>
    </ul>
  </section>
</template>

<style scoped>
section {
  margin-bottom: 20px;
}
a {
  display: flex;
  gap: 16px;
  align-items: baseline;
  min-height: 44px;
  color: var(--ink);
  text-decoration: none;
}
.fig {
  font-size: 32px;
  margin-left: auto;
}
.over {
  color: var(--amber);
}
</style>
