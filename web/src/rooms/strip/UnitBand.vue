<script setup lang="ts">
import { ElButton } from 'element-plus'

import type { Schemas } from '../../api/client'
import { clock } from '../../shared/format'
import { keyOf } from '../../shared/keys'
import StickerTag from '../../shared/StickerTag.vue'

/** Which phone is in work: its sticker fills a band, one key flips it. */
defineProps<{
  unit: Schemas['Unit']
  several: boolean
  writes: boolean
  seconds: number
  timing: boolean
  screws: number
  parts: number
}>()
defineEmits<{ flip: []; watch: [] }>()
</script>

<template>
  <div class="unit" :class="unit.colour">
    <StickerTag :unit="unit" />
    <span class="says">is in work</span>
    <ElButton v-if="several" @click="$emit('flip')">
      The other phone
      <span class="keys">{{ keyOf('flip') }}</span>
    </ElButton>
    <span class="tray">
      parts tray
      <b>{{ parts }}</b>
      {{ parts === 1 ? 'part' : 'parts' }},
      <b>{{ screws }}</b>
      {{ screws === 1 ? 'screw' : 'screws' }}
    </span>
    <span v-if="writes" class="watch">
      <span class="fig">{{ clock(seconds) }}</span>
      <ElButton :aria-pressed="timing" @click="$emit('watch')">
        {{ timing ? 'Stop timing' : 'Time the steps' }}
        <span class="keys">{{ keyOf('watch') }}</span>
      </ElButton>
    </span>
  </div>
</template>

<style scoped>
.unit {
  display: flex;
  gap: 12px;
  align-items: center;
  border-left: 14px solid var(--sticker);
  background: var(--wash);
  padding: 8px 12px;
  margin-bottom: 10px;
  flex-wrap: wrap;
}
.tray {
  margin-left: auto;
}
.watch {
  display: flex;
  gap: 10px;
  align-items: center;
  font-size: 18px;
}
.keys {
  margin-left: 6px;
}
</style>
