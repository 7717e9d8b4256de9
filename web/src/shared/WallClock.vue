<script setup lang="ts">
import { useIntervalFn, useLocalStorage } from '@vueuse/core'
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'

/** A clock for a wait: it runs on wall time and goes on over a reload, for whoever opens the page on this device again. */
const props = defineProps<{ id: string; minutes: number; label: string }>()
const began = useLocalStorage(`clock:${props.id}`, 0)
const now = ref(Date.now())
useIntervalFn(() => (now.value = Date.now()), 500)
const left = computed(() => Math.ceil((began.value + props.minutes * 60_000 - now.value) / 1000))
const shown = computed(
  () => `${Math.floor(Math.abs(left.value) / 60)}:${String(Math.abs(left.value) % 60).padStart(2, '0')}`,
)
</script>

<template>
  <span class="clock" role="timer" :aria-label="label">
    <ElButton v-if="!began" size="small" @click="began = Date.now()">Start {{ minutes }} min</ElButton>
    <template v-else>
      <b class="fig" :class="{ over: left <= 0 }">{{ left > 0 ? shown : `over since ${shown}` }}</b>
      <button type="button" class="bare link" @click="began = 0">stop the clock</button>
    </template>
  </span>
</template>

<style scoped>
.clock {
  display: inline-flex;
  gap: 10px;
  align-items: center;
}
b {
  font-size: 22px;
}
.over {
  color: var(--amber-ink, inherit);
}
</style>
