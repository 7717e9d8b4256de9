<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Schemas } from '../../api/client'
import { day } from '../../shared/locale'
import { money } from '../../shared/money'
import DeskRows from './DeskRows.vue'
import GateCard from './GateCard.vue'
import type { Kept } from './rows'

/** Jobs that were asked for, taken or refused, and whether one may be taken. */
const props = defineProps<{ desk: Schemas['DeskDesk']; model: string; writes: boolean }>()
const name = (id: string) => props.desk.models.find((m) => m.id === id)?.name ?? 'another model'
const rows = computed(() => props.desk.work.filter((w) => !props.model || w.for_model_id === props.model))
const open = computed(() => rows.value.filter((w) => !['closed', 'refused'].includes(w.status)).length)
const job = ref<'battery' | 'screen' | 'back-glass' | 'port' | 'camera'>('battery')
const cells = (r: Kept) => {
  const w = r as unknown as Schemas['Work']
  return [
    `${name(w.for_model_id)}, ${w.job.replace('-', ' ')}`,
    w.status,
    day(w.asked_on),
    day(w.promised_on),
    w.price_minor ? money(w.price_minor, w.currency ?? '') : '',
    [
      w.ref,
      w.went,
      w.shelf_id && 'piece from the shelf',
      w.minutes ? `${w.minutes} min` : '',
      w.why,
      w.overrode && `taken by ${w.overrode}`,
    ]
      .filter(Boolean)
      .join('; '),
  ]
}
const sorts = (r: Kept) => {
  const w = r as unknown as Schemas['Work']
  return { 2: w.asked_on, 3: w.promised_on, 4: w.price_minor ?? 0 }
}
</script>

<template>
  <h1 class="answer ask">{{ `${open} of ${rows.length} jobs are open.` }}</h1>
  <div class="stage">
    <DeskRows
      kind="work"
      title="Jobs, also refused ones: both count for the stock"
      :desk="desk"
      :rows="rows as unknown as Kept[]"
      :heads="['Job', 'Status', 'Asked', 'Promised', 'Price', 'Worth knowing']"
      :cells="cells"
      :writes="writes"
      :sorts="sorts"
      :few="[1]"
      :start="{ for_model_id: model, job, status: 'asked' }"
    />
  </div>
  <div class="shelf">
    <GateCard v-if="model" v-model:job="job" :model="model" chooses />
    <p v-else class="quiet">Choose a model to ask whether a job may be taken.</p>
  </div>
</template>
