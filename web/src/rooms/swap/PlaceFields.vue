<script setup lang="ts">
import { ElFormItem, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import { history } from './arrange'

/** Where in the history something belongs that is written down later: after which trial or act, and when it was done. */
const props = defineProps<{ room: Schemas['SwapRoom']; error?: string }>()
const place = defineModel<{ after: string; done: string }>({ required: true })
const choices = computed(() =>
  [...history(props.room)].reverse().map((e) => ({
    id: e.id,
    label: 'mark' in e ? `after ${e.mark}, ${e.title}` : `after: ${e.text}`,
  })),
)
</script>

<template>
  <ElFormItem label-position="top" label="Belongs" :error="error">
    <ElSelect v-model="place.after" :teleported="false" filterable aria-label="Belongs">
      <ElOption value="now" :label="place.done ? 'by the time given' : 'at the end, now'" />
      <ElOption v-for="c in choices" :key="c.id" :value="c.id" :label="c.label" />
      <ElOption value="start" label="before all others" />
    </ElSelect>
  </ElFormItem>
  <ElFormItem label-position="top" label="Done at, if not now">
    <ElInput v-model="place.done" type="datetime-local" />
  </ElFormItem>
</template>
