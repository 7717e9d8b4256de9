<script setup lang="ts">
import { ElButton, ElDialog, ElForm } from 'element-plus'
import { onBeforeUnmount, ref, watch } from 'vue'

import type { Problem } from '../api/client'
import ProblemNote from './ProblemNote.vue'
import { useTyped } from './useTyped'

/**
 * A form that opens over its room: fields in the default slot, further buttons beside the first one, what was refused
 * above them.
 */
const props = withDefaults(
  defineProps<{
    title: string
    width?: number
    save?: string
    busy?: boolean
    ready?: boolean
    problem?: Problem
    mine?: () => Promise<unknown>
  }>(),
  { width: 520, save: 'Save', ready: true, problem: undefined, mine: undefined },
)
const emit = defineEmits<{ submit: []; close: []; theirs: [] }>()
const box = ref<HTMLElement>()
const { sent } = useTyped(box, () => props.title)
// A form closes when its change is made, or when somebody leaves it: what was refused stays typed.
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
/** The first field that is still empty has the focus: nothing is to be clicked before typing. Fingers keep their keyboard away. */
function begin() {
  if (matchMedia('(pointer: coarse)').matches || box.value?.contains(document.activeElement)) return
  const fields = box.value?.querySelectorAll<HTMLInputElement>(
    'input:is(.el-input__inner:not([readonly]), .el-select__input):not(:disabled)',
  )
  const chosen = (f: HTMLElement) =>
    f.closest('.el-select')?.querySelector('.el-select__placeholder:not(.is-transparent)')
  ;[...(fields ?? [])].find((f) => !f.value && !chosen(f))?.focus()
}
</script>

<template>
  <ElDialog :model-value="true" :title="title" :width="width" top="6vh" append-to-body @opened="begin" @close="close">
    <ElForm novalidate label-position="top" @submit.prevent="submit">
      <div ref="box"><slot /></div>
      <ProblemNote :problem="problem" :mine="mine" @theirs="emit('theirs')" />
      <div class="row">
        <ElButton type="primary" native-type="submit" :loading="busy" :disabled="!ready">{{ save }}</ElButton>
        <slot name="buttons" />
      </div>
    </ElForm>
  </ElDialog>
</template>
