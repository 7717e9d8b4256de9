<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { nextTick, onMounted, ref } from 'vue'

/** A question that is answered with one key, gloves on: never prose. */
const props = defineProps<{ title: string; text?: string; answers: string[]; danger?: boolean }>()
const emit = defineEmits<{ answer: [index: number] }>()
const box = ref<HTMLElement>()
onMounted(() => nextTick(() => box.value?.focus()))
useEventListener(
  'keydown',
  (e: KeyboardEvent) => {
    const i = Number(e.key) - 1
    if (i >= 0 && i < props.answers.length && !e.ctrlKey && !e.metaKey) {
      e.preventDefault()
      e.stopImmediatePropagation()
      emit('answer', i)
    }
  },
  { capture: true },
)
</script>

<template>
  <section
    ref="box"
    class="ask no-print"
    :class="{ stop: danger }"
    role="alertdialog"
    :aria-label="title"
    tabindex="-1"
  >
    <h2>{{ title }}</h2>
    <p v-if="text">{{ text }}</p>
    <div class="answers">
      <button v-for="(a, i) in answers" :key="a" @click="emit('answer', i)">
        <span class="keys">{{ i + 1 }}</span>
        {{ a }}
      </button>
    </div>
  </section>
</template>

<style scoped>
.ask {
  position: fixed;
  left: 50%;
  bottom: 70px;
  transform: translateX(-50%);
  width: min(860px, calc(100vw - 24px));
  z-index: 18;
  background: var(--amber-wash);
  border: 2px solid var(--amber-fill);
  padding: 14px 18px;
}
.ask.stop {
  background: var(--brick-wash);
  border-color: var(--brick);
}
.ask:focus {
  outline: none;
}
.answers {
  display: flex;
  gap: 10px;
  flex-wrap: wrap;
}
button {
  font: inherit;
  min-height: 64px;
  flex: 1 1 140px;
  padding: 8px 12px;
  text-align: left;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--strong-line);
  border-radius: 2px;
  cursor: pointer;
}
.keys {
  margin-right: 8px;
}
</style>
