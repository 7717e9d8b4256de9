<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../api/client'
import { fact } from './format'
import { dated } from './locale'

/** The sentence that opens a room; every figure in it leads to its working. */
const props = defineProps<{ sentence?: Schemas['AnswerFragment'][]; plain?: boolean }>()
/** The fragments, each fact with the bracket before it and the stop after it: no line ends or begins with these. */
const parts = computed(() => {
  const list = props.sentence ?? []
  const open = (i: number) => (list[i + 1]?.fact && /[(“‘]+$/.exec(list[i]?.text ?? '')?.[0]) || ''
  const stop = (i: number) => (list[i - 1]?.fact && /^[.,;:)?!”’]+/.exec(list[i]?.text ?? '')?.[0]) || ''
  return list.map(({ fact, text = '' }, i) => ({
    fact,
    text: text.slice(stop(i).length, text.length - open(i).length),
    open: fact ? open(i - 1) : '',
    stop: fact ? stop(i + 1) : '',
  }))
})

function show(working: string) {
  const place = document.querySelector(working)
  if (!(place instanceof HTMLElement)) return
  place.scrollIntoView({ behavior: 'smooth', block: 'center' })
  place.setAttribute('tabindex', '-1')
  place.focus({ preventScroll: true })
}
</script>

<template>
  <component :is="plain ? 'p' : 'h1'" :class="{ answer: !plain }" aria-live="polite">
    <template v-if="sentence">
      <template v-for="(f, i) in parts" :key="i">
        <template v-if="!f.fact">{{ dated(f.text) }}</template>
        <span v-else class="kept">
          <span v-if="f.open">{{ f.open }}</span>
          <button
            v-if="f.fact.working?.startsWith('#')"
            class="bare fact"
            :class="{ fig: f.fact.value !== undefined }"
            @click="show(f.fact.working)"
          >
            {{ fact(f.fact) }}
          </button>
          <b v-else :class="{ fig: f.fact.value !== undefined }">{{ fact(f.fact) }}</b>
          <span v-if="f.stop">{{ f.stop }}</span>
        </span>
      </template>
    </template>
    <span v-else class="quiet">Reading …</span>
  </component>
</template>

<style scoped>
.answer {
  font-size: 23px;
  line-height: 1.3;
  padding: 18px 0 14px;
  border-bottom: 1px solid var(--line);
  margin-bottom: 18px;
  font-weight: 400;
  min-height: 64px;
}
.kept {
  white-space: nowrap;
}
.kept b,
.kept .fact:not(.fig) {
  white-space: normal;
}
.fact {
  font-weight: 600;
  border-bottom: 2px solid var(--pine);
}
.fact.fig {
  font-weight: 400;
  font-size: 0.96em;
}
b {
  font-weight: 600;
}
@media (max-width: 600px) {
  .answer {
    font-size: 19px;
  }
}
</style>
