<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { ref } from 'vue'

import type { Schemas } from '../../api/client'

/** A bit on the bench that no step accounts for: it goes into the phone, or is set aside with a reason. */
const props = defineProps<{ item: Schemas['CloseupItem']; why?: string; writes: boolean }>()
const emit = defineEmits<{ placed: [n: number]; aside: [why: string] }>()
const reason = ref(props.why ?? '')
</script>

<template>
  <p class="quiet">Nobody logged it out of this phone. Find its place, or say why it belongs elsewhere.</p>
  <form v-if="writes" class="row" @submit.prevent="reason.trim() && emit('aside', reason.trim())">
    <ElButton @click="emit('placed', item.out)">It found its place</ElButton>
    <ElInput
      v-model="reason"
      maxlength="200"
      placeholder="Why it belongs elsewhere"
      :aria-label="`${item.name}: why it belongs elsewhere`"
    />
    <ElButton native-type="submit" :disabled="!reason.trim()">Set it aside</ElButton>
  </form>
</template>
