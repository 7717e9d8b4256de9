<script setup lang="ts">
import { ElFormItem, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'

import type { Schemas } from '../../api/client'
import FormDialog from '../../shared/FormDialog.vue'

/** Something was damaged: which part, and perhaps how. It is counted at the step before it. */
const props = defineProps<{ parts: Schemas['Part'][]; risk: string[] }>()
const emit = defineEmits<{ close: []; hurt: [part: string, note: string] }>()
const part = ref('')
const note = ref('')
const list = computed(() =>
  [...props.parts].sort((a, b) => Number(props.risk.includes(b.id)) - Number(props.risk.includes(a.id))),
)
</script>

<template>
  <FormDialog
    title="What was damaged?"
    save="Write it down"
    :ready="Boolean(part)"
    @close="emit('close')"
    @submit="emit('hurt', part, note)"
  >
    <ElFormItem label="Part">
      <ElSelect v-model="part" filterable :teleported="false" aria-label="Part that was damaged">
        <ElOption v-for="p in list" :key="p.id" :value="p.id" :label="p.name" />
      </ElSelect>
    </ElFormItem>
    <ElFormItem label="How, if you like">
      <ElInput v-model="note" maxlength="200" placeholder="pick went too deep at the top" />
    </ElFormItem>
  </FormDialog>
</template>
