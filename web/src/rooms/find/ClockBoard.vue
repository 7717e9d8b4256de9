<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, ref } from 'vue'

import type { Schemas } from '../../api/client'
import { useRunning } from '../../shared/bench/clocks'
import { clock as time } from '../../shared/format'

/** Running clocks of the technician's phones, the loudest first; each leads to its phone. */
const props = defineProps<{ room: Schemas['FirstRoom'] }>()
const now = ref(Date.now())
useIntervalFn(() => (now.value = Date.now()), 500)
const { running } = useRunning()
/** Clocks of the record, and those of studies that only this device knows. */
const clocks = computed(() => {
  const own = props.room.jobs.flatMap((j) =>
    j.clocks.map((c) => ({
      id: j.id + c.key,
      name: j.title,
      task: c.text.replace(/^Wait: /, ''),
      whole: Math.round(c.seconds),
      left: Math.round(c.seconds - (now.value - Date.parse(c.started)) / 1000),
      path: j.path,
      then: j.now,
    })),
  )
  const here = running.value
    .filter((c) => !c.path)
    .map((c) => ({
      id: c.id,
      name: c.name,
      task: [c.task, c.face].filter(Boolean).join(', '),
      whole: c.seconds,
      left: c.left,
      path: `/studies/${c.study}/strip?phone=${c.unit}`,
      then: '',
    }))
  return [...own, ...here].sort((a, b) => a.left - b.left)
})
</script>

<template>
  <section v-if="clocks.length" class="clocks" aria-label="Running clocks">
    <RouterLink v-for="c in clocks" :key="c.id" :to="c.path" :class="{ over: c.left <= 0 }">
      <span class="head">
        <b>{{ c.name }}</b>
        <small>{{ c.task }}</small>
      </span>
      <span class="fig left">{{ c.left > 0 ? time(c.left) : `+${time(-c.left)}` }}</span>
      <span class="ruler"><i :style="{ width: `${Math.min(100, (100 * (c.whole - c.left)) / c.whole)}%` }" /></span>
      <small>of {{ time(c.whole) }}{{ c.left <= 0 ? ': over, say how it went' : '' }}</small>
    </RouterLink>
  </section>
</template>

<style scoped>
section {
  margin-bottom: 18px;
}
.clocks {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(240px, 1fr));
  gap: 28px;
}
.clocks a {
  display: flex;
  flex-direction: column;
  border-top: 1px solid var(--ink);
  padding-top: 6px;
  color: var(--ink);
  text-decoration: none;
}
.head {
  display: flex;
  justify-content: space-between;
  gap: 10px;
}
.left {
  font-size: 44px;
  line-height: 50px;
  font-weight: 600;
}
.over {
  color: var(--amber) !important;
}
.ruler {
  height: 10px;
  border: 1px solid var(--strong-line);
}
.ruler i {
  display: block;
  height: 100%;
  background: var(--pine);
}
.over .ruler i {
  background: var(--amber-fill);
}
small {
  font-size: 14px;
}
</style>
