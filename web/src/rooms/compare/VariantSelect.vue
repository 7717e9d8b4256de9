<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'

import { api } from '../../api/client'
import { useRoom } from '../../shared/useRoom'

/** A region variant of a model that has some. */
const props = defineProps<{ model: string; label: string }>()
const variant = defineModel<string>({ required: true })
const { room: models } = useRoom(['models'], () => api.GET('/api/models'))
const variants = computed(() => models.value?.find((m) => m.id === props.model)?.variants ?? [])
</script>

<template>
  <ElSelect
    v-if="variants.length"
    :model-value="variant"
    :teleported="false"
    clearable
    placeholder="any variant"
    :aria-label="label"
    @update:model-value="variant = $event ?? ''"
  >
    <ElOption v-for="v in variants" :key="v" :value="v" :label="v" />
  </ElSelect>
</template>
