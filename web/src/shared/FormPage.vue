<script setup lang="ts">
import { ElButton, ElForm } from 'element-plus'
import { onBeforeUnmount, ref, useId, watch } from 'vue'

import type { Problem } from '../api/client'
import ProblemNote from './ProblemNote.vue'
import { useTyped } from './useTyped'

/** A form that is a page of its own: fields in the default slot, further buttons beside the first one. */
const props = withDefaults(
  defineProps<{
    title: string
    save?: string
    busy?: boolean
    problem?: Problem
    mine?: () => Promise<unknown>
  }>(),
  { save: 'Save', problem: undefined, mine: undefined },
)
const emit = defineEmits<{ submit: []; close: []; theirs: [] }>()
const id = useId()
const box = ref<HTMLElement>()
const { sent } = useTyped(box, () => props.title)
const asked = ref(false)
watch(
  () => props.problem,
  (p) => p && (asked.value = false),
)
function close() {
  sent()
  emit('close')
}
function submit() {
  asked.value = true
  emit('submit')
}
onBeforeUnmount(() => asked.value && sent())
</script>

<template>
  <ElForm novalidate label-position="top" :aria-labelledby="id" @submit.prevent="submit" @keydown.esc="close">
    <div class="row top">
      <h2 :id="id">{{ title }}</h2>
      <ElButton @click="close">
        Leave it
        <span class="keys">esc</span>
      </ElButton>
    </div>
    <div ref="box"><slot /></div>
    <ProblemNote :problem="problem" :mine="mine" @theirs="emit('theirs')" />
    <div class="row foot">
      <ElButton type="primary" native-type="submit" :loading="busy">{{ save }}</ElButton>
      <slot name="buttons" />
    </div>
  </ElForm>
</template>

<style scoped>
.top {
  justify-content: space-between;
  border-bottom: 1px solid var(--ink);
  margin-bottom: 12px;
}
h2 {
  border: 0;
  margin: 0;
}
.foot {
  position: sticky;
  bottom: 0;
  z-index: 3;
  background: var(--ground);
  padding: 10px 0;
  border-top: 1px solid var(--line);
}
</style>
