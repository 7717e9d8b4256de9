<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import StickerTag from '../../shared/StickerTag.vue'

const props = defineProps<{ room: Schemas['Swap']; writes: boolean }>()
defineEmits<{ edit: [trial: Schemas['TrialView']]; remove: [trial: Schemas['TrialView']] }>()
const trials = computed(() => [...props.room.trials].reverse())
const unit = (id: string) => props.room.units.find((u) => u.id === id)
const bad = (t: Schemas['TrialView'], kind: string) =>
  props.room.checks.filter((c) => t.results?.[c.mark] === kind).map((c) => c.name)
const tested = (t: Schemas['TrialView']) => Object.keys(t.results ?? {}).length
const parts = (t: Schemas['TrialView']) =>
  (t.pieces ?? []).map((p) => props.room.slots.find((s) => s.id === p.part_id)?.name).join(', ')
</script>

<template>
  <p v-if="!trials.length" class="quiet">No trial yet.</p>
  <ul class="plain">
    <li v-for="t in trials" :key="t.id" class="trial">
      <span class="mark fig">{{ t.mark }}</span>
      <div>
        <div class="row">
          <StickerTag v-if="unit(t.board_unit_id)" :unit="unit(t.board_unit_id)!" />
          <span>{{ t.title.replace(/^[^:]*board: /, '') }}</span>
          <span v-if="t.minutes" class="quiet fig">{{ t.minutes }} min</span>
        </div>
        <div v-if="t.pieces?.length && t.pieces.length <= 4">{{ parts(t) }}</div>
        <div v-if="bad(t, 'lost').length" class="look">lost: {{ bad(t, 'lost').join('; ') }}</div>
        <div v-if="bad(t, 'weak').length">weak: {{ bad(t, 'weak').join('; ') }}</div>
        <div class="quiet">
          {{ tested(t) }} of {{ room.checks.length }} checks tested{{
            tested(t) && !bad(t, 'lost').length && !bad(t, 'weak').length ? ', no loss' : ''
          }}
        </div>
        <div v-if="t.note" class="quiet note">{{ t.note }}</div>
      </div>
      <div v-if="writes" class="acts">
        <ElButton size="small" :aria-label="`Change ${t.mark}`" @click="$emit('edit', t)">change</ElButton>
        <ElButton size="small" :aria-label="`Delete ${t.mark}`" @click="$emit('remove', t)">delete</ElButton>
      </div>
    </li>
  </ul>
</template>

<style scoped>
.trial {
  display: grid;
  grid-template-columns: 40px 1fr auto;
  gap: 8px;
}
.mark {
  color: var(--pine);
}
.note {
  overflow-wrap: anywhere;
}
.acts {
  display: flex;
  flex-direction: column;
  gap: 4px;
}
@media (max-width: 600px) {
  .trial {
    grid-template-columns: 34px 1fr;
  }
  .acts {
    grid-column: 2;
    flex-direction: row;
  }
}
</style>
