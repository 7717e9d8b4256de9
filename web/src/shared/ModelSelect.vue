<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { computed, ref, watch } from 'vue'

import { api } from '../api/client'
import { useRoom } from './useRoom'

/** A model of the record. A short list is searched here, one that goes on is searched by the server. */
const props = defineProps<{ label: string; without?: string; named?: { id: string; name: string } }>()
const model = defineModel<string>({ required: true })
const typed = ref('')
const many = ref(false)
const { room: models } = useRoom(
  () => ['models', typed.value],
  () => api.GET('/api/models', { params: { query: { q: typed.value } } }),
)
watch(models, (list) => (many.value ||= list?.length === 50))
const choices = computed(() => {
  const list = (models.value ?? [])
    .filter((m) => m.id !== props.without)
    .map((m) => ({ id: m.id, name: `${m.maker} ${m.name}` }))
  return props.named && !list.some((m) => m.id === props.named!.id) ? [props.named, ...list] : list
})
</script>

<template>
  <ElSelect
    v-model="model"
    :teleported="false"
    filterable
    default-first-option
    clearable
    :remote="many"
    :remote-method="many ? (q: string) => (typed = q) : undefined"
    placeholder="Which model?"
    :aria-label="label"
  >
    <ElOption v-for="m in choices" :key="m.id" :value="m.id" :label="m.name" />
  </ElSelect>
</template>
