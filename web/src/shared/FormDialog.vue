<script setup lang="ts">
import { ElButton, ElDialog, ElForm } from 'element-plus'

import type { Problem } from '../api/client'
import ProblemNote from './ProblemNote.vue'

/**
 * A form that opens over its room: fields in the default slot, further buttons beside the first one, what was refused
 * above them.
 */
withDefaults(
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
</script>

<template>
  <ElDialog :model-value="true" :title="title" :width="width" top="6vh" append-to-body @close="emit('close')">
    <ElForm novalidate label-position="top" @submit.prevent="emit('submit')">
      <slot />
      <ProblemNote :problem="problem" :mine="mine" @theirs="emit('theirs')" />
      <div class="row">
        <ElButton type="primary" native-type="submit" :loading="busy" :disabled="!ready">{{ save }}</ElButton>
        <slot name="buttons" />
      </div>
    </ElForm>
  </ElDialog>
</template>
