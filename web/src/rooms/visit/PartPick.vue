<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { ref } from 'vue'

import type { Schemas } from '../../api/client'

/** What is to be exchanged, where nobody said it yet. */
defineProps<{ parts: Schemas['Part'][] }>()
const emit = defineEmits<{ choose: [part: string] }>()
const part = ref('')
</script>

<template>
  <section>
    <h2>What is to be exchanged?</h2>
    <ElSelect
      v-model="part"
      filterable
      :teleported="false"
      placeholder="a part"
      aria-label="Part that is exchanged"
      style="max-width: 320px"
      @change="(p: string) => emit('choose', p)"
    >
      <ElOption v-for="p in parts" :key="p.id" :value="p.id" :label="p.name" />
    </ElSelect>
  </section>
</template>
